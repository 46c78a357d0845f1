"""Places of bars along edges, sides and circles, and bundles about them. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.errors import InputError
from fexro.core.section.bars import Bars, BarSize
from fexro.core.section.outline import Outline
from fexro.core.section.section import eroded

__all__ = ["Spot", "along_edge", "along_sides", "bars_at", "inside", "on_circle", "spread"]

if TYPE_CHECKING:
    import shapely

Direction = tuple[float, float]


@dataclass(frozen=True)
class Spot:
    """A place of a bar or of a bundle.

    Attributes:
        x, y: of the bar, or of that of a bundle which is nearest to the ties.
        size: of each bar.
        bundle: how many are in contact.
        along: direction along the tie; nothing where no tie is near.
        aside: in a corner the direction along its other face.
    """

    x: float
    y: float
    size: BarSize
    bundle: int = 1
    along: Direction = (1.0, 0.0)
    aside: Direction | None = None


def bars_at(spots: Sequence[Spot]) -> Bars:
    """Return the bars of places, those of a bundle in contact."""
    points, sizes, bundles = [], [], []
    for number, spot in enumerate(spots):
        for dx, dy in _bundle(spot):
            points.append((spot.x + dx, spot.y + dy))
            sizes.append(spot.size)
            bundles.append(number)
    x, y = np.array(points).reshape(-1, 2).T
    return Bars(
        x,
        y,
        np.array([size.area for size in sizes]),
        np.array([size.diameter for size in sizes]),
        np.array(bundles) if any(spot.bundle > 1 for spot in spots) else None,
    )


def _bundle(spot: Spot) -> list[Direction]:
    """Return where the bars of a bundle are from its place."""
    d, count = spot.size.diameter, spot.bundle
    if count == 1:
        return [(0.0, 0.0)]
    u = np.array(spot.along)
    if spot.aside is not None:
        # The second bar is beside the first along the face that is more level.
        u, v = sorted((u, np.array(spot.aside)), key=lambda one: -abs(float(one[0])))
        offsets = [0 * u, d * u, d * v, d * (u + v)][:count]
    else:
        # To the left of the tie's direction is the inside.
        n = np.array([-u[1], u[0]])
        row = [-d / 2 * u, d / 2 * u]
        inner = [math.sqrt(0.75) * d * n] if count == 3 else [one + d * n for one in row]
        offsets = (row + inner)[:count]
    return [(float(x), float(y)) for x, y in offsets]


def on_circle(
    radius: float, centre: Direction, sizes: Sequence[BarSize], bundle: int = 1
) -> list[Spot]:
    """Return places evenly spaced on a circle, clockwise from its top."""
    found = []
    for k, size in enumerate(sizes):
        angle = math.pi / 2 - k * 2 * math.pi / len(sizes)
        along = (-math.sin(angle), math.cos(angle))
        x, y = centre[0] + radius * math.cos(angle), centre[1] + radius * math.sin(angle)
        found.append(Spot(x, y, size, bundle, along))
    return found


def spread(sizes: Sequence[BarSize]) -> list[BarSize]:
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


def along_edge(
    outline: Outline,
    inset: float,
    sizes: Sequence[BarSize],
    where: str,
    bundle: int = 1,
    corners: FloatArray | None = None,
) -> list[Spot]:
    """Return places evenly spaced along the inside of the tie, clockwise from its top.

    Where it has corners, the places are alike to both sides of the middle of the top, and as near
    to the corners as they can be so.

    Raises:
        InputError: where there is no room inside the ties.
    """
    import shapely

    placed = spread(sizes)
    within = eroded(outline, inset + max(size.diameter for size in placed) / 2)
    if within.geom_type != "Polygon" or within.is_empty:
        allowed = "a section with room for bars"
        raise InputError(f"{where}, bars", "no room inside the ties", allowed)
    path = within.exterior if not within.exterior.is_ccw else within.exterior.reverse()
    top = max(path.coords, key=lambda point: (round(point[1], 6), -abs(point[0])))
    step = path.length / len(placed)
    start = path.project(shapely.Point(top))
    if corners is not None:
        start = _symmetric_start(path, step, corners)
    along = (start + np.arange(len(placed)) * step) % path.length
    points = shapely.get_coordinates(shapely.line_interpolate_point(path, along))
    ahead = shapely.get_coordinates(
        shapely.line_interpolate_point(path, (along + 1.0) % path.length)
    )
    found = []
    for size, (x, y), (u, v) in zip(placed, points, ahead, strict=True):
        run = math.hypot(u - x, v - y)
        # The path runs clockwise, the inside to its right.
        found.append(Spot(float(x), float(y), size, bundle, ((x - u) / run, (y - v) / run)))
    return found


def _symmetric_start(path: shapely.Geometry, step: float, corners: FloatArray) -> float:
    """Return where on a path to begin: in the middle of its top or half a step beside it."""
    import shapely

    x0, _, x1, y1 = path.bounds
    middle = path.project(shapely.Point((x0 + x1) / 2, y1))
    at = shapely.line_locate_point(path, shapely.points(corners))

    def away(start: float) -> float:
        apart = (at - start) % step
        return float(np.minimum(apart, step - apart).sum())

    start: float = min(middle, middle + step / 2, key=away)
    return start


def along_sides(
    ring: FloatArray,
    inset: float,
    sizes: Sequence[BarSize],
    symmetric: bool,
    where: str,
    bundle: int = 1,
    *,
    outwards: bool = False,
) -> list[Spot]:
    """Return places in every corner of a ring and along its sides, where spacing is largest.

    Args:
        ring: corners, anticlockwise, (V, 2).
        inset: of the bars' faces from the ring.
        sizes: of the bars, those of the corners first.
        symmetric: whether opposite sides are to be alike.
        where: name of the section, for refusals.
        bundle: how many bars are in contact at each.
        outwards: whether the bars stand outside the ring, `inset` being negative.

    Raises:
        InputError: for fewer bars than corners, or an odd number where sides are to be alike.
    """
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
    half = np.array([size.diameter for size in sizes]) / 2
    insets = inset - half if outwards else inset + half
    points = inside(ring, side.astype(np.intp), along, insets)
    run = np.roll(ring, -1, axis=0) - ring
    run = run / np.hypot(*run.T)[:, None]
    found = []
    for size, (x, y), s, share in zip(sizes, points, side.astype(int), along, strict=True):
        u = (float(run[s][0]), float(run[s][1]))
        back = (float(-run[s - 1][0]), float(-run[s - 1][1])) if share == 0 else None
        found.append(Spot(float(x), float(y), size, bundle, u, back))
    return found


def _bars_per_side(ring: FloatArray, extra: int, symmetric: bool) -> list[int]:
    """Share bars among the sides, in pairs of equal sides where it can be, widest spacing first."""
    lengths = np.hypot(*(np.roll(ring, -1, axis=0) - ring).T)
    given = [0] * len(ring)
    partner = _partners(ring)
    while extra > 0:
        order = sorted(range(len(ring)), key=lambda i: (-lengths[i] / (given[i] + 1), i))
        side = order[0]
        if partner[side] != side and (extra >= 2 or symmetric):
            given[partner[side]] += 1
            extra -= 1
        given[side] += 1
        extra -= 1
    return given


def _partners(ring: FloatArray) -> list[int]:
    """Return for each side the one that a reflection of the ring brings it upon; else itself.

    Tried are reflections left to right, top to bottom, and about both diagonals.
    """
    middle = (ring.min(axis=0) + ring.max(axis=0)) / 2
    centres = (ring + np.roll(ring, -1, axis=0)) / 2 - middle
    size = float(np.abs(ring - middle).max())
    found = list(range(len(ring)))
    for turned in (
        centres * [-1, 1],
        centres * [1, -1],
        centres[:, ::-1],
        -centres[:, ::-1],
    ):
        away = np.hypot(*(turned[:, None] - centres).transpose(2, 0, 1))
        image = away.argmin(axis=1)
        if away.min(axis=1).max() > 1e-6 * size:
            continue
        found = [int(image[i]) if found[i] == i else found[i] for i in range(len(ring))]
    return found


def inside(ring: FloatArray, side: IntArray, along: FloatArray, inset: FloatArray) -> FloatArray:
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
