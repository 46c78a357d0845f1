"""What commands share: opening a project, progress for who looks on, checking."""

from __future__ import annotations

import gc
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

if TYPE_CHECKING:
    from fexro.core.members.lift import LiftResult
    from fexro.project.column import LiftKey
    from fexro.project.project import Project

__all__ = [
    "DEMO",
    "File",
    "check_with_progress",
    "complete_file",
    "load",
    "progress",
    "refuse_present",
]

DEMO = "demo"
WORTH_A_BAR = 100  # lifts


def complete_file(incomplete: str) -> list[str]:
    """Return the names of projects that begin so."""
    names = [
        str(path) for suffix in (".fexro", ".fexro.json") for path in Path().glob(f"*{suffix}")
    ]
    return [name for name in [DEMO, *sorted(names)] if name.startswith(incomplete)]


File = Annotated[str, typer.Argument(help="A project file, or demo.", autocompletion=complete_file)]


def load(file: str) -> Project:
    """Return the project of a file, or the demo.

    Raises:
        FexroError: if it cannot be read.
    """
    if file == DEMO:
        from fexro.demo.tarnholm import tarnholm_archive
        from fexro.project.resolve import verify

        project = tarnholm_archive()
        verify(project)
        return project
    from fexro.project.file import read_project

    return read_project(Path(file))


def refuse_present(path: Path | None, *, force: bool) -> None:
    """Refuse to replace a file, unless that is asked for."""
    from fexro.core.errors import InputError

    if path is not None and path.exists() and not force:
        raise InputError("OUT", f"{path}, which is there", "a new file, or --force")


@contextmanager
def progress(label: str, total: int) -> Iterator[Callable[[int], None]]:
    """Show a progress bar on standard error where somebody looks on; yield what advances it."""
    if total < WORTH_A_BAR or not sys.stderr.isatty():
        yield lambda _: None
        return
    with typer.progressbar(length=total, label=label, file=sys.stderr) as bar:
        yield bar.update


def check_with_progress(project: Project, workers: int) -> dict[LiftKey, LiftResult]:
    """Check a project, with a progress bar where somebody looks on."""
    from fexro.project.checking import check_project

    gc.freeze()
    gc.enable()
    with progress("Checking lifts", len(project.by_key)) as advance:
        return check_project(project, workers, lambda _: advance(1))
