"""Qt view for the direction of a moment: a dial that is turned by dragging or by keys."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QWidget

from fexro.desktop.theme import current_theme

__all__ = ["PlaneDial"]

SIZE = 26
STEP, LEAP = 1.0, 15.0  # degrees


class PlaneDial(QWidget):
    """A dial from Mx (to the right) towards My (up).

    Signals:
        turned: the angle in radians, while it is turned.
        released: the dragging is over.
    """

    turned = pyqtSignal(float)
    released = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(QSize(SIZE, SIZE))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setAccessibleName("Direction of the moment")
        self.setToolTip(
            "Drag to turn the plane; arrows turn it by 1°, with Shift by 15°. Mx is to the right."
        )
        self._angle = 0.0

    def show_angle(self, angle: float) -> None:
        """Show an angle in radians."""
        self._angle = angle
        self.setAccessibleDescription(f"{math.degrees(angle):.1f}°")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme = current_theme()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        face = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        painter.setPen(QPen(QColor(theme.capacity if self.hasFocus() else theme.axis), 1))
        painter.setBrush(QColor(theme.panel))
        painter.drawEllipse(face)
        painter.setPen(QPen(QColor(theme.hairline), 1))
        painter.drawLine(QPointF(face.left(), SIZE / 2), QPointF(face.right(), SIZE / 2))
        painter.drawLine(QPointF(SIZE / 2, face.top()), QPointF(SIZE / 2, face.bottom()))
        reach = face.width() / 2 - 1
        tip = QPointF(
            SIZE / 2 + reach * math.cos(self._angle), SIZE / 2 - reach * math.sin(self._angle)
        )
        painter.setPen(QPen(QColor(theme.capacity), 2))
        painter.drawLine(QPointF(SIZE / 2, SIZE / 2), tip)
        painter.setBrush(QColor(theme.capacity))
        painter.drawEllipse(tip, 1.8, 1.8)
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setCursor(Qt.CursorShape.ClosedHandCursor)
        self._follow(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        self._follow(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.released.emit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and event.angleDelta().y():
            self._turn_by(math.copysign(STEP, event.angleDelta().y()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        by = LEAP if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else STEP
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Up):
            self._turn_by(by)
        elif event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Down):
            self._turn_by(-by)
        else:
            super().keyPressEvent(event)

    def _turn_by(self, degrees: float) -> None:
        turned = math.radians(round(math.degrees(self._angle) + degrees, 6))
        self.turned.emit(math.remainder(turned, 2 * math.pi))
        self.released.emit()

    def _follow(self, event: QMouseEvent | None) -> None:
        if event is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        x, y = event.position().x() - SIZE / 2, SIZE / 2 - event.position().y()
        if x or y:
            self.turned.emit(math.atan2(y, x))
