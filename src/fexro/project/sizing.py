"""Bars and ties of lifts of a project: searched by its rules, and taken."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache, partial

from fexro.core.errors import InputError
from fexro.core.facts import ColumnFacts, CrossSection, StoreyFacts
from fexro.core.members.check import prepare
from fexro.core.members.lift import Lift
from fexro.core.section.areas import EmbeddedSteel
from fexro.core.section.bars import BarSize, Ties, bar_size
from fexro.core.section.layout import build_section
from fexro.core.section.section import Section
from fexro.core.section.shapes import Shape
from fexro.core.sizing.candidates import BarRules, Groups
from fexro.core.sizing.objective import Objective
from fexro.core.sizing.search import WANTED, Member, Sizing, size_lift
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey, LiftModel, LiftRecord
from fexro.project.edits.lifts import with_groups, with_records
from fexro.project.profiles import steel_of
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift, storey_facts
from fexro.project.section import laid_out
from fexro.project.shapes import shape_of
from fexro.project.sizing_rules import SizingRules

__all__ = [
    "Chosen",
    "bar_rules",
    "lap_of",
    "member_of",
    "objective_of",
    "rules_of",
    "sizing_of",
    "take",
    "verify_rules",
]


@dataclass(frozen=True)
class Chosen:
    """Bars and ties as call-outs."""

    bars: str
    ties: str


def rules_of(project: Project, key: LiftKey) -> SizingRules:
    """Return the rules by which bars of a lift are proposed."""
    return project.basis.sizing.over(project.record_by_key[key].sizing)


def bar_rules(project: Project, key: LiftKey) -> BarRules:
    """Return which bars and ties may be proposed for a lift.

    Raises:
        InputError: where the rules contradict one another.
    """
    rules, offered = rules_of(project, key), project.basis.bars
    verify_rules(rules)
    own = sizes_by_name(project.basis.bars.own)
    main = [bar_size(name, "sizes", own) for name in rules.sizes or offered.main]
    ties = [bar_size(name, "ties", own) for name in rules.ties or offered.ties]
    code = project.basis.design_code
    return BarRules(
        tuple(sorted(main, key=_diameter)),
        tuple(sorted(ties, key=_diameter)),
        tuple(sorted(rules.spacings, reverse=True)),
        rules.mixed,
        rules.faces,
        rules.symmetric,
        rules.least_bars,
        rules.most_bars,
        max(rules.least_ratio, code.bar_ratios[0]),
        min(rules.most_ratio, code.bar_ratios[1]),
        rules.aim,
    )


def _diameter(size: BarSize) -> float:
    return size.diameter


def verify_rules(rules: SizingRules) -> None:
    """Refuse rules that contradict one another.

    Raises:
        InputError: naming both.
    """
    if rules.least_bars > rules.most_bars:
        found = f"{rules.least_bars} bars at least and {rules.most_bars} at most"
        raise InputError("number of bars", found, "no more at least than at most")
    if rules.least_ratio > rules.most_ratio:
        found = f"{100 * rules.least_ratio:g} % at least and {100 * rules.most_ratio:g} % at most"
        raise InputError("bar ratio", found, "no more at least than at most")


def objective_of(rules: SizingRules) -> Objective:
    """Return what is to be small."""
    return Objective(rules.objective, rules.prices.rates(), rules.carbon.rates(), rules.weights)


def lap_of(lift: Lift) -> float:
    """Return the length of the laps of a lift as it is, mm; zero where bars are coupled."""
    (prepared,) = prepare([lift])
    laps = lift.code.laps(lift.facts, prepared.context)
    return 0.0 if laps is None else laps[1] - laps[0]


def sizing_of(
    project: Project,
    keys: Sequence[LiftKey],
    models: Mapping[LiftKey, LiftModel] | None = None,
    wanted: int = WANTED,
    least_area: float = 0.0,
) -> Iterator[Sizing]:
    """Search the bars and ties of a lift, or of lifts that get the same; see `size_lift`.

    Args:
        project: the project.
        keys: of the lifts; the rules are those of the first.
        models: what to put in the place of lifts, such as with another section.
        wanted: number of proposals.
        least_area: of the bars, mm².

    Raises:
        InputError: where the rules contradict one another.
    """
    rules = bar_rules(project, keys[0])
    objective = objective_of(rules_of(project, keys[0]))
    members = [member_of(project, key, (models or {}).get(key)) for key in keys]
    least = least_area / members[0].lift.facts.section.outline.area
    rules = replace(rules, least_ratio=max(rules.least_ratio, least * (1 - 1e-9)))
    yield from size_lift(members, rules, objective, wanted)


def member_of(project: Project, key: LiftKey, model: LiftModel | None = None) -> Member:
    """Return a lift as it is sized."""
    lift = resolve_lift(project, key, model)
    make = partial(_make, model or project.by_key[key], lift.facts.cross_section)

    def storey(facts: ColumnFacts) -> StoreyFacts:
        return storey_facts(project, lift.code, key.storey, {key: facts})

    return Member(lift, make, lap_of(lift), storey)


def _make(model: LiftModel, cross: CrossSection, groups: Groups, ties: Ties) -> CrossSection:
    """Return the section of a lift with other bars and ties."""
    section = model.section
    steel = steel_of(section.profiles)
    return replace(
        cross, section=_laid_out(shape_of(section.shape), section.cover, groups, ties, steel)
    )


# Lifts of one section are mostly many, and are offered the same.
@lru_cache(maxsize=8192)
def _laid_out(
    shape: Shape, cover: float, groups: Groups, ties: Ties, steel: tuple[EmbeddedSteel, ...]
) -> Section:
    return build_section(shape, cover, groups, ties, "section", steel)


def take(project: Project, chosen: Mapping[LiftKey, Chosen]) -> Project:
    """Return the project with bars and ties that were found; groups go on having one call-out.

    Raises:
        InputError: where one does not fit; none is taken.
    """
    records: dict[LiftKey, LiftRecord] = {}
    for key, one in chosen.items():
        changed = laid_out(one.bars, one.ties)
        records[key] = project.record_by_key[key].model_copy(update=changed)
    return with_records(project, with_groups(project, records))
