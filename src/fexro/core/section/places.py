"""Where the bars of a call-out stand that says where: corners, faces, rings, layers, ends."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.call_out import BarGroup
from fexro.core.section.outline import Outline
from fexro.core.section.section import eroded
from fexro.core.section.shapes import (
    Circle,
    HollowCircle,
    HollowRectangle,
    Rectangle,
    Shape,
    Wall,
)
from fexro.core.section.spots import (
    Spot,
    along_edge,
    along_sides,
    inside,
    on_circle,
)

__all__ = ["spots_of"]

LAYER_SPACE, LAYER_SHARE = 40.0, 1.5  # clear between layers: mm, and of the larger diameter
END_SPACE, END_SHARE = 100.0, 4.0  # between pairs of an end zone: mm, and of the diameter
LEVEL = 1e-6
NORMALS = {"top": (0, 1), "bottom": (0, -1), "left": (-1, 0), "right": (1, 0)}


@dataclass(frozen=True)
class _Room:
    """Where bars have to fit.

    Attributes:
        shape, outline: of the concrete.
        ring: corners that ties go round, (V, 2); nothing where the edge is smooth.
        inset: of the inside of the ties from the edge, mm.
        where: name of the section, for refusals.
        first: largest diameter of the first layer, mm.
    """

    shape: Shape
    outline: Outline
    ring: FloatArray | None
    inset: float
    where: str
    first: float

    def corners(self, group: BarGroup) -> FloatArray:
        """Return the corners, or refuse bars that ask for some where there are none."""
        if self.ring is None:
            raise InputError(f"{self.where}, bars", f"“{group.place}”", "a section with corners")
        return self.ring


def spots_of(
    shape: Shape,
    outline: Outline,
    ring: FloatArray | None,
    inset: float,
    groups: Sequence[BarGroup],
    where: str,
) -> list[Spot]:
    """Return the places of groups of bars that say where they are, in the order of the groups.

    Args:
        shape, outline: of the concrete.
        ring: corners that ties go round, (V, 2); nothing where the edge is smooth.
        inset: of the inside of the ties from the edge, mm.
        groups: the bars.
        where: name of the section, for refusals.

    Raises:
        InputError: where the shape has no such place.
    """
    first = max(
        (g.size.diameter for g in groups if g.place not in ("second layer", "inner ring")),
        default=0.0,
    )
    room = _Room(shape, outline, ring, inset, where, first)
    cornered = any(g.place in ("corners", "") for g in groups)
    ends = next((g for g in groups if g.place == "each end"), None)
    found: list[Spot] = []
    for group in groups:
        if not group.place:
            continue
        match group.place:
            case "corners":
                found += _in_corners(room, group)
            case "around":
                found += _around(room, group)
            case "ring" | "inner ring":
                found += _ring(room, group)
            case "inner face":
                found += _inner_face(room, group)
            case "second layer":
                found += _second_layer(room, group)
            case "each end":
                found += _ends(room, group)
            case _:
                found += _faces(room, group, ends, cornered=cornered)
                cornered = True
    return found


def _in_corners(room: _Room, group: BarGroup) -> list[Spot]:
    ring = room.corners(group)
    if group.count != len(ring):
        raise InputError(
            f"{room.where}, bars", f"{group.count} in corners", f"{len(ring)}, one in each corner"
        )
    return [_corner(room, ring, corner, group) for corner in range(len(ring))]


def _corner(room: _Room, ring: FloatArray, corner: int, group: BarGroup) -> Spot:
    radius = room.inset + group.size.diameter / 2
    (point,) = inside(ring, np.array([corner]), np.array([0.0]), np.array([radius]))
    back, ahead = ring[corner - 1] - ring[corner], ring[(corner + 1) % len(ring)] - ring[corner]
    directions = tuple(
        (float(v[0] / np.hypot(*v)), float(v[1] / np.hypot(*v))) for v in (ahead, back)
    )
    x, y = float(point[0]), float(point[1])
    return Spot(x, y, group.size, group.bundle, directions[0], directions[1])


def _around(room: _Room, group: BarGroup) -> list[Spot]:
    count = group.count
    if group.spacing is not None:
        within = eroded(room.outline, room.inset + group.size.diameter / 2)
        count = max(math.ceil(within.length / group.spacing - 1e-9), 3)
    sizes = [group.size] * count
    return along_edge(room.outline, room.inset, sizes, room.where, group.bundle, room.ring)


def _ring(room: _Room, group: BarGroup) -> list[Spot]:
    """Return bars on a circle inside the ties, or on a second one inside the first."""
    shape, half = room.shape, group.size.diameter / 2
    x0, y0, x1, y1 = room.outline.bounds
    diameter = min(x1 - x0, y1 - y0)
    if isinstance(shape, Circle | HollowCircle):
        diameter = shape.diameter
    radius = diameter / 2 - room.inset - half
    if group.place == "inner ring":
        if isinstance(shape, HollowCircle):
            radius = shape.void_diameter / 2 + room.inset + half
        else:
            radius = diameter / 2 - room.inset - room.first - _between(room, group) - half
    if radius <= 0:
        raise InputError(f"{room.where}, bars", "no room for a ring", "a larger section")
    centre = ((x0 + x1) / 2, (y0 + y1) / 2)
    return on_circle(radius, centre, [group.size] * group.count, group.bundle)


def _between(room: _Room, group: BarGroup) -> float:
    """Return the clear distance between two layers, mm."""
    return max(LAYER_SPACE, LAYER_SHARE * max(room.first, group.size.diameter))


def _inner_face(room: _Room, group: BarGroup) -> list[Spot]:
    """Return bars about the void, as far from it as those outside are from the edge."""
    shape = room.shape
    if isinstance(shape, HollowCircle):
        return _ring(room, replace(group, place="inner ring"))
    if len(room.outline.rings) != 2:
        raise InputError(f"{room.where}, bars", "“inner face”", "a section with one void")
    void = room.outline.rings[1][::-1]
    sizes = [group.size] * group.count
    return along_sides(
        void, -room.inset, sizes, isinstance(shape, HollowRectangle), room.where, outwards=True
    )


def _second_layer(room: _Room, group: BarGroup) -> list[Spot]:
    inset = room.inset + room.first + _between(room, group)
    sizes = [group.size] * group.count
    if isinstance(room.shape, Circle | HollowCircle):
        return _ring(room, replace(group, place="inner ring"))
    if room.ring is None:
        return along_edge(room.outline, inset, sizes, room.where, group.bundle)
    if isinstance(room.shape, Rectangle | HollowRectangle) and group.count == 2:
        # A pair stands in the middle of the longer sides.
        x0, y0, x1, y1 = room.outline.bounds
        half = group.size.diameter / 2
        if x1 - x0 >= y1 - y0:
            reach = (y1 - y0) / 2 - inset - half
            places = [(0.0, reach), (0.0, -reach)]
        else:
            reach = (x1 - x0) / 2 - inset - half
            places = [(reach, 0.0), (-reach, 0.0)]
        return [Spot(x, y, group.size, group.bundle) for x, y in places]
    symmetric = isinstance(room.shape, Rectangle | HollowRectangle)
    return along_sides(room.ring, inset, sizes, symmetric, room.where, group.bundle)


def _faces(room: _Room, group: BarGroup, ends: BarGroup | None, *, cornered: bool) -> list[Spot]:
    """Return bars on faces, evenly between their corners or between end zones."""
    if ends is not None:
        return _curtains(room, group, ends)
    ring = room.corners(group)
    if not cornered and group.spacing is None:
        allowed = f"bars in the corners too, as {len(ring)} {group.size.name} corners + …"
        raise InputError(f"{room.where}, bars", f"“{group.place}” alone", allowed)
    found = [] if cornered else [_corner(room, ring, i, group) for i in range(len(ring))]
    half = group.size.diameter / 2
    for side, (start, end) in enumerate(zip(ring, np.roll(ring, -1, axis=0), strict=True)):
        if not _meant(group.place, end - start):
            continue
        ends_of = inside(
            ring, np.array([side, side]), np.array([0.0, 1.0]), np.full(2, room.inset + half)
        )
        length = float(np.hypot(*(ends_of[1] - ends_of[0])))
        count = group.count
        if group.spacing is not None:
            count = max(math.ceil(length / group.spacing - 1e-9) - 1, 0)
        for k in range(count):
            x, y = ends_of[0] + (ends_of[1] - ends_of[0]) * (k + 1) / (count + 1)
            along = (end - start) / np.hypot(*(end - start))
            direction = float(along[0]), float(along[1])
            found.append(Spot(float(x), float(y), group.size, group.bundle, direction))
    if not found:
        raise InputError(f"{room.where}, bars", f"“{group.place}”", "a face that the section has")
    return found


def _meant(place: str, run: FloatArray) -> bool:
    """Tell whether a face that runs so is meant."""
    dx, dy = (float(value) for value in run / np.hypot(*run))
    if place == "each face":
        return True
    if place == "along x":
        return abs(dy) < LEVEL
    if place == "along y":
        return abs(dx) < LEVEL
    # The concrete is to the left of where a side runs.
    normal = NORMALS[place]
    return math.hypot(dy - normal[0], -dx - normal[1]) < LEVEL


def _ends(room: _Room, group: BarGroup) -> list[Spot]:
    """Return the bars of both end zones of a wall."""
    shape, found = room.shape, []
    if isinstance(shape, Wall):
        away = (shape.width - shape.end_width) / 2
        box = Rectangle(shape.end_width, shape.depth).ring()
        for side in (-away, away):
            ring = box + np.array([side, 0.0])
            sizes = [group.size] * group.count
            found += along_sides(ring, room.inset, sizes, True, room.where, group.bundle)
        return found
    places, level = _end_places(room, group)
    x0, y0, x1, y1 = room.outline.bounds
    centre = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    depth = ((y1 - y0) if level else (x1 - x0)) / 2 - room.inset - group.size.diameter / 2
    for sign in (-1.0, 1.0):
        for place in places:
            for aside in (-depth, depth):
                at = np.array([sign * place, aside] if level else [aside, sign * place]) + centre
                along = (1.0, 0.0) if level else (0.0, 1.0)
                found.append(Spot(float(at[0]), float(at[1]), group.size, group.bundle, along))
    return found


def _end_places(room: _Room, group: BarGroup) -> tuple[FloatArray, bool]:
    """Return how far the pairs of an end zone are from the middle, mm, and whether along x."""
    if not isinstance(room.shape, Rectangle):
        allowed = "a rectangular wall, or one with thickened ends"
        raise InputError(f"{room.where}, bars", "“each end”", allowed)
    if group.count % 2 or not group.count:
        allowed = "an even number, a pair at a time"
        raise InputError(f"{room.where}, bars", f"{group.count} at each end", allowed)
    level = room.shape.width >= room.shape.depth
    half_length = max(room.shape.width, room.shape.depth) / 2
    pairs, first = group.count // 2, room.inset + group.size.diameter / 2
    length = first + (pairs - 1) * max(END_SPACE, END_SHARE * group.size.diameter)
    if group.length is not None:
        length = max(group.length, first)
    if length >= half_length:
        raise InputError(f"{room.where}, bars", f"end zones of {length:.0f} mm", "shorter zones")
    places: FloatArray = half_length - np.linspace(first, length, pairs)
    return places, level


def _curtains(room: _Room, group: BarGroup, ends: BarGroup) -> list[Spot]:
    """Return bars on both long faces of a wall, between its end zones."""
    half = group.size.diameter / 2
    x0, y0, x1, y1 = room.outline.bounds
    if isinstance(room.shape, Wall):
        level, reach = True, room.shape.width / 2 - room.shape.end_width + room.inset
        depth = room.shape.wall / 2 - room.inset - half
    else:
        places, level = _end_places(room, ends)
        reach = float(places.min())
        depth = ((y1 - y0) if level else (x1 - x0)) / 2 - room.inset - half
    count = group.count
    if group.spacing is not None:
        count = max(math.ceil(2 * reach / group.spacing - 1e-9) - 1, 0)
    centre, found = ((x0 + x1) / 2, (y0 + y1) / 2), []
    for k in range(count):
        along = reach * (2 * (k + 1) / (count + 1) - 1)
        for aside in (-depth, depth):
            x, y = (along, aside) if level else (aside, along)
            direction = (1.0, 0.0) if level else (0.0, 1.0)
            spot = Spot(centre[0] + x, centre[1] + y, group.size, group.bundle, direction)
            found.append(spot)
    return found
