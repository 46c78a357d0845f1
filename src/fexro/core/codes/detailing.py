"""Checks of detailing that codes put alike, each with its own limits."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from fexro.core.codes import Check, Column, State, state_of_ratio
from fexro.core.provisions import Derivation, derivation
from fexro.core.quantities import Dimension, format_quantity

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


def clear_spacing_check(column: Column, clause: str, least_of: Callable[[float], float]) -> Check:
    """Return the check of the clear spacing of bars; `least_of` a diameter is the provision, mm."""
    bars = column.section.bars
    clear, i, j = bars.clear_distance()
    diameter = float(max(bars.diameter[i], bars.diameter[j]))

    def derive() -> Derivation:
        with derivation() as record:
            least_of(diameter)
        record.given("s", clear, Dimension.LENGTH, f"clear, bars {i + 1} and {j + 1}")
        return record

    least = least_of(diameter)
    ratio = least / max(clear, 1e-9)
    unit = partial(format_quantity, dimension=Dimension.LENGTH, system=column.units)
    shown, allowed = unit(round(clear, 1)), unit(least)
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
