"""One chart for a stack: what several bar sizes carry, with the demands of all its lifts."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.members.check import prepare
from fexro.core.members.lift import Lift
from fexro.core.section.bars import bar_size
from fexro.core.section.call_out import format_call_out, parse_call_out
from fexro.core.sizing.alternatives import other_sizes
from fexro.core.strength.governing import estimated
from fexro.core.strength.slices import meridian
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift
from fexro.project.sizing import rules_of

__all__ = ["SizeCurve", "StackChart", "stack_chart", "stack_of"]

REACH = 3  # sizes smaller and larger than the present ones


@dataclass(frozen=True, eq=False)
class SizeCurve:
    """What a section carries with bars of a size.

    Attributes:
        bars: call-out.
        path: design N and M in the plane of the chart, (P, 2), N and N·mm.
        ratios: utilisation of each lift with them, from the mesh; not a number without a place.
    """

    bars: str
    path: FloatArray
    ratios: tuple[float, ...]


@dataclass(frozen=True, eq=False)
class StackChart:
    """Curves of several bar sizes and the demands of lifts that have one section.

    Attributes:
        keys: of the lifts.
        angle: direction of the plane, radians from Mx towards My.
        curves: by rising area.
        demands: N and the moment in the plane of each lift, (R, 2), N and N·mm.
        serves: for each lift the first curve that does by its aim; nothing where none does.
    """

    keys: tuple[LiftKey, ...]
    angle: float
    curves: tuple[SizeCurve, ...]
    demands: tuple[FloatArray, ...]
    serves: tuple[int | None, ...]


def stack_of(project: Project, key: LiftKey) -> list[LiftKey]:
    """Return the lifts of a group or else of a stack that have the outline of a lift."""
    group = project.group_by_key.get(key)
    keys = group.members if group is not None else [k for k in project.by_key if k.mark == key.mark]
    shape = project.by_key[key].section.shape
    return [one for one in keys if project.by_key[one].section.shape == shape]


def stack_chart(project: Project, keys: Sequence[LiftKey], key: LiftKey) -> StackChart:
    """Return the chart of lifts that have one section, in the plane of the worst demand of one.

    Args:
        project: the project.
        keys: of the lifts.
        key: of the one whose section and materials the curves are of.
    """
    lifts = [resolve_lift(project, one) for one in keys]
    prepared = prepare(lifts)
    here = list(keys).index(key)
    rows = prepared[here].demands.rows
    angle = 0.0
    if len(rows):
        strength = lifts[here].strength
        worst = rows[int(estimated(strength, rows).argmax())]
        angle = math.atan2(worst[2], worst[1]) if worst[1:].any() else 0.0
    curves = tuple(_curves(project, keys, key, angle))
    unit = np.array([math.cos(angle), math.sin(angle)])
    demands = tuple(
        np.column_stack([one.demands.rows[:, 0], one.demands.rows[:, 1:] @ unit])
        for one in prepared
    )
    aims = [rules_of(project, one).aim for one in keys]
    serves = tuple(
        next((at for at, curve in enumerate(curves) if curve.ratios[i] <= aim), None)
        for i, aim in enumerate(aims)
    )
    return StackChart(tuple(keys), angle, curves, demands, serves)


def _curves(
    project: Project, keys: Sequence[LiftKey], key: LiftKey, angle: float
) -> Iterator[SizeCurve]:
    model, own = project.by_key[key], sizes_by_name(project.basis.bars.own)
    groups = parse_call_out(model.section.bars, "bars", own)
    if len({group.size for group in groups}) == 1:
        sizes = [bar_size(name, "sizes", own) for name in project.basis.bars.main]
        others = [tuple(replace(group, size=size) for group in groups) for size in sizes]
    else:
        # Of several sizes each is moved along its series.
        others = other_sizes(groups, REACH)
    known = {format_call_out(some): some for some in (groups, *others)}.values()
    for some in sorted(known, key=lambda some: sum(g.size.area * g.total for g in some)):
        bars = format_call_out(some)
        lift = _with_bars(project, key, bars)
        if lift is None:
            continue
        curve = meridian(lift.strength, angle, rough=True)
        ratios = tuple(_ratio(project, one, bars) for one in keys)
        yield SizeCurve(bars, curve.design, ratios)


def _with_bars(project: Project, key: LiftKey, bars: str) -> Lift | None:
    try:
        return resolve_lift(project, key, project.by_key[key].with_bars(bars))
    except InputError:
        return None


def _ratio(project: Project, key: LiftKey, bars: str) -> float:
    lift = _with_bars(project, key, bars)
    if lift is None:
        return math.nan
    (prepared,) = prepare([lift])
    rows = prepared.demands.rows
    return float(estimated(lift.strength, rows).max()) if len(rows) else 0.0
