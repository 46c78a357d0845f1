"""Qt view for all lifts as a table: one row a lift, for those who think in spreadsheets."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import (
    QAbstractTableModel,
    QModelIndex,
    QSortFilterProxyModel,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import FexroError, InputError
from fexro.desktop.document import Document
from fexro.desktop.text import Label, tip_text
from fexro.exchange.members import (
    COLUMNS,
    Column,
    column_title,
    columns_of,
    member_rows,
    take_members,
    value_of,
)
from fexro.exchange.spreadsheets import parse_text, read_table, write_table
from fexro.project.column import LiftKey
from fexro.project.shapes import SIZES

__all__ = ["MembersModel", "TablePage"]

SORTED = Qt.ItemDataRole.UserRole
SHOWN_PROBLEMS = 8
FILTERS = "Tables (*.csv *.tsv *.txt *.xlsx *.xls *.ods)"


class MembersModel(QAbstractTableModel):
    """Rows are lifts, mark by mark; what is typed into a cell is an edit."""

    refused = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._keys: list[LiftKey] = []
        document.opened.connect(self.reset)
        document.edited.connect(lambda _: self._edited())
        document.checked.connect(lambda _: self._redraw())
        self.reset()

    def reset(self) -> None:
        """Take the lifts of the project."""
        self.beginResetModel()
        project = self._document.project
        self._keys = [] if project is None else list(project.by_key)
        self.endResetModel()

    def _edited(self) -> None:
        project = self._document.project
        if project is not None and list(project.by_key) != self._keys:
            self.reset()
        else:
            self._redraw()

    def _redraw(self) -> None:
        if self._keys:
            last = self.index(len(self._keys) - 1, len(COLUMNS) - 1)
            self.dataChanged.emit(self.index(0, 0), last)

    def key(self, row: int) -> LiftKey:
        """Return the lift of a row."""
        return self._keys[row]

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of lifts."""
        return 0 if parent and parent.isValid() else len(self._keys)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else len(COLUMNS)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what stands in a cell, as text, or as it is sorted."""
        project = self._document.project
        if project is None or not index.isValid():
            return None
        column, key = COLUMNS[index.column()], self._keys[index.row()]
        if role == Qt.ItemDataRole.TextAlignmentRole and column.measures is not None:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole, SORTED):
            return None
        if key not in project.by_key:
            return None
        value = value_of(column, project, key, self._document.results.get(key))
        if role == SORTED:
            if column.key in ("mark", "storey"):
                marks, storeys = list(project.mark_by_name), list(project.storey_by_name)
                return (marks if column.key == "mark" else storeys).index(str(value))
            return -1.0 if value is None and column.measures is not None else value
        if value is None:
            return ""
        if column.key == "utilisation":
            return f"{value:.2f}"
        return f"{value:.6g}" if isinstance(value, float) else value

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let cells be edited that are taken, but for the names."""
        flags = super().flags(index)
        column = COLUMNS[index.column()] if index.isValid() else None
        if column is not None and column.taken and column.key not in ("mark", "storey"):
            flags |= Qt.ItemFlag.ItemIsEditable
        return flags

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed into a cell; what is refused is told and changes nothing."""
        column, key = COLUMNS[index.column()], self._keys[index.row()]
        if str(value) == self.data(index, Qt.ItemDataRole.EditRole):
            return False
        heads = ["Mark", "Storey", column.title]
        return self.take([heads, [*key, str(value)]], f"{column.title} of {key}")

    def take(self, rows: list[list[str]], label: str) -> bool:
        """Take rows of a table as one edit; tell whether they were taken."""
        project = self._document.project
        assert project is not None
        try:
            taken = take_members(project, rows)
        except InputError as error:
            self.refused.emit(str(error))
            return False
        if taken.project is None:
            self.refused.emit(_told(taken.problems, len(rows) - 1))
            return False
        if taken.lifts:
            after = taken.project
            self._document.edit(label, lambda _: after)
        return True

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return the heading of a column, with its unit."""
        project = self._document.project
        if orientation == Qt.Orientation.Vertical or role != Qt.ItemDataRole.DisplayRole:
            return None
        if project is None:
            return COLUMNS[section].title
        return column_title(COLUMNS[section], project.basis.system)


def _told(problems: tuple[tuple[int, str], ...], rows: int) -> str:
    """Return what is wrong with rows; of a single one only the reason."""
    if rows == 1:
        return problems[0][1]
    told = "\n".join(f"Row {number}: {reason}" for number, reason in problems[:SHOWN_PROBLEMS])
    more = len(problems) - SHOWN_PROBLEMS
    rest = f"\nand {more} more." if more > 0 else ""
    verb = "does" if len(problems) == 1 else "do"
    return f"{len(problems)} of {rows} rows {verb} not fit; nothing was taken.\n{told}{rest}"


