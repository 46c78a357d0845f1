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

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from fexro.core.section.outline import FloatArray, Outline, convex_hull
from fexro.core.strength.laws import Constant, Law, Piece, PiecewiseLaw, Power, SideArray, Smooth

__all__ = ["BarSet", "Body", "Region", "Turned", "resultants", "turned_resultants"]

BLOCK = 20_000


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
    """All edges of a region: their starts about the centre, (E, 2), mm, and which one follows."""

    start: FloatArray
    following: npt.NDArray[np.intp]


@dataclass(frozen=True, eq=False)
class Turned:
    """A body in axes turned to directions of some shape: t towards compression, s square to it.

    Attributes:
        cos, sin: of the directions.
        t, s: of the vertices of all regions, (V, …), mm.
        lowest, highest: the least and largest t of the concrete, mm.
        lowest_bar: t of the bar furthest from the compressed side, mm.
    """

    cos: FloatArray
    sin: FloatArray
    t: FloatArray
    s: FloatArray
    lowest: FloatArray
    highest: FloatArray
    lowest_bar: FloatArray

    @property
    def extent(self) -> tuple[FloatArray, FloatArray]:
        """The lowest and highest t of the concrete, mm."""
        return self.lowest, self.highest

    def part(self, rows: slice, columns: slice) -> Turned:
        """Return some of the directions, of a shape (A, 1) or (1, D)."""
        at = (rows, slice(None)) if self.cos.shape[1] == 1 else (slice(None), columns)
        many = (slice(None), *at)
        return Turned(
            self.cos[at],
            self.sin[at],
            self.t[many],
            self.s[many],
            self.lowest[at],
            self.highest[at],
            self.lowest_bar[at],
        )


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
            rings = region.outline.rings
            first = np.cumsum([0, *map(len, rings)])
            following = [
                np.roll(np.arange(len(ring)), -1) + first[i] for i, ring in enumerate(rings)
            ]
            start = np.concatenate(rings) - np.asarray(centre)
            self._edges.append(_Edges(start, np.concatenate(following)))

    @cached_property
    def width(self) -> int:
        """The largest number of edges of a region or bars of a set."""
        return max([len(e.start) for e in self._edges] + [len(b.x) for b in self.bars] + [1])

    @cached_property
    def bar_points(self) -> FloatArray:
        """Positions of all bars about the centre, (B, 2), mm."""
        points = [np.column_stack([bars.x, bars.y]) - self.centre for bars in self.bars]
        return np.concatenate([np.empty((0, 2)), *points])

    @cached_property
    def bar_parts(self) -> list[slice]:
        """Where the bars of each set stand among all bars."""
        ends = np.cumsum([0, *(len(bars.x) for bars in self.bars)])
        return [slice(a, b) for a, b in itertools.pairwise(ends)]

    @cached_property
    def vertex_parts(self) -> list[slice]:
        """Where the vertices of each region stand among all vertices."""
        ends = np.cumsum([0, *(len(edges.start) for edges in self._edges)])
        return [slice(a, b) for a, b in itertools.pairwise(ends)]

    def turn(self, angle: FloatArray) -> Turned:
        """Return the body in axes turned to directions of the compressed side, of any shape."""
        cos, sin = np.cos(angle), np.sin(angle)
        # Vertices and bars turned at once, and both coordinates of them.
        c, n = cos.ravel(), sin.ravel()
        turned = self._turning @ np.concatenate([c, -n, n, c]).reshape(2, -1)
        turned = turned.reshape(len(turned), 2, *angle.shape)
        count = len(self.vertices)
        t, s, bars = turned[:count, 0], turned[:count, 1], turned[count:, 0]
        ends = t[self._outermost]
        lowest, highest = ends.min(axis=0), ends.max(axis=0)
        return Turned(cos, sin, t, s, lowest, highest, bars.min(axis=0) if len(bars) else lowest)

    @cached_property
    def _turning(self) -> FloatArray:
        """The vertices, and the bars that can be furthest from a compressed side."""
        outermost = self.bar_points[convex_hull(self.bar_points)]
        return np.concatenate([self.vertices, outermost])

    @cached_property
    def _outermost(self) -> npt.NDArray[np.intp]:
        """The vertices of the convex hull: no direction has its extremes elsewhere."""
        return convex_hull(self.vertices)

    def bar_strains(
        self, turned: Turned, centre_strain: FloatArray, curvature: FloatArray
    ) -> FloatArray:
        """Return strains of all bars, (B, A, D), under planes (A, D) of the turned body."""
        planes = np.empty((3, *centre_strain.shape))
        np.multiply(curvature, turned.cos, out=planes[0])
        np.multiply(curvature, turned.sin, out=planes[1])
        planes[2] = centre_strain
        strains: FloatArray = self._bar_rows @ planes.reshape(3, -1)
        return strains.reshape(len(strains), *centre_strain.shape)

    @cached_property
    def _bar_rows(self) -> FloatArray:
        """For each bar what multiplies curvature towards x, towards y and the strain at centre."""
        return np.column_stack([self.bar_points, np.ones(len(self.bar_points))])

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

    @cached_property
    def largest_step(self) -> float:
        """The largest force by which a bar's displaced concrete jumps, N; 0 if none does."""
        forces = [0.0]
        for bars in self.bars:
            if bars.displaced is not None and len(steps := bars.displaced.steps):
                jump = bars.displaced.stress(steps) - bars.displaced.stress(steps - 1e-9)
                forces.append(float(bars.area.max() * np.abs(jump).max()))
        return max(forces)

    def sides(self, strain: FloatArray) -> SideArray:
        """Return the side of the steps of its displaced concrete where each bar's strain is.

        A law that jumps leaves a step in the resultant where a bar passes the jump. Held on its
        side, the concrete that a bar displaces goes on smoothly.

        Args:
            strain: strains of all bars, (B, …).
        """
        sides = np.zeros(strain.shape, dtype=np.int8)
        for bars, part in zip(self.bars, self.bar_parts, strict=True):
            if bars.displaced is not None:
                sides[part] = bars.displaced.side(strain[part])
        return sides

    def extent(self, angle: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return the lowest and highest t of the concrete for each direction (A,), mm."""
        return self.turn(angle).extent

    def directions(self, count: int) -> FloatArray:
        """Return directions (A,) that turn the moment about evenly: closest about the weak axis."""
        turn: FloatArray = np.arange(count, dtype=np.float64) * (2 * np.pi / count)
        variance, axes = np.linalg.eigh(np.cov(self.vertices, rowvar=False))
        # A section alike in both directions keeps the drawing's axes.
        if variance[0] > 0.98 * variance[1]:
            return turn
        ratio = np.sqrt(variance[0] / variance[1])
        if self.symmetric:
            width, height = np.sqrt(self.vertices.var(axis=0))
            aligned: FloatArray = np.arctan2(width * np.sin(turn), height * np.cos(turn))
            return np.mod(aligned, 2 * np.pi)
        first = np.arctan2(axes[1, 0], axes[0, 0])
        even = np.arctan2(ratio * np.sin(turn), np.cos(turn))
        directions: FloatArray = np.sort((even + first) % (2 * np.pi))
        return directions

    @cached_property
    def symmetric(self) -> bool:
        """Whether the body is alike on both sides of both axes through the centre."""
        rows = []
        for index, edges in enumerate(self._edges):
            end = edges.start[edges.following]
            middle, run = (edges.start + end) / 2, end - edges.start
            # The sign of the slope turns over with a reflection, as one coordinate does.
            slant = run[:, 0] * run[:, 1] / max(self.size, 1.0)
            rows.append(np.column_stack([middle, slant, np.full(len(run), index)]))
        for index, bars in enumerate(self.bars, start=len(rows)):
            points = np.column_stack([bars.x, bars.y]) - self.centre
            rows.append(np.column_stack([points, np.sqrt(bars.area), np.full(len(points), -index)]))
        found = np.concatenate(rows)
        slanted = found[:, 3] >= 0
        for axis in (0, 1):
            mirrored = found.copy()
            mirrored[:, axis] *= -1
            mirrored[slanted, 2] *= -1
            step = 1e-7 * self.size
            if not np.array_equal(_sorted_rows(found, step), _sorted_rows(mirrored, step)):
                return False
        return True

    @cached_property
    def size(self) -> float:
        """The larger side of the box around the body, mm."""
        return float(np.ptp(self.vertices, axis=0).max())

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
    turned = body.turn(angle[:, None])
    return turned_resultants(body, turned, centre_strain, curvature).transpose(1, 2, 0)


def turned_resultants(
    body: Body,
    turned: Turned,
    centre_strain: FloatArray,
    curvature: FloatArray,
    sides: SideArray | None = None,
) -> FloatArray:
    """Return N, Mx, My of strain planes of a body that is already turned.

    Args:
        body: the regions and bars.
        turned: the same body turned to directions (A, 1), or (1, D) for planes of one row.
        centre_strain, curvature: the planes, (A, D); see `resultants`.
        sides: where given, the sides (B, A, D) that the concrete which bars displace is held on.

    Returns:
        N (N), Mx, My (N·mm), shape (3, A, D).
    """
    # A uniform strain has no neutral axis; a curvature too small to matter avoids dividing by zero.
    curvature = np.maximum(curvature, 1e-30)
    rows, columns = centre_strain.shape
    height = max(BLOCK // (columns * body.width), 1)
    width = max(BLOCK // body.width, 1)
    if height >= rows and width >= columns:
        return _block(body, turned, centre_strain, curvature, sides)
    # Blocks of planes keep the temporaries in the processor's cache.
    total = np.empty((3, rows, columns))
    for row in range(0, rows, height):
        for column in range(0, columns, width):
            part = slice(row, row + height), slice(column, column + width)
            total[:, part[0], part[1]] = _block(
                body,
                turned.part(*part),
                centre_strain[part],
                curvature[part],
                None if sides is None else sides[:, part[0], part[1]],
            )
    return total


def _block(
    body: Body,
    turned: Turned,
    centre_strain: FloatArray,
    curvature: FloatArray,
    sides: SideArray | None,
) -> FloatArray:
    """Return N, Mx, My, (3, A, D)."""
    cos, sin = turned.cos, turned.sin
    total = np.zeros((3, *centre_strain.shape))
    for index, (region, part) in enumerate(zip(body.regions, body.vertex_parts, strict=True)):
        t, s = turned.t[part], turned.s[part]
        cuts = _Cuts(t, s, body.edges(index).following)
        for piece in region.law.pieces:
            force, mt, ms = _piece(cuts, piece, centre_strain, curvature)
            total[0] += force
            total[1] += mt * sin + ms * cos
            total[2] += mt * cos - ms * sin
    strains = body.bar_strains(turned, centre_strain, curvature)
    for bars, matrix, part in zip(body.bars, body.bar_moments, body.bar_parts, strict=True):
        strain = strains[part]
        stress = bars.law.stress(strain)
        if bars.displaced is not None:
            if sides is None:
                stress -= bars.displaced.stress(strain)
            else:
                stress -= bars.displaced.stress_on(strain, sides[part])
        total += (matrix.T @ stress.reshape(len(stress), -1)).reshape(total.shape)
    return total


class _Cuts:
    """The edges of a region in turned axes: both ends, and s along each as offset + slope · t."""

    def __init__(self, t: FloatArray, s: FloatArray, following: npt.NDArray[np.intp]) -> None:
        self.t1, self.t2 = t, t[following]
        rise = self.t2 - t
        level = rise == 0
        rise[level] = 1.0
        self.slope = s[following] - s
        self.slope /= rise
        self.slope[level] = 0.0
        self.offset = s - self.slope * t


def _sorted_rows(rows: FloatArray, step: float) -> FloatArray:
    """Return rows rounded to a step (off the steps, where equal values part) and sorted."""
    rounded = np.rint(rows / step + 0.137)
    order = np.lexsort(rounded.T)
    return rounded[order]


def _piece(
    cuts: _Cuts, piece: Piece, centre_strain: FloatArray, curvature: FloatArray
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Integrate one piece of a law over the area: N, Mt, Ms, each (A, D)."""
    slope, offset = cuts.slope, cuts.offset
    lower = (piece.lower - centre_strain) / curvature
    a, b = np.maximum(cuts.t1, lower), np.maximum(cuts.t2, lower)
    if piece.upper != np.inf:
        upper = (piece.upper - centre_strain) / curvature
        np.minimum(a, upper, out=a)
        np.minimum(b, upper, out=b)
    match piece:
        case Constant(value=value):
            return _constant(value, a, b, b - a, slope, offset)
        case Power():
            upper = (piece.upper - centre_strain) / curvature
            span = (piece.upper - piece.lower) / curvature
            return _power(piece, a, b, upper, span, slope, offset)
        case Smooth():
            return _smooth(piece, a, b, slope, offset, centre_strain, curvature)


def _smooth(
    piece: Smooth,
    a: FloatArray,
    b: FloatArray,
    slope: FloatArray,
    offset: FloatArray,
    centre_strain: FloatArray,
    curvature: FloatArray,
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Integrate a smooth stress by Gauss points along each cut of an edge."""
    length = b - a
    force = mt = ms = np.zeros(centre_strain.shape)
    # s² and t·s add two degrees to the law's own.
    nodes, weights = np.polynomial.legendre.leggauss((piece.degree + 2) // 2 + 1)
    for node, weight in zip((nodes + 1) / 2, weights / 2, strict=True):
        t = a + node * length
        s = slope * t + offset
        strain = np.clip(t * curvature + centre_strain, piece.lower, piece.upper)
        weighted = piece.stress(strain) * length * (-weight)
        force = force + (weighted * s).sum(axis=0)
        mt = mt + (weighted * s * t).sum(axis=0)
        ms = ms + (weighted * s * s).sum(axis=0) / 2
    return force, mt, ms


def _power(
    piece: Power,
    a: FloatArray,
    b: FloatArray,
    upper: FloatArray,
    span: FloatArray,
    slope: FloatArray,
    offset: FloatArray,
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Integrate a power of v = (upper - t) / span along the edges, in closed form.

    With w running from 0 to 1 between the ends of a cut, s and t are linear in w, and all that is
    needed is the integrals of v^n, v^n w and v^n w² over t.
    """
    share = 1.0 / span
    va, vb = upper - a, upper - b
    va *= share
    vb *= share
    rise = b - a
    if piece.exponent == 2.0:
        whole, first, second = _square_moments(va, vb)
        for moment in (whole, first, second):
            moment *= rise
    else:
        whole, first, second = _power_moments(va, vb, piece.exponent)
        whole *= span
        first *= whole
        second *= whole
    ds = slope * rise
    sa = slope * a
    sa += offset
    # ∫ s and ∫ s w, of which the others are made: t = a + w (b - a), s = sa + w ds.
    whole *= sa
    whole += ds * first
    first *= sa
    second *= ds
    first += second
    mt = np.einsum("e...,e...->...", a, whole) + np.einsum("e...,e...->...", rise, first)
    ms = np.einsum("e...,e...->...", sa, whole) + np.einsum("e...,e...->...", ds, first)
    return -piece.value * whole.sum(axis=0), -piece.value * mt, -piece.value / 2 * ms


def _square_moments(va: FloatArray, vb: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return the integrals over w of v², v² w and v² w², with v from va to vb as w from 0 to 1."""
    both = va * vb
    va *= va
    vb *= vb
    # va² + va vb + vb² over 3; va² + 2 va vb + 3 vb² over 12; va² + 3 va vb + 6 vb² over 30.
    both += vb
    va += both
    whole = va / 3
    both += vb
    va += both
    first = va / 12
    both += vb
    va += both
    va /= 30
    return whole, first, va


def _power_moments(
    va: FloatArray, vb: FloatArray, n: float
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return the integral of v^n from vb to va and the means under it of w and w².

    w runs from 0 at va to 1 at vb. The means lie between 0 and 1; held there, rounding in the
    quotients of short cuts, whose integral is small, does no harm.
    """
    pa = va * va * va if n == 2.0 else va ** (n + 1)
    pb = vb * vb * vb if n == 2.0 else vb ** (n + 1)
    whole = pa - pb
    whole /= n + 1
    pa *= va
    pb *= vb
    first = pa - pb
    first /= n + 2
    pa *= va
    pb *= vb
    second = pa - pb
    second /= n + 3
    product = va * whole
    # width · whole is never positive; a little less keeps a cut of no length from dividing by it.
    width = vb - va
    divisor = width * whole
    divisor -= 1e-290
    second -= va * (2 * first - product)
    first -= product
    with np.errstate(over="ignore"):
        first /= divisor
        divisor *= width
        second /= np.where(divisor == 0, 1.0, divisor)
    return whole, np.clip(first, 0.0, 1.0, out=first), np.clip(second, 0.0, 1.0, out=second)


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
    square = both * both
    square -= sa * sb
    square *= length
    sa += both
    sa *= a
    sb += both
    sb *= b
    sa += sb
    sa *= length
    both *= length
    return (
        both.sum(axis=0) * (-stress / 2),
        sa.sum(axis=0) * (-stress / 6),
        square.sum(axis=0) * (-stress / 6),
    )
