"""Starting the application."""

from __future__ import annotations

import sys
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QSettings, QTimer
from PyQt6.QtWidgets import QApplication

from fexro.desktop.document import Document
from fexro.desktop.garbage import GarbageCollector
from fexro.desktop.screen import require_screen
from fexro.desktop.shell.window import Window
from fexro.desktop.stages import make_stages
from fexro.desktop.theme import font, load_fonts
from fexro.failures import log_failure
from fexro.project.project import Project
from fexro.project.storage import FileState

__all__ = ["make_application", "make_window", "report_failures", "run"]


def make_application() -> QApplication:
    """Return the application with its style and type."""
    existing = QApplication.instance()
    application = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    application.setApplicationName("Fexro")
    application.setOrganizationName("Fexro")
    application.setStyle("Fusion")
    load_fonts()
    application.setFont(font())
    if application.findChild(GarbageCollector) is None:
        GarbageCollector(application)
    return application


def make_window(document: Document, settings: QSettings) -> Window:
    """Return a window of the application with all its stages."""
    return Window(document, settings, make_stages)


def report_failures(window: Window) -> None:
    """Write unforeseen errors to a log and say so in the window, which stays open."""

    def report(_: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        details = log_failure(error.with_traceback(trace))
        window.document.tell_state()
        window.tell(
            "Something went wrong that Fexro did not foresee. The project is as it was before;"
            f" save it under another name to be sure. {details}"
        )

    sys.excepthook = report


def run(project: Project | None, path: Path | None, state: FileState | None = None) -> int:
    """Show the window, with a project if one is given, until it is closed."""
    require_screen()
    application = make_application()
    window = make_window(Document(), QSettings())
    report_failures(window)
    if project is not None:
        window.open_project(project, path, state)
    window.show()
    window.offer_lost_projects()
    # The bench brings in the plotting library; load it while the user looks at the schedule.
    QTimer.singleShot(400, window.prepare_rest)
    return application.exec()
