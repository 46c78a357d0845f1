"""Entries of the bench's menus."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QWidget

from fexro.desktop.text import menu_text

__all__ = ["act"]


def act(menu: QWidget, text: str, slot: Callable[[], object]) -> QAction:
    """Add an entry that calls a slot to a menu, or to the menu a widget has of its actions."""
    action = menu.addAction(menu_text(text))
    assert action is not None
    action.triggered.connect(lambda _=False: slot())
    return action
