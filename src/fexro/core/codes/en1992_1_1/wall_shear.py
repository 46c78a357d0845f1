"""Shear of walls in their plane, and of joints between concretes: EN 1992-1-1, 6.2."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy import cos, minimum, sin, where

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.codes.en1992_1_1.anchorage import (
    design_tensile_strength,
    low_tensile_strength,
    mean_tensile_strength,
)
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.materials import concrete_design_strength, steel_design_strength
from fexro.core.codes.en1992_1_1.shear import (
    chord_factor,
    chord_tension,
    concrete_shear,
    flattest_strut,
    link_resistance,
    link_strength,
    required_links,
    shear_ratio,
    strut_factor,
    strut_factor_low,
    strut_resistance,
)
from fexro.core.provisions import Case, Derivation, provision, select
from fexro.core.quantities import Angle, Area, Force, Length, Ratio, Stress

__all__ = ["SURFACES", "Joint", "Surface", "WallShear", "joint_shear", "wall_shear"]

WALL_ARM, WALL_DEPTH = 0.8, 0.9  # of lw
LARGEST_JOINT_STRESS = 0.6  # of fcd (6.2.5(1))
Surface = Literal["very smooth", "smooth", "rough", "indented"]
SURFACES: tuple[Surface, ...] = get_args(Surface)


@provision("6.2.3(1)", symbol="z")
def wall_arm(l_w: Length) -> Length:
    """Lever arm of a wall in its plane."""
    return WALL_ARM * l_w


@provision("6.2.1", symbol="V_Rd")
def wall_resistance(V_Rd_s: Force, V_Rd_max: Force) -> Force:
    """Shear resistance of a wall with the horizontal bars that it has."""
    return minimum(V_Rd_s, V_Rd_max)


@provision("6.2.5(1), (6.24)", symbol="v_Edi")
def joint_stress(beta: Ratio, V_Ed: Force, z: Length, b_i: Length) -> Stress:
    """Shear stress in a joint."""
    return beta * V_Ed / (z * b_i)


@provision("6.2.5(1)", symbol="sigma_n")
def normal_stress(N_Ed: Force, A_i: Area, f_cd: Stress) -> Stress:
    """Stress across a joint as far as it counts; negative in tension."""
    return minimum(N_Ed / A_i, LARGEST_JOINT_STRESS * f_cd)


@provision("6.2.5(2)", symbol="c")
def joint_cohesion(surface: Case, sigma_n: Stress) -> Ratio:
    """Factor of cohesion by the surface; none where the joint is in tension."""
    c = select(surface, very_smooth=0.025, smooth=0.20, rough=0.40, indented=0.50)
    return where(sigma_n < 0, 0.0, c)


@provision("6.2.5(2)", symbol="mu")
def joint_friction(surface: Case) -> Ratio:
    """Factor of friction by the surface."""
    return select(surface, very_smooth=0.5, smooth=0.6, rough=0.7, indented=0.9)


@provision("6.2.5(1), (6.25)", symbol="v_s")
def joint_steel(rho: Ratio, f_yd: Stress, mu: Ratio, alpha: Angle) -> Stress:
    """Shear that the bars across a joint carry."""
    return rho * f_yd * (mu * sin(alpha) + cos(alpha))


@provision("6.2.5(1), (6.25)", symbol="v_max")
def joint_largest(nu: Ratio, f_cd: Stress) -> Stress:
    """Largest shear of a joint."""
    return 0.5 * nu * f_cd


@provision("6.2.5(1), (6.25)", symbol="v_Rdi")
def joint_resistance(
    *, c: Ratio, f_ctd: Stress, mu: Ratio, sigma_n: Stress, v_s: Stress, v_max: Stress
) -> Stress:
    """Shear resistance of a joint."""
    return minimum(c * f_ctd + mu * sigma_n + v_s, v_max)


@provision("6.2.5(1)", symbol="u")
def joint_ratio(v_Edi: Stress, v_Rdi: Stress) -> Ratio:
    """Shear stress in a joint over its resistance."""
    return v_Edi / v_Rdi


@dataclass(frozen=True, eq=False)
class WallShear:
    """Shear of a wall in its plane in each demand, (D,); N, mm, MPa.

    Attributes:
        design_strength: fcd.
        arm: z.
        mean_stress, axial_stress: of the axial force, and as far as it counts.
        size_factor, tension_ratio: k and ρl.
        bar_stress, least_stress: of concrete without links.
        concrete: VRd,c.
        link_strength, strut_factor, chord_factor: fywd, ν1, αcw.
        steepest: VRd,max at 45°.
        flattest: largest cot θ.
        strut: cot θ.
        links, struts, resistance: VRd,s, VRd,max, VRd.
        required: Asw/s, mm.
        tension: ΔFtd.
        ratio: VEd over VRd.
    """

    design_strength: float
    arm: float
    mean_stress: FloatArray
    axial_stress: FloatArray
    size_factor: float
    tension_ratio: float
    bar_stress: float
    least_stress: float
    concrete: FloatArray
    link_strength: float
    strut_factor: float
    chord_factor: FloatArray
    steepest: FloatArray
    crushing: BoolArray
    flattest: FloatArray
    strut: FloatArray
    links: FloatArray
    struts: FloatArray
    resistance: FloatArray
    required: FloatArray
    tension: FloatArray
    ratio: FloatArray
    needs_bars: BoolArray


def wall_shear(
    record: Derivation | None,
    annex: Annex,
    size: tuple[float, float, float],
    strengths: tuple[float, float],
    bars: tuple[float, float],
    actions: tuple[FloatArray, FloatArray],
    choices: tuple[str, str] = ("nu", "level"),
    area: float | None = None,
) -> WallShear:
    """Return the shear of a wall in its plane.

    Args:
        record: what is written to, of one demand.
        annex: of the country.
        size: thickness, length and effective depth, mm.
        strengths: fck and fywk, MPa.
        bars: Asl, mm², and Asw/s of the horizontal bars of both faces, mm.
        actions: NEd and VEd of each demand, (D,), N.
        choices: `nu` or `0.8fywk` for ν1; `level` or `gain` for αcw.
        area: that NEd acts on, mm²; thickness by length where it is not told.
    """
    (b_w, length, d), (f_ck, f_ywk), (A_sl, A_sw), (axial, shear) = size, strengths, bars, actions
    counts, low = min(f_ck, annex.shear_strength), choices[0] != "nu"
    A_c = b_w * length if area is None else area
    mean = axial / A_c
    alone = concrete_shear(record, annex, counts, (b_w, d), A_sl, (axial, A_c))
    f_cd, V_c = alone.design_strength, alone.resistance
    f_ywd = link_strength.into(record, "low" if low else "yielding", f_ywk, annex.gamma_s)
    nu = (
        strut_factor_low.into(record, counts, *annex.low_stress_struts)
        if low
        else strut_factor.into(record, counts)
    )
    alpha = chord_factor.into(record, choices[1], mean, f_cd)
    z = wall_arm.into(record, length)
    steepest = strut_resistance.named(cot_theta="1").into(record, alpha, b_w, z, nu, f_cd, 1.0)
    flattest = np.where(axial < 0, annex.flattest_in_tension, annex.flattest_strut)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.where(steepest > 0, shear / steepest, np.inf)
        cot = flattest_strut.into(record, _one(record, share), _one(record, flattest))
    V_s = link_resistance.into(record, A_sw, 1.0, z, f_ywd, cot)
    V_max = strut_resistance.into(record, alpha, b_w, z, nu, f_cd, cot)
    V_Rd = wall_resistance.into(record, V_s, V_max)
    required = required_links.into(record, shear, z, f_ywd, cot)
    tension = chord_tension.into(record, shear, cot)
    ratio = shear_ratio.into(record, shear, V_Rd)
    k, rho = alone.size_factor, alone.tension_ratio
    v_1 = 0.18 / annex.gamma_c * k * (100 * rho * counts) ** (1 / 3)
    return WallShear(
        *(f_cd, float(z), np.asarray(mean), np.asarray(alone.axial), k, rho),
        *(v_1, alone.least_stress, np.asarray(V_c), float(f_ywd), float(nu), np.asarray(alpha)),
        *(np.asarray(steepest), np.asarray(shear > steepest), np.asarray(flattest)),
        *(np.asarray(cot), np.asarray(V_s), np.asarray(V_max), np.asarray(V_Rd)),
        *(np.asarray(required), np.asarray(tension), np.asarray(ratio)),
        needs_bars=np.asarray(shear > V_c),
    )


def _one(record: Derivation | None, value: FloatArray) -> FloatArray | float:
    """Return a value as it is written: a number where there is a record."""
    return value if record is None else float(value)


@dataclass(frozen=True, eq=False)
class Joint:
    """Shear of a joint between concretes in each demand, (D,); MPa.

    Attributes:
        design_strength, tensile, yield_strength: fcd, fctd, fyd.
        arm: z, mm.
        stress: vEdi.
        normal_raw, normal: σn, and as far as it counts.
        cohesion, friction: c and μ.
        ratio_across: ρ.
        of_cohesion, of_friction, of_steel: parts of the resistance.
        strut_factor, largest: ν and the limit.
        resistance: vRdi.
        ratio: vEdi over it.
    """

    design_strength: float
    tensile: float
    yield_strength: float
    arm: float
    stress: FloatArray
    normal_raw: FloatArray
    normal: FloatArray
    cohesion: FloatArray
    friction: float
    ratio_across: float
    of_cohesion: FloatArray
    of_friction: FloatArray
    of_steel: float
    strut_factor: float
    largest: float
    resistance: FloatArray
    ratio: FloatArray


def joint_shear(
    record: Derivation | None,
    annex: Annex,
    size: tuple[float, float],
    strengths: tuple[float, float],
    surface: Surface,
    steel: tuple[float, float],
    actions: tuple[FloatArray, FloatArray],
    beta: float = 1.0,
) -> Joint:
    """Return the shear of a joint across a wall.

    Args:
        record: what is written to, of one demand.
        annex: of the country.
        size: thickness and length, mm.
        strengths: fck and fyk, MPa.
        surface: of the joint.
        steel: area across the joint, mm², and its angle to it, radians.
        actions: NEd and VEd of each demand, (D,), N.
        beta: share of the force of the new concrete (6.2.5(1)).
    """
    (b_i, length), (f_ck, f_yk), (area, angle), (axial, shear) = size, strengths, steel, actions
    f_cd = float(concrete_design_strength.into(record, f_ck, 1.0, annex.gamma_c))
    f_ctk = low_tensile_strength.into(record, mean_tensile_strength.into(record, f_ck))
    f_ctd = design_tensile_strength.into(record, f_ctk, annex.gamma_c)
    f_yd = steel_design_strength.into(record, f_yk, annex.gamma_s)
    z = wall_arm.into(record, length)
    v = joint_stress.into(record, beta, shear, z, b_i)
    sigma = normal_stress.into(record, axial, b_i * length, f_cd)
    c = joint_cohesion.into(record, surface, sigma)
    mu = joint_friction.into(record, surface)
    rho = area / (b_i * length)
    v_s = joint_steel.into(record, rho, f_yd, mu, angle)
    nu = strut_factor.named(nu_1="nu").into(record, f_ck)
    most = joint_largest.into(record, nu, f_cd)
    v_Rd = joint_resistance.into(
        record, c=c, f_ctd=f_ctd, mu=mu, sigma_n=sigma, v_s=v_s, v_max=most
    )
    ratio = joint_ratio.into(record, v, v_Rd)
    return Joint(
        *(f_cd, float(f_ctd), float(f_yd), float(z), np.asarray(v)),
        *(np.asarray(axial / (b_i * length)), np.asarray(sigma), np.asarray(c), float(mu), rho),
        *(np.asarray(c * f_ctd), np.asarray(mu * sigma), float(v_s), float(nu), float(most)),
        *(np.asarray(v_Rd), np.asarray(ratio)),
    )
