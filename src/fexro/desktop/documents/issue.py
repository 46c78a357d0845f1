"""Qt view for papers: their state, a preview, printing, and issuing all of them into a folder."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from threading import Event

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QImage, QPainter, QPalette, QPixmap
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPdfWidgets import QPdfView
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QProgressBar,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import FexroError
from fexro.core.members.lift import LiftResult
from fexro.core.quantities import UnitSystem
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.documents.chosen import ChosenOptions
from fexro.desktop.documents.pictures import PicturesBeside
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.text import Label
from fexro.desktop.theme import current_theme
from fexro.documents.bar_list import bar_list
from fexro.documents.calculation import PictureMaker
from fexro.documents.issue import Paper, issue, papers_of, state_of, write
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["IssuePage", "MakePictures"]

HEADS = ("Paper", "State", "Issued", "Files")
GLYPHS = {"not issued": "◌", "up to date": "●", "changed": "◇"}
THUMBNAIL = QSize(74, 54)  # px
ROW = 60  # px
SHARP = 2  # px of a thumbnail for each px of the screen


MakePictures = Callable[[Mapping[LiftKey, LiftResult], UnitSystem], PictureMaker]


class _NotWantedError(Exception):
    """The work is not wanted any more."""


@dataclass(frozen=True)
class _Seen:
    """What the background has done: a state, pages, how far an issue is, or its project.

    Attributes:
        number: of the paper.
        state: of it; empty where it is not that.
        pdf: pages of it.
        done, total: of an issue or of pages.
        project: that knows of the issue, at its end.
        told: a sentence.
    """

    number: int = -1
    state: str = ""
    pdf: bytes = b""
    done: int = 0
    total: int = 0
    project: Project | None = None
    told: str = ""


class IssuePage(QWidget):
    """The papers of a project: what each is like, whether it was issued, and issuing them.

    Args:
        document: what is edited.
        options: of the calculation.
        make_pictures: makes what paints the pictures of a bench.
    """

    def __init__(
        self, document: Document, options: ChosenOptions, make_pictures: MakePictures
    ) -> None:
        super().__init__()
        self._make_pictures = make_pictures
        self._document, self._options = document, options
        self.papers: list[Paper] = []
        self._made_of: tuple[object, ...] | None = None
        self._pictures: PicturesBeside | None = None
        self._pdf = QPdfDocument(self)
        self._bytes: QByteArray | None = None
        self._whole = False
        self._buffer = QBuffer(self)
        self._states: Background[_Seen] = Background(self._take_state, self, self._failed)
        self._pages: Background[_Seen] = Background(self._take_pages, self, self._failed)
        self._issue: Background[_Seen] = Background(self._take_issue, self, self._failed)
        self.table = FiguresTable(HEADS, "Papers", words=(0, 1, 2, 3))
        assert self.table.header is not None
        mode = QHeaderView.ResizeMode
        for column in range(len(HEADS)):
            wide = column == 3
            self.table.header.setSectionResizeMode(
                column, mode.Stretch if wide else mode.ResizeToContents
            )
        rows = self.table.verticalHeader()
        assert rows is not None
        rows.setDefaultSectionSize(ROW)
        self.table.setIconSize(THUMBNAIL)
        self.table.itemSelectionChanged.connect(self._show_front)
        self.issue_all, self.save = QPushButton("Issue all…"), QPushButton("Write this…")
        self.all_pages, self.printing = QPushButton("All pages"), QPushButton("Print…")
        self.stop = QPushButton("Stop")
        self.issue_all.clicked.connect(self.choose_folder)
        self.save.clicked.connect(self._choose_file_folder)
        self.all_pages.clicked.connect(self.show_all_pages)
        self.printing.clicked.connect(self.print)
        self.stop.clicked.connect(self._stop)
        self.progress = QProgressBar()
        self.progress.setMaximumWidth(180)
        self.told = Label()
        self.told.setProperty("role", "quiet")
        self.view = QPdfView(None)
        self.view.setAccessibleName("Preview")
        self.view.setDocument(self._pdf)
        self.view.setPageMode(QPdfView.PageMode.MultiPage)
        self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
        top = QHBoxLayout()
        for widget in (self.issue_all, self.stop, self.progress):
            top.addWidget(widget)
        top.addWidget(self.told, 1)
        for button in (self.save, self.all_pages, self.printing):
            top.addWidget(button)
        parts = QSplitter(Qt.Orientation.Horizontal)
        parts.addWidget(self.table)
        parts.addWidget(self.view)
        parts.setSizes([470, 640])
        parts.setChildrenCollapsible(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.addLayout(top)
        layout.addWidget(parts, 1)
        self._idle("")

    # What there is

    def refresh(self) -> None:
        """List the papers once every lift is checked; find in the background what has changed."""
        project = self._document.project
        if project is None:
            return
        if not self._document.complete:
            self._tell("Papers are made once every lift is checked.")
            return
        self.restyle()
        of = self._options
        made_of = project, of.value, of.scope, tuple(of.keys(project))
        if self._made_of == made_of and self.papers:
            return
        self._made_of = made_of
        results = {key: self._document.results[key] for key in project.by_key}
        self._pictures = PicturesBeside(self._make_pictures(results, project.basis.system))
        self.papers = self._papers(lambda: None)
        chosen = max(self.table.currentRow(), 0)
        self.table.setRowCount(0)
        issued = {one.name: one for one in project.papers.issued}
        for paper in self.papers:
            last = issued.get(paper.name)
            when = "" if last is None else " ".join(p for p in (last.revision, last.date) if p)
            files = ", ".join(one.upper() for one in paper.formats)
            self.table.add_row((paper.name, "…", when, files))
        self._states.start(partial(_looking, project, list(self.papers)))
        self.table.selectRow(min(chosen, len(self.papers) - 1))
        if not self._issue.running:
            self._idle("")

    def _papers(self, step: Callable[[], None]) -> list[Paper]:
        project, results = self._document.project, self._document.results
        assert project is not None
        of = {key: results[key] for key in project.by_key}
        keys = self._options.keys(project)
        drawn = keys if self._options.scope == "lift" else ()
        options, pictures = self._options.value, self._pictures
        return papers_of(project, of, options, pictures, None, step, keys, drawn)

    def _take_state(self, seen: _Seen) -> None:
        name, state = (self.table.item(seen.number, column) for column in (0, 1))
        if name is not None and state is not None:
            state.setText(f"{GLYPHS[seen.state]} {seen.state}")
            name.setIcon(_thumbnail(seen.pdf))

    @property
    def changed(self) -> int:
        """How many papers have changed since they were issued."""
        texts = [self.table.item(row, 1) for row in range(self.table.rowCount())]
        return sum(item is not None and item.text().endswith(" changed") for item in texts)

    def restyle(self) -> None:
        """Take the colours of the theme."""
        palette = self.view.palette()
        palette.setColor(QPalette.ColorRole.Dark, QColor(current_theme().hairline))
        self.view.setPalette(palette)

    # Preview

    @property
    def _chosen(self) -> Paper | None:
        row = self.table.currentRow()
        return self.papers[row] if 0 <= row < len(self.papers) else None

    def _show_front(self) -> None:
        """Show the first pages of the chosen paper."""
        paper = self._chosen
        self._whole = False
        if paper is not None:
            self._pages.start(partial(_paging, paper.pages))

    def show_all_pages(self) -> None:
        """Show every page of the chosen paper."""
        row = self.table.currentRow()
        if 0 <= row < len(self.papers):
            self._whole = True
            self._tell(f"Setting {self.papers[row].name} …")
            self._pages.start(partial(_whole, self._papers, row))

    def _take_pages(self, seen: _Seen) -> None:
        self._bytes = QByteArray(seen.pdf)
        self._pdf.close()
        self._buffer.close()
        self._buffer.setData(self._bytes)
        self._buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        self._pdf.load(self._buffer)
        count = self._pdf.pageCount()
        paper = self._chosen
        name = "" if paper is None else paper.name
        noun = "page" if count == 1 else "pages"
        self._tell(f"{name}: {count} {noun}." if self._whole else f"{name}: how it begins.")

    # Writing

    def choose_folder(self) -> None:
        """Ask for the folder that all papers are issued into."""
        folder = QFileDialog.getExistingDirectory(self, "Issue all documents into")
        if folder:
            self.issue_into(Path(folder))

    def issue_into(self, folder: Path) -> None:
        """Write all papers into a folder, and keep what was issued."""
        project = self._document.project
        if project is None or not self._document.complete:
            return
        self.issue_all.setEnabled(False)
        self.stop.setVisible(True)
        self.progress.setVisible(True)
        self.progress.setRange(0, 0)
        self._tell("Writing …")
        prepared = {key: self._document.results[key].prepared for key in project.by_key}
        bars = bar_list(project, prepared, list(project.by_key))

        def work(stopped: Event) -> Iterator[_Seen]:
            try:
                papers = self._papers(_stopping(stopped))
                for done, total, after in issue(project, papers, folder, None, bars):
                    if stopped.is_set():
                        return
                    ended = after if after is not project else None
                    yield _Seen(done=done, total=total, project=ended, told=str(folder))
            except _NotWantedError:
                return

        self._issue.start(work)

    def _take_issue(self, seen: _Seen) -> None:
        self.progress.setRange(0, max(seen.total, 1))
        self.progress.setValue(seen.done)
        if seen.project is not None:
            papers = seen.project.papers
            self._document.edit(
                "Issue of documents",
                lambda project: project.changed(
                    papers=project.papers.model_copy(
                        update={
                            "issued": papers.issued,
                            "marks": papers.marks,
                            "bars": papers.bars,
                        }
                    )
                ),
            )
            self._idle(f"Issued into {seen.told}, with manifest.json.")

    def _choose_file_folder(self) -> None:
        paper = self._chosen
        if paper is None:
            return
        folder = QFileDialog.getExistingDirectory(self, f"Write {paper.name} into")
        if folder:
            self.write_into(Path(folder))

    def write_into(self, folder: Path) -> None:
        """Write the chosen paper in all its formats into a folder; nothing is kept as issued."""
        row = self.table.currentRow()
        if not 0 <= row < len(self.papers):
            return
        self.stop.setVisible(True)
        self._tell(f"Writing {self.papers[row].name} …")

        def work(stopped: Event) -> Iterator[_Seen]:
            try:
                paper = self._papers(_stopping(stopped))[row]
                files: dict[str, bytes] = {}
                for number, one in enumerate(paper.formats):
                    yield _Seen(done=number, total=len(paper.formats))
                    files |= paper.make(one)
                write(files, folder)
                yield _Seen(told=f"{len(files)} files written into {folder}.")
            except _NotWantedError:
                return

        self._issue.start(work)

    def _stop(self) -> None:
        self._issue.cancel()
        self._idle("Stopped; nothing was written.")

    # Printing

    def print(self) -> None:
        """Show what is printed of the chosen paper, and print it."""
        from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog

        if self._pdf.pageCount() == 0:
            return
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        dialog = QPrintPreviewDialog(printer, self)
        dialog.setWindowTitle("Print")
        dialog.paintRequested.connect(self.paint_pages)
        dialog.exec()

    def paint_pages(self, printer: object) -> None:
        """Paint the pages that are shown on a printer, each as large as its paper."""
        from PyQt6.QtPrintSupport import QPrinter

        assert isinstance(printer, QPrinter)
        painter = QPainter(printer)
        for number in range(self._pdf.pageCount()):
            if number:
                printer.newPage()
            room = QRectF(painter.viewport())
            size = self._pdf.pagePointSize(number)
            image = self._pdf.render(number, (size * 3).toSize())
            _fit(painter, image, room)
        painter.end()

    # Saying

    def _tell(self, text: str) -> None:
        self.told.setText(text)

    def _idle(self, text: str) -> None:
        self._tell(text)
        ready = bool(self.papers)
        for button in (self.issue_all, self.save, self.all_pages, self.printing):
            button.setEnabled(ready)
        self.stop.setVisible(False)
        self.progress.setVisible(False)

    def _failed(self, error: Exception) -> None:
        if isinstance(error, _NotWantedError):
            return
        if not isinstance(error, FexroError):
            raise error
        self._idle(str(error))


def _thumbnail(pdf: bytes) -> QIcon:
    """Return the first page of a paper in small, on its sheet."""
    content, buffer, document = QByteArray(pdf), QBuffer(), QPdfDocument(None)
    buffer.setData(content)
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document.load(buffer)
    size = document.pagePointSize(0)
    share = min(THUMBNAIL.width() / size.width(), THUMBNAIL.height() / size.height())
    page = document.render(0, (size * share * SHARP).toSize())
    image = QImage(THUMBNAIL * SHARP, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    x, y = (image.width() - page.width()) / 2, (image.height() - page.height()) / 2
    area = QRectF(x, y, page.width(), page.height()).adjusted(1, 1, -1, -1)
    painter.fillRect(area, Qt.GlobalColor.white)
    painter.drawImage(area, page)
    painter.setPen(QColor(current_theme().hairline))
    painter.drawRect(area)
    painter.end()
    icon, pixmap = QIcon(), QPixmap.fromImage(image)
    # Paper stays white where it is selected.
    for mode in (QIcon.Mode.Normal, QIcon.Mode.Selected):
        icon.addPixmap(pixmap, mode)
    return icon


def _fit(painter: QPainter, image: QImage, room: QRectF) -> None:
    """Paint an image as large as there is room, in the middle."""
    share = min(room.width() / image.width(), room.height() / image.height())
    wide, high = image.width() * share, image.height() * share
    x, y = room.x() + (room.width() - wide) / 2, room.y() + (room.height() - high) / 2
    painter.drawImage(QRectF(x, y, wide, high), image)


def _stopping(stopped: Event) -> Callable[[], None]:
    """Return what stops a calculation under way once it is not wanted any more."""

    def step() -> None:
        if stopped.is_set():
            raise _NotWantedError

    return step


def _looking(project: Project, papers: list[Paper], stopped: Event) -> Iterator[_Seen]:
    """Find the state of each paper."""
    for number, paper in enumerate(papers):
        if stopped.is_set():
            return
        yield _Seen(number, state_of(project, paper), paper.pages())


def _paging(pages: Callable[[], bytes], stopped: Event) -> Iterator[_Seen]:
    if not stopped.is_set():
        yield _Seen(pdf=pages())


def _whole(
    papers: Callable[[Callable[[], None]], list[Paper]], row: int, stopped: Event
) -> Iterator[_Seen]:
    try:
        paper = papers(_stopping(stopped))[row]
        if "pdf" in paper.formats:
            (content,) = paper.make("pdf").values()
        else:
            content = paper.pages()
        yield _Seen(pdf=content)
    except _NotWantedError:
        return
