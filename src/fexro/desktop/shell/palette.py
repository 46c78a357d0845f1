"""The palette: type part of a name, jump to a member, a combination or a command."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

__all__ = ["Entry", "Palette"]

SHOWN = 12


@dataclass(frozen=True)
class Entry:
    """Something to jump to: its title, a hint, and what happens."""

    title: str
    hint: str
    run: Callable[[], None]


def matches(entry: Entry, typed: str) -> bool:
    """Tell whether every typed word is part of the entry."""
    text = f"{entry.title} {entry.hint}".lower().replace("·", " ")
    return all(word in text for word in typed.lower().replace("·", " ").split())


class Palette(QFrame):
    """A field and the entries that match; arrows move, Return goes there, Escape closes."""

    def __init__(self, parent: QWidget, entries: Callable[[], Sequence[Entry]]) -> None:
        super().__init__(parent)
        self.setObjectName("palette")
        self._entries = entries
        self._found: list[Entry] = []
        self.field = QLineEdit()
        self.field.setPlaceholderText("Go to a member, combination, command…")
        self.field.setAccessibleName("Go to")
        self.field.textChanged.connect(self._filter)
        self.field.installEventFilter(self)
        self.list = QListWidget()
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setAccessibleName("Matches")
        self.list.itemClicked.connect(lambda item: self._run(self.list.row(item)))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 8)
        layout.addWidget(self.field)
        layout.addWidget(self.list)
        self.hide()

    def open(self) -> None:
        """Show the palette in the middle of the top of the window."""
        parent = self.parentWidget()
        assert parent is not None
        width = min(460, parent.width() - 40)
        self.setGeometry((parent.width() - width) // 2, 8, width, 360)
        self.field.clear()
        self._filter("")
        self.show()
        self.raise_()
        self.field.setFocus()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Let the field's keys move in the list."""
        assert event is not None
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            row, last = self.list.currentRow(), self.list.count() - 1
            match event.key():
                case Qt.Key.Key_Down:
                    self.list.setCurrentRow(min(row + 1, last))
                case Qt.Key.Key_Up:
                    self.list.setCurrentRow(max(row - 1, 0))
                case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                    self._run(row)
                case Qt.Key.Key_Escape:
                    self.hide()
                case _:
                    return False
            return True
        if event.type() == QEvent.Type.FocusOut:
            self.hide()
        return super().eventFilter(watched, event)

    def _filter(self, typed: str) -> None:
        self._found = [entry for entry in self._entries() if matches(entry, typed)][:SHOWN]
        self.list.clear()
        for entry in self._found:
            self.list.addItem(QListWidgetItem(f"{entry.title}    {entry.hint}".rstrip()))
        if self._found:
            self.list.setCurrentRow(0)
        else:
            nothing = QListWidgetItem("Nothing bears that name.")
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addItem(nothing)

    def _run(self, row: int) -> None:
        if 0 <= row < len(self._found):
            entry = self._found[row]
            self.hide()
            entry.run()
