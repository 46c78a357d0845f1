"""Qt view for types: how many there are against the steel they take, and taking one choice."""

from __future__ import annotations

import time
from collections.abc import Iterator, Sequence
from functools import partial
from threading import Event

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from fexro.core.quantities import format_number
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.sizing.run import RunPage
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme, font
from fexro.project.column import LiftKey
from fexro.project.grouping import SCOPES, Scope, TypeStep, take_types, type_steps
from fexro.project.project import Project
from fexro.project.sizing_run import Outcome

__all__ = ["TypesCurve", "TypesPage"]

LEFT, BOTTOM, TOP, RIGHT = 58.0, 34.0, 14.0, 18.0  # px around the curve
HEADS = ("Type", "Bars and ties", "Lifts", "Which")
EVERY = 0.15  # s between two looks at how far it is
Seen = tuple[int, int, list[TypeStep]]


class TypesCurve(QWidget):
    """Steel over the number of types; the arrows or a click choose how many.

    Signals:
        chosen: number of the step.
    """

    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Steel over the number of types")
        self.setMinimumSize(QSize(320, 220))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("Click, or use the arrows, to choose how many types there are")
        self._steps: Sequence[TypeStep] = ()
        self._at = 0

    def show_steps(self, steps: Sequence[TypeStep], at: int) -> None:
        """Show the curve, and which of its steps is chosen."""
        self._steps, self._at = steps, at
        self.update()

    def _place(self, step: TypeStep) -> QPointF:
        area = QRectF(self.rect()).adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
        most = max(one.types for one in self._steps)
        least = min(one.types for one in self._steps)
        low, high = (f(one.mass for one in self._steps) for f in (min, max))
        room = max(high - low, 1.0) * 0.08
        x = area.left() + (step.types - least) / max(most - least, 1) * area.width()
        y = area.bottom() - (step.mass - low + room) / (high - low + 2 * room) * area.height()
        return QPointF(x, y)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, painter = current_theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._steps:
            painter.end()
            return
        area = QRectF(self.rect()).adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
        painter.setPen(QPen(QColor(theme.axis), 1))
        painter.drawLine(area.topLeft(), area.bottomLeft())
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        places = [self._place(step) for step in self._steps]
        painter.setPen(QPen(QColor(theme.secondary), 1.2))
        painter.drawPolyline(QPolygonF(places))
        for number, (step, at) in enumerate(zip(self._steps, places, strict=True)):
            picked = number == self._at
            painter.setPen(QPen(QColor(theme.capacity), 1.6))
            painter.setBrush(QColor(theme.capacity if picked else theme.panel))
            painter.drawEllipse(at, 5.5 if picked else 3.6, 5.5 if picked else 3.6)
            painter.setFont(font(10))
            painter.setPen(QColor(theme.secondary))
            box = QRectF(at.x() - 20, area.bottom() + 3, 40, 14)
            if number == self._at or len(self._steps) <= 20:
                painter.drawText(box, Qt.AlignmentFlag.AlignHCenter, str(step.types))
        painter.setPen(QColor(theme.secondary))
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        for step in (self._steps[0], self._steps[-1]):
            y = self._place(step).y()
            painter.drawText(
                QRectF(0, y - 8, LEFT - 6, 16), right, f"{format_number(step.mass, 0)} kg"
            )
        foot = QRectF(area.left(), area.bottom() + 17, area.width(), 14)
        painter.drawText(foot, Qt.AlignmentFlag.AlignHCenter, "types of bars and ties")
        painter.end()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Choose the step that is nearest."""
        if event is not None and self._steps:
            x = event.position().x()
            near = min(
                range(len(self._steps)), key=lambda i: abs(self._place(self._steps[i]).x() - x)
            )
            self.chosen.emit(near)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Go along the curve."""
        assert event is not None
        # Steps go from many types, at the right, to few.
        step = {Qt.Key.Key_Left: 1, Qt.Key.Key_Right: -1}.get(Qt.Key(event.key()))
        if step is None or not self._steps:
            super().keyPressEvent(event)
        else:
            self.chosen.emit(min(max(self._at + step, 0), len(self._steps) - 1))


