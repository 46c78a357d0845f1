"""Drawings of walls: the elevation of each with its bars, and sections of what differs in it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from fexro.core.members.lift import LiftResult
from fexro.documents.called import shape_called
from fexro.documents.content import Sheet
from fexro.documents.drawing import Drawing, Text
from fexro.documents.paper_sizes import PAPERS, scale_for
from fexro.documents.section_drawing import dimensioned, section_items, section_size
from fexro.documents.title_block import BLOCK, MARGIN, framed
from fexro.documents.wall_drawing import wall_items, wall_size
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.wall_members import layout_in
from fexro.project.walls import Wall

__all__ = ["members_of", "wall_sheets"]

Results = Mapping[LiftKey, LiftResult]
LEFT, RIGHT, BELOW, ABOVE = 48.0, 10.0, 30.0, 14.0  # mm around an elevation
CELL = (120.0, 96.0)  # mm, of a section at least
AROUND = (34.0, 40.0)  # mm around a section
TITLE = Text("", (0, 0), 3.0, "text", "middle", strong=True)
UNDER = Text("", (0, 0), 2.0, "dimensions", "middle")
HALF_INDENT = 6.0
TOLD = (
    "Bars behind one another are drawn once. Bars of coupling beams reach into the piers by their"
    " anchorage, as far as these have room."
)


def members_of(project: Project, wall: Wall) -> list[LiftKey]:
    """Return the panels of a wall and its coupling beams, storey by storey from the top."""
    layout = layout_in(project, wall)
    keys = [LiftKey(panel.mark, panel.storey) for panel in layout.panels]
    keys += [LiftKey(beam.mark, beam.storey) for beam in layout.beams]
    return sorted(keys, key=lambda key: wall.storeys.index(key.storey))


def wall_sheets(
    project: Project, results: Results, wall: Wall, sheet: Sheet, paper: str
) -> list[Drawing]:
    """Return the sheets of a wall: its elevation, and sections of the members that differ.

    Args:
        project: the project.
        results: of all its members.
        wall: the wall.
        sheet: what stands on every sheet.
        paper: name of its size.
    """
    groups = _alike(project, wall)
    width, height = PAPERS[paper]
    inside = width - 18.0 - MARGIN, height - 2 * MARGIN - BLOCK
    most = [max(int(room // least), 1) for room, least in zip(inside, CELL, strict=True)]
    per = most[0] * most[1]
    pages = [groups[i : i + per] for i in range(0, len(groups), per)]
    count = 1 + len(pages)
    found = [_elevation(project, results, wall, sheet, paper, f"1 of {count}")]
    for number, page in enumerate(pages, start=2):
        down = -(-len(page) // most[0])
        grid = -(-len(page) // down), down
        place = f"{number} of {count}"
        found.append(_sections(project, results, wall, page, grid, sheet, paper, place))
    return found


def _elevation(
    project: Project, results: Results, wall: Wall, sheet: Sheet, paper: str, number: str
) -> Drawing:
    size, (width, height) = wall_size(project, wall), PAPERS[paper]
    inside = width - 18.0 - MARGIN, height - 2 * MARGIN - BLOCK
    room = inside[0] - LEFT - RIGHT, inside[1] - BELOW - ABOVE
    scale = scale_for(size, room)
    one = framed(f"Wall {wall.name}", sheet, paper, scale, number, f"Elevation 1:{scale:g}. {TOLD}")
    x = one.left + LEFT + (room[0] - size[0] / scale) / 2
    one.drawing.placed(wall_items(project, results, wall, scale), x, one.bottom + BELOW)
    return one.drawing


def _alike(project: Project, wall: Wall) -> list[list[LiftKey]]:
    """Return the members of a wall, those with one section together."""
    found: dict[object, list[LiftKey]] = {}
    for key in members_of(project, wall):
        model = project.by_key[key]
        found.setdefault((model.section, model.concrete), []).append(key)
    return list(found.values())


def _sections(
    project: Project,
    results: Results,
    wall: Wall,
    groups: Sequence[Sequence[LiftKey]],
    grid: tuple[int, int],
    sheet: Sheet,
    paper: str,
    number: str,
) -> Drawing:
    """Return a sheet with sections of members, of those that are alike the first."""
    (across, down), system = grid, project.basis.system
    firsts = [results[keys[0]].lift for keys in groups]
    one = framed(f"Wall {wall.name}, sections", sheet, paper, 1.0, number)
    cell = one.width / across, one.height / down
    top = one.bottom + one.height
    for place, (keys, lift) in enumerate(zip(groups, firsts, strict=True)):
        row, column = divmod(place, across)
        x, upper = one.left + (column + 0.5) * cell[0], top - row * cell[1]
        room = cell[0] - AROUND[0], cell[1] - AROUND[1]
        scale = scale_for(section_size(lift.facts.section), room)
        y = upper - 16.0 - room[1] / 2
        one.drawing.text(f"{keys[0]}, 1:{scale:g}", x, upper - 6.0, cell[0] - 8, TITLE)
        for line, text in enumerate(_told(project, keys)):
            one.drawing.text(text, x, upper - 9.6 - 3.0 * line, cell[0] - 8, UNDER)
        at = x + HALF_INDENT, y
        one.drawing.placed(section_items(lift.facts, lift.code, scale), *at)
        one.drawing.placed(dimensioned(lift.facts.section, scale, system), *at)
    return one.drawing


def _told(project: Project, keys: Sequence[LiftKey]) -> Iterator[str]:
    """Yield what is written under the name of a section."""
    section = project.by_key[keys[0]].section
    parts = [f"{shape_called(project, keys[0])}: {section.bars}, {section.ties}"]
    if section.hoops is not None:
        parts.append(f"hoops {section.hoops}")
    if section.diagonals is not None:
        parts.append(f"diagonals 2 × {section.diagonals.bars}")
    yield ", ".join(parts)
    if len(keys) > 1:
        yield "also " + ", ".join(str(key) for key in keys[1:])
