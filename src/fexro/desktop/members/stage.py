"""The members as a stage of the window."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property, partial
from typing import TYPE_CHECKING

from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.stages import Place, TabbedStage

if TYPE_CHECKING:  # imported when first needed, so that the window is there sooner
    from fexro.desktop.members.page import MembersPage

__all__ = ["MembersStage"]


class MembersStage(TabbedStage):
    """Where members stand in plan, and all of them as a table."""

    key, title, keys = "members", "Members", "Ctrl+2"

    @cached_property
    def page(self) -> MembersPage:
        """Plan and table; a lift that is opened there is gone to."""
        from fexro.desktop.members.page import MembersPage

        page = MembersPage(self._document)
        page.opened.connect(lambda key: self._shell.go(Place(lift=key)))
        return page

    def unsettled(self) -> int:
        """Return how many marks have no lift or no place in plan."""
        project = self._document.project
        if project is None:
            return 0
        return sum(not mark.lifts or mark.place is None for mark in project.marks)

    def state(self) -> list[str]:
        """Return which view is in front and which columns are shown."""
        return self.page.layout_state()

    def restore(self, state: object) -> None:
        """Take back what was remembered."""
        self.page.restore_layout(state)

    def commands(self) -> Sequence[Command]:
        """Return what can be done with members as a table."""

        def here() -> bool:
            return self._document.project is not None

        return [
            Command("members_plan", "Members in plan", partial(self._go, 0), "", here, "going"),
            Command("members_table", "Members as a table", partial(self._go, 1), "", here, "going"),
            Command(
                "import_members", "Take members from a table…", self._import, "", here, "tables"
            ),
            Command(
                "export_members", "Write members as a table…", self._export, "", here, "tables"
            ),
        ]

    def _import(self) -> None:
        self._go(1)
        self.page.table.ask_import()

    def _export(self) -> None:
        self.page.table.ask_export()
