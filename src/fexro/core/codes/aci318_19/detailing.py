"""Longitudinal reinforcement: ACI 318-19, 10.6, 10.7 and 25.2."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from numpy import maximum

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.composite import composite_ratio
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.detailing import bar_count_finding, clear_spacing_finding
from fexro.core.codes.laps import lap_finding
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State
from fexro.core.provisions import Case, Derivation, Term, provision, select
from fexro.core.quantities import Area, Dimension, Length, Ratio

__all__ = [
    "LARGEST_RATIO",
    "LEAST_RATIO",
    "bar_count",
    "bar_ratio",
    "clear_spacing",
    "laps",
    "least_bars",
    "least_clear_spacing",
    "reinforcement_ratio",
]

LEAST_RATIO, LARGEST_RATIO = 0.01, 0.08  # 10.6.1.1


@provision("10.6.1.1", symbol="rho_g")
def reinforcement_ratio(A_st: Area, A_g: Area) -> Ratio:
    """Longitudinal reinforcement over gross area."""
    return A_st / A_g


@provision("10.7.3.1", symbol="n_min")
def least_bars(transverse: Case) -> Ratio:
    """Least number of longitudinal bars."""
    return select(transverse, ties=4, spiral=6)


@provision("25.2.3", symbol="s_min")
def least_clear_spacing(s_0: Length, d_b: Length, d_agg: Length) -> Length:
    """Least clear spacing of longitudinal bars."""
    return maximum(maximum(s_0, 1.5 * d_b), 4 * d_agg / 3)


def bar_ratio(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the ratio of longitudinal reinforcement (10.6.1.1)."""
    section = facts.section
    clause = "10.6.1.2" if section.steel else "10.6.1.1"

    def ratio(record: Derivation | None = None) -> float:
        areas = section.bars.total_area, section.outline.area
        if section.steel:
            return float(composite_ratio.into(record, *areas, section.steel_area))
        return float(reinforcement_ratio.into(record, *areas))

    def derive() -> Derivation:
        record = Derivation()
        ratio(record)
        record.note("Allowed: 0.01 to 0.08.")
        return record

    rho = ratio()
    inside = LEAST_RATIO <= rho <= LARGEST_RATIO
    share = partial(Term, dimension=Dimension.SHARE)
    return [
        Finding(
            "Bar ratio",
            "bar ratio",
            clause,
            State.SATISFIED if inside else State.EXCEEDED,
            rho / LARGEST_RATIO if rho >= LEAST_RATIO else LEAST_RATIO / rho,
            "{found} of {least} to {largest}",
            "Bar ratio {found}; {least} to {largest} allowed.",
            {"found": share(rho), "least": share(LEAST_RATIO), "largest": share(LARGEST_RATIO)},
            derive=derive,
        )
    ]


def laps(edition: Edition, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check bars where they are lapped (10.6.1.1, 25.2.3)."""

    def least(diameter: Length, record: Derivation | None) -> Length:
        return least_clear_spacing.into(record, edition.least_spacing, diameter, facts.aggregate)

    return lap_finding(facts, "10.6.1.1, 25.2.3", LARGEST_RATIO, least)


def bar_count(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the number of bars (10.7.3.1)."""

    def least(record: Derivation | None) -> float:
        return float(least_bars.into(record, facts.section.ties.kind))

    return [bar_count_finding(facts, "10.7.3.1", least)]


def clear_spacing(edition: Edition, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the clear spacing of bars (25.2.3)."""

    def least(diameter: Length, record: Derivation | None) -> Length:
        return least_clear_spacing.into(record, edition.least_spacing, diameter, facts.aggregate)

    return [clear_spacing_finding(facts, "25.2.3", least)]
