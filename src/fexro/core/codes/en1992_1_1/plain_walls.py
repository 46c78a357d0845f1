"""Plain and lightly reinforced walls: EN 1992-1-1, 12.3 and 12.6."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

from numpy import maximum, minimum, sqrt, where

from fexro.core.provisions import Case, Coefficient, Derivation, provision, select
from fexro.core.provisions.coefficient import MILLIMETRES
from fexro.core.quantities import Dimension, Force, Length, Ratio, Stress

__all__ = ["SUPPORTS", "PlainWall", "Support", "plain_wall"]

Support = Literal["two edges", "three edges", "four edges", "cantilever"]
SUPPORTS: tuple[Support, ...] = get_args(Support)
ALPHA_PLAIN = {"recommended": 0.8, "UK": 0.6}  # αcc,pl (12.3.1(1))
LARGEST_SLENDERNESS = 86.0  # 12.6.5.1(5)
LEAST_THICKNESS = Coefficient(120, MILLIMETRES, Dimension.LENGTH)  # 12.9.1(1)
MONOLITHIC = 0.85  # 12.6.5.1(3)


@provision("12.3.1(1)", symbol="f_cd,pl")
def plain_strength(alpha_cc_pl: Ratio, f_ck: Stress, gamma_C: Ratio) -> Stress:
    """Design compressive strength of plain concrete."""
    return alpha_cc_pl * f_ck / gamma_C


@provision("Table 12.1", symbol="beta")
def length_factor(support: Case, l_w: Length, b: Length) -> Ratio:
    """Factor of the effective length by the edges that are held."""
    return select(
        support,
        two_edges=1.0,
        three_edges=1 / (1 + (l_w / (3 * b)) ** 2),
        four_edges=where(b >= l_w, 1 / (1 + (l_w / b) ** 2), b / (2 * l_w)),
        cantilever=2.0,
    )


@provision("12.6.5.1(1), (12.9)", symbol="l_0")
def effective_length(beta: Ratio, k: Ratio, l_w: Length) -> Length:
    """Effective length, less where the wall is one with its slabs."""
    return k * beta * l_w


@provision("12.6.5.1(4)", symbol="lambda")
def slenderness(l_0: Length, h: Length) -> Ratio:
    """Slenderness of a wall."""
    return l_0 / (h / sqrt(12))


@provision("12.6.5.2(1), 5.2(9)", symbol="e_i")
def imperfection(l_0: Length) -> Length:
    """Eccentricity that covers imperfections."""
    return l_0 / 400


@provision("12.6.5.2(1), (12.12)", symbol="e_tot")
def total_eccentricity(e_0: Length, e_i: Length) -> Length:
    """Eccentricity in all."""
    return e_0 + e_i


@provision("12.6.5.2(1), (12.11)", symbol="Phi_0")
def slender_factor(e_tot: Length, h: Length, l_0: Length) -> Ratio:
    """Share of the strength that eccentricity and slenderness leave."""
    return 1.14 * (1 - 2 * e_tot / h) - 0.02 * l_0 / h


@provision("12.6.5.2(1), (12.11)", symbol="Phi_1")
def largest_factor(e_tot: Length, h: Length) -> Ratio:
    """The largest such share."""
    return 1 - 2 * e_tot / h


@provision("12.6.5.2(1)", symbol="Phi")
def buckling_factor(Phi_0: Ratio, Phi_1: Ratio) -> Ratio:
    """The share as it counts."""
    return maximum(minimum(Phi_0, Phi_1), 0)


@provision("12.6.5.2(1), (12.10)", symbol="N_Rd")
def wall_resistance(b: Length, h: Length, f_cd_pl: Stress, Phi: Ratio) -> Force:
    """Axial resistance of a slender plain wall."""
    return b * h * f_cd_pl * Phi


@provision("12.6.1(3), (12.2)", symbol="N_Rd,0")
def section_resistance(f_cd_pl: Stress, b: Length, h: Length, e: Length) -> Force:
    """Axial resistance of the section of a plain wall."""
    return maximum(f_cd_pl * b * h * (1 - 2 * e / h), 0)


@dataclass(frozen=True)
class PlainWall:
    """A plain wall; N, mm, MPa.

    Attributes:
        factor, length: β and l0.
        slenderness: λ.
        strength: fcd,pl.
        imperfection, eccentricity: ei and etot.
        by_formula, largest, buckling: Φ by the formula, at most, and as it counts.
        resistance: NRd.
        of_section: NRd of the section.
        ratio: NEd over the less of them.
    """

    thickness: float
    factor: float
    length: float
    slenderness: float
    strength: float
    imperfection: float
    eccentricity: float
    by_formula: float
    largest: float
    buckling: float
    resistance: float
    of_section: float
    ratio: float

    @property
    def stocky(self) -> bool:
        """Whether it is not too slender."""
        return self.slenderness <= LARGEST_SLENDERNESS

    @property
    def thick(self) -> bool:
        """Whether it is thick enough."""
        return self.thickness >= LEAST_THICKNESS * (1 - 1e-9)


def plain_wall(
    record: Derivation | None,
    size: tuple[float, float, float, float],
    strength: tuple[float, float, float],
    support: Support,
    actions: tuple[float, float],
    *,
    monolithic: bool,
) -> PlainWall:
    """Return a plain wall under an eccentric load.

    Args:
        record: what is written to.
        size: thickness, height, length between held edges, and width of the strip, mm.
        strength: fck, MPa, αcc,pl and γC.
        support: edges that are held.
        actions: NEd and its first-order eccentricity, N and mm.
        monolithic: whether it is one with its slabs.
    """
    (h, height, b, width), (f_ck, alpha, gamma), (axial, e_0) = size, strength, actions
    beta = length_factor.into(record, support, height, b)
    k = MONOLITHIC if monolithic and support != "cantilever" else 1.0
    l_0 = effective_length.into(record, beta, k, height)
    lam = slenderness.into(record, l_0, h)
    f_cd = plain_strength.into(record, alpha, f_ck, gamma)
    e_i = imperfection.into(record, l_0)
    e = total_eccentricity.into(record, e_0, e_i)
    by_formula = slender_factor.into(record, e, h, l_0)
    most = largest_factor.into(record, e, h)
    Phi = buckling_factor.into(record, by_formula, most)
    N_Rd = float(wall_resistance.into(record, width, h, f_cd, Phi))
    section = float(section_resistance.into(record, f_cd, width, h, e_0))
    least = min(N_Rd, section)
    return PlainWall(
        *(h, float(k * beta), float(l_0), float(lam), float(f_cd), float(e_i), float(e)),
        *(float(by_formula), float(most), float(Phi), N_Rd, section),
        axial / least if least > 0 else float("inf"),
    )
