"""The forces as a stage of the window."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import TYPE_CHECKING

from fexro.desktop.document import Document
from fexro.desktop.former import FormerResults
from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.stages import Place, Shell, TabbedStage

if TYPE_CHECKING:  # imported when first needed, so that the window is there sooner
    from fexro.desktop.forces.page import ForcesPage

__all__ = ["ForcesStage"]


class ForcesStage(TabbedStage):
    """Load cases, combinations, tables of forces, and what a new analysis changed."""

    key, title, keys = "forces", "Forces", "Ctrl+3"

    def __init__(self, document: Document, shell: Shell, former: FormerResults) -> None:
        super().__init__(document, shell)
        self._former = former

    @cached_property
    def page(self) -> ForcesPage:
        """Loads, taking and changes; a lift that is opened there is gone to."""
        from fexro.desktop.forces.page import ForcesPage

        page = ForcesPage(self._document, self._former)
        page.opened.connect(lambda key: self._shell.go(Place(lift=key)))
        return page

    def unsettled(self) -> int:
        """Return how many lifts have no forces, and how many combinations have none."""
        project = self._document.project
        if project is None:
            return 0
        known = project.case_forces.place.keys() | project.factored_forces.place.keys()
        bare = sum(key not in known for key in project.by_key)
        given = set(project.factored_forces.columns)
        return bare + sum(not c.factors and c.name not in given for c in project.combinations)

    def commands(self) -> Sequence[Command]:
        """Return what can be done with forces."""

        def here() -> bool:
            return self._document.project is not None

        return [
            Command("loads", "Load cases and combinations", lambda: self._go(0), "", here, "going"),
            Command(
                "changes", "What a new analysis changed", lambda: self._go(2), "", here, "going"
            ),
            Command("by_hand", "Forces lift by lift", lambda: self._go(3), "", here, "going"),
            Command("stacks", "Forces stack by stack", lambda: self._go(4), "", here, "going"),
            Command("take_forces", "Take forces from a table…", self._take, "", here, "tables"),
            Command(
                "paste_forces", "Take forces from the clipboard", self._paste, "", here, "tables"
            ),
        ]

    def _take(self) -> None:
        self._go(1)
        self.page.taking.ask()

    def _paste(self) -> None:
        self._go(1)
        self.page.taking.paste_table()
