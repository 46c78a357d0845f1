"""Qt view for the schedule: the table, the painting of its cells and headers."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from functools import lru_cache, partial
from typing import Any

from PyQt6.QtCore import (
    QItemSelection,
    QItemSelectionModel,
    QModelIndex,
    QPointF,
    QRect,
    QRectF,
    QSize,
    QSizeF,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import (
    QColor,
    QFontMetrics,
    QGuiApplication,
    QImage,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
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
from fexro.core.members.lift import LiftResult
from fexro.core.section.call_out import short_call_out
from fexro.core.section.section import Section
from fexro.core.section.ties import HeldRule
from fexro.desktop.document import Document
from fexro.desktop.drawing import Fit, paint_bar, paint_glyph, paint_section
from fexro.desktop.schedule.model import CELL, Cell, ScheduleModel
from fexro.desktop.theme import Theme, current_theme, font
from fexro.project.column import LiftKey

__all__ = ["ScheduleView"]

CELL_SIZE, LARGEST_CELL = QSize(132, 104), QSize(190, 136)
MARK_HEIGHT, STOREY_WIDTH = 36, 78
DRAWN, SHORT = QSize(104, 84), QSize(24, 18)  # least cells with a section, with a glyph
LEAST, ZOOM_STEP = QSize(8, 6), 1.15
NUMBERS = 40  # px, of a cell from which its utilisation has room
FAINT = 0.22  # opacity of what is not sought
THUMBNAILS = 1024  # sections whose drawings are kept
CELLS = 400  # whose pictures are kept
EDGE = 2  # px around a drawing, for its lines
GROWN = 0.005  # of a utilisation, from which growth by slenderness is shown


class _CellDelegate(QStyledItemDelegate):
    """Paints a lift: its section to scale, call-outs, state, utilisation, what governs."""

    scale_length = 700.0  # mm that the drawing area spans; set from the largest section

    def __init__(self) -> None:
        super().__init__()
        self._kept: dict[tuple[Any, ...], tuple[tuple[Any, ...], QPixmap]] = {}

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
            painter.setOpacity(1.0 if cell.sought else FAINT)
            exceeded = cell.result is not None and cell.result.state is State.EXCEEDED
            if selected:
                painter.fillRect(area, QColor(theme.panel))
            elif exceeded:
                painter.fillRect(area, QColor(theme.exceeded_wash))
            painter.drawPixmap(area.topLeft(), self._picture(painter, cell, area, theme))
            painter.setOpacity(1.0)
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

    def _picture(self, painter: QPainter, cell: Cell, area: QRectF, theme: Theme) -> QPixmap:
        """Return a lift as it was painted last, if nothing of it is another."""
        device = painter.device()
        ratio = 1.0 if device is None else device.devicePixelRatioF()
        size = area.size().toSize()
        state = (
            *(cell.lift, cell.result, cell.checking, cell.group, cell.kept),
            *(self.scale_length, cell.change),
        )
        place = cell.key, size.width(), size.height(), ratio, theme
        kept = self._kept.get(place)
        if kept is None or any(
            a is not b and (a is cell.result or a != b) for a, b in zip(state, kept[0], strict=True)
        ):
            picture = QPixmap(math.ceil(size.width() * ratio), math.ceil(size.height() * ratio))
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            inner = QPainter(picture)
            inner.setFont(painter.font())
            self._paint_lift(inner, cell, QRectF(QPointF(), QSizeF(size)), theme)
            inner.end()
            if len(self._kept) >= CELLS:
                self._kept.clear()
            kept = self._kept[place] = state, picture
        return kept[1]

    def _paint_lift(self, painter: QPainter, cell: Cell, area: QRectF, theme: Theme) -> None:
        # The drawing takes what the answer below and the call-outs beside it leave.
        side = min(area.height() - 46, area.width() - 74)
        drawing = QRectF(area.left() + 8, area.top() + 8, side, side)
        device = painter.device()
        ratio = 1.0 if device is None else device.devicePixelRatioF()
        picture = _thumbnail(
            cell.section,
            *(self.scale_length, drawing.width(), drawing.height(), ratio, theme, cell.rule),
        )
        painter.drawPixmap(drawing.topLeft() - QPointF(EDGE, EDGE), picture)

        left, right = drawing.right() + 8, area.right() - 4
        groups = short_call_out(cell.lift.section.bars)
        # Where a group says its place, the line ends with that.
        lines = [group if group[-1].isalpha() else f"{group} +" for group in groups[:-1]]
        lines += groups[-1:]
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
            top += 14
        section = cell.lift.section
        if section.placed or section.inner_ties is not None:
            painter.setPen(QColor(theme.secondary))
            _text(painter, QRectF(left, top + 16, right - left, 14), "by hand")
            top += 14
        if cell.kept:
            painter.setPen(QColor(theme.secondary))
            _text(painter, QRectF(left, top + 16, right - left, 14), "⚑ kept")
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
        ratio = result.shown_ratio
        number = "–" if math.isnan(ratio) else f"{ratio:.2f}"
        _text(painter, QRectF(area.left() + 24, baseline, 40, 18), number)
        if cell.change is not None:
            _paint_change(painter, cell.change, QPointF(area.left() + 24, baseline - 15), theme)
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        _text(
            painter,
            QRectF(area.left() + 56, baseline, area.width() - 62, 18),
            _what_governs(result),
            Qt.AlignmentFlag.AlignRight,
        )
        # An assumption leaves the bar quiet; the glyph still says that there is one.
        colour = theme.state(result.state)
        if check.combination is None and result.state is State.ATTENTION:
            colour = theme.state(State.ATTENTION)
        bar = QRectF(area.left() + 9, area.bottom() - 11, area.width() - 18, 4)
        paint_bar(painter, ratio, colour, bar, theme)


def _what_governs(result: LiftResult) -> str:
    """Return what governs, with the ratio it grew from where that is slenderness."""
    check, before = result.governing, result.first_order
    combination = check.combination or ""
    if check.leads and check.combination and check.ratio - before >= GROWN:
        return f"from {before:.2f} {combination}".strip()
    return f"{check.short} {combination}".strip()


def _paint_change(painter: QPainter, change: float, at: QPointF, theme: Theme) -> None:
    """Paint by how much a utilisation changed, by a glyph as well as by colour."""
    seen = abs(change) >= 0.005
    painter.setFont(font(10, 600))
    painter.setPen(QColor(theme.attention if seen else theme.secondary))
    glyph = "" if not seen else "▲ " if change > 0 else "▼ "
    _text(painter, QRectF(at.x(), at.y(), 60, 14), f"{glyph}{abs(change):.2f}")


@lru_cache(maxsize=64)
def _glyph(state: State, size: float, ratio: float, theme: Theme) -> QPixmap:
    """Return the glyph of a state as a picture, px of the screen."""
    picture = QPixmap(math.ceil(size * ratio), math.ceil(size * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    paint_glyph(painter, state, QPointF(size / 2, size / 2), size, theme)
    painter.end()
    return picture


@lru_cache(maxsize=THUMBNAILS)
def _thumbnail(
    section: Section,
    length: float,
    width: float,
    height: float,
    ratio: float,
    theme: Theme,
    rule: HeldRule,
) -> QPixmap:
    """Return a section drawn to scale; it is drawn anew only where it or its size is another.

    Args:
        section: the section.
        length: mm that the drawing spans, unless the section is larger.
        width, height: of the drawing, px of the screen.
        ratio: device pixels in one of those.
        theme: its colours.
        rule: by which ties hold bars.
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
    paint_section(painter, section, Fit(square, QRectF(EDGE, EDGE, width, height)), theme, rule)
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
        self.setMinimumSectionSize(1)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)

    def sizeHint(self) -> QSize:
        if self.orientation() == Qt.Orientation.Horizontal:
            return QSize(0, MARK_HEIGHT)
        return QSize(STOREY_WIDTH, 0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the sections, or only every few names where these are narrow."""
        across = self.orientation() == Qt.Orientation.Horizontal
        size, needed = self.defaultSectionSize(), 30 if across else 14
        model, viewport = self.model(), self.viewport()
        if size >= needed or model is None or viewport is None:
            super().paintEvent(event)
            return
        theme, painter = current_theme(), QPainter(viewport)
        painter.fillRect(viewport.rect(), QColor(theme.paper))
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        for number in range(0, self.count(), math.ceil(needed / size)):
            name, _ = model.headerData(number, self.orientation())
            at = self.sectionViewportPosition(number)
            if across:
                painter.drawText(QPointF(at + 1, MARK_HEIGHT - 8), name)
            else:
                painter.drawText(QPointF(12, at + min(size, 12)), name)
        painter.end()

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
            if area.height() < 60:
                _text(painter, QRectF(area.left() + 12, area.top(), 60, area.height()), name)
                painter.restore()
                return
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
        self._zoomed: QSize | None = None
        self._heat: tuple[QImage, list[tuple[int, int]]] | None = None
        self._heat_theme: Theme | None = None
        self._model = ScheduleModel(document)
        self._model.dataChanged.connect(self._cool)
        self._model.modelReset.connect(self._cool)
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
        wide, high = len(project.columns), len(project.storeys)
        storey = len(rows) == 1 and len(cells) == wide and self._by_head == "row"
        mark = len(columns) == 1 and len(cells) == high and self._by_head == "column"
        return (
            project.storeys[min(rows)].name if storey else None,
            project.columns[min(columns)].name if mark else None,
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

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom about the pointer while Ctrl is held."""
        assert event is not None
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(ZOOM_STEP ** (event.angleDelta().y() / 120), event.position())
            event.accept()
        else:
            super().wheelEvent(event)

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Make cells larger or smaller; what is under a place of the view stays there."""
        across, down = self.horizontalHeader(), self.verticalHeader()
        assert across is not None
        assert down is not None
        wide, high = across.defaultSectionSize(), down.defaultSectionSize()
        width = min(max(round(wide * factor), LEAST.width()), LARGEST_CELL.width())
        height = min(max(round(high * factor), LEAST.height()), LARGEST_CELL.height())
        self._zoomed = QSize(width, height)
        bars = (self.horizontalScrollBar(), self.verticalScrollBar())
        viewport = self.viewport()
        assert viewport is not None
        centre = QPointF(viewport.rect().center()) if at is None else at
        held = [
            0.0 if bar is None else bar.value() + offset
            for bar, offset in zip(bars, (centre.x(), centre.y()), strict=True)
        ]
        across.setDefaultSectionSize(width)
        down.setDefaultSectionSize(height)
        self.updateGeometries()
        for bar, place, share, offset in (
            (bars[0], held[0], width / wide, centre.x()),
            (bars[1], held[1], height / high, centre.y()),
        ):
            if bar is not None:
                bar.setValue(round(place * share - offset))
        viewport.update()

    def show_changes(self, change: Callable[[LiftKey], float | None] | None) -> None:
        """Show in each cell by how much its utilisation changed, or no more."""
        self._model.show_changes(change)

    def fit_cells(self) -> None:
        """Let the cells use the room there is again."""
        self._zoomed = None
        self._spread()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint sections; glyphs where they have no room; a heat map where those have none."""
        across, down = self.horizontalHeader(), self.verticalHeader()
        assert across is not None
        assert down is not None
        size = QSize(across.defaultSectionSize(), down.defaultSectionSize())
        if size.width() >= DRAWN.width() and size.height() >= DRAWN.height():
            super().paintEvent(event)
        elif size.width() >= SHORT.width() and size.height() >= SHORT.height():
            self._paint_short(size)
        else:
            self._paint_heat(size)

    def _paint_short(self, size: QSize) -> None:
        """Paint glyphs and utilisations of what is seen, all in one go."""
        project, viewport = self._document.project, self.viewport()
        if project is None or viewport is None:
            return
        theme, results = current_theme(), self._document.results
        painter = QPainter(viewport)
        wide, high = size.width(), size.height()
        left, top = self.horizontalOffset(), self.verticalOffset()
        columns = range(
            left // wide, min((left + viewport.width()) // wide + 1, len(project.columns))
        )
        rows = range(top // high, min((top + viewport.height()) // high + 1, len(project.storeys)))
        selection = self.selectionModel()
        chosen = (
            {(i.row(), i.column()) for i in selection.selectedIndexes()} if selection else set()
        )
        side, ratio = min(10.0, high - 6.0), viewport.devicePixelRatioF()
        painter.setFont(font(11))
        sought, plain = self._model.sought, QColor(theme.ink)
        for row in rows:
            storey, y = project.storeys[row].name, row * high - top
            for column in columns:
                key, x = LiftKey(project.columns[column].name, storey), column * wide - left
                if (row, column) in chosen:
                    painter.fillRect(x, y, wide, high, QColor(theme.panel))
                if key not in project.by_key:
                    continue
                result = results.get(key)
                state = State.NOT_CHECKED if result is None else result.state
                painter.setOpacity(1.0 if sought.finds(project, key, result) else FAINT)
                middle = y + (high - side) / 2
                painter.drawPixmap(QPointF(x + 4, middle), _glyph(state, side, ratio, theme))
                if wide > NUMBERS and result is not None and not math.isnan(result.utilisation):
                    colour = QColor(theme.exceeded) if state is State.EXCEEDED else plain
                    painter.setPen(colour)
                    baseline = QPointF(x + side + 9, y + high / 2 + 4)
                    painter.drawText(baseline, f"{result.utilisation:.2f}")
        painter.setOpacity(1.0)
        painter.setPen(QPen(QColor(theme.hairline), 1))
        right, bottom = columns.stop * wide - left, rows.stop * high - top
        for row in rows:
            painter.drawLine(0, (row + 1) * high - top, right, (row + 1) * high - top)
        for column in columns:
            painter.drawLine((column + 1) * wide - left, 0, (column + 1) * wide - left, bottom)
        index = self.currentIndex()
        if index.isValid():
            painter.setPen(QPen(QColor(theme.capacity), 2))
            painter.drawRect(self.visualRect(index).adjusted(1, 1, -1, -1))
        painter.end()

    def _paint_heat(self, size: QSize) -> None:
        """Paint the whole building at once, a colour a lift, those that exceed slashed."""
        theme = current_theme()
        if self._heat is None or self._heat_theme is not theme:
            self._heat, self._heat_theme = self._model.heat(theme), theme
        viewport, (image, exceeded) = self.viewport(), self._heat
        painter = QPainter(viewport)
        left, top = -self.horizontalOffset(), -self.verticalOffset()
        width, height = image.width() * size.width(), image.height() * size.height()
        painter.drawImage(QRect(left, top, width, height), image)
        painter.setPen(QPen(QColor(theme.panel), 1.2))
        for row, column in exceeded:
            x, y = left + column * size.width(), top + row * size.height()
            painter.drawLine(x + 1, y + size.height() - 2, x + size.width() - 2, y + 1)
        index = self.currentIndex()
        if index.isValid():
            painter.setPen(QPen(QColor(theme.ink), 1.5))
            painter.drawRect(self.visualRect(index))
        painter.end()

    def _cool(self) -> None:
        self._heat = None

    def _spread(self) -> None:
        if self._zoomed is not None:
            return
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
