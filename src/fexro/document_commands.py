"""Commands that write what leaves the office: calculation, drawings, bar list, building model."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from fexro.terminal import File, check_with_progress, load, progress, refuse_present

if TYPE_CHECKING:
    from fexro.core.findings import Topic
    from fexro.documents.calculation import CalculationOptions, PictureMaker
    from fexro.documents.calculation import Detail as DetailName
    from fexro.documents.issue import Format as PaperFormat
    from fexro.documents.issue import Paper
    from fexro.project.column import LiftKey
    from fexro.project.project import Project

__all__ = ["COMMANDS"]

_HELD: list[object] = []

Out = Annotated[Path, typer.Option(help="Folder that the files go to.")]
Marks = Annotated[list[str] | None, typer.Option("--mark", help="Only this mark; may be repeated.")]
Levels = Annotated[list[str] | None, typer.Option("--level", help="Only this storey.")]


class Detail(StrEnum):
    """How much the checks of a calculation have in them."""

    verdicts = "verdicts"
    checks = "checks"
    full = "full"


class Shown(StrEnum):
    """Which combinations a calculation has in full."""

    governing = "governing"
    tables = "tables"
    all = "all"


class TextFormat(StrEnum):
    """What a calculation is written as."""

    pdf = "pdf"
    docx = "docx"
    xlsx = "xlsx"
    html = "html"
    md = "md"


class DrawingFormat(StrEnum):
    """What drawings are written as."""

    pdf = "pdf"
    dxf = "dxf"
    svg = "svg"
    xlsx = "xlsx"


class ListFormat(StrEnum):
    """What a bar list is written as."""

    pdf = "pdf"
    xlsx = "xlsx"
    csv = "csv"
    docx = "docx"


def _keys(
    project: Project, marks: Sequence[str] | None, levels: Sequence[str] | None
) -> list[LiftKey]:
    """Return the lifts that are asked for.

    Raises:
        InputError: for a mark or a storey that the project has not, or where no lift is left.
    """
    from fexro.core.errors import InputError

    for option, names, known in (
        ("--mark", marks, list(project.mark_by_name)),
        ("--level", levels, list(project.storey_by_name)),
    ):
        for name in names or ():
            if name not in known:
                raise InputError(option, f"“{name}”", f"one of {', '.join(known)}")
    keys = [
        key
        for key in project.by_key
        if (not marks or key.mark in marks) and (not levels or key.storey in levels)
    ]
    if not keys:
        raise InputError("--mark, --level", "no lift", "marks and levels that have one")
    return keys


def _write(
    project: Project,
    keys: Sequence[LiftKey],
    chosen: Callable[[Paper], bool],
    formats: Sequence[str],
    out: Path,
    options: CalculationOptions | None = None,
    *,
    pictures: bool = False,
    lifts: Sequence[LiftKey] = (),
) -> None:
    """Make the documents that are chosen in some formats, and write all of them or none."""
    from fexro.documents.issue import papers_of, write

    results = check_with_progress(project, 1)
    maker = _pictures(project, results) if pictures else None
    every = papers_of(project, results, options, maker, keys, lifts=lifts)
    papers = [one for one in every if chosen(one)]
    wanted = list(_wanted(papers, formats))
    files: dict[str, bytes] = {}
    with progress("Writing", 100 if len(keys) > 1 else 0) as advance:
        for paper, one in wanted:
            files |= paper.make(one)
            advance(100 // len(wanted))
    for path in write(files, out):
        typer.echo(str(path))


def _named(*names: str) -> Callable[[Paper], bool]:
    """Return what chooses documents by name."""
    return lambda one: one.name in names


def _wanted(papers: Sequence[Paper], formats: Sequence[str]) -> Iterator[tuple[Paper, PaperFormat]]:
    for paper in papers:
        for one in paper.formats:
            if one in formats:
                yield paper, one


def _pictures(project: Project, results: Any) -> PictureMaker:
    """Return what makes pictures: that of the window, without one."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from fexro.desktop.application import make_application

    # Without anybody who holds it the application is gone, and with it all that is painted.
    _HELD.append(make_application())
    from fexro.desktop.bench.paper import PaperPictures

    return PaperPictures(results, project.basis.system)


