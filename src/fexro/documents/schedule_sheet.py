"""The column schedule: storeys down, marks across, sections to scale, as sheets."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, unit_of
from fexro.documents.called import shape_called
from fexro.documents.content import Sheet
from fexro.documents.drawing import Drawing, Line, Text
from fexro.documents.paper_sizes import PAPERS, scale_for
from fexro.documents.section_drawing import section_items, section_size
from fexro.documents.title_block import BLOCK, MARGIN, framed
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["schedule_sheets"]

HEAD, SIDE = 10.0, 30.0  # mm: the row of marks, and the column of storeys
LEAST = (46.0, 44.0)  # mm, of a cell
TEXTS = 15.5  # mm, under the section of a cell
LINE = 3.3  # mm between lines of text
ROOM = 4.0  # mm around a section


@dataclass(frozen=True)
class _Grid:
    """How marks and storeys are parted on sheets."""

    marks: tuple[str, ...]
    storeys: tuple[str, ...]


def schedule_sheets(
    project: Project, results: Mapping[LiftKey, LiftResult], sheet: Sheet, paper: str
) -> list[Drawing]:
    """Return the column schedule on as many sheets as it takes.

    Args:
        project: the project.
        results: its lifts.
        sheet: what stands on every sheet.
        paper: name of its size.
    """
    width, height = PAPERS[paper]
    room = width - 18.0 - MARGIN - SIDE, height - 2 * MARGIN - BLOCK - HEAD
    across = max(int(room[0] // LEAST[0]), 1)
    down = max(int(room[1] // LEAST[1]), 1)
    marks = [mark.name for mark in project.columns]
    storeys = [storey.name for storey in project.storeys]
    grids = [
        _Grid(tuple(some), tuple(levels))
        for levels in _parts(storeys, down)
        for some in _parts(marks, across)
    ]
    cell = (
        min(room[0] / max(len(one.marks) for one in grids), 92.0) if grids else 0.0,
        min(room[1] / max(len(one.storeys) for one in grids), 84.0) if grids else 0.0,
    )
    columns = [result for key, result in results.items() if key in project.column_keys]
    sizes = [section_size(result.lift.facts.section) for result in columns]
    largest = max((w for w, _ in sizes), default=1.0), max((d for _, d in sizes), default=1.0)
    scale = scale_for(largest, (cell[0] - 2 * ROOM, cell[1] - TEXTS - 2 * ROOM))
    told = "Sections to scale, in plan orientation. Ties: size at spacing in end zones / between /"
    told += " at laps, mm." if project.basis.units == "SI" else " at laps."
    found = []
    for number, grid in enumerate(grids, start=1):
        one = framed("Column schedule", sheet, paper, scale, f"{number} of {len(grids)}", told)
        _Painter(project, results, one.drawing, grid, cell, scale).paint(
            one.left, one.bottom + one.height
        )
        found.append(one.drawing)
    return found


def _parts(names: Sequence[str], most: int) -> list[Sequence[str]]:
    """Part names evenly, no more than so many together."""
    count = -(-len(names) // most)
    size = -(-len(names) // max(count, 1))
    return [names[i : i + size] for i in range(0, len(names), max(size, 1))]


@dataclass(frozen=True)
class _Painter:
    project: Project
    results: Mapping[LiftKey, LiftResult]
    drawing: Drawing
    grid: _Grid
    cell: tuple[float, float]
    scale: float

    def paint(self, left: float, top: float) -> None:
        """Draw the grid from its upper left corner, and what stands in it."""
        drawing, (wide, high) = self.drawing, self.cell
        right = left + SIDE + wide * len(self.grid.marks)
        bottom = top - HEAD - high * len(self.grid.storeys)
        edges_x = [left, *(left + SIDE + wide * i for i in range(len(self.grid.marks) + 1))]
        edges_y = [top, *(top - HEAD - high * i for i in range(len(self.grid.storeys) + 1))]
        for x in edges_x:
            drawing.add(Line(((x, top), (x, bottom)), "grid"))
        for y in edges_y:
            drawing.add(Line(((left, y), (right, y)), "grid"))
        head = Text("", (0, 0), 3.0, "text", "middle", strong=True)
        for i, mark in enumerate(self.grid.marks):
            drawing.text(mark, left + SIDE + wide * (i + 0.5), top - HEAD / 2 - 1.3, wide - 4, head)
        for j, name in enumerate(self.grid.storeys):
            y = top - HEAD - high * j
            self._storey(name, left, y)
            for i, mark in enumerate(self.grid.marks):
                key = LiftKey(mark, name)
                if key in self.results:
                    self._lift(key, left + SIDE + wide * i, y)

    def _storey(self, name: str, left: float, top: float) -> None:
        storey = self.project.storey_by_name[name]
        strong = Text("", (0, 0), 2.8, "text", strong=True)
        self.drawing.text(name, left + 2, top - 6.5, SIDE - 4, strong)
        small = Text("", (0, 0), 1.9, "dimensions")
        for number, text in enumerate(self._told(storey.level, storey.height, name)):
            self.drawing.text(text, left + 2, top - 11.5 - LINE * number, SIDE - 4, small)
        # The level of the floor above the storey, as a line with its mark.
        self.drawing.add(Line(((left - 3, top), (left + SIDE, top)), "levels"))

    def _told(self, level: float, height: float, name: str) -> Iterator[str]:
        length = unit_of(Dimension.LENGTH, self.project.basis.system)
        yield f"top {level:+.2f} m"
        yield f"height {1000 * height / length.size:.5g} {length.symbol}"
        grades = sorted(
            {self.project.by_key[key].concrete for key in self.results if key.storey == name}
        )
        yield from grades

    def _lift(self, key: LiftKey, x: float, top: float) -> None:
        """Draw a lift in its cell: its section, and what it is called."""
        result, model = self.results[key], self.project.by_key[key]
        facts, (wide, high) = result.lift.facts, self.cell
        middle = x + wide / 2, top - (high - TEXTS) / 2
        self.drawing.placed(section_items(facts, result.lift.code, self.scale), *middle)
        lines = [
            shape_called(self.project, key),
            model.section.bars,
            model.section.ties,
            *self._notes(key),
        ]
        base = top - high + TEXTS - 3.4
        centred = Text("", (0, 0), 2.1, "text", "middle")
        for number, text in enumerate(lines[:4]):
            style = centred if number < 3 else Text("", (0, 0), 1.7, "laps", "middle")
            self.drawing.text(text, x + wide / 2, base - LINE * number, wide - 4, style)

    def _notes(self, key: LiftKey) -> Iterator[str]:
        """Yield what is told in small: laps, the group, and a concrete that changes."""
        result, model = self.results[key], self.project.by_key[key]
        laps = result.lift.code.laps(result.lift.facts, result.prepared.context)
        length = unit_of(Dimension.LENGTH, self.project.basis.system)
        parts = []
        if laps is not None:
            parts.append(f"lap {(laps[1] - laps[0]) / length.size:.{length.decimals}f}")
        elif model.values.laps == "none":
            parts.append("coupled")
        group = self.project.group_by_key.get(key)
        if group is not None:
            parts.append(f"group {group.name}")
        if (
            len({self.project.by_key[k].concrete for k in self.results if k.storey == key.storey})
            > 1
        ):
            parts.append(model.concrete)
        if parts:
            yield " · ".join(parts)
