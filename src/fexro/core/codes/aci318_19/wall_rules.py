"""Checks of panels of walls: ACI 318-19, chapter 11 and 22.9."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import ClassVar

import numpy as np

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.cover import CoverOptions
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.codes.aci318_19.special_walls import SpecialBars, special_bars
from fexro.core.codes.aci318_19.wall_bars import WallBars, WallMesh, wall_bars
from fexro.core.codes.aci318_19.wall_shear import PHI, WallShear, wall_shear
from fexro.core.codes.cover_checks import cover_finding, cover_not_checked
from fexro.core.codes.options import choice, number, options_of
from fexro.core.codes.transverse_checks import limit_finding, no_shear_finding, noted
from fexro.core.codes.wall_checks import (
    LegShears,
    leg_name,
    leg_shear_finding,
    legs_alike,
    panel_of,
    placed_by_hand_findings,
    taken_for_granted,
    torsion_findings,
    worst,
    worst_of_legs,
    write_leg,
)
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension

__all__ = [
    "WallOptions",
    "aspect_of",
    "bars_of_panel",
    "detailing",
    "is_special",
    "panel_cover",
    "panel_thickness",
    "shear_of_panel",
    "special_bars_of_leg",
    "vertical_ratio",
]

LARGE_FOR_COVER = 35.8  # mm, No. 36 [#11] (20.5.1.3.1)
WEAK_FLOORS = 0.2  # of f'c Ag, from which the concrete of floors counts (11.2.4.2)
NEEDS_TIES = 0.01  # of the section (11.7.4.1)


@dataclass(frozen=True)
class WallOptions:
    """What walls rest on.

    Attributes:
        wall_joint: how the concrete of construction joints is made (22.9.4.2).
        drift_x, drift_y: design displacement δu of the top of the walls along x and y of the plan,
            over the height above the critical section; 0 where boundary elements go by stress.
    """

    TITLE: ClassVar[str] = "Walls"

    wall_joint: str = choice("Construction joints of walls", "roughened", "not roughened")
    drift_x: float = number("δu/hwcs along x; 0: by stress", 0.0, 0.0, 0.05)
    drift_y: float = number("δu/hwcs along y; 0: by stress", 0.0, 0.0, 0.05)


share = partial(Term, dimension=Dimension.SHARE)


def is_special(facts: ColumnFacts) -> bool:
    """Tell whether a panel is part of special structural walls."""
    return facts.ductility == "high"


def panel_thickness(edition: Edition, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the thickness of a panel (11.3.1.1); strength and stability are analysed beside it."""
    panel = panel_of(facts)
    found = []
    for number_of, leg in legs_alike(panel):
        limit = _bars(None, edition, facts, number_of, 0.0).least_thickness
        name = leg_name(panel, number_of)
        finding = limit_finding(
            *(f"Thickness{name}", "thickness", "11.3.1.1"),
            length(leg.thickness),
            length(limit),
            f"Thickness{name} {{found}}; {{limit}} by the table, unless analysis shows strength"
            " and stability.",
            partial(_derive_bars, edition, facts, number_of, 0.0),
            at_least=True,
        )
        # With analysis of strength and second-order effects, thinner walls are allowed.
        late = finding.state is State.EXCEEDED
        found.append(replace(finding, state=State.ATTENTION) if late else finding)
    return worst(found)


def _mesh(facts: ColumnFacts, edition: Edition) -> WallMesh:
    panel = panel_of(facts)
    sizes = [facts.section.ties.size.diameter]
    sizes.append(
        float(facts.section.bars.diameter.max()) if panel.web is None else panel.web.diameter
    )
    small = max(sizes) <= edition.walls.small_bar * (1 + 1e-6)
    # Both directions are of Grade 420 [60] in the row of small bars of Table 11.6.1.
    small &= facts.steel.yield_strength >= edition.walls.grades[0] * (1 - 1e-6)
    return WallMesh("cast in place", "bars", small, facts.transverse_steel.yield_strength)