def _chapter(text: str) -> tuple[Topic, DetailName]:
    """Return the topic of a chapter and its detail.

    Raises:
        InputError: for a chapter that there is not, or a detail.
    """
    from fexro.core.errors import InputError
    from fexro.core.findings import TOPICS
    from fexro.documents.calculation import DETAILS

    name, _, wanted = text.partition("=")
    topic = next((one for one in TOPICS if one == name.strip().lower()), None)
    detail = next((one for one in DETAILS if one == wanted.strip().lower()), None)
    if topic is None or detail is None:
        allowed = f"one of {', '.join(TOPICS)} with one of {', '.join(DETAILS)}"
        raise InputError("--chapter", f"“{text}”", allowed)
    return topic, detail


def report(
    file: File,
    out: Out,
    mark: Marks = None,
    level: Levels = None,
    detail: Annotated[Detail, typer.Option(help="How much the checks have in them.")] = Detail.full,
    chapter: Annotated[
        list[str] | None,
        typer.Option(help="Other detail of a chapter, such as shear=checks; may be repeated."),
    ] = None,
    combinations: Annotated[
        Shown, typer.Option(help="Combinations: what governs, others in tables, or all.")
    ] = Shown.governing,
    format: Annotated[
        list[TextFormat] | None, typer.Option(help="What to write; may be repeated. PDF without.")
    ] = None,
    pictures: Annotated[bool, typer.Option(help="With the pictures of each lift.")] = True,
) -> None:
    """Write the calculation of lifts: what was assumed and found, with every derivation."""
    from fexro.documents.calculation import CalculationOptions

    project = load(file)
    details = dict(_chapter(text) for text in chapter or ())
    options = CalculationOptions(detail.value, details, combinations=combinations.value)
    formats = [one.value for one in format or [TextFormat.pdf]]
    keys = _keys(project, mark, level)
    _write(
        project,
        keys,
        _named("Calculation"),
        formats,
        out,
        options,
        pictures=pictures,
    )


def drawings(
    file: File,
    out: Out,
    mark: Marks = None,
    lifts: Annotated[bool, typer.Option(help="With a drawing of each lift.")] = False,
    format: Annotated[
        list[DrawingFormat] | None, typer.Option(help="What to write; PDF and DXF without.")
    ] = None,
) -> None:
    """Write the column schedule, a drawing of each stack, and the elevation of each wall."""
    project = load(file)
    formats = [one.value for one in format or [DrawingFormat.pdf, DrawingFormat.dxf]]
    keys = _keys(project, mark, None)
    drawn = keys if lifts else ()
    _write(project, keys, lambda one: "dxf" in one.formats, formats, out, lifts=drawn)


def bars(
    file: File,
    out: Out,
    mark: Marks = None,
    format: Annotated[
        list[ListFormat] | None, typer.Option(help="What to write; PDF, XLSX and CSV without.")
    ] = None,
) -> None:
    """Write the bar list, the reinforcement of walls by level, and the quantities."""
    project = load(file)
    every = [ListFormat.pdf, ListFormat.xlsx, ListFormat.csv]
    formats = [one.value for one in format or every]
    chosen = _named("Bar list", "Wall reinforcement", "Quantities")
    _write(project, _keys(project, mark, None), chosen, formats, out)


def ifc(file: File, out: Out) -> None:
    """Write the building as a model, IFC4: columns, bars, and what was found of them."""
    from fexro.core.errors import FexroError
    from fexro.documents.issue import safe_name
    from fexro.exchange.building_model import write_model

    project = load(file)
    results = check_with_progress(project, 1)
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FexroError(f"{out}: {error.strerror or error}; nothing was written.") from error
    path = out / safe_name(f"{project.name}.ifc")
    with progress("Writing", len(results)) as advance:
        write_model(project, results, path, lambda done, total: advance(1 if done else 0))
    typer.echo(str(path))


def take_ifc(
    file: File,
    model: Annotated[Path, typer.Argument(help="A model that Fexro has written.")],
    out: Annotated[Path, typer.Option(help="Project file to write.")],
    force: Annotated[bool, typer.Option(help="Replace a file that is there.")] = False,
) -> None:
    """Read bars, ties and concretes of a model back into a project."""
    from fexro.exchange.building_model import read_members, take_members_of
    from fexro.project.file import write_project

    project = load(file)
    refuse_present(out, force=force)
    members = read_members(model)
    taken = take_members_of(project, members)
    write_project(taken, out)
    changed = sum(taken.by_key[one.key] != project.by_key[one.key] for one in members)
    typer.echo(f"{len(members)} members read, {changed} changed.")


COMMANDS = (report, drawings, bars, ifc, take_ifc)
