"""From required steel to bars: the least curtains with which panels meet every check."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lifts
from fexro.core.section.bars import BarSize
from fexro.core.section.call_out import format_call_out, parse_call_out
from fexro.core.sizing.required import required_steel
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey, LiftModel
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift
from fexro.project.sizing import rules_of
from fexro.project.wall_changes import sizes_offered

__all__ = [
    "PanelSteel",
    "WallProposal",
    "propose_web_bars",
    "required_in_panels",
    "web_steel",
]

LARGEST = 300.0  # mm, the widest spacing that is offered to panels


@dataclass(frozen=True, eq=False)
class WallProposal:
    """How far a search of bars for panels is.

    Attributes:
        keys: the panels, which get the same curtains.
        tried: how many sizes at spacings were looked at.
        bars: of each panel, once they are found.
        ended: whether it is over.
        told: what was found, in a sentence.
    """

    keys: tuple[LiftKey, ...]
    tried: int
    bars: Mapping[LiftKey, str] | None
    ended: bool
    told: str


@dataclass(frozen=True)
class PanelSteel:
    """The vertical steel of a panel, as shares of its concrete.

    Attributes:
        key: the panel.
        required: for N with both moments, bars in proportion; nothing where none up to 8 % does.
        provided: what it has.
        gaps: shares between which more does not do although less does.
        least_does: whether the least that the code asks for does.
    """

    key: LiftKey
    required: float | None
    provided: float
    gaps: tuple[tuple[float, float], ...]
    least_does: bool = False


def required_in_panels(project: Project, keys: Sequence[LiftKey]) -> Iterator[PanelSteel]:
    """Yield the vertical steel that panels ask for and have, one after another."""
    for key in keys:
        lift = resolve_lift(project, key)
        if not len(lift.actions.forces):
            continue
        area = lift.facts.section.outline.area
        found = required_steel(lift, rules_of(project, key).aim, lift.code.panel_ratio)
        required = None if found.area is None else found.area / area
        gaps = tuple((low / area, high / area) for low, high in found.gaps)
        least = required is not None and required <= lift.code.panel_ratio * (1 + 1e-9)
        yield PanelSteel(key, required, found.provided / area, gaps, least)


def web_steel(project: Project, key: LiftKey) -> float:
    """Return the area of a bar of the curtains of a panel over their spacing, mm²/mm."""
    groups = parse_call_out(
        project.by_key[key].section.bars, "bars", sizes_by_name(project.basis.bars.own)
    )
    return max((one.size.area / one.spacing for one in groups if one.spacing), default=0.0)


def propose_web_bars(
    project: Project, keys: Sequence[LiftKey], least: float = 0.0
) -> Iterator[WallProposal]:
    """Yield how far the search is for the least curtains with which panels meet every check.

    Sizes and spacings on offer are gone through from the least steel upwards, because more can
    raise a utilisation; what the panels have in their ends stays.

    Args:
        project: the project.
        keys: panels or strips, which get the same curtains.
        least: area of a bar over the spacing that they have at least, mm²/mm.
    """
    panels = tuple(keys)
    options = [
        (size, spacing)
        for size, spacing in _options(project, panels)
        if size.area / spacing >= least - 1e-9
    ]
    for number, (size, spacing) in enumerate(options, 1):
        models = {key: _with_web(project, key, size, spacing) for key in panels}
        try:
            lifts = [resolve_lift(project, key, model) for key, model in models.items()]
        except InputError:
            continue
        # The first that fails ends it, the cheapest to tell.
        if all(check_lifts([lift])[0].state is not State.EXCEEDED for lift in lifts):
            bars = {key: model.section.bars for key, model in models.items()}
            told = f"{size.name}@{spacing:g} in the curtains, the least of {number} tried."
            yield WallProposal(panels, number, bars, True, told)
            return
        yield WallProposal(panels, number, None, False, "")
    told = "No curtains on offer meet every check; the ends, ties or thickness have to change."
    yield WallProposal(panels, len(options), None, True, told)


def _options(project: Project, keys: Sequence[LiftKey]) -> list[tuple[BarSize, float]]:
    """Return sizes and spacings on offer, the least steel first, of as much the widest spacing."""
    own = sizes_by_name(project.basis.bars.own)
    groups = parse_call_out(project.by_key[keys[0]].section.bars, "bars", own)
    web = next((group for group in groups if group.spacing is not None), groups[0])
    spacings = [one for one in rules_of(project, keys[0]).spacings if one <= LARGEST]
    found = [
        (size, spacing) for size in sizes_offered(project, web.size.name) for spacing in spacings
    ]
    return sorted(found, key=lambda one: (one[0].area / one[1], -one[1]))


def _with_web(project: Project, key: LiftKey, size: BarSize, spacing: float) -> LiftModel:
    model = project.by_key[key]
    groups = parse_call_out(model.section.bars, "bars", sizes_by_name(project.basis.bars.own))
    other = tuple(
        replace(one, size=size, spacing=spacing) if one.spacing is not None else one
        for one in groups
    )
    section = model.section.model_copy(update={"bars": format_call_out(other)})
    return model.model_copy(update={"section": section})
