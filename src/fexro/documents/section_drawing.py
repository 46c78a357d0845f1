"""A section drawn to scale: concrete, bars, ties, dimensions, and the marks of its bars."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.bending.bent_bar import HOOKED, closed
from fexro.core.bending.practice import BendingPractice
from fexro.core.bending.tie_set import inner_ring, tie_set
from fexro.core.codes import DesignCode
from fexro.core.facts import ColumnFacts
from fexro.core.members.bar_layout import horizontal_bars_of
from fexro.core.quantities import INCH, UnitSystem
from fexro.core.section.horizontal_bars import HorizontalKind
from fexro.core.section.section import Section
from fexro.documents.bar_list import ListedBar
from fexro.documents.drawing import (
    Area,
    Circle,
    Dimension,
    Item,
    Layer,
    Line,
    Point,
    Text,
    text_width,
)

__all__ = [
    "dimension_unit",
    "dimensioned",
    "marked",
    "marks_width",
    "section_items",
    "section_size",
]

FIRST, NEXT = 7.0, 5.5  # mm from the section to the first line of dimensions, and between lines
LEADER = 9.0  # mm beside the section, where marks begin
MOST = 6  # places of corners that are dimensioned one by one
LEAST_SPOT = 0.35  # mm, radius of a bar however small the scale
STEP = 4.2  # mm between two marks
LEAST_WEIGHT = 0.2  # mm, of ties however small the scale

ToPaper = Callable[[Sequence[float] | FloatArray], Point]


def dimension_unit(system: UnitSystem) -> tuple[float, int]:
    """Return the unit of lengths on drawings, real mm, and its decimals."""
    return (1.0, 0) if system is UnitSystem.SI else (INCH, 2)


def section_size(section: Section) -> tuple[float, float]:
    """Return the width and depth of the box around a section, mm."""
    x0, y0, x1, y1 = section.outline.bounds
    return x1 - x0, y1 - y0


def section_items(facts: ColumnFacts, code: DesignCode, scale: float) -> Iterator[Item]:
    """Yield the section of a lift about the middle of its box: concrete, ties and bars.

    Args:
        facts: the lift.
        code: by which bars are held and bent.
        scale: real mm of a mm on paper.
    """
    section = facts.section
    to = _to_paper(section, scale)
    rings = tuple(tuple(map(to, ring)) for ring in section.outline.rings)
    yield Area(rings, "hatch")
    for ring in rings:
        yield Line(ring, "concrete", closed=True)
    for part in section.steel:
        yield Area(tuple(tuple(map(to, ring)) for ring in part.outline.rings), "steel")
    weight = max(section.ties.size.diameter / scale, LEAST_WEIGHT)
    practice = code.bending(facts)
    for tie in _ties(section, code, practice, outer=facts.panel is None):
        yield Line(tuple(map(to, tie)), "ties", weight=weight)
    for kind, line in _horizontal(facts, code, practice):
        # What goes round ends and corners is told from what it is lapped with.
        layer: Layer = "ties" if kind == "horizontal" else "laps"
        yield Line(tuple(map(to, line)), layer, weight=weight)
    bars = section.bars
    for x, y, diameter in zip(bars.x, bars.y, bars.diameter, strict=True):
        radius = max(float(diameter) / 2 / scale, LEAST_SPOT)
        yield Circle(to((x, y)), radius, "bars", filled=True)


def dimensioned(section: Section, scale: float, system: UnitSystem) -> Iterator[Item]:
    """Yield the dimensions of a section: its box, and its corners where they are few."""
    to, unit = _to_paper(section, scale), dimension_unit(system)
    x0, y0, x1, y1 = section.outline.bounds
    (left, low), (right, high) = to((x0, y0)), to((x1, y1))
    ring = section.outline.rings[0]
    few = not (section.smooth or section.round)
    across = _places(ring[:, 0]) if few else []
    up = _places(ring[:, 1]) if few else []
    below = low - FIRST
    if 2 < len(across) <= MOST:
        for a, b in itertools.pairwise(across):
            yield Dimension(to((a, y0)), to((b, y0)), below, "x", scale, "", unit)
        below -= NEXT
    yield Dimension((left, low), (right, low), below, "x", scale, "", unit)
    beside = left - FIRST
    if 2 < len(up) <= MOST:
        for a, b in itertools.pairwise(up):
            yield Dimension(to((x0, a)), to((x0, b)), beside, "y", scale, "", unit)
        beside -= NEXT
    yield Dimension((left, low), (left, high), beside, "y", scale, "", unit)
    size, decimals = unit
    cover = f"cover {section.cover / size:.{decimals}f}"
    yield Text(cover, (left, below - 5.5), 1.8, "dimensions")


def marked(section: Section, scale: float, rows: Sequence[ListedBar]) -> Iterator[Item]:
    """Yield leaders from bars and ties to their marks, at the right of a section."""
    to = _to_paper(section, scale)
    right, top = to(section.outline.bounds[2:])
    where = right + LEADER
    texts = []
    for row in rows:
        kind, which = row.laid.kind, row.laid.which
        if kind == "dowel":
            continue
        called = f"{row.number} {row.marked.bar.size.name} – {row.marked.mark}"
        if kind != "bar":
            called = f"{row.marked.bar.size.name} {kind} – {row.marked.mark}"
        spot = _spot(section, which, kind)
        texts.append((to(spot), called))
    texts.sort(key=lambda one: -one[0][1])
    for number, (spot, called) in enumerate(texts):
        y = top - 1.5 - STEP * number
        yield Line((spot, (where - 2.0, y), (where - 0.5, y)), "dimensions")
        yield Text(called, (where, y), 1.9, "marks", upright="middle")


def marks_width(rows: Sequence[ListedBar]) -> float:
    """Return about how much room the marks take at the right of a section, mm."""
    names = [f"{row.marked.bar.size.name} {row.laid.kind} – {row.marked.mark}" for row in rows]
    return LEADER + max((text_width(name, 1.9) for name in names), default=0.0)


def _spot(section: Section, which: tuple[int, ...], kind: str) -> tuple[float, float]:
    """Return where the leader to some bars, or to a tie, begins: at the right, mm."""
    bars = section.bars
    if kind == "bar" and which:
        chosen = max(which, key=lambda i: float(bars.x[i]) + 0.2 * float(bars.y[i]))
        return float(bars.x[chosen]), float(bars.y[chosen])
    if which:
        places = np.column_stack([bars.x[list(which)], bars.y[list(which)]])
        ends = places[np.argsort(-places[:, 0])][:2]
        x, y = ends.mean(axis=0) if len(ends) == 2 else ends[0]
        return float(x), float(y)
    ring = section.tie_ring
    if ring is None:
        return float(section.outline.centroid[0]), float(section.outline.centroid[1])
    right = ring[ring[:, 0] >= ring[:, 0].max() - 1.0]
    x, y = right[np.argmin(right[:, 1])]
    return float(x), float(y) + 0.12 * float(np.ptp(ring[:, 1]))


def _to_paper(section: Section, scale: float) -> ToPaper:
    x0, y0, x1, y1 = section.outline.bounds
    middle = (x0 + x1) / 2, (y0 + y1) / 2

    def to(point: Sequence[float] | FloatArray) -> Point:
        return (float(point[0]) - middle[0]) / scale, (float(point[1]) - middle[1]) / scale

    return to


def _horizontal(
    facts: ColumnFacts, code: DesignCode, practice: BendingPractice
) -> Iterator[tuple[HorizontalKind, FloatArray]]:
    """Yield what the horizontal bars of a panel are, and their centre lines, (V, 2), mm."""
    if facts.panel is None:
        return
    d = facts.section.ties.size.diameter
    rows = horizontal_bars_of(code, facts)
    for one in sorted(rows, key=lambda one: one.kind != "horizontal"):
        for line in one.lines:
            bent = rounded(line, practice.radius(d) + d / 2) if len(line) > 2 else line
            yield one.kind, bent


def _ties(
    section: Section, code: DesignCode, practice: BendingPractice, *, outer: bool
) -> Iterator[FloatArray]:
    """Yield the centre lines of ties with their hooks, (V, 2), mm; `outer` ones if asked for."""
    ring, size = section.tie_ring, section.ties.size.diameter
    if ring is None:
        return
    if section.ties.spiral or section.smooth or section.round:
        yield np.concatenate([ring, ring[:1]])
    if section.ties.spiral:
        return
    for one in tie_set(section, code.held, practice):
        if one.kind == "cross tie":
            for pair in one.around:
                yield _cross_tie(section, pair, practice)
        elif one.kind == "inner tie":
            for tie in one.around:
                radius = float(section.bars.diameter[list(tie)].max()) / 2 + size
                line = closed(section.ties.size, inner_ring(section, tie), practice).line
                yield rounded(np.array(line), radius)
        elif outer and not (section.smooth or section.round):
            yield rounded(np.array(one.bar.line), practice.hook(size, HOOKED).radius + size / 2)


def _cross_tie(section: Section, pair: tuple[int, ...], practice: BendingPractice) -> FloatArray:
    """Return a cross tie beside the two bars that its hooks go round, its ends in the concrete."""
    import shapely

    room = shapely.Polygon(section.outline.rings[0]).buffer(-section.cover / 2)
    ways = [
        _beside(section, bars, practice, side)
        for bars in (pair, pair[::-1])
        for side in (1.0, -1.0)
    ]
    return max(ways, key=lambda line: int(shapely.contains_xy(room, line[:, 0], line[:, 1]).sum()))


def _beside(
    section: Section, pair: tuple[int, ...], practice: BendingPractice, side: float
) -> FloatArray:
    bars, size = section.bars, section.ties.size.diameter
    places = np.column_stack([bars.x[list(pair)], bars.y[list(pair)]])
    along = (places[1] - places[0]) / float(np.hypot(*(places[1] - places[0])))
    aside = side * np.array([-along[1], along[0]])
    points = []
    for number, (place, bar) in enumerate(zip(places, pair, strict=True)):
        radius = (float(bars.diameter[bar]) + size) / 2
        outward = along if number else -along
        turn = math.radians(practice.cross[number])
        # Round the bar, from beside it to where the hook ends its turn.
        angles = np.linspace(0.0, turn, 7)
        arc = [place + radius * (math.cos(a) * aside + math.sin(a) * outward) for a in angles]
        tail = math.cos(turn) * outward - math.sin(turn) * aside
        end = arc[-1] + practice.hook(size, practice.cross[number]).straight * tail
        hook = [end, *arc[::-1]]
        points += hook if number == 0 else hook[::-1]
    return np.array(points)


def rounded(line: FloatArray, radius: float) -> FloatArray:
    """Return a line of points (V, 2) with its corners rounded, mm."""
    found = [line[0]]
    for before, corner, after in zip(line, line[1:], line[2:], strict=False):
        back, ahead = before - corner, after - corner
        far, near = float(np.hypot(*back)), float(np.hypot(*ahead))
        cosine = float(back @ ahead) / max(far * near, 1e-9)
        turn = math.pi - math.acos(min(max(cosine, -1.0), 1.0))
        reach = min(radius * math.tan(turn / 2), far / 2, near / 2)
        start, end = corner + back / far * reach, corner + ahead / near * reach
        # A parabola is near enough to the arc on paper.
        found += [
            (1 - share) ** 2 * start + 2 * share * (1 - share) * corner + share**2 * end
            for share in np.linspace(0.0, 1.0, 7)
        ]
    found.append(line[-1])
    return np.array(found)


def _places(values: FloatArray) -> list[float]:
    return sorted({round(float(value), 1) for value in values})
