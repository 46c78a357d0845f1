"""Resultants of strain planes, exact for piecewise polynomial laws.

A plane is given by the direction of its compressed side and, along that direction, its strain at
the centroid and its curvature. In axes turned to that direction (t towards compression, s square
to it) the strain depends on t alone, and by Green's theorem the integrals over the area become
integrals along the edges,

    N = -∮ σ s dt,   Mt = -∮ σ t s dt,   Ms = -∮ σ s²/2 dt,

each edge being cut where the law has a break. Within a cut the Gauss points are exact for a
polynomial law.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fexro.core.section.outline import FloatArray, Outline
from fexro.core.strength.laws import Law, Piece, PiecewiseLaw

__all__ = ["BarSet", "Body", "Region", "resultants"]

BLOCK = 30_000


@dataclass(frozen=True, eq=False)
class Region:
    """An area of one material: its outline and its law (negative laws take material away)."""

    outline: Outline
    law: PiecewiseLaw


@dataclass(frozen=True, eq=False)
class BarSet:
    """Bars (B,) of one law: x, y in mm, area in mm², and the law of the concrete they displace."""

    x: FloatArray
    y: FloatArray
    area: FloatArray
    law: Law
    displaced: PiecewiseLaw | None = None


@dataclass(frozen=True, eq=False)
class _Edges:
    """All edges of a region, (E,): start and end about the reference point, mm."""

    start: FloatArray
    end: FloatArray


class Body:
    """What resists: regions and bars, with moments taken about a reference point.

    Args:
        regions: areas of material.
        bars: sets of bars.
        centre: reference point of moments and of the strain at centroid, mm.
    """

    def __init__(
        self, regions: Sequence[Region], bars: Sequence[BarSet], centre: tuple[float, float]
    ) -> None:
        self.regions, self.bars, self.centre = tuple(regions), tuple(bars), centre
        self._edges = []
        for region in self.regions:
            rings = [ring - np.asarray(centre) for ring in region.outline.rings]
            ends = [np.roll(ring, -1, axis=0) for ring in rings]
            self._edges.append(_Edges(np.concatenate(rings), np.concatenate(ends)))

    @cached_property
    def width(self) -> int:
        """The largest number of edges of a region or bars of a set."""
        return max([len(e.start) for e in self._edges] + [len(b.x) for b in self.bars] + [1])

    @cached_property
    def bar_points(self) -> FloatArray:
        """Positions of all bars about the centre, (B, 2), mm."""
        points = [np.column_stack([bars.x, bars.y]) - self.centre for bars in self.bars]
        return np.concatenate(points) if points else np.empty((0, 2))

    @cached_property
    def vertices(self) -> FloatArray:
        """Vertices of all regions about the centre, (V, 2), mm."""
        return np.concatenate([edges.start for edges in self._edges])

    @cached_property
    def bar_moments(self) -> tuple[FloatArray, ...]:
        """For each set of bars the matrix (B, 3) from stress to N, Mx, My."""
        matrices = []
        for bars in self.bars:
            x, y = bars.x - self.centre[0], bars.y - self.centre[1]
            matrices.append(np.column_stack([bars.area, bars.area * y, bars.area * x]))
        return tuple(matrices)

    def extent(self, angle: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return the lowest and highest t of the concrete for each direction (A,), mm."""
        t = _along(self.vertices, np.cos(angle), np.sin(angle))
        return t.min(axis=1), t.max(axis=1)

    def lowest_bar(self, angle: FloatArray) -> FloatArray:
        """Return t of the bar furthest from the compressed side for each direction (A,), mm."""
        points = self.bar_points if len(self.bar_points) else self.vertices
        return _along(points, np.cos(angle), np.sin(angle)).min(axis=1)

    def directions(self, count: int) -> FloatArray:
        """Return directions (A,) that turn the moment about evenly: closest about the weak axis."""
        spread = np.cov(self.vertices, rowvar=False)
        variance, axes = np.linalg.eigh(spread)
        # A section alike in both directions keeps the drawing's axes.
        ratio = 1.0 if variance[0] > 0.98 * variance[1] else np.sqrt(variance[0] / variance[1])
        first = 0.0 if ratio == 1.0 else np.arctan2(axes[1, 0], axes[0, 0])
        turn = np.arange(count) * (2 * np.pi / count)
        even = np.arctan2(ratio * np.sin(turn), np.cos(turn)) % (2 * np.pi)
        directions: FloatArray = np.sort((even + first) % (2 * np.pi))
        return directions

    def edges(self, index: int) -> _Edges:
        """Return the edges of a region."""
        return self._edges[index]


