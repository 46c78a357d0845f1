"""A bar as it is bent: its shape, dimensions and length, as a schedule has them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.bending import centreline
from fexro.core.bending.masses import mass_per_length
from fexro.core.bending.practice import BendingPractice
from fexro.core.bending.shapes import scheduled_length, shape_length
from fexro.core.section.bars import BarSize

__all__ = [
    "HOOKED",
    "BentBar",
    "bent_once",
    "circle",
    "closed",
    "cranked_bar",
    "cross",
    "rounded_ring",
    "spiral",
    "straight",
    "u_bar",
]

HOOKED = 135  # degrees, of the hooks of closed ties
# Ends of links bent by less than 150°, mm (BS 8666, table 2: 10 d straight, and handling).
LEAST_ENDS = {6: 110.0, 8: 115.0, 10: 130.0, 12: 160.0, 16: 210.0}
ROUNDING = 1e-6  # of a step
LETTERS = "ABCDEFGHJKLMN"
SQUARE = 1e-6  # radians, by which a right angle may be off

Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class BentBar:
    """A bar as it is bent. Lengths in mm.

    Attributes:
        size: of the bar.
        shape: number of its shape; 99 for those with a sketch.
        dimensions: by letter, out to out.
        length: of the bar as it is bent.
        cut: as it is scheduled.
        line: its centre line as if it had no radius, for the sketch.
        told: what the sketch has beside its dimensions, such as the hooks.
    """

    size: BarSize
    shape: str
    dimensions: tuple[tuple[str, float], ...]
    length: float = field(compare=False)
    cut: float
    line: Points = field(compare=False, repr=False)
    told: str = ""

    @property
    def mass(self) -> float:
        """Of the length that it is cut to, kg."""
        return mass_per_length(self.size) * self.cut / 1000


def straight(size: BarSize, length: float, practice: BendingPractice) -> BentBar:
    """Return a straight bar."""
    cut = scheduled_length(length, practice.length_step)
    return BentBar(size, "00", (("A", cut),), cut, cut, ((0.0, 0.0), (0.0, cut)))


def cranked_bar(
    size: BarSize,
    lower: float,
    upper: float,
    offset: float,
    slope: float,
    practice: BendingPractice,
) -> BentBar:
    """Return a bar that leans over to stand aside.

    Args:
        size: of the bar.
        lower, upper: along the bar to where the straights meet.
        offset: between the centre lines.
        slope: length along the bar for one of offset.
        practice: how bars are bent.
    """
    rise = slope * offset
    lean = math.hypot(offset, rise)
    by = {"A": _rounded(lower, practice), "B": _rounded(lean, practice)}
    if practice.by_table:
        by["C"] = _rounded(upper, practice)
        length, _ = shape_length("26", size.diameter, by)
    else:
        radius = practice.radius(size.diameter)
        length = centreline.cranked(size.diameter, radius, lower, upper, offset, slope)
        by["C"] = _rounded(upper, practice)
    by["D"] = _rounded(offset, practice)
    line = ((0.0, 0.0), (0.0, lower), (offset, lower + rise), (offset, lower + rise + upper))
    return _bent(size, "26", by, length, line, practice)


def bent_once(size: BarSize, one: float, other: float, practice: BendingPractice) -> BentBar:
    """Return a bar with a right angle, its legs from their ends to the outer faces."""
    d = size.diameter
    by = {"A": _up(one, practice), "B": _up(other, practice)}
    line = ((0.0, by["A"] - d), (0.0, 0.0), (by["B"] - d, 0.0))
    if practice.by_table:
        return _bent(size, "11", by, shape_length("11", d, by)[0], line, practice)
    length = centreline.l_bar(d, practice.radius(d), by["A"], by["B"])
    return _bent(size, "11", by, length, line, practice)


def u_bar(size: BarSize, leg: float, across: float, practice: BendingPractice) -> BentBar:
    """Return a bar with two right angles: its legs to the outer faces, and out to out across."""
    d = size.diameter
    legs = _up(leg, practice)
    by = {"A": legs, "B": _inside(across, practice), "C": legs}
    width = by["B"] - d
    line = ((0.0, legs - d), (0.0, 0.0), (width, 0.0), (width, legs - d))
    if practice.by_table:
        return _bent(size, "21", by, shape_length("21", d, by)[0], line, practice)
    length = centreline.u_bar(d, practice.radius(d), legs, by["B"], legs)
    return _bent(size, "21", by, length, line, practice)


def closed(
    size: BarSize, ring: FloatArray, practice: BendingPractice, around: float = 0.0
) -> BentBar:
    """Return a closed tie with both hooks at a corner.

    Args:
        size: of the tie.
        ring: corners of its centre line as if it had no radius, (V, 2).
        practice: how bars are bent.
        around: radius of the bars in its corners, which its bends follow where it is larger, mm.
    """
    d = size.diameter
    hook = practice.hook(d, HOOKED)
    radius = max(hook.radius, around)
    turns = centreline.turns_of(ring)
    sense = math.copysign(1.0, float(turns.sum()))
    ring = np.roll(ring, -int(np.argmax(np.round(turns * sense, 6))), axis=0)
    sides = np.hypot(*(np.roll(ring, -1, axis=0) - ring).T)
    line = _hooked_ring(ring, sense, hook.straight)
    told = f"hooks {HOOKED}°"
    if _rectangular(ring):
        by = {"A": _inside(sides[0] + d, practice), "B": _inside(sides[1] + d, practice)}
        if practice.by_table and radius == hook.radius:
            by["C"] = LEAST_ENDS.get(round(d), _up(hook.radius + 11 * d, practice))
            return _bent(size, "51", by, shape_length("51", d, by)[0], line, practice, told)
        width, depth = by["A"] - d, by["B"] - d
        ring = np.array([(0.0, 0.0), (width, 0.0), (width, depth), (0.0, depth)])
        by["C"] = hook.straight
        code = "51"
    else:
        by = dict(zip(LETTERS, (_inside(side + d, practice) for side in sides), strict=False))
        code = "99"
    length = centreline.closed_tie(d, ring, radius, hook, math.radians(HOOKED))
    return _bent(size, code, by, length, line, practice, told)


def circle(size: BarSize, across: float, practice: BendingPractice) -> BentBar:
    """Return a circular tie whose hooked ends pass each other.

    Args:
        size: of the tie.
        across: outside diameter, mm.
        practice: how bars are bent.
    """
    d, lap = size.diameter, practice.circle_lap
    hook = practice.hook(d, HOOKED)
    outside = _inside(across, practice)
    length = centreline.circular_tie(d, outside, lap, hook, math.radians(HOOKED))
    line = _arc(outside - d, 2 * math.pi + 2 * lap / (outside - d))
    return _bent(size, "75", {"A": outside, "B": lap}, length, line, practice, f"hooks {HOOKED}°")


def rounded_ring(size: BarSize, ring: FloatArray, practice: BendingPractice) -> BentBar:
    """Return a closed tie without corners, its hooked ends passing each other.

    Args:
        size: of the tie.
        ring: its centre line, (V, 2).
        practice: how bars are bent.
    """
    d, lap = size.diameter, practice.circle_lap
    hook = practice.hook(d, HOOKED)
    around = float(np.hypot(*(ring - np.roll(ring, 1, axis=0)).T).sum())
    ends = 2 * (math.radians(HOOKED) * (hook.radius + d / 2) + hook.straight)
    width, depth = (_inside(float(np.ptp(ring[:, axis])) + d, practice) for axis in (0, 1))
    by = {"A": width, "B": depth, "C": lap}
    line = tuple((float(x), float(y)) for x, y in [*ring, ring[0]])
    return _bent(size, "99", by, around + lap + ends, line, practice, f"hooks {HOOKED}°")


def cross(size: BarSize, over: float, practice: BendingPractice) -> BentBar:
    """Return a cross tie.

    Args:
        size: of the tie.
        over: its hooks, mm.
        practice: how bars are bent.
    """
    d, over = size.diameter, _inside(over, practice)
    angles = practice.cross
    near, far = ((practice.hook(d, angle), math.radians(angle)) for angle in angles)
    length = centreline.cross_tie(d, over, (near, far))
    run = over - d
    line = (
        _beyond((0.0, 0.0), math.pi - near[1], near[0].straight),
        (0.0, 0.0),
        (run, 0.0),
        _beyond((run, 0.0), far[1], far[0].straight),
    )
    told = f"hooks {angles[0]}° and {angles[1]}°"
    return _bent(size, "99", {"A": over}, length, line, practice, told)


def spiral(
    size: BarSize, across: float, pitch: float, height: float, practice: BendingPractice
) -> BentBar:
    """Return a spiral with flat turns at both ends.

    Args:
        size: of the spiral.
        across: outside diameter, mm.
        pitch: of its turns, mm.
        height: of its rising turns, mm.
        practice: how bars are bent.
    """
    outside = _inside(across, practice)
    if practice.by_table:
        by = {"A": outside, "B": pitch, "C": math.ceil(height / pitch + 2 * practice.turns)}
        length, _ = shape_length("77", size.diameter, by)
    else:
        by = {"A": outside, "B": pitch, "C": height / pitch + 2 * practice.turns}
        length = centreline.helix(size.diameter, outside, pitch, height, practice.turns)
    turns = np.linspace(0.0, 4 * math.pi, 65)
    line = tuple(
        (float(outside / 2 * math.cos(turn)), float(outside * (math.sin(turn) / 8 + turn / 20)))
        for turn in turns
    )
    return _bent(size, "77", by, length, line, practice, "C is the number of turns")


def _bent(
    size: BarSize,
    shape: str,
    by: Mapping[str, float],
    length: float,
    line: Points,
    practice: BendingPractice,
    told: str = "",
) -> BentBar:
    cut = scheduled_length(length, practice.length_step)
    return BentBar(size, shape, tuple(by.items()), length, cut, line, told)


def _inside(value: float, practice: BendingPractice) -> float:
    """Return a dimension that must not be larger, rounded down to a step."""
    return practice.step * math.floor(value / practice.step + ROUNDING)


def _up(value: float, practice: BendingPractice) -> float:
    return practice.step * math.ceil(value / practice.step - ROUNDING)


def _rounded(value: float, practice: BendingPractice) -> float:
    return practice.step * round(value / practice.step)


def _rectangular(ring: FloatArray) -> bool:
    turns = np.abs(centreline.turns_of(ring))
    return len(ring) == 4 and bool(np.allclose(turns, math.pi / 2, atol=SQUARE))


def _hooked_ring(ring: FloatArray, sense: float, straight: float) -> Points:
    """Return a closed line whose two ends turn inwards at its first corner."""
    corner = (float(ring[0, 0]), float(ring[0, 1]))
    arrives, leaves = ring[0] - ring[-1], ring[0] - ring[1]
    turn = sense * math.radians(HOOKED)
    first = _beyond(corner, math.atan2(leaves[1], leaves[0]) - turn, straight)
    last = _beyond(corner, math.atan2(arrives[1], arrives[0]) + turn, straight)
    return (first, corner, *((float(x), float(y)) for x, y in ring[1:]), corner, last)


def _beyond(place: tuple[float, float], heading: float, length: float) -> tuple[float, float]:
    return place[0] + length * math.cos(heading), place[1] + length * math.sin(heading)


def _arc(across: float, angle: float) -> Points:
    return tuple(
        (float(across / 2 * math.cos(at)), float(across / 2 * math.sin(at)))
        for at in np.linspace(0.0, angle, 73)
    )
