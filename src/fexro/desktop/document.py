"""Qt view for the project and its history: what is open, its results, the selection."""

from __future__ import annotations

import os
import time
from collections.abc import Iterator
from contextlib import closing
from functools import partial
from pathlib import Path
from threading import Event

from PyQt6.QtCore import QObject, pyqtSignal

from fexro.core.codes.registry import CODES, design_code
from fexro.core.members.lift import Lift, LiftResult, check_lifts, stream_checks
from fexro.desktop.background import Background
from fexro.project.file import read_project, write_project
from fexro.project.history import Edit, History, replace_basis, replace_lift
from fexro.project.model import Basis, LiftKey, LiftModel, Project
from fexro.project.resolve import resolve_lift

__all__ = ["Document", "Selection"]

AT_ONCE = 4  # lifts checked on the interface thread
LOT = 0.15  # seconds of results that are shown together


class Selection(QObject):
    """What all panels follow: a lift, a demand of it, a plane of bending and an axial force.

    Attributes:
        combination: chosen by name; without one the governing one is shown.
        place: where the chosen demand acts; without one the worst of the combination is shown.
        angle: direction of the moment whose plane is shown, radians; without one that of the
            demand.
        axial: axial force, N, whose moments are shown; without one that of the demand.
        pinned: whether plane and axial force stay when another demand is chosen.
    """

    lift_changed = pyqtSignal()
    combination_changed = pyqtSignal()
    plane_changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.lift: LiftKey | None = None
        self.combination: str | None = None
        self.place: str | None = None
        self.angle: float | None = None
        self.axial: float | None = None
        self.pinned = False

    def select_lift(self, key: LiftKey | None) -> None:
        """Select a lift; its governing combination is shown until one is chosen."""
        if key != self.lift:
            self.lift, self.combination, self.place = key, None, None
            self._let_go()
            self.lift_changed.emit()

    def select_combination(self, name: str | None, place: str | None = None) -> None:
        """Select a combination of the lift, or the governing one; and where it acts."""
        if (name, place) != (self.combination, self.place):
            self.combination, self.place = name, place
            self._let_go()
            self.combination_changed.emit()

    def turn(self, angle: float) -> None:
        """Show another plane of bending, radians from Mx towards My."""
        if angle != self.angle:
            self.angle = angle
            self.plane_changed.emit()

    def set_axial(self, axial: float) -> None:
        """Show the moments at another axial force, N."""
        if axial != self.axial:
            self.axial = axial
            self.plane_changed.emit()

    def pin(self, angle: float, axial: float) -> None:
        """Keep a plane and an axial force whatever demand is chosen."""
        self.angle, self.axial, self.pinned = angle, axial, True
        self.plane_changed.emit()

    def follow(self) -> None:
        """Let plane and axial force follow the demand again."""
        self.pinned = False
        self._let_go()
        self.plane_changed.emit()

    def _let_go(self) -> None:
        if not self.pinned:
            self.angle = self.axial = None


Lot = dict[LiftKey, LiftResult]


def _in_lots(lifts: dict[LiftKey, Lift], stopped: Event) -> Iterator[Lot]:
    """Check lifts and yield their results in lots, so that the window is not busy with each."""
    keys = list(lifts)
    found: Lot = {}
    sent = time.perf_counter()
    with closing(stream_checks(list(lifts.values()), os.cpu_count() or 1)) as stream:
        for i, result in stream:
            found[keys[i]] = result
            if stopped.is_set():
                return
            if time.perf_counter() - sent > LOT:
                yield found
                found, sent = {}, time.perf_counter()
    yield found


