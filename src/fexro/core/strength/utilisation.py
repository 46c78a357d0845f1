"""Utilisation of demands: along the ray from the origin, and in moment at constant axial force."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.section.outline import FloatArray
from fexro.core.strength.rays import first_crossings
from fexro.core.strength.surface import Strength

__all__ = ["Utilisation", "constant_axial", "proportional"]


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
    capped: np.typing.NDArray[np.bool_]


def proportional(strength: Strength, demands: FloatArray) -> Utilisation:
    """Return the utilisation of demands (R, 3) along the ray from the origin.

    All three components grow together until the design surface, cap included, is met.
    """
    count = len(demands)
    ratio, angle, fraction = np.zeros(count), np.zeros(count), np.zeros(count)
    capacity, capped = np.zeros((count, 3)), np.zeros(count, dtype=bool)
    loaded = np.flatnonzero((demands != 0).any(axis=1))
    if len(loaded):
        acting = demands[loaded]
        # The factor scales all three components, so that the nominal surface gives the direction.
        hit = first_crossings(strength, np.zeros_like(acting), acting, factored=False)
        factor = strength.at(hit.angle, hit.fraction[:, None]).factor[:, 0]
        by_surface = 1 / (hit.distance * factor)
        by_cap = acting[:, 0] / strength.max_axial
        ratio[loaded] = np.maximum(by_surface, by_cap)
        capped[loaded] = by_cap > by_surface
        angle[loaded], fraction[loaded] = hit.angle, hit.fraction
        with np.errstate(divide="ignore", invalid="ignore"):
            capacity[loaded] = acting / ratio[loaded][:, None]
    return Utilisation(ratio, capacity, angle, fraction, capped)


def constant_axial(strength: Strength, demands: FloatArray) -> Utilisation:
    """Return the utilisation of demands (R, 3) in moment, holding the axial force.

    Not a number where the axial force alone is beyond the surface; 0 without moment.
    """
    count = len(demands)
    angle, fraction = np.zeros(count), np.zeros(count)
    capacity = np.full((count, 3), np.nan)
    axial = demands[:, 0]
    possible = (axial <= strength.max_axial) & (axial >= strength.max_tension)
    bent = (demands[:, 1:] != 0).any(axis=1)
    ratio = np.where(possible, 0.0, np.nan)
    acting = np.flatnonzero(possible & bent)
    if len(acting):
        origin, direction = demands[acting].copy(), demands[acting].copy()
        origin[:, 1:], direction[:, 0] = 0.0, 0.0
        hit = first_crossings(strength, origin, direction, factored=True)
        # An even number of crossings means that the axis itself is outside the surface there.
        reached = np.isfinite(hit.distance) & (hit.count % 2 == 1)
        ratio[acting] = np.where(reached, 1 / hit.distance, np.nan)
        angle[acting], fraction[acting] = hit.angle, hit.fraction
        capacity[acting] = np.where(
            reached[:, None], origin + direction * hit.distance[:, None], np.nan
        )
    return Utilisation(ratio, capacity, angle, fraction, np.zeros(count, dtype=bool))
