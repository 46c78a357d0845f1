"""Qt view for quantities, before and after against a state that is kept."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from fexro.core.quantities import format_change, format_number
from fexro.desktop.document import Document
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.text import Label
from fexro.documents.quantities import LiftQuantities, Quantities, quantities_of
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["QuantitiesPage"]

SCOPES = ("lift", "storey", "stack", "group", "building")
HEADS = ("", "Concrete, m³", "Formwork, m²", "Steel, kg", "kg/m³", "Cost", "Carbon, kg CO₂e")


class QuantitiesPage(QWidget):
    """What lifts, storeys, stacks, groups and the building take.

    Signals:
        opened: a lift to be shown on its bench.
    """

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._kept: Quantities | None = None
        self._now: Quantities | None = None
        self._parts: list[tuple[str, list[LiftKey]]] = []
        self.scope = QComboBox()
        self.scope.setAccessibleName("What quantities are of")
        for scope in SCOPES:
            self.scope.addItem(f"by {scope}", scope)
        self.scope.setCurrentIndex(1)
        self.scope.currentIndexChanged.connect(lambda _: self._fill())
        self.keep = QPushButton("Compare with now")
        self.keep.setToolTip("Keep what there is now, and show what changes against it")
        self.drop = QPushButton("Compare no more")
        self.keep.clicked.connect(self._keep)
        self.drop.clicked.connect(self._drop)
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.table = FiguresTable(HEADS, "Quantities")
        self.table.itemDoubleClicked.connect(self._open)
        top = QHBoxLayout()
        for widget in (self.scope, self.keep, self.drop):
            top.addWidget(widget)
        top.addWidget(self.told, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)
        document.opened.connect(self._drop)

    def refresh(self) -> None:
        """Show the quantities once all lifts are checked."""
        project = self._document.project
        if project is None:
            return
        if not self._document.complete:
            self.told.setText("Quantities are taken once every lift is checked.")
            return
        self._now = quantities_of(project, self._document.results, list(project.by_key))
        self._fill()

    def _keep(self) -> None:
        self._kept = self._now
        self._fill()

    def _drop(self) -> None:
        self._kept = None
        self._fill()

    def _fill(self) -> None:
        project, now = self._document.project, self._now
        self.table.setRowCount(0)
        self.drop.setVisible(self._kept is not None)
        if project is None or now is None or not self._document.complete:
            return
        self._parts = list(_parts(project, self.scope.currentData()))
        for name, keys in self._parts:
            one = now.of(keys)
            if one is not None:
                before = None if self._kept is None else self._kept.of(keys)
                self.table.add_row((name, *_cells(one, before)))
        told = "Changes stand against what was kept." if self._kept is not None else ""
        self.told.setText(
            told or f"Steel as it is cut; rates: {project.basis.sizing.prices.source}."
        )

    def _open(self, item: QTableWidgetItem) -> None:
        if self.scope.currentData() == "lift":
            self.opened.emit(self._parts[item.row()][1][0])


def _parts(project: Project, scope: str) -> list[tuple[str, list[LiftKey]]]:
    keys = list(project.by_key)
    match scope:
        case "lift":
            return [(str(key), [key]) for key in keys]
        case "storey":
            names = [storey.name for storey in project.storeys]
            return [(name, [key for key in keys if key.storey == name]) for name in names]
        case "stack":
            marks = [mark.name for mark in project.marks]
            return [(name, [key for key in keys if key.mark == name]) for name in marks]
        case "group":
            return [(group.name, list(group.members)) for group in project.groups]
    return [(project.name, keys)]


def _cells(one: LiftQuantities, before: LiftQuantities | None) -> list[str]:
    return [
        _shown(_values(one)[i], None if before is None else _values(before)[i], decimals)
        for i, decimals in enumerate((2, 1, 1, 0, 0, 0))
    ]


def _values(one: LiftQuantities) -> tuple[float, ...]:
    amounts, costs = one.amounts, one.costs
    return (
        *(amounts.concrete, amounts.formwork, amounts.steel),
        *(one.density, costs.cost, costs.carbon),
    )


def _shown(value: float, before: float | None, decimals: int) -> str:
    text = format_number(value, decimals)
    if before is None or round(value - before, decimals) == 0:
        return text
    return f"{text} ({format_change(value - before, decimals)})"
