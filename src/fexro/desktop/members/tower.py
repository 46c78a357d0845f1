"""Qt view for the whole building: columns as bodies, told apart by state, turned by dragging."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QWidget

from fexro.core.arrays import FloatArray
from fexro.core.findings import State
from fexro.desktop.document import Document
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.theme import Theme, current_theme
from fexro.project.column import LiftKey
from fexro.project.shapes import shape_of

__all__ = ["Tower"]

MARGIN, DRAG = 26, 4  # px
NEAR = 12  # px within which a lift is hit
CLOSE = 0.95  # utilisation from which it is close to a limit


class Tower(QWidget):
    """The building in parallel projection; a click goes to a lift."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.azimuth, self.height_angle, self._zoom = math.radians(35), math.radians(22), 1.0
        self._pressed: QPointF | None = None
        self._turned = False
        self.setMinimumWidth(180)
        self.setAccessibleName("The building")
        for signal in (document.checked, document.edited):
            signal.connect(lambda _: self.update())
        document.opened.connect(self.update)

    def lifts(self) -> tuple[list[LiftKey], FloatArray]:
        """Return the lifts that have a place, and for each x, y, foot, top and width, (L, 5), m."""
        project = self._document.project
        keys, bodies = [], []
        for mark in () if project is None else project.marks:
            if mark.place is None:
                continue
            for lift in mark.lifts:
                assert project is not None
                storey = project.storey_by_name[lift.storey]
                x0, y0, x1, y1 = shape_of(lift.shape).outline().bounds
                keys.append(LiftKey(mark.name, lift.storey))
                width = max(x1 - x0, y1 - y0) / 1e3
                bodies.append((*mark.place, storey.level - storey.height, storey.level, width))
        return keys, np.array(bodies).reshape(-1, 5)

    def projected(self, points: FloatArray) -> FloatArray:
        """Return places (P, 3) in m on the screen and their distance from it, (P, 3)."""
        _, bodies = self.lifts()
        centre, scale = self._frame(bodies)
        turned = self._turn(points - centre)
        middle = self.width() / 2, self.height() / 2
        return np.column_stack(
            [middle[0] + scale * turned[:, 0], middle[1] - scale * turned[:, 1], turned[:, 2]]
        )

    def _turn(self, points: FloatArray) -> FloatArray:
        c, s = math.cos(self.azimuth), math.sin(self.azimuth)
        up, flat = math.cos(self.height_angle), math.sin(self.height_angle)
        x, y, z = points.T
        across, away = c * x + s * y, -s * x + c * y
        return np.column_stack([across, up * z + flat * away, up * away - flat * z])

    def _frame(self, bodies: FloatArray) -> tuple[FloatArray, float]:
        """Return the middle of the building and the px of a metre."""
        low = np.array([*bodies[:, :2].min(axis=0), bodies[:, 2].min()])
        high = np.array([*bodies[:, :2].max(axis=0), bodies[:, 3].max()])
        corners = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)])
        centre = (low + high) / 2
        turned = self._turn(low + corners * (high - low) - centre)
        size = np.maximum(np.abs(turned[:, :2]).max(axis=0) * 2, 1.0)
        room = np.array([self.width() - 2 * MARGIN, self.height() - 2 * MARGIN])
        return centre, float((room / size).min()) * self._zoom

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint floors and columns, the nearest last."""
        theme, painter = current_theme(), QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.panel))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        keys, bodies = self.lifts()
        if len(keys):
            self._paint_floors(painter, theme, bodies)
            self._paint_lifts(painter, theme, keys, bodies)
        painter.end()

    def _paint_floors(self, painter: QPainter, theme: Theme, bodies: FloatArray) -> None:
        (x0, y0), (x1, y1) = bodies[:, :2].min(axis=0), bodies[:, :2].max(axis=0)
        levels = np.unique(bodies[:, 2:4])
        corners = np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])
        painter.setPen(QPen(QColor(theme.hairline), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for level in levels:
            points = self.projected(np.column_stack([corners, np.full(4, level)]))
            painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y, _ in points]))

    def _paint_lifts(
        self, painter: QPainter, theme: Theme, keys: list[LiftKey], bodies: FloatArray
    ) -> None:
        results, chosen = self._document.results, self._document.selection.lift
        feet, tops = self.projected(bodies[:, :3]), self.projected(bodies[:, [0, 1, 3]])
        _, scale = self._frame(bodies)
        widths = np.clip(bodies[:, 4] * scale, 2.0, 40.0)
        fine = {False: QColor(theme.axis), True: QColor(theme.capacity)}
        marked = []
        for i in np.argsort(-(feet[:, 2] + tops[:, 2])):
            key = keys[i]
            result = results.get(key)
            state = State.NOT_CHECKED if result is None else result.state
            colour = fine[key == chosen]
            if state is State.EXCEEDED or (result is not None and result.utilisation > CLOSE):
                shown = state if state is State.EXCEEDED else State.ATTENTION
                colour = theme.state(shown)
                marked.append((i, shown))
            elif state is State.NOT_CHECKED:
                colour = QColor(theme.unchecked)
            pen = QPen(colour, float(widths[i]), Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap)
            painter.setPen(pen)
            painter.drawLine(QPointF(*feet[i, :2]), QPointF(*tops[i, :2]))
        for i, state in marked:
            middle = (feet[i, :2] + tops[i, :2]) / 2
            box = QRectF(middle[0] - 7, middle[1] - 7, 14, 14)
            painter.fillRect(box, QColor(theme.panel))
            paint_glyph(painter, state, QPointF(*middle), 11, theme)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of the building."""
        assert event is not None
        self._pressed, self._turned = event.position(), False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Turn the building."""
        assert event is not None
        if self._pressed is None:
            return
        moved = event.position() - self._pressed
        if self._turned or math.hypot(moved.x(), moved.y()) > DRAG:
            self._turned = True
            self.azimuth += moved.x() / 150
            tilt = self.height_angle + moved.y() / 250
            self.height_angle = min(max(tilt, 0.0), math.pi / 2)
            self._pressed = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Go to the lift that is clicked."""
        assert event is not None
        turned, self._pressed = self._turned, None
        keys, bodies = self.lifts()
        if turned or not len(keys):
            return
        middle = bodies[:, :3].copy()
        middle[:, 2] = bodies[:, 2:4].mean(axis=1)
        points = self.projected(middle)
        feet, tops = self.projected(bodies[:, :3]), self.projected(bodies[:, [0, 1, 3]])
        at = np.array([event.position().x(), event.position().y()])
        reach = np.abs(feet[:, 1] - tops[:, 1]) / 2
        aside = np.hypot(points[:, 0] - at[0], np.maximum(np.abs(points[:, 1] - at[1]) - reach, 0))
        near = np.flatnonzero(aside < NEAR)
        if len(near):
            # Of several behind one another the nearest to the eye.
            best = near[np.lexsort((points[near, 2], np.round(aside[near] / 4)))[0]]
            self.opened.emit(keys[best])

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Come nearer, or go away."""
        assert event is not None
        self._zoom = min(max(self._zoom * 1.2 ** (event.angleDelta().y() / 120), 0.5), 12.0)
        self.update()
