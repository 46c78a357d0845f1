"""What several views paint: a section to scale, the glyph of a state, a utilisation bar."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QBrush,
    QColor,
    QIcon,
    QPainter,
    QPainterPath,
    QPen,
    QPixmap,
    QPolygonF,
)

from fexro.core.arrays import FloatArray
from fexro.core.findings import State
from fexro.core.quantities import Dimension, UnitSystem, unit_of
from fexro.core.section.section import Section
from fexro.core.section.ties import HeldRule, arrange
from fexro.desktop.theme import Theme, mixed

__all__ = [
    "Fit",
    "paint_bar",
    "paint_glyph",
    "paint_section",
    "ring_path",
    "state_icon",
    "write_length",
]

BAR_END = 1.25


class Fit:
    """Maps section coordinates (mm, y up) into a rectangle of the screen, to scale."""

    def __init__(self, bounds: tuple[float, float, float, float], target: QRectF) -> None:
        x0, y0, x1, y1 = bounds
        self.middle = target.center()
        self.scale = min(target.width() / (x1 - x0), target.height() / (y1 - y0))
        self.x = target.center().x() - self.scale * (x0 + x1) / 2
        self.y = target.center().y() + self.scale * (y0 + y1) / 2

    def zoom(self, by: float, across: float, down: float) -> None:
        """Come nearer by a factor about the middle of the rectangle, then move by px."""
        self.x += (self.middle.x() - self.x) * (1 - by) + across
        self.y += (self.middle.y() - self.y) * (1 - by) + down
        self.scale *= by

    def point(self, x: float, y: float) -> QPointF:
        """Return a point of the section on the screen."""
        return QPointF(self.x + self.scale * x, self.y - self.scale * y)

    def place(self, at: QPointF) -> tuple[float, float]:
        """Return the point of the section, mm, that is at a place of the screen."""
        return (at.x() - self.x) / self.scale, (self.y - at.y()) / self.scale


def ring_path(rings: tuple[FloatArray, ...], fit: Fit) -> QPainterPath:
    """Return the outline with its voids as a path."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for ring in rings:
        path.addPolygon(QPolygonF([fit.point(x, y) for x, y in ring]))
        path.closeSubpath()
    return path


def paint_section(
    painter: QPainter, section: Section, fit: Fit, theme: Theme, rule: HeldRule
) -> None:
    """Paint concrete, steel, ties and bars to scale; ties inside are those that a rule asks for."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(theme.secondary), 1.0))
    painter.setBrush(QColor(theme.concrete))
    painter.drawPath(ring_path(section.outline.rings, fit))
    _paint_areas(painter, section, fit, theme)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(QColor(theme.satisfied), max(section.ties.size.diameter * fit.scale, 0.8)))
    if section.tie_ring is not None:
        painter.drawPath(ring_path((section.tie_ring,), fit))
    for line in arrange(section, rule).lines[1:]:
        painter.drawPolyline(QPolygonF([fit.point(x, y) for x, y in line]))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(theme.ink))
    bars = section.bars
    for x, y, diameter in zip(bars.x, bars.y, bars.diameter, strict=True):
        radius = max(diameter * fit.scale / 2, 1.5)
        painter.drawEllipse(fit.point(x, y), radius, radius)
    painter.restore()


def _paint_areas(painter: QPainter, section: Section, fit: Fit, theme: Theme) -> None:
    """Paint the areas of other concretes, each a shade darker, and the structural steel."""
    painter.setPen(QPen(QColor(theme.secondary), 1.0))
    names = list(dict.fromkeys(area.concrete for area in section.concretes))
    for area in section.concretes if section.zones else ():
        if area.concrete is not None:
            painter.setBrush(
                mixed(theme.concrete, theme.secondary, 0.18 * names.index(area.concrete))
            )
            painter.drawPath(ring_path(area.outline.rings, fit))
    painter.setPen(QPen(QColor(theme.ink), 0.8))
    painter.setBrush(mixed(theme.secondary, theme.ink, 0.25))
    for part in section.steel:
        painter.drawPath(ring_path(part.outline.rings, fit))


def paint_glyph(
    painter: QPainter, state: State, centre: QPointF, size: float, theme: Theme
) -> None:
    """Paint the glyph of a state: disc, hollow diamond, slashed square, dashed ring."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    colour = theme.state(state)
    half = size / 2
    match state:
        case State.SATISFIED:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour)
            painter.drawEllipse(centre, half * 0.72, half * 0.72)
        case State.ATTENTION:
            painter.setPen(QPen(colour, size * 0.16))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            x, y = centre.x(), centre.y()
            reach = half * 0.92
            painter.drawPolygon(
                QPolygonF(
                    [
                        QPointF(x, y - reach),
                        QPointF(x + reach, y),
                        QPointF(x, y + reach),
                        QPointF(x - reach, y),
                    ]
                )
            )
        case State.EXCEEDED:
            square = QRectF(
                centre.x() - half * 0.9, centre.y() - half * 0.9, size * 0.9, size * 0.9
            )
            painter.fillRect(square, QBrush(colour))
            painter.setPen(QPen(QColor(theme.panel), size * 0.17))
            painter.drawLine(square.bottomLeft(), square.topRight())
        case State.NOT_CHECKED:
            painter.setPen(QPen(colour, size * 0.16, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(centre, half * 0.8, half * 0.8)
    painter.restore()


def state_icon(state: State, theme: Theme) -> QIcon:
    """Return the glyph of a state as the icon of a list, the same where it is chosen."""
    size = 28
    pixmap = QPixmap(size, size)
    pixmap.fill(Qt.GlobalColor.transparent)
    pixmap.setDevicePixelRatio(2.0)
    painter = QPainter(pixmap)
    paint_glyph(painter, state, QPointF(7, 7), 11, theme)
    painter.end()
    icon = QIcon()
    for mode in (QIcon.Mode.Normal, QIcon.Mode.Selected):
        icon.addPixmap(pixmap, mode)
    return icon


def paint_bar(painter: QPainter, ratio: float, colour: QColor, area: QRectF, theme: Theme) -> None:
    """Paint a utilisation bar to 1.25 with a tick at 1.00."""
    painter.save()
    painter.fillRect(area, QColor(theme.track))
    if not math.isnan(ratio):
        length = min(max(ratio, 0.0), BAR_END) / BAR_END * area.width()
        painter.fillRect(QRectF(area.left(), area.top(), length, area.height()), colour)
    tick = area.left() + area.width() / BAR_END
    painter.setPen(QPen(QColor(theme.ink), 1.0))
    painter.drawLine(QPointF(tick, area.top() - 3), QPointF(tick, area.bottom() + 3))
    painter.restore()


def write_length(value: float, system: UnitSystem) -> str:
    """Write a dimension of a section without its unit, as drawings do."""
    unit = unit_of(Dimension.LENGTH, system)
    return f"{value / unit.size:.4g}"
