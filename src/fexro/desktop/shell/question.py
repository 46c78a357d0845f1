"""A question with answers of its own."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox, QWidget

__all__ = ["ask"]


def ask(parent: QWidget, title: str, text: str, answers: Sequence[str]) -> int | None:
    """Return the number of the answer that was chosen; nothing where it was cancelled."""
    box = QMessageBox(parent)
    box.setWindowTitle(title)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(text)
    buttons = [box.addButton(answer, QMessageBox.ButtonRole.AcceptRole) for answer in answers]
    box.addButton(QMessageBox.StandardButton.Cancel)
    box.exec()
    chosen = box.clickedButton()
    return buttons.index(chosen) if chosen in buttons else None
