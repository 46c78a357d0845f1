"""Limits of encased composite columns: EN 1994-1-1, 6.7.1 to 6.7.3."""

from __future__ import annotations

from numpy import maximum

from fexro.core.provisions import provision
from fexro.core.provisions.coefficient import MILLIMETRES, Coefficient
from fexro.core.quantities import Area, Dimension, Force, Length, Moment, Ratio

__all__ = [
    "bar_share",
    "least_flange_cover",
    "plastic_factor",
    "plastic_interaction",
    "plastic_utilisation",
    "side_ratio",
]

COVER = Coefficient(40, MILLIMETRES, Dimension.LENGTH)  # 6.7.5.1(2)
CONTRIBUTION = (0.2, 0.9)  # 6.7.1(4)
CONCRETES, STEELS = (20.0, 50.0), (235.0, 460.0)  # 6.7.1(2), MPa
SLENDERNESS = 2.0  # 6.7.3.1(1)
SIDES = (0.2, 5.0)  # 6.7.3.1(4)
LARGEST_SHARE, LEAST_SHARE = 0.06, 0.003  # 6.7.3.1(3), 6.7.5.2(1)
COUNTED = (0.3, 0.4)  # of the depth and width of the steel, 6.7.3.1(2)


@provision("EN 1994-1-1, 6.7.5.1(2)", symbol="c_min")
def least_flange_cover(b_f: Length) -> Length:
    """Least cover of a flange, by which it does not buckle."""
    return maximum(COVER, b_f / 6)


@provision("EN 1994-1-1, 6.7.3.1(3)", symbol="rho_s")
def bar_share(A_s: Area, A_c: Area) -> Ratio:
    """Longitudinal bars over the concrete."""
    return A_s / A_c


@provision("EN 1994-1-1, 6.7.3.1(4)", symbol="h_b")
def side_ratio(h: Length, b: Length) -> Ratio:
    """Depth over width of the section."""
    return h / b


def plastic_factor(f_y: float) -> float:
    """Return the share of the plastic moment that counts: 0.9 to 355 MPa, 0.8 above (6.7.3.6)."""
    return 0.9 if f_y <= 355 else 0.8


@provision("EN 1994-1-1, 6.7.3.6(1), (6.45)", symbol="U")
def plastic_utilisation(M_Ed: Moment, alpha_M: Ratio, M_pl_N_Rd: Moment) -> Ratio:
    """Moment over the share of the plastic moment at the axial force that counts."""
    return M_Ed / (alpha_M * M_pl_N_Rd)


@provision("EN 1994-1-1, 6.7.3.7(2), (6.47)", symbol="U")
def plastic_interaction(
    M_Edx: Moment, M_pl_Nx_Rd: Moment, M_Edy: Moment, M_pl_Ny_Rd: Moment
) -> Ratio:
    """Sum of both moments over the plastic moments at the axial force."""
    return M_Edx / M_pl_Nx_Rd + M_Edy / M_pl_Ny_Rd


@provision("EN 1994-1-1, 6.7.3.5(1)", symbol="U")
def axial_utilisation(N_Ed: Force, N_b_Rd: Force) -> Ratio:
    """Axial force over that at which the lift buckles."""
    return N_Ed / N_b_Rd
