"""Qt view for proposals side by side, each section drawn to scale with what it comes to."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from fexro.core.findings import State
from fexro.core.quantities import format_number
from fexro.core.section.call_out import short_call_out
from fexro.core.section.section import Section
from fexro.core.section.ties import HeldRule
from fexro.core.sizing.objective import Costs
from fexro.desktop.drawing import Fit, paint_glyph, paint_section
from fexro.desktop.theme import Theme, current_theme, font

__all__ = ["Card", "ProposalStrip"]

WIDTH, HEIGHT = 112.0, 128.0  # px, of a card
FLAGS = Qt.AlignmentFlag


@dataclass(frozen=True, eq=False)
class Card:
    """Bars and ties as they are shown.

    Attributes:
        bars, ties: call-outs.
        section: with them.
        rule: by which its ties go round.
        ratio: utilisation.
        state: of the lift with them.
        costs: what it comes to.
        present: whether the lift has them.
        aim: what is to be small, which is shown.
    """

    bars: str
    ties: str
    section: Section
    rule: HeldRule
    ratio: float
    state: State
    costs: Costs
    present: bool = False
    aim: str = "mass"

    @property
    def measure(self) -> str:
        """What is to be small, as it is shown."""
        costs = self.costs
        shown = {
            "cost": f"cost {format_number(costs.cost, 0)}",
            "carbon": f"{format_number(costs.carbon, 0)} kg CO₂e",
            "fewest bars": f"{costs.count} bars, {format_number(costs.mass, 0)} kg",
        }
        return shown.get(self.aim, f"{format_number(costs.mass, 0)} kg")

    @property
    def told(self) -> str:
        """All of it in a line."""
        costs = self.costs
        ratio = "" if math.isnan(self.ratio) else f", utilisation {self.ratio:.3f}"
        return (
            f"{self.bars}, {self.ties}{ratio}: {format_number(costs.mass, 0)} kg of steel,"
            f" cost {format_number(costs.cost, 0)}, {format_number(costs.carbon, 0)} kg CO₂e,"
            f" {costs.count} bars"
        )


class ProposalStrip(QWidget):
    """Proposals side by side, the present bars first; a click or Return takes one.

    Signals:
        pointed: number of the card under the pointer; -1 when it leaves.
        chosen: number of the card to take.
    """

    pointed = pyqtSignal(int)
    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Proposals")
        self.setToolTip("Click to take one, or choose with the arrows and press Return")
        self.cards: tuple[Card, ...] = ()
        self._at = -1

    def show_cards(self, cards: Sequence[Card]) -> None:
        """Show some proposals."""
        self.cards = tuple(cards)
        self._at = min(self._at, len(self.cards) - 1)
        self.setMinimumWidth(int(WIDTH * min(max(len(cards), 1), 4)))
        self.update()

    def point_at(self, number: int) -> None:
        """Mark a card, or none."""
        if number != self._at:
            self._at = number
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(int(WIDTH * 7), int(HEIGHT))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, painter = current_theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for number, card in enumerate(self.cards):
            self._paint_card(painter, self._box(number), number, card, theme)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(theme.capacity), 1, Qt.PenStyle.DotLine))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    def _paint_card(
        self, painter: QPainter, box: QRectF, number: int, card: Card, theme: Theme
    ) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        if number == self._at:
            painter.setBrush(QColor(theme.track))
            painter.drawRoundedRect(box, 4, 4)
        if card.present:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(theme.capacity), 1.4))
            painter.drawRoundedRect(box, 4, 4)
        texts = 15.0 * 4
        drawn = QRectF(box.left() + 8, box.top() + 5, box.width() - 16, box.height() - texts - 10)
        fit = Fit(card.section.outline.bounds, drawn)
        paint_section(painter, card.section, fit, theme, card.rule)
        line = QRectF(box.left() + 4, box.bottom() - texts - 2, box.width() - 8, 15)
        ratio = "–" if math.isnan(card.ratio) else f"{card.ratio:.2f}"
        rows = (
            (" ".join(short_call_out(card.bars)), 11, 600, theme.ink),
            (card.ties, 10, 400, theme.secondary),
            (ratio, 11, 600, theme.ink),
            (card.measure, 10, 400, theme.secondary),
        )
        for text, size, weight, colour in rows:
            painter.setFont(font(size, weight))
            painter.setPen(QColor(colour))
            short = painter.fontMetrics().elidedText(
                text, Qt.TextElideMode.ElideMiddle, int(line.width())
            )
            painter.drawText(line, FLAGS.AlignHCenter | FLAGS.AlignVCenter, short)
            if text == ratio:
                half = painter.fontMetrics().horizontalAdvance(ratio) / 2
                at = QPointF(line.center().x() - half - 10, line.center().y())
                paint_glyph(painter, card.state, at, 9, theme)
            line.translate(0, 15)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Mark the card under the pointer."""
        if event is not None:
            self._go(self._number(event.position()))

    def leaveEvent(self, event: QEvent | None) -> None:
        """Mark none."""
        self._go(-1)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Take the card that is clicked."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._take(self._number(event.position()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Go along the cards, and take one."""
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and self.cards:
            self._go(min(max(self._at + step, 0), len(self.cards) - 1))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take(self._at)
        else:
            super().keyPressEvent(event)

    def _box(self, number: int) -> QRectF:
        width = min(WIDTH, self.width() / max(len(self.cards), 1))
        return QRectF(number * width + 2, 2, width - 4, self.height() - 4)

    def _number(self, at: QPointF) -> int:
        return next((i for i in range(len(self.cards)) if self._box(i).contains(at)), -1)

    def _go(self, number: int) -> None:
        if number != self._at:
            self._at = number
            self.update()
            self.pointed.emit(number)

    def _take(self, number: int) -> None:
        if 0 <= number < len(self.cards) and not self.cards[number].present:
            self.chosen.emit(number)
