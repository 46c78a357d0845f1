"""What matched of a table of forces and what did not, as text."""

from __future__ import annotations

from collections.abc import Sequence

from fexro.exchange.force_rows import Place
from fexro.exchange.force_taking import Matched
from fexro.project.mapping import ForcesMapping

__all__ = ["rows_text", "taking_text"]

SHOWN = 12


def taking_text(
    matched: Matched, mapping: ForcesMapping, guessed: Sequence[str], *, first_reading: bool
) -> str:
    """Return what came of a table: the reading, the counts, the doubts with their rows.

    Args:
        matched: the table beside the project.
        mapping: by which it was read.
        guessed: what is uncertain about a first reading.
        first_reading: whether nobody has looked at the mapping yet.
    """
    table = matched.table
    what = "load cases" if mapping.results == "cases" else "combinations"
    lines = [
        f"{table.rows} rows hold forces of {len(table.members)} members"
        f" in {len(table.cases)} {what}.",
        f"{matched.members} lifts have forces by them, {len(matched.without)} have none;"
        f" {matched.left_out} rows are of no lift of the project.",
    ]
    read = ", ".join(f"{m} from “{h}”" for m, h in mapping.headings.items())
    signs = f"axial {mapping.axial_positive} positive, moments of the {mapping.moments}"
    units = f"{mapping.force}, {mapping.moment}, {mapping.length}"
    lines.append(f"Read: {read}; {signs}; {units}.")
    if first_reading:
        lines.append("Nobody has looked at this reading yet:")
        lines += [f"  ◇ {doubt}" for doubt in guessed]
    for doubt in matched.doubts:
        rows = f" Rows {rows_text(doubt.rows)}." if doubt.rows else ""
        lines.append(f"{'◇' if doubt.serious else '·'} {doubt.sentence}{rows}")
    return "\n".join(lines)


def rows_text(rows: Sequence[Place]) -> str:
    """Return rows as people write them, runs joined, sheets named where there are several."""
    several = len({sheet for sheet, _ in rows}) > 1
    runs: list[list[Place]] = []
    for sheet, row in rows:
        if runs and runs[-1][-1] == (sheet, row - 1):
            runs[-1].append((sheet, row))
        else:
            runs.append([(sheet, row)])
    shown = [
        (f"{run[0][0]} " if several else "")
        + (f"{run[0][1]}" if len(run) == 1 else f"{run[0][1]}–{run[-1][1]}")
        for run in runs[:SHOWN]
    ]
    return ", ".join(shown) + (" …" if len(runs) > SHOWN else "")
