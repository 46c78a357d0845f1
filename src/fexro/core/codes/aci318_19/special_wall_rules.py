"""Checks of panels of special structural walls: ACI 318-19, 18.10."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache, partial

import numpy as np

from fexro.core.arrays import IntArray
from fexro.core.codes import Context
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.aci318_19.special_walls import (
    DesignShear,
    Segment,
    design_shear,
    special_shear,
)
from fexro.core.codes.aci318_19.wall_rules import (
    aspect_of,
    horizontal_ratio,
    is_special,
    special_bars_of_leg,
)
from fexro.core.codes.aci318_19.wall_shear import PHI
from fexro.core.codes.transverse_checks import (
    SMALLEST,
    limit_finding,
    no_shear_finding,
    with_earthquake,
)
from fexro.core.codes.wall_checks import (
    LegShears,
    axis_of,
    bars_within_ends,
    base_moments,
    leg_name,
    panel_of,
    worst,
    write_leg,
)
from fexro.core.codes.wall_sides import AXES
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, force, state_of_ratio
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.strength.surface import Strength
from fexro.core.strength.uniaxial import (
    governing_moment,
    nominal,
)

__all__ = ["SpecialWall", "end_bars", "probable", "special_shear_checks"]

share = partial(Term, dimension=Dimension.SHARE)
PROBABLE = 1.25  # of fy in Mpr (2.3)


@lru_cache(maxsize=256)
def probable(edition: Edition, cross: CrossSection) -> Strength:
    """Return the strength of a section with 1.25 fy and without factors, of Mpr (2.3)."""
    steel = replace(cross.steel, yield_strength=PROBABLE * cross.steel.yield_strength)
    return nominal(StrengthACI(edition).of(replace(cross, steel=steel)))


@lru_cache(maxsize=1024)
def _probable_moment(
    edition: Edition,
    cross: CrossSection,
    axis: int,
    axial: tuple[float, ...],
    moments: tuple[float, ...],
) -> tuple[int, float]:
    """Return of which of moments about an axis Mpr is the largest multiple, and Mpr, N·mm."""
    strength = probable(edition, cross)
    return governing_moment(strength, axis, np.array(axial), np.array(moments), strongest=True)


@dataclass(frozen=True, eq=False)
class SpecialWall:
    """A panel of a special wall."""

    edition: Edition
    facts: ColumnFacts
    context: Context

    @cached_property
    def shears(self) -> LegShears:
        """Shears of its legs."""
        return LegShears.of(self.facts, self.context.actions)

    @property
    def concrete(self) -> tuple[float, float]:
        """Strength of the weakest concrete, MPa, and λ."""
        weakest = self.facts.cross_section.weakest
        return weakest.strength, lightness(None, self.edition, weakest)

    def amplification(self, leg: int) -> float:
        """Return Ve over the shear of the analysis of a leg."""
        return self.design(None, leg, 1.0).shear

    def design(self, record: Derivation | None, leg: int, shear: float) -> DesignShear:
        """Return Ve of a leg with a shear of the analysis."""
        panel = panel_of(self.facts)
        moment = partial(_probable_moment, self.edition)
        M_u, M_pr = base_moments(self.facts, self.context.actions, axis_of(panel, leg), moment)
        height = panel.height if panel.critical is not None else panel.above
        if record is not None:
            record.note(with_earthquake(self.context.actions))
            record.note(
                "M_u and M_pr are those at the critical section, of the combinations whose moment"
                " is at least half of the largest, where their ratio is largest; M_pr with 1.25 fy."
            )
            record.given("M_u", M_u, Dimension.MOMENT, "at the critical section")
            record.given("M_pr", M_pr, Dimension.MOMENT, "there")
        return design_shear(
            record,
            self.edition,
            (panel.lengths[leg], height, panel.storeys),
            (shear, M_u, M_pr),
        )


def special_shear_checks(
    edition: Edition, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check shear in plane of legs and of parallel legs together, amplified (18.10.3, 18.10.4).

    Parallel legs of a panel, and those of the panels beside openings of the same wall, share the
    force of the wall along an axis.
    """
    if not is_special(facts):
        return []
    wall = SpecialWall(edition, facts, context)
    if wall.shears.none_given:
        return [no_shear_finding("18.10.4")]
    panel = panel_of(facts)
    found: list[Finding] = []
    numbers = range(len(panel.legs.legs))
    groups = [[n for n in numbers if axis_of(panel, n) == axis] for axis in (0, 1)]
    for axis, legs in enumerate(groups):
        if legs and wall.shears.shears[:, legs].max() > SMALLEST:
            found += _group_shear(wall, axis, legs)
    return found


def _segments(wall: SpecialWall, legs: Sequence[int], rows: IntArray) -> list[Segment]:
    """Return legs of a panel as they share a force in some demands, each with its design shear."""
    facts, shears, panel = wall.facts, wall.shears, panel_of(wall.facts)
    known = (rows >= 0)[:, None]
    seismic = shears.seismic[rows] & (rows >= 0)
    acting = np.where(known, shears.shears[rows][:, legs], 0.0)
    axial = np.where(known, shears.axial[rows][:, legs], 0.0)
    return [
        Segment(
            panel.legs.legs[leg].thickness,
            panel.legs.lengths[leg],
            aspect_of(facts, leg),
            horizontal_ratio(facts, leg),
            facts.transverse_steel.yield_strength,
            acting[:, place] * np.where(seismic, wall.amplification(leg), 1.0),
            axial[:, place],
        )
        for place, leg in enumerate(legs)
    ]


