"""The strain plane in equilibrium with a demand, under any laws."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.strength.body import Body
from fexro.core.strength.integration import resultants
from fexro.core.strength.state import StrainPlane

__all__ = ["plane_resultants", "strain_plane"]

STEPS, HALVINGS = 200, 12
TOLERANCE = 1e-8  # of the demand
LARGEST_STRAIN = 0.004  # that one step may add
DIFFERENCE = 1e-7  # of strain
LOST_STRAIN = 0.3  # beyond which no equilibrium is to be found


def strain_plane(body: Body, demand: FloatArray) -> StrainPlane | None:
    """Return the strain plane whose resultant is a demand, or nothing where there is none.

    For laws that do not soften, equilibrium is the lowest point of a convex potential, whose slope
    is the resultant less the demand. Newton's steps are shortened to where that slope no longer
    points along them, which leads to the lowest point from anywhere; without one they run off.

    Args:
        body: regions and bars with their laws, under service or design.
        demand: N, Mx, My, (3,), N and N·mm.
    """
    # Curvatures as strains at the edge and moments as forces there make all three comparable.
    scale = np.array([1.0, 2 / body.size, 2 / body.size])
    target = demand * scale
    size = max(float(np.abs(target).max()), 1.0)

    def slope_at(trial: FloatArray) -> FloatArray:
        slope: FloatArray = plane_resultants(body, (trial * scale)[None])[0] * scale - target
        return slope

    plane = np.zeros(3)
    slope = slope_at(plane)
    for _ in range(STEPS):
        if np.abs(slope).max() < TOLERANCE * size:
            return StrainPlane(*(float(value) for value in plane * scale))
        stiffness = _stiffness(body, plane, scale) * scale[:, None]
        # A trace of stiffness keeps what has wholly yielded or cracked from being singular.
        stiffness += np.eye(3) * max(1e-7 * float(np.trace(stiffness)), 1e-3)
        step = np.linalg.solve(stiffness, -slope)
        step *= min(1.0, LARGEST_STRAIN / float(np.abs(step).max()))
        length, slope = _along_step(slope_at, plane, step)
        plane = plane + step * length
        if np.abs(plane).max() > LOST_STRAIN:
            return None
    return None


def _along_step(
    slope_at: Callable[[FloatArray], FloatArray], plane: FloatArray, step: FloatArray
) -> tuple[float, FloatArray]:
    """Return the share of a step to where the slope along it vanishes, and the slope there."""
    slope = slope_at(plane + step)
    if slope @ step <= 0:
        return 1.0, slope
    low, high = 0.0, 1.0
    share = 1.0
    for _ in range(HALVINGS):
        share = (low + high) / 2
        slope = slope_at(plane + step * share)
        if slope @ step > 0:
            high = share
        else:
            low = share
    return share, slope


def plane_resultants(body: Body, planes: FloatArray) -> FloatArray:
    """Return N, Mx, My (P, 3) of planes (P, 3): centre, curvature towards y, towards x."""
    bend, angle = np.hypot(planes[:, 1], planes[:, 2]), np.arctan2(planes[:, 1], planes[:, 2])
    found: FloatArray = resultants(body, angle, planes[:, :1], bend[:, None])[:, 0]
    return found


def _stiffness(body: Body, plane: FloatArray, lengths: FloatArray) -> FloatArray:
    """Return the change of N, Mx, My with each scaled unknown, (3, 3)."""
    steps = np.eye(3) * DIFFERENCE
    found = plane_resultants(body, np.concatenate([plane + steps, plane - steps]) * lengths)
    change: FloatArray = (found[:3] - found[3:]).T / (2 * DIFFERENCE)
    return change
