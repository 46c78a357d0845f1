"""Qt view for what acts on a lift between its ends: loads, and moments that are given there."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QModelIndex, Qt

from fexro.core.actions import COMPONENTS, ENDS
from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, format_quantity, parse_quantity
from fexro.desktop.cells import CHOICES, EditingModel
from fexro.desktop.document import Document
from fexro.desktop.forces.components import KN, measure
from fexro.project.column import LiftKey
from fexro.project.edits.forces import (
    add_lift_load,
    add_span,
    change_lift_load,
    change_span,
    remove_lift_loads,
    remove_spans,
)
from fexro.project.lift_loads import LiftLoad, SpanForces

__all__ = ["LoadsOnLiftModel", "SpansModel"]

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
        system = self.document.project.basis.system
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
        project = self.document.project
        assert project is not None
        system = project.basis.system
        if head == "Load":
            return {"kind": next(kind for kind, words in KINDS.items() if words == text)}
        if head == "Value" and load.kind == "distributed":
            return {"value": _per_length(text, system)}
        if head == "Value":
            return {"value": parse_quantity(text, Dimension.FORCE, system, "value") / KN}
        if head in ("ex", "ey"):
            return {head: parse_quantity(text, Dimension.LENGTH, system, head)}
        if head == "Place":
            return {"at": _share(text)}
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


SPAN_HEADS = ("Case or combination", "Place", *COMPONENTS)


class SpansModel(EditingModel):
    """Rows are places between the ends of the lift at which an analysis gives forces."""

    def __init__(self, document: Document) -> None:
        self.key: LiftKey | None = None
        self._spans: list[tuple[int, SpanForces]] = []
        super().__init__(document)

    def load(self) -> None:
        """Take the moments of the lift."""
        project = self.document.project
        every = () if project is None else project.span_forces
        self._spans = [(i, span) for i, span in enumerate(every) if span.key == self.key]

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of places."""
        return 0 if parent and parent.isValid() else len(self._spans)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else len(SPAN_HEADS)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return a heading."""
        if orientation == Qt.Orientation.Vertical:
            return None
        if role == Qt.ItemDataRole.ToolTipRole and SPAN_HEADS[section] == "Place":
            return "Share of the height from the bottom, 0 to 1"
        return SPAN_HEADS[section] if role == Qt.ItemDataRole.DisplayRole else None

    def _names(self) -> list[object]:
        return list(SPAN_HEADS)

    def names(self) -> list[str]:
        """Return the cases and the combinations given factored that can have some."""
        project = self.document.project
        if project is None:
            return []
        given = [c.name for c in project.combinations if not c.factors]
        return [*(case.name for case in project.cases), *given]

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what a cell holds, or offers."""
        project = self.document.project
        if not index.isValid() or project is None:
            return None
        span, head = self._spans[index.row()][1], SPAN_HEADS[index.column()]
        if role == CHOICES:
            return self.names() if index.column() == 0 else None
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        if head == "Place":
            return f"{span.at:g}"
        if head in COMPONENTS:
            value = getattr(span, head)
            if value is None:
                return "" if role == Qt.ItemDataRole.EditRole else "straight"
            dimension, size = measure(head)
            return format_quantity(value * size, dimension, project.basis.system)
        return span.name

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let every cell be edited."""
        return super().flags(index) | Qt.ItemFlag.ItemIsEditable

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed or chosen."""
        number, _ = self._spans[index.row()]
        head, text = SPAN_HEADS[index.column()], str(value).strip()
        project = self.document.project
        if project is None or text == self.data(index, Qt.ItemDataRole.EditRole):
            return False
        fields: dict[str, Any]
        try:
            if head == "Place":
                fields = {"at": _share(text)}
            elif head in COMPONENTS and not text and head[0] != "M":
                fields = {head: None}
            elif head in COMPONENTS:
                dimension, size = measure(head)
                system = project.basis.system
                fields = {head: parse_quantity(text, dimension, system, head) / size}
            else:
                fields = {"name": text}
        except InputError as error:
            self.refused.emit(str(error))
            return False
        edit = partial(change_span, number=number, **fields)
        return self.edit(f"{head} between the ends of {self.key}", edit)

    def add(self) -> None:
        """Add moments at mid-height in the first case."""
        names = self.names()
        if self.key is None:
            return
        if not names:
            self.refused.emit("A moment belongs to a load case or a combination; there is none.")
            return
        span = SpanForces(**self.key._asdict(), name=names[0], at=0.5, Mx=0.0, My=0.0)
        self.edit(f"Moments between the ends of {self.key}", partial(add_span, span=span))

    def remove(self, rows: list[int]) -> None:
        """Remove moments."""
        numbers = {self._spans[row][0] for row in rows}
        edit = partial(remove_spans, numbers=numbers)
        self.edit(f"Remove moments between the ends of {self.key}", edit)


def _share(text: str) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise InputError("place", f"“{text}”", "a share of the height, 0 to 1") from None


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
