"""Tables of the forces on the demo, as an analysis would write them: two runs.

Of the columns alone, and of the whole building with its walls and coupling beams.
"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from fexro.demo.tarnholm import (
    FIRST_RUN,
    SECOND_RUN,
    AnalysisRun,
    column_forces,
    tarnholm_archive,
    tarnholm_columns,
    wall_forces,
)
from fexro.exchange.force_export import force_rows
from fexro.exchange.spreadsheets import write_table
from fexro.project.mapping import ForcesMapping

__all__ = ["ANALYSIS", "analysis_rows", "building_rows", "write_forces_files"]

# Tension positive, distances from the foot, local axes a along x and b along y.
ANALYSIS = ForcesMapping(
    name="analysis",
    columns={
        "mark": 1, "storey": 2, "case": 3, "station": 4,
        "N": 5, "Va": 6, "Vb": 7, "T": 8, "Ma": 9, "Mb": 10,
    },
    headings={
        "mark": "Column", "storey": "Level", "case": "Load case", "station": "From foot",
        "N": "Axial", "Va": "Shear a", "Vb": "Shear b", "T": "Torsion",
        "Ma": "Moment a", "Mb": "Moment b",
    },
    units_row=2,
    first_row=3,
    axial_positive="tension",
)  # fmt: skip


def analysis_rows(run: AnalysisRun) -> list[list[str | float | None]]:
    """Return the rows of a run, to a hundredth."""
    return _rounded(force_rows(tarnholm_columns(), column_forces(run), ANALYSIS))


def building_rows(run: AnalysisRun) -> list[list[str | float | None]]:
    """Return the same of the whole building; strips of bearing walls have their forces by loads."""
    project = tarnholm_archive()
    forces = column_forces(run).joined(wall_forces(project, run))
    mapping = ANALYSIS.model_copy(update={"headings": {**ANALYSIS.headings, "mark": "Member"}})
    return _rounded(force_rows(project, forces, mapping))


def _rounded(rows: Sequence[Sequence[str | float | None]]) -> list[list[str | float | None]]:
    return [
        [round(cell, 2) + 0.0 if isinstance(cell, float) else cell for cell in row] for row in rows
    ]


def write_forces_files(folder: Path) -> list[Path]:
    """Write both runs of columns and of the building as CSV and XLSX, and return the files.

    Raises:
        FexroError: if they cannot be written.
    """
    written = []
    for run in (FIRST_RUN, SECOND_RUN):
        for name, rows in (("forces", analysis_rows(run)), ("building-forces", building_rows(run))):
            for suffix in (".csv", ".xlsx"):
                path = folder / f"tarnholm-{name}-{run.revision}{suffix}"
                write_table(path, rows, "Forces")
                written.append(path)
    return written
