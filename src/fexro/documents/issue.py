"""What is issued: documents with their files and state, and issuing them into a folder."""

from __future__ import annotations

import hashlib
import json
import os
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache, partial
from pathlib import Path
from typing import Literal

from fexro import __version__
from fexro.core.errors import FexroError
from fexro.core.members.lift import LiftResult
from fexro.documents.bar_list import BarList, bar_list, kept_mark
from fexro.documents.bar_schedule import bar_blocks, bar_rows
from fexro.documents.calculation import (
    CalculationOptions,
    PictureMaker,
    calculation,
    summary_table,
)
from fexro.documents.called import member_called
from fexro.documents.column_sheets import lift_sheet, stack_sheet
from fexro.documents.content import Block, Document, Heading, Numeric, Paragraph, Sheet, Table
from fexro.documents.drawing import Drawing
from fexro.documents.drawing_dxf import dxf_of
from fexro.documents.drawing_svg import drawings_pdf, svg_of
from fexro.documents.markup import html_of, markdown_of
from fexro.documents.quantities import quantities_of, quantity_blocks
from fexro.documents.schedule_sheet import schedule_sheets
from fexro.documents.typesetting import pdf_of, typst_of
from fexro.documents.wall_list import wall_blocks, wall_rows
from fexro.documents.wall_sheets import wall_sheets
from fexro.documents.word import docx_of
from fexro.documents.workbook import workbook_of, xlsx_of
from fexro.exchange.building_model import model_of, models_can_be_written
from fexro.exchange.spreadsheets import csv_of
from fexro.project.column import LiftKey
from fexro.project.file import project_text
from fexro.project.papers import IssuedBar, IssuedSheet, Papers
from fexro.project.project import Project
from fexro.project.walls import Wall

__all__ = [
    "FORMATS",
    "Paper",
    "PaperState",
    "issue",
    "keep_bars",
    "papers_of",
    "sheet_of",
    "state_of",
    "write",
]

PaperState = Literal["not issued", "up to date", "changed"]
Format = Literal["pdf", "docx", "xlsx", "html", "md", "csv", "dxf", "svg", "ifc"]
FORMATS: tuple[Format, ...] = (*("pdf", "docx", "xlsx", "html", "md", "csv", "dxf", "svg", "ifc"),)
Results = Mapping[LiftKey, LiftResult]
FRONT = 8  # parts of a calculation that its first page may have


@dataclass(frozen=True)
class Paper:
    """A document that is issued.

    Attributes:
        name: of the document, and of its files.
        formats: that it is written in.
        make: writes it in a format: files by name.
        said: what it says, without revision and date, by which changes are known.
        pages: some of its first pages, which are made sooner than all, as PDF.
    """

    name: str
    formats: tuple[Format, ...]
    make: Callable[[Format], dict[str, bytes]]
    said: Callable[[], str]
    pages: Callable[[], bytes]

    @property
    def digest(self) -> str:
        """SHA-256 of what it says."""
        return hashlib.sha256(self.said().encode()).hexdigest()


def sheet_of(project: Project) -> Sheet:
    """Return what stands on every sheet of a project."""
    papers = project.papers
    return Sheet(
        project.name,
        papers.number,
        papers.author,
        papers.checker,
        papers.date,
        project.revision,
        project.basis.design_code.name,
        papers.picture,
        papers.text_paper,
    )


