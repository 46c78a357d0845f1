"""Qt view for projects whose edits were not saved when Fexro last ended."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout

from fexro.desktop.text import Label
from fexro.project.journal import LostProject

__all__ = ["RecoveryBar"]


class RecoveryBar(QFrame):
    """One line for each lost project: recover it, or forget its edits.

    Signals:
        wanted: a project is to be recovered.
    """

    wanted = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(16, 6, 12, 6)
        self._shown: dict[Path, QFrame] = {}
        self.hide()

    def show_lost(self, lost: list[LostProject]) -> None:
        """Show what can be recovered; nothing hides the bar."""
        for row in self._shown.values():
            self._rows.removeWidget(row)
            row.deleteLater()
        self._shown.clear()
        for project in lost:
            self._rows.addWidget(self._row(project))
        self.setVisible(bool(lost))

    def _row(self, lost: LostProject) -> QFrame:
        row = QFrame()
        edits = "1 edit" if lost.edits == 1 else f"{lost.edits} edits"
        when = lost.changed.astimezone().strftime("%d %B %Y, %H:%M")
        file = "" if lost.path is None else f" in {lost.path.name}"
        text = f"Not saved when Fexro last ended: {lost.name}, {edits} up to {when}{file}."
        recover, forget = QPushButton("Recover"), QPushButton("Discard")
        forget.setProperty("role", "link")
        recover.clicked.connect(partial(self._recover, lost))
        forget.clicked.connect(partial(self._forget, lost))
        self._shown[lost.journal] = row
        layout = QHBoxLayout(row)
        layout.setContentsMargins(0, 0, 0, 0)
        label = Label(text)
        label.setWordWrap(True)
        layout.addWidget(label, 1)
        layout.addWidget(recover)
        layout.addWidget(forget)
        return row

    def drop(self, lost: LostProject) -> None:
        """Show a project no longer: it is recovered or forgotten."""
        row = self._shown.pop(lost.journal, None)
        if row is not None:
            self._rows.removeWidget(row)
            row.deleteLater()
        self.setVisible(bool(self._shown))

    def _recover(self, lost: LostProject, _: bool = False) -> None:
        self.wanted.emit(lost)

    def _forget(self, lost: LostProject, _: bool = False) -> None:
        lost.forget()
        self.drop(lost)
