"""Qt table of figures that are only read: a name, then numbers aligned at the right."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHeaderView, QTableWidget, QTableWidgetItem

__all__ = ["FiguresTable"]

ROW = 23  # px
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


class FiguresTable(QTableWidget):
    """Rows of text under headings; columns of words stand at the left.

    Args:
        heads: the headings.
        name: what the table is, for those who hear it read.
        words: numbers of the columns that hold words.
    """

    def __init__(self, heads: Sequence[str], name: str, words: Sequence[int] = (0,)) -> None:
        super().__init__(0, len(heads))
        self._words = frozenset(words)
        self.setAccessibleName(name)
        self.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.setShowGrid(False)
        rows, self.header = self.verticalHeader(), self.horizontalHeader()
        assert rows is not None
        assert self.header is not None
        rows.hide()
        rows.setDefaultSectionSize(ROW)
        self.header.setHighlightSections(False)
        self.header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.show_heads(heads)

    def show_heads(self, heads: Sequence[str]) -> None:
        """Name the columns."""
        for column, head in enumerate(heads):
            item = QTableWidgetItem(head)
            item.setTextAlignment(LEFT if column in self._words else RIGHT)
            self.setHorizontalHeaderItem(column, item)

    def add_row(self, texts: Sequence[str]) -> int:
        """Add a row and return its number."""
        row = self.rowCount()
        self.insertRow(row)
        for column, text in enumerate(texts):
            item = QTableWidgetItem(text)
            item.setToolTip(text if column in self._words else "")
            item.setTextAlignment(LEFT if column in self._words else RIGHT)
            self.setItem(row, column, item)
        return row
