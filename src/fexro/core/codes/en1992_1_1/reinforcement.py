"""Bars: EN 1992-1-1, 8.2 and 9.5.2."""

from __future__ import annotations

from numpy import maximum

from fexro.core.provisions import provision
from fexro.core.provisions.coefficient import MILLIMETRES, Coefficient
from fexro.core.quantities import Area, Dimension, Force, Length, Ratio, Stress

__all__ = [
    "LEAST_BARS_ROUND",
    "largest_reinforcement",
    "least_clear_spacing",
    "least_reinforcement",
]

LEAST_BARS_ROUND = 4  # 9.5.2(4)
LEAST_SPACING = Coefficient(20, MILLIMETRES, Dimension.LENGTH)  # 8.2(2)


@provision("8.2(2)", symbol="s_min")
def least_clear_spacing(k_1: Ratio, phi: Length, d_g: Length, k_2: Length) -> Length:
    """Least clear distance between bars."""
    return maximum(maximum(k_1 * phi, d_g + k_2), LEAST_SPACING)


@provision("9.5.2(2), (9.12N)", symbol="A_s,min")
def least_reinforcement(k_N: Ratio, N_Ed: Force, f_yd: Stress, k_A: Ratio, A_c: Area) -> Area:
    """Least longitudinal reinforcement."""
    return maximum(k_N * N_Ed / f_yd, k_A * A_c)


@provision("9.5.2(3)", symbol="A_s,max")
def largest_reinforcement(rho_max: Ratio, A_c: Area) -> Area:
    """Largest longitudinal reinforcement outside laps."""
    return rho_max * A_c
