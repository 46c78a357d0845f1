"""Resistance of encased sections: EN 1994-1-1, 6.7.2 and 6.7.3."""

from __future__ import annotations

from fexro.core.provisions import provision
from fexro.core.quantities import Area, Force, Ratio, Stress

__all__ = [
    "contribution_ratio",
    "encased_concrete",
    "plastic_resistance",
    "steel_design_strength",
    "tension_resistance",
]


@provision("EN 1994-1-1, 6.7.3.2(1)", symbol="sigma_cd")
def encased_concrete(f_ck: Stress, gamma_c: Ratio) -> Stress:
    """Design stress of the concrete of an encased section."""
    return 0.85 * f_ck / gamma_c


@provision("EN 1994-1-1, 6.7.3.2(1)", symbol="f_yd,a")
def steel_design_strength(f_y: Stress, gamma_M0: Ratio) -> Stress:
    """Design strength of structural steel."""
    return f_y / gamma_M0


@provision("EN 1994-1-1, 6.7.3.2(1), (6.30)", symbol="N_pl,Rd")
def plastic_resistance(N_a_d: Force, A_c: Area, sigma_cd: Stress, A_s: Area, f_sd: Stress) -> Force:
    """Plastic resistance to axial compression: structural steel, concrete, bars."""
    return N_a_d + A_c * sigma_cd + A_s * f_sd


@provision("EN 1994-1-1, 6.7.3.3(1), (6.38)", symbol="delta")
def contribution_ratio(N_a_d: Force, N_pl_Rd: Force) -> Ratio:
    """Share of the structural steel in the plastic resistance."""
    return N_a_d / N_pl_Rd


@provision("EN 1994-1-1, 6.7.3.2(1)", symbol="N_t,Rd")
def tension_resistance(f_sd: Stress, A_s: Area, N_a_d: Force) -> Force:
    """Resistance to axial tension: bars and structural steel."""
    return f_sd * A_s + N_a_d
