"""Qt view for a stack on one chart: curves of bar sizes and the demands of all its lifts."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from threading import Event

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QHeaderView, QVBoxLayout, QWidget

from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme, font
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.stack_chart import StackChart, stack_chart, stack_of

__all__ = ["StackCurves", "StackPage"]

LEFT, BOTTOM, TOP, RIGHT = 52.0, 30.0, 6.0, 60.0  # px around the curves
HEADS = ("Lift", "Served by", "Utilisation then", "Now")


class StackCurves(QWidget):
    """N over M of several bar sizes, and the demands of all lifts."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Curves of bar sizes with the demands of the stack")
        self.setMinimumSize(QSize(260, 120))
        self._chart: StackChart | None = None
        self._system, self._lift = UnitSystem.SI, -1

    def show_chart(self, chart: StackChart | None, system: UnitSystem) -> None:
        """Show the chart of a stack."""
        self._chart, self._system, self._lift = chart, system, -1
        self.update()

    def point_at(self, lift: int) -> None:
        """Bring out the demands of a lift, or of none."""
        self._lift = lift
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, painter, chart = current_theme(), QPainter(self), self._chart
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if chart is None or not chart.curves:
            painter.end()
            return
        area = QRectF(self.rect()).adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
        paths = np.concatenate([curve.path for curve in chart.curves])
        every = np.concatenate([paths, *chart.demands])
        (low, left), (high, right) = every.min(axis=0), every.max(axis=0)

        def at(N: float, M: float) -> QPointF:
            return QPointF(
                area.left() + (M - left) / (right - left) * area.width(),
                area.bottom() - (N - low) / (high - low) * area.height(),
            )

        painter.setPen(QPen(QColor(theme.axis), 1))
        painter.drawLine(at(0.0, left), at(0.0, right))
        painter.drawLine(at(low, 0.0), at(high, 0.0))
        painter.setFont(font(10))
        serving = chart.serves[self._lift] if 0 <= self._lift < len(chart.serves) else None
        for number, curve in enumerate(chart.curves):
            strong = number == serving
            painter.setPen(
                QPen(QColor(theme.capacity if strong else theme.secondary), 2 if strong else 1)
            )
            painter.drawPolyline(QPolygonF([at(N, M) for N, M in curve.path]))
            tip = curve.path[int(curve.path[:, 1].argmax())]
            place = at(*tip)
            box = QRectF(area.right() + 4, place.y() - 7, RIGHT - 4, 14)
            if number in (0, len(chart.curves) - 1) or strong:
                painter.drawText(box, Qt.AlignmentFlag.AlignLeft, curve.bars)
        for number, demands in enumerate(chart.demands):
            marked = number == self._lift
            painter.setPen(QPen(QColor(theme.capacity if marked else theme.secondary), 1.2))
            painter.setBrush(QColor(theme.capacity if marked else theme.panel))
            for N, M in demands:
                painter.drawEllipse(at(N, M), 3.4 if marked else 2.2, 3.4 if marked else 2.2)
        self._paint_scales(painter, area, (low, high), (left, right))
        painter.end()

    def _paint_scales(
        self,
        painter: QPainter,
        area: QRectF,
        axial: tuple[float, float],
        moments: tuple[float, float],
    ) -> None:
        theme = current_theme()
        force, moment = (unit_of(d, self._system) for d in (Dimension.FORCE, Dimension.MOMENT))
        painter.setPen(QColor(theme.secondary))
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        for value, y in ((axial[1], area.top() + 6), (axial[0], area.bottom())):
            text = format_number(value / force.size, 0)
            painter.drawText(QRectF(0, y - 8, LEFT - 5, 16), right, text)
        foot = QRectF(area.left(), area.bottom() + 4, area.width(), 14)
        for value, flag in (
            (moments[0], Qt.AlignmentFlag.AlignLeft),
            (moments[1], Qt.AlignmentFlag.AlignRight),
        ):
            painter.drawText(foot, flag, format_number(value / moment.size, 0))
        told = f"N, {force.symbol}, over M, {moment.symbol}"
        painter.drawText(foot, Qt.AlignmentFlag.AlignHCenter, told)


class StackPage(QWidget):
    """The chart of the stack or group of the lift, and which size serves which lift."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._result: LiftResult | None = None
        self._drawn: LiftResult | None = None
        self.chart: StackChart | None = None
        self._work: Background[StackChart] = Background(self._take_chart, self)
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.curves = StackCurves()
        self.table = FiguresTable(HEADS, "Sizes that serve the lifts", words=(0, 1))
        assert self.table.header is not None
        for column in range(len(HEADS)):
            self.table.header.setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch)
        self.table.currentCellChanged.connect(lambda row, *_: self.curves.point_at(row))
        below, layout = QHBoxLayout(), QVBoxLayout(self)
        below.addWidget(self.curves, 3)
        below.addWidget(self.table, 3)
        layout.setContentsMargins(16, 2, 16, 4)
        layout.setSpacing(2)
        layout.addWidget(self.told)
        layout.addLayout(below, 1)

    def show_result(self, result: LiftResult | None) -> None:
        """Take a lift; the chart of another is dropped."""
        if result is self._result:
            return
        self._work.cancel()
        self._result, self._drawn = result, None
        if self.isVisible():
            self._draw()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Draw the stack of the lift that is shown."""
        super().showEvent(event)
        self._draw()

    def _draw(self) -> None:
        project, key = self._document.project, self._document.selection.lift
        if project is None or key is None or self._result is None or self._result is self._drawn:
            return
        self._drawn = self._result
        self.told.setText("Drawing the stack …")
        self._work.start(partial(_drawing, project, key))

    def _take_chart(self, chart: StackChart) -> None:
        project, key = self._document.project, self._document.selection.lift
        if project is None or key is None:
            return
        self.chart = chart
        self.curves.show_chart(chart, project.basis.system)
        self.table.setRowCount(0)
        bars = project.by_key[key].section.bars
        here = next((c for c in chart.curves if c.bars == bars), None)
        for number, (one, serves) in enumerate(zip(chart.keys, chart.serves, strict=True)):
            curve = None if serves is None else chart.curves[serves]
            now = "–" if here is None else f"{here.ratios[number]:.2f}"
            then = "–" if curve is None else f"{curve.ratios[number]:.2f}"
            self.table.add_row((str(one), "none" if curve is None else curve.bars, then, now))
        degrees = f"{np.degrees(chart.angle):.0f}°"
        self.told.setText(
            f"{len(chart.keys)} lifts with the section of {key}; moments in its plane of {degrees},"
            " utilisations in their own."
        )


def _drawing(project: Project, key: LiftKey, stopped: Event) -> Iterator[StackChart]:
    chart = stack_chart(project, stack_of(project, key), key)
    if not stopped.is_set():
        yield chart
