"""Qt view for taking forces from a table: the table at the left, how it is read at the right."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from threading import Event

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import FexroError, InputError
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.forces.axes_picture import AxesPicture
from fexro.desktop.forces.raw_table import MeaningChips, RawModel, RawView
from fexro.desktop.forces.reading_form import ReadingForm
from fexro.desktop.text import Label, tip_text
from fexro.exchange.force_guess import guess_mapping
from fexro.exchange.force_table import read_force_table
from fexro.exchange.force_taking import Matched, checksum_of, match_table, take_matched
from fexro.exchange.sheets import Sheet, parse_sheet, read_sheets
from fexro.exchange.taking_report import rows_text
from fexro.project.mapping import ForcesMapping, Meaning
from fexro.project.project import Project

__all__ = ["TakingPage"]

SIDE = 400  # px, of the reading
FILTERS = "Tables (*.csv *.tsv *.txt *.xlsx *.xls *.ods)"
FIRST = "first reading"


@dataclass(frozen=True, eq=False)
class _Reading:
    """What came of reading: sheets, mapping, and the match, or why there is none."""

    sheets: Sequence[Sheet]
    mapping: ForcesMapping
    guessed: tuple[str, ...]
    matched: Matched | None
    error: str
    checksum: str


class TakingPage(QWidget):
    """A table of forces, how it is read, what matches, what is doubtful; taken as a whole."""

    taken = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._file, self._checksum = "", ""
        self._sheets: Sequence[Sheet] = ()
        self._guessed: tuple[str, ...] = ()
        self._work: Background[_Reading | str] = Background(self._take_reading, self, self._failed)
        self.mapping: ForcesMapping | None = None
        self.matched: Matched | None = None
        self.model = RawModel()
        self.view, self.chips = RawView(self.model), MeaningChips()
        self.view.meant.connect(self.mean)
        self.view.picked.connect(lambda _: self._show_row())
        self.picture = AxesPicture()
        self.headline, self.told, self.error = Label(), Label(), Label()
        self.headline.setProperty("role", "headline")
        self.told.setProperty("role", "quiet")
        self.error.setProperty("role", "error")
        for label in (self.headline, self.told, self.error):
            label.setWordWrap(True)
        self.doubts = QListWidget()
        self.doubts.setAccessibleName("What is doubtful")
        self.doubts.setWordWrap(True)
        self.doubts.setMinimumHeight(110)
        self.doubts.itemActivated.connect(self._go_to_rows)
        self.doubts.itemClicked.connect(self._go_to_rows)
        self.kept, self.sheet = QComboBox(), QComboBox()
        self.kept.setAccessibleName("Mapping")
        self.sheet.setAccessibleName("Sheet that is shown")
        self.kept.activated.connect(self._choose_mapping)
        self.sheet.activated.connect(self._show_sheet)
        self.open, self.paste = QPushButton("Open a table…"), QPushButton("Paste")
        self.take, self.cancel = QPushButton("Take these forces"), QPushButton("Stop reading")
        self.open.clicked.connect(lambda _: self.ask())
        self.paste.clicked.connect(lambda _: self.paste_table())
        self.take.clicked.connect(lambda _: self.take_forces())
        self.cancel.clicked.connect(lambda _: self._stop())
        self.form = ReadingForm(document)
        self.form.changed.connect(self._read_again)
        self._lay_out()
        document.opened.connect(self.forget)
        document.edited.connect(lambda _: self._project_changed())
        self.forget()

    def _lay_out(self) -> None:
        above = QHBoxLayout()
        for widget in (self.open, self.paste, self.sheet):
            above.addWidget(widget)
        above.addStretch(1)
        read_by = Label("Read by")
        read_by.setProperty("role", "quiet")
        above.addWidget(read_by)
        above.addWidget(self.kept)
        left = QVBoxLayout()
        left.setContentsMargins(16, 0, 12, 10)
        left.addLayout(above)
        left.addWidget(self.chips)
        left.addWidget(self.view, 1)
        side = QFrame()
        side.setObjectName("side")
        side.setFixedWidth(SIDE)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 4, 12, 10)
        column.addWidget(self.headline)
        column.addWidget(self.told)
        column.addWidget(self.error)
        column.addWidget(self.doubts, 1)
        content = QWidget()
        content.setObjectName("content")
        inner = QVBoxLayout(content)
        inner.setContentsMargins(0, 0, 8, 0)
        inner.addWidget(self.picture)
        inner.addWidget(self.form)
        inner.addStretch(1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(content)
        column.addWidget(area, 3)
        buttons = QHBoxLayout()
        buttons.addWidget(self.cancel)
        buttons.addStretch(1)
        buttons.addWidget(self.take)
        column.addLayout(buttons)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(left, 1)
        layout.addWidget(side)

    def ask(self) -> None:
        """Ask for a file and read it."""
        name, _ = QFileDialog.getOpenFileName(self, "Take forces from a table", "", FILTERS)
        if name:
            self.open_file(Path(name))

    def open_file(self, path: Path) -> None:
        """Read a file under the last mapping that fits, or a first reading."""
        self._file = path.name
        self._start(lambda tell: (read_sheets(path, tell), checksum_of(path.read_bytes())), None)

    def paste_table(self) -> None:
        """Read what is on the clipboard."""
        clipboard = QGuiApplication.clipboard()
        text = "" if clipboard is None else clipboard.text()
        if not text.strip():
            self._refuse("There is no text on the clipboard.")
            return
        self._file = "clipboard"
        self._start(lambda _: ([parse_sheet(text)], checksum_of(text.encode())), None)

    def _start(
        self,
        load: Callable[[Callable[[str], None]], tuple[Sequence[Sheet], str]],
        mapping: ForcesMapping | None,
    ) -> None:
        """Read and match off the interface thread."""
        project = self._document.project
        if project is None:
            return

        def work(stopped: Event) -> Iterator[_Reading | str]:
            def tell(step: str) -> None:
                if stopped.is_set():
                    raise FexroError("Reading was stopped.")

            sheets, checksum = load(tell)
            yield "matching rows …"
            yield _read(project, sheets, checksum, mapping, tell)

        self.headline.setText(f"Reading {self._file} …")
        self.error.hide()
        self.take.setEnabled(False)
        self.cancel.show()
        self._work.start(work)

    def _read_again(self, mapping: ForcesMapping) -> None:
        """Read the same table under another mapping."""
        self._guessed = ()
        sheets, checksum = self._sheets, self._checksum
        if sheets:
            self._start(lambda _: (sheets, checksum), mapping)

    def _take_reading(self, found: _Reading | str) -> None:
        if isinstance(found, str):
            self.told.setText(found)
            return
        self.cancel.hide()
        new = found.sheets is not self._sheets
        self._sheets, self._checksum = found.sheets, found.checksum
        if new or found.guessed:
            self._guessed = found.guessed
        self.mapping, self.matched = found.mapping, found.matched
        if new:
            self.sheet.clear()
            self.sheet.addItems([sheet.name for sheet in found.sheets])
            first = (found.mapping.sheets or (found.sheets[0].name,))[0]
            self.sheet.setCurrentText(first)
            self.sheet.setVisible(len(found.sheets) > 1)
            self._show_sheet()
        self._show(found.error)

    def _failed(self, error: Exception) -> None:
        self.cancel.hide()
        if not isinstance(error, FexroError | OSError):
            raise error
        self.headline.setText("Nothing is read.")
        self._refuse(str(error))

    def _stop(self) -> None:
        self._work.cancel()
        self.cancel.hide()
        self.headline.setText("Reading was stopped.")

    def forget(self) -> None:
        """Show no table."""
        self._work.cancel()
        self._sheets, self.mapping, self.matched, self._guessed = (), None, None, ()
        self.model.show_sheet(Sheet("", ()))
        self.sheet.hide()
        self._show("")

    def _project_changed(self) -> None:
        """Match again with a project that has become another."""
        project = self._document.project
        if self.mapping is not None and self._sheets and project is not None and self.isVisible():
            guessed = self._guessed
            self._read_again(self.mapping)
            self._guessed = guessed
        self._show_kept()

    def _show_kept(self) -> None:
        project = self._document.project
        names = [] if project is None else [m.name for m in project.mappings]
        self.kept.clear()
        self.kept.addItems([FIRST, *names])
        if self.mapping is not None and self.mapping.name in names:
            self.kept.setCurrentText(self.mapping.name)

    def _choose_mapping(self) -> None:
        project = self._document.project
        if project is None or not self._sheets:
            return
        chosen = {m.name: m for m in project.mappings}.get(self.kept.currentText())
        sheets, checksum = self._sheets, self._checksum
        mapping = chosen or guess_or_none(sheets)
        if mapping is not None:
            self._start(lambda _: (sheets, checksum), mapping)

    def _show_sheet(self, *_: object) -> None:
        for sheet in self._sheets:
            if sheet.name == self.sheet.currentText():
                self.model.show_sheet(sheet)
        self.view.resizeColumnsToContents()
        for column in range(self.model.columnCount()):
            self.view.setColumnWidth(column, min(max(self.view.columnWidth(column), 62), 160))
        self._mark()

    def _show(self, error: str) -> None:
        self._show_kept()
        self.form.setEnabled(self.mapping is not None)
        self.error.setText(error)
        self.error.setVisible(bool(error))
        self.cancel.hide()
        matched = self.matched
        self.take.setEnabled(matched is not None and matched.members > 0)
        self.doubts.clear()
        if self.mapping is None:
            self.headline.setText("Forces from a table")
            self.told.setText(
                "Open a table that an analysis has written, or copy one and paste it. Nothing of"
                " the project changes until you take it."
            )
            return
        self.form.show_mapping(self.mapping, of_text=bool(self._sheets) and self._sheets[0].text)
        if matched is not None:
            self._show_match(matched)
        else:
            self.headline.setText("Not understood yet")
            self.told.setText("")
        self._mark()

    def _show_match(self, matched: Matched) -> None:
        assert self.mapping is not None
        table = matched.table
        what = "cases" if self.mapping.results == "cases" else "combinations"
        self.headline.setText(f"{matched.members} lifts have forces in {len(table.cases)} {what}.")
        parts = [f"{table.rows} rows hold forces"]
        if matched.left_out:
            parts.append(f"{matched.left_out} of them are of no lift of the project")
        if matched.without:
            parts.append(f"{len(matched.without)} lifts have none")
        self.told.setText("; ".join(parts) + ".")
        for sentence in self._guessed:
            self._add_doubt(f"◇ {sentence}", ())
        for doubt in sorted(matched.doubts, key=lambda doubt: not doubt.serious):
            rows = f" Rows {rows_text(doubt.rows)}." if doubt.rows else ""
            self._add_doubt(f"{'◇' if doubt.serious else '·'} {doubt.sentence}{rows}", doubt.rows)
        if not self.doubts.count():
            self._add_doubt("● Nothing is doubtful.", ())

    def _add_doubt(self, text: str, rows: tuple[tuple[str, int], ...]) -> None:
        item = QListWidgetItem(text)
        item.setData(Qt.ItemDataRole.UserRole, rows)
        item.setToolTip(tip_text(text))
        self.doubts.addItem(item)

    def _mark(self) -> None:
        if self.mapping is None:
            return
        here = self.sheet.currentText()
        doubts = self.matched.doubts if self.matched is not None else ()
        lines = {line for doubt in doubts for sheet, line in doubt.rows if sheet == here}
        self.model.show_mapping(self.mapping, lines)
        self._show_row()

    def _go_to_rows(self, item: QListWidgetItem) -> None:
        rows = item.data(Qt.ItemDataRole.UserRole)
        if rows:
            sheet, line = rows[0]
            if sheet != self.sheet.currentText():
                self.sheet.setCurrentText(sheet)
                self._show_sheet()
            self.view.selectRow(line - 1)
            self.view.scrollTo(self.model.index(line - 1, 0))

    def _show_row(self) -> None:
        """Show how the picked row is read on a section."""
        if self.mapping is None:
            return
        index = self.view.currentIndex()
        matrix = self.mapping.matrix
        caption = "Pick a row: its forces are drawn here as they are read."
        forces = None
        matched = self.matched
        if matched is not None and index.isValid():
            place = self.sheet.currentText(), index.row() + 1
            table = matched.table
            numbers = [i for i, known in enumerate(table.places) if known == place]
            at = np.argwhere(table.matched == numbers[0]) if numbers else np.empty((0, 3), int)
            caption = f"Row {place[1]} holds no forces that are taken."
            if len(at):
                m, e, c = (int(i) for i in at[0])
                mark, storey = table.members[m]
                matrix = self.mapping.matrices.get(mark, matrix)
                forces = table.values[m, e, c]
                end = ("top", "bottom")[e]
                caption = f"Row {place[1]}: {mark} · {storey}, {table.cases[c]}, {end}"
        self.picture.show_row(caption, forces, matrix)

    def mean(self, column: int, meaning: str) -> None:
        """Give a column, from 0, a meaning, or none."""
        if self.mapping is None:
            return
        old = self.model.meaning(column)
        columns = {m: at for m, at in self.mapping.columns.items() if m not in (old, meaning)}
        headings = {m: head for m, head in self.mapping.headings.items() if m in columns}
        if meaning:
            key: Meaning = meaning  # type: ignore[assignment]
            columns[key] = column + 1
            line = self.mapping.names_row
            if line is not None:
                index = self.model.index(line - 1, column)
                headings[key] = str(self.model.data(index) or "")[:120]
        self._read_again(self.mapping.model_copy(update={"columns": columns, "headings": headings}))

    def take_forces(self) -> None:
        """Take the forces as one edit."""
        matched, mapping = self.matched, self.mapping
        if matched is None or mapping is None or not self._document.typing.settle():
            return
        file, checksum = self._file, self._checksum

        def edit(project: Project) -> Project:
            return take_matched(project, matched, mapping, file, checksum)

        try:
            self._document.edit(f"Take forces of {file}", edit)
        except InputError as error:
            self._refuse(str(error))
            return
        self.taken.emit()

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)
        self.error.show()


def guess_or_none(sheets: Sequence[Sheet]) -> ForcesMapping | None:
    """Return a first reading, if there is one."""
    try:
        return guess_mapping(sheets).mapping
    except InputError:
        return None


def _read(
    project: Project,
    sheets: Sequence[Sheet],
    checksum: str,
    mapping: ForcesMapping | None,
    tell: Callable[[str], None],
) -> _Reading:
    """Read sheets under a mapping; the last kept one that fits, or a first reading, without one."""
    guessed: tuple[str, ...] = ()
    if mapping is None:
        for kept in reversed(project.mappings):
            try:
                table = read_force_table(sheets, kept, tell)
            except InputError:
                continue
            matched = match_table(project, table, kept)
            if matched.members:
                return _Reading(sheets, kept, (), matched, "", checksum)
        guess = guess_mapping(sheets)
        mapping, guessed = guess.mapping, guess.doubts
    try:
        table = read_force_table(sheets, mapping, tell)
    except InputError as error:
        return _Reading(sheets, mapping, guessed, None, str(error), checksum)
    return _Reading(sheets, mapping, guessed, match_table(project, table, mapping), "", checksum)
