"""Qt view for what stands on every sheet, and what a calculation has in it."""

from __future__ import annotations

import re
from dataclasses import replace
from functools import partial
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import FexroError
from fexro.core.findings import TOPICS, Topic
from fexro.desktop.document import Document
from fexro.desktop.documents.chosen import SCOPES, ChosenOptions
from fexro.desktop.figures_table import FiguresTable
from fexro.desktop.form import Form
from fexro.desktop.text import Label
from fexro.documents.calculation import DETAILS, PARTS, Part
from fexro.project.edits.papers import add_revision, set_logo, set_papers, take_out
from fexro.project.papers import DRAWING_PAPERS, PutCheck, PutPicture
from fexro.project.project import Project
from fexro.project.template import keep_template

__all__ = ["SheetsPage"]

TEXTS = {
    "number": "Project number",
    "author": "By",
    "checker": "Checked",
    "date": "Date",
}
TEXT_PAPERS = {"a4": "A4", "letter": "Letter"}
COMBINATIONS = {
    "governing": "those that govern",
    "tables": "others in tables",
    "all": "all in full",
}
SURE = "verdicts only", "checks with numbers", "every derivation"


class SheetsPage(QScrollArea):
    """Fields of the front page, revisions, and the parts of the calculation.

    Signals:
        changed: other parts of the calculation were chosen.
    """

    changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.options = ChosenOptions()
        self.form = Form(document.typing, 260)
        self.form.heading("On every sheet")
        for name, caption in TEXTS.items():
            self.form.line(name, caption, partial(self._set, name))
        self.form.line("revision", "Revision", self._revise)
        self.form.choice("text_paper", "Calculation on", partial(self._set, "text_paper"))
        self.form.choice("drawing_paper", "Drawings on", partial(self._set, "drawing_paper"))
        self.form.line("stock", "Stock lengths, mm", self._set_stock)
        self.logo, self.no_logo = QPushButton("Logo…"), QPushButton("No logo")
        self.logo.clicked.connect(self._choose_logo)
        self.no_logo.clicked.connect(lambda: self._edit("Logo", partial(set_logo, content=b"")))
        logos = QHBoxLayout()
        self.keep = QPushButton("Keep for new projects")
        self.keep.setToolTip("By, checked, logo, papers and stock lengths of every new project")
        self.keep.clicked.connect(self.keep_for_new)
        for button in (self.logo, self.no_logo, self.keep):
            logos.addWidget(button)
        logos.addStretch(1)
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setProperty("role", "quiet")
        self.revisions = FiguresTable(
            ("Rev", "Date", "By", "What is other"), "Revisions", words=(0, 1, 2, 3)
        )
        assert self.revisions.header is not None
        for column in range(3):
            mode = QHeaderView.ResizeMode.ResizeToContents
            self.revisions.header.setSectionResizeMode(column, mode)
        left = QVBoxLayout()
        left.setSpacing(8)
        logos.setSpacing(8)
        left.addWidget(self.form)
        left.addLayout(logos)
        left.addWidget(self.told)
        left.addWidget(self.revisions, 1)
        content = QWidget()
        content.setObjectName("content")
        self.setWidget(content)
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        layout = QHBoxLayout(content)
        layout.setContentsMargins(16, 4, 16, 10)
        layout.setSpacing(28)
        layout.addLayout(left, 3)
        layout.addLayout(self._parts(), 2)

    def _parts(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(5)
        self.calculation = Form(self._document.typing, 200)
        self.calculation.heading("The calculation")
        self.calculation.choice("scope", "Of", self._set_scope)
        self.calculation.choice("name", "which", self._set_name)
        self.calculation.choice("detail", "Checks", self._set_detail)
        for topic in TOPICS:
            self.calculation.choice(topic, f"of {topic}", partial(self._set_chapter, topic))
        self.calculation.choice("combinations", "Combinations", self._set_combinations)
        column.addWidget(self.calculation)
        self.boxes: dict[Part, QCheckBox] = {}
        for part in PARTS:
            box = QCheckBox(part[0].upper() + part[1:])
            box.setChecked(part in self.options.value.parts)
            box.toggled.connect(self._take_parts)
            self.boxes[part] = box
            column.addWidget(box)
        self.put = FiguresTable(
            ("Put in", "Of", "In"), "Pictures and checks put in", words=(0, 1, 2)
        )
        self.put.setMaximumHeight(150)
        self.out = QPushButton("Take out")
        self.out.clicked.connect(self._take_out)
        column.addWidget(self.put)
        column.addWidget(self.out)
        column.addStretch(1)
        return column

    def refresh(self) -> None:
        """Show what stands on the sheets of the project."""
        project = self._document.project
        if project is None:
            return
        papers = project.papers
        for name in TEXTS:
            self.form.show_text(name, getattr(papers, name))
        self.form.show_text("revision", project.revision)
        self.form.show_text("stock", ", ".join(f"{one:g}" for one in papers.stock))
        self.form.show_choice("text_paper", list(TEXT_PAPERS.items()), papers.text_paper)
        offered = [(one, one) for one in DRAWING_PAPERS]
        self.form.show_choice("drawing_paper", offered, papers.drawing_paper)
        self.no_logo.setEnabled(bool(papers.logo))
        self.told.setText("The logo stands at the head of every page." if papers.logo else "")
        chosen = self.options.value
        scopes = [(one, f"the {one}" if one == "building" else f"a {one}") for one in SCOPES]
        self.calculation.show_choice("scope", scopes, self.options.scope)
        names = self.options.names(project)
        self.calculation.show_choice("name", [(one, one) for one in names], self.options.name)
        self.calculation.set_visible("name", bool(names))
        self.calculation.show_choice("detail", list(zip(DETAILS, SURE, strict=True)), chosen.detail)
        details = [("", "as above"), *zip(DETAILS, SURE, strict=True)]
        for topic in TOPICS:
            self.calculation.show_choice(topic, details, chosen.details.get(topic, ""))
        self.calculation.show_choice(
            "combinations", list(COMBINATIONS.items()), chosen.combinations
        )
        self.put.setRowCount(0)
        for picture in papers.pictures:
            combination = picture.combination or "what governs"
            self.put.add_row((picture.part, str(picture.key), combination))
        for check in papers.checks:
            self.put.add_row((check.check, str(check.key), "what governs"))
        for widget in (self.put, self.out):
            widget.setVisible(bool(papers.pictures or papers.checks))
        self.revisions.setRowCount(0)
        for one in papers.revisions:
            self.revisions.add_row((one.name, one.date, one.by, one.told))

    def _edit(self, label: str, edit: object) -> None:
        self._document.edit(label, edit)  # type: ignore[arg-type]

    def _set(self, name: str, text: str) -> None:
        label = TEXTS.get(name, "Paper")
        self._edit(label, lambda project: set_papers(project, **{name: text}))

    def _revise(self, text: str) -> None:
        """Take another revision, and list it."""

        def edit(project: Project) -> Project:
            papers = project.papers
            if text in {one.name for one in papers.revisions} or not text:
                return project.changed(revision=text)
            return add_revision(project, text, "", papers.date, papers.author)

        self._edit("Revision", edit)

    def _set_stock(self, text: str) -> None:
        # A comma between digits is that of decimals.
        parts = [part for part in re.split(r";|,(?![0-9])", text) if part.strip()]
        try:
            lengths: object = tuple(float(part.replace(",", ".")) for part in parts)
        except ValueError:
            lengths = text
        self._edit("Stock lengths", lambda project: set_papers(project, stock=lengths))

    def keep_for_new(self) -> None:
        """Keep what stands on the sheets for new projects, and tell so."""
        project = self._document.project
        if project is None:
            return
        try:
            keep_template(project.papers)
        except FexroError as error:
            self.told.setText(str(error))
        else:
            self.told.setText("New projects begin with this.")

    def _choose_logo(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Logo", "", "Pictures (*.png *.svg)")
        if name:
            self.take_logo(Path(name))

    def take_logo(self, path: Path) -> None:
        """Take a picture as the logo, or tell why it is not taken."""
        try:
            content = path.read_bytes()
            self._edit("Logo", partial(set_logo, content=content))
        except OSError as error:
            self.told.setText(f"{path.name}: {error.strerror or error}.")
        except FexroError as error:
            self.told.setText(str(error))

    def _take_out(self) -> None:
        project = self._document.project
        assert project is not None
        papers = project.papers
        puts: list[PutPicture | PutCheck] = [*papers.pictures, *papers.checks]
        put = puts[max(self.put.currentRow(), 0)]
        what = put.part if isinstance(put, PutPicture) else put.check
        self._edit(f"{what} out of the calculation", partial(take_out, put=put))

    def _set_scope(self, key: str) -> None:
        project = self._document.project
        assert project is not None
        self.options.scope = key
        names = self.options.names(project)
        lift = self._document.selection.lift
        near = {"stack": lift and lift.mark, "storey": lift and lift.storey, "lift": str(lift)}
        wanted = near.get(key)
        self.options.name = wanted if wanted in names else next(iter(names), "")
        self.refresh()
        self.changed.emit()

    def _set_name(self, key: str) -> None:
        self.options.name = key
        self.changed.emit()

    def _set_detail(self, key: str) -> None:
        self.options.value = replace(self.options.value, detail=key)  # type: ignore[arg-type]
        self.changed.emit()

    def _set_chapter(self, topic: Topic, key: str) -> None:
        details = {one: of for one, of in self.options.value.details.items() if one != topic}
        if key:
            details[topic] = key  # type: ignore[assignment]
        self.options.value = replace(self.options.value, details=details)
        self.changed.emit()

    def _set_combinations(self, key: str) -> None:
        value = replace(self.options.value, combinations=key)  # type: ignore[arg-type]
        self.options.value = value
        self.changed.emit()

    def _take_parts(self) -> None:
        parts = tuple(part for part, box in self.boxes.items() if box.isChecked())
        self.options.value = replace(self.options.value, parts=parts)
        self.changed.emit()
