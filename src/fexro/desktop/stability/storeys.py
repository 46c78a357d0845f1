"""Qt view for the sway of storeys: what is known, what follows, profiles over the height."""

from __future__ import annotations

import math
import re
from functools import partial
from typing import Any

import numpy as np
from PyQt6.QtCore import QModelIndex, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.provisions import Derivation
from fexro.core.quantities import (
    Dimension,
    UnitSystem,
    format_number,
    format_quantity,
    parse_quantity,
    unit_of,
)
from fexro.desktop.cells import EditingModel, EditingView, aligned
from fexro.desktop.derivation_view import DerivationView
from fexro.desktop.document import Document
from fexro.desktop.drawing import paint_glyph
from fexro.desktop.layouts import clear_layout
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme, font
from fexro.project.edits.stability import set_storey_stability
from fexro.project.project import Project
from fexro.project.storey_sway import StoreySway, storeys_of

__all__ = ["StoreysPage"]

AXES = ("x", "y")
HEADS = ("Storey", "Vertical load", "Carried by others", "Lifts stated")
PER_AXIS = ("Drift {a} at shear", "{s} {a}", "Decision {a}", "In")
TIPS = {
    1: "Largest of all combinations: the feet of the lifts, and what other members carry",
    2: "Factored vertical load that walls and others carry; it leans on what resists sway",
    3: "Lifts that state whether they are braced, whatever the storey says",
}
DRIFT, MEASURE, DECISION, COMBINATION = range(4)
MOST = 4  # that a sentence lists


