"""How much of the flanges of special walls is effective: ACI 318-19, 18.10.5.2. Lengths in mm."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.special_walls import effective_flange, flange_limit
from fexro.core.codes.wall_checks import panel_of
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length, number
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.section.shapes.legs import Leg, Legs

__all__ = ["Flange", "flange_width", "flanges_of"]

TOUCH = 1.0  # mm, up to which a leg ends at another
ALONG = 0.5  # sine of the angle from which one leg is the web of another


@dataclass(frozen=True)
class Flange:
    """Part of a leg that is a flange of the webs it meets.

    Attributes:
        leg: its number, from 0.
        projection: from the face of its web to its end, or to the face of the next web.
        half: half of the distance to the next web; infinite where there is none.
    """

    leg: int
    projection: float
    half: float

    @property
    def needed(self) -> float:
        """How wide it has to be effective from the face of a web, for all of it to count."""
        return min(self.projection, self.half)


def flanges_of(legs: Legs) -> Iterator[Flange]:
    """Yield the flanges of legs: what reaches beyond the webs that they meet, and between them."""
    for place, leg in enumerate(legs.legs):
        webs = []
        for other, web in enumerate(legs.legs):
            u, v = leg.direction, web.direction
            if other == place or abs(float(u[0] * v[1] - u[1] * v[0])) < ALONG:
                continue
            ends_here = min(float(leg.distance(end)) for end in (web.start, web.end)) <= TOUCH
            met_by = min(float(web.distance(end)) for end in (leg.start, leg.end)) <= TOUCH
            if ends_here or met_by:
                at = _crossing(leg, web)
                webs.append((at - web.thickness / 2, at + web.thickness / 2))
        if not webs:
            continue
        webs.sort()
        if webs[0][0] > TOUCH:
            yield Flange(place, webs[0][0], math.inf)
        for (_, before), (after, _) in itertools.pairwise(webs):
            if after - before > TOUCH:
                yield Flange(place, after - before, (after - before) / 2)
        if leg.run - webs[-1][1] > TOUCH:
            yield Flange(place, leg.run - webs[-1][1], math.inf)


def _crossing(leg: Leg, web: Leg) -> float:
    """Return how far along a leg the centre line of a web meets it."""
    u, v, away = leg.direction, web.direction, web.start - leg.start
    return float((away[0] * v[1] - away[1] * v[0]) / (u[0] * v[1] - u[1] * v[0]))


def flange_width(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check that flanges of special walls are effective as wide as they count (18.10.5.2)."""
    panel = panel_of(facts)
    flanges = list(flanges_of(panel.legs))
    if facts.ductility != "high" or not flanges:
        return []
    widest = max(flanges, key=lambda one: one.needed)
    limit = float(flange_limit(panel.above))

    def derive() -> Derivation:
        record = Derivation()
        record.note("Strength counts the whole section, each flange as wide as it is.")
        record.given("h_above", panel.above, Dimension.LENGTH, "of the wall above the foot")
        most = flange_limit.into(record, panel.above)
        told = f"leg {widest.leg + 1}, from the face of its web"
        record.given("projection", widest.projection, Dimension.LENGTH, told)
        half = widest.half if math.isfinite(widest.half) else widest.projection
        record.given("half_distance", half, Dimension.LENGTH, "to the next web, where there is one")
        effective_flange.into(record, widest.projection, half, most)
        return record

    found = partial(Finding, "Effective width of flanges", "flanges", "18.10.5.2", derive=derive)
    values = {
        "found": length(widest.needed),
        "limit": length(limit),
        "leg": number(widest.leg + 1),
    }
    if widest.needed <= limit:
        ratio = widest.needed / limit
        return [found(State.SATISFIED, ratio, "{found} of {limit}", "", values)]
    told = (
        "leg {leg} counts {found} from the face of its web as a flange, of which {limit} are"
        " effective; strength counts all of it."
    )
    return [found(State.ATTENTION, math.nan, "{found} > {limit}", told, values)]
