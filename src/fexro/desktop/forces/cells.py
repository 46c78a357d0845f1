"""Qt view for cells that offer choices, and for tables whose cells are edits of the project."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import (
    QAbstractItemModel,
    QAbstractTableModel,
    QModelIndex,
    QObject,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QWidget,
)

from fexro.core.errors import InputError
from fexro.desktop.document import Document
from fexro.project.project import Project

__all__ = ["CHOICES", "ChoiceDelegate", "EditingModel", "EditingView", "aligned"]

CHOICES = Qt.ItemDataRole.UserRole + 7  # the texts that a cell offers


class ChoiceDelegate(QStyledItemDelegate):
    """Edits cells that offer choices with a list of them, the others as text."""

    def createEditor(
        self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> QWidget | None:
        """Return a list of choices where the cell has some."""
        choices = index.data(CHOICES)
        if not choices:
            return super().createEditor(parent, option, index)
        box = QComboBox(parent)
        box.addItems(choices)
        box.activated.connect(lambda _: self._take(box))
        return box

    def _take(self, box: QComboBox) -> None:
        self.commitData.emit(box)
        self.closeEditor.emit(box)

    def setEditorData(self, editor: QWidget | None, index: QModelIndex) -> None:
        """Show what the cell holds."""
        if isinstance(editor, QComboBox):
            editor.setCurrentText(str(index.data(Qt.ItemDataRole.EditRole)))
        else:
            super().setEditorData(editor, index)

    def setModelData(
        self, editor: QWidget | None, model: QAbstractItemModel | None, index: QModelIndex
    ) -> None:
        """Hand over the choice."""
        if isinstance(editor, QComboBox) and model is not None:
            model.setData(index, editor.currentText())
        else:
            super().setModelData(editor, model, index)


class EditingModel(QAbstractTableModel):
    """A table over the project; an edit that is refused is told and changes nothing."""

    refused = pyqtSignal(str)

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document

    def edit(self, label: str, edit: Callable[[Project], Project]) -> bool:
        """Make an edit; tell whether it was taken."""
        try:
            self.document.edit(label, edit)
        except InputError as error:
            self.refused.emit(str(error))
            return False
        return True

    def refresh(self) -> None:
        """Take what the project has; where rows and columns stay, what is chosen stays too."""
        names, shape = self._names(), (self.rowCount(), self.columnCount())
        self.load()
        if names == self._names() and shape == (self.rowCount(), self.columnCount()):
            if shape[0] and shape[1]:
                last = self.index(shape[0] - 1, shape[1] - 1)
                self.dataChanged.emit(self.index(0, 0), last)
            return
        self.beginResetModel()
        self.endResetModel()

    def _names(self) -> list[object]:
        """Return the headings of the columns."""
        return [
            self.headerData(column, Qt.Orientation.Horizontal)
            for column in range(self.columnCount())
        ]

    def load(self) -> None:
        """Read what is shown out of the project."""


class EditingView(QTableView):
    """A table in which Delete removes the rows that are chosen."""

    removed = pyqtSignal(list)

    def __init__(self, model: EditingModel, name: str) -> None:
        super().__init__()
        self.setModel(model)
        self.setItemDelegate(ChoiceDelegate(self))
        self.setAccessibleName(name)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.EditKeyPressed
            | QAbstractItemView.EditTrigger.AnyKeyPressed
        )
        rows = self.verticalHeader()
        assert rows is not None
        rows.hide()
        rows.setDefaultSectionSize(25)

    def chosen_rows(self) -> list[int]:
        """Return the rows in which a cell is chosen."""
        chosen = self.selectionModel()
        return sorted({i.row() for i in chosen.selectedIndexes()}) if chosen is not None else []

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Remove rows by Delete."""
        if event is not None and event.key() == Qt.Key.Key_Delete and self.chosen_rows():
            self.removed.emit(self.chosen_rows())
        else:
            super().keyPressEvent(event)

    def fit(self, widest: int = 230) -> None:
        """Give columns the width of what stands in them."""
        model = self.model()
        self.resizeColumnsToContents()
        for column in range(model.columnCount() if model is not None else 0):
            self.setColumnWidth(column, min(max(self.columnWidth(column) + 10, 40), widest))


def aligned(number: bool) -> Any:
    """Return how a cell is aligned."""
    side = Qt.AlignmentFlag.AlignRight if number else Qt.AlignmentFlag.AlignLeft
    return side | Qt.AlignmentFlag.AlignVCenter
