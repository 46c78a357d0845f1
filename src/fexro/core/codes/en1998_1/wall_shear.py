"""Design shear of ductile walls and their coupling beams: EN 1998-1, 5.4.2.4, 5.5.2.4, 5.5.3."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy import clip, maximum, minimum, sin, sqrt

from fexro.core.arrays import FloatArray
from fexro.core.codes.en1998_1.columns import DuctilityClass
from fexro.core.provisions import Case, Coefficient, Derivation, provision, select
from fexro.core.provisions.coefficient import MILLIMETRES, MPA
from fexro.core.quantities import Angle, Area, Dimension, Force, Length, Moment, Ratio, Stress

__all__ = [
    "GAMMA_RD_BEAMS",
    "HOOPS_OF_BEAMS",
    "CoupledBeam",
    "ShearEnvelope",
    "balancing_bars",
    "beam_capacity_shear",
    "beam_hoops",
    "coupled_beam",
    "critical_struts",
    "dowels",
    "dual_shear",
    "joint_friction",
    "joint_strength",
    "longer_anchorage",
    "shear_aspect",
    "shear_envelope",
    "sliding_resistance",
    "spectrum_share",
    "web_bars",
    "web_resistance",
]

F_250 = Coefficient(250, MPA, Dimension.STRESS)
SLENDER = 2.0  # hw/lw (5.5.2.4.1)
DCM_FACTOR = 1.5  # 5.4.2.4(7)
LEAST_FACTOR = 1.5  # 5.5.2.4.1(6)
GAMMA_RD = 1.2  # 5.5.2.4.1(7)
GAMMA_RD_BEAMS = {"DCM": 1.0, "DCH": 1.2}  # 5.4.2.2(2)c, 5.5.2.1(3)
HOOPS_OF_BEAMS = {
    name: Coefficient(n, MILLIMETRES, Dimension.LENGTH) for name, n in (("DCM", 225), ("DCH", 175))
}
BEAM_ASPECT = 3.0  # 5.5.3.5(2)
BY_SHEAR = 2.0  # αs (5.5.3.4.3)


@provision("5.5.2.4.1(7), (5.25)", symbol="t_M")
def strength_term(M_Rd: Moment, q: Ratio, M_Ed: Moment) -> Ratio:
    """Term of the strength in the factor of the shear."""
    return (GAMMA_RD / q * M_Rd / M_Ed) ** 2


def spectrum_share(T_1: float, T_C: float, T_D: float) -> float:
    """Return Se(TC) over Se(T1) of the elastic spectrum (3.2.2.2), periods in s."""
    return max(T_1 / T_C, 1.0) * max(T_1 / T_D, 1.0)


@provision("5.5.2.4.1(7), (5.25)", symbol="t_S")
def spectrum_term(S_e_TC: Ratio, S_e_T1: Ratio) -> Ratio:
    """Term of the spectrum in the factor of the shear."""
    return 0.1 * (S_e_TC / S_e_T1) ** 2


@provision("5.5.2.4.1(7), (5.25)", symbol="epsilon_0")
def slender_factor(q: Ratio, t_M: Ratio, t_S: Ratio) -> Ratio:
    """Factor of the shear of a slender wall."""
    return q * sqrt(t_M + t_S)


@provision("5.5.2.4.1(6)", symbol="epsilon")
def limited_factor(epsilon_0: Ratio, q: Ratio) -> Ratio:
    """That factor within its limits."""
    return maximum(minimum(epsilon_0, q), LEAST_FACTOR)


@provision("5.5.2.4.2(2), (5.26)", symbol="epsilon_0")
def squat_factor(M_Rd: Moment, M_Ed: Moment) -> Ratio:
    """Factor of the shear of a squat wall."""
    return GAMMA_RD * M_Rd / M_Ed


@provision("5.4.2.4(8)", symbol="V_Ed,dual")
def dual_shear(V_base: Force, h_foot: Length, h_w: Length) -> Force:
    """Least design shear of a slender wall of a dual system at a height above its base.

    That at a third of the height is taken as that at the base, which is not less.
    """
    return V_base * (1 - 0.5 * minimum(maximum(1.5 * h_foot / h_w - 0.5, 0), 1))


@provision("5.5.3.4.3(1)", symbol="alpha_s")
def shear_aspect(M_Ed: Moment, V_Ed: Force, l_w: Length) -> Ratio:
    """Moment over shear and length."""
    return M_Ed / (V_Ed * l_w)


@provision("5.5.3.4.3(3), (5.35)", symbol="rho_h,req")
def web_bars(
    V_Ed: Force, V_Rd_c: Force, f_yd_h: Stress, b_wo: Length, alpha_s: Ratio, l_w: Length
) -> Ratio:
    """Ratio of horizontal bars that shear asks for where it is large against the moment."""
    return maximum(V_Ed - V_Rd_c, 0) / (0.75 * f_yd_h * b_wo * alpha_s * l_w)


@provision("5.5.3.4.3(3), (5.35)", symbol="V_Rd,w")
def web_resistance(
    V_Rd_c: Force, rho_h: Ratio, f_yd_h: Stress, b_wo: Length, alpha_s: Ratio, l_w: Length
) -> Force:
    """Shear that a web resists by horizontal bars where shear is large against the moment."""
    return V_Rd_c + 0.75 * rho_h * f_yd_h * b_wo * alpha_s * l_w


@provision("5.5.3.4.3(3), (5.36)", symbol="rho_v,req")
def balancing_bars(
    rho_h: Ratio, f_yd_h: Stress, N_Ed: Force, b_wo: Length, z: Length, f_yd_v: Stress
) -> Ratio:
    """Ratio of vertical bars that balances the horizontal bars of such a web."""
    return maximum(rho_h * f_yd_h - N_Ed / (b_wo * z), 0) / f_yd_v


@provision("5.5.3.4.2(1)", symbol="V_Rd,max,cr")
def critical_struts(V_Rd_max: Force) -> Force:
    """Resistance of the struts of a web within the critical region."""
    return 0.4 * V_Rd_max


@provision("5.5.3.4.4(2), (5.39)", symbol="V_dd")
def dowels(A_sj: Area, f_cd: Stress, f_yd: Stress) -> Force:
    """Resistance of vertical bars across a joint as dowels."""
    return minimum(1.3 * A_sj * sqrt(f_cd * f_yd), 0.25 * f_yd * A_sj)


@provision("5.5.3.4.4(2)", symbol="eta")
def joint_strength(f_ck: Stress) -> Ratio:
    """Factor of the strength of concrete in a joint."""
    return 0.6 * (1 - f_ck / F_250)


@provision("5.5.3.4.4(2), (5.41)", symbol="V_fd")
def joint_friction(
    *,
    mu_f: Ratio,
    A_sj: Area,
    f_yd: Stress,
    N_Ed: Force,
    xi: Ratio,
    M_Ed: Moment,
    z: Length,
    eta: Ratio,
    f_cd: Stress,
    l_w: Length,
    b_wo: Length,
) -> Force:
    """Resistance of a joint by friction."""
    friction = mu_f * ((A_sj * f_yd + N_Ed) * xi + M_Ed / z)
    return maximum(minimum(friction, 0.5 * eta * f_cd * xi * l_w * b_wo), 0)


@provision("5.5.3.4.4(1), (5.38)", symbol="V_Rd,S")
def sliding_resistance(V_dd: Force, V_fd: Force) -> Force:
    """Resistance to sliding of a joint without inclined bars."""
    return V_dd + V_fd


@provision("5.5.3.5(2), (5.48)", symbol="V_lim")
def beam_shear_limit(f_ctd: Stress, b_w: Length, d: Length) -> Force:
    """Shear up to which a coupling beam goes as a beam."""
    return f_ctd * b_w * d


@provision("5.5.3.5(3), (5.49)", symbol="V_Rd")
def diagonal_resistance(A_si: Area, f_yd: Stress, alpha: Angle) -> Force:
    """Shear that diagonal bars of a coupling beam carry."""
    return 2 * A_si * f_yd * sin(alpha)


@provision("5.5.3.5(3), (5.49)", symbol="A_si,req")
def diagonal_required(V_Ed: Force, f_yd: Stress, alpha: Angle) -> Area:
    """Area of each group of diagonal bars that a shear asks for."""
    return V_Ed / (2 * f_yd * sin(alpha))


@provision("5.5.3.5(3)", symbol="l_a")
def longer_anchorage(l_bd: Length) -> Length:
    """Anchorage of diagonal bars in walls, half as long again."""
    return 1.5 * l_bd


@dataclass(frozen=True, eq=False)
class ShearEnvelope:
    """The design shear of a wall along its height; N, mm.

    Attributes:
        slender: whether it is.
        strength, spectrum: terms of the factor; nothing where they are not asked for.
        raw, factor: ε before and within its limits.
        base: shear there.
        heights, analysed, shear: where, of the analysis, and of design, (H,).
        third, top: of design at a third of the height and at the top of dual systems.
    """

    aspect: float
    slender: bool
    strength: float | None
    spectrum: float | None
    raw: float
    factor: float
    base: float
    heights: FloatArray
    analysed: FloatArray
    shear: FloatArray
    third: float | None
    top: float | None


def shear_envelope(
    record: Derivation | None,
    ductility: DuctilityClass,
    size: tuple[float, float],
    behaviour: float,
    moments: tuple[float, float],
    spectrum: tuple[float, float],
    diagram: FloatArray,
    heights: FloatArray,
    *,
    dual: bool,
) -> ShearEnvelope:
    """Return the design shear of a wall along its height.

    Args:
        record: what is written to.
        ductility: class.
        size: length and height, mm.
        behaviour: q.
        moments: MEd and MRd at the base, N·mm.
        spectrum: Se(TC) and Se(T1).
        diagram: heights, mm, ascending, and shears, N, of the analysis, (D, 2).
        heights: where the shear is asked for, mm, (H,).
        dual: whether frames resist with the walls.
    """
    (length, height), (M_Ed, M_Rd) = size, moments
    aspect = height / length
    slender = aspect > SLENDER
    of_strength = of_spectrum = None
    if ductility == "DCM":
        raw = factor = DCM_FACTOR
    elif slender:
        t_M = strength_term.into(record, M_Rd, behaviour, M_Ed)
        t_S = spectrum_term.into(record, *spectrum)
        raw = float(slender_factor.into(record, behaviour, t_M, t_S))
        factor = float(limited_factor.into(record, raw, behaviour))
        of_strength, of_spectrum = float(t_M), float(t_S)
    else:
        raw = float(squat_factor.into(record, M_Rd, M_Ed))
        factor = min(raw, behaviour)
    analysed = np.interp(heights, diagram[:, 0], diagram[:, 1])
    shear = factor * analysed
    base = factor * float(np.interp(0.0, diagram[:, 0], diagram[:, 1]))
    third = top = None
    if dual and slender:
        at = height / 3
        third = factor * float(np.interp(at, diagram[:, 0], diagram[:, 1]))
        top = max(factor * float(np.interp(height, diagram[:, 0], diagram[:, 1])), base / 2)
        share = clip((heights - at) / (height - at), 0, 1)
        shear = np.where(heights <= at, shear, third + (top - third) * share)
    return ShearEnvelope(
        *(aspect, slender, of_strength, of_spectrum, raw, factor, base),
        *(heights, analysed, shear, third, top),
    )


@provision("5.4.2.2(2), 5.5.2.1(3)", symbol="V_Ed")
def beam_capacity_shear(
    gamma_Rd: Ratio, M_Rd_1: Moment, M_Rd_2: Moment, l_cl: Length, V_g: Force
) -> Force:
    """Shear of a beam whose ends have the moments that they resist, and of its loads."""
    return gamma_Rd * (M_Rd_1 + M_Rd_2) / l_cl + V_g


@provision("5.4.3.1.2(6), 5.5.3.1.3(6)", symbol="s_max")
def beam_hoops(ductility: Case, h_w: Length, d_bw: Length, s_0: Length, d_bL: Length) -> Length:
    """Largest spacing of hoops within the critical regions of a beam."""
    bars = select(ductility, DCM=8 * d_bL, DCH=6 * d_bL)
    return minimum(minimum(h_w / 4, 24 * d_bw), minimum(s_0, bars))


@dataclass(frozen=True)
class CoupledBeam:
    """A coupling beam (5.5.3.5); N, mm².

    Attributes:
        limit: shear up to which it goes as a beam.
        aspect: length over depth.
        as_beam: whether it goes as a beam.
        resistance: of its diagonal bars.
        ratio: VEd over it.
        required: area of each group that is needed.
        cage: least width of cages, mm.
    """

    limit: float
    aspect: float
    as_beam: bool
    resistance: float
    ratio: float
    required: float
    cage: float


def coupled_beam(
    record: Derivation | None,
    size: tuple[float, float, float, float],
    strengths: tuple[float, float],
    diagonals: tuple[float, float],
    shear: float,
) -> CoupledBeam:
    """Return a coupling beam with diagonal bars.

    Args:
        record: what is written to.
        size: width, depth, effective depth and clear length, mm.
        strengths: fctd and fyd, MPa.
        diagonals: area of each group, mm², and its angle to the beam, radians.
        shear: VEd, N.
    """
    (b_w, h, d, span), (f_ctd, f_yd), (area, angle) = size, strengths, diagonals
    limit = beam_shear_limit.into(record, f_ctd, b_w, d)
    as_beam = bool(shear <= limit or span / h >= BEAM_ASPECT)
    V_Rd = diagonal_resistance.into(record, area, f_yd, angle)
    need = diagonal_required.into(record, shear, f_yd, angle)
    ratio = float(shear / V_Rd) if V_Rd > 0 else float("inf")
    return CoupledBeam(float(limit), span / h, as_beam, float(V_Rd), ratio, float(need), 0.5 * b_w)
