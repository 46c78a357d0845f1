"""Slenderness and second order: EN 1992-1-1, 5.8, in the order of the code."""

from __future__ import annotations

from numpy import clip, maximum, minimum, pi, sqrt

from fexro.core.provisions import provision
from fexro.core.provisions.coefficient import MPA, Coefficient
from fexro.core.quantities import (
    Area,
    Curvature,
    Dimension,
    Force,
    Length,
    Moment,
    Ratio,
    SecondMoment,
    Stiffness,
    Strain,
    Stress,
)

__all__ = [
    "LEAST_END",
    "braced_length",
    "bracing_limit",
    "buckling_load",
    "concrete_share",
    "creep_factor",
    "creep_share",
    "critical_factor",
    "curvature_at_yield",
    "curvature_factor",
    "curvature_moment",
    "effective_creep",
    "effective_depth",
    "end_factor",
    "equivalent_moment",
    "factor_A",
    "factor_B",
    "factor_C",
    "full_stiffness",
    "isolated_sway_length",
    "load_factor",
    "mechanical_ratio",
    "moment_ratio",
    "nominal_curvature",
    "nominal_stiffness_moment",
    "radius_of_gyration",
    "relative_axial",
    "second_order_eccentricity",
    "shape_factor",
    "simplified_share",
    "slenderness_limit",
    "slenderness_ratio",
    "strength_share",
    "sway_magnifier",
]

LEAST_END = 0.1  # 5.8.3.2(3)
F_20, F_200 = (Coefficient(n, MPA, Dimension.STRESS) for n in (20, 200))


@provision("5.8.3.1(1)", symbol="lambda_lim")
def slenderness_limit(A: Ratio, B: Ratio, C: Ratio, n: Ratio) -> Ratio:
    """Slenderness up to which second-order effects may be neglected."""
    return 20 * A * B * C / sqrt(n)


@provision("5.8.3.1(1)", symbol="A")
def factor_A(phi_ef: Ratio) -> Ratio:
    """Effect of creep on the limit."""
    return 1 / (1 + 0.2 * phi_ef)


@provision("5.8.3.1(1)", symbol="B")
def factor_B(omega: Ratio) -> Ratio:
    """Effect of the reinforcement on the limit."""
    return sqrt(1 + 2 * omega)


@provision("5.8.3.1(1)", symbol="C")
def factor_C(r_m: Ratio) -> Ratio:
    """Effect of the shape of the moments on the limit."""
    return 1.7 - r_m


@provision("5.8.3.1(1)", symbol="n")
def relative_axial(N_Ed: Force, A_c: Area, f_cd: Stress) -> Ratio:
    """Axial force over that of the concrete."""
    return N_Ed / (A_c * f_cd)


@provision("5.8.3.1(1)", symbol="omega")
def mechanical_ratio(A_s: Area, f_yd: Stress, A_c: Area, f_cd: Stress) -> Ratio:
    """Strength of the reinforcement over that of the concrete."""
    return A_s * f_yd / (A_c * f_cd)


@provision("5.8.3.1(1)", symbol="r_m")
def moment_ratio(M_01: Moment, M_02: Moment) -> Ratio:
    """Ratio of the end moments, positive in single curvature."""
    return M_01 / M_02


@provision("5.8.3.2(1)", symbol="lambda")
def slenderness_ratio(l_0: Length, i: Length) -> Ratio:
    """Slenderness of a column."""
    return l_0 / i


@provision("5.8.3.2(1)", symbol="i")
def radius_of_gyration(I_c: SecondMoment, A_c: Area) -> Length:
    """Radius of gyration of the gross concrete."""
    return sqrt(I_c / A_c)


@provision("5.8.3.2(3)", symbol="k")
def end_factor(EI_l_columns_sum: Moment, restraint_sum: Moment) -> Ratio:
    """Relative flexibility of an end: columns over what restrains them, no less than 0.1."""
    return maximum(EI_l_columns_sum / restraint_sum, LEAST_END)


@provision("5.8.3.2(3), (5.15)", symbol="l_0")
def braced_length(l: Length, k_1: Ratio, k_2: Ratio) -> Length:  # noqa: E741
    """Effective length of a column held against sway."""
    return 0.5 * l * sqrt((1 + k_1 / (0.45 + k_1)) * (1 + k_2 / (0.45 + k_2)))


@provision("5.8.3.2(3), (5.16)", symbol="l_0")
def isolated_sway_length(l: Length, k_1: Ratio, k_2: Ratio) -> Length:  # noqa: E741
    """Effective length of a column that sways."""
    both = sqrt(1 + 10 * k_1 * k_2 / (k_1 + k_2))
    each = (1 + k_1 / (1 + k_1)) * (1 + k_2 / (1 + k_2))
    return l * maximum(both, each)


@provision("5.8.3.3(1), (5.18)", symbol="F_lim")
def bracing_limit(k_1: Ratio, n_s: Ratio, EI_sum: Stiffness, L: Length) -> Force:
    """Vertical load up to which global second-order effects may be neglected."""
    return k_1 * n_s / (n_s + 1.6) * EI_sum / L**2


@provision("5.8.4(2), (5.19)", symbol="phi_ef")
def effective_creep(phi_inf: Ratio, share: Ratio) -> Ratio:
    """Creep coefficient that goes with the lasting part of the moments."""
    return phi_inf * share


