"""Qt view for the checks of a lift: each with its ratio and clause, opening its derivation."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QGuiApplication, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QMenu, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from fexro.core.findings import Finding
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import detail_of
from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem
from fexro.desktop.derivation_view import DerivationView
from fexro.desktop.drawing import paint_bar, paint_glyph
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme, font

__all__ = ["ChecksPanel"]


COLUMN_MARGIN = 8  # px right of the checks


class _CheckHead(QWidget):
    """One check: glyph, name, ratio, bar, clause and detail. Return or a click opens it."""

    toggled = pyqtSignal()

    def __init__(self, check: Finding, system: UnitSystem, opened: bool) -> None:
        super().__init__()
        self.opened = opened
        self._seen: tuple[object, ...] = ()
        self.show_check(check, system)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setToolTip("Show or hide the calculation")

    def show_check(self, check: Finding, system: UnitSystem) -> None:
        """Show another answer to the same question."""
        before = self._seen
        self.check, self.detail = check, detail_of(check, system)
        self._seen = (check.name, check.state, f"{check.ratio:.3f}", check.clause, self.detail)
        if before == self._seen:
            return
        self.setAccessibleName(f"{check.name}, {check.state.word}")
        self.setAccessibleDescription(self.detail)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(200, 52)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, check = current_theme(), self.check
        painter = QPainter(self)
        width = self.width()
        painter.setPen(QPen(QColor(theme.hairline), 1))
        painter.drawLine(0, 0, width, 0)
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.capacity), 1))
            painter.drawRect(QRectF(0.5, 1.5, width - 1.5, self.height() - 3))
        paint_glyph(painter, check.state, QPointF(10, 15), 10, theme)
        painter.setFont(font(12, 500))
        painter.setPen(QColor(theme.ink))
        line = QRectF(22, 6, width - 28, 18)
        painter.drawText(line, Qt.AlignmentFlag.AlignLeft, check.name)
        number = "" if math.isnan(check.ratio) else f"{check.ratio:.2f}"
        painter.setFont(font(12, 600))
        painter.drawText(line, Qt.AlignmentFlag.AlignRight, number)
        if not math.isnan(check.ratio):
            bar = QRectF(22, 26, width - 28, 4)
            paint_bar(painter, check.ratio, theme.state(check.state), bar, theme)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.secondary))
        below = QRectF(22, 33, width - 28, 16)
        mark = "▾" if self.opened else "▸"
        painter.drawText(below, Qt.AlignmentFlag.AlignRight, mark)
        text = " · ".join(part for part in (check.clause, self.detail) if part)
        shown = painter.fontMetrics().elidedText(
            text, Qt.TextElideMode.ElideRight, int(below.width()) - 16
        )
        painter.drawText(below, Qt.AlignmentFlag.AlignLeft, shown)
        painter.end()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.toggled.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.toggled.emit()
        else:
            super().keyPressEvent(event)


class ChecksPanel(QFrame):
    """All checks, worst first; which are open is remembered by name.

    Signals:
        picked: the combination that governs a check which was opened.
    """

    picked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("side")
        heading = Label("Checks")
        heading.setProperty("role", "heading")
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 8, 8)
        layout.addWidget(heading)
        layout.addWidget(self._scroll, 1)
        self._open: set[str] = set()
        self._result: LiftResult | None = None
        self._demand: int | None = None
        self._system = UnitSystem.SI
        self.heads: list[_CheckHead] = []
        self.derivations: dict[str, DerivationView] = {}

    def show_result(
        self, result: LiftResult | None, demand: int | None, system: UnitSystem
    ) -> None:
        """Show the checks; of strength that of the demand that is selected."""
        self._result, self._demand, self._system = result, demand, system
        checks = () if result is None else result.shown_findings
        if result is not None and [c.name for c in checks] == [h.check.name for h in self.heads]:
            self._renew(checks)
        else:
            self._rebuild()

    def toggle(self, name: str) -> None:
        """Open or close the derivation of a check; opened, its combination is selected."""
        self._open ^= {name}
        self._rebuild()
        check = next((head.check for head in self.heads if head.check.name == name), None)
        if check is not None and name in self._open and check.combination is not None:
            self.picked.emit(check.combination)

    def _renew(self, checks: Sequence[Finding]) -> None:
        """Give the same checks their new answers; new widgets would take longer than the checks."""
        for head, check in zip(self.heads, checks, strict=True):
            head.show_check(check, self._system)
            view = self.derivations.get(check.name)
            if view is not None:
                view.show_record(self._record(check), self._system)

    def _rebuild(self) -> None:
        focused = next((head.check.name for head in self.heads if head.hasFocus()), None)
        bar = self._scroll.verticalScrollBar()
        assert bar is not None
        position = bar.value()
        content = QWidget()
        content.setObjectName("content")
        column = QVBoxLayout(content)
        column.setContentsMargins(0, 0, COLUMN_MARGIN, 0)
        column.setSpacing(0)
        self.heads, self.derivations = [], {}
        for check in self._result.shown_findings if self._result is not None else ():
            opened = check.name in self._open
            head = _CheckHead(check, self._system, opened)
            head.toggled.connect(lambda name=check.name: self.toggle(name))
            column.addWidget(head)
            self.heads.append(head)
            if opened:
                column.addWidget(self._derivation(check))
        column.addStretch(1)
        self._scroll.setWidget(content)
        bar.setValue(position)
        for head in self.heads:
            if head.check.name == focused:
                head.setFocus()

    def _record(self, check: Finding) -> Derivation:
        """Return the derivation of a check; of strength that of the selected demand."""
        if not check.leads or check.combination is None or self._demand is None:
            return check.derive()
        assert self._result is not None
        return self._result.derivation_of(self._demand)

    def _derivation(self, check: Finding) -> DerivationView:
        # Typeset once at the width it will have: twice would take twice as long.
        viewport, bar = self._scroll.viewport(), self._scroll.verticalScrollBar()
        assert viewport is not None
        assert bar is not None
        room = viewport.width() - COLUMN_MARGIN
        if not bar.isVisible():
            room -= bar.sizeHint().width()
        view = DerivationView(self._record(check), self._system, room)
        view.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        view.customContextMenuRequested.connect(lambda at: _offer_copy(view, at))
        self.derivations[check.name] = view
        return view


def _offer_copy(view: DerivationView, at: object) -> None:
    menu = QMenu(view)
    action = menu.addAction("Copy the calculation as text")
    assert action is not None

    def copy() -> None:
        clipboard = QGuiApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(view.text)

    action.triggered.connect(copy)
    menu.popup(view.mapToGlobal(at))  # type: ignore[call-overload]
