"""Qt view for the combinations of a lift: a sortable table that selects."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache, cached_property

from PyQt6.QtCore import (
    QAbstractTableModel,
    QItemSelectionModel,
    QModelIndex,
    QPointF,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
)

from fexro.core.codes import state_of_ratio
from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, format_number, unit_of
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.theme import current_theme, font
from fexro.project.model import Project

__all__ = ["CombinationsTable"]

_ASCENDING = Qt.SortOrder.AscendingOrder
NUMBER_WIDTH, WIDTHS = 76, {0: 88, 2: 62, 7: 96, 8: 70, 9: 78}
RATIO_COLUMN = 9
_NUMBERS = ("N", "Mx top", "Mx bottom", "My top", "My bottom")
_TAIL = ("Worst\nat", "Const. N\nratio", "Along ray\nratio")


@dataclass(frozen=True)
class _Row:
    name: str
    expression: str
    numbers: tuple[float, ...]
    end: str
    held: float
    along: float
    place: int

    def values(self) -> tuple[str | float, ...]:
        """Return what the columns show."""
        return (self.name, self.expression, *self.numbers, self.end, self.held, self.along)

    @cached_property
    def texts(self) -> tuple[str, ...]:
        """What the columns show, as text."""
        ratios = 2 + len(_NUMBERS)
        return tuple(
            value if isinstance(value, str) else format_number(value, 0 if i < ratios else 3)
            for i, value in enumerate(self.values())
        )

    def order(self, column: int) -> str | float:
        """Return what a column is sorted by: combinations as the project lists them."""
        value = self.values()[column]
        if column == 0:
            return self.place
        return -1.0 if isinstance(value, float) and math.isnan(value) else value


class _CombinationsModel(QAbstractTableModel):
    def __init__(self) -> None:
        super().__init__()
        self.rows: list[_Row] = []
        self._heads: list[str] = []
        self._order = (RATIO_COLUMN, Qt.SortOrder.DescendingOrder)

    def refresh(self, project: Project, result: LiftResult | None) -> None:
        """Take the combinations of a result."""
        self.beginResetModel()
        self.rows = []
        if result is not None:
            system = result.lift.column.units
            force, moment = (unit_of(d, system) for d in (Dimension.FORCE, Dimension.MOMENT))
            heads = [f"N\n{force.symbol}", *(f"{name}\n{moment.symbol}" for name in _NUMBERS[1:])]
            self._heads = ["Combination", "Factors", *heads, *_TAIL]
            expression = {c.name: c.expression for c in project.combinations}
            for i, name in enumerate(result.lift.combinations):
                top, bottom = result.lift.analysed[i]
                axial = top[0] if abs(top[0]) >= abs(bottom[0]) else bottom[0]
                numbers = (
                    axial / force.size,
                    *(end[k] / moment.size for k in (1, 2) for end in (top, bottom)),
                )
                worse = result.demand_index(i)
                self.rows.append(
                    _Row(
                        name,
                        expression.get(name, ""),
                        numbers,
                        result.place_of(worse),
                        float(result.constant_axial.ratio[worse]),
                        float(result.proportional.ratio[worse]),
                        i,
                    )
                )
        self._sort_rows()
        self.endResetModel()

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        self._order = (column, order)
        self.layoutAboutToBeChanged.emit()
        before = self.persistentIndexList()
        rows = [self.rows[index.row()] for index in before]
        self._sort_rows()
        for index, row in zip(before, rows, strict=True):
            moved = self.index(self.rows.index(row), index.column())
            self.changePersistentIndex(index, moved)
        self.layoutChanged.emit()

    def _sort_rows(self) -> None:
        column, order = self._order
        self.rows.sort(key=lambda row: row.order(column), reverse=order != _ASCENDING)

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent and parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return len(self._heads)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> object:
        if orientation != Qt.Orientation.Horizontal:
            return None
        if role == Qt.ItemDataRole.DisplayRole:
            return self._heads[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _alignment(section)
        return None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid():
            return None
        row, column = self.rows[index.row()], index.column()
        if role == Qt.ItemDataRole.DisplayRole:
            return row.texts[column]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _alignment(column)
        return None


def _alignment(column: int) -> Qt.AlignmentFlag:
    side = Qt.AlignmentFlag.AlignLeft if column < 2 else Qt.AlignmentFlag.AlignRight
    return side | Qt.AlignmentFlag.AlignVCenter


class _CellDelegate(QStyledItemDelegate):
    """Paints a cell plainly: the style sheet's own painting takes as long as the recheck."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        model = index.model()
        assert isinstance(model, _CombinationsModel)
        row, column = model.rows[index.row()], index.column()
        theme, area = current_theme(), option.rect
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(area, QColor(theme.track))
        area = area.adjusted(8, 0, -8, 0)
        if column == 0:
            middle = QPointF(area.left() + 4, area.center().y() + 0.5)
            paint_glyph(painter, state_of_ratio(row.along), middle, 10, theme)
            area = area.adjusted(16, 0, 0, 0)
        painter.setFont(_CELL_FONT())
        painter.setPen(QColor(theme.ink if column != 1 else theme.secondary))
        text = row.texts[column]
        if column == 1:
            elide = Qt.TextElideMode.ElideRight
            text = painter.fontMetrics().elidedText(text, elide, area.width())
        painter.drawText(area, _alignment(column), text)


_CELL_FONT = cache(font)


class CombinationsTable(QTableView):
    """One row for each combination; the selected one is what the bench shows."""

    picked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("combinations")
        self.setAccessibleName("Combinations")
        self._model = _CombinationsModel()
        self.setModel(self._model)
        self.setItemDelegate(_CellDelegate(self))
        self.setSortingEnabled(True)
        self.setShowGrid(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        header, side = self.horizontalHeader(), self.verticalHeader()
        assert header is not None
        assert side is not None
        side.hide()
        side.setDefaultSectionSize(24)
        header.setHighlightSections(False)
        header.setDefaultSectionSize(NUMBER_WIDTH)
        header.setMinimumSectionSize(48)
        self.sortByColumn(RATIO_COLUMN, Qt.SortOrder.DescendingOrder)
        self._quiet = False
        selection = self.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._pick)

    def show_result(
        self, project: Project, result: LiftResult | None, selected: str | None
    ) -> None:
        """Show the combinations of a result and mark the selected one."""
        self._quiet = True
        self._model.refresh(project, result)
        header = self.horizontalHeader()
        assert header is not None
        if self._model.columnCount():
            header.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
            for column, width in WIDTHS.items():
                header.resizeSection(column, width)
        self._quiet = False
        self.select(selected)

    def select(self, name: str | None) -> None:
        """Mark a combination as selected."""
        row = next((i for i, row in enumerate(self._model.rows) if row.name == name), None)
        selection = self.selectionModel()
        if row is None or selection is None:
            return
        self._quiet = True
        index = self._model.index(row, 0)
        flags = QItemSelectionModel.SelectionFlag
        selection.setCurrentIndex(index, flags.ClearAndSelect | flags.Rows)
        self.scrollTo(index)
        self._quiet = False

    def _pick(self, index: QModelIndex) -> None:
        if not self._quiet and index.isValid():
            self.picked.emit(self._model.rows[index.row()].name)
