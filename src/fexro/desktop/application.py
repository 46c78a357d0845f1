"""Starting the application."""

from __future__ import annotations

import sys
from pathlib import Path

from PyQt6.QtCore import QSettings, QTimer
from PyQt6.QtWidgets import QApplication

from fexro.desktop.document import Document
from fexro.desktop.theme import font, load_fonts
from fexro.desktop.window import Window
from fexro.project.model import Project

__all__ = ["make_application", "run"]


def make_application() -> QApplication:
    """Return the application with its style and type."""
    existing = QApplication.instance()
    application = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    application.setApplicationName("Fexro")
    application.setOrganizationName("Fexro")
    application.setStyle("Fusion")
    load_fonts()
    application.setFont(font())
    return application


def run(project: Project | None, path: Path | None) -> int:
    """Show the window, with a project if one is given, until it is closed."""
    application = make_application()
    window = Window(Document(), QSettings())
    if project is not None:
        window.open_project(project, path)
    window.show()
    # The bench brings in the plotting library; load it while the user looks at the schedule.
    QTimer.singleShot(400, lambda: window.bench)
    return application.exec()
