"""The code, the units, and the values that every lift inherits, as fields."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from fexro.core.codes.registry import codes_on_offer
from fexro.core.quantities import (
    Dimension,
    format_quantity,
    parse_quantity,
    quantity_reading,
)
from fexro.desktop.directions import AGES, LAPS, direction_words
from fexro.desktop.document import Document
from fexro.desktop.form import Form, validated
from fexro.project.edits.basis import rename_project, replace_basis
from fexro.project.project import Project
from fexro.project.values import Direction

__all__ = ["CodeSection", "DirectionsSection", "ValuesSection"]

UNITS = (("SI", "kN, kN·m, mm, MPa"), ("in-lb", "kip, kip·ft, in, ksi"))
WIDE = 230  # px, of a field


class CodeSection(Form):
    """The project's name, its design code and the units people see."""

    def __init__(self, document: Document) -> None:
        super().__init__(document.typing, WIDE)
        self._document = document
        self.line("name", "Project", partial(self._rename, "name", "Name of the project"))
        self.line("revision", "Revision", partial(self._rename, "revision", "Revision"))
        self.choice("code", "Design code", self._choose_code)
        self.choice("units", "Units", self._choose_units)

    def show_project(self, project: Project) -> None:
        """Show what a project has."""
        self.show_text("name", project.name)
        self.show_text("revision", project.revision)
        basis = project.basis
        codes = [
            (f"{offer.key}\n{annex}", offer.title(annex))
            for offer in codes_on_offer()
            for annex in offer.annexes
        ]
        self.show_choice("code", codes, f"{basis.code}\n{basis.annex}")
        self.show_choice("units", UNITS, basis.units)

    def _rename(self, field: str, label: str, text: str) -> None:
        project = self._document.project
        assert project is not None
        cleaned = " ".join(text.split())
        if cleaned == getattr(project, field):
            return
        self._document.edit(label, lambda p: rename_project(p, **{field: cleaned}))

    def _choose_code(self, key: str) -> None:
        code, annex = key.split("\n")
        self._change({"code": code, "annex": annex}, f"Design code {code}")

    def _choose_units(self, units: str) -> None:
        self._change({"units": units}, "Units")

    def _change(self, update: dict[str, Any], label: str) -> None:
        project = self._document.project
        assert project is not None
        basis = project.basis.model_copy(update=update)
        if basis != project.basis:
            self._document.edit(label, partial(replace_basis, basis=basis))


class ValuesSection(Form):
    """Concrete, steel, cover and aggregate of every lift that does not differ."""

    def __init__(self, document: Document) -> None:
        super().__init__(document.typing, WIDE)
        self._document = document
        self.choice("concrete", "Concrete", partial(self._change, "concrete", "Concrete"))
        self.choice("steel", "Steel", partial(self._change, "steel", "Steel"))
        for name, caption in (("cover", "Cover to ties"), ("aggregate", "Largest aggregate")):
            self.line(name, caption, partial(self._measure, name, caption), self._read)
        self.choice("laps", "Bars lapped", partial(self._change, "laps", "Laps"))
        caption = "Length of laps"
        given = self.line("lap_length", caption, partial(self._lap, caption), self._read)
        given.setPlaceholderText("as long as they have to be")
        self.choice("tie_steel", "Steel of ties", self._choose_ties)
        self.choice("age", "Columns", partial(self._change, "age", "Columns"))
        self.line("knowledge", "Knowledge factor", self._know)

    def show_project(self, project: Project) -> None:
        """Show what a project has."""
        values, system = project.basis.values, project.basis.system
        self.show_choice("concrete", [(c.name, c.name) for c in project.concretes], values.concrete)
        self.show_choice("steel", [(s.name, s.name) for s in project.steels], values.steel)
        for name in ("cover", "aggregate"):
            self.show_text(name, format_quantity(getattr(values, name), Dimension.LENGTH, system))
        self.show_choice("laps", list(LAPS.items()), values.laps)
        lap = values.lap_length
        self.show_text(
            "lap_length", "" if lap is None else format_quantity(lap, Dimension.LENGTH, system)
        )
        steels = [("", "as the bars"), *((s.name, s.name) for s in project.steels)]
        self.show_choice("tie_steel", steels, values.tie_steel or "")
        self.show_choice("age", list(AGES.items()), values.age)
        self.show_text("knowledge", f"{values.knowledge:g}")
        self.set_visible("knowledge", values.age == "existing")

    def _lap(self, caption: str, text: str) -> None:
        if text.strip():
            self._measure("lap_length", caption, text)
        else:
            self._change("lap_length", caption, None)

    def _choose_ties(self, name: str) -> None:
        self._change("tie_steel", "Steel of ties", name or None)

    def _know(self, text: str) -> None:
        project = self._document.project
        assert project is not None
        caption, system = "Knowledge factor", project.basis.system
        value = parse_quantity(text, Dimension.RATIO, system, caption)
        values = validated(project.basis.values, {"knowledge": value}, caption, text, system)
        self._change("knowledge", caption, values.knowledge)

    def _measure(self, name: str, caption: str, text: str) -> None:
        project = self._document.project
        assert project is not None
        system = project.basis.system
        value = parse_quantity(text, Dimension.LENGTH, system, caption)
        values = validated(project.basis.values, {name: value}, caption, text, system)
        self._change(name, caption, getattr(values, name))

    def _change(self, name: str, label: str, value: object) -> None:
        change_values(self._document, {name: value}, label)

    def _read(self, text: str) -> str:
        project = self._document.project
        assert project is not None
        return quantity_reading(text, Dimension.LENGTH, project.basis.system)


class DirectionsSection(QWidget):
    """How the building resists sway in x and in y."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.forms = {axis: Form(document.typing, 120, 60) for axis in ("x", "y")}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        grid = QGridLayout()
        grid.setHorizontalSpacing(18)
        for place, (axis, form) in enumerate(self.forms.items()):
            for name, caption in (
                ("frame", f"Along {axis}"),
                ("ductility", "Ductility"),
                ("sway", "Sway"),
            ):
                form.choice(name, caption, self._chooser(axis, name, caption))
            grid.addWidget(form, 0, place)
        column.addLayout(grid)

    def show_project(self, project: Project) -> None:
        """Show what a project has."""
        words = direction_words(project)
        for axis, form in self.forms.items():
            direction = getattr(project.basis.values, axis)
            for name, choices in words.items():
                form.show_choice(name, list(choices.items()), getattr(direction, name))

    def _chooser(self, axis: str, name: str, caption: str) -> Callable[[str], None]:
        def choose(key: str) -> None:
            project = self._document.project
            assert project is not None
            direction: Direction = getattr(project.basis.values, axis)
            changed = direction.model_copy(update={name: key})
            label = f"{caption} along {axis}" if name != "frame" else f"Frame along {axis}"
            change_values(self._document, {axis: changed}, label)

        return choose


def change_values(document: Document, update: dict[str, object], label: str) -> None:
    """Put other values under the project.

    Raises:
        InputError: if a section cannot be built with them.
    """
    project = document.project
    assert project is not None
    values = project.basis.values.model_copy(update=update)
    if values != project.basis.values:
        basis = project.basis.model_copy(update={"values": values})
        document.edit(label, partial(replace_basis, basis=basis))
