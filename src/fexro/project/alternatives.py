"""A lift with other bars in the same layout."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fexro.core.errors import InputError
from fexro.core.members.lift import Lift
from fexro.core.section.call_out import BarGroup, format_call_out, parse_call_out
from fexro.core.sizing.alternatives import other_counts, other_sizes
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift

__all__ = ["BarAlternative", "bar_alternatives"]

SIZES_BESIDE = 2


@dataclass(frozen=True, eq=False)
class BarAlternative:
    """Other bars of a lift.

    Attributes:
        call_out: the bars.
        fewer: whether they have less area than the lift's own.
        lift: the lift with them; nothing where they have no place.
    """

    call_out: str
    fewer: bool
    lift: Lift | None


def bar_alternatives(project: Project, key: LiftKey, *, counts: bool) -> list[BarAlternative]:
    """Return a lift with neighbouring bar sizes, or with fewer and more bars, least area first."""
    model = project.by_key[key]
    groups = parse_call_out(model.section.bars)
    amount = _amount(groups)
    found = []
    for other in other_counts(groups) if counts else other_sizes(groups, SIZES_BESIDE):
        call_out = format_call_out(other)
        section = model.section.model_copy(update={"bars": call_out})
        lift: Lift | None
        try:
            lift = resolve_lift(project, key, model.model_copy(update={"section": section}))
        except InputError:
            lift = None
        fewer = _amount(other) < amount
        found.append(BarAlternative(call_out, fewer, lift))
    return found


def _amount(groups: Sequence[BarGroup]) -> float:
    """Return what tells more bars of a layout from fewer, mm²."""
    return sum(max(group.total, 1) * group.size.area for group in groups)
