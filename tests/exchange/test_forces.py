"""Forces as tables: written and read under any convention, matched with a project, told of."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.demo.forces_files import ANALYSIS, analysis_rows, write_forces_files
from fexro.demo.tarnholm import (
    FIRST_RUN,
    SECOND_RUN,
    column_forces,
    tarnholm_archive,
    tarnholm_columns,
)
from fexro.exchange.force_export import PLAIN, force_rows
from fexro.exchange.force_guess import guess_mapping
from fexro.exchange.force_table import read_force_table, unit_size
from fexro.exchange.force_taking import match_table, take_file, take_matched
from fexro.exchange.numbers_in_text import read_number
from fexro.exchange.sheets import Sheet, parse_sheet, read_sheets
from fexro.exchange.spreadsheets import write_table
from fexro.exchange.taking_report import rows_text, taking_text
from fexro.project.checking import check_project
from fexro.project.column import LiftKey
from fexro.project.edits.takings import put_back_forces
from fexro.project.mapping import ForcesMapping

EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"
COS, SIN = math.cos(math.radians(30)), math.sin(math.radians(30))
OTHER = PLAIN.model_copy(
    update={
        "name": "other",
        "axial_positive": "tension",
        "moments": "nodal",
        "turned_end": "bottom",
        "force": "kip",
        "moment": "kip·in",
        "length": "ft",
        "matrix": ((COS, SIN), (-SIN, COS)),
        "matrices": {"C3": ((0.0, -1.0), (1.0, 0.0))},
    }
)


@pytest.fixture(scope="module")
def demo():
    return tarnholm_columns()


@pytest.mark.parametrize("mapping", [PLAIN, OTHER], ids=["plain", "other"])
@pytest.mark.parametrize("suffix", [".csv", ".xlsx"])
def test_forces_exported_and_taken_again_give_the_same_utilisations(
    demo, tmp_path, mapping, suffix
):
    path = tmp_path / f"forces{suffix}"
    write_table(path, force_rows(demo, demo.case_forces, mapping), "Forces")
    empty = demo.changed(case_forces=demo.case_forces.without(demo.by_key))
    taken, matched, _, _ = take_file(empty, path, mapping)
    assert matched.members == 36
    before, after = check_project(demo), check_project(taken)
    for key, result in before.items():
        assert after[key].utilisation == pytest.approx(result.utilisation, rel=1e-9)


def test_the_first_reading_of_the_demo_s_table_is_right(demo):
    for name in ("tarnholm-forces-B.csv", "tarnholm-forces-B.xlsx"):
        sheets = read_sheets(EXAMPLES / name)
        guess = guess_mapping(sheets)
        matched = match_table(demo, read_force_table(sheets, guess.mapping), guess.mapping)
        assert matched.forces.columns == demo.case_forces.columns
        assert guess.mapping.axial_positive == "tension"
        place = [matched.forces.place[key] for key in demo.case_forces.members]
        np.testing.assert_allclose(matched.forces.values[place], demo.case_forces.values, atol=1e-9)
        assert [d for d in matched.doubts if d.serious] == []


def test_the_table_of_the_building_has_its_walls_and_beams():
    archive = tarnholm_archive()
    sheets = read_sheets(EXAMPLES / "tarnholm-building-forces-B.csv")
    guess = guess_mapping(sheets)
    matched = match_table(archive, read_force_table(sheets, guess.mapping), guess.mapping)
    # Floors load the beams between their ends, so that their shear is not the same at both.
    (loaded,) = [d for d in matched.doubts if d.serious]
    assert loaded.kind == "shear and moments disagree"
    assert {sheets[0].rows[row - 1][0] for _, row in loaded.rows} == {"K1.B1", "K1.B2", "W1.B1"}
    # Strips of bearing walls have theirs by what acts on the wall.
    members = archive.case_forces.members
    assert {key.mark for key in set(members) - set(matched.forces.members)} == {"P1"}
    place = [archive.case_forces.place[key] for key in matched.forces.members]
    np.testing.assert_allclose(
        matched.forces.values, archive.case_forces.values[place], atol=5.1e-3 * 1e6
    )
    taken, *_ = take_file(archive, EXAMPLES / "tarnholm-building-forces-C.csv", guess.mapping)
    assert taken.case_forces.row(LiftKey("P1", "Roof"), "D").any()
    key = LiftKey("K1.1", "L3")
    others = [taken.case_forces.row(key, case.name) for case in archive.cases]
    mine = [archive.case_forces.row(key, case.name) for case in archive.cases]
    assert not np.array_equal(others, mine)


def test_the_examples_are_those_of_the_demo(tmp_path):
    for path in write_forces_files(tmp_path):
        kept = EXAMPLES / path.name
        if path.suffix == ".csv":
            assert path.read_text() == kept.read_text()
        assert [s.rows for s in read_sheets(path)] == [s.rows for s in read_sheets(kept)]


def test_a_taking_is_a_revision_and_can_go_back(demo):
    first, *_ = take_file(demo, EXAMPLES / "tarnholm-forces-B.csv")
    second, matched, mapping, _ = take_file(first, EXAMPLES / "tarnholm-forces-C.csv", ANALYSIS)
    assert [t.number for t in second.takings] == [1, 2]
    assert second.takings[1].file == "tarnholm-forces-C.csv"
    assert (second.takings[1].members, second.takings[1].names) == (36, 7)
    assert second.case_forces == column_forces(SECOND_RUN)
    assert second.former_case_forces == first.case_forces
    assert mapping in second.mappings
    back = put_back_forces(second)
    assert back.case_forces == first.case_forces == column_forces(FIRST_RUN)
    assert back.former_case_forces == second.case_forces
    assert "36 lifts have forces" in taking_text(matched, mapping, (), first_reading=False)


def rows(*extra):
    """The rows of the first run as text, some of them others."""
    table = [["" if cell is None else str(cell) for cell in r] for r in analysis_rows(FIRST_RUN)]
    for i, j, text in extra:
        table[i][j] = text
    return table


def matched_of(project, table, mapping=ANALYSIS):
    return match_table(project, read_force_table([Sheet("t", table, text=True)], mapping), mapping)


@pytest.mark.parametrize(
    ("extra", "kind", "words"),
    [
        ([(4, 4, "much")], "unreadable number", "1 row holds a force that is no number"),
        ([(4, 4, "")], "unreadable number", "no number"),
        ([(4, 4, "=1+2")], "unreadable number", "no number"),
        ([(4, 1, "L9")], "unknown member", "C1 · L9"),
        ([(4, 3, "up")], "end not understood", "not understood"),
        ([(2, 4, "-10"), (3, 4, "-10")], None, ""),
        ([(16, 4, "-1"), (17, 4, "-1")], "gravity does not grow", "C1 · L5 in D"),
    ],
)
def test_what_is_doubtful_is_told_with_its_rows(demo, extra, kind, words):
    doubts = {d.kind: d for d in matched_of(demo, rows(*extra)).doubts}
    if kind is not None:
        assert words in doubts[kind].sentence
    else:
        assert "unreadable number" not in doubts
    if kind in ("unreadable number", "end not understood"):
        assert doubts[kind].rows == (("t", 5),)


def test_tension_everywhere_and_lifts_without_forces_are_told(demo):
    wrong = ANALYSIS.model_copy(update={"axial_positive": "compression"})
    table = [r for r in rows() if r[0] != "C6"]
    doubts = {d.kind: d.sentence for d in matched_of(demo, table, wrong).doubts}
    assert "is tension positive" in doubts["tension"]
    assert "6 lifts of the project have no forces" in doubts["lift without forces"]


def test_combinations_of_cases_do_not_use_forces_given_for_them(demo):
    mapping = ANALYSIS.model_copy(update={"results": "combinations"})
    table = [[*r[:2], {"D": "U1", "L": "Q7"}.get(r[2], r[2]), *r[3:]] for r in rows()]
    doubts = {d.kind: d.sentence for d in matched_of(demo, table, mapping).doubts}
    assert "U1: made of load cases" in doubts["combination of cases"]


def test_two_members_of_one_name_are_not_taken(demo):
    table = rows()
    table += [["c1 ", *r[1:]] for r in table[2:16]]
    matched = matched_of(demo, table)
    assert "Two lifts" in next(d for d in matched.doubts if d.kind == "same name").sentence
    assert matched.forces.members == ()
    assert matched.members == 0
    with pytest.raises(InputError, match="Two lifts of the table are C1"):
        take_matched(demo, matched, ANALYSIS, "t.csv", "0" * 64)


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("a.xlsx", b"PK\x03\x04 damaged", "no workbook"),
        ("a.ods", b"", "no workbook"),
        ("a.csv", b"", "empty table"),
        ("a.pdf", b"%PDF", "a name ending in"),
        ("a.csv", b"\n\n;;\n", "no row of headings"),
        ("a.csv", b"one,two,three\n1,2,3\n", "no row of headings"),
    ],
)
def test_files_that_are_no_tables_are_refused_with_a_sentence(demo, tmp_path, name, content, words):
    path = tmp_path / name
    path.write_bytes(content)
    with pytest.raises(InputError, match=words):
        take_file(demo, path)


def test_a_table_of_another_building_is_refused(demo, tmp_path):
    path = tmp_path / "other.csv"
    path.write_text("\n".join(",".join([f"Z{i}" if i > 1 else r[0], *r[1:]]) for i, r in
                              enumerate(rows())))  # fmt: skip
    with pytest.raises(InputError, match="no lift of the project"):
        take_file(demo, path)


def test_columns_that_moved_are_found_and_missing_ones_refused(demo):
    turned = [list(reversed(row)) for row in rows()]
    assert matched_of(demo, turned).forces == matched_of(demo, rows()).forces
    without = [row[:4] + row[5:] for row in rows()]
    with pytest.raises(InputError, match="no column “Axial” for N"):
        matched_of(demo, without)


def test_text_of_a_spreadsheet_is_parted_by_what_fits():
    for delimiter in "\t;,":
        sheet = parse_sheet("\n".join(delimiter.join(row) for row in rows()))
        assert sheet.rows[2][:3] == ["C1", "Roof", "D"]


@pytest.mark.parametrize(
    ("text", "decimal", "thousands", "value"),
    [
        ("1,234.5", ".", ",", 1234.5),
        ("1.234,5", ",", ".", 1234.5),
        ("1'234.5", ".", "'", 1234.5),
        ("−12", ".", "", -12.0),
        ("-0", ".", "", 0.0),
        ("1e3", ".", "", 1000.0),
        ("12,34,567", ".", ",", math.nan),
        ("1.2.3", ".", "", math.nan),
        ("nan", ".", "", math.nan),
        ("inf", ".", "", math.nan),
        ("1_000", ".", "", math.nan),
    ],
)
def test_numbers_in_text(text, decimal, thousands, value):
    assert read_number(text, decimal, thousands) == pytest.approx(value, nan_ok=True)


def test_units_are_known_however_they_are_written():
    assert unit_size("kN.m", "moment") == unit_size("kN-m", "moment") == unit_size("KNm", "moment")
    assert unit_size("kip-ft", "moment") == pytest.approx(1.3558179483314)  # kN·m
    assert unit_size("tf", "force") == unit_size("t", "force") == 9.80665
    assert unit_size("t·m", "moment") == 9.80665
    with pytest.raises(InputError, match="one of kN"):
        unit_size("parsec", "force")


def test_names_that_cannot_be_seen_are_taken_as_what_can(demo):
    table = [[*r[:2], {"D": "D\u200b" + "x" * 60}.get(r[2], r[2]), *r[3:]] for r in rows()]
    matched = matched_of(demo, table)
    assert matched.forces.columns[0] == "D" + "x" * 39
    taken = take_matched(demo, matched, ANALYSIS, "a\nb", "0" * 64)
    assert taken.takings[0].file == "a b"


def test_rows_are_written_in_runs():
    assert rows_text([("t", 3), ("t", 4), ("t", 5), ("t", 9)]) == "3–5, 9"
    assert rows_text([("a", 1), ("b", 2)]) == "a 1, b 2"


@pytest.mark.parametrize("pattern", ["(", "(?P<mark>.+)", "x" * 300])
def test_a_pattern_of_members_that_is_none_is_refused(pattern):
    with pytest.raises(ValueError, match=r"pattern|at most"):
        ForcesMapping(member_pattern=pattern)


def test_an_unreadable_force_of_a_wide_row_leaves_the_other_end():
    rows = [
        ["Level", "Mark", "Case", "N", "Ma top", "Ma bottom", "Mb top", "Mb bottom"],
        ["L1", "C1", "D", "100", "x", "2", "3", "4"],
    ]
    sheet = Sheet("t", rows, text=True)
    mapping = guess_mapping([sheet]).mapping
    table = read_force_table([sheet], mapping)
    assert table.undecided == (("C1", "L1", "D", "top"),)
    # A column without an end is of both.
    assert table.values[0, 1, 0, [0, 4, 5]].tolist() == [100, 2, 4]


@pytest.mark.parametrize("name", ["a.xlsx", "a.csv"])
def test_formulas_are_never_evaluated(demo, tmp_path, name):
    path = tmp_path / name
    table = analysis_rows(FIRST_RUN)
    table[4][4] = "=1+2"
    write_table(path, table, "Forces")
    sheets = read_sheets(path)
    matched = match_table(demo, read_force_table(sheets, ANALYSIS), ANALYSIS)
    doubts = {d.kind: d for d in matched.doubts}
    assert doubts["unreadable number"].rows[0][1] == 5


def test_units_in_headings_are_read_and_nonsense_is_told():
    rows = [
        ["Level", "Mark", "Case", "End", "N (kip)", "M2 (parsec)", "M(3) [kip-ft]"],
        [],
        ["L1", "C1", "D", "top", "100", "1", "2"],
        ["L1", "C1", "D", "bottom", "100", "1", "2"],
    ]
    sheet = Sheet("t", rows, text=True)
    guess = guess_mapping([sheet])
    assert (guess.mapping.force, guess.mapping.moment) == ("kip", "kip·ft")
    assert "The unit “parsec” of Ma is not known." in guess.doubts
    # An empty row is no row.
    assert read_force_table([sheet], guess.mapping).count == 2
