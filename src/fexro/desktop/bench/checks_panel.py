"""Qt view for the checks of a lift: each with its ratio and clause, opening its derivation."""

from __future__ import annotations

import math
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QGuiApplication, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QMenu, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from fexro.core.findings import Finding, State
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import detail_of, failing_first
from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem
from fexro.desktop.bench.check_groups import CheckGroup, grouped
from fexro.desktop.bench.menus import act
from fexro.desktop.derivation_view import DerivationView
from fexro.desktop.drawing import paint_bar, paint_glyph
from fexro.desktop.text import Label, tip_text
from fexro.desktop.theme import Theme, current_theme, font

__all__ = ["ChecksPanel"]


COLUMN_MARGIN = 8  # px right of the checks


class _Head(QWidget):
    """A line that a click, Return or Space opens and closes."""

    toggled = pyqtSignal()

    def __init__(self, told: str) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setToolTip(told)

    def _frame(self, painter: QPainter, theme: Theme) -> None:
        """Paint the line above, and that it has the focus."""
        painter.setPen(QPen(QColor(theme.hairline), 1))
        painter.drawLine(0, 0, self.width(), 0)
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.capacity), 1))
            painter.drawRect(QRectF(0.5, 1.5, self.width() - 1.5, self.height() - 3))

    def _row(self, painter: QPainter, theme: Theme, shown: _Row) -> None:
        """Paint glyph, name, ratio and its bar, and what stands below."""
        width = self.width()
        paint_glyph(painter, shown.state, QPointF(10, 15), 10, theme)
        painter.setFont(font(12, shown.weight))
        painter.setPen(QColor(theme.ink))
        line = QRectF(22, 6, width - 28, 18)
        ratio = "" if math.isnan(shown.ratio) else f"{shown.ratio:.2f}"
        room = int(line.width()) - 8 * len(ratio) - 4
        name = painter.fontMetrics().elidedText(shown.name, Qt.TextElideMode.ElideRight, room)
        painter.drawText(line, Qt.AlignmentFlag.AlignLeft, name)
        if ratio:
            painter.setFont(font(12, 600))
            painter.drawText(line, Qt.AlignmentFlag.AlignRight, ratio)
            bar = QRectF(22, 26, width - 28, 4)
            paint_bar(painter, shown.ratio, theme.state(shown.state), bar, theme)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.secondary))
        below = QRectF(22, 33, width - 28, 16)
        painter.drawText(below, Qt.AlignmentFlag.AlignRight, shown.mark)
        text = painter.fontMetrics().elidedText(
            shown.below, Qt.TextElideMode.ElideRight, int(below.width()) - 16
        )
        painter.drawText(below, Qt.AlignmentFlag.AlignLeft, text)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.toggled.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.toggled.emit()
        else:
            super().keyPressEvent(event)


@dataclass(frozen=True)
class _Row:
    """What a line of the panel says."""

    state: State
    name: str
    weight: int
    ratio: float
    below: str
    mark: str


class _CheckHead(_Head):
    """One check: glyph, name, ratio, bar, clause and detail; it opens the calculation."""

    def __init__(self, check: Finding, system: UnitSystem, opened: bool) -> None:
        super().__init__("Show or hide the calculation")
        self.opened = opened
        self._seen: tuple[object, ...] = ()
        self.show_check(check, system)

    def show_check(self, check: Finding, system: UnitSystem) -> None:
        """Show another answer to the same question."""
        before = self._seen
        self.check, self.detail = check, detail_of(check, system)
        self._seen = (check.name, check.state, f"{check.ratio:.3f}", check.clause, self.detail)
        if before == self._seen:
            return
        self.setAccessibleName(f"{check.name}, {check.state.word}")
        self.setAccessibleDescription(self.detail)
        self.setToolTip(tip_text(f"{check.name}: {self.detail}\nShow or hide the calculation"))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(200, 52)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, check = current_theme(), self.check
        painter = QPainter(self)
        self._frame(painter, theme)
        below = " · ".join(part for part in (check.clause, self.detail) if part)
        mark = "▾" if self.opened else "▸"
        self._row(painter, theme, _Row(check.state, check.name, 500, check.ratio, below, mark))
        painter.end()


class _GroupHead(_Head):
    """What some checks are about; folded, it stands for the worst of them."""

    def __init__(self, group: CheckGroup, folded: bool) -> None:
        super().__init__("Show its checks" if folded else "Fold its checks")
        self.folded = folded
        self._seen: tuple[object, ...] = ()
        self.show_group(group)

    def show_group(self, group: CheckGroup) -> None:
        """Show the same group with other answers."""
        before = self._seen
        self.group = group
        self._seen = (group.title, group.counted, group.state, f"{group.largest.ratio:.3f}")
        if before != self._seen:
            self.setAccessibleName(f"{group.title}, {group.counted}")
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(200, 52 if self.folded else 28)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme, group = current_theme(), self.group
        painter = QPainter(self)
        self._frame(painter, theme)
        if self.folded:
            worst = group.largest
            below = group.counted
            if not math.isnan(worst.ratio):
                below += f"; largest {worst.short}"
            row = _Row(group.state, group.title, 600, worst.ratio, below, "▸")
            self._row(painter, theme, row)
        else:
            line = QRectF(0, 7, self.width() - 6, 16)
            painter.setPen(QColor(theme.secondary))
            painter.setFont(font(11, 600))
            painter.drawText(line, Qt.AlignmentFlag.AlignLeft, group.title)
            room = int(line.width()) - painter.fontMetrics().horizontalAdvance(group.title) - 10
            painter.setFont(font(11))
            counted = painter.fontMetrics().elidedText(
                f"{group.counted}  ▾", Qt.TextElideMode.ElideLeft, room
            )
            painter.drawText(line, Qt.AlignmentFlag.AlignRight, counted)
        painter.end()


