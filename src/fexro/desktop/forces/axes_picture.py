"""Qt view for signs and axes: a section with the forces of one row of a table on it."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from fexro.core.arrays import FloatArray
from fexro.desktop.theme import current_theme, font

__all__ = ["AxesPicture"]

WIDTH, DEPTH = 74.0, 96.0  # px, of the section


class AxesPicture(QWidget):
    """A section with its axes x and y, the local axes a and b, and what a row puts on it."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(196)
        self.setAccessibleName("Signs and axes")
        self._matrix: tuple[tuple[float, float], tuple[float, float]] = ((1.0, 0.0), (0.0, 1.0))
        self._row: FloatArray | None = None
        self._caption = "Pick a row: its forces are drawn here as they are read."

    def show_row(
        self,
        caption: str,
        row: FloatArray | None,
        matrix: tuple[tuple[float, float], tuple[float, float]],
    ) -> None:
        """Show what a row puts on a section.

        Args:
            caption: which row it is.
            row: N, Vx, Vy, T, Mx, My in kN and kN·m as they are taken; nothing where it has none.
            matrix: (Mx, My) of (Ma, Mb).
        """
        self._caption, self._row, self._matrix = caption, row, matrix
        self.setToolTip(caption)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the section, the compressed corner, axes and numbers."""
        theme, painter = current_theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        centre = QPointF(92, 112)
        box = QRectF(centre.x() - WIDTH / 2, centre.y() - DEPTH / 2, WIDTH, DEPTH)
        painter.setPen(QPen(QColor(theme.ink), 1.2))
        painter.setBrush(QColor(theme.concrete))
        painter.drawRect(box)
        row = self._row
        if row is not None and (row[4] or row[5]):
            self._paint_compressed(painter, box, float(row[4]), float(row[5]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        secondary, capacity = QColor(theme.secondary), QColor(theme.capacity)
        painter.setFont(font(11))
        self._arrow(painter, centre, QPointF(1, 0), 62, secondary, "x")
        self._arrow(painter, centre, QPointF(0, -1), 74, secondary, "y")
        # Mb compresses the +a face, so that a lies where My of Mb points.
        (_, mx_b), (_, my_b) = self._matrix
        (mx_a, _), (my_a, _) = self._matrix
        self._arrow(painter, centre, QPointF(my_b, -mx_b), 40, capacity, "a", beside=True)
        self._arrow(painter, centre, QPointF(my_a, -mx_a), 40, capacity, "b", beside=True)
        painter.setPen(QColor(theme.secondary))
        painter.setFont(font(11))
        painter.drawText(QRectF(0, 0, self.width(), 20), Qt.AlignmentFlag.AlignLeft, self._caption)
        if row is not None:
            self._paint_numbers(painter, row)
        painter.end()

    def _paint_compressed(self, painter: QPainter, box: QRectF, mx: float, my: float) -> None:
        """Shade what moments compress: +y by Mx, +x by My."""
        size = math.hypot(mx / DEPTH, my / WIDTH)
        if size == 0:
            return
        corners = [box.topLeft(), box.topRight(), box.bottomRight(), box.bottomLeft()]
        centre = box.center()

        def strain(point: QPointF) -> float:
            return (
                mx * (centre.y() - point.y()) / DEPTH**2 + my * (point.x() - centre.x()) / WIDTH**2
            )

        polygon = QPolygonF()
        for i, corner in enumerate(corners):
            other = corners[(i + 1) % 4]
            a, b = strain(corner), strain(other)
            if a >= 0:
                polygon.append(corner)
            if (a >= 0) != (b >= 0):
                polygon.append(corner + (other - corner) * (a / (a - b)))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(current_theme().compressed))
        painter.drawPolygon(polygon)

    def _arrow(
        self,
        painter: QPainter,
        start: QPointF,
        way: QPointF,
        length: float,
        colour: QColor,
        name: str,
        *,
        beside: bool = False,
    ) -> None:
        size = math.hypot(way.x(), way.y())
        if size < 1e-9:
            return
        unit = way / size
        end = start + unit * length
        across = QPointF(-unit.y(), unit.x())
        painter.setPen(QPen(colour, 1.4))
        painter.drawLine(start, end)
        for side in (-1, 1):
            painter.drawLine(end, end - unit * 6 + across * (3.5 * side))
        place = end + across * 10 if beside else end + unit * 9
        painter.drawText(
            QRectF(place.x() - 8, place.y() - 8, 16, 16), Qt.AlignmentFlag.AlignCenter, name
        )

    def _paint_numbers(self, painter: QPainter, row: FloatArray) -> None:
        theme = current_theme()
        lines = [
            ("N", row[0], "kN", "compression" if row[0] >= 0 else "tension"),
            ("Mx", row[4], "kN·m", "compresses " + ("+y" if row[4] >= 0 else "−y")),
            ("My", row[5], "kN·m", "compresses " + ("+x" if row[5] >= 0 else "−x")),
            ("Vx", row[1], "kN", ""),
            ("Vy", row[2], "kN", ""),
        ]
        left = 186
        top = 38.0
        for name, value, unit, told in lines:
            painter.setPen(QColor(theme.ink))
            painter.setFont(font(12))
            number = f"{value:,.1f}".replace(",", "\u2009").replace("-", "−")
            painter.drawText(QPointF(left, top), f"{name}  {number} {unit}")
            painter.setPen(QColor(theme.secondary))
            painter.setFont(font(10))
            painter.drawText(QPointF(left, top + 13), told)
            top += 32 if told else 20