class Document(QObject):
    """The open project. Widgets show it and send edits; it keeps the results up to date.

    Signals:
        opened: another project is shown.
        edited: the project changed by an edit, undo or redo; carries the lifts touched.
        checked: results arrived for the lifts carried.
        saved_changed: the saved state, path or history changed.
    """

    opened = pyqtSignal()
    edited = pyqtSignal(frozenset)
    checked = pyqtSignal(frozenset)
    saved_changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.selection = Selection()
        self.results: dict[LiftKey, LiftResult] = {}
        self.path: Path | None = None
        self.check_time, self.checked_together = 0.0, 0
        self._history: History | None = None
        self._pending: set[LiftKey] = set()
        self._work: Background[Lot] = Background(self._take_results, self)
        self._started = 0.0

    @property
    def project(self) -> Project | None:
        """The open project, if any."""
        return None if self._history is None else self._history.project

    @property
    def modified(self) -> bool:
        """Whether there are unsaved changes."""
        return self._history is not None and self._history.modified

    @property
    def undo_label(self) -> str | None:
        """What undo would take back."""
        return None if self._history is None else self._history.undo_label

    @property
    def redo_label(self) -> str | None:
        """What redo would bring back."""
        return None if self._history is None else self._history.redo_label

    @property
    def complete(self) -> bool:
        """Whether every result is that of the project as it is."""
        return self.project is not None and not self._pending

    @property
    def done(self) -> int:
        """How many lifts have their result."""
        return 0 if self.project is None else len(self.project.by_key) - len(self._pending)

    def show_project(self, project: Project, path: Path | None) -> None:
        """Show another project and check it in the background, mark by mark."""
        self._history = History(project)
        self.path = path
        self.results = {}
        self._pending.clear()
        self.selection.select_lift(None)
        self.opened.emit()
        self.saved_changed.emit()
        self._check_in_background(frozenset(project.by_key))

    def open_file(self, path: Path) -> None:
        """Read a project file and show it.

        Raises:
            FexroError: if it is refused; the open project stays.
        """
        self.show_project(read_project(path), path)

    def save(self, path: Path) -> None:
        """Write the project.

        Raises:
            FexroError: if it cannot be written.
        """
        assert self._history is not None
        write_project(self._history.project, path)
        self.path = path
        self._history.mark_saved()
        self.saved_changed.emit()

    def replace_lift(self, key: LiftKey, lift: LiftModel, label: str) -> None:
        """Put a changed lift in its place and recheck it.

        Raises:
            InputError: if it is refused; the document stays as it was.
        """
        assert self._history is not None
        edit: Edit = replace_lift(self._history.project, key, lift, label)
        self._history.apply(edit)
        self._recheck(edit.touched)

    def undo(self) -> None:
        """Take the last edit back."""
        if self._history is not None and self._history.undo_label is not None:
            self._recheck(self._history.undo())

    def redo(self) -> None:
        """Bring an undone edit back."""
        if self._history is not None and self._history.redo_label is not None:
            self._recheck(self._history.redo())

    def change_basis(self, basis: Basis, label: str) -> None:
        """Put the project on another basis and recheck every lift."""
        assert self._history is not None
        edit = replace_basis(self._history.project, basis, label)
        self._history.apply(edit)
        self._recheck(edit.touched)

    def lift_of(self, key: LiftKey) -> Lift:
        """Return a lift of the project, ready to be checked."""
        assert self.project is not None
        return resolve_lift(self.project, key)

    def lift_under(self, key: LiftKey, code: str, annex: str) -> Lift:
        """Return a lift as it would be under another design code."""
        assert self.project is not None
        basis = self.project.basis.model_copy(update={"code": code, "annex": annex})
        return resolve_lift(self.project, key, basis=basis)

    def other_codes(self) -> list[tuple[str, str]]:
        """Return the design codes and annexes that the project is not on."""
        assert self.project is not None
        basis = self.project.basis
        present = design_code(basis.code, basis.system, basis.annex)
        return [
            (code, annex)
            for code, annex in CODES
            if design_code(code, basis.system, annex) != present
        ]

    def _recheck(self, touched: frozenset[LiftKey]) -> None:
        """Check the lifts an edit touches: a few at once, which takes about a frame."""
        project = self.project
        assert project is not None
        if len(touched) > AT_ONCE:
            self.edited.emit(touched)
            self.saved_changed.emit()
            self._check_in_background(touched)
            return
        started = time.perf_counter()
        keys = list(touched)
        results = check_lifts([resolve_lift(project, key) for key in keys])
        self.results.update(zip(keys, results, strict=True))
        self._pending -= touched
        self.checked_together = len(touched)
        self.check_time = time.perf_counter() - started
        self.edited.emit(touched)
        self.checked.emit(touched)
        self.saved_changed.emit()

    def _check_in_background(self, touched: frozenset[LiftKey]) -> None:
        """Check many lifts off the interface thread; old results stay until then."""
        project = self.project
        assert project is not None
        self._started = time.perf_counter()
        self._pending |= touched
        lifts = {key: resolve_lift(project, key) for key in project.by_key if key in self._pending}
        self.checked_together = len(lifts)
        self._work.start(partial(_in_lots, lifts))

    def cancel(self) -> None:
        """Stop checking in the background; lifts without a result stay not checked."""
        self._work.cancel()

    @property
    def busy(self) -> bool:
        """Whether lifts are being checked in the background."""
        return self._work.running and bool(self._pending)

    def _take_results(self, results: Lot) -> None:
        # A lift edited meanwhile already has the newer result.
        arrived = {key: result for key, result in results.items() if key in self._pending}
        self.results.update(arrived)
        self._pending -= arrived.keys()
        self.check_time = time.perf_counter() - self._started
        self.checked.emit(frozenset(arrived))
