"""Slenderness and sway: ACI 318-19, 6.2.5, 6.6.3 and 6.6.4, in the order of the code."""

from __future__ import annotations

from numpy import clip, maximum, minimum, pi, sqrt, tan

from fexro.core.provisions import Case, equation, provision, select
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
    "LARGEST_PSI",
    "LARGEST_SWAY_BY_Q",
    "LEAST_PSI",
    "NONSWAY_INDEX",
    "SECOND_ORDER_LIMIT",
    "SWAY_LIMIT",
    "cracked_stiffness",
    "critical_load",
    "end_ratio",
    "equivalent_moment_factor",
    "minimum_moment",
    "moment_ratio",
    "nonsway_chart",
    "nonsway_limit",
    "nonsway_magnifier",
    "radius_of_gyration",
    "second_order_moment",
    "second_order_ratio",
    "slenderness_ratio",
    "stability_index",
    "stiffness_a",
    "stiffness_b",
    "stiffness_c",
    "sustained_share",
    "sway_chart",
    "sway_end_moment",
    "sway_magnifier_by_index",
    "sway_magnifier_by_loads",
    "variable_second_moment",
]

SWAY_LIMIT = 22.0  # 6.2.5.1(a)
SECOND_ORDER_LIMIT = 1.4  # 6.2.5.3
NONSWAY_INDEX = 0.05  # 6.6.4.3(b)
LARGEST_SWAY_BY_Q = 1.5  # 6.6.4.6.2(a)
# The charts reach fixed and pinned ends as limits; their equations are solved close to those.
LEAST_PSI, LARGEST_PSI = 1e-9, 1e9


@provision("6.2.5.1", symbol="L")
def nonsway_limit(m_12: Ratio) -> Ratio:
    """Slenderness up to which it may be neglected in columns braced against sway."""
    return minimum(34 + 12 * m_12, 40)


@provision("6.2.5.1", symbol="m_12")
def moment_ratio(M_1: Moment, M_2: Moment) -> Ratio:
    """Ratio of the end moments by the code's sign: negative in single curvature."""
    return -M_1 / M_2


@provision("6.2.5.2", symbol="r")
def radius_of_gyration(by: Case, I_g: SecondMoment, A_g: Area, h: Length) -> Length:
    """Radius of gyration: exact, or by rule for rectangles and circles."""
    return select(by, exact=sqrt(I_g / A_g), rectangle=0.30 * h, circle=0.25 * h)


@provision("6.2.5.1", symbol="lambda")
def slenderness_ratio(k: Ratio, ell_u: Length, r: Length) -> Ratio:
    """Slenderness of a column."""
    return k * ell_u / r


@provision("6.2.5.3", symbol="M_ratio")
def second_order_ratio(M_c: Moment, M_first: Moment) -> Ratio:
    """Moment with second-order effects over that without."""
    return M_c / M_first


@provision("Table 6.6.3.1.1(a)", symbol="EI")
def cracked_stiffness(kappa: Ratio, E_c: Stress, I_g: SecondMoment) -> Stiffness:
    """Stiffness of a cracked member: a share of that of its gross section."""
    return kappa * E_c * I_g


@provision("Table 6.6.3.1.1(b)", symbol="I")
def variable_second_moment(
    A_st: Area, A_g: Area, M_u: Moment, P_u: Force, h: Length, P_o: Force, I_g: SecondMoment
) -> SecondMoment:
    """Second moment of a column by its load, within 0.35 and 0.875 of that of the section."""
    share = (0.80 + 25 * A_st / A_g) * (1 - M_u / (P_u * h) - 0.5 * P_u / P_o)
    return clip(share, 0.35, 0.875) * I_g


@provision("6.6.4.3(b)", symbol="Q")
def stability_index(P_u_sum: Force, Delta_o: Length, V_us: Force, ell_c: Length) -> Ratio:
    """Stability index of a storey."""
    return P_u_sum * Delta_o / (V_us * ell_c)


@provision("6.6.4.4.2", symbol="P_c")
def critical_load(EI_eff: Stiffness, k: Ratio, ell_u: Length) -> Force:
    """Critical load."""
    return pi**2 * EI_eff / (k * ell_u) ** 2


