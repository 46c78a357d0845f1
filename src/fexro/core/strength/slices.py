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

    Each path (P, 2) of N and M runs from pure tension to the top: to full compression where it is
    nominal, to the cap where it is the design curve. M is negative on the left.

    Attributes:
        angle: direction of the moment, radians from Mx towards My.
        nominal_right, nominal_left: the nominal curve.
        design_right, design_left: the design curve with its cap.
    """

    angle: float
    nominal_right: FloatArray
    nominal_left: FloatArray
    design_right: FloatArray
    design_left: FloatArray

    @property
    def nominal(self) -> FloatArray:
        """The nominal curve as a closed path."""
        return np.concatenate([self.nominal_right, self.nominal_left[::-1]])

    @property
    def design(self) -> FloatArray:
        """The design curve as a closed path."""
        return np.concatenate([self.design_right, self.design_left[::-1]])


def meridian(strength: Strength, angle: float) -> Meridian:
    """Return the N–M curve in the plane of a moment direction.

    Args:
        strength: the section's strength.
        angle: direction of the moment, radians from Mx towards My.
    """
    unit = np.array([np.cos(angle), np.sin(angle)])
    mesh = strength.fine_mesh
    fraction = mesh.fraction[1:-1]
    sides = _through_plane(
        strength, unit, mesh.points.nominal[:, 1:-1], lambda a: np.broadcast_to(fraction, a.shape)
    )
    low, high = (_end(strength, unit, k) for k in (0, -1))
    nominal, design = [], []
    for side, sense in zip(sides, (1.0, -1.0), strict=True):
        found = np.column_stack(
            [side.nominal[:, 0, 0], side.nominal[:, 0, 1:] @ unit, side.factor[:, 0]]
        )
        path = np.concatenate([low, found, high])
        nominal.append(path[:, :2])
        design.append(_capped(strength, unit, sense, path[:, :2] * path[:, 2:]))
    return Meridian(angle, *nominal, *design)


def _end(strength: Strength, unit: FloatArray, place: int) -> FloatArray:
    """Return N, M and factor of an end of the family, (1, 3), or none off the plane, (0, 3)."""
    ends = strength.fine_mesh.points
    resultant = ends.nominal[0, place]
    if abs(_offset(resultant, unit)) > 1e-9 * strength.mesh.scale[1]:
        return np.empty((0, 3))
    return np.array([[resultant[0], resultant[1:] @ unit, ends.factor[0, place]]])


def _capped(strength: Strength, unit: FloatArray, sense: float, path: FloatArray) -> FloatArray:
    """Cut a path (P, 2) of N and M where it first reaches the largest axial force."""
    top = strength.max_axial
    above = path[:, 0] > top
    if not above.any():
        return path
    corner = np.array([[top, sense * moment_at(strength, top, unit * sense)]])
    return np.concatenate([path[: int(above.argmax())], corner])


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
    strength: Strength,
    unit: FloatArray,
    count: int,
    fraction_at: Callable[[FloatArray], FloatArray],
) -> Points:
    """Return surface points in the plane of a moment direction at marked limit planes.

    Args:
        strength: the section's strength.
        unit: direction (Mx, My) of the moment, a unit vector.
        count: number of marks, P.
        fraction_at: for directions (…, P) of the compressed side, the places in the family of
            limit planes that are marked.

    Returns:
        Surface points (P, 1) on the side that `unit` points to.
    """
    ring = strength.mesh.angle
    marks = fraction_at(np.broadcast_to(ring[:, None], (len(ring), count)))
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
