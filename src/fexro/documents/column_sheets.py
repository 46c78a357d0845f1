"""Drawings of columns: a lift with its section, elevation and bars; a stack from foot to top."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from fexro.core.members.lift import LiftResult
from fexro.documents.bar_list import BarList, ListedBar
from fexro.documents.called import member_called, shape_called
from fexro.documents.content import Sheet
from fexro.documents.drawing import Drawing, Item, Line, Text
from fexro.documents.elevation_drawing import elevation_items, level_items, tie_dimensions
from fexro.documents.paper_sizes import PAPERS, scale_for
from fexro.documents.section_drawing import (
    dimensioned,
    marked,
    marks_width,
    section_items,
    section_size,
)
from fexro.documents.title_block import BLOCK, MARGIN, framed
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["lift_sheet", "stack_sheet"]

TITLE = Text("", (0, 0), 3.0, "text", "middle", strong=True)
UNDER = Text("", (0, 0), 2.0, "dimensions", "middle")
ROW = 4.6  # mm, of a table of bars
COLUMNS = (("Mark", 12.0), ("Bars", 22.0), ("Shape", 12.0), ("Length", 16.0), ("Dimensions", 62.0))

Results = Mapping[LiftKey, LiftResult]


def lift_sheet(
    project: Project,
    results: Results,
    bars: BarList,
    key: LiftKey,
    sheet: Sheet,
    paper: str = "A3",
) -> Drawing:
    """Return a sheet with the section, the elevation and the bars of a lift.

    Args:
        project: the project.
        results: all its lifts.
        bars: their bar list.
        key: of the lift.
        sheet: what stands on every sheet.
        paper: name of its size.
    """
    result, rows = results[key], bars.of(key)
    facts, system = result.lift.facts, project.basis.system
    width, height = PAPERS[paper]
    inside = width - 18.0 - MARGIN, height - 2 * MARGIN - BLOCK
    left = 0.56 * inside[0]
    table = ROW * (len(rows) + 2)
    size = section_size(facts.section)
    room = left - marks_width(rows) - 44.0, inside[1] - table - 46.0
    scale = scale_for(size, (max(room[0], 20.0), max(room[1], 20.0)))
    tall = scale_for((size[0], facts.height), (0.2 * inside[0], inside[1] - 34.0))
    practice = result.lift.code.bending(facts).told
    told = f"Section 1:{scale:g}, elevation 1:{tall:g}. {practice[:1].upper()}{practice[1:]}."
    one = framed(member_called(project, key), sheet, paper, scale, "1 of 1", told)
    drawing, top = one.drawing, one.bottom + one.height
    x = one.left + 26.0 + room[0] / 2
    y = top - 18.0 - room[1] / 2
    drawing.text(f"Section, 1:{scale:g}", x, top - 8.0, left - 10, TITLE)
    drawing.placed(section_items(facts, result.lift.code, scale), x, y)
    drawing.placed(dimensioned(facts.section, scale, system), x, y)
    drawing.placed(marked(facts.section, scale, rows), x, y)
    _table(drawing, rows, one.left + 4.0, one.bottom + table + 2.0)
    at = one.left + left + 0.42 * (one.width - left)
    foot = one.bottom + 12.0
    drawing.text(f"Elevation, 1:{tall:g}", at, top - 8.0, one.width - left - 10, TITLE)
    drawing.placed(_elevation(project, results, bars, key, tall), at, foot)
    half = size[0] / 2 / tall
    drawing.placed(tie_dimensions(result.prepared, tall, system, half + 10.0), at, foot)
    drawing.placed(_levels(project, key, -half - 8.0, facts.height / tall), at, foot)
    return drawing


def _elevation(
    project: Project, results: Results, bars: BarList, key: LiftKey, scale: float
) -> Iterator[Item]:
    laid = [row.laid for row in bars.of(key)]
    below = [row.laid for row in bars.of(_below(project, key))]
    yield from elevation_items(results[key].prepared, laid, below, scale)


def _below(project: Project, key: LiftKey) -> LiftKey:
    place = project.storey_place[key.storey] + 1
    names = [storey.name for storey in project.storeys]
    return LiftKey(key.mark, names[place]) if place < len(names) else LiftKey("", "")


def _levels(project: Project, key: LiftKey, x: float, high: float) -> Iterator[Item]:
    storey = project.storey_by_name[key.storey]
    yield from level_items(storey.level - storey.height, "", x - 14.0, 0.0)
    yield from level_items(storey.level, key.storey, x - 14.0, high)


def _table(drawing: Drawing, rows: Sequence[ListedBar], x: float, top: float) -> None:
    """Draw the bars of a lift as a table from its upper left corner."""
    wide = sum(width for _, width in COLUMNS)
    small = Text("", (0, 0), 1.8, "text")
    heads = Text("", (0, 0), 1.7, "dimensions")
    y = top - ROW
    at = x
    for head, width in COLUMNS:
        drawing.text(head, at + 1, y + 1.3, width - 2, heads)
        at += width
    drawing.add(Line(((x, y), (x + wide, y)), "frame"))
    for row in rows:
        y -= ROW
        bar = row.marked.bar
        cells = (
            row.marked.mark,
            f"{row.number} {bar.size.name}",
            bar.shape,
            f"{bar.cut:.0f}",
            _dimensions(row),
        )
        at = x
        for text, (_, width) in zip(cells, COLUMNS, strict=True):
            drawing.text(text, at + 1, y + 1.3, width - 2, small)
            at += width
        drawing.add(Line(((x, y), (x + wide, y)), "grid"))


def _dimensions(row: ListedBar) -> str:
    bar = row.marked.bar
    parts = [f"{letter} {value:.0f}" for letter, value in bar.dimensions]
    return "  ".join([*parts, bar.told] if bar.told else parts)


def stack_sheet(
    project: Project, results: Results, bars: BarList, mark: str, sheet: Sheet, paper: str = "A2"
) -> Drawing:
    """Return a sheet with the elevation of a stack and the sections of its lifts.

    Args:
        project: the project.
        results: all its lifts.
        bars: their bar list.
        mark: of the stack.
        sheet: what stands on every sheet.
        paper: name of its size.
    """
    keys = [LiftKey(mark, lift.storey) for lift in project.mark_by_name[mark].lifts]
    system = project.basis.system
    width, height = PAPERS[paper]
    inside = width - 18.0 - MARGIN, height - 2 * MARGIN - BLOCK
    total = sum(results[key].lift.facts.height for key in keys)
    widest = max(section_size(results[key].lift.facts.section) for key in keys)
    tall = scale_for((widest[0], total), (0.16 * inside[0], inside[1] - 30.0))
    columns = -(-len(keys) // 3)
    cell = 0.66 * inside[0] / columns, (inside[1] - 16.0) / min(len(keys), 3)
    scale = scale_for(widest, (cell[0] - 66.0, cell[1] - 44.0))
    told = f"Elevation 1:{tall:g}, sections 1:{scale:g}."
    kind = project.mark_by_name[mark].kind.capitalize()
    one = framed(f"{kind} {mark}", sheet, paper, tall, "1 of 1", told)
    drawing, top = one.drawing, one.bottom + one.height
    at, y = one.left + 0.15 * one.width, one.bottom + 12.0
    drawing.text(f"Elevation, 1:{tall:g}", at, top - 8.0, 0.3 * one.width, TITLE)
    for key in keys[::-1]:
        facts = results[key].lift.facts
        half, high = section_size(facts.section)[0] / 2 / tall, facts.height / tall
        drawing.placed(_elevation(project, results, bars, key, tall), at, y)
        drawing.placed(tie_dimensions(results[key].prepared, tall, system, half + 9.0), at, y)
        storey = project.storey_by_name[key.storey]
        beside = -widest[0] / 2 / tall - 26.0
        drawing.placed(level_items(storey.level, key.storey, beside, high), at, y)
        y += high
    for number, key in enumerate(keys):
        facts, rows = results[key].lift.facts, bars.of(key)
        column, row = divmod(number, 3)
        x = one.left + 0.34 * one.width + cell[0] * column
        upper = top - 6.0 - cell[1] * row
        middle = x + 0.42 * cell[0], upper - 12.0 - (cell[1] - 40.0) / 2
        drawing.text(f"{key}, 1:{scale:g}", middle[0], upper - 5.0, cell[0] - 8, TITLE)
        model = project.by_key[key]
        called = f"{shape_called(project, key)}: {model.section.bars}, {model.section.ties}"
        drawing.text(called, middle[0], upper - 9.0, cell[0] - 8, UNDER)
        drawing.placed(section_items(facts, results[key].lift.code, scale), *middle)
        drawing.placed(dimensioned(facts.section, scale, system), *middle)
        drawing.placed(marked(facts.section, scale, rows), *middle)
    return drawing
