"""Checks of detailing that codes put alike, each with its own limits."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from fexro.core.codes import Check, Column, State, state_of_ratio
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension, format_length
from fexro.core.section.outline import FloatArray

__all__ = ["bar_count_check", "clear_spacing_check", "slenderness_reminder"]


def bar_count_check(column: Column, least: int, clause: str, reason: str) -> Check:
    """Return the check of the number of bars; `reason` says where the least number comes from."""
    count = len(column.section.bars)

    def derive() -> Derivation:
        record = Derivation()
        record.given("n", count, Dimension.RATIO, "bars of the call-out")
        record.given("n_min", least, Dimension.RATIO, f"{reason}, {clause}")
        return record

    return Check(
        "Number of bars",
        "bars",
        State.SATISFIED if count >= least else State.EXCEEDED,
        least / count,
        clause,
        f"{count} ≥ {least}" if count >= least else f"{count} < {least}",
        f"{count} bars; at least {least} required.",
        derive=derive,
    )


def clear_spacing_check(
    column: Column, clause: str, least_of: Callable[[FloatArray, Derivation | None], FloatArray]
) -> Check:
    """Return the check of the clear spacing of bars, for the pair with the least to spare.

    Args:
        column: the column.
        clause: clause of the limit.
        least_of: the provision: for diameters, mm, of any shape; writes into a derivation, if any.
    """
    bars = column.section.bars
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
    shown, allowed = (format_length(value, column.units) for value in (spacing, required))
    return Check(
        "Clear bar spacing",
        "spacing",
        state_of_ratio(ratio),
        ratio,
        clause,
        f"{shown} {'≥' if ratio <= 1 else '<'} {allowed}",
        f"Clear spacing {shown} of bars {i + 1} and {j + 1}; {allowed} required.",
        derive=derive,
    )


def slenderness_reminder(clause: str, missing: str) -> Check:
    """Return the note that slenderness is not yet considered; `missing` says what of it."""

    def derive() -> Derivation:
        record = Derivation()
        record.note(
            "The moments are taken as analysed, at both ends."
            f" {missing} not yet part of this verdict."
        )
        return record

    return Check(
        "Slenderness",
        "slenderness",
        State.ATTENTION,
        math.nan,
        clause,
        "not yet considered",
        "Slenderness not yet considered.",
        assumption=True,
        derive=derive,
    )
