"""Circles, ellipses and regular polygons."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.section.outline import Outline, circle_ring
from fexro.core.section.shapes.shape import THINNEST, Cornered, Write, refuse

__all__ = ["Circle", "Ellipse", "Hexagon", "HollowCircle", "Octagon"]


@dataclass(frozen=True)
class Circle:
    """A solid circle."""

    diameter: float

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"⌀ {write(self.diameter)}"

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        return Outline((circle_ring(self.diameter),))

    def corners(self) -> FloatArray | None:
        """Return nothing: a circle is smooth."""
        return None


@dataclass(frozen=True)
class HollowCircle:
    """A circle with a concentric round void.

    Raises:
        InputError: if the void leaves no wall.
    """

    diameter: float
    void_diameter: float

    def __post_init__(self) -> None:
        allowed = f"the void must leave a wall of at least {THINNEST:g} mm"
        largest = self.diameter - 2 * THINNEST
        refuse(self.void_diameter > largest, "void", self.void_diameter, allowed)

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"⌀ {write(self.diameter)} / {write(self.void_diameter)} void"

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        return Outline((circle_ring(self.diameter), circle_ring(self.void_diameter)[::-1]))

    def corners(self) -> FloatArray | None:
        """Return nothing: a circle is smooth."""
        return None


@dataclass(frozen=True)
class Ellipse:
    """An ellipse: width along x, depth along y."""

    width: float
    depth: float

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"ellipse {write(self.width)} × {write(self.depth)}"

    def outline(self) -> Outline:
        """Return the outline, a polygon of its area, centred on the origin."""
        return Outline((circle_ring(1.0) * [self.width, self.depth],))

    def corners(self) -> FloatArray | None:
        """Return nothing: an ellipse is smooth."""
        return None


@dataclass(frozen=True)
class Hexagon(Cornered):
    """A regular hexagon by the distance across flats, of which two are level."""

    across: float

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"hexagon {write(self.across)}"

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise, (6, 2)."""
        return _regular(6, self.across)


@dataclass(frozen=True)
class Octagon(Cornered):
    """A regular octagon by the distance across flats, of which two are level."""

    across: float

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"octagon {write(self.across)}"

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise, (8, 2)."""
        return _regular(8, self.across)


def _regular(count: int, across: float) -> FloatArray:
    step = 2 * math.pi / count
    radius = across / 2 / math.cos(step / 2)
    angle = -math.pi / 2 + step * (np.arange(count) + 0.5)
    ring: FloatArray = radius * np.column_stack([np.cos(angle), np.sin(angle)])
    return ring
