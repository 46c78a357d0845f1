"""Cover by exposure, ACI 318-19, 20.5.1, and by fire resistance, ACI 216.1 (sheet of the code)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import ClassVar

from numpy import maximum, minimum

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.edition import CoverNumbers, Edition
from fexro.core.codes.cover_checks import (
    cover_finding,
    cover_not_checked,
    fire_size_finding,
    largest_bar,
    least_axis_distance,
)
from fexro.core.codes.options import choice, options_of
from fexro.core.codes.transverse_checks import limit_finding
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, length
from fexro.core.provisions import Case, Derivation, provision, select
from fexro.core.quantities import Dimension, Length, Ratio
from fexro.core.section.shear import least_dimension

__all__ = [
    "CoverOptions",
    "cover_checks",
    "cover_to_ties",
    "fire_cover",
    "least_cover",
]

HOURS = (1.0, 1.5, 2.0, 3.0, 4.0)
NOT_ASKED = "not asked"
RATINGS = {f"{hours:g} h": hours for hours in HOURS}


@dataclass(frozen=True)
class CoverOptions:
    """What a column is exposed to.

    Attributes:
        exposure: of the concrete (20.5.1.3.1); cover is not checked where it is not given.
        fire_rating: hours of fire resistance.
        fire_aggregate: of the concrete, by which its size in fire is judged.
    """

    TITLE: ClassVar[str] = "Exposure and fire"

    exposure: str = choice("Exposure", "not given", "indoors", "weather", "ground")
    fire_rating: str = choice("Fire resistance", NOT_ASKED, *RATINGS)
    fire_aggregate: str = choice("Aggregate in fire", "siliceous", "carbonate", "sand-lightweight")


@provision("20.5.1.3.1", symbol="c_min")
def least_cover(exposure: Case, c_i: Length, c_w: Length, c_g: Length) -> Length:
    """Least cover of a bar of a column that is cast in place."""
    return select(exposure, indoors=c_i, weather_small_bar=c_i, weather_large_bar=c_w, ground=c_g)


@provision("20.5.1.3.1", symbol="c_ties")
def cover_to_ties(c_t: Length, c_b: Length, d_t: Length) -> Length:
    """Least cover to ties, of which that of the bars inside is part."""
    return maximum(c_t, c_b - d_t)


@provision("216.1", symbol="c_fire")
def fire_cover(t: Ratio, c_h: Length, c_max: Length) -> Length:
    """Least cover of main bars for hours of fire resistance."""
    return minimum(t * c_h, c_max)


def cover_checks(edition: Edition, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check cover by exposure (20.5.1.3.1), and cover and size by fire resistance (216.1)."""
    options = options_of(CoverOptions, facts.options, others=True)
    return [*_by_exposure(edition.cover, options, facts), *_by_fire(edition.cover, options, facts)]


def _by_exposure(
    numbers: CoverNumbers, options: CoverOptions, facts: ColumnFacts
) -> Sequence[Finding]:
    if options.exposure == "not given":
        return [cover_not_checked("20.5.1.3.1", "no exposure is chosen")]
    section = facts.section
    ties = section.ties.size.diameter

    def least(record: Derivation | None) -> float:
        found = []
        for name, diameter in (("c_t", ties), ("c_b", largest_bar(section))):
            case = options.exposure
            if case == "weather":
                case += " large bar" if diameter >= numbers.large else " small bar"
            named = least_cover.named(c_min=name)
            given = numbers.indoors, numbers.weather, numbers.ground
            found.append(named.into(record, case.replace(" ", "_"), *given))
        of_ties, of_bars = found
        return float(cover_to_ties.into(record, of_ties, of_bars, ties))

    def derive() -> Derivation:
        record = Derivation()
        record.note("Bars from {large} are large ones in the weather.", large=length(numbers.large))
        least(record)
        return record

    return [cover_finding("20.5.1.3.1", section.cover, least(None), "ties", derive)]


def _by_fire(numbers: CoverNumbers, options: CoverOptions, facts: ColumnFacts) -> Sequence[Finding]:
    if options.fire_rating == NOT_ASKED:
        return []
    hours, section = RATINGS[options.fire_rating], facts.section
    size = numbers.sizes[options.fire_aggregate][HOURS.index(hours)]
    cover = fire_cover(hours, *numbers.fire)
    main = least_axis_distance(section) - float(section.bars.diameter.min()) / 2

    def derive() -> Derivation:
        record = Derivation()
        told = f"{options.fire_aggregate} aggregate, {hours:g} h"
        record.given("b_fire", size, Dimension.LENGTH, f"216.1: least dimension, {told}")
        fire_cover.into(record, hours, *numbers.fire)
        record.note("Strengths above 83 MPa have further rules in 216.1, which are not checked.")
        return record

    return [
        fire_size_finding("216.1", least_dimension(section), size, derive),
        limit_finding(
            *("Cover in fire", "fire", "216.1"),
            length(main),
            length(float(cover)),
            "Cover of {found} to the main bars; {limit} required in fire.",
            derive,
            at_least=True,
        ),
    ]
