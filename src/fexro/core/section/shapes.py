"""The shapes a column may have; each knows its outline and how it is called. Lengths in mm."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.outline import Outline, circle_ring

__all__ = [
    "Circle",
    "HollowCircle",
    "HollowRectangle",
    "LShape",
    "PolygonShape",
    "Rectangle",
    "Shape",
]

THINNEST_RING, LEAST_VOID, LEAST_STEP = 25.0, 10.0, 10.0

Write = Callable[[float], str]


class Shape(Protocol):
    """A shape of a section."""

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        ...

    def __hash__(self) -> int:
        """Shapes are values: outlines are remembered by them."""
        ...

    def outline(self) -> Outline:
        """Return the outline."""
        ...


@dataclass(frozen=True)
class Rectangle:
    """A solid rectangle: width along x, depth along y."""

    width: float
    depth: float

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"{write(self.width)} × {write(self.depth)}"

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        return Outline((_box(self.width, self.depth),))


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


@dataclass(frozen=True)
class HollowCircle:
    """A circle with a concentric round void.

    Raises:
        InputError: if the void leaves no wall.
    """

    diameter: float
    void_diameter: float

    def __post_init__(self) -> None:
        if self.void_diameter > self.diameter - 2 * THINNEST_RING:
            allowed = f"the void must leave a wall of at least {THINNEST_RING:g} mm"
            raise InputError("void", f"{self.void_diameter:g} mm", allowed)

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"⌀ {write(self.diameter)} / {write(self.void_diameter)} void"

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        return Outline((circle_ring(self.diameter), circle_ring(self.void_diameter)[::-1]))


@dataclass(frozen=True)
class HollowRectangle:
    """A rectangle with a concentric rectangular void and walls of one thickness.

    Raises:
        InputError: if the walls leave no void.
    """

    width: float
    depth: float
    wall: float

    def __post_init__(self) -> None:
        if 2 * self.wall > min(self.width, self.depth) - LEAST_VOID:
            allowed = f"the walls must leave a void of at least {LEAST_VOID:g} mm between them"
            raise InputError("wall", f"{self.wall:g} mm", allowed)

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"{write(self.width)} × {write(self.depth)} / {write(self.wall)} wall"

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        void = _box(self.width - 2 * self.wall, self.depth - 2 * self.wall)
        return Outline((_box(self.width, self.depth), void[::-1]))


@dataclass(frozen=True)
class LShape:
    """Two legs sharing the corner at lower left: width along x, depth along y, leg thickness.

    Raises:
        InputError: if a leg is as thick as the shape.
    """

    width: float
    depth: float
    leg: float

    def __post_init__(self) -> None:
        if self.leg > min(self.width, self.depth) - LEAST_STEP:
            allowed = (
                f"the leg must be at least {LEAST_STEP:g} mm thinner than the width and the depth"
            )
            raise InputError("leg", f"{self.leg:g} mm", allowed)

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"L {write(self.width)} × {write(self.depth)} / {write(self.leg)}"

    def outline(self) -> Outline:
        """Return the outline, its lower left corner in the origin."""
        w, d, t = self.width, self.depth, self.leg
        return Outline((np.array([[0, 0], [w, 0], [w, t], [t, t], [t, d], [0, d]], dtype=float),))


Ring = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class PolygonShape:
    """Any polygon with any number of voids.

    Raises:
        InputError: if it encloses no clear area; see `Outline.from_polygons`.
    """

    outer: Ring
    voids: tuple[Ring, ...] = ()

    def __post_init__(self) -> None:
        self.outline()

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"polygon, {len(self.outer)} corners"

    def outline(self) -> Outline:
        """Return the outline as given."""
        voids = [np.asarray(ring, dtype=float) for ring in self.voids]
        return Outline.from_polygons([np.asarray(self.outer, dtype=float)], voids)


def _box(width: float, depth: float) -> FloatArray:
    x, y = width / 2, depth / 2
    return np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
