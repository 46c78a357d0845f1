"""Qt view for text: what a project or a file says is shown as it is, never as markup."""

from __future__ import annotations

import html

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

__all__ = ["Label", "menu_text", "tip_text"]


class Label(QLabel):
    """A label that takes no text for markup."""

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def menu_text(text: str) -> str:
    """Return text for a menu or a button, in which & does not mark a key."""
    return text.replace("&", "&&")


def tip_text(text: str) -> str:
    """Return text for a tooltip, which Qt takes for markup where it looks like it."""
    if not {"<", "&"} & set(text):
        return text
    return f"<qt>{html.escape(text)}</qt>".replace("\n", "<br>")
