"""Shear of a wall of several legs shared among them. N, N·mm, mm."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.section.shapes.legs import Legs

__all__ = ["leg_shears"]

LEAST = 1e-9  # of the largest stiffness: what is less resists nothing
MEET = 1e-6  # of the largest stiffness, up to which legs do not resist torsion


def leg_shears(
    legs: Legs, centroid: tuple[float, float], forces: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Return the shear in the plane of each leg, and what legs in their planes do not resist.

    Each leg resists along itself only, as stiff in shear as its area. Where three legs or fewer
    resist, equilibrium alone decides; where more do, a rigid floor moves and turns with them. Legs
    that all meet in one point resist no torsion about it: they balance the shears, and all torsion
    that is left then is told.

    Args:
        legs: of the wall.
        centroid: of the section, about which the torsion acts.
        forces: Vx, Vy, T, (..., 3).

    Returns:
        Shears, positive along each leg, (..., L), and Vx, Vy, T that are left, (..., 3).
    """
    directions, resisting, area, inverse, size = _sharing(legs, centroid)
    scaled = np.asarray(forces, float) / [1.0, 1.0, size]
    shears: FloatArray = (scaled @ inverse) @ resisting.T * area
    left = (scaled - shears @ directions) * [1.0, 1.0, size]
    return shears, left


@lru_cache(maxsize=1024)
def _sharing(
    legs: Legs, centroid: tuple[float, float]
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray, float]:
    """Return what each leg has along x, y and about the centroid, and of that resists, (L, 3).

    And its area, (L,), the inverse of the stiffness, (3, 3), and the length by which moments are
    forces, mm.
    """
    arms = np.array([leg.middle - centroid for leg in legs.legs])
    along = np.array([leg.direction for leg in legs.legs])
    area = np.array([leg.thickness for leg in legs.legs]) * legs.lengths
    size = float(max(legs.lengths))
    turn = (arms[:, 0] * along[:, 1] - arms[:, 1] * along[:, 0]) / size
    directions = np.column_stack([along, turn])
    shares = np.linalg.eigvalsh((directions.T * area) @ directions)
    resisting = directions.copy()
    if shares[0] < MEET * shares[-1]:
        # A solution of least squares would trade shear for torsion that nothing resists.
        resisting[:, 2] = 0.0
    stiffness = (resisting.T * area) @ resisting
    inverse = np.linalg.pinv(stiffness, rcond=LEAST, hermitian=True)
    return directions, resisting, area, inverse, size
