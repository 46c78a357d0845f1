"""Checks of ties, spirals and shear: ACI 318-19, 10.6.2, 10.7.6, 22.5 and 25.7."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.aci318_19 import shear as rules
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.intermediate_frames import hoop_length
from fexro.core.codes.aci318_19.ties import SpiralLimits, spiral_limits, tie_limits
from fexro.core.codes.transverse_checks import (
    first_tie_finding,
    no_shear_finding,
    same_steel_findings,
    shear_demands,
    shear_finding,
    size_finding,
    spacing_finding,
    square_spiral_finding,
    transverse_of,
    worst_of,
)
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length, state_of_ratio
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.shear import largest_dimension
from fexro.core.section.ties import HeldRule
from fexro.core.transverse import Transverse

__all__ = ["end_zone", "shear_checks", "tie_checks"]


def end_zone(edition: Edition, facts: ColumnFacts) -> float:
    """Return how far ties of end zones reach, mm: as far as hoops of an intermediate frame do.

    Nothing asks for end zones in an ordinary frame; those that are called out are taken so long.
    """
    largest = largest_dimension(facts.section)
    return float(hoop_length(facts.clear_height, largest, edition.ductility.least_length))


def tie_checks(
    edition: Edition, held: HeldRule, facts: ColumnFacts, _: Context
) -> Sequence[Finding]:
    """Check size and spacing of ties (25.7.2), or a spiral (25.7.3).

    Around a core of structural steel other rules hold.
    """
    transverse = transverse_of(facts, held)
    if transverse.spiral:
        if not facts.section.round:
            return [square_spiral_finding("25.7.3")]
        return _spiral(edition, facts, transverse)
    if facts.section.steel:
        return []
    given = edition, facts.cross_section, transverse, facts.aggregate
    limits = tie_limits(None, *given)

    def derive() -> Derivation:
        record = Derivation()
        tie_limits(record, *given)
        return record

    half = transverse.at_ends / 2

    def derive_first() -> Derivation:
        record = Derivation()
        record.given("s/2", half, Dimension.LENGTH, "10.7.6.2: of the spacing next to the slab")
        record.note("Ties are laid out with the first half a spacing from the slab, 50 mm at most.")
        return record

    found = [
        first_tie_finding("10.7.6.2", transverse, half, derive_first),
        size_finding("Tie", "25.7.2.2", transverse.size.diameter, limits.least_size, derive),
        spacing_finding(
            "Tie",
            "25.7.2.1",
            transverse,
            dict.fromkeys(transverse.spacings, limits.largest),
            derive,
        ),
    ]
    closest = min(transverse.spacings.values())
    if closest < limits.least - 1e-3:
        found.append(
            Finding(
                *("Ties too close", "tie spacing", "25.7.2.1", State.EXCEEDED),
                limits.least / closest,
                "{found} < {least}",
                "Ties at {found}; at least {least} for the aggregate to pass.",
                {"found": length(closest), "least": length(limits.least)},
                derive=derive,
            )
        )
    return found


def _spiral(edition: Edition, facts: ColumnFacts, transverse: Transverse) -> list[Finding]:
    given = edition, facts.cross_section, transverse, facts.aggregate
    limits = spiral_limits(None, *given)

    def derive() -> Derivation:
        record = Derivation()
        spiral_limits(record, *given)
        record.given("s_clear", limits.clear, Dimension.LENGTH, "clear between the turns")
        record.given("s_largest", limits.largest_clear, Dimension.LENGTH, "25.7.3.1")
        return record

    ratio = limits.least_ratio / limits.ratio
    size = transverse.size.diameter
    return [
        size_finding("Spiral", "25.7.3.2", size, edition.ties.spiral_diameter, derive),
        Finding(
            *("Spiral ratio", "spiral", "25.7.3.3", state_of_ratio(ratio), ratio),
            "{found} ≥ {least}" if ratio <= 1 else "{found} < {least}",
            "Spiral of {found} of the core; {least} required.",
            {
                "found": Term(limits.ratio, Dimension.SHARE),
                "least": Term(limits.least_ratio, Dimension.SHARE),
            },
            derive=derive,
        ),
        _pitch(limits, derive),
    ]


def _pitch(limits: SpiralLimits, derive: Callable[[], Derivation]) -> Finding:
    ratio = max(limits.clear / limits.largest_clear, limits.least_clear / limits.clear)
    return Finding(
        *("Clear pitch", "spiral", "25.7.3.1"),
        State.SATISFIED if limits.clear_allowed else State.EXCEEDED,
        ratio,
        "{found} of {least} to {largest}",
        "Clear pitch {found}; {least} to {largest} allowed.",
        {
            "found": length(limits.clear),
            "least": length(limits.least_clear),
            "largest": length(limits.largest_clear),
        },
        derive=derive,
    )


def shear_checks(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check shear in both directions (22.5), and the ties that it needs (10.6.2, 10.7.6.5)."""
    cross, transverse = facts.cross_section, transverse_of(facts, held)
    share = end_zone(edition, facts) / facts.clear_height
    demands = shear_demands(context.actions, share)
    if demands.none_given:
        return [no_shear_finding("22.5")] if len(demands.axial) else []
    names = ["along x", "along y"]
    if cross.section.round:
        demands, names = demands.resultant, ["resultant"]
    spacing = demands.spacing(transverse)

    def shear(record: Derivation | None, axis: int, at: int | slice) -> rules.OneWayShear:
        demand = demands.axial[at], demands.along[axis, at], spacing[at]
        return rules.one_way_shear(record, edition, cross, transverse, axis, demand)

    def derive(at: int) -> Derivation:
        record, ratios = Derivation(), []
        for axis, name in enumerate(names):
            record.note(f"{name[0].upper()}{name[1:]}, {demands.places[at]}:")
            ratios.append(float(shear(record, axis, at).ratio))
        if len(ratios) > 1:
            rules.two_directions(record, ratios[0], ratios[1])
        if cross.section.steel:
            record.note("Structural steel is not counted in shear.")
        return record

    found = [shear(None, axis, slice(None)) for axis in range(len(names))]
    ratios = [one.ratio for one in found]
    if len(found) > 1:
        ratios.append(rules.two_directions(None, ratios[0], ratios[1]).utilisation)
    strengths = [one.strength for one in found]
    return [
        *same_steel_findings(facts, "ties"),
        shear_finding("22.5", context.actions, demands, ratios, strengths, derive),
        *(
            finding
            for one, name in zip(found, names, strict=True)
            for finding in _ties_for_shear(one, name, spacing, derive)
        ),
    ]


