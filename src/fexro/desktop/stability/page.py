"""Qt view for the stability stage: storeys, beams framing in, lifts, choices."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget

from fexro.desktop.document import Document
from fexro.desktop.stability.beams import BeamsPage
from fexro.desktop.stability.choices import ChoicesPage
from fexro.desktop.stability.lifts import LiftsPage
from fexro.desktop.stability.storeys import StoreysPage
from fexro.desktop.tabs import TabbedPages
from fexro.project.column import LiftKey

__all__ = ["BEAMS", "CHOICES", "LIFTS", "STOREYS", "StabilityPage"]

VIEWS = ("Sway of storeys", "Beams framing in", "Lifts", "Choices")
STOREYS, BEAMS, LIFTS, CHOICES = range(4)


class StabilityPage(TabbedPages):
    """Storeys, beams, lifts and choices, one of them in front."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document) -> None:
        self.storeys, self.beams = StoreysPage(document), BeamsPage(document)
        self.lifts, self.choices = LiftsPage(document), ChoicesPage(document)
        pages = (self.storeys, self.beams, self.lifts, self.choices)
        super().__init__(list(zip(VIEWS, pages, strict=True)))
        self.lifts.opened.connect(self.opened)
        document.opened.connect(self.refresh)
        document.edited.connect(lambda _: self.refresh())
        document.checked.connect(lambda _: self.refresh())

    def front(self) -> QWidget:
        """Return what takes the keys."""
        fronts = (self.storeys.view, self.beams.view, self.lifts.view, self.choices.code)
        return fronts[self.view]

    def refresh(self) -> None:
        """Show what there is; nothing is done while the page is hidden."""
        if self.isVisible():
            (self.storeys, self.beams, self.lifts, self.choices)[self.view].refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Show what happened while it was hidden."""
        super().showEvent(event)
        self.refresh()
