"""Entries of the bench's menus."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu

from fexro.desktop.text import menu_text

__all__ = ["act"]


def act(menu: QMenu, text: str, slot: Callable[[], object]) -> QAction:
    """Add an entry to a menu that calls a slot."""
    action = menu.addAction(menu_text(text))
    assert action is not None
    action.triggered.connect(lambda _=False: slot())
    return action