def horizontal_ratio(facts: ColumnFacts, leg: int) -> float:
    """Return ρt of a leg: its horizontal bars over its vertical section."""
    panel, ties = panel_of(facts), facts.section.ties
    return panel.curtains * ties.size.area / (ties.spacing * panel.legs.legs[leg].thickness)


def vertical_ratio(facts: ColumnFacts, leg: int) -> float:
    """Return ρℓ of a leg: of the bars of its curtains, or of all bars over the whole section."""
    panel = panel_of(facts)
    if panel.web is None:
        return facts.section.bars.total_area / facts.section.outline.area
    web = panel.web
    return web.curtains * web.area / (web.spacing * panel.legs.legs[leg].thickness)


def _bars(
    record: Derivation | None, edition: Edition, facts: ColumnFacts, leg: int, shear: float
) -> WallBars:
    panel = panel_of(facts)
    concrete = facts.cross_section.weakest
    return wall_bars(
        record,
        edition,
        (panel.legs.legs[leg].thickness, panel.legs.lengths[leg], panel.height),
        (concrete.strength, lightness(None, edition, concrete)),
        _mesh(facts, edition),
        horizontal_ratio(facts, leg),
        shear,
        unsupported=min(facts.clear_height, panel.legs.lengths[leg]),
        aspects=(aspect_of(facts, leg), panel.height / panel.lengths[leg]),
    )


def _derive_bars(edition: Edition, facts: ColumnFacts, leg: int, shear: float) -> Derivation:
    record, panel = Derivation(), panel_of(facts)
    record.note(f"Leg {leg + 1} of {len(panel.legs.legs)}.")
    record.given("h", panel.legs.legs[leg].thickness, Dimension.LENGTH, "thickness")
    record.given("ell_w", panel.legs.lengths[leg], Dimension.LENGTH, "length of the leg")
    record.given("h_w", panel.height, Dimension.LENGTH, "height of the wall")
    record.given("V_u", shear, Dimension.FORCE, "largest shear of the leg")
    _write_ratios(record, facts, leg)
    _bars(record, edition, facts, leg, shear)
    return record


def _write_ratios(record: Derivation, facts: ColumnFacts, leg: int) -> None:
    ties, panel = facts.section.ties, panel_of(facts)
    told = f"{panel.curtains} × {ties.size.name} at {ties.spacing:.0f} mm across the leg"
    record.given("rho_t", horizontal_ratio(facts, leg), Dimension.RATIO, told)
    told = "all bars over the section" if panel.web is None else "the bars of the curtains"
    record.given("rho_l", vertical_ratio(facts, leg), Dimension.RATIO, told)


