"""Check of lap splices of a lift: ACI 318-19, 10.7.5, 25.4 and 25.5."""

from __future__ import annotations

import math
from collections.abc import Sequence

from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.lap_splices import Lapped, LapSplice, lap_splice
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.laps import MOST_TENSION, bar_tension
from fexro.core.codes.transverse_checks import lap_length_finding, transverse_of
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.section.lapped import lapped_bars, tension_at_laps
from fexro.core.section.ties import HeldRule
from fexro.core.transverse import Transverse

__all__ = ["bar_stress", "lap_checks", "laps", "splice_of"]

PERCENT = {"one level": 100.0, "half": 50.0}
LEAST_STRESS = 1e-3  # MPa, of bars in tension
CLOSE, THICK = 101.6, 12.7  # mm, of ties that confine bars in compression (Table 25.4.9.3)


def bar_stress(edition: Edition, facts: ColumnFacts, demands: FloatArray) -> float:
    """Return the stress of lapped bars by which their class is found, MPa (10.7.5.2.2).

    Where all are lapped at one level it decides nothing, and they are taken to yield.
    """
    f_y = facts.steel.yield_strength
    if facts.laps != "half" or not len(demands):
        return f_y
    topic, cross = StrengthACI(edition), facts.cross_section
    found = bar_tension(facts.section, topic.working_body(cross, topic.of(cross)), demands)
    return f_y if found is None else max(found, LEAST_STRESS)


def _lapped(facts: ColumnFacts, transverse: Transverse, stress: float) -> Lapped:
    """Return the bars that need the longest lap; their stress is positive in tension, MPa."""
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
        stress,
        percent=PERCENT[facts.laps],
        staggered=facts.laps == "half",
        confined=transverse.spiral or close,
    )


def splice_of(
    record: Derivation | None,
    edition: Edition,
    facts: ColumnFacts,
    transverse: Transverse,
    stress: float,
) -> LapSplice:
    """Return the laps of a lift for a stress of its bars, positive in tension, MPa."""
    concrete = facts.cross_section.weakest
    strength = concrete.strength, lightness(record, edition, concrete)
    lapped = _lapped(facts, transverse, stress)
    return lap_splice(record, edition, facts.section, strength, lapped, transverse)


def laps(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> tuple[float, float] | None:
    """Return from where to where laps reach above the slab, mm; in the middle in special frames."""
    if facts.laps == "none":
        return None
    special = facts.ductility == "high"
    tension = special or tension_at_laps(facts.section, context.demands.rows)
    length = facts.lap_length
    if length is None:
        transverse = transverse_of(facts, held)
        f_y = facts.steel.yield_strength
        stress = -f_y
        if tension:
            stress = f_y if special else bar_stress(edition, facts, context.demands.rows)
        length = splice_of(None, edition, facts, transverse, stress).length
    # 18.7.4.4: within the middle half of the clear height.
    middle = special and facts.column
    start = max((facts.clear_height - length) / 2, 0.0) if middle else 0.0
    return start, start + length


def lap_checks(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Return the length of the laps and whether bars may be lapped (10.7.5, 25.5)."""
    if facts.laps == "none":
        return []
    transverse = transverse_of(facts, held)
    tension = tension_at_laps(facts.section, context.demands.rows)
    f_y = facts.steel.yield_strength
    stress = bar_stress(edition, facts, context.demands.rows) if tension else -f_y
    splice = splice_of(None, edition, facts, transverse, stress)

    def derive() -> Derivation:
        record = Derivation()
        if tension:
            record.note("Some demand has tension at an edge of the section: laps in tension.")
            if stress < f_y:
                told = f"bars, in the {MOST_TENSION} demands with most tension at an edge"
                record.given("f_s", stress, Dimension.STRESS, told)
            else:
                record.note("The bars are taken to yield.")
        else:
            record.note("No demand has tension anywhere in the section: laps in compression.")
        splice_of(record, edition, facts, transverse, stress)
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
