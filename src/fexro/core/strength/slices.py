"""Plane sections of the strength surface, solved on the surface rather than read off a mesh."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from fexro.core.section.outline import FloatArray
from fexro.core.strength.rays import first_crossings
from fexro.core.strength.surface import Points, Strength

__all__ = ["Meridian", "meridian", "meridian_points", "moment_at"]

STEPS = 30


@dataclass(frozen=True, eq=False)
class Meridian:
    """The N–M curve in the plane of a moment direction.

    Attributes:
        angle: direction of the moment, radians from Mx towards My.
        nominal: N and M of the nominal curve, (P, 2), a closed path; M < 0 is the opposite sense.
        design: N and M of the design curve with its cap, (Q, 2), a closed path.
    """

    angle: float
    nominal: FloatArray
    design: FloatArray


def meridian(strength: Strength, angle: float) -> Meridian:
    """Return the N–M curve in the plane of a moment direction.

    Args:
        strength: the section's strength.
        angle: direction of the moment, radians from Mx towards My.
    """
    unit = np.array([np.cos(angle), np.sin(angle)])
    mesh = strength.mesh
    fraction = mesh.fraction[1:-1]
    sides = _through_plane(
        strength, unit, mesh.points.nominal[:, 1:-1], lambda a: np.broadcast_to(fraction, a.shape)
    )
    ends = mesh.points
    low, high = (
        np.array([[ends.nominal[0, k, 0], ends.nominal[0, k, 1:] @ unit, ends.factor[0, k]]])
        for k in (0, -1)
    )
    here, there = (
        np.column_stack([side.nominal[:, 0, 0], side.nominal[:, 0, 1:] @ unit, side.factor[:, 0]])
        for side in sides
    )
    path = np.concatenate([low, here, high, there[::-1], low])
    nominal = path[:, :2]
    return Meridian(angle, nominal, _capped(strength, unit, nominal * path[:, 2:]))


def _capped(strength: Strength, unit: FloatArray, path: FloatArray) -> FloatArray:
    """Cut a closed path (P, 2) of N and M flat at the largest axial force."""
    top = strength.max_axial
    above = path[:, 0] > top
    if not above.any():
        return path
    right, left = moment_at(strength, top, unit), moment_at(strength, top, -unit)
    corners = np.array([[top, right], [top, -left]])
    first = int(above.argmax())
    last = len(above) - int(above[::-1].argmax())
    return np.concatenate([path[:first], corners, path[last:]])


def moment_at(strength: Strength, axial: float, unit: FloatArray) -> float:
    """Return the design moment in a direction (Mx, My), a unit vector, at an axial force (N)."""
    size = strength.mesh.scale[1]
    hit = first_crossings(
        strength,
        np.array([[axial, 0.0, 0.0]]),
        np.array([[0.0, unit[0] * size, unit[1] * size]]),
    )
    distance = float(hit.distance[0])
    return distance * float(size) if np.isfinite(distance) else 0.0


def meridian_points(
    strength: Strength, unit: FloatArray, fraction_at: Callable[[FloatArray], FloatArray]
) -> Points:
    """Return surface points in the plane of a moment direction at marked limit planes.

    Args:
        strength: the section's strength.
        unit: direction (Mx, My) of the moment, a unit vector.
        fraction_at: for directions (…, P) of the compressed side, the places in the family of
            limit planes that are marked, one for each of P marks.

    Returns:
        Surface points (P, 1) on the side that `unit` points to.
    """
    ring = strength.mesh.angle
    marks = fraction_at(ring[:, None])
    marks = fraction_at(np.broadcast_to(ring[:, None], (len(ring), marks.shape[-1])))
    sample = strength.at(ring, marks).nominal
    return _through_plane(strength, unit, sample, fraction_at)[0]


def _through_plane(
    strength: Strength,
    unit: FloatArray,
    sample: FloatArray,
    fraction_at: Callable[[FloatArray], FloatArray],
) -> tuple[Points, Points]:
    """Return the points where rings of moments pass through a plane, on its two sides.

    Args:
        sample: nominal N, Mx, My on the directions of the mesh, (A + 1, P, 3); brackets the points.
    """
    ring = strength.mesh.angle
    count = sample.shape[1]
    offset = _offset(sample, unit)
    ahead, behind = offset[:-1] > 0, offset[1:] > 0
    # With the direction of compression the moment turns the same way: it leaves the plane's left
    # side where `unit` points, and comes back to it on the other side.
    start = np.concatenate([(ahead & ~behind).argmax(axis=0), (~ahead & behind).argmax(axis=0)])
    sense = np.repeat([1.0, -1.0], count)
    column = np.tile(np.arange(count), 2)
    low, high = ring[start], ring[start + 1]
    f_low, f_high = offset[start, column] * sense, offset[start + 1, column] * sense

    def places(angle: FloatArray) -> FloatArray:
        return fraction_at(angle.reshape(2, count)).ravel()

    for step in range(STEPS):
        with np.errstate(divide="ignore", invalid="ignore"):
            secant = low - f_low * (high - low) / (f_high - f_low)
        # Regula falsi closes in fast; bisection now and then keeps it from stalling at a kink.
        usable = np.isfinite(secant) & (step % 3 != 2)
        trial = np.where(usable, secant, (low + high) / 2)
        value = _offset(strength.at(trial, places(trial)[:, None]).nominal[:, 0], unit) * sense
        above = value > 0
        low, f_low = np.where(above, trial, low), np.where(above, value, f_low)
        high, f_high = np.where(above, high, trial), np.where(above, f_high, value)
        if np.abs(value).max() < 1e-9 * strength.mesh.scale[1]:
            break
    points = strength.at(trial, places(trial)[:, None])
    return points.part(slice(count)), points.part(slice(count, None))


def _offset(resultant: FloatArray, unit: FloatArray) -> FloatArray:
    """Return how far moments (…, 3) lie to the left of the plane of a direction, N·mm."""
    offset: FloatArray = resultant[..., 2] * unit[0] - resultant[..., 1] * unit[1]
    return offset
