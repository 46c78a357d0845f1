"""Qt view for the parts a section is composed of: what each is, does, and where it stands."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QListWidget, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, format_quantity, parse_quantity
from fexro.desktop.bench.drawing_file import read_section_file, write_section_file
from fexro.desktop.bench.outline_panel import OutlinePanel
from fexro.desktop.document import Document
from fexro.desktop.drawing import write_length
from fexro.desktop.form import Form, command_row
from fexro.project.edits.parts import (
    add_part,
    change_part,
    composed,
    mirror_section,
    remove_part,
    resize_part,
    turn_section,
)
from fexro.project.section import SectionModel
from fexro.project.shapes import KINDS, SIZES, Composed, PartModel, PolygonShape, shape_of, sizes_of

__all__ = ["PartsPanel"]

HOW = {"join": "joins", "cut": "is cut out", "intersect": "intersects"}
COMMANDS = (
    ("cut", "Add an opening"),
    ("join", "Add a part"),
    ("remove", "Remove"),
)
LINE = 17  # px of a line of the list
WHOLE = (
    ("turn", "Turn 90°"),
    ("mirror", "Mirror"),
    ("read", "Read DXF …"),
    ("write", "Write DXF …"),
)


class PartsPanel(QWidget):
    """The parts in their order, the fields of the chosen one, and what is done with the whole.

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
        self.parts.setAccessibleName("Parts of the section")
        self.parts.currentRowChanged.connect(lambda _: self._fill())
        self.outline = OutlinePanel(take)
        self.outline.refused.connect(self.refused)
        self.form = Form(document.typing, 110, 100)
        self.form.choice("how", "It", partial(self._choose, "how"))
        self.form.choice("kind", "Shape", partial(self._choose, "kind"))
        for name, caption in SIZES.items():
            self.form.line(name, caption, self._resize(name, caption))
        for name, caption in (("x", "x of its middle"), ("y", "y of its middle")):
            self.form.line(name, caption, self._place(name, caption))
        self.form.line("angle", "Turned by, °", self._turn)
        self.form.choice("mirrored", "Mirrored", partial(self._choose, "mirrored"))
        self.form.choice("concrete", "Concrete", partial(self._choose, "concrete"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.addWidget(self.parts)
        layout.addLayout(command_row(COMMANDS, self.run))
        layout.addLayout(command_row(WHOLE, self.run))
        layout.addWidget(self.form)
        layout.addWidget(self.outline, 1)
        layout.addStretch(0)

    def show_section(self, section: SectionModel, system: UnitSystem) -> None:
        """Show the parts of a section; one that is not composed is its own only part."""
        if section != self._section:
            self.form.error.hide()
        self._section, self._system = section, system
        parts, row = composed(section.shape).parts, max(self.parts.currentRow(), 0)
        texts = [self._text(i, part) for i, part in enumerate(parts)]
        self.parts.blockSignals(True)
        shown = [self.parts.item(i) for i in range(self.parts.count())]
        if [item.text() for item in shown if item is not None] != texts:
            self.parts.clear()
            self.parts.addItems(texts)
            self.parts.setFixedHeight(LINE * min(max(len(texts), 2), 6) + 6)
        self.parts.setCurrentRow(min(row, len(parts) - 1))
        self.parts.blockSignals(False)
        self._fill()

    def run(self, command: str) -> None:
        """Do something with the parts or the whole."""
        section, row = self._section, max(self.parts.currentRow(), 0)
        if section is None:
            return
        if command in ("read", "write"):
            self._exchange(command, section)
            return
        edits: dict[str, tuple[Callable[[], SectionModel], str]] = {
            "cut": (lambda: add_part(section, "cut", self._document.own_bars), "Opening"),
            "join": (lambda: add_part(section, "join"), "Part"),
            "remove": (lambda: remove_part(section, row), "Part removed"),
            "turn": (lambda: turn_section(section, 90.0), "Section turned"),
            "mirror": (lambda: mirror_section(section), "Section mirrored"),
        }
        edit, label = edits[command]
        try:
            self._take(edit(), label)
        except InputError as error:
            self.refused.emit(str(error))
            return
        if command in ("cut", "join"):
            self.parts.setCurrentRow(self.parts.count() - 1)

    def _exchange(self, command: str, section: SectionModel) -> None:
        """Read the section from a drawing, or write it."""
        project = self._document.project
        assert project is not None
        basis, key = project.basis, self._document.selection.lift
        own, name = basis.bars.own, "section" if key is None else f"{key.mark}-{key.storey}"
        try:
            if command == "write":
                write_section_file(self, section, own, basis.design_code.held, name)
                return
            found = read_section_file(self, section, own, basis.bars.main, basis.system)
            if found is not None:
                self._take(found, "Section from a drawing")
        except InputError as error:
            self.refused.emit(str(error))

    def _text(self, number: int, part: PartModel) -> str:
        called = shape_of(part.shape).label(lambda value: write_length(value, self._system))
        word = {"join": "", "cut": "less ", "intersect": "within "}[part.how] if number else ""
        return f"{number + 1}  {word}{called}"

    def _fill(self) -> None:
        section, row = self._section, self.parts.currentRow()
        if section is None or row < 0:
            return
        part = composed(section.shape).parts[row]
        form, sizes = self.form, sizes_of(part.shape)
        form.show_choice("how", list(HOW.items()), part.how)
        kinds = list(KINDS) if part.shape.kind in KINDS else [part.shape.kind, *KINDS]
        form.show_choice("kind", [(kind, kind) for kind in kinds], part.shape.kind)
        for name in SIZES:
            form.set_visible(name, name in sizes)
            if name in sizes:
                form.show_text(name, format_quantity(sizes[name], Dimension.LENGTH, self._system))
        for name in ("x", "y"):
            value = format_quantity(getattr(part, name), Dimension.LENGTH, self._system)
            form.show_text(name, value)
        form.show_text("angle", f"{part.angle:g}")
        form.show_choice(
            "mirrored", [("no", "no"), ("yes", "yes")], "yes" if part.mirrored else "no"
        )
        project = self._document.project
        grades = () if project is None else project.concretes
        offered = [("", "of the section"), *((grade.name, grade.name) for grade in grades)]
        form.show_choice("concrete", offered, part.concrete or "")
        alone = not isinstance(section.shape, Composed)
        self.outline.show_section(section, self._system)
        self.outline.setVisible(isinstance(section.shape, PolygonShape))
        for name in ("how", "kind", "x", "y", "angle", "mirrored", "concrete"):
            form.set_visible(name, not alone and (name != "concrete" or part.how == "join"))
        if alone:
            for name in SIZES:
                form.set_visible(name, False)

    def _choose(self, name: str, key: str) -> None:
        value: Any = key == "yes" if name == "mirrored" else key
        if name == "concrete":
            value = key or None
        self._change(name.capitalize(), **{name: value})

    def _place(self, name: str, caption: str) -> Callable[[str], None]:
        def commit(text: str) -> None:
            value = parse_quantity(text, Dimension.LENGTH, self._system, caption)
            self._change("Place of a part", **{name: value})

        return commit

    def _turn(self, text: str) -> None:
        angle = parse_quantity(text.rstrip("° "), Dimension.RATIO, self._system, "angle")
        self._change("Angle of a part", angle=angle)

    def _resize(self, name: str, caption: str) -> Callable[[str], None]:
        def commit(text: str) -> None:
            value = parse_quantity(text, Dimension.LENGTH, self._system, caption)
            assert self._section is not None
            row = self.parts.currentRow()
            self._take(resize_part(self._section, row, name, value), caption)

        return commit

    def _change(self, label: str, **fields: Any) -> None:
        assert self._section is not None
        found = change_part(self._section, self.parts.currentRow(), **fields)
        self._take(found, label)
