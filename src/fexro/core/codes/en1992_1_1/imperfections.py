"""Geometric imperfections: EN 1992-1-1, 5.2."""

from __future__ import annotations

from numpy import clip, sqrt

from fexro.core.provisions import provision
from fexro.core.provisions.coefficient import Coefficient
from fexro.core.quantities import Dimension, Force, Length, Moment, Ratio, Unit

__all__ = [
    "eccentricity",
    "eccentricity_of_braced",
    "height_factor",
    "imperfection_moment",
    "inclination",
    "members_factor",
]

BASIC = 1 / 200  # θ0, the recommended value
ROOT_METRE = Coefficient(1.0, Unit("√m", 1e3**0.5, 3), Dimension.LENGTH**0.5)


@provision("5.2(5)", symbol="alpha_h")
def height_factor(l: Length) -> Ratio:  # noqa: E741
    """Reduction of the inclination with the length."""
    return clip(2 * (ROOT_METRE / sqrt(l)), 2 / 3, 1)


@provision("5.2(5)", symbol="alpha_m")
def members_factor(m: Ratio) -> Ratio:
    """Reduction of the inclination with the number of members."""
    return sqrt(0.5 * (1 + 1 / m))


@provision("5.2(5)", symbol="theta_i")
def inclination(alpha_h: Ratio, alpha_m: Ratio) -> Ratio:
    """Inclination of a member."""
    return BASIC * alpha_h * alpha_m


@provision("5.2(7)", symbol="e_i")
def eccentricity(theta_i: Ratio, l_0: Length) -> Length:
    """Eccentricity that stands for the inclination."""
    return theta_i * l_0 / 2


@provision("5.2(9)", symbol="e_i")
def eccentricity_of_braced(l_0: Length) -> Length:
    """Eccentricity of columns in braced systems, simplified."""
    return l_0 / 400


@provision("5.2(7)", symbol="M_i")
def imperfection_moment(N_Ed: Force, e_i: Length) -> Moment:
    """Moment of the imperfection."""
    return N_Ed * e_i
