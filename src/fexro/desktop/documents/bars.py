"""Qt view for the bar list: each row leads to its lift."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from fexro.core.quantities import Dimension, format_number, unit_of
from fexro.desktop.document import Document
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.text import Label
from fexro.documents.bar_list import ORDERS, BarList, ListedBar, bar_list
from fexro.project.column import LiftKey

__all__ = ["BarsPage"]

HEADS = (*("Lift", "Mark", "Bars", "Shape", "Dimensions, {}", "Length, {}", "kg", "Rev", "What"),)


class BarsPage(QWidget):
    """The bars of all lifts, by element, size or shape; those of the selected lift are marked.

    Signals:
        opened: a lift to be shown on its bench.
    """

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.rows: list[ListedBar] = []
        self.order = QComboBox()
        self.order.setAccessibleName("Order of the bars")
        for order in ORDERS:
            self.order.addItem(f"by {order}", order)
        self.order.currentIndexChanged.connect(lambda _: self.refresh())
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.table = FiguresTable(HEADS, "Bar list", words=(0, 1, 2, 3, 4, 7, 8))
        assert self.table.header is not None
        mode = QHeaderView.ResizeMode
        for column in range(len(HEADS)):
            wide = column in (4, 8)
            self.table.header.setSectionResizeMode(
                column, mode.Stretch if wide else mode.ResizeToContents
            )
        self.table.setToolTip("A double click, or Return, opens the lift")
        self.table.itemDoubleClicked.connect(self._open)
        self.table.itemActivated.connect(self._open)
        document.selection.lift_changed.connect(self._mark)
        top = QHBoxLayout()
        top.addWidget(self.order)
        top.addWidget(self.told, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)

    def refresh(self) -> None:
        """List the bars of the project once all its lifts are checked."""
        project, results = self._document.project, self._document.results
        if project is None:
            return
        if not self._document.complete:
            self.told.setText("The bars are listed once every lift is checked.")
            return
        prepared = {key: results[key].prepared for key in project.by_key}
        self._show(bar_list(project, prepared, list(project.by_key)))

    def _show(self, bars: BarList) -> None:
        project = self._document.project
        assert project is not None
        unit = unit_of(Dimension.LENGTH, project.basis.system)
        self.table.show_heads([head.format(unit.symbol) for head in HEADS])
        self.rows = bars.ordered(self.order.currentData())
        self.table.setRowCount(0)
        for row in self.rows:
            bar = row.marked.bar
            told = "  ".join(
                f"{letter} {value / unit.size:.{unit.decimals}f}"
                for letter, value in bar.dimensions
            )
            self.table.add_row(
                (
                    str(row.key),
                    row.marked.mark,
                    f"{row.number} {bar.size.name}",
                    bar.shape,
                    told,
                    format_number(bar.cut / unit.size, unit.decimals),
                    format_number(row.mass, 1),
                    row.revision,
                    f"{row.laid.kind}, {row.laid.told}",
                )
            )
        masses = ", ".join(f"{one.size.name} {format_number(one.mass, 0)}" for one in bars.masses)
        told = f"{len(bars.marks)} marks, {format_number(bars.mass, 0)} kg: {masses}."
        self.told.setText(" ".join([told, *bars.left_out]))
        self._mark()

    def _mark(self) -> None:
        """Go to the bars of the lift that is selected."""
        lift = self._document.selection.lift
        for number, row in enumerate(self.rows):
            if row.key == lift:
                item = self.table.item(number, 0)
                self.table.selectRow(number)
                self.table.scrollToItem(item)
                return

    def _open(self, item: QTableWidgetItem) -> None:
        self.opened.emit(self.rows[item.row()].key)
