"""Anchorage and laps of bars: EN 1992-1-1, 3.1.6, 8.4 and 8.7."""

from __future__ import annotations

import math
from dataclasses import dataclass

from numpy import clip, log, maximum, minimum, sqrt, where

from fexro.core.codes.en1992_1_1 import materials
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.facts import CrossSection
from fexro.core.provisions import Case, Coefficient, Derivation, provision, select
from fexro.core.provisions.coefficient import MILLIMETRES, MPA
from fexro.core.quantities import Area, Dimension, Length, Ratio, Stress

__all__ = [
    "Alphas",
    "Anchorage",
    "Bond",
    "Lap",
    "Lapped",
    "TransverseSteel",
    "bond",
    "lap",
    "mean_tensile_strength",
]

F_1, F_8, F_10, F_50 = (Coefficient(n, MPA, Dimension.STRESS) for n in (1, 8, 10, 50))
D_32, D_100, D_132, L_200 = (
    Coefficient(n, MILLIMETRES, Dimension.LENGTH) for n in (32, 100, 132, 200)
)
PER_MPA = 0.04  # of transverse pressure, Table 8.2
STRONGEST = 60.0  # MPa, fck up to which bond counts (8.4.2(2))
SMALL_BAR, FEW = 20.0, 25.0  # mm and per cent, below which laps need no steel (8.7.4.1(2))
OUTSIDE = 4.0  # diameters outside a lap in compression (8.7.4.2(1))
WIDE_GAP = (4.0, 50.0)  # diameters and mm, the lesser of which counts (8.7.2(3))
LINKS_IN_LAP = 3  # 9.5.3(4)


@provision("Table 3.1", symbol="f_ctm")
def mean_tensile_strength(f_ck: Stress) -> Stress:
    """Mean tensile strength."""
    return where(
        f_ck <= F_50,
        0.30 * (f_ck / F_1) ** (2 / 3) * F_1,
        2.12 * log(1 + (f_ck + F_8) / F_10) * F_1,
    )


@provision("Table 3.1", symbol="f_ctk,0.05")
def low_tensile_strength(f_ctm: Stress) -> Stress:
    """Tensile strength of which one in twenty is less."""
    return 0.7 * f_ctm


@provision("3.1.6(2)", symbol="f_ctd")
def design_tensile_strength(f_ctk: Stress, gamma_C: Ratio) -> Stress:
    """Design tensile strength; αct is one."""
    return f_ctk / gamma_C


@provision("8.4.2(2)", symbol="eta_1")
def bond_position(condition: Case) -> Ratio:
    """Factor for how bars were cast in; that of vertical bars is good."""
    return select(condition, good=1.0, other=0.7)


@provision("8.4.2(2)", symbol="eta_2")
def bond_size(phi: Length) -> Ratio:
    """Factor for large bars."""
    return where(phi <= D_32, 1.0, (D_132 - phi) / D_100)


@provision("8.4.2(2), (8.2)", symbol="f_bd")
def bond_strength(eta_1: Ratio, eta_2: Ratio, f_ctd: Stress) -> Stress:
    """Design bond strength."""
    return 2.25 * eta_1 * eta_2 * f_ctd


@provision("8.4.3(2), (8.3)", symbol="l_b,rqd")
def basic_length(phi: Length, sigma_sd: Stress, f_bd: Stress) -> Length:
    """Basic anchorage length."""
    return phi / 4 * sigma_sd / f_bd


@provision("Figure 8.3", symbol="c_d")
def anchoring_cover(shape: Case, a: Length, c_1: Length, c: Length) -> Length:
    """Cover that counts for anchorage."""
    return select(shape, straight=minimum(minimum(a / 2, c_1), c), bent=minimum(a / 2, c_1))


@provision("Table 8.2", symbol="alpha_1")
def shape_factor(shape: Case, c_d: Length, phi: Length) -> Ratio:
    """Factor for the shape of the end."""
    return select(shape, straight=1.0, bent=where(c_d > 3 * phi, 0.7, 1.0))


