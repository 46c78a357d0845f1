"""Cover by exposure: EN 1992-1-1, 4.4.1; and in fire: EN 1992-1-2, 5.3.2."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import ClassVar

import numpy as np
from numpy import maximum

from fexro.core.codes import Context
from fexro.core.codes.cover_checks import (
    cover_finding,
    cover_not_checked,
    fire_not_checked,
    fire_size_finding,
    largest_bar,
    least_axis_distance,
)
from fexro.core.codes.en1992_1_1.annex import UK, Annex
from fexro.core.codes.options import choice, flag, number, options_of
from fexro.core.codes.transverse_checks import limit_finding
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, length
from fexro.core.findings import number as plain
from fexro.core.provisions import Derivation, provision
from fexro.core.provisions.coefficient import MILLIMETRES, Coefficient
from fexro.core.quantities import Dimension, Length, Ratio
from fexro.core.section.section import Section
from fexro.core.section.shear import least_dimension

__all__ = [
    "CoverOptions",
    "cover_checks",
    "cover_to_links",
    "durable_cover",
    "fire_class",
    "least_cover",
    "nominal_cover",
    "structural_class",
]

NOT_GIVEN, NOT_ASKED = "not given", "not asked"
# Least cover for durability, mm, by exposure class and structural class S1 … S6 (Table 4.4N).
GROUPS = {
    "X0": (10, 10, 10, 10, 15, 20),
    "XC1": (10, 10, 10, 15, 20, 25),
    "XC2": (10, 15, 20, 25, 30, 35),
    "XC3": (10, 15, 20, 25, 30, 35),
    "XC4": (15, 20, 25, 30, 35, 40),
    "XD1": (20, 25, 30, 35, 40, 45),
    "XS1": (20, 25, 30, 35, 40, 45),
    "XD2": (25, 30, 35, 40, 45, 50),
    "XS2": (25, 30, 35, 40, 45, 50),
    "XD3": (30, 35, 40, 45, 50, 55),
    "XS3": (30, 35, 40, 45, 50, 55),
}
# fck from which the structural class is one less (Table 4.3N).
STRONG = {
    **dict.fromkeys(("X0", "XC1"), 30.0),
    **dict.fromkeys(("XC2", "XC3"), 35.0),
    **dict.fromkeys(("XC4", "XD1", "XD2", "XS1"), 40.0),
    **dict.fromkeys(("XD3", "XS2", "XS3"), 45.0),
}
LEAST = Coefficient(10, MILLIMETRES, Dimension.LENGTH)  # 4.4.1.2(2)
LARGE_AGGREGATE, MORE = 32.0, Coefficient(5, MILLIMETRES, Dimension.LENGTH)  # Table 4.2
GROUND = {"prepared ground": 40.0, "soil": 75.0}  # 4.4.1.3(4)
# Least width and axis distance, mm, by μfi 0.2, 0.5, 0.7; whether eight bars are asked
# (EN 1992-1-2, Table 5.2a). The last are of one side in fire, at 0.7.
Cell = tuple[tuple[tuple[float, float], ...], bool]
FIRE: dict[str, tuple[Cell | None, ...]] = {
    "R 30": (
        *((((200, 25),), False), (((200, 25),), False), (((200, 32), (300, 27)), False)),
        (((155, 25),), False),
    ),
    "R 60": (
        *((((200, 25),), False), (((200, 36), (300, 31)), False)),
        *((((250, 46), (350, 40)), False), (((155, 25),), False)),
    ),
    "R 90": (
        *((((200, 31), (300, 25)), False), (((300, 45), (400, 38)), False)),
        *((((350, 53), (450, 40)), True), (((155, 25),), False)),
    ),
    "R 120": (
        *((((250, 40), (350, 35)), False), (((350, 45), (450, 40)), True)),
        *((((350, 57), (450, 51)), True), (((175, 35),), False)),
    ),
    "R 180": (
        *((((350, 45),), True), (((350, 63),), True), (((450, 70),), True)),
        (((230, 55),), False),
    ),
    "R 240": ((((350, 61),), True), (((450, 75),), True), None, (((295, 70),), False)),
}
LOADS = (0.2, 0.5, 0.7)
LONGEST, MOST_ECCENTRIC, MOST_STEEL = 3000.0, 0.15, 0.04  # mm, of h, of Ac (5.3.2(2))
EIGHT = 8  # bars


@dataclass(frozen=True)
class CoverOptions:
    """What a column is exposed to.

    Attributes:
        exposure_class: of the concrete; cover is not checked where it is not given.
        cast_against: what the concrete is cast against (4.4.1.3(4)).
        working_life: of the design, years.
        deviation: Δcdev, mm.
        special_quality: whether the making of the concrete is specially controlled (Table 4.3N).
        fire_class: fire resistance that is asked for.
        fire_sides: on which sides it is in fire.
        eta_fi: reduction factor of the loads in fire, which stands for μfi.
    """

    TITLE: ClassVar[str] = "Exposure and fire"

    exposure_class: str = choice("Exposure class", NOT_GIVEN, *GROUPS)
    cast_against: str = choice("Cast against", "forms", *GROUND)
    working_life: str = choice("Working life, years", "50", "100")
    deviation: float = number("Δcdev, mm", 10.0, 0.0, 20.0)
    special_quality: bool = flag("Special quality control", default=False)
    fire_class: str = choice("Fire resistance class", NOT_ASKED, *FIRE)
    fire_sides: str = choice("In fire on", "all sides", "one side")
    eta_fi: float = number("ηfi, loads in fire", 0.7, 0.2, 0.7)


@provision("4.4.1.2(5)", symbol="S")
def structural_class(S_0: Ratio, S_life: Ratio, S_strength: Ratio, S_quality: Ratio) -> Ratio:
    """Structural class, of what raises and what lowers it, 1 at least."""
    return maximum(S_0 + S_life - S_strength - S_quality, 1)


@provision("4.4.1.2(2), (4.2)", symbol="c_min")
def least_cover(c_min_b: Length, c_min_dur: Length) -> Length:
    """Least cover, for bond and for durability."""
    return maximum(maximum(c_min_b, c_min_dur), LEAST)


@provision("4.4.1.1(2), (4.1)", symbol="c_nom")
def nominal_cover(c_min: Length, Delta_c_dev: Length) -> Length:
    """Cover that is drawn: the least with what execution may lack."""
    return c_min + Delta_c_dev


@provision("4.4.1", symbol="c_links")
def cover_to_links(c_nom_link: Length, c_nom_bar: Length, phi_link: Length) -> Length:
    """Cover to links, of which that of the bars inside is part."""
    return maximum(c_nom_link, c_nom_bar - phi_link)


def durable_cover(exposure: str, structural: float) -> float:
    """Return the least cover for durability, mm (Table 4.4N)."""
    return float(GROUPS[exposure][int(min(max(structural, 1), 6)) - 1])


def cover_checks(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check cover by exposure (4.4.1), and size and axis distance by fire class (Table 5.2a)."""
    options = options_of(CoverOptions, facts.options, others=True)
    return [*_by_exposure(annex, options, facts), *_by_fire(options, facts, context)]


