"""The shapes a column may have; each knows its outline and how it is called."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal, TypeAlias

import numpy as np
from pydantic import FailFast, Field, model_validator

from fexro.core.arrays import FloatArray
from fexro.core.records import Number, Record
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

Size = Annotated[Number, Field(ge=50, le=20_000, description="mm")]
Coordinate = Annotated[Number, Field(ge=-100_000, le=100_000, description="mm")]
Ring = Annotated[
    tuple[tuple[Coordinate, Coordinate], ...], Field(min_length=3, max_length=2000), FailFast()
]


Write = Callable[[float], str]


class Rectangle(Record):
    """A solid rectangle: width along x, depth along y."""

    kind: Literal["rectangle"] = "rectangle"
    width: Size
    depth: Size

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"{write(self.width)} × {write(self.depth)}"

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        return Outline((_box(self.width, self.depth),))


class Circle(Record):
    """A solid circle."""

    kind: Literal["circle"] = "circle"
    diameter: Size

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"⌀ {write(self.diameter)}"

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        return Outline((circle_ring(self.diameter),))


class HollowCircle(Record):
    """A circle with a concentric round void."""

    kind: Literal["hollow circle"] = "hollow circle"
    diameter: Size
    void_diameter: Size

    @model_validator(mode="after")
    def _void_inside(self) -> HollowCircle:
        if self.void_diameter > self.diameter - 50:
            raise ValueError("the void must leave a wall of at least 25 mm")
        return self

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"⌀ {write(self.diameter)} / {write(self.void_diameter)} void"

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        return Outline((circle_ring(self.diameter), circle_ring(self.void_diameter)[::-1]))


class HollowRectangle(Record):
    """A rectangle with a concentric rectangular void and walls of one thickness."""

    kind: Literal["hollow rectangle"] = "hollow rectangle"
    width: Size
    depth: Size
    wall: Annotated[Number, Field(ge=25, le=5_000, description="mm")]

    @model_validator(mode="after")
    def _void_inside(self) -> HollowRectangle:
        if 2 * self.wall > min(self.width, self.depth) - 10:
            raise ValueError("the walls must leave a void of at least 10 mm between them")
        return self

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"{write(self.width)} × {write(self.depth)} / {write(self.wall)} wall"

    def outline(self) -> Outline:
        """Return the outline, centred on the origin."""
        void = _box(self.width - 2 * self.wall, self.depth - 2 * self.wall)
        return Outline((_box(self.width, self.depth), void[::-1]))


class LShape(Record):
    """Two legs sharing the corner at lower left: width along x, depth along y, leg thickness."""

    kind: Literal["L"] = "L"
    width: Size
    depth: Size
    leg: Size

    @model_validator(mode="after")
    def _leg_inside(self) -> LShape:
        if self.leg > min(self.width, self.depth) - 10:
            raise ValueError("the leg must be at least 10 mm thinner than the width and the depth")
        return self

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"L {write(self.width)} × {write(self.depth)} / {write(self.leg)}"

    def outline(self) -> Outline:
        """Return the outline, its lower left corner in the origin."""
        w, d, t = self.width, self.depth, self.leg
        return Outline((np.array([[0, 0], [w, 0], [w, t], [t, t], [t, d], [0, d]], dtype=float),))


class PolygonShape(Record):
    """Any polygon with any number of voids."""

    kind: Literal["polygon"] = "polygon"
    outer: Ring
    voids: Annotated[tuple[Ring, ...], Field(max_length=50), FailFast()] = ()

    @model_validator(mode="after")
    def _simple(self) -> PolygonShape:
        try:
            self.outline()
        except Exception as error:
            raise ValueError(str(error)) from error
        return self

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"polygon, {len(self.outer)} corners"

    def outline(self) -> Outline:
        """Return the outline as given."""
        voids = [np.asarray(ring, dtype=float) for ring in self.voids]
        return Outline.from_polygons([np.asarray(self.outer, dtype=float)], voids)


Shape: TypeAlias = Annotated[
    Rectangle | Circle | HollowCircle | HollowRectangle | LShape | PolygonShape,
    Field(discriminator="kind"),
]


def _box(width: float, depth: float) -> FloatArray:
    x, y = width / 2, depth / 2
    return np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
