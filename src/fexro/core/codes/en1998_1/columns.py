"""Ductile columns: EN 1998-1, 4.4.2.3, 5.2.3.4, 5.4.2.3, 5.4.3.2, 5.5.3.2 and 5.6.3."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy import maximum, minimum, sqrt, where

from fexro.core.facts import CrossSection
from fexro.core.provisions import Case, Coefficient, Derivation, provision, select
from fexro.core.provisions.coefficient import MILLIMETRES
from fexro.core.quantities import (
    Area,
    Dimension,
    Force,
    Length,
    Moment,
    Ratio,
    Strain,
    Stress,
)
from fexro.core.section.section import Section, eroded
from fexro.core.section.shear import largest_dimension
from fexro.core.section.ties import between_held
from fexro.core.transverse import Transverse

__all__ = [
    "LARGEST_AXIAL",
    "RATIOS",
    "STRONG_COLUMN",
    "CapacityEnd",
    "CapacityShear",
    "DuctileColumn",
    "DuctilityClass",
    "Seismic",
    "capacity_shear",
    "critical_region",
    "ductile_column",
]

DuctilityClass = Literal["DCM", "DCH"]
LARGEST_AXIAL = {"DCM": 0.65, "DCH": 0.55}  # 5.4.3.2.1(3), 5.5.3.2.1(3)
RATIOS = (0.01, 0.04)  # 5.4.3.2.2(1)
HELD = {"DCM": 200.0, "DCH": 150.0}  # mm, 5.4.3.2.2(11), 5.5.3.2.2(12)
OVERSTRENGTH = {"DCM": 1.1, "DCH": 1.3}  # 5.4.2.3(2), 5.5.2.2(2)
LIGHT_AXIAL, LOW_BEHAVIOUR = 0.2, 2.0  # 5.4.3.2.2(12)
STRONG_COLUMN = 1.3  # 4.4.2.3(4)
SHORT = 3.0  # of height to depth, 5.4.3.2.2(5)
ROUNDING = 1e-3  # mm
LEAST_LENGTH = {
    name: Coefficient(n, MILLIMETRES, Dimension.LENGTH) for name, n in (("DCM", 450), ("DCH", 600))
}
LARGEST_SPACING = {
    name: Coefficient(n, MILLIMETRES, Dimension.LENGTH) for name, n in (("DCM", 175), ("DCH", 125))
}
D_6 = Coefficient(6, MILLIMETRES, Dimension.LENGTH)
S_LAP = Coefficient(100, MILLIMETRES, Dimension.LENGTH)


@provision("4.4.2.3(4)", symbol="R")
def moment_ratio(M_Rc_sum: Moment, M_Rb_sum: Moment) -> Ratio:
    """Moments that the columns resist over those that the beams do, at a joint."""
    return M_Rc_sum / M_Rb_sum


@provision("5.2.3.4(3)", symbol="mu_phi")
def curvature_ductility(q_0: Ratio, T_1: Ratio, T_C: Ratio, k: Ratio) -> Ratio:
    """Curvature ductility that is asked for, by the behaviour factor and the periods."""
    return k * where(T_1 >= T_C, 2 * q_0 - 1, 1 + 2 * (q_0 - 1) * T_C / T_1)


@provision("5.4.2.3(2)", symbol="M_d")
def end_moment(gamma_Rd: Ratio, M_Rc: Moment, M_Rb_sum: Moment, M_Rc_sum: Moment) -> Moment:
    """Moment at an end as far as the beams can bring it about, with overstrength."""
    return gamma_Rd * M_Rc * minimum(1, M_Rb_sum / M_Rc_sum)


@provision("5.4.2.3(1)", symbol="V_Ed")
def shear_of_ends(M_d_top: Moment, M_d_bottom: Moment, l_cl: Length) -> Force:
    """Design shear, of the moments at both ends."""
    return (M_d_top + M_d_bottom) / l_cl


@provision("5.4.3.2.1(3)", symbol="nu_d")
def axial_ratio(N_Ed: Force, A_c: Area, f_cd: Stress) -> Ratio:
    """Axial force in the seismic situation over that of the concrete."""
    return N_Ed / (A_c * f_cd)


@provision("5.4.3.2.2(4)", symbol="l_cr")
def critical_length(ductility: Case, h_c: Length, l_cl: Length, l_M: Length, l_H: Length) -> Length:
    """Length of the critical regions."""
    return select(
        ductility,
        DCM=maximum(maximum(h_c, l_cl / 6), l_M),
        DCH=maximum(maximum(1.5 * h_c, l_cl / 6), l_H),
    )


@provision("5.4.3.2.2(8)", symbol="alpha omega_req")
def required_confinement(mu_phi: Ratio, nu_d: Ratio, epsilon_sy_d: Strain, b_ratio: Ratio) -> Ratio:
    """Confinement that the curvature ductility asks for."""
    return 30 * mu_phi * nu_d * epsilon_sy_d * b_ratio - 0.035


@provision("5.4.3.2.2(8)", symbol="omega_wd")
def mechanical_ratio(rho_w: Ratio, f_yd: Stress, f_cd: Stress) -> Ratio:
    """Mechanical volumetric ratio of the hoops."""
    return rho_w * f_yd / f_cd


@provision("5.4.3.2.2(8), (5.16a)", symbol="alpha_n")
def effect_of_bars(b_i2_sum: Area, b_o: Length, h_o: Length) -> Ratio:
    """Confinement that holds between the bars held."""
    return 1 - b_i2_sum / (6 * b_o * h_o)


@provision("5.4.3.2.2(8), (5.17a)", symbol="alpha_s")
def effect_of_spacing(s: Length, b_o: Length, h_o: Length) -> Ratio:
    """Confinement that holds between hoops."""
    return (1 - s / (2 * b_o)) * (1 - s / (2 * h_o))


@provision("5.4.3.2.2(8), (5.17b)", symbol="alpha_s")
def effect_of_circles(s: Length, D_o: Length) -> Ratio:
    """Confinement that holds between circular hoops."""
    return (1 - s / (2 * D_o)) ** 2


@provision("5.4.3.2.2(8), (5.17c)", symbol="alpha_s")
def effect_of_spiral(s: Length, D_o: Length) -> Ratio:
    """Confinement that holds between the turns of a spiral."""
    return 1 - s / (2 * D_o)


@provision("5.4.3.2.2(10)", symbol="phi_w,min")
def least_hoop(ductility: Case, d_bL: Length, f_ydL: Stress, f_ydw: Stress) -> Length:
    """Least diameter of hoops."""
    return select(ductility, DCM=D_6, DCH=maximum(D_6, 0.4 * d_bL * sqrt(f_ydL / f_ydw)))


@provision("5.4.3.2.2(11)", symbol="s_b")
def hoops_by_core(ductility: Case, b_o: Length) -> Length:
    """Largest spacing of hoops by the core."""
    return select(ductility, DCM=b_o / 2, DCH=b_o / 3)


@provision("5.4.3.2.2(11)", symbol="s_d")
def hoops_by_bars(ductility: Case, d_bL: Length) -> Length:
    """Largest spacing of hoops by the bars."""
    return select(ductility, DCM=8 * d_bL, DCH=6 * d_bL)


@provision("5.4.3.2.2(11)", symbol="s_max")
def largest_spacing(s_b: Length, s_0: Length, s_d: Length) -> Length:
    """Largest spacing of hoops in critical regions."""
    return minimum(minimum(s_b, s_0), s_d)


@provision("5.6.3(3)", symbol="s_max,lap")
def spacing_at_laps(h: Length) -> Length:
    """Largest spacing of hoops where bars are lapped."""
    return minimum(h / 4, S_LAP)


@provision("5.6.3(4)", symbol="A_st")
def hoops_at_laps(s: Length, d_bL: Length, f_yld: Stress, f_ywd: Stress) -> Area:
    """Area of a leg of the hoops where bars are lapped."""
    return s * d_bL / 50 * f_yld / f_ywd


@dataclass(frozen=True)
class Seismic:
    """What is asked of a ductile column.

    Attributes:
        ductility: class.
        base: whether it is in the critical region at the base of the building.
        axial: in the seismic situation, N.
        basic: q0 as it enters μφ.
        behaviour: q.
        period, corner: T1 and TC, s.
        steel_class: of the bars, B or C.
    """

    ductility: DuctilityClass
    base: bool
    axial: float
    basic: float
    behaviour: float
    period: float
    corner: float
    steel_class: Literal["B", "C"] = "C"


@dataclass(frozen=True)
class DuctileColumn:
    """A column in its critical regions. Lengths in mm.

    Attributes:
        axial_ratio, largest_axial: νd and what is allowed.
        ratio: of the bars.
        between_corners: whether a bar stands between corners on each face; nothing for circles.
        length, whole: lcr, and whether the column is critical all along.
        core: bo and ho to the centrelines of the hoops.
        squares: Σ bi², mm²; nothing for circles.
        of_bars, of_spacing: αn and αs.
        by_core, by_class, by_bars: largest spacing by each.
        largest: the least of these.
        spacing: that there is.
        least_hoop, hoop: diameters.
        held, held_limit: largest distance between held bars; nothing for circles.
        volume_ratio, mechanical_ratio: of the hoops.
        ductility: μφ.
        yield_strain: εsy,d.
        width_ratio: bc/bo.
        required: α ωwd.
        least_mechanical: ωwd at least.
        light: whether links to EN 1992-1-1 do.
        lap_spacing, lap_hoops: largest spacing, and area of a leg, mm², where bars are lapped.
    """

    axial_ratio: float
    largest_axial: float
    ratio: float
    between_corners: bool | None
    length: float
    whole: bool
    core: tuple[float, float]
    squares: float | None
    of_bars: float
    of_spacing: float
    by_core: float
    by_class: float
    by_bars: float
    largest: float
    spacing: float
    least_hoop: float
    hoop: float
    held: float | None
    held_limit: float | None
    volume_ratio: float
    mechanical_ratio: float
    ductility: float
    yield_strain: float
    width_ratio: float
    required: float
    least_mechanical: float
    light: bool
    lap_spacing: float
    lap_hoops: float

    @property
    def ratio_allowed(self) -> bool:
        """Whether there are neither too few bars nor too many."""
        return RATIOS[0] <= self.ratio <= RATIOS[1]

    @property
    def close_enough(self) -> bool:
        """Whether hoops are."""
        return self.spacing <= self.largest + ROUNDING

    @property
    def hoop_enough(self) -> bool:
        """Whether hoops are large enough."""
        return self.hoop >= self.least_hoop - ROUNDING

    @property
    def held_enough(self) -> bool | None:
        """Whether held bars are near enough; nothing for circles."""
        if self.held is None or self.held_limit is None:
            return None
        return self.held <= self.held_limit + ROUNDING

    @property
    def effect(self) -> float:
        """The effectiveness α of confinement."""
        return self.of_bars * self.of_spacing

    @property
    def confinement(self) -> float:
        """The confinement α ωwd that there is."""
        return self.effect * self.mechanical_ratio

    @property
    def required_mechanical(self) -> float | None:
        """The mechanical ratio that is needed; nothing where links to EN 1992-1-1 do."""
        if self.light:
            return None
        return max(self.required / self.effect, self.least_mechanical)

    @property
    def confined(self) -> bool:
        """Whether there are hoops enough."""
        needed = self.required_mechanical
        return needed is None or self.mechanical_ratio >= needed * (1 - 1e-9)


def ductile_column(
    record: Derivation | None,
    cross: CrossSection,
    transverse: Transverse,
    seismic: Seismic,
    clear_height: float,
    strengths: tuple[float, float, float],
) -> DuctileColumn:
    """Return a column in its critical regions against what is asked of it.

    Args:
        record: what is written to.
        cross: section and materials.
        transverse: the hoops.
        seismic: what is asked for.
        clear_height: mm.
        strengths: fcd, fyd of the bars, and fywd of the hoops, MPa.
    """
    f_cd, f_yd, f_ywd = strengths
    section, name, spacing = cross.section, seismic.ductility, transverse.at_ends
    bars, area, depth = section.bars, section.outline.area, largest_dimension(section)
    smallest, largest_bar = float(bars.diameter.min()), float(bars.diameter.max())
    b_o, h_o = _core(section)
    narrow = min(b_o, h_o)
    nu_d = axial_ratio.into(record, seismic.axial, area, f_cd)
    length = critical_length.into(
        record, name, depth, clear_height, LEAST_LENGTH["DCM"], LEAST_LENGTH["DCH"]
    )
    squares = held = limit = None
    alpha_n = 1.0
    if transverse.circular:
        rule = effect_of_spiral if transverse.spiral else effect_of_circles
        alpha_s = rule.into(record, spacing, b_o)
        volume = 4 * transverse.size.area / (b_o * spacing)
    else:
        apart = between_held(section, transverse.held)
        squares, held, limit = float((apart**2).sum()), float(apart.max()), HELD[name]
        alpha_n = float(effect_of_bars.into(record, squares, b_o, h_o))
        alpha_s = effect_of_spacing.into(record, spacing, b_o, h_o)
        legs = transverse.leg_area(0) * b_o + transverse.leg_area(1) * h_o
        volume = legs / (b_o * h_o * spacing)
    if record is not None:
        record.given("rho_w", volume, Dimension.RATIO, "volume of the hoops over that of the core")
    omega = mechanical_ratio.into(record, volume, f_ywd, f_cd)
    by_core = hoops_by_core.into(record, name, narrow)
    by_bars = hoops_by_bars.into(record, name, smallest)
    largest = largest_spacing.into(record, by_core, LARGEST_SPACING[name], by_bars)
    hoop = least_hoop.into(record, name, largest_bar, f_yd, f_ywd)
    softer = 1.5 if seismic.steel_class == "B" else 1.0
    ductility = curvature_ductility.into(
        record, seismic.basic, seismic.period, seismic.corner, softer
    )
    strain = f_yd / cross.steel.modulus
    widest = _width_ratio(section, (b_o, h_o))
    required = required_confinement.into(record, ductility, nu_d, strain, widest)
    least = {"DCM": 0.08, "DCH": 0.12 if seismic.base else 0.08}[name]
    return DuctileColumn(
        float(nu_d),
        LARGEST_AXIAL[name],
        bars.total_area / area,
        None if section.round else _bars_between_corners(section),
        clear_height if clear_height / depth < SHORT else float(length),
        clear_height / depth < SHORT,
        (b_o, h_o),
        squares,
        alpha_n,
        float(alpha_s),
        float(by_core),
        float(LARGEST_SPACING[name]),
        float(by_bars),
        float(largest),
        spacing,
        float(hoop),
        transverse.size.diameter,
        held,
        limit,
        float(volume),
        float(omega),
        float(ductility),
        strain,
        widest,
        float(required),
        least,
        name == "DCM"
        and seismic.base
        and nu_d < LIGHT_AXIAL
        and seismic.behaviour <= LOW_BEHAVIOUR,
        float(spacing_at_laps.into(record, least_side(section))),
        float(hoops_at_laps.into(record, transverse.spacing("lap"), largest_bar, f_yd, f_ywd)),
    )


def critical_region(section: Section, ductility: DuctilityClass, clear_height: float) -> float:
    """Return how far critical regions reach from the ends, mm: half of the height at the most.

    Short columns are critical all along (5.4.3.2.2(4), (5)).
    """
    depth = largest_dimension(section)
    if clear_height / depth < SHORT:
        return clear_height / 2
    given = LEAST_LENGTH["DCM"], LEAST_LENGTH["DCH"]
    return min(float(critical_length(ductility, depth, clear_height, *given)), clear_height / 2)


def _core(section: Section) -> tuple[float, float]:
    """Return the core to the centrelines of the hoops along x and along y, mm."""
    if section.round:
        core = section.diameter - 2 * section.cover - section.ties.size.diameter
        return core, core
    x0, y0, x1, y1 = eroded(section.outline, section.cover + section.ties.size.diameter / 2).bounds
    return float(x1 - x0), float(y1 - y0)


def least_side(section: Section) -> float:
    """Return the lesser of the sizes of a section along x and along y, mm."""
    if section.round:
        return section.diameter
    x0, y0, x1, y1 = section.outline.bounds
    return min(x1 - x0, y1 - y0)


def _width_ratio(section: Section, core: tuple[float, float]) -> float:
    """Return bc/bo, the larger of both directions."""
    if section.round:
        return least_side(section) / core[0]
    x0, y0, x1, y1 = section.outline.bounds
    return max((x1 - x0) / core[0], (y1 - y0) / core[1])


def _bars_between_corners(section: Section) -> bool:
    """Return whether a bar stands between two corners along each face."""
    ring = section.tie_ring
    if ring is None:
        return False
    x, y = section.bars.x, section.bars.y
    reach = section.bars.diameter + section.ties.size.diameter
    for (ax, ay), (bx, by) in zip(ring, np.roll(ring, -1, axis=0), strict=True):
        side = math.hypot(bx - ax, by - ay)
        along = ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / side
        aside = np.abs((x - ax) * (by - ay) - (y - ay) * (bx - ax)) / side
        inside = (aside <= reach) & (along > 2 * reach) & (along < side - 2 * reach)
        if not inside.any():
            return False
    return True


@dataclass(frozen=True)
class CapacityEnd:
    """Columns against beams at an end of a column, N·mm.

    Attributes:
        columns, beams: sums of the moments that they resist.
        ratio: of them.
        exempt: whether it is the top storey.
        moment: that the column takes at this end, with overstrength.
    """

    columns: float
    beams: float
    ratio: float
    exempt: bool
    moment: float

    @property
    def satisfied(self) -> bool:
        """Whether the columns are strong enough, or need not be."""
        return self.exempt or self.ratio >= STRONG_COLUMN * (1 - 1e-9)


@dataclass(frozen=True)
class CapacityShear:
    """Design shear of a column by its capacity: γRd, both ends, and VEd, N."""

    overstrength: float
    top: CapacityEnd
    bottom: CapacityEnd
    shear: float


def capacity_shear(
    record: Derivation | None,
    ductility: DuctilityClass,
    clear_height: float,
    top: tuple[Sequence[float], Sequence[float], bool],
    bottom: tuple[Sequence[float], Sequence[float], bool],
) -> CapacityShear:
    """Return the design shear of a column in one direction by its capacity.

    Args:
        record: what is written to.
        ductility: class.
        clear_height: mm.
        top, bottom: moments that the columns resist, this one first, and those of the beams,
            N·mm, and whether it is the top storey.
    """
    gamma = OVERSTRENGTH[ductility]
    ends = []
    for columns, beams, top_storey in (top, bottom):
        summed = float(sum(columns)), float(sum(beams))
        ratio = moment_ratio.into(record, *summed)
        moment = end_moment.into(record, gamma, columns[0], summed[1], summed[0])
        ends.append(CapacityEnd(*summed, float(ratio), top_storey, float(moment)))
    shear = shear_of_ends.into(record, ends[0].moment, ends[1].moment, clear_height)
    return CapacityShear(gamma, ends[0], ends[1], float(shear))
