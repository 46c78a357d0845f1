"""Qt view for text: what a project or a file says is shown as it is, never as markup."""

from __future__ import annotations

import html

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QLabel

__all__ = ["ElidedLabel", "Label", "menu_text", "tip_text"]

LEAST = 60  # px


class Label(QLabel):
    """A label that takes no text for markup."""

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class ElidedLabel(Label):
    """A label of one line that is cut short where there is no room; all of it is in its tooltip."""

    def setText(self, text: str | None) -> None:
        """Show a text."""
        super().setText(text)
        self.setToolTip(tip_text(text or ""))

    def minimumSizeHint(self) -> QSize:
        """Ask for hardly any width."""
        return QSize(LEAST, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint what there is room for."""
        painter = QPainter(self)
        area = self.contentsRect()
        mode = Qt.TextElideMode.ElideRight
        text = painter.fontMetrics().elidedText(self.text(), mode, area.width())
        painter.drawText(area, self.alignment() | Qt.AlignmentFlag.AlignVCenter, text)
        painter.end()


def menu_text(text: str) -> str:
    """Return text for a menu or a button, in which & does not mark a key."""
    return text.replace("&", "&&")


def tip_text(text: str) -> str:
    """Return text for a tooltip, which Qt takes for markup where it looks like it."""
    if not {"<", "&"} & set(text):
        return text
    return f"<qt>{html.escape(text)}</qt>".replace("\n", "<br>")
