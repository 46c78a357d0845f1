"""The command line: everything the window does, without one."""

from __future__ import annotations

import atexit
import gc
import os
import sys
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

# Before numpy is there: its threads take longer to start than these small matrices to solve.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# Fexro's records have no plugins; to look for some goes through all that is installed.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "1")

import typer
from typer.exceptions import TyperException

from fexro import __version__
from fexro.document_commands import COMMANDS
from fexro.terminal import (
    DEMO,
    File,
    check_with_progress,
    complete_file,
    load,
    progress,
    refuse_present,
)

if TYPE_CHECKING:
    from fexro.project.column import LiftKey
    from fexro.project.project import Project
    from fexro.project.sizing_run import Outcome

__all__ = ["app", "main"]

app = typer.Typer(
    help="Reinforced concrete columns under axial load with biaxial bending.",
    no_args_is_help=False,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
)

EXIT_EXCEEDED, EXIT_REFUSED, EXIT_UNFORESEEN, EXIT_CANCELLED, EXIT_NO_READER = 1, 2, 3, 130, 141
AUDIT_TOLERANCE = 0.01


for command in COMMANDS:
    app.command()(command)


class Format(StrEnum):
    """How results are written."""

    text = "text"
    json = "json"
    csv = "csv"


class DerivationFormat(StrEnum):
    """How derivations are written."""

    text = "text"
    typst = "typst"
    json = "json"


class SizingAim(StrEnum):
    """What is to be small."""

    mass = "mass"
    cost = "cost"
    carbon = "carbon"
    bars = "fewest bars"
    call_outs = "fewest call-outs"
    mix = "mix"


class StabilityFormat(StrEnum):
    """How stability is written."""

    text = "text"
    json = "json"


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"Fexro {__version__}")
        raise typer.Exit


@app.callback(invoke_without_command=True)
def window(
    context: typer.Context,
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="Show the version.")
    ] = False,
) -> None:
    """Open the window, unless a command is given."""
    if context.invoked_subcommand is None:
        _run_window(None)


@app.command("open")
def open_file(
    file: Annotated[
        str | None, typer.Argument(help="A project file.", autocompletion=complete_file)
    ] = None,
) -> None:
    """Open a project in the window; without one, the window alone."""
    _run_window(file)


@app.command()
def demo() -> None:
    """Open the demo project, Tarnholm Archive, in the window."""
    _run_window(DEMO)


@app.command()
def check(
    file: File,
    format: Annotated[Format, typer.Option(help="How to write the results.")] = Format.text,
    workers: Annotated[
        int, typer.Option(min=1, max=256, help="Processes for large buildings.")
    ] = os.cpu_count() or 1,
) -> None:
    """Check every lift of a project.

    Ends with 0 if all are satisfied or need attention, 1 if one is exceeded or cannot be checked,
    2 if the input is refused.
    """
    from fexro.core.findings import State
    from fexro.exchange.results import results_csv, results_json, results_text, worst_state

    project = load(file)
    results = check_with_progress(project, workers)
    match format:
        case Format.text:
            typer.echo(results_text(project, results), nl=False)
        case Format.json:
            typer.echo(results_json(project, results), nl=False)
        case Format.csv:
            typer.echo(results_csv(results), nl=False)
    if worst_state(results) >= State.NOT_CHECKED:
        raise typer.Exit(EXIT_EXCEEDED)


@app.command()
def stability(
    file: File,
    format: Annotated[
        StabilityFormat, typer.Option(help="How to write what is found.")
    ] = StabilityFormat.text,
) -> None:
    """Write the sway of storeys and the slenderness of lifts.

    Ends with 1 if a storey or a lift is unstable, or a lift cannot be checked for slenderness.
    """
    from fexro.exchange.stability import stability_json, stability_text

    project = load(file)
    results = check_with_progress(project, os.cpu_count() or 1)
    write = stability_text if format is StabilityFormat.text else stability_json
    typer.echo(write(project, results), nl=False)
    found = [result.second_order for result in results.values()]
    if any(one.missing or any(axis.unstable.any() for axis in one.axes) for one in found):
        raise typer.Exit(EXIT_EXCEEDED)


