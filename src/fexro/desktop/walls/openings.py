"""Qt view for the openings of a wall: equal ones of several storeys are one row."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QModelIndex, Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.desktop.cells import EditingModel, EditingView, aligned
from fexro.desktop.document import Document
from fexro.desktop.lengths import read_metres, write_metres
from fexro.desktop.text import Label
from fexro.desktop.walls.typed import parse_storeys, written_storeys
from fexro.project.edits.walls import add_opening, remove_opening, replace_openings
from fexro.project.walls import Opening, Wall

__all__ = ["OpeningsModel", "OpeningsTable"]

HEADS = ("Storeys", "Line", "From", "Width", "Sill", "Height")
FIELDS = ("storeys", "line", "at", "width", "sill", "height")
DOOR = (1.0, 2.1)  # m, of a new opening


class OpeningsModel(EditingModel):
    """Rows are openings that are alike in some storeys."""

    def __init__(self, document: Document) -> None:
        self.wall: Wall | None = None
        self.asked: tuple[Opening, ...] = ()
        self.rows: list[tuple[list[int], Opening]] = []
        super().__init__(document)

    def load(self) -> None:
        """Take the openings of the wall, equal ones together."""
        found: dict[tuple[Any, ...], tuple[list[int], Opening]] = {}
        for number, one in enumerate(() if self.wall is None else self.wall.openings):
            alike = one.line, one.at, one.width, one.sill, one.height
            found.setdefault(alike, ([], one))[0].append(number)
        self.rows = list(found.values())

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of rows."""
        return 0 if parent and parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else len(HEADS)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return the heading of a column."""
        if orientation == Qt.Orientation.Vertical or role != Qt.ItemDataRole.DisplayRole:
            return None
        return HEADS[section]

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what a cell holds."""
        if not index.isValid() or self.wall is None or self.document.project is None:
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(index.column() > 0)
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        numbers, one = self.rows[index.row()]
        field = FIELDS[index.column()]
        if field == "storeys":
            names = [self.wall.openings[number].storey for number in numbers]
            return written_storeys(names, self.wall.storeys)
        if field == "line":
            return str(one.line + 1)
        return write_metres(getattr(one, field), self.document.project.basis.system)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let every cell be changed."""
        return super().flags(index) | Qt.ItemFlag.ItemIsEditable

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed."""
        project, wall = self.document.project, self.wall
        if project is None or wall is None or str(value) == self.data(index):
            return False
        self.asked = ()
        numbers, one = self.rows[index.row()]
        field, text = FIELDS[index.column()], str(value).strip()
        storeys = [wall.openings[number].storey for number in numbers]
        try:
            if field == "storeys":
                storeys = parse_storeys(text, wall.storeys)
            elif field == "line":
                if not text.isdigit() or not 1 <= int(text) <= len(wall.lines):
                    raise InputError("line", f"“{text}”", f"1 to {len(wall.lines)}")
                one = one.model_copy(update={"line": int(text) - 1})
            else:
                metres = read_metres(text, project.basis.system, HEADS[index.column()])
                least = 0.0 if field in ("at", "sill") else 0.05
                if not least <= metres <= 1_000:
                    raise InputError(HEADS[index.column()], text, f"{least:g} to 1 000 m")
                one = one.model_copy(update={field: metres})
        except InputError as error:
            self.refused.emit(str(error))
            return False
        new = [one.model_copy(update={"storey": name}) for name in storeys]
        self.asked = tuple(new)
        edit = partial(replace_openings, name=wall.name, numbers=numbers, openings=new)
        return self.edit(f"Opening of {wall.name}", edit)


class OpeningsTable(QWidget):
    """The openings of a wall, added, changed and removed.

    Signals:
        refused: with the openings that were asked for.
    """

    refused = pyqtSignal(tuple)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.model = OpeningsModel(document)
        self.view = EditingView(self.model, "Openings of the wall")
        self.view.removed.connect(self.remove)
        self.view.setMinimumHeight(80)
        self.error = Label()
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        self.model.refused.connect(self._refuse)
        caption = Label("Openings")
        caption.setProperty("role", "heading")
        self.add = QPushButton("Add an opening")
        self.add.clicked.connect(self.add_one)
        row = QHBoxLayout()
        row.addWidget(caption)
        row.addStretch(1)
        row.addWidget(self.add)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(row)
        layout.addWidget(self.view, 1)
        layout.addWidget(self.error)

    def show_wall(self, wall: Wall | None) -> None:
        """Show the openings of a wall."""
        if self.model.wall is None or wall is None or wall.name != self.model.wall.name:
            self.error.hide()
        self.model.wall = wall
        self.model.refresh()
        self.add.setEnabled(wall is not None)
        self.view.fit(76)
        for column in range(1, len(HEADS)):
            self.view.setColumnWidth(column, min(self.view.columnWidth(column), 56))

    def add_one(self) -> None:
        """Add a door in the middle of the longest straight wall, in the lowest storey."""
        wall = self.model.wall
        if wall is None:
            return
        self.error.hide()
        line = max(range(len(wall.lines)), key=lambda n: wall.lines[n].length)
        width, height = DOOR
        at = round((wall.lines[line].length - width) / 2, 2)
        for storey in reversed(wall.storeys):
            free = all(
                other.storey != storey
                or other.line != line
                or other.end < at - 0.1
                or other.at > at + width + 0.1
                for other in wall.openings
            )
            if free:
                new = Opening(storey=storey, line=line, at=max(at, 0.0), width=width, height=height)
                self.model.asked = (new,)
                edit = partial(add_opening, name=wall.name, openings=[new])
                self.model.edit(f"Opening of {wall.name}", edit)
                return
        self._refuse("Every storey has an opening in the middle; change or move that.")

    def remove(self, rows: list[int]) -> None:
        """Remove the openings of some rows."""
        wall = self.model.wall
        if wall is None:
            return
        self.error.hide()
        numbers = [number for row in rows for number in self.model.rows[row][0]]
        edit = partial(remove_opening, name=wall.name, numbers=numbers)
        self.model.edit(f"Openings of {wall.name} removed", edit)

    def _refuse(self, text: str) -> None:
        self.error.setText(text)
        self.error.show()
        self.refused.emit(self.model.asked)
