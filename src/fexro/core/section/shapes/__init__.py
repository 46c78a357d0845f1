"""The shapes a column may have; each knows its outline and how it is called. Lengths in mm."""

from __future__ import annotations

from fexro.core.section.shapes.composed import Composed, How, Part
from fexro.core.section.shapes.flanged import (
    Channel,
    IShape,
    LShape,
    Plus,
    Trapezium,
    TShape,
    ZShape,
)
from fexro.core.section.shapes.free import PolygonShape, Ring
from fexro.core.section.shapes.legs import Leg, Legs
from fexro.core.section.shapes.rectangular import HollowRectangle, Rectangle, Strip, Wall
from fexro.core.section.shapes.rounded import Circle, Ellipse, Hexagon, HollowCircle, Octagon
from fexro.core.section.shapes.shape import Shape, Write

__all__ = [
    "Channel",
    "Circle",
    "Composed",
    "Ellipse",
    "Hexagon",
    "HollowCircle",
    "HollowRectangle",
    "How",
    "IShape",
    "LShape",
    "Leg",
    "Legs",
    "Octagon",
    "Part",
    "Plus",
    "PolygonShape",
    "Rectangle",
    "Ring",
    "Shape",
    "Strip",
    "TShape",
    "Trapezium",
    "Wall",
    "Write",
    "ZShape",
]
