"""Check of laps of a lift: EN 1992-1-1, 8.7 and 9.5.3(4)."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from fexro.core.codes import Context
from fexro.core.codes.detailing import not_yet_checked
from fexro.core.codes.en1992_1_1.anchorage import Lap, Lapped, lap
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.transverse_checks import lap_length_finding, transverse_of
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length, number
from fexro.core.provisions import Derivation
from fexro.core.section.lapped import lapped_bars, tension_at_laps
from fexro.core.section.ties import HeldRule
from fexro.core.transverse import Transverse

__all__ = ["horizontal_lap", "lap_checks", "laps", "wall_laps"]

PERCENT = {"one level": 100.0, "half": 50.0}
WALLS = ("8.7.3", "8.8")  # what of laps holds for walls too
THICK = 20.0  # mm, from which bars ask for transverse steel along laps (8.7.4.1)
LARGEST_SPACING = 150.0  # mm, of links at the ends of laps (8.7.4.1(3))


def _lap(
    record: Derivation | None,
    annex: Annex,
    facts: ColumnFacts,
    transverse: Transverse,
    *,
    tension: bool,
) -> Lap:
    """Return the lap of the bars that need the longest one.

    They are taken to yield and to lie straight beside one another; links do not shorten the lap.
    """
    bars = lapped_bars(facts.section)
    lapped = Lapped(
        bars.diameter,
        facts.steel.yield_strength / annex.gamma_s,
        bars.clear,
        bars.cover,
        bars.cover,
        0.0,
        0.0,
        PERCENT[facts.laps],
        link_area=transverse.size.area,
        tension=tension,
    )
    return lap(record, annex, facts.cross_section, lapped, transverse.spacing("lap"))


def horizontal_lap(annex: Annex, facts: ColumnFacts) -> float:
    """Return the length of the laps of the horizontal bars of a wall, mm (8.7.3).

    All of a row are lapped in one place, in tension at their design strength, in poor conditions
    of bond; what lies across does not shorten it.
    """
    section, steel = facts.section, facts.transverse_steel
    size, spacing = section.ties.size, section.ties.spacing
    lapped = Lapped(
        size.diameter,
        steel.yield_strength / annex.gamma_s,
        spacing - size.diameter,
        section.cover,
        section.cover,
        0.0,
        0.0,
        100.0,
        good=False,
    )
    return lap(None, annex, facts.cross_section, lapped, spacing).length


def laps(
    annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context
) -> tuple[float, float] | None:
    """Return from where to where laps reach above the slab, mm; nothing where none are told of."""
    if facts.laps == "none":
        return None
    length = facts.lap_length
    if length is None:
        tension = tension_at_laps(facts.section, context.demands.rows)
        length = _lap(None, annex, facts, transverse_of(facts, held), tension=tension).with_gap
    return 0.0, length


def lap_checks(
    annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Return the length of the laps, and the links they need (8.7.3, 8.7.4, 9.5.3(4))."""
    if facts.laps == "none":
        return []
    transverse = transverse_of(facts, held)
    tension = tension_at_laps(facts.section, context.demands.rows)
    splice = _lap(None, annex, facts, transverse, tension=tension)

    def derive() -> Derivation:
        record = Derivation()
        if tension:
            record.note("Some demand has tension at an edge of the section: laps in tension.")
        else:
            record.note("No demand has tension anywhere in the section: laps in compression.")
        record.note("The bars are taken to yield; links do not shorten the lap.")
        _lap(record, annex, facts, transverse, tension=tension)
        return record

    kind = "tension" if tension else "compression"
    found = [lap_length_finding("8.7.3", facts, kind, splice.with_gap, derive)]
    found += _links(splice, transverse, derive)
    if splice.large_bar:
        found.append(
            Finding(
                *("Large bars lapped", "laps", "8.8", State.ATTENTION, math.nan),
                "not checked",
                "bars beyond {largest}: the rules for laps of large bars are not checked.",
                {"largest": length(annex.large_bar)},
                assumption=True,
                derive=derive,
            )
        )
    return found


def wall_laps(
    annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Return the length of the laps of vertical bars of a wall (8.7.3)."""
    found = [one for one in lap_checks(annex, held, facts, context) if one.clause in WALLS]
    if facts.laps != "none" and facts.section.bars.diameter.max() >= THICK:
        # What lies across the laps of thick bars is of hoops and of horizontal bars.
        found += not_yet_checked("transverse bars at laps of thick bars (8.7.4)", facts, context)
    return found


def _links(splice: Lap, transverse: Transverse, derive: Callable[[], Derivation]) -> list[Finding]:
    """Return the checks of the links along a lap."""
    spacing, steel = transverse.spacing("lap"), splice.transverse
    found = []
    if not splice.three_links:
        found.append(
            Finding(
                *("Links in laps", "laps", "9.5.3(4)", State.EXCEEDED),
                2 * spacing / splice.with_gap,
                "fewer than 3",
                "Links at {spacing} leave fewer than three in a lap of {lap}.",
                {"spacing": length(spacing), "lap": length(splice.with_gap)},
                derive=derive,
            )
        )
    if steel.links is not None:
        there = math.floor(steel.end_length / spacing + 1e-9) + 1
        wide = spacing > LARGEST_SPACING + 1e-6
        short = there < steel.links
        ratio = max(steel.links / there, spacing / LARGEST_SPACING)
        found.append(
            Finding(
                *("Links across laps", "laps", "8.7.4.1(3)"),
                State.EXCEEDED if wide or short else State.SATISFIED,
                ratio,
                "{found} of {needed} in each third at the ends",
                "{found} links in each third at the ends of the laps, {needed} required, at"
                " {largest} or less.",
                {
                    "found": number(there),
                    "needed": number(steel.links),
                    "largest": length(LARGEST_SPACING),
                },
                derive=derive,
            )
        )
    return found
