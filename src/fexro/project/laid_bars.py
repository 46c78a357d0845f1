"""The bars of a project's lifts as they are built."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from fexro.core.members.bar_layout import LaidBar, bars_of_lift
from fexro.core.members.lift import PreparedLift
from fexro.core.section.bars import METRIC_SIZES, STANDARDS, BarSize, bar_size
from fexro.core.section.call_out import parse_call_out
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey, LiftModel
from fexro.project.held import key_above
from fexro.project.project import Project

__all__ = ["laid_bars"]

SAME = 1e-3  # mm and mm², by which a size may be off


def laid_bars(
    project: Project, prepared: Mapping[LiftKey, PreparedLift], key: LiftKey
) -> tuple[LaidBar, ...]:
    """Return the bars of a lift that are to be built; of one that stands already none.

    Neither are those of strips, whose number is not known here.

    Args:
        project: the project.
        prepared: the lift and, where one stands on it, that one.
        key: of the lift.
    """
    model = project.by_key[key]
    kind = project.mark_by_name[key.mark].kind
    if model.values.age == "existing" or kind == "bearing wall":
        return ()
    above = key_above(project, key)
    models = [model, *([] if above is None else [project.by_key[above]])]
    upper = None if above is None else prepared[above]
    return bars_of_lift(prepared[key], upper, _finder(project, models))


def _finder(project: Project, models: list[LiftModel]) -> Callable[[float, float], BarSize]:
    """Return what finds a size by diameter and area: as it is called, else as a standard has it."""
    own = sizes_by_name(project.basis.bars.own)
    called = [size for model in models for size in _called(model, own)]
    known = [*called, *METRIC_SIZES.values(), *(s for d in STANDARDS.values() for s in d.values())]

    def find(diameter: float, area: float) -> BarSize:
        near = (
            size
            for size in known
            if abs(size.diameter - diameter) < SAME and abs(size.area - area) < SAME
        )
        return next(near, BarSize(f"{area:.0f} mm²", diameter, area))

    return find


def _called(model: LiftModel, own: Mapping[str, BarSize]) -> list[BarSize]:
    section = model.section
    if section.placed:
        return [bar_size(bar.size, "bars", own) for bar in section.placed if bar.size is not None]
    texts = [section.bars, *([] if section.diagonals is None else [section.diagonals.bars])]
    return [group.size for text in texts for group in parse_call_out(text, "bars", own)]
