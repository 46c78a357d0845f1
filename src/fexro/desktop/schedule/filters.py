"""Qt view for what is sought in the schedule: the others are drawn faintly."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fnmatch import fnmatchcase

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QFrame, QHBoxLayout, QLineEdit, QPushButton

from fexro.core.findings import State
from fexro.core.members.lift import LiftResult
from fexro.desktop.text import Label
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["EVERYTHING", "FilterBar", "Sought"]

STATES = (State.EXCEEDED, State.NOT_CHECKED, State.ATTENTION, State.SATISFIED)


@dataclass(frozen=True)
class Sought:
    """What lifts are sought.

    Attributes:
        marks: a pattern of their marks, such as C1*; empty for all.
        state: their state; nothing for all.
        worse: the least utilisation.
        top, bottom: the highest and the lowest storey; empty for no end.
        group: the group they are in; empty for all.
        slender: whether only those are sought for which slenderness counts.
    """

    marks: str = ""
    state: State | None = None
    worse: float = -math.inf
    top: str = ""
    bottom: str = ""
    group: str = ""
    slender: bool = False

    def finds(self, project: Project, key: LiftKey, result: LiftResult | None) -> bool:
        """Tell whether a lift is sought."""
        if self == EVERYTHING:
            return True
        pattern = self.marks.casefold()
        if pattern and not fnmatchcase(key.mark.casefold(), pattern):
            return False
        if self.state is not None:
            state = State.NOT_CHECKED if result is None else result.state
            if state is not self.state:
                return False
        ratio = math.nan if result is None else result.utilisation
        if self.worse > -math.inf and not ratio >= self.worse:
            return False
        if self.slender and not (result is not None and result.second_order.slender):
            return False
        if self.group:
            group = project.group_by_key.get(key)
            if group is None or group.name != self.group:
                return False
        level = project.storey_by_name[key.storey].level
        above = self.top in project.storey_by_name
        below = self.bottom in project.storey_by_name
        return not (
            (above and level > project.storey_by_name[self.top].level)
            or (below and level < project.storey_by_name[self.bottom].level)
        )


EVERYTHING = Sought()


class FilterBar(QFrame):
    """A row of what can be sought by; each change is found at once."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("bar")
        self.marks, self.worse = QLineEdit(), QLineEdit()
        self.state, self.top, self.bottom, self.group = (QComboBox() for _ in range(4))
        self.slender = QCheckBox("slender")
        self.slender.setToolTip("Lifts for which slenderness counts in some combination")
        self.slender.toggled.connect(self.changed)
        self.count = Label()
        self.count.setProperty("role", "quiet")
        clear = QPushButton("Show all")
        clear.setProperty("role", "link")
        clear.clicked.connect(self.clear)
        self.marks.setPlaceholderText("marks, C1*")
        self.worse.setPlaceholderText("worse than 0.9")
        for edit, name, width in ((self.marks, "Marks like", 90), (self.worse, "Worse than", 104)):
            edit.setAccessibleName(name)
            edit.setFixedWidth(width)
            edit.textChanged.connect(self.changed)
        self.state.addItem("any state", None)
        for state in STATES:
            self.state.addItem(state.word, state)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 12, 4)
        row.setSpacing(8)
        for box, name in (
            (self.state, "State"),
            (self.top, "Highest storey"),
            (self.bottom, "Lowest storey"),
            (self.group, "Group"),
        ):
            box.setAccessibleName(name)
            box.setMinimumWidth(112)
            box.activated.connect(self.changed)
        for widget in (self.marks, self.state, self.worse, self.top, self.bottom, self.group):
            row.addWidget(widget)
        row.addWidget(self.slender)
        row.addWidget(self.count)
        row.addStretch(1)
        row.addWidget(clear)

    def show_project(self, project: Project) -> None:
        """Offer the storeys and the groups of a project."""
        names = [storey.name for storey in project.storeys]
        for box, first in ((self.top, "from the top"), (self.bottom, "to the base")):
            _offer(box, first, names)
        _offer(self.group, "any group", [group.name for group in project.groups])
        self.group.setVisible(bool(project.groups))

    def sought(self) -> Sought:
        """Return what is sought; what is no number is not sought by."""
        try:
            worse = float(self.worse.text().replace(",", "."))
        except ValueError:
            worse = -math.inf
        pattern = self.marks.text().strip()
        return Sought(
            pattern if not pattern or set("*?[") & set(pattern) else f"{pattern}*",
            self.state.currentData(),
            worse,
            self.top.currentData() or "",
            self.bottom.currentData() or "",
            self.group.currentData() or "",
            self.slender.isChecked(),
        )

    def clear(self) -> None:
        """Seek everything."""
        for box in (self.state, self.top, self.bottom, self.group):
            box.setCurrentIndex(0)
        for edit in (self.marks, self.worse):
            edit.clear()
        self.slender.setChecked(False)
        self.changed.emit()

    def show_count(self, found: int, total: int) -> None:
        """Show how many lifts are found."""
        self.count.setText("" if found == total else f"{found} of {total}")


def _offer(box: QComboBox, first: str, names: list[str]) -> None:
    shown = [box.itemData(i) for i in range(box.count())]
    if shown != ["", *names]:
        kept = box.currentData()
        box.clear()
        box.addItem(first, "")
        for name in names:
            box.addItem(name, name)
        box.setCurrentIndex(max(box.findData(kept), 0))
