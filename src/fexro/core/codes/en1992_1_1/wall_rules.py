"""Checks of panels of walls: EN 1992-1-1, 6.2.3, 6.2.5 and 9.6."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import ClassVar

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.ductile_wall_rules import design_shears, write_design_shear
from fexro.core.codes.en1992_1_1.shear import ShearOptions
from fexro.core.codes.en1992_1_1.wall_shear import Surface, WallShear, joint_shear, wall_shear
from fexro.core.codes.en1992_1_1.walls import VerticalBars, is_wall, wall_bars
from fexro.core.codes.options import choice, options_of
from fexro.core.codes.transverse_checks import limit_finding, no_shear_finding, noted
from fexro.core.codes.wall_checks import (
    LegShears,
    bars_by_leg,
    leg_name,
    leg_shear_finding,
    legs_alike,
    panel_of,
    placed_by_hand_findings,
    taken_for_granted,
    torsion_findings,
    worst_of_legs,
    write_leg,
)
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length, number, stress
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension

__all__ = [
    "WallOptions",
    "bars_of_panel",
    "detailing",
    "joint_checks",
    "leg_shear",
    "proportions",
    "shear_of_panel",
]

DEPTH = 0.9  # of lw, the effective depth
share = partial(Term, dimension=Dimension.SHARE)


@dataclass(frozen=True)
class WallOptions:
    """What walls rest on.

    Attributes:
        wall_joint: surface of construction joints (6.2.5(2)).
    """

    TITLE: ClassVar[str] = "Walls"

    wall_joint: str = choice(
        "Construction joints of walls", "rough", "smooth", "very smooth", "indented"
    )


def proportions(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Tell which legs are columns by their proportions (9.6.1(1))."""
    panel = panel_of(facts)
    found = []
    for leg, one in legs_alike(panel):
        if is_wall(panel.legs.lengths[leg], one.thickness):
            continue
        name = leg_name(panel, leg) or " of the panel"
        found.append(
            Finding(
                *(f"Proportions{name}", "proportions", "9.6.1(1)", State.NOT_CHECKED, math.nan),
                "{found} times as long as thick",
                f"the length{name} is {{found}} times its thickness: it is a column by 9.5, whose"
                " rules are not checked.",
                {"found": number(panel.legs.lengths[leg] / one.thickness)},
                derive=noted("A wall is at least four times as long as thick."),
            )
        )
    return found


