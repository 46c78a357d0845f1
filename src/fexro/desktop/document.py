"""Qt view for the project and its history: what is open, its results, the selection."""

from __future__ import annotations

import os
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import closing
from functools import partial
from pathlib import Path
from threading import Event

from PyQt6.QtCore import QObject, pyqtSignal

from fexro.core.codes.registry import Offer, codes_on_offer
from fexro.core.errors import FexroError
from fexro.core.members.check import check_lifts
from fexro.core.members.lift import Lift, LiftResult
from fexro.desktop.background import Background
from fexro.desktop.fields import Typing
from fexro.desktop.journalling import JournalWriter
from fexro.desktop.waiting import wait_for
from fexro.project.bars import OwnBar
from fexro.project.basis import Basis
from fexro.project.checking import check_in_processes
from fexro.project.column import LiftKey, LiftModel, Member
from fexro.project.dependencies import affected
from fexro.project.edits.basis import replace_basis
from fexro.project.edits.combinations import exempt_member
from fexro.project.edits.lifts import replace_lift
from fexro.project.file import load_project, write_project
from fexro.project.history import History
from fexro.project.journal import LostProject, journal_folder, lost_projects
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift
from fexro.project.storage import FileState

__all__ = ["UNCHECKED", "Document", "Selection"]

AT_ONCE = 4  # lifts checked on the interface thread
# What is said of a lift without a result, while lifts are being checked and when not.
UNCHECKED = {True: "being checked", False: "not checked; checking was stopped"}
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

    def __init__(self, typing: Typing) -> None:
        super().__init__()
        self._typing = typing
        self.lift: LiftKey | None = None
        self.combination: str | None = None
        self.place: str | None = None
        self.angle: float | None = None
        self.axial: float | None = None
        self.pinned = False

    def select_lift(self, key: LiftKey | None) -> None:
        """Select a lift; its governing combination is shown until one is chosen.

        What is typed for the present lift is committed first; where that is refused, it stays.
        """
        if key != self.lift and self._typing.settle():
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


# Results, each with the revision of the lift's facts that it belongs to.
Lot = dict[LiftKey, tuple[int, LiftResult]]


def _in_lots(project: Project, revisions: dict[LiftKey, int], stopped: Event) -> Iterator[Lot]:
    """Check lifts and yield their results in lots, so that the window is not busy with each.

    Args:
        project: the project.
        revisions: of the facts of the lifts to check.
        stopped: tells to stop.
    """
    keys = list(revisions)
    lifts = [resolve_lift(project, key) for key in keys]
    found: Lot = {}
    sent = time.perf_counter()
    with closing(check_in_processes(lifts, os.cpu_count() or 1)) as stream:
        for i, result in stream:
            found[keys[i]] = revisions[keys[i]], result
            if stopped.is_set():
                return
            if time.perf_counter() - sent > LOT:
                yield found
                found, sent = {}, time.perf_counter()
    yield found


