"""Qt view for the structural steel inside a section: profiles, their sizes, grade and place."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QListWidget, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, format_quantity, parse_quantity
from fexro.core.section.rolled import ROLLED
from fexro.desktop.document import Document
from fexro.desktop.drawing import write_length
from fexro.desktop.form import Form, command_row
from fexro.desktop.text import Label
from fexro.project.edits.profiles import add_profile, change_profile, remove_profile
from fexro.project.profiles import GRADES, PROFILE_SIZES, SteelPart, profile_model
from fexro.project.section import SectionModel

__all__ = ["SteelPanel"]

KINDS = ("I", "channel", "hollow", "tube", "plate")
COMMANDS = (("add", "Add a profile"), ("remove", "Remove"))
LINE = 17  # px of a line of the list
OWN = "own sizes"
NOTE = "No structural steel. A profile takes the place of the concrete where it stands."


class SteelPanel(QWidget):
    """The profiles, and the fields of the chosen one.

    Args:
        document: that the section is in.
        take: takes a section, with what was done, or refuses it.
    """

    refused = pyqtSignal(str)

    def __init__(self, document: Document, take: Callable[[SectionModel, str], None]) -> None:
        super().__init__()
        self._take, self._document = take, document
        self._section: SectionModel | None = None
        self._system = UnitSystem.SI
        self.parts = QListWidget()
        self.parts.setAccessibleName("Structural steel of the section")
        self.parts.currentRowChanged.connect(lambda _: self._fill())
        self.note = Label(NOTE)
        self.note.setProperty("role", "quiet")
        self.note.setWordWrap(True)
        self.form = Form(document.typing, 110, 100)
        self.form.choice("kind", "Profile", partial(self._choose, "kind"))
        self.form.choice("rolled", "Usual size", self._choose_rolled)
        for name, caption in PROFILE_SIZES.items():
            self.form.line(name, caption, self._length(name, caption))
        self.form.choice("grade", "Grade", partial(self._choose, "grade"))
        self.form.line("yield_strength", "Yield strength", self._yield)
        for name, caption in (("x", "x of its middle"), ("y", "y of its middle")):
            self.form.line(name, caption, self._length(name, caption))
        self.form.line("angle", "Turned by, °", self._turn)
        self.form.choice("mirrored", "Mirrored", partial(self._choose, "mirrored"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.addWidget(self.note)
        layout.addWidget(self.parts)
        layout.addLayout(command_row(COMMANDS, self.run))
        layout.addWidget(self.form)
        layout.addStretch(1)

    def show_section(self, section: SectionModel, system: UnitSystem) -> None:
        """Show the steel of a section."""
        if section != self._section:
            self.form.error.hide()
        self._section, self._system = section, system
        row = max(self.parts.currentRow(), 0)
        texts = [self._text(i, part) for i, part in enumerate(section.profiles)]
        self.parts.blockSignals(True)
        shown = [self.parts.item(i) for i in range(self.parts.count())]
        if [item.text() for item in shown if item is not None] != texts:
            self.parts.clear()
            self.parts.addItems(texts)
            self.parts.setFixedHeight(LINE * min(max(len(texts), 1), 6) + 6)
        self.parts.setCurrentRow(min(row, len(texts) - 1))
        self.parts.blockSignals(False)
        self.note.setVisible(not texts)
        self.parts.setVisible(bool(texts))
        self.form.setVisible(bool(texts))
        self._fill()

    def run(self, command: str) -> None:
        """Add a profile, or take the chosen one out."""
        section, row = self._section, self.parts.currentRow()
        if section is None or (command == "remove" and row < 0):
            return
        try:
            if command == "add":
                self._take(add_profile(section, own=self._document.own_bars), "Steel profile")
            else:
                self._take(remove_profile(section, row), "Steel removed")
        except InputError as error:
            self.refused.emit(str(error))
            return
        if command == "add":
            self.parts.setCurrentRow(self.parts.count() - 1)

    def _text(self, number: int, part: SteelPart) -> str:
        called = part.profile.geometry().label(lambda value: write_length(value, self._system))
        return f"{number + 1}  {called}, {part.grade}"

    def _fill(self) -> None:
        section, row = self._section, self.parts.currentRow()
        if section is None or not 0 <= row < len(section.profiles):
            return
        part, form = section.profiles[row], self.form
        form.show_choice("kind", [(kind, kind) for kind in KINDS], part.profile.kind)
        usual = [
            (str(i), rolled.label(lambda value: write_length(value, self._system)))
            for i, rolled in enumerate(ROLLED)
            if profile_model(rolled).kind == part.profile.kind
        ]
        core = part.profile.geometry()
        present = next((str(i) for i, rolled in enumerate(ROLLED) if rolled == core), OWN)
        form.show_choice("rolled", [(OWN, OWN), *usual], present)
        form.set_visible("rolled", bool(usual))
        for name in PROFILE_SIZES:
            has = hasattr(part.profile, name)
            form.set_visible(name, has)
            if has:
                value = getattr(part.profile, name)
                form.show_text(name, format_quantity(value, Dimension.LENGTH, self._system))
        grades = [(grade, grade) for grade in GRADES]
        if part.grade not in GRADES:
            grades.insert(0, (part.grade, part.grade))
        form.show_choice("grade", grades, part.grade)
        strength = format_quantity(part.yield_strength, Dimension.STRESS, self._system)
        form.show_text("yield_strength", strength)
        for name in ("x", "y"):
            value = format_quantity(getattr(part, name), Dimension.LENGTH, self._system)
            form.show_text(name, value)
        form.show_text("angle", f"{part.angle:g}")
        form.show_choice(
            "mirrored", [("no", "no"), ("yes", "yes")], "yes" if part.mirrored else "no"
        )
        form.set_visible("mirrored", part.profile.kind == "channel")

    def _choose(self, name: str, key: str) -> None:
        value: Any = key == "yes" if name == "mirrored" else key
        self._change(f"Steel {name}", **{name: value})

    def _choose_rolled(self, key: str) -> None:
        if key != OWN:
            self._change("Steel profile", profile=profile_model(ROLLED[int(key)]))

    def _length(self, name: str, caption: str) -> Callable[[str], None]:
        def commit(text: str) -> None:
            value = parse_quantity(text, Dimension.LENGTH, self._system, caption)
            self._change(f"Steel {caption.lower()}", **{name: value})

        return commit

    def _yield(self, text: str) -> None:
        value = parse_quantity(text, Dimension.STRESS, self._system, "Yield strength")
        grade = f"Fy {format_quantity(value, Dimension.STRESS, self._system)}"
        self._change("Steel grade", yield_strength=value, grade=grade)

    def _turn(self, text: str) -> None:
        angle = parse_quantity(text.rstrip("° "), Dimension.RATIO, self._system, "angle")
        self._change("Steel turned", angle=angle)

    def _change(self, label: str, **fields: Any) -> None:
        assert self._section is not None
        found = change_profile(self._section, self.parts.currentRow(), **fields)
        self._take(found, label)