def bars_of_panel(facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check vertical and horizontal bars of a panel (9.6.2 to 9.6.4)."""
    panel = panel_of(facts)
    found = [_bars_of_leg(facts, leg) for leg, _ in legs_alike(panel)]
    return [*worst_of_legs(found), *placed_by_hand_findings("9.6.2(3)", panel)]


def _bars_of_leg(facts: ColumnFacts, leg: int) -> list[Finding]:
    panel, section = panel_of(facts), facts.section
    one, name, ties = panel.legs.legs[leg], leg_name(panel, leg), section.ties
    size = one.thickness, panel.legs.lengths[leg]
    web = panel.web
    curtains = panel.curtains
    vertical = VerticalBars(
        float(bars_by_leg(facts)[leg]),
        float(section.bars.diameter.min()),
        section.cover + ties.size.diameter,
    )
    limits = wall_bars(None, size, vertical)
    horizontal = curtains * ties.size.area / (ties.spacing * one.thickness)

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Leg {leg + 1} of {len(panel.legs.legs)}.")
        record.given("A_s,v", vertical.area, Dimension.AREA, "vertical bars of the leg")
        told = f"{curtains} × {ties.size.name} at {ties.spacing:.0f} mm across the leg"
        record.given("rho_h", horizontal, Dimension.RATIO, told)
        wall_bars(record, size, vertical)
        return record

    found = [
        limit_finding(
            *(f"Vertical bars{name}", "vertical bars", "9.6.2(1)"),
            Term(vertical.area, Dimension.AREA),
            Term(limits.least, Dimension.AREA),
            f"Vertical bars{name} {{found}}; {{limit}} required.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *(f"Most vertical bars{name}", "vertical bars", "9.6.2(1)"),
            Term(vertical.area, Dimension.AREA),
            Term(limits.largest, Dimension.AREA),
            f"Vertical bars{name} {{found}}; {{limit}} allowed.",
            derive,
        ),
        limit_finding(
            *(f"Horizontal bars{name}", "horizontal bars", "9.6.3(1)"),
            share(horizontal),
            share(limits.least_horizontal),
            f"Horizontal bars{name} {{found}} of the concrete; {{limit}} required.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *(f"Spacing of horizontal bars{name}", "spacing", "9.6.3(2)"),
            length(ties.spacing),
            length(limits.horizontal_spacing),
            f"Horizontal bars{name} at {{found}}; {{limit}} allowed.",
            derive,
        ),
        _linked(facts, leg, linked=limits.linked, derive_from=derive),
    ]
    if web is not None:
        found.append(
            limit_finding(
                *(f"Spacing of vertical bars{name}", "spacing", "9.6.2(3)"),
                length(web.spacing),
                length(limits.vertical_spacing),
                f"Vertical bars{name} at {{found}}; {{limit}} allowed.",
                derive,
            )
        )
    return found


def _linked(facts: ColumnFacts, leg: int, *, linked: bool, derive_from: object) -> Finding:
    name = leg_name(panel_of(facts), leg)
    told = f"vertical bars{name} are more than 2 % of it: links as of columns are not checked."
    return Finding(
        *(f"Links across{name}", "links", "9.6.4(1)"),
        State.NOT_CHECKED if linked else State.SATISFIED,
        math.nan,
        "not checked" if linked else "none asked for",
        told,
        derive=derive_from,  # type: ignore[arg-type]
    )


def detailing(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Tell what of the detailing of a panel is taken for granted."""
    told = ["Horizontal bars against cracks of restrained shrinkage (7.3) are not asked for."]
    if facts.ductility == "high":
        told.append(
            "Both grids of a web are joined by cross ties at about 500 mm (EN 1998-1, 5.5.3.4.5)."
        )
    return taken_for_granted("7.3, 9.6.3", told)


def leg_shear(
    record: Derivation | None, annex: Annex, shears: LegShears, leg: int, row: int | None = None
) -> WallShear:
    """Return the shear of a leg in all demands, or in one that is written.

    Args:
        record: what is written to, of one demand.
        annex: nationally determined data.
        shears: of the panel.
        leg: its number.
        row: of the one demand.
    """
    facts = shears.facts
    panel, section = panel_of(facts), facts.section
    options = options_of(ShearOptions, facts.options, others=True)
    one, along = panel.legs.legs[leg], panel.legs.lengths[leg]
    horizontal = panel.curtains * section.ties.size.area / section.ties.spacing
    steel = facts.transverse_steel
    return wall_shear(
        record,
        annex,
        (one.thickness, along, DEPTH * along),
        (facts.cross_section.weakest.strength, steel.yield_strength),
        (float(bars_by_leg(facts)[leg]) / 2, horizontal),
        shears.of_leg(leg, row),
        (options.nu1, options.alpha_cw),
    )


def shear_of_panel(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check shear in the plane of each leg (6.2.3), as amplified in ductile walls."""
    shears = design_shears(annex, facts, context)
    if shears.none_given:
        return [no_shear_finding("6.2.3")]
    panel, analysed = panel_of(facts), LegShears.of(facts, context.actions)
    each = [leg_shear(None, annex, shears, leg) for leg in range(len(panel.legs.legs))]
    # Without need of bars for it, concrete alone resists.
    strengths = np.stack(
        [np.where(one.needs_bars, one.resistance, one.concrete) for one in each], axis=1
    )
    with np.errstate(divide="ignore", invalid="ignore"):
        ratios = np.where(strengths > 0, shears.shears / strengths, np.inf)

    def derive(leg: int, row: int) -> Derivation:
        record = Derivation()
        write_leg(record, analysed, leg, row)
        if analysed.seismic[row]:
            write_design_shear(record, annex, facts, context, leg, row)
        leg_shear(record, annex, shears, leg, row)
        return record

    return [
        leg_shear_finding("6.2.3", shears, ratios, strengths, derive),
        *torsion_findings(shears),
    ]


def joint_checks(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check shear at the construction joint at the foot of a panel (6.2.5)."""
    shears = design_shears(annex, facts, context)
    if shears.none_given:
        return []
    panel, analysed = panel_of(facts), LegShears.of(facts, context.actions)
    options = options_of(WallOptions, facts.options, others=True)
    surface: Surface = options.wall_joint  # type: ignore[assignment]
    areas = bars_by_leg(facts)

    def of(
        record: Derivation | None, leg: int, row: int | None = None
    ) -> tuple[FloatArray, FloatArray, FloatArray]:
        one = panel.legs.legs[leg]
        found = joint_shear(
            record,
            annex,
            (one.thickness, panel.legs.lengths[leg]),
            (facts.cross_section.weakest.strength, facts.steel.yield_strength),
            surface,
            (float(areas[leg]), math.pi / 2),
            shears.of_leg(leg, row),
        )
        with np.errstate(divide="ignore", invalid="ignore"):
            ratio = np.where(found.resistance > 0, found.stress / found.resistance, np.inf)
        return ratio, found.stress, found.resistance

    each = [of(None, leg) for leg in range(len(panel.legs.legs))]
    ratios = np.stack([ratio for ratio, _, _ in each], axis=1)
    row, leg = (int(i) for i in np.unravel_index(int(ratios.argmax()), ratios.shape))
    combination, _ = shears.place(row)

    def derive() -> Derivation:
        record = Derivation()
        write_leg(record, analysed, leg, row)
        if analysed.seismic[row]:
            write_design_shear(record, annex, facts, context, leg, row)
        record.given("N_Ed", float(shears.axial[row, leg]), Dimension.FORCE, "share of the leg")
        of(record, leg, row)
        return record

    name = leg_name(panel, leg)
    return [
        replace(
            limit_finding(
                *(f"Construction joint{name}", "joint", "6.2.5"),
                stress(float(each[leg][1][row])),
                stress(float(each[leg][2][row])),
                f"Shear stress {{found}} at the joint{name} in {combination}; {{limit}} resisted.",
                derive,
            ),
            ratio=float(ratios[row, leg]),
            combination=combination,
            resists=True,
        )
    ]
