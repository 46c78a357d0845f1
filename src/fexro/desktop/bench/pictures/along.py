"""Qt view for the forces along a lift: N, Vx, Vy, Mx, My, the envelope of all behind the chosen."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from fexro.core.actions import COMPONENTS
from fexro.core.arrays import FloatArray
from fexro.core.quantities import Dimension, UnitSystem, format_length, format_number, unit_of
from fexro.desktop.bench.pictures.drawn import DrawnPicture
from fexro.desktop.bench.pictures.shown import Shown
from fexro.desktop.theme import Theme, current_theme, font
from fexro.exchange.curves import Table

__all__ = ["AlongView"]

DRAWN = ("N", "Vx", "Vy", "Mx", "My")
COLUMNS = [COMPONENTS.index(name) for name in DRAWN]
TOP, BOTTOM, SIDE, GAP = 44.0, 30.0, 46.0, 18.0  # px around the diagrams and between them


class AlongView(DrawnPicture):
    """Five diagrams over the height of a lift, of one combination with the envelope of all."""

    name = "Along"

    def __init__(self) -> None:
        super().__init__("Forces along the lift", TOP, BOTTOM)
        self._places: FloatArray = np.zeros(0)
        self._all: FloatArray = np.zeros((0, 0, 5))
        self._row: int | None = None
        self._height, self._system = 0.0, UnitSystem.SI

    def show_shown(self, shown: Shown, *, refit: bool) -> None:
        """Show the forces of the chosen combination and the envelope of all."""
        actions = shown.result.lift.actions
        profile = actions.profile
        sizes = np.array([shown.force] * 3 + [shown.moment] * 2)
        self._places, self._all = profile.places, profile.forces[..., COLUMNS] / sizes
        name = shown.combination
        self._row = None if name is None else actions.combinations.index(name)
        self._height = shown.result.lift.facts.height
        self._system = shown.system
        self.update()

    def caption(self, shown: Shown) -> str:
        """Return which combination it is, and what lies behind."""
        if self._row is None:
            return ""
        between = (
            "with loads or moments between the ends"
            if shown.result.lift.actions.between is not None
            else "straight between the ends"
        )
        count = len(shown.result.lift.actions.combinations)
        return f"{shown.combination}, {between}; behind it the envelope of {count} combinations."

    def table(self, shown: Shown) -> Table | None:
        """Return the forces of the chosen combination along the height."""
        if self._row is None:
            return None
        force, moment = (
            unit_of(d, shown.system).symbol for d in (Dimension.FORCE, Dimension.MOMENT)
        )
        units = [force] * 3 + [moment] * 2
        heads = ("share of the height", *(f"{n}, {u}" for n, u in zip(DRAWN, units, strict=True)))
        places = np.union1d(self._places, np.linspace(0.0, 1.0, 41))
        rows = [
            (f"{place:.4f}", *(f"{value:.6g}" for value in self._at(place))) for place in places
        ]
        return Table(heads, tuple(rows))

    def missing(self) -> str:
        """Return why nothing can be painted; empty where it can."""
        return "" if self._row is not None else "No forces are known for this lift."

    def reading_at(self, share: float) -> str:
        """Return the forces at a share of the height."""
        values = self._at(share)
        height = format_length(self._height * share, self._system)
        shown = ", ".join(
            f"{name} {format_number(value, 1)}" for name, value in zip(DRAWN, values, strict=True)
        )
        return f"{height} above the foot: {shown}"

    def _at(self, share: float) -> list[float]:
        assert self._row is not None
        values = self._all[self._row]
        return [float(np.interp(share, self._places, values[:, i])) for i in range(5)]

    def draw(self, painter: QPainter, area: QRectF) -> None:
        """Paint the diagrams."""
        theme = current_theme()
        inner = area.adjusted(SIDE, TOP, -12, -BOTTOM)
        width = (inner.width() - 4 * GAP) / 5
        self._paint_height(painter, inner, theme)
        for i, name in enumerate(DRAWN):
            left = inner.left() + i * (width + GAP)
            self._paint_one(painter, QRectF(left, inner.top(), width, inner.height()), i, name)

    def _paint_height(self, painter: QPainter, inner: QRectF, theme: Theme) -> None:
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        for share, text in ((1.0, "top"), (0.0, "bottom")):
            y = inner.bottom() - share * inner.height()
            box = QRectF(inner.left() - SIDE, y - 8, SIDE - 8, 16)
            flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(box, flags, text)
            painter.setPen(QPen(QColor(theme.hairline), 1))
            painter.drawLine(QPointF(inner.left(), y), QPointF(inner.right(), y))
            painter.setPen(QColor(theme.secondary))
        if self._pointer is not None:
            y = inner.bottom() - self._pointer * inner.height()
            painter.setPen(QPen(QColor(theme.capacity), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(inner.left(), y), QPointF(inner.right(), y))

    def _paint_one(self, painter: QPainter, area: QRectF, i: int, name: str) -> None:
        theme = current_theme()
        assert self._row is not None
        low, high = self._all[..., i].min(axis=0), self._all[..., i].max(axis=0)
        reach = max(float(np.abs(self._all[..., i]).max()), 1e-9)
        # Zero lies in the middle, but for axial forces that are all of one sign.
        one_sided = low.min() >= 0 or high.max() <= 0
        zero = area.center().x()
        scale = area.width() / 2 / reach
        if one_sided:
            zero = area.left() if low.min() >= 0 else area.right()
            scale = area.width() / reach

        def at(value: float, share: float) -> QPointF:
            return QPointF(zero + value * scale, area.bottom() - share * area.height())

        outline = QPolygonF([at(v, s) for v, s in zip(low, self._places, strict=True)])
        for v, s in zip(high[::-1], self._places[::-1], strict=True):
            outline.append(at(v, s))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.track))
        painter.drawPolygon(outline)
        painter.setPen(QPen(QColor(theme.axis), 1))
        painter.drawLine(QPointF(zero, area.top()), QPointF(zero, area.bottom()))
        values = self._all[self._row][:, i]
        painter.setPen(QPen(QColor(theme.capacity), 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        line = QPolygonF([at(v, s) for v, s in zip(values, self._places, strict=True)])
        painter.drawPolyline(line)
        force, moment = (
            unit_of(d, self._system).symbol for d in (Dimension.FORCE, Dimension.MOMENT)
        )
        painter.setFont(font(11, 600))
        painter.setPen(QColor(theme.ink))
        heading = f"{name}, {moment if name[0] == 'M' else force}"
        above = QRectF(area.left() - 8, area.top() - 42, area.width() + 16, 16)
        painter.drawText(above, Qt.AlignmentFlag.AlignCenter, heading)
        painter.setFont(font(10))
        for value, top in ((values[-1], area.top() - 22), (values[0], area.bottom() + 6)):
            box = QRectF(area.left() - 8, top, area.width() + 16, 14)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, _number(float(value)))
        peak = int(np.abs(values).argmax())
        inside = 0 < peak < len(values) - 1
        shown = peak if inside else None
        if self._pointer is not None:
            value = self._at(self._pointer)[i]
            self._paint_value(painter, at(value, self._pointer), value, area)
        elif shown is not None:
            self._paint_value(painter, line[shown], float(values[shown]), area)

    def _paint_value(self, painter: QPainter, place: QPointF, value: float, area: QRectF) -> None:
        theme = current_theme()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.capacity))
        painter.drawEllipse(place, 3, 3)
        painter.setPen(QColor(theme.ink))
        left = min(max(place.x() - 30, area.left() - 8), area.right() - 52)
        box = QRectF(left, place.y() - 17, 60, 14)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, _number(value))


def _number(value: float) -> str:
    return format_number(value, 0 if abs(value) >= 100 else 1)