@provision("Table 8.2", symbol="alpha_2")
def cover_factor(shape: Case, c_d: Length, phi: Length) -> Ratio:
    """Factor for the cover."""
    return clip(
        select(shape, straight=1 - 0.15 * (c_d - phi) / phi, bent=1 - 0.15 * (c_d - 3 * phi) / phi),
        0.7,
        1.0,
    )


@provision("Table 8.2", symbol="lambda")
def transverse_share(A_st_sum: Area, A_st_min_sum: Area, A_s: Area) -> Ratio:
    """Transverse steel beyond the least, over the area of a bar."""
    return (A_st_sum - A_st_min_sum) / A_s


@provision("Table 8.2", symbol="alpha_3")
def transverse_factor(K: Ratio, lam: Ratio) -> Ratio:
    """Factor for transverse steel that is not welded on."""
    return clip(1 - K * lam, 0.7, 1.0)


@provision("Table 8.2", symbol="alpha_5")
def pressure_factor(p: Stress) -> Ratio:
    """Factor for transverse pressure."""
    return clip(1 - PER_MPA * p / F_1, 0.7, 1.0)


@provision("8.4.4(1), (8.5)", symbol="alpha_235")
def together(alpha_2: Ratio, alpha_3: Ratio, alpha_5: Ratio) -> Ratio:
    """Product of the factors for cover, transverse steel and pressure."""
    return maximum(alpha_2 * alpha_3 * alpha_5, 0.7)


@provision("8.4.4(1), (8.6)", symbol="l_b,min")
def least_anchorage(loaded: Case, l_b_rqd: Length, phi: Length) -> Length:
    """Least anchorage length."""
    return maximum(
        maximum(select(loaded, tension=0.3 * l_b_rqd, compression=0.6 * l_b_rqd), 10 * phi), D_100
    )


@provision("8.4.4(1), (8.4)", symbol="l_bd")
def anchorage_length(
    alpha_1: Ratio, alpha_235: Ratio, alpha_4: Ratio, l_b_rqd: Length, l_b_min: Length
) -> Length:
    """Design anchorage length."""
    return maximum(alpha_1 * alpha_235 * alpha_4 * l_b_rqd, l_b_min)


@provision("Table 8.3", symbol="alpha_6")
def lapped_share_factor(rho_1: Ratio) -> Ratio:
    """Factor for the share of bars that is lapped at one place, per cent."""
    return clip(sqrt(rho_1 / 25), 1.0, 1.5)


@provision("8.7.3(1), (8.10)", symbol="l_0,1")
def lap_before_least(alpha_1: Ratio, alpha_235: Ratio, alpha_6: Ratio, l_b_rqd: Length) -> Length:
    """Lap length before the least."""
    return alpha_1 * alpha_235 * alpha_6 * l_b_rqd


@provision("8.7.3(1), (8.11)", symbol="l_0,min")
def least_lap(alpha_6: Ratio, l_b_rqd: Length, phi: Length) -> Length:
    """Least lap length."""
    return maximum(maximum(0.3 * alpha_6 * l_b_rqd, 15 * phi), L_200)


@provision("8.7.3(1)", symbol="l_0")
def lap_length(l_0_1: Length, l_0_min: Length) -> Length:
    """Design lap length."""
    return maximum(l_0_1, l_0_min)


@provision("8.7.2(3)", symbol="l_0")
def lap_with_gap(l_0: Length, gap: Length) -> Length:
    """Lap length of bars that stand far apart."""
    return l_0 + gap


@provision("8.7.3(1)", symbol="A_st,min")
def least_transverse_at_laps(A_s: Area, sigma_sd: Stress, f_yd: Stress) -> Area:
    """Transverse steel at laps that does not shorten them."""
    return A_s * sigma_sd / f_yd


@provision("Table 8.2", symbol="A_st,min")
def least_transverse(A_s: Area) -> Area:
    """Transverse steel along the anchorage in beams and columns that does not shorten it."""
    return 0.25 * A_s