class _Filter(QSortFilterProxyModel):
    """Rows in which every word that is typed stands."""

    def __init__(self) -> None:
        super().__init__()
        self._words: list[str] = []
        self.setSortRole(SORTED)

    def seek(self, text: str) -> None:
        self.beginResetModel()
        self._words = text.casefold().replace("·", " ").split()
        self.endResetModel()

    def filterAcceptsRow(self, source_row: int, source_parent: QModelIndex) -> bool:
        model = self.sourceModel()
        if model is None or not self._words:
            return True
        cells = [
            str(model.index(source_row, column).data() or "").casefold()
            for column in range(model.columnCount())
        ]
        return all(any(word in cell for cell in cells) for word in self._words)


class _View(QTableView):
    """The table; copies and pastes as spreadsheets do."""

    pasted = pyqtSignal(str)
    copied = pyqtSignal()
    entered_lift = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        clipboard = QGuiApplication.clipboard()
        if event.matches(QKeySequence.StandardKey.Copy):
            self.copied.emit()
        elif event.matches(QKeySequence.StandardKey.Paste) and clipboard is not None:
            self.pasted.emit(clipboard.text())
        elif event.key() == Qt.Key.Key_Return and event.modifiers() == (
            Qt.KeyboardModifier.ControlModifier
        ):
            self.entered_lift.emit()
        else:
            super().keyPressEvent(event)


