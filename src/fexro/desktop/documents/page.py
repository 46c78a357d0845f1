"""Qt view for the documents stage."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget

from fexro.desktop.document import Document
from fexro.desktop.documents.bars import BarsPage
from fexro.desktop.documents.issue import IssuePage, MakePictures
from fexro.desktop.documents.quantities import QuantitiesPage
from fexro.desktop.documents.sheets import SheetsPage
from fexro.desktop.tabs import TabbedPages
from fexro.project.column import LiftKey

__all__ = ["DocumentsPage"]


class DocumentsPage(TabbedPages):
    """Papers, what stands on them, bars and quantities, one of them in front."""

    opened = pyqtSignal(LiftKey)

    def __init__(self, document: Document, make_pictures: MakePictures) -> None:
        self.sheets = SheetsPage(document)
        self.issue = IssuePage(document, self.sheets.options, make_pictures)
        self.bars, self.quantities = BarsPage(document), QuantitiesPage(document)
        pages: list[tuple[str, QWidget]] = [("Papers", self.issue), ("On every sheet", self.sheets)]
        pages += [("Bar list", self.bars), ("Quantities", self.quantities)]
        super().__init__(pages)
        self.bars.opened.connect(self.opened)
        self.quantities.opened.connect(self.opened)
        document.opened.connect(self.refresh)
        document.edited.connect(lambda _: self.refresh())
        document.checked.connect(lambda _: self.refresh())

    def front(self) -> QWidget:
        """Return what takes the keys."""
        return (self.issue.table, self.sheets, self.bars.table, self.quantities.table)[self.view]

    def refresh(self) -> None:
        """Show what there is; nothing is done while the page is hidden."""
        if self.isVisible():
            (self.issue, self.sheets, self.bars, self.quantities)[self.view].refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Show what happened while it was hidden."""
        super().showEvent(event)
        self.refresh()
