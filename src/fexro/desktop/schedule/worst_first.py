"""Qt view for the results of the whole building: the headline, their spread, the worst first."""

from __future__ import annotations

import math

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QFrame,
    QListView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from fexro.core.findings import State, state_of_ratio
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import assumptions_of, summary_of, verdict_of
from fexro.desktop.document import Document
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.text import Label, tip_text
from fexro.desktop.theme import current_theme, font
from fexro.project.column import LiftKey

__all__ = ["WorstFirst"]

RESULT = Qt.ItemDataRole.UserRole
LISTED = 200
BINS, BIN = 13, 0.1


def _ranked(results: dict[LiftKey, LiftResult]) -> list[tuple[LiftKey, LiftResult]]:
    """Return lifts in order of state, then of ratio."""

    def rank(item: tuple[LiftKey, LiftResult]) -> tuple[int, float]:
        ratio = item[1].shown_ratio
        return -int(item[1].state), math.inf if math.isnan(ratio) else -ratio

    return sorted(results.items(), key=rank)


NOTES = 6  # assumptions that stand beside the schedule


class _Spread(QWidget):
    """Histogram of the lifts' utilisation."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.setFixedHeight(84)
        self.setAccessibleName("Utilisation of all lifts")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        theme = current_theme()
        painter = QPainter(self)
        counts = [0] * BINS
        for result in self._document.results.values():
            if not math.isnan(result.shown_ratio):
                counts[min(int(result.shown_ratio / BIN), BINS - 1)] += 1
        tallest = max(max(counts), 1)
        width, base = self.width() / BINS, self.height() - 20
        for i, count in enumerate(counts):
            state = state_of_ratio((i + 0.5) * BIN) if i >= 10 else State.SATISFIED
            height = (base - 14) * count / tallest
            bar = QRectF(i * width + 1, base - height, width - 2, height)
            painter.fillRect(bar, theme.state(state))
            if count:
                painter.setFont(font(9))
                painter.setPen(QColor(theme.secondary))
                painter.drawText(
                    QRectF(i * width - 4, base - height - 13, width + 8, 12),
                    Qt.AlignmentFlag.AlignCenter,
                    str(count),
                )
        painter.setPen(QPen(QColor(theme.hairline), 1))
        painter.drawLine(QPointF(0, base), QPointF(self.width(), base))
        painter.setPen(QPen(QColor(theme.ink), 1))
        limit = 10 * width
        painter.drawLine(QPointF(limit, 4), QPointF(limit, base + 4))
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        for value, align in (
            (0.0, Qt.AlignmentFlag.AlignLeft),
            (0.5, Qt.AlignmentFlag.AlignHCenter),
            (1.0, Qt.AlignmentFlag.AlignHCenter),
        ):
            at = value / BIN * width
            left = at if align == Qt.AlignmentFlag.AlignLeft else at - 20
            painter.drawText(QRectF(left, base + 4, 40, 14), align, f"{value:.1f}")
        painter.drawText(
            QRectF(self.width() - 60, base + 4, 60, 14), Qt.AlignmentFlag.AlignRight, "1.2 +"
        )
        painter.end()


class _WorstModel(QAbstractListModel):
    """The lifts, worst first."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._rows: list[tuple[LiftKey, LiftResult]] = []

    def refresh(self) -> None:
        """Take the order of the current results."""
        self.beginResetModel()
        self._rows = _ranked(self._document.results)[:LISTED]
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent and parent.isValid() else len(self._rows)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid() or index.row() >= len(self._rows):
            return None
        key, result = self._rows[index.row()]
        project = self._document.project
        assert project is not None
        if role == RESULT:
            return key, result, verdict_of(result, project.basis.system)
        if role in (Qt.ItemDataRole.AccessibleTextRole, Qt.ItemDataRole.ToolTipRole):
            verdict, *remarks = summary_of(result, project.basis.system)
            return tip_text("\n".join([f"{key}: {verdict}", *remarks]))
        return None


