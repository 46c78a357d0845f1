"""Qt view for the takings of a project, and what the last of them changed."""

from __future__ import annotations

import math
from functools import partial
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHideEvent, QShowEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from fexro.core.arrays import FloatArray
from fexro.desktop.document import Document
from fexro.desktop.former import FormerResults
from fexro.desktop.text import Label, tip_text
from fexro.desktop.theme import current_theme
from fexro.project.column import LiftKey
from fexro.project.comparison import (
    Change,
    CombinationChange,
    changes_of,
    forces_changed,
    former_project,
)
from fexro.project.edits.takings import put_back_forces
from fexro.project.project import Project

__all__ = ["SourcesPage"]

SIDE = 300  # px, of the takings


class _Table(QAbstractTableModel):
    """Rows of text under headings, numbers to the right."""

    def __init__(self, heads: tuple[str, ...], left: int) -> None:
        super().__init__()
        self._heads, self._left = heads, left
        self.rows: list[tuple[tuple[str, ...], str]] = []

    def show_rows(self, rows: list[tuple[tuple[str, ...], str]]) -> None:
        """Show rows, each with the name of the colour of its text."""
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent and parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return 0 if parent and parent.isValid() else len(self._heads)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        if orientation == Qt.Orientation.Vertical:
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return self._aligned(section)
        return self._heads[section] if role == Qt.ItemDataRole.DisplayRole else None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        texts, colour = self.rows[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return texts[index.column()]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return self._aligned(index.column())
        if role == Qt.ItemDataRole.ForegroundRole:
            return QColor(getattr(current_theme(), colour))
        return None

    def _aligned(self, column: int) -> Any:
        side = Qt.AlignmentFlag.AlignLeft if column < self._left else Qt.AlignmentFlag.AlignRight
        return side | Qt.AlignmentFlag.AlignVCenter


class SourcesPage(QWidget):
    """Takings at the left; lifts by what changed, and the forces of the chosen one."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document, former: FormerResults) -> None:
        super().__init__()
        self._document, self._former = document, former
        self.changes: list[Change] = []
        self.takings = QListWidget()
        self.takings.setAccessibleName("Takings")
        self.takings.setWordWrap(True)
        self.headline, self.told = Label(), Label()
        self.headline.setProperty("role", "headline")
        self.told.setProperty("role", "quiet")
        for label in (self.headline, self.told):
            label.setWordWrap(True)
        self.model = _Table(("", "Lift", "Before", "After", "Change"), 2)
        self.forces = _Table(
            ("Combination", "N before", "after", "Mx before", "after", "My before", "after"), 1
        )
        self.view, self.forces_view = (
            _view(self.model, "What changed"),
            _view(self.forces, "Forces before and after"),
        )
        self.view.activated.connect(self._open)
        chosen = self.view.selectionModel()
        assert chosen is not None
        chosen.currentRowChanged.connect(lambda *_: self._show_forces())
        self.back = QPushButton("Go back to the forces before")
        self.back.clicked.connect(lambda _: self._go_back())
        side = QFrame()
        side.setObjectName("side")
        side.setFixedWidth(SIDE)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 4, 12, 10)
        heading = Label("Takings, the last first")
        heading.setProperty("role", "heading")
        column.addWidget(heading)
        column.addWidget(self.takings, 1)
        column.addWidget(self.back)
        main = QVBoxLayout()
        main.setContentsMargins(16, 4, 16, 10)
        main.addWidget(self.headline)
        main.addWidget(self.told)
        main.addWidget(self.view, 3)
        self.forces_title = Label()
        self.forces_title.setProperty("role", "heading")
        main.addWidget(self.forces_title)
        main.addWidget(self.forces_view, 2)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(side)
        layout.addLayout(main, 1)
        document.opened.connect(self.refresh)
        former.compared.connect(self.refresh)
        document.edited.connect(lambda _: self.refresh())
        document.checked.connect(lambda _: self._checked())

    def refresh(self) -> None:
        """Show takings, and compare with the forces before; nothing is done while it is hidden."""
        project = self._document.project
        if project is None or not self.isVisible():
            return
        self.takings.clear()
        for taking in reversed(project.takings):
            text = (
                f"{taking.number} · {taking.file}\n{taking.date.replace('T', ' ')} · read by"
                f" {taking.mapping}\n{taking.members} lifts, {taking.names} cases or combinations,"
                f" {taking.rows} rows · {taking.checksum[:8]}"
            )
            item = QListWidgetItem(text)
            item.setToolTip(tip_text("\n".join(taking.complaints) or "Nothing was doubtful."))
            self.takings.addItem(item)
        there = self._former.known
        self.back.setVisible(there)
        if not there:
            self.headline.setText("No forces were taken the place of yet.")
            self.told.setText(
                "When a table is taken a second time, this page tells what the new analysis"
                " changed."
            )
            self.model.show_rows([])
            self.forces.show_rows([])
            return
        self._show()

    def _checked(self) -> None:
        if self.isVisible() and self._former.results and not self._document.busy:
            self._show()

    def _show(self) -> None:
        project = self._document.project
        if project is None:
            return
        if not self._former.results:
            self.headline.setText("Comparing with the forces before …")
            return
        self.changes = changes_of(self._former.results, self._document.results)
        over = sum(change.crosses > 0 for change in self.changes)
        under = sum(change.crosses < 0 for change in self.changes)
        more = sum(change.size > 0.005 for change in self.changes)
        less = sum(change.size < -0.005 for change in self.changes)
        self.headline.setText(
            f"{over} {'lift exceeds its limit' if over == 1 else 'lifts exceed their limit'}"
            f" since, {under or 'none'} no more."
        )
        self.told.setText(
            f"{more} lifts are used more, {less} less, by 0.01 or more; "
            + _names_changed(former_project(project), project)
        )
        glyphs = {1: ("■ exceeds", "exceeded"), -1: ("● met again", "satisfied"), 0: ("", "ink")}
        rows: list[tuple[tuple[str, ...], str]] = []
        for change in self.changes:
            glyph, colour = glyphs[change.crosses]
            shown = "–" if math.isinf(change.size) else f"{change.size:+.2f}".replace("-", "−")
            texts = (glyph, str(change.lift), _ratio(change.before), _ratio(change.after), shown)
            rows.append((texts, colour))
        self.model.show_rows(rows)
        self.view.resizeColumnsToContents()
        self.view.setColumnWidth(1, 150)
        if rows:
            self.view.selectRow(0)
        self._show_forces()

    def _show_forces(self) -> None:
        project, row = self._document.project, self.view.currentIndex().row()
        if project is None or not 0 <= row < len(self.changes):
            self.forces.show_rows([])
            self.forces_title.setText("")
            return
        key = self.changes[row].lift
        self.forces_title.setText(f"{key}: larger of both ends, kN and kN·m")
        changed = forces_changed(former_project(project), project, key)
        self.forces.show_rows([(_forces_row(one), "ink") for one in changed])
        self.forces_view.resizeColumnsToContents()
        self.forces_view.setColumnWidth(0, 150)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Have the forces before compared while it is looked at."""
        super().showEvent(event)
        self._former.want("changes", True)
        self.refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Leave it to others whether they are compared."""
        super().hideEvent(event)
        self._former.want("changes", False)

    def _open(self, index: QModelIndex) -> None:
        if index.isValid():
            self.opened.emit(self.changes[index.row()].lift)

    def _go_back(self) -> None:
        if self._document.project is not None and self._document.typing.settle():
            self._document.edit("Forces before the last taking", partial(put_back_forces))


def _view(model: _Table, name: str) -> QTableView:
    view = QTableView()
    view.setModel(model)
    view.setAccessibleName(name)
    view.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    view.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    rows = view.verticalHeader()
    assert rows is not None
    rows.hide()
    rows.setDefaultSectionSize(24)
    return view


def _names_changed(former: Project, project: Project) -> str:
    """Say which cases and combinations are new or gone."""
    before = {*former.case_forces.columns, *former.factored_forces.columns}
    after = {*project.case_forces.columns, *project.factored_forces.columns}
    new, gone = sorted(after - before), sorted(before - after)
    if not new and not gone:
        return "the cases and combinations are the same."
    parts = [f"new are {', '.join(new[:8])}"] if new else []
    parts += [f"gone are {', '.join(gone[:8])}"] if gone else []
    return "; ".join(parts) + "."


def _ratio(value: float) -> str:
    return "–" if math.isnan(value) else f"{value:.2f}"


def _forces_row(change: CombinationChange) -> tuple[str, ...]:
    cells = [change.name]
    for component in range(3):
        cells += [_largest(change.before, component), _largest(change.after, component)]
    return tuple(cells)


def _largest(forces: FloatArray | None, component: int) -> str:
    if forces is None:
        return "–"
    value = float(max(forces[:, component], key=abs))
    return f"{value:,.0f}".replace(",", "\u2009").replace("-", "−")
