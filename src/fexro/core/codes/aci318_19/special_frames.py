"""Columns of special moment frames: ACI 318-19, 18.7."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from numpy import clip, maximum, minimum, where

from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.intermediate_frames import BELOW, ROUNDING, shear_of_moments
from fexro.core.codes.aci318_19.shear import limited_yield
from fexro.core.codes.aci318_19.ties import core_diameter, spiral_ratio
from fexro.core.facts import CrossSection
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Area, Dimension, Force, Length, Moment, Ratio, Stress
from fexro.core.section.section import eroded
from fexro.core.section.shear import largest_dimension, least_dimension
from fexro.core.section.ties import between_held
from fexro.core.transverse import Transverse

__all__ = [
    "HEAVY",
    "LARGEST_RATIO",
    "LEAST_ASPECT",
    "LEAST_BARS_ROUND",
    "STRONG_COLUMN",
    "Confinement",
    "ConfinementZone",
    "LegAmount",
    "ShearOfProbableMoments",
    "StrongColumn",
    "bond_length",
    "confinement",
    "confinement_zone",
    "shear_of_probable_moments",
    "strong_column",
]

LEAST_ASPECT = 0.4  # 18.7.2.1(b)
STRONG_COLUMN = 1.2  # 18.7.3.2
LEAST_RATIO, LARGEST_RATIO = 0.01, 0.06  # 18.7.4.1
LEAST_BARS_ROUND = 6  # 18.7.4.2
HEAVY = 0.3  # of Ag f'c, beyond which more is asked for (18.7.5.2, 18.7.5.4)
IN_JOINT = 1.25  # of the development length along half of the clear height (18.7.4.3)


@provision("18.7.3.2", symbol="R")
def moment_ratio(M_nc_sum: Moment, M_nb_sum: Moment) -> Ratio:
    """Flexural strength of the columns over that of the beams at a joint."""
    return M_nc_sum / M_nb_sum


@provision("18.7.3.1", symbol="P_0")
def light_load(A_g: Area, f_c_prime: Stress) -> Force:
    """Axial force below which a column that ends may be weak."""
    return A_g * f_c_prime / 10


@provision("18.7.4.3", symbol="ell")
def bond_length(ell_d: Length) -> Length:
    """Length along which bars must develop within half of the clear height."""
    return IN_JOINT * ell_d


@provision("18.7.5.1", symbol="ell_o")
def confined_length(h: Length, ell_u: Length, ell_min: Length) -> Length:
    """Length of the confined zone from the face of a joint."""
    return maximum(maximum(h, ell_u / 6), ell_min)


@provision("18.7.5.2", symbol="n")
def axial_ratio(P_u: Force, A_g: Area, f_c_prime: Stress) -> Ratio:
    """Axial force over that of the gross section."""
    return P_u / (A_g * f_c_prime)


@provision("18.7.5.3(a)", symbol="s_a")
def hoops_by_section(b: Length) -> Length:
    """Largest spacing of hoops by the least dimension of the column."""
    return b / 4


@provision("18.7.5.3(b)", symbol="s_b")
def hoops_by_bars(f_y: Stress, f_1: Stress, d_b: Length) -> Length:
    """Largest spacing of hoops by the grade and size of the bars."""
    return where(f_y <= f_1, 6 * d_b, 5 * d_b)


@provision("18.7.5.3(d)", symbol="s_o")
def hoops_by_held_bars(h_x: Length, h_0: Length, s_1: Length, s_2: Length) -> Length:
    """Largest spacing of hoops by how far held bars are apart."""
    return clip(s_1 + (h_0 - h_x) / 3, s_1, s_2)


@provision("18.7.5.3", symbol="s_max")
def largest_hoop_spacing(s_a: Length, s_b: Length, s_o: Length) -> Length:
    """Largest spacing of hoops in the confined zone."""
    return minimum(minimum(s_a, s_b), s_o)


@provision("Table 18.7.5.4(a)", symbol="a")
def amount_a(A_g: Area, A_ch: Area, f_c_prime: Stress, f_yt: Stress) -> Ratio:
    """Hoops over the core, by what spalls off."""
    return 0.3 * (A_g / A_ch - 1) * f_c_prime / f_yt


@provision("Table 18.7.5.4(b)", symbol="b")
def amount_b(f_c_prime: Stress, f_yt: Stress) -> Ratio:
    """Hoops over the core, by the strength of the concrete."""
    return 0.09 * f_c_prime / f_yt


@provision("Table 18.7.5.4(c)", symbol="c")
def amount_c(k_f: Ratio, k_n: Ratio, P_u: Force, f_yt: Stress, A_ch: Area) -> Ratio:
    """Hoops over the core, by the axial force."""
    return 0.2 * k_f * k_n * P_u / (f_yt * A_ch)


@provision("Table 18.7.5.4(d)", symbol="d")
def amount_d(A_g: Area, A_ch: Area, f_c_prime: Stress, f_yt: Stress) -> Ratio:
    """Volume of circular hoops over that of the core, by what spalls off."""
    return 0.45 * (A_g / A_ch - 1) * f_c_prime / f_yt


@provision("Table 18.7.5.4(e)", symbol="e")
def amount_e(f_c_prime: Stress, f_yt: Stress) -> Ratio:
    """Volume of circular hoops over that of the core, by the strength of the concrete."""
    return 0.12 * f_c_prime / f_yt


@provision("Table 18.7.5.4(f)", symbol="f")
def amount_f(k_f: Ratio, P_u: Force, f_yt: Stress, A_ch: Area) -> Ratio:
    """Volume of circular hoops over that of the core, by the axial force."""
    return 0.35 * k_f * P_u / (f_yt * A_ch)


@provision("18.7.5.4", symbol="k_f")
def strength_factor(f_c_prime: Stress, f_step: Stress) -> Ratio:
    """Factor for concrete of high strength."""
    return maximum(f_c_prime / f_step + 0.6, 1)


@provision("18.7.5.4", symbol="k_n")
def held_factor(n_l: Ratio) -> Ratio:
    """Factor for how well hoops are held by bars."""
    return n_l / (n_l - 2)


@provision("18.7.5.4", symbol="A_sh")
def required_legs(a: Ratio, s: Length, b_c: Length) -> Area:
    """Area of the legs that are needed within a spacing."""
    return a * s * b_c


@provision("18.7.5.5", symbol="s_max")
def spacing_outside(s_b: Length, s_3: Length) -> Length:
    """Largest spacing of hoops outside the confined zones."""
    return minimum(s_b, s_3)


@provision("18.7.6.1.1", symbol="M")
def capped_moment(M_pr: Moment, share: Ratio, M_beams: Moment) -> Moment:
    """Moment at an end, as far as the beams of the joint can bring it about."""
    return minimum(M_pr, share * M_beams)


@provision("18.7.6.1.1", symbol="V_e")
def special_design_shear(V_M: Force, V_analysis: Force) -> Force:
    """Design shear: that of the moments, not below that of the analysis."""
    return maximum(V_M, V_analysis)


@provision("18.7.6.2.1", symbol="P_0")
def load_for_concrete(A_g: Area, f_c_prime: Stress) -> Force:
    """Axial force below which concrete may count nothing in shear."""
    return A_g * f_c_prime / 20


@dataclass(frozen=True)
class ConfinementZone:
    """Size, bars and spacing of hoops of a column of a special frame. Lengths in mm.

    Attributes:
        aspect: of the least dimension to the largest.
        wide_enough, square_enough: whether these are as they have to be.
        ratio, ratio_allowed, bars_enough: of the bars.
        length: of the confined zone.
        axial_ratio: Pu over Ag f'c.
        demanding: whether axial force or strength ask for more.
        held_spacing, held_limit: between held bars, and what is allowed; nothing for circles.
        held_enough: whether it is allowed; nothing for circles.
        all_held: whether every bar is held.
        by_section, by_bars, by_held_bars: largest spacing by each.
        largest: the least of these.
        close_enough: whether hoops are as close.
        largest_outside: spacing outside the zone.
        close_enough_outside: whether ties are as close there.
    """

    aspect: float
    wide_enough: bool
    square_enough: bool
    ratio: float
    ratio_allowed: bool
    bars_enough: bool
    length: float
    axial_ratio: float
    demanding: bool
    held_spacing: float | None
    held_limit: float | None
    held_enough: bool | None
    all_held: bool
    by_section: float
    by_bars: float
    by_held_bars: float
    largest: float
    close_enough: bool
    largest_outside: float
    close_enough_outside: bool


def confinement_zone(
    record: Derivation | None,
    edition: Edition,
    cross: CrossSection,
    transverse: Transverse,
    clear_height: float,
    axial: float,
) -> ConfinementZone:
    """Return size, bars and hoops of a column of a special frame against what is asked of them.

    Args:
        record: what is written to.
        edition: of the code.
        cross: section and materials.
        transverse: the hoops.
        clear_height: of the column, mm.
        axial: the largest axial force with the earthquake, N.
    """
    given, section = edition.ductility, cross.section
    f_c, f_y = cross.weakest.strength, cross.steel.yield_strength * BELOW
    least, largest = least_dimension(section), largest_dimension(section)
    count, area = len(section.bars), section.outline.area
    rho = section.bars.total_area / area
    length = confined_length.into(record, largest, clear_height, given.least_length)
    n = axial_ratio.into(record, axial, area, f_c)
    demanding = bool(n > HEAVY or f_c > given.high_strength * (1 + 1e-6))
    all_held = transverse.all_held()
    smallest = float(section.bars.diameter.min())
    h_x = limit = enough = None
    by_held = float(given.spacing[1])
    if not transverse.circular:
        h_x = float(between_held(section, transverse.held).max())
        limit = float(given.close_held_spacing if demanding else given.held_spacing)
        if record is not None:
            record.given("h_x", h_x, Dimension.LENGTH, "between held bars at most")
        enough = h_x <= limit + ROUNDING and (all_held or not demanding)
        by_held = float(hoops_by_held_bars.into(record, h_x, given.held_spacing, *given.spacing))
    by_section = hoops_by_section.into(record, least)
    by_bars = hoops_by_bars.into(record, f_y, edition.laps.grades[0], smallest)
    largest_spacing = largest_hoop_spacing.into(record, by_section, by_bars, by_held)
    outside = spacing_outside.into(record, by_bars, given.outside_spacing)
    return ConfinementZone(
        aspect=least / largest,
        wide_enough=least >= given.least_dimension - ROUNDING,
        square_enough=least / largest >= LEAST_ASPECT - 1e-9,
        ratio=rho,
        ratio_allowed=LEAST_RATIO <= rho <= LARGEST_RATIO,
        bars_enough=count >= LEAST_BARS_ROUND or not transverse.circular,
        length=float(length),
        axial_ratio=float(n),
        demanding=demanding,
        held_spacing=h_x,
        held_limit=limit,
        held_enough=enough,
        all_held=all_held,
        by_section=float(by_section),
        by_bars=float(by_bars),
        by_held_bars=by_held,
        largest=float(largest_spacing),
        close_enough=transverse.at_ends <= largest_spacing + ROUNDING,
        largest_outside=float(outside),
        close_enough_outside=transverse.middle <= outside + ROUNDING,
    )


@dataclass(frozen=True)
class LegAmount:
    """Legs of hoops along a direction.

    Attributes:
        core: bc, of the core across them, mm.
        there, required: areas, mm².
        largest_spacing: at which those that are there would do, mm.
    """

    core: float
    there: float
    required: float
    largest_spacing: float

    @property
    def enough(self) -> bool:
        """Whether there are enough."""
        return self.there >= self.required * (1 - 1e-9)


@dataclass(frozen=True)
class Confinement:
    """The amount of hoops in the confined zone of a column of a special frame.

    Attributes:
        yield_strength: fyt as it counts, MPa.
        core_diameter, core_area: mm, nothing where it is no circle; mm².
        by_spalling, by_strength, by_axial: ratios that are asked for, the last where it is.
        strength_factor, held_bars, held_factor: kf, nl and kn, where they are asked for.
        required: the largest of the ratios.
        legs: along x and along y, of rectilinear hoops.
        volume_ratio: of circular hoops.
    """

    yield_strength: float
    core_diameter: float | None
    core_area: float
    by_spalling: float
    by_strength: float
    by_axial: float | None
    strength_factor: float | None
    held_bars: int
    held_factor: float | None
    required: float
    legs: tuple[LegAmount, ...] = ()
    volume_ratio: float | None = None

    @property
    def enough(self) -> bool:
        """Whether there is enough."""
        if self.volume_ratio is not None:
            return self.volume_ratio >= self.required * (1 - 1e-9)
        return all(leg.enough for leg in self.legs)


def confinement(
    record: Derivation | None,
    edition: Edition,
    cross: CrossSection,
    transverse: Transverse,
    axial: float,
    *,
    demanding: bool,
) -> Confinement:
    """Return the amount of hoops in the confined zone against what is asked for.

    Args:
        record: what is written to.
        edition: of the code.
        cross: section and materials.
        transverse: the hoops.
        axial: the largest axial force with the earthquake, N.
        demanding: whether axial force or strength ask for more.
    """
    section, f_c, spacing = cross.section, cross.weakest.strength, transverse.at_ends
    area, size = section.outline.area, transverse.size
    f_yt = limited_yield.into(record, transverse.yield_strength, edition.ties.confining_yield)
    k_f = strength_factor.into(record, f_c, edition.ductility.strength_step) if demanding else None
    if transverse.circular:
        diameter = core_diameter(cross)
        core = math.pi * diameter**2 / 4
        spalling = amount_d.into(record, area, core, f_c, f_yt)
        strength = amount_e.into(record, f_c, f_yt)
        heavy = None if k_f is None else amount_f.into(record, k_f, axial, f_yt, core)
        there = spiral_ratio.into(record, size.area, diameter, size.diameter, spacing)
        return Confinement(
            float(f_yt),
            diameter,
            core,
            float(spalling),
            float(strength),
            heavy,
            k_f,
            sum(transverse.held),
            None,
            max(spalling, strength, heavy or 0.0),
            volume_ratio=float(there),
        )
    inside = eroded(section.outline, section.cover)
    core, bounds = float(inside.area), inside.bounds
    spalling = amount_a.into(record, area, core, f_c, f_yt)
    strength = amount_b.into(record, f_c, f_yt)
    held, k_n, heavy = sum(transverse.held), None, None
    if k_f is not None:
        k_n = held_factor.into(record, held)
        heavy = amount_c.into(record, k_f, k_n, axial, f_yt, core)
    required = float(max(spalling, strength, heavy or 0.0))
    legs = []
    for axis in (0, 1):
        across, there = bounds[3 - axis] - bounds[1 - axis], transverse.leg_area(axis)
        need = required_legs.into(record, required, spacing, across)
        legs.append(LegAmount(across, there, float(need), there / (required * across)))
    return Confinement(
        float(f_yt),
        None,
        core,
        float(spalling),
        float(strength),
        heavy,
        k_f,
        held,
        k_n,
        required,
        tuple(legs),
    )


@dataclass(frozen=True)
class StrongColumn:
    """Columns against beams at a joint, in one direction and sense.

    Attributes:
        columns, beams: sums of their flexural strengths, N·mm.
        ratio: of them.
        exempt: whether the column may be weak there.
    """

    columns: float
    beams: float
    ratio: float
    exempt: bool

    @property
    def satisfied(self) -> bool:
        """Whether the columns are strong enough, or need not be."""
        return self.exempt or self.ratio >= STRONG_COLUMN * (1 - 1e-9)


def strong_column(
    record: Derivation | None,
    cross: CrossSection,
    columns: Sequence[float],
    beams: Sequence[float],
    *,
    ends: bool,
    axial: float,
) -> StrongColumn:
    """Return whether columns are stronger than the beams at a joint.

    Args:
        record: what is written to.
        cross: section and materials of the column below.
        columns, beams: their flexural strengths, N·mm.
        ends: whether the column is discontinuous above.
        axial: its axial force, N.
    """
    summed = float(sum(columns)), float(sum(beams))
    ratio = moment_ratio.into(record, *summed)
    light = light_load(cross.section.outline.area, cross.weakest.strength)
    if ends:
        light_load.into(record, cross.section.outline.area, cross.weakest.strength)
    return StrongColumn(*summed, float(ratio), bool(ends and axial < light))


@dataclass(frozen=True)
class ShearOfProbableMoments:
    """Design shear of a column of a special frame; N, N·mm.

    Attributes:
        columns: shear of its own probable moments.
        top, bottom: moments as far as the beams can bring them about.
        capped: shear of those.
        design: Ve.
        without_concrete: whether concrete carries nothing in the confined zones.
    """

    columns: float
    top: float
    bottom: float
    capped: float
    design: float
    without_concrete: bool


def shear_of_probable_moments(
    record: Derivation | None,
    cross: CrossSection,
    clear_height: float,
    own: tuple[float, float],
    beams: tuple[tuple[float, float] | None, tuple[float, float] | None],
    analysed: float,
    least_axial: float,
) -> ShearOfProbableMoments:
    """Return the design shear of a column of a special frame in one direction.

    Args:
        record: what is written to.
        cross: section and materials.
        clear_height: mm.
        own: probable moments at top and bottom, N·mm.
        beams: at top and bottom the sum of the probable moments of the beams, N·mm, and the share
            of it that this column takes; nothing where no beams limit it.
        analysed: shear of the analysis, N.
        least_axial: the least axial force with the earthquake, N.
    """
    columns = shear_of_moments.named(M_top="M_pr,top", M_bottom="M_pr,bottom").into(
        record, own[0], own[1], clear_height
    )
    ends = [
        moment if beam is None else float(capped_moment.into(record, moment, beam[1], beam[0]))
        for moment, beam in zip(own, beams, strict=True)
    ]
    capped = shear_of_moments.into(record, ends[0], ends[1], clear_height)
    design = special_design_shear.into(record, capped, analysed)
    low = load_for_concrete.into(record, cross.section.outline.area, cross.weakest.strength)
    return ShearOfProbableMoments(
        float(columns),
        ends[0],
        ends[1],
        float(capped),
        float(design),
        bool(capped >= design / 2 and least_axial < low),
    )
