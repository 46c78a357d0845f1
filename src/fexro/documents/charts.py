"""Interaction diagrams for documents, drawn in lines: N–M in a plane, Mx–My at an axial force."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.core.strength.slices import contour, meridian
from fexro.documents.content import Figure
from fexro.documents.drawing import Area, Circle, Drawing, Line, Point, Text, text_width
from fexro.documents.drawing_svg import svg_of

__all__ = ["axial_bending_figure", "biaxial_figure"]

SIZE = (150.0, 96.0)  # mm
LEFT, BOTTOM, TOP, RIGHT = 17.0, 13.0, 6.0, 6.0
TICKS = 9
SPOT = 0.75  # mm, radius of a demand
NEAR = 0.02  # of the range of axial forces, within which a demand is at the level of a diagram
TEXT = 1.8


@dataclass(frozen=True)
class _Axes:
    """Two axes on paper: their ranges, and where they are."""

    x: tuple[float, float]
    y: tuple[float, float]
    size: tuple[float, float]

    def __call__(self, x: float, y: float) -> Point:
        """Return a place on paper."""
        wide = self.size[0] - LEFT - RIGHT
        high = self.size[1] - BOTTOM - TOP
        across = LEFT + (x - self.x[0]) / (self.x[1] - self.x[0]) * wide
        up = BOTTOM + (y - self.y[0]) / (self.y[1] - self.y[0]) * high
        return float(across), float(up)

    def draw(self, drawing: Drawing, name_x: str, name_y: str) -> None:
        """Draw the grid, its numbers and the names of the axes."""
        for value in _ticks(*self.x):
            low, high = self(value, self.y[0]), self(value, self.y[1])
            drawing.add(Line((low, high), "grid", weight=0.25 if value == 0 else 0.08))
            drawing.add(Text(_number(value), (low[0], BOTTOM - 3.6), TEXT, "dimensions", "middle"))
        for value in _ticks(*self.y):
            left, right = self(self.x[0], value), self(self.x[1], value)
            drawing.add(Line((left, right), "grid", weight=0.25 if value == 0 else 0.08))
            number = Text(
                _number(value), (LEFT - 1.5, left[1]), TEXT, "dimensions", "end", "middle"
            )
            drawing.add(number)
        middle = (LEFT + self.size[0] - RIGHT) / 2
        drawing.add(Text(name_x, (middle, 2.6), 2.0, "text", "middle"))
        height = (BOTTOM + self.size[1] - TOP) / 2
        drawing.add(Text(name_y, (3.2, height), 2.0, "text", "middle", angle=90))


def _number(value: float) -> str:
    return format_number(value, 0 if abs(value) >= 1 or value == 0 else 2)


def _ticks(low: float, high: float) -> list[float]:
    step = _step((high - low) / TICKS)
    first = math.ceil(low / step - 1e-9)
    return [step * i for i in range(first, math.floor(high / step + 1e-9) + 1)]


def _step(rough: float) -> float:
    size = 10 ** math.floor(math.log10(max(rough, 1e-9)))
    return float(next(size * one for one in (1, 2, 5, 10) if size * one >= rough * 0.999))


def _range(values: FloatArray, room: float = 0.06) -> tuple[float, float]:
    low, high = float(min(values.min(), 0.0)), float(max(values.max(), 0.0))
    spread = max(high - low, 1e-6)
    return low - room * spread, high + room * spread


def axial_bending_figure(
    result: LiftResult, system: UnitSystem, demand: int | None = None, angle: float | None = None
) -> Figure:
    """Return the N–M diagram in a plane, with all demands.

    Args:
        result: the lift.
        system: the units people see.
        demand: that is told of; that which governs where there is none.
        angle: of the plane, radians from Mx towards My; that of the demand where there is none.
    """
    chosen = result.worst_demand if demand is None else demand
    strength, code = result.lift.strength, result.lift.code
    force, moment = unit_of(Dimension.FORCE, system), unit_of(Dimension.MOMENT, system)
    forces = result.demands[chosen]
    if angle is None:
        angle = float(math.atan2(forces[2], forces[1])) if forces[1:].any() else 0.0
    unit = np.array([math.cos(angle), math.sin(angle)])
    keys = code.strength.key_points(result.lift.facts.cross_section)
    curve = meridian(strength, angle, [partial(key.fraction, strength) for key in keys])
    to = np.array([moment.size, force.size])
    design, nominal = (path[:, ::-1] / to for path in (curve.design, curve.nominal))
    demands = np.column_stack([result.demands[:, 1:] @ unit, result.demands[:, 0]]) / to
    every = np.concatenate([design, nominal, demands])
    axes = _Axes(_range(every[:, 0]), _range(every[:, 1]), SIZE)
    drawing = Drawing("N–M", *SIZE)
    drawing.add(Area((tuple(axes(*point) for point in design),), "inside"))
    axes.draw(drawing, f"M, {moment.symbol}", f"N, {force.symbol}")
    factored = len(design) != len(nominal) or not np.allclose(design, nominal)
    if factored:
        path = tuple(axes(*point) for point in nominal)
        drawing.add(Line(path, "dimensions", closed=True, weight=0.15, dash=(1.6, 1.0)))
    drawing.add(Line(tuple(axes(*point) for point in design), "curves", closed=True))
    across = result.demands[:, 1:] @ np.array([-unit[1], unit[0]])
    out = np.abs(across) > 0.05 * np.hypot(*result.demands[:, 1:].T) + 1e-9
    _spots(drawing, [axes(*point) for point in demands], result, chosen, faint=out)
    plane = f"{math.degrees(angle):.1f}° from Mx towards My"
    told = f"In a plane {plane}, with {_name(result, chosen)}."
    told += " Faint: demands out of that plane, projected."
    if factored:
        told += " Dashed: nominal strength."
    return Figure(svg_of(drawing), told, 0.85)


def biaxial_figure(
    result: LiftResult, system: UnitSystem, demand: int | None = None, axial: float | None = None
) -> Figure:
    """Return the Mx–My diagram at an axial force, with all demands.

    Args:
        result: the lift.
        system: the units people see.
        demand: that is told of; that which governs where there is none.
        axial: N; that of the demand where there is none.
    """
    chosen = result.worst_demand if demand is None else demand
    strength = result.lift.strength
    force, moment = unit_of(Dimension.FORCE, system), unit_of(Dimension.MOMENT, system)
    axial = float(result.demands[chosen][0]) if axial is None else axial
    inside = min(axial, 0.999 * strength.max_axial)
    curve = contour(strength, inside, 48) / moment.size
    demands = result.demands[:, 1:] / moment.size
    every = np.concatenate([curve, demands])
    x, y = _range(every[:, 0]), _range(every[:, 1])
    size = (118.0, 96.0)
    axes = _square(x, y, size)
    drawing = Drawing("Mx–My", *size)
    drawing.add(Area((tuple(axes(*point) for point in curve),), "inside"))
    axes.draw(drawing, f"Mx, {moment.symbol}", f"My, {moment.symbol}")
    drawing.add(Line(tuple(axes(*point) for point in curve), "curves", closed=True))
    reach = NEAR * (strength.max_axial - strength.max_tension)
    out = np.abs(result.demands[:, 0] - axial) > reach
    _spots(drawing, [axes(*point) for point in demands], result, chosen, faint=out)
    shown = f"{format_number(axial / force.size, 0)} {force.symbol}"
    told = f"Moments carried at N = {shown}, with {_name(result, chosen)}."
    told += " Faint: demands at another N."
    return Figure(svg_of(drawing), told, 0.66)


def _square(x: tuple[float, float], y: tuple[float, float], size: tuple[float, float]) -> _Axes:
    """Return axes on which moments about both axes have one scale."""
    wide, high = size[0] - LEFT - RIGHT, size[1] - BOTTOM - TOP
    scale = max((x[1] - x[0]) / wide, (y[1] - y[0]) / high)

    def about(one: tuple[float, float], room: float) -> tuple[float, float]:
        middle = (one[0] + one[1]) / 2
        return middle - scale * room / 2, middle + scale * room / 2

    return _Axes(about(x, wide), about(y, high), size)


def _name(result: LiftResult, demand: int) -> str:
    return f"{result.combination_of(demand)} {result.place_of(demand)}"


def _spots(
    drawing: Drawing, places: Sequence[Point], result: LiftResult, chosen: int, faint: BoolArray
) -> None:
    """Draw demands, and at last the one that is told of with its name and utilisation."""
    for i, place in enumerate(places):
        if i != chosen:
            drawing.add(Circle(place, SPOT, "dimensions", filled=not faint[i]))
    worst = places[chosen]
    drawing.add(*_diamond(worst))
    told = f"{_name(result, chosen)} {result.along(chosen).ratio[0]:.3f}"
    wide = text_width(told, 2.0)
    beyond = worst[0] + 2.4 + wide > drawing.width
    x = worst[0] - 2.4 if beyond else worst[0] + 2.4
    name = Text(told, (x, worst[1]), 2.0, "text", "start", "middle", strong=True)
    drawing.add(replace(name, anchor="end") if beyond else name)


def _diamond(at: Point) -> Iterator[Area]:
    x, y = at
    r = 1.35
    yield Area((((x - r, y), (x, y + r), (x + r, y), (x, y - r)),), "demands")
