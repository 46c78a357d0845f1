"""Qt view for a lift between its floors: its ties, how it buckles, how its moments grow."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from fexro.core.arrays import FloatArray
from fexro.core.facts import End
from fexro.core.members.elevation import AxisElevation, elevation_of
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.desktop.bench.pictures.drawn import DrawnPicture
from fexro.desktop.bench.pictures.shown import Shown, length_text
from fexro.desktop.bench.pictures.tie_lane import TieLane
from fexro.desktop.theme import Theme, current_theme, font
from fexro.exchange.curves import Table

__all__ = ["ElevationView"]

TOP, BOTTOM, GAP, LEVELS = 72.0, 40.0, 22.0, 14.0  # px
TIES = 88.0  # px, of the lane of the ties
LANE = 0.40  # share of a direction's width that the lift itself takes
BEAM, HATCH = 26.0, 5.0  # px, of a stub of beam and of the ground
FLAGS = Qt.AlignmentFlag
AXES = ("x", "y")
BENT = 0.7  # of the reach of the buckled shape


class ElevationView(DrawnPicture):
    """The lift where it bends about x and about y, side by side."""

    name = "Elevation"

    def __init__(self) -> None:
        super().__init__("Elevation of the lift with its moments", TOP, BOTTOM)
        self._axes: tuple[AxisElevation, AxisElevation] | None = None
        self._ties = TieLane()
        self._moment, self._system = 1.0, UnitSystem.SI

    def show_shown(self, shown: Shown, *, refit: bool) -> None:
        """Show the chosen combination."""
        self._moment, self._system = shown.moment, shown.system
        self._ties.show_lift(shown.result.prepared, shown.system)
        name = shown.combination
        if name is None:
            self._axes = None
        else:
            at = shown.result.lift.actions.combinations.index(name)
            self._axes = elevation_of(shown.result.prepared, at)
        self.update()

    def caption(self, shown: Shown) -> str:
        """Return what happens in the combination."""
        if self._axes is None:
            return ""
        parts = [
            f"about {name} {'not known' if axis.missing else axis.state}"
            for name, axis in zip(AXES, self._axes, strict=True)
        ]
        known = not all(axis.missing for axis in self._axes)
        shape = " Dashed: buckled; thin: bent, not to scale." if known else ""
        return f"{shown.combination}: {'; '.join(parts)}.{shape}"

    def table(self, shown: Shown) -> Table | None:
        """Return first-order and final moments along the height."""
        if self._axes is None:
            return None
        unit = unit_of(Dimension.MOMENT, shown.system).symbol
        heads = ["share of the height"]
        for name in AXES:
            heads += [f"M{name} first order, {unit}", f"M{name} final, {unit}"]
        places = np.linspace(0.0, 1.0, 41)
        columns = [
            np.interp(places, axis.places, values) / self._moment
            for axis in self._axes
            for values in (axis.first, axis.final)
        ]
        rows = [
            (f"{place:.4f}", *(f"{column[i]:.6g}" for column in columns))
            for i, place in enumerate(places)
        ]
        return Table(tuple(heads), tuple(rows))

    def missing(self) -> str:
        """Return why nothing can be painted; empty where it can."""
        return "" if self._axes is not None else "No forces are known for this lift."

    def reading_at(self, share: float) -> str:
        """Return the moments at a share of the height."""
        assert self._axes is not None
        unit = unit_of(Dimension.MOMENT, self._system).symbol
        parts = []
        for name, axis in zip(AXES, self._axes, strict=True):
            first, final = (
                float(np.interp(share, axis.places, values)) / self._moment
                for values in (axis.first, axis.final)
            )
            text = f"M{name} {format_number(first, 1)} → {format_number(final, 1)} {unit}"
            if axis.eccentricity is not None:
                away = float(np.interp(share, axis.places, axis.eccentricity))
                text += f", {length_text(away, self._system)} aside"
            parts.append(text)
        height = length_text(self._axes[0].direction.storey * share, self._system)
        return f"{height} above the foot: {'; '.join(parts)}"

    def draw(self, painter: QPainter, area: QRectF) -> None:
        """Paint the ties, and both directions."""
        assert self._axes is not None
        height = area.height() - TOP - BOTTOM
        lane = QRectF(area.left() + GAP, area.top() + TOP, TIES, height)
        self._ties.draw(painter, lane)
        width = (area.right() - lane.right() - 3 * GAP) / 2
        for i, axis in enumerate(self._axes):
            left = lane.right() + GAP + i * (width + GAP)
            inner = QRectF(left, area.top() + TOP, width, height)
            self._draw_axis(painter, inner, AXES[i], axis)

    def _draw_axis(self, painter: QPainter, area: QRectF, name: str, axis: AxisElevation) -> None:
        theme = current_theme()
        painter.setFont(font(11, 600))
        painter.setPen(QColor(theme.ink))
        held = "braced" if axis.braced else "takes part in sway"
        head = QRectF(area.left() - 8, area.top() - 68, area.width() + 16, 16)
        painter.drawText(head, FLAGS.AlignLeft, f"Bending about {name}, {held}")
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        length = length_text(axis.effective, self._system)
        told = [f"effective length {length},", f"{axis.factor:.2f} of the clear one"]
        if axis.missing:
            told = ["the effective length is not known"]
        for number, text in enumerate(told):
            below = QRectF(head.left(), head.top() + 16 + 14 * number, head.width(), 14)
            painter.drawText(below, FLAGS.AlignLeft, _short(painter, text, below.width()))
        lane = QRectF(area.left(), area.top(), area.width() * LANE, area.height())
        self._draw_lift(painter, lane, axis, theme)
        diagram = QRectF(
            lane.right() + 16, area.top(), area.width() - lane.width() - 20, area.height()
        )
        self._draw_moments(painter, diagram, name, axis, theme)

    def _draw_lift(
        self, painter: QPainter, area: QRectF, axis: AxisElevation, theme: Theme
    ) -> None:
        """Draw the lift, its ends, the buckled shape and the effective length."""
        middle = area.left() + area.width() * 0.42
        for end, y in ((axis.direction.top, area.top()), (axis.direction.bottom, area.bottom())):
            _draw_end(painter, QPointF(middle, y), end, theme, down=y > area.center().y())
        painter.setPen(QPen(QColor(theme.satisfied), 3.5))
        painter.drawLine(QPointF(middle, area.top()), QPointF(middle, area.bottom()))
        if axis.missing:
            return
        reach = min(area.width() * 0.26, 30.0)

        def at(share: float, aside: float) -> QPointF:
            return QPointF(middle + reach * aside, area.bottom() - share * area.height())

        painter.setPen(QPen(QColor(theme.ink), 1.2))
        painter.drawPolyline(
            QPolygonF([at(s, BENT * v) for s, v in zip(axis.places, axis.bent, strict=True)])
        )
        painter.setPen(QPen(QColor(theme.capacity), 1.6, Qt.PenStyle.DashLine))
        painter.drawPolyline(
            QPolygonF([at(s, v) for s, v in zip(axis.places, axis.buckled, strict=True)])
        )
        painter.setPen(QPen(QColor(theme.capacity), 1.4))
        painter.setBrush(QColor(theme.paper))
        inside = [share for share in axis.inflections if -1e-6 <= share <= 1 + 1e-6]
        for share in inside:
            aside = float(np.interp(share, axis.places, axis.buckled))
            painter.drawEllipse(at(share, aside), 3.4, 3.4)
        self._draw_dimension(painter, area, axis, theme)

    def _draw_dimension(
        self, painter: QPainter, area: QRectF, axis: AxisElevation, theme: Theme
    ) -> None:
        """Draw the effective length between the points of inflection, open where it goes on."""
        x = area.right() - 6
        low, high = axis.inflections
        shown = [min(max(share, 0.0), 1.0) for share in (low, high)]
        ys = [area.bottom() - share * area.height() for share in shown]
        painter.setPen(QPen(QColor(theme.secondary), 1))
        painter.drawLine(QPointF(x, ys[0]), QPointF(x, ys[1]))
        for share, y in zip((low, high), ys, strict=True):
            if -1e-6 <= share <= 1 + 1e-6:
                painter.drawLine(QPointF(x - 4, y + 3), QPointF(x + 4, y - 3))
            else:
                # It goes on beyond the lift.
                turn = 5 if share < 0 else -5
                for side in (-3, 3):
                    painter.drawLine(QPointF(x, y), QPointF(x + side, y - turn))
        painter.save()
        painter.translate(x - 3, (ys[0] + ys[1]) / 2)
        painter.rotate(-90)
        painter.setFont(font(10))
        text = length_text(axis.effective, self._system)
        painter.drawText(QRectF(-50, -13, 100, 13), FLAGS.AlignCenter, text)
        painter.restore()

    def _draw_moments(
        self, painter: QPainter, area: QRectF, name: str, axis: AxisElevation, theme: Theme
    ) -> None:
        """Draw first-order and final moments over the height, with the value that governs."""
        first, final = axis.first / self._moment, axis.final / self._moment
        reach = max(float(np.abs(np.concatenate([first, final])).max()), 1e-9)
        zero, scale = area.center().x(), area.width() / 2 / reach

        def line(values: FloatArray) -> QPolygonF:
            return QPolygonF(
                [
                    QPointF(zero + v * scale, area.bottom() - s * area.height())
                    for v, s in zip(values, axis.places, strict=True)
                ]
            )

        painter.setPen(QPen(QColor(theme.hairline), 1))
        for y in (area.top(), area.bottom()):
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
        painter.setPen(QPen(QColor(theme.axis), 1))
        painter.drawLine(QPointF(zero, area.top()), QPointF(zero, area.bottom()))
        grown = line(final)
        outline = line(final)
        for point in reversed(line(first)):
            outline.append(point)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.track))
        painter.drawPolygon(outline)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(theme.secondary), 1.2))
        painter.drawPolyline(line(first))
        painter.setPen(QPen(QColor(theme.capacity), 2.0))
        painter.drawPolyline(grown)
        unit = unit_of(Dimension.MOMENT, self._system).symbol
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        head = QRectF(area.left() - 6, area.top() - 22, area.width() + 12, 14)
        painter.drawText(head, FLAGS.AlignCenter, f"M{name}, {unit}")
        peak = int(np.abs(final).argmax())
        place = grown[peak]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.capacity))
        painter.drawEllipse(place, 3.2, 3.2)
        painter.setPen(QColor(theme.ink))
        painter.setFont(font(11, 600))
        told = f"{_number(float(first[np.abs(first).argmax()]))} → {_number(float(final[peak]))}"
        foot = QRectF(area.left() - 16, area.bottom() + 8, area.width() + 32, 16)
        painter.drawText(foot, FLAGS.AlignCenter, told)
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        if axis.eccentricity is not None and np.abs(axis.eccentricity).max() > 0:
            away = float(axis.eccentricity[np.abs(axis.eccentricity).argmax()])
            foot.translate(0, 15)
            shown = length_text(abs(away), self._system)
            painter.drawText(foot, FLAGS.AlignCenter, f"{shown} more eccentricity")
        if self._pointer is not None:
            y = area.bottom() - self._pointer * area.height()
            painter.setPen(QPen(QColor(theme.capacity), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))


def _draw_end(painter: QPainter, at: QPointF, end: End, theme: Theme, *, down: bool) -> None:
    """Draw how an end is held: beams, ground, a pin, or nothing."""
    ink, x, y = QColor(theme.secondary), at.x(), at.y()
    painter.setPen(QPen(ink, 3))
    kind = end.kind
    if kind == "framing":
        sides = (1, -1)[: max(len(end.beams), 0)] if end.beams else ()
        for side, beam in zip(sides, end.beams, strict=False):
            painter.setPen(QPen(ink, 3))
            painter.drawLine(QPointF(x, y), QPointF(x + side * BEAM, y))
            painter.setBrush(QColor(theme.paper))
            if beam.far_end == "pinned":
                painter.setPen(QPen(ink, 1.2))
                painter.drawEllipse(QPointF(x + side * BEAM, y), 2.6, 2.6)
        if not end.beams:
            painter.setPen(QPen(ink, 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x - BEAM, y), QPointF(x + BEAM, y))
        if end.column is not None:
            beyond = LEVELS if down else -LEVELS
            painter.setPen(QPen(ink, 2))
            painter.drawLine(QPointF(x, y), QPointF(x, y + beyond))
        return
    if kind == "free":
        return
    out = 1 if down else -1
    base = y
    if kind in ("pinned", "partial"):
        painter.setPen(QPen(ink, 1.4))
        painter.setBrush(QColor(theme.paper))
        painter.drawPolygon(
            QPolygonF([at, QPointF(x - 7, y + out * 9), QPointF(x + 7, y + out * 9)])
        )
        base = y + out * 9
    painter.setPen(QPen(ink, 2))
    painter.drawLine(QPointF(x - 15, base), QPointF(x + 15, base))
    painter.setPen(QPen(ink, 1))
    for step in range(-2, 3):
        left = x + step * 6
        painter.drawLine(QPointF(left + 3, base), QPointF(left - 2, base + out * HATCH))


def _short(painter: QPainter, text: str, width: float) -> str:
    return painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(width))


def _number(value: float) -> str:
    return format_number(value, 0 if abs(value) >= 100 else 1)
