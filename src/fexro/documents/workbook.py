"""Documents as XLSX: every table on a sheet of its own, numbers as numbers, text as text."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator, Sequence

from fexro.core.rendering.text import line_text
from fexro.documents.content import (
    Block,
    Calculation,
    Cell,
    Document,
    Facts,
    Heading,
    Numeric,
    Paragraph,
    Table,
    words_of,
)

__all__ = ["workbook_of", "xlsx_of"]

Row = Sequence[Cell]
WIDEST = 60  # letters of a column


def xlsx_of(document: Document) -> bytes:
    """Return a document as XLSX: its text on the first sheet, then its tables."""
    tables = [_named(block, heading) for block, heading in _under(document.blocks)]
    text = Table(("", ""), tuple(_text(document)), "Document", frozenset({0, 1}))
    return workbook_of([("Document", text), *tables])


def _under(blocks: Sequence[Block]) -> Iterator[tuple[Table, str]]:
    """Yield every table with the heading that it stands under."""
    heading = ""
    for block in blocks:
        if isinstance(block, Heading) and block.level <= 1:
            heading = block.text
        elif isinstance(block, Table):
            yield block, heading


def _named(table: Table, heading: str) -> tuple[str, Table]:
    return " ".join(part for part in (heading, table.title) if part), table


def _text(document: Document) -> Iterator[tuple[Cell, Cell]]:
    yield document.title, ""
    yield from document.sheet.told
    for block in document.blocks:
        match block:
            case Heading(text=text):
                yield text, ""
            case Paragraph(text=text):
                yield "", text
            case Facts(rows=rows):
                yield from rows
            case Table(title=title) if title:
                yield "", f"{title}: on a sheet of its own"
            case Calculation(heading=heading, record=record, system=system):
                yield heading, ""
                for line in record.lines:
                    for part in line_text(line, system).split("\n"):
                        yield "", part


def workbook_of(tables: Sequence[tuple[str, Table]]) -> bytes:
    """Return tables as the sheets of an XLSX file, by their names.

    Text is never a formula, whatever it begins with.
    """
    from openpyxl import Workbook
    from openpyxl.styles import Alignment, Font
    from openpyxl.utils import get_column_letter

    book = Workbook()
    assert book.active is not None
    book.remove(book.active)
    names: set[str] = set()
    for name, table in tables:
        sheet = book.create_sheet(_sheet_name(name, names))
        for number, row in enumerate([table.heads, *table.rows], start=1):
            for column, cell in enumerate(row, start=1):
                place = sheet.cell(number, column)
                if isinstance(cell, Numeric):
                    place.value = cell.value if cell.value == cell.value else None
                    places = "." + "0" * cell.decimals if cell.decimals else ""
                    place.number_format = f"#,##0{places}"
                else:
                    text = words_of(cell)
                    place.value = "".join(c if c.isprintable() else " " for c in text)
                    place.data_type, place.quotePrefix = "s", True
                if number == 1:
                    place.font = Font(bold=True)
                    place.alignment = Alignment(wrap_text=True, vertical="top")
        sheet.freeze_panes = "B2"
        for column in range(1, len(table.heads) + 1):
            widest = max((len(_shown(row[column - 1])) for row in table.rows), default=0)
            head = len(table.heads[column - 1]) // 2 + 2
            width = min(max(widest + 2, head, 6), WIDEST)
            sheet.column_dimensions[get_column_letter(column)].width = width
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _shown(cell: Cell) -> str:
    return f"{cell.value:.{cell.decimals}f}" if isinstance(cell, Numeric) else words_of(cell)


def _sheet_name(name: str, taken: set[str]) -> str:
    """Return a name that a sheet may have: 31 letters, none of them a bracket or a slash."""
    base = re.sub(r"[\[\]:*?/\\]", " ", name).strip("' ") or "Sheet"
    for number in range(1, 10_000):
        ending = "" if number == 1 else f" {number}"
        found = base[: 31 - len(ending)] + ending
        if found.lower() not in taken:
            break
    taken.add(found.lower())
    return found
