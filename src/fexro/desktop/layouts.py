"""Layouts of the interface that are filled anew."""

from __future__ import annotations

from PyQt6.QtWidgets import QLayout

__all__ = ["clear_layout"]


def clear_layout(layout: QLayout) -> None:
    """Take everything out of a layout and let it go."""
    while (item := layout.takeAt(0)) is not None:
        widget = item.widget()
        if widget is not None:
            widget.hide()  # it is gone from view before it is deleted
            widget.deleteLater()