@dataclass(frozen=True)
class Lapped:
    """Bars that are anchored or lapped, where they are. Lengths in mm, stresses in MPa.

    Attributes:
        diameter: of a bar.
        stress: σsd in the governing combination.
        spacing, side_cover, cover: clear between bars, to the side and below: a, c1 and c.
        transverse: area of the transverse steel along the length, mm².
        held: K, by where that lies: 0.1 in a bend, 0.05 outside, 0 inside.
        percent: of the bars lapped at one place.
        gap: clear between the bars of a lap.
        link_area: of one leg of the links there, mm².
        pressure: transverse to the bars.
        good: whether bond is: it is of vertical bars.
        bent: whether the end is, rather than straight.
        welded: whether a cross bar is welded on.
        tension: whether the bars are in tension.
    """

    diameter: float
    stress: float
    spacing: float
    side_cover: float
    cover: float
    transverse: float
    held: float
    percent: float
    gap: float = 0.0
    link_area: float = 0.0
    pressure: float = 0.0
    good: bool = True
    bent: bool = False
    welded: bool = False
    tension: bool = True

    @property
    def area(self) -> float:
        """Area of a bar, mm²."""
        return math.pi * self.diameter**2 / 4


@dataclass(frozen=True)
class Bond:
    """Bond strength and what it is made of, MPa."""

    mean_tensile: float
    low_tensile: float
    design_tensile: float
    position: float
    size: float
    strength: float


def bond(
    record: Derivation | None, annex: Annex, f_ck: float, diameter: float, *, good: bool
) -> Bond:
    """Return the bond strength of bars.

    Args:
        record: what is written to.
        annex: nationally determined data.
        f_ck: of the concrete, MPa.
        diameter: of a bar, mm.
        good: whether the conditions of bond are.
    """
    mean = mean_tensile_strength.into(record, min(f_ck, STRONGEST))
    low = low_tensile_strength.into(record, mean)
    design = design_tensile_strength.into(record, low, annex.gamma_c)
    eta_1 = bond_position.into(record, "good" if good else "other")
    eta_2 = bond_size.into(record, diameter)
    strength = bond_strength.into(record, eta_1, eta_2, design)
    return Bond(float(mean), float(low), float(design), float(eta_1), float(eta_2), float(strength))


@dataclass(frozen=True)
class Alphas:
    """Factors of an anchorage or a lap.

    Attributes:
        cover: cd, mm.
        least_transverse, share: ΣAst,min, mm², and λ; nothing in compression.
        shape, by_cover, by_transverse, welded, pressure: α1 to α5.
        together: α2 α3 α5 as it counts.
    """

    cover: float
    least_transverse: float | None
    share: float | None
    shape: float
    by_cover: float
    by_transverse: float
    welded: float
    pressure: float
    together: float


def _alphas(record: Derivation | None, lapped: Lapped, least: float, *, lap: bool) -> Alphas:
    shape, phi = "bent" if lapped.bent else "straight", lapped.diameter
    c_d = anchoring_cover.into(record, shape, lapped.spacing, lapped.side_cover, lapped.cover)
    welded = 0.7 if lapped.welded and not lap else 1.0
    if not lapped.tension:
        return Alphas(float(c_d), None, None, 1.0, 1.0, 1.0, welded, 1.0, 1.0)
    share = transverse_share.into(record, lapped.transverse, least, lapped.area)
    alpha_1 = shape_factor.into(record, shape, c_d, phi)
    alpha_2 = cover_factor.into(record, shape, c_d, phi)
    alpha_3 = transverse_factor.into(record, lapped.held, share)
    alpha_5 = pressure_factor.into(record, lapped.pressure)
    product = together.into(record, alpha_2, alpha_3, alpha_5)
    return Alphas(
        float(c_d),
        float(least),
        float(share),
        float(alpha_1),
        float(alpha_2),
        float(alpha_3),
        welded,
        float(alpha_5),
        float(product),
    )


