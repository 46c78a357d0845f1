"""Documents as a stage of the window."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property, partial
from typing import TYPE_CHECKING

from fexro.desktop.document import Document
from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.stages import Place, Shell, TabbedStage

if TYPE_CHECKING:  # imported when first needed, so that the window is there sooner
    from fexro.desktop.documents.issue import MakePictures
    from fexro.desktop.documents.page import DocumentsPage

__all__ = ["DocumentsStage"]


class DocumentsStage(TabbedStage):
    """What leaves the office."""

    key, title, keys = "documents", "Documents", "Ctrl+7"

    def __init__(self, document: Document, shell: Shell, make_pictures: MakePictures) -> None:
        super().__init__(document, shell)
        self._make_pictures = make_pictures

    @cached_property
    def page(self) -> DocumentsPage:
        """Papers, sheets, bars and quantities; a lift that is opened there is gone to."""
        from fexro.desktop.documents.page import DocumentsPage

        page = DocumentsPage(self._document, self._make_pictures)
        page.opened.connect(lambda key: self._shell.go(Place(lift=key)))
        return page

    def commands(self) -> Sequence[Command]:
        """Return what can be done with documents."""

        def here() -> bool:
            return self._document.project is not None

        return [
            Command("issue", "Issue all documents…", self._issue, "", here, "file"),
            Command("print", "Print a document…", self._print, "Ctrl+P", here, "file"),
            Command("bar_list", "Bar list", partial(self._go, 2), "", here, "going"),
            Command("quantities", "Quantities", partial(self._go, 3), "", here, "going"),
        ]

    def _issue(self) -> None:
        self._go(0)
        self.page.issue.choose_folder()

    def _print(self) -> None:
        self._go(0)
        self.page.issue.print()
