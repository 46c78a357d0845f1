"""Outlines: closed rings of vertices and the properties of the area they enclose."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.errors import InputError

if TYPE_CHECKING:
    import shapely

__all__ = [
    "Outline",
    "arc_ring",
    "circle_ring",
    "convex_hull",
]

CIRCLE_SEGMENTS = 96


@dataclass(frozen=True, eq=False)
class Outline:
    """Rings (each (V, 2), mm) bounding concrete: solids anticlockwise, voids clockwise."""

    rings: tuple[FloatArray, ...]

    @classmethod
    def from_polygons(
        cls, solids: list[FloatArray], voids: list[FloatArray], where: str = "outline"
    ) -> Outline:
        """Make an outline from polygons of any orientation, refusing what encloses no clear area.

        Args:
            solids: polygons (V, 2) of concrete, mm; several where the parts act as one.
            voids: polygons (V, 2), each inside a solid, mm.
            where: name of the input, for the refusal.

        Raises:
            InputError: for self-crossing or flat polygons, overlapping solids, and voids that touch
                or leave the concrete.
        """
        import shapely

        parts = [_clean_polygon(ring, f"{where}, part {i + 1}") for i, ring in enumerate(solids)]
        holes = [_clean_polygon(ring, f"{where}, void {i + 1}") for i, ring in enumerate(voids)]
        for i, part in enumerate(parts):
            for j, other in enumerate(parts[:i]):
                if part.intersection(other).area > 0:
                    raise InputError(
                        f"{where}, part {i + 1}", f"overlap with part {j + 1}", "separate parts"
                    )
        for i, hole in enumerate(holes):
            if not any(part.contains_properly(hole) for part in parts):
                raise InputError(
                    f"{where}, void {i + 1}",
                    "a void that touches or leaves the outline",
                    "voids wholly inside the concrete",
                )
            if any(hole.intersects(other) for other in holes[:i]):
                raise InputError(
                    f"{where}, void {i + 1}", "a void touching another", "separate voids"
                )
        rings = [np.asarray(shapely.geometry.polygon.orient(p).exterior.coords)[:-1] for p in parts]
        rings += [
            np.asarray(shapely.geometry.polygon.orient(p, -1.0).exterior.coords)[:-1] for p in holes
        ]
        return cls(tuple(rings))

    @cached_property
    def area(self) -> float:
        """Area of the concrete, voids deducted, mm²."""
        return self._moments[0]

    @cached_property
    def centroid(self) -> tuple[float, float]:
        """Centroid of the concrete, voids deducted, mm."""
        area, first_x, first_y, *_ = self._moments
        return first_x / area, first_y / area

    @cached_property
    def inertia(self) -> tuple[float, float, float]:
        """Second moments about the centroid: I about x, I about y, product, mm⁴."""
        area, _, _, yy, xx, xy = self._moments
        cx, cy = self.centroid
        return yy - area * cy**2, xx - area * cx**2, xy - area * cx * cy

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """Smallest x, smallest y, largest x, largest y, mm."""
        points = np.concatenate(self.rings)
        (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
        return float(x0), float(y0), float(x1), float(y1)

    @cached_property
    def _moments(self) -> tuple[float, ...]:
        total = np.zeros(6)
        for ring in self.rings:
            (x, y), (u, v) = ring.T, np.roll(ring, -1, axis=0).T
            cross = x * v - u * y
            total += [
                cross.sum() / 2,
                (cross * (x + u)).sum() / 6,
                (cross * (y + v)).sum() / 6,
                (cross * (y * y + y * v + v * v)).sum() / 12,
                (cross * (x * x + x * u + u * u)).sum() / 12,
                (cross * (x * v + 2 * x * y + 2 * u * v + u * y)).sum() / 24,
            ]
        return tuple(float(value) for value in total)

    @cached_property
    def convex(self) -> bool:
        """Whether it is one convex area, apart from voids."""
        solids = [ring for ring in self.rings if _signed_area(ring) > 0]
        return len(solids) == 1 and _goes_round(solids[0])

    @cached_property
    def polygon(self) -> shapely.Geometry:
        """The area as a shapely geometry.

        It is not prepared for many questions: sections are shared between threads, and preparing
        changes a geometry while it is asked.
        """
        import shapely

        solids = [shapely.Polygon(ring) for ring in self.rings if _signed_area(ring) > 0]
        voids = [shapely.Polygon(ring) for ring in self.rings if _signed_area(ring) < 0]
        return shapely.union_all(solids).difference(shapely.union_all(voids))


def circle_ring(diameter: float, centre: tuple[float, float] = (0.0, 0.0)) -> FloatArray:
    """Return a circle as a regular polygon (96, 2) of the same area, mm.

    Equal area leaves no error in area and less than 0.001 % in inertia.
    """
    step = 2 * np.pi / CIRCLE_SEGMENTS
    radius = diameter / 2 * np.sqrt(step / np.sin(step))
    angle = (np.arange(CIRCLE_SEGMENTS) + 0.5) * step
    ring: FloatArray = np.column_stack([np.cos(angle), np.sin(angle)]) * radius + centre
    return ring


def arc_ring(
    points: FloatArray,
    bulges: FloatArray,
    where: str = "outline",
    segments: int = CIRCLE_SEGMENTS,
) -> FloatArray:
    """Return a polygon (V, 2) for a ring whose sides may be arcs, mm.

    Each arc becomes chords whose inner vertices lie so that the area under it is exact.

    Args:
        points: the corners, (P, 2), mm.
        bulges: for the side that leaves each corner the tangent of a quarter of its arc's angle,
            (P,): positive where the arc turns anticlockwise, 0 for a straight side.
        where: name of the input, for the refusal.
        segments: how many chords a whole circle would have.

    Raises:
        InputError: for a bulge that is not a finite number, or an arc between equal corners.
    """
    pieces = []
    for i, (start, end, bulge) in enumerate(
        zip(points, np.roll(points, -1, axis=0), bulges, strict=True)
    ):
        if not np.isfinite(bulge):
            raise InputError(f"{where}, side {i + 1}", f"a bulge of {bulge}", "a finite number")
        pieces.append(start[None])
        if bulge:
            if np.array_equal(start, end):
                raise InputError(
                    f"{where}, side {i + 1}", "an arc between equal corners", "corners apart"
                )
            pieces.append(_arc(start, end, float(bulge), segments))
    return np.concatenate(pieces)


def _arc(start: FloatArray, end: FloatArray, bulge: float, segments: int) -> FloatArray:
    """Return the vertices of the chords of an arc between its ends, (C - 1, 2)."""
    angle = 4 * np.arctan(bulge)
    chords = max(int(np.ceil(abs(angle) / (2 * np.pi) * segments)), 3)
    step = angle / chords
    # As complex numbers: the centre lies on the perpendicular through the middle of the chord.
    a, b = complex(*start), complex(*end)
    centre = (a + b) / 2 + 1j * (b - a) / 2 * (1 - bulge**2) / (2 * bulge)
    # The triangles from the centre have the sector's area, the first and last with one end on it.
    inner, sine = chords - 2, np.sin(step)
    share = (np.sqrt(sine**2 + inner * sine * angle) - abs(sine)) / (inner * abs(sine))
    turned = centre + (a - centre) * share * np.exp(1j * step * np.arange(1, chords))
    return np.column_stack([turned.real, turned.imag])


def _signed_area(ring: FloatArray) -> float:
    (x, y), (u, v) = ring.T, np.roll(ring, -1, axis=0).T
    return float((x * v - u * y).sum() / 2)


def _clean_polygon(ring: FloatArray, where: str) -> shapely.Polygon:
    import shapely

    points = np.asarray(ring, dtype=float)
    if points.ndim != 2 or points.shape[1] != 2 or len(points) < 3:
        raise InputError(where, f"{len(points)} vertices", "at least 3 vertices [x, y]")
    if not np.isfinite(points).all():
        raise InputError(where, "a coordinate that is not a finite number", "finite numbers in mm")
    polygon = shapely.Polygon(points)
    if not polygon.is_valid:
        raise InputError(
            where, "edges that cross or touch each other", "a simple polygon whose edges only meet"
        )
    size = max(np.ptp(points[:, 0]), np.ptp(points[:, 1]))
    if polygon.area <= 1e-9 * size * size:
        raise InputError(where, "no area", "a polygon that encloses an area")
    return polygon


def _goes_round(points: FloatArray) -> bool:
    """Tell whether points (P, 2) already go round their convex hull anticlockwise, once."""
    if len(points) < 3:
        return False
    run = np.roll(points, -1, axis=0) - points
    turn = run[:, 0] * np.roll(run[:, 1], -1) - run[:, 1] * np.roll(run[:, 0], -1)
    if not (turn > 0).all():
        return False
    # Round once: the direction of the edges passes that of x a single time.
    upwards = run[:, 1] >= 0
    return bool((~upwards & np.roll(upwards, -1)).sum() == 1)


def convex_hull(points: FloatArray) -> IntArray:
    """Return which of points (P, 2) are corners of their convex hull, anticlockwise.

    Source: A. M. Andrew, Another efficient algorithm for convex hulls, 1979.
    """
    if _goes_round(points):
        return np.arange(len(points))
    order = np.lexsort((points[:, 1], points[:, 0]))

    x, y = points.T.tolist()

    def chain(indices: list[int]) -> list[int]:
        kept: list[int] = []
        for i in indices:
            while len(kept) > 1:
                a, b = kept[-2:]
                if (x[b] - x[a]) * (y[i] - y[b]) > (y[b] - y[a]) * (x[i] - x[b]):
                    break
                kept.pop()
            kept.append(i)
        return kept

    lower, upper = chain(order.tolist()), chain(order[::-1].tolist())
    return np.array(lower[:-1] + upper[:-1] or lower, dtype=np.intp)
