"""Qt view for all candidates: mass against utilisation, the efficient ones joined."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fexro.desktop.theme import Theme, current_theme, font

__all__ = ["CandidatesScatter", "Dot", "efficient"]

LEFT, BOTTOM, TOP, RIGHT = 34.0, 30.0, 8.0, 10.0  # px around the dots
NEAR = 12.0  # px, from the pointer to a dot
HIGHEST = 1.6  # utilisation up to which dots are drawn


@dataclass(frozen=True)
class Dot:
    """A candidate.

    Attributes:
        mass: kg.
        ratio: utilisation.
        told: what it is.
        card: number of its proposal, if it is one.
        present: whether the lift has it.
        number: of it among all.
    """

    mass: float
    ratio: float
    told: str
    card: int | None = None
    present: bool = False
    number: int = -1


def efficient(dots: Sequence[Dot]) -> list[Dot]:
    """Return the dots that no other betters in both mass and utilisation, by mass."""
    found: list[Dot] = []
    for dot in sorted(dots, key=lambda one: (one.mass, one.ratio)):
        if math.isfinite(dot.ratio) and (not found or dot.ratio < found[-1].ratio - 1e-9):
            found.append(dot)
    return found


class CandidatesScatter(QWidget):
    """Dots of all candidates; pointing tells which one it is, a click takes a proposal.

    Signals:
        pointed: number of the proposal under the pointer; -1 where there is none.
        hovered: number of the candidate under the pointer; -1 where there is none.
        told: what is under the pointer.
        chosen: number of the proposal to take.
    """

    pointed = pyqtSignal(int)
    hovered = pyqtSignal(int)
    told = pyqtSignal(str)
    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Candidates: mass of steel against utilisation")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(QSize(200, 110))
        self.setMouseTracking(True)
        self._dots: tuple[Dot, ...] = ()
        self._aim, self._at = 1.0, -1

    def show_dots(self, dots: Sequence[Dot], aim: float) -> None:
        """Show candidates, and the utilisation that is aimed at."""
        self._dots = tuple(dot for dot in dots if math.isfinite(dot.ratio))
        self._aim = aim
        self.update()

    def point_at(self, card: int) -> None:
        """Mark the dot of a proposal, or none."""
        self._at = card
        self.update()

    def _scale(self) -> tuple[QRectF, tuple[float, float], tuple[float, float]]:
        area = QRectF(self.rect()).adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
        masses = [dot.mass for dot in self._dots] or [0.0, 1.0]
        low, high = min(masses), max(masses)
        room = max(high - low, 1.0) * 0.06
        ratios = [min(dot.ratio, HIGHEST) for dot in self._dots]
        ends = min([*ratios, self._aim]), max([*ratios, self._aim])
        more = max(ends[1] - ends[0], 0.05) * 0.08
        return area, (low - room, high + room), (ends[0] - more, ends[1] + more)

    def _place(self, dot: Dot) -> QPointF:
        area, (low, high), _ = self._scale()
        x = area.left() + (dot.mass - low) / (high - low) * area.width()
        return QPointF(x, self._height(dot.ratio))

    def _height(self, ratio: float) -> float:
        """Return where a utilisation stands, px."""
        area, _, (least, most) = self._scale()
        return area.bottom() - (min(ratio, HIGHEST) - least) / (most - least) * area.height()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, painter = current_theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._dots:
            painter.end()
            return
        self._paint_axes(painter, theme)
        painter.setPen(QPen(QColor(theme.secondary), 1))
        line = [self._place(dot) for dot in efficient(self._dots)]
        painter.drawPolyline(QPolygonF(line))
        for dot in self._dots:
            at = self._place(dot)
            if dot.card is None and not dot.present:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(theme.axis))
                painter.drawEllipse(at, 2.0, 2.0)
        for dot in self._dots:
            if dot.card is None and not dot.present:
                continue
            at, marked = self._place(dot), dot.card == self._at and dot.card is not None
            painter.setPen(QPen(QColor(theme.capacity), 1.6))
            painter.setBrush(QColor(theme.panel if dot.present else theme.capacity))
            painter.drawEllipse(at, 5.5 if marked else 4.0, 5.5 if marked else 4.0)
        painter.end()

    def _paint_axes(self, painter: QPainter, theme: Theme) -> None:
        area, (low, high), (least, most) = self._scale()
        painter.setPen(QPen(QColor(theme.axis), 1))
        painter.drawLine(area.topLeft(), area.bottomLeft())
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.setFont(font(10))
        marks = [
            self._aim,
            *(r for r in (least, most) if abs(r - self._aim) > 0.15 * (most - least)),
        ]
        for ratio in marks:
            y = self._height(ratio)
            if ratio == self._aim:
                painter.setPen(QPen(QColor(theme.hairline), 1, Qt.PenStyle.DashLine))
                painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            painter.setPen(QColor(theme.secondary))
            box = QRectF(0, y - 8, LEFT - 4, 16)
            flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(box, flags, f"{ratio:.2f}")
        foot = QRectF(area.left(), area.bottom() + 3, area.width(), 14)
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft, f"{max(low, 0):.0f}")
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight, f"{high:.0f} kg of bars")
        foot.translate(0, 12)
        painter.drawText(foot, Qt.AlignmentFlag.AlignHCenter, "utilisation over mass")

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Tell what is under the pointer."""
        if event is None:
            return
        dot = self._near(event.position())
        self.told.emit("" if dot is None else dot.told)
        self.hovered.emit(-1 if dot is None or dot.present else dot.number)
        card = -1 if dot is None or dot.card is None else dot.card
        if card != self._at:
            self._at = card
            self.pointed.emit(card)
            self.update()

    def leaveEvent(self, event: QEvent | None) -> None:
        """Tell nothing."""
        self._at = -1
        self.told.emit("")
        self.hovered.emit(-1)
        self.pointed.emit(-1)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Take the proposal that is clicked."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            dot = self._near(event.position())
            if dot is not None and dot.card is not None:
                self.chosen.emit(dot.card)

    def _near(self, at: QPointF) -> Dot | None:
        def away(dot: Dot) -> float:
            place = self._place(dot)
            # Proposals are nearer than what is behind them.
            return math.hypot(place.x() - at.x(), place.y() - at.y()) - (dot.card is not None) * 3

        nearest = min(self._dots, key=away, default=None)
        return nearest if nearest is not None and away(nearest) <= NEAR else None
