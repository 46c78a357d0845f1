"""Qt view for the combinations of a lift: a sortable table that selects."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache, cached_property, partial

from PyQt6.QtCore import (
    QAbstractTableModel,
    QItemSelectionModel,
    QModelIndex,
    QPointF,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QColor, QContextMenuEvent, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QMenu,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
)

from fexro.core.findings import State, state_of_ratio
from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.desktop.bench.menus import act
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.theme import current_theme, font
from fexro.project.cases import Combination
from fexro.project.column import LiftKey, Member
from fexro.project.project import Project

__all__ = ["CombinationsTable"]

_ASCENDING = Qt.SortOrder.AscendingOrder
NUMBER_WIDTH, WIDTHS = 74, {0: 88, 2: 60, 4: 82, 6: 82, 7: 98, 8: 70, 9: 78}
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
    forces: bool = True
    applies: bool = True

    @property
    def state(self) -> State | None:
        """The state of the combination; nothing where it does not apply."""
        if not self.forces:
            return State.NOT_CHECKED if self.applies else None
        return state_of_ratio(self.along)

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
        if column == RATIO_COLUMN and not self.forces and self.applies:
            return math.inf  # what is missing is not overlooked
        return -1.0 if isinstance(value, float) and math.isnan(value) else value


class _CombinationsModel(QAbstractTableModel):
    def __init__(self) -> None:
        super().__init__()
        self.rows: list[_Row] = []
        self._heads: list[str] = []
        self._order = (RATIO_COLUMN, Qt.SortOrder.DescendingOrder)

    def refresh(self, project: Project, key: LiftKey, result: LiftResult | None) -> bool:
        """Take the combinations of a lift and its result; those without forces too.

        Returns:
            Whether its rows are others, not only what they say.
        """
        rows = [] if result is None else _rows_of(project, key, result)
        heads = self._heads if result is None else _heads_of(project.basis.system)
        self._sort_rows(rows)
        same = heads == self._heads and [r.name for r in rows] == [r.name for r in self.rows]
        if same and rows:
            # After most edits only the ratios are others; painting the rest takes its time.
            before, self.rows = self.rows, rows
            for column in _changed_columns(before, rows):
                top, foot = self.index(0, column), self.index(len(rows) - 1, column)
                self.dataChanged.emit(top, foot)
            return False
        self.beginResetModel()
        self.rows, self._heads = rows, heads
        self.endResetModel()
        return True

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        self._order = (column, order)
        self.layoutAboutToBeChanged.emit()
        before = self.persistentIndexList()
        rows = [self.rows[index.row()] for index in before]
        self._sort_rows(self.rows)
        for index, row in zip(before, rows, strict=True):
            moved = self.index(self.rows.index(row), index.column())
            self.changePersistentIndex(index, moved)
        self.layoutChanged.emit()

    def _sort_rows(self, rows: list[_Row]) -> None:
        column, order = self._order
        rows.sort(key=lambda row: row.order(column), reverse=order != _ASCENDING)

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


def _heads_of(system: UnitSystem) -> list[str]:
    force, moment = (unit_of(d, system) for d in (Dimension.FORCE, Dimension.MOMENT))
    numbers = [f"N\n{force.symbol}", *(f"{name}\n{moment.symbol}" for name in _NUMBERS[1:])]
    return ["Combination", "Factors", *numbers, *_TAIL]


def _rows_of(project: Project, key: LiftKey, result: LiftResult) -> list[_Row]:
    """Return a row for each combination of the project."""
    system = project.basis.system
    force, moment = (unit_of(d, system).size for d in (Dimension.FORCE, Dimension.MOMENT))
    index = {name: i for i, name in enumerate(result.combinations)}
    rows = []
    for place, combination in enumerate(project.combinations):
        i = index.get(combination.name)
        if i is None:
            rows.append(_without_forces(combination, place, combination.applies(key)))
            continue
        top, bottom, *_ = result.lift.actions.axial_bending[i].tolist()
        axial = top[0] if abs(top[0]) >= abs(bottom[0]) else bottom[0]
        numbers = axial / force, *(end[k] / moment for k in (1, 2) for end in (top, bottom))
        worse = result.demand_index(i)
        rows.append(
            _Row(
                combination.name,
                combination.expression,
                numbers,
                result.place_of(worse),
                float(result.constant_axial.ratio[worse]),
                float(result.proportional.ratio[worse]),
                place,
            )
        )
    return rows


def _changed_columns(before: list[_Row], rows: list[_Row]) -> list[int]:
    """Return the columns in which any of the rows shows something else."""
    pairs = list(zip(before, rows, strict=True))
    return [
        column
        for column in range(len(rows[0].texts))
        if any(
            old.texts[column] != new.texts[column]
            or (old.state is not new.state and column in (0, RATIO_COLUMN))
            for old, new in pairs
        )
    ]


def _without_forces(combination: Combination, place: int, applies: bool) -> _Row:
    nothing = (math.nan,) * len(_NUMBERS)
    words = "no forces" if applies else "not for it"
    if not combination.for_strength:
        words = "for service"
    expression = combination.expression
    name = combination.name
    return _Row(name, expression, nothing, words, math.nan, math.nan, place, False, applies)


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
            if row.state is not None:
                paint_glyph(painter, row.state, middle, 10, theme)
            area = area.adjusted(16, 0, 0, 0)
        painter.setFont(_CELL_FONT())
        quiet = column == 1 or row.state is None
        painter.setPen(QColor(theme.secondary if quiet else theme.ink))
        text = row.texts[column]
        if column == 1:
            elide = Qt.TextElideMode.ElideRight
            text = painter.fontMetrics().elidedText(text, elide, area.width())
        painter.drawText(area, _alignment(column), text)


_CELL_FONT = cache(font)


class CombinationsTable(QTableView):
    """One row for each combination; the selected one is what the bench shows.

    Signals:
        picked: a combination was selected.
        exempted: a combination, a member, and whether it is not to apply to it.
    """

    picked = pyqtSignal(str)
    exempted = pyqtSignal(str, object, bool)

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
        self._key: LiftKey | None = None
        selection = self.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._pick)

    def show_result(
        self, project: Project, key: LiftKey, result: LiftResult | None, selected: str | None
    ) -> None:
        """Show the combinations of a lift and its result and mark the selected one."""
        self._quiet, self._key = True, key
        reset = self._model.refresh(project, key, result)
        header = self.horizontalHeader()
        assert header is not None
        if reset and self._model.columnCount():
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
        index = self._model.index(row, 0)
        if selection.isRowSelected(row) and self.currentIndex().row() == row:
            return
        self._quiet = True
        flags = QItemSelectionModel.SelectionFlag
        selection.setCurrentIndex(index, flags.ClearAndSelect | flags.Rows)
        self.scrollTo(index)
        self._quiet = False

    def _pick(self, index: QModelIndex) -> None:
        if not self._quiet and index.isValid() and self._model.rows[index.row()].forces:
            self.picked.emit(self._model.rows[index.row()].name)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Offer to leave the combination out for this lift or its mark, or to bring it back."""
        if event is None or self._key is None:
            return
        row = self._row_at(event)
        if row is None:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        lift = Member(mark=self._key.mark, storey=self._key.storey)
        mark = Member(mark=self._key.mark)
        for member, named in ((lift, str(lift)), (mark, f"any lift of {mark}")):
            text = f"{row.name} does not apply to {named}"
            if not row.applies:
                text = f"{row.name} applies to {str(lift) if member is lift else f'all of {mark}'}"
            act(menu, text, partial(self.exempted.emit, row.name, member, row.applies))
        menu.popup(event.globalPos())

    def _row_at(self, event: QContextMenuEvent) -> _Row | None:
        by_mouse = event.reason() == QContextMenuEvent.Reason.Mouse
        index = self.indexAt(event.pos()) if by_mouse else self.currentIndex()
        return self._model.rows[index.row()] if index.isValid() else None
