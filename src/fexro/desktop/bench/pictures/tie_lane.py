"""The ties of a lift over its clear height, painted beside how it bends."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from fexro.core.members.elevation import ties_along
from fexro.core.members.lift import Lift, PreparedLift
from fexro.core.quantities import UnitSystem
from fexro.core.tie_zones import TieZone, tie_count, tie_places
from fexro.desktop.bench.pictures.shown import length_text
from fexro.desktop.theme import current_theme, font

__all__ = ["TieLane"]

WIDTH = 20.0  # px, of the lift
FLAGS = Qt.AlignmentFlag


class TieLane:
    """The lift seen from the side, with every set of its ties and the call-out of each zone."""

    def __init__(self) -> None:
        self._lift: Lift | None = None
        self._zones: tuple[TieZone, ...] = ()
        self._system = UnitSystem.SI

    def show_lift(self, prepared: PreparedLift, system: UnitSystem) -> None:
        """Show the ties of a lift."""
        self._lift, self._system = prepared.lift, system
        self._zones = ties_along(prepared)

    def called(self, zone: TieZone) -> str:
        """Return the call-out of a zone."""
        assert self._lift is not None
        size = self._lift.facts.section.ties.size.name
        return f"{size}@{length_text(zone.called, self._system)}"

    @property
    def counted(self) -> str:
        """How many there are."""
        assert self._lift is not None
        if self._lift.facts.section.ties.spiral:
            return "spiral"
        return f"{tie_count(self._zones)} sets of ties"

    def draw(self, painter: QPainter, area: QRectF) -> None:
        """Paint them; the area is the clear height."""
        if self._lift is None:
            return
        theme, clear = current_theme(), self._lift.facts.clear_height
        painter.setFont(font(11, 600))
        painter.setPen(QColor(theme.ink))
        head = QRectF(area.left(), area.top() - 68, area.width() + 30, 16)
        painter.drawText(head, FLAGS.AlignLeft, "Ties")
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        head.translate(0, 16)
        painter.drawText(head, FLAGS.AlignLeft, self.counted)
        left, right = area.left() + 2, area.left() + 2 + WIDTH
        painter.setPen(QPen(QColor(theme.hairline), 1))
        for y in (area.top(), area.bottom()):
            painter.drawLine(QPointF(left - 4, y), QPointF(area.right(), y))
        painter.fillRect(QRectF(left, area.top(), WIDTH, area.height()), QColor(theme.concrete))

        def at(place: float) -> float:
            return area.bottom() - place / clear * area.height()

        painter.setPen(QPen(QColor(theme.satisfied), 1.2))
        for place in tie_places(self._zones):
            painter.drawLine(QPointF(left + 2, at(place)), QPointF(right - 2, at(place)))
        painter.setFont(font(10))
        for zone in self._zones:
            top, bottom = at(zone.end), at(zone.start)
            painter.setPen(QPen(QColor(theme.secondary), 1))
            x = right + 7
            painter.drawLine(QPointF(x, top), QPointF(x, bottom))
            for y in (top, bottom):
                painter.drawLine(QPointF(x - 3, y), QPointF(x + 3, y))
            painter.setPen(QColor(theme.ink))
            text = QRectF(x + 7, (top + bottom) / 2 - 7, 84, 14)
            painter.drawText(text, FLAGS.AlignVCenter, self.called(zone))