@provision("R6.2.5.1", symbol="psi")
def end_ratio(EI_ell_columns_sum: Moment, EI_ell_beams_sum: Moment) -> Ratio:
    """Stiffness of the columns over that of the beams at an end."""
    return EI_ell_columns_sum / EI_ell_beams_sum


@equation("R6.2.5.1", symbol="k")
def nonsway_chart(k: Ratio, psi_top: Ratio, psi_bottom: Ratio) -> Ratio:
    """Vanishes for the effective length factor of a column held against sway."""
    return (
        psi_top * psi_bottom / 4 * (pi / k) ** 2
        + (psi_top + psi_bottom) / 2 * (1 - pi / k / tan(pi / k))
        + 2 * tan(pi / (2 * k)) / (pi / k)
        - 1
    )


@equation("R6.2.5.1", symbol="k")
def sway_chart(k: Ratio, psi_top: Ratio, psi_bottom: Ratio) -> Ratio:
    """Vanishes for the effective length factor of a column that sways."""
    return (psi_top * psi_bottom * (pi / k) ** 2 - 36) / (
        6 * (psi_top + psi_bottom)
    ) - pi / k / tan(pi / k)


@provision("6.6.4.4.4(a)", symbol="EI_eff")
def stiffness_a(E_c: Stress, I_g: SecondMoment, beta_d: Ratio) -> Stiffness:
    """Effective stiffness from the gross section."""
    return 0.4 * E_c * I_g / (1 + beta_d)


@provision("6.6.4.4.4(b)", symbol="EI_eff")
def stiffness_b(
    E_c: Stress, I_g: SecondMoment, E_s: Stress, I_se: SecondMoment, beta_d: Ratio
) -> Stiffness:
    """Effective stiffness from concrete and bars."""
    return (0.2 * E_c * I_g + E_s * I_se) / (1 + beta_d)


@provision("6.6.4.4.4(c)", symbol="EI_eff")
def stiffness_c(E_c: Stress, I: SecondMoment, beta_d: Ratio) -> Stiffness:  # noqa: E741
    """Effective stiffness from the second moment that goes with the load."""
    return E_c * I / (1 + beta_d)


@provision("6.6.4.4.4", symbol="beta_dns")
def sustained_share(P_u_lasting: Force, P_u: Force) -> Ratio:
    """Sustained share of the axial force of a combination."""
    return clip(P_u_lasting / P_u, 0, 1)


@provision("6.6.4.5.1", symbol="M_c")
def second_order_moment(delta: Ratio, M_2: Moment) -> Moment:
    """Moment with the effect of the curvature between the ends."""
    return delta * M_2


@provision("6.6.4.5.2", symbol="delta")
def nonsway_magnifier(C_m: Ratio, P_u: Force, P_c: Force) -> Ratio:
    """Growth of the larger end moment by the curvature between the ends."""
    return maximum(C_m / (1 - P_u / (0.75 * P_c)), 1)


@provision("6.6.4.5.3", symbol="C_m")
def equivalent_moment_factor(m_12: Ratio) -> Ratio:
    """Even moment that stands for the end moments, over the larger, without load between them."""
    return 0.6 - 0.4 * m_12


@provision("6.6.4.5.4", symbol="M_2,min")
def minimum_moment(P_u: Force, h: Length, e_0: Length) -> Moment:
    """Least moment about each axis separately."""
    return P_u * (e_0 + 0.03 * h)


@provision("6.6.4.6.2(a)", symbol="delta_s")
def sway_magnifier_by_index(Q: Ratio) -> Ratio:
    """Growth of sway moments by the stability index."""
    return maximum(1 / (1 - Q), 1)


@provision("6.6.4.6.2(b)", symbol="delta_s")
def sway_magnifier_by_loads(P_u_sum: Force, P_c_sum: Force) -> Ratio:
    """Growth of sway moments by the loads of a storey over the critical loads of its columns."""
    return maximum(1 / (1 - P_u_sum / (0.75 * P_c_sum)), 1)


@provision("6.6.4.6.1", symbol="M")
def sway_end_moment(M_ns: Moment, delta_s: Ratio, M_s: Moment) -> Moment:
    """End moment with the growth of what comes with sway."""
    return M_ns + delta_s * M_s
