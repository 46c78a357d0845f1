"""Painting of what is seen in a section beside its concrete, steel, bars and ties."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen

from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.core.section.section import Section
from fexro.core.section.ties import Arrangement
from fexro.desktop.drawing import Fit, ring_path, write_length
from fexro.desktop.theme import Theme, font
from fexro.project.shapes import (
    Circle,
    Composed,
    Ellipse,
    HollowCircle,
    PolygonShape,
    Shape,
)

__all__ = [
    "DIMENSION",
    "paint_chosen",
    "paint_dimensions",
    "paint_guides",
    "paint_parts",
    "paint_plane",
    "paint_told",
    "paint_unheld",
]

DIMENSION = 20.0  # px from the section to its dimensions
MANY_CORNERS = 60  # of a free outline from which they are not marked


def paint_parts(painter: QPainter, shape: Shape, fit: Fit, theme: Theme) -> None:
    """Paint the edges of parts, and the corners of a free outline, that can be dragged."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if isinstance(shape, Composed) and len(shape.parts) > 1:
        painter.setPen(QPen(QColor(theme.secondary), 1, Qt.PenStyle.DotLine))
        for part in shape.parts:
            core = part.part()
            rings = tuple(core.placed(ring) for ring in core.shape.outline().rings)
            painter.drawPath(ring_path(rings, fit))
    if isinstance(shape, PolygonShape) and len(shape.outer) <= MANY_CORNERS:
        painter.setPen(QPen(QColor(theme.secondary), 1))
        painter.setBrush(QColor(theme.paper))
        for x, y in shape.outer:
            at = fit.point(x, y)
            painter.drawRect(QRectF(at.x() - 2.5, at.y() - 2.5, 5, 5))


def paint_chosen(
    painter: QPainter, section: Section, chosen: Collection[int], fit: Fit, theme: Theme
) -> None:
    """Paint rings about the bars that are chosen, and about those that have no place."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    wrong = {one.bar for one in section.misplaced}
    bars = section.bars
    for i in sorted({*chosen, *wrong}):
        if i >= len(bars):
            continue
        painter.setPen(QPen(QColor(theme.exceeded if i in wrong else theme.capacity), 2))
        reach = max(float(bars.diameter[i]) * fit.scale / 2, 1.5) + 3
        painter.drawEllipse(fit.point(float(bars.x[i]), float(bars.y[i])), reach, reach)


def paint_unheld(
    painter: QPainter, ties: Arrangement, fit: Fit, theme: Theme, system: UnitSystem
) -> None:
    """Point at the bars that ties do not hold though they should, with how far a held one is."""
    section = ties.section
    cx, cy = section.outline.centroid
    painter.setFont(font(10))
    decimals = 0 if system is UnitSystem.SI else 1
    written: list[QRectF] = []
    for one in sorted(ties.unheld, key=lambda one: -one.nearer):
        if not one.reasons:
            continue
        x, y = float(section.bars.x[one.bar]), float(section.bars.y[one.bar])
        at = fit.point(x, y)
        reach = max(float(section.bars.diameter[one.bar]) * fit.scale / 2, 1.5) + 4
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(theme.exceeded), 1.6, Qt.PenStyle.DashLine))
        painter.drawEllipse(at, reach, reach)
        # Where only the next bar is not held either, how far a held one is says nothing.
        if "distance" not in one.reasons or not math.isfinite(one.nearer):
            continue
        text = format_number(one.nearer / unit_of(Dimension.LENGTH, system).size, decimals)
        away = math.hypot(x - cx, y - cy) or 1.0
        inward = QPointF(-(x - cx) / away, (y - cy) / away) * (reach + 20)
        wide = painter.fontMetrics().horizontalAdvance(text) + 4
        box = QRectF(at.x() + inward.x() - wide / 2, at.y() + inward.y() - 8, wide, 16)
        # Of many bars in a small drawing some have no room for their distance.
        if any(box.intersects(other) for other in written):
            continue
        written.append(box)
        painter.setPen(QColor(theme.exceeded))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def paint_guides(
    painter: QPainter, guides: Sequence[tuple[str, float]], fit: Fit, theme: Theme, area: QRectF
) -> None:
    """Paint lines of x or y, mm, that what is moved is in line with."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(QColor(theme.capacity), 1, Qt.PenStyle.DashLine))
    for axis, value in guides:
        at = fit.point(value, value)
        if axis == "x":
            painter.drawLine(QPointF(at.x(), area.top()), QPointF(at.x(), area.bottom()))
        else:
            painter.drawLine(QPointF(area.left(), at.y()), QPointF(area.right(), at.y()))


