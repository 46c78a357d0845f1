"""Section strength: ACI 318-19, 21.2 and 22.2 to 22.4."""

from __future__ import annotations

from numpy import clip, minimum, where

from fexro.core.provisions import Case, provision, select
from fexro.core.quantities import Area, Force, Length, Moment, Ratio, Strain, Stress

__all__ = [
    "CONCRETE_LIMIT_STRAIN",
    "FACTOR_TENSION",
    "PEAK_STRAIN",
    "axial_share",
    "axial_utilisation",
    "block_depth",
    "block_factor",
    "block_stress",
    "cap_utilisation",
    "compression_factor",
    "concrete_force",
    "max_axial_strength",
    "moment_utilisation",
    "nominal_axial",
    "nominal_moment",
    "resistance_factor",
    "squash_yield",
    "strength_at_zero_eccentricity",
    "tension_strength",
    "tension_utilisation",
    "yield_strain",
]

CONCRETE_LIMIT_STRAIN = 0.003  # 22.2.2.1
PEAK_STRAIN = 0.002  # of the parabola under working strains, 22.2.2.3
FACTOR_TENSION = 0.90  # Table 21.2.2, tension-controlled


@provision("21.2.2.1", symbol="epsilon_ty")
def yield_strain(f_y: Stress, E_s: Stress) -> Strain:
    """Strain at which the tension bar yields."""
    return f_y / E_s


@provision("Table 21.2.2", symbol="phi_c")
def compression_factor(transverse: Case) -> Ratio:
    """Resistance factor of a compression-controlled section."""
    return select(transverse, ties=0.65, spiral=0.75)


@provision("21.2.2", symbol="phi")
def resistance_factor(epsilon_t: Strain, epsilon_ty: Strain, phi_c: Ratio) -> Ratio:
    """Resistance factor between compression control (phi_c) and tension control."""
    return phi_c + (FACTOR_TENSION - phi_c) * clip((epsilon_t - epsilon_ty) / 0.003, 0, 1)


@provision("22.2.2.4.1", symbol="sigma_c")
def block_stress(f_c_prime: Stress) -> Stress:
    """Stress of the rectangular block."""
    return 0.85 * f_c_prime


@provision("22.2.2.4.1", symbol="a")
def block_depth(beta_1: Ratio, c: Length) -> Length:
    """Depth of the rectangular block."""
    return beta_1 * c


@provision("22.2.2.4.3", symbol="beta_1")
def block_factor(f_c_prime: Stress, f_1: Stress, f_step: Stress, f_2: Stress) -> Ratio:
    """Ratio of the block's depth to that of the neutral axis."""
    return where(f_c_prime >= f_2, 0.65, clip(0.85 - 0.05 * (f_c_prime - f_1) / f_step, 0.65, 0.85))


@provision("Table 22.4.2.1", symbol="alpha")
def axial_share(transverse: Case) -> Ratio:
    """Largest axial strength over that at zero eccentricity."""
    return select(transverse, ties=0.80, spiral=0.85)


@provision("22.4.2.1", symbol="P_n,max")
def max_axial_strength(alpha: Ratio, P_o: Force) -> Force:
    """Largest nominal axial strength: a share of that at no eccentricity."""
    return alpha * P_o


@provision("22.4.2.1", symbol="f_y_o")
def squash_yield(f_y: Stress, f_y_max: Stress) -> Stress:
    """Yield strength that counts at zero eccentricity: up to 550 MPa [80 000 psi]."""
    return minimum(f_y, f_y_max)


@provision("22.4.2.2", symbol="P_o")
def strength_at_zero_eccentricity(f_c_prime: Stress, A_g: Area, A_st: Area, f_y_o: Stress) -> Force:
    """Nominal axial strength at zero eccentricity."""
    return 0.85 * f_c_prime * (A_g - A_st) + f_y_o * A_st


@provision("22.4.3.1", symbol="P_nt,max")
def tension_strength(f_y: Stress, A_st: Area) -> Force:
    """Largest nominal axial tensile strength."""
    return f_y * A_st


@provision("22.2.2.4.1", symbol="C_c")
def concrete_force(sigma_c: Stress, A_c: Area) -> Force:
    """Force of the concrete: the block's stress over its area."""
    return sigma_c * A_c


@provision("22.4.1.2", symbol="P_n")
def nominal_axial(C_c: Force, F_s_sum: Force) -> Force:
    """Nominal axial strength: concrete and bars."""
    return C_c + F_s_sum


@provision("22.4.1.2", symbol="M_n")
def nominal_moment(C_c: Force, e_c: Length, M_s_sum: Moment) -> Moment:
    """Nominal moment about the centroid of the gross section: concrete and bars."""
    return C_c * e_c + M_s_sum


@provision("10.5.1.1, 22.4.2.1", symbol="U")
def cap_utilisation(P_u: Force, phi_c: Ratio, P_n_max: Force) -> Ratio:
    """Factored over the largest design axial strength."""
    return P_u / (phi_c * P_n_max)


@provision("10.5.1.1, 22.4.3.1", symbol="U")
def tension_utilisation(P_u: Force, phi: Ratio, P_nt_max: Force) -> Ratio:
    """Factored tension over the largest design tensile strength."""
    return -P_u / (phi * P_nt_max)


@provision("10.5.1.1", symbol="U")
def axial_utilisation(P_u: Force, phi: Ratio, P_n: Force) -> Ratio:
    """Factored over design axial strength."""
    return P_u / (phi * P_n)


@provision("10.5.1.1", symbol="U")
def moment_utilisation(M_u: Moment, phi: Ratio, M_n: Moment) -> Ratio:
    """Factored over design moment strength."""
    return M_u / (phi * M_n)
