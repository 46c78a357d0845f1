"""Qt view for the general method: what a lift carries by it, beside the simplified method."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import partial
from threading import Event

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.errors import ConvergenceError
from fexro.core.members.general_check import GeneralCheck, general_check
from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme, font

__all__ = ["GeneralPage", "LoadCurve"]

HEADS = ("Combination", "Simplified", "General", "Simplified asks", "Ends by", "Bow at load")
EDGE = 34.0  # px around the curve


class LoadCurve(QWidget):
    """Load factor over the largest bow, up to failure."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Load factor over the bow of the lift")
        self.setMinimumSize(QSize(220, 110))
        self._check: GeneralCheck | None = None
        self._system = UnitSystem.SI

    def show_check(self, check: GeneralCheck | None, system: UnitSystem) -> None:
        """Show what was found of a combination."""
        self._check, self._system = check, system
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the curve, the load and the failure."""
        theme, painter = current_theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        check = self._check
        if check is None or not check.found.steps:
            painter.end()
            return
        unit = unit_of(Dimension.LENGTH, self._system)
        steps = check.found.steps
        points = [(0.0, 0.0), *((s.largest_deflection / unit.size, s.factor) for s in steps)]
        reach = max(max(x for x, _ in points), 1e-9) * 1.1
        top = max(check.found.load_factor, 1.0) * 1.15
        area = QRectF(self.rect()).adjusted(EDGE, 8, -8, -EDGE + 8)

        def at(x: float, y: float) -> QPointF:
            return QPointF(
                area.left() + x / reach * area.width(), area.bottom() - y / top * area.height()
            )

        painter.setPen(QPen(QColor(theme.axis), 1))
        painter.drawLine(area.topLeft(), area.bottomLeft())
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.setPen(QPen(QColor(theme.hairline), 1, Qt.PenStyle.DashLine))
        painter.drawLine(at(0, 1), at(reach, 1))
        painter.setPen(QPen(QColor(theme.capacity), 2))
        painter.drawPolyline(QPolygonF([at(x, y) for x, y in points]))
        painter.setBrush(QColor(theme.capacity))
        painter.drawEllipse(at(*points[-1]), 3.2, 3.2)
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        for y in (1.0, check.found.load_factor):
            place = at(0, y)
            box = QRectF(place.x() - EDGE, place.y() - 8, EDGE - 4, 16)
            painter.drawText(box, flags, format_number(y, 2))
        foot = QRectF(area.left(), area.bottom() + 4, area.width(), 16)
        told = f"largest bow, {unit.symbol}: {format_number(points[-1][0], 1)} at failure"
        painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, told)
        painter.end()


class GeneralPage(QWidget):
    """What the general method finds, of the chosen combination or of all, on demand."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._result: LiftResult | None = None
        self.checks: list[GeneralCheck] = []
        self._work: Background[GeneralCheck] = Background(self._take, self, self._failed)
        self.one, self.all = QPushButton("This combination"), QPushButton("All combinations")
        self.stop = QPushButton("Stop")
        self.one.clicked.connect(lambda: self._start(every=False))
        self.all.clicked.connect(lambda: self._start(every=True))
        self.stop.clicked.connect(self._cancel)
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.told.setWordWrap(True)
        self.table, self.curve = FiguresTable(HEADS, "General method"), LoadCurve()
        self.table.currentCellChanged.connect(lambda row, *_: self._show(row))
        top, below = QHBoxLayout(), QHBoxLayout()
        for button in (self.one, self.all, self.stop):
            top.addWidget(button)
        top.addWidget(self.told, 1)
        below.addWidget(self.table, 3)
        below.addWidget(self.curve, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 2, 16, 4)
        layout.setSpacing(2)
        layout.addLayout(top)
        layout.addLayout(below, 1)
        self._idle("")

    def show_result(self, result: LiftResult | None) -> None:
        """Take a lift; what was found of another, or of other facts, is dropped."""
        if result is self._result:
            return
        self._work.cancel()
        self._result, self.checks = result, []
        self.table.setRowCount(0)
        self.curve.show_check(None, UnitSystem.SI)
        self._idle("Nonlinear second-order analysis along the lift, up to its failure.")

    def _idle(self, text: str) -> None:
        self.told.setText(text)
        ready = self._result is not None and bool(self._result.combinations)
        self.one.setEnabled(ready)
        self.all.setEnabled(ready)
        self.stop.setVisible(False)

    def _start(self, *, every: bool) -> None:
        result = self._result
        if result is None:
            return
        names = result.combinations
        chosen = result.combination_index(self._document.selection.combination)
        wanted = range(len(names)) if every else [chosen]
        self.checks = []
        self.table.setRowCount(0)
        self.one.setEnabled(False)
        self.all.setEnabled(False)
        self.stop.setVisible(True)
        self._wanted = len(wanted)
        self.told.setText(f"0 of {self._wanted} combinations.")
        self._work.start(partial(_each, result, list(wanted)))

    def _cancel(self) -> None:
        self._work.cancel()
        self._idle(f"Stopped after {len(self.checks)} of {self._wanted} combinations.")

    def _failed(self, error: Exception) -> None:
        if not isinstance(error, ConvergenceError):
            raise error
        done = f"{len(self.checks)} of {self._wanted} combinations"
        self._idle(f"Ended after {done}: {error}; the simplified method stands.")

    def _take(self, check: GeneralCheck) -> None:
        project = self._document.project
        assert project is not None
        system = project.basis.system
        self.checks.append(check)
        unit = unit_of(Dimension.LENGTH, system)
        at_load = check.found.at_load
        bow = "fails before"
        if at_load is not None:
            bow = f"{format_number(at_load.largest_deflection / unit.size, 1)} {unit.symbol}"
        texts = (
            check.combination,
            format_number(check.simplified, 3),
            format_number(check.ratio, 3),
            _percent(check.cost),
            check.found.by,
            bow,
        )
        row = self.table.add_row(texts)
        if row == 0:
            self.table.setCurrentCell(0, 0)
        self.told.setText(f"{len(self.checks)} of {self._wanted} combinations.")
        if len(self.checks) == self._wanted:
            self._idle(f"{check.basis.clause}: {check.basis.said}.")

    def _show(self, row: int) -> None:
        project = self._document.project
        if project is not None and 0 <= row < len(self.checks):
            self.curve.show_check(self.checks[row], project.basis.system)


def _percent(share: float) -> str:
    percent = round(100 * share)
    return f"{percent:+d} %".replace("-", "−") if percent else "0 %"


def _each(
    result: LiftResult, combinations: Sequence[int], stopped: Event
) -> Iterator[GeneralCheck]:
    """Check combinations one after the other until told to stop."""
    for combination in combinations:
        if stopped.is_set():
            return
        yield general_check(result, combination)
