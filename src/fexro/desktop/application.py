"""Starting the application."""

from __future__ import annotations

import logging
import os
import sys
from pathlib import Path
from types import TracebackType

from platformdirs import user_log_path
from PyQt6.QtCore import QSettings, QTimer
from PyQt6.QtWidgets import QApplication

from fexro.core.errors import FexroError
from fexro.desktop.document import Document
from fexro.desktop.garbage import GarbageCollector
from fexro.desktop.theme import font, load_fonts
from fexro.desktop.window import Window
from fexro.project.model import Project

__all__ = ["make_application", "report_failures", "require_screen", "run"]


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


def require_screen() -> None:
    """Refuse to start a window where there is no screen.

    Raises:
        FexroError: if neither a display nor another platform of Qt is named.
    """
    if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        raise FexroError("no screen was found for the window; fexro check FILE needs none.")


def report_failures(window: Window) -> Path:
    """Write unforeseen errors to a log and say so in the window, which stays open.

    Returns:
        The log file.
    """
    path = user_log_path("fexro", ensure_exists=True) / "fexro.log"
    handler = logging.FileHandler(path, encoding="utf-8", delay=True)
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
    logger = logging.getLogger("fexro")
    logger.addHandler(handler)

    def report(
        kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        logger.error("unforeseen error", exc_info=(kind, error, trace))
        window.show_notice(
            "Something went wrong that Fexro did not foresee. The project is as it was before;"
            f" save it under another name to be sure. Details are in {path}."
        )

    sys.excepthook = report
    return path


def run(project: Project | None, path: Path | None) -> int:
    """Show the window, with a project if one is given, until it is closed."""
    require_screen()
    application = make_application()
    window = Window(Document(), QSettings())
    report_failures(window)
    if project is not None:
        window.open_project(project, path)
    window.show()
    # The bench brings in the plotting library; load it while the user looks at the schedule.
    QTimer.singleShot(400, lambda: window.bench)
    return application.exec()
