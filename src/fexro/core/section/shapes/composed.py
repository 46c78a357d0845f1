"""Shapes joined, cut out and intersected; each part stays what it is."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Literal

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.outline import Outline
from fexro.core.section.shapes.shape import LEAST_VOID, Shape, Write

if TYPE_CHECKING:
    import shapely

__all__ = ["Composed", "How", "Part", "placed_ring"]

How = Literal["join", "cut", "intersect"]
DONE = {"join": "joined to", "cut": "cut out of", "intersect": "intersected with"}
TURN = math.radians(12.0)  # by which an outline turns at a corner; less is part of an arc


@dataclass(frozen=True)
class Part:
    """A shape in its place.

    Attributes:
        shape: what it is.
        x, y: where the middle of its bounding box comes to stand, mm.
        angle: by which it is turned anticlockwise, degrees.
        mirrored: whether left and right change places, before it is turned.
        how: what it does to the parts before it.
        concrete: name of its concrete, which takes the place of those before; nothing: that of the
            section.
    """

    shape: Shape
    x: float = 0.0
    y: float = 0.0
    angle: float = 0.0
    mirrored: bool = False
    how: How = "join"
    concrete: str | None = None

    def placed(self, ring: FloatArray) -> FloatArray:
        """Return a ring of the shape, (V, 2), in its place; it keeps its sense of turn."""
        x0, y0, x1, y1 = self.shape.outline().bounds
        centre = (x0 + x1) / 2, (y0 + y1) / 2
        at: FloatArray = np.array([self.x, self.y])
        return placed_ring(ring - centre, self.angle, self.mirrored) + at

    def polygon(self) -> shapely.Geometry:
        """Return the area that the part covers."""
        import shapely

        solid, *voids = (self.placed(ring) for ring in self.shape.outline().rings)
        return shapely.Polygon(solid, voids)


@dataclass(frozen=True)
class Composed:
    """Parts put together one after the other.

    Raises:
        InputError: if the first is no solid, a part changes nothing, or what comes of it is not one
            piece of concrete that is nowhere thinner than 10 mm.
    """

    parts: tuple[Part, ...]

    def __post_init__(self) -> None:
        if not self.parts or self.parts[0].how != "join":
            raise InputError("part 1", "no solid shape", "a shape that the others join or cut")
        self.outline()

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        first, *others = (part.shape.label(write) for part in self.parts)
        cuts = sum(part.how == "cut" for part in self.parts[1:])
        if len(others) == cuts == 1:
            return f"{first} less {others[0]}"
        if cuts == len(others) > 1:
            return f"{first} less {cuts} openings"
        return first if not others else f"{first} and {len(others)} more"

    def outline(self) -> Outline:
        """Return the outline of what comes of the parts."""
        return self._outline

    @cached_property
    def zones(self) -> Mapping[str | None, shapely.Geometry]:
        """What each concrete covers, by its name; empty where all is that of the section."""
        if all(part.concrete is None for part in self.parts):
            return {}
        found: dict[str | None, shapely.Geometry] = {}
        for part in self.parts:
            other = part.polygon()
            if part.how == "intersect":
                found = {name: area.intersection(other) for name, area in found.items()}
                continue
            found = {name: area.difference(other) for name, area in found.items()}
            if part.how == "join":
                before = found.get(part.concrete)
                found[part.concrete] = other if before is None else before.union(other)
        return {name: area for name, area in found.items() if area.area > 1.0}

    @cached_property
    def _outline(self) -> Outline:
        import shapely

        area = self.parts[0].polygon()
        for number, part in enumerate(self.parts[1:], 2):
            area = _together(area, part, f"part {number}")
        if area.geom_type != "Polygon" or area.is_empty:
            count = len(getattr(area, "geoms", ()))
            raise InputError("section", f"{count} pieces", "one piece of concrete")
        _refuse_thin(area)
        whole = shapely.geometry.polygon.orient(area.simplify(1e-9))
        rings = [whole.exterior, *whole.interiors]
        return Outline(tuple(np.asarray(ring.coords)[:-1] for ring in rings))

    def corners(self) -> FloatArray | None:
        """Return where the outer edge turns; nothing where a part of it is an arc."""
        if len(self.parts) == 1:
            inner = self.parts[0].shape.corners()
            return None if inner is None else self.parts[0].placed(inner)
        ring = self.outline().rings[0]
        ahead = np.roll(ring, -1, axis=0) - ring
        angle = np.arctan2(ahead[:, 1], ahead[:, 0])
        turn = np.abs((angle - np.roll(angle, 1) + np.pi) % (2 * np.pi) - np.pi)
        return ring if bool((turn > TURN).all()) else None


def placed_ring(ring: FloatArray, angle: float, mirrored: bool) -> FloatArray:
    """Return a ring about the origin mirrored and turned, its sense of turn kept, (V, 2)."""
    points = ring * [-1.0, 1.0] if mirrored else ring
    # Quarters of a turn are exact.
    quarter, rest = divmod(angle, 90.0)
    cos, sin = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[int(quarter) % 4]
    if rest:
        cos, sin = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    turned: FloatArray = points @ np.array([[cos, sin], [-sin, cos]])
    return turned[::-1] if mirrored else turned


def _together(area: shapely.Geometry, part: Part, where: str) -> shapely.Geometry:
    other = part.polygon()
    match part.how:
        case "join":
            found = area.union(other)
        case "cut":
            found = area.difference(other)
        case "intersect":
            found = area.intersection(other)
    # Another concrete inside is a change too.
    if abs(found.area - area.area) < 1.0 and (part.how != "join" or part.concrete is None):
        allowed = f"a shape that changes the section when it is {DONE[part.how]} it"
        raise InputError(where, "no effect", allowed)
    return found


def _refuse_thin(area: shapely.Geometry) -> None:
    """Refuse slivers and necks: what comes apart or opens when a little is taken off."""
    core = area.buffer(-LEAST_VOID / 2, join_style="mitre")
    whole = core.geom_type == "Polygon" and not core.is_empty
    if not whole or len(core.interiors) != len(area.interiors):
        raise InputError(
            "section",
            f"concrete thinner than {LEAST_VOID:g} mm",
            f"at least {LEAST_VOID:g} mm everywhere, also beside openings",
        )