@provision("5.8.4(2)", symbol="share")
def creep_share(M_0Eqp: Moment, M_0Ed: Moment) -> Ratio:
    """Lasting part of the first-order moments."""
    return clip(M_0Eqp / M_0Ed, 0, 1)


@provision("5.8.7.2(2), (5.23)", symbol="k_1")
def strength_share(f_ck: Stress) -> Ratio:
    """Effect of the strength on the stiffness of the concrete."""
    return sqrt(f_ck / F_20)


@provision("5.8.7.2(2), (5.24)", symbol="k_2")
def load_factor(n: Ratio, lam: Ratio) -> Ratio:
    """Effect of axial force and slenderness on the stiffness of the concrete."""
    return minimum(n * lam / 170, 0.20)


@provision("5.8.7.2(2), (5.22)", symbol="K_c")
def concrete_share(k_1: Ratio, k_2: Ratio, phi_ef: Ratio) -> Ratio:
    """Share of the stiffness of the concrete, the reinforcement counted in full."""
    return k_1 * k_2 / (1 + phi_ef)


@provision("5.8.7.2(3), (5.26)", symbol="K_c")
def simplified_share(phi_ef: Ratio) -> Ratio:
    """Share of the stiffness of the concrete, the reinforcement not counted."""
    return 0.3 / (1 + 0.5 * phi_ef)


@provision("5.8.7.2(1), (5.21)", symbol="EI")
def full_stiffness(
    K_c: Ratio, E_cd: Stress, I_c: SecondMoment, K_s: Ratio, E_s: Stress, I_s: SecondMoment
) -> Stiffness:
    """Nominal stiffness."""
    return K_c * E_cd * I_c + K_s * E_s * I_s


@provision("5.8.7.3(1)", symbol="N_B")
def buckling_load(EI: Stiffness, l_0: Length) -> Force:
    """Buckling load by the nominal stiffness."""
    return pi**2 * EI / l_0**2


@provision("5.8.7.3(2), (5.29)", symbol="beta")
def shape_factor(c_0: Ratio) -> Ratio:
    """Effect of the shape of the first-order moment."""
    return pi**2 / c_0


@provision("5.8.7.3(1), (5.28)", symbol="M_2")
def nominal_stiffness_moment(M_0Ed: Moment, beta: Ratio, N_B: Force, N_Ed: Force) -> Moment:
    """Second-order moment by nominal stiffness."""
    return M_0Ed * beta / (N_B / N_Ed - 1)


@provision("5.8.8.2(1), (5.33)", symbol="M_2")
def curvature_moment(N_Ed: Force, e_2: Length) -> Moment:
    """Second-order moment by nominal curvature."""
    return N_Ed * e_2


@provision("5.8.8.2(2), (5.32)", symbol="M_0e")
def equivalent_moment(M_01: Moment, M_02: Moment) -> Moment:
    """Even moment that stands for differing end moments."""
    return maximum(0.6 * M_02 + 0.4 * M_01, 0.4 * M_02)


@provision("5.8.8.2(3)", symbol="e_2")
def second_order_eccentricity(curvature: Curvature, l_0: Length, c: Ratio) -> Length:
    """Deflection by the nominal curvature."""
    return curvature * l_0**2 / c


@provision("5.8.8.3(1), (5.34)", symbol="curvature_0")
def curvature_at_yield(epsilon_yd: Strain, d: Length) -> Curvature:
    """Curvature at which the bars of both sides yield."""
    return epsilon_yd / (0.45 * d)


@provision("5.8.8.3(1), (5.34)", symbol="curvature")
def nominal_curvature(K_r: Ratio, K_phi: Ratio, curvature_0: Curvature) -> Curvature:
    """Nominal curvature."""
    return K_r * K_phi * curvature_0


@provision("5.8.8.3(2), (5.35)", symbol="d")
def effective_depth(h: Length, i_s: Length) -> Length:
    """Effective depth of bars that are not all on opposite sides."""
    return h / 2 + i_s


@provision("5.8.8.3(3), (5.36)", symbol="K_r")
def curvature_factor(omega: Ratio, n: Ratio) -> Ratio:
    """Reduction of the curvature with the axial force."""
    n_u = 1 + omega
    return clip((n_u - n) / (n_u - 0.4), 0, 1)


@provision("5.8.8.3(4), (5.37)", symbol="K_phi")
def creep_factor(f_ck: Stress, lam: Ratio, phi_ef: Ratio) -> Ratio:
    """Growth of the curvature by creep."""
    beta = 0.35 + f_ck / F_200 - lam / 150
    return maximum(1 + beta * phi_ef, 1)


@provision("H.1.2(1)", symbol="alpha_cr")
def critical_factor(H_Ed: Force, V_Ed: Force, h: Length, delta_H: Length) -> Ratio:
    """Factor of the loads at which the building buckles by sway, from the drift of a storey."""
    return H_Ed / V_Ed * (h / delta_H)


@provision("H.2(1), (H.7)", symbol="m_s")
def sway_magnifier(alpha_cr: Ratio) -> Ratio:
    """Growth of the effects of horizontal actions."""
    return 1 / (1 - 1 / alpha_cr)
