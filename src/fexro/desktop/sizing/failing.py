"""Qt view for all lifts that fail: the fewest changes that settle them, taken together."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from threading import Event

from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QPushButton, QVBoxLayout, QWidget

from fexro.core.findings import State
from fexro.core.quantities import format_change
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.text import Label
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.remedies import (
    Remedy,
    SharedRemedy,
    apply_changes,
    fewest_changes,
    remedies_of,
)

__all__ = ["FailingPage"]

HEADS = ("What is changed", "Lifts", "Which", "Cost", "kg CO₂e", "kg of steel")
Seen = tuple[int, int, list[SharedRemedy], list[LiftKey]]


class FailingPage(QWidget):
    """The fewest changes that settle all lifts which exceed a check."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._project: Project | None = None
        self.changes: list[SharedRemedy] = []
        self._work: Background[Seen] = Background(self._take_seen, self)
        self.go, self.stop = QPushButton("Find the fewest changes"), QPushButton("Stop")
        self.take = QPushButton("Take all")
        self.go.clicked.connect(self.start)
        self.stop.clicked.connect(self._stop)
        self.take.clicked.connect(self.take_all)
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.table = FiguresTable(HEADS, "Changes that settle the failing lifts", words=(0, 2))
        assert self.table.header is not None
        mode = QHeaderView.ResizeMode
        for column in range(len(HEADS)):
            wide = column in (0, 2)
            self.table.header.setSectionResizeMode(
                column, mode.Stretch if wide else mode.ResizeToContents
            )
        top, layout = QHBoxLayout(), QVBoxLayout(self)
        for widget in (self.go, self.stop):
            top.addWidget(widget)
        top.addWidget(self.told, 1)
        top.addWidget(self.take)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)
        self._idle("")

    def _failing(self) -> list[LiftKey]:
        results = self._document.results
        return [key for key, result in results.items() if result.state is State.EXCEEDED]

    def refresh(self) -> None:
        """Tell how many lifts fail; what was found of another project is not taken."""
        if self._work.running:
            return
        if self._project is not self._document.project:
            self.take.setEnabled(False)
            count = len(self._failing())
            self.told.setText(
                f"{count} {'lift exceeds' if count == 1 else 'lifts exceed'} a check."
            )
            self.go.setEnabled(count > 0)

    def _idle(self, text: str) -> None:
        self.told.setText(text)
        self.stop.setVisible(False)
        self.take.setEnabled(bool(self.changes))

    def start(self) -> None:
        """Try remedies of all lifts that fail."""
        project, keys = self._document.project, self._failing()
        if project is None or not keys:
            return
        self._project, self.changes = project, []
        self.table.setRowCount(0)
        self.take.setEnabled(False)
        self.stop.setVisible(True)
        self.told.setText("Trying what would settle them …")
        self._work.start(partial(_trying, project, keys))

    def _take_seen(self, seen: Seen) -> None:
        done, total, self.changes, without = seen
        self.told.setText(f"{done} of {total} lifts.")
        self.table.setRowCount(0)
        for one in self.changes:
            more = one.more
            self.table.add_row(
                (
                    one.label,
                    str(len(one.remedies)),
                    ", ".join(map(str, one.remedies)),
                    *(format_change(value) for value in (more.cost, more.carbon, more.mass)),
                )
            )
        if done == total:
            count = len(self.changes)
            noun = "change settles" if count == 1 else "changes settle"
            told = f"{count} {noun} {total - len(without)} of {total} lifts."
            if without:
                told += f" Nothing settles {', '.join(map(str, without))}."
            self._idle(told)

    def _stop(self) -> None:
        self._work.cancel()
        self._idle("Stopped.")

    def take_all(self) -> None:
        """Take all changes as one edit."""
        if not self.changes:
            return
        count = sum(len(one.remedies) for one in self.changes)
        edit = partial(apply_changes, changes=self.changes)
        self._document.edit(f"Remedies of {count} lifts", edit)
        self._project = self._document.project
        self.take.setEnabled(False)
        self.told.setText(f"{count} lifts changed; undo takes all of it back.")


def _trying(project: Project, keys: list[LiftKey], stopped: Event) -> Iterator[Seen]:
    """Try remedies lift by lift, and yield the fewest changes so far."""
    found: dict[LiftKey, list[Remedy]] = {}
    for key in keys:
        for some in remedies_of(project, key):
            if stopped.is_set():
                return
            found[key] = some
        without = [one for one, some in found.items() if not any(r.settles for r in some)]
        yield len(found), len(keys), fewest_changes(found), without