class TablePage(QWidget):
    """The table with its filter, its columns, and what was not taken."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.model, self.filter, self.view = MembersModel(document), _Filter(), _View()
        self.filter.setSourceModel(self.model)
        self.view.setModel(self.filter)
        self.view.setSortingEnabled(True)
        self.view.sortByColumn(-1, Qt.SortOrder.AscendingOrder)
        self.view.setAccessibleName("Members")
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)
        self.view.setEditTriggers(
            QAbstractItemView.EditTrigger.DoubleClicked
            | QAbstractItemView.EditTrigger.EditKeyPressed
            | QAbstractItemView.EditTrigger.AnyKeyPressed
        )
        heads, rows = self.view.horizontalHeader(), self.view.verticalHeader()
        assert heads is not None
        assert rows is not None
        rows.hide()
        rows.setDefaultSectionSize(26)
        heads.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        heads.customContextMenuRequested.connect(self._offer_columns)
        self.sought = QLineEdit()
        self.sought.setPlaceholderText("Filter: words of a mark, storey, bars, state …")
        self.sought.setAccessibleName("Filter")
        self.sought.textChanged.connect(self.filter.seek)
        self.problems = Label()
        self.problems.setProperty("role", "error")
        self.problems.setWordWrap(True)
        self.problems.hide()
        columns, go = QPushButton("Columns"), QPushButton("Open the lift")
        take, write = QPushButton("From a table…"), QPushButton("Write a table…")
        row = QHBoxLayout()
        row.setContentsMargins(16, 0, 16, 0)
        row.addWidget(self.sought, 1)
        for button, run in (
            (columns, self._offer_columns),
            (go, self._open),
            (take, self.ask_import),
            (write, self.ask_export),
        ):
            button.setProperty("role", "link")
            button.clicked.connect(partial(_without_argument, run))
            row.addWidget(button)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addLayout(row)
        layout.addWidget(self.problems)
        layout.addWidget(self.view, 1)
        self.model.refused.connect(self._refuse)
        document.edited.connect(lambda _: self.problems.hide())
        self.view.pasted.connect(self.paste)
        self.view.copied.connect(self.copy)
        self.view.entered_lift.connect(self._open)
        document.opened.connect(self._arrange)
        self._hidden: list[str] = []
        self._arrange()

    def _arrange(self) -> None:
        """Show the columns that any lift has, but for those that were hidden."""
        project = self._document.project
        if project is not None:
            shapes = [lift.section.shape for lift in project.by_key.values()]
            empty = [
                name for name in SIZES if not any(getattr(shape, name, 0.0) for shape in shapes)
            ]
            self._show_columns([*self._hidden, *empty])
            self._fit_columns()

    def refresh(self) -> None:
        """Show what was hidden while another view was in front."""
        if self.view.columnWidth(0) == self.view.columnWidth(1):
            self._fit_columns()

    def _fit_columns(self) -> None:
        self.view.resizeColumnsToContents()
        for column in range(self.model.columnCount()):
            width = self.view.columnWidth(column)
            self.view.setColumnWidth(column, min(max(width + 14, 64), 180))

    def hidden_columns(self) -> list[str]:
        """Return the keys of the columns that are hidden."""
        return [c.key for i, c in enumerate(COLUMNS) if self.view.isColumnHidden(i)]

    def hide_columns(self, keys: list[str]) -> None:
        """Hide columns by their keys, beside those that no lift has."""
        self._hidden = keys
        self._arrange()

    def _show_columns(self, hidden: list[str]) -> None:
        for i, column in enumerate(COLUMNS):
            self.view.setColumnHidden(i, column.key in hidden)

    def _offer_columns(self, *_: object) -> None:
        menu = QMenu(self)
        for i, column in enumerate(COLUMNS):
            action = menu.addAction(column.title)
            assert action is not None
            action.setCheckable(True)
            action.setChecked(not self.view.isColumnHidden(i))
            action.setEnabled(column.key not in ("mark", "storey"))
            action.toggled.connect(lambda shown, i=i: self.view.setColumnHidden(i, not shown))
        menu.popup(self.view.mapToGlobal(self.view.rect().topRight()))

    def _open(self, *_: object) -> None:
        index = self.filter.mapToSource(self.view.currentIndex())
        if index.isValid():
            self.opened.emit(self.model.key(index.row()))

    def _shown(self) -> list[tuple[int, Column]]:
        heads = self.view.horizontalHeader()
        assert heads is not None
        order = sorted(range(len(COLUMNS)), key=heads.visualIndex)
        return [(i, COLUMNS[i]) for i in order if not self.view.isColumnHidden(i)]

    def copy(self) -> None:
        """Put the selected cells on the clipboard, with headings where whole rows are."""
        chosen = self.view.selectionModel()
        clipboard = QGuiApplication.clipboard()
        assert chosen is not None
        assert clipboard is not None
        rows = sorted({index.row() for index in chosen.selectedIndexes()})
        columns = {index.column() for index in chosen.selectedIndexes()}
        shown = [(i, c) for i, c in self._shown() if i in columns]
        lines = [
            "\t".join(str(self.filter.index(row, i).data() or "") for i, _ in shown) for row in rows
        ]
        if len(shown) == len(self._shown()):
            system = self._document.project.basis.system if self._document.project else None
            assert system is not None
            lines.insert(0, "\t".join(column_title(c, system) for _, c in shown))
        clipboard.setText("\n".join(lines))

    def paste(self, text: str) -> None:
        """Take a block from a spreadsheet: by its headings, else onto the cells from here on."""
        rows = parse_text(text)
        if not rows or self._document.project is None:
            return
        named = {column.key for column in columns_of(rows[0]) if column is not None}
        if not {"mark", "storey"} <= named:
            placed = self._from_here(rows)
            if placed is None:
                return
            rows = placed
        count = len(rows) - 1
        self.model.take(rows, f"{count} {'row' if count == 1 else 'rows'} pasted")

    def _from_here(self, rows: list[list[str]]) -> list[list[str]] | None:
        """Return a block without headings as rows for the lifts and columns from here on."""
        start = self.view.currentIndex()
        if not start.isValid():
            self._refuse("Choose the cell where the block begins, or paste it with its headings.")
            return None
        shown = self._shown()
        first = next(i for i, (number, _) in enumerate(shown) if number == start.column())
        columns = [column for _, column in shown[first:]]
        width = max(len(row) for row in rows)
        space = self.filter.rowCount() - start.row()
        if width > len(columns) or len(rows) > space:
            self._refuse(
                f"The block of {len(rows)} rows and {width} columns does not fit from here on:"
                f" there are {space} rows and {len(columns)} columns. Nothing was taken."
            )
            return None
        fixed = [column for column in columns[:width] if not column.taken]
        if fixed or columns[0].key in ("mark", "storey"):
            name = fixed[0].title if fixed else columns[0].title
            self._refuse(f"{name} is not typed here; begin the block beside it.")
            return None
        found = [["Mark", "Storey", *(column.title for column in columns[:width])]]
        for offset, row in enumerate(rows):
            at = self.filter.mapToSource(self.filter.index(start.row() + offset, 0)).row()
            found.append([*self.model.key(at), *row])
        return found

    def _refuse(self, sentence: str) -> None:
        self.problems.setText(sentence)
        self.problems.setToolTip(tip_text(sentence))
        self.problems.show()

    def ask_import(self) -> None:
        """Ask for a table and take its rows."""
        if self._document.project is None:
            return
        name, _ = QFileDialog.getOpenFileName(self, "Take members from a table", "", FILTERS)
        if name:
            self.take_file(Path(name))

    def take_file(self, path: Path) -> None:
        """Take the rows of a file; what is refused is told."""
        try:
            rows = read_table(path)
        except FexroError as error:
            self._refuse(str(error))
            return
        self.model.take(rows, f"Members from {path.name}")

    def ask_export(self) -> None:
        """Ask for a file and write the table to it."""
        project = self._document.project
        if project is None:
            return
        suggestion = f"{project.name} members.xlsx"
        kinds = "Workbook (*.xlsx);;CSV (*.csv)"
        name, _ = QFileDialog.getSaveFileName(self, "Write members as a table", suggestion, kinds)
        if name:
            path = Path(name if name.endswith((".csv", ".xlsx")) else f"{name}.xlsx")
            try:
                write_table(path, member_rows(project, self._document.results), "Members")
            except FexroError as error:
                self._refuse(str(error))


def _without_argument(run: Any, *_: object) -> None:
    run()