def bars_of_panel(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check ratios, spacings and curtains of the bars of a panel (11.6, 11.7, 18.10.2)."""
    shears, panel = LegShears.of(facts, context.actions), panel_of(facts)
    largest = shears.shears.max(axis=0, initial=0.0)
    found: list[list[Finding]] = []
    for leg, _ in legs_alike(panel):
        same = [
            n
            for n, other in enumerate(panel.legs.legs)
            if other.thickness == panel.legs.legs[leg].thickness
            and abs(panel.legs.lengths[n] - panel.legs.lengths[leg]) < 1e-3
        ]
        found.append(
            _bars_of_leg(edition, facts, max(same, key=lambda n: float(largest[n])), shears)
        )
    return [
        *worst_of_legs(found),
        *placed_by_hand_findings("11.7.2", panel),
        *_ties_of_bars(facts),
    ]


def _bars_of_leg(
    edition: Edition, facts: ColumnFacts, leg: int, shears: LegShears
) -> list[Finding]:
    panel, ties = panel_of(facts), facts.section.ties
    shear = float(shears.shears[:, leg].max(initial=0.0))
    bars, name = _bars(None, edition, facts, leg, shear), leg_name(panel, leg)
    derive: Callable[[], Derivation] = partial(_derive_bars, edition, facts, leg, shear)
    least_v, least_h, clause = bars.least_vertical, bars.required_horizontal, "11.6"
    two = bars.two_curtains
    if is_special(facts):
        special = special_bars_of_leg(None, edition, facts, leg, shears)
        two, clause = two or special.two_curtains, "18.10.2.1"
        if special.least is not None:
            least_v, least_h = max(least_v, special.least), max(least_h, special.least)
        if special.vertical_not_less:
            least_v = max(least_v, horizontal_ratio(facts, leg))
        derive = partial(_derive_special, edition, facts, leg, shears)
    found = [
        limit_finding(
            *(f"Horizontal bars{name}", "horizontal bars", clause),
            share(horizontal_ratio(facts, leg)),
            share(least_h),
            f"Horizontal bars{name} {{found}} of the concrete; {{limit}} required.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *(f"Vertical bars{name}", "vertical bars", clause),
            share(vertical_ratio(facts, leg)),
            share(least_v),
            f"Vertical bars{name} {{found}} of the concrete; {{limit}} required.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *(f"Spacing of horizontal bars{name}", "spacing", "11.7.3.1"),
            length(ties.spacing),
            length(bars.horizontal_spacing),
            f"Horizontal bars{name} at {{found}}; {{limit}} allowed.",
            derive,
        ),
        _curtains(facts, leg, two=two, derive=derive),
    ]
    if panel.web is not None:
        found.append(
            limit_finding(
                *(f"Spacing of vertical bars{name}", "spacing", "11.7.2.1"),
                length(panel.web.spacing),
                length(bars.vertical_spacing),
                f"Vertical bars{name} at {{found}}; {{limit}} allowed.",
                derive,
            )
        )
    return found


def _curtains(
    facts: ColumnFacts, leg: int, *, two: bool, derive: Callable[[], Derivation]
) -> Finding:
    panel = panel_of(facts)
    name = leg_name(panel, leg)
    single = panel.web is not None and panel.web.curtains == 1
    clause = "11.7.2.3, 18.10.2.2" if is_special(facts) else "11.7.2.3"
    wrong = two and single
    return Finding(
        *(f"Curtains{name}", "curtains", clause),
        State.EXCEEDED if wrong else State.SATISFIED,
        math.nan,
        "one; two required" if wrong else ("one" if single else "two"),
        f"One curtain of bars{name}; two are required.",
        derive=derive,
    )


def special_bars_of_leg(
    record: Derivation | None, edition: Edition, facts: ColumnFacts, leg: int, shears: LegShears
) -> SpecialBars:
    """Return what bars a leg of a special wall needs (18.10.2.1, 18.10.2.2, 18.10.2.4)."""
    panel, concrete = panel_of(facts), facts.cross_section.weakest
    one = panel.legs.legs[leg]
    shear = float(shears.shears[:, leg].max(initial=0.0))
    moment = float(shears.moments(leg).max(initial=0.0))
    return special_bars(
        record,
        edition,
        (one.thickness * panel.legs.lengths[leg], panel.lengths[leg], panel.height),
        (concrete.strength, lightness(None, edition, concrete), facts.steel.yield_strength),
        (shear, moment),
        single_section=panel.continuous,
        segment=panel.legs.lengths[leg],
    )


def _derive_special(
    edition: Edition, facts: ColumnFacts, leg: int, shears: LegShears
) -> Derivation:
    shear = float(shears.shears[:, leg].max(initial=0.0))
    record = _derive_bars(edition, facts, leg, shear)
    record.note("As part of special structural walls:")
    special_bars_of_leg(record, edition, facts, leg, shears)
    return record


def _ties_of_bars(facts: ColumnFacts) -> list[Finding]:
    """Tell where vertical bars that are needed in compression have to be tied (11.7.4.1)."""
    section = facts.section
    ratio = section.bars.total_area / section.outline.area
    if ratio <= NEEDS_TIES:
        return []
    return [
        Finding(
            *("Ties of vertical bars", "ties", "11.7.4.1", State.ATTENTION, math.nan),
            "{ratio} of the concrete",
            "bars are {ratio} of the concrete: where they are needed in compression they are to be"
            " tied; ties of the curtains are not checked.",
            {"ratio": share(ratio)},
            assumption=True,
            derive=noted("More than 1 % of the section are bars."),
        )
    ]


def detailing(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Tell what of the detailing of a panel is taken for granted."""
    panel, concrete = panel_of(facts), facts.cross_section.weakest
    told = []
    if any(clear < facts.height - 1.0 for clear in panel.clear):
        told.append(
            "Beside openings two bars of 16 mm (No. 5), one in walls with one curtain, reach past"
            " the corners by their development (11.7.5.1)."
        )
    if panel.above >= panel.height - 1.0:
        told.append("Dowels at the base have the least area of vertical bars (16.3.4.2).")
    rows = context.actions.forces[..., 0]
    if rows.size and rows.max() > WEAK_FLOORS * concrete.strength * facts.section.outline.area:
        told.append("Floors within the wall have 0.8 of the strength of its concrete (11.2.4.2).")
    if is_special(facts):
        told.append(
            "Vertical bars run 3.6 m (12 ft) past where bending needs them (18.10.2.3(a)), at most"
            " half of those at an end stop in one section (18.10.2.4(c))."
        )
        told.append(
            "Horizontal bars are hooked round the end bars, or lapped with U-bars (18.10.6.5); in"
            " boundary elements they are anchored within the core, and floors there have 0.7 of"
            " the strength of the wall (18.10.6.4)."
        )
    clause = "11.7.5, 18.10.2, 18.10.6" if is_special(facts) else "11.7.5, 16.3.4"
    return taken_for_granted(clause, told)


def shear_of_panel(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check shear in the plane of each leg of a wall that is not special (11.5.4)."""
    shears = LegShears.of(facts, context.actions)
    if shears.none_given:
        return [no_shear_finding("11.5.4")]
    if is_special(facts):
        return torsion_findings(shears)
    panel = panel_of(facts)
    each = [_leg_shear(None, edition, shears, leg) for leg in range(len(panel.legs.legs))]
    ratios = np.stack([one.ratio for one in each], axis=1)
    strengths = np.stack([PHI * one.strength for one in each], axis=1)

    def derive(leg: int, row: int) -> Derivation:
        record = Derivation()
        write_leg(record, shears, leg, row)
        _write_ratios(record, facts, leg)
        _leg_shear(record, edition, shears, leg, row)
        return record

    return [
        leg_shear_finding("11.5.4", shears, ratios, strengths, derive),
        *torsion_findings(shears),
    ]


def aspect_of(facts: ColumnFacts, leg: int) -> float:
    """Return hw/ℓw of a leg: the larger of that of its wall and its own beside openings."""
    panel = panel_of(facts)
    return max(panel.height / panel.lengths[leg], panel.clear[leg] / panel.legs.lengths[leg])


def _leg_shear(
    record: Derivation | None, edition: Edition, shears: LegShears, leg: int, row: int | None = None
) -> WallShear:
    facts = shears.facts
    panel, concrete = panel_of(facts), facts.cross_section.weakest
    return wall_shear(
        record,
        edition,
        (panel.legs.legs[leg].thickness, panel.legs.lengths[leg], aspect_of(facts, leg)),
        (concrete.strength, lightness(record, edition, concrete)),
        (horizontal_ratio(facts, leg), facts.transverse_steel.yield_strength),
        shears.of_leg(leg, row),
    )


def panel_cover(edition: Edition, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the cover to the horizontal bars of a panel by its exposure (20.5.1.3.1)."""
    options = options_of(CoverOptions, facts.options, others=True)
    if options.exposure == "not given":
        return [cover_not_checked("20.5.1.3.1", "no exposure is chosen")]
    given = edition.walls.cover
    diameter = facts.section.ties.size.diameter
    large = diameter >= edition.cover.large
    name = "weather large" if options.exposure == "weather" and large else options.exposure
    least = float(given[name])

    def derive() -> Derivation:
        record = Derivation()
        told = f"walls, {name}"
        record.given("c_min", least, Dimension.LENGTH, told)
        return record

    return [cover_finding("20.5.1.3.1", facts.section.cover, least, "horizontal bars", derive)]
