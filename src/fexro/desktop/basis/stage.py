"""The basis as a stage of the window."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from fexro.desktop.document import Document
from fexro.desktop.shell.stages import Place, Shell, Stage
from fexro.project.project import Project

if TYPE_CHECKING:  # imported when first needed, so that the window is there sooner
    from fexro.desktop.basis.page import BasisPage

__all__ = ["BasisStage"]


class BasisStage(Stage):
    """Design code, units, materials, bar sizes, and the values that lifts inherit."""

    key, title, keys = "basis", "Basis", "Ctrl+1"

    def __init__(self, document: Document, shell: Shell) -> None:
        self._document, self._shell = document, shell

    @cached_property
    def page(self) -> BasisPage:
        """The basis; a lift that differs is gone to."""
        from fexro.desktop.basis.page import BasisPage

        page = BasisPage(self._document)
        page.opened.connect(lambda key: self._shell.go(Place(lift=key)))
        return page

    def welcomes(self, project: Project) -> bool:
        """Tell whether there is nothing to check yet."""
        return not project.by_key

    def shown(self) -> None:
        """Let the keys move among the fields."""
        self.page.refresh()
        self.page.area.setFocus()

    def restyle(self) -> None:
        """Take the colours of the theme."""
        self.page.refresh()
