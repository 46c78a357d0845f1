"""Qt view for where lifts differ from what they inherit, and for putting them back."""

from __future__ import annotations

from collections import defaultdict
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.desktop.document import Document
from fexro.desktop.layouts import clear_layout
from fexro.desktop.text import Label, menu_text
from fexro.project.column import LiftKey
from fexro.project.edits.lifts import inherit
from fexro.project.project import Project
from fexro.project.values import INHERITED

__all__ = ["DifferencesSection"]

CAPTIONS = {
    "concrete": "concrete",
    "steel": "steel",
    "cover": "cover",
    "aggregate": "aggregate",
    "x": "direction x",
    "y": "direction y",
    "laps": "laps",
    "tie_steel": "steel of ties",
    "lap_length": "length of laps",
    "age": "what stands already",
    "knowledge": "knowledge factor",
    "options": "choices of the code",
}
NAMED = 6  # lifts that are gone to from here


class DifferencesSection(QWidget):
    """For each value how many lifts differ by their own, which they are, and a way back."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._shown: object = None
        self.links: dict[tuple[str, LiftKey], QPushButton] = {}
        self.backs: dict[str, QPushButton] = {}
        self.error = Label()
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        self._rows = QVBoxLayout()
        self._rows.setSpacing(2)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(self._rows)
        column.addWidget(self.error)

    def show_project(self, project: Project) -> None:
        """Show which lifts of a project differ."""
        found = _differences(project)
        if found == self._shown:
            return
        self._shown = found
        self.error.hide()
        clear_layout(self._rows)
        self.links, self.backs = {}, {}
        for field, keys in found.items():
            self._rows.addWidget(self._row(field, keys))
        if not found:
            nothing = Label("No lift has a value of its own.")
            nothing.setProperty("role", "quiet")
            self._rows.addWidget(nothing)

    def _row(self, field: str, keys: list[LiftKey]) -> QWidget:
        row, both = QWidget(), QVBoxLayout()
        row.setLayout(both)
        both.setContentsMargins(0, 0, 0, 4)
        both.setSpacing(0)
        first, second = QHBoxLayout(), QHBoxLayout()
        noun = "lift differs" if len(keys) == 1 else "lifts differ"
        first.addWidget(Label(f"{len(keys)} {noun} in {CAPTIONS[field]}"), 1)
        back = QPushButton("Put all back")
        back.setProperty("role", "link")
        back.setToolTip("Let these lifts have what they would inherit")
        back.clicked.connect(partial(self._put_back, field, keys))
        first.addWidget(back)
        self.backs[field] = back
        second.setSpacing(2)
        for key in keys[:NAMED]:
            link = QPushButton(menu_text(str(key)))
            link.setProperty("role", "link")
            link.clicked.connect(lambda _=False, key=key: self.opened.emit(key))
            second.addWidget(link)
            self.links[field, key] = link
        if len(keys) > NAMED:
            more = Label(f"and {len(keys) - NAMED} more")
            more.setProperty("role", "quiet")
            second.addWidget(more)
        second.addStretch(1)
        both.addLayout(first)
        both.addLayout(second)
        return row

    def _put_back(self, field: str, keys: list[LiftKey], _: bool = False) -> None:
        label = f"Inherited {CAPTIONS[field]}"
        try:
            self._document.edit(label, partial(inherit, keys=keys, field=field))
        except InputError as error:
            self.error.setText(str(error))
            self.error.show()


def _differences(project: Project) -> dict[str, list[LiftKey]]:
    found: dict[str, list[LiftKey]] = defaultdict(list)
    for key, record in project.record_by_key.items():
        for field in record.own.given:
            found[field].append(key)
    return {field: found[field] for field in INHERITED if field in found}
