"""Qt view for the start: what to open when no project is."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from fexro.desktop.layouts import clear_layout
from fexro.desktop.text import Label, menu_text

__all__ = ["StartPage"]


class StartPage(QWidget):
    """Begin a project, open a file, a recent one, or the demo."""

    new = pyqtSignal()
    wanted = pyqtSignal(str)
    browse = pyqtSignal()
    demo = pyqtSignal()

    def __init__(self, recent: Callable[[], list[str]]) -> None:
        super().__init__()
        self.setObjectName("page")
        self._recent = recent
        title = Label("No project is open.")
        title.setProperty("role", "headline")
        hint = Label("Begin a project, open one, or drop its file anywhere on this window.")
        hint.setProperty("role", "quiet")
        begin, browse = QPushButton("New project"), QPushButton("Open a project…")
        demo = QPushButton("Open the demo project")
        begin.clicked.connect(self.new)
        browse.clicked.connect(self.browse)
        demo.clicked.connect(self.demo)
        self._files = QVBoxLayout()
        layout = QVBoxLayout(self)
        layout.setAlignment(Qt.AlignmentFlag.AlignCenter)
        layout.setSpacing(10)
        for widget in (title, hint, begin, browse, demo):
            layout.addWidget(widget)
        layout.addLayout(self._files)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Take the list of recent files anew."""
        clear_layout(self._files)
        for name in self._recent():
            button = QPushButton(menu_text(f"{Path(name).name}    {Path(name).parent}"))
            button.setProperty("role", "link")
            button.clicked.connect(lambda _=False, name=name: self.wanted.emit(name))
            self._files.addWidget(button)