class _WorstDelegate(QStyledItemDelegate):
    """Paints a lift of the list: glyph, name, ratio, verdict."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(100, 46)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        found = index.data(RESULT)
        if found is None:
            return
        key, result, verdict = found
        theme, area = current_theme(), QRectF(option.rect)
        painter.save()
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(area, QColor(theme.track))
        painter.setPen(QPen(QColor(theme.hairline), 1))
        painter.drawLine(area.topLeft(), area.topRight())
        paint_glyph(painter, result.state, QPointF(area.left() + 8, area.top() + 15), 10, theme)
        painter.setFont(font(12, 600))
        painter.setPen(QColor(theme.ink))
        line = QRectF(area.left() + 20, area.top() + 6, area.width() - 26, 18)
        painter.drawText(line, Qt.AlignmentFlag.AlignLeft, str(key))
        ratio = result.shown_ratio
        number = "–" if math.isnan(ratio) else f"{ratio:.2f}"
        painter.drawText(line, Qt.AlignmentFlag.AlignRight, number)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.secondary))
        below = QRectF(area.left() + 20, area.top() + 24, area.width() - 26, 18)
        text = painter.fontMetrics().elidedText(
            verdict, Qt.TextElideMode.ElideRight, int(below.width())
        )
        painter.drawText(below, Qt.AlignmentFlag.AlignLeft, text)
        painter.restore()


class _WorstList(QListView):
    opened = pyqtSignal(LiftKey)

    def __init__(self, model: _WorstModel) -> None:
        super().__init__()
        self.setModel(model)
        self.setItemDelegate(_WorstDelegate(self))
        self.setAccessibleName("Lifts, worst first")
        self.setUniformItemSizes(True)
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.activated.connect(self._open)
        self.clicked.connect(self._open)

    def _open(self, index: QModelIndex) -> None:
        found = index.data(RESULT)
        if found is not None:
            self.opened.emit(found[0])


class WorstFirst(QFrame):
    """The side panel of the schedule."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("side")
        self._document = document
        self.headline, self.counts, self.assumption = Label(), Label(), Label()
        self.headline.setProperty("role", "headline")
        for label in (self.counts, self.assumption):
            label.setProperty("role", "quiet")
        for label in (self.headline, self.counts, self.assumption):
            label.setWordWrap(True)
        heading = Label("Worst first")
        heading.setProperty("role", "heading")
        self._spread = _Spread(document)
        self._model = _WorstModel(document)
        self.list = _WorstList(self._model)
        self.list.opened.connect(self.opened)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 8)
        layout.setSpacing(6)
        for widget in (self.headline, self.counts, self._spread, self.assumption, heading):
            layout.addWidget(widget)
        layout.addWidget(self.list, 1)
        document.opened.connect(self._refresh)
        document.checked.connect(self._refresh)  # after every edit too

    def _refresh(self) -> None:
        project, results = self._document.project, self._document.results
        if project is None:
            return
        total = len(project.by_key)
        exceeded = sum(r.state is State.EXCEEDED for r in results.values())
        close = sum(r.state is State.ATTENTION for r in results.values())
        unchecked = sum(r.state is State.NOT_CHECKED for r in results.values())
        missing = total - len(results)
        if self._document.busy:
            self.headline.setText(f"Checking {total} lifts: {self._document.done} done.")
        elif missing:
            self.headline.setText(f"{missing} of {total} lifts are not checked.")
        elif exceeded:
            verb = "exceeds a limit" if exceeded == 1 else "exceed a limit"
            self.headline.setText(f"{exceeded} of {total} lifts {verb}.")
        else:
            self.headline.setText(f"No lift of {total} exceeds a limit.")
        parts = [f"{close} close to a limit"] if close else []
        parts += [f"{unchecked} not checked"] if unchecked else []
        parts.append(f"{len(project.combinations)} combinations")
        self.counts.setText(" · ".join(parts))
        system = project.basis.system
        assumed = assumptions_of(results, system)
        shown = assumed if len(assumed) <= NOTES else assumed[: NOTES - 1]
        lines = [f"◇ {text}" for text in shown]
        if len(assumed) > len(shown):
            lines.append(f"◇ {len(assumed) - len(shown)} more, which stand on the benches.")
        self.assumption.setText("\n".join(lines))
        self.assumption.setToolTip(tip_text("\n".join(assumed)))
        self.assumption.setVisible(bool(assumed))
        self._model.refresh()
        self._spread.update()
