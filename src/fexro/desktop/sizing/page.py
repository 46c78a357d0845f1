"""Qt view for the sizing stage: the run over the building, and its rules."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget

from fexro.desktop.document import Document
from fexro.desktop.sizing.rules import RulesPage
from fexro.desktop.sizing.run import RunPage
from fexro.desktop.tabs import TabbedPages
from fexro.project.column import LiftKey

__all__ = ["SizingPage"]


class SizingPage(TabbedPages):
    """The run and the rules, one of them in front."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        self.run, self.rules = RunPage(document), RulesPage(document)
        super().__init__([("Run", self.run), ("Rules and rates", self.rules)])
        self.run.opened.connect(self.opened)
        document.opened.connect(self.refresh)
        document.edited.connect(lambda _: self.refresh())

    def front(self) -> QWidget:
        """Return what takes the keys."""
        return (self.run.table, self.rules)[self.view]

    def refresh(self) -> None:
        """Show what there is; nothing is done while the page is hidden."""
        if self.isVisible():
            (self.run, self.rules)[self.view].refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Show what happened while it was hidden."""
        super().showEvent(event)
        self.refresh()
