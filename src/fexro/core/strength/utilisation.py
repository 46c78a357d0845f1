"""Utilisation of demands: along the ray from the origin, and in moment at constant axial force."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.strength.rays import (
    Aimed,
    Crossings,
    crossings_about,
    crossings_near,
    crossings_of,
    first_crossings,
)
from fexro.core.strength.surface import Solvable, Strength

__all__ = [
    "Utilisation",
    "acting",
    "constant_axial",
    "proportional",
    "proportional_about",
    "proportional_of",
]


@dataclass(frozen=True, eq=False)
class Utilisation:
    """Utilisations of demands (R,) and the surface points that answer them.

    Attributes:
        ratio: 1 on the design surface; not a number where there is no capacity to compare with.
        capacity: design N, Mx, My, (R, 3), N and N·mm.
        angle: direction of the compressed side at capacity, radians.
        fraction: place in the family of limit planes at capacity.
        capped: whether the cap of the axial force governs.
    """

    ratio: FloatArray
    capacity: FloatArray
    angle: FloatArray
    fraction: FloatArray
    capped: BoolArray

    def part(self, part: slice) -> Utilisation:
        """Return the utilisations of some of the demands."""
        return Utilisation(
            self.ratio[part],
            self.capacity[part],
            self.angle[part],
            self.fraction[part],
            self.capped[part],
        )


def proportional(strength: Strength, demands: FloatArray) -> Utilisation:
    """Return the utilisation of demands (R, 3) along the ray from the origin.

    All three components grow together until the design surface, cap included, is met.
    """
    loaded = acting(strength, demands)
    hit = first_crossings(strength, np.zeros((len(loaded), 3)), demands[loaded])
    return _along_ray(demands, loaded, hit, strength.max_axial)


def proportional_of(demands: FloatArray, loaded: IntArray, aimed: Aimed) -> Utilisation:
    """Return the same of demands (R, 3) on several sections, of which those that act are aimed."""
    return _along_ray(demands, loaded, crossings_of(aimed), aimed.strength.max_axial)


def proportional_about(demands: FloatArray, loaded: IntArray, aimed: Aimed) -> Utilisation:
    """Return about the same: on the sheet of the surface that lies near each ray."""
    return _along_ray(demands, loaded, crossings_about(aimed), aimed.strength.max_axial)


def constant_axial(strength: Strength, demands: FloatArray) -> Utilisation:
    """Return the utilisation of demands (R, 3) in moment, holding the axial force.

    Not a number where the axial force alone is beyond the surface; 0 without moment.
    """
    held = _held(strength, demands)
    axial, moments = demands[held] * _AXIAL, demands[held] * _MOMENTS
    hit = first_crossings(strength, axial, moments)
    lowest, highest = strength.axial_limits
    inside = (axial[:, 0] >= lowest) & (axial[:, 0] <= highest)
    # From inside a ray leaves an odd number of times; where it seems otherwise, the surface is so
    # near that the mesh does not tell on which side of it the ray starts.
    doubtful = np.flatnonzero(inside & (np.isinf(hit.distance) | (hit.count % 2 == 0)))
    _close_in_from_origin(strength, axial[doubtful], moments[doubtful], hit, doubtful)
    hit.distance[~inside] = np.inf
    return _in_moment(strength, demands, hit)


_AXIAL, _MOMENTS = np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 1.0])


# Of the largest force of the section: what is less is none.
NEGLIGIBLE = 1e-12


DOUBLINGS, CLOSER, CLOSE = 20, 14, 1e-3


def _close_in_from_origin(
    strength: Strength, axial: FloatArray, moments: FloatArray, hit: Crossings, index: IntArray
) -> None:
    """Find where rays (D, 3) leave the surface by the utilisation of points on them.

    Seen from the origin the surface is met once, so that a point is inside while its utilisation
    along its own ray is less than one. That tells about where; from there the ray is solved.

    Args:
        strength: the section's strength.
        axial, moments: starts and directions of the rays, inside.
        hit: takes the crossings.
        index: of the rays in it, (D,).
    """
    if not len(index):
        return

    def beyond(distance: FloatArray) -> tuple[FloatArray, Crossings]:
        """How far points (D, …) on the rays are outside, as a share of the way there."""
        way = distance.reshape(len(index), -1)
        points = axial[:, None] + moments[:, None] * way[..., None]
        crossings = first_crossings(strength, np.zeros((way.size, 3)), points.reshape(-1, 3))
        return (1 / crossings.distance - 1).reshape(distance.shape), crossings

    # Beyond the largest moment all is outside; inwards from there by halves, as far as it goes.
    reach = 4 * strength.mesh.scale[1:].max() / np.hypot(*moments.T[1:])
    steps = reach[:, None] * 0.5 ** np.arange(DOUBLINGS, -1, -1)
    over, _ = beyond(steps)
    first = (over > 0).argmax(axis=1)
    every = np.arange(len(index))
    high, f_high = steps[every, first], over[every, first]
    low = np.where(first > 0, steps[every, first - 1], 0.0)
    f_low = np.where(first > 0, over[every, first - 1], -1.0)
    kept = np.zeros(len(index))
    for step in range(CLOSER):
        # Illinois, and every third time the middle: where sheets meet there is a jump.
        chord = low - f_low * (high - low) / np.where(f_high == f_low, 1.0, f_high - f_low)
        usable = (chord > low) & (chord < high) & (step % 3 < 2)
        trial = np.where(usable, chord, (low + high) / 2)
        over, _ = beyond(trial)
        above = over > 0
        f_high = np.where(above, over, np.where(kept < 0, f_high / 2, f_high))
        f_low = np.where(above, np.where(kept > 0, f_low / 2, f_low), over)
        high, low = np.where(above, trial, high), np.where(above, low, trial)
        kept = np.where(above, 1.0, -1.0)
        if (high - low <= CLOSE * high).all():
            break
    # From about there on the ray itself; what does not arrive stays on the safe side.
    _, about = beyond(low)
    exact = crossings_near(strength, axial, moments, about)
    near = np.isfinite(exact.distance) & (exact.distance > low / 2) & (exact.distance < 2 * high)
    hit.distance[index] = np.where(near, exact.distance, low)
    for values, found, rough in (
        (hit.angle, exact.angle, about.angle),
        (hit.fraction, exact.fraction, about.fraction),
    ):
        values[index] = np.where(near, found, rough)


def _acts(strength: Solvable, forces: FloatArray) -> BoolArray:
    acts: BoolArray = np.any(np.abs(forces) > NEGLIGIBLE * strength.scale.T, axis=1)
    return acts


def acting(strength: Solvable, demands: FloatArray) -> IntArray:
    """Return which of demands (R, 3) are more than nothing."""
    return np.flatnonzero(_acts(strength, demands))


def _possible(strength: Strength, demands: FloatArray) -> BoolArray:
    within: BoolArray = (demands[:, 0] <= strength.max_axial) & (
        demands[:, 0] >= strength.max_tension
    )
    return within


def _held(strength: Strength, demands: FloatArray) -> IntArray:
    return np.flatnonzero(_possible(strength, demands) & _acts(strength, demands * _MOMENTS))


def _along_ray(
    demands: FloatArray, loaded: IntArray, hit: Crossings, max_axial: float | FloatArray
) -> Utilisation:
    """Conclude from the crossings of rays from the origin through the demands that are not zero."""
    count = len(demands)
    by_surface, by_cap = 1 / hit.distance, demands[loaded, 0] / max_axial
    ratio, angle, fraction = np.zeros(count), np.zeros(count), np.zeros(count)
    capacity, capped = np.zeros((count, 3)), np.zeros(count, dtype=bool)
    ratio[loaded] = np.maximum(by_surface, by_cap)
    # At the end of an uncapped surface both are the same but for rounding.
    capped[loaded] = by_cap > by_surface * (1 + 1e-7)
    angle[loaded], fraction[loaded] = hit.angle, hit.fraction
    capacity[loaded] = demands[loaded] / ratio[loaded][:, None]
    return Utilisation(ratio, capacity, angle, fraction, capped)


def _in_moment(strength: Strength, demands: FloatArray, hit: Crossings) -> Utilisation:
    """Conclude from the crossings of rays in moment at the axial forces that can be held.

    Not a number where the axis itself is outside the surface.
    """
    count, held = len(demands), _held(strength, demands)
    ratio = np.where(_possible(strength, demands), 0.0, np.nan)
    angle, fraction = np.zeros(count), np.zeros(count)
    capacity = np.full((count, 3), np.nan)
    distance = np.where(np.isfinite(hit.distance), hit.distance, np.nan)
    ratio[held] = 1 / distance
    angle[held], fraction[held] = hit.angle, hit.fraction
    capacity[held] = demands[held] * _AXIAL + demands[held] * _MOMENTS * distance[:, None]
    return Utilisation(ratio, capacity, angle, fraction, np.zeros(count, dtype=bool))
