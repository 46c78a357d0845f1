"""Whether the bars of a coupling beam are anchored in the piers beside it. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import partial

from fexro.core.codes import Context
from fexro.core.codes.detailing import not_yet_checked
from fexro.core.codes.wall_checks import beam_of
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension

__all__ = ["Anchoring", "anchorage_findings"]

# How far bars of a diameter have to reach into a pier; writes into a derivation, if any.
Anchoring = Callable[[Derivation | None, ColumnFacts, float], float]
ABOUT = (
    "Straight bars, in piers that are cast from the floor: much fresh concrete is below them. Ties"
    " across the plane of splitting are not counted."
)


def anchorage_findings(
    clause: str, anchoring: Anchoring, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Return whether straight bars have room for their anchorage in the shorter pier.

    Args:
        clause: of the code.
        anchoring: how far bars have to reach.
        facts: the beam.
        context: what acts on it.
    """
    beam = beam_of(facts)
    if beam.piers is None:
        return not_yet_checked("anchorage in the piers", facts, context)
    diameters = set(facts.section.bars.diameter.tolist())
    asked = {diameter: anchoring(None, facts, diameter) for diameter in diameters}
    diameter = max(asked, key=lambda one: asked[one])
    room, needed = min(beam.piers) - facts.section.cover, asked[diameter]

    def derive() -> Derivation:
        record = Derivation()
        record.note(ABOUT)
        record.given("d", diameter, Dimension.LENGTH, "of the bars that need most")
        anchoring(record, facts, diameter)
        record.given("room", room, Dimension.LENGTH, "the shorter pier less its cover")
        return record

    found = partial(Finding, "Anchorage in the piers", "anchorage", clause, derive=derive)
    numbers = {"needed": length(needed), "room": length(room)}
    if needed <= room:
        return [found(State.SATISFIED, needed / room, "{needed} of {room}", "", numbers)]
    told = "bars need {needed} in the pier, which has {room}: hooks or heads are not checked."
    return [found(State.ATTENTION, math.nan, "{needed} > {room}", told, numbers)]
