"""Qt view for a run over the building: what it finds, taken in part or as a whole."""

from __future__ import annotations

import math
import os
import time
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from threading import Event

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QHeaderView,
    QProgressBar,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import FexroError
from fexro.core.quantities import format_number
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.text import Label
from fexro.project.column import LiftKey
from fexro.project.grouping import concluded
from fexro.project.project import Project
from fexro.project.sizing import take
from fexro.project.sizing_processes import outcomes
from fexro.project.sizing_run import Outcome, contradiction

__all__ = ["RunPage"]

HEADS = (
    *("Take", "Lift", "Now", "Proposed", "kg", "then", "Utilisation", "then", "What was found"),
)
WORDS = (0, 1, 2, 3, 8)
TAKE, LIFT = 0, 1
EVERY = 0.15  # s between two looks at how far it is


@dataclass(frozen=True)
class _Seen:
    """How far a run is, and what it has found since.

    Attributes:
        rows: what was found; at last of all lifts.
        done, total: how much of what is under way is done.
        noun: what is counted.
        last: whether the run is over.
    """

    rows: list[Outcome]
    done: int
    total: int
    noun: str
    last: bool = False


class RunPage(QWidget):
    """A run with progress, pause and stop, and what it has found as a table.

    Signals:
        opened: a lift to be shown on its bench.
    """

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.project: Project | None = None
        self._paused = Event()
        self.rows: list[Outcome] = []
        self._work: Background[_Seen] = Background(self._take_some, self, self._failed)
        self.go = QPushButton("Size the building")
        self.pause, self.stop = QPushButton("Pause"), QPushButton("Stop")
        self.take_all, self.take_chosen = QPushButton("Take all"), QPushButton("Take the ticked")
        self.go.clicked.connect(self.start)
        self.pause.clicked.connect(self._toggle_pause)
        self.stop.clicked.connect(self._stop)
        self.take_all.clicked.connect(lambda: self._take(every=True))
        self.take_chosen.clicked.connect(lambda: self._take(every=False))
        self.progress = QProgressBar()
        self.progress.setMaximumWidth(220)
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.table = FiguresTable(HEADS, "What the run has found", words=WORDS)
        assert self.table.header is not None
        mode = QHeaderView.ResizeMode
        for column in range(len(HEADS)):
            wide = column in (2, 3, 8)
            self.table.header.setSectionResizeMode(
                column, mode.Stretch if wide else mode.ResizeToContents
            )
        self.table.itemDoubleClicked.connect(self._open)
        top = QHBoxLayout()
        for widget in (self.go, self.pause, self.stop, self.progress):
            top.addWidget(widget)
        top.addWidget(self.told, 1)
        for button in (self.take_all, self.take_chosen):
            top.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)
        self._idle("Finds bars and ties for every lift by the rules; lifts kept by hand stay.")

    def refresh(self) -> None:
        """Drop what was found of another project."""
        project = self._document.project
        if self.project is not None and project is not self.project and not self._work.running:
            self.take_all.setEnabled(False)
            self.take_chosen.setEnabled(False)
            self._tell("The project has changed since this run.")

    def _tell(self, text: str) -> None:
        self.told.setText(text)

    def _idle(self, text: str) -> None:
        self._tell(text)
        self.go.setEnabled(True)
        for widget in (self.pause, self.stop, self.progress):
            widget.setVisible(False)
        found = any(one.changed for one in self.rows)
        self.take_all.setEnabled(found)
        self.take_chosen.setEnabled(found)

    def start(self) -> None:
        """Run over all lifts."""
        project = self._document.project
        if project is None:
            return
        keys = list(project.by_key)
        refused = contradiction(project, keys)
        if refused is not None:
            self._tell(str(refused))
            return
        self.project, self.rows = project, []
        self.table.setRowCount(0)
        self._paused.clear()
        self.pause.setText("Pause")
        self.progress.setRange(0, max(len(keys), 1))
        self.progress.setValue(0)
        self.go.setEnabled(False)
        for widget in (self.pause, self.stop, self.progress):
            widget.setVisible(True)
        self.take_all.setEnabled(False)
        self.take_chosen.setEnabled(False)
        self._tell("Searching …")
        self._work.start(partial(_running, project, keys, self._paused))

    def _take_some(self, seen: _Seen) -> None:
        project = self.project
        assert project is not None
        order = {key: number for number, key in enumerate(project.by_key)}
        known = {one.key: one for one in self.rows} | {one.key: one for one in seen.rows}
        self.rows = sorted(known.values(), key=lambda one: order[one.key])
        self.progress.setRange(0, max(seen.total, 1))
        self.progress.setValue(seen.done)
        if seen.last:
            self._fill()
            self._idle(self._summary())
        elif not self._paused.is_set():
            self._tell(f"{seen.done} of {seen.total} {seen.noun}.")

    def _summary(self) -> str:
        before = sum(one.mass_before for one in self.rows)
        after = sum(one.mass_after for one in self.rows)
        none = sum(one.after is None for one in self.rows)
        text = f"{format_number(before, 0)} kg of steel now, {format_number(after, 0)} kg then."
        return text + (f" {none} stay as they are." if none else "")

    def _fill(self) -> None:
        self.table.setRowCount(0)
        for one in self.rows:
            proposed = "–" if one.after is None else f"{one.after.bars}, {one.after.ties}"
            row = self.table.add_row(
                (
                    "",
                    str(one.key),
                    f"{one.before.bars}, {one.before.ties}",
                    proposed if one.changed or one.after is None else "the same",
                    f"{one.mass_before:.0f}",
                    f"{one.mass_after:.0f}" if one.after is not None else "–",
                    _ratio(one.ratio_before),
                    _ratio(one.ratio_after),
                    one.reason,
                )
            )
            box = QTableWidgetItem()
            if one.changed:
                box.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsUserCheckable)
                box.setCheckState(Qt.CheckState.Checked)
            self.table.setItem(row, TAKE, box)

    def _toggle_pause(self) -> None:
        if self._paused.is_set():
            self._paused.clear()
            self.pause.setText("Pause")
        else:
            self._paused.set()
            self.pause.setText("Go on")
            self._tell(f"Paused; {len(self.rows)} lifts are done.")

    def _stop(self) -> None:
        self._work.cancel()
        self._fill()
        self._idle(f"Stopped. {self._summary()}")

    def _failed(self, error: Exception) -> None:
        if not isinstance(error, FexroError):
            raise error
        self._idle(str(error))

    def _take(self, *, every: bool) -> None:
        """Take what was found, of all lifts or of the ticked ones, as one edit."""
        chosen = {}
        for row, one in enumerate(self.rows):
            box = self.table.item(row, TAKE)
            ticked = box is not None and box.checkState() is Qt.CheckState.Checked
            if one.changed and one.after is not None and (every or ticked):
                chosen[one.key] = one.after
        if not chosen:
            return
        noun = "lift" if len(chosen) == 1 else "lifts"
        self._document.edit(f"Bars of {len(chosen)} {noun}", partial(take, chosen=chosen))
        self.project = self._document.project
        self.take_all.setEnabled(False)
        self.take_chosen.setEnabled(False)
        self._tell(f"{len(chosen)} {noun} changed; undo takes all of it back.")

    def _open(self, item: QTableWidgetItem) -> None:
        if item.column() != TAKE:
            self.opened.emit(self.rows[item.row()].key)


def _ratio(value: float) -> str:
    return "–" if math.isnan(value) else f"{value:.3f}"


def _running(
    project: Project, keys: list[LiftKey], paused: Event, stopped: Event
) -> Iterator[_Seen]:
    """Run over lifts, and yield what is found; at last all of it as it is when it is taken."""
    found: dict[LiftKey, Outcome] = {}
    total = len(keys)
    workers = max((os.cpu_count() or 1) - 1, 1) if len(keys) > 1 else 1
    run = outcomes(project, keys, max(workers, 2), paused.is_set)
    for some in run:
        if stopped.is_set():
            run.close()  # type: ignore[attr-defined]
            return
        found |= {one.key: one for one in some}
        yield _Seen(some, len(found), total, "lifts")
    # With the ratios there are when all of it is taken.
    shown = 0.0
    for done, all_, rows in concluded(project, [found[key] for key in keys]):
        if stopped.is_set():
            return
        if rows:
            yield _Seen(rows, total, total, "lifts", last=True)
        elif time.monotonic() - shown > EVERY:
            shown = time.monotonic()
            yield _Seen([], done, all_, "checks of shared call-outs")
