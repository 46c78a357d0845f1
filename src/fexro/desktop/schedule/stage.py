"""The schedule as a stage of the window."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property, partial

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QMenu, QWidget

from fexro.core.findings import State
from fexro.desktop.document import Document
from fexro.desktop.former import FormerResults
from fexro.desktop.schedule.editing import ScheduleEditing
from fexro.desktop.schedule.page import SchedulePage
from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.stages import Place, Shell, Stage
from fexro.project.project import Project

__all__ = ["ScheduleStage"]


class ScheduleStage(Stage):
    """The whole building at a glance."""

    key, title, keys = "schedule", "Schedule", "Ctrl+5"

    def __init__(self, document: Document, shell: Shell, former: FormerResults) -> None:
        self._document, self._shell, self._former = document, shell, former
        self._changes = False
        self._editing = ScheduleEditing(document, shell, self, lambda: self.page)

    @cached_property
    def page(self) -> SchedulePage:
        """The schedule; a lift that is opened there is gone to."""
        page = SchedulePage(self._document)
        page.opened.connect(lambda key: self._shell.go(Place(lift=key)))
        self._former.compared.connect(self._show_changes)
        page.wanted.connect(self._shell.run)
        page.view.corner.clicked.connect(self._offer_adding)
        page.view.picked.connect(self._shell.refresh)
        for place in (page.view, page.view.horizontalHeader(), page.view.verticalHeader()):
            assert place is not None
            place.customContextMenuRequested.connect(partial(self._offer, place))
        return page

    def _offer(self, place: QWidget, at: QPoint) -> None:
        """Offer what can be done at a place of the schedule; a head is selected first."""
        if isinstance(place, QHeaderView):
            self.page.view.select_head(place.orientation(), place.logicalIndexAt(at))
        menu = QMenu(place)
        self._shell.fill(menu, ("adding", "members"))
        viewport = place.viewport() if isinstance(place, QAbstractItemView) else place
        assert viewport is not None
        menu.popup(viewport.mapToGlobal(at))

    def _offer_adding(self) -> None:
        corner = self.page.view.corner
        menu = QMenu(corner)
        self._shell.fill(menu, ("adding",))
        menu.popup(corner.mapToGlobal(corner.rect().bottomLeft()))

    def commands(self) -> Sequence[Command]:
        """Return what makes a building."""

        def here() -> bool:
            return self._document.project is not None and self._shell.shows(self)

        view = partial(Command, enabled=here, group="going")
        return [
            *self._editing.commands(),
            view("seek", "Seek in the schedule", lambda: self.page.seek(), "Ctrl+F"),
            view("zoom_in", "Larger cells", lambda: self.page.view.zoom(1.3), "Ctrl++"),
            view("zoom_out", "Smaller cells", lambda: self.page.view.zoom(1 / 1.3), "Ctrl+-"),
            Command(
                "cell_changes",
                lambda: f"{'Hide' if self._changes else 'Show'} what the taking changed",
                self._toggle_changes,
                enabled=lambda: here() and self._former.known,
                group="going",
            ),
            view("fit_cells", "Fit the cells", lambda: self.page.view.fit_cells(), "Ctrl+8"),
        ]

    def _toggle_changes(self) -> None:
        self._changes = not self._changes
        self._former.want("schedule", self._changes)
        self._show_changes()
        self._shell.refresh()

    def _show_changes(self) -> None:
        self.page.view.show_changes(self._former.change if self._changes else None)

    def welcomes(self, project: Project) -> bool:
        """Tell whether there is anything to see."""
        return bool(project.by_key)

    def shown(self) -> None:
        """Let the keys move in the table."""
        self.page.show_selected()
        self.page.view.setFocus()
        self._shell.refresh()

    def unsettled(self) -> int:
        """Return how many lifts exceed a limit or are not checked."""
        project, results = self._document.project, self._document.results
        if project is None:
            return 0
        open_ = sum(result.state >= State.NOT_CHECKED for result in results.values())
        return open_ + len(project.by_key) - len(results)