def resultants(
    body: Body, angle: FloatArray, centre_strain: FloatArray, curvature: FloatArray
) -> FloatArray:
    """Return N, Mx, My of strain planes.

    Args:
        body: the regions and bars.
        angle: directions of the compressed side, (A,), radians from x towards y.
        centre_strain: strains at the centre, (A, D), compression positive.
        curvature: strain per mm towards the compressed side, (A, D), not negative.

    Returns:
        N (N), Mx, My (N·mm), shape (A, D, 3).
    """
    total = np.zeros((*centre_strain.shape, 3))
    # A uniform strain has no neutral axis; a curvature too small to matter avoids dividing by zero.
    curvature = np.maximum(curvature, 1e-30)
    # Blocks of directions keep the temporaries in the processor's cache.
    block = max(BLOCK // (centre_strain.shape[1] * body.width), 1)
    for start in range(0, len(angle), block):
        part = slice(start, start + block)
        _add_resultants(
            total[part], body, angle[part], centre_strain[part], curvature[part]
        )
    return total


def _add_resultants(
    total: FloatArray,
    body: Body,
    angle: FloatArray,
    centre_strain: FloatArray,
    curvature: FloatArray,
) -> None:
    cos, sin = np.cos(angle), np.sin(angle)
    for index, region in enumerate(body.regions):
        edges = body.edges(index)
        for piece in region.law.pieces:
            force, mt, ms = _piece(edges, piece, cos, sin, centre_strain, curvature)
            total[..., 0] += force
            total[..., 1] += mt * sin[:, None] + ms * cos[:, None]
            total[..., 2] += mt * cos[:, None] - ms * sin[:, None]
    for bars, matrix in zip(body.bars, body.bar_moments, strict=True):
        points = np.column_stack([bars.x, bars.y]) - body.centre
        t = _along(points, cos, sin)
        strain = t[:, None, :] * curvature[..., None]
        strain += centre_strain[..., None]
        stress = bars.law.stress(strain)
        if bars.displaced is not None:
            stress -= bars.displaced.stress(strain)
        total += stress @ matrix


def _along(points: FloatArray, cos: FloatArray, sin: FloatArray) -> FloatArray:
    t: FloatArray = cos[:, None] * points[:, 0] + sin[:, None] * points[:, 1]
    return t


def _piece(
    edges: _Edges,
    piece: Piece,
    cos: FloatArray,
    sin: FloatArray,
    centre_strain: FloatArray,
    curvature: FloatArray,
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Integrate one piece of a law over the area: N, Mt, Ms, each (A, D)."""
    t1, t2 = _along(edges.start, cos, sin), _along(edges.end, cos, sin)
    s1, s2 = _along(edges.start, -sin, cos), _along(edges.end, -sin, cos)
    rise = t2 - t1
    level = rise == 0
    slope = np.where(level, 0.0, (s2 - s1) / np.where(level, 1.0, rise))[:, None, :]
    offset = s1[:, None, :] - slope * t1[:, None, :]
    lower = ((piece.lower - centre_strain) / curvature)[..., None]
    upper = ((piece.upper - centre_strain) / curvature)[..., None]
    a = np.clip(t1[:, None, :], lower, upper)
    b = np.clip(t2[:, None, :], lower, upper)
    length = b - a
    if not callable(piece.stress):
        return _constant(piece.stress, a, b, length, slope, offset)
    force = mt = ms = np.zeros(centre_strain.shape)
    # s² and t·s add two degrees to the law's own.
    nodes, weights = np.polynomial.legendre.leggauss((piece.degree + 2) // 2 + 1)
    for node, weight in zip((nodes + 1) / 2, weights / 2, strict=True):
        t = a + node * length
        s = slope * t + offset
        strain = np.clip(
            t * curvature[..., None] + centre_strain[..., None], piece.lower, piece.upper
        )
        weighted = piece.stress(strain) * length * (-weight)
        force = force + np.einsum("ade,ade->ad", weighted, s)
        mt = mt + np.einsum("ade,ade,ade->ad", weighted, s, t)
        ms = ms + np.einsum("ade,ade,ade->ad", weighted, s, s) / 2
    return force, mt, ms


def _constant(
    stress: float,
    a: FloatArray,
    b: FloatArray,
    length: FloatArray,
    slope: FloatArray,
    offset: FloatArray,
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Integrate a constant stress: closed forms of the edge integrals."""
    sa, sb = slope * a, slope * b
    sa += offset
    sb += offset
    both = sa + sb
    force = np.einsum("ade,ade->ad", length, both) * (-stress / 2)
    ms = both * both
    ms -= sa * sb
    square = np.einsum("ade,ade->ad", length, ms) * (-stress / 6)
    sa += both
    sa *= a
    sb += both
    sb *= b
    sa += sb
    mt = np.einsum("ade,ade->ad", length, sa) * (-stress / 6)
    return force, mt, square