class StoreysModel(EditingModel):
    """Rows are storeys; drifts and loads of others are typed in their cells."""

    def __init__(self, document: Document) -> None:
        self.storeys: list[StoreySway] = []
        super().__init__(document)

    def load(self) -> None:
        """Take the storeys of the project."""
        project = self.document.project
        self.storeys = [] if project is None else storeys_of(project)

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of storeys."""
        return 0 if parent and parent.isValid() else len(self.storeys)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else len(HEADS) + 2 * len(PER_AXIS)

    def part(self, column: int) -> tuple[int, int]:
        """Return the axis of a column, -1 for those of the storey, and which it is."""
        if column < len(HEADS):
            return -1, column
        return divmod(column - len(HEADS), len(PER_AXIS))

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return the heading of a column."""
        if orientation == Qt.Orientation.Vertical:
            return None
        axis, part = self.part(section)
        if role == Qt.ItemDataRole.ToolTipRole:
            return TIPS.get(section)
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(axis < 0 < part or (part in (DRIFT, MEASURE) and axis >= 0))
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        if axis < 0:
            return HEADS[part]
        symbol = self.storeys[0].directions[axis].symbol if self.storeys else ""
        return PER_AXIS[part].format(a=AXES[axis], s=symbol)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what a cell holds."""
        if not index.isValid():
            return None
        row = self.storeys[index.row()]
        axis, part = self.part(index.column())
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(axis < 0 < part or (part in (DRIFT, MEASURE) and axis >= 0))
        if role == Qt.ItemDataRole.ForegroundRole and axis >= 0 and part in (MEASURE, DECISION):
            direction = row.directions[axis]
            if direction.warning:
                return QColor(current_theme().exceeded)
            if not direction.braced:
                return QColor(current_theme().attention)
        if role == Qt.ItemDataRole.ToolTipRole and axis >= 0:
            return row.directions[axis].warning or row.directions[axis].reason
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        project = self.document.project
        assert project is not None
        return self._text(project, row, axis, part)

    def _text(self, project: Project, row: StoreySway, axis: int, part: int) -> str:
        system = project.basis.system
        model = project.storey_by_name[row.name]
        if axis < 0:
            largest = float(np.nanmax(row.facts.axial, initial=0.0))
            texts = (
                row.name,
                format_quantity(round(largest, -3), Dimension.FORCE, system),
                format_quantity(1e3 * model.other_axial, Dimension.FORCE, system),
                str(row.stated or ""),
            )
            return texts[part]
        direction = row.directions[axis]
        if part == DRIFT:
            drift = model.drift_x if axis == 0 else model.drift_y
            if drift is None:
                return ""
            length = format_quantity(drift.drift, Dimension.LENGTH, system)
            return f"{length} at {format_quantity(1e3 * drift.shear, Dimension.FORCE, system)}"
        at = direction.deciding
        if part == MEASURE:
            decimals = 1 if direction.least else 3
            return "–" if at is None else format_number(float(direction.value[at]), decimals)
        words = project.basis.design_code.vocabulary
        if part == DECISION:
            mark = "◇ " if not direction.braced else ""
            known = "" if at is not None else " (assumed)"
            return f"{mark}{words.braced if direction.braced else words.sway}{known}"
        return "" if at is None else row.facts.combinations[at]

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let drifts and the loads of others be typed."""
        flags = super().flags(index)
        axis, part = self.part(index.column())
        if (axis, part) == (-1, 2) or (axis >= 0 and part == DRIFT):
            return flags | Qt.ItemFlag.ItemIsEditable
        return flags

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed."""
        row, text = self.storeys[index.row()], str(value).strip()
        axis, part = self.part(index.column())
        if text == self.data(index):
            return False
        project = self.document.project
        assert project is not None
        system = project.basis.system
        try:
            if axis < 0:
                load = parse_quantity(text or "0", Dimension.FORCE, system, HEADS[part]) / 1e3
                fields: dict[str, Any] = {"other_axial": load}
                label = f"Load carried by others in {row.name}"
            else:
                fields = {f"drift_{AXES[axis]}": _drift(text, system)}
                label = f"Drift {AXES[axis]} of {row.name}"
        except InputError as error:
            self.refused.emit(str(error))
            return False
        return self.edit(label, partial(set_storey_stability, name=row.name, **fields))


def _drift(text: str, system: UnitSystem) -> tuple[float, float] | None:
    """Return drift, mm, and shear, kN, of text such as `8.4 mm at 580 kN`; nothing of none."""
    if not text:
        return None
    parts = re.split(r"\s*(?:\bat\b|@|/|;)\s*", text, maxsplit=1)
    if len(parts) != 2:
        allowed = "a drift and the storey shear behind it, such as 8 mm at 600 kN"
        raise InputError("drift", f"“{text}”", allowed)
    drift = parse_quantity(parts[0], Dimension.LENGTH, system, "drift")
    shear = parse_quantity(parts[1], Dimension.FORCE, system, "storey shear")
    return drift, shear / 1e3


class Profiles(QWidget):
    """Drift, and the measure of stability, over the height in both directions."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Profiles of drift and stability over the height")
        self.setMinimumHeight(230)
        self._rows: list[StoreySway] = []
        self._system = UnitSystem.SI

    def show_storeys(self, rows: list[StoreySway], system: UnitSystem) -> None:
        """Show storeys."""
        self._rows, self._system = rows, system
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw two profiles for each direction."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._rows:
            width = (self.width() - 60) / 4
            for axis in (0, 1):
                for kind in (0, 1):
                    left = 56 + (2 * axis + kind) * width
                    area = QRectF(left, 44, width - 30, self.height() - 58)
                    self._paint_profile(painter, area, axis, drift=kind == 0)
            self._paint_names(painter)
        painter.end()

    def _paint_names(self, painter: QPainter) -> None:
        theme = current_theme()
        painter.setFont(font(10))
        painter.setPen(QColor(theme.secondary))
        height = (self.height() - 58) / len(self._rows)
        for i, row in enumerate(self._rows):
            box = QRectF(0, 44 + i * height, 48, height)
            flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(box, flags, row.name)

    def _paint_profile(self, painter: QPainter, area: QRectF, axis: int, *, drift: bool) -> None:
        theme = current_theme()
        values, limit, texts = self._values(axis, drift=drift)
        known = [value for value in values if math.isfinite(value)]
        reach = max([*known, limit * 1.15 if limit else 0.0, 1e-9])
        symbol = self._rows[0].directions[axis].symbol
        unit = unit_of(Dimension.LENGTH, self._system).symbol
        title = f"Drift along {AXES[axis]}, {unit}" if drift else f"{symbol} along {AXES[axis]}"
        painter.setFont(font(11, 600))
        painter.setPen(QColor(theme.ink))
        painter.drawText(QRectF(area.left(), 4, area.width() + 24, 16), 0, title)
        height = area.height() / len(self._rows)
        painter.setPen(QPen(QColor(theme.axis), 1))
        painter.drawLine(area.topLeft(), area.bottomLeft())
        for i, value in enumerate(values):
            top = area.top() + i * height
            painter.setPen(QPen(QColor(theme.hairline), 1))
            painter.drawLine(QPointF(area.left(), top), QPointF(area.right(), top))
            if not math.isfinite(value):
                painter.setPen(QColor(theme.secondary))
                painter.setFont(font(10))
                box = QRectF(area.left() + 4, top, area.width(), height)
                painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, "not known")
                continue
            over = bool(limit) and not self._rows[i].directions[axis].braced
            length = area.width() * value / reach
            bar = QRectF(area.left(), top + 3, length, max(height - 6, 2))
            colour = theme.attention if over else theme.track
            if self._rows[i].directions[axis].warning and not drift:
                colour = theme.exceeded
            painter.fillRect(bar, QColor(colour))
            if over:
                paint_glyph(
                    painter,
                    State.ATTENTION,
                    QPointF(area.right() + 12, top + height / 2),
                    10,
                    theme,
                )
        self._paint_limit(painter, area, axis, limit, reach)
        # Over the line of the limit, so that they can be read.
        painter.setFont(font(10))
        for i, value in enumerate(values):
            if math.isfinite(value):
                length = area.width() * value / reach
                left = area.left() + (length + 4 if length < 0.72 * area.width() else 4)
                middle = area.top() + (i + 0.5) * height
                wide = painter.fontMetrics().horizontalAdvance(texts[i])
                if length < 0.72 * area.width():
                    back = QRectF(left - 1, middle - 7, wide + 2, 14)
                    painter.fillRect(back, QColor(theme.paper))
                strong = bool(limit) and not self._rows[i].directions[axis].braced
                painter.setPen(QColor(theme.panel if strong else theme.ink))
                box = QRectF(left, middle - 8, area.width(), 16)
                painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, texts[i])

    def _paint_limit(
        self, painter: QPainter, area: QRectF, axis: int, limit: float, reach: float
    ) -> None:
        theme = current_theme()
        if limit:
            x = area.left() + area.width() * limit / reach
            painter.setPen(QPen(QColor(theme.exceeded), 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, area.top() - 6), QPointF(x, area.bottom()))
            painter.setFont(font(10))
            told = format_number(self._rows[0].directions[axis].limit, 2).rstrip("0").rstrip(".")
            box = QRectF(x - 30, area.top() - 21, 60, 14)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, told)

    def _values(self, axis: int, *, drift: bool) -> tuple[list[float], float, list[str]]:
        """Return what is drawn for each storey, the limit, and what is written.

        A factor of which the least decides is drawn by its inverse, so that longer is worse.
        """
        values, texts, limit = [], [], 0.0
        for row in self._rows:
            if drift:
                known = row.facts.drifts[axis]
                unit = unit_of(Dimension.LENGTH, self._system)
                value = math.nan if known is None else known.drift / unit.size
                texts.append(format_number(value, 1 if self._system is UnitSystem.SI else 2))
            else:
                direction = row.directions[axis]
                at = direction.deciding
                value = math.nan if at is None else float(direction.value[at])
                texts.append(format_number(value, 1 if direction.least else 3))
                limit = 1 / direction.limit if direction.least else direction.limit
                if direction.least and value:
                    value = 1 / value
            values.append(value)
        return values, limit, texts


