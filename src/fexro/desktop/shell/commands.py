"""Commands: what a person can do, as data; menus, palette and shortcuts are made from it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QWidget

from fexro.desktop.fields import Typing
from fexro.desktop.text import menu_text

__all__ = ["Command", "Commands"]


def _always() -> bool:
    return True


@dataclass(frozen=True)
class Command:
    """Something a person can do.

    Attributes:
        id: names it in tests and settings.
        text: what it is called; empty where it has only keys; asked each time it may have changed.
        run: what it does.
        keys: its shortcut.
        enabled: whether it can be done now.
        group: what it stands with in a menu; empty for those that are in none.
        settles: whether what is typed is committed before it.
    """

    id: str
    text: str | Callable[[], str]
    run: Callable[[], object]
    keys: str | QKeySequence.StandardKey = ""
    enabled: Callable[[], bool] = _always
    group: str = ""
    settles: bool = True

    @property
    def title(self) -> str:
        """What it is called now."""
        return self.text if isinstance(self.text, str) else self.text()


class Commands:
    """The commands of a window, each with the action that Qt knows it by.

    Args:
        window: what the shortcuts work in.
        typing: what is typed and not committed.
        tell: says a sentence.
    """

    def __init__(self, window: QWidget, typing: Typing, tell: Callable[[str], None]) -> None:
        self._window, self._typing, self._tell = window, typing, tell
        self._commands: dict[str, Command] = {}
        self.actions: dict[str, QAction] = {}

    def add(self, commands: Iterable[Command]) -> None:
        """Take in commands."""
        for command in commands:
            action = QAction(self._window)
            action.setShortcut(QKeySequence(command.keys))
            action.triggered.connect(lambda _=False, command=command: self._run(command))
            self._window.addAction(action)
            self._commands[command.id], self.actions[command.id] = command, action
        self.refresh()

    def refresh(self) -> None:
        """Ask all commands what they are called and whether they can be done."""
        for name, command in self._commands.items():
            action = self.actions[name]
            action.setText(menu_text(command.title))
            action.setEnabled(command.enabled())

    def fill(self, menu: QMenu, groups: Sequence[str]) -> None:
        """Add the commands of some groups to a menu, a line between the groups."""
        for group in groups:
            actions = [self.actions[name] for name, c in self._commands.items() if c.group == group]
            if actions and not menu.isEmpty():
                menu.addSeparator()
            menu.addActions(actions)

    def offered(self) -> list[tuple[str, str, Callable[[], None]]]:
        """Return those with a name that can be done now: name, shortcut, what runs them."""
        return [
            (command.title, self.actions[name].shortcut().toString(), partial(self._run, command))
            for name, command in self._commands.items()
            if command.title and command.enabled()
        ]

    def _run(self, command: Command) -> None:
        """Run a command once what is typed is committed; where that is refused, say so first."""
        if not command.settles or self._typing.settle():
            command.run()
        else:
            self._tell(
                f"{self._typing.refusal} Mend it, take it back with Esc, or give the"
                " command again to go on without it."
            )
