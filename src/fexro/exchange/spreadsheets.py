"""Tables as files: CSV, XLSX and ODS read; CSV and XLSX written."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from pathlib import Path

from fexro.core.errors import FexroError, InputError

__all__ = [
    "READ",
    "WRITTEN",
    "csv_of",
    "decoded",
    "parse_text",
    "read_table",
    "spreadsheet_text",
    "write_table",
]

READ, WRITTEN = (".csv", ".tsv", ".txt", ".xlsx", ".xls", ".ods"), (".csv", ".xlsx")
Cell = str | float | int | None


def read_table(path: Path) -> list[list[str]]:
    """Return the rows of a table as text; of a workbook those of its first sheet that has any.

    Raises:
        FexroError: if it cannot be read.
        InputError: if it is no such file, or empty.
    """
    suffix = path.suffix.lower()
    if suffix not in READ:
        raise InputError(path.name, f"“{suffix}”", f"a name ending in {', '.join(READ)}")
    try:
        if suffix in (".csv", ".tsv", ".txt"):
            rows = parse_text(decoded(path.read_bytes()))
        else:
            rows = _read_workbook(path)
    except OSError as error:
        raise FexroError(f"{path}: {error.strerror or error}.") from error
    if not rows:
        raise InputError(path.name, "an empty table", "rows below a row of headings")
    return rows


def decoded(content: bytes) -> str:
    """Return the text of a file: UTF-8 or UTF-16 with its mark, else of the western code page."""
    for encoding in (
        ("utf-8-sig", "utf-16") if content[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig",)
    ):
        try:
            return content.decode(encoding)
        except UnicodeDecodeError:
            continue
    return content.decode("cp1252", errors="replace")


def parse_text(text: str) -> list[list[str]]:
    """Return the rows of text as a spreadsheet copies or writes it: tabs, semicolons or commas."""
    first = text.split("\n", 1)[0]
    delimiter = max("\t;,", key=first.count)
    rows = [
        [cell.strip() for cell in row] for row in csv.reader(io.StringIO(text), delimiter=delimiter)
    ]
    return [row for row in rows if any(row)]


def _read_workbook(path: Path) -> list[list[str]]:
    from python_calamine import CalamineError, CalamineWorkbook

    try:
        book = CalamineWorkbook.from_path(str(path))
        sheets = [book.get_sheet_by_name(name).to_python() for name in book.sheet_names]
    except (CalamineError, ValueError) as error:
        raise InputError(
            path.name, f"a file that is no workbook ({error})", "XLSX or ODS"
        ) from None
    for sheet in sheets:
        rows = [[_text(cell) for cell in row] for row in sheet]
        rows = [row for row in rows if any(row)]
        if rows:
            return rows
    return []


def _text(cell: object) -> str:
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return "" if cell is None else str(cell).strip()


def write_table(path: Path, rows: Sequence[Sequence[Cell]], title: str) -> None:
    """Write rows, the first of headings, as CSV or XLSX by the name of the file.

    Raises:
        FexroError: if it cannot be written.
        InputError: if the name is of neither.
    """
    suffix = path.suffix.lower()
    if suffix not in WRITTEN:
        raise InputError(path.name, f"“{suffix}”", f"a name ending in {' or '.join(WRITTEN)}")
    try:
        if suffix == ".csv":
            with path.open("w", encoding="utf-8-sig", newline="") as file:
                csv.writer(file).writerows([["" if c is None else c for c in row] for row in rows])
        else:
            _write_workbook(path, rows, title)
    except OSError as error:
        raise FexroError(f"{path}: {error.strerror or error}.") from error


def csv_of(rows: Sequence[Sequence[Cell]]) -> str:
    """Return rows as CSV; text is text, whatever it begins with."""
    out = io.StringIO()
    csv.writer(out).writerows([[_plain(cell) for cell in row] for row in rows])
    return out.getvalue()


def _plain(cell: Cell) -> Cell:
    return spreadsheet_text(cell) if isinstance(cell, str) else "" if cell is None else cell


def spreadsheet_text(text: str) -> str:
    """Return text so that no spreadsheet takes it for a formula: such a start has ' before it."""
    return f"'{text}" if text.startswith(("=", "+", "-", "−", "@", "\t", "\r")) else text


def _write_workbook(path: Path, rows: Sequence[Sequence[Cell]], title: str) -> None:
    from openpyxl import Workbook
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book = Workbook()
    sheet = book.active
    sheet.title = title
    for row in rows:
        sheet.append(list(row))
        for cell in sheet[sheet.max_row]:
            # Text stays text, however it begins.
            if isinstance(cell.value, str):
                cell.data_type = "s"
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    sheet.freeze_panes = "C2"
    sheet.auto_filter.ref = sheet.dimensions
    for number, column in enumerate(zip(*rows, strict=True), start=1):
        widest = max(len(str(cell)) for cell in column if cell is not None)
        sheet.column_dimensions[get_column_letter(number)].width = min(widest + 2, 40)
    book.save(path)
