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

from fexro.core.errors import InputError
from fexro.core.section.outline import FloatArray, Outline, convex_hull
from fexro.core.strength.laws import Constant, Law, Piece, PiecewiseLaw, Power, SideArray, Smooth
from fexro.core.strength.symmetry import ROUND, BoolArray, Figure, IntArray, Symmetry, find_symmetry

__all__ = ["BarSet", "Body", "Held", "Region", "Turned", "resultants", "turned_resultants"]

BLOCK = 20_000
TINY = 1e-30  # mm
LONG = 0.1  # of the size of a body


@dataclass(frozen=True, eq=False)
class Region:
    """An area of one material: its outline and its law (negative laws take material away).

    Raises:
        InputError: for an outline that encloses no area.
    """

    outline: Outline
    law: PiecewiseLaw

    def __post_init__(self) -> None:
        """Refuse what has no area."""
        if not 0 < self.outline.area < np.inf:
            found = f"an area of {self.outline.area:g} mm²"
            raise InputError("region", found, "rings that enclose an area, anticlockwise")


@dataclass(frozen=True, eq=False)
class BarSet:
    """Bars (B,) of one law: x, y in mm, area in mm², and the law of the concrete they displace.

    Raises:
        InputError: for a place or an area that is not a finite number, and areas below zero.
    """

    x: FloatArray
    y: FloatArray
    area: FloatArray
    law: Law
    displaced: PiecewiseLaw | None = None

    def __post_init__(self) -> None:
        """Refuse what is no bar."""
        sound = np.isfinite([self.x, self.y, self.area]).all(axis=0) & (self.area >= 0)
        if not sound.all():
            number = int(sound.argmin())
            x, y, area = (float(values[number]) for values in (self.x, self.y, self.area))
            found = f"{area:g} mm² at {x:g}, {y:g} mm"
            raise InputError(f"bar {number + 1}", found, "finite places and areas from 0 mm²")


@dataclass(frozen=True, eq=False)
class Held:
    """The concrete that bars displace, held on one side of each step of its law.

    A law that jumps leaves a step in the resultant where a bar passes the jump. Held on its side,
    the concrete that a bar displaces goes on smoothly.

    Attributes:
        sides: the number of steps passed, for all bars, (B, A, D).
        steady: instead, where no law changes between its steps: N, Mx, My of it, (3, A, D).
    """

    sides: SideArray | None = None
    steady: FloatArray | None = None

    def part(self, rows: slice, columns: slice | IntArray | BoolArray) -> Held:
        """Return it for some of the planes."""
        return Held(
            None if self.sides is None else self.sides[:, rows, columns],
            None if self.steady is None else self.steady[:, rows, columns],
        )


