"""Shear: EN 1992-1-1, 6.2.2 and 6.2.3."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
from numpy import arcsin, clip, maximum, minimum, sqrt, tan, where

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.codes.en1992_1_1 import materials
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.options import choice, number
from fexro.core.facts import CrossSection
from fexro.core.provisions import Case, Coefficient, Derivation, provision, select
from fexro.core.provisions.coefficient import MILLIMETRES, MPA
from fexro.core.quantities import Area, Dimension, Force, Length, Ratio, Stress, Unit
from fexro.core.section.shear import shear_section
from fexro.core.transverse import Transverse

__all__ = [
    "ConcreteShear",
    "Shear",
    "ShearOptions",
    "ShearWeb",
    "combined_ratio",
    "concrete_shear",
    "shear",
    "shear_web",
]

K_C = Coefficient(0.18, Unit("MPa^(2/3)", 1.0, 2), Dimension.STRESS ** (2 / 3))  # 6.2.2(1)
K_V = Coefficient(0.035, Unit("√MPa", 1.0, 3), Dimension.STRESS**0.5)  # (6.3N)
D_200 = Coefficient(200, MILLIMETRES, Dimension.LENGTH)
F_60, F_200, F_250 = (Coefficient(n, MPA, Dimension.STRESS) for n in (60, 200, 250))
AXIAL_SHARE = 0.15  # k1, 6.2.2(1)
LOW_STRESS = 0.8  # of fywk, 6.2.3(3)
LARGEST_TENSION_RATIO = 0.02
STEEPEST = 1.0  # cot θ
ROUND_WIDTH, ROUND_LINKS = 0.9, 0.85  # of the diameter, and of the links of a circle


@provision("6.2.2(1)", symbol="k")
def size_factor(d: Length) -> Ratio:
    """Factor for the depth of the section."""
    return minimum(1 + sqrt(D_200 / d), 2)


@provision("6.2.2(1)", symbol="rho_l")
def tension_ratio(A_sl: Area, b_w: Length, d: Length) -> Ratio:
    """Bars in tension over the web, as far as they count."""
    return minimum(A_sl / (b_w * d), 0.02)


@provision("6.2.2(1)", symbol="sigma_cp")
def axial_stress(N_Ed: Force, A_c: Area, f_cd: Stress) -> Stress:
    """Stress of the axial force as far as it counts; negative in tension."""
    return minimum(N_Ed / A_c, 0.2 * f_cd)


@provision("6.2.2(1), (6.3N)", symbol="v_min")
def least_stress(k: Ratio, f_ck: Stress) -> Stress:
    """Least shear strength of concrete."""
    return K_V * k**1.5 * sqrt(f_ck)


@provision("6.2.2(1), (6.2.a)", symbol="V_a")
def concrete_by_bars(
    *,
    gamma_C: Ratio,
    k: Ratio,
    rho_l: Ratio,
    f_ck: Stress,
    sigma_cp: Stress,
    b_w: Length,
    d: Length,
) -> Force:
    """Shear resistance without links, by the bars in tension."""
    return (K_C / gamma_C * k * (100 * rho_l * f_ck) ** (1 / 3) + AXIAL_SHARE * sigma_cp) * b_w * d


@provision("6.2.2(1), (6.2.b)", symbol="V_min")
def least_of_concrete(v_min: Stress, sigma_cp: Stress, b_w: Length, d: Length) -> Force:
    """Least shear resistance without links."""
    return (v_min + AXIAL_SHARE * sigma_cp) * b_w * d


@provision("6.2.2(1)", symbol="V_Rd,c")
def concrete_resistance(V_a: Force, V_min: Force) -> Force:
    """Shear resistance without links."""
    return maximum(maximum(V_a, V_min), 0)


@provision("6.2.3(2)", symbol="cot theta")
def chosen_strut(c: Ratio, c_max: Ratio) -> Ratio:
    """Slope of the struts that is chosen, within its limits."""
    return clip(c, STEEPEST, c_max)


@provision("6.2.3(2)", symbol="cot theta")
def best_strut(s_2: Ratio, c_max: Ratio) -> Ratio:
    """Slope of the struts at which links and struts carry as much, within its limits."""
    return clip(sqrt(1 / minimum(s_2, 1) - 1), STEEPEST, c_max)


@provision("6.2.3(3)", symbol="s_2")
def link_share(
    *, A_sw: Area, f_ywd: Stress, b_w: Length, s: Length, alpha_cw: Ratio, nu_1: Ratio, f_cd: Stress
) -> Ratio:
    """Strength of the links over that of the struts: sin² of the best slope."""
    return A_sw * f_ywd / (b_w * s * alpha_cw * nu_1 * f_cd)


@provision("6.2.3(3), (6.6N)", symbol="nu_1")
def strut_factor(f_ck: Stress) -> Ratio:
    """Factor for concrete that is cracked in shear."""
    return 0.6 * (1 - f_ck / F_250)


@provision("6.2.3(3), (6.10N)", symbol="nu_1")
def strut_factor_low(f_ck: Stress, n_1: Ratio, n_2: Ratio) -> Ratio:
    """Factor for concrete that is cracked in shear, with links of low stress."""
    return where(f_ck <= F_60, n_1, maximum(n_2 - f_ck / F_200, 0.5))


@provision("6.2.3(3)", symbol="f_ywd")
def link_strength(stress: Case, f_ywk: Stress, gamma_S: Ratio) -> Stress:
    """Design strength of the links, or the low stress that is kept to."""
    return select(stress, yielding=f_ywk / gamma_S, low=LOW_STRESS * f_ywk)


@provision("6.2.3(3), (6.11N)", symbol="alpha_cw")
def chord_factor(gain: Case, sigma: Stress, f_cd: Stress) -> Ratio:
    """Factor for the stress in the compression chord."""
    n = maximum(sigma / f_cd, 0)
    rising = where(n <= 0.25, 1 + n, where(n <= 0.5, 1.25, 2.5 * (1 - n)))
    level = where(n <= 0.6, 1.0, 2.5 * (1 - n))
    return maximum(select(gain, gain=rising, level=level), 0)


@provision("6.2.3(3), (6.8)", symbol="V_Rd,s")
def link_resistance(A_sw: Area, s: Length, z: Length, f_ywd: Stress, cot_theta: Ratio) -> Force:
    """Shear resistance of the links."""
    return A_sw / s * z * f_ywd * cot_theta


@provision("6.2.3(3), (6.9)", symbol="V_Rd,max")
def strut_resistance(
    alpha_cw: Ratio, b_w: Length, z: Length, nu_1: Ratio, f_cd: Stress, cot_theta: Ratio
) -> Force:
    """Shear resistance of the struts."""
    return alpha_cw * b_w * z * nu_1 * f_cd / (cot_theta + 1 / cot_theta)


@provision("6.2.1(3), 6.2.3(3)", symbol="V_Rd")
def resistance(V_Rd_c: Force, V_Rd_s: Force, V_Rd_max: Force) -> Force:
    """Shear resistance."""
    return maximum(V_Rd_c, minimum(V_Rd_s, V_Rd_max))


@provision("6.2.1", symbol="u")
def shear_ratio(V_Ed: Force, V_Rd: Force) -> Ratio:
    """Shear over its resistance."""
    return V_Ed / V_Rd


@provision("6.2.3(3)", symbol="cot theta")
def flattest_strut(v: Ratio, c_max: Ratio) -> Ratio:
    """Flattest slope of the struts that carry a shear, of its share v of what they carry at 45°."""
    return clip(1 / tan(arcsin(minimum(v, 1)) / 2), STEEPEST, c_max)


@provision("6.2.3(3), (6.8)", symbol="A_sw/s")
def required_links(V_Ed: Force, z: Length, f_ywd: Stress, cot_theta: Ratio) -> Length:
    """Links that are needed, per length."""
    return V_Ed / (z * f_ywd * cot_theta)


@provision("6.2.3(7)", symbol="Delta F_td")
def chord_tension(V_Ed: Force, cot_theta: Ratio) -> Force:
    """Tension that the shear adds to the bars."""
    return 0.5 * V_Ed * cot_theta


@provision("both directions", symbol="u")
def sum_of_squares(u_x: Ratio, u_y: Ratio) -> Ratio:
    """Ratios of both directions as parts of a circle."""
    return u_x**2 + u_y**2


@provision("both directions", symbol="u")
def linear_sum(u_x: Ratio, u_y: Ratio) -> Ratio:
    """Ratios of both directions, added."""
    return u_x + u_y


@dataclass(frozen=True)
class ShearOptions:
    """What may be chosen of shear where the code leaves room.

    Attributes:
        struts: slope at which links and struts carry as much, or given (6.2.3(2)).
        cot_theta: cot θ that is given.
        lever_arm: z over d (6.2.3(1)).
        alpha_cw: whether it rises with the stress of the compression chord (6.2.3(3)).
        nu1: links that yield, or are kept to 0.8 fywk (6.2.3(3)).
        biaxial: how both directions act together; the code has no rule.
    """

    TITLE: ClassVar[str] = "Shear"

    struts: str = choice("Struts in shear", "best slope", "given slope")
    cot_theta: float = number("cot θ given", 1.0, 1.0, 2.5)
    lever_arm: float = number("z over d in shear", 0.9, 0.5, 0.95)
    alpha_cw: str = choice("αcw in shear", "level", "gain")
    nu1: str = choice("ν1 and fywd", "nu", "0.8fywk")
    biaxial: str = choice("Shear in both directions", "squares", "linear")


@dataclass(frozen=True)
class ShearWeb:
    """What of a section resists shear along an axis. Lengths in mm.

    Attributes:
        width, depth, arm: bw, d and z.
        tension_area: Asl, mm².
        link_share: share of the legs that counts.
    """

    width: float
    depth: float
    arm: float
    tension_area: float
    link_share: float = 1.0


def shear_web(cross: CrossSection, axis: int, lever_arm: float = 0.9) -> ShearWeb:
    """Return what resists shear along x (0) or y (1).

    The code has no rule for circles: they are taken as a rectangle of 0.9 of the diameter, as deep
    as the tension half of a ring of bars, of whose links 0.85 counts; and all bars of that half.

    Args:
        cross: section and materials.
        axis: of the force.
        lever_arm: of internal forces, over d.
    """
    section = cross.section
    found = shear_section(section, axis)
    if section.round:
        bars = section.bars
        x, y = section.outline.centroid
        ring = float(np.hypot(bars.x - x, bars.y - y).max())
        depth = found.depth / 2 + 2 * ring / np.pi
        area = bars.total_area / 2
        arm = lever_arm * depth
        return ShearWeb(ROUND_WIDTH * found.width, depth, arm, area, ROUND_LINKS)
    depth = found.effective_depth
    return ShearWeb(found.width, depth, lever_arm * depth, found.tension_area)


@dataclass(frozen=True, eq=False)
class Shear:
    """Shear along an axis in each demand, (D,); N, mm, MPa.

    Attributes:
        web: what resists.
        strength, design_strength: fck and fcd as they count.
        size_factor, ratio_there, tension_ratio: k, and ρl without and with its limit.
        axial, axial_limited: mean stress, and as it counts.
        least_stress: vmin.
        by_bars, least, concrete: VRd,c by either expression, and what counts.
        links_needed: whether concrete alone does not do.
        link_area: Asw.
        strut_factor, link_strength, chord_factor: ν1, fywd, αcw.
        flattest_allowed, strut: the largest cot θ, and that in use.
        links, struts: VRd,s and VRd,max.
        resistance, ratio: VRd, and VEd over it.
        crushed: whether the struts crush even at 45°, where links are needed.
        flattest, required: cot θ that needs the fewest links, and these, mm²/mm; not numbers
            where none are needed or the struts crush.
        chord_tension: that shear adds; not a number where no links are needed.
    """

    web: ShearWeb
    strength: float
    design_strength: float
    size_factor: float
    ratio_there: float
    tension_ratio: float
    axial: FloatArray
    axial_limited: FloatArray
    least_stress: float
    by_bars: FloatArray
    least: FloatArray
    concrete: FloatArray
    links_needed: BoolArray
    link_area: float
    strut_factor: float
    link_strength: float
    chord_factor: FloatArray
    flattest_allowed: FloatArray
    strut: FloatArray
    links: FloatArray
    struts: FloatArray
    resistance: FloatArray
    ratio: FloatArray
    crushed: BoolArray
    flattest: FloatArray
    required: FloatArray
    chord_tension: FloatArray


@dataclass(frozen=True, eq=False)
class ConcreteShear:
    """What concrete resists of a shear without links, of a demand or of each, (D,); N, mm, MPa.

    Attributes:
        design_strength: fcd, with αcc of 1.
        size_factor, tension_ratio: k and ρl.
        axial: σcp as it counts.
        least_stress: vmin.
        by_bars, least, resistance: by the bars in tension, at least, and VRd,c.
    """

    design_strength: float
    size_factor: float
    tension_ratio: float
    axial: FloatArray
    least_stress: float
    by_bars: FloatArray
    least: FloatArray
    resistance: FloatArray


def concrete_shear(
    record: Derivation | None,
    annex: Annex,
    strength: float,
    size: tuple[float, float],
    bars: float,
    axial: tuple[Any, float],
) -> ConcreteShear:
    """Return the shear that concrete resists without links (6.2.2(1)).

    Args:
        record: what is written to, of one demand.
        annex: nationally determined data.
        strength: fck as far as it counts, MPa.
        size: width and effective depth, mm.
        bars: area in tension, mm².
        axial: NEd, N, (D,), and the area that it acts on, mm².
    """
    (b_w, d), (N_Ed, A_c) = size, axial
    # αcc is 1 in shear.
    f_cd = materials.concrete_design_strength.into(record, strength, 1.0, annex.gamma_c)
    k = size_factor.into(record, d)
    rho_l = tension_ratio.into(record, bars, b_w, d)
    sigma_cp = axial_stress.into(record, N_Ed, A_c, f_cd)
    v_min = least_stress.into(record, k, strength)
    V_a = concrete_by_bars.into(
        record,
        gamma_C=annex.gamma_c,
        k=k,
        rho_l=rho_l,
        f_ck=strength,
        sigma_cp=sigma_cp,
        b_w=b_w,
        d=d,
    )
    V_min = least_of_concrete.into(record, v_min, sigma_cp, b_w, d)
    V_Rd_c = concrete_resistance.into(record, V_a, V_min)
    return ConcreteShear(
        *(float(f_cd), float(k), float(rho_l), sigma_cp, float(v_min), V_a, V_min, V_Rd_c)
    )


def shear(
    record: Derivation | None,
    annex: Annex,
    options: ShearOptions,
    cross: CrossSection,
    transverse: Transverse,
    axis: int,
    web: ShearWeb,
    demand: tuple[Any, Any, Any],
) -> Shear:
    """Return the resistance to shear along an axis.

    Args:
        record: what is written to; then the demand is one.
        annex: nationally determined data.
        options: what is chosen.
        cross: section and materials.
        transverse: the links.
        axis: of the force, x (0) or y (1).
        web: what resists.
        demand: NEd, N, VEd without sign, N, and spacing of the links there, mm, each (D,).
    """
    N_Ed, V_Ed, s = demand
    b_w, d, z = web.width, web.depth, web.arm
    A_c, legs = cross.section.outline.area, transverse.leg_area(axis)
    A_sw = web.link_share * legs
    f_ck = min(cross.weakest.strength, annex.shear_strength)
    if record is not None:
        record.given("b_w", b_w, Dimension.LENGTH, "width of the web")
        record.given("d", d, Dimension.LENGTH, "to the centroid of the bars in tension")
        record.given("z", z, Dimension.LENGTH, "arm of internal forces")
        record.given("A_sw", A_sw, Dimension.AREA, "legs along the force")
    concrete = concrete_shear(record, annex, f_ck, (b_w, d), web.tension_area, (N_Ed, A_c))
    f_cd, V_Rd_c = concrete.design_strength, concrete.resistance
    low = options.nu1 == "0.8fywk"
    if low:
        nu_1 = strut_factor_low.into(record, f_ck, *annex.low_stress_struts)
    else:
        nu_1 = strut_factor.into(record, f_ck)
    f_ywd = link_strength.into(
        record, "low" if low else "yielding", transverse.yield_strength, annex.gamma_s
    )
    alpha_cw = chord_factor.into(record, options.alpha_cw, N_Ed / A_c, f_cd)
    flattest: Any = np.where(np.asarray(N_Ed) < 0, annex.flattest_in_tension, annex.flattest_strut)
    if record is not None:
        flattest = float(flattest)
    struts = {"alpha_cw": alpha_cw, "nu_1": nu_1, "f_cd": f_cd}
    if options.struts == "best slope":
        with np.errstate(divide="ignore"):
            share = link_share.into(record, A_sw=A_sw, f_ywd=f_ywd, b_w=b_w, s=s, **struts)
        cot = best_strut.into(record, share, flattest)
    else:
        cot = chosen_strut.into(record, options.cot_theta, flattest)
    V_s = link_resistance.into(record, A_sw, s, z, f_ywd, cot)
    V_max = strut_resistance.into(record, b_w=b_w, z=z, cot_theta=cot, **struts)
    V_Rd = resistance.into(record, V_Rd_c, V_s, V_max)
    with np.errstate(divide="ignore", invalid="ignore"):
        ratio = shear_ratio.into(record, V_Ed, V_Rd)
        needed = np.asarray(V_Ed) > V_Rd_c
        steep = strut_resistance(b_w=b_w, z=z, cot_theta=STEEPEST, **struts)
        crushed = needed & (np.asarray(V_Ed) > steep)
        flat = flattest_strut(V_Ed / steep, flattest)
        sought = needed & ~crushed
        required = required_links(V_Ed, z, f_ywd, flat) / web.link_share
    if record is not None and needed:
        chord_tension.into(record, V_Ed, cot)
    return Shear(
        web,
        f_ck,
        f_cd,
        concrete.size_factor,
        web.tension_area / (b_w * d),
        concrete.tension_ratio,
        N_Ed / A_c,
        concrete.axial,
        concrete.least_stress,
        concrete.by_bars,
        concrete.least,
        V_Rd_c,
        needed,
        legs,
        float(nu_1),
        float(f_ywd),
        alpha_cw,
        flattest,
        cot,
        V_s,
        V_max,
        V_Rd,
        ratio,
        crushed,
        np.where(sought, flat, np.nan),
        np.where(sought, required, np.nan),
        np.where(needed, chord_tension(V_Ed, cot), np.nan),
    )


def combined_ratio(
    record: Derivation | None, options: ShearOptions, ratio_x: Any, ratio_y: Any
) -> Any:
    """Return how shear in both directions acts together, of ratios (D,)."""
    rule = sum_of_squares if options.biaxial == "squares" else linear_sum
    return rule.into(record, ratio_x, ratio_y)
