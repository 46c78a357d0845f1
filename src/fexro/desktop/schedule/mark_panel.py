"""Qt view for one mark: its name, its place and turn in plan, and what its lifts inherit."""

from __future__ import annotations

import math
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QVBoxLayout

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, parse_quantity
from fexro.desktop.document import Document
from fexro.desktop.form import Form, command_row
from fexro.desktop.lengths import read_metres, write_metres
from fexro.desktop.schedule.own_values import OwnValuesForm
from fexro.desktop.text import Label
from fexro.project.edits.marks import carry_floor, change_mark, place_marks
from fexro.project.project import Project
from fexro.project.values import OwnValues

__all__ = ["MarkPanel"]


ACTIONS = (
    ("add_mark", "Add beside"),
    ("copy_mark", "Copy"),
    ("mark_left", "‹"),
    ("mark_right", "›"),
    ("remove_mark", "Remove"),
)


class MarkPanel(QFrame):
    """A mark that is selected by its head."""

    wanted = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("side")
        self._document, self._mark = document, ""
        self.headline = Label()
        self.headline.setProperty("role", "headline")
        self.form = Form(document.typing, 150, 80)
        self.form.line("name", "Name", self._rename)
        self.form.line("place", "Place x, y", self._move)
        self.form.line("angle", "Turned", self._turn)
        self.form.line("floor_area", "Floor carried", self._carry)
        hint = Label("What a mark says itself counts before its storeys and the project.")
        hint.setProperty("role", "quiet")
        hint.setWordWrap(True)
        self.own = OwnValuesForm(document, self._set_own)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 8)
        layout.setSpacing(8)
        for widget in (self.headline, self.form, self.own, hint):
            layout.addWidget(widget)
        layout.addLayout(command_row(ACTIONS, self.wanted.emit))
        layout.addStretch(1)

    def show_mark(self, project: Project, name: str) -> None:
        """Show a mark of a project."""
        self._mark = name
        mark, system = project.mark_by_name[name], project.basis.system
        lifts = len(mark.lifts)
        self.headline.setText(f"Mark {name}, {lifts} {'lift' if lifts == 1 else 'lifts'}")
        self.form.show_text("name", name)
        place = mark.place
        self.form.show_text(
            "place", "" if place is None else ", ".join(write_metres(v, system) for v in place)
        )
        self.form.show_text("angle", f"{mark.angle:g}°")
        area = "" if mark.floor_area is None else f"{mark.floor_area:g} m²"
        self.form.show_text("floor_area", area)
        self.own.show_values(project, mark.own, project.basis.values)

    def _carry(self, text: str) -> None:
        """Take the area of a floor that the mark carries; empty it is that of the load case."""
        plain = text.replace(",", ".").removesuffix("m²").removesuffix("m2").strip()
        try:
            area = float(plain) if plain else None
        except ValueError:
            area = math.nan
        if area is not None and not 0 <= area <= 10_000:
            raise InputError("Floor carried", f"“{text}”", "an area in m², 0 to 10000, or nothing")
        edit = partial(carry_floor, name=self._mark, area=area)
        self._document.edit(f"Floor carried by {self._mark}", edit)

    def _rename(self, text: str) -> None:
        name = " ".join(text.split())
        if name != self._mark:
            old, self._mark = self._mark, name
            try:
                edit = partial(change_mark, name=old, new_name=name)
                self._document.edit(f"Name of {old}", edit)
            except InputError:
                self._mark = old
                raise

    def _move(self, text: str) -> None:
        project = self._document.project
        assert project is not None
        place = None
        if text.strip():
            # Where decimals follow a comma, a semicolon parts the two.
            parts = text.split(";" if ";" in text else ",")
            if len(parts) != 2:
                raise InputError("place", f"“{text}”", "x and y, such as 8.0 m, 7.0 m")
            system = project.basis.system
            x, y = (read_metres(part, system, "place") for part in parts)
            place = (x, y)
        if place != project.mark_by_name[self._mark].place:
            edit = partial(place_marks, places={self._mark: place})
            self._document.edit(f"Place of {self._mark}", edit)

    def _turn(self, text: str) -> None:
        project = self._document.project
        assert project is not None
        angle = parse_quantity(text, Dimension.ANGLE, project.basis.system, "angle")
        degrees = round(math.degrees(angle), 6)
        if abs(degrees) > 360:
            raise InputError("angle", f"“{text}”", "−360° to 360°")
        if degrees != project.mark_by_name[self._mark].angle:
            edit = partial(change_mark, name=self._mark, angle=degrees)
            self._document.edit(f"Angle of {self._mark}", edit)

    def _set_own(self, own: OwnValues, label: str) -> None:
        edit = partial(change_mark, name=self._mark, own=own)
        self._document.edit(f"{label} of mark {self._mark}", edit)