def paint_told(painter: QPainter, told: str, theme: Theme, width: int) -> None:
    """Paint what a gesture comes to."""
    painter.setFont(font(11, 600))
    wide = painter.fontMetrics().boundingRect(
        QRectF(0, 0, width - 12, 60).toRect(), Qt.TextFlag.TextWordWrap, told
    )
    box = QRectF(6, 4, wide.width() + 12, wide.height() + 6)
    painter.fillRect(box, QColor(theme.panel))
    painter.setPen(QColor(theme.ink))
    painter.drawText(box.adjusted(6, 3, -4, -3), Qt.TextFlag.TextWordWrap, told)


def paint_plane(
    painter: QPainter,
    section: Section,
    fit: Fit,
    theme: Theme,
    plane: tuple[float, float, float],
) -> None:
    """Paint the neutral axis and the compressed side.

    Args:
        painter: of the device.
        section: the section.
        fit: where it is.
        theme: its colours.
        plane: direction of the compressed side (cosine, sine), and the place of the neutral axis
            along it, mm from the centroid.
    """
    cos, sin, t = plane
    cx, cy = section.outline.centroid
    x0, y0, x1, y1 = section.outline.bounds
    reach = 2 * max(x1 - x0, y1 - y0)
    foot_x, foot_y = cx + t * cos, cy + t * sin
    a, b = (fit.point(foot_x - s * sin, foot_y + s * cos) for s in (reach, -reach))
    far = [
        fit.point(foot_x + reach * cos - s * sin, foot_y + reach * sin + s * cos)
        for s in (-reach, reach)
    ]
    half = QPainterPath()
    half.moveTo(a)
    for corner in (b, *far):
        half.lineTo(corner)
    half.closeSubpath()
    bounds = QRectF(fit.point(x0, y1), fit.point(x1, y0)).adjusted(-14, -14, 14, 14)
    painter.save()
    painter.setClipPath(ring_path(section.outline.rings, fit).intersected(half))
    wash = QColor(theme.capacity)
    wash.setAlphaF(0.18)
    painter.fillRect(bounds, wash)
    painter.setClipRect(bounds)
    painter.setPen(QPen(QColor(theme.capacity), 1.4, Qt.PenStyle.DashLine))
    painter.drawLine(a, b)
    painter.restore()


def paint_dimensions(
    painter: QPainter, section: Section, shape: Shape, fit: Fit, theme: Theme, system: UnitSystem
) -> None:
    """Paint width and depth over all; what is round is drawn as a polygon of its area."""
    x0, y0, x1, y1 = section.outline.bounds
    painter.setPen(QPen(QColor(theme.secondary), 1))
    painter.setFont(font(11))
    left, right = fit.point(x0, y0), fit.point(x1, y0)
    level = left.y() + DIMENSION
    _dimension(painter, QPointF(left.x(), level), QPointF(right.x(), level))
    top, bottom = fit.point(x0, y1), fit.point(x0, y0)
    aside = top.x() - DIMENSION
    _dimension(painter, QPointF(aside, top.y()), QPointF(aside, bottom.y()))
    over_all = x1 - x0, y1 - y0
    if isinstance(shape, Circle | HollowCircle):
        over_all = shape.diameter, shape.diameter
    elif isinstance(shape, Ellipse):
        over_all = shape.width, shape.depth
    width, height = (write_length(value, system) for value in over_all)
    painter.setPen(QColor(theme.ink))
    middle = (left.x() + right.x()) / 2
    painter.drawText(QRectF(middle - 50, level + 3, 100, 16), Qt.AlignmentFlag.AlignCenter, width)
    painter.save()
    painter.translate(aside - 5, (top.y() + bottom.y()) / 2)
    painter.rotate(-90)
    painter.drawText(QRectF(-50, -16, 100, 16), Qt.AlignmentFlag.AlignCenter, height)
    painter.restore()


def _dimension(painter: QPainter, a: QPointF, b: QPointF) -> None:
    painter.drawLine(a, b)
    across = QPointF(0, 4) if abs(a.y() - b.y()) < 1 else QPointF(4, 0)
    for end in (a, b):
        painter.drawLine(end - across, end + across)
