"""Moments about one axis that a section carries over a range of axial forces."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.strength.slices import moments_about, moments_at
from fexro.core.strength.surface import Strength

__all__ = [
    "DepthCurve",
    "MomentCurve",
    "MomentRange",
    "depth_curve",
    "governing_moment",
    "moment_curve",
    "moments_in_sense",
    "nominal",
]

PLANES, LEVELS = 513, 65  # limit planes gone through, and axial forces asked
SENSES = np.array([[1.0, 0.0], [-1.0, 0.0], [0.0, 1.0], [0.0, -1.0]])
COMPRESSED = np.array([math.pi / 2, -math.pi / 2, 0.0, math.pi])  # the side of each sense, radians
ABOUT, LIKELY = 17, 4  # axial forces that are asked about, and moments that are then asked exactly
SMALLEST = 1.0  # N·mm
ASIDE = 1e-6  # share of the moments up to which none is about the other axis


@dataclass(frozen=True, eq=False)
class MomentRange:
    """Moments in the senses +Mx, −Mx, +My, −My over a range of axial forces, N·mm and N.

    Attributes:
        axial: the forces looked at, (A,).
        moments: of each sense at each of them, (4, A).
    """

    axial: FloatArray
    moments: FloatArray

    def largest(self, axis: int) -> float:
        """Return the largest moment about x (0) or y (1), in either sense."""
        return float(self.moments[2 * axis : 2 * axis + 2].max())

    def least(self, axis: int) -> tuple[float, float]:
        """Return the least moment about x (0) or y (1) in each sense."""
        low = self.moments[2 * axis : 2 * axis + 2].min(axis=1)
        return float(low[0]), float(low[1])


def nominal(strength: Strength) -> Strength:
    """Return a strength without resistance factors."""
    return replace(
        strength,
        factor=np.ones_like,
        max_axial=strength.nominal_max_axial,
        max_tension=float(strength.at(np.zeros(1), np.zeros((1, 1))).nominal[0, 0, 0]),
    )


@dataclass(frozen=True, eq=False)
class MomentCurve:
    """The moments about each axis that a section carries over all axial forces, N·mm and N.

    Attributes:
        axial: of each sense +Mx, −Mx, +My, −My, rising, (L,).
        moments: at each of them, (L,).
        low, high: the least and the largest axial force that is carried.
    """

    axial: tuple[FloatArray, ...]
    moments: tuple[FloatArray, ...]
    low: float
    high: float

    def between(self, low: float, high: float) -> MomentRange:
        """Return the moments over a range of axial forces, N; zero where these are too much.

        Straight between the points of the curve, of which there are hundreds.
        """
        inner = [levels[(levels > low) & (levels < high)] for levels in self.axial]
        axial = np.unique(np.concatenate([[low, high], *inner]))
        carried = (axial > self.low) & (axial < self.high)
        moments = np.stack(
            [
                np.where(carried, np.interp(axial, levels, values), 0.0)
                for levels, values in zip(self.axial, self.moments, strict=True)
            ]
        )
        return MomentRange(axial, moments)


def moment_curve(strength: Strength, axes: tuple[int, ...] = (0, 1)) -> MomentCurve:
    """Return the moments that a section carries about each axis over all axial forces.

    Where bending about an axis goes with a neutral axis parallel to it, the limit planes are gone
    through; elsewhere the surface is asked level by level.

    Args:
        strength: of the section.
        axes: about which they are asked, x (0) and y (1); about the other they are no numbers.
    """
    axial, moments = [], []
    for sense, unit in enumerate(SENSES):
        if sense // 2 not in axes:
            axial.append(np.zeros(1))
            moments.append(np.full(1, np.nan))
            continue
        planes = _parallel_planes(strength, sense)
        if planes is None:
            levels = np.linspace(strength.max_tension, strength.max_axial, LEVELS)[1:]
            found = moments_at(strength, levels, [unit] * len(levels))
            planes = (
                np.concatenate([[strength.max_tension], levels]),
                np.concatenate([[0.0], found]),
            )
        axial.append(planes[0])
        moments.append(planes[1])
    return MomentCurve(tuple(axial), tuple(moments), strength.max_tension, strength.max_axial)


def moments_in_sense(strength: Strength, sense: int, axial: FloatArray) -> FloatArray:
    """Return the moments that a section carries in one sense at axial forces.

    Args:
        strength: of the section.
        sense: +Mx (0), −Mx, +My, −My.
        axial: forces, (L,), N.

    Returns:
        Moments, (L,), N·mm; zero where the axial force alone is too much.
    """
    planes = _parallel_planes(strength, sense)
    if planes is None:
        return moments_at(strength, axial, [SENSES[sense]] * len(axial))
    return _between(strength, planes, axial)


def governing_moment(
    strength: Strength,
    axis: int,
    axial: FloatArray,
    moments: FloatArray,
    *,
    strongest: bool = False,
) -> tuple[int, float]:
    """Return which of moments about an axis is nearest to what a section carries, and that, N·mm.

    Args:
        strength: of the section.
        axis: x (0) or y (1).
        axial: forces with the moments, (R,), at least one, N.
        moments: in both senses, (R,), N·mm.
        strongest: whether it is the one that is furthest from it instead.
    """
    senses, sizes = 2 * axis + (moments < 0), np.maximum(np.abs(moments), SMALLEST)
    carried, asked = np.zeros(len(moments)), np.zeros(len(moments), dtype=bool)
    for sense in np.unique(senses):
        rows = np.flatnonzero(senses == sense)
        planes = _parallel_planes(strength, sense)
        if planes is not None:
            carried[rows] = _between(strength, planes, axial[rows])
            continue
        # Which governs is found between a few axial forces; of those that are likely then exactly.
        levels = np.linspace(axial[rows].min(), axial[rows].max(), ABOUT)
        about = moments_about(strength, levels, [SENSES[sense]] * ABOUT)
        carried[rows], asked[rows] = np.interp(axial[rows], levels, about), True
    order = np.argsort(carried / sizes, kind="stable")
    likely = order[-LIKELY:] if strongest else order[:LIKELY]
    some = likely[asked[likely]]
    if len(some):
        carried[some] = moments_at(strength, axial[some], list(SENSES[senses[some]]))
    share = carried[likely] / sizes[likely]
    row = int(likely[share.argmax() if strongest else share.argmin()])
    return row, float(carried[row])


def _between(
    strength: Strength, planes: tuple[FloatArray, FloatArray], axial: FloatArray
) -> FloatArray:
    """Return moments at axial forces (L,) between planes; zero where a force alone is too much."""
    carried = (axial > strength.max_tension) & (axial < strength.max_axial)
    return np.where(carried, np.interp(axial, *planes), 0.0)


def _parallel_planes(strength: Strength, sense: int) -> tuple[FloatArray, FloatArray] | None:
    """Return axial forces, rising, and moments of the limit planes parallel to an axis, (P,).

    Nothing where bending in the sense does not go with a neutral axis parallel to its axis.
    """
    points = strength.at(COMPRESSED[[sense]], np.linspace(0.0, 1.0, PLANES)[None])
    rows, unit = (points.nominal * points.factor[..., None])[0], SENSES[sense]
    along, across = rows[:, 1:] @ unit, rows[:, 1:] @ unit[::-1]
    if np.abs(across).max() > ASIDE * np.abs(along).max():
        return None
    order = np.argsort(rows[:, 0], kind="stable")
    return rows[order, 0], along[order]


@dataclass(frozen=True, eq=False)
class DepthCurve:
    """Depths of the neutral axis of a section bent in one sense.

    Attributes:
        axial: rising, (P,), N.
        depths: at each of them, from the extreme compression fibre, (P,), mm.
    """

    axial: FloatArray
    depths: FloatArray

    def at(self, axial: FloatArray) -> FloatArray:
        """Return the depths at axial forces, of the same shape, mm."""
        return np.interp(axial, self.axial, self.depths)


def depth_curve(strength: Strength, sense: int) -> DepthCurve:
    """Return the depths of a neutral axis parallel to x or y over all axial forces.

    Args:
        strength: of the section; what it carries is taken without resistance factors.
        sense: +Mx (0), −Mx, +My, −My.
    """
    points = strength.at(COMPRESSED[[sense]], np.linspace(0.0, 1.0, PLANES)[None, 1:-1])
    _, highest = strength.body.extent(COMPRESSED[[sense]])
    with np.errstate(divide="ignore", invalid="ignore"):
        depths = (highest + points.centre_strain / points.curvature)[0]
    axial = points.nominal[0, :, 0]
    order = np.argsort(axial, kind="stable")
    return DepthCurve(axial[order], depths[order])
