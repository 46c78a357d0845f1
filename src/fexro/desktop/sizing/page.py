"""Qt view for the sizing stage: the run over the building, its rules, and types that are shared."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget

from fexro.desktop.document import Document
from fexro.desktop.sizing.failing import FailingPage
from fexro.desktop.sizing.rules import RulesPage
from fexro.desktop.sizing.run import RunPage
from fexro.desktop.sizing.types import TypesPage
from fexro.desktop.tabs import TabbedPages
from fexro.project.column import LiftKey

__all__ = ["SizingPage"]


class SizingPage(TabbedPages):
    """The run, the rules and the types, one of them in front."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        self.run, self.rules = RunPage(document), RulesPage(document)
        self.types = TypesPage(document, self.run)
        self.failing = FailingPage(document)
        pages: list[tuple[str, QWidget]] = [("Run", self.run), ("Rules and rates", self.rules)]
        pages += [("Types", self.types), ("Failing lifts", self.failing)]
        super().__init__(pages)
        self.run.opened.connect(self.opened)
        document.opened.connect(self.refresh)
        document.edited.connect(lambda _: self.refresh())
        document.checked.connect(lambda _: self.refresh())

    def front(self) -> QWidget:
        """Return what takes the keys."""
        fronts = (self.run.table, self.rules, self.types.curve, self.failing.table)
        return fronts[self.view]

    def refresh(self) -> None:
        """Show what there is; nothing is done while the page is hidden."""
        if self.isVisible():
            (self.run, self.rules, self.types, self.failing)[self.view].refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Show what happened while it was hidden."""
        super().showEvent(event)
        self.refresh()
