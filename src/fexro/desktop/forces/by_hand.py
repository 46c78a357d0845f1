"""Qt view for the forces of one lift, typed by hand: at both ends, and loads between them."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QModelIndex, Qt
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from fexro.core.actions import COMPONENTS, ENDS
from fexro.core.errors import InputError
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension, UnitSystem, format_quantity, parse_quantity, unit_of
from fexro.desktop.derivation_view import DerivationView
from fexro.desktop.document import Document
from fexro.desktop.forces.cells import CHOICES, EditingModel, EditingView, aligned
from fexro.desktop.text import Label, menu_text
from fexro.project.column import LiftKey
from fexro.project.edits.forces import (
    add_lift_load,
    change_forces,
    change_lift_load,
    remove_lift_loads,
)
from fexro.project.floors import explain_share
from fexro.project.lift_loads import LiftLoad
from fexro.project.project import Project

__all__ = ["ByHandPage"]

KN, KNM = 1e3, 1e6  # of internal units
ECCENTRIC = {"ex": "My", "ey": "Mx"}
HEADS = ("Case or combination", "End", *COMPONENTS, "ex", "ey")


def _system(document: Document) -> UnitSystem:
    assert document.project is not None
    return document.project.basis.system


def _dimension(component: str) -> tuple[Dimension, float]:
    """Return what a component measures, and one of its file's units in internal ones."""
    if component in ("ex", "ey"):
        return Dimension.LENGTH, 1.0
    return (Dimension.MOMENT, KNM) if component[0] in "MT" else (Dimension.FORCE, KN)


