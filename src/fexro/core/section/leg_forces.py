"""Shear of a wall of several legs shared among them. N, N·mm, mm."""

from __future__ import annotations

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.section.shapes.legs import Legs

__all__ = ["leg_shears"]

LEAST = 1e-9  # of the largest stiffness: what is less resists nothing


def leg_shears(
    legs: Legs, centroid: tuple[float, float], forces: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Return the shear in the plane of each leg, and what legs in their planes do not resist.

    Each leg resists along itself only, as stiff in shear as its area. Where three legs or fewer
    resist, equilibrium alone decides; where more do, a rigid floor moves and turns with them.

    Args:
        legs: of the wall.
        centroid: of the section, about which the torsion acts.
        forces: Vx, Vy, T, (..., 3).

    Returns:
        Shears, positive along each leg, (..., L), and Vx, Vy, T that are left, (..., 3).
    """
    arms = np.array([leg.middle - centroid for leg in legs.legs])
    along = np.array([leg.direction for leg in legs.legs])
    area = np.array([leg.thickness for leg in legs.legs]) * legs.lengths
    size = float(max(legs.lengths))
    turn = (arms[:, 0] * along[:, 1] - arms[:, 1] * along[:, 0]) / size
    directions = np.column_stack([along, turn])  # (L, 3)
    stiffness = (directions.T * area) @ directions
    scaled = np.asarray(forces, float) / [1.0, 1.0, size]
    inverse = np.linalg.pinv(stiffness, rcond=LEAST, hermitian=True)
    shears: FloatArray = (scaled @ inverse) @ directions.T * area
    left = (scaled - shears @ directions) * [1.0, 1.0, size]
    return shears, left
