"""Qt view for how slender all lifts are: a row each and a column for each number."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QSortFilterProxyModel, Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QTableView, QVBoxLayout, QWidget

from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.core.second_order import AxisSecondOrder
from fexro.desktop.cells import aligned
from fexro.desktop.document import Document
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme
from fexro.project.column import LiftKey

__all__ = ["LiftsPage"]

PER_AXIS = ("", "k", "length", "slenderness", "limit", "M 1st", "M", "in")
HEADS = ("Mark", "Storey", "Without", "With")
SORT, SLENDER = Qt.ItemDataRole.UserRole + 1, Qt.ItemDataRole.UserRole + 2
AXES = ("x", "y")


class _Model(QAbstractTableModel):
    def __init__(self) -> None:
        super().__init__()
        self.rows: list[tuple[LiftKey, LiftResult]] = []
        self._system = UnitSystem.SI
        self._braced, self._sway = "braced", "sway"

    def show_results(self, document: Document) -> None:
        project = document.project
        self.beginResetModel()
        self.rows = []
        if project is not None:
            words = project.basis.design_code.vocabulary
            self._braced, self._sway = words.braced, words.sway
            self._system = project.basis.system
            known = document.results
            self.rows = [
                (key, known[key])
                for key in project.by_key
                if key in known and key in project.column_keys
            ]
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent and parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return len(HEADS) + 2 * len(PER_AXIS)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        if orientation == Qt.Orientation.Vertical:
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(section > 1)
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        if section < len(HEADS):
            return HEADS[section]
        axis, part = divmod(section - len(HEADS), len(PER_AXIS))
        if part == 0:
            return f"About {AXES[axis]}"
        moment = unit_of(Dimension.MOMENT, self._system).symbol
        length = unit_of(Dimension.LENGTH, self._system).symbol
        units = {"length": f", {length}", "M 1st": f", {moment}", "M": f", {moment}"}
        name = PER_AXIS[part]
        return f"{name} {AXES[axis]}{units.get(name, '')}"

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid():
            return None
        key, result = self.rows[index.row()]
        if role == SLENDER:
            return result.second_order.slender
        column = index.column()
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(column > 1)
        text, value = self._cell(key, result, column)
        if role == SORT:
            return value
        if role == Qt.ItemDataRole.ForegroundRole and column >= len(HEADS):
            axis = divmod(column - len(HEADS), len(PER_AXIS))[0]
            if not result.second_order.axes[axis].any_slender:
                return QColor(current_theme().secondary)
        return text if role == Qt.ItemDataRole.DisplayRole else None

    def _cell(self, key: LiftKey, result: LiftResult, column: int) -> tuple[str, float | str]:
        if column < 2:
            return key[column], float(self.rows.index((key, result)))
        if column < len(HEADS):
            ratio = (result.first_order, result.utilisation)[column - 2]
            return format_number(ratio, 3), -1.0 if math.isnan(ratio) else ratio
        number, part = divmod(column - len(HEADS), len(PER_AXIS))
        axis = result.second_order.axes[number]
        if part == 0:
            word = self._braced if axis.braced else self._sway
            return word, word
        if axis.missing or not result.combinations:
            return ("not known" if part == 1 else "–"), -1.0
        at = deciding(axis)
        size = unit_of(Dimension.MOMENT, self._system).size
        length = unit_of(Dimension.LENGTH, self._system)
        if PER_AXIS[part] == "in":
            return result.combinations[at], float(at)
        factor = axis.judged
        values = {
            "k": (factor, 2),
            "length": (factor * axis.length / length.size, length.decimals),
            "slenderness": (float(axis.slenderness[at]), 1),
            "limit": (float(axis.limit[at]), 1),
            "M 1st": (float(axis.first[at]) / size, 0),
            "M": (float(axis.moment[at]) / size, 0),
        }
        value, decimals = values[PER_AXIS[part]]
        shown = "∞" if math.isinf(value) else format_number(value, decimals)
        return shown, -1.0 if math.isnan(value) else value


def deciding(axis: AxisSecondOrder) -> int:
    """Return the combination in which the moment to be resisted is largest."""
    size = np.abs(np.nan_to_num(axis.moment, nan=np.inf))
    return int(size.argmax())


class _Filter(QSortFilterProxyModel):
    def __init__(self) -> None:
        super().__init__()
        self.setSortRole(SORT)
        self._only = False

    def only_slender(self, only: bool) -> None:
        self.beginResetModel()
        self._only = only
        self.endResetModel()

    def filterAcceptsRow(self, source_row: int, source_parent: QModelIndex) -> bool:
        model = self.sourceModel()
        if not self._only or model is None:
            return True
        return bool(model.data(model.index(source_row, 0), SLENDER))


class LiftsPage(QWidget):
    """All lifts with their slenderness; a double click opens one."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.model, self.filter, self.view = _Model(), _Filter(), QTableView()
        self.filter.setSourceModel(self.model)
        self.view.setModel(self.filter)
        self.view.setAccessibleName("Slenderness of all lifts")
        self.view.setSortingEnabled(True)
        self.view.setShowGrid(False)
        self.view.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.view.setEditTriggers(QTableView.EditTrigger.NoEditTriggers)
        rows = self.view.verticalHeader()
        assert rows is not None
        rows.hide()
        rows.setDefaultSectionSize(24)
        self.view.sortByColumn(0, Qt.SortOrder.AscendingOrder)
        self.view.activated.connect(self._open)
        self.view.doubleClicked.connect(self._open)
        self.only = QCheckBox("Slender lifts only")
        self.only.toggled.connect(self._fold)
        self.told = Label()
        self.told.setProperty("role", "quiet")
        top = QHBoxLayout()
        top.addWidget(self.only)
        top.addWidget(self.told, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.addLayout(top)
        layout.addWidget(self.view, 1)
        self._fitted = False

    def refresh(self) -> None:
        """Show the lifts as they are."""
        self.model.show_results(self._document)
        slender = sum(result.second_order.slender for _, result in self.model.rows)
        self.told.setText(
            f"{slender} of {len(self.model.rows)} lifts are slender in some combination. Moments"
            " are those of the combination in which the moment to be resisted is largest; Without"
            " and With are utilisations."
        )
        if self.model.rows and not self._fitted:
            self._fitted = True
            self.view.resizeColumnsToContents()

    def _fold(self, only: bool) -> None:
        self.filter.only_slender(only)

    def _open(self, index: QModelIndex) -> None:
        row = self.filter.mapToSource(index).row()
        self.opened.emit(self.model.rows[row][0])