class TypesPage(QWidget):
    """Types of bars and ties that lifts share, from what the run has found."""

    def __init__(self, document: Document, run: RunPage) -> None:
        super().__init__()
        self._document, self._run = document, run
        self._project: Project | None = None
        self.steps: list[TypeStep] = []
        self._at = 0
        self._work: Background[Seen] = Background(self._take_seen, self)
        self.scope = QComboBox()
        self.scope.setAccessibleName("Within what types are shared")
        for scope in SCOPES:
            self.scope.addItem(f"shared {scope}", scope)
        self.go, self.stop = QPushButton("Find types"), QPushButton("Stop")
        self.take = QPushButton("Take these types")
        self.go.clicked.connect(self.start)
        self.stop.clicked.connect(self._stop)
        self.take.clicked.connect(self.take_types)
        self.progress = QProgressBar()
        self.progress.setMaximumWidth(220)
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.curve = TypesCurve()
        self.curve.chosen.connect(self.choose)
        self.table = FiguresTable(HEADS, "Types", words=(0, 1, 3))
        assert self.table.header is not None
        for column, mode in enumerate(
            (*(QHeaderView.ResizeMode.ResizeToContents,) * 3, QHeaderView.ResizeMode.Stretch)
        ):
            self.table.header.setSectionResizeMode(column, mode)
        top, below = QHBoxLayout(), QHBoxLayout()
        for widget in (self.scope, self.go, self.stop, self.progress):
            top.addWidget(widget)
        top.addWidget(self.told, 1)
        top.addWidget(self.take)
        below.addWidget(self.curve, 2)
        below.addWidget(self.table, 3)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.addLayout(top)
        layout.addLayout(below, 1)
        self._idle("")

    @property
    def _scope(self) -> Scope:
        found: Scope = self.scope.currentData()
        return found

    def refresh(self) -> None:
        """Tell what is needed; drop what was found of another project."""
        if self._work.running:
            return
        if self._project is not None and self._project is not self._document.project:
            self.take.setEnabled(False)
        if not self.steps:
            ready = any(one.after is not None for one in self._run.rows)
            self.go.setEnabled(ready)
            told = "Checks every lift with the bars of the others, and shares them."
            self.told.setText(told if ready else "Size the building first (Run).")

    def _idle(self, text: str) -> None:
        self.told.setText(text)
        self.go.setEnabled(True)
        self.stop.setVisible(False)
        self.progress.setVisible(False)
        self.take.setEnabled(bool(self.steps))

    def start(self) -> None:
        """Find how lifts may share what the run has found."""
        project, rows = self._run.project, self._run.rows
        if project is None or not rows:
            return
        self._project, self.steps = project, []
        self.go.setEnabled(False)
        self.take.setEnabled(False)
        self.stop.setVisible(True)
        self.progress.setVisible(True)
        self._work.start(partial(_finding, project, list(rows), self._scope))

    def _take_seen(self, seen: Seen) -> None:
        done, total, steps = seen
        self.progress.setRange(0, max(total, 1))
        self.progress.setValue(done)
        self.told.setText(f"{done} of {total} checks.")
        if done >= total:
            self.steps = steps
            self._idle("")
            self.choose(0)

    def choose(self, number: int) -> None:
        """Choose how many types there are."""
        self._at = number
        self.curve.show_steps(self.steps, number)
        self.table.setRowCount(0)
        if not self.steps:
            self.told.setText("The run has found nothing to share.")
            return
        step, first = self.steps[number], self.steps[0]
        more = 100 * (step.mass / first.mass - 1)
        told = f"{step.types} {_types(step)}: {format_number(step.mass, 0)} kg"
        told = f"{told}, {more:.1f} % more than all different"
        self.told.setText(f"{told}; {'the least' if step.least else 'found step by step'}.")
        alike: dict[tuple[str, str, str], list[LiftKey]] = {}
        for key, one in step.chosen.items():
            where = {"freely": "", "along stacks": key.mark, "across storeys": key.storey}
            alike.setdefault((where[self._scope], one.bars, one.ties), []).append(key)
        ordered = sorted(alike.items(), key=lambda item: -len(item[1]))
        for place, ((_, bars, ties), keys) in enumerate(ordered, start=1):
            which = ", ".join(map(str, keys))
            self.table.add_row((str(place), f"{bars}, {ties}", str(len(keys)), which))

    def _stop(self) -> None:
        self._work.cancel()
        self._idle("Stopped.")

    def take_types(self) -> None:
        """Take the chosen types; lifts of one type are a group from then on."""
        if not self.steps:
            return
        step = self.steps[self._at]
        edit = partial(take_types, chosen=step.chosen, scope=self._scope)
        self._document.edit(f"{step.types} {_types(step)}", edit)
        self._project = self._document.project
        self.take.setEnabled(False)
        told = f"{step.types} {_types(step)} taken; lifts of one are a group. Undo takes it back."
        self.told.setText(told)


def _types(step: TypeStep) -> str:
    return "type" if step.types == 1 else "types"


def _finding(project: Project, rows: list[Outcome], scope: Scope, stopped: Event) -> Iterator[Seen]:
    """Find how to share, and tell now and then how far it is."""
    last = 0.0
    for seen in type_steps(project, rows, scope):
        if stopped.is_set():
            return
        now = time.monotonic()
        if seen[0] >= seen[1] and seen[2]:
            yield seen
        elif now - last > EVERY and seen[0] < seen[1]:
            last = now
            yield seen
