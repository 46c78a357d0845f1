"""Qt view for other bars: what the same layout gives with each, in a strip to choose from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fexro.core.findings import state_of_ratio
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.theme import current_theme, font

__all__ = ["BarChoice", "BarStrip"]

HEIGHT = 34


@dataclass(frozen=True)
class BarChoice:
    """A call-out and its worst utilisation; none where the bars have no place."""

    call_out: str
    utilisation: float | None
    present: bool = False


class BarStrip(QWidget):
    """Choices side by side: drag across them to see each, let go or click to adopt one.

    Signals:
        previewed: the call-out under the pointer; empty when it leaves.
        chosen: the call-out to adopt.
    """

    previewed = pyqtSignal(str)
    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Other bars")
        self.setToolTip("Drag across to compare; click or press Return to adopt (undo takes back)")
        self.choices: tuple[BarChoice, ...] = ()
        self._at: int | None = None

    def show_choices(self, choices: Sequence[BarChoice]) -> None:
        """Show some choices; the present bars are marked."""
        self.choices = tuple(choices)
        self._at = None
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme = current_theme()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for number, choice in enumerate(self.choices):
            box = self._box(number)
            painter.setPen(Qt.PenStyle.NoPen)
            if number == self._at:
                painter.setBrush(QColor(theme.track))
                painter.drawRoundedRect(box, 4, 4)
            if choice.present:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(QColor(theme.capacity), 1.4))
                painter.drawRoundedRect(box, 4, 4)
            inside = box.adjusted(6, 2, -4, -2)
            painter.setFont(font(11, 600 if choice.present else 500))
            painter.setPen(QColor(theme.ink))
            text = painter.fontMetrics().elidedText(
                choice.call_out, Qt.TextElideMode.ElideMiddle, int(inside.width())
            )
            flags = Qt.AlignmentFlag.AlignHCenter
            painter.drawText(inside, flags | Qt.AlignmentFlag.AlignTop, text)
            painter.setFont(font(11))
            if choice.utilisation is None:
                painter.setPen(QColor(theme.secondary))
                painter.drawText(inside, flags | Qt.AlignmentFlag.AlignBottom, "no place")
                continue
            state = state_of_ratio(choice.utilisation)
            value = f"{choice.utilisation:.2f}"
            half = painter.fontMetrics().horizontalAdvance(value) / 2
            painter.drawText(
                inside.adjusted(8, 0, 8, 0), flags | Qt.AlignmentFlag.AlignBottom, value
            )
            glyph = QPointF(inside.center().x() - half - 3, inside.bottom() - 7)
            paint_glyph(painter, state, glyph, 9, theme)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(theme.capacity), 1, Qt.PenStyle.DotLine))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._go(self._number(event.position()))

    def leaveEvent(self, event: QEvent | None) -> None:
        self._go(None)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._adopt(self._number(event.position()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and self.choices:
            here = self._at if self._at is not None else self._present()
            self._go(min(max(here + step, 0), len(self.choices) - 1))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._adopt(self._at)
        else:
            super().keyPressEvent(event)

    def _present(self) -> int:
        return next((i for i, choice in enumerate(self.choices) if choice.present), 0)

    def _box(self, number: int) -> QRectF:
        width = self.width() / max(len(self.choices), 1)
        return QRectF(number * width + 2, 1, width - 4, self.height() - 2)

    def _number(self, at: QPointF) -> int | None:
        if not self.choices or not self.rect().contains(at.toPoint()):
            return None
        return min(int(at.x() / (self.width() / len(self.choices))), len(self.choices) - 1)

    def _go(self, number: int | None) -> None:
        if number != self._at:
            self._at = number
            self.update()
            self.previewed.emit("" if number is None else self.choices[number].call_out)

    def _adopt(self, number: int | None) -> None:
        if number is None:
            return
        choice = self.choices[number]
        if choice.utilisation is not None and not choice.present:
            self.chosen.emit(choice.call_out)