class ChecksPanel(QFrame):
    """All checks by what they are about, the worst first; satisfied groups are folded.

    Which checks are open, and which groups a person folded or unfolded, is remembered by name.

    Signals:
        picked: the combination that governs a check which was opened.
        put: the name of a check whose numbers go into the calculation.
    """

    picked = pyqtSignal(str)
    put = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("side")
        heading = Label("Checks")
        heading.setProperty("role", "heading")
        self.order = Label()
        self.order.setProperty("role", "quiet")
        self.order.setWordWrap(True)
        self.order.setToolTip(
            "Of an existing column: at which share of its forces, all growing together, each is"
            " reached; of ties how much of what is asked of new ones there is"
        )
        self.order.hide()
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 8, 8)
        layout.addWidget(heading)
        layout.addWidget(self.order)
        layout.addWidget(self._scroll, 1)
        self._open: set[str] = set()
        self._result: LiftResult | None = None
        self._demand: int | None = None
        self._system = UnitSystem.SI
        self._folds: dict[str, bool] = {}
        self._groups: list[CheckGroup] = []
        self.heads: list[_CheckHead] = []
        self.groups: list[_GroupHead] = []
        self.derivations: dict[str, DerivationView] = {}

    def show_result(
        self, result: LiftResult | None, demand: int | None, system: UnitSystem
    ) -> None:
        """Show the checks; of strength that of the demand that is selected."""
        self._result, self._demand, self._system = result, demand, system
        before = self._shown
        self._groups = [] if result is None else grouped(result.shown_findings)
        order = "" if result is None else failing_first(result)
        self.order.setText(order)
        self.order.setVisible(bool(order))
        if result is not None and before == self._shown:
            self._renew()
        else:
            self._rebuild()

    @property
    def _shown(self) -> list[tuple[str, bool, list[str]]]:
        """What is laid out: each group, whether it is folded, and the names of its checks."""
        return [
            (group.title, self._folded(group), [check.name for check in group.checks])
            for group in self._groups
        ]

    def _folded(self, group: CheckGroup) -> bool:
        """Whether a group is folded; one check stands by itself."""
        return len(group.checks) > 1 and self._folds.get(group.title, group.quiet)

    def fold(self, title: str) -> None:
        """Fold a group, or unfold it."""
        group = next(group for group in self._groups if group.title == title)
        self._folds[title] = not self._folded(group)
        self._rebuild()

    def toggle(self, name: str) -> None:
        """Open or close the derivation of a check; opened, its combination is selected."""
        self._open ^= {name}
        if name in self._open:
            self._folds |= {
                group.title: False
                for group in self._groups
                if any(check.name == name for check in group.checks)
            }
        self._rebuild()
        check = next((head.check for head in self.heads if head.check.name == name), None)
        if check is not None and name in self._open and check.combination is not None:
            self.picked.emit(check.combination)

    def _renew(self) -> None:
        """Give the same checks their new answers; new widgets would take longer than the checks."""
        known = {group.title: group for group in self._groups}
        for group_head in self.groups:
            group_head.show_group(known[group_head.group.title])
        checks = {check.name: check for group in self._groups for check in group.checks}
        for head in self.heads:
            check = checks[head.check.name]
            head.show_check(check, self._system)
            view = self.derivations.get(check.name)
            if view is not None:
                view.show_record(self._record(check), self._system)

    def _rebuild(self) -> None:
        focused = next((head.check.name for head in self.heads if head.hasFocus()), None)
        beside = next((head.group.title for head in self.groups if head.hasFocus()), None)
        bar = self._scroll.verticalScrollBar()
        assert bar is not None
        position = bar.value()
        content = QWidget()
        content.setObjectName("content")
        column = QVBoxLayout(content)
        column.setContentsMargins(0, 0, COLUMN_MARGIN, 0)
        column.setSpacing(0)
        self.heads, self.groups, self.derivations = [], [], {}
        for group in self._groups:
            folded = self._folded(group)
            if len(group.checks) > 1:
                self._add_group(column, group, folded)
            for check in () if folded else group.checks:
                self._add_check(column, check)
        column.addStretch(1)
        self._scroll.setWidget(content)
        bar.setValue(position)
        for head in self.heads:
            if head.check.name == focused:
                head.setFocus()
        for group_head in self.groups:
            if group_head.group.title == beside:
                group_head.setFocus()

    def _add_group(self, column: QVBoxLayout, group: CheckGroup, folded: bool) -> None:
        head = _GroupHead(group, folded)
        head.toggled.connect(lambda: self.fold(group.title))
        column.addWidget(head)
        self.groups.append(head)

    def _add_check(self, column: QVBoxLayout, check: Finding) -> None:
        name = check.name
        opened = name in self._open
        head = _CheckHead(check, self._system, opened)
        head.toggled.connect(lambda: self.toggle(name))
        head.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)
        act(head, "Put its numbers into the calculation", lambda: self.put.emit(name))
        column.addWidget(head)
        self.heads.append(head)
        if opened:
            column.addWidget(self._derivation(check))

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