@app.command()
def size(
    file: File,
    mark: Annotated[list[str] | None, typer.Option(help="Mark to size; may be repeated.")] = None,
    objective: Annotated[
        SizingAim | None, typer.Option(help="What is to be small, in place of the project's.")
    ] = None,
    write: Annotated[
        Path | None, typer.Option(help="Project file to write with what was found.")
    ] = None,
    force: Annotated[bool, typer.Option(help="Replace a file that is there.")] = False,
    format: Annotated[
        StabilityFormat, typer.Option(help="How to write what is found.")
    ] = StabilityFormat.text,
    workers: Annotated[int, typer.Option(min=1, max=256, help="Processes.")] = os.cpu_count() or 1,
) -> None:
    """Find the bars and ties of lifts by the project's rules; those kept by hand stay.

    Ends with 1 if nothing fits a lift.
    """
    from fexro.core.errors import InputError
    from fexro.exchange.sizing import sizing_json, sizing_text
    from fexro.project.edits.basis import replace_basis
    from fexro.project.file import write_project
    from fexro.project.grouping import concluded
    from fexro.project.sizing import take
    from fexro.project.sizing_processes import outcomes
    from fexro.project.sizing_run import contradiction

    project = load(file)
    if objective is not None:
        rules = project.basis.sizing.model_copy(update={"objective": objective.value})
        project = replace_basis(project, project.basis.model_copy(update={"sizing": rules}))
    for name in mark or ():
        if name not in project.mark_by_name:
            known = ", ".join(project.mark_by_name)
            raise InputError("--mark", f"“{name}”", f"one of {known}")
    keys = [key for key in project.by_key if not mark or key.mark in mark]
    refused = contradiction(project, keys)
    if refused is not None:
        raise refused
    refuse_present(write, force=force)
    found: dict[LiftKey, Outcome] = {}
    with progress("Sizing lifts", len(keys)) as advance:
        for some in outcomes(project, keys, workers):
            found |= {one.key: one for one in some}
            advance(len(some))
    rows: list[Outcome] = []
    with progress("Sharing call-outs", 100) as advance:
        shown = 0
        for done, total, some in concluded(project, [found[key] for key in keys]):
            rows = some
            advance(100 * done // total - shown)
            shown = 100 * done // total
    text = sizing_text if format is StabilityFormat.text else sizing_json
    typer.echo(text(project, rows), nl=False)
    if write is not None:
        write_project(take(project, {one.key: one.after for one in rows if one.after}), write)
    if any(one.after is None and not project.record_by_key[one.key].kept for one in rows):
        raise typer.Exit(EXIT_EXCEEDED)


@app.command()
def audit(file: File) -> None:
    """Recompute every lift's governing utilisation by an independent path, square fibres.

    Ends with 1 if any differs by more than 1 percent, or cannot be compared for want of forces.
    """
    from fexro.core.members.audit import second_opinion
    from fexro.exchange.results import audit_text

    project = load(file)
    results = check_with_progress(project, 1)
    with progress("Auditing lifts", len(results)) as advance:
        opinions = {}
        for key, result in results.items():
            opinions[key] = second_opinion(result)
            advance(1)
    typer.echo(audit_text(project, opinions), nl=False)
    if not opinions or not all(
        abs(opinion.difference) <= AUDIT_TOLERANCE for opinion in opinions.values()
    ):
        raise typer.Exit(EXIT_EXCEEDED)


@app.command()
def surface(
    file: File,
    mark: Annotated[str, typer.Argument(help="Mark of the lift, such as C4.")],
    level: Annotated[str, typer.Argument(help="Its level, such as L1.")],
    angle: Annotated[
        str, typer.Option(help="Direction of the moment, degrees from Mx towards My.")
    ] = "0",
    axial: Annotated[
        str | None,
        typer.Option(help="Instead, the Mx–My curve at this axial force, such as 3200 or 2.4MN."),
    ] = None,
) -> None:
    """Write the points of a lift's interaction curve as CSV."""
    from fexro.core.errors import InputError
    from fexro.core.quantities import Dimension, parse_quantity
    from fexro.exchange.curves import contour_table, meridian_table
    from fexro.project.resolve import resolve_lift

    project = load(file)
    lift = resolve_lift(project, _lift_key(project, mark, level))
    system = project.basis.system
    if axial is None:
        direction = parse_quantity(angle, Dimension.ANGLE, system, "--angle")
        table = meridian_table(lift, direction, system)
    else:
        force = parse_quantity(axial, Dimension.FORCE, system, "--axial")
        table = contour_table(lift, force, system)
        if not table.rows:
            raise InputError("--axial", f"“{axial}”", "a force between pure tension and the cap")
    typer.echo(table.text(","), nl=False)


def _lift_key(project: Project, mark: str, level: str) -> LiftKey:
    from fexro.core.errors import InputError
    from fexro.project.column import LiftKey

    key = LiftKey(mark, level)
    if key not in project.by_key:
        marks = ", ".join(known.name for known in project.marks)
        levels = ", ".join(storey.name for storey in project.storeys)
        raise InputError("lift", f"“{key}”", f"a mark of {marks} at a level of {levels}")
    return key


@app.command()
def explain(
    file: File,
    mark: Annotated[
        str | None, typer.Argument(help="Mark of a lift, such as C4; without, all lifts.")
    ] = None,
    level: Annotated[str | None, typer.Argument(help="Its level, such as L1.")] = None,
    check: Annotated[
        str | None, typer.Option(help="Only the check of this name, such as “Bar ratio”.")
    ] = None,
    format: Annotated[
        DerivationFormat, typer.Option(help="How to write the derivations.")
    ] = DerivationFormat.text,
) -> None:
    """Write the derivations of the checks of a lift, or of all."""
    from fexro.core.errors import InputError
    from fexro.core.members.check import check_lift
    from fexro.exchange import derivations
    from fexro.project.resolve import resolve_lift

    project = load(file)
    if mark is None:
        results = check_with_progress(project, os.cpu_count() or 1)
    elif level is None:
        raise InputError("lift", f"“{mark}” without a level", "a mark and a level, or neither")
    else:
        key = _lift_key(project, mark, level)
        results = {key: check_lift(resolve_lift(project, key))}
    write = {
        DerivationFormat.text: derivations.derivations_text,
        DerivationFormat.typst: derivations.derivations_typst,
        DerivationFormat.json: derivations.derivations_json,
    }[format]
    typer.echo(write(project, results, check), nl=False)


@app.command()
def convert(
    source: Annotated[
        str, typer.Argument(metavar="IN", help="A project file of any version, or demo.")
    ],
    target: Annotated[
        Path, typer.Argument(metavar="OUT", help="The file to write: .fexro or .fexro.json.")
    ],
    force: Annotated[bool, typer.Option(help="Replace a file that is there.")] = False,
) -> None:
    """Write a project in the present version, as a container or as JSON by the name of the file."""
    from fexro.core.errors import InputError
    from fexro.project.file import JSON_SUFFIX, SUFFIX, write_project

    if not target.name.endswith((SUFFIX, JSON_SUFFIX)):
        raise InputError("OUT", f"“{target.name}”", f"a name ending in {SUFFIX} or {JSON_SUFFIX}")
    refuse_present(target, force=force)
    write_project(load(source), target)


members = typer.Typer(help="Members as a table: CSV or XLSX out, CSV, XLSX or ODS in.")
app.add_typer(members, name="members")


@members.command("export")
def export_members(
    file: File,
    target: Annotated[Path, typer.Argument(metavar="OUT", help="The table: .csv or .xlsx.")],
    force: Annotated[bool, typer.Option(help="Replace a file that is there.")] = False,
) -> None:
    """Write every lift of a project, a row each, with its utilisation."""
    from fexro.exchange.members import member_rows
    from fexro.exchange.spreadsheets import write_table

    refuse_present(target, force=force)
    project = load(file)
    results = check_with_progress(project, os.cpu_count() or 1)
    write_table(target, member_rows(project, results), "Members")


@members.command("import")
def import_members(
    file: File,
    table: Annotated[Path, typer.Argument(help="The table: .csv, .xlsx or .ods.")],
    target: Annotated[Path, typer.Argument(metavar="OUT", help="The project file to write.")],
    force: Annotated[bool, typer.Option(help="Replace a file that is there.")] = False,
) -> None:
    """Take lifts from a table into a project; where a row does not fit, nothing is taken.

    Ends with 2 if a row does not fit; all of those are listed.
    """
    from fexro.exchange.members import take_members
    from fexro.exchange.spreadsheets import read_table
    from fexro.project.file import write_project

    refuse_present(target, force=force)
    taken = take_members(load(file), read_table(table))
    for number, reason in taken.problems:
        typer.echo(f"{table.name}, row {number}: {reason}", err=True)
    if taken.project is None:
        raise typer.Exit(EXIT_REFUSED)
    write_project(taken.project, target)
    noun = "lift is" if taken.lifts == 1 else "lifts are"
    typer.echo(f"{taken.lifts} {noun} new or changed.")


sections = typer.Typer(help="Sections: told, as drawings, and those that a project keeps.")
app.add_typer(sections, name="section")
MarkName = Annotated[str, typer.Argument(help="Mark of the lift, such as C4.")]
LevelName = Annotated[str, typer.Argument(help="Its level, such as L1.")]
Force = Annotated[bool, typer.Option(help="Replace a file that is there.")]


@sections.command("show")
def show_section(file: File, mark: MarkName, level: LevelName) -> None:
    """Write what the section of a lift is: bars, ties, legs, properties."""
    from fexro.exchange.section_text import section_text

    project = load(file)
    section, basis = project.by_key[_lift_key(project, mark, level)].section, project.basis
    typer.echo(
        section_text(section, basis.bars.own, basis.design_code.held, basis.system), nl=False
    )


@sections.command("draw")
def draw_section(
    file: File,
    mark: MarkName,
    level: LevelName,
    target: Annotated[Path, typer.Argument(metavar="OUT", help="The drawing: .dxf.")],
    force: Force = False,
) -> None:
    """Write the section of a lift as DXF, in mm."""
    from fexro.core.section.ties import arrange
    from fexro.exchange.plain_files import write_whole
    from fexro.exchange.section_dxf import write_section
    from fexro.project.section import section_of

    refuse_present(target, force=force)
    project = load(file)
    model, basis = project.by_key[_lift_key(project, mark, level)].section, project.basis
    section = section_of(model, basis.bars.own)
    lines = arrange(section, basis.design_code.held).lines
    write_whole(target, write_section(model, section, lines))


@sections.command("read")
def read_section(
    file: File,
    mark: MarkName,
    level: LevelName,
    drawing: Annotated[Path, typer.Argument(help="The drawing: .dxf.")],
    target: Annotated[Path, typer.Argument(metavar="OUT", help="The project file to write.")],
    unit: Annotated[
        str | None, typer.Option(help="Of the drawing, where it does not say: mm, cm, m, in, ft.")
    ] = None,
    force: Force = False,
) -> None:
    """Give a lift the outline, openings and bars of a drawing."""
    from fexro.core.errors import InputError
    from fexro.core.section.bars import STANDARDS
    from fexro.exchange.section_dxf import UNITS, read_file, section_from
    from fexro.project.edits.lifts import replace_lift
    from fexro.project.file import write_project
    from fexro.project.shape_change import with_corner_bars

    refuse_present(target, force=force)
    project = load(file)
    key = _lift_key(project, mark, level)
    found = read_file(drawing)
    if unit is None and not found.sure:
        width, depth = found.size
        asked = f"a drawing of {width:g} × {depth:g} in a unit that is not told"
        raise InputError(drawing.name, asked, f"--unit {' or '.join(found.likely or UNITS)}")
    named = unit or found.unit
    if named not in UNITS:
        raise InputError("--unit", f"“{named}”", f"one of {', '.join(UNITS)}")
    lift, own = project.by_key[key], project.basis.bars.own
    sizes = [size for standard in STANDARDS.values() for size in standard.values()]
    sizes += [bar.size() for bar in own]
    section = section_from(found, named, lift.section, sizes, drawing.name)
    section = section if section.placed else with_corner_bars(section, own)
    changed = replace_lift(project, key, lift.model_copy(update={"section": section}))
    write_project(changed, target)


@sections.command("export")
def export_sections(
    file: File,
    target: Annotated[Path, typer.Argument(metavar="OUT", help="The file of sections: .json.")],
    force: Force = False,
) -> None:
    """Write the sections that a project keeps, for other projects."""
    from fexro.exchange.plain_files import write_whole
    from fexro.exchange.section_library import library_text

    refuse_present(target, force=force)
    write_whole(target, library_text(load(file).sections))


@sections.command("import")
def import_sections(
    file: File,
    source: Annotated[Path, typer.Argument(help="The file of sections: .json.")],
    target: Annotated[Path, typer.Argument(metavar="OUT", help="The project file to write.")],
    force: Force = False,
) -> None:
    """Add the sections of a file to those that a project keeps."""
    from fexro.exchange.plain_files import read_whole
    from fexro.exchange.section_library import read_library
    from fexro.project.edits.library import add_sections
    from fexro.project.file import write_project

    refuse_present(target, force=force)
    sections = read_library(read_whole(source, "a file of sections"), source.name)
    changed = add_sections(load(file), sections)
    write_project(changed, target)
    count = len(changed.sections)
    typer.echo(f"{count} {'section is' if count == 1 else 'sections are'} kept.")


desktop = typer.Typer(help="Fexro in the menus and for the files of this user's desktop.")
app.add_typer(desktop, name="desktop")


@desktop.command("install")
def install_desktop() -> None:
    """Put Fexro into the menu, and let it open its files; nothing is done as root."""
    from fexro.installation.user import install

    for path in install():
        typer.echo(str(path))


@desktop.command("remove")
def remove_desktop() -> None:
    """Take Fexro out of the menu again."""
    from fexro.installation.user import remove

    for path in remove():
        typer.echo(str(path))


@app.command("forces")
def take_forces(
    project_file: Annotated[str, typer.Argument(metavar="PROJECT")],
    file: Annotated[Path, typer.Argument(help="CSV, TSV, XLSX or ODS.")],
    mapping: Annotated[
        str | None,
        typer.Option(help="A mapping that the project keeps; else its last, or a first reading."),
    ] = None,
    out: Annotated[
        Path | None, typer.Option(help="Where the project with the forces is written.")
    ] = None,
    *,
    force: Annotated[bool, typer.Option(help="Replace a file that is there.")] = False,
) -> None:
    """Take the forces of a table, list what matched and what did not; 2 where nothing fits.

    Without --out nothing is written.
    """
    from fexro.core.errors import InputError
    from fexro.exchange.force_taking import take_file
    from fexro.exchange.taking_report import taking_text
    from fexro.project.file import write_project

    project = load(project_file)
    refuse_present(out, force=force)
    known = {m.name: m for m in project.mappings}
    if mapping is not None and mapping not in known:
        allowed = f"one that the project keeps: {', '.join(known) or 'none yet'}"
        raise InputError("--mapping", f"“{mapping}”", allowed)
    chosen = known[mapping] if mapping else (project.mappings[-1] if known else None)
    taken, matched, used, guessed = take_file(project, file, chosen)
    typer.echo(taking_text(matched, used, guessed, first_reading=chosen is None))
    if out is not None:
        write_project(taken, out)
        typer.echo(str(out))


@app.command()
def schema() -> None:
    """Print the JSON Schema of the project file."""
    import json

    from fexro.project.file import project_schema

    typer.echo(json.dumps(project_schema(), indent=1, ensure_ascii=False))


def _run_window(file: str | None) -> None:
    from fexro.desktop.application import run

    if file is None or file == DEMO:
        raise typer.Exit(run(None if file is None else load(file), None))
    from fexro.project.file import load_project

    path = Path(file)
    project, state = load_project(path)
    raise typer.Exit(run(project, path, state))


def main() -> None:
    """Run the command line and end with its exit code; what goes wrong is one sentence."""
    # Loading leaves no garbage to look for, and what is loaded stays to the end.
    gc.disable()
    atexit.register(gc.freeze)
    try:
        code = _run()
    finally:
        gc.enable()
    sys.exit(code)


def _run() -> int:
    from fexro.core.errors import FexroError

    try:
        code = app(standalone_mode=False)
        sys.stdout.flush()
        if code == EXIT_CANCELLED:
            raise KeyboardInterrupt
        return code if isinstance(code, int) else 0
    except FexroError as error:
        return _say(str(error), EXIT_REFUSED)
    except TyperException as error:
        return _say(error.format_message(), EXIT_REFUSED)
    except (KeyboardInterrupt, typer.Abort):
        return _say("cancelled; nothing was written.", EXIT_CANCELLED)
    except BrokenPipeError:
        # Whoever read has gone; what Python would still write at its end goes nowhere.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return EXIT_NO_READER
    except Exception as error:
        from fexro.failures import log_failure

        details = log_failure(error)
        sentence = f"something went wrong that Fexro did not foresee. {details}"
        return _say(sentence, EXIT_UNFORESEEN)


def _say(sentence: str, code: int) -> int:
    typer.echo(f"fexro: {sentence}", err=True)
    return code


if __name__ == "__main__":
    main()