class StoreysPage(QWidget):
    """Storeys as a table and as profiles, with the calculation of the chosen one."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.model = StoreysModel(document)
        self.view = EditingView(self.model, "Sway of storeys")
        self.profiles = Profiles()
        self.told, self.error = Label(), Label()
        self.told.setWordWrap(True)
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        self.model.refused.connect(self._refuse)
        self.hint = Label(
            "Drift is of first order, of the floor against the one below, under the storey shear"
            " that is typed with it: 8 mm at 600 kN. Double-click a cell to type."
        )
        self.hint.setProperty("role", "quiet")
        self.hint.setWordWrap(True)
        self._calculation = QVBoxLayout()
        holder, content = QScrollArea(), QWidget()
        content.setObjectName("content")
        content.setLayout(self._calculation)
        holder.setWidgetResizable(True)
        holder.setWidget(content)
        holder.setMinimumWidth(300)
        below = QHBoxLayout()
        below.addWidget(self.profiles, 3)
        below.addWidget(holder, 2)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.setSpacing(6)
        layout.addWidget(self.told)
        layout.addWidget(self.view)
        layout.addWidget(self.hint)
        layout.addWidget(self.error)
        layout.addLayout(below, 3)
        chosen = self.view.selectionModel()
        assert chosen is not None
        chosen.currentChanged.connect(lambda *_: self._explain())

    def refresh(self) -> None:
        """Show the storeys as they are."""
        project = self._document.project
        if project is None:
            return
        first = not self.model.storeys
        self.model.refresh()
        if first:
            self.view.fit(190)
            self.view.setMaximumHeight(64 + 25 * min(len(self.model.storeys), 12))
        self.told.setText(told_of(self.model.storeys))
        self.profiles.show_storeys(self.model.storeys, project.basis.system)
        self.error.hide()
        if self.model.storeys and not self.view.currentIndex().isValid():
            self.view.setCurrentIndex(self._first())
        self._explain()

    def _explain(self) -> None:
        """Show how the measure of the chosen storey and direction is found."""
        project, index = self._document.project, self.view.currentIndex()
        clear_layout(self._calculation)
        if project is None or not index.isValid():
            return
        row, axis = self.model.storeys[index.row()], max(self.model.part(index.column())[0], 0)
        direction = row.directions[axis]
        at = direction.deciding
        heading = Label(f"{row.name}, sway along {AXES[axis]}")
        heading.setProperty("role", "heading")
        self._calculation.addWidget(heading)
        record = Derivation()
        if at is not None:
            record.note(f"In {row.facts.combinations[at]}, which decides:")
            project.basis.design_code.stability.explain_storey(record, row.facts, axis, at)
        record.note(f"{direction.reason}.")
        if direction.warning:
            record.note(direction.warning)
        self._calculation.addWidget(DerivationView(record, project.basis.system))
        self._calculation.addStretch(1)

    def _first(self) -> QModelIndex:
        """Return the cell of the first storey that sways, or of the topmost of all."""
        for row, storey in enumerate(self.model.storeys):
            for axis, direction in enumerate(storey.directions):
                if not direction.braced:
                    return self.model.index(row, len(HEADS) + axis * len(PER_AXIS) + DECISION)
        return self.model.index(0, 0)

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)
        self.error.show()


def told_of(rows: list[StoreySway]) -> str:
    """Return in a sentence which storeys sway, and which are close to instability."""
    each = [
        (f"{row.name} along {AXES[axis]}", direction)
        for row in rows
        for axis, direction in enumerate(row.directions)
    ]
    known = [
        f"{name} ({direction.reason})"
        for name, direction in each
        if not direction.braced and direction.deciding is not None
    ]
    assumed = [name for name, d in each if not d.braced and d.deciding is None]
    warned = [f"{name}: {d.warning}." for name, d in each if d.warning]
    sentences = []
    if known:
        sentences.append(f"◇ Take part in sway: {_listed(known)}.")
    if assumed:
        sentences.append(f"◇ Taken to sway, for no drift is known: {_listed(assumed)}.")
    return " ".join([*(sentences or ["No storey sways."]), *warned[:2]])


def _listed(names: list[str]) -> str:
    more = f" and {len(names) - MOST} more" if len(names) > MOST else ""
    return f"{', '.join(names[:MOST])}{more}"
