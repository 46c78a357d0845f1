"""Qt view for a table as it stands in its file, with what each column means above it."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any, cast

from PyQt6.QtCore import QAbstractTableModel, QMimeData, QModelIndex, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QDragEnterEvent, QDragMoveEvent, QDropEvent
from PyQt6.QtWidgets import QAbstractItemView, QListWidget, QMenu, QTableView

from fexro.desktop.theme import current_theme, font
from fexro.exchange.force_rows import cell_text
from fexro.exchange.sheets import Sheet
from fexro.project.mapping import MEANINGS, ForcesMapping, Meaning

__all__ = ["MEANT", "MeaningChips", "RawModel", "RawView"]

# What each meaning is called where it is chosen.
MEANT: dict[Meaning, str] = {
    "mark": "mark",
    "storey": "storey",
    "member": "member (mark and storey)",
    "element": "element",
    "zi": "level of its first node",
    "zj": "level of its second node",
    "case": "case or combination",
    "step": "step, maximum or minimum",
    "end": "end, top or bottom",
    "station": "distance along the member",
    "angle": "angle of the local axes",
    "N": "axial force",
    "Va": "shear along a",
    "Vb": "shear along b",
    "T": "torsion",
    "Ma": "moment about a",
    "Mb": "moment about b",
}
_MIME = "application/x-fexro-meaning"


def meaning_text(meaning: Meaning) -> str:
    """Return what a meaning is called."""
    if "@" in meaning:
        force, end = meaning.split("@")
        return f"{MEANT[cast(Meaning, force)]}, {end}"
    return MEANT[meaning]


class RawModel(QAbstractTableModel):
    """The cells of a sheet; headings above are what columns mean."""

    def __init__(self) -> None:
        super().__init__()
        self._sheet = Sheet("", ())
        self._mapping = ForcesMapping()
        self._width = 0
        self._marked: set[int] = set()

    def show_sheet(self, sheet: Sheet) -> None:
        """Show a sheet."""
        self.beginResetModel()
        self._sheet = sheet
        self._width = max((len(row) for row in sheet.rows[:2000]), default=0)
        self._marked = set()
        self.endResetModel()

    def show_mapping(self, mapping: ForcesMapping, marked: Collection[int]) -> None:
        """Show what columns mean, and the lines that are doubtful."""
        self._mapping, self._marked = mapping, set(marked)
        self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, max(self._width - 1, 0))
        if self.rowCount() and self._width:
            self.dataChanged.emit(
                self.index(0, 0), self.index(self.rowCount() - 1, self._width - 1)
            )

    def meaning(self, column: int) -> Meaning | None:
        """Return what a column means, from 0."""
        found = {at: meaning for meaning, at in self._mapping.columns.items()}
        return found.get(column + 1)

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of lines."""
        return 0 if parent and parent.isValid() else len(self._sheet.rows)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else self._width

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return the text of a cell and how it is drawn."""
        row = self._sheet.rows[index.row()]
        line = index.row() + 1
        if role == Qt.ItemDataRole.DisplayRole:
            return cell_text(row[index.column()]) if index.column() < len(row) else ""
        theme = current_theme()
        if role == Qt.ItemDataRole.ForegroundRole:
            if line < self._mapping.first_row or self.meaning(index.column()) is None:
                return QColor(theme.secondary)
            return None
        if role == Qt.ItemDataRole.BackgroundRole and line in self._marked:
            return QColor(theme.exceeded_wash)
        if role == Qt.ItemDataRole.FontRole and line == self._mapping.names_row:
            return font(11, 600)
        if role == Qt.ItemDataRole.TextAlignmentRole and (
            index.column() < len(row) and isinstance(row[index.column()], float)
        ):
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        return None

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return what a column means, or the number of a line."""
        if orientation == Qt.Orientation.Vertical:
            return section + 1 if role == Qt.ItemDataRole.DisplayRole else None
        meaning = self.meaning(section)
        if role == Qt.ItemDataRole.DisplayRole:
            return meaning if meaning is not None else "—"
        if role == Qt.ItemDataRole.ToolTipRole:
            told = "not read" if meaning is None else meaning_text(meaning)
            return f"{told}; drop a name here, or click to choose"
        if role == Qt.ItemDataRole.ForegroundRole:
            theme = current_theme()
            return QColor(theme.secondary if meaning is None else theme.capacity)
        return None


class MeaningChips(QListWidget):
    """The names that can be dropped on columns."""

    def __init__(self) -> None:
        super().__init__()
        self.setFlow(QListWidget.Flow.LeftToRight)
        self.setWrapping(True)
        self.setDragEnabled(True)
        self.setSpacing(2)
        self.setObjectName("chips")
        self.setFixedHeight(60)
        self.setAccessibleName("Names to drop on columns")
        for meaning in MEANINGS:
            if "@" not in meaning:
                self.addItem(meaning)
                item = self.item(self.count() - 1)
                assert item is not None
                item.setToolTip(meaning_text(meaning))

    def mimeData(self, items: Any) -> QMimeData | None:
        """Return the meaning that is dragged."""
        data = QMimeData()
        data.setData(_MIME, next(iter(items)).text().encode())
        return data


class RawView(QTableView):
    """The table; a name dropped on a column gives it its meaning."""

    meant = pyqtSignal(int, str)
    picked = pyqtSignal(int)

    def __init__(self, model: RawModel) -> None:
        super().__init__()
        self.setModel(model)
        self._raw = model
        self.setAccessibleName("The table as it stands")
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setAcceptDrops(True)
        heads, rows = self.horizontalHeader(), self.verticalHeader()
        assert heads is not None
        assert rows is not None
        rows.setDefaultSectionSize(21)
        heads.setSectionsClickable(True)
        heads.setAcceptDrops(False)
        heads.sectionClicked.connect(self._offer)
        heads.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        heads.customContextMenuRequested.connect(lambda at: self._offer(heads.logicalIndexAt(at)))

    def selectionChanged(self, selected: Any, deselected: Any) -> None:
        """Tell which line is picked."""
        super().selectionChanged(selected, deselected)
        chosen = self.currentIndex()
        if chosen.isValid():
            self.picked.emit(chosen.row())

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Take names of meanings."""
        if event is not None and _meaning_in(event.mimeData()):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        """Take names of meanings anywhere."""
        if event is not None and _meaning_in(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Give the column under the pointer the meaning that is dropped."""
        if event is None:
            return
        meaning = _meaning_in(event.mimeData())
        column = self.columnAt(round(event.position().x()))
        if meaning and column >= 0:
            event.acceptProposedAction()
            self.meant.emit(column, meaning)

    def _offer(self, column: int) -> None:
        menu = QMenu(self)
        for text, meaning in [
            ("not read", ""),
            *((f"{m}: {meaning_text(m)}", m) for m in MEANINGS),
        ]:
            action = menu.addAction(text)
            assert action is not None
            action.triggered.connect(lambda _=False, m=meaning: self.meant.emit(column, m))
        place = QPoint(self.columnViewportPosition(column), 0)
        viewport = self.viewport()
        assert viewport is not None
        menu.popup(viewport.mapToGlobal(place))


def _meaning_in(data: QMimeData | None) -> str:
    if data is None or not data.hasFormat(_MIME):
        return ""
    return bytes(data.data(_MIME).data()).decode()
