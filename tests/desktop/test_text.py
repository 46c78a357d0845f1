"""What a project says is shown as it is, wherever it is shown."""

from __future__ import annotations

import json

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLabel, QWidget

from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.shell.stages import Place
from fexro.desktop.text import menu_text, tip_text
from fexro.project.column import LiftKey
from fexro.project.file import parse_project
from tests.desktop.pages import bench_of, schedule_of
from tests.projects import demo_data

MARKUP = '<img src="file:///dev/zero"><b>&amp;'


@pytest.fixture
def marked_up(qtbot, empty_window):
    """A project whose every name looks like markup."""
    text = json.dumps(demo_data())
    for name in ("Tarnholm Archive", "C4", "L1", "U8", "C35"):
        text = text.replace(f'"{name}"', json.dumps(f"<b>{name}&[*]<img src=x>"))
    empty_window.open_project(parse_project(text.encode(), "file"), None)
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=30_000)
    return empty_window


def test_no_label_and_no_tooltip_takes_text_for_markup(qtbot, marked_up):
    key = LiftKey("<b>C4&[*]<img src=x>", "<b>L1&[*]<img src=x>")
    marked_up.go(Place(lift=key))
    marked_up.tell(MARKUP)
    bench_of(marked_up).checks.toggle("Axial + biaxial bending")
    seen = 0
    for widget in QApplication.allWidgets():
        assert_plain_tip(widget)
        if isinstance(widget, QLabel) and "<" in widget.text():
            assert widget.textFormat() == Qt.TextFormat.PlainText, widget.text()
            seen += 1
    assert seen >= 4
    model = schedule_of(marked_up).view.model()
    for role in (Qt.ItemDataRole.ToolTipRole,):
        tip = model.index_of(key).data(role)
        assert "&lt;b&gt;C4" in tip
    assert bench_of(marked_up).place.text() == str(key)
    assert marked_up.windowTitle() == "<b>Tarnholm Archive&[*][*]<img src=x>[*] – Fexro"


def assert_plain_tip(widget: QWidget):
    tip = widget.toolTip()
    assert "<b>" not in tip
    assert "<img" not in tip


def test_menus_show_an_ampersand_as_one(qtbot, marked_up):
    marked_up.go(Place(lift=LiftKey("C2", "L3")))
    menu = bench_of(marked_up).pictures.comparison.button.menu()
    menu.aboutToShow.emit()
    others = next(a.menu() for a in menu.actions() if a.menu() is not None)
    names = [action.text() for action in others.actions()]
    assert "<b>C4&&[*]<img src=x>" in names


def test_the_menu_of_comparisons_keeps_nothing_of_what_it_was(qtbot, window):
    window.go(Place(lift=LiftKey("C2", "L3")))
    menu = bench_of(window).pictures.comparison.button.menu()

    def children():
        QApplication.sendPostedEvents(None, 52)  # deferred deletions
        return len(menu.findChildren(object))

    menu.aboutToShow.emit()
    first = children()
    for _ in range(5):
        menu.aboutToShow.emit()
    assert children() <= first + 2


def test_what_is_compared_is_dropped_with_the_project(qtbot, window):
    window.go(Place(lift=LiftKey("C2", "L3")))
    compare = bench_of(window).pictures.comparison.button
    compare.hold()
    assert compare.held
    window.document.show_project(tarnholm_columns(), None)
    assert compare.held == []


def test_plain_text_stays_plain():
    assert menu_text("A & B") == "A && B"
    assert tip_text("8 D25 > 4 D25") == "8 D25 > 4 D25"
    assert tip_text("a < b\nc") == "<qt>a &lt; b<br>c</qt>"
