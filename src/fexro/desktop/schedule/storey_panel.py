"""Qt view for one storey: its name, level and height, and what its lifts inherit from it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QVBoxLayout

from fexro.core.quantities import UnitSystem
from fexro.desktop.document import Document
from fexro.desktop.form import Form, command_row
from fexro.desktop.lengths import read_metres, write_metres
from fexro.desktop.schedule.own_values import OwnValuesForm
from fexro.desktop.text import Label
from fexro.project.edits.storeys import change_storey, set_storey_values
from fexro.project.project import Project
from fexro.project.values import OwnValues

__all__ = ["StoreyPanel"]


ACTIONS = (
    ("storey_above", "Add above"),
    ("storey_below", "Add below"),
    ("remove_storey", "Remove"),
)


class StoreyPanel(QFrame):
    """A storey that is selected by its head."""

    wanted = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("side")
        self._document, self._storey = document, ""
        self.headline = Label()
        self.headline.setProperty("role", "headline")
        hint = Label(
            "A storey that grows lifts what is above; its level moves its floor alone."
            " What it says itself counts before the project, and its marks before it."
        )
        hint.setProperty("role", "quiet")
        hint.setWordWrap(True)
        self.form = Form(document.typing, 150, 80)
        self.form.line("name", "Name", self._rename)
        self.form.line("level", "Level", partial(self._measure, "level"))
        self.form.line("height", "Height", partial(self._measure, "height"))
        self.own = OwnValuesForm(document, self._set_own)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 8)
        layout.setSpacing(8)
        for widget in (self.headline, self.form, self.own, hint):
            layout.addWidget(widget)
        layout.addLayout(command_row(ACTIONS, self.wanted.emit))
        layout.addStretch(1)

    def show_storey(self, project: Project, name: str) -> None:
        """Show a storey of a project."""
        self._storey = name
        storey, system = project.storey_by_name[name], project.basis.system
        lifts = sum(key.storey == name for key in project.by_key)
        self.headline.setText(f"Storey {name}, {lifts} {'lift' if lifts == 1 else 'lifts'}")
        self.form.show_text("name", name)
        self.form.show_text("level", write_metres(storey.level, system))
        self.form.show_text("height", write_metres(storey.height, system))
        self.own.show_values(project, storey.own, project.basis.values)

    def _rename(self, text: str) -> None:
        name = " ".join(text.split())
        if name != self._storey:
            old, self._storey = self._storey, name
            try:
                self._edit(f"Name of {old}", partial(change_storey, name=old, new_name=name))
            except Exception:
                self._storey = old
                raise

    def _measure(self, field: str, text: str) -> None:
        value = read_metres(text, self._system, field.capitalize())
        project = self._document.project
        assert project is not None
        if value != getattr(project.storey_by_name[self._storey], field):
            edit: Callable[[Project], Project]
            if field == "level":
                edit = partial(change_storey, name=self._storey, level=value)
            else:
                edit = partial(change_storey, name=self._storey, height=value)
            self._edit(f"{field.capitalize()} of {self._storey}", edit)

    def _set_own(self, own: OwnValues, label: str) -> None:
        edit = partial(set_storey_values, name=self._storey, own=own)
        self._edit(f"{label} of storey {self._storey}", edit)

    def _edit(self, label: str, edit: Callable[[Project], Project]) -> None:
        self._document.edit(label, edit)

    @property
    def _system(self) -> UnitSystem:
        project = self._document.project
        assert project is not None
        return project.basis.system
