"""Shapes of bars by number, with their total lengths: BS 8666:2020, numbers mostly of ISO 3766.

The shapes are those whose formulas are certain; a bar of another shape is a 99 with a sketch, and
its length is that of its centre line.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from fexro.core.errors import InputError

__all__ = ["SHAPES", "BarShape", "inside_radius", "scheduled_length", "shape_length"]

LENGTH_STEP = 25.0  # mm, up to which lengths are scheduled
ROUNDING = 1e-6  # mm
SMALL = 16.0  # mm, up to which a bar bends at twice its diameter
# Former radii, mm, of the sizes that the table has; of others 2 d or 3.5 d.
RADII = {20.0: 70.0, 25.0: 87.0, 32.0: 112.0, 40.0: 140.0, 50.0: 175.0}

Dimensions = Mapping[str, float]


@dataclass(frozen=True)
class BarShape:
    """A shape of the schedule.

    Attributes:
        code: its number.
        told: in words.
        letters: its dimensions in order; R is a radius that is scheduled.
        free: the dimension that takes the tolerance, if any.
        length: in mm, of size d, inside radius r and the dimensions, mm (turns of a helix a count).
    """

    code: str
    told: str
    letters: str
    free: str | None
    length: Callable[[float, float, Dimensions], float]


def _helix(d: float, _: float, by: Dimensions) -> float:
    turn = math.pi * (by["A"] - d)
    steep = by["B"] > by["A"] / 5
    return by["C"] * (math.hypot(turn, by["B"]) if steep else turn)


SHAPES = {
    shape.code: shape
    for shape in (
        BarShape("00", "straight", "A", None, lambda d, r, by: by["A"]),
        BarShape("01", "straight, of stock length", "A", None, lambda d, r, by: by["A"]),
        BarShape(
            "11", "one right angle", "AB", "B", lambda d, r, by: by["A"] + by["B"] - 0.5 * r - d
        ),
        BarShape(
            "12",
            "one right angle of a given radius",
            "ABR",
            None,
            lambda d, r, by: by["A"] + by["B"] - 0.43 * r - 1.2 * d,
        ),
        BarShape(
            "13",
            "hook through 180°",
            "ABC",
            "C",
            lambda d, r, by: by["A"] + 0.57 * by["B"] + by["C"] - 1.6 * d,
        ),
        BarShape(
            "14",
            "one bend through more than 90°",
            "AC",
            "C",
            lambda d, r, by: by["A"] + by["C"] - 4 * d,
        ),
        BarShape(
            "15", "one bend through less than 90°", "AC", "C", lambda d, r, by: by["A"] + by["C"]
        ),
        BarShape(
            "21",
            "two right angles",
            "ABC",
            "C",
            lambda d, r, by: by["A"] + by["B"] + by["C"] - r - 2 * d,
        ),
        BarShape(
            "22",
            "right angle and hook through 180°",
            "ABCD",
            "D",
            lambda d, r, by: by["A"] + by["B"] + 0.57 * by["C"] + by["D"] - 0.5 * r - 2.6 * d,
        ),
        BarShape("26", "cranked", "ABC", "C", lambda d, r, by: by["A"] + by["B"] + by["C"]),
        BarShape(
            "31",
            "three right angles of one sense",
            "ABCD",
            "D",
            lambda d, r, by: by["A"] + by["B"] + by["C"] + by["D"] - 1.5 * r - 3 * d,
        ),
        BarShape(
            "41",
            "four right angles",
            "ABCDE",
            "E",
            lambda d, r, by: math.fsum(by[one] for one in "ABCDE") - 2 * r - 4 * d,
        ),
        BarShape(
            "47",
            "open link",
            "ABC",
            "C",
            lambda d, r, by: 2 * by["A"] + by["B"] + 2 * by["C"] + 1.5 * r - 3 * d,
        ),
        BarShape(
            "51",
            "closed link",
            "ABC",
            "C",
            lambda d, r, by: 2 * (by["A"] + by["B"] + by["C"]) - 2.5 * r - 5 * d,
        ),
        BarShape(
            "63",
            "link with one side twice",
            "ABC",
            "C",
            lambda d, r, by: 2 * by["A"] + 3 * by["B"] + 2 * by["C"] - 3 * r - 6 * d,
        ),
        BarShape("67", "arc", "AR", None, lambda d, r, by: by["A"]),
        BarShape("77", "helix", "ABC", None, _helix),
        BarShape(
            "98",
            "chair",
            "ABCD",
            "D",
            lambda d, r, by: by["A"] + 2 * by["B"] + by["C"] + by["D"] - 2 * r - 4 * d,
        ),
    )
}


def inside_radius(d: float) -> float:
    """Return the least inside radius of a bend of a bar of diameter d, mm (table 2)."""
    return RADII.get(d, 2 * d if d <= SMALL else 3.5 * d)


def shape_length(code: str, d: float, dimensions: Dimensions) -> tuple[float, float]:
    """Return the total length of a bar and the radius that it is bent to, mm.

    Args:
        code: number of the shape.
        d: diameter, mm.
        dimensions: by letter, mm; of a helix C is the number of turns.

    Raises:
        InputError: for a number that is not in the table, and for dimensions that are missing or
            not above zero.
    """
    shape = SHAPES.get(code)
    if shape is None:
        allowed = f"one of {', '.join(SHAPES)}; 99 with a sketch for any other"
        raise InputError("shape code", code, allowed)
    for letter in shape.letters:
        value = dimensions.get(letter)
        if value is None or not value > 0.0:
            found = "none" if value is None else f"{value:g}"
            raise InputError(f"shape {code}, {letter}", found, "a dimension above 0 mm")
    radius = dimensions["R"] if "R" in shape.letters else inside_radius(d)
    return shape.length(d, radius, dimensions), radius


def scheduled_length(length: float, step: float = LENGTH_STEP) -> float:
    """Return a length as it is scheduled, mm: up to the next step."""
    return step * math.ceil((length - ROUNDING) / step)