def papers_of(
    project: Project,
    results: Results,
    options: CalculationOptions | None = None,
    pictures: PictureMaker | None = None,
    keys: Sequence[LiftKey] | None = None,
    step: Callable[[], None] = lambda: None,
    calculated: Sequence[LiftKey] | None = None,
    lifts: Sequence[LiftKey] = (),
) -> list[Paper]:
    """Return the documents of a project; nothing is written before it is asked for.

    Args:
        project: the project.
        results: all its lifts.
        options: of the calculation.
        pictures: makes pictures for the calculation.
        keys: the lifts that they are about; all of them where nothing is said.
        step: called for each part of the calculation: to tell how far it is, or to stop it.
        calculated: the lifts of the calculation, where they are fewer.
        lifts: that have a drawing of their own.
    """
    chosen = list(project.by_key) if keys is None else list(keys)
    calculated = chosen if calculated is None else calculated
    sheet = sheet_of(project)
    bars = bar_list(project, {key: r.prepared for key, r in results.items()}, chosen)
    paper = project.papers.drawing_paper

    def blocks() -> Iterator[Block]:
        for block in calculation(project, results, calculated, sheet, options, pictures):
            step()
            yield block

    def rests_on() -> str:
        # What a calculation says follows from the project and the options alone.
        bare = project.changed(papers=Papers(), revision="")
        return f"{project_text(bare)}{options!r}{[str(key) for key in calculated]}"

    def listed() -> list[Block]:
        return list(bar_blocks(project, bars, project.papers.stock))

    def unmarked() -> list[Block]:
        rows = tuple(replace(row, revision="") for row in bars.rows)
        return list(bar_blocks(project, replace(bars, rows=rows), project.papers.stock))

    def counted() -> list[Block]:
        head = Heading("Quantities", 0, running="quantities")
        return [head, *quantity_blocks(project, quantities_of(project, results, chosen))]

    text: tuple[Format, ...] = ("pdf", "docx", "xlsx", "html", "md")
    lying = replace(sheet, landscape=True)
    found = [
        replace(_written("Calculation", sheet, text, blocks), said=rests_on),
        _drawn(
            "Column schedule",
            ("pdf", "dxf", "svg", "xlsx"),
            lambda one: schedule_sheets(project, results, one, paper),
            sheet,
            table=lambda: _schedule_table(project, results, chosen),
        ),
    ]
    lines: tuple[Format, ...] = ("pdf", "dxf", "svg")
    marks = {mark: project.mark_by_name[mark] for mark in dict.fromkeys(k.mark for k in chosen)}
    for name, mark in marks.items():
        if mark.wall is None:
            draw = partial(_stack, project, results, bars, name, paper)
            found.append(_drawn(f"{mark.kind.capitalize()} {name}", lines, draw, sheet))
    walls = [wall for wall in project.walls if any(m.wall == wall.name for m in marks.values())]
    for wall in walls:
        draw = partial(_wall, project, results, wall, paper)
        found.append(_drawn(f"Wall {wall.name}", lines, draw, sheet))
    for key in lifts:
        draw = partial(_lift, project, results, bars, key)
        found.append(_drawn(member_called(project, key), lines, draw, sheet))
    if walls:
        shown = project.changed(walls=tuple(walls))
        found.append(
            _written(
                *("Wall reinforcement", lying, ("pdf", "xlsx", "csv", "docx")),
                partial(wall_blocks, shown, results),
                partial(wall_rows, shown, results),
            )
        )
    found.append(
        _written(
            *("Bar list", lying, ("pdf", "xlsx", "csv", "docx"), listed),
            _csv(project, bars),
            unmarked,
        )
    )
    found.append(_written("Quantities", lying, ("pdf", "xlsx", "docx"), counted))
    found.append(_modelled(project, results, sheet))
    return found


def _modelled(project: Project, results: Results, sheet: Sheet) -> Paper:
    """Return the building model."""
    name = "Building model"

    def make(of: Format) -> dict[str, bytes]:
        if of != "ifc":
            raise FexroError(f"{name} is not written as {of.upper()}.")
        return {f"{name}.ifc": model_of(project, results)}

    def pages() -> bytes:
        heading = Heading(name, 0)
        told = f"{len(results)} columns with their bars, materials and verdicts, IFC4."
        return pdf_of(Document(name, sheet, [heading, Paragraph(told), summary_table(results)]))

    bare = project.changed(papers=Papers(), revision="")
    return Paper(name, ("ifc",), make, lambda: project_text(bare), pages)


def _stack(
    project: Project, results: Results, bars: BarList, mark: str, paper: str, sheet: Sheet
) -> list[Drawing]:
    return [stack_sheet(project, results, bars, mark, sheet, paper)]


def _wall(
    project: Project, results: Results, wall: Wall, paper: str, sheet: Sheet
) -> list[Drawing]:
    return wall_sheets(project, results, wall, sheet, paper)


def _lift(
    project: Project, results: Results, bars: BarList, key: LiftKey, sheet: Sheet
) -> list[Drawing]:
    return [lift_sheet(project, results, bars, key, sheet)]


def _csv(project: Project, bars: BarList) -> Callable[[], Table]:
    return lambda: bar_rows(project, bars)


