"""Qt view for the schedule: the table, the painting of its cells and headers."""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import lru_cache, partial

from PyQt6.QtCore import (
    QItemSelection,
    QItemSelectionModel,
    QModelIndex,
    QPointF,
    QRect,
    QRectF,
    QSize,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import (
    QColor,
    QFontMetrics,
    QGuiApplication,
    QMouseEvent,
    QPainter,
    QPen,
    QPixmap,
    QResizeEvent,
)
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QWidget,
)

from fexro.core.findings import State
from fexro.core.section.layout import Section
from fexro.desktop.document import Document
from fexro.desktop.drawing import Fit, paint_bar, paint_glyph, paint_section
from fexro.desktop.schedule.model import CELL, Cell, ScheduleModel
from fexro.desktop.theme import Theme, current_theme, font
from fexro.project.column import LiftKey

__all__ = ["ScheduleView"]

CELL_SIZE, LARGEST_CELL = QSize(132, 104), QSize(190, 136)
MARK_HEIGHT, STOREY_WIDTH = 36, 78
THUMBNAILS = 1024  # sections whose drawings are kept
EDGE = 2  # px around a drawing, for its lines


class _CellDelegate(QStyledItemDelegate):
    """Paints a lift: its section to scale, call-outs, state, utilisation, what governs."""

    scale_length = 700.0  # mm that the drawing area spans; set from the largest section

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        theme = current_theme()
        area = QRectF(option.rect)
        cell: Cell | None = index.data(CELL)
        painter.save()
        selected = bool(option.state & QStyle.StateFlag.State_Selected)
        if cell is not None:
            exceeded = cell.result is not None and cell.result.state is State.EXCEEDED
            if selected:
                painter.fillRect(area, QColor(theme.panel))
            elif exceeded:
                painter.fillRect(area, QColor(theme.exceeded_wash))
            self._paint_lift(painter, cell, area, theme)
        painter.setPen(QPen(QColor(theme.hairline), 1))
        painter.drawLine(area.topRight(), area.bottomRight())
        painter.setPen(QPen(QColor(theme.secondary), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        if selected:
            painter.setPen(QPen(QColor(theme.capacity), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(area.adjusted(1, 1, -2, -2))
        painter.restore()

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return CELL_SIZE

    def _paint_lift(self, painter: QPainter, cell: Cell, area: QRectF, theme: Theme) -> None:
        # The drawing takes what the answer below and the call-outs beside it leave.
        side = min(area.height() - 46, area.width() - 74)
        drawing = QRectF(area.left() + 8, area.top() + 8, side, side)
        device = painter.device()
        ratio = 1.0 if device is None else device.devicePixelRatioF()
        picture = _thumbnail(
            cell.section, self.scale_length, drawing.width(), drawing.height(), ratio, theme
        )
        painter.drawPixmap(drawing.topLeft() - QPointF(EDGE, EDGE), picture)

        left, right = drawing.right() + 8, area.right() - 4
        groups = cell.lift.section.bars.split(" + ")
        lines = [f"{group} +" for group in groups[:-1]] + groups[-1:]
        painter.setFont(font(11, 500))
        painter.setPen(QColor(theme.ink))
        top = area.top() + 10
        for line in lines[:2]:
            _text(painter, QRectF(left, top, right - left, 15), line)
            top += 15
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        _text(painter, QRectF(left, top + 1, right - left, 14), cell.lift.section.ties)
        if cell.group:
            painter.setPen(QColor(theme.capacity))
            _text(painter, QRectF(left, top + 16, right - left, 14), cell.group)
        self._paint_answer(painter, cell, area, theme)

    def _paint_answer(self, painter: QPainter, cell: Cell, area: QRectF, theme: Theme) -> None:
        result = cell.result
        state = State.NOT_CHECKED if result is None else result.state
        baseline = area.bottom() - 32
        paint_glyph(painter, state, QPointF(area.left() + 14, baseline + 9), 10, theme)
        if result is None:
            painter.setFont(font(10))
            painter.setPen(QColor(theme.secondary))
            word = "checking" if cell.checking else "not checked"
            _text(painter, QRectF(area.left() + 24, baseline, 90, 18), word)
            return
        check = result.governing
        painter.setFont(font(13, 600))
        painter.setPen(QColor(theme.exceeded if state is State.EXCEEDED else theme.ink))
        number = "–" if math.isnan(check.ratio) else f"{check.ratio:.2f}"
        _text(painter, QRectF(area.left() + 24, baseline, 40, 18), number)
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        _text(
            painter,
            QRectF(area.left() + 56, baseline, area.width() - 62, 18),
            f"{check.short} {check.combination or ''}".strip(),
            Qt.AlignmentFlag.AlignRight,
        )
        # An assumption leaves the bar quiet; the glyph still says that there is one.
        colour = theme.state(result.notable_state)
        if check.combination is None and result.notable_state is State.ATTENTION:
            colour = theme.state(State.ATTENTION)
        bar = QRectF(area.left() + 9, area.bottom() - 11, area.width() - 18, 4)
        paint_bar(painter, check.ratio, colour, bar, theme)


@lru_cache(maxsize=THUMBNAILS)
def _thumbnail(
    section: Section, length: float, width: float, height: float, ratio: float, theme: Theme
) -> QPixmap:
    """Return a section drawn to scale; it is drawn anew only where it or its size is another.

    Args:
        section: the section.
        length: mm that the drawing spans, unless the section is larger.
        width, height: of the drawing, px of the screen.
        ratio: device pixels in one of those.
        theme: its colours.
    """
    around = 2 * EDGE
    picture = QPixmap(math.ceil((width + around) * ratio), math.ceil((height + around) * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    x0, y0, x1, y1 = section.outline.bounds
    reach = max(length, x1 - x0, y1 - y0) / 2
    middle_x, middle_y = (x0 + x1) / 2, (y0 + y1) / 2
    square = (middle_x - reach, middle_y - reach, middle_x + reach, middle_y + reach)
    painter = QPainter(picture)
    paint_section(painter, section, Fit(square, QRectF(EDGE, EDGE, width, height)), theme)
    painter.end()
    return picture


def _text(
    painter: QPainter,
    area: QRectF,
    text: str,
    align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
) -> None:
    """Write one line, shortened with an ellipsis where it does not fit."""
    shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(area.width()))
    painter.drawText(area, align | Qt.AlignmentFlag.AlignVCenter, shown)


class _Header(QHeaderView):
    """Paints marks across the top, storeys down the side."""

    def __init__(self, orientation: Qt.Orientation, parent: QWidget) -> None:
        super().__init__(orientation, parent)
        self.setSectionsClickable(True)
        self.setHighlightSections(False)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)

    def sizeHint(self) -> QSize:
        if self.orientation() == Qt.Orientation.Horizontal:
            return QSize(0, MARK_HEIGHT)
        return QSize(STOREY_WIDTH, 0)

    def paintSection(self, painter: QPainter | None, rect: QRect, logicalIndex: int) -> None:
        model = self.model()
        if painter is None or model is None or not rect.isValid():
            return
        pair = model.headerData(logicalIndex, self.orientation())
        if pair is None:
            return
        theme, (name, description) = current_theme(), pair
        area = QRectF(rect)
        painter.save()
        painter.fillRect(area, QColor(theme.paper))
        painter.setFont(font(13, 600))
        painter.setPen(QColor(theme.ink))
        if self.orientation() == Qt.Orientation.Horizontal:
            _text(painter, area.adjusted(9, 0, 0, 0), name)
            used = QFontMetrics(painter.font()).horizontalAdvance(name)
            painter.setFont(font(10))
            painter.setPen(QColor(theme.secondary))
            _text(painter, area.adjusted(9 + used + 7, 1, -4, 0), description)
            painter.setPen(QPen(QColor(theme.hairline), 1))
            painter.drawLine(area.topRight(), area.bottomRight())
        else:
            level, height = description.split("\n")
            _text(painter, QRectF(area.left() + 12, area.top() + 8, 60, 18), name)
            painter.setFont(font(10))
            painter.setPen(QColor(theme.secondary))
            _text(painter, QRectF(area.left() + 12, area.top() + 26, 64, 14), level)
            _text(painter, QRectF(area.left() + 12, area.bottom() - 22, 64, 14), height)
        painter.setPen(QPen(QColor(theme.secondary), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.restore()


class ScheduleView(QTableView):
    """The schedule as a table; Return or a double click opens the bench of a lift."""

    opened = pyqtSignal(LiftKey)
    picked = pyqtSignal()

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("schedule")
        self.setAccessibleName("Column schedule")
        self._document = document
        self._by_head = ""
        self._model = ScheduleModel(document)
        self._delegate = _CellDelegate()
        self.setModel(self._model)
        self.setItemDelegate(self._delegate)
        self.setHorizontalHeader(_Header(Qt.Orientation.Horizontal, self))
        self.setVerticalHeader(_Header(Qt.Orientation.Vertical, self))
        for header in (self.horizontalHeader(), self.verticalHeader()):
            assert isinstance(header, _Header)
            # The table's own selection by its heads does not tell that it was by a head.
            header.sectionPressed.connect(partial(self.select_head, header.orientation()))
        self.setShowGrid(False)
        self.setCornerButtonEnabled(False)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setTabKeyNavigation(False)
        self.corner = QPushButton("Add …", self)
        self.corner.setProperty("role", "link")
        self.corner.setToolTip("Add storeys, marks and lifts")
        self.corner.setGeometry(4, 6, STOREY_WIDTH - 8, MARK_HEIGHT - 12)
        self.setMouseTracking(True)
        self._model.modelReset.connect(self._arrange)
        document.selection.lift_changed.connect(self._follow)
        selection = self.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(self._select)
        selection.selectionChanged.connect(self.picked)
        self.activated.connect(self._open)
        self.clicked.connect(self._clicked)

    def lifts(self) -> list[LiftKey]:
        """Return the lifts that are selected, in the order of the schedule."""
        project = self._document.project
        cells = sorted((i.row(), i.column()) for i in self.selectedIndexes())
        keys = [self._model.key(self._model.index(row, column)) for row, column in cells]
        return [] if project is None else [key for key in keys if key in project.by_key]

    def key_at(self, index: QModelIndex) -> LiftKey | None:
        """Return the lift that a cell is for, if it is a cell."""
        return self._model.key(index) if index.isValid() else None

    def places(self) -> list[LiftKey]:
        """Return all cells that are selected, whether or not there is a lift."""
        return [self._model.key(index) for index in self.selectedIndexes()]

    def whole(self) -> tuple[str | None, str | None]:
        """Return the storey and the mark of which all cells and no other are selected, if any."""
        project, cells = self._document.project, self.selectedIndexes()
        if project is None or not cells:
            return None, None
        rows, columns = {i.row() for i in cells}, {i.column() for i in cells}
        wide, high = len(project.marks), len(project.storeys)
        storey = len(rows) == 1 and len(cells) == wide and self._by_head == "row"
        mark = len(columns) == 1 and len(cells) == high and self._by_head == "column"
        return (
            project.storeys[min(rows)].name if storey else None,
            project.marks[min(columns)].name if mark else None,
        )

    def select_lifts(self, keys: Iterable[LiftKey]) -> None:
        """Select lifts and no other cell."""
        self._by_head = ""
        chosen = QItemSelection()
        for key in keys:
            index = self._model.index_of(key)
            chosen.select(index, index)
        selection = self.selectionModel()
        assert selection is not None
        selection.select(chosen, QItemSelectionModel.SelectionFlag.ClearAndSelect)

    def select_head(self, orientation: Qt.Orientation, number: int) -> None:
        """Select a whole storey or a whole mark."""
        across = orientation == Qt.Orientation.Vertical
        self._by_head = "row" if across else "column"
        (self.selectRow if across else self.selectColumn)(number)
        self.picked.emit()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Note that cells are picked one by one."""
        self._by_head = ""
        super().mousePressEvent(event)

    def _clicked(self, index: QModelIndex) -> None:
        """Open a lift that is clicked by itself; with keys held, cells are only picked."""
        held = QGuiApplication.keyboardModifiers()
        if held == Qt.KeyboardModifier.NoModifier and len(self.selectedIndexes()) == 1:
            self._open(index)

    def _arrange(self) -> None:
        sections = [
            self._model.index(r, c).data(CELL)
            for r in range(self._model.rowCount())
            for c in range(self._model.columnCount())
        ]
        bounds = [cell.section.outline.bounds for cell in sections if cell is not None]
        sizes = [max(x1 - x0, y1 - y0) for x0, y0, x1, y1 in bounds]
        self._delegate.scale_length = max(sizes, default=700.0)
        self._spread()
        key = self._document.selection.lift
        index = self._model.index(0, 0) if key is None else self._model.index_of(key)
        if index.isValid():
            self.setCurrentIndex(index)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Let the cells use the room there is."""
        super().resizeEvent(event)
        self._spread()

    def _spread(self) -> None:
        viewport = self.viewport()
        assert viewport is not None
        for header, count, room, least, largest in (
            (
                self.horizontalHeader(),
                self._model.columnCount(),
                viewport.width(),
                CELL_SIZE.width(),
                LARGEST_CELL.width(),
            ),
            (
                self.verticalHeader(),
                self._model.rowCount(),
                viewport.height(),
                CELL_SIZE.height(),
                LARGEST_CELL.height(),
            ),
        ):
            assert header is not None
            header.setDefaultSectionSize(min(max(room // max(count, 1), least), largest))

    def _select(self, index: QModelIndex) -> None:
        if index.isValid() and index.data(CELL) is not None:
            self._document.selection.select_lift(self._model.key(index))

    def _follow(self) -> None:
        key = self._document.selection.lift
        if key is not None:
            index = self._model.index_of(key)
            if index.isValid() and index != self.currentIndex():
                self.setCurrentIndex(index)

    def _open(self, index: QModelIndex) -> None:
        if index.isValid() and index.data(CELL) is not None:
            self.opened.emit(self._model.key(index))
