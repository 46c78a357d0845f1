"""The reinforcement of walls as a list: each leg of each panel and each coupling beam by level."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, unit_of
from fexro.core.section.call_out import format_call_out, parse_call_out
from fexro.documents.content import Block, Cell, Heading, Numeric, Paragraph, Table
from fexro.documents.wall_sheets import members_of
from fexro.project.bars import sizes_by_name
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.walls import Wall

__all__ = ["wall_blocks", "wall_rows"]

Results = Mapping[LiftKey, LiftResult]
WORDS = frozenset({0, 1, 2, 3, 7, 8, 9, 10})


def wall_rows(project: Project, results: Results) -> Table:
    """Return a row for each leg of each panel, and for each coupling beam, wall by wall."""
    length = unit_of(Dimension.LENGTH, project.basis.system)
    rows = tuple(
        (wall.name, *row) for wall in project.walls for row in _rows(project, results, wall)
    )
    heads = (
        *("Wall", "Level", "Member", "Part"),
        *(f"Length ({length.symbol})", f"Thickness ({length.symbol})", f"Depth ({length.symbol})"),
        *("Bars along", "Ends, diagonals", "Hoops there", "Bars across"),
        *("Along (%)", "Across (%)"),
    )
    return Table(heads, rows, "Reinforcement of walls", WORDS)


def wall_blocks(project: Project, results: Results) -> list[Block]:
    """Return the list with what its columns mean."""
    told = (
        "Along are the vertical bars of panels and the bars along coupling beams, as a share of the"
        " concrete of the member; across are the horizontal bars and the ties, as a share of the"
        " thickness at their spacing."
    )
    return [
        Heading("Reinforcement of walls", 0, running="walls"),
        Paragraph(told),
        wall_rows(project, results),
    ]


def _rows(project: Project, results: Results, wall: Wall) -> Iterator[tuple[Cell, ...]]:
    length = unit_of(Dimension.LENGTH, project.basis.system)

    def measured(value: float) -> Numeric:
        return Numeric(value / length.size, length.decimals)

    for key in members_of(project, wall):
        facts, model = results[key].lift.facts, project.by_key[key]
        section, ties = facts.section, facts.section.ties
        along = Numeric(100 * section.bars.total_area / section.outline.area, 2)
        web, ends = _parted(project, key)
        if facts.panel is not None:
            legs = facts.panel.legs
            for number, leg in enumerate(legs.legs):
                share = facts.panel.curtains * ties.size.area / (leg.thickness * ties.spacing)
                yield (
                    *(key.storey, key.mark, f"leg {number + 1} of {len(legs.legs)}"),
                    *(measured(legs.lengths[number]), measured(leg.thickness), ""),
                    *(web, ends, model.section.hoops or "", model.section.ties),
                    *(along, Numeric(100 * share, 2)),
                )
        elif facts.beam is not None:
            x0, y0, x1, y1 = section.outline.bounds
            diagonals = model.section.diagonals
            yield (
                *(key.storey, key.mark, "coupling beam"),
                *(measured(facts.beam.span), measured(x1 - x0), measured(y1 - y0)),
                model.section.bars,
                "" if diagonals is None else f"2 × {diagonals.bars}",
                "" if diagonals is None else diagonals.hoops,
                *(model.section.ties, along),
                Numeric(100 * 2 * ties.size.area / ((x1 - x0) * ties.spacing), 2),
            )


def _parted(project: Project, key: LiftKey) -> tuple[str, str]:
    """Return the bars of the curtains and those of the ends as they are called."""
    section = project.by_key[key].section
    if section.placed:
        return section.bars, ""
    groups = parse_call_out(section.bars, own=sizes_by_name(project.basis.bars.own))
    web = tuple(group for group in groups if group.place != "each end")
    ends = tuple(group for group in groups if group.place == "each end")
    return format_call_out(web) if web else "", format_call_out(ends) if ends else ""
