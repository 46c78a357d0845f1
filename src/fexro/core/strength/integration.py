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

from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.strength.body import Body, Held, Resisting, Turned
from fexro.core.strength.laws import Constant, Piece, Power, Smooth

__all__ = ["resultants", "turned_resultants"]

BLOCK = 20_000
CLOSE = 0.05  # of the sum of both ends, up to which they are nearly alike
GAUSS = np.polynomial.legendre.leggauss(5)
TINY = 1e-30  # mm


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
    body: Resisting,
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
                body.part(*part),
                turned.part(*part),
                centre_strain[part],
                curvature[part],
                None if held is None else held.part(*part),
            )
    return total


def _block(
    body: Resisting,
    turned: Turned,
    centre_strain: FloatArray,
    curvature: FloatArray,
    held: Held | None,
) -> FloatArray:
    """Return N, Mx, My, (3, A, D)."""
    cos, sin = turned.cos, turned.sin
    total = np.zeros((3, *centre_strain.shape))
    for region, rings, part in zip(body.regions, body.rings, body.vertex_parts, strict=True):
        t, s = turned.t[part], turned.s[part]
        edges = _Edges(t, s, rings.following)
        for piece in region.law.pieces:
            force, mt, ms = _piece(edges, piece, centre_strain, curvature)
            total[0] += force
            total[1] += mt * sin + ms * cos
            total[2] += mt * cos - ms * sin
    strains = body.bar_strains(turned, centre_strain, curvature)
    for number, (bars, part) in enumerate(zip(body.bars, body.bar_parts, strict=True)):
        strain = strains[part]
        stress = bars.law.stress(strain)
        if bars.displaced is not None:
            if held is None:
                stress -= bars.displaced.stress(strain)
            elif held.sides is not None:
                stress -= bars.displaced.stress_on(strain, held.sides[part])
        total += body.bar_forces(number, stress)
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
            if piece.exponent == 2.0:
                whole, first, second = _square_moments(cut, upper, span)
            else:
                whole, first, second = _power_moments(cut, upper, span, piece.exponent)
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
    cut: _Cut, upper: FloatArray, span: FloatArray
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
    found = whole, whole * (2 * first - 1), whole * (4 * (second - first) + 1)
    # Of ends nearly alike the differences are all rounding: there Gauss points do better.
    close = np.abs(width) < CLOSE * (va + vb)
    if close.any():
        rise, start, change = cut.rise[close], va[close], width[close]
        shares = [np.zeros(len(rise)) for _ in found]
        for node, weight in zip(*GAUSS, strict=True):
            part = rise * (start + change * ((1 + node) / 2)) ** n * (weight / 2)
            for power, share in enumerate(shares):
                share += part * node**power
        for one, share in zip(found, shares, strict=True):
            one[close] = share
    return found
