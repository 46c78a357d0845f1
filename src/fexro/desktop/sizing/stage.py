"""Sizing as a stage of the window."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property, partial
from typing import TYPE_CHECKING

from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.stages import Place, TabbedStage

if TYPE_CHECKING:  # imported when first needed, so that the window is there sooner
    from fexro.desktop.sizing.page import SizingPage

__all__ = ["SizingStage"]


class SizingStage(TabbedStage):
    """Bars and ties for the whole building."""

    key, title, keys = "sizing", "Sizing", "Ctrl+6"

    @cached_property
    def page(self) -> SizingPage:
        """The run, and the rules; a lift that is opened there is gone to."""
        from fexro.desktop.sizing.page import SizingPage

        page = SizingPage(self._document)
        page.opened.connect(lambda key: self._shell.go(Place(lift=key)))
        return page

    def commands(self) -> Sequence[Command]:
        """Return what can be done with the sizes of bars."""

        def here() -> bool:
            return self._document.project is not None

        return [
            Command("size_building", "Size the building", self._size, "", here, "members"),
            Command("sizing_rules", "Rules of sizing", partial(self._go, 1), "", here, "going"),
            Command("types", "Types that lifts share", partial(self._go, 2), "", here, "going"),
        ]

    def _size(self) -> None:
        self._go(0)
        self.page.run.start()
