"""Laps of the vertical bars of walls: ACI 318-19, 25.5 and 18.10.2.3(c)."""

from __future__ import annotations

import math
from collections.abc import Sequence

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.lap_rules import lap_checks
from fexro.core.codes.aci318_19.lap_splices import Lapped, development, tension_lap
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.codes.wall_checks import panel_of
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.section.ties import HeldRule

__all__ = ["horizontal_lap", "wall_laps"]


def horizontal_lap(edition: Edition, facts: ColumnFacts) -> float:
    """Return the length of the laps of the horizontal bars of a wall, mm (25.5.2.1).

    They are in tension and of class B, with much fresh concrete below; their cover is that of the
    section, and no ties count across the plane of splitting.
    """
    section, steel = facts.section, facts.transverse_steel
    d, pitch, f_y = section.ties.size.diameter, section.ties.spacing, steel.yield_strength
    bars = Lapped(
        d,
        f_y,
        section.cover,
        pitch - d,
        min(section.cover + d / 2, pitch / 2),
        pitch,
        tie_area=0.0,
        across=1,
        stress=f_y,
        over_fresh_concrete=True,
    )
    weakest = facts.cross_section.weakest
    strength = weakest.strength, lightness(None, edition, weakest)
    found = development(None, edition, strength, bars, pitch)
    return float(tension_lap("B", found.before_least, edition.laps.least))


def wall_laps(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Return the length of laps, and that bars of boundary regions have none at the base (25.5)."""
    found = [*lap_checks(edition, held, facts, context)]
    if facts.laps == "none" or facts.ductility != "high":
        return found
    panel = panel_of(facts)
    if panel.above < panel.height - 1.0:
        return found
    height = facts.height

    def derive() -> Derivation:
        record = Derivation()
        record.note(
            "The wall is taken to yield at its base. Within the storey above that, bars of boundary"
            " regions are not lapped: at free ends, and a thickness beyond where legs meet."
        )
        record.given("h_sx", height, Dimension.LENGTH, "height of the storey")
        return record

    told = (
        "bars of boundary regions may not be lapped within {height} above the base: couple them, or"
        " let them run through."
    )
    found.append(
        Finding(
            *("Laps at the base", "laps", "18.10.2.3(c)", State.EXCEEDED, math.nan),
            "lapped within {height}",
            told,
            {"height": length(height)},
            derive=derive,
        )
    )
    return found
