"""Qt view for sanity at a glance: forces over the height of a stack, and what each storey adds."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from fexro.core.arrays import FloatArray
from fexro.core.quantities import Dimension, UnitSystem, format_number, unit_of
from fexro.desktop.document import Document
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme, font
from fexro.project.actions import actions_of
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.stacks import StoreySums, odd_storeys, storey_sums

__all__ = ["StacksPage"]

CELL, TALL, HEAD = 150, 190, 20  # px, of a small multiple
PARTS = (("N", 0), ("Mx", 1), ("My", 2))


class _Multiples(QWidget):
    """N, Mx, My over the height of a stack, a small picture for each combination."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("content")
        self.setAccessibleName("Forces over the height of the stack")
        self._names: list[str] = []
        self._levels: FloatArray = np.zeros(0)
        self._values: dict[str, list[tuple[FloatArray, FloatArray]]] = {}
        self._reach = np.ones(3)

    def show_stack(self, project: Project, mark: str) -> None:
        """Show the stack of a mark."""
        self._values, self._names = {}, []
        levels = []
        for lift in project.mark_by_name[mark].lifts:
            key = LiftKey(mark, lift.storey)
            storey = project.storey_by_name[lift.storey]
            levels.append((storey.level, storey.level - storey.height))
            actions = actions_of(project, key)
            profile = actions.profile
            at = storey.level - storey.height + profile.places * storey.height
            for name, forces in zip(actions.combinations, profile.forces, strict=True):
                self._values.setdefault(name, []).append((at, forces[:, [0, 4, 5]] / 1e6))
        self._names = [c.name for c in project.combinations if c.name in self._values]
        self._levels = np.array(sorted({level for pair in levels for level in pair}))
        every = [part for parts in self._values.values() for _, part in parts]
        self._reach = (
            np.maximum(np.abs(np.concatenate(every)).max(axis=0), 1e-9) if every else np.ones(3)
        )
        self._flow()
        self.update()

    @property
    def count(self) -> int:
        """How many pictures there are."""
        return len(self._names)

    def _columns(self) -> int:
        return max(self.width() // CELL, 1)

    def _flow(self) -> None:
        rows = math.ceil(len(self._names) / self._columns())
        self.setMinimumHeight(rows * TALL + 8)

    def resizeEvent(self, event: object) -> None:
        """Flow the pictures into rows."""
        self._flow()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the pictures, all to one scale."""
        theme, painter = current_theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        columns = self._columns()
        for i, name in enumerate(self._names):
            cell = QRectF((i % columns) * CELL, (i // columns) * TALL, CELL - 12, TALL - 10)
            painter.setFont(font(11, 600))
            painter.setPen(QColor(theme.ink))
            painter.drawText(cell, Qt.AlignmentFlag.AlignLeft, name)
            inner = cell.adjusted(0, HEAD + 12, 0, 0)
            width = inner.width() / 3
            for part, component in PARTS:
                left = inner.left() + component * width
                area = QRectF(left, inner.top(), width - 4, inner.height())
                self._paint_part(painter, area, name, part, component)
        painter.end()

    def _paint_part(
        self, painter: QPainter, area: QRectF, name: str, part: str, component: int
    ) -> None:
        theme = current_theme()
        low, high = float(self._levels[0]), float(self._levels[-1])
        span = max(high - low, 1e-9)

        def y(level: float) -> float:
            return area.bottom() - (level - low) / span * area.height()

        painter.setFont(font(9))
        painter.setPen(QColor(theme.secondary))
        painter.drawText(
            QRectF(area.left(), area.top() - 14, area.width(), 12),
            Qt.AlignmentFlag.AlignCenter,
            part,
        )
        painter.setPen(QPen(QColor(theme.hairline), 1))
        for level in self._levels:
            painter.drawLine(QPointF(area.left(), y(level)), QPointF(area.right(), y(level)))
        zero = area.left() if component == 0 else area.center().x()
        scale = (area.width() if component == 0 else area.width() / 2) / self._reach[component]
        painter.setPen(QPen(QColor(theme.axis), 1))
        painter.drawLine(QPointF(zero, area.top()), QPointF(zero, area.bottom()))
        painter.setPen(QPen(QColor(theme.capacity), 1.4))
        for at, values in self._values[name]:
            painter.drawPolyline(
                QPolygonF(
                    [
                        QPointF(zero + v * scale, y(level))
                        for level, v in zip(at, values[:, component], strict=True)
                    ]
                )
            )


class _Sums(QWidget):
    """What each storey adds to the axial force, a bar for each storey and case."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("What each storey adds")
        self._sums: StoreySums | None = None
        self._odd: set[tuple[str, str]] = set()
        self._system = UnitSystem.SI
        self.setMinimumHeight(190)

    def show_sums(self, sums: StoreySums, odd: set[tuple[str, str]], system: UnitSystem) -> None:
        """Show sums."""
        self._sums, self._odd, self._system = sums, odd, system
        self.setMinimumHeight(44 + 20 * len(sums.storeys))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw a table of bars."""
        sums = self._sums
        if sums is None or not sums.names:
            return
        theme, painter = current_theme(), QPainter(self)
        unit = unit_of(Dimension.FORCE, self._system)
        left, top, row = 64.0, 26.0, 20.0
        shown = min(len(sums.names), max(int((self.width() - left) // 92), 1))
        width = (self.width() - left) / shown
        reach = np.maximum(np.abs(sums.added).max(axis=0), 1e-9)
        flags = Qt.AlignmentFlag.AlignVCenter
        for i, storey in enumerate(sums.storeys):
            painter.setFont(font(11))
            painter.setPen(QColor(theme.secondary))
            painter.drawText(QRectF(0, top + i * row, left - 6, row), flags, storey)
        for c, name in enumerate(sums.names[:shown]):
            x = left + c * width
            painter.setFont(font(11, 600))
            painter.setPen(QColor(theme.ink))
            painter.drawText(QRectF(x, 4, width - 8, 18), flags, name)
            for i, storey in enumerate(sums.storeys):
                value = float(sums.added[i, c])
                odd = (storey, name) in self._odd
                bar = QRectF(x, top + i * row + 3, (width - 58) * abs(value) / reach[c], row - 7)
                painter.fillRect(bar, QColor(theme.attention if odd else theme.track))
                painter.setFont(font(10))
                painter.setPen(QColor(theme.attention if odd else theme.ink))
                number = format_number(1e3 * value / unit.size, 0) + (" ◇" if odd else "")
                painter.drawText(
                    QRectF(x, top + i * row, width - 10, row),
                    flags | Qt.AlignmentFlag.AlignRight,
                    number,
                )
        painter.end()


class StacksPage(QWidget):
    """A stack over its height for each combination; below, what each storey adds."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.mark = QComboBox()
        self.mark.setAccessibleName("Stack")
        self.mark.activated.connect(lambda _: self._show_stack())
        self.multiples, self.sums = _Multiples(), _Sums()
        self.told, self.added = Label(), Label()
        self.told.setProperty("role", "quiet")
        self.added.setProperty("role", "quiet")
        self.added.setWordWrap(True)
        heading = Label("What each storey adds, all marks together")
        heading.setProperty("role", "heading")
        above = QHBoxLayout()
        above.addWidget(self.mark)
        above.addWidget(self.told, 1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self.multiples)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 0, 16, 10)
        layout.addLayout(above)
        layout.addWidget(area, 1)
        layout.addWidget(heading)
        layout.addWidget(self.added)
        layout.addWidget(self.sums)
        document.opened.connect(self.refresh)
        document.edited.connect(lambda _: self.refresh())
        document.selection.lift_changed.connect(self.refresh)

    def refresh(self) -> None:
        """Show the stack of the selected lift, or of the first mark."""
        project = self._document.project
        if project is None or not self.isVisible():
            return
        marks = [mark.name for mark in project.marks if mark.lifts]
        chosen = self.mark.currentText()
        if [self.mark.itemText(i) for i in range(self.mark.count())] != marks:
            self.mark.clear()
            self.mark.addItems(marks)
        selected = self._document.selection.lift
        if selected is not None:
            chosen = selected.mark
        if chosen in marks:
            self.mark.setCurrentText(chosen)
        self._show_stack()
        sums = storey_sums(project)
        odd = odd_storeys(sums)
        self.sums.show_sums(sums, set(odd), project.basis.system)
        unit = unit_of(Dimension.FORCE, project.basis.system).symbol
        if odd:
            some = ", ".join(f"{name} at {storey}" for storey, name in odd[:6])
            self.added.setText(f"◇ Unlike the storeys beside: {some}. Numbers in {unit}.")
        else:
            self.added.setText(f"Each storey adds what those beside it add. Numbers in {unit}.")

    def _show_stack(self) -> None:
        project, mark = self._document.project, self.mark.currentText()
        if project is None or mark not in project.mark_by_name:
            return
        self.multiples.show_stack(project, mark)
        count = self.multiples.count
        self.told.setText(f"{count} combinations, all to one scale: N, Mx, My over the height.")