def _written(
    name: str,
    sheet: Sheet,
    formats: tuple[Format, ...],
    blocks: Callable[[], Iterator[Block] | list[Block]],
    table: Callable[[], Table] | None = None,
    bare: Callable[[], Iterator[Block] | list[Block]] | None = None,
) -> Paper:
    """Return a document of text and tables.

    Args:
        name: of the document.
        sheet: what stands on every page.
        formats: that it is written in.
        blocks: its parts.
        table: what a CSV has.
        bare: its parts without what comes with a revision alone.
    """

    @cache
    def document() -> Document:
        # What is said is found once for all formats.
        return Document(name, sheet, list(blocks()))

    def make(of: Format) -> dict[str, bytes]:
        return {f"{name}.{of}": _encoded(document(), of, table)}

    def said() -> str:
        plain = replace(sheet, revision="", date="")
        return typst_of(Document(name, plain, list((bare or blocks)())))

    def pages() -> bytes:
        front = [block for block, _ in zip(blocks(), range(FRONT), strict=False)]
        return pdf_of(Document(name, sheet, front))

    return Paper(name, formats, make, said, pages)


def _encoded(document: Document, of: Format, table: Callable[[], Table] | None) -> bytes:
    match of:
        case "pdf":
            return pdf_of(document)
        case "docx":
            return docx_of(document)
        case "xlsx":
            return xlsx_of(document)
        case "html":
            return html_of(document).encode()
        case "md":
            return markdown_of(document).encode()
        case "csv" if table is not None:
            one = table()
            rows: list[list[str | float | int | None]] = [list(one.heads)]
            rows += [[_value(cell) for cell in row] for row in one.rows]
            return csv_of(rows).encode("utf-8-sig")
    raise FexroError(f"{document.title} is not written as {of.upper()}.")


def _value(cell: object) -> str | float | int | None:
    if isinstance(cell, Numeric):
        return round(cell.value, cell.decimals) if cell.decimals else round(cell.value)
    return cell if isinstance(cell, str) else ""


def _drawn(
    name: str,
    formats: tuple[Format, ...],
    sheets: Callable[[Sheet], list[Drawing]],
    sheet: Sheet,
    table: Callable[[], Table] | None = None,
) -> Paper:
    """Return a document of drawings."""

    def make(of: Format) -> dict[str, bytes]:
        drawings = sheets(sheet)
        match of:
            case "pdf":
                return {f"{name}.pdf": drawings_pdf(drawings, name)}
            case "dxf":
                return {f"{name}.dxf": dxf_of(drawings).encode()}
            case "svg":
                many = len(drawings) > 1
                return {
                    f"{name} {number}.svg" if many else f"{name}.svg": svg_of(drawing)
                    for number, drawing in enumerate(drawings, start=1)
                }
            case "xlsx" if table is not None:
                return {f"{name}.xlsx": workbook_of([(name, table())])}
        raise FexroError(f"{name} is not written as {of.upper()}.")

    def said() -> str:
        bare = replace(sheet, revision="", date="")
        return "\n".join(repr(item) for one in sheets(bare) for item in one.items)

    return Paper(name, formats, make, said, lambda: drawings_pdf(sheets(sheet)[:1], name))


def _schedule_table(project: Project, results: Results, keys: Sequence[LiftKey]) -> Table:
    """Return the schedule as a table: a row for each storey, a column for each mark."""
    marks = list(dict.fromkeys(key.mark for key in keys if key in project.column_keys))
    rows = []
    for storey in project.storeys:
        cells = []
        for mark in marks:
            key = LiftKey(mark, storey.name)
            lift = project.by_key.get(key)
            told = "" if lift is None else f"{lift.section.bars}, {lift.section.ties}"
            cells.append(told if lift is None else f"{told}, {lift.concrete}")
        rows.append((storey.name, *cells))
    return Table(("Storey", *marks), tuple(rows), "", frozenset(range(len(marks) + 1)))


def state_of(project: Project, paper: Paper) -> PaperState:
    """Return whether a document is as it was issued last."""
    issued = {one.name: one.digest for one in project.papers.issued}
    if paper.name not in issued:
        return "not issued"
    return "up to date" if issued[paper.name] == paper.digest else "changed"


def write(files: Mapping[str, bytes], folder: Path) -> list[Path]:
    """Write files into a folder, all of them or none.

    Raises:
        FexroError: if one cannot be written; what was there before stays.
    """
    made: list[_File] = []
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name, content in files.items():
            made.append(_File(folder / safe_name(name)))
            made[-1].prepare(content)
        for one in made:
            one.replace()
    except OSError as error:
        for one in made:
            one.restore()
        raise FexroError(f"{folder}: {error.strerror or error}; nothing was written.") from error
    for one in made:
        one.settle()
    return [one.target for one in made]


