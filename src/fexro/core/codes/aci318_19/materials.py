"""Limits of materials: ACI 318-19, 19.2.1 and 20.2.2."""

from __future__ import annotations

from collections.abc import Sequence

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, stress

__all__ = ["material_limits"]

ROUNDING = 1e-6  # of a strength written in other units


def material_limits(edition: Edition, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Return a finding for each material outside the limits of the edition."""
    found = []
    strength, least = facts.concrete.strength, edition.least_strength
    if strength < least * (1 - ROUNDING):
        found.append(
            Finding(
                "Concrete strength",
                "concrete",
                "19.2.1.1",
                State.EXCEEDED,
                least / strength,
                "{found} < {least}",
                "f'c {found}; at least {least} required.",
                {"found": stress(strength), "least": stress(least)},
            )
        )
    yield_strength, largest = facts.steel.yield_strength, edition.largest_yield
    if yield_strength > largest * (1 + ROUNDING):
        found.append(
            Finding(
                "Steel strength",
                "steel",
                "20.2.2.4",
                State.ATTENTION,
                yield_strength / largest,
                "{found} > {largest}",
                "fy {found}; above {largest} only by Table 20.2.2.4(a).",
                {"found": stress(yield_strength), "largest": stress(largest)},
            )
        )
    return found
