"""Which of many demands governs: bounds for all, the exact answer for those that can.

From the mesh a ray is led to a point of the surface itself, close beside it. How far the surface
can rise or fall over the angle between the two is bounded by how steeply it rises anywhere, and by
the steps that bars make where they enter a block. A demand whose upper bound is below the lower
bound of another does not govern; the others are solved, and must lie within their bounds, else all
are.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.strength.rays import points_towards
from fexro.core.strength.surface import Strength
from fexro.core.strength.utilisation import Utilisation, proportional

__all__ = ["Bounds", "Governing", "bounds", "governing"]

FEW = 64  # demands of a group that are solved without asking which can govern
NEAR = 0.05  # radians within which a point tells of a ray
ROUNDING = 1e-7  # of a utilisation, by which solved and bounded may differ


@dataclass(frozen=True, eq=False)
class Bounds:
    """Between what the utilisations of demands lie, (R,)."""

    lower: FloatArray
    upper: FloatArray


@dataclass(frozen=True, eq=False)
class Governing:
    """The demand that governs among some, and its utilisation.

    Attributes:
        demand: its index among them.
        along: its utilisation along the ray, of one demand.
        every: the utilisations of all of them, where they were solved together.
    """

    demand: int
    along: Utilisation
    every: Utilisation | None = None

    @property
    def ratio(self) -> float:
        """The utilisation."""
        return float(self.along.ratio[0])


def bounds(strength: Strength, demands: FloatArray) -> Bounds:
    """Return between what the utilisations of demands (R, 3) along the ray lie."""
    mesh = strength.mesh
    scaled = demands / mesh.scale
    size = np.sqrt((scaled**2).sum(axis=1))
    acting = np.flatnonzero(size > 0)
    lower, upper = np.zeros(len(demands)), np.zeros(len(demands))
    if len(acting):
        distance, aside = points_towards(strength, scaled[acting])
        # Steps of the surface are no larger than all bars together.
        spread = mesh.steepness * aside + strength.body.all_steps / mesh.scale[0] / distance
        share = size[acting] / distance
        near = aside < NEAR
        cap = demands[acting, 0] / strength.max_axial
        lower[acting] = np.maximum(np.where(near, share * np.exp(-spread), 0.0), cap)
        upper[acting] = np.maximum(np.where(near, share * np.exp(spread), np.inf), cap)
    return Bounds(lower, upper)


def governing(strength: Strength, demands: FloatArray, ends: IntArray) -> list[Governing | None]:
    """Return which demand of each group governs; nothing for groups without any.

    Args:
        strength: the section's strength.
        demands: N, Mx, My, (R, 3), group after group.
        ends: where each group ends, (G,).
    """
    starts = np.concatenate([[0], ends[:-1]]).astype(np.intp)
    every = np.arange(len(demands))
    if (ends - starts).max(initial=0) <= FEW:
        return _choose(proportional(strength, demands), every, starts, ends)
    found = bounds(strength, demands)
    filled = np.flatnonzero(ends > starts)
    least = np.maximum.reduceat(found.lower, starts[filled])
    able = np.flatnonzero(found.upper >= np.repeat(least, (ends - starts)[filled]))
    solved = proportional(strength, demands[able])
    inside = (solved.ratio >= found.lower[able] - ROUNDING) & (
        solved.ratio <= found.upper[able] + ROUNDING
    )
    if not inside.all():
        # Where the surface is not as bounded as it seemed, every demand is solved.
        able, solved = every, proportional(strength, demands)
    return _choose(solved, able, starts, ends)


def _choose(
    solved: Utilisation, index: IntArray, starts: IntArray, ends: IntArray
) -> list[Governing | None]:
    """Return the largest of each group among solved demands, whose indices rise."""
    low, high = np.searchsorted(index, starts), np.searchsorted(index, ends)
    chosen: list[Governing | None] = []
    for start, end, first, last in zip(starts, ends, low, high, strict=True):
        if first == last:
            chosen.append(None)
            continue
        worst = first + int(solved.ratio[first:last].argmax())
        along = solved.part(slice(worst, worst + 1))
        every = solved.part(slice(first, last)) if last - first == end - start else None
        chosen.append(Governing(int(index[worst] - start), along, every))
    return chosen
