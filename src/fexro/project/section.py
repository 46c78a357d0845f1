"""Sections as the file has them: shape, cover, call-outs. Lengths in mm."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Literal, TypeAlias, TypeVar

from pydantic import FailFast, Field, model_validator

from fexro.core.errors import InputError
from fexro.core.section import shapes
from fexro.core.section.bars import parse_call_out, parse_ties
from fexro.core.section.layout import Section, build_section
from fexro.project.bars import OwnBar
from fexro.project.records import Number, Record, Text
from fexro.project.values import Cover

__all__ = [
    "BarsCallOut",
    "Circle",
    "HollowCircle",
    "HollowRectangle",
    "LShape",
    "PolygonShape",
    "Rectangle",
    "SectionModel",
    "Shape",
    "TiesCallOut",
    "section_of",
    "shape_of",
]

Size = Annotated[Number, Field(ge=50, le=20_000, description="mm")]
Coordinate = Annotated[Number, Field(ge=-100_000, le=100_000, description="mm")]
Ring = Annotated[
    tuple[tuple[Coordinate, Coordinate], ...], Field(min_length=3, max_length=2000), FailFast()
]


class _Shape(Record):
    """A shape; its sizes are those of the shape that the core knows by the same name."""

    def geometry(self) -> shapes.Shape:
        """Return the shape the core computes with.

        Raises:
            InputError: if its sizes do not fit together.
        """
        raise NotImplementedError


S = TypeVar("S", bound=_Shape)


def _possible(shape: S) -> S:
    """Refuse sizes that do not fit together."""
    try:
        shape.geometry()
    except InputError as error:
        outline = error.where.startswith("outline")
        raise ValueError(str(error) if outline else error.allowed) from None
    return shape


class Rectangle(_Shape):
    """A solid rectangle: width along x, depth along y."""

    kind: Literal["rectangle"] = "rectangle"
    width: Size
    depth: Size

    def geometry(self) -> shapes.Rectangle:
        """Return the shape the core computes with."""
        return shapes.Rectangle(self.width, self.depth)


class Circle(_Shape):
    """A solid circle."""

    kind: Literal["circle"] = "circle"
    diameter: Size

    def geometry(self) -> shapes.Circle:
        """Return the shape the core computes with."""
        return shapes.Circle(self.diameter)


class HollowCircle(_Shape):
    """A circle with a concentric round void."""

    kind: Literal["hollow circle"] = "hollow circle"
    diameter: Size
    void_diameter: Size

    _fits = model_validator(mode="after")(_possible)

    def geometry(self) -> shapes.HollowCircle:
        """Return the shape the core computes with."""
        return shapes.HollowCircle(self.diameter, self.void_diameter)


class HollowRectangle(_Shape):
    """A rectangle with a concentric rectangular void and walls of one thickness."""

    kind: Literal["hollow rectangle"] = "hollow rectangle"
    width: Size
    depth: Size
    wall: Annotated[Number, Field(ge=25, le=5_000, description="mm")]

    _fits = model_validator(mode="after")(_possible)

    def geometry(self) -> shapes.HollowRectangle:
        """Return the shape the core computes with."""
        return shapes.HollowRectangle(self.width, self.depth, self.wall)


class LShape(_Shape):
    """Two legs sharing the corner at lower left: width along x, depth along y, leg thickness."""

    kind: Literal["L"] = "L"
    width: Size
    depth: Size
    leg: Size

    _fits = model_validator(mode="after")(_possible)

    def geometry(self) -> shapes.LShape:
        """Return the shape the core computes with."""
        return shapes.LShape(self.width, self.depth, self.leg)


class PolygonShape(_Shape):
    """Any polygon with any number of voids."""

    kind: Literal["polygon"] = "polygon"
    outer: Ring
    voids: Annotated[tuple[Ring, ...], Field(max_length=50), FailFast()] = ()

    _fits = model_validator(mode="after")(_possible)

    def geometry(self) -> shapes.PolygonShape:
        """Return the shape the core computes with."""
        return shapes.PolygonShape(self.outer, self.voids)


Shape: TypeAlias = Annotated[
    Rectangle | Circle | HollowCircle | HollowRectangle | LShape | PolygonShape,
    Field(discriminator="kind"),
]


BarsCallOut = Annotated[
    Text, Field(min_length=1, max_length=80, description="such as 4 D28 + 6 D20")
]
TiesCallOut = Annotated[Text, Field(min_length=1, max_length=40, description="such as D10@200")]


class SectionModel(Record):
    """A section as called out: shape, cover to the ties, bars, ties."""

    shape: Shape
    cover: Cover
    bars: BarsCallOut
    ties: TiesCallOut


@lru_cache(maxsize=4096)
def shape_of(model: Shape) -> shapes.Shape:
    """Return the shape the core computes with, kept because an outline is costly to examine.

    Raises:
        InputError: if its sizes do not fit together.
    """
    return model.geometry()


@lru_cache(maxsize=4096)
def section_of(model: SectionModel, own: tuple[OwnBar, ...] = ()) -> Section:
    """Return the section of a call-out, its bars laid out.

    Args:
        model: the section.
        own: the bar sizes of the project that no standard has.

    Raises:
        InputError: where a call-out is not understood or the bars have no place.
    """
    sizes = {bar.name.upper(): bar.size() for bar in own}
    groups = parse_call_out(model.bars, "section.bars", sizes)
    ties = parse_ties(model.ties, "section.ties", sizes)
    return build_section(shape_of(model.shape), model.cover, groups, ties)
