"""Check of lap splices of a lift: ACI 318-19, 10.7.5, 25.4 and 25.5."""

from __future__ import annotations

import math
from collections.abc import Sequence

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.lap_splices import Lapped, LapSplice, lap_splice
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.codes.transverse_checks import lap_length_finding, transverse_of
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length
from fexro.core.provisions import Derivation
from fexro.core.section.lapped import lapped_bars, tension_at_laps
from fexro.core.section.ties import HeldRule
from fexro.core.transverse import Transverse

__all__ = ["lap_checks", "laps", "splice_of"]

PERCENT = {"one level": 100.0, "half": 50.0}
CLOSE, THICK = 101.6, 12.7  # mm, of ties that confine bars in compression (Table 25.4.9.3)


def _lapped(facts: ColumnFacts, transverse: Transverse, *, tension: bool) -> Lapped:
    """Return the bars that need the longest lap.

    Their stress is not sought: in tension they are taken to yield, so that laps are of class B.
    """
    section, bars, f_y = facts.section, lapped_bars(facts.section), facts.steel.yield_strength
    tie_area, across = 0.0, 1
    if not section.round and section.corner_count == 4:
        # The plane along a face is crossed by the legs square to it; the weaker one counts.
        tie_area, across = min(
            ((transverse.leg_area(axis), bars.along[axis]) for axis in (0, 1)),
            key=lambda plane: plane[0] / plane[1],
        )
    close = transverse.spacing("lap") <= CLOSE and transverse.size.diameter >= THICK - 1e-3
    return Lapped(
        bars.diameter,
        f_y,
        bars.cover,
        bars.clear,
        min(bars.cover + bars.diameter / 2, bars.pitch / 2),
        bars.pitch,
        tie_area,
        across,
        f_y if tension else -f_y,
        percent=PERCENT[facts.laps],
        staggered=facts.laps == "half",
        confined=transverse.spiral or close,
    )


def splice_of(
    record: Derivation | None,
    edition: Edition,
    facts: ColumnFacts,
    transverse: Transverse,
    *,
    tension: bool,
) -> LapSplice:
    """Return the laps of a lift, in tension or in compression."""
    concrete = facts.cross_section.weakest
    strength = concrete.strength, lightness(record, edition, concrete)
    lapped = _lapped(facts, transverse, tension=tension)
    return lap_splice(record, edition, facts.section, strength, lapped, transverse)


def laps(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> tuple[float, float] | None:
    """Return from where to where laps reach above the slab, mm; of special frames in the middle."""
    if facts.laps == "none":
        return None
    special = facts.ductility == "high"
    tension = special or tension_at_laps(facts.section, context.demands.rows)
    length = facts.lap_length
    if length is None:
        transverse = transverse_of(facts, held)
        length = splice_of(None, edition, facts, transverse, tension=tension).length
    # 18.7.4.4: within the middle half of the clear height.
    start = max((facts.about_x.length - length) / 2, 0.0) if special else 0.0
    return start, start + length


def lap_checks(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Return the length of the laps and whether bars may be lapped (10.7.5, 25.5)."""
    if facts.laps == "none":
        return []
    transverse = transverse_of(facts, held)
    tension = tension_at_laps(facts.section, context.demands.rows)
    splice = splice_of(None, edition, facts, transverse, tension=tension)

    def derive() -> Derivation:
        record = Derivation()
        if tension:
            record.note("Some demand has tension at an edge of the section: laps in tension.")
            record.note("The bars are taken to yield.")
        else:
            record.note("No demand has tension anywhere in the section: laps in compression.")
        splice_of(record, edition, facts, transverse, tension=tension)
        return record

    kind = f"tension, class {splice.tension_class}" if tension else "compression"
    found = [lap_length_finding("10.7.5.2, 25.5", facts, kind, splice.length, derive)]
    if not splice.allowed:
        found.append(
            Finding(
                *("Large bars lapped", "laps", "25.5.1.1", State.EXCEEDED, math.nan),
                "{found}",
                "Bars of {found} may not be lapped; use couplers.",
                {"found": length(facts.section.bars.diameter.max())},
                derive=derive,
            )
        )
    enough, development = splice.development.index_enough, splice.development
    if tension and enough is False and development.least_index is not None:
        found.append(
            Finding(
                *("Ties across laps", "laps", "25.4.2.2", State.EXCEEDED),
                development.least_index / max(development.transverse_index, 1e-9),
                "Ktr {found} < {least}",
                "Ties across the laps give Ktr {found}; {least} required for these bars.",
                {
                    "found": length(development.transverse_index),
                    "least": length(development.least_index),
                },
                derive=derive,
            )
        )
    return found
