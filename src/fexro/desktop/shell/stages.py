"""Stages: the pages of a window, each naming itself; the shell knows no stage's insides."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from PyQt6.QtWidgets import QMenu, QWidget

from fexro.desktop.document import Document
from fexro.desktop.shell.commands import Command
from fexro.desktop.shell.palette import Entry
from fexro.desktop.tabs import TabbedPages
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["Place", "Shell", "Stage", "TabbedStage"]


@dataclass(frozen=True)
class Place:
    """Where to go: to a stage, or to a lift and a combination wherever those are shown.

    Without any of them it is the stage of the rail that was in front last.
    """

    stage: str = ""
    lift: LiftKey | None = None
    combination: str | None = None


class Shell(Protocol):
    """What a stage can ask of the window it is in."""

    def go(self, place: Place) -> None:
        """Go to a place."""
        ...

    def tell(self, sentence: str) -> None:
        """Show a sentence above the page."""
        ...

    def shows(self, stage: Stage) -> bool:
        """Tell whether a stage is in front."""
        ...

    def run(self, command: str) -> None:
        """Run a command by its id, if it can be done now."""
        ...

    def refresh(self) -> None:
        """Ask all commands anew whether they can be done."""
        ...

    def fill(self, menu: QMenu, groups: Sequence[str]) -> None:
        """Add the commands of some groups to a menu."""
        ...


class Stage(ABC):
    """A page of the window.

    Attributes:
        key: names it.
        title: what it is called in menus.
        keys: the shortcut that goes there.
        on_rail: whether it stands on the rail; else it is reached from other stages.
    """

    key: str
    title: str
    keys: str
    on_rail = True

    @property
    @abstractmethod
    def page(self) -> QWidget:
        """What is shown; made when first asked for."""

    def go_to(self, place: Place) -> bool:
        """Make ready to show a place; tell whether it is this stage: lifts are shown elsewhere."""
        return place.stage == self.key

    @abstractmethod
    def shown(self) -> None:
        """Take the focus: the page has come to the front."""

    def welcomes(self, project: Project) -> bool:
        """Tell whether a project that was just opened is shown in it."""
        return False

    @property
    def help_page(self) -> str:
        """The page of the handbook for it."""
        return self.key

    def unsettled(self) -> int:
        """Return how many things in it still need a person."""
        return 0

    def commands(self) -> Sequence[Command]:
        """Return what can be done in it."""
        return ()

    def entries(self) -> Sequence[Entry]:
        """Return what the palette can go to in it."""
        return ()

    def way_out(self) -> Place | None:
        """Return where Esc leads."""
        return None

    def restyle(self) -> None:
        """Take the colours of the theme."""
        return

    def state(self) -> list[str]:
        """Return what is to be remembered of it."""
        return []

    def restore(self, state: object) -> None:
        """Take back what was remembered; what is not understood is left as it is."""
        return


class TabbedStage(Stage):
    """A page of the window with pages behind one another; which is in front is remembered."""

    def __init__(self, document: Document, shell: Shell) -> None:
        self._document, self._shell = document, shell

    @property
    @abstractmethod
    def page(self) -> TabbedPages:
        """What is shown; made when first asked for."""

    def _go(self, view: int) -> None:
        """Bring the stage to the front with one of its views."""
        self._shell.go(Place(self.key))
        self.page.show_view(view)

    def shown(self) -> None:
        """Let the keys move in what is in front."""
        self.page.refresh()
        self.page.front().setFocus()

    def restyle(self) -> None:
        """Take the colours of the theme."""
        self.page.update()

    def state(self) -> list[str]:
        """Return which view is in front."""
        return [str(self.page.view)]

    def restore(self, state: object) -> None:
        """Take back what was remembered."""
        views = [str(number) for number in range(len(self.page.tabs))]
        if isinstance(state, list) and state and str(state[0]) in views:
            self.page.show_view(int(state[0]))
