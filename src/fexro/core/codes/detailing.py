"""Checks of detailing that codes put alike, each with its own limits."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from fexro.core.codes import Context
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length, number, state_of_ratio
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension

__all__ = ["bar_count_finding", "clear_spacing_finding", "not_yet_checked"]


def bar_count_finding(
    facts: ColumnFacts, clause: str, least_of: Callable[[Derivation | None], float]
) -> Finding:
    """Return the check of the number of bars.

    Args:
        facts: the column.
        clause: clause of the limit.
        least_of: the least number; writes into a derivation, if any.
    """
    count, least = len(facts.section.bars), least_of(None)

    def derive() -> Derivation:
        record = Derivation()
        record.given("n", count, Dimension.RATIO, "bars of the call-out")
        least_of(record)
        return record

    enough = count >= least
    return Finding(
        "Number of bars",
        "bars",
        clause,
        State.SATISFIED if enough else State.EXCEEDED,
        least / count,
        "{found} ≥ {least}" if enough else "{found} < {least}",
        "{found} bars; at least {least} required.",
        {"found": number(count), "least": number(least)},
        derive=derive,
    )


def clear_spacing_finding(
    facts: ColumnFacts, clause: str, least_of: Callable[[Any, Derivation | None], Any]
) -> Finding:
    """Return the check of the clear spacing of bars, for the pair with the least to spare.

    Args:
        facts: the column.
        clause: clause of the limit.
        least_of: the provision: for diameters, mm, of any shape; writes into a derivation, if any.
    """
    bars = facts.section.bars
    clear, larger = bars.pairs()
    least = least_of(larger, None)
    i, j = divmod(int((least / np.maximum(clear, 1e-9)).argmax()), len(bars))
    spacing, required = float(clear[i, j]), float(least[i, j])

    def derive() -> Derivation:
        record = Derivation()
        least_of(larger[i, j], record)
        record.given("s", spacing, Dimension.LENGTH, f"clear, bars {i + 1} and {j + 1}")
        return record

    ratio = required / max(spacing, 1e-9)
    return Finding(
        "Clear bar spacing",
        "spacing",
        clause,
        state_of_ratio(ratio),
        ratio,
        "{found} ≥ {least}" if ratio <= 1 else "{found} < {least}",
        "Clear spacing {found} of bars {i} and {j}; {least} required.",
        {
            "found": length(spacing),
            "least": length(required),
            "i": number(i + 1),
            "j": number(j + 1),
        },
        derive=derive,
    )


def not_yet_checked(what: str, facts: ColumnFacts, context: Context) -> list[Finding]:
    """Return the note that a code has no rules here yet for a topic; `what` names it."""

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Rules for {what} are not part of this verdict.")
        return record

    return [
        Finding(
            what[0].upper() + what[1:],
            what,
            "",
            State.ATTENTION,
            math.nan,
            "not yet checked",
            "{what} not yet checked.",
            {"what": what[0].upper() + what[1:]},
            assumption=True,
            derive=derive,
        )
    ]
