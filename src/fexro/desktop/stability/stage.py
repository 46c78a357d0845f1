"""Stability as a stage of the window."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property, partial
from typing import TYPE_CHECKING

from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.stages import Place, TabbedStage

if TYPE_CHECKING:  # imported when first needed, so that the window is there sooner
    from fexro.desktop.stability.page import StabilityPage

__all__ = ["StabilityStage"]


class StabilityStage(TabbedStage):
    """Sway of storeys, what holds the ends of lifts, and how slender lifts are."""

    key, title, keys = "stability", "Stability", "Ctrl+4"

    @cached_property
    def page(self) -> StabilityPage:
        """Storeys, beams, lifts and choices; a lift that is opened there is gone to."""
        from fexro.desktop.stability.page import StabilityPage

        page = StabilityPage(self._document)
        page.opened.connect(lambda key: self._shell.go(Place(lift=key)))
        return page

    def unsettled(self) -> int:
        """Return how many lifts cannot be checked for slenderness, or are unstable."""
        return sum(
            bool(result.second_order.missing)
            or any(axis.unstable.any() for axis in result.second_order.axes)
            for result in self._document.results.values()
        )

    def commands(self) -> Sequence[Command]:
        """Return what can be done with stability."""

        def here() -> bool:
            return self._document.project is not None

        return [
            Command(key, text, partial(self._go, view), "", here, "going")
            for view, (key, text) in enumerate(
                (
                    ("sway", "Sway of storeys"),
                    ("beams", "Beams framing in"),
                    ("slender", "Slender lifts"),
                    ("stability_choices", "Choices of slenderness"),
                )
            )
        ]
