"""The walls as a stage of the window."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import TYPE_CHECKING

from fexro.core.findings import State
from fexro.desktop.document import Document
from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.stages import Place, Shell, Stage

if TYPE_CHECKING:  # imported when first needed, so that the window is there sooner
    from fexro.desktop.walls.page import WallsPage

__all__ = ["WallsStage"]


class WallsStage(Stage):
    """Walls, cores and coupling beams as elevations; bearing walls as strips."""

    key, title, keys = "walls", "Walls", "Ctrl+Shift+W"

    def __init__(self, document: Document, shell: Shell) -> None:
        self._document, self._shell = document, shell

    @cached_property
    def page(self) -> WallsPage:
        """The walls; a member that is opened there is gone to."""
        from fexro.desktop.walls.page import WallsPage

        page = WallsPage(self._document)
        page.opened.connect(lambda key: self._shell.go(Place(lift=key)))
        page.refresh()
        return page

    def shown(self) -> None:
        """Let the arrow keys move on the elevation; a member that is selected is shown."""
        selected = self._document.selection.lift
        if selected is None or not self.page.show_member(selected):
            self.page.refresh()
        self.page.elevation.setFocus()

    def restyle(self) -> None:
        """Take the colours of the theme."""
        if "page" in vars(self):
            self.page.refresh()

    def unsettled(self) -> int:
        """Return how many members of walls exceed a check or are not checked."""
        project = self._document.project
        if project is None:
            return 0
        results = self._document.results
        members = project.by_key.keys() - project.column_keys
        open_ = (State.EXCEEDED, State.NOT_CHECKED)
        return sum(key not in results or results[key].state in open_ for key in members)

    def commands(self) -> Sequence[Command]:
        """Return what can be done with walls."""

        def here() -> bool:
            return self._document.project is not None

        return [
            Command("new_wall", "New wall…", self._new, "", here, "going"),
            Command("new_bearing_wall", "New bearing wall", self._bearing, "", here, "going"),
        ]

    def _new(self) -> None:
        self._shell.go(Place(self.key))
        self.page.new.setFocus()

    def _bearing(self) -> None:
        self._shell.go(Place(self.key))
        self.page.add_bearing()
