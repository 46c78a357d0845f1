"""Qt view for the forces stage: loads, a table that is taken, what changed."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from fexro.desktop.document import Document
from fexro.desktop.forces.by_hand import ByHandPage
from fexro.desktop.forces.loads import LoadsPage
from fexro.desktop.forces.sources import SourcesPage
from fexro.desktop.forces.stacks import StacksPage
from fexro.desktop.forces.taking import TakingPage
from fexro.desktop.former import FormerResults
from fexro.project.column import LiftKey

__all__ = ["BY_HAND", "CHANGES", "LOADS", "STACKS", "TABLE", "ForcesPage"]

VIEWS = ("Cases and combinations", "From a table", "What changed", "Lift by lift", "By stack")
LOADS, TABLE, CHANGES, BY_HAND, STACKS = range(5)


class ForcesPage(QWidget):
    """Loads, taking and changes, one of them in front."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document, former: FormerResults) -> None:
        super().__init__()
        self.setObjectName("page")
        self.loads, self.taking = LoadsPage(document), TakingPage(document)
        self.sources, self.by_hand = SourcesPage(document, former), ByHandPage(document)
        self.stacks = StacksPage(document)
        self.sources.opened.connect(self.opened)
        self.taking.taken.connect(lambda: self.show_view(CHANGES))
        self.tabs: list[QPushButton] = []
        self._views = QStackedWidget()
        row = QHBoxLayout()
        row.setContentsMargins(16, 8, 16, 0)
        pages = (self.loads, self.taking, self.sources, self.by_hand, self.stacks)
        for number, (title, view) in enumerate(zip(VIEWS, pages, strict=True)):
            tab = QPushButton(title)
            tab.setProperty("role", "tab")
            tab.setCheckable(True)
            tab.clicked.connect(lambda _=False, number=number: self.show_view(number))
            row.addWidget(tab)
            self.tabs.append(tab)
            self._views.addWidget(view)
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        layout.addLayout(row)
        layout.addWidget(self._views, 1)
        self.show_view(LOADS)

    def show_view(self, number: int) -> None:
        """Bring a view to the front."""
        self._views.setCurrentIndex(number)
        for i, tab in enumerate(self.tabs):
            tab.setChecked(i == number)
        self.refresh()

    @property
    def view(self) -> int:
        """Which view is in front."""
        return self._views.currentIndex()

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
