"""Checks of columns with a structural steel core: ACI 318-19, 10.6.1.2, 10.7.3.2, 10.7.6."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy import clip, minimum

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length, state_of_ratio, stress
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Dimension, Length

__all__ = ["encased_checks", "largest_bar_distance", "largest_tie_spacing", "least_tie_size"]


@provision("10.7.3.2", symbol="s_max")
def largest_bar_distance(b_min: Length) -> Length:
    """Largest distance between bars around a core: half the least side."""
    return b_min / 2


@provision("10.7.6.1", symbol="d_t,min")
def least_tie_size(h: Length, d_3: Length, d_5: Length) -> Length:
    """Least diameter of ties around a core: 0.02 of the greater side, between two sizes."""
    return clip(0.02 * h, d_3, d_5)


@provision("10.7.6.1", symbol="s_t,max")
def largest_tie_spacing(d_b: Length, d_t: Length, b_min: Length) -> Length:
    """Largest spacing of ties around a core."""
    return minimum(minimum(16 * d_b, 48 * d_t), b_min / 2)


def encased_checks(edition: Edition, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check bars and ties around a core, and say what is assumed of it."""
    if not facts.section.steel:
        return []
    found = [_bar_distance(facts), *_ties(edition, facts)]
    highest = max(part.material.yield_strength for part in facts.section.steel)
    if highest > edition.largest_core_yield * (1 + 1e-6):
        found.append(
            _note(
                "Yield of the core",
                "20.4",
                "structural steel of {found} counts with {largest} only.",
                {"found": stress(highest), "largest": stress(edition.largest_core_yield)},
            )
        )
    found.append(
        _note(
            "Load introduction",
            "10.5.2",
            "how the load comes into the steel core is not checked; bearing or studs are to be"
            " shown.",
            {},
        )
    )
    return found


def _note(name: str, clause: str, message: str, values: dict[str, object]) -> Finding:
    return Finding(
        name,
        name.lower(),
        clause,
        State.ATTENTION,
        math.nan,
        "assumed" if values else "not checked",
        message,
        values,  # type: ignore[arg-type]
        assumption=True,
    )


def _sides(facts: ColumnFacts) -> tuple[float, float]:
    x0, y0, x1, y1 = facts.section.outline.bounds
    return min(x1 - x0, y1 - y0), max(x1 - x0, y1 - y0)


def _bar_distance(facts: ColumnFacts) -> Finding:
    """Return the check of the largest distance between neighbouring bars around the core."""
    bars, order = facts.section.bars, facts.section.around
    after = np.roll(order, -1)
    apart = np.hypot(bars.x[order] - bars.x[after], bars.y[order] - bars.y[after])
    at = int(apart.argmax())
    found, (least_side, _) = float(apart[at]), _sides(facts)
    i, j = int(order[at]) + 1, int(after[at]) + 1

    def derive() -> Derivation:
        record = Derivation()
        largest_bar_distance.into(record, least_side)
        record.given("s", found, Dimension.LENGTH, f"between the centres of bars {i} and {j}")
        return record

    largest = float(largest_bar_distance(least_side))
    ratio = found / largest
    return Finding(
        "Bars around the core",
        "bars around core",
        "10.7.3.2",
        state_of_ratio(ratio),
        ratio,
        "{found} ≤ {largest}" if ratio <= 1 else "{found} > {largest}",
        "Bars {i} and {j} are {found} apart; {largest} allowed around a core.",
        {"found": length(found), "largest": length(largest), "i": f"{i}", "j": f"{j}"},
        derive=derive,
    )


def _ties(edition: Edition, facts: ColumnFacts) -> list[Finding]:
    """Return the checks of size and spacing of ties around the core."""
    ties = facts.section.ties
    if ties.spiral:
        return []
    least_side, side = _sides(facts)
    sizes = edition.core_ties
    found = []
    least = float(least_tie_size(side, *sizes))

    def derive_size() -> Derivation:
        record = Derivation()
        least_tie_size.into(record, side, *sizes)
        return record

    ratio = least / ties.size.diameter
    found.append(
        Finding(
            "Ties around the core",
            "tie size",
            "10.7.6.1",
            State.SATISFIED if ratio <= 1 + 1e-9 else State.EXCEEDED,
            ratio,
            "{found} ≥ {least}" if ratio <= 1 + 1e-9 else "{found} < {least}",
            "Ties of {found}; {least} required around a core.",
            {"found": length(ties.size.diameter), "least": length(least)},
            derive=derive_size,
        )
    )
    smallest = float(facts.section.bars.diameter.min())
    given = smallest, ties.size.diameter, least_side
    largest = float(largest_tie_spacing(*given))

    def derive_spacing() -> Derivation:
        record = Derivation()
        largest_tie_spacing.into(record, *given)
        return record

    ratio = ties.spacing / largest
    found.append(
        Finding(
            "Tie spacing around the core",
            "tie spacing",
            "10.7.6.1",
            state_of_ratio(ratio),
            ratio,
            "{found} ≤ {largest}" if ratio <= 1 else "{found} > {largest}",
            "Ties {found} apart; {largest} allowed around a core.",
            {"found": length(ties.spacing), "largest": length(largest)},
            derive=derive_spacing,
        )
    )
    return found
