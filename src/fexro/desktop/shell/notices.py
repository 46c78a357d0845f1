"""A sentence above the page, until it is dismissed."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton

from fexro.desktop.text import Label

__all__ = ["NoticeBar"]


class NoticeBar(QFrame):
    """Shows the sentence said last."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self._text = Label()
        self._text.setWordWrap(True)
        self._text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        close = QPushButton("Dismiss")
        close.setProperty("role", "link")
        close.clicked.connect(self.hide)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 6, 12, 6)
        row.addWidget(self._text, 1)
        row.addWidget(close)
        self.hide()

    def say(self, sentence: str) -> None:
        """Show a sentence."""
        self._text.setText(sentence)
        self.show()

    def text(self) -> str:
        """Return the sentence shown last."""
        return self._text.text()
