"""Qt view for what would settle a lift, or may be left out: each change with its effect."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from threading import Event

from PyQt6.QtGui import QKeySequence, QShortcut, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QPushButton, QVBoxLayout, QWidget

from fexro.core.findings import State
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import verdict_of
from fexro.core.quantities import format_change
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.text import Label
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.remedies import Remedy, apply_remedy, remedies_of, savings_of

__all__ = ["RemediesPage"]

HEADS = ("What is changed", "Verdict then", "Utilisation", "Cost", "kg CO₂e", "kg of steel")


class RemediesPage(QWidget):
    """Changes that settle a failing lift, or what a sound one could do without, best first."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._result: LiftResult | None = None
        self._sought: LiftResult | None = None
        self._work: Background[tuple[list[Remedy], bool]] = Background(self._take_found, self)
        self.remedies: list[Remedy] = []
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.take, self.stop = QPushButton("Take it"), QPushButton("Stop")
        self.take.setToolTip("Change the lift so; undo takes it back")
        self.take.clicked.connect(self.take_chosen)
        self.stop.clicked.connect(self._stop)
        self.table = FiguresTable(HEADS, "Remedies", words=(0, 1))
        self.table.itemDoubleClicked.connect(lambda _: self.take_chosen())
        for key in ("Return", "Enter"):
            shortcut = QShortcut(QKeySequence(key), self.table)
            shortcut.activated.connect(self.take_chosen)
        assert self.table.header is not None
        for column in range(len(HEADS)):
            mode = QHeaderView.ResizeMode
            fixed = mode.ResizeToContents if column > 1 else mode.Stretch
            self.table.header.setSectionResizeMode(column, fixed)
        top, layout = QHBoxLayout(), QVBoxLayout(self)
        for button in (self.take, self.stop):
            top.addWidget(button)
        top.addWidget(self.told, 1)
        layout.setContentsMargins(16, 2, 16, 4)
        layout.setSpacing(2)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)

    def show_result(self, result: LiftResult | None) -> None:
        """Take a lift; what was found of another is dropped."""
        if result is self._result:
            return
        self._work.cancel()
        self._result, self._sought = result, None
        self._show([])
        if self.isVisible():
            self._seek()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Seek remedies of the lift that is shown."""
        super().showEvent(event)
        self._seek()

    def _key(self) -> LiftKey | None:
        return self._document.selection.lift

    def _seek(self) -> None:
        project, key, result = self._document.project, self._key(), self._result
        if project is None or key is None or result is None or result is self._sought:
            return
        self._sought = result
        if result.state not in (State.EXCEEDED, State.SATISFIED, State.ATTENTION):
            self._tell("The lift is not checked; nothing can be tried.")
            return
        fails = result.state is State.EXCEEDED
        self._tell("Trying what would settle it …" if fails else "Trying what could be left out …")
        self.stop.setVisible(True)
        self._work.start(partial(_seeking, project, key, remedies_of if fails else savings_of))

    def _tell(self, text: str) -> None:
        self.told.setText(text)
        self.stop.setVisible(False)
        self.take.setEnabled(bool(self.remedies))

    def _take_found(self, seen: tuple[list[Remedy], bool]) -> None:
        found, done = seen
        assert self._result is not None
        self._show(found)
        count = len(found)
        if self._result.state is State.EXCEEDED:
            noun = "remedy settles" if count == 1 else "remedies settle"
            some, none = f"{count} {noun} it", "No single change or pair settles it"
        else:
            some = "No check is exceeded. Each of these could go by itself"
            none = "No check is exceeded, and nothing could be left out"
        self._tell(f"{some if count else none}{'' if done else ', so far'}.")
        self.stop.setVisible(not done)

    def _show(self, remedies: list[Remedy]) -> None:
        chosen = self.table.currentRow()
        self.remedies = remedies
        self.table.setRowCount(0)
        project = self._document.project
        for one in remedies:
            assert project is not None
            self.table.add_row(
                (
                    one.label,
                    verdict_of(one.result, project.basis.system),
                    f"{one.result.utilisation:.3f}",
                    format_change(one.more.cost),
                    format_change(one.more.carbon),
                    format_change(one.more.mass),
                )
            )
        if remedies:
            self.table.selectRow(min(max(chosen, 0), len(remedies) - 1))

    def _stop(self) -> None:
        self._work.cancel()
        self._tell(f"Stopped. {self.told.text()}")

    def take_chosen(self) -> None:
        """Take the remedy of the chosen row."""
        key, row = self._key(), self.table.currentRow()
        if key is None or not 0 <= row < len(self.remedies):
            return
        remedy = self.remedies[row]
        label = f"{remedy.label[0].upper()}{remedy.label[1:]} at {key}"
        self._document.edit(label, partial(apply_remedy, key=key, remedy=remedy))


def _seeking(
    project: Project,
    key: LiftKey,
    sought: Callable[[Project, LiftKey], Iterator[list[Remedy]]],
    stopped: Event,
) -> Iterator[tuple[list[Remedy], bool]]:
    """Seek, and yield what was found whenever there is more, and whether it is all."""
    count = -1
    found: list[Remedy] = []
    for found in sought(project, key):
        if stopped.is_set():
            return
        if len(found) != count:
            count = len(found)
            yield found, False
    yield found, True
