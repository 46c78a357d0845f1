"""Qt view for the members stage: the plan of a storey, or the table of all lifts."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from fexro.desktop.document import Document
from fexro.desktop.members.plan import PlanPage
from fexro.desktop.members.table import TablePage
from fexro.project.column import LiftKey

__all__ = ["MembersPage"]

VIEWS = ("Plan", "Table")


class MembersPage(QWidget):
    """Plan and table, one of them in front."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("page")
        self.plan, self.table = PlanPage(document), TablePage(document)
        self.tabs: list[QPushButton] = []
        self._views = QStackedWidget()
        row = QHBoxLayout()
        row.setContentsMargins(16, 8, 16, 0)
        for number, (title, view) in enumerate(zip(VIEWS, (self.plan, self.table), strict=True)):
            tab = QPushButton(title)
            tab.setProperty("role", "tab")
            tab.setCheckable(True)
            tab.clicked.connect(lambda _=False, number=number: self.show_view(number))
            row.addWidget(tab)
            self.tabs.append(tab)
            self._views.addWidget(view)
        for page in (self.plan, self.table):
            page.opened.connect(self.opened)
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        layout.addLayout(row)
        layout.addWidget(self._views, 1)
        self.show_view(0)

    def show_view(self, number: int) -> None:
        """Bring the plan (0) or the table (1) to the front."""
        self._views.setCurrentIndex(number)
        for i, tab in enumerate(self.tabs):
            tab.setChecked(i == number)
        self.refresh()

    def front(self) -> QWidget:
        """Return what takes the keys."""
        return self.plan.plan if self._views.currentIndex() == 0 else self.table.view

    def refresh(self) -> None:
        """Show members as they are."""
        self.plan.refresh()
        self.table.refresh()

    def layout_state(self) -> list[str]:
        """Return which view is in front, and the columns that are hidden."""
        return [str(self._views.currentIndex()), *self.table.hidden_columns()]

    def restore_layout(self, state: object) -> None:
        """Show what was remembered; what is not understood is left as it is."""
        if isinstance(state, list) and state and str(state[0]) in ("0", "1"):
            self.show_view(int(state[0]))
            self.table.hide_columns([str(name) for name in state[1:]])
