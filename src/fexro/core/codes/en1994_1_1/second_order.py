"""Composite columns in compression: EN 1994-1-1, 6.7.3.3 to 6.7.3.5."""

from __future__ import annotations

from numpy import maximum, minimum, pi, sqrt

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
    "bow",
    "buckling_phi",
    "buckling_resistance",
    "buckling_share",
    "characteristic_resistance",
    "critical_load",
    "design_moment",
    "effective_modulus",
    "end_moment_factor",
    "moment_growth",
    "relative_slenderness",
    "second_order_stiffness",
    "stiffness",
]


@provision("EN 1994-1-1, 6.7.3.3(4), (6.41)", symbol="E_c,eff")
def effective_modulus(E_cm: Stress, share: Ratio, phi_t: Ratio) -> Stress:
    """Modulus of the concrete under the share of the axial force that lasts."""
    return E_cm / (1 + share * phi_t)


@provision("EN 1994-1-1, 6.7.3.3(3), (6.40)", symbol="(EI)_eff")
def stiffness(
    EI_a: Stiffness, E_s: Stress, I_s: SecondMoment, E_c_eff: Stress, I_c: SecondMoment
) -> Stiffness:
    """Effective stiffness for the relative slenderness."""
    return EI_a + E_s * I_s + 0.6 * E_c_eff * I_c


@provision("EN 1994-1-1, 6.7.3.4(2), (6.42)", symbol="(EI)_eff,II")
def second_order_stiffness(
    EI_a: Stiffness, E_s: Stress, I_s: SecondMoment, E_c_eff: Stress, I_c: SecondMoment
) -> Stiffness:
    """Effective stiffness for second-order moments."""
    return 0.9 * (EI_a + E_s * I_s + 0.5 * E_c_eff * I_c)


@provision("EN 1994-1-1, 6.7.3.3(2)", symbol="N_cr")
def critical_load(EI: Stiffness, l_0: Length) -> Force:
    """Elastic critical load."""
    return pi**2 * EI / l_0**2


@provision("EN 1994-1-1, 6.7.3.3(2)", symbol="N_pl,Rk")
def characteristic_resistance(N_a_k: Force, N_c_k: Force, A_s: Area, f_sk: Stress) -> Force:
    """Plastic resistance by characteristic strengths, of the concrete 0.85."""
    return N_a_k + 0.85 * N_c_k + A_s * f_sk


@provision("EN 1994-1-1, 6.7.3.3(2), (6.39)", symbol="lambda_rel")
def relative_slenderness(N_pl_Rk: Force, N_cr: Force) -> Ratio:
    """Relative slenderness."""
    return sqrt(N_pl_Rk / N_cr)


@provision("EN 1994-1-1, Table 6.5", symbol="e_0")
def bow(L: Length, n_0: Ratio) -> Length:
    """Bow of the lift for its imperfections."""
    return L / n_0


@provision("EN 1994-1-1, Table 6.4", symbol="beta")
def end_moment_factor(r: Ratio) -> Ratio:
    """Factor of end moments, by the smaller over the larger."""
    return maximum(0.66 + 0.44 * r, 0.44)


@provision("EN 1994-1-1, 6.7.3.4(5), (6.43)", symbol="k")
def moment_growth(beta: Ratio, N_Ed: Force, N_cr_eff: Force) -> Ratio:
    """Growth of moments by the bending of the lift."""
    return maximum(beta / (1 - N_Ed / N_cr_eff), 1.0)


@provision("EN 1994-1-1, 6.7.3.4(5)", symbol="M_Ed")
def design_moment(k_1: Ratio, M_0: Moment, k_2: Ratio, N_Ed: Force, e_0: Length) -> Moment:
    """Moment with second-order effects, of the ends and of the bow."""
    return k_1 * M_0 + k_2 * N_Ed * e_0


@provision("EN 1993-1-1, 6.3.1.2(1)", symbol="Phi")
def buckling_phi(alpha: Ratio, lambda_rel: Ratio) -> Ratio:
    """Value from which the reduction by buckling follows."""
    return 0.5 * (1 + alpha * (lambda_rel - 0.2) + lambda_rel**2)


@provision("EN 1993-1-1, 6.3.1.2(1), (6.49)", symbol="chi")
def buckling_share(Phi: Ratio, lambda_rel: Ratio) -> Ratio:
    """Reduction by buckling."""
    return minimum(1 / (Phi + sqrt(maximum(Phi**2 - lambda_rel**2, 0.0))), 1.0)


@provision("EN 1994-1-1, 6.7.3.5(2), (6.44)", symbol="N_b,Rd")
def buckling_resistance(chi: Ratio, N_pl_Rd: Force) -> Force:
    """Axial force at which the lift buckles."""
    return chi * N_pl_Rd
