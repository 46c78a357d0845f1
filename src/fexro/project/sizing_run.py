"""Sizing many lifts: what a run finds for each, taken as a whole or in part."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lift, check_lifts
from fexro.core.members.lift import LiftResult
from fexro.core.section.call_out import parse_call_out
from fexro.core.sizing.amounts import amounts_of
from fexro.core.sizing.candidates import steel_area
from fexro.core.sizing.search import Sizing
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey
from fexro.project.dependencies import affected
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift
from fexro.project.sizing import Chosen, bar_rules, lap_of, sizing_of, take
from fexro.project.wall_sizing import propose_web_bars, web_steel

__all__ = [
    "Chain",
    "Outcome",
    "chains",
    "contradiction",
    "settled",
    "size_chain",
    "size_together",
    "together",
]

# Lifts that get the same bars and ties, one after the other.
Chain = list[list[LiftKey]]


@dataclass(frozen=True)
class Outcome:
    """What a run has found for a lift.

    Attributes:
        key: of the lift.
        before, after: bars and ties; nothing where nothing fits, or the lift is kept by hand.
        mass_before, mass_after: of its steel, kg.
        ratio_before, ratio_after: utilisation.
        reason: why there is nothing, or what was looked at.
        considered, full_checks: candidates, and those checked in full, of it with its equals.
    """

    key: LiftKey
    before: Chosen
    after: Chosen | None
    mass_before: float
    mass_after: float
    ratio_before: float
    ratio_after: float
    reason: str
    considered: int = 0
    full_checks: int = 0

    @property
    def changed(self) -> bool:
        """Whether something else is proposed than there is."""
        return self.after is not None and self.after != self.before


def together(project: Project, keys: Sequence[LiftKey]) -> list[list[LiftKey]]:
    """Return which lifts get the same bars and ties: groups, and stacks that stay the same."""
    found: list[list[LiftKey]] = []
    seen: set[LiftKey] = set()
    for key in keys:
        if key in seen:
            continue
        group = project.group_by_key.get(key)
        if group is not None:
            some = [one for one in group.members if one in keys]
        elif project.basis.sizing.stack == "constant":
            some = [one for one in keys if one.mark == key.mark]
        else:
            some = [key]
        seen |= set(some)
        found.append(some)
    return found


def chains(project: Project, keys: Sequence[LiftKey]) -> list[Chain]:
    """Return what is searched one after the other, and what apart.

    Where bars only decrease upwards, the lifts of a stack follow one another from its top.
    """
    tasks = together(project, keys)
    if project.basis.sizing.stack != "decreasing":
        return [[some] for some in tasks]
    found: dict[str, Chain] = {}
    for some in sorted(tasks, key=lambda some: project.storey_place[some[0].storey]):
        found.setdefault(some[0].mark, []).append(some)
    return list(found.values())


def size_chain(project: Project, chain: Chain) -> list[Outcome]:
    """Search lifts one after the other, each with no less steel than the one before.

    Raises:
        InputError: where the rules contradict one another.
    """
    found: list[Outcome] = []
    least = 0.0
    for keys in chain:
        some = size_together(project, keys, least)
        found += some
        taken = some[0].after or some[0].before
        if keys[0] in project.column_keys:
            least = steel_area(
                parse_call_out(taken.bars, "bars", sizes_by_name(project.basis.bars.own))
            )
        else:
            least = web_steel(take(project, {keys[0]: taken}), keys[0])
    return found


def size_together(
    project: Project, keys: Sequence[LiftKey], least_area: float = 0.0
) -> list[Outcome]:
    """Search the bars and ties of lifts that get the same.

    A group with a lift that is kept by hand is kept as a whole.

    Args:
        project: the project.
        keys: of the lifts.
        least_area: of their bars, mm²; of panels that of a bar over the spacing, mm²/mm.

    Raises:
        InputError: where the rules contradict one another.
    """
    kept = [key for key in keys if project.record_by_key[key].kept]
    if kept:
        why = "kept by hand" if len(keys) == 1 else f"kept by hand with {kept[0]}"
        return [_outcome(project, key, why) for key in keys]
    if not project.column_keys.issuperset(keys):
        return _size_panels(project, keys, least_area)
    *_, found = sizing_of(project, keys, wanted=1, least_area=least_area)
    best = found.best
    if best is None:
        why = _reason(project, found)
        return [_outcome(project, key, why, found) for key in keys]
    told = f"best of {found.considered}"
    chosen = Chosen(best.bars, best.ties)
    return [
        _outcome(project, key, told, found, (chosen, result))
        for key, result in zip(keys, best.results, strict=True)
    ]


WALLS = {"wall panel", "bearing wall"}


def _size_panels(project: Project, keys: Sequence[LiftKey], least: float) -> list[Outcome]:
    """Search the curtains of panels and strips; what they have in their ends stays."""
    why = ""
    if any(project.mark_by_name[key.mark].kind not in WALLS for key in keys):
        why = "a coupling beam: its remedies change it"
    elif any(project.by_key[key].section.placed for key in keys):
        why = "its bars are placed one by one"
    if why:
        return [_outcome(project, key, why) for key in keys]
    *_, found = propose_web_bars(project, keys, least)
    checks = found.tried * len(keys)
    if found.bars is None:
        return [
            replace(_outcome(project, key, found.told), considered=found.tried, full_checks=checks)
            for key in keys
        ]
    outcomes = []
    for key in keys:
        record = project.record_by_key[key]
        chosen = Chosen(found.bars[key], record.ties)
        lift = resolve_lift(take(project, {key: chosen}), key)
        after = chosen, check_lift(lift)
        told = _outcome(project, key, f"best of {found.tried}", None, after)
        outcomes.append(replace(told, considered=found.tried, full_checks=checks))
    return outcomes


def _outcome(
    project: Project,
    key: LiftKey,
    reason: str,
    found: Sizing | None = None,
    after: tuple[Chosen, LiftResult] | None = None,
) -> Outcome:
    """Return what there is at a lift beside what was found for it, with laps as they are."""
    lift, record = resolve_lift(project, key), project.record_by_key[key]
    lap = lap_of(lift)
    mass = mass_after = amounts_of(lift, lap).steel
    chosen, ratio = None, float("nan")
    if after is not None:
        chosen, result = after
        mass_after, ratio = amounts_of(result.lift, lap).steel, result.utilisation
    return Outcome(
        key,
        Chosen(record.bars, record.ties),
        chosen,
        mass,
        mass_after,
        check_lift(lift).utilisation,
        ratio,
        reason,
        0 if found is None else found.considered,
        0 if found is None else found.full_checks,
    )


def _reason(project: Project, found: Sizing) -> str:
    """Return which limit keeps out the candidate that comes nearest."""
    nearest = found.nearest
    if nearest is None:
        return f"none of {found.considered} candidates has a place"
    return f"none of {found.considered}; nearest {nearest.told(project.basis.system)}"


def settled(project: Project, found: Sequence[Outcome]) -> list[Outcome]:
    """Return what was found with the ratios there are when all of it is taken.

    Lifts that sway together have other sums over their storey then.
    """
    after = take(project, {one.key: one.after for one in found if one.after is not None})
    changed = affected(project, after)
    again = [one.key for one in found if one.key in changed and one.after is not None]
    results = dict(
        zip(again, check_lifts([resolve_lift(after, key) for key in again]), strict=True)
    )
    return [_checked_again(one, results.get(one.key)) for one in found]


def _checked_again(one: Outcome, result: LiftResult | None) -> Outcome:
    if result is None:
        return one
    exceeded = result.state is State.EXCEEDED
    reason = f"{one.reason}; exceeded once all is taken" if exceeded else one.reason
    return replace(one, ratio_after=result.utilisation, reason=reason)


def contradiction(project: Project, keys: Sequence[LiftKey]) -> InputError | None:
    """Return which rules of lifts contradict one another, if any do."""
    for key in keys:
        try:
            bar_rules(project, key)
        except InputError as error:
            return InputError(f"{key}, {error.where}", error.found, error.allowed)
    sizing = project.basis.sizing
    if sizing.objective == "fewest call-outs" and sizing.stack == "decreasing":
        return InputError(
            "sizing",
            "the fewest call-outs, and bars of a stack that only decrease upwards",
            "with the fewest call-outs, bars that change freely or stay along a stack",
        )
    return None
