"""Section strength: EN 1992-1-1, 5.8.9 and 6.1."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy import maximum

from fexro.core.arrays import FloatArray
from fexro.core.provisions import LookupTable, provision
from fexro.core.provisions.coefficient import MILLIMETRES, Coefficient
from fexro.core.quantities import Area, Dimension, Force, Length, Moment, Ratio, Stress

__all__ = [
    "FULL_DEPTH",
    "LimitPlanesEN",
    "axial_resistance",
    "axial_share",
    "axial_utilisation",
    "biaxial_exponent",
    "biaxial_ratio",
    "least_eccentricity",
    "least_moment",
    "moment_utilisation",
    "resisting_axial",
    "resisting_moment",
    "tension_resistance",
    "tension_utilisation",
]


# The place in the family at which the neutral axis reaches the far edge.
FULL_DEPTH = 0.8
LEAST_ECCENTRICITY = Coefficient(20, MILLIMETRES, Dimension.LENGTH)  # 6.1(4)


@dataclass(frozen=True)
class LimitPlanesEN:
    """Strain planes with their pivots (6.1, Figure 6.1).

    While the neutral axis is inside, the pivot is the limit strain at the extreme compression
    fibre; beyond, it is the peak strain at (1 - peak/limit) of the depth, up to uniform strain.
    """

    peak: float
    limit: float

    def planes(
        self, fraction: FloatArray, lowest: FloatArray, highest: FloatArray
    ) -> tuple[FloatArray, FloatArray]:
        """Return strain at t = 0 and curvature; see `LimitPlanes`."""
        height = highest - lowest
        inside = np.clip(fraction / FULL_DEPTH, 1e-8, 1.0)
        beyond = np.clip((1 - fraction) / (1 - FULL_DEPTH), 0.0, 1.0)
        # Closer depths near the compressed edge, where a little depth means much.
        curvature = self.limit / (height * inside**1.5) * beyond
        within = fraction <= FULL_DEPTH
        fixed = highest - np.where(within, 0.0, (1 - self.peak / self.limit) * height)
        strain = np.where(within, self.limit, self.peak)
        return strain - curvature * fixed, curvature

    def fraction(self, strain: FloatArray, depth: FloatArray, height: FloatArray) -> FloatArray:
        """Return the place in the family with a strain at a depth, mm, of sections of a height."""
        inside = self.limit * depth / (self.limit - strain) / height
        pivot = (1 - self.peak / self.limit) * height
        curvature = (self.peak - strain) / (depth - pivot)
        beyond = 1 - curvature * height / self.limit * (1 - FULL_DEPTH)
        found: FloatArray = np.where(
            inside <= 1.0,
            np.clip(inside, 0.0, 1.0) ** (2 / 3) * FULL_DEPTH,
            np.clip(beyond, FULL_DEPTH, 1.0),
        )
        return found


@provision("5.8.9(4)", symbol="N_Rd")
def axial_resistance(A_c: Area, f_cd: Stress, A_s: Area, f_yd: Stress) -> Force:
    """Axial resistance used by the simplified biaxial expression."""
    return A_c * f_cd + A_s * f_yd


@provision("5.8.9(4)", symbol="n")
def axial_share(N_Ed: Force, N_Rd: Force) -> Ratio:
    """Share of the axial resistance that is used."""
    return N_Ed / N_Rd


# Exponent of the simplified expression for sections that are not round.
biaxial_exponent = LookupTable(
    "5.8.9(4)", "a", (("n", Dimension.RATIO, (0.1, 0.7, 1.0)),), (1.0, 1.5, 2.0)
)


@provision("5.8.9(4), (5.39)", symbol="r")
def biaxial_ratio(M_Edx: Moment, M_Rdx: Moment, M_Edy: Moment, M_Rdy: Moment, a: Ratio) -> Ratio:
    """Sum of the simplified biaxial expression."""
    return (M_Edx / M_Rdx) ** a + (M_Edy / M_Rdy) ** a


@provision("6.1(4)", symbol="e_0")
def least_eccentricity(h: Length) -> Length:
    """Least eccentricity of a compression."""
    return maximum(h / 30, LEAST_ECCENTRICITY)


@provision("6.1(4)", symbol="M_e0")
def least_moment(N_Ed: Force, e_0: Length) -> Moment:
    """Moment of a compression at the least eccentricity."""
    return N_Ed * e_0


@provision("6.1(2)", symbol="N_Rt")
def tension_resistance(f_yd: Stress, A_s: Area) -> Force:
    """Resistance to tension: every bar yields."""
    return f_yd * A_s


@provision("6.1(2)", symbol="N_R")
def resisting_axial(N_c: Force, F_s_sum: Force) -> Force:
    """Axial resistance of the strain plane: concrete and bars."""
    return N_c + F_s_sum


@provision("6.1(2)", symbol="M_R")
def resisting_moment(N_c: Force, e_c: Length, M_s_sum: Moment) -> Moment:
    """Moment resistance of the strain plane about the centroid: concrete and bars."""
    return N_c * e_c + M_s_sum


@provision("6.1", symbol="U")
def axial_utilisation(N_Ed: Force, N_R: Force) -> Ratio:
    """Design over resisting axial force."""
    return N_Ed / N_R


@provision("6.1", symbol="U")
def tension_utilisation(N_Ed: Force, N_Rt: Force) -> Ratio:
    """Design over resisting tension."""
    return -N_Ed / N_Rt


@provision("6.1", symbol="U")
def moment_utilisation(M_Ed: Moment, M_R: Moment) -> Ratio:
    """Design over resisting moment."""
    return M_Ed / M_R
