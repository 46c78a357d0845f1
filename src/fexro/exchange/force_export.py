"""Forces of a project as a table, under any mapping: units, signs, axes, one row for an end."""

from __future__ import annotations

import numpy as np

from fexro.core.actions import ENDS
from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.exchange.force_table import unit_size
from fexro.project.column import LiftKey
from fexro.project.forces import Forces
from fexro.project.mapping import FORCES_OF, ForcesMapping, Matrix
from fexro.project.project import Project
from fexro.project.wall_members import beams_of

__all__ = ["PLAIN", "force_rows"]

# A table as Fexro writes it where nothing else is asked for.
PLAIN = ForcesMapping(
    name="plain",
    columns={
        "storey": 1, "mark": 2, "case": 3, "station": 4,
        "N": 5, "Va": 6, "Vb": 7, "T": 8, "Ma": 9, "Mb": 10,
    },
    headings={
        "storey": "Storey", "mark": "Mark", "case": "Case", "station": "From bottom",
        "N": "N", "Va": "Va", "Vb": "Vb", "T": "T", "Ma": "Ma", "Mb": "Mb",
    },
    units_row=2,
    first_row=3,
)  # fmt: skip


def force_rows(
    project: Project, forces: Forces, mapping: ForcesMapping = PLAIN
) -> list[list[str | float | None]]:
    """Return forces as rows of a long table that the mapping reads back.

    Args:
        project: whose storeys have the heights.
        forces: in kN and kN·m with the signs and axes of sections.
        mapping: how they are written.

    Raises:
        InputError: if the mapping is not of a row for each end, or its axes cannot be turned back.
    """
    needed = {"mark", "storey", "case", *FORCES_OF}
    ends = {"station", "end"} & mapping.columns.keys()
    if not needed <= mapping.columns.keys() or not ends or "angle" in mapping.columns:
        allowed = "columns for mark, storey, case, station or end, and all six forces"
        raise InputError("mapping", f"“{mapping.name}”", allowed)
    width = max(mapping.columns.values())
    length = unit_size(mapping.length, "length")
    inverse = {
        mark: _inverse(mapping.matrices.get(mark, mapping.matrix)) for mark in project.mark_by_name
    }
    units = [mapping.unit_of(force) for force in FORCES_OF]
    size = np.array([unit_size(unit, kind) for kind, unit in units])
    rows = _heads(mapping, width)
    for key, values, known in zip(forces.members, forces.values, forces.known, strict=True):
        height = _length(project, key)
        for column in np.flatnonzero(known):
            for end in (1, 0):
                N, Vx, Vy, T, Mx, My = values[end, column]
                Ma, Mb = inverse[key.mark] @ (Mx, My)
                Vb, Va = inverse[key.mark] @ (Vy, Vx)
                if mapping.moments == "nodal" and ENDS[end] == mapping.turned_end:
                    Ma, Mb = -Ma, -Mb
                if mapping.axial_positive == "tension":
                    N = -N
                numbers = (np.array([N, Va, Vb, T, Ma, Mb]) / size).tolist()
                cells: dict[str, str | float] = {
                    "mark": key.mark,
                    "storey": key.storey,
                    "case": forces.columns[column],
                    "station": 0.0 if end else height / length,
                    "end": (mapping.bottom_words if end else mapping.top_words or ("top",))[0]
                    if "end" in mapping.columns
                    else "",
                    **dict(zip(FORCES_OF, numbers, strict=True)),
                }
                row: list[str | float | None] = [None] * width
                for meaning, position in mapping.columns.items():
                    row[position - 1] = cells.get(meaning)
                rows.append(row)
    return rows


def _heads(mapping: ForcesMapping, width: int) -> list[list[str | float | None]]:
    rows: list[list[str | float | None]] = [[None] * width for _ in range(mapping.first_row - 1)]
    for meaning, position in mapping.columns.items():
        if mapping.names_row is not None:
            rows[mapping.names_row - 1][position - 1] = mapping.headings.get(meaning, meaning)
        if mapping.units_row is not None:
            if meaning == "station":
                rows[mapping.units_row - 1][position - 1] = mapping.length
            elif meaning in FORCES_OF:
                rows[mapping.units_row - 1][position - 1] = mapping.unit_of(meaning)[1]
    return rows


def _inverse(matrix: Matrix) -> FloatArray:
    try:
        inverse: FloatArray = np.linalg.inv(np.array(matrix, dtype=float))
    except np.linalg.LinAlgError:
        raise InputError("mapping, axes", f"{matrix}", "axes that are not parallel") from None
    return inverse


def _length(project: Project, key: LiftKey) -> float:
    """Return how far the top of a lift is from its foot, m; of a beam its clear span."""
    beam = beams_of(project).get(key)
    if beam is not None:
        return beam[1].end - beam[1].start
    return project.storey_by_name[key.storey].height
