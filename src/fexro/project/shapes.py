"""Shapes of sections as the file has them. Lengths in mm."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Any, ClassVar, Literal, Self, TypeAlias

from pydantic import FailFast, Field, model_validator

from fexro.core.errors import InputError
from fexro.core.section import shapes
from fexro.project.records import Name, Number, Record

__all__ = [
    "KINDS",
    "SIZES",
    "Channel",
    "Circle",
    "Composed",
    "Ellipse",
    "Hexagon",
    "HollowCircle",
    "HollowRectangle",
    "IShape",
    "LShape",
    "LegModel",
    "LegsShape",
    "Octagon",
    "PartModel",
    "Plus",
    "PolygonShape",
    "Rectangle",
    "Shape",
    "SimpleShape",
    "StripShape",
    "TShape",
    "Trapezium",
    "WallShape",
    "ZShape",
    "concretes_in",
    "shape_of",
    "sizes_of",
]

Size = Annotated[Number, Field(ge=50, le=20_000, description="mm")]
Thickness = Annotated[Number, Field(ge=25, le=5_000, description="mm")]
Corner = Annotated[Number, Field(ge=0, le=5_000, description="mm")]
Coordinate = Annotated[Number, Field(ge=-100_000, le=100_000, description="mm")]
Ring = Annotated[
    tuple[tuple[Coordinate, Coordinate], ...], Field(min_length=3, max_length=2000), FailFast()
]
Bulges = Annotated[
    tuple[Annotated[Number, Field(ge=-1000, le=1000)], ...], Field(max_length=2000), FailFast()
]
# What sizes are called, in the order in which they are asked for.
SIZES = {
    "width": "Width",
    "depth": "Depth",
    "diameter": "Diameter",
    "void_diameter": "Void diameter",
    "across": "Across flats",
    "top_width": "Top width",
    "bottom_width": "Bottom width",
    "end_width": "End width",
    "wall": "Wall",
    "flange": "Flange",
    "web": "Web",
    "leg": "Leg",
    "stem": "Upright leg",
    "lean": "Lean",
    "chamfer": "Chamfer",
    "radius": "Corner radius",
    "thickness": "Thickness",
}


class _Shape(Record):
    """A shape; its sizes are those of the shape that the core knows by the same name."""

    core: ClassVar[type[Any]]

    def geometry(self) -> shapes.Shape:
        """Return the shape the core computes with.

        Raises:
            InputError: if its sizes do not fit together.
        """
        found: shapes.Shape = self.core(**{name: value for name, value in self if name != "kind"})
        return found

    @model_validator(mode="after")
    def _possible(self) -> Self:
        """Refuse sizes that do not fit together."""
        try:
            self.geometry()
        except InputError as error:
            told = error.where.startswith(("outline", "part", "section"))
            raise ValueError(str(error) if told else error.allowed) from None
        return self


class Rectangle(_Shape):
    """A solid rectangle: width along x, depth along y; corners cut or rounded off."""

    core = shapes.Rectangle
    kind: Literal["rectangle"] = "rectangle"
    width: Size
    depth: Size
    chamfer: Corner = 0.0
    radius: Corner = 0.0


class Circle(_Shape):
    """A solid circle."""

    core = shapes.Circle
    kind: Literal["circle"] = "circle"
    diameter: Size


class Ellipse(_Shape):
    """An ellipse: width along x, depth along y."""

    core = shapes.Ellipse
    kind: Literal["ellipse"] = "ellipse"
    width: Size
    depth: Size


class Hexagon(_Shape):
    """A regular hexagon by the distance across flats."""

    core = shapes.Hexagon
    kind: Literal["hexagon"] = "hexagon"
    across: Size


class Octagon(_Shape):
    """A regular octagon by the distance across flats."""

    core = shapes.Octagon
    kind: Literal["octagon"] = "octagon"
    across: Size


class HollowCircle(_Shape):
    """A circle with a concentric round void."""

    core = shapes.HollowCircle
    kind: Literal["hollow circle"] = "hollow circle"
    diameter: Size
    void_diameter: Size


class HollowRectangle(_Shape):
    """A rectangle with a concentric rectangular void and walls of one thickness."""

    core = shapes.HollowRectangle
    kind: Literal["hollow rectangle"] = "hollow rectangle"
    width: Size
    depth: Size
    wall: Thickness


class WallShape(_Shape):
    """A wall along x with thickened ends: width over all, ends of end_width and depth."""

    core = shapes.Wall
    kind: Literal["wall with ends"] = "wall with ends"
    width: Size
    depth: Size
    end_width: Size
    wall: Thickness


class LShape(_Shape):
    """Two legs sharing the corner at lower left, leg the thickness of both or of the level one."""

    core = shapes.LShape
    kind: Literal["L"] = "L"
    width: Size
    depth: Size
    leg: Size
    stem: Corner = 0.0


class TShape(_Shape):
    """A flange above a web in its middle."""

    core = shapes.TShape
    kind: Literal["T"] = "T"
    width: Size
    depth: Size
    flange: Size
    web: Size


class IShape(_Shape):
    """Two flanges with a web in the middle between them."""

    core = shapes.IShape
    kind: Literal["I"] = "I"
    width: Size
    depth: Size
    flange: Size
    web: Size
    bottom_width: Corner = 0.0


class ZShape(_Shape):
    """Two flanges on opposite sides of a web."""

    core = shapes.ZShape
    kind: Literal["Z"] = "Z"
    width: Size
    depth: Size
    flange: Size
    web: Size


class Channel(_Shape):
    """Two flanges to the right of a web at the left."""

    core = shapes.Channel
    kind: Literal["channel"] = "channel"
    width: Size
    depth: Size
    flange: Size
    web: Size


class Plus(_Shape):
    """Four arms about the middle: flange is the thickness of the level ones, web of the upright."""

    core = shapes.Plus
    kind: Literal["plus"] = "plus"
    width: Size
    depth: Size
    flange: Size
    web: Size


class Trapezium(_Shape):
    """A tapered section: width below, top_width above; lean moves the upper side to the right."""

    core = shapes.Trapezium
    kind: Literal["trapezium"] = "trapezium"
    width: Size
    depth: Size
    top_width: Size
    lean: Annotated[Number, Field(ge=-5_000, le=5_000, description="mm")] = 0.0


class PolygonShape(_Shape):
    """Any polygon with any number of voids; sides may be arcs.

    Attributes:
        bulges: of the side that leaves each corner the tangent of a quarter of its arc's angle;
            empty where all sides are straight.
        void_bulges: likewise for each void.
    """

    core = shapes.PolygonShape
    kind: Literal["polygon"] = "polygon"
    outer: Ring
    voids: Annotated[tuple[Ring, ...], Field(max_length=50), FailFast()] = ()
    bulges: Bulges = ()
    void_bulges: Annotated[tuple[Bulges, ...], Field(max_length=50)] = ()


class LegModel(Record):
    """A straight leg of a wall: the ends of its centre line, mm, and its thickness."""

    x1: Coordinate
    y1: Coordinate
    x2: Coordinate
    y2: Coordinate
    thickness: Thickness


class LegsShape(_Shape):
    """A wall, or a core of walls: straight legs that meet at ends or end against one another."""

    core = shapes.Legs
    kind: Literal["legs"] = "legs"
    legs: Annotated[tuple[LegModel, ...], Field(min_length=1, max_length=40)]

    def geometry(self) -> shapes.Legs:
        """Return the shape the core computes with."""
        return shapes.Legs(
            tuple(shapes.Leg(leg.x1, leg.y1, leg.x2, leg.y2, leg.thickness) for leg in self.legs)
        )


class StripShape(_Shape):
    """A strip of a bearing wall: width along the wall, depth its thickness."""

    core = shapes.Strip
    kind: Literal["strip"] = "strip"
    width: Size
    depth: Thickness


# One by which sizes, or corners, are told alone.
_Simple: TypeAlias = (
    Rectangle
    | Circle
    | Ellipse
    | Hexagon
    | Octagon
    | HollowCircle
    | HollowRectangle
    | WallShape
    | LShape
    | TShape
    | IShape
    | ZShape
    | Channel
    | Plus
    | Trapezium
    | PolygonShape
    | LegsShape
    | StripShape
)
SimpleShape: TypeAlias = Annotated[_Simple, Field(discriminator="kind")]


class PartModel(Record):
    """A shape in its place, and what it does to the parts before it.

    Attributes:
        x, y: of the middle of its bounding box.
        angle: degrees, anticlockwise.
        mirrored: whether left and right change places, before it is turned.
        concrete: name of its concrete, in place of that of the section.
    """

    shape: SimpleShape
    x: Coordinate = 0.0
    y: Coordinate = 0.0
    angle: Annotated[Number, Field(ge=-360, le=360, description="°")] = 0.0
    mirrored: bool = False
    how: Literal["join", "cut", "intersect"] = "join"
    concrete: Name | None = None

    def part(self) -> shapes.Part:
        """Return the part the core computes with."""
        return shapes.Part(
            shape_of(self.shape),
            self.x,
            self.y,
            self.angle,
            self.mirrored,
            self.how,
            self.concrete,
        )


class Composed(_Shape):
    """Shapes joined, cut out of and intersected with one another, in order."""

    core = shapes.Composed
    kind: Literal["composed"] = "composed"
    parts: Annotated[tuple[PartModel, ...], Field(min_length=1, max_length=50)]

    def geometry(self) -> shapes.Composed:
        """Return the shape the core computes with."""
        return shapes.Composed(tuple(part.part() for part in self.parts))


def concretes_in(shape: Shape) -> tuple[str, ...]:
    """Return the names of concretes that parts of a shape are of, each once."""
    if not isinstance(shape, Composed):
        return ()
    return tuple(dict.fromkeys(p.concrete for p in shape.parts if p.concrete is not None))


Shape: TypeAlias = Annotated[_Simple | Composed, Field(discriminator="kind")]
# Those that sizes alone tell, as they are called.
KINDS: dict[str, type[_Shape]] = {
    model.model_fields["kind"].default: model
    for model in (
        *(Rectangle, Circle, HollowRectangle, HollowCircle, LShape, TShape, IShape, Plus, ZShape),
        *(Channel, WallShape, Trapezium, Ellipse, Hexagon, Octagon),
    )
}


def sizes_of(shape: Shape) -> dict[str, float]:
    """Return the sizes that a shape has, by name."""
    return {name: getattr(shape, name) for name in SIZES if hasattr(shape, name)}


@lru_cache(maxsize=4096)
def shape_of(model: Shape) -> shapes.Shape:
    """Return the shape the core computes with, kept because an outline is costly to examine.

    Raises:
        InputError: if its sizes do not fit together.
    """
    return model.geometry()