def _beside(wall: SpecialWall, axis: int) -> list[tuple[str, list[Segment]]]:
    """Return the segments along an axis of the panels beside, in the demands of a panel."""
    actions, found = wall.context.actions, []
    for other in panel_of(wall.facts).beside:
        legs = [n for n, leg in enumerate(panel_of(other.facts).legs.legs) if leg.axis == axis]
        if not legs or not is_special(other.facts):
            continue
        combinations = {name: i for i, name in enumerate(other.actions.combinations)}
        stations = {name: i for i, name in enumerate(other.actions.stations)}
        count = len(stations)
        rows = np.array(
            [
                combinations[name] * count + stations.get(place, 0) if name in combinations else -1
                for name in actions.combinations
                for place in actions.stations
            ]
        )
        context = replace(wall.context, actions=other.actions)
        there = SpecialWall(wall.edition, other.facts, context)
        found.append((other.name, _segments(there, legs, rows)))
    return found


def _at(segment: Segment, row: int) -> Segment:
    return replace(
        segment,
        shear=float(np.asarray(segment.shear)[row]),
        axial=float(np.asarray(segment.axial)[row]),
    )


def _group_shear(wall: SpecialWall, axis: int, legs: list[int]) -> list[Finding]:
    """Return the checks of parallel legs, and of all that share the force with them."""
    facts, shears = wall.facts, wall.shears
    panel = panel_of(facts)
    own = _segments(wall, legs, np.arange(len(shears.rows)))
    beside = _beside(wall, axis)
    parts = [*own, *(one for _, segments in beside for one in segments)]
    design = np.sum([np.asarray(one.shear) for one in parts], axis=0)
    found = special_shear(None, wall.edition, wall.concrete, parts, design)
    ratios = np.column_stack([one.ratio for one in found.segments[: len(own)]])
    resisted = PHI * np.column_stack([one.strength for one in found.segments[: len(own)]])

    def derive(leg: int, row: int) -> Derivation:
        record = Derivation()
        write_leg(record, shears, legs[leg], row)
        if shears.seismic[row]:
            wall.design(record, legs[leg], float(shears.shears[row, legs[leg]]))
        for name, segments in beside:
            for one in (_at(segment, row) for segment in segments):
                record.given("V_e", float(one.shear), Dimension.FORCE, f"of {name} beside it")
        special_shear(
            record, wall.edition, wall.concrete, [_at(p, row) for p in parts], float(design[row])
        )
        return record

    row, place = (int(i) for i in np.unravel_index(int(ratios.argmax()), ratios.shape))
    combination, at = shears.place(row)
    name = leg_name(panel, legs[place])
    amplified = shears.seismic[row] and wall.amplification(legs[place]) > 1
    told = " with overstrength" if amplified else ""
    single = Finding(
        f"Shear in plane{name}",
        "shear",
        "18.10.3, 18.10.4",
        state_of_ratio(float(ratios[row, place])),
        float(ratios[row, place]),
        "{found} of {strength}",
        f"Shear {{found}}{told} in the plane{name} at the {at} in {{combination}};"
        " {strength} is resisted.",
        {
            "found": force(float(np.asarray(own[place].shear)[row])),
            "strength": force(float(resisted[row, place])),
            "combination": combination,
        },
        combination=combination,
        resists=True,
        derive=partial(derive, place, row),
    )
    row = int(found.ratio.argmax())
    ratio = float(found.ratio[row])
    combination, at = shears.place(row)
    along = f" along {AXES[axis]}"
    piers = ", ".join(name for name, _ in beside)
    title, whose = "Shear in plane", " in the plane"
    if beside:
        title, whose = f"Shear{along} with {piers}", f"{along} with {piers}"
    elif len(legs) > 1:
        title, whose = f"Shear of the legs{along} together", f" of the legs{along}"
    together = Finding(
        title,
        "shear",
        "18.10.4.4",
        state_of_ratio(ratio),
        ratio,
        "{found} of {strength}",
        f"Shear {{found}}{told}{whose} at the {at} in {{combination}}; {{strength}} is resisted.",
        {
            "found": force(float(design[row])),
            "strength": force(PHI * float(found.strength[row])),
            "combination": combination,
        },
        combination=combination,
        resists=True,
        derive=partial(derive, 0, row),
    )
    # One that shares its force with no other goes by the limit of those that do.
    return [single, together] if len(parts) > 1 else [together]


def end_bars(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check the bars within the ends of slender legs near the critical section (18.10.2.4)."""
    if not is_special(facts):
        return []
    panel, shears = panel_of(facts), LegShears.of(facts, context.actions)
    found = []
    for leg, _ in enumerate(panel.legs.legs):
        asked = special_bars_of_leg(None, edition, facts, leg, shears)
        beyond = asked.end_extent is not None and (
            panel.height - panel.above >= asked.end_extent - 1e-6
        )
        if asked.end_ratio is None or asked.end_length is None or beyond:
            continue
        zone = asked.end_length * panel.legs.legs[leg].thickness
        area = min(bars_within_ends(facts, leg, asked.end_length))

        def derive(leg: int = leg, area: float = area, zone: float = zone) -> Derivation:
            record = Derivation()
            special_bars_of_leg(record, edition, facts, leg, shears)
            record.given("A_s", area, Dimension.AREA, "bars within the end that has fewer")
            record.given("A_end", zone, Dimension.AREA, "length of the end by the thickness")
            record.given("rho", area / zone, Dimension.RATIO, "bars over the concrete of the end")
            return record

        name = leg_name(panel, leg)
        found.append(
            limit_finding(
                *(f"Bars of the ends{name}", "end bars", "18.10.2.4"),
                share(area / zone),
                share(asked.end_ratio),
                f"Bars within 0.15 ℓw of an end{name} are {{found}} of it; {{limit}} required.",
                derive,
                at_least=True,
            )
        )
    return worst(found)
