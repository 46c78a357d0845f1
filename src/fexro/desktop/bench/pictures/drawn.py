"""Qt view for pictures that are drawn whole at any size: nothing in them is zoomed."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fexro.desktop.bench.pictures.picture import Control
from fexro.desktop.theme import current_theme

__all__ = ["DrawnPicture"]


class DrawnPicture(QWidget):
    """A picture over the height of a lift, read at the height of the pointer.

    Args:
        accessible: what it is called by those who read the screen aloud.
        above, below: px above and below the height.
    """

    name = ""
    controls: frozenset[Control] = frozenset()
    sharpness = 2.0
    picked = pyqtSignal(int)
    read = pyqtSignal(str)
    turned = pyqtSignal(float)
    chosen = pyqtSignal(str)

    def __init__(self, accessible: str, above: float, below: float) -> None:
        super().__init__()
        self.setAccessibleName(accessible)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(240, 180)
        self.setMouseTracking(True)
        self._above, self._below = above, below
        self._pointer: float | None = None

    @property
    def widget(self) -> QWidget:
        """The widget that it is."""
        return self

    def fit(self) -> None:
        """Leave it: all of it is always shown."""
        return

    def fit_demands(self) -> None:
        """Leave it: all of it is always shown."""
        return

    def restyle(self) -> None:
        """Take the colours of the theme."""
        self.update()

    def missing(self) -> str:
        """Return why nothing can be painted; empty where it can."""
        return ""

    def reading_at(self, share: float) -> str:
        """Return what is read at a share of the height."""
        return ""

    def draw(self, painter: QPainter, area: QRectF) -> None:
        """Paint what there is."""

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Read the values at the height of the pointer."""
        if event is None or self.missing():
            return
        span = self.height() - self._above - self._below
        share = (self.height() - self._below - event.position().y()) / max(span, 1)
        self._pointer = float(min(max(share, 0), 1))
        self.read.emit(self.reading_at(self._pointer))
        self.update()

    def leaveEvent(self, event: QEvent | None) -> None:
        """Read nothing."""
        self._pointer = None
        self.read.emit("")
        self.update()
        super().leaveEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint it on the screen."""
        painter = QPainter(self)
        self.paint(painter, QRectF(self.rect()))
        painter.end()

    def paint(self, painter: QPainter, area: QRectF) -> bool:
        """Paint into an area of any device; tell whether there was something to paint."""
        theme = current_theme()
        painter.fillRect(area, QColor(theme.paper))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.missing():
            painter.setPen(QColor(theme.secondary))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, self.missing())
            return False
        self.draw(painter, area)
        return True
