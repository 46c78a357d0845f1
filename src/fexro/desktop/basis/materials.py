"""Qt view for the materials of a project, with what follows from each under the code."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.codes import DesignCode, MaterialFact
from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, format_quantity, parse_quantity
from fexro.desktop.densities import read_density, write_density
from fexro.desktop.derivation_view import DerivationView
from fexro.desktop.document import Document
from fexro.desktop.fields import Field
from fexro.desktop.form import validated
from fexro.desktop.layouts import clear_layout
from fexro.desktop.text import Label
from fexro.project.basis import ConcreteGrade, SteelGrade
from fexro.project.edits.basis import (
    add_material,
    remove_material,
    replace_material,
)
from fexro.project.edits.storeys import free_name
from fexro.project.project import Project

__all__ = ["MaterialsSection"]

Grade = ConcreteGrade | SteelGrade
# For each kind the fields of a grade that are measured, with captions.
MEASURED = {
    "concrete": (("strength", "Strength"),),
    "steel": (("yield_strength", "Yield strength"), ("modulus", "Modulus")),
}


class MaterialsSection(QWidget):
    """The concretes, or the steels, one a row; what follows from one opens its derivation."""

    grew = pyqtSignal()

    def __init__(self, document: Document, kind: str) -> None:
        super().__init__()
        self._document, self._kind = document, kind
        self._shown: tuple[object, ...] = ()
        self._opened: tuple[str, str] | None = None
        self.fields: dict[tuple[str, str], Field] = {}
        self.facts: dict[tuple[str, str], QPushButton] = {}
        self.removes: dict[str, QPushButton] = {}
        self.derivation: DerivationView | None = None
        self.error = Label()
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        self.add = QPushButton(f"Add a {kind}")
        self.add.setProperty("role", "link")
        self.add.clicked.connect(self._add)
        self._rows = QVBoxLayout()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addLayout(self._rows)
        column.addWidget(self.error)
        below = QHBoxLayout()
        below.addWidget(self.add)
        below.addStretch(1)
        column.addLayout(below)

    def show_project(self, project: Project) -> None:
        """Show the materials of a project."""
        code = project.basis.design_code
        shown = self._grades(project), code.name, code.units
        if shown == self._shown:
            return
        self._shown = shown
        self._rebuild(project, code)

    def _grades(self, project: Project) -> tuple[Grade, ...]:
        return project.concretes if self._kind == "concrete" else project.steels

    def _rebuild(self, project: Project, code: DesignCode) -> None:
        clear_layout(self._rows)
        self.fields, self.facts, self.removes, self.derivation = {}, {}, {}, None
        self.error.hide()
        for grade in self._grades(project):
            self._rows.addWidget(self._row(grade, code, project.basis.system))
            if self._opened is not None and self._opened[0] == grade.name:
                for fact in self._facts(grade, code):
                    if fact.symbol == self._opened[1]:
                        record, system = fact.derive(), project.basis.system
                        self.derivation = DerivationView(record, system, self.width())
                        self._rows.addWidget(self.derivation)

    def _facts(self, grade: Grade, code: DesignCode) -> list[MaterialFact]:
        if isinstance(grade, ConcreteGrade):
            return list(code.materials.concrete(grade.material()))
        return list(code.materials.steel(grade.material()))

    def _row(self, grade: Grade, code: DesignCode, system: UnitSystem) -> QWidget:
        row = QWidget()
        grid = QGridLayout(row)
        grid.setContentsMargins(0, 0, 0, 4)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(1)
        name = Field(self._document.typing, partial(self._rename, grade))
        self._place(grid, name, grade, "name", 0)
        name.show_text(grade.name)
        words = code.vocabulary
        symbols = {"strength": words.concrete_strength, "yield_strength": words.steel_strength}
        for column, (field, caption) in enumerate(MEASURED[self._kind], start=1):
            line = Field(self._document.typing, partial(self._measure, grade, field, caption))
            symbol = Label(symbols.get(field, "Es"))
            symbol.setProperty("role", "quiet")
            symbol.setBuddy(line)
            line.setToolTip(caption)
            grid.addWidget(symbol, 0, 2 * column - 1)
            self._place(grid, line, grade, field, 2 * column)
            value = getattr(grade, field)
            line.show_text(format_quantity(value, Dimension.STRESS, system))
        if isinstance(grade, ConcreteGrade) and code.materials.reads_density:
            self._place_density(grid, grade, system)
        copy, remove = QPushButton("Copy"), QPushButton("Remove")
        for button, run in ((copy, self._copy), (remove, self._remove)):
            button.setProperty("role", "link")
            button.clicked.connect(partial(run, grade))
        self.removes[grade.name] = remove
        grid.addWidget(copy, 0, 6)
        grid.addWidget(remove, 0, 7)
        following = QHBoxLayout()
        following.setSpacing(4)
        for fact in self._facts(grade, code):
            text = f"{fact.symbol} {format_quantity(fact.value, fact.dimension, system)}"
            button = QPushButton(text)
            button.setProperty("role", "link")
            button.setToolTip(f"{fact.name[0].upper()}{fact.name[1:]}: how it follows")
            button.clicked.connect(partial(self._toggle, grade.name, fact.symbol))
            following.addWidget(button)
            self.facts[grade.name, fact.symbol] = button
        following.addStretch(1)
        grid.addLayout(following, 1, 0, 1, 8)
        grid.setColumnStretch(5, 1)
        return row

    def _place_density(self, grid: QGridLayout, grade: ConcreteGrade, system: UnitSystem) -> None:
        line = Field(self._document.typing, partial(self._weigh, grade))
        line.setPlaceholderText("normal weight")
        line.setToolTip("Density: empty for concrete of normal weight")
        symbol = Label("wc")
        symbol.setProperty("role", "quiet")
        symbol.setBuddy(line)
        grid.addWidget(symbol, 0, 3)
        self._place(grid, line, grade, "density", 4)
        line.show_text(write_density(grade.density, system))

    def _place(self, grid: QGridLayout, field: Field, grade: Grade, name: str, column: int) -> None:
        field.setAccessibleName(f"{name.replace('_', ' ').capitalize()} of {grade.name}")
        field.setFixedWidth(110)
        field.refused.connect(self._refuse)
        field.settled.connect(self.error.hide)
        grid.addWidget(field, 0, column)
        self.fields[grade.name, name] = field

    def _toggle(self, grade: str, symbol: str, _: bool = False) -> None:
        self._opened = None if self._opened == (grade, symbol) else (grade, symbol)
        project = self._document.project
        assert project is not None
        self._rebuild(project, project.basis.design_code)

    def _rename(self, grade: Grade, text: str) -> None:
        self._replace(grade, {"name": " ".join(text.split())}, "Name", text)

    def _measure(self, grade: Grade, field: str, caption: str, text: str) -> None:
        value = parse_quantity(text, Dimension.STRESS, self._system, caption)
        self._replace(grade, {field: value}, caption, text)

    def _weigh(self, grade: ConcreteGrade, text: str) -> None:
        density = read_density(text, self._system, "Density")
        self._replace(grade, {"density": density}, "Density", text)

    def _replace(self, grade: Grade, update: dict[str, object], caption: str, text: str) -> None:
        where = f"{caption} of {grade.name}"
        changed = validated(grade, update, where, text, self._system)
        if changed != grade:
            edit = partial(replace_material, name=grade.name, grade=changed)
            self._document.edit(where, edit)

    @property
    def _system(self) -> UnitSystem:
        project = self._document.project
        assert project is not None
        return project.basis.system

    def _add(self) -> None:
        project = self._document.project
        assert project is not None
        self._copy(self._grades(project)[-1])

    def _copy(self, grade: Grade, _: bool = False) -> None:
        project = self._document.project
        assert project is not None
        taken = [known.name for known in self._grades(project)]
        name = free_name(f"{grade.name} ", taken, 2)
        new = grade.model_copy(update={"name": name})
        self._try(f"Another {self._kind}", partial(add_material, grade=new))
        field = self.fields.get((name, "name"))
        if field is not None:
            field.setFocus()
            field.selectAll()

    def _remove(self, grade: Grade, _: bool = False) -> None:
        edit = partial(remove_material, kind=self._kind, name=grade.name)
        self._try(f"Remove {grade.name}", edit)

    def _try(self, label: str, edit: Callable[[Project], Project]) -> None:
        if not self._document.typing.settle():
            return
        try:
            self._document.edit(label, edit)
        except InputError as error:
            self._refuse(error)

    def _refuse(self, error: InputError) -> None:
        self.error.setText(str(error))
        self.error.show()
