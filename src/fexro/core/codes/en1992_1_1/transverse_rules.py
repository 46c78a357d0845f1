"""Checks of links and of shear: EN 1992-1-1, 6.2 and 9.5.3."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from fexro.core.codes import Context
from fexro.core.codes.en1992_1_1 import shear as rules
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.links import link_limits
from fexro.core.codes.en1998_1.columns import DuctilityClass, critical_region
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import (
    no_shear_finding,
    same_steel_findings,
    shear_demands,
    shear_finding,
    size_finding,
    spacing_finding,
    transverse_of,
)
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding
from fexro.core.provisions import Derivation
from fexro.core.section.shear import largest_dimension
from fexro.core.section.ties import HeldRule
from fexro.core.transverse import Zone

__all__ = ["end_zone", "link_checks", "shear_checks"]


def end_zone(facts: ColumnFacts) -> float:
    """Return how far closer links reach from beams and slabs, mm (9.5.3(4)).

    In ductile columns as far as the critical regions do (EN 1998-1, 5.4.3.2.2(4), (5)).
    """
    usual = largest_dimension(facts.section)
    if facts.ductility == "low" or not facts.column:
        return usual
    ductility: DuctilityClass = "DCM" if facts.ductility == "medium" else "DCH"
    return max(usual, critical_region(facts.section, ductility, facts.clear_height))


def link_checks(held: HeldRule, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check size and spacing of links (9.5.3)."""
    cross, transverse = facts.cross_section, transverse_of(facts, held)
    limits = link_limits(None, cross, transverse)

    def derive() -> Derivation:
        record = Derivation()
        link_limits(record, cross, transverse)
        return record

    largest: dict[Zone, float] = {
        "middle": limits.largest,
        "end": limits.at_ends,
        "lap": limits.at_laps,
    }
    return [
        size_finding("Link", "9.5.3(1)", transverse.size.diameter, limits.least_size, derive),
        spacing_finding("Link", "9.5.3(3)–(4)", transverse, largest, derive),
    ]


def shear_checks(
    annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check shear in both directions (6.2)."""
    cross, transverse = facts.cross_section, transverse_of(facts, held)
    demands = shear_demands(context.actions, end_zone(facts) / facts.clear_height)
    if demands.none_given:
        return [no_shear_finding("6.2")] if len(demands.axial) else []
    names = ["along x", "along y"]
    if cross.section.round:
        demands, names = demands.resultant, ["resultant"]
    spacing = demands.spacing(transverse)
    options = options_of(rules.ShearOptions, facts.options, others=True)
    webs = [rules.shear_web(cross, axis, options.lever_arm) for axis in range(len(names))]

    def shear(record: Derivation | None, axis: int, at: int | slice) -> rules.Shear:
        demand = demands.axial[at], demands.along[axis, at], spacing[at]
        return rules.shear(record, annex, options, cross, transverse, axis, webs[axis], demand)

    def derive(at: int) -> Derivation:
        record, ratios = Derivation(), []
        for axis, name in enumerate(names):
            record.note(f"{name[0].upper()}{name[1:]}, {demands.places[at]}:")
            ratios.append(float(shear(record, axis, at).ratio))
        if len(ratios) > 1:
            rules.combined_ratio(record, options, *ratios)
        else:
            record.note(
                "No clause is about circles: a web of 0.9 D, and 0.85 of the links, are taken."
            )
        arm = f"{options.lever_arm:g} d"
        record.note(f"z is taken as {arm}, an approximation with axial force.")
        record.note("The tension that shear adds to the bars is not looked at further.")
        if cross.section.steel:
            record.note("Structural steel is not counted in shear.")
        return record

    found = [shear(None, axis, slice(None)) for axis in range(len(names))]
    ratios = [one.ratio for one in found]
    if len(found) > 1:
        both = rules.combined_ratio(None, options, *ratios)
        ratios.append(np.maximum(both, np.maximum(*ratios)))
    strengths = [one.resistance for one in found]
    return [
        *same_steel_findings(facts, "links"),
        shear_finding("6.2", context.actions, demands, ratios, strengths, derive),
    ]
