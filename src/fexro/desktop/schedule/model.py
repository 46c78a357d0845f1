"""Qt view for the project as a table of lifts."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QColor, QImage

from fexro.core.findings import State
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import summary_of
from fexro.core.quantities import UnitSystem, format_number
from fexro.core.section.section import Section
from fexro.core.section.ties import HeldRule
from fexro.desktop.document import UNCHECKED, Document
from fexro.desktop.drawing import write_length
from fexro.desktop.schedule.filters import EVERYTHING, Sought
from fexro.desktop.text import tip_text
from fexro.desktop.theme import Theme, mixed
from fexro.project.column import LiftKey, LiftModel, LiftRecord
from fexro.project.section import section_of
from fexro.project.shapes import shape_of

__all__ = ["CELL", "Cell", "ScheduleModel"]

CELL = Qt.ItemDataRole.UserRole
FOOT, CLOSE = 0.3048, 0.95


@dataclass(frozen=True)
class Cell:
    """What one cell shows: the lift, its section, its result once there is one.

    By `rule` ties hold bars.
    Without a result it is `checking`, or it is not checked. `group` is the name of the group it is
    in, if any; what is not `sought` is drawn faintly; what is `kept` by hand no run of sizing
    changes. `change` is what the last taking made of its
    utilisation, where that is shown.
    """

    key: LiftKey
    lift: LiftModel
    section: Section
    rule: HeldRule
    result: LiftResult | None
    checking: bool
    group: str = ""
    sought: bool = True
    change: float | None = None
    kept: bool = False


class ScheduleModel(QAbstractTableModel):
    """Rows are storeys, columns are marks; a lift that does not exist is an empty cell."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.sought = EVERYTHING
        self._change: Callable[[LiftKey], float | None] = _unknown
        self._rows: dict[str, int] = {}
        self._columns: dict[str, int] = {}
        self._reset()
        document.opened.connect(self._reset)
        document.edited.connect(self._edited)
        document.checked.connect(self._touched)

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of storeys."""
        project = self.document.project
        return 0 if project is None or (parent and parent.isValid()) else len(project.storeys)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of marks."""
        project = self.document.project
        return 0 if project is None or (parent and parent.isValid()) else len(project.columns)

    def key(self, index: QModelIndex) -> LiftKey:
        """Return the lift a cell stands for, whether or not it exists."""
        project = self.document.project
        assert project is not None
        return LiftKey(project.columns[index.column()].name, project.storeys[index.row()].name)

    def index_of(self, key: LiftKey) -> QModelIndex:
        """Return the cell of a lift; no cell for one that there is not."""
        return self.index(self._rows.get(key.storey, -1), self._columns.get(key.mark, -1))

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return the cell itself, or its text for screen readers and tooltips."""
        project = self.document.project
        if project is None or not index.isValid():
            return None
        key = self.key(index)
        lift = project.by_key.get(key)
        if lift is None:
            return None
        result = self.document.results.get(key)
        if role == CELL:
            group = project.group_by_key.get(key)
            section = section_of(lift.section, project.basis.bars.own)
            name = "" if group is None else group.name
            sought = self.sought.finds(project, key, result)
            change = self._change(key)
            rule = project.basis.design_code.held
            kept = project.record_by_key[key].kept
            return Cell(
                *(key, lift, section, rule, result, self.document.busy, name, sought, change, kept)
            )
        if role in (Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleTextRole):
            if result is None:
                return tip_text(f"{key}: {UNCHECKED[self.document.busy]}")
            verdict, *remarks = summary_of(result, project.basis.system)
            record = project.record_by_key[key]
            bars = f"{_label(record, project.basis.system)}: {record.bars}, {record.ties}"
            return tip_text("\n".join([f"{key}: {verdict}", bars, *remarks]))
        return None

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return two lines for the header: name and description."""
        project = self.document.project
        if project is None or role != Qt.ItemDataRole.DisplayRole:
            return None
        system = project.basis.system
        if orientation == Qt.Orientation.Horizontal:
            mark = project.columns[section]
            labels = {_label(lift, system) for lift in mark.lifts}
            if not labels:
                return mark.name, "no lift"
            return mark.name, labels.pop() if len(labels) == 1 else "sections vary"
        storey = project.storeys[section]
        return storey.name, f"{_level(storey.level, system)}\n{_height(storey.height, system)}"

    def heat(self, theme: Theme) -> tuple[QImage, list[tuple[int, int]]]:
        """Return a pixel a cell, coloured by utilisation, and the cells that exceed a limit."""
        project, results = self.document.project, self.document.results
        assert project is not None
        image = QImage(
            max(self.columnCount(), 1), max(self.rowCount(), 1), QImage.Format.Format_RGB32
        )
        image.fill(QColor(theme.paper))
        ramp = [mixed(theme.track, theme.satisfied, i / 20).rgb() for i in range(21)]
        exceeded_colour, faint = QColor(theme.exceeded).rgb(), QColor(theme.track).rgb()
        attention, unchecked = QColor(theme.attention).rgb(), QColor(theme.unchecked).rgb()
        exceeded = []
        for key in project.by_key:
            row, column, result = self._rows[key.storey], self._columns[key.mark], results.get(key)
            if not self.sought.finds(project, key, result):
                image.setPixel(column, row, faint)
            elif result is None or math.isnan(result.utilisation):
                image.setPixel(column, row, unchecked)
            elif result.state is State.EXCEEDED:
                image.setPixel(column, row, exceeded_colour)
                exceeded.append((row, column))
            elif result.utilisation > CLOSE:
                image.setPixel(column, row, attention)
            else:
                image.setPixel(column, row, ramp[round(20 * max(result.utilisation, 0.0))])
        return image, exceeded

    def show_changes(self, change: Callable[[LiftKey], float | None] | None) -> None:
        """Show by how much utilisations changed, or no more."""
        self._change = change or _unknown
        self._touched(frozenset())

    def seek(self, sought: Sought) -> int:
        """Draw what is not sought faintly; return how many lifts are found."""
        self.sought = sought
        project, results = self.document.project, self.document.results
        if project is None:
            return 0
        self._touched(frozenset())
        return sum(sought.finds(project, key, results.get(key)) for key in project.by_key)

    def _reset(self) -> None:
        self.beginResetModel()
        project = self.document.project
        storeys, marks = ((), ()) if project is None else (project.storeys, project.columns)
        self._rows = {storey.name: i for i, storey in enumerate(storeys)}
        self._columns = {mark.name: i for i, mark in enumerate(marks)}
        self.endResetModel()

    def _edited(self, keys: frozenset[LiftKey]) -> None:
        project = self.document.project
        assert project is not None
        rows, columns = [s.name for s in project.storeys], [m.name for m in project.columns]
        if rows != list(self._rows) or columns != list(self._columns):
            self._reset()
        else:
            self._touched(keys or frozenset())
            self.headerDataChanged.emit(Qt.Orientation.Vertical, 0, max(self.rowCount() - 1, 0))

    def _touched(self, keys: frozenset[LiftKey]) -> None:
        if not keys and self.rowCount():
            # How far checking is concerns every cell without a result.
            last = self.index(self.rowCount() - 1, self.columnCount() - 1)
            self.dataChanged.emit(self.index(0, 0), last)
        for key in keys:
            index = self.index_of(key)
            if index.isValid():
                self.dataChanged.emit(index, index)
        self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, max(self.columnCount() - 1, 0))


def _label(lift: LiftRecord, system: UnitSystem) -> str:
    """Return how a section is called: its shape and the structural steel in it."""

    def write(value: float) -> str:
        return write_length(value, system)

    called = shape_of(lift.shape).label(write)
    steel = [part.profile.geometry().label(write) for part in lift.profiles]
    if not steel:
        return called
    return (
        f"{called} with {steel[0]}" if len(steel) == 1 else f"{called} with {len(steel)} profiles"
    )


def _unknown(_: LiftKey) -> float | None:
    return None


def _level(metres: float, system: UnitSystem) -> str:
    sign = "+" if metres >= 0 else ""
    if system is UnitSystem.SI:
        return sign + format_number(metres, 2)
    return f"{sign}{format_number(metres / FOOT, 2)} ft"


def _height(metres: float, system: UnitSystem) -> str:
    if system is UnitSystem.SI:
        return f"↕ {format_number(metres, 1)} m"
    return f"↕ {format_number(metres / FOOT, 1)} ft"
