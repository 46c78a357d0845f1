"""Qt view for the storeys of a building to scale, one of them picked."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from fexro.desktop.document import Document
from fexro.desktop.lengths import write_metres
from fexro.desktop.theme import current_theme, font
from fexro.project.storey import Storey

__all__ = ["Elevation"]

LEAST = 13  # px between two names


class Elevation(QWidget):
    """Floors at their levels; a click picks a storey."""

    picked = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document, self._storey = document, ""
        self.setMinimumWidth(90)
        self.setAccessibleName("Storeys in elevation")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        document.edited.connect(lambda _: self.update())

    def show_storey(self, name: str) -> None:
        """Show which storey is picked."""
        self._storey = name
        self.update()

    def storeys(self) -> tuple[Storey, ...]:
        """Return the storeys, from the highest."""
        project = self._document.project
        return () if project is None else project.storeys

    def height_of(self, level: float) -> float:
        """Return where a level is on the screen."""
        storeys = self.storeys()
        top, base = storeys[0].level, storeys[-1].level - storeys[-1].height
        room = self.height() - 60
        return 30 + room * (top - level) / max(top - base, 1e-6)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the floors, their names and levels, and the storey that is picked."""
        storeys, theme = self.storeys(), current_theme()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.panel))
        project = self._document.project
        if not storeys or project is None:
            painter.end()
            return
        system, last = project.basis.system, -1e9
        for storey in storeys:
            top = self.height_of(storey.level)
            bottom = self.height_of(storey.level - storey.height)
            chosen = storey.name == self._storey
            if chosen:
                painter.fillRect(QRectF(0, top, self.width(), bottom - top), QColor(theme.track))
            painter.setPen(QPen(QColor(theme.secondary if chosen else theme.axis), 1))
            painter.drawLine(QPointF(10, top), QPointF(self.width() - 8, top))
            painter.drawLine(QPointF(10, bottom), QPointF(self.width() - 8, bottom))
            middle = (top + bottom) / 2
            if middle - last < LEAST and not chosen:
                continue
            last = middle
            painter.setFont(font(11, 600 if chosen else 400))
            painter.setPen(QColor(theme.ink if chosen else theme.secondary))
            painter.drawText(QPointF(14, middle + 4), storey.name)
            if bottom - top > 2.2 * LEAST:
                painter.setFont(font(9))
                painter.setPen(QColor(theme.secondary))
                level = write_metres(storey.level, system, 2)
                painter.drawText(
                    QRectF(0, top + 1, self.width() - 10, 12), Qt.AlignmentFlag.AlignRight, level
                )
        painter.end()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Pick the storey that is clicked."""
        assert event is not None
        y = event.position().y()
        for storey in self.storeys():
            if self.height_of(storey.level) <= y <= self.height_of(storey.level - storey.height):
                self.picked.emit(storey.name)
                return
