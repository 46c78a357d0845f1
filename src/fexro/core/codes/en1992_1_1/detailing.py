"""Bars: EN 1992-1-1, 8.2 and 9.5.2."""

from __future__ import annotations

from collections.abc import Sequence

from numpy import maximum, sqrt

from fexro.core.codes import Context
from fexro.core.codes.detailing import bar_count_finding, clear_spacing_finding
from fexro.core.codes.en1992_1_1 import materials
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.laps import lap_finding
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length
from fexro.core.provisions import Derivation, Term, provision
from fexro.core.provisions.coefficient import MILLIMETRES, Coefficient
from fexro.core.quantities import Area, Dimension, Force, Length, Ratio, Stress

__all__ = [
    "LEAST_BARS_ROUND",
    "bar_area",
    "bar_count",
    "bar_diameter",
    "bundles",
    "clear_spacing",
    "equivalent_diameter",
    "laps",
    "largest_reinforcement",
    "least_clear_of_laps",
    "least_clear_spacing",
    "least_reinforcement",
]

LEAST_BARS_ROUND = 4  # 9.5.2(4)
LARGEST_BUNDLE = 55.0  # mm, 8.9.1(2)
LEAST_SPACING = Coefficient(20, MILLIMETRES, Dimension.LENGTH)  # 8.2(2)


@provision("8.2(2)", symbol="s_min")
def least_clear_spacing(k_1: Ratio, phi: Length, d_g: Length, k_2: Length) -> Length:
    """Least clear distance between bars."""
    return maximum(maximum(k_1 * phi, d_g + k_2), LEAST_SPACING)


@provision("8.9.1(2), (8.14)", symbol="phi_n")
def equivalent_diameter(phi: Length, n_b: Ratio) -> Length:
    """Diameter of one bar with the area of a bundle."""
    return phi * sqrt(n_b)


@provision("9.5.2(2), (9.12N)", symbol="A_s,min")
def least_reinforcement(k_N: Ratio, N_Ed: Force, f_yd: Stress, k_A: Ratio, A_c: Area) -> Area:
    """Least longitudinal reinforcement."""
    return maximum(k_N * N_Ed / f_yd, k_A * A_c)


@provision("9.5.2(3)", symbol="A_s,max")
def largest_reinforcement(rho_max: Ratio, A_c: Area) -> Area:
    """Largest longitudinal reinforcement outside laps."""
    return rho_max * A_c


def bar_area(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check the area of longitudinal reinforcement (9.5.2(2)–(3))."""
    area, outline = facts.section.bars.total_area, facts.section.outline.area
    axial = float(context.demands.rows[:, 0].max(initial=0.0))

    def calculate(record: Derivation | None = None) -> tuple[float, float]:
        f_yd = materials.steel_design_strength.into(
            record, facts.steel.yield_strength, annex.gamma_s
        )
        least = least_reinforcement.into(
            record, annex.axial_share, axial, f_yd, annex.area_share, outline
        )
        largest = largest_reinforcement.into(record, annex.largest_ratio, outline)
        return float(least), float(largest)

    def derive() -> Derivation:
        record = Derivation()
        calculate(record)
        record.given("A_s", area, Dimension.AREA, "all bars; at laps twice the largest")
        return record

    least, largest = calculate()
    values = {"found": area, "least": least, "largest": largest}
    return [
        Finding(
            "Bar area",
            "bar area",
            "9.5.2(2)–(3)",
            State.SATISFIED if least <= area <= largest else State.EXCEEDED,
            area / largest if area >= least else least / area,
            "{found} of {least} to {largest}",
            "Reinforcement {found}; {least} to {largest} allowed.",
            {name: Term(value, Dimension.AREA) for name, value in values.items()},
            derive=derive,
        )
    ]


@provision("8.7.2(3)", symbol="s_min")
def least_clear_of_laps(phi: Length) -> Length:
    """Least clear distance between neighbouring laps."""
    return maximum(2 * phi, LEAST_SPACING)


def laps(annex: Annex, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check bars where they are lapped (8.7.2(3), 9.5.2(3))."""

    def least(diameter: Length, record: Derivation | None) -> Length:
        return least_clear_of_laps.into(record, diameter)

    return lap_finding(facts, "9.5.2(3), 8.7.2(3)", 2 * annex.largest_ratio, least)


def bar_diameter(annex: Annex, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the diameter of longitudinal bars (9.5.2(1))."""
    smallest, least = float(facts.section.bars.diameter.min()), annex.least_diameter

    def derive() -> Derivation:
        record = Derivation()
        record.given("phi", smallest, Dimension.LENGTH, "smallest bar")
        record.given("phi_min", least, Dimension.LENGTH, "of the annex")
        return record

    enough = smallest >= least
    return [
        Finding(
            "Bar diameter",
            "bar size",
            "9.5.2(1)",
            State.SATISFIED if enough else State.EXCEEDED,
            least / smallest,
            "{found} ≥ {least}" if enough else "{found} < {least}",
            "Bars of {found}; at least {least} required.",
            {"found": length(smallest), "least": length(least)},
            derive=derive,
        )
    ]


def bundles(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the equivalent diameter of bundles (8.9.1(2))."""
    bars, numbers = facts.section.bars, facts.section.bars.bundle
    if numbers is None:
        return []
    largest = float(bars.equivalent.max())

    def derive() -> Derivation:
        record = Derivation()
        bar = int(bars.equivalent.argmax())
        count = int((numbers == numbers[bar]).sum())
        equivalent_diameter.into(record, float(bars.diameter[bar]), count)
        record.given("phi_n,max", LARGEST_BUNDLE, Dimension.LENGTH, "8.9.1(2)")
        return record

    ratio = largest / LARGEST_BUNDLE
    return [
        Finding(
            "Bundles",
            "bundles",
            "8.9.1(2)",
            State.SATISFIED if ratio <= 1 else State.EXCEEDED,
            ratio,
            "φn {found} ≤ {largest}" if ratio <= 1 else "φn {found} > {largest}",
            "Bundles of an equivalent diameter of {found}; {largest} allowed.",
            {"found": length(largest), "largest": length(LARGEST_BUNDLE)},
            derive=derive,
        )
    ]


def bar_count(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the number of bars (9.5.2(4))."""
    section = facts.section
    least = LEAST_BARS_ROUND if section.round else section.corner_count or LEAST_BARS_ROUND

    def least_of(record: Derivation | None) -> float:
        if record is not None:
            source = "4 in a round section" if section.round else "one in each corner"
            record.given("n_min", least, Dimension.RATIO, f"{source}, 9.5.2(4)")
        return least

    return [bar_count_finding(facts, "9.5.2(4)", least_of)]


def clear_spacing(annex: Annex, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the clear spacing of bars (8.2(2))."""

    def least(diameter: Length, record: Derivation | None) -> Length:
        return least_clear_spacing.into(
            record, annex.spacing_factor, diameter, facts.aggregate, annex.spacing_margin
        )

    return [clear_spacing_finding(facts, "8.2(2)", least)]
