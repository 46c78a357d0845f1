"""Columns of intermediate moment frames: ACI 318-19, 18.4.3."""

from __future__ import annotations

from dataclasses import dataclass

from numpy import maximum, minimum, where

from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.facts import CrossSection
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Force, Length, Moment, Stress
from fexro.core.section.shear import largest_dimension, least_dimension
from fexro.core.transverse import Transverse

__all__ = [
    "HoopZone",
    "hoop_length",
    "hoop_zone",
    "intermediate_design_shear",
    "shear_of_moments",
]

BELOW = 1 - 1e-6  # by which a grade written in other units is not beyond its own limit
ROUNDING = 1e-3  # mm


@provision("18.4.3.1(a)", symbol="V_M")
def shear_of_moments(M_top: Moment, M_bottom: Moment, ell_u: Length) -> Force:
    """Shear of a column with moments at both ends."""
    return (M_top + M_bottom) / ell_u


@provision("18.4.3.1", symbol="V_u")
def intermediate_design_shear(V_M: Force, V_Omega: Force, V_analysis: Force) -> Force:
    """Design shear: the lesser of two, not below that of the analysis."""
    return maximum(minimum(V_M, V_Omega), V_analysis)


@provision("18.4.3.3", symbol="s_b")
def hoops_by_bars(f_y: Stress, f_1: Stress, d_b: Length) -> Length:
    """Largest spacing of hoops by the grade and size of the bars."""
    return where(f_y <= f_1, 8 * d_b, 6 * d_b)


@provision("18.4.3.3", symbol="s_abs")
def hoops_by_grade(f_y: Stress, f_1: Stress, s_1: Length, s_2: Length) -> Length:
    """Largest spacing of hoops by the grade of the bars alone."""
    return where(f_y <= f_1, s_1, s_2)


@provision("18.4.3.3", symbol="s_o")
def largest_hoop_spacing(s_b: Length, s_abs: Length, b: Length) -> Length:
    """Largest spacing of hoops, with the least dimension of the column."""
    return minimum(minimum(s_b, s_abs), b / 2)


@provision("18.4.3.3", symbol="ell_o")
def hoop_length(ell_u: Length, h: Length, ell_min: Length) -> Length:
    """Length of the zone of hoops from the face of a joint."""
    return maximum(maximum(ell_u / 6, h), ell_min)


@provision("18.4.3.4", symbol="s_1,max")
def first_hoop(s: Length) -> Length:
    """Largest distance of the first hoop from the face of the joint."""
    return s / 2


@dataclass(frozen=True)
class HoopZone:
    """Hoops at the ends of a column of an intermediate frame. Lengths in mm.

    Attributes:
        length: of the zone.
        by_bars, by_grade, by_section: largest spacing by each.
        largest: the least of these.
        close_enough: whether the hoops are.
        first: largest distance of the first hoop.
        first_enough: whether it is near enough; nothing where it is not known.
    """

    length: float
    by_bars: float
    by_grade: float
    by_section: float
    largest: float
    close_enough: bool
    first: float
    first_enough: bool | None


def hoop_zone(
    record: Derivation | None,
    edition: Edition,
    cross: CrossSection,
    transverse: Transverse,
    clear_height: float,
) -> HoopZone:
    """Return what is asked of the hoops at the ends of a column of an intermediate frame.

    Args:
        record: what is written to.
        edition: of the code.
        cross: section and materials.
        transverse: the hoops.
        clear_height: of the column, mm.
    """
    given, grade = edition.ductility, edition.laps.grades[0]
    section, f_y = cross.section, cross.steel.yield_strength * BELOW
    across = least_dimension(section)
    length = hoop_length.into(record, clear_height, largest_dimension(section), given.least_length)
    by_bars = hoops_by_bars.into(record, f_y, grade, float(section.bars.diameter.min()))
    by_grade = hoops_by_grade.into(record, f_y, grade, *given.hoop_spacing)
    largest = largest_hoop_spacing.into(record, by_bars, by_grade, across)
    spacing = transverse.at_ends
    first = first_hoop.into(record, spacing)
    return HoopZone(
        float(length),
        float(by_bars),
        float(by_grade),
        across / 2,
        float(largest),
        spacing <= largest + ROUNDING,
        float(first),
        None if transverse.first is None else transverse.first <= first + ROUNDING,
    )
