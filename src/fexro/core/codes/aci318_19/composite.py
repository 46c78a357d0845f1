"""Columns with a structural steel core: ACI 318-19, 6.2.5.2, 6.6.4.4.5, 10.6, 10.7, 20.4, 22.4."""

from __future__ import annotations

from numpy import minimum, sqrt

from fexro.core.provisions import provision
from fexro.core.quantities import (
    Area,
    Force,
    Length,
    Moment,
    Ratio,
    SecondMoment,
    Stiffness,
    Stress,
)

__all__ = [
    "composite_axial",
    "composite_moment",
    "composite_radius",
    "composite_ratio",
    "composite_squash",
    "composite_stiffness",
    "composite_tension",
    "concrete_squash",
    "core_squash",
    "core_yield",
]

LEAST_RATIO, LARGEST_RATIO = 0.01, 0.08  # 10.6.1.2
AXIAL_SHARE = 0.85  # of the strength at zero eccentricity, 22.4.2.1


@provision("20.4", symbol="F_y_o")
def core_yield(F_y: Stress, F_y_max: Stress) -> Stress:
    """Yield strength of structural steel that counts: up to 350 MPa [50 000 psi]."""
    return minimum(F_y, F_y_max)


@provision("22.4.2.2", symbol="C_o")
def concrete_squash(f_c_prime: Stress, A_c: Area) -> Force:
    """Force of a concrete at zero eccentricity, bars and steel deducted."""
    return 0.85 * f_c_prime * A_c


@provision("22.4.2.2", symbol="F_o")
def core_squash(F_y_o: Stress, A_sx: Area) -> Force:
    """Force of structural steel at yield."""
    return F_y_o * A_sx


@provision("22.4.2.2", symbol="P_o")
def composite_squash(C_o_sum: Force, f_y_o: Stress, A_st: Area, F_o_sum: Force) -> Force:
    """Nominal axial strength at zero eccentricity: concretes, bars, structural steel."""
    return C_o_sum + f_y_o * A_st + F_o_sum


@provision("22.4.3.1", symbol="P_nt,max")
def composite_tension(f_y: Stress, A_st: Area, F_o_sum: Force) -> Force:
    """Largest nominal axial tensile strength: bars and structural steel."""
    return f_y * A_st + F_o_sum


@provision("22.4.1.2", symbol="P_n")
def composite_axial(C_c: Force, F_s_sum: Force, F_a_sum: Force) -> Force:
    """Nominal axial strength: concrete, bars and structural steel."""
    return C_c + F_s_sum + F_a_sum


@provision("22.4.1.2", symbol="M_n")
def composite_moment(C_c: Force, e_c: Length, M_s_sum: Moment, M_a_sum: Moment) -> Moment:
    """Nominal moment about the centroid of the gross section, with structural steel."""
    return C_c * e_c + M_s_sum + M_a_sum


@provision("10.6.1.2", symbol="rho")
def composite_ratio(A_st: Area, A_g: Area, A_sx: Area) -> Ratio:
    """Bars inside the ties over the concrete, the structural steel deducted."""
    return A_st / (A_g - A_sx)


@provision("6.2.5.2", symbol="r")
def composite_radius(
    E_c: Stress, I_g: SecondMoment, E_s: Stress, I_sx: SecondMoment, A_g: Area, A_sx: Area
) -> Length:
    """Radius of gyration of a section with a structural steel core."""
    return sqrt((0.2 * E_c * I_g + E_s * I_sx) / (0.2 * E_c * A_g + E_s * A_sx))


@provision("6.6.4.4.5", symbol="(EI)_eff")
def composite_stiffness(
    E_c: Stress, I_g: SecondMoment, beta_d: Ratio, E_s: Stress, I_sx: SecondMoment
) -> Stiffness:
    """Effective stiffness of a section with a structural steel core."""
    return 0.2 * E_c * I_g / (1 + beta_d) + E_s * I_sx
