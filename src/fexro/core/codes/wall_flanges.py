"""How much of the flanges of ductile walls is effective, as codes have it alike. Lengths in mm."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from fexro.core.codes import Context
from fexro.core.codes.wall_checks import axis_of, panel_of
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, state_of_ratio
from fexro.core.findings import moment as in_moment
from fexro.core.provisions import Derivation, Provision
from fexro.core.quantities import Dimension, Force, Length, Moment
from fexro.core.section.bars import Bars
from fexro.core.section.outline import Outline
from fexro.core.section.shapes.legs import TOUCH, Leg, Legs
from fexro.core.strength.surface import Strength
from fexro.core.strength.uniaxial import governing_moment

__all__ = ["Flange", "FlangeRule", "effective_section", "flange_width", "flanges_of"]

SMALLEST = 1.0  # N·mm
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


@lru_cache(maxsize=512)
def flanges_of(legs: Legs) -> tuple[Flange, ...]:
    """Return the flanges of legs: what reaches beyond the webs that they meet, and between them."""
    found: list[Flange] = []
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
            found.append(Flange(place, webs[0][0], math.inf))
        for (_, before), (after, _) in itertools.pairwise(webs):
            if after - before > TOUCH:
                found.append(Flange(place, after - before, (after - before) / 2))
        if leg.run - webs[-1][1] > TOUCH:
            found.append(Flange(place, leg.run - webs[-1][1], math.inf))
    return tuple(found)


def _crossing(leg: Leg, web: Leg) -> float:
    """Return how far along a leg the centre line of a web meets it."""
    u, v, away = leg.direction, web.direction, web.start - leg.start
    return float((away[0] * v[1] - away[1] * v[0]) / (u[0] * v[1] - u[1] * v[0]))


@lru_cache(maxsize=512)
def effective_section(cross: CrossSection, legs: Legs, axis: int, limit: float) -> CrossSection:
    """Return what of a section is effective where legs along x (0) or y (1) are webs.

    Webs that hang together by what is not effective alone still act as one.

    Args:
        cross: the section.
        legs: of which it is.
        axis: along which the webs run.
        limit: how wide a flange is effective from the face of a web, mm.
    """
    import shapely

    webs = [leg for leg in legs.legs if leg.axis == axis]
    beyond = max(leg.thickness for leg in legs.legs)
    boxes = []
    for leg in webs:
        u, aside = leg.direction, leg.normal * (leg.thickness / 2 + limit)
        a, b = leg.start - u * beyond, leg.end + u * beyond
        boxes.append(shapely.Polygon([a - aside, b - aside, b + aside, a + aside]))
    kept = cross.section.outline.polygon.intersection(shapely.union_all(boxes))
    kept = shapely.simplify(kept, 1e-6)
    parts = [part for part in shapely.get_parts(kept) if part.area > 1.0]
    outline = Outline.from_polygons(
        [np.asarray(part.exterior.coords)[:-1] for part in parts],
        [np.asarray(ring.coords)[:-1] for part in parts for ring in part.interiors],
    )
    bars = cross.section.bars
    inside = shapely.contains_xy(kept, bars.x, bars.y)
    some = Bars(
        bars.x[inside],
        bars.y[inside],
        bars.area[inside],
        bars.diameter[inside],
        None if bars.bundle is None else np.unique(bars.bundle[inside], return_inverse=True)[1],
    )
    section = replace(
        cross.section,
        outline=outline,
        bars=some,
        cornered=None,
        inner_ties=None,
        misplaced=(),
    )
    return replace(cross, section=section)


@dataclass(frozen=True)
class FlangeRule:
    """What a code says of flanges.

    Attributes:
        clause: of it.
        limit: its width from the face of its web at most, by the height of the wall above.
        width: what of it is effective, by projection, half the distance to the next web, and limit.
        about: moment about what is effective, by that about the whole, axial force and distance.
        strength: of a section.
        symbols: of axial force, moment and moment resisted.
    """

    clause: str
    limit: Provision[[Length], Length]
    width: Provision[[Length, Length, Length], Length]
    about: Provision[[Moment, Force, Length], Moment]
    strength: Callable[[CrossSection], Strength]
    symbols: tuple[str, str, str]


def flange_width(rule: FlangeRule, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check bending in the plane of the webs of a panel with what of their flanges is effective.

    Strength elsewhere counts the whole section.
    """
    panel = panel_of(facts)
    limit = float(rule.limit(panel.above))
    found = []
    for axis in (0, 1):
        # A leg across the axis is a flange of the webs along it.
        wide = [
            one
            for one in flanges_of(panel.legs)
            if axis_of(panel, one.leg) != axis and one.needed > limit
        ]
        if wide:
            widest = max(wide, key=lambda one: one.needed)
            found.append(_bending(rule, facts, context, axis, widest))
    return [one for one in found if one is not None]


def _bending(
    rule: FlangeRule, facts: ColumnFacts, context: Context, axis: int, widest: Flange
) -> Finding | None:
    """Return the check of bending along x (0) or y (1) on what is effective; of none nothing."""
    panel = panel_of(facts)
    limit = float(rule.limit(panel.above))
    cross = effective_section(facts.cross_section, panel.legs, axis, limit)
    # Moments in the plane of webs along x are about y.
    shift = cross.section.outline.centroid[axis] - facts.section.outline.centroid[axis]
    rows = context.demands.rows
    axial, about_whole = rows[:, 0], rows[:, 2 - axis]
    moment = about_whole - axial * shift
    if not np.abs(moment).max(initial=0.0) > SMALLEST:
        return None
    row, strength = governing_moment(rule.strength(cross), 1 - axis, axial, moment)
    ratio = abs(float(moment[row])) / max(strength, SMALLEST)
    combination = context.actions.combinations[row // len(context.demands.places)]

    def derive() -> Derivation:
        record = Derivation()
        record.given("h_above", panel.above, Dimension.LENGTH, "of the wall above the foot")
        most = rule.limit.into(record, panel.above)
        told = f"leg {widest.leg + 1}, the widest flange, from the face of its web"
        record.given("projection", widest.projection, Dimension.LENGTH, told)
        half = widest.half if math.isfinite(widest.half) else widest.projection
        record.given("half_distance", half, Dimension.LENGTH, "to the next web, if there is one")
        rule.width.into(record, widest.projection, half, most)
        record.note(f"Governing: {combination}. Moments about {'yx'[axis]}.")
        force, whole, resisted = rule.symbols
        record.given(force, float(axial[row]), Dimension.FORCE, "of the demand")
        given = float(about_whole[row])
        record.given(whole, given, Dimension.MOMENT, "about the centroid of the whole section")
        record.given("e", shift, Dimension.LENGTH, "from there to that of what is effective")
        rule.about.into(record, given, float(axial[row]), shift)
        record.given(resisted, strength, Dimension.MOMENT, "with it, of what is effective")
        return record

    name = "xy"[axis]
    return Finding(
        *(f"Bending along {name}, effective flanges", "flanges", rule.clause),
        state_of_ratio(ratio),
        ratio,
        "{found} of {strength}",
        "Moment {found} along " + name + "; {strength} resisted by what flanges are effective.",
        {"found": in_moment(abs(float(moment[row]))), "strength": in_moment(strength)},
        combination,
        derive=derive,
    )