def _ties_for_shear(
    one: rules.OneWayShear,
    name: str,
    spacing: FloatArray,
    derive: Callable[[int], Derivation],
) -> list[Finding]:
    """Return the checks of the ties that shear needs, where it needs any."""
    needs = one.needs_ties
    found = []
    with np.errstate(invalid="ignore"):
        at = worst_of(spacing / one.largest_spacing, needs)
    if at is not None:
        allowed, there = float(one.largest_spacing[at]), float(spacing[at])
        fits = bool(one.close_enough[at])
        found.append(
            Finding(
                f"Tie spacing for shear {name}",
                "ties for shear",
                "10.7.6.5.2",
                State.SATISFIED if fits else State.EXCEEDED,
                there / allowed,
                "{found} ≤ {largest}" if fits else "{found} > {largest}",
                f"Ties at {{found}}; {{largest}} allowed for the shear {name}.",
                {"found": length(there), "largest": length(allowed)},
                derive=partial(derive, at),
            )
        )
    at = worst_of(one.least_ties / one.tie_area, needs)
    if at is not None:
        least = float(one.least_ties[at])
        fits = bool(one.enough_ties[at])
        found.append(
            Finding(
                f"Least ties for shear {name}",
                "ties for shear",
                "10.6.2.2",
                State.SATISFIED if fits else State.EXCEEDED,
                least / one.tie_area,
                "{found} ≥ {least}" if fits else "{found} < {least}",
                f"Legs of {{found}}; {{least}} required for the shear {name}.",
                {
                    "found": Term(one.tie_area, Dimension.AREA),
                    "least": Term(least, Dimension.AREA),
                },
                derive=partial(derive, at),
            )
        )
    return found
