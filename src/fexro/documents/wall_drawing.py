"""A wall in elevation, to scale: concrete, openings, curtains, ends, coupling beams, levels."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.facts import ColumnFacts, DiagonalGroup
from fexro.core.members.lift import LiftResult
from fexro.documents.drawing import Area, Dimension, Item, Layer, Line, Point, Text, text_width
from fexro.documents.elevation_drawing import level_items
from fexro.documents.section_drawing import dimension_unit
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.wall_layout import BeamPlace, PanelPlace, Stretch
from fexro.project.wall_members import layout_in
from fexro.project.walls import Wall, WallLine

__all__ = ["wall_items", "wall_size"]

GAP = 1500.0  # real mm between straight walls that are drawn beside one another
THIN = 0.13  # mm, weight of bars at least
NAME = 1.9  # mm, height of the names of members
BELOW, NEXT, LEVELS = 9.0, 6.5, 42.0  # mm: of dimensions below and between, of levels at the left
SAME = 2.0  # real mm, up to which bars stand behind one another

Results = Mapping[LiftKey, LiftResult]


def wall_size(project: Project, wall: Wall) -> tuple[float, float]:
    """Return width and height of a wall as it is drawn, real mm: its lines beside one another."""
    low, high = _ends(project, wall)
    widths = [1e3 * line.length for line in wall.lines]
    return sum(widths) + GAP * (len(widths) - 1), high - low


def wall_items(project: Project, results: Results, wall: Wall, scale: float) -> Iterator[Item]:
    """Yield a wall from its lower left corner, each straight wall seen square to it.

    Args:
        project: the project.
        results: of all its members.
        wall: the wall.
        scale: real mm of a mm on paper.
    """
    left = 0.0
    for number in range(len(wall.lines)):
        one = _Elevation(project, results, wall, number, left, scale)
        yield from one.concrete()
        yield from one.bars()
        yield from one.beams()
        yield from one.dimensions()
        left += 1e3 * wall.lines[number].length + GAP
    yield from _levels(project, wall, scale)


def _ends(project: Project, wall: Wall) -> tuple[float, float]:
    """Return the levels of the foot and the top of a wall, real mm."""
    foot, top = (project.storey_by_name[name] for name in (wall.storeys[-1], wall.storeys[0]))
    return 1e3 * (foot.level - foot.height), 1e3 * top.level


def _levels(project: Project, wall: Wall, scale: float) -> Iterator[Item]:
    low, high = _ends(project, wall)
    unit = dimension_unit(project.basis.system)
    foot = project.storey_by_name[wall.storeys[-1]]
    yield from level_items(foot.level - foot.height, "", -LEVELS, 0.0)
    for name in wall.storeys:
        storey = project.storey_by_name[name]
        top = (1e3 * storey.level - low) / scale
        yield from level_items(storey.level, name, -LEVELS, top)
        start, end = (0.0, top - 1e3 * storey.height / scale), (0.0, top)
        yield Dimension(start, end, -BELOW, "y", scale, "", unit)
    yield Dimension((0.0, 0.0), (0.0, (high - low) / scale), -BELOW - NEXT, "y", scale, "", unit)


@dataclass(frozen=True)
class _Elevation:
    """A straight wall of a wall, from its left end at `left`, real mm."""

    project: Project
    results: Results
    wall: Wall
    number: int
    left: float
    scale: float

    @property
    def line(self) -> WallLine:
        """The straight wall."""
        return self.wall.lines[self.number]

    @property
    def foot(self) -> float:
        """Level of the foot of the wall, real mm."""
        return _ends(self.project, self.wall)[0]

    def at(self, along: float, up: float) -> Point:
        """Return a place on paper, real mm along the line and above the foot of the wall."""
        return (self.left + along) / self.scale, up / self.scale

    def floor(self, storey: str) -> float:
        """Return how far the floor of a storey is above the foot of the wall, real mm."""
        one = self.project.storey_by_name[storey]
        return 1e3 * (one.level - one.height) - self.foot

    def box(self, a: float, b: float, low: float, high: float) -> tuple[Point, ...]:
        """Return the corners of a rectangle."""
        return self.at(a, low), self.at(b, low), self.at(b, high), self.at(a, high)

    def concrete(self) -> Iterator[Item]:
        """Yield the outline, openings crossed out, and floors."""
        low, high = _ends(self.project, self.wall)
        outer = self.box(0.0, 1e3 * self.line.length, 0.0, high - low)
        holes = []
        for one in self.wall.openings:
            if one.line == self.number:
                sill = self.floor(one.storey) + 1e3 * one.sill
                holes.append(self.box(1e3 * one.at, 1e3 * one.end, sill, sill + 1e3 * one.height))
        yield Area((outer, *holes), "hatch")
        for name in self.wall.storeys[:-1]:
            floor = self.floor(name)
            ends = self.at(0.0, floor), self.at(1e3 * self.line.length, floor)
            yield Line(ends, "levels")
        for ring in (outer, *holes):
            yield Line(ring, "concrete", closed=True)
        for ring in holes:
            yield Line((ring[0], ring[2]), "dimensions")
            yield Line((ring[1], ring[3]), "dimensions")
        yield Text(
            f"Line {self.number + 1}" if len(self.wall.lines) > 1 else self.wall.name,
            ((outer[0][0] + outer[1][0]) / 2, outer[2][1] + 3.0),
            *(2.4, "text", "middle"),
            strong=True,
        )

    def bars(self) -> Iterator[Item]:
        """Yield the bars of the panels, those behind one another once, with their names."""
        for panel in layout_in(self.project, self.wall).panels:
            key = LiftKey(panel.mark, panel.storey)
            facts = self.results[key].lift.facts
            for leg, stretch in enumerate(panel.stretches):
                if stretch.line == self.number:
                    yield from self._panel(facts, leg, stretch, self.floor(panel.storey))
                    yield from self._name(panel, stretch, facts.height)

    def _panel(
        self, facts: ColumnFacts, leg: int, stretch: Stretch, floor: float
    ) -> Iterator[Item]:
        panel, section, start = facts.panel, facts.section, 1e3 * stretch.start
        assert panel is not None
        top, inset = floor + facts.height, section.cover
        for place, diameter in _seen(facts, leg):
            ends = self.at(start + place, floor), self.at(start + place, top)
            yield Line(ends, "bars", weight=max(diameter / self.scale, THIN))
        spacing, size = section.ties.spacing, section.ties.size.diameter
        a, b = start + inset, 1e3 * stretch.end - inset
        for up in _spaced(facts.height, spacing):
            ends = self.at(a, floor + up), self.at(b, floor + up)
            yield Line(ends, "ties", weight=max(size / self.scale, THIN))
        if panel.hoops is None:
            return
        weight = max(panel.hoops.size.diameter / self.scale, THIN)
        for end in panel.ends:
            if end.leg != leg:
                continue
            outer = a if end.end == 0 else b
            inner = start + end.length if end.end == 0 else 1e3 * stretch.end - end.length
            for up in _spaced(facts.height, panel.hoops.spacing):
                hoop = self.at(outer, floor + up), self.at(inner, floor + up)
                yield Line(hoop, "laps", weight=weight)

    def _name(self, panel: PanelPlace, stretch: Stretch, height: float) -> Iterator[Item]:
        """Yield the name of a panel on a ground of its own, where it has room."""
        middle = 1e3 * (stretch.start + stretch.end) / 2
        room = 1e3 * (stretch.end - stretch.start) / self.scale
        yield from _named(
            panel.mark, self.at(middle, self.floor(panel.storey) + 0.45 * height), room
        )

    def beams(self) -> Iterator[Item]:
        """Yield the coupling beams with their bars, which reach into the piers."""
        for beam in layout_in(self.project, self.wall).beams:
            if beam.line == self.number:
                key = LiftKey(beam.mark, beam.storey)
                yield from self._beam(beam, self.results[key].lift.facts)

    def _beam(self, beam: BeamPlace, facts: ColumnFacts) -> Iterator[Item]:
        storey = self.project.storey_by_name[beam.storey]
        top = self.floor(beam.storey) + 1e3 * (storey.height + beam.above)
        low, a, b = top - 1e3 * beam.depth, 1e3 * beam.start, 1e3 * beam.end
        section, middle = facts.section, (low + top) / 2
        anchored = self.results[LiftKey(beam.mark, beam.storey)].lift.code.anchored
        assert facts.beam is not None
        rooms = (0.0, 0.0) if facts.beam.piers is None else facts.beam.piers
        left, right = (max(room - section.cover, 0.0) for room in rooms)
        group = facts.beam.diagonals
        own = len(section.bars) - (0 if group is None else group.at_ends)
        yield Area((self.box(a, b, low, top),), "inside")
        for place, diameter in _behind(section.bars.y[:own], section.bars.diameter[:own]):
            reach = anchored(facts, diameter)
            begin, end = a - min(reach, left), b + min(reach, right)
            ends = self.at(begin, middle + place), self.at(end, middle + place)
            yield Line(ends, "bars", weight=max(diameter / self.scale, THIN))
        weight = max(section.ties.size.diameter / self.scale, THIN)
        for along in _spaced(b - a, section.ties.spacing):
            ends = self.at(a + along, low + section.cover), self.at(a + along, top - section.cover)
            yield Line(ends, "ties", weight=weight)
        if group is not None:
            reach = anchored(facts, group.diameter) * float(np.cos(group.angle))
            yield from self._diagonals(group, a - min(reach, left), b + min(reach, right), middle)
        yield Line(self.box(a, b, low, top), "concrete", closed=True)
        yield from _named(beam.mark, self.at((a + b) / 2, middle), (b - a) / self.scale)

    def _diagonals(self, group: DiagonalGroup, a: float, b: float, up: float) -> Iterator[Item]:
        """Yield the edges of both groups of diagonal bars."""
        rise = (b - a) / 2 * float(np.tan(group.angle))
        aside = (group.cage[1] / 2 - group.diameter) / float(np.cos(group.angle))
        weight = max(group.diameter / self.scale, THIN)
        for sense in (1.0, -1.0):
            for off in (aside, -aside):
                ends = self.at(a, up - sense * rise + off), self.at(b, up + sense * rise + off)
                yield Line(ends, "steel", weight=weight)

    def dimensions(self) -> Iterator[Item]:
        """Yield the length over all and where openings are, the chains of storeys once each."""
        unit, length = dimension_unit(self.project.basis.system), 1e3 * self.line.length
        below = -BELOW
        chains: dict[tuple[float, ...], None] = {}
        for name in self.wall.storeys[::-1]:
            edges = {0.0, length}
            for one in self.wall.openings:
                if one.line == self.number and one.storey == name:
                    edges |= {round(1e3 * one.at, 1), round(1e3 * one.end, 1)}
            if len(edges) > 2:
                chains[tuple(sorted(edges))] = None
        for chain in chains:
            for a, b in itertools.pairwise(chain):
                yield Dimension(self.at(a, 0.0), self.at(b, 0.0), below, "x", self.scale, "", unit)
            below -= NEXT
        ends = self.at(0.0, 0.0), self.at(length, 0.0)
        yield Dimension(*ends, below, "x", self.scale, "", unit)


def _seen(facts: ColumnFacts, leg: int) -> list[tuple[float, float]]:
    """Return how far along a leg its bars are seen, and their diameters, mm."""
    assert facts.panel is not None
    one, bars = facts.panel.legs.legs[leg], facts.section.bars
    points = np.column_stack([bars.x, bars.y]) - one.start
    inside = np.abs(points @ one.normal) <= one.thickness / 2
    along = points @ one.direction
    half = one.thickness / 2
    inside &= (along >= -half) & (along <= one.run + half)
    return _behind(along[inside], bars.diameter[inside])


def _behind(places: FloatArray, diameters: FloatArray) -> list[tuple[float, float]]:
    """Return places with the largest diameter there; what stands behind another once."""
    found: list[tuple[float, float]] = []
    for place, diameter in sorted(zip(places.tolist(), diameters.tolist(), strict=True)):
        if found and place - found[-1][0] <= SAME:
            found[-1] = found[-1][0], max(found[-1][1], diameter)
        else:
            found.append((place, diameter))
    return found


def _spaced(length: float, spacing: float) -> list[float]:
    """Return places along a length at a spacing, half of it from both ends, mm."""
    count = max(round(length / spacing), 1)
    return [(k + 0.5) * length / count for k in range(count)]


def _named(name: str, at: Point, room: float) -> Iterator[Item]:
    wide = text_width(name, NAME) + 2.0
    if wide > room:
        return
    x, y = at
    half, high = wide / 2, NAME / 2 + 0.9
    box = ((x - half, y - high), (x + half, y - high), (x + half, y + high), (x - half, y + high))
    layer: Layer = "inside"
    yield Area((box,), layer)
    yield Line(box, "dimensions", closed=True)
    yield Text(name, (x, y), NAME, "marks", "middle", "middle")
