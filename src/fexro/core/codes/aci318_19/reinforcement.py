"""Limits of longitudinal reinforcement: ACI 318-19, 10.6, 10.7 and 25.2."""

from __future__ import annotations

from numpy import maximum

from fexro.core.provisions import provision
from fexro.core.quantities import Area, Length, Ratio

__all__ = [
    "LARGEST_RATIO",
    "LEAST_BARS_SPIRAL",
    "LEAST_BARS_TIES",
    "LEAST_RATIO",
    "least_clear_spacing",
    "reinforcement_ratio",
]

LEAST_RATIO, LARGEST_RATIO = 0.01, 0.08  # 10.6.1.1
LEAST_BARS_TIES, LEAST_BARS_SPIRAL = 4, 6  # 10.7.3.1


@provision("10.6.1.1", symbol="rho_g")
def reinforcement_ratio(A_st: Area, A_g: Area) -> Ratio:
    """Longitudinal reinforcement over gross area."""
    return A_st / A_g


@provision("25.2.3", symbol="s_min")
def least_clear_spacing(s_0: Length, d_b: Length, d_agg: Length) -> Length:
    """Least clear spacing of longitudinal bars."""
    return maximum(maximum(s_0, 1.5 * d_b), 4 * d_agg / 3)
