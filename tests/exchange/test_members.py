"""Members as a table: out to CSV and XLSX, in from CSV, XLSX and ODS, whole or not at all."""

from __future__ import annotations

import zipfile

import pytest
from openpyxl import Workbook, load_workbook

from fexro.core.errors import InputError
from fexro.demo.tarnholm import tarnholm_columns
from fexro.exchange.members import COLUMNS, member_rows, take_members
from fexro.exchange.spreadsheets import parse_text, read_table, write_table
from fexro.project.column import LiftKey

DEMO = tarnholm_columns()
HEADS = ["Mark", "Storey", "Main bars", "Width, mm"]


def as_text(rows):
    return [["" if cell is None else str(cell) for cell in row] for row in rows]


def test_what_is_written_is_read_back_as_it_is(tmp_path):
    rows = member_rows(DEMO, {})
    assert rows[0][:4] == ["Mark", "Storey", "Utilisation", "State"]
    assert len(rows) == 37
    for name in ("a.csv", "a.xlsx"):
        write_table(tmp_path / name, rows, "Members")
        read = read_table(tmp_path / name)
        taken = take_members(DEMO, read)
        assert (taken.lifts, taken.problems) == (0, ())
        assert taken.project == DEMO
    sheet = load_workbook(tmp_path / "a.xlsx").active
    # Numbers are numbers in a workbook.
    assert sheet["G2"].value == 500
    assert sheet.freeze_panes == "C2"


def test_rows_change_lifts_and_make_new_ones():
    taken = take_members(
        DEMO,
        [
            [
                "Mark",
                "Storey",
                "Shape",
                "Width",
                "Depth [mm]",
                "Main bars",
                "Ties",
                "Cover",
                "Note",
            ],
            ["C2", "L1", "", "22in", "", "16 D28", "", "", "x"],
            ["C9", "L1", "rectangle", "400", "600", "8 D25", "D10@200", "50", ""],
        ],
    )
    assert (taken.lifts, taken.problems) == (2, ())
    project = taken.project
    assert project.by_key[LiftKey("C2", "L1")].section.shape.width == pytest.approx(558.8)
    assert project.by_key[LiftKey("C2", "L1")].section.shape.depth == 700.0
    new = project.by_key[LiftKey("C9", "L1")]
    assert (new.section.cover, new.concrete) == (50.0, "C35")
    assert project.record_by_key[LiftKey("C9", "L1")].own.given == {"cover": 50.0}
    assert project.marks[-1].name == "C9"


def test_rows_that_do_not_fit_are_all_listed_and_none_is_taken():
    taken = take_members(
        DEMO,
        [
            HEADS,
            ["C2", "L1", "16 D28", ""],
            ["C2", "L9", "8 D25", ""],
            ["C1", "L1", "8 X25", ""],
            ["C1", "L2", "", "5"],
            ["C7", "L2", "8 D25", ""],
            ["C2", "L1", "12 D28", ""],
            ["", "L1", "8 D25", ""],
        ],
    )
    assert taken.project is None
    problems = dict(taken.problems)
    assert list(problems) == [3, 4, 5, 6, 7, 8]
    assert "one of Roof, L5" in problems[3]
    assert "found “X25”" in problems[4]
    assert "width: found 5" in problems[5]
    assert "for a lift that is new" in problems[6]
    assert "each lift once" in problems[7]
    assert "a name in every row" in problems[8]


def test_headings_must_name_the_lift():
    with pytest.raises(InputError, match="at least Mark and Storey"):
        take_members(DEMO, [["Column", "Level"], ["C1", "L1"]])


def test_a_member_of_a_group_keeps_to_its_call_out():
    from fexro.project.edits.groups import join_group

    keys = [LiftKey("C1", "L1"), LiftKey("C1", "L2")]
    grouped = join_group(DEMO, keys, keys[0])
    taken = take_members(grouped, [HEADS, ["C1", "L1", "12 D25", ""]])
    assert taken.project is None
    assert "the bars and ties of the group" in taken.problems[0][1]


@pytest.mark.parametrize(
    ("text", "rows"),
    [
        ("a\tb\n1\t2\n", [["a", "b"], ["1", "2"]]),
        ("a;b\n1,5;2\n\n", [["a", "b"], ["1,5", "2"]]),
        ('a,b\n"1,5",2\n', [["a", "b"], ["1,5", "2"]]),
    ],
)
def test_text_is_parted_as_its_first_row_is(text, rows):
    assert parse_text(text) == rows


MANIFEST = """<manifest:manifest
 xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0">
<manifest:file-entry manifest:full-path="/" manifest:media-type="{kind}"/></manifest:manifest>"""
ODS_CONTENT = """<?xml version="1.0" encoding="UTF-8"?>
<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"
 xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0"
 xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" office:version="1.3">
<office:body><office:spreadsheet><table:table table:name="Columns">{rows}</table:table>
</office:spreadsheet></office:body></office:document-content>"""


def test_an_ods_is_read(tmp_path):
    rows = "".join(
        "<table:table-row>"
        + "".join(
            '<table:table-cell office:value-type="string">'
            f"<text:p>{cell}</text:p></table:table-cell>"
            for cell in row
        )
        + "</table:table-row>"
        for row in (["Mark", "Storey", "Main bars"], ["C2", "L1", "16 D28"])
    )
    kind = "application/vnd.oasis.opendocument.spreadsheet"
    with zipfile.ZipFile(tmp_path / "a.ods", "w") as file:
        file.writestr("mimetype", kind)
        file.writestr("content.xml", ODS_CONTENT.format(rows=rows))
        file.writestr("META-INF/manifest.xml", MANIFEST.format(kind=kind))
    assert read_table(tmp_path / "a.ods")[1] == ["C2", "L1", "16 D28"]


def test_the_sheet_that_has_rows_are_read(tmp_path):
    book = Workbook()
    book.active.title = "Empty"
    sheet = book.create_sheet("Columns")
    sheet.append(["Mark", "Storey", "Main bars"])
    sheet.append(["C2", "L1", "16 D28"])
    book.save(tmp_path / "b.xlsx")
    assert read_table(tmp_path / "b.xlsx")[1] == ["C2", "L1", "16 D28"]
    (tmp_path / "c.ods").write_bytes(b"not a workbook")
    with pytest.raises(InputError, match="no workbook"):
        read_table(tmp_path / "c.ods")
    (tmp_path / "d.csv").write_text("")
    with pytest.raises(InputError, match="an empty table"):
        read_table(tmp_path / "d.csv")
    with pytest.raises(InputError, match="ending in"):
        read_table(tmp_path / "e.pdf")


def test_every_column_that_is_taken_has_its_place():
    assert [column.key for column in COLUMNS if not column.taken] == [
        *("utilisation", "state", "governs", "group"),
    ]