class Document(QObject):
    """The open project. Widgets show it and send edits; it keeps the results up to date.

    A result belongs to a revision of its lift's facts: an edit makes another revision of the lifts
    it affects, and a lift without a result of its own revision is not checked.

    Args:
        journals: where edits are kept for recovery; without one in the user's own folder.

    Signals:
        opened: another project is shown.
        edited: the project changed by an edit, undo or redo; carries the lifts touched.
        checked: results arrived for the lifts carried, or checking ended; then it carries none.
        saved_changed: the saved state, path or history changed.
        told: a sentence about something that could not be done.
    """

    opened = pyqtSignal()
    edited = pyqtSignal(frozenset)
    checked = pyqtSignal(frozenset)
    saved_changed = pyqtSignal()
    told = pyqtSignal(str)

    def __init__(self, journals: Path | None = None) -> None:
        super().__init__()
        self.typing = Typing()
        self.selection = Selection(self.typing)
        self.results: dict[LiftKey, LiftResult] = {}
        self.path: Path | None = None
        self.check_time, self.checked_together = 0.0, 0
        self._file_state: FileState | None = None
        self._history: History | None = None
        self._pending: set[LiftKey] = set()
        self._revisions: Counter[LiftKey] = Counter()
        self._work: Background[Lot] = Background(self._take_results, self, self._check_failed)
        self._started = 0.0
        self._journals = journals if journals is not None else journal_folder()
        self._journal = JournalWriter(self._journals, self)
        self._journal.failed.connect(self.told)

    @property
    def project(self) -> Project | None:
        """The open project, if any."""
        return None if self._history is None else self._history.project

    @property
    def own_bars(self) -> tuple[OwnBar, ...]:
        """The bar sizes of the project that no standard has."""
        return () if self.project is None else self.project.basis.bars.own

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

    def show_project(
        self, project: Project, path: Path | None, state: FileState | None = None
    ) -> None:
        """Show another project and check it in the background, mark by mark.

        Args:
            project: the project.
            path: its file, if it has one.
            state: the state of that file when it was read.
        """
        self._begin(History(project), path, state)

    def _begin(self, history: History, path: Path | None, state: FileState | None) -> None:
        self.typing.take_back()
        self._journal.drop()
        self._work.cancel()
        self._history, self.path, self._file_state = history, path, state
        self.results = {}
        self._pending.clear()
        self.selection.select_lift(None)
        self.opened.emit()
        self.saved_changed.emit()
        self._check_in_background(frozenset(history.project.by_key))
        self.tell_state()

    def open_file(self, path: Path) -> None:
        """Read a project file, while the window goes on, and show it.

        Raises:
            FexroError: if it is refused; the open project stays.
        """
        project, state = wait_for(partial(load_project, path))
        self.show_project(project, path, state)

    def lost_projects(self) -> list[LostProject]:
        """Return projects whose edits were not saved when a process ended, the last first."""
        return lost_projects(self._journals)

    def recover(self, lost: LostProject) -> None:
        """Show a project with its edits that were not saved; they still are not.

        Raises:
            FexroError: if they cannot be read; the open project stays.
        """
        project = wait_for(lost.recover)
        history = History(project)
        history.mark_unsaved()
        self._begin(history, lost.path, lost.state)
        self._journal.takes_over(project, lost)

    def save(self, path: Path, *, overwrite: bool = False) -> None:
        """Write the project, while the window goes on.

        Args:
            path: the file.
            overwrite: whether what another program made of the file meanwhile may be lost; it is
                kept beside as the former version.

        Raises:
            ChangedOutsideError: if another program changed the file, unless that may be lost.
            FexroError: if it cannot be written.
        """
        assert self._history is not None
        history, project = self._history, self._history.project
        known = None if overwrite or path != self.path else self._file_state
        state = wait_for(partial(write_project, project, path, known))
        if self._history is not history:
            return
        self.path, self._file_state = path, state
        history.mark_saved(project)
        self._journal.saved(project, history.project, path, state)
        self.saved_changed.emit()

    def changed_outside(self) -> bool:
        """Tell whether another program changed the project's file since it was read or written."""
        if self.path is None or self._file_state is None:
            return False
        return not self._file_state.holds(self.path)

    def another(self) -> Document:
        """Return a document for a further window, which keeps its edits beside these."""
        return Document(self._journals)

    def leave(self) -> None:
        """Show no project; what is not saved is forgotten: the user was asked."""
        self.typing.take_back()
        self._journal.drop()
        self._work.cancel()
        self._history = self.path = self._file_state = None
        self.results = {}
        self._pending.clear()
        self.selection.select_lift(None)
        self.opened.emit()
        self.saved_changed.emit()
        self.tell_state()

    def close(self) -> None:
        """Stop checking, and forget what is not saved: the user was asked."""
        self._work.cancel()
        self._journal.drop()
        self._journal.close()

    def replace_lift(self, key: LiftKey, lift: LiftModel, label: str) -> None:
        """Put a changed lift in its place and recheck it.

        Raises:
            InputError: if it is refused; the document stays as it was.
        """
        self.edit(f"{label} of {key}", partial(replace_lift, key=key, lift=lift))

    def change_basis(self, basis: Basis, label: str) -> None:
        """Put the project on another basis and recheck every lift."""
        if self.typing.settle():
            self.edit(label, partial(replace_basis, basis=basis))

    def exempt(self, combination: str, member: Member, *, exempt: bool) -> None:
        """Mark a combination as not applying to a member, or as applying again."""
        verb = "not for" if exempt else "again for"
        edit = partial(exempt_member, combination=combination, member=member, exempt=exempt)
        self.edit(f"{combination} {verb} {member}", edit)

    def edit(self, label: str, edit: Callable[[Project], Project]) -> None:
        """Make an edit, a function from a project to another, and recheck what it affects."""
        assert self._history is not None
        before = self._history.project
        self._history.apply(label, edit(before))
        self._changed(before, label)

    def undo(self) -> None:
        """Take the last edit back; what is typed is committed first, or taken back if refused."""
        if not self.typing.settle():
            self.typing.take_back()
        elif self._history is not None and self._history.undo_label is not None:
            before, label = self._history.project, f"undo: {self._history.undo_label}"
            self._history.undo()
            self._changed(before, label)

    def redo(self) -> None:
        """Bring an undone edit back."""
        if not self.typing.settle():
            self.typing.take_back()
        elif self._history is not None and self._history.redo_label is not None:
            before, label = self._history.project, f"redo: {self._history.redo_label}"
            self._history.redo()
            self._changed(before, label)

    def _changed(self, before: Project, label: str) -> None:
        """Keep a change for recovery, and recheck the lifts that are others by it."""
        assert self._history is not None
        after = self._history.project
        self._journal.edited(before, after, label, self.path, self._file_state)
        self._recheck(affected(before, after))

    def lift_of(self, key: LiftKey) -> Lift:
        """Return a lift of the project, ready to be checked."""
        assert self.project is not None
        return resolve_lift(self.project, key)

    def lift_under(self, key: LiftKey, code: str, annex: str) -> Lift:
        """Return a lift as it would be under another design code."""
        assert self.project is not None
        basis = self.project.basis.model_copy(update={"code": code, "annex": annex})
        return resolve_lift(self.project, key, basis=basis)

    def other_codes(self) -> list[tuple[Offer, str]]:
        """Return the design codes and annexes that the project is not on."""
        assert self.project is not None
        basis = self.project.basis
        return [
            (offer, annex)
            for offer in codes_on_offer()
            for annex in offer.annexes
            if (offer.key, annex) != (basis.code, basis.annex)
        ]

    def _recheck(self, touched: frozenset[LiftKey]) -> None:
        """Check the lifts an edit touches: a few at once, which takes about a frame."""
        project = self.project
        assert project is not None
        self._revisions.update(touched)
        for key in (*touched, *(self.results.keys() - project.by_key.keys())):
            self.results.pop(key, None)
        self._pending = (self._pending | touched) & project.by_key.keys()
        # Of many one, so that something is seen while the others are made ready.
        at_once = touched if len(touched) <= AT_ONCE else self._most_looked_at(touched)
        started = time.perf_counter()
        results = check_lifts([resolve_lift(project, key) for key in at_once])
        self.results.update(zip(at_once, results, strict=True))
        self._pending -= at_once
        if at_once != touched:
            self._check_in_background(touched - at_once)
            self._started = started
            self.checked_together += len(at_once)
        else:
            self.checked_together = len(touched)
            self.check_time = time.perf_counter() - started
        self.edited.emit(touched)
        self.checked.emit(at_once)
        self.saved_changed.emit()

    def _most_looked_at(self, keys: frozenset[LiftKey]) -> frozenset[LiftKey]:
        """Return the selected lift, or else the first of the schedule."""
        assert self.project is not None
        selected = self.selection.lift
        if selected in keys:
            return frozenset({selected})
        return frozenset({next(key for key in self.project.by_key if key in keys)})

    def _check_in_background(self, touched: frozenset[LiftKey]) -> None:
        """Check many lifts, and all others still to be checked, off the interface thread."""
        project = self.project
        assert project is not None
        self._started = time.perf_counter()
        self._pending |= touched
        keys = [key for key in project.by_key if key in self._pending]
        self.checked_together = len(keys)
        revisions = {key: self._revisions[key] for key in keys}
        self._work.start(partial(_in_lots, project, revisions))

    def check_rest(self) -> None:
        """Check the lifts that have no result, after checking was stopped."""
        if self.project is not None and self._pending and not self.busy:
            self._check_in_background(frozenset())
            self.tell_state()

    def cancel(self) -> None:
        """Stop checking in the background; lifts without a result stay not checked."""
        self._work.cancel()
        self.tell_state()

    @property
    def busy(self) -> bool:
        """Whether lifts are being checked in the background."""
        return self._work.running and bool(self._pending)

    def _take_results(self, results: Lot) -> None:
        # What was found of facts that are others by now is nothing.
        arrived = {
            key: result
            for key, (revision, result) in results.items()
            if key in self._pending and revision == self._revisions[key]
        }
        self.results.update(arrived)
        self._pending -= arrived.keys()
        self.check_time = time.perf_counter() - self._started
        self.checked.emit(frozenset(arrived))

    def tell_state(self) -> None:
        """Let those who look on see how far checking is."""
        self.checked.emit(frozenset())

    def _check_failed(self, error: Exception) -> None:
        """Say why checking ended; what has no result stays not checked."""
        self.tell_state()
        if isinstance(error, FexroError):
            self.told.emit(str(error))
        else:
            raise error
