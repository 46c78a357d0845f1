"""Qt view for cells that offer choices, and for tables whose cells are edits of the project."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import (
    QAbstractItemModel,
    QAbstractTableModel,
    QModelIndex,
    QObject,
    QPointF,
    QRectF,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QWidget,
)

from fexro.core.errors import InputError
from fexro.desktop.document import Document
from fexro.desktop.theme import current_theme
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

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        """Paint a tick in the colours of the theme, seen in the dark one too."""
        super().paint(painter, option, index)
        state = index.data(Qt.ItemDataRole.CheckStateRole)
        view = option.widget
        style = None if view is None else view.style()
        if state is None or painter is None or style is None:
            return
        full = QStyleOptionViewItem(option)
        self.initStyleOption(full, index)
        place = style.subElementRect(QStyle.SubElement.SE_ItemViewItemCheckIndicator, full, view)
        theme, box = current_theme(), QRectF(place).adjusted(0.5, 0.5, -0.5, -0.5)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(place, QColor(theme.track if chosen else theme.panel))
        painter.setPen(QPen(QColor(theme.secondary), 1))
        painter.drawRoundedRect(box, 2, 2)
        if Qt.CheckState(state) == Qt.CheckState.Checked:
            painter.setPen(QPen(QColor(theme.ink), 1.8))
            left, top, size = box.left(), box.top(), box.width()
            points = ((0.22, 0.52), (0.43, 0.74), (0.8, 0.26))
            painter.drawPolyline(
                QPolygonF([QPointF(left + x * size, top + y * size) for x, y in points])
            )
        painter.restore()

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
