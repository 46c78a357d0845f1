"""Checks of wall piers of special walls: ACI 318-19, 18.10.8."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial

import numpy as np

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.coupling_beams import pier_kind
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.special_wall_rules import SpecialWall, probable
from fexro.core.codes.aci318_19.special_walls import Segment, SpecialShear, special_shear
from fexro.core.codes.aci318_19.wall_rules import aspect_of, horizontal_ratio, is_special
from fexro.core.codes.aci318_19.wall_shear import PHI
from fexro.core.codes.transverse_checks import limit_finding, with_earthquake
from fexro.core.codes.wall_checks import leg_name, panel_of
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, force, length, number, state_of_ratio
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Dimension, Force, Length, Moment
from fexro.core.strength.uniaxial import moments_in_sense

__all__ = ["pier_checks"]

LEVELS = 9  # axial forces at which the probable moments are sought


@provision("18.10.8.1(a), 18.7.6.1", symbol="V_e")
def pier_shear(M_pr: Moment, M_pr_other: Moment, h_w: Length) -> Force:
    """Shear of a pier whose ends have their probable moments."""
    return (M_pr + M_pr_other) / h_w


def pier_checks(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Tell by which rules each leg beside openings goes, and check straight piers (18.10.8)."""
    if not is_special(facts):
        return []
    panel = panel_of(facts)
    found: list[Finding] = []
    for leg, one in enumerate(panel.legs.legs):
        size = one.thickness, panel.legs.lengths[leg], panel.clear[leg]
        kind = pier_kind(size)
        if kind == "wall":
            continue
        told = (
            "by its proportions it goes by the rules of columns, 18.7.4 to 18.7.6"
            if kind == "pier: column rules"
            else "by its proportions it goes by the rules of columns or by 18.10.8.1(a) to (f)"
        )
        name = leg_name(panel, leg) or " of the panel"
        straight = len(panel.legs.legs) == 1 and kind != "pier: column rules"
        if straight and len(context.actions.combinations):
            found += _alternative(SpecialWall(edition, facts, context), size)
            continue
        found.append(
            Finding(
                *(f"Wall pier{name}", "pier", "18.10.8.1", State.NOT_CHECKED, math.nan),
                "ℓw/bw {aspect}, hw/ℓw {slender}",
                f"wall pier{name}: {told}; its hoops are not checked.",
                {"aspect": number(size[1] / size[0]), "slender": number(size[2] / size[1])},
                derive=partial(_derive, size),
            )
        )
    return found


def _alternative(wall: SpecialWall, size: tuple[float, float, float]) -> list[Finding]:
    """Check shear and hoops of a straight pier (18.10.8.1(a) to (e))."""
    facts, panel = wall.facts, panel_of(wall.facts)
    thickness, along, clear = size
    axis, ties = panel.legs.legs[0].axis, facts.section.ties
    rows = np.flatnonzero(wall.shears.seismic)
    axial = wall.shears.rows[rows, 0]
    strength = probable(wall.edition, facts.cross_section)
    levels = np.unique(np.linspace(axial.min(), axial.max(), LEVELS))
    # At one end one sense, at the other the other.
    both = [moments_in_sense(strength, 2 * (1 - axis) + sense, levels) for sense in (0, 1)]
    ends = float(both[0].max()), float(both[1].max())
    analysed = float(wall.shears.shears[rows, 0].max(initial=0.0))

    def of(record: Derivation | None) -> tuple[float, SpecialShear]:
        V_e = max(float(pier_shear.into(record, *ends, clear)), analysed)
        part = Segment(
            *(thickness, along, aspect_of(facts, 0), horizontal_ratio(facts, 0)),
            *(facts.transverse_steel.yield_strength, V_e, float(axial.min())),
        )
        return V_e, special_shear(record, wall.edition, wall.concrete, [part], V_e)

    shear, resisted = of(None)
    carried = PHI * float(resisted.segments[0].strength)
    ratio = shear / carried if carried > 0 else math.inf

    def derive() -> Derivation:
        record = _derive(size)
        record.note(with_earthquake(wall.context.actions))
        record.given("M_pr", ends[0], Dimension.MOMENT, "largest with the axial forces, 1.25 fy")
        record.given("M_pr,other", ends[1], Dimension.MOMENT, "likewise in the other sense")
        record.given("V_u", analysed, Dimension.FORCE, "of the analysis; Ve is not less")
        record.given("N_u", float(axial.min()), Dimension.FORCE, "the least")
        of(record)
        return record

    told = (
        "the horizontal bars of a pier have to be hoops, 300 mm (12 in) past its clear height, or"
        " have hooks of 180° where there is one curtain; they are taken to be."
    )
    return [
        Finding(
            *("Shear of the pier", "shear", "18.10.8.1(a), (b)", state_of_ratio(ratio), ratio),
            "{found} of {strength}",
            "Shear {found} of the pier with its probable moments; {strength} is resisted.",
            {"found": force(shear), "strength": force(carried)},
            resists=True,
            derive=derive,
        ),
        limit_finding(
            *("Hoop spacing of the pier", "spacing", "18.10.8.1(d)"),
            length(ties.spacing),
            length(float(wall.edition.walls.pier_hoops)),
            "Hoops of the pier at {found}; {limit} allowed.",
            partial(_derive, size),
        ),
        Finding(
            *("Hoops of the pier", "pier", "18.10.8.1(c), (e)", State.ATTENTION, math.nan),
            "taken to be",
            told,
            assumption=True,
            derive=partial(_derive, size),
        ),
    ]


def _derive(size: tuple[float, float, float]) -> Derivation:
    record = Derivation()
    record.given("b_w", size[0], Dimension.LENGTH, "thickness")
    record.given("ell_w", size[1], Dimension.LENGTH, "length")
    record.given("h_w", size[2], Dimension.LENGTH, "clear height beside openings")
    record.note("A pier: h_w/ℓ_w of 2.0 or more and ℓ_w/b_w of 6.0 or less; as a column up to 2.5.")
    return record
