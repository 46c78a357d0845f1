"""How a table of forces is read: what its columns mean, its units, signs and axes."""

from __future__ import annotations

import re
from typing import Annotated, Literal, get_args

from pydantic import AfterValidator, Field

from fexro.project.records import Name, Number, Record, Text

__all__ = ["FORCES_OF", "MEANINGS", "UNITS", "ForcesMapping", "Matrix", "Meaning"]

Meaning = Literal[
    "mark", "storey", "member", "element", "zi", "zj", "case", "step", "end", "station", "angle",
    "N", "Va", "Vb", "T", "Ma", "Mb",
    "N@top", "Va@top", "Vb@top", "T@top", "Ma@top", "Mb@top",
    "N@bottom", "Va@bottom", "Vb@bottom", "T@bottom", "Ma@bottom", "Mb@bottom",
]  # fmt: skip
MEANINGS: tuple[Meaning, ...] = get_args(Meaning)
FORCES_OF: tuple[Meaning, ...] = ("N", "Va", "Vb", "T", "Ma", "Mb")
# Of one unit, kN, kN·m, m. Names are compared without spaces, points, hyphens and case.
UNITS: dict[str, dict[str, float]] = {
    "force": {
        "kN": 1.0,
        "N": 1e-3,
        "MN": 1e3,
        "kip": 4.4482216152605,
        "lb": 4.4482216152605e-3,
        "tf": 9.80665,
        "kgf": 9.80665e-3,
    },
    "moment": {
        "kN·m": 1.0,
        "N·m": 1e-3,
        "N·mm": 1e-6,
        "kN·mm": 1e-3,
        "kN·cm": 1e-2,
        "MN·m": 1e3,
        "kip·ft": 4.4482216152605 * 0.3048,
        "kip·in": 4.4482216152605 * 0.0254,
        "lb·ft": 4.4482216152605e-3 * 0.3048,
        "lb·in": 4.4482216152605e-3 * 0.0254,
        "tf·m": 9.80665,
        "kgf·m": 9.80665e-3,
    },
    "length": {"m": 1.0, "mm": 1e-3, "cm": 1e-2, "ft": 0.3048, "in": 0.0254},
}


def _pattern(text: str) -> str:
    try:
        groups = re.compile(text).groupindex
    except re.error as error:
        raise ValueError(f"a pattern; {error}") from None
    if text and not {"mark", "storey"} <= groups.keys():
        raise ValueError("a pattern with the groups mark and storey")
    return text


Matrix = tuple[tuple[Number, Number], tuple[Number, Number]]
Row = Annotated[int, Field(ge=1, le=1_000_000)]
Short = Annotated[Text, Field(max_length=120)]
Words = Annotated[tuple[Short, ...], Field(max_length=50)]
Names = Annotated[dict[Short, Name], Field(max_length=20_000)]


class ForcesMapping(Record):
    """How a table of forces is read; Ma and Mb are moments about the local axes of a section.

    Attributes:
        name: of the mapping.
        sheets: that hold forces; all where none is named.
        sheet_is: what the name of a sheet means, if anything.
        decimal, thousands: how numbers kept as text are written.
        names_row, units_row, first_row: lines from 1; no row of names or units where there is none.
        columns: position of each meaning, from 1.
        headings: heading of each meaning, by which its column is found when it has moved.
        member_pattern: parts the text of a member into mark and storey.
        repeating: meanings whose blank cells mean as above.
        top_words, bottom_words: how ends are told.
        station: what distances are measured from.
        sum_words: in the case column of rows that are no member's.
        envelope_words: in the step column of rows that are maxima and minima of each component.
        results: whether forces are of load cases or of combinations.
        axial_positive: what a positive axial force of the table is.
        force, moment, length: units of the table.
        units: of single columns that differ.
        moments: along the member, or of the nodes at its ends.
        turned_end: the end whose nodal moments change sign.
        matrix: (Mx, My) of (Ma, Mb), for all members.
        matrices: the same by mark.
        marks, storeys, cases: names of the project for those of the table that differ.
    """

    name: Name = "forces"
    sheets: Words = ()
    sheet_is: Literal["case", "storey", "mark"] | None = None
    decimal: Literal[".", ","] = "."
    thousands: Literal["", ",", ".", "'", " "] = ""
    names_row: Row | None = 1
    units_row: Row | None = None
    first_row: Row = 2
    columns: dict[Meaning, Row] = Field(default_factory=dict)
    headings: dict[Meaning, Short] = Field(default_factory=dict)
    member_pattern: Annotated[Text, Field(max_length=200), AfterValidator(_pattern)] = ""
    repeating: tuple[Meaning, ...] = ()
    top_words: Words = ()
    bottom_words: Words = ()
    station: Literal["bottom", "element"] = "bottom"
    sum_words: Words = ()
    envelope_words: Words = ()
    results: Literal["cases", "combinations"] = "cases"
    axial_positive: Literal["tension", "compression"] = "compression"
    force: Literal[tuple(UNITS["force"])] = "kN"  # type: ignore[valid-type]
    moment: Literal[tuple(UNITS["moment"])] = "kN·m"  # type: ignore[valid-type]
    length: Literal[tuple(UNITS["length"])] = "m"  # type: ignore[valid-type]
    units: dict[Meaning, Short] = Field(default_factory=dict)
    moments: Literal["diagram", "nodal"] = "diagram"
    turned_end: Literal["top", "bottom"] = "top"
    matrix: Matrix = ((1.0, 0.0), (0.0, 1.0))
    matrices: dict[Name, Matrix] = Field(default_factory=dict)
    marks: Names = Field(default_factory=dict)
    storeys: Names = Field(default_factory=dict)
    cases: Names = Field(default_factory=dict)

    def unit_of(self, force: Meaning) -> tuple[str, str]:
        """Return what a column of forces is measured in: `force` or `moment`, and the unit."""
        kind = "moment" if force[0] in "MT" else "force"
        return kind, self.units.get(force, getattr(self, kind))
