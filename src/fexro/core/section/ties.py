"""Ties of a section: the outer one, and those inside by which bars are held. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import product
from typing import TYPE_CHECKING
from weakref import WeakKeyDictionary

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.section.bars import Bars
from fexro.core.section.section import Section

if TYPE_CHECKING:
    import shapely

__all__ = [
    "Arrangement",
    "HeldRule",
    "InnerTie",
    "Unheld",
    "arrange",
    "between_held",
    "unheld_bars",
]

InnerTie = tuple[int, ...]
HELD_ANGLE = math.radians(135.0)  # included, up to which a corner of a tie holds a bar
NEARLY_SQUARE = 1.25  # ratio of sides up to which a diamond is tied
MANY = 12  # bars on a face up to which every way to hold them is looked at
ASIDE = (0.35, 1.05)  # of its length by which a cross tie may be askew; more where none is found
REACH = 0.42  # of the section that a leg goes along to count
HOOPED = (2, 4)  # cross ties that are made hoops, two and two
TRIED = 16  # bars beyond that a cross tie is tried to
LONGEST = 0.5  # of the section that a tie which is much askew may be long
IN_CORNER = 1.0  # of the diameter that a bar may be away from a corner of the tie


@dataclass(frozen=True)
class HeldRule:
    """When a bar needs no tie of its own.

    Attributes:
        clause: where a code says so.
        distance: to a held bar, at most, mm.
        clear: whether it is measured clear, else between centres.
        both: whether to both sides, else to the nearer one.
        alternate: whether every second bar is to be held at least.
    """

    clause: str
    distance: float
    clear: bool
    both: bool
    alternate: bool


@dataclass(frozen=True)
class Unheld:
    """A bar that no tie holds.

    Attributes:
        bar: its number from 0.
        before, after: how far the held bars to both sides are, along the ring, mm.
        reasons: why it has to be held: `corner`, `alternate`, `distance`; empty where it has not.
    """

    bar: int
    before: float
    after: float
    reasons: tuple[str, ...] = ()

    @property
    def nearer(self) -> float:
        """The distance to the nearer held bar, mm."""
        return min(self.before, self.after)


@dataclass(frozen=True, eq=False)
class Arrangement:
    """Ties of a section.

    Attributes:
        section: that they are in.
        rule: by which bars are held.
        inner: the ties inside the outer one, each by the bars it goes round: two for a cross tie.
        by_hand: whether they were placed by hand.
        stale: whether they were placed by hand for other bars than there are.
    """

    section: Section
    rule: HeldRule
    inner: tuple[InnerTie, ...]
    by_hand: bool = False
    stale: bool = False

    @cached_property
    def held(self) -> BoolArray:
        """Whether each bar is held by a corner or a hook of a tie, (B,)."""
        held = _held_by_outer(self.section)
        for tie in self.inner:
            for place, bar in enumerate(tie):
                if len(tie) == 2 or self._angle(tie, place) <= HELD_ANGLE + 1e-9:
                    held[bar] = True
        return held

    def _angle(self, tie: InnerTie, place: int) -> float:
        bars = self.section.bars
        here, before, after = tie[place], tie[place - 1], tie[(place + 1) % len(tie)]
        u = np.array([bars.x[before] - bars.x[here], bars.y[before] - bars.y[here]])
        v = np.array([bars.x[after] - bars.x[here], bars.y[after] - bars.y[here]])
        cosine = float(u @ v) / max(float(np.hypot(*u) * np.hypot(*v)), 1e-9)
        return math.acos(min(max(cosine, -1.0), 1.0))

    @cached_property
    def unheld(self) -> tuple[Unheld, ...]:
        """The bars of the outer layer that no tie holds, in the order of their numbers."""
        return unheld_bars(self.section, self.held, self.rule)

    @cached_property
    def inside(self) -> tuple[int, ...]:
        """The bars inside the outer layer, of which it is not told whether they are held."""
        outer = set(self.section.around.tolist())
        return tuple(i for i in range(len(self.section.bars)) if i not in outer)

    @cached_property
    def lines(self) -> tuple[FloatArray, ...]:
        """The centre lines of the ties, closed but for cross ties, each (V, 2), mm."""
        found = [] if self.section.tie_ring is None else [_closed(self.section.tie_ring)]
        bars = self.section.bars
        for tie in self.inner:
            points = np.column_stack([bars.x[list(tie)], bars.y[list(tie)]])
            found.append(points if len(tie) == 2 else _closed(points))
        return tuple(found)

    @cached_property
    def legs(self) -> tuple[float, float]:
        """How many legs run along x and along y, where the section is cut at its centroid.

        A leg askew counts with its share in the direction.
        """
        ring = self.section.tie_ring
        if ring is None:
            return 0.0, 0.0
        found = []
        for axis in (0, 1):
            at, size = self.section.outline.centroid[axis], float(np.ptp(ring[:, axis]))
            outer, *inner = self.lines
            legs = _cut([outer], axis, at, 0.0)
            # The short sides of hoops are no legs: they reach over a small part only.
            found.append(legs + _cut(inner, axis, at, REACH * size))
        return found[0], found[1]


def unheld_bars(
    section: Section, held: Sequence[bool] | BoolArray, rule: HeldRule
) -> tuple[Unheld, ...]:
    """Return the bars of the outer layer that no tie holds, in the order of their numbers.

    Args:
        section: the section; in one without corners nothing is asked for.
        held: whether each bar is held, (B,).
        rule: when a bar needs no tie of its own.
    """
    if not section.corner_count:
        return ()
    order = section.around
    which = np.asarray(held, dtype=bool)[order]
    found = _unheld(section, order, which, _in_corners(section)[order], rule)
    return tuple(sorted(found, key=lambda one: one.bar))


def _closed(ring: FloatArray) -> FloatArray:
    return np.concatenate([ring, ring[:1]])


def _cut(lines: Sequence[FloatArray], axis: int, at: float, reach: float) -> float:
    """Return the legs of lines that cross a cut and reach so far, each with its share along it."""
    if not lines:
        return 0.0
    start = np.concatenate([line[:-1] for line in lines])
    end = np.concatenate([line[1:] for line in lines])
    # A hair beside the centroid, so that no corner lies in the cut.
    crossing = (start[:, axis] - at - 1e-3) * (end[:, axis] - at - 1e-3) < 0
    run = np.abs(end - start)
    shares = run[:, axis] / np.maximum(np.hypot(*run.T), 1e-9)
    return float(shares[crossing & (run[:, axis] >= reach)].sum())


def _corner_points(section: Section) -> tuple[FloatArray, BoolArray]:
    """Return the corners of the tie, (V, 2), and which of them point outwards, (V,)."""
    ring = section.tie_ring
    assert ring is not None
    back, ahead = ring - np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0) - ring
    turn = back[:, 0] * ahead[:, 1] - back[:, 1] * ahead[:, 0]
    area = (ring[:, 0] * np.roll(ring[:, 1], -1) - np.roll(ring[:, 0], -1) * ring[:, 1]).sum()
    return ring, turn * area > 0


def _near_corners(section: Section) -> tuple[BoolArray, BoolArray]:
    """Return which bars stand in corners of the tie, and in which of those it holds them, (B,)."""
    bars, none = section.bars, np.zeros(len(section.bars), dtype=bool)
    if section.tie_ring is None:
        return none, none.copy()
    ring, outward = _corner_points(section)
    away = np.hypot(bars.x[:, None] - ring[:, 0], bars.y[:, None] - ring[:, 1])
    reach = (bars.diameter * (0.75 + IN_CORNER) + section.ties.size.diameter)[:, None]
    near = away <= reach
    nearest = away == away.min(axis=0)
    standing = near & nearest
    return standing.any(axis=1), (standing & outward).any(axis=1)


def _in_corners(section: Section) -> BoolArray:
    return _near_corners(section)[0]


def _held_by_outer(section: Section) -> BoolArray:
    """Return the bars that a corner of the outer tie, or a round tie, holds, (B,)."""
    if not section.corner_count:
        held = np.zeros(len(section.bars), dtype=bool)
        held[section.around] = True
        return held
    return _near_corners(section)[1]


def _unheld(
    section: Section, order: IntArray, held: BoolArray, corner: BoolArray, rule: HeldRule
) -> list[Unheld]:
    """Return the bars in an order round the section that are not held, with what is wrong."""
    bars = section.bars
    if not len(order):
        return []
    x, y, radius = bars.x[order], bars.y[order], bars.diameter[order] / 2
    step = np.hypot(np.roll(x, -1) - x, np.roll(y, -1) - y)
    before, after = _to_held(step, radius, held, rule)
    beside = ~(np.roll(held, 1) & np.roll(held, -1)) & rule.alternate
    far = np.maximum(before, after) if rule.both else np.minimum(before, after)
    needs = (("corner", corner), ("alternate", beside), ("distance", far > rule.distance + 1e-6))
    return [
        Unheld(
            int(order[i]),
            float(before[i]),
            float(after[i]),
            tuple(name for name, need in needs if need[i]),
        )
        for i in np.flatnonzero(~held)
    ]


def _to_held(
    step: FloatArray, radius: FloatArray, held: BoolArray, rule: HeldRule
) -> tuple[FloatArray, FloatArray]:
    """Return how far it is from each bar back and on to a held one, round the ring, mm.

    Args:
        step: from each bar to the next, between centres, (B,).
        radius: of each, (B,).
        held: whether it is held, (B,).
        rule: how distances are measured.
    """
    count = len(step)
    if not held.any():
        return np.full(count, np.inf), np.full(count, np.inf)
    # Three times round, so that a held bar is found to both sides.
    place = np.concatenate([[0.0], np.cumsum(np.tile(step, 3))])[:-1]
    number = np.arange(3 * count)
    thrice = np.tile(held, 3)
    last = np.maximum.accumulate(np.where(thrice, number, -1))[count : 2 * count]
    back = np.where(thrice, number, 3 * count)[::-1]
    after = np.minimum.accumulate(back)[::-1][count : 2 * count]
    here = place[count : 2 * count]
    found = here - place[last], place[after] - here
    if not rule.clear:
        return found
    return (
        found[0] - radius - radius[last % count],
        found[1] - radius - radius[after % count],
    )


def between_held(section: Section, held: Sequence[bool]) -> FloatArray:
    """Return how far each held bar of the outer layer is from the next, along the ring, mm.

    Infinite where fewer than two are held.

    Args:
        section: the section.
        held: whether each bar is held, in the order of the bars.
    """
    order = section.around
    x, y = section.bars.x[order], section.bars.y[order]
    at = np.flatnonzero(np.asarray(held, dtype=bool)[order])
    if len(at) < 2:
        return np.array([np.inf])
    step = np.hypot(np.roll(x, -1) - x, np.roll(y, -1) - y)
    place = np.concatenate([[0.0], np.cumsum(step)])
    reached = place[at]
    apart: FloatArray = np.diff(np.concatenate([reached, [reached[0] + place[-1]]]))
    return apart


@lru_cache(maxsize=2048)
def arrange(section: Section, rule: HeldRule) -> Arrangement:
    """Return the ties of a section: as they were placed by hand, or those that a rule asks for.

    By the rule, the fewest bars of each face are held that need it, alike to both sides of its
    middle, by cross ties to the face beyond, by a hoop where two are held, and by a diamond where
    one is held in each face of a section that is nearly square.

    Args:
        section: the section.
        rule: by which bars are held.
    """
    if section.inner_ties is not None:
        count, ties = section.inner_ties
        if count == len(section.bars):
            return Arrangement(section, rule, ties, by_hand=True)
        return Arrangement(section, rule, (), by_hand=True, stale=True)
    if not section.corner_count or section.tie_ring is None or section.ties.spiral:
        return Arrangement(section, rule, ())
    # Neither the spacing of the ties nor what else the section holds makes a difference.
    known = _RULED.setdefault(section.bars, {})
    key = rule, section.ties.size, section.cover, id(section.outline)
    if key not in known:
        known[key] = _by_rule(section, rule)
    return Arrangement(section, rule, known[key])


_RULED: WeakKeyDictionary[Bars, dict[Hashable, tuple[InnerTie, ...]]] = WeakKeyDictionary()


def _by_rule(section: Section, rule: HeldRule) -> tuple[InnerTie, ...]:
    order = section.around
    standing, held_by_outer = _near_corners(section)
    corner, fixed = standing[order], held_by_outer[order]
    wanted = fixed | corner
    for face in _faces(wanted):
        chosen = _fewest(section, order, face, rule)
        wanted[[face[k] for k in chosen]] = True
    loose = [int(order[i]) for i in np.flatnonzero(wanted & ~fixed)]
    return _ties_through(section, loose)


def _faces(corner: BoolArray) -> list[list[int]]:
    """Return the runs of places between two corners, going round."""
    count = len(corner)
    starts = np.flatnonzero(corner)
    if not len(starts):
        return [list(range(count))]
    faces = []
    for a, b in zip(starts, np.roll(starts, -1), strict=True):
        run = [(int(a) + 1 + k) % count for k in range((int(b) - int(a) - 1) % count)]
        if run:
            faces.append(run)
    return faces


def _fewest(section: Section, order: IntArray, face: list[int], rule: HeldRule) -> list[int]:
    """Return which bars of a face, by their places in it, are to be held: the fewest that do."""
    count = len(face)
    line = order[[(face[0] - 1) % len(order), *face, (face[-1] + 1) % len(order)]]
    bars = section.bars
    x, y, radius = bars.x[line], bars.y[line], bars.diameter[line] / 2
    # The face alone, its corners held; how far it is from its end to its start does not matter.
    place = np.append(0.0, np.cumsum(np.hypot(np.diff(x), np.diff(y))))
    patterns = _patterns(count)
    held = np.pad(patterns, ((0, 0), (1, 1)), constant_values=True)
    number = np.arange(count + 2)
    last = np.maximum.accumulate(np.where(held, number, 0), axis=1)
    following = np.where(held, number, count + 1)[:, ::-1]
    following = np.minimum.accumulate(following, axis=1)[:, ::-1]
    before, after = place - place[last], place[following] - place
    if rule.clear:
        before, after = before - radius - radius[last], after - radius - radius[following]
    far = np.maximum(before, after) if rule.both else np.minimum(before, after)
    wrong = (~held & (far > rule.distance + 1e-6)).any(axis=1)
    if rule.alternate:
        wrong |= (~held[:, 1:] & ~held[:, :-1]).any(axis=1)
    # The last pattern holds every bar: there is one that does.
    return [int(k) for k in np.flatnonzero(patterns[int(wrong.argmin())])]


@lru_cache(maxsize=512)
def _patterns(count: int) -> BoolArray:
    """Return ways to hold the bars of a face alike to both sides, (P, B), the fewest first."""
    if count > MANY:
        every = np.arange(count) % 2 == 1
        return np.stack([every | every[::-1], np.ones(count, dtype=bool)])
    half = np.array(list(product((False, True), repeat=(count + 1) // 2)), dtype=bool)
    whole = np.concatenate([half, half[:, : count // 2][:, ::-1]], axis=1)
    return whole[np.argsort(whole.sum(axis=1), kind="stable")]


def _ties_through(section: Section, loose: list[int]) -> tuple[InnerTie, ...]:
    """Return ties that hold some bars of the outer layer."""
    bars, ring = section.bars, section.tie_ring
    assert ring is not None
    diamond = _diamond(section, loose)
    if diamond is not None:
        return (diamond,)
    import shapely

    # Bars stand inside the tie's centre line by no more than this; no tie goes through a void.
    room = shapely.Polygon(ring).buffer(1.0).intersection(section.outline.polygon)
    shapely.prepare(room)
    normals = _normals(section, ring, loose)
    rows = np.repeat(loose, [len(inward) for inward in normals]).astype(np.intp)
    across = _Across.of(bars, rows, np.array([n for inward in normals for n in inward]))
    waiting = np.zeros(len(bars), dtype=bool)
    waiting[loose] = True
    ties: list[InnerTie] = []
    for askew in ASIDE:
        longest = LONGEST * _size_of(section) if askew > ASIDE[0] else math.inf
        fit = across.fit(askew, longest)
        for bar in loose:
            if not waiting[bar]:
                continue
            for row in np.flatnonzero(rows == bar):
                other = _beyond(
                    section, room, bar, np.flatnonzero(fit[row]), across.worth[row], waiting
                )
                if other is None:
                    continue
                pair = (min(bar, other), max(bar, other))
                if pair not in ties:
                    ties.append(pair)
                    waiting[list(pair)] = False
    return tuple(_hoops(bars.x, bars.y, ties))


@dataclass(frozen=True, eq=False)
class _Across:
    """What cross ties would be, in rows from a bar square to a face it stands at, to each bar.

    Attributes:
        deep: how far inwards each bar is, (W, B), mm.
        aside: how far to the side, (W, B), mm.
        least: how deep a cross tie is at least, (W,), mm.
    """

    deep: FloatArray
    aside: FloatArray
    least: FloatArray

    @classmethod
    def of(cls, bars: Bars, start: IntArray, normal: FloatArray) -> _Across:
        """Look from some bars (W,) along normals (W, 2)."""
        dx, dy = bars.x - bars.x[start, None], bars.y - bars.y[start, None]
        nx, ny = normal.reshape(-1, 2, 1).transpose(1, 0, 2)
        return cls(dx * nx + dy * ny, np.abs(dy * nx - dx * ny), 3 * bars.diameter[start])

    def fit(self, askew: float, longest: float) -> BoolArray:
        """Return which may be tied to, (W, B): not too much askew nor too far away."""
        found: BoolArray = (self.deep >= self.least[:, None]) & (self.aside <= askew * self.deep)
        return found & (self.deep**2 + self.aside**2 <= longest**2)

    @cached_property
    def worth(self) -> FloatArray:
        """What is least for the best, (W, B): straight across, then the nearest face."""
        worth: FloatArray = self.aside + 1e-3 * self.deep
        return worth


def _diamond(section: Section, loose: list[int]) -> InnerTie | None:
    """Return a diamond through the bars in the middle of four faces, where that is all there is."""
    x0, y0, x1, y1 = section.outline.bounds
    square = max(x1 - x0, y1 - y0) / min(x1 - x0, y1 - y0)
    if len(loose) != 4 or section.corner_count != 4 or square > NEARLY_SQUARE:
        return None
    cx, cy = section.outline.centroid
    bars = section.bars
    angle = [math.atan2(bars.y[i] - cy, bars.x[i] - cx) for i in loose]
    quarters = sorted(zip(angle, loose, strict=True))
    apart = np.diff([*(a for a, _ in quarters), quarters[0][0] + 2 * math.pi])
    if np.abs(apart - math.pi / 2).max() > math.radians(15):
        return None
    tie = tuple(bar for _, bar in quarters)
    if section.steel:
        import shapely

        points = [(float(bars.x[i]), float(bars.y[i])) for i in (*tie, tie[0])]
        line = shapely.LineString(points)
        if any(line.intersects(part.outline.polygon) for part in section.steel):
            return None
    return tie


def _normals(section: Section, ring: FloatArray, loose: list[int]) -> list[list[FloatArray]]:
    """Return for each bar the directions inwards from the faces of the tie that it stands at."""
    bars = section.bars
    ahead = np.roll(ring, -1, axis=0) - ring
    length = np.hypot(*ahead.T)
    along = ahead / length[:, None]
    rel = np.column_stack([bars.x[loose], bars.y[loose]])[:, None] - ring
    t = np.clip((rel * along).sum(axis=2), 0, length)
    away = np.hypot(*(rel - along * t[..., None]).transpose(2, 0, 1))
    reach = 1.5 * bars.diameter[loose] + section.ties.size.diameter
    area = (ring[:, 0] * np.roll(ring[:, 1], -1) - np.roll(ring[:, 0], -1) * ring[:, 1]).sum()
    sense = 1.0 if area > 0 else -1.0
    inward = sense * np.column_stack([-along[:, 1], along[:, 0]])
    order = np.argsort(away, axis=1, kind="stable")
    near = (away <= reach[:, None]).sum(axis=1)
    return [[inward[k] for k in row[:n]] for row, n in zip(order, near, strict=True)]


def _beyond(
    section: Section,
    room: shapely.Geometry,
    bar: int,
    others: IntArray,
    worth: FloatArray,
    waiting: BoolArray,
) -> int | None:
    """Return the best of some bars beyond to which a cross tie can go; nothing if there is none.

    One that has to be held too is as good as one straighter across by a diameter.
    """
    import shapely

    bars = section.bars
    rank = worth[others] - bars.diameter[bar] * waiting[others]
    for other in others[np.argsort(rank, kind="stable")][:TRIED].tolist():
        line = shapely.LineString([(bars.x[bar], bars.y[bar]), (bars.x[other], bars.y[other])])
        blocked = any(line.intersects(part.outline.polygon) for part in section.steel)
        if not blocked and room.covers(line):
            return int(other)
    return None


def _size_of(section: Section) -> float:
    x0, y0, x1, y1 = section.outline.bounds
    return max(x1 - x0, y1 - y0)


def _hoops(x: FloatArray, y: FloatArray, ties: list[InnerTie]) -> list[InnerTie]:
    """Return cross ties with each two that are alike and side by side made one hoop."""
    found: list[InnerTie] = []
    left = list(ties)
    for level in (True, False):
        across, along = (y, x) if level else (x, y)
        rows = [
            tie
            for tie in left
            if len(tie) == 2
            and abs(across[tie[0]] - across[tie[1]]) < 1.0
            and abs(along[tie[0]] - along[tie[1]]) > 1.0
        ]
        rows.sort(key=lambda tie: float(across[tie[0]]))
        if len(rows) not in HOOPED:
            continue
        for a, b in zip(rows[::2], rows[1::2], strict=True):
            corners = {*a, *b}
            if len(corners) < 4 or not _alike(along, a, b):
                continue
            cx, cy = np.mean([x[i] for i in corners]), np.mean([y[i] for i in corners])
            hoop = sorted(corners, key=lambda i: math.atan2(y[i] - cy, x[i] - cx))
            found.append(tuple(hoop))
            left = [tie for tie in left if tie not in (a, b)]
    return [*found, *left]


def _alike(along: FloatArray, a: InnerTie, b: InnerTie) -> bool:
    """Tell whether two cross ties begin and end at the same places."""
    first, second = sorted(along[list(a)]), sorted(along[list(b)])
    return bool(np.abs(np.array(first) - np.array(second)).max() < 1.0)
