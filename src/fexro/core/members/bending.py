"""What is found of axial force with biaxial bending, whatever the code."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial

from fexro.core.findings import Finding, State, number, state_of_ratio
from fexro.core.members.lift import PreparedLift, explain_demand
from fexro.core.provisions import Derivation
from fexro.core.strength.governing import Governing

__all__ = ["bending_finding", "completeness_findings"]

BENDING, SHORT = "Axial + biaxial bending", "N–M"
NAMED = 4  # missing combinations that a sentence names


def bending_finding(prepared: PreparedLift, found: Governing | None) -> Finding:
    """Return the check of the demand that governs along the ray."""
    lift = prepared.lift
    clause = lift.code.strength.clause
    if found is None:
        message = "no combination has forces for this lift."
        return Finding(BENDING, SHORT, clause, State.NOT_CHECKED, math.nan, "no forces", message)
    ratio = found.ratio
    combination, place = divmod(found.demand, len(prepared.demands.places))
    name = lift.actions.combinations[combination]
    return Finding(
        BENDING,
        SHORT,
        clause,
        state_of_ratio(ratio),
        ratio,
        "{combination} at the {place}",
        "Section strength {ratio} in {combination}.",
        {
            "combination": name,
            "place": prepared.demands.places[place],
            "ratio": f"{ratio:.2f}",
        },
        name,
        derive=partial(explain_demand, prepared, found.along, found.demand),
    )


def completeness_findings(prepared: PreparedLift, found: Governing | None) -> Sequence[Finding]:
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
