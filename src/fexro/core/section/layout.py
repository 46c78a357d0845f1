"""Placing the bars of a call-out inside a shape, held by ties at the given cover."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.errors import InputError
from fexro.core.section.areas import EmbeddedSteel, refuse_loose_steel
from fexro.core.section.bars import BarGroup, Bars, BarSize, Ties
from fexro.core.section.outline import Outline
from fexro.core.section.section import Section, eroded, misplaced_bars
from fexro.core.section.shapes import (
    Circle,
    Composed,
    HollowCircle,
    HollowRectangle,
    Rectangle,
    Shape,
)

__all__ = ["build_section", "place_bars"]


def build_section(
    shape: Shape,
    cover: float,
    groups: tuple[BarGroup, ...],
    ties: Ties,
    where: str = "section",
    steel: tuple[EmbeddedSteel, ...] = (),
) -> Section:
    """Lay out the bars of a call-out along the ties and return the section.

    Circles take the bars evenly spaced on a ring, other smooth shapes along their edge. Shapes with
    corners take one bar in every corner and the others along the sides, where the spacing is
    largest; the largest bars go to the corners.

    Args:
        shape: shape of the concrete.
        cover: clear cover to the ties, mm.
        groups: bars of the call-out.
        ties: transverse reinforcement.
        where: name of the section, for the refusal.
        steel: structural steel inside the concrete.

    Raises:
        InputError: where the bars have no place: outside the concrete, overlapping, or fewer
            than the corners; for steel outside the concrete.
    """
    outline = _outline_of(shape)
    sizes = [group.size for group in groups for _ in range(group.count)]
    sizes.sort(key=lambda size: -size.diameter)
    inset, corners = cover + ties.size.diameter, shape.corners()
    if isinstance(shape, Circle | HollowCircle):
        x, y, placed = _on_ring(shape.diameter, inset, sizes)
    elif corners is None:
        x, y, placed = _along_edge(outline, inset, sizes, where)
    else:
        symmetric = isinstance(shape, Rectangle | HollowRectangle)
        x, y, placed = _along_sides(corners, inset, sizes, symmetric, where)
        if len(corners) != len(outline.rings[0]):
            x, y = _off_corners(outline, x, y, inset, placed)
    bars = Bars(
        x,
        y,
        np.array([size.area for size in placed]),
        np.array([size.diameter for size in placed]),
    )
    section = _section(shape, bars, ties, cover, steel, where)
    for one in misplaced_bars(section):
        raise InputError(f"{where}, {one.where}", one.found, one.allowed)
    return section


def place_bars(
    shape: Shape,
    cover: float,
    bars: Bars,
    ties: Ties,
    where: str = "section",
    steel: tuple[EmbeddedSteel, ...] = (),
) -> Section:
    """Return a section whose bars stand where they were placed; those without a place are named.

    Args:
        shape: shape of the concrete.
        cover: clear cover to the ties, mm.
        bars: those along the member.
        ties: transverse reinforcement.
        where: name of the section, for the refusal.
        steel: structural steel inside the concrete.

    Raises:
        InputError: for steel outside the concrete.
    """
    section = _section(shape, bars, ties, cover, steel, where)
    return replace(section, by_hand=True, misplaced=misplaced_bars(section))


def _section(
    shape: Shape,
    bars: Bars,
    ties: Ties,
    cover: float,
    steel: tuple[EmbeddedSteel, ...],
    where: str,
) -> Section:
    outline, corners = _outline_of(shape), shape.corners()
    refuse_loose_steel(outline, steel, where)
    return Section(
        outline,
        bars,
        ties,
        cover,
        isinstance(shape, Circle | HollowCircle),
        corners,
        corners is None,
        steel=steel,
        zones=shape.zones if isinstance(shape, Composed) else {},
    )


@lru_cache(maxsize=512)
def _outline_of(shape: Shape) -> Outline:
    """Return the outline of a shape, kept with what is worked out of it."""
    return shape.outline()


def _on_ring(
    diameter: float, inset: float, sizes: list[BarSize]
) -> tuple[FloatArray, FloatArray, list[BarSize]]:
    count = len(sizes)
    placed = _spread(sizes)
    angle = math.pi / 2 - np.arange(count) * 2 * math.pi / count
    radius = diameter / 2 - inset - np.array([size.diameter for size in placed]) / 2
    return radius * np.cos(angle), radius * np.sin(angle), placed


def _spread(sizes: list[BarSize]) -> list[BarSize]:
    """Order bars so that each size is spaced evenly among the others."""
    counts = {size: sizes.count(size) for size in dict.fromkeys(sizes)}
    given = dict.fromkeys(counts, 0)
    order = []
    for place in range(len(sizes)):
        owed = {size: (place + 1) * counts[size] / len(sizes) - given[size] for size in counts}
        best = max(counts, key=lambda size: round(owed[size], 9))
        given[best] += 1
        order.append(best)
    return order


def _along_edge(
    outline: Outline, inset: float, sizes: list[BarSize], where: str
) -> tuple[FloatArray, FloatArray, list[BarSize]]:
    """Return bars evenly spaced along the inside of the tie, clockwise from its top."""
    import shapely

    placed = _spread(sizes)
    within = eroded(outline, inset + max(size.diameter for size in placed) / 2)
    if within.geom_type != "Polygon" or within.is_empty:
        raise InputError(
            f"{where}, bars", "no room inside the ties", "a section with room for bars"
        )
    path = within.exterior if not within.exterior.is_ccw else within.exterior.reverse()
    top = max(path.coords, key=lambda point: (round(point[1], 6), -abs(point[0])))
    start = path.project(shapely.Point(top))
    step = path.length / len(placed)
    along = (start + np.arange(len(placed)) * step) % path.length
    points = shapely.get_coordinates(shapely.line_interpolate_point(path, along))
    return points[:, 0], points[:, 1], placed


def _off_corners(
    outline: Outline, x: FloatArray, y: FloatArray, inset: float, sizes: list[BarSize]
) -> tuple[FloatArray, FloatArray]:
    """Return bars moved in where a corner is cut or rounded off and leaves too little cover."""
    import shapely

    x, y = x.copy(), y.copy()
    for diameter in {size.diameter for size in sizes}:
        within = eroded(outline, inset + diameter / 2)
        for i, size in enumerate(sizes):
            point = shapely.Point(x[i], y[i])
            if size.diameter == diameter and not within.is_empty and not within.covers(point):
                x[i], y[i] = shapely.shortest_line(within, point).coords[0]
    return x, y


def _along_sides(
    ring: FloatArray, inset: float, sizes: list[BarSize], symmetric: bool, where: str
) -> tuple[FloatArray, FloatArray, list[BarSize]]:
    corners, count = len(ring), len(sizes)
    if count < corners:
        raise InputError(
            f"{where}, bars", f"{count} bars", f"at least {corners}, one in every corner"
        )
    if symmetric and count % 2:
        raise InputError(
            f"{where}, bars", f"{count} bars", "an even number, so that opposite sides match"
        )
    extra = _bars_per_side(ring, count - corners, symmetric)
    # A place is (side, fraction of the side); the corner is the start of its side.
    places = [(side, 0.0) for side in range(corners)]
    between = [
        (side, (k + 1) / (extra[side] + 1)) for side in range(corners) for k in range(extra[side])
    ]
    # Larger bars nearest the middle of the sides keep opposite sides alike.
    between.sort(key=lambda place: (round(abs(place[1] - 0.5), 6), place[0] % 2, place[0]))
    side, along = np.array(places + between).T
    insets = inset + np.array([size.diameter for size in sizes]) / 2
    x, y = _inside(ring, side.astype(np.intp), along, insets).T
    return x, y, sizes


def _bars_per_side(ring: FloatArray, extra: int, symmetric: bool) -> list[int]:
    """Share bars among the sides, in pairs of equal sides where it can be, widest spacing first."""
    lengths = np.hypot(*(np.roll(ring, -1, axis=0) - ring).T)
    given = [0] * len(ring)
    partner = {
        i: next((j for j in range(len(ring)) if j != i and _mirrored(lengths, i, j)), i)
        for i in range(len(ring))
    }
    while extra > 0:
        order = sorted(range(len(ring)), key=lambda i: (-lengths[i] / (given[i] + 1), i))
        side = order[0]
        if partner[side] != side and (extra >= 2 or symmetric):
            given[partner[side]] += 1
            extra -= 1
        given[side] += 1
        extra -= 1
    return given


def _mirrored(lengths: FloatArray, i: int, j: int) -> bool:
    """Tell whether two sides are alike: of one length, and opposite where there are four."""
    if len(lengths) == 4:
        return abs(i - j) == 2
    return bool(abs(lengths[i] - lengths[j]) < 1e-6 * lengths.max())


def _inside(ring: FloatArray, side: IntArray, along: FloatArray, inset: FloatArray) -> FloatArray:
    """Return points (B, 2) at fractions of sides of the ring moved inwards by insets, (B,)."""
    start, end = _inset_corners(ring, side, inset), _inset_corners(ring, side + 1, inset)
    return start + (end - start) * along[:, None]


def _inset_corners(ring: FloatArray, corner: IntArray, inset: FloatArray) -> FloatArray:
    before, here, after = (ring[(corner + k) % len(ring)] for k in (-1, 0, 1))
    u, v = here - before, after - here
    u, v = (x / np.hypot(*x.T)[:, None] for x in (u, v))
    normal = np.column_stack([-u[:, 1] - v[:, 1], u[:, 0] + v[:, 0]])
    corners: FloatArray = here + normal * (inset / (1 + (u * v).sum(axis=1)))[:, None]
    return corners
