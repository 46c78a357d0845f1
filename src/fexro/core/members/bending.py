"""What is found of axial force with biaxial bending, whatever the code."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial

import numpy as np

from fexro.core.actions import ENDS
from fexro.core.findings import Finding, State, number, state_of_ratio
from fexro.core.members.lift import PreparedLift, explain_demand
from fexro.core.provisions import Derivation
from fexro.core.section.section import Section
from fexro.core.strength.governing import Governing

__all__ = ["SECOND_ORDER", "bending_finding", "completeness_findings"]

BENDING, SHORT = "Axial + biaxial bending", "N–M"
SECOND_ORDER = "Second-order bending"
NOTABLE = 0.05  # share of a moment, or of the larger growth, from which growth is named
NAMED = 4  # missing combinations that a sentence names


def bending_finding(
    prepared: PreparedLift, found: Governing | None, before: float = math.nan
) -> Finding:
    """Return the check of the demand that governs along the ray.

    Args:
        prepared: the lift.
        found: what governs; nothing without forces.
        before: the largest utilisation of the forces as analysed.
    """
    lift = prepared.lift
    clause = lift.code.strength.clause
    if found is None:
        message = "no combination has forces for this lift."
        return Finding(BENDING, SHORT, clause, State.NOT_CHECKED, math.nan, "no forces", message)
    ratio = found.ratio
    combination, place = divmod(found.demand, len(prepared.demands.places))
    name = lift.actions.combinations[combination]
    grown = _grown_about(prepared, found.demand) if ratio > before else ""
    where = prepared.demands.places[place]
    at = f"at the {where}" if where in ENDS else f"({where})"
    detail = f"{{combination}} {at}" + ("; {before} without slenderness" if grown else "")
    return Finding(
        grown or BENDING,
        SHORT,
        clause,
        state_of_ratio(ratio),
        ratio,
        detail,
        "Section strength {ratio} in {combination}.",
        {
            "combination": name,
            "place": where,
            "ratio": f"{ratio:.2f}",
            "before": f"{before:.2f}",
        },
        name,
        leads=True,
        derive=partial(explain_demand, prepared, found.along, found.demand),
    )


def _grown_about(prepared: PreparedLift, demand: int) -> str:
    """Return what a demand is called that slenderness or sway made larger; else nothing."""
    one = prepared.demands.at(demand)
    combination = demand // len(prepared.demands.places)
    slender = [bool(axis.slender[combination]) for axis in prepared.second_order.axes]
    grown = np.abs(one.values[1:]) - np.abs(one.first_order[1:])
    size = np.abs(one.values[1:])
    # What hardly adds to the larger moment is not named.
    axes = [
        axis
        for axis, grows, more, moment in zip("xy", slender, grown, size, strict=True)
        if (grows or one.place in ENDS)
        and more > NOTABLE * max(float(moment), 1.0)
        and more > NOTABLE * float(grown.max())
    ]
    if len(axes) == 2:
        return f"{SECOND_ORDER}, biaxial"
    return f"{SECOND_ORDER} about {axes[0]}" if axes else ""


def completeness_findings(prepared: PreparedLift, found: Governing | None) -> Sequence[Finding]:
    """Return what keeps a lift from being checked: bars without a place, missing forces."""
    return [*_misplaced(prepared.lift.facts.section), *_missing_forces(prepared, found)]


def _misplaced(section: Section) -> Sequence[Finding]:
    """Return a finding for bars placed by hand that have no place where they are."""
    if not section.misplaced:
        return []
    first, count = section.misplaced[0], len({one.bar for one in section.misplaced})

    def derive() -> Derivation:
        record = Derivation()
        for one in section.misplaced:
            record.note(f"{one.where.capitalize()}: {one.found}; allowed: {one.allowed}.")
        return record

    return [
        Finding(
            "Bars in their places",
            "bars misplaced",
            "",
            State.NOT_CHECKED,
            math.nan,
            "{count} misplaced",
            "{count} of the bars placed by hand have no place: {first}, {found}.",
            {"count": number(count), "first": first.where, "found": first.found},
            derive=derive,
        )
    ]


def _missing_forces(prepared: PreparedLift, found: Governing | None) -> Sequence[Finding]:
    """Return the check that no combination lacks forces, where one does but not all do."""
    actions = prepared.lift.actions
    if not actions.missing or found is None:
        return []
    missing, count = actions.missing, len(actions.missing) + len(actions.combinations)

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Without forces: {', '.join(missing)}.")
        record.note("A combination that does not apply to the lift can be marked so.")
        return record

    return [
        Finding(
            "Combinations",
            "forces missing",
            "",
            State.NOT_CHECKED,
            math.nan,
            "{missing} of {count} missing",
            "no forces in {missing} of {count} combinations ({named}); {ratio} in the others.",
            {
                "missing": number(len(missing)),
                "count": number(count),
                "named": ", ".join(missing[:NAMED]) + (", …" if len(missing) > NAMED else ""),
                "ratio": f"{found.ratio:.2f}",
            },
            derive=derive,
        )
    ]
