"""The real window, with the demo, on a screen of its own."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QSettings

from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.application import make_application, make_window
from fexro.desktop.document import Document
from fexro.desktop.theme import choose_theme


@pytest.fixture(scope="session")
def qapp():
    """The application as it is made for users."""
    return make_application()


@pytest.fixture(scope="session", autouse=True)
def solutions(shared_solutions):
    """Windows that show the same lifts share what was solved of them."""


@pytest.fixture
def settings_file(tmp_path):
    return tmp_path / "settings.ini"


@pytest.fixture
def empty_window(qtbot, settings_file, tmp_path):
    make_application()
    settings = QSettings(str(settings_file), QSettings.Format.IniFormat)
    window = make_window(Document(tmp_path / "journals"), settings)
    qtbot.addWidget(window, before_close_func=_without_changes)
    window.show()
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    yield window
    choose_theme(None)


@pytest.fixture
def window_again(qtbot, settings_file, tmp_path):
    """A window that finds what an earlier one has remembered; kept until the test is over."""
    settings = QSettings(str(settings_file), QSettings.Format.IniFormat)
    window = make_window(Document(tmp_path / "journals"), settings)
    qtbot.addWidget(window, before_close_func=_without_changes)
    yield window
    window.close()


@pytest.fixture
def window(qtbot, empty_window):
    empty_window.open_project(tarnholm_columns(), None)
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=30_000)
    return empty_window


def _without_changes(window):
    """Close without the question about unsaved changes."""
    if window.document.project is not None:
        window.document._history.mark_saved()
