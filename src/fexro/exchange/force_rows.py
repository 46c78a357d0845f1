"""The rows of a table that hold forces of members, each column by its meaning."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import zip_longest

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.errors import InputError
from fexro.exchange.numbers_in_text import read_numbers
from fexro.exchange.sheets import Cell, Sheet
from fexro.project.mapping import ForcesMapping, Meaning
from fexro.project.records import look

__all__ = ["Complaint", "MemberRows", "Place", "cell_text", "member_rows"]

Place = tuple[str, int]


@dataclass(frozen=True)
class Complaint:
    """Something doubtful about a table.

    Attributes:
        kind: what it is.
        rows: where, sheets and lines.
        keys: the members, cases and ends that it is about.
    """

    kind: str
    rows: tuple[Place, ...] = ()
    keys: tuple[tuple[str, ...], ...] = ()


@dataclass
class MemberRows:
    """The rows of all sheets, a list for each meaning.

    Attributes:
        places: sheet and line of each.
        texts: of the columns that are not numbers.
        numbers: of those that are; not numbers where they cannot be read.
        unreadable: whether a force of the row is no number, for each end that has columns of its
            own, and for columns of both.
        kept_as_text: whether a force is a number kept as text in a spreadsheet.
        complaints: about rows that are left out.
    """

    places: list[Place] = field(default_factory=list)
    texts: dict[str, list[str]] = field(default_factory=dict)
    numbers: dict[str, FloatArray] = field(default_factory=dict)
    unreadable: dict[str, BoolArray] = field(default_factory=dict)
    kept_as_text: BoolArray = field(default_factory=lambda: np.zeros(0, dtype=bool))
    complaints: list[Complaint] = field(default_factory=list)


TEXTS = ("mark", "storey", "member", "element", "case", "step", "end")
MEASURED = ("zi", "zj", "station", "angle")


def member_rows(sheets: Sequence[Sheet], mapping: ForcesMapping) -> MemberRows:
    """Return the rows that are members', each sheet's columns found by their headings."""
    found = MemberRows()
    chosen = _chosen(sheets, mapping)
    cells: dict[str, list[Cell]] = {name: [] for name in (*TEXTS, *mapping.columns)}
    sheet_texts: list[str] = []
    text_file: list[bool] = []
    for sheet in chosen:
        columns = _columns(sheet, mapping)
        rows = sheet.rows[mapping.first_row - 1 :]
        lines = [
            i
            for i, row in enumerate(rows)
            if (row and row[0] and not _blank(row[0])) or any(not _blank(c) for c in row)
        ]
        turned = _columns_of([rows[i] for i in lines])
        for meaning, position in columns.items():
            at = position - 1
            column: list[Cell] = list(turned[at]) if at < len(turned) else [""] * len(lines)
            if meaning in mapping.repeating:
                column = _filled(column)
            cells[meaning] += column
        found.places += [(sheet.name, mapping.first_row + i) for i in lines]
        sheet_texts += [sheet.name] * len(lines)
        text_file += [sheet.text] * len(lines)
    for name in TEXTS:
        if name in mapping.columns:
            found.texts[name] = _texts(cells[name])
    if mapping.sheet_is is not None:
        found.texts[mapping.sheet_is] = sheet_texts
    _split_members(found, mapping)
    count = len(found.places)
    found.unreadable = {end: np.zeros(count, bool) for end in ("", "top", "bottom")}
    found.kept_as_text = np.zeros(count, bool)
    for meaning in mapping.columns:
        if meaning in TEXTS:
            continue
        numbers, bad, blank, as_text = read_numbers(
            cells[meaning], mapping.decimal, mapping.thousands
        )
        found.numbers[meaning] = numbers
        if meaning not in MEASURED:
            found.unreadable[meaning.partition("@")[2]] |= bad | blank
            found.kept_as_text |= as_text & ~np.array(text_file, dtype=bool)
    return _of_members(found, mapping)


def _chosen(sheets: Sequence[Sheet], mapping: ForcesMapping) -> list[Sheet]:
    if len(sheets) == 1 and sheets[0].text:
        return list(sheets)
    if not mapping.sheets:
        return [sheet for sheet in sheets if len(sheet.rows) >= mapping.first_row]
    known = {sheet.name: sheet for sheet in sheets}
    for name in mapping.sheets:
        if name not in known:
            raise InputError("sheets", f"no sheet “{name}”", f"one of {', '.join(known)}")
    return [known[name] for name in mapping.sheets]


def _columns(sheet: Sheet, mapping: ForcesMapping) -> dict[Meaning, int]:
    """Return the position of each meaning, found by its heading where it has moved."""
    if not mapping.columns:
        raise InputError("columns", "none with a meaning", "a mark, a case and forces at least")
    if mapping.names_row is None or not mapping.headings:
        return dict(mapping.columns)
    heads = [
        look(cell_text(cell))
        for cell in (
            sheet.rows[mapping.names_row - 1] if len(sheet.rows) >= mapping.names_row else []
        )
    ]
    found: dict[Meaning, int] = {}
    for meaning, position in mapping.columns.items():
        heading = mapping.headings.get(meaning)
        wanted = look(heading) if heading is not None else None
        if wanted is None or (position <= len(heads) and heads[position - 1] == wanted):
            found[meaning] = position
        elif heads.count(wanted) == 1:
            found[meaning] = heads.index(wanted) + 1
        else:
            shown = ", ".join(
                f"“{cell_text(cell)}”" for cell in sheet.rows[mapping.names_row - 1][:20]
            )
            where = f"{sheet.name}, row {mapping.names_row}"
            raise InputError(where, f"no column “{heading}” for {meaning}", shown or "headings")
    return found


def _split_members(rows: MemberRows, mapping: ForcesMapping) -> None:
    if "member" not in rows.texts:
        return
    pattern = re.compile(mapping.member_pattern or r"(?P<mark>.+?)\s*[-/·|_ ]\s*(?P<storey>\S+)")
    found = [pattern.fullmatch(text) for text in rows.texts["member"]]
    for meaning in ("mark", "storey"):
        if meaning not in rows.texts:
            rows.texts[meaning] = [match[meaning].strip() if match else "" for match in found]


def _of_members(rows: MemberRows, mapping: ForcesMapping) -> MemberRows:
    """Leave out sums, footers and envelopes, and say so."""
    count = len(rows.places)
    for meaning in ("mark", "storey", "case"):
        if meaning not in rows.texts:
            raise InputError("columns", f"none for {meaning}", "one for mark, storey and case")
    sums = {look(word) for word in mapping.sum_words}
    envelopes = {look(word) for word in mapping.envelope_words}
    nobody = np.zeros(count, dtype=bool)
    for meaning in ("mark", "storey", "case"):
        nobody |= _are(rows.texts[meaning], {""})
    if sums:
        nobody |= _are(rows.texts["case"], sums)
    envelope = np.zeros(count, dtype=bool)
    if envelopes:
        # Where no column tells steps, the case itself is called an envelope.
        told = rows.texts.get("step", rows.texts["case"])
        envelope = _are(told, envelopes) & ~nobody
    for kind, lines in (("not a member row", nobody), ("envelope row", envelope)):
        if lines.any():
            rows.complaints.append(
                Complaint(kind, tuple(rows.places[i] for i in np.flatnonzero(lines)))
            )
    kept = np.flatnonzero(~nobody & ~envelope)
    rows.places = [rows.places[i] for i in kept]
    rows.texts = {name: [texts[i] for i in kept] for name, texts in rows.texts.items()}
    rows.numbers = {name: numbers[kept] for name, numbers in rows.numbers.items()}
    rows.unreadable = {end: lines[kept] for end, lines in rows.unreadable.items()}
    rows.kept_as_text = rows.kept_as_text[kept]
    return rows


def _are(texts: list[str], words: set[str]) -> BoolArray:
    known = {text: look(text) in words for text in set(texts)}
    return np.array([known[text] for text in texts], dtype=bool)


def _columns_of(rows: list[Sequence[Cell]]) -> list[tuple[Cell, ...]]:
    """Return the columns of rows; where rows are shorter than others, cells are empty."""
    if len({len(row) for row in rows}) == 1:
        return list(zip(*rows, strict=True))
    return list(zip_longest(*rows, fillvalue=""))


def _filled(column: list[Cell]) -> list[Cell]:
    last: Cell = ""
    filled = []
    for cell in column:
        if not _blank(cell):
            last = cell
        filled.append(last)
    return filled


def _blank(cell: Cell) -> bool:
    return cell is None or (isinstance(cell, str) and not cell.strip())


def _texts(cells: Sequence[Cell]) -> list[str]:
    """Return the texts of cells, which are the same few again and again."""
    known = {cell: cell_text(cell) for cell in set(cells)}
    return [known[cell] for cell in cells]


def cell_text(cell: Cell) -> str:
    """Return the text of a cell."""
    if isinstance(cell, str):
        return cell.strip()
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return "" if cell is None else str(cell).strip()
