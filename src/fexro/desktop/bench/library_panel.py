"""Qt view for the sections that a project keeps: shared by lifts, changed for all of them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QFileDialog,
    QInputDialog,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from fexro.core.errors import InputError
from fexro.desktop.background import Background
from fexro.desktop.document import Document
from fexro.desktop.drawing import write_length
from fexro.desktop.form import command_row
from fexro.desktop.text import Label
from fexro.exchange.plain_files import read_whole, write_whole
from fexro.exchange.section_library import library_text, read_library
from fexro.project.column import LiftKey
from fexro.project.edits.library import (
    add_sections,
    change_section,
    keep_section,
    remove_section,
    rename_section,
    use_section,
    users_of_section,
)
from fexro.project.effects import Effect, effect_of
from fexro.project.project import Project
from fexro.project.shapes import shape_of

__all__ = ["LibraryPanel"]

ABOVE = (("keep", "Keep this section"), ("use", "Use the chosen"))
BELOW = (("rename", "Rename"), ("remove", "Remove"), ("export", "Export"), ("import", "Import"))
FILTER = "Sections (*.sections.json);;All files (*)"
LINE = 17  # px of a line of the list


class LibraryPanel(QWidget):
    """The kept sections with their users; what changing one would do is said before."""

    refused = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self._key: LiftKey | None = None
        self._work: Background[Effect] = Background(self._tell_effect, self)
        self._asked: tuple[Project, str] | None = None
        self.here, self.effect = Label(), Label()
        for label in (self.here, self.effect):
            label.setWordWrap(True)
        self.effect.setProperty("role", "quiet")
        self.sections = QListWidget()
        self.sections.setAccessibleName("Sections that the project keeps")
        self.sections.currentRowChanged.connect(lambda _: self._weigh())
        self.change = QPushButton()
        self.change.clicked.connect(lambda: self.run("change"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 6, 0, 0)
        layout.addWidget(self.here)
        layout.addLayout(command_row(ABOVE, self.run))
        layout.addWidget(self.sections, 1)
        layout.addWidget(self.change)
        layout.addWidget(self.effect)
        layout.addLayout(command_row(BELOW, self.run))

    def show_lift(self, project: Project, key: LiftKey) -> None:
        """Show the kept sections beside a lift."""
        self._key = key
        record, chosen = project.record_by_key[key], self.chosen
        named = record.named
        users = 0 if named is None else len(users_of_section(project, named))
        noun = "lift" if users == 1 else "lifts"
        self.here.setText(
            "This lift has a section of its own."
            if named is None
            else f"This lift has section {named}, as {users} {noun} have."
        )
        system = project.basis.system
        names, texts = [], []
        for section in project.sections:
            shape = shape_of(section.shape).label(lambda value: write_length(value, system))
            count = len(users_of_section(project, section.name))
            names.append(section.name)
            texts.append(f"{section.name}  {shape}, {section.bars} ({count})")
        self.sections.blockSignals(True)
        self.sections.clear()
        self.sections.addItems(texts)
        wanted = chosen if chosen in names else named
        if wanted in names:
            self.sections.setCurrentRow(names.index(wanted))
        self.sections.blockSignals(False)
        self.sections.setVisible(bool(texts))
        self._weigh()

    @property
    def chosen(self) -> str | None:
        """The name of the section that is chosen."""
        project, row = self._document.project, self.sections.currentRow()
        if project is None or not 0 <= row < len(project.sections):
            return None
        return project.sections[row].name

    def _weigh(self) -> None:
        """Say what it would do if the chosen section became that of the lift."""
        project, key, name = self._document.project, self._key, self.chosen
        self.effect.clear()
        self.change.hide()
        if project is None or key is None or name is None or not self.isVisible():
            return
        if project.record_by_key[key].named == name:
            return
        users = users_of_section(project, name)
        self.change.setText(f"Change {name} to this section")
        self.change.setVisible(True)
        try:
            after = change_section(project, name, key)
        except InputError as error:
            self.effect.setText(str(error))
            return
        noun = "lift has" if len(users) == 1 else "lifts have"
        self.effect.setText(f"{len(users)} {noun} {name}.")
        if users:
            self._asked = project, name
            self._work.start(partial(effect_of, project, after))

    def _tell_effect(self, effect: Effect) -> None:
        if self._asked == (self._document.project, self.chosen):
            self.effect.setText(f"Changing {self.chosen}: {effect}")

    def run(self, command: str) -> None:
        """Do something with the kept sections."""
        try:
            self._run(command)
        except InputError as error:
            self.refused.emit(str(error))

    def _run(self, command: str) -> None:
        document, key, name = self._document, self._key, self.chosen
        project = document.project
        if project is None or key is None:
            return
        if command == "keep":
            to, taken = QInputDialog.getText(self, "Keep the section", "Its name:")
            if taken:
                self.edit("Section kept", lambda p: keep_section(p, key, to.strip()))
        elif command == "import":
            chosen, _ = QFileDialog.getOpenFileName(self, "Import sections", "", FILTER)
            if chosen:
                self.take_file(Path(chosen))
        elif command == "export":
            text = library_text(project.sections)
            chosen, _ = QFileDialog.getSaveFileName(
                self, "Export the sections", f"{project.name}.sections.json", FILTER
            )
            if chosen:
                write_whole(Path(chosen), text)
        elif name is None:
            raise InputError("section", "none chosen", "a section of the list")
        elif command == "use":
            self.edit(f"Section {name}", lambda p: use_section(p, [key], name))
        elif command == "change":
            self.edit(f"Section {name} changed", lambda p: change_section(p, name, key))
        elif command == "remove":
            self.edit(f"Section {name} removed", lambda p: remove_section(p, name))
        elif command == "rename":
            to, taken = QInputDialog.getText(self, "Rename the section", "Its name:", text=name)
            if taken:
                self.edit(f"Section {name} renamed", lambda p: rename_section(p, name, to))

    def take_file(self, path: Path) -> None:
        """Add the sections of a file to those that the project keeps.

        Raises:
            InputError: where it is no file of sections.
        """
        sections = read_library(read_whole(path, "a file of sections"), path.name)
        self.edit("Sections imported", lambda p: add_sections(p, sections))

    def edit(self, label: str, edit: Callable[[Project], Project]) -> None:
        """Make an edit, or tell why it cannot be."""
        try:
            self._document.edit(label, edit)
        except InputError as error:
            self.refused.emit(str(error))
