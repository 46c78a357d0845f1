"""Resistance of encased sections: EN 1994-1-1, 6.7.2 and 6.7.3."""

from __future__ import annotations

from fexro.core.provisions import provision
from fexro.core.quantities import Area, Force, Length, Moment, Ratio, Stress

__all__ = [
    "composite_axial",
    "composite_moment",
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


@provision("EN 1994-1-1, 6.7.2", symbol="N_R")
def composite_axial(N_c: Force, F_s_sum: Force, F_a_sum: Force) -> Force:
    """Axial resistance: concrete, bars and structural steel."""
    return N_c + F_s_sum + F_a_sum


@provision("EN 1994-1-1, 6.7.2", symbol="M_R")
def composite_moment(N_c: Force, e_c: Length, M_s_sum: Moment, M_a_sum: Moment) -> Moment:
    """Moment about the centroid of the gross section, with structural steel."""
    return N_c * e_c + M_s_sum + M_a_sum
