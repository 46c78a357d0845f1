"""Qt view for the forces stage: loads, a table that is taken, what changed."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from fexro.desktop.document import Document
from fexro.desktop.forces.by_hand import ByHandPage
from fexro.desktop.forces.loads import LoadsPage
from fexro.desktop.forces.sources import SourcesPage
from fexro.desktop.forces.stacks import StacksPage
from fexro.desktop.forces.taking import TakingPage
from fexro.desktop.former import FormerResults
from fexro.desktop.tabs import TabbedPages
from fexro.project.column import LiftKey

__all__ = ["BY_HAND", "CHANGES", "LOADS", "STACKS", "TABLE", "ForcesPage"]

VIEWS = ("Cases and combinations", "From a table", "What changed", "Lift by lift", "By stack")
LOADS, TABLE, CHANGES, BY_HAND, STACKS = range(5)


class ForcesPage(TabbedPages):
    """Loads, taking, changes, lifts and stacks, one of them in front."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document, former: FormerResults) -> None:
        self.loads, self.taking = LoadsPage(document), TakingPage(document)
        self.sources, self.by_hand = SourcesPage(document, former), ByHandPage(document)
        self.stacks = StacksPage(document)
        pages = (self.loads, self.taking, self.sources, self.by_hand, self.stacks)
        super().__init__(list(zip(VIEWS, pages, strict=True)))
        self.sources.opened.connect(self.opened)
        self.taking.taken.connect(lambda: self.show_view(CHANGES))

    def front(self) -> QWidget:
        """Return what takes the keys."""
        return (
            self.loads.view,
            self.taking.view,
            self.sources.view,
            self.by_hand.view,
            self.stacks.mark,
        )[self.view]

    def refresh(self) -> None:
        """Show forces as they are."""
        self.loads.refresh()
        self.sources.refresh()
        self.by_hand.refresh()
        self.stacks.refresh()
