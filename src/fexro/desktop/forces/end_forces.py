"""Qt view for the forces at both ends of a lift, typed by hand."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QModelIndex, Qt

from fexro.core.actions import COMPONENTS, ENDS
from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, parse_quantity, unit_of
from fexro.desktop.cells import EditingModel, aligned
from fexro.desktop.document import Document
from fexro.desktop.forces.components import KNM, measure
from fexro.project.column import LiftKey
from fexro.project.edits.forces import (
    change_forces,
)

__all__ = ["EndForcesModel"]

ECCENTRIC = {"ex": "My", "ey": "Mx"}
HEADS = ("Case or combination", "End", *COMPONENTS, "ex", "ey")


def _system(document: Document) -> UnitSystem:
    assert document.project is not None
    return document.project.basis.system


def _dimension(component: str) -> tuple[Dimension, float]:
    """Return what a component measures, and one of its file's units in internal ones."""
    if component in ("ex", "ey"):
        return Dimension.LENGTH, 1.0
    return measure(component)


class EndForcesModel(EditingModel):
    """Rows are both ends of the lift under each case and each combination given factored."""

    def __init__(self, document: Document) -> None:
        self.key: LiftKey | None = None
        self._known: list[str] = []
        super().__init__(document)

    def load(self) -> None:
        """Take the names whose forces can be typed."""
        project = self.document.project
        self._known = []
        if project is not None and self.key in project.by_key:
            self._known = [case.name for case in project.cases]
            self._known += [c.name for c in project.combinations if not c.factors]

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Two rows for each name."""
        return 0 if parent and parent.isValid() else 2 * len(self._known)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else len(HEADS)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return a heading with its unit."""
        if orientation == Qt.Orientation.Vertical:
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(section > 1)
        name = HEADS[section]
        if role == Qt.ItemDataRole.ToolTipRole and name in ECCENTRIC:
            return f"Where N acts: typed, it makes {ECCENTRIC[name]} of N at this end"
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        if section < 2 or self.document.project is None:
            return name
        return f"{name}, {unit_of(_dimension(name)[0], _system(self.document)).symbol}"

    def _value(self, row: int, name: str) -> float | None:
        """Return a number of a row in internal units, if it is known."""
        project = self.document.project
        if project is None or self.key is None:
            return None
        column, end = self._known[row // 2], row % 2
        forces = project.case_forces if column in project.case_by_name else project.factored_forces
        known = forces.row(self.key, column)
        if known is None:
            return None
        if name in ECCENTRIC:
            axial = float(known[end, 0])
            moment = float(known[end, COMPONENTS.index(ECCENTRIC[name])])
            return 1e3 * moment / axial if axial else None
        return float(known[end, COMPONENTS.index(name)]) * _dimension(name)[1]

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return the text of a cell."""
        if not index.isValid() or index.row() >= self.rowCount():
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(index.column() > 1)
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        if index.column() == 0:
            return self._known[index.row() // 2] if index.row() % 2 == 0 else ""
        if index.column() == 1:
            return ENDS[index.row() % 2]
        name = HEADS[index.column()]
        value = self._value(index.row(), name)
        if value is None:
            return ""
        unit = unit_of(_dimension(name)[0], _system(self.document))
        digits = ".1f" if name in ECCENTRIC else ".6g"
        return f"{value / unit.size:{digits}}".replace("-", "−")

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let numbers be edited."""
        flags = super().flags(index)
        return flags | Qt.ItemFlag.ItemIsEditable if index.column() > 1 else flags

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take a number with or without a unit."""
        text = str(value).strip()
        if text == self.data(index) or self.key is None:
            return False
        name, row = HEADS[index.column()], index.row()
        column, end = self._known[row // 2], row % 2
        dimension, size = _dimension(name)
        try:
            number = parse_quantity(text.replace("−", "-"), dimension, _system(self.document), name)
            component, number = name, number / size
            if name in ECCENTRIC:
                axial = self._value(row, "N") or 0.0
                if not axial:
                    raise InputError(name, f"“{text}” without N", "an axial force first")
                component, number = ECCENTRIC[name], axial * number / KNM
        except InputError as error:
            self.refused.emit(str(error))
            return False
        label = f"{component} of {self.key} in {column}, {ENDS[end]}"
        edit = partial(
            change_forces, key=self.key, name=column, end=end, values={component: number}
        )
        return self.edit(label, edit)