class _File:
    """A file that takes the place of what was there, and can give it back."""

    def __init__(self, target: Path) -> None:
        self.target = target
        self._part = target.with_name(f".{target.name}.writing")
        self._before = target.with_name(f".{target.name}.before")
        self._replaced = False

    def prepare(self, content: bytes) -> None:
        """Write what is to be there, beside it."""
        with self._part.open("wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())

    def replace(self) -> None:
        """Take the place of what is there, which is kept."""
        if self.target.exists():
            os.link(self.target, self._before)
        self._part.replace(self.target)
        self._replaced = True

    def restore(self) -> None:
        """Give back what was there."""
        if self._replaced:
            self.target.unlink(missing_ok=True)
        if self._before.exists():
            self._before.replace(self.target)
        self._part.unlink(missing_ok=True)

    def settle(self) -> None:
        """Drop what was kept."""
        self._before.unlink(missing_ok=True)


def safe_name(name: str) -> str:
    """Return a name that a file may have on any system."""
    shown = "".join("_" if c in '<>:"/\\|?*' or not c.isprintable() else c for c in name)
    stem, dot, ending = shown.rpartition(".")
    return f"{(stem or 'document')[:100].strip(' .') or 'document'}{dot}{ending}"


def issue(
    project: Project,
    papers: Sequence[Paper],
    folder: Path,
    formats: Sequence[Format] | None = None,
    bars: BarList | None = None,
) -> Iterator[tuple[int, int, Project]]:
    """Write documents into a folder with a manifest, and keep what was issued.

    Yields:
        how many files are made of how many, and the project; at last that which knows of the issue.

    Args:
        project: the project.
        papers: its documents.
        folder: where the files go; all are written at the end, or none.
        formats: those that are wanted; all where nothing is said.
        bars: whose marks are kept from then on.

    Raises:
        FexroError: if a document cannot be made, or the files cannot be written.
    """
    wanted = [
        (paper, one)
        for paper in papers
        for one in paper.formats
        if formats is None or one in formats
    ]
    files: dict[str, bytes] = {}
    for number, (paper, one) in enumerate(wanted):
        yield number, len(wanted) + 1, project
        if one != "ifc" or models_can_be_written():
            files |= paper.make(one)
    done = _issued(project, papers)
    if bars is not None:
        done = keep_bars(done, bars)
    files["manifest.json"] = _manifest(project, papers, files).encode()
    write(files, folder)
    yield len(wanted) + 1, len(wanted) + 1, done


def _manifest(project: Project, papers: Sequence[Paper], files: Mapping[str, bytes]) -> str:
    document = {
        "format": "fexro manifest",
        "version": 1,
        "program": f"Fexro {__version__}",
        "project": project.name,
        "number": project.papers.number,
        "revision": project.revision,
        "date": project.papers.date,
        "documents": [{"name": one.name, "sha256 of content": one.digest} for one in papers],
        "files": [
            {"name": name, "bytes": len(content), "sha256": hashlib.sha256(content).hexdigest()}
            for name, content in files.items()
        ],
    }
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def _issued(project: Project, papers: Sequence[Paper]) -> Project:
    """Return the project that knows what was issued."""
    before = project.papers
    revision, date = project.revision, before.date
    kept = {one.name: one for one in before.issued}
    for paper in papers:
        kept[paper.name] = IssuedSheet(
            name=paper.name, digest=paper.digest, revision=revision, date=date
        )
    changed = before.model_copy(update={"issued": tuple(kept.values())})
    return project.changed(papers=changed)


def keep_bars(project: Project, bars: BarList) -> Project:
    """Return the project that knows the marks and bars of a list as they are issued."""
    before = project.papers
    marks = {one.mark: one for one in before.marks}
    for marked, _ in bars.marks:
        if marked.mark not in marks:
            one = kept_mark(marked.mark, marked.bar, marked.grade, project.revision)
            marks[marked.mark] = one
    keys = {row.key for row in bars.rows}
    rows = [one for one in before.bars if one.key not in keys and one.key in project.by_key]
    rows += [
        IssuedBar(
            mark=row.key.mark,
            storey=row.key.storey,
            bar=row.marked.mark,
            number=row.number,
            revision=row.revision or project.revision,
        )
        for row in bars.rows
    ]
    changed = before.model_copy(update={"marks": tuple(marks.values()), "bars": tuple(rows)})
    return project.changed(papers=changed)
