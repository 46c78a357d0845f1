"""Rectangles: solid with square, chamfered or rounded corners, hollow, and walls with ends."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.section.outline import Outline, arc_ring
from fexro.core.section.shapes.shape import (
    LEAST_STEP,
    LEAST_VOID,
    Cornered,
    Write,
    box,
    refuse,
)

__all__ = ["HollowRectangle", "Rectangle", "Strip", "Wall"]

QUARTER = math.tan(math.pi / 8)  # bulge of a quarter of a circle


@dataclass(frozen=True)
class Rectangle(Cornered):
    """A solid rectangle: width along x, depth along y; its corners cut or rounded off.

    Attributes:
        chamfer: what is cut off each side at each corner.
        radius: of the corners.

    Raises:
        InputError: if the corners leave no straight sides, or are both cut and rounded.
    """

    width: float
    depth: float
    chamfer: float = 0.0
    radius: float = 0.0

    def __post_init__(self) -> None:
        half = min(self.width, self.depth) / 2
        for name in ("chamfer", "radius"):
            size = getattr(self, name)
            allowed = f"less than half the shorter side, {half:g} mm"
            refuse(size > half - LEAST_STEP / 2, name, size, allowed)
        refuse(bool(self.chamfer and self.radius), "radius", self.radius, "none beside a chamfer")

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        called = f"{write(self.width)} × {write(self.depth)}"
        if self.chamfer:
            return f"{called}, {write(self.chamfer)} chamfers"
        return f"{called}, r {write(self.radius)}" if self.radius else called

    def ring(self) -> FloatArray:
        """Return the corners as if they were square: bars and ties stand in those, (4, 2)."""
        return box(self.width, self.depth)

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        off = self.chamfer or self.radius
        if not off:
            return Outline((self.ring(),))
        x, y = self.width / 2, self.depth / 2
        points = np.array(
            [
                *([x - off, -y], [x, -y + off], [x, y - off], [x - off, y]),
                *([-x + off, y], [-x, y - off], [-x, -y + off], [-x + off, -y]),
            ]
        )
        if self.chamfer:
            return Outline((points,))
        return Outline((arc_ring(points, np.tile([QUARTER, 0.0], 4)),))


@dataclass(frozen=True)
class HollowRectangle(Cornered):
    """A rectangle with a concentric rectangular void and walls of one thickness.

    Raises:
        InputError: if the walls leave no void.
    """

    width: float
    depth: float
    wall: float

    def __post_init__(self) -> None:
        allowed = f"the walls must leave a void of at least {LEAST_VOID:g} mm between them"
        least = min(self.width, self.depth) - LEAST_VOID
        refuse(2 * self.wall > least, "wall", self.wall, allowed)

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"{write(self.width)} × {write(self.depth)} / {write(self.wall)} wall"

    def ring(self) -> FloatArray:
        """Return the outer corners, (4, 2)."""
        return box(self.width, self.depth)

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        void = box(self.width - 2 * self.wall, self.depth - 2 * self.wall)
        return Outline((self.ring(), void[::-1]))


@dataclass(frozen=True)
class Strip(Rectangle):
    """A strip of a wall along x, of a width that others of it lie beside."""

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"strip {write(self.width)} of wall {write(self.depth)}"


@dataclass(frozen=True)
class Wall(Cornered):
    """A wall along x with thickened ends.

    Attributes:
        width: length of the wall with its ends.
        wall: its thickness between them.
        end_width: of an end, along the wall.
        depth: of an end, across the wall.

    Raises:
        InputError: if the ends meet or are no thicker than the wall.
    """

    width: float
    depth: float
    end_width: float
    wall: float

    def __post_init__(self) -> None:
        allowed = f"ends at least {LEAST_STEP:g} mm apart"
        between = self.width - 2 * self.end_width
        refuse(between < LEAST_STEP, "end width", self.end_width, allowed)
        thick = f"at least {LEAST_STEP:g} mm less than the depth of the ends"
        refuse(self.wall > self.depth - LEAST_STEP, "wall", self.wall, thick)

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        ends = f"{write(self.end_width)} × {write(self.depth)}"
        return f"wall {write(self.width)} × {write(self.wall)}, ends {ends}"

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise, (12, 2)."""
        x, y, inner, web = (
            self.width / 2,
            self.depth / 2,
            self.width / 2 - self.end_width,
            self.wall / 2,
        )
        right = [[inner, -web], [inner, -y], [x, -y], [x, y], [inner, y], [inner, web]]
        return np.array([*right, *([-a, -b] for a, b in right)])
