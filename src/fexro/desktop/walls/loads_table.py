"""Qt view for the floor and roof loads on a bearing wall."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QModelIndex, Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.desktop.cells import CHOICES, EditingModel, EditingView, aligned
from fexro.desktop.document import Document
from fexro.desktop.text import Label
from fexro.project.bearing_walls import BearingWall, FloorLoad
from fexro.project.edits.bearing import with_bearing_wall

__all__ = ["LoadsModel", "LoadsTable"]

HEADS = ("Floor", "Case", "kN/m, kN", "e mm", "Every mm", "Bearing mm")
FIELDS = ("storey", "case", "value", "eccentricity", "spacing", "bearing")


class LoadsModel(EditingModel):
    """Rows are loads from floors."""

    def __init__(self, document: Document) -> None:
        self.wall: BearingWall | None = None
        super().__init__(document)

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of loads."""
        if self.wall is None or (parent and parent.isValid()):
            return 0
        return len(self.wall.floors)

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
        project = self.document.project
        if not index.isValid() or self.wall is None or project is None:
            return None
        field = FIELDS[index.column()]
        if role == CHOICES:
            offered = {"storey": list(self.wall.storeys), "case": list(project.case_by_name)}
            return offered.get(field)
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(index.column() > 1)
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        value = getattr(self.wall.floors[index.row()], field)
        return value if isinstance(value, str) else f"{value:g}"

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let every cell be changed."""
        return super().flags(index) | Qt.ItemFlag.ItemIsEditable

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed."""
        if self.wall is None or str(value) == self.data(index):
            return False
        field, text = FIELDS[index.column()], str(value).strip()
        given: object = text
        if field not in ("storey", "case"):
            try:
                given = float(text.replace(",", ".").replace("−", "-"))
            except ValueError:
                self.refused.emit(f"{HEADS[index.column()]}: found “{text}”; allowed: a number.")
                return False
        floors = list(self.wall.floors)
        try:
            changed = {**dict(floors[index.row()]), field: given}
            floors[index.row()] = FloorLoad.model_validate(changed)
        except ValueError:
            self.refused.emit(f"{HEADS[index.column()]}: found {text}; no wall has such a load.")
            return False
        return self.set_floors(tuple(floors))

    def set_floors(self, floors: tuple[FloorLoad, ...]) -> bool:
        """Give the wall other loads."""
        assert self.wall is not None
        changed = self.wall.model_copy(update={"floors": floors})
        edit = partial(with_bearing_wall, wall=changed)
        return self.edit(f"Loads on {self.wall.name}", edit)


class LoadsTable(QWidget):
    """The loads on a bearing wall, added, changed and removed."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.model = LoadsModel(document)
        self.view = EditingView(self.model, "Loads on the bearing wall")
        self.view.removed.connect(self.remove)
        self.error = Label()
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        self.model.refused.connect(self._refuse)
        caption = Label("Loads from floors and roof")
        caption.setProperty("role", "heading")
        add = QPushButton("Add a load")
        add.clicked.connect(self.add_one)
        row = QHBoxLayout()
        row.addWidget(caption)
        row.addStretch(1)
        row.addWidget(add)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(row)
        layout.addWidget(self.view, 1)
        layout.addWidget(self.error)

    def show_wall(self, wall: BearingWall) -> None:
        """Show the loads of a wall."""
        self.error.hide()
        self.model.wall = wall
        self.model.beginResetModel()
        self.model.endResetModel()
        self.view.fit(84)

    def add_one(self) -> None:
        """Add a load at the top of the wall."""
        project, wall = self._document.project, self.model.wall
        if project is None or wall is None:
            return
        if not project.cases:
            self._refuse("There is no load case; make one on the Forces stage.")
            return
        new = FloorLoad(storey=wall.storeys[0], case=project.cases[0].name, value=10.0)
        self.model.set_floors((*wall.floors, new))

    def remove(self, rows: list[int]) -> None:
        """Remove the loads of some rows."""
        wall = self.model.wall
        if wall is not None:
            kept = tuple(one for i, one in enumerate(wall.floors) if i not in rows)
            self.model.set_floors(kept)

    def _refuse(self, text: str) -> None:
        self.error.setText(text)
        self.error.show()