def _by_exposure(annex: Annex, options: CoverOptions, facts: ColumnFacts) -> Sequence[Finding]:
    if options.exposure_class == NOT_GIVEN:
        return [cover_not_checked("4.4.1", "no exposure class is chosen")]
    if annex is UK:
        why = "the annex asks for its own tables of concrete and cover, which are not here"
        return [cover_not_checked("4.4.1", why)]
    section = facts.section
    link = section.ties.size.diameter

    def least(record: Derivation | None) -> float:
        exposure = options.exposure_class
        strong = facts.cross_section.weakest.strength >= STRONG[exposure]
        structural = structural_class.into(
            record,
            4.0,
            2.0 if options.working_life == "100" else 0.0,
            float(strong),
            float(options.special_quality),
        )
        durable = durable_cover(exposure, float(structural))
        if record is not None:
            record.given("c_min_dur", durable, Dimension.LENGTH, f"Table 4.4N, {exposure}")
        found = []
        for name, diameter in (("link", link), ("bar", largest_bar(section))):
            bond = diameter + (MORE if facts.aggregate > LARGE_AGGREGATE else 0.0)
            smallest = least_cover.named(c_min=f"c_min_{name}", c_min_b=f"c_min_b_{name}").into(
                record, bond, durable
            )
            nominal = nominal_cover.named(c_nom=f"c_nom_{name}", c_min=f"c_min_{name}")
            found.append(nominal.into(record, smallest, options.deviation))
        of_links, of_bars = found
        asked = float(cover_to_links.into(record, of_links, of_bars, link))
        ground = GROUND.get(options.cast_against, 0.0)
        if record is not None and ground:
            told = f"4.4.1.3(4), against {options.cast_against}"
            record.given("c_ground", ground, Dimension.LENGTH, told)
        return max(asked, ground)

    def derive() -> Derivation:
        record = Derivation()
        least(record)
        return record

    return [cover_finding("4.4.1", section.cover, least(None), "links", derive)]


