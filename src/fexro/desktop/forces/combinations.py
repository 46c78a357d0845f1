"""Qt view for combinations: a row each, a column for each load case, ticks for what they serve."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any, get_args

import numpy as np
from PyQt6.QtCore import QModelIndex, QSortFilterProxyModel, Qt

from fexro.core.actions import Actions
from fexro.core.errors import InputError
from fexro.core.loads.cases import Use
from fexro.core.loads.critical import outside
from fexro.desktop.cells import CHOICES, EditingModel, aligned
from fexro.desktop.document import Document
from fexro.project.cases import Combination
from fexro.project.edits.combinations import (
    add_combination,
    change_combination,
    remove_combinations,
    set_sway_part,
)

__all__ = ["CombinationsModel", "Governing", "outside_of"]

USES: tuple[Use, ...] = tuple(use for use in get_args(Use) if use != "sway part")
SWAY = ("x", "y")
USE_TITLES = {
    "strength": "Strength",
    "earthquake": "Quake",
    "accidental": "Accident",
    "service": "Service",
}
NUMBERS = ("factor", "governs", "outside")
TIPS = {
    "sway": "A combination given factored whose forces are added as what comes with sway",
    "governs": "How many lifts it governs",
    "outside": "In how many lifts it lies on the convex outside of all demands; elsewhere it cannot"
    " govern where strength is convex. All are checked.",
}
HEADS = ("Combination", "As written")
GOVERNS = Qt.ItemDataRole.UserRole + 8


class CombinationsModel(EditingModel):
    """Rows are combinations; their factors are cells."""

    def __init__(self, document: Document) -> None:
        self._combinations: tuple[Combination, ...] = ()
        self._cases: list[str] = []
        self._sway: tuple[str, ...] = ()
        self._governs: Counter[str] = Counter()
        self._outside: Counter[str] | None = None
        super().__init__(document)

    def load(self) -> None:
        """Take the combinations of the project, and how many lifts each governs."""
        project = self.document.project
        self._combinations = () if project is None else project.combinations
        self._cases = [] if project is None else [case.name for case in project.cases]
        # Sets of forces that come with sway stand beside forces that are given factored.
        given = any(not c.factors for c in self._combinations)
        self._sway = SWAY if given else ()
        self._governs = governing(self.document)

    def recount(self) -> None:
        """Take anew how many lifts each governs."""
        self._governs = governing(self.document)
        if self._combinations:
            last = self.columnCount() - 3
            self.dataChanged.emit(self.index(0, last), self.index(self.rowCount() - 1, last))

    def show_outside(self, outside: Counter[str] | None) -> None:
        """Show in how many lifts each lies on the convex outside; nothing while not known."""
        self._outside = outside
        if self._combinations:
            last = self.columnCount() - 1
            self.dataChanged.emit(self.index(0, last), self.index(self.rowCount() - 1, last))

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Number of combinations."""
        return 0 if parent and parent.isValid() else len(self._combinations)

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Number of columns: names, cases, uses, and how many lifts are governed."""
        if parent and parent.isValid():
            return 0
        return len(HEADS) + len(self._cases) + len(self._sway) + len(USES) + 3

    def _part(self, column: int) -> tuple[str, Any]:
        """Return which part of the table a column is in, and what it is of there."""
        if column < len(HEADS):
            return "head", column
        column -= len(HEADS)
        if column < len(self._cases):
            return "factor", self._cases[column]
        column -= len(self._cases)
        if column < len(self._sway):
            return "sway", self._sway[column]
        column -= len(self._sway)
        if column < len(USES):
            return "use", USES[column]
        return ("governs", "made", "outside")[column - len(USES)], None

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Return the heading of a column."""
        if orientation == Qt.Orientation.Vertical:
            return None
        part, what = self._part(section)
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(part in NUMBERS)
        if role == Qt.ItemDataRole.ToolTipRole:
            return TIPS.get(part)
        if role != Qt.ItemDataRole.DisplayRole:
            return None
        titles = {"head": lambda: HEADS[what], "use": lambda: USE_TITLES[what]}
        rest = {
            "factor": what,
            "sway": f"Sway {what}",
            "governs": "Governs",
            "made": "Made by",
            "outside": "Outside",
        }
        return titles.get(part, lambda: rest[part])()

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Return what a cell holds."""
        if not index.isValid():
            return None
        combination = self._combinations[index.row()]
        part, what = self._part(index.column())
        if role == GOVERNS:
            return self._governs[combination.name]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return aligned(part in NUMBERS)
        if role == Qt.ItemDataRole.CheckStateRole and part == "use":
            return Qt.CheckState.Checked if what in combination.uses else Qt.CheckState.Unchecked
        if role == CHOICES and part == "sway" and not combination.factors:
            given = [c.name for c in self._combinations if not c.factors and c is not combination]
            return ["", *given]
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return None
        if part == "head":
            return (combination.name, combination.expression)[what]
        if part == "sway":
            return getattr(combination, f"sway_{what}") or ""
        if part == "made":
            if "sway part" in combination.uses:
                return "part of another"
            return combination.equation or ("people" if combination.factors else "given factored")
        if part == "factor":
            factor = combination.factors.get(what, 0.0)
            return f"{factor:.4g}".replace("-", "−") if factor else ""
        if part == "governs":
            return str(self._governs[combination.name] or "")
        if part == "outside":
            return "" if self._outside is None else str(self._outside[combination.name] or "–")
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Let names, expressions, factors and ticks be changed."""
        flags = super().flags(index)
        if not index.isValid():
            return flags
        part, _ = self._part(index.column())
        if part == "sway" and self._combinations[index.row()].factors:
            return flags
        if part == "use":
            return flags | Qt.ItemFlag.ItemIsUserCheckable
        editable = part in ("factor", "head", "sway")
        return flags | Qt.ItemFlag.ItemIsEditable if editable else flags

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Take what was typed or ticked."""
        combination = self._combinations[index.row()]
        part, what = self._part(index.column())
        changes: dict[str, Any]
        if part == "use" and role == Qt.ItemDataRole.CheckStateRole:
            uses = set(combination.uses) ^ {what}
            changes = {"uses": tuple(use for use in USES if use in uses)}
        elif part == "factor":
            factors = {name: combination.factors.get(name, 0.0) for name in self._cases}
            if str(value).strip() == self.data(index):
                return False
            try:
                factors[what] = _factor(str(value))
            except InputError as error:
                self.refused.emit(str(error))
                return False
            changes = {"factors": factors}
        elif part == "sway":
            chosen = str(value) or None
            if chosen == (getattr(combination, f"sway_{what}") or None):
                return False
            return self.edit(
                f"Sway {what} of {combination.name}",
                lambda project: set_sway_part(project, combination.name, what, chosen),
            )
        elif part == "head" and str(value) != self.data(index):
            changes = {("new_name", "text")[what]: str(value)}
        else:
            return False
        label = (
            f"{self.headerData(index.column(), Qt.Orientation.Horizontal)} of {combination.name}"
        )
        return self.edit(
            label, lambda project: change_combination(project, combination.name, **changes)
        )

    def add(self, text: str) -> bool:
        """Add a combination as it is written; tell whether it was taken."""
        return self.edit("Another combination", lambda project: add_combination(project, "", text))

    def remove(self, rows: list[int]) -> None:
        """Remove combinations."""
        names = [self._combinations[row].name for row in rows]
        shown = ", ".join(names[:3]) + (f" and {len(names) - 3} more" if len(names) > 3 else "")
        self.edit(f"Remove {shown}", lambda project: remove_combinations(project, names))


class Governing(QSortFilterProxyModel):
    """Combinations, those that govern no lift left out if that is wanted."""

    def __init__(self, model: CombinationsModel) -> None:
        super().__init__()
        self.setSourceModel(model)
        self._folded = False

    def fold(self, folded: bool) -> None:
        """Leave out what governs nothing, or show all."""
        self.beginResetModel()
        self._folded = folded
        self.endResetModel()

    def filterAcceptsRow(self, source_row: int, source_parent: QModelIndex) -> bool:
        """Tell whether a combination is shown."""
        model = self.sourceModel()
        if not self._folded or model is None:
            return True
        return bool(model.data(model.index(source_row, 0), GOVERNS))


def outside_of(lifts: Sequence[Actions]) -> Counter[str]:
    """Return in how many lifts each combination lies on the convex outside of all demands."""
    found: Counter[str] = Counter()
    for actions in lifts:
        stations = len(actions.stations)
        corners = outside(actions.axial_bending.reshape(-1, 3)).reshape(-1, stations)
        found.update(np.array(actions.combinations, dtype=object)[corners.any(axis=1)].tolist())
    return found


def governing(document: Document) -> Counter[str]:
    """Return how many lifts each combination governs."""
    return Counter(
        result.combination_of(result.worst_demand)
        for result in document.results.values()
        if result.solved is not None
    )


def _factor(text: str) -> float:
    plain = text.strip().replace("−", "-").replace(",", ".")
    try:
        return float(plain or 0.0)
    except ValueError:
        raise InputError("factor", f"“{text}”", "a number; empty where it does not count") from None
