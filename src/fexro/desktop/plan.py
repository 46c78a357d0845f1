"""Qt view for a storey in plan: marks to scale at their places, with grid lines and answers."""

from __future__ import annotations

import math
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QTransform,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fexro.core.findings import State
from fexro.desktop.document import Document
from fexro.desktop.drawing import Fit, paint_glyph, ring_path
from fexro.desktop.theme import current_theme, font
from fexro.project.column import LiftKey, Mark
from fexro.project.project import Project
from fexro.project.shapes import shape_of

__all__ = ["KeyPlan", "Plan"]

MARGIN = 64  # px around the building
NEAR = 14  # px within which a mark is hit
SNAP = 0.05  # m, of a mark that is dragged
DRAG = 4  # px from which it is a drag
KEY_SIZE = QSize(200, 130)  # px


class Plan(QWidget):
    """A storey as it is built: sections to scale and turned, grid lines, states, utilisations."""

    opened = pyqtSignal(LiftKey)
    moved = pyqtSignal(str, float, float)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.storey = ""
        self._zoom, self._shift = 1.0, QPointF()
        self._pressed: QPointF | None = None
        self._dragged: str | None = None
        self._at: tuple[float, float] | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Plan of a storey")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_storey(self, name: str) -> None:
        """Show another storey."""
        self.storey = name
        self.update()

    def fit(self) -> None:
        """Show the whole plan."""
        self._zoom, self._shift = 1.0, QPointF()
        self.update()

    def marks(self) -> list[Mark]:
        """Return the marks that stand in plan, whether or not they have a lift in the storey."""
        project = self._document.project
        return [] if project is None else [m for m in project.marks if m.place is not None]

    def position(self, mark: Mark) -> QPointF:
        """Return where a mark is on the screen."""
        place = mark.place
        if mark.name == self._dragged and self._at is not None:
            place = self._at
        assert place is not None
        return self._point(*place)

    def _bounds(self) -> tuple[float, float, float, float]:
        project = self._document.project
        xs = [mark.place[0] for mark in self.marks() if mark.place is not None]
        ys = [mark.place[1] for mark in self.marks() if mark.place is not None]
        for line in () if project is None else project.grid:
            (xs if line.axis == "x" else ys).append(line.at)
        xs, ys = xs or [0.0, 10.0], ys or [0.0, 10.0]
        x0, x1, y0, y1 = min(xs), max(xs), min(ys), max(ys)
        widen = max(x1 - x0, y1 - y0, 4.0) * 0.06
        return x0 - widen, y0 - widen, x1 + widen, y1 + widen

    def _fit(self) -> Fit:
        room = QRectF(self.rect()).adjusted(MARGIN, MARGIN, -MARGIN, -MARGIN)
        fit = Fit(self._bounds(), room)
        middle = QPointF(self.rect().center())
        fit.scale *= self._zoom
        fit.x = middle.x() + (fit.x - middle.x()) * self._zoom + self._shift.x()
        fit.y = middle.y() + (fit.y - middle.y()) * self._zoom + self._shift.y()
        return fit

    def _point(self, x: float, y: float) -> QPointF:
        return self._fit().point(x, y)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint grid, sections and answers."""
        project, theme = self._document.project, current_theme()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(theme.paper))
        if project is not None:
            fit = self._fit()
            self._paint_grid(painter, project, fit)
            for mark in self.marks():
                self._paint_mark(painter, project, mark, fit)
            if not self.marks():
                painter.setPen(QColor(theme.secondary))
                painter.drawText(
                    self.rect(),
                    Qt.AlignmentFlag.AlignCenter,
                    "No mark has a place yet. Type places beside, or drag a mark from the list.",
                )
        painter.end()

    def _paint_grid(self, painter: QPainter, project: Project, fit: Fit) -> None:
        theme = current_theme()
        painter.setFont(font(11, 600))
        for line in project.grid:
            at = fit.point(line.at, line.at)
            if line.axis == "x":
                start, end = QPointF(at.x(), 34), QPointF(at.x(), self.height() - 10)
                bubble = QPointF(at.x(), 22)
            else:
                start, end = QPointF(34, at.y()), QPointF(self.width() - 10, at.y())
                bubble = QPointF(22, at.y())
            painter.setPen(QPen(QColor(theme.hairline), 1, Qt.PenStyle.DashDotLine))
            painter.drawLine(start, end)
            painter.setPen(QPen(QColor(theme.axis), 1))
            painter.setBrush(QColor(theme.panel))
            painter.drawEllipse(bubble, 11, 11)
            painter.setPen(QColor(theme.ink))
            box = QRectF(bubble.x() - 20, bubble.y() - 10, 40, 20)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, line.name)

    def _paint_mark(self, painter: QPainter, project: Project, mark: Mark, fit: Fit) -> None:
        theme = current_theme()
        key = LiftKey(mark.name, self.storey)
        lift, where = project.by_key.get(key), self.position(mark)
        result = self._document.results.get(key)
        painter.save()
        painter.translate(where)
        reach = 6.0
        if lift is not None:
            outline = shape_of(lift.section.shape).outline()
            cx, cy = outline.centroid
            scale = fit.scale / 1e3
            drawn = Fit(
                (cx - 1, cy - 1, cx + 1, cy + 1), QRectF(-scale, -scale, 2 * scale, 2 * scale)
            )
            path = ring_path(outline.rings, drawn)
            path = QTransform().rotate(-mark.angle).map(path)
            reach = max(path.boundingRect().width(), path.boundingRect().height()) / 2
            chosen = self._document.selection.lift == key
            painter.setPen(
                QPen(QColor(theme.capacity if chosen else theme.ink), 2 if chosen else 1)
            )
            painter.setBrush(QColor(theme.concrete))
            painter.drawPath(path)
        else:
            painter.setPen(QPen(QColor(theme.axis), 1, Qt.PenStyle.DotLine))
            painter.drawEllipse(QPointF(0, 0), reach, reach)
        painter.restore()
        left, top = where.x() + reach + 5, where.y() - 16
        painter.setPen(QColor(theme.ink))
        painter.setFont(font(12, 600))
        painter.drawText(QRectF(left, top, 90, 16), Qt.AlignmentFlag.AlignLeft, mark.name)
        if lift is None:
            return
        state = State.NOT_CHECKED if result is None else result.state
        paint_glyph(painter, state, QPointF(left + 5, top + 25), 10, theme)
        ratio = math.nan if result is None else result.utilisation
        painter.setFont(font(11))
        painter.setPen(QColor(theme.exceeded if state is State.EXCEEDED else theme.secondary))
        number = "–" if math.isnan(ratio) else f"{ratio:.2f}"
        painter.drawText(QRectF(left + 14, top + 17, 60, 16), Qt.AlignmentFlag.AlignLeft, number)

    # Going, moving, zooming

    def _hit(self, at: QPointF) -> Mark | None:
        near = [(math.hypot(*_apart(self.position(m), at)), m) for m in self.marks()]
        distance, mark = min(near, key=lambda item: item[0], default=(math.inf, None))
        scale = self._fit().scale
        return mark if distance < max(NEAR, 0.35 * scale) else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a mark, or of the plan."""
        assert event is not None
        self._pressed = event.position()
        hit = self._hit(event.position())
        self._dragged = None if hit is None else hit.name

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag a mark to another place, or the plan."""
        assert event is not None
        at = event.position()
        if self._pressed is None:
            shape = (
                Qt.CursorShape.PointingHandCursor if self._hit(at) else Qt.CursorShape.ArrowCursor
            )
            self.setCursor(shape)
            return
        if math.hypot(*_apart(at, self._pressed)) < DRAG and self._at is None:
            return
        if self._dragged is None:
            self._shift += at - self._pressed
            self._pressed = at
        else:
            fit = self._fit()
            x, y = (at.x() - fit.x) / fit.scale, (fit.y - at.y()) / fit.scale
            self._at = self._snapped(x, y)
        self.update()

    def _snapped(self, x: float, y: float) -> tuple[float, float]:
        """Return a place on grid lines nearby, else on a raster."""
        project, fit = self._document.project, self._fit()
        found = []
        for axis, value in (("x", x), ("y", y)):
            lines = [line.at for line in project.grid if line.axis == axis] if project else []
            near = min(lines, key=partial(_off, value), default=math.inf)
            onto = abs(near - value) * fit.scale < 8
            found.append(near if onto else round(round(value / SNAP) * SNAP, 6))
        return found[0], found[1]

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Put a dragged mark down, or open the lift that was clicked."""
        assert event is not None
        dragged, at, self._pressed = self._dragged, self._at, None
        self._dragged = self._at = None
        if dragged is None:
            return
        if at is not None:
            self.moved.emit(dragged, *at)
            return
        project = self._document.project
        key = LiftKey(dragged, self.storey)
        if project is not None and key in project.by_key:
            self.opened.emit(key)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom about the pointer."""
        assert event is not None
        factor = 1.2 ** (event.angleDelta().y() / 120)
        zoom = min(max(self._zoom * factor, 0.5), 40.0)
        factor = zoom / self._zoom
        middle = QPointF(self.rect().center())
        offset = event.position() - middle
        self._shift = offset + (self._shift - offset) * factor
        self._zoom = zoom
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Fit by 0; Return opens the selected lift."""
        assert event is not None
        key = self._document.selection.lift
        if event.key() == Qt.Key.Key_0:
            self.fit()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and key is not None:
            self.opened.emit(LiftKey(key.mark, self.storey))
        else:
            super().keyPressEvent(event)