def fire_class(name: str, load: float, width: float) -> tuple[float, float, bool] | None:
    """Return least width and axis distance, mm, and whether eight bars are asked for.

    Straight between the loads and between the pairs of the table; nothing where it has no values.

    Args:
        name: class, such as R 90.
        load: μfi, 0.2 to 0.7.
        width: of the column, mm.
    """
    cells = FIRE[name][: len(LOADS)]
    high = int(np.clip(np.searchsorted(LOADS, load), 1, len(LOADS) - 1))
    share = (load - LOADS[high - 1]) / (LOADS[high] - LOADS[high - 1])
    low_cell, high_cell = cells[high - 1], cells[high]
    used = [(low_cell, 1 - share), (high_cell, share)]
    used = [(cell, weight) for cell, weight in used if weight > 0]
    if any(cell is None for cell, _ in used):
        return None
    least = distance = 0.0
    eight = False
    for cell, weight in used:
        assert cell is not None
        pairs, many = cell
        widths, distances = zip(*pairs, strict=True)
        least += weight * widths[0]
        distance += weight * float(np.interp(width, widths, distances))
        eight |= many
    return least, distance, eight


def _by_fire(options: CoverOptions, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    if options.fire_class == NOT_ASKED:
        return []
    section = facts.section
    reasons = _outside(facts, context)
    width, load = least_dimension(section), options.eta_fi
    one_side = options.fire_sides == "one side"
    asked: tuple[float, float, bool] | None
    if one_side:
        cell = FIRE[options.fire_class][-1]
        assert cell is not None
        asked = (*cell[0][0], cell[1])
    else:
        asked = fire_class(options.fire_class, load, width)
    if asked is None:
        reasons.append(f"Table 5.2a has nothing for {options.fire_class} at ηfi {load:g}")
    if reasons or asked is None:
        return [fire_not_checked("EN 1992-1-2, 5.3.2", reasons)]
    least, distance, eight = asked
    count = len(section.bars)

    def derive() -> Derivation:
        record = Derivation()
        sides = f"{options.fire_class}, in fire on {options.fire_sides}"
        record.note(f"{sides}; tabulated data, method A; ηfi stands for μfi, no more than it.")
        record.given("mu_fi", 0.7 if one_side else load, Dimension.RATIO, "ηfi")
        record.given("b_min", least, Dimension.LENGTH, "EN 1992-1-2, Table 5.2a")
        record.given("a_min", distance, Dimension.LENGTH, "EN 1992-1-2, Table 5.2a")
        record.note("Effective length in fire: half of the storey height, as it is braced.")
        record.note("Eccentricities are those of the forces as they are cold.")
        return record

    clause = "EN 1992-1-2, Table 5.2a"
    found = [
        fire_size_finding(clause, width, least, derive),
        limit_finding(
            *("Axis distance in fire", "fire", clause),
            length(least_axis_distance(section)),
            length(distance),
            "Axis distance of the bars {found}; {limit} required in fire.",
            derive,
            at_least=True,
        ),
    ]
    if eight:
        found.append(
            limit_finding(
                *("Number of bars in fire", "fire", clause),
                plain(count),
                plain(EIGHT),
                "{found} bars; {limit} required in fire.",
                derive,
                at_least=True,
            )
        )
    return found


def _outside(facts: ColumnFacts, context: Context) -> list[str]:
    """Return why the tabulated data do not hold for a column."""
    section, reasons = facts.section, []
    if section.steel:
        reasons.append("structural steel inside is another table")
    if not _plain(section):
        reasons.append("the table is for rectangles and circles")
    if any(about.sway == "sway" for about in (facts.about_x, facts.about_y)):
        reasons.append("the table is for braced columns")
    longest = max(about.storey for about in (facts.about_x, facts.about_y))
    if longest / 2 > LONGEST:
        reasons.append("its effective length in fire is more than 3 m")
    if section.bars.total_area >= MOST_STEEL * section.outline.area:
        reasons.append("it has 4 % of bars or more")
    rows = context.actions.axial_bending.reshape(-1, 3)
    x0, y0, x1, y1 = section.outline.bounds
    for column, depth in ((1, y1 - y0), (2, x1 - x0)):
        pressed = rows[rows[:, 0] > 0]
        if (
            len(pressed)
            and (np.abs(pressed[:, column]) > MOST_ECCENTRIC * depth * pressed[:, 0]).any()
        ):
            reasons.append(f"its eccentricity is more than 0.15 of {depth:g} mm")
    if (rows[:, 0] <= 0).any():
        reasons.append("it has combinations in tension")
    return reasons


def _plain(section: Section) -> bool:
    return section.round or (section.outline.convex and len(section.outline.rings) == 1)