@dataclass(frozen=True)
class Anchorage:
    """Anchorage of a bar: its factors, least and design length, mm."""

    alphas: Alphas
    least: float
    length: float


@dataclass(frozen=True)
class TransverseSteel:
    """Transverse steel at a lap (8.7.4). Lengths in mm, areas in mm².

    Attributes:
        needed: whether what is there for other reasons does not do.
        total, each_end: along the lap, and in each third at its ends.
        end_length: a third of the lap.
        links: in each of these thirds.
        outside: of laps in compression, within which a link stands beyond each end.
    """

    needed: bool
    total: float | None
    each_end: float | None
    end_length: float
    links: int | None
    outside: float | None


@dataclass(frozen=True)
class Lap:
    """A lap of bars. Lengths in mm.

    Attributes:
        bond: of the bars.
        basic: lb,rqd.
        anchorage: of a bar alone.
        alphas: factors of the lap.
        share: α6.
        before_least, least, length: of the lap.
        with_gap: with what is added where the bars are far apart.
        transverse: steel across it.
        large_bar: whether rules for large bars hold, which are not looked at.
        three_links: whether at least three links are in it.
    """

    bond: Bond
    basic: float
    anchorage: Anchorage
    alphas: Alphas
    share: float
    before_least: float
    least: float
    length: float
    with_gap: float
    transverse: TransverseSteel
    large_bar: bool
    three_links: bool


def lap(
    record: Derivation | None, annex: Annex, cross: CrossSection, lapped: Lapped, spacing: float
) -> Lap:
    """Return the lap and the anchorage of bars.

    Args:
        record: what is written to.
        annex: nationally determined data.
        cross: section and materials.
        lapped: the bars.
        spacing: of the links at the lap, mm.
    """
    phi, area = lapped.diameter, lapped.area
    bonded = bond(record, annex, cross.weakest.strength, phi, good=lapped.good)
    basic = float(basic_length.into(record, phi, lapped.stress, bonded.strength))
    anchored = _alphas(record, lapped, float(least_transverse(area)), lap=False)
    loaded = "tension" if lapped.tension else "compression"
    shortest = least_anchorage.into(record, loaded, basic, phi)
    length = anchorage_length.into(
        record, anchored.shape, anchored.together, anchored.welded, basic, shortest
    )
    f_yd = materials.steel_design_strength(cross.steel.yield_strength, annex.gamma_s)
    least = float(least_transverse_at_laps(area, lapped.stress, f_yd))
    alphas = _alphas(record, lapped, least, lap=True)
    alpha_6 = lapped_share_factor.into(record, lapped.percent)
    raw = lap_before_least.into(record, alphas.shape, alphas.together, alpha_6, basic)
    least_length = least_lap.into(record, alpha_6, basic, phi)
    found = float(lap_length.into(record, raw, least_length))
    wide = lapped.gap > min(WIDE_GAP[0] * phi, WIDE_GAP[1])
    whole = float(lap_with_gap.into(record, found, lapped.gap)) if wide else found
    return Lap(
        bonded,
        basic,
        Anchorage(anchored, float(shortest), float(length)),
        alphas,
        float(alpha_6),
        float(raw),
        float(least_length),
        found,
        whole,
        transverse_steel(lapped, whole),
        phi > annex.large_bar,
        (LINKS_IN_LAP - 1) * spacing <= whole,
    )


def transverse_steel(lapped: Lapped, length: float) -> TransverseSteel:
    """Return the transverse steel that a lap of a length needs (8.7.4).

    One leg of each link counts, in whole links at each end.
    """
    needed = lapped.diameter >= SMALL_BAR and lapped.percent >= FEW
    outside = None if lapped.tension else OUTSIDE * lapped.diameter
    if not needed:
        return TransverseSteel(False, None, None, length / 3, None, outside)
    total = lapped.area
    links = math.ceil(total / 2 / lapped.link_area - 1e-9) if lapped.link_area else None
    return TransverseSteel(True, total, total / 2, length / 3, links, outside)
