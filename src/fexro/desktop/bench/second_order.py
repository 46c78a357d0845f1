"""Qt view for what slenderness and sway make of the moments of each combination."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QAbstractTableModel, QItemSelectionModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QAbstractItemView, QTableView

from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.desktop.theme import current_theme

__all__ = ["SecondOrderTable"]

NARROW, NAME = 62, 88  # px
AXES = ("x", "y")
RATIO = 2  # column of the utilisation
DECIMALS = {Dimension.RATIO: 2, Dimension.LENGTH: 0, Dimension.MOMENT: 0}


@dataclass(frozen=True)
class _Cell:
    text: str
    value: float | str
    quiet: bool = False


class _Model(QAbstractTableModel):
    def __init__(self) -> None:
        super().__init__()
        self.rows: list[list[_Cell]] = []
        self.heads: list[tuple[str, str]] = []

    def refresh(self, result: LiftResult | None, system: UnitSystem) -> None:
        """Take what was made of the moments of a lift."""
        self.beginResetModel()
        self.rows, self.heads = ([], []) if result is None else _table(result, system)
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent and parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return len(self.heads)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> object:
        if orientation != Qt.Orientation.Horizontal or section >= len(self.heads):
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return self.heads[section][0]
        if role == Qt.ItemDataRole.ToolTipRole:
            return self.heads[section][1]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _alignment(section)
        return None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid():
            return None
        cell = self.rows[index.row()][index.column()]
        if role == Qt.ItemDataRole.DisplayRole:
            return cell.text
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _alignment(index.column())
        if role == Qt.ItemDataRole.ForegroundRole and cell.quiet:
            return QColor(current_theme().secondary)
        return None

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        """Sort by the values of a column; what has none stands last."""

        def key(row: list[_Cell]) -> tuple[bool, float | str]:
            value = row[column].value
            missing = isinstance(value, float) and math.isnan(value)
            return missing, "" if missing and isinstance(row[0].value, str) else value

        self.layoutAboutToBeChanged.emit()
        known = [row for row in self.rows if not key(row)[0]]
        lost = [row for row in self.rows if key(row)[0]]
        known.sort(key=key, reverse=order == Qt.SortOrder.DescendingOrder)
        self.rows = known + lost
        self.layoutChanged.emit()


def _alignment(column: int) -> Qt.AlignmentFlag:
    side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
    return side | Qt.AlignmentFlag.AlignVCenter


def _table(
    result: LiftResult, system: UnitSystem
) -> tuple[list[list[_Cell]], list[tuple[str, str]]]:
    """Return rows and headings, each with what it means."""
    force, moment = (unit_of(d, system) for d in (Dimension.FORCE, Dimension.MOMENT))
    columns = result.lift.code.stability.columns
    heads = [("Combination", ""), (f"N\n{force.symbol}", "largest along the lift")]
    heads.append(("With\nratio", "along the ray"))
    heads.append(("Without\nratio", "along the ray, without slenderness and sway"))
    for name in AXES:
        for column in columns:
            unit = unit_of(column.dimension, system).symbol
            head = f"{column.heading} {name}\n{unit}".rstrip()
            heads.append((head, f"{column.name}, bending about {name}"))
        heads.append((f"M 1st {name}\n{moment.symbol}", f"first-order moment about {name}"))
        heads.append((f"M {name}\n{moment.symbol}", f"moment to be resisted about {name}"))
    before = result.first_order_ratios
    rows = []
    for i, name in enumerate(result.combinations):
        axial = float(result.lift.actions.forces[i, :, 0].max()) / force.size
        worst = float(result.proportional.ratio[result.demand_index(i)])
        row = [_Cell(name, float(i)), _Cell(format_number(axial, 0), axial)]
        row.append(_Cell(format_number(worst, 3), worst))
        row.append(_Cell(format_number(float(before[i]), 3), float(before[i])))
        for axis in result.second_order.axes:
            for column in columns:
                value = axis.value(column.key, i) / unit_of(column.dimension, system).size
                row.append(_Cell(format_number(value, DECIMALS[column.dimension]), value, True))
            first = float(axis.first[i]) / moment.size
            final = float(axis.moment[i]) / moment.size
            row.append(_Cell(format_number(first, 0), first))
            row.append(_Cell(_final(final, str(np.asarray(axis.states)[i])), final))
        rows.append(row)
    return rows, heads


def _final(value: float, state: str) -> str:
    return state if math.isnan(value) else format_number(value, 0)


class SecondOrderTable(QTableView):
    """One row for each combination: slenderness, its growth, first-order and final moments.

    Signals:
        picked: a combination was selected.
    """

    picked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("combinations")
        self.setAccessibleName("Second-order moments")
        self._model = _Model()
        self.setModel(self._model)
        self.setSortingEnabled(True)
        self.setShowGrid(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        header, side = self.horizontalHeader(), self.verticalHeader()
        assert header is not None
        assert side is not None
        side.hide()
        side.setDefaultSectionSize(24)
        header.setHighlightSections(False)
        header.setDefaultSectionSize(NARROW)
        header.setMinimumSectionSize(40)
        self.sortByColumn(RATIO, Qt.SortOrder.DescendingOrder)
        self._quiet = False
        selection = self.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._pick)

    def show_result(
        self, result: LiftResult | None, system: UnitSystem, selected: str | None
    ) -> None:
        """Show a lift and mark the selected combination."""
        self._quiet = True
        self._model.refresh(result, system)
        header = self.horizontalHeader()
        assert header is not None
        if self._model.columnCount():
            header.resizeSection(0, NAME)
            self.sortByColumn(header.sortIndicatorSection(), header.sortIndicatorOrder())
        self._quiet = False
        self.select(selected)

    def select(self, name: str | None) -> None:
        """Mark a combination as selected."""
        row = next((i for i, row in enumerate(self._model.rows) if row[0].text == name), None)
        selection = self.selectionModel()
        if row is None or selection is None:
            return
        self._quiet = True
        flags = QItemSelectionModel.SelectionFlag
        selection.setCurrentIndex(self._model.index(row, 0), flags.ClearAndSelect | flags.Rows)
        self._quiet = False

    def _pick(self, index: QModelIndex) -> None:
        if not self._quiet and index.isValid():
            self.picked.emit(self._model.rows[index.row()][0].text)
