"""Qt view for the members stage: the plan of a storey, or the table of all lifts."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from fexro.desktop.document import Document
from fexro.desktop.members.plan import PlanPage
from fexro.desktop.members.table import TablePage
from fexro.desktop.tabs import TabbedPages
from fexro.project.column import LiftKey

__all__ = ["MembersPage"]

VIEWS = ("Plan", "Table")


class MembersPage(TabbedPages):
    """Plan and table, one of them in front."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        self.plan, self.table = PlanPage(document), TablePage(document)
        super().__init__(list(zip(VIEWS, (self.plan, self.table), strict=True)))
        for page in (self.plan, self.table):
            page.opened.connect(self.opened)

    def front(self) -> QWidget:
        """Return what takes the keys."""
        return self.plan.plan if self.view == 0 else self.table.view

    def refresh(self) -> None:
        """Show members as they are."""
        self.plan.refresh()
        self.table.refresh()

    def layout_state(self) -> list[str]:
        """Return which view is in front, and the columns that are hidden."""
        return [str(self.view), *self.table.hidden_columns()]

    def restore_layout(self, state: object) -> None:
        """Show what was remembered; what is not understood is left as it is."""
        if isinstance(state, list) and state and str(state[0]) in ("0", "1"):
            self.show_view(int(state[0]))
            self.table.hide_columns([str(name) for name in state[1:]])
