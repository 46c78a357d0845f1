"""Qt view for a storey in plan with what is typed of it, its elevation and the building beside."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QSplitter, QVBoxLayout, QWidget

from fexro.core.errors import InputError
from fexro.core.quantities import UnitSystem
from fexro.desktop.document import Document
from fexro.desktop.fields import Field
from fexro.desktop.lengths import FOOT, read_metres
from fexro.desktop.members.elevation import Elevation
from fexro.desktop.members.tower import Tower
from fexro.desktop.plan import Plan
from fexro.desktop.text import Label
from fexro.project.column import LiftKey
from fexro.project.edits.marks import place_marks, set_grid
from fexro.project.project import Project
from fexro.project.storey import GridLine

__all__ = ["PlanPage", "parse_grid", "written_grid"]


class PlanPage(QWidget):
    """The plan of a storey, its storey chosen, its grid and places typed."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.plan = Plan(document)
        self.storey = QComboBox()
        self.storey.setAccessibleName("Storey")
        self.storey.setMinimumWidth(120)
        self.storey.activated.connect(lambda i: self.show_storey(self.storey.itemText(i)))
        self.grid = {axis: Field(document.typing, partial(self._set_grid, axis)) for axis in "xy"}
        self.places = Field(document.typing, self._place)
        self.error = Label()
        self.error.setProperty("role", "error")
        self.error.hide()
        fit = QPushButton("Fit")
        fit.setProperty("role", "link")
        fit.clicked.connect(self.plan.fit)
        row = QHBoxLayout()
        row.setContentsMargins(16, 0, 16, 0)
        row.setSpacing(8)
        row.addWidget(_caption("Storey"))
        row.addWidget(self.storey)
        for axis, field in self.grid.items():
            row.addSpacing(10)
            row.addWidget(_caption(f"Grid along {axis}"))
            field.setAccessibleName(f"Grid lines along {axis}")
            field.setPlaceholderText("A 0, B 8, C 16" if axis == "x" else "1 0, 2 7")
            row.addWidget(field, 2)
        row.addSpacing(10)
        row.addWidget(_caption("Place"))
        self.places.setAccessibleName("Places of marks")
        self.places.setPlaceholderText("C1 0 7; C2 8 7")
        row.addWidget(self.places, 2)
        row.addWidget(fit)
        for field in (*self.grid.values(), self.places):
            field.refused.connect(self._refuse)
            field.settled.connect(self.error.hide)
        self.elevation, self.tower = Elevation(document), Tower(document)
        self.elevation.picked.connect(self.show_storey)
        self.tower.opened.connect(self.opened)
        across = QSplitter()
        across.setHandleWidth(1)
        for number, widget in enumerate((self.elevation, self.plan, self.tower)):
            across.addWidget(widget)
            across.setStretchFactor(number, number == 1)
        across.setSizes([110, 700, 330])
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(row)
        layout.addWidget(self.error)
        layout.addWidget(across, 1)
        self.plan.opened.connect(self.opened)
        self.plan.moved.connect(self._move)
        document.opened.connect(self._opened)
        document.edited.connect(lambda _: self.refresh())
        document.checked.connect(lambda _: self.plan.update())

    def show_storey(self, name: str) -> None:
        """Show another storey."""
        self.storey.setCurrentText(name)
        self.plan.show_storey(name)
        self.elevation.show_storey(name)

    def _opened(self) -> None:
        self.plan.storey = ""
        self.plan.fit()
        self.refresh()

    def refresh(self) -> None:
        """Show the storeys and the grid as they are."""
        project = self._document.project
        if project is None:
            return
        names = [storey.name for storey in project.storeys]
        if [self.storey.itemText(i) for i in range(self.storey.count())] != names:
            self.storey.clear()
            self.storey.addItems(names)
        selected = self._document.selection.lift
        if self.plan.storey not in names:
            wanted = selected.storey if selected is not None and selected.storey in names else ""
            self.plan.storey = wanted or (names[-1] if names else "")
        self.show_storey(self.plan.storey)
        for axis, field in self.grid.items():
            field.show_text(written_grid(project, axis), anew=True)
        self.plan.update()

    def _move(self, mark: str, x: float, y: float) -> None:
        edit = partial(place_marks, places={mark: (x, y)})
        self._document.edit(f"Place of {mark}", edit)

    def _set_grid(self, axis: str, text: str) -> None:
        project = self._document.project
        assert project is not None
        lines = parse_grid(text, axis, project.basis.system)
        kept = [line for line in project.grid if line.axis != axis]
        grid = tuple([*lines, *kept] if axis == "x" else [*kept, *lines])
        if grid != project.grid:
            self._document.edit(f"Grid along {axis}", partial(set_grid, grid=grid))

    def _place(self, text: str) -> None:
        """Take places typed or pasted: a mark and two coordinates each."""
        project = self._document.project
        assert project is not None
        places: dict[str, tuple[float, float] | None] = {}
        for entry in _entries(text):
            parts = entry.replace("\t", " ").split()
            allowed = "marks with x and y, such as C1 0 7; C2 8 7"
            if len(parts) < 3:
                raise InputError("places", f"“{entry.strip()}”", allowed)
            name = " ".join(parts[:-2])
            x, y = (
                read_metres(part, project.basis.system, f"place of {name}") for part in parts[-2:]
            )
            places[name] = (x, y)
        if places:
            noun = "mark" if len(places) == 1 else "marks"
            edit = partial(place_marks, places=places)
            self._document.edit(f"Places of {len(places)} {noun}", edit)

    def _refuse(self, error: InputError) -> None:
        self.error.setText(str(error))
        self.error.show()


def _caption(text: str) -> Label:
    label = Label(text)
    label.setProperty("role", "quiet")
    return label


def _entries(text: str) -> list[str]:
    """Return the marks with their places; a pasted list has no semicolons between them."""
    tokens = text.split()
    if ";" not in text and len(tokens) % 3 == 0:
        return [" ".join(tokens[i : i + 3]) for i in range(0, len(tokens), 3)]
    return [part for part in text.replace("\n", ";").split(";") if part.strip()]


def written_grid(project: Project, axis: str) -> str:
    """Return the grid lines square to an axis as they are typed."""
    size = 1.0 if project.basis.system is UnitSystem.SI else FOOT
    lines = sorted((line for line in project.grid if line.axis == axis), key=lambda line: line.at)
    return ", ".join(f"{line.name} {round(line.at / size, 4):g}" for line in lines)


def parse_grid(text: str, axis: str, system: UnitSystem) -> list[GridLine]:
    """Read grid lines such as `A 0, B 8, C 16`: names and places in m, or ft.

    Raises:
        InputError: if they are not understood.
    """
    lines = []
    for entry in (part for part in text.split(",") if part.strip()):
        parts = entry.split()
        allowed = "names and places, such as A 0, B 8, C 16"
        if len(parts) < 2:
            raise InputError(f"grid along {axis}", f"“{entry.strip()}”", allowed)
        at = read_metres(parts[-1], system, f"grid along {axis}")
        try:
            lines.append(GridLine(name=" ".join(parts[:-1]), axis=axis, at=at))
        except ValueError:
            raise InputError(f"grid along {axis}", f"“{entry.strip()}”", allowed) from None
    return lines
