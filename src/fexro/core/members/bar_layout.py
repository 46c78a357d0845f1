"""The bars of a lift as they are built: bent, counted, and where they begin and end."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from scipy.optimize import linear_sum_assignment

from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.bending.bent_bar import BentBar, bent_once, closed, cranked_bar, straight, u_bar
from fexro.core.bending.practice import BendingPractice
from fexro.core.bending.tie_set import SetTie, spiral_of, tie_set
from fexro.core.codes import DesignCode
from fexro.core.codes.offset_checks import OffsetOptions
from fexro.core.codes.options import options_of
from fexro.core.facts import ColumnFacts
from fexro.core.members.elevation import ties_along
from fexro.core.members.lift import PreparedLift
from fexro.core.section.bars import BarSize
from fexro.core.section.horizontal_bars import HorizontalBar, HorizontalKind, horizontal_bars
from fexro.core.section.section import Section
from fexro.core.tie_zones import tie_count

__all__ = ["BarKind", "LaidBar", "bars_of_lift", "horizontal_bars_of"]

BarKind = Literal[
    "bar",
    "dowel",
    "outer tie",
    "inner tie",
    "cross tie",
    "spiral",
    "horizontal",
    "U-bar",
    "corner bar",
]
# The size of a bar by its diameter and area, mm and mm².
SizeOf = Callable[[float, float], BarSize]

LOOSE = 2.0  # mm, by which a bar may stand in the cover above
STAGGER = 1.3  # laps, by which every second lap is higher where half are lapped at one level


@dataclass(frozen=True)
class LaidBar:
    """Bars of a lift that are alike.

    Attributes:
        bar: as it is bent.
        number: of them.
        kind: what they are.
        which: the bars of the section that they are, or go round; none for ties round all.
        around: the bars that each tie of a set goes round.
        lines: of horizontal bars of walls the centre lines of those of a row, in the section.
        start, end: from where to where above the slab that the lift stands on, mm.
        storey: height of the storey, mm.
        told: where they go, in words.
    """

    bar: BentBar
    number: int
    kind: BarKind
    which: tuple[int, ...]
    start: float
    end: float
    storey: float
    told: str
    around: tuple[tuple[int, ...], ...] = ()
    lines: tuple[FloatArray, ...] = field(default=(), compare=False, repr=False)


def bars_of_lift(
    prepared: PreparedLift, above: PreparedLift | None, size_of: SizeOf
) -> tuple[LaidBar, ...]:
    """Return the bars of a lift: those along it, then its ties.

    Bars begin at the laps of the lift and reach through those of the lift above, straight where
    they have cover there and are near enough to the bar that they are lapped with, else cranked.
    They end below the floor where no bar above is in reach; bars above that none goes on to begin
    with dowels. Starters below the lowest lift are not among them. Bars of a coupling beam reach
    into the piers as far as they have to; those that have no room for that are not among them.

    Args:
        prepared: the lift.
        above: the lift that stands on it, if there is one.
        size_of: finds the size of a bar.
    """
    practice = prepared.lift.code.bending(prepared.lift.facts)
    if prepared.lift.facts.beam is not None:
        return tuple(_of_beam(prepared, size_of, practice))
    along = _Along(prepared, above, size_of, practice)
    across = _ties if prepared.lift.facts.panel is None else _of_panel
    return (*along.bars(), *across(prepared, practice))


def _laps(prepared: PreparedLift) -> tuple[float, float] | None:
    lift = prepared.lift
    return lift.code.laps(lift.facts, prepared.context)


class _Along:
    """The bars along a lift, see `bars_of_lift`."""

    def __init__(
        self,
        prepared: PreparedLift,
        above: PreparedLift | None,
        size_of: SizeOf,
        practice: BendingPractice,
    ) -> None:
        facts = prepared.lift.facts
        self.facts, self.practice, self.size_of = facts, practice, size_of
        self.section = facts.section
        self.storey = facts.height
        self.lean = options_of(OffsetOptions, facts.options, others=True).crank
        self.start, self.stagger = 0.0, 0.0
        own = _laps(prepared)
        if own is not None:
            self.start = own[0]
            self.stagger = STAGGER * (own[1] - own[0]) if facts.laps == "half" else 0.0
        self.above = None if above is None else above.lift.facts
        self.laps_above = None if above is None else _laps(above)

    def bars(self) -> list[LaidBar]:
        """Return them, equal ones together."""
        found: dict[tuple[BentBar, str, float, float], list[int]] = {}
        kinds: dict[tuple[BentBar, str, float, float], BarKind] = {}
        for kind, which, bar, start, end, told in self._each():
            key = bar, told, round(start, 3), round(end, 3)
            found.setdefault(key, []).append(which)
            kinds[key] = kind
        return [
            LaidBar(
                bar,
                len(which),
                kinds[bar, told, start, end],
                tuple(which),
                start,
                end,
                self.storey,
                told,
            )
            for (bar, told, start, end), which in found.items()
        ]

    def _each(self) -> Iterator[tuple[BarKind, int, BentBar, float, float, str]]:
        """Yield each bar: its kind, number in its section, bent, from where to where, told."""
        bars = self.section.bars
        partner, offset = self._partners()
        for i in range(len(bars)):
            size = self.size_of(float(bars.diameter[i]), float(bars.area[i]))
            start = self.start + self._higher(i, self.stagger)
            if partner[i] < 0:
                end = self.storey - self.practice.cover_at_ends
                told = "ends below the floor above"
                yield "bar", i, straight(size, end - start, self.practice), start, end, told
            elif self.laps_above is None:
                bar = straight(size, self.storey - start, self.practice)
                yield "bar", i, bar, start, self.storey, "coupled with the lift above"
            else:
                end = self.storey + self.laps_above[1] + self._higher(i, self._stagger_above)
                yield "bar", i, *self._lapped(size, start, end, offset[i])
        yield from self._dowels(partner)

    def _lapped(
        self, size: BarSize, start: float, end: float, offset: float
    ) -> tuple[BentBar, float, float, str]:
        if not offset:
            bar = straight(size, end - start, self.practice)
            return bar, start, end, "lapped with the lift above"
        rise = self.lean * offset
        lower, upper = self.storey - rise - start, end - self.storey
        bar = cranked_bar(size, lower, upper, offset, self.lean, self.practice)
        return bar, start, end, f"cranked 1 in {self.lean:g} below the floor above"

    def _dowels(
        self, partner: IntArray
    ) -> Iterator[tuple[BarKind, int, BentBar, float, float, str]]:
        """Yield dowels of bars above that none goes on to."""
        if self.above is None or self.laps_above is None:
            return
        bars, length = self.above.section.bars, self.laps_above[1] - self.laps_above[0]
        for j in sorted(set(range(len(bars))) - set(partner.tolist())):
            size = self.size_of(float(bars.diameter[j]), float(bars.area[j]))
            end = self.storey + self.laps_above[1] + self._higher(j, self._stagger_above)
            start = self.storey - length
            bar = straight(size, end - start, self.practice)
            yield "dowel", j, bar, start, end, "of a bar above that none below goes on to"

    @property
    def _stagger_above(self) -> float:
        if self.laps_above is None or self.above is None or self.above.laps != "half":
            return 0.0
        return STAGGER * (self.laps_above[1] - self.laps_above[0])

    @staticmethod
    def _higher(number: int, stagger: float) -> float:
        """Return how much higher the lap of a bar is: of every second one."""
        return stagger if number % 2 else 0.0

    def _partners(self) -> tuple[IntArray, FloatArray]:
        """Return the bar above that each goes on to, -1 for none, and by how much it is cranked."""
        count = len(self.section.bars)
        partner, cranked = np.full(count, -1), np.zeros(count)
        if self.above is None:
            return partner, cranked
        below, above = (_places(section) for section in (self.section, self.above.section))
        between = below[:, None] - above[None]
        distance = np.hypot(between[..., 0], between[..., 1])
        straight_on = self._covered(below, self.above.section)
        lap = math.inf if self.laps_above is None else self.laps_above[1] - self.laps_above[0]
        diameters = self.section.bars.diameter.tolist()
        apart = np.array([self.practice.apart(lap, d) for d in diameters])
        # A pair that is too far apart is none, so that as many as can go on.
        beside = np.where(straight_on[:, None], distance, np.abs(between).max(axis=-1))
        most = np.where(straight_on, apart, self.practice.largest_offset - LOOSE)
        far = beside > most[:, None]
        for i, j in zip(*linear_sum_assignment(np.where(far, 1e6, distance)), strict=True):
            if not far[i, j]:
                partner[i], cranked[i] = j, 0.0 if straight_on[i] else distance[i, j]
        return partner, cranked

    def _covered(self, places: FloatArray, above: Section) -> BoolArray:
        """Return which bars have their cover in the section above where they go straight on."""
        import shapely

        edge = shapely.LinearRing(above.outline.rings[0])
        points = shapely.points(places + above.outline.centroid)
        within = shapely.contains(shapely.Polygon(edge), points)
        depth = shapely.distance(points, edge) - self.section.bars.diameter / 2
        covered: BoolArray = within & (depth >= above.cover + above.ties.size.diameter - LOOSE)
        return covered


def _places(section: Section) -> FloatArray:
    """Return the places of bars about the centroid, (B, 2)."""
    return np.column_stack([section.bars.x, section.bars.y]) - section.outline.centroid


def _of_beam(
    prepared: PreparedLift, size_of: SizeOf, practice: BendingPractice
) -> Iterator[LaidBar]:
    """Yield the bars along a coupling beam, its diagonals, its ties, and hoops of diagonals."""
    lift, section, beam = prepared.lift, prepared.lift.facts.section, prepared.lift.facts.beam
    assert beam is not None
    span, group = beam.span, beam.diagonals
    room = math.inf if beam.piers is None else min(beam.piers) - section.cover
    bars = section.bars
    own = len(bars) - (0 if group is None else group.at_ends)
    alike: dict[tuple[float, float], list[int]] = {}
    for i in range(own):
        alike.setdefault((float(bars.diameter[i]), float(bars.area[i])), []).append(i)
    for (diameter, area), which in alike.items():
        reach = lift.code.anchored(lift.facts, diameter)
        if reach <= room:
            bar = straight(size_of(diameter, area), span + 2 * reach, practice)
            told = f"along, {reach:.0f} mm into each pier"
            yield LaidBar(bar, len(which), "bar", tuple(which), 0.0, span, span, told)
    if group is not None:
        reach = lift.code.anchored(lift.facts, group.diameter)
        slope = span / math.cos(group.angle)
        if reach * math.cos(group.angle) <= room:
            bar = straight(size_of(group.diameter, group.area), slope + 2 * reach, practice)
            told = f"diagonal, two groups of {group.count}, {reach:.0f} mm into each pier"
            yield LaidBar(bar, 2 * group.count, "bar", (), 0.0, span, span, told)
        if group.confined == "groups":
            x, y = (size / 2 - group.hoops.size.diameter / 2 for size in group.cage)
            ring = np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
            hoops = 2 * max(math.ceil(slope / group.hoops.spacing - 1e-9), 1)
            hoop = closed(group.hoops.size, ring, practice)
            told = "around both groups of diagonals"
            yield LaidBar(hoop, hoops, "inner tie", (), 0.0, span, span, told)
    sets = max(math.ceil(span / section.ties.spacing - 1e-9), 1)
    for one in tie_set(section, lift.code.held, practice):
        yield _in_sets(one, sets, 0.0, span, span)


def _of_panel(prepared: PreparedLift, practice: BendingPractice) -> Iterator[LaidBar]:
    """Yield the horizontal bars of a panel, around its ends and corners, and hoops of its ends."""
    lift, section, panel = prepared.lift, prepared.lift.facts.section, prepared.lift.facts.panel
    assert panel is not None
    storey, ties = lift.facts.height, section.ties
    rows = max(math.ceil(storey / ties.spacing - 1e-9), 1)
    alike: dict[tuple[HorizontalKind, int, tuple[float, ...]], list[FloatArray]] = {}
    for row in horizontal_bars_of(lift.code, lift.facts):
        alike.setdefault((row.kind, row.leg, row.sides), []).extend(row.lines)
    for (kind, leg, sides), lines in alike.items():
        where = "" if len(panel.legs.legs) == 1 else f" of leg {leg + 1}"
        if kind == "horizontal":
            bar = straight(ties.size, sides[0], practice)
            told = f"horizontal{where}, {panel.curtains} curtain{'s' * (panel.curtains - 1)}"
        elif kind == "U-bar":
            bar = u_bar(ties.size, sides[0], sides[1], practice)
            ends = "end" if len(lines) == 1 else "ends"
            told = f"around the {ends}{where}, lapped {sides[0]:.0f} mm, each"
        else:
            bar = bent_once(ties.size, sides[0], sides[1], practice)
            told = f"around corners{where}, both curtains"
        number, told = len(lines) * rows, f"{told} of {rows} rows"
        yield LaidBar(bar, number, kind, (), 0.0, storey, storey, told, lines=tuple(lines))
    if panel.hoops is None or not panel.ends:
        return
    sets = max(math.ceil(storey / panel.hoops.spacing - 1e-9), 1)
    for one in tie_set(replace(section, ties=panel.hoops), lift.code.held, practice):
        if one.kind == "outer tie":
            continue
        yield _in_sets(one, sets, 0.0, storey, storey, ", around the ends")


def horizontal_bars_of(code: DesignCode, facts: ColumnFacts) -> list[HorizontalBar]:
    """Return the horizontal bars of a row of a panel."""
    assert facts.panel is not None
    size, panel = facts.section.ties.size, facts.panel
    lap = code.horizontal_lap(facts)
    return horizontal_bars(panel.legs, facts.section.cover, size.diameter, panel.curtains, lap)


def _ties(prepared: PreparedLift, practice: BendingPractice) -> Iterator[LaidBar]:
    lift, section = prepared.lift, prepared.lift.facts.section
    clear, storey = lift.facts.clear_height, lift.facts.height
    if section.ties.spiral:
        bar = spiral_of(section, clear, practice)
        yield LaidBar(bar, 1, "spiral", (), 0.0, clear, storey, f"over {clear:.0f} mm")
        return
    zones = ties_along(prepared)
    sets = tie_count(zones)
    for one in tie_set(section, lift.code.held, practice):
        yield _in_sets(one, sets, zones[0].start, zones[-1].end, storey)


def _in_sets(
    one: SetTie, sets: int, start: float, end: float, storey: float, where: str = ""
) -> LaidBar:
    """Return ties that are in each of a number of sets between two heights."""
    which = tuple(sorted({bar for tie in one.around for bar in tie}))
    told = f"{one.number} in each of {sets} sets{where}"
    number = one.number * sets
    return LaidBar(one.bar, number, one.kind, which, start, end, storey, told, one.around)
