"""Moments about one axis that a section carries over a range of axial forces."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.strength.slices import moments_at
from fexro.core.strength.surface import Strength

__all__ = ["MomentRange", "moment_range", "nominal"]

STEPS = 17  # axial forces that are looked at
SENSES = np.array([[1.0, 0.0], [-1.0, 0.0], [0.0, 1.0], [0.0, -1.0]])


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


def moment_range(strength: Strength, low: float, high: float) -> MomentRange:
    """Return the moments that a section carries about each axis over a range of axial forces.

    Zero where the axial force alone is too much.

    Args:
        strength: of the section.
        low, high: axial forces, N.
    """
    axial = np.linspace(low, high, STEPS if high > low else 1)
    inside = (axial > strength.max_tension) & (axial < strength.max_axial)
    moments = np.zeros((len(SENSES), len(axial)))
    if inside.any():
        some, symmetric = axial[inside], strength.body.symmetry.point
        senses = SENSES[::2] if symmetric else SENSES
        units = [unit for unit in senses for _ in some]
        found = moments_at(strength, np.tile(some, len(senses)), units).reshape(len(senses), -1)
        moments[:, inside] = np.repeat(found, 2, axis=0) if symmetric else found
    return MomentRange(axial, moments)
