"""Starting the application."""

from __future__ import annotations

import sys
from functools import partial
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QSettings, QTimer
from PyQt6.QtGui import QIcon
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

ICON = Path(__file__).parent.parent / "installation" / "fexro.svg"
BESIDE = 32  # px by which a further window is off the one it was opened from


def make_application() -> QApplication:
    """Return the application with its style and type."""
    existing = QApplication.instance()
    application = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    application.setApplicationName("Fexro")
    application.setOrganizationName("Fexro")
    application.setDesktopFileName("org.fexro.Fexro")
    application.setWindowIcon(QIcon(str(ICON)))
    application.setStyle("Fusion")
    load_fonts()
    application.setFont(font())
    if application.findChild(GarbageCollector) is None:
        GarbageCollector(application)
    return application


def make_window(document: Document, settings: QSettings) -> Window:
    """Return a window of the application with all its stages."""
    window = Window(document, settings, make_stages)
    _windows.append(window)
    window.left.connect(partial(_forget, window))
    window.another.connect(partial(_open_another, window, settings))
    return window


# Those that are open: each has a project of its own.
_windows: list[Window] = []


def _forget(window: Window) -> None:
    if window in _windows:
        _windows.remove(window)


def _open_another(beside: Window, settings: QSettings) -> None:
    window = make_window(beside.document.another(), settings)
    window.move(beside.x() + BESIDE, beside.y() + BESIDE)
    window.show()


def report_failures(window: Window) -> None:
    """Write unforeseen errors to a log and say so in the window in front, which stays open."""

    def report(_: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        details = log_failure(error.with_traceback(trace))
        active = QApplication.activeWindow()
        shown = active if isinstance(active, Window) else _windows[-1] if _windows else window
        _say(shown, details)

    def _say(window: Window, details: str) -> None:
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