@dataclass(frozen=True, eq=False)
class _Rings:
    """The vertices of a region about the centre, (E, 2), mm, and which one follows each."""

    start: FloatArray
    following: IntArray


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
            self._edges.append(_Rings(start, np.concatenate(following)))

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
    def _outermost(self) -> IntArray:
        """The vertices of the convex hull: no direction has its extremes elsewhere."""
        return convex_hull(self.vertices)

    @cached_property
    def level_directions(self) -> FloatArray:
        """Directions square to a long edge of the convex hull, ascending in 0 … 2π, radians.

        There the extreme fibre passes from one vertex to another far from it.
        """
        hull = self.vertices[self._outermost]
        run = np.roll(hull, -1, axis=0) - hull
        run = run[np.hypot(*run.T) > LONG * self.size]
        return np.sort(np.arctan2(-run[:, 0], run[:, 1]) % (2 * np.pi))

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
        """Return how many steps of the law of its displaced concrete each bar's strain has passed.

        Args:
            strain: strains of all bars, (B, …).
        """
        sides = np.zeros(strain.shape, dtype=np.int8)
        for bars, part in zip(self.bars, self.bar_parts, strict=True):
            if bars.displaced is not None:
                sides[part] = bars.displaced.side(strain[part])
        return sides

    def hold(self, sides: SideArray) -> Held:
        """Return the displaced concrete held on sides (B, A, D)."""
        if not all(bars.displaced is None or bars.displaced.steady for bars in self.bars):
            return Held(sides=sides)
        steady = np.zeros((3, *sides.shape[1:]))
        for bars, matrix, part in zip(self.bars, self.bar_moments, self.bar_parts, strict=True):
            if bars.displaced is not None:
                stress = bars.displaced.levels[sides[part]].reshape(len(matrix), -1)
                steady += (matrix.T @ stress).reshape(steady.shape)
        return Held(steady=steady)

    def extent(self, angle: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return the lowest and highest t of the concrete for each direction (A,), mm."""
        return self.turn(angle).extent

    def directions(self, count: int) -> FloatArray:
        """Return directions (A,) that turn the moment about evenly: closest about the weak axis."""
        axis = self.symmetry.axis
        turn = np.arange(count, dtype=np.float64) * (2 * np.pi / count)
        along = self.vertices @ [np.cos(axis), np.sin(axis)]
        aside = self.vertices @ [-np.sin(axis), np.cos(axis)]
        ratio = along.std() / aside.std()
        if not ROUND < ratio**2 < 1 / ROUND:
            turn = np.mod(np.arctan2(ratio * np.sin(turn), np.cos(turn)), 2 * np.pi)
        directions: FloatArray = axis + turn
        return directions

    @cached_property
    def symmetry(self) -> Symmetry:
        """The turns and reflections about the centre that leave the body alike."""
        place, run, kind = [], [], []
        for index, edges in enumerate(self._edges):
            start = edges.start[:, 0] + 1j * edges.start[:, 1]
            end = start[edges.following]
            place.append((start + end) / 2)
            run.append((end - start) ** 2)
            kind.append(np.full(len(start), float(index)))
        for index, bars in enumerate(self.bars, start=1):
            place.append(bars.x - self.centre[0] + 1j * (bars.y - self.centre[1]))
            run.append(np.zeros(len(bars.x), dtype=np.complex128))
            kind.append(-index - np.round(bars.area, 6) * len(self.bars))
        figure = Figure(*(np.concatenate(parts) for parts in (place, run, kind)))
        return find_symmetry(figure, self.vertices[:, 0] + 1j * self.vertices[:, 1])

    @cached_property
    def size(self) -> float:
        """The larger side of the box around the body, mm."""
        return float(np.ptp(self.vertices, axis=0).max())

    def edges(self, index: int) -> _Rings:
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
    held: Held | None = None,
) -> FloatArray:
    """Return N, Mx, My of strain planes of a body that is already turned.

    Args:
        body: the regions and bars.
        turned: the same body turned to directions (A, 1), or (1, D) for planes of one row.
        centre_strain, curvature: the planes, (A, D); see `resultants`.
        held: how the concrete that bars displace is held, if it is.

    Returns:
        N (N), Mx, My (N·mm), shape (3, A, D).
    """
    # A uniform strain has no neutral axis; a curvature too small to matter avoids dividing by zero.
    curvature = np.maximum(curvature, 1e-30)
    rows, columns = centre_strain.shape
    height = max(BLOCK // max(columns * body.width, 1), 1)
    width = max(BLOCK // body.width, 1)
    if height >= rows and width >= columns:
        return _block(body, turned, centre_strain, curvature, held)
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
                None if held is None else held.part(*part),
            )
    return total


def _block(
    body: Body,
    turned: Turned,
    centre_strain: FloatArray,
    curvature: FloatArray,
    held: Held | None,
) -> FloatArray:
    """Return N, Mx, My, (3, A, D)."""
    cos, sin = turned.cos, turned.sin
    total = np.zeros((3, *centre_strain.shape))
    for index, (region, part) in enumerate(zip(body.regions, body.vertex_parts, strict=True)):
        t, s = turned.t[part], turned.s[part]
        edges = _Edges(t, s, body.edges(index).following)
        for piece in region.law.pieces:
            force, mt, ms = _piece(edges, piece, centre_strain, curvature)
            total[0] += force
            total[1] += mt * sin + ms * cos
            total[2] += mt * cos - ms * sin
    strains = body.bar_strains(turned, centre_strain, curvature)
    for bars, matrix, part in zip(body.bars, body.bar_moments, body.bar_parts, strict=True):
        strain = strains[part]
        stress = bars.law.stress(strain)
        if bars.displaced is not None:
            if held is None:
                stress -= bars.displaced.stress(strain)
            elif held.sides is not None:
                stress -= bars.displaced.stress_on(strain, held.sides[part])
        total += (matrix.T @ stress.reshape(len(stress), -1)).reshape(total.shape)
    if held is not None and held.steady is not None:
        total -= held.steady
    return total


class _Edges:
    """The edges of a region in turned axes: t of both ends, and s along each as offset + slope t.

    An edge that is level has no length in t; whatever finite slope it is given comes to nothing.
    """

    def __init__(self, t: FloatArray, s: FloatArray, following: IntArray) -> None:
        self.t1, self.t2 = t, t.take(following, axis=0)
        rise = self.t2 - t
        rise += TINY
        self.slope = s.take(following, axis=0)
        self.slope -= s
        self.slope /= rise
        self.offset = s - self.slope * t


@dataclass(frozen=True, eq=False)
class _Cut:
    """The parts of edges between two levels, (E, A, D): sums and differences over both ends.

    Attributes:
        level: t at one end and at the other, added: twice the middle.
        rise: t at the end less t at the start.
        across, run: the same of s.
    """

    level: FloatArray
    rise: FloatArray
    across: FloatArray
    run: FloatArray

    @classmethod
    def between(cls, edges: _Edges, lower: FloatArray, upper: FloatArray | None) -> _Cut:
        a, b = np.maximum(edges.t1, lower), np.maximum(edges.t2, lower)
        if upper is not None:
            np.minimum(a, upper, out=a)
            np.minimum(b, upper, out=b)
        rise = b - a
        level = np.add(a, b, out=a)
        across = np.multiply(edges.slope, level, out=b)
        across += 2 * edges.offset
        return cls(level, rise, across, edges.slope * rise)

    def moments(self, value: float, along: FloatArray, aside: FloatArray) -> tuple[FloatArray, ...]:
        """Return -∮ σ s dt, -∮ σ t s dt and -∮ σ s²/2 dt.

        With w from -1 to 1 between the ends, t and s are linear in w. Given are the integrals over
        t of 2 s and 2 s w times the share σ / value.
        """
        dot = "e...,e...->..."
        mt = np.einsum(dot, self.level, along) + np.einsum(dot, self.rise, aside)
        ms = np.einsum(dot, self.across, along) + np.einsum(dot, self.run, aside)
        return along.sum(axis=0) * (-value / 2), mt * (-value / 4), ms * (-value / 8)


def _piece(
    edges: _Edges, piece: Piece, centre_strain: FloatArray, curvature: FloatArray
) -> tuple[FloatArray, ...]:
    """Integrate one piece of a law over the area: N, Mt, Ms, each (A, D)."""
    lower = (piece.lower - centre_strain) / curvature
    bounded = piece.upper != np.inf
    upper = (piece.upper - centre_strain) / curvature if bounded else None
    cut = _Cut.between(edges, lower, upper)
    match piece:
        case Constant(value=value):
            along = cut.rise * cut.across
            aside = cut.rise * cut.run
            aside *= 1 / 3
            return cut.moments(value, along, aside)
        case Power():
            assert upper is not None
            span = (piece.upper - piece.lower) / curvature
            moments = _square_moments if piece.exponent == 2.0 else _power_moments
            whole, first, second = moments(cut, upper, span, piece.exponent)
            along = cut.across * whole
            along += cut.run * first
            first *= cut.across
            second *= cut.run
            first += second
            return cut.moments(piece.value, along, first)
        case Smooth():
            return cut.moments(1.0, *_smooth(piece, cut, centre_strain, curvature))


def _smooth(
    piece: Smooth, cut: _Cut, centre_strain: FloatArray, curvature: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Return the integrals over t of 2 σ s and 2 σ s w by Gauss points along each cut."""
    along, aside = np.zeros((2, *cut.level.shape))
    # s² and t·s add two degrees to the law's own.
    nodes, weights = np.polynomial.legendre.leggauss((piece.degree + 2) // 2 + 1)
    for node, weight in zip(nodes, weights / 2, strict=True):
        t = (cut.level + node * cut.rise) / 2
        strain = np.clip(t * curvature + centre_strain, piece.lower, piece.upper)
        weighted = piece.stress(strain) * cut.rise * weight
        weighted *= cut.across + node * cut.run
        along += weighted
        aside += node * weighted
    return along, aside


def _square_moments(
    cut: _Cut, upper: FloatArray, span: FloatArray, _: float
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return the integrals over t of v², v² w and v² w², with v = (upper - t) / span."""
    share = 1.0 / span
    # v is (both - w · fall) / 2.
    both = cut.level * -share
    both += (2 * share) * upper
    fall = cut.rise * share
    first = both * fall
    first *= -2 / 3
    both *= both
    fall *= fall
    # both² + fall² / 3, both² / 3 + fall² / 5: a quarter of either.
    second = fall * (4 / 45)
    fall *= 1 / 3
    both += fall
    second += both / 3
    quarter = cut.rise / 4
    for moment in (both, first, second):
        moment *= quarter
    return both, first, second


def _power_moments(
    cut: _Cut, upper: FloatArray, span: FloatArray, n: float
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return the integrals over t of v^n, v^n w and v^n w², with v = (upper - t) / span.

    With x from 0 at one end, va, to 1 at the other, vb, the means of x and x² under v^n lie between
    0 and 1; held there, rounding in the quotients of short cuts, whose integral is small, does no
    harm.
    """
    va, vb = ((upper - (cut.level + sign * cut.rise) / 2) / span for sign in (-1, 1))
    va, vb = np.maximum(va, 0.0, out=va), np.maximum(vb, 0.0, out=vb)
    pa, pb = va ** (n + 1), vb ** (n + 1)
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
    np.clip(first, 0.0, 1.0, out=first)
    np.clip(second, 0.0, 1.0, out=second)
    whole *= span
    # w is 2 x - 1.
    return whole, whole * (2 * first - 1), whole * (4 * (second - first) + 1)