class KeyPlan(QWidget):
    """Where the selected lift stands: all marks of its storey as dots, a click goes to one."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.setFixedHeight(KEY_SIZE.height())
        self.setAccessibleName("Key plan")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        document.selection.lift_changed.connect(self.update)
        document.edited.connect(lambda _: self.show_marks())
        document.opened.connect(self.show_marks)
        self.show_marks()

    def show_marks(self) -> None:
        """Show the marks of the project; nothing where none has a place."""
        self.setVisible(bool(self._places()))
        self.update()

    def _places(self) -> dict[str, tuple[float, float]]:
        project = self._document.project
        marks = () if project is None else project.marks
        return {mark.name: mark.place for mark in marks if mark.place is not None}

    def position(self, name: str) -> QPointF:
        """Return where a mark is on the screen."""
        places = self._places()
        xs, ys = zip(*places.values(), strict=True)
        room = QRectF(self.rect()).adjusted(14, 20, -14, -12)
        least = 1.0  # m, of a plan that is a line
        x0, x1, y0, y1 = min(xs), max(xs), min(ys), max(ys)
        fit = Fit((x0, y0, max(x1, x0 + least), max(y1, y0 + least)), room)
        return fit.point(*places[name])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        project, key, theme = (
            self._document.project,
            self._document.selection.lift,
            current_theme(),
        )
        if project is None or key is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        painter.drawText(QPointF(0, 11), f"{key.mark} in plan at {key.storey}")
        for name in self._places():
            at, chosen = self.position(name), name == key.mark
            there = LiftKey(name, key.storey) in project.by_key
            painter.setPen(QPen(QColor(theme.capacity if chosen else theme.axis), 1))
            colour = theme.capacity if chosen else theme.concrete if there else theme.panel
            painter.setBrush(QColor(colour))
            side = 9 if chosen else 6
            painter.drawRect(QRectF(at.x() - side / 2, at.y() - side / 2, side, side))
            if chosen:
                painter.setPen(QColor(theme.ink))
                painter.drawText(at + QPointF(7, 4), name)
        painter.end()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Go to the lift of the mark that is clicked."""
        project, key = self._document.project, self._document.selection.lift
        if event is None or project is None or key is None:
            return
        near = {n: math.hypot(*_apart(self.position(n), event.position())) for n in self._places()}
        name = min(near, key=lambda n: near[n], default="")
        target = LiftKey(name, key.storey)
        if name and near[name] < NEAR and target in project.by_key:
            self._document.selection.select_lift(target)
            self.opened.emit(target)


def _off(value: float, at: float) -> float:
    return abs(at - value)


def _apart(a: QPointF, b: QPointF) -> tuple[float, float]:
    return a.x() - b.x(), a.y() - b.y()
