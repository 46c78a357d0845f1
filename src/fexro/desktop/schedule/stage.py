"""The schedule as a stage of the window."""

from __future__ import annotations

from functools import cached_property

from fexro.core.findings import State
from fexro.desktop.document import Document
from fexro.desktop.schedule.page import SchedulePage
from fexro.desktop.shell.stages import Place, Shell, Stage
from fexro.project.project import Project

__all__ = ["ScheduleStage"]


class ScheduleStage(Stage):
    """The whole building at a glance."""

    key, title, keys = "schedule", "Schedule", "Ctrl+3"

    def __init__(self, document: Document, shell: Shell) -> None:
        self._document, self._shell = document, shell

    @cached_property
    def page(self) -> SchedulePage:
        """The schedule; a lift that is opened there is gone to."""
        page = SchedulePage(self._document)
        page.opened.connect(lambda key: self._shell.go(Place(lift=key)))
        return page

    def go_to(self, place: Place) -> bool:
        """Show the schedule itself; a lift is shown elsewhere."""
        return place.stage == self.key

    def welcomes(self, project: Project) -> bool:
        """Tell whether there is anything to see."""
        return bool(project.by_key)

    def shown(self) -> None:
        """Let the keys move in the table."""
        self.page.view.setFocus()

    def unsettled(self) -> int:
        """Return how many lifts exceed a limit or are not checked."""
        project, results = self._document.project, self._document.results
        if project is None:
            return 0
        open_ = sum(result.notable_state >= State.NOT_CHECKED for result in results.values())
        return open_ + len(project.by_key) - len(results)
