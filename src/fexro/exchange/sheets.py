"""Sheets of a table as they stand: cells of text and numbers with their lines kept."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from fexro.core.errors import FexroError, InputError
from fexro.exchange.spreadsheets import READ, decoded

__all__ = ["Cell", "Sheet", "parse_sheet", "read_sheets"]

MOST_ROWS, MOST_CELLS = 500_000, 20_000_000
LOOKED_AT = 50  # rows by which the delimiter is found
Cell = str | float | int | bool | object
_TEXT = (".csv", ".tsv", ".txt")


@dataclass(frozen=True)
class Sheet:
    """A sheet; the first of its rows is line 1.

    Attributes:
        name: of the sheet; of text that of the file.
        rows: of cells, not all of one length; numbers of a spreadsheet are numbers.
        text: whether all cells are text because the file is.
    """

    name: str
    rows: Sequence[Sequence[Cell]]
    text: bool = False


def read_sheets(path: Path, report: Callable[[str], None] | None = None) -> list[Sheet]:
    """Return the sheets of a table; formulas are never evaluated, their kept results are read.

    Args:
        path: CSV, TSV, TXT, XLSX, XLS or ODS.
        report: is told what is being read; may raise to stop.

    Raises:
        FexroError: if it cannot be read.
        InputError: if it is no such file, empty, too large, protected or damaged.
    """
    suffix = path.suffix.lower()
    if suffix not in READ:
        raise InputError(path.name, f"“{suffix}”", f"a name ending in {', '.join(READ)}")
    try:
        if suffix in _TEXT:
            sheets = [parse_sheet(decoded(path.read_bytes()), path.name)]
        else:
            sheets = _workbook(path, report)
    except OSError as error:
        raise FexroError(f"{path}: {error.strerror or error}.") from error
    if not any(sheet.rows for sheet in sheets):
        raise InputError(path.name, "an empty table", "rows below a row of headings")
    return sheets


def parse_sheet(text: str, name: str = "clipboard") -> Sheet:
    """Return text as a sheet, parted at tabs, semicolons or commas, whichever fit best.

    Raises:
        InputError: if it has too many rows.
    """
    text = text.replace("\x00", "")
    rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=_delimiter(text)))
    _refuse_size(rows, name)
    return Sheet(name, rows, text=True)


def _delimiter(text: str) -> str:
    """Return what parts most rows into the same number of cells, more than one."""
    head = text.splitlines()[:LOOKED_AT]

    def fit(delimiter: str) -> tuple[int, int]:
        widths = Counter(len(row) for row in csv.reader(head, delimiter=delimiter) if row)
        width, rows = max(widths.items(), key=lambda item: item[1], default=(1, 0))
        return (rows, width) if width > 1 else (0, 0)

    return max("\t;,|", key=fit)


def _workbook(path: Path, report: Callable[[str], None] | None) -> list[Sheet]:
    from python_calamine import CalamineError, CalamineWorkbook, PasswordError

    try:
        book = CalamineWorkbook.from_path(str(path))
        sheets = []
        for name in book.sheet_names:
            if report is not None:
                report(f"reading {name}")
            rows = book.get_sheet_by_name(name).to_python(skip_empty_area=False)
            _refuse_size(rows, f"{path.name}, {name}")
            sheets.append(Sheet(name, rows))
    except PasswordError:
        allowed = "a workbook that opens without a password"
        raise InputError(path.name, "a protected workbook", allowed) from None
    except (CalamineError, ValueError) as error:
        found = f"a file that is no workbook, or a damaged one ({error})"
        raise InputError(path.name, found, "XLSX, XLS or ODS") from None
    return sheets


def _refuse_size(rows: Sequence[Sequence[object]], where: str) -> None:
    if len(rows) > MOST_ROWS:
        raise InputError(where, f"{len(rows)} rows", f"at most {MOST_ROWS} rows")
    cells = sum(map(len, rows))
    if cells > MOST_CELLS:
        raise InputError(where, f"{cells} cells", f"at most {MOST_CELLS} cells")