class EndForcesModel(EditingModel):
    """Rows are both ends of the lift under each case and each combination given factored."""

    def __init__(self, document: Document) -> None:
        self.key: LiftKey | None = None
        self._known: list[str] = []
        super().__init__(document)

    def load(self) -> None:
        """Take the names whose forces can be typed."""
        project = self.document.project
        self._known = []
        if project is not None and self.key in project.by_key:
            self._known = [case.name for case in project.cases]
            self._known += [c.name for c in project.combinations if not c.factors]

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Two rows for each name."""
        return 0 if parent and parent.isValid() else 2 * len(self._known)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else len(HEADS)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return a heading with its unit."""
        if orientation == Qt.Orientation.Vertical:
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(section > 1)
        name = HEADS[section]
        if role == Qt.ItemDataRole.ToolTipRole and name in ECCENTRIC:
            return f"Where N acts: typed, it makes {ECCENTRIC[name]} of N at this end"
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        if section < 2 or self.document.project is None:
            return name
        return f"{name}, {unit_of(_dimension(name)[0], _system(self.document)).symbol}"

    def _value(self, row: int, name: str) -> float | None:
        """Return a number of a row in internal units, if it is known."""
        project = self.document.project
        if project is None or self.key is None:
            return None
        column, end = self._known[row // 2], row % 2
        forces = project.case_forces if column in project.case_by_name else project.factored_forces
        known = forces.row(self.key, column)
        if known is None:
            return None
        if name in ECCENTRIC:
            axial = float(known[end, 0])
            moment = float(known[end, COMPONENTS.index(ECCENTRIC[name])])
            return 1e3 * moment / axial if axial else None
        return float(known[end, COMPONENTS.index(name)]) * _dimension(name)[1]

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return the text of a cell."""
        if not index.isValid() or index.row() >= self.rowCount():
            return None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(index.column() > 1)
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        if index.column() == 0:
            return self._known[index.row() // 2] if index.row() % 2 == 0 else ""
        if index.column() == 1:
            return ENDS[index.row() % 2]
        name = HEADS[index.column()]
        value = self._value(index.row(), name)
        if value is None:
            return ""
        unit = unit_of(_dimension(name)[0], _system(self.document))
        digits = ".4g" if name in ECCENTRIC else ".6g"
        return f"{value / unit.size:{digits}}".replace("-", "−")

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let numbers be edited."""
        flags = super().flags(index)
        return flags | Qt.ItemFlag.ItemIsEditable if index.column() > 1 else flags

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take a number with or without a unit."""
        text = str(value).strip()
        if text == self.data(index) or self.key is None:
            return False
        name, row = HEADS[index.column()], index.row()
        column, end = self._known[row // 2], row % 2
        dimension, size = _dimension(name)
        try:
            number = parse_quantity(text.replace("−", "-"), dimension, _system(self.document), name)
            component, number = name, number / size
            if name in ECCENTRIC:
                axial = self._value(row, "N") or 0.0
                if not axial:
                    raise InputError(name, f"“{text}” without N", "an axial force first")
                component, number = ECCENTRIC[name], axial * number / KNM
        except InputError as error:
            self.refused.emit(str(error))
            return False
        label = f"{component} of {self.key} in {column}, {ENDS[end]}"
        edit = partial(
            change_forces, key=self.key, name=column, end=end, values={component: number}
        )
        return self.edit(label, edit)


KINDS = {
    "distributed": "even, along the height",
    "point": "at one place",
    "axial": "axial, beside the axis",
}
LOAD_HEADS = ("Case", "Load", "Towards", "Value", "Place", "ex", "ey", "End")


class LoadsOnLiftModel(EditingModel):
    """Rows are loads on the lift beside its end forces."""

    def __init__(self, document: Document) -> None:
        self.key: LiftKey | None = None
        self._loads: list[tuple[int, LiftLoad]] = []
        super().__init__(document)

    def load(self) -> None:
        """Take the loads of the lift."""
        project = self.document.project
        every = () if project is None else project.lift_loads
        self._loads = [(i, load) for i, load in enumerate(every) if load.key == self.key]

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of loads."""
        return 0 if parent and parent.isValid() else len(self._loads)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else len(LOAD_HEADS)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return a heading."""
        if orientation == Qt.Orientation.Vertical:
            return None
        if role == Qt.ItemDataRole.ToolTipRole and LOAD_HEADS[section] == "Place":
            return "Share of the height from the bottom, 0 to 1"
        return LOAD_HEADS[section] if role == Qt.ItemDataRole.DisplayRole else None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what a cell holds, or offers."""
        if not index.isValid() or self.document.project is None:
            return None
        load, head = self._loads[index.row()][1], LOAD_HEADS[index.column()]
        if role == CHOICES:
            return {
                "Case": [case.name for case in self.document.project.cases],
                "Load": list(KINDS.values()),
                "Towards": ["x", "y"],
                "End": list(ENDS),
            }.get(head)
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        axial = load.kind == "axial"
        system = _system(self.document)
        texts = {
            "Case": load.case,
            "Load": KINDS[load.kind],
            "Towards": "" if axial else load.axis,
            "Value": self._value_text(load, system),
            "Place": f"{load.at:g}" if load.kind == "point" else "",
            "ex": format_quantity(load.ex, Dimension.LENGTH, system) if axial else "",
            "ey": format_quantity(load.ey, Dimension.LENGTH, system) if axial else "",
            "End": load.end if axial else "",
        }
        return texts[head]

    def _value_text(self, load: LiftLoad, system: UnitSystem) -> str:
        if load.kind != "distributed":
            return format_quantity(load.value * KN, Dimension.FORCE, system)
        if system is UnitSystem.SI:
            return f"{load.value:g} kN/m"
        return f"{load.value / KIP_FOOT:.4g} kip/ft"

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let what has a meaning be edited."""
        shown = self.data(index, Qt.ItemDataRole.EditRole)
        flags = super().flags(index)
        return flags | Qt.ItemFlag.ItemIsEditable if shown else flags

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed or chosen."""
        number, load = self._loads[index.row()]
        head, text = LOAD_HEADS[index.column()], str(value).strip()
        if text == self.data(index, Qt.ItemDataRole.EditRole):
            return False
        try:
            fields = self._fields(load, head, text)
        except InputError as error:
            self.refused.emit(str(error))
            return False
        edit = partial(change_lift_load, number=number, **fields)
        return self.edit(f"{head} of a load on {self.key}", edit)

    def _fields(self, load: LiftLoad, head: str, text: str) -> dict[str, Any]:
        system = _system(self.document)
        if head == "Load":
            return {"kind": next(kind for kind, words in KINDS.items() if words == text)}
        if head == "Value" and load.kind == "distributed":
            return {"value": _per_length(text, system)}
        if head == "Value":
            return {"value": parse_quantity(text, Dimension.FORCE, system, "value") / KN}
        if head in ("ex", "ey"):
            return {head: parse_quantity(text, Dimension.LENGTH, system, head)}
        if head == "Place":
            try:
                return {"at": float(text.replace(",", "."))}
            except ValueError:
                raise InputError("place", f"“{text}”", "a share of the height, 0 to 1") from None
        return {{"Case": "case", "Towards": "axis", "End": "end"}[head]: text}

    def add(self) -> None:
        """Add an even load in the first case."""
        project = self.document.project
        if project is None or self.key is None:
            return
        if not project.cases:
            self.refused.emit("A load belongs to a load case; there is none yet.")
            return
        load = LiftLoad(
            mark=self.key.mark,
            storey=self.key.storey,
            case=project.cases[0].name,
            kind="distributed",
            value=1.0,
        )
        self.edit(f"A load on {self.key}", partial(add_lift_load, load=load))

    def remove(self, rows: list[int]) -> None:
        """Remove loads."""
        numbers = {self._loads[row][0] for row in rows}
        edit = partial(remove_lift_loads, numbers=numbers)
        self.edit(f"Remove loads on {self.key}", edit)


KIP_FOOT = 4.4482216152605 / 0.3048  # kN/m


def _per_length(text: str, system: UnitSystem) -> float:
    """Return a load per length in kN/m."""
    plain = text.replace("−", "-").replace(",", ".").replace(" ", "")
    units = {"kN/m": 1.0, "kip/ft": KIP_FOOT, "N/mm": 1.0, "N/m": 1e-3, "lb/ft": KIP_FOOT / 1000}
    size = 1.0 if system is UnitSystem.SI else KIP_FOOT
    for unit, factor in units.items():
        if plain.endswith(unit):
            plain, size = plain.removesuffix(unit), factor
            break
    try:
        return float(plain) * size
    except ValueError:
        raise InputError("value", f"“{text}”", "a load such as 5 kN/m or 0.4 kip/ft") from None


class ByHandPage(QWidget):
    """A lift, its forces at both ends, and loads between them."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.lift = QComboBox()
        self.lift.setAccessibleName("Lift")
        self.lift.activated.connect(lambda i: document.selection.select_lift(self.lift.itemData(i)))
        self.forces, self.loads = EndForcesModel(document), LoadsOnLiftModel(document)
        self.view = EditingView(self.forces, "Forces at both ends")
        self.loads_view = EditingView(self.loads, "Loads on the lift")
        self.loads_view.removed.connect(self.loads.remove)
        self.error = Label()
        self.error.setProperty("role", "error")
        self.error.setWordWrap(True)
        self.error.hide()
        for model in (self.forces, self.loads):
            model.refused.connect(self._refuse)
        add, remove = QPushButton("Add a load"), QPushButton("Remove")
        for button in (add, remove):
            button.setProperty("role", "link")
        add.clicked.connect(lambda _: self.loads.add())
        remove.clicked.connect(lambda _: self.loads.remove(self.loads_view.chosen_rows()))
        heading, told = Label("Loads on the lift, beside its end forces"), Label()
        heading.setProperty("role", "heading")
        told.setProperty("role", "quiet")
        told.setText(
            "N is positive in compression; Mx compresses the +y face, My the +x face; moments of"
            " one sign at both ends bend the lift in single curvature."
        )
        above, between = QHBoxLayout(), QHBoxLayout()
        above.addWidget(self.lift)
        above.addWidget(told, 1)
        between.addWidget(heading)
        between.addStretch(1)
        between.addWidget(add)
        between.addWidget(remove)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 0, 16, 10)
        layout.addLayout(above)
        layout.addWidget(self.error)
        layout.addWidget(self.view, 3)
        layout.addLayout(between)
        layout.addWidget(self.loads_view, 1)
        self.shares: dict[str, QPushButton] = {}
        self.derivation: QWidget | None = None
        self._opened: str | None = None
        self._below = QVBoxLayout()
        layout.addLayout(self._below)
        document.opened.connect(self.refresh)
        document.edited.connect(lambda _: self._edited())
        document.selection.lift_changed.connect(self.refresh)
        self._shown: object = None

    def refresh(self) -> None:
        """Show the forces of the selected lift, or of the first."""
        project = self._document.project
        if project is None or not self.isVisible():
            return
        keys = list(project.by_key)
        if [self.lift.itemData(i) for i in range(self.lift.count())] != keys:
            self.lift.clear()
            for key in keys:
                self.lift.addItem(str(key), key)
        selected = self._document.selection.lift
        chosen = selected if selected in project.by_key else (keys[0] if keys else None)
        self.lift.setCurrentIndex(keys.index(chosen) if chosen is not None else -1)
        self.forces.key = self.loads.key = chosen
        self.forces.refresh()
        self.loads.refresh()
        if self._shown != (len(keys), self.forces.rowCount(), self.loads.rowCount()):
            self._shown = len(keys), self.forces.rowCount(), self.loads.rowCount()
            self.view.fit()
            self.loads_view.fit()

        self._show_shares(project, chosen)

    def _show_shares(self, project: Project, key: LiftKey | None) -> None:
        """Show how much of each case stays on the lift, and how that follows where it is opened."""
        while (item := self._below.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.shares, self.derivation = {}, None
        if key is None:
            return
        for case in project.cases:
            if case.reduction is None:
                continue
            record = Derivation()
            share = explain_share(record, project, key, case)
            arrow = "▾" if self._opened == case.name else "▸"
            text = f"{case.name}: {share:.3g} of it stays, {case.reduction.rule} {arrow}"
            button = QPushButton(menu_text(text))
            button.setProperty("role", "link")
            button.clicked.connect(partial(self._open_share, case.name))
            self._below.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
            self.shares[case.name] = button
            if self._opened == case.name and record.lines:
                self.derivation = DerivationView(record, project.basis.system, 460)
                self._below.addWidget(self.derivation)

    def _open_share(self, name: str, _: bool = False) -> None:
        self._opened = None if self._opened == name else name
        self.refresh()

    def _edited(self) -> None:
        self.error.hide()
        self.refresh()

    def _refuse(self, sentence: str) -> None:
        self.error.setText(sentence)
        self.error.show()
