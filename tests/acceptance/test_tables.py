"""Tables of forces with the mapping that is true of them, against the acceptance tables."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from fexro.exchange.force_table import plain_unit, read_force_table
from fexro.exchange.sheets import read_sheets
from fexro.project.mapping import UNITS, ForcesMapping

FOLDER = Path(__file__).parent / "tables"
TABLES = sorted(path.stem for path in FOLDER.glob("*.json"))
KINDS = {
    "duplicate row", "conflicting rows", "missing end", "missing member", "missing case",
    "envelope row", "unreadable number", "number as text", "not a member row",
    "member in two elements", "shear and moments disagree",
}  # fmt: skip


def unit(kind, name):
    return next(known for known in UNITS[kind] if plain_unit(known) == plain_unit(name))


def mapping_of(data):
    ends = data["end_words"] or {}
    matrix = data["matrix"]
    per_mark = isinstance(matrix, dict)
    return ForcesMapping(
        sheets=tuple(data["sheets"] or ()),
        sheet_is=data["sheet_is"],
        decimal=data["decimal"],
        thousands=data["thousands"],
        names_row=data["names_row"],
        units_row=data["units_row"],
        first_row=data["first_data_row"],
        columns=data["column_position"],
        headings=data["columns"],
        member_pattern=data["member_pattern"] or "",
        repeating=tuple(data["repeating_columns"]),
        top_words=(ends["top"],) if ends else (),
        bottom_words=(ends["bottom"],) if ends else (),
        station="element" if "element" in (data["station"] or "") else "bottom",
        sum_words=(data["not_member_rows"],) if data["not_member_rows"] else (),
        envelope_words=tuple(data["envelope"]["values"]) if data["envelope"] else (),
        results=data["results_are"],
        axial_positive=data["axial_positive"],
        force=unit("force", data["units"]["force"]),
        moment=unit("moment", data["units"]["moment"]),
        length=unit("length", data["units"]["length"]),
        moments=data["moments"],
        turned_end=data["turned_end"] or "top",
        **({"matrices": matrix} if per_mark else {"matrix": matrix}),
    )


@pytest.fixture(scope="module", params=TABLES)
def case(request):
    data = json.loads((FOLDER / f"{request.param}.json").read_text())
    mapping = mapping_of(data["mapping"])
    table = read_force_table(read_sheets(FOLDER / data["mapping"]["file"]), mapping)
    return data, table


def test_forces_with_the_mapping_given(case):
    data, table = case
    expected = data["expected"]
    members = {key: i for i, key in enumerate(table.members)}
    for mark, storey, name, end, *forces in expected["forces"]:
        found = table.values[
            members[mark, storey], ("top", "bottom").index(end), table.cases.index(name)
        ]
        for value, wanted in zip(found[[0, 4, 5]], forces, strict=True):
            assert value == pytest.approx(wanted, rel=1e-6, abs=1e-6), (mark, storey, name, end)
    assert table.count == expected["count"] == len(expected["forces"])


def test_what_must_not_be_taken_silently(case):
    data, table = case
    assert sorted(table.undecided) == sorted(map(tuple, data["expected"]["undecided"]))


def test_moments_between_the_ends(case):
    data, table = case
    found = [(s.mark, s.storey, s.case) for s in table.span_maxima]
    assert found == [tuple(s[:3]) for s in data["expected"]["span_maxima"]]
    for span, expected in zip(table.span_maxima, data["expected"]["span_maxima"], strict=True):
        assert (span.place, span.Mx, span.My) == pytest.approx(tuple(expected[3:]), rel=1e-6)


def test_complaints(case):
    data, table = case
    several = len(data["mapping"]["sheets"] or ()) > 1
    found = {
        (c.kind, tuple(c.rows if several else (row for _, row in c.rows))): set(c.keys)
        for c in table.complaints
        if c.kind in KINDS
    }
    wanted = {}
    for complaint in data["expected"]["complaints"]:
        rows = tuple(tuple(r) if several else r for r in complaint["rows"])
        wanted[complaint["kind"], rows] = {tuple(key) for key in complaint.get("keys", ())}
    assert found == wanted
