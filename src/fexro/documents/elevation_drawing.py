"""A lift seen from the side, to scale: bars, laps and cranks, ties by zones, levels."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from fexro.core.arrays import FloatArray
from fexro.core.members.bar_layout import LaidBar
from fexro.core.members.elevation import ties_along
from fexro.core.members.lift import PreparedLift
from fexro.core.quantities import UnitSystem
from fexro.core.tie_zones import TieZone, tie_places
from fexro.documents.drawing import Area, Dimension, Item, Line, Text
from fexro.documents.section_drawing import dimension_unit

__all__ = ["elevation_items", "level_items", "tie_dimensions"]

ASIDE = 1.2  # diameters, by which a lapped bar is drawn beside the other
BEAM = 6.0  # mm on paper, by which floors are drawn beyond the column


def elevation_items(
    prepared: PreparedLift,
    laid: Sequence[LaidBar],
    below: Sequence[LaidBar],
    scale: float,
) -> Iterator[Item]:
    """Yield a lift from the slab that it stands on, about the middle of its width.

    Args:
        prepared: the lift.
        laid: its bars.
        below: those of the lift below, whose ends reach into it.
        scale: real mm of a mm on paper.
    """
    facts = prepared.lift.facts
    section, storey, clear = facts.section, facts.height, facts.clear_height
    x0, _, x1, _ = section.outline.bounds
    middle, half = (x0 + x1) / 2, (x1 - x0) / 2 / scale
    high, soffit = storey / scale, clear / scale
    box = ((-half, 0.0), (half, 0.0), (half, high), (-half, high))
    yield Area((box,), "hatch")
    for x in (-half, half):
        yield Line(((x, 0.0), (x, high)), "concrete")
    for y in (0.0, soffit, high):
        yield Line(((-half - BEAM, y), (half + BEAM, y)), "levels")
    inset = (section.cover + section.ties.size.diameter / 2) / scale
    weight = max(section.ties.size.diameter / scale, 0.18)
    if section.ties.spiral:
        yield from _spiral(section.ties.spacing / scale, soffit, half - inset, weight)
    else:
        for z in tie_places(ties_along(prepared)):
            y = float(z) / scale
            yield Line(((-half + inset, y), (half - inset, y)), "ties", weight=weight)
    for bar in laid:
        yield from _bars(bar, section.bars.x, middle, scale)
    for bar in below:
        if bar.end > bar.storey:
            yield from _lapped(bar, section.bars.x, middle, scale)


def _bars(bar: LaidBar, places: FloatArray, middle: float, scale: float) -> Iterator[Item]:
    """Yield the bars along a lift as they are seen, each place once."""
    if bar.kind != "bar":
        return
    weight = max(bar.bar.size.diameter / scale, 0.3)
    end = min(bar.end, bar.storey) / scale
    lean = dict(bar.bar.dimensions).get("B", 0.0) / scale if bar.bar.shape == "26" else 0.0
    offset = dict(bar.bar.dimensions).get("D", 0.0) / scale if lean else 0.0
    for x in sorted({round(float(places[i]) - middle, 1) for i in bar.which}):
        at = x / scale
        points = [(at, bar.start / scale), (at, end)]
        if lean:
            inward = at - math.copysign(offset, at)
            points = [(at, bar.start / scale), (at, end - lean), (inward, end)]
        yield Line(tuple(points), "bars", weight=weight)


def _lapped(bar: LaidBar, places: FloatArray, middle: float, scale: float) -> Iterator[Item]:
    """Yield the ends of the bars of the lift below beside those that they are lapped with."""
    weight = max(bar.bar.size.diameter / scale, 0.3)
    top = (bar.end - bar.storey) / scale
    seen = sorted({round(float(places[i % len(places)]) - middle, 1) for i in bar.which})
    for x in seen:
        at = (x + ASIDE * bar.bar.size.diameter * (1 if x <= 0 else -1)) / scale
        yield Line(((at, 0.0), (at, top)), "laps", weight=weight)


def _spiral(pitch: float, high: float, half: float, weight: float) -> Iterator[Item]:
    points = []
    turns = max(round(high / pitch), 1)
    for number in range(2 * turns + 1):
        points.append((half if number % 2 else -half, high * number / (2 * turns)))
    yield Line(tuple(points), "ties", weight=weight)


def tie_dimensions(
    prepared: PreparedLift, scale: float, system: UnitSystem, at: float
) -> Iterator[Item]:
    """Yield the zones of ties, the clear height, the storey height and the laps as dimensions.

    Args:
        prepared: the lift.
        scale: real mm of a mm on paper.
        system: the units people see.
        at: x of the first line of dimensions, from the middle of the lift.
    """
    facts, code = prepared.lift.facts, prepared.lift.code
    unit = dimension_unit(system)
    size, decimals = unit
    storey, clear = facts.height / scale, facts.clear_height / scale
    if not facts.section.ties.spiral:
        for zone in ties_along(prepared):
            start, end = (at - 1.0, zone.start / scale), (at - 1.0, zone.end / scale)
            yield Dimension(start, end, at, "y", scale, _zone_text(zone, size, decimals), unit)
    step = 6.5
    laps = code.laps(facts, prepared.context)
    if laps is not None:
        low, high = (value / scale for value in laps)
        told = f"lap {(laps[1] - laps[0]) / size:.{decimals}f}"
        beyond = at + step
        yield Dimension((at, low), (at, high), beyond, "y", scale, told, unit)
    if clear < storey - 1e-6:
        yield Dimension((at, 0.0), (at, clear), at + 2 * step, "y", scale, "", unit)
    yield Dimension((at, 0.0), (at, storey), at + 3 * step, "y", scale, "", unit)


def _zone_text(zone: TieZone, size: float, decimals: int) -> str:
    noun = f"{zone.spacing / size:.{max(decimals, 0)}f}"
    return f"{zone.spaces} × {noun}"


def level_items(level: float, name: str, x: float, y: float) -> Iterator[Item]:
    """Yield the mark of a level with its name, beside a line of it.

    Args:
        level: of the floor, m.
        name: of the storey below it.
        x, y: where its triangle points to, mm.
    """
    triangle = ((x, y), (x - 1.6, y + 2.4), (x + 1.6, y + 2.4))
    yield Line(triangle, "dimensions", closed=True)
    yield Text(f"{level:+.2f}  {name}", (x + 2.6, y + 0.9), 1.9, "dimensions")
