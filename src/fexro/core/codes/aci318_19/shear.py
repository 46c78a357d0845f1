"""One-way shear: ACI 318-19, 10.6.2, 10.7.6.5 and 22.5."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy import clip, maximum, minimum, sqrt, where

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.facts import CrossSection
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Area, Dimension, Force, Length, Ratio, RootStress, Stress
from fexro.core.section.shear import shear_section
from fexro.core.transverse import Transverse

__all__ = ["OneWayShear", "TwoDirections", "limited_yield", "one_way_shear", "two_directions"]

PHI = 0.75  # 21.2.1(b)
NEGLECTED = 0.5  # of a ratio, up to which both directions do not act together (22.5.1.10)
ALLOWED_SUM = 1.5  # of the ratios otherwise (22.5.1.11)


@provision("10.6.2.1", symbol="V_0")
def without_ties(phi: Ratio, V_c: Force) -> Force:
    """Shear up to which no ties are needed for it."""
    return 0.5 * phi * V_c


@provision("10.6.2.2", symbol="A_v,min")
def least_ties(
    f_c_prime: Stress, k_v: RootStress, v_min: Stress, b_w: Length, s: Length, f_yt: Stress
) -> Area:
    """Least area of ties within a spacing, where ties are needed."""
    return maximum(k_v * sqrt(f_c_prime), v_min) * b_w * s / f_yt


@provision("10.7.6.5.2", symbol="s_max")
def largest_spacing(
    V_s_req: Force, V_s_close: Force, d: Length, s_1: Length, s_2: Length
) -> Length:
    """Largest spacing of ties, by what they have to carry."""
    return where(V_s_req <= V_s_close, minimum(d / 2, s_1), minimum(d / 4, s_2))


@provision("20.2.2.4", symbol="f_yt")
def limited_yield(f_yt_0: Stress, f_max: Stress) -> Stress:
    """Yield strength of ties as far as it counts."""
    return minimum(f_yt_0, f_max)


@provision("22.5.1.1", symbol="phi V_n")
def design_shear(phi: Ratio, V_c: Force, V_s: Force) -> Force:
    """Design strength in shear."""
    return phi * (V_c + V_s)


@provision("22.5.1.2", symbol="V_s,max")
def largest_of_ties(k_s: RootStress, f_c_prime: Stress, b_w: Length, d: Length) -> Force:
    """Shear that ties may carry at most, by the size of the section."""
    return k_s * sqrt(f_c_prime) * b_w * d


@provision("22.5.1.11", symbol="u")
def sum_of_directions(u_x: Ratio, u_y: Ratio) -> Ratio:
    """Sum of the ratios in both directions over what is allowed of it."""
    return (u_x + u_y) / ALLOWED_SUM


@provision("22.5.3.1", symbol="f_r")
def limited_root(f_c_prime: Stress, k_max: RootStress) -> RootStress:
    """Root of the strength of concrete as far as it counts."""
    return minimum(sqrt(f_c_prime), k_max)


@provision("Table 22.5.5.1(a)", symbol="V_a")
def concrete_with_ties(
    k_a: RootStress, lam: Ratio, f_r: RootStress, sigma_N: Stress, b_w: Length, d: Length
) -> Force:
    """Shear carried by concrete that has at least the least ties."""
    return (k_a * lam * f_r + sigma_N) * b_w * d


@provision("Table 22.5.5.1(b)", symbol="V_b")
def concrete_by_ratio(
    *,
    k_b: RootStress,
    lam: Ratio,
    rho_w: Ratio,
    f_r: RootStress,
    sigma_N: Stress,
    b_w: Length,
    d: Length,
) -> Force:
    """Shear carried by concrete that has at least the least ties, by the bars in tension."""
    return (k_b * lam * rho_w ** (1 / 3) * f_r + sigma_N) * b_w * d


@provision("Table 22.5.5.1(c)", symbol="V_less")
def concrete_with_fewer(
    *,
    k_b: RootStress,
    lam_s: Ratio,
    lam: Ratio,
    rho_w: Ratio,
    f_r: RootStress,
    sigma_N: Stress,
    b_w: Length,
    d: Length,
) -> Force:
    """Shear carried by concrete that has fewer than the least ties."""
    return (k_b * lam_s * lam * rho_w ** (1 / 3) * f_r + sigma_N) * b_w * d


@provision("22.5.5.1", symbol="rho_w")
def tension_ratio(A_s: Area, b_w: Length, d: Length) -> Ratio:
    """Bars in tension over the web."""
    return A_s / (b_w * d)


@provision("22.5.5.1.1", symbol="V_c,max")
def largest_of_concrete(
    k_c: RootStress, lam: Ratio, f_r: RootStress, b_w: Length, d: Length
) -> Force:
    """Shear that concrete may carry at most."""
    return k_c * lam * f_r * b_w * d


@provision("22.5.5.1", symbol="V_c")
def concrete_shear(
    *, A_v: Area, A_v_min: Area, V_a: Force, V_b: Force, V_less: Force, V_c_max: Force
) -> Force:
    """Shear carried by concrete."""
    V: Force = where(A_v >= A_v_min, maximum(V_a, V_b), V_less)
    return clip(V, 0, V_c_max)


@provision("22.5.5.1.2", symbol="sigma_N")
def axial_stress(N_u: Force, A_g: Area, f_c_prime: Stress) -> Stress:
    """Part of the axial force; negative in tension."""
    return minimum(N_u / (6 * A_g), 0.05 * f_c_prime)


@provision("22.5.5.1.3", symbol="lam_s")
def size_factor(d: Length, d_0: Length) -> Ratio:
    """Factor for the size of members with few ties."""
    return minimum(sqrt(2 / (1 + d / d_0)), 1)


@provision("22.5.8.1", symbol="V_s,req")
def required_of_ties(V_u: Force, phi: Ratio, V_c: Force) -> Force:
    """Shear that ties have to carry."""
    return maximum(V_u / phi - V_c, 0)


@provision("22.5.8.5.3", symbol="V_s,0")
def tie_shear(A_v: Area, f_yt: Stress, d: Length, s: Length) -> Force:
    """Shear that the ties carry by their yielding."""
    return A_v * f_yt * d / s


@provision("22.5.1.2", symbol="V_s")
def counted_of_ties(V_s_0: Force, V_s_max: Force) -> Force:
    """Shear carried by ties as far as it counts."""
    return minimum(V_s_0, V_s_max)


@provision("22.5.1.1", symbol="u")
def shear_ratio(V_u: Force, phi_V_n: Force) -> Ratio:
    """Shear over the design strength."""
    return V_u / phi_V_n


@dataclass(frozen=True, eq=False)
class OneWayShear:
    """Shear along one axis in each demand, (D,); N, mm, MPa.

    Attributes:
        width, depth, tension_area, tension_ratio: bw, d, As and ρw.
        root_limited: whether √f'c counts less than it is.
        tie_yield: fyt as it counts.
        tie_area, least_ties: Av, and Av,min (D,).
        enough_ties: whether the least ties are there.
        size_factor: λs.
        axial, axial_limited: Nu/(6 Ag), and as it counts.
        concrete_a, concrete_b, concrete_c: Vc by the rows of the table, before their limits.
        largest_concrete: the limit of Vc.
        concrete: Vc.
        ties_there, largest_ties, ties: of the ties Av fyt d/s, its limit, and Vs.
        strength: φVn.
        needs_ties: whether ties are needed for the shear.
        required: Vs that is needed.
        largest_spacing: of ties, where they are needed; elsewhere not a number.
        close_enough: whether they are.
        large_enough: whether the section is.
        ratio: Vu/φVn.
    """

    width: float
    depth: float
    tension_area: float
    tension_ratio: float
    root_limited: bool
    tie_yield: float
    tie_area: float
    least_ties: FloatArray
    enough_ties: BoolArray
    size_factor: float
    axial: FloatArray
    axial_limited: FloatArray
    concrete_a: FloatArray
    concrete_b: FloatArray
    concrete_c: FloatArray
    largest_concrete: float
    concrete: FloatArray
    ties_there: FloatArray
    largest_ties: float
    ties: FloatArray
    strength: FloatArray
    needs_ties: BoolArray
    required: FloatArray
    largest_spacing: FloatArray
    close_enough: BoolArray
    large_enough: BoolArray
    ratio: FloatArray

    @property
    def satisfied(self) -> BoolArray:
        """Whether each demand is met with ties as they have to be, (D,)."""
        as_needed = ~self.needs_ties | (self.enough_ties & self.close_enough)
        met: BoolArray = (self.ratio <= 1) & as_needed & self.large_enough
        return met


def one_way_shear(
    record: Derivation | None,
    edition: Edition,
    cross: CrossSection,
    transverse: Transverse,
    axis: int,
    demand: tuple[Any, Any, Any],
    *,
    without_concrete: bool = False,
) -> OneWayShear:
    """Return the strength in shear along an axis.

    Args:
        record: what is written to; then the demand is one.
        edition: of the code.
        cross: section and materials.
        transverse: the ties.
        axis: of the force, x (0) or y (1).
        demand: Nu, N, Vu without sign, N, and spacing of the ties there, mm, each (D,).
        without_concrete: whether concrete carries nothing (18.7.6.2.1).
    """
    given, axial_force, shear = edition.shear, demand[0], demand[1]
    spacing, web = demand[2], shear_section(cross.section, axis)
    b_w, d, f_c = web.width, web.effective_depth, cross.weakest.strength
    area = cross.section.outline.area
    if record is not None:
        record.given("b_w", b_w, Dimension.LENGTH, "width of the web")
        record.given("d", d, Dimension.LENGTH, "to the centroid of the bars in tension")
        record.given("A_s", web.tension_area, Dimension.AREA, "bars beyond two thirds of the depth")
        record.given("A_v", transverse.leg_area(axis), Dimension.AREA, "legs along the force")
    lam = lightness(record, edition, cross.weakest)
    root = limited_root.into(record, f_c, given.largest_root)
    rho_w = tension_ratio.into(record, web.tension_area, b_w, d)
    lam_s = size_factor.into(record, d, given.size_depth)
    sigma_N = axial_stress.into(record, axial_force, area, f_c)
    f_yt = limited_yield.into(record, transverse.yield_strength, given.tie_yield)
    A_v = transverse.leg_area(axis)
    A_v_min = least_ties.into(record, f_c, given.least_root, given.least_stress, b_w, spacing, f_yt)
    common = {"lam": lam, "rho_w": rho_w, "f_r": root, "sigma_N": sigma_N, "b_w": b_w, "d": d}
    V_a = concrete_with_ties.into(record, given.with_ties, lam, root, sigma_N, b_w, d)
    V_b = concrete_by_ratio.into(record, k_b=given.by_ratio, **common)
    V_less = concrete_with_fewer.into(record, k_b=given.by_ratio, lam_s=lam_s, **common)
    V_c_max = largest_of_concrete.into(record, given.largest, lam, root, b_w, d)
    V_c: Any
    if without_concrete:
        V_c = 0.0 * sigma_N
        if record is not None:
            record.given("V_c", 0.0, Dimension.FORCE, "18.7.6.2.1")
    else:
        V_c = concrete_shear.into(
            record, A_v=A_v, A_v_min=A_v_min, V_a=V_a, V_b=V_b, V_less=V_less, V_c_max=V_c_max
        )
    V_s_max = largest_of_ties.into(record, given.largest_ties, f_c, b_w, d)
    V_s_0 = tie_shear.into(record, A_v, f_yt, d, spacing)
    V_s = counted_of_ties.into(record, V_s_0, V_s_max)
    strength = design_shear.into(record, PHI, V_c, V_s)
    free = without_ties.into(record, PHI, V_c)
    required = required_of_ties.into(record, shear, PHI, V_c)
    needs = np.asarray(shear) > free
    close = largest_of_ties(given.close_ties, f_c, b_w, d)
    s_max = largest_spacing(required, close, d, given.spacing, given.close_spacing)
    if record is not None and needs:
        close = largest_of_ties.named(k_s="k_close", **{"V_s,max": "V_s,close"}).into(
            record, given.close_ties, f_c, b_w, d
        )
        largest_spacing.into(record, required, close, d, given.spacing, given.close_spacing)
    with np.errstate(divide="ignore", invalid="ignore"):
        ratio = shear_ratio.into(record, shear, strength)
    return OneWayShear(
        b_w,
        d,
        web.tension_area,
        float(rho_w),
        bool(root < np.sqrt(f_c)),
        float(f_yt),
        A_v,
        A_v_min,
        A_v >= np.asarray(A_v_min),
        float(lam_s),
        axial_force / (6 * area),
        sigma_N,
        V_a,
        V_b,
        V_less,
        float(V_c_max),
        V_c,
        V_s_0,
        float(V_s_max),
        V_s,
        strength,
        needs,
        required,
        np.where(needs, s_max, np.nan),
        np.asarray(spacing) <= s_max,
        np.asarray(shear) <= PHI * (V_c + V_s_max),
        ratio,
    )


@dataclass(frozen=True, eq=False)
class TwoDirections:
    """Shear along both axes at once in each demand, (D,).

    Attributes:
        neglected: whether the directions do not act together.
        sum: of the ratios.
        utilisation: the larger ratio, or the sum over what is allowed of it.
    """

    neglected: BoolArray
    sum: FloatArray
    utilisation: FloatArray


def two_directions(record: Derivation | None, ratio_x: Any, ratio_y: Any) -> TwoDirections:
    """Return how shear in both directions acts together.

    Args:
        record: what is written to; then the demand is one.
        ratio_x, ratio_y: of shear to strength, (D,).
    """
    larger, lesser = np.maximum(ratio_x, ratio_y), np.minimum(ratio_x, ratio_y)
    neglected = lesser <= NEGLECTED
    together = sum_of_directions(ratio_x, ratio_y)
    if record is not None:
        if neglected:
            record.note("One of the ratios is 0.5 or less: the directions do not act together.")
        else:
            sum_of_directions.into(record, ratio_x, ratio_y)
    return TwoDirections(
        neglected, ratio_x + ratio_y, np.where(neglected, larger, np.maximum(larger, together))
    )
