"""Qt view for load cases: a row each, edited in place."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, get_args

from PyQt6.QtCore import QModelIndex, Qt

from fexro.core.codes.loading import live_load_rules, load_standard
from fexro.core.errors import InputError
from fexro.core.loads.cases import Nature
from fexro.desktop.cells import CHOICES, EditingModel, aligned
from fexro.project.cases import FloorReduction, LoadCase
from fexro.project.edits.cases import add_case, change_case, remove_case
from fexro.project.project import Project

__all__ = ["CasesModel"]

NO, YES, NONE = "no", "yes", "none"
WHOLE = "not reduced"


@dataclass(frozen=True)
class _Column:
    """A column of the table.

    Attributes:
        title: its heading.
        tip: what it means.
        shown: the text of a case.
        taken: the fields that a text means.
        choices: what is offered, if not any text.
        number: whether it is aligned as a number.
    """

    title: str
    tip: str
    shown: Callable[[LoadCase], str]
    taken: Callable[[LoadCase, str], dict[str, Any]]
    choices: Callable[[Project, LoadCase], list[str]] | None = None
    number: bool = False


def _number(text: str, what: str) -> float:
    try:
        return float(text.replace(",", ".").removesuffix("%")) / (100 if "%" in text else 1)
    except ValueError:
        raise InputError(what, f"“{text}”", "a number") from None


def _reduced(case: LoadCase, **fields: Any) -> dict[str, Any]:
    if case.reduction is None:
        raise InputError(case.name, "no rule of reduction", "a rule first")
    return {"reduction": {**case.reduction.model_dump(), **fields}}


def _categories(project: Project, _: LoadCase) -> list[str]:
    known = list(load_standard(project.basis.rules.standard).categories)
    return ["", *sorted(known)] if known else []


def _rule(case: LoadCase, text: str) -> dict[str, Any]:
    if text == WHOLE:
        return {"reduction": None}
    before = case.reduction.model_dump() if case.reduction is not None else {}
    return {"reduction": FloorReduction(**{**before, "rule": text})}


def _of(case: LoadCase, name: str) -> str:
    return "" if case.reduction is None else f"{getattr(case.reduction, name):g}"


COLUMNS = (
    _Column("Case", "Its name", lambda c: c.name, lambda _, t: {"name": t}),
    _Column(
        "Nature",
        "What acts",
        lambda c: c.nature,
        lambda _, t: {"nature": t},
        lambda _, __: list(get_args(Nature)),
    ),
    _Column(
        "Category",
        "Of what is imposed, in the words of the load standard",
        lambda c: c.category,
        lambda _, t: {"category": t},
        _categories,
    ),
    _Column(
        "Direction",
        "Of wind, earthquake or notional load in plan",
        lambda c: c.direction or NONE,
        lambda _, t: {"direction": None if t == NONE else t},
        lambda _, __: [NONE, "x", "y"],
    ),
    _Column(
        "±",
        "Whether it acts in the opposite direction too",
        lambda c: YES if c.both_signs else NO,
        lambda _, t: {"both_signs": t == YES},
        lambda _, __: [NO, YES],
    ),
    _Column(
        "Sways",
        "The directions in which it makes the building sway",
        lambda c: {"xy": "x and y", None: NONE}.get(c.sway, c.sway or NONE),
        lambda _, t: {"sway": {NONE: None, "x and y": "xy"}.get(t, t)},
        lambda _, __: [NONE, "x", "y", "x and y"],
    ),
    _Column(
        "Lasts",
        "The share of it that is sustained, 0 to 1",
        lambda c: f"{c.sustained:g}",
        lambda _, t: {"sustained": _number(t, "sustained share")},
        number=True,
    ),
    _Column(
        "Halved",
        "Whether a standard may halve it beside other loads",
        lambda c: YES if c.half_allowed else NO,
        lambda _, t: {"half_allowed": t == YES},
        lambda _, __: [NO, YES],
    ),
    _Column(
        "Source",
        "Permanent loads of one source are favourable or not together",
        lambda c: c.source,
        lambda _, t: {"source": t.strip()},
    ),
    _Column(
        "Self-weight",
        "Whether the weight of the lifts, 25 kN/m³, is added to it down each stack",
        lambda c: YES if c.self_weight else NO,
        lambda _, t: {"self_weight": t == YES},
        lambda _, __: [NO, YES],
    ),
    _Column(
        "Less by floors",
        "Rule by which it is less on lifts that carry several floors, unless the analysis did so",
        lambda c: WHOLE if c.reduction is None else c.reduction.rule,
        _rule,
        lambda _, __: [WHOLE, *live_load_rules()],
    ),
    _Column(
        "Floor, m²",
        "Area of a floor that a column carries",
        lambda c: _of(c, "area"),
        lambda c, t: _reduced(c, area=_number(t, "area")),
        number=True,
    ),
    _Column(
        "KLL",
        "Live load element factor, where the rule asks for it",
        lambda c: _of(c, "element"),
        lambda c, t: _reduced(c, element=_number(t, "KLL")),
        number=True,
    ),
    _Column(
        "Load, kPa",
        "Unreduced imposed load, where the rule asks for it",
        lambda c: _of(c, "load"),
        lambda c, t: _reduced(c, load=_number(t, "load")),
        number=True,
    ),
)


class CasesModel(EditingModel):
    """Rows are load cases."""

    _cases: tuple[LoadCase, ...] = ()

    def load(self) -> None:
        """Take the cases of the project."""
        project = self.document.project
        self._cases = () if project is None else project.cases

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of cases."""
        return 0 if parent and parent.isValid() else len(self._cases)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns."""
        return 0 if parent and parent.isValid() else len(COLUMNS)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return a heading and what it means."""
        if orientation == Qt.Orientation.Vertical:
            return None
        column = COLUMNS[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(column.number)
        return {
            Qt.ItemDataRole.DisplayRole: column.title,
            Qt.ItemDataRole.ToolTipRole: column.tip,
        }.get(Qt.ItemDataRole(role))

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what a cell holds, or offers."""
        project = self.document.project
        if project is None or not index.isValid():
            return None
        column, case = COLUMNS[index.column()], self._cases[index.row()]
        if role == CHOICES:
            return None if column.choices is None else column.choices(project, case)
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(column.number)
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            text = column.shown(case)
            hidden = text in (NONE, NO, WHOLE) and role == Qt.ItemDataRole.DisplayRole
            return "–" if hidden else text
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let every cell be edited."""
        return super().flags(index) | Qt.ItemFlag.ItemIsEditable

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed or chosen."""
        column, case = COLUMNS[index.column()], self._cases[index.row()]
        if str(value) == column.shown(case):
            return False
        try:
            fields = column.taken(case, str(value))
        except InputError as error:
            self.refused.emit(str(error))
            return False
        label = f"{column.title} of {case.name}"
        return self.edit(label, lambda project: change_case(project, case.name, **fields))

    def add(self) -> None:
        """Add a case under a free name."""
        taken = {case.name for case in self._cases}
        name = next(n for n in (f"Case {i}" for i in range(1, 1000)) if n not in taken)
        self.edit(f"Load case {name}", lambda project: add_case(project, name))

    def remove(self, rows: list[int]) -> None:
        """Remove cases."""
        names = [self._cases[row].name for row in rows]

        def edit(project: Project) -> Project:
            for name in names:
                project = remove_case(project, name)
            return project

        self.edit(f"Remove {', '.join(names[:3])}", edit)
