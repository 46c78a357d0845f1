"""Typed values: taken or refused when left in any way, taken back by Esc, undone in the project."""

from __future__ import annotations

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QFileDialog, QMessageBox

from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.fields import Field, Typing
from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey
from fexro.project.file import read_project, write_project
from tests.desktop.pages import bench_of, schedule_of

C2, ABOVE = LiftKey("C2", "L3"), LiftKey("C2", "L4")
CONTROL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def bench(window):
    window.go(Place(lift=C2))
    return bench_of(window)


def typed(qtbot, bench, name, text):
    """Type into a field and stay in it."""
    field = bench.section.fields[name]
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    return field


def width(window, key=C2):
    return window.document.project.by_key[key].section.shape.width


def bars(window, key=C2):
    return window.document.project.by_key[key].section.bars


def test_saving_takes_what_is_typed(qtbot, window, bench, tmp_path, monkeypatch):
    path = tmp_path / "a.fexro.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    typed(qtbot, bench, "width", "600")
    qtbot.keyClick(window, Qt.Key.Key_S, CONTROL)
    qtbot.waitUntil(path.exists)
    assert read_project(path).by_key[C2].section.shape.width == 600


def test_saving_with_a_refused_value_says_so_first(qtbot, window, bench, tmp_path, monkeypatch):
    path = tmp_path / "a.fexro.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    typed(qtbot, bench, "width", "wide")
    window.commands.actions["save"].trigger()
    assert "“wide”" in window.notice.text()
    assert not path.exists()
    window.commands.actions["save"].trigger()
    qtbot.waitUntil(path.exists)


def test_moving_to_another_lift_takes_what_is_typed_for_this_one(qtbot, window, bench):
    typed(qtbot, bench, "bars", "12 D28")
    qtbot.keyClick(window, Qt.Key.Key_Up, CONTROL)
    assert bench.place.text() == "C2 · L4"
    assert bars(window) == "12 D28"
    assert bars(window, ABOVE) == "14 D25" if ABOVE.storey == "L3" else bars(window, ABOVE)
    typed(qtbot, bench, "bars", "14 D28")
    window.document.selection.select_lift(C2)
    assert bars(window, ABOVE) == "14 D28"
    assert bars(window) == "12 D28"


def test_a_refused_value_keeps_its_lift_in_view(qtbot, window, bench):
    typed(qtbot, bench, "bars", "12 X28")
    qtbot.keyClick(window, Qt.Key.Key_Up, CONTROL)
    assert bench.place.text() == "C2 · L3"
    assert bench.section.error.isVisible()
    assert bench.section.fields["bars"].text() == "12 X28"
    # Told once, it is no longer in the way.
    qtbot.keyClick(window, Qt.Key.Key_Up, CONTROL)
    assert bench.place.text() == "C2 · L4"


def test_leaving_by_the_mouse_takes_what_is_typed(qtbot, window, bench):
    typed(qtbot, bench, "width", "620")
    bench.combinations.setFocus()
    assert width(window) == 620


def test_esc_takes_back_what_is_typed(qtbot, window, bench):
    field = typed(qtbot, bench, "width", "620")
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert field.text() == "500 mm"
    assert width(window) == 500
    assert not window.document.modified
    assert window.pages.currentWidget() is bench
    # With nothing typed, Esc leaves the bench.
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert window.pages.currentWidget() is schedule_of(window)
    assert width(window) == 500


def test_esc_takes_back_what_was_refused(qtbot, window, bench):
    field = typed(qtbot, bench, "width", "wide")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert field.property("refused")
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert field.text() == "500 mm"
    assert not field.property("refused")
    assert not bench.section.error.isVisible()


def test_undo_acts_on_the_project_while_the_focus_stays(qtbot, window, bench):
    field = typed(qtbot, bench, "width", "600")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert width(window) == 600
    assert field.hasFocus()
    qtbot.keyClick(field, Qt.Key.Key_Z, CONTROL)
    assert width(window) == 500
    assert field.text() == "500 mm"
    qtbot.keyClick(field, Qt.Key.Key_Z, CONTROL | Qt.KeyboardModifier.ShiftModifier)
    assert width(window) == 600


def test_undo_takes_back_what_is_typed(qtbot, window, bench):
    for text in ("600", "wide"):
        field = typed(qtbot, bench, "width", text)
        qtbot.keyClick(field, Qt.Key.Key_Z, CONTROL)
        assert width(window) == 500
        assert field.text() == "500 mm"


def test_results_that_arrive_leave_what_is_typed_alone(qtbot, window, bench):
    field = typed(qtbot, bench, "width", "62")
    window.document.checked.emit(frozenset({C2}))
    assert field.text() == "62"
    field = typed(qtbot, bench, "width", "wide")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    window.document.checked.emit(frozenset({C2}))
    assert field.text() == "wide"
    assert bench.section.error.isVisible()


def test_closing_takes_what_is_typed_and_asks(qtbot, window, bench, monkeypatch):
    asked = []
    cancel = QMessageBox.StandardButton.Cancel
    monkeypatch.setattr(QMessageBox, "question", lambda *_: asked.append(1) or cancel)
    typed(qtbot, bench, "width", "600")
    assert not window.close()
    assert asked
    assert width(window) == 600


def test_a_value_typed_for_one_project_never_lands_in_another(
    qtbot, window, bench, tmp_path, monkeypatch
):
    path = tmp_path / "other.fexro.json"
    write_project(tarnholm_columns(), path)
    discard = QMessageBox.StandardButton.Discard
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *_: asked.append(1) or discard)
    typed(qtbot, bench, "width", "600")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    window.dropEvent(
        QDropEvent(
            QPointF(9, 9),
            Qt.DropAction.CopyAction,
            data,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
    )
    assert asked
    assert width(window) == 500
    assert not window.document.modified
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    # Even where the project is put in place without a question.
    window.go(Place(lift=C2))
    typed(qtbot, bench, "width", "600")
    window.document.show_project(tarnholm_columns(), None)
    window.go(Place(lift=C2))
    assert width(window) == 500
    assert bench.section.fields["width"].text() == "500 mm"


READ = [("24in", "609.6 mm"), ("0,6 m", "600 mm"), ("600", ""), ("60 0", ""), ("wide", "")]


def test_how_a_value_is_read_is_shown_while_it_is_typed(qtbot, window, bench):
    for text, reading in READ:
        field = typed(qtbot, bench, "width", text)
        shown = bench.section.reading
        assert shown.isVisible() == bool(reading)
        assert shown.text() == (f"Width is read as {reading}." if reading else "")
        qtbot.keyClick(field, Qt.Key.Key_Escape)
        assert not shown.isVisible()


def test_the_fields_of_the_pictures_obey_the_same_rule(qtbot, window, bench):
    pictures = bench.pictures
    field = pictures.controls.angle
    before = field.text()
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "30")
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert field.text() == before
    qtbot.keyClicks(field, "3 0")
    bench.combinations.setFocus()
    assert "“3 0”" in pictures.caption.text()
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "30°")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert field.text() == "30.0°"
    pictures.show_view(1)
    pictures.controls.axial.setFocus()
    pictures.controls.axial.selectAll()
    qtbot.keyClicks(pictures.controls.axial, "2,4 MN")
    assert pictures.reading.text() == "N is read as 2\u2009400 kN."
    bench.combinations.setFocus()
    assert window.document.selection.axial == pytest.approx(2.4e6)


def test_a_field_that_went_away_with_its_form_is_forgotten(qtbot):
    typing = Typing()
    first, second = Field(typing, lambda text: None), Field(typing, lambda text: None)
    for field in (first, second):
        qtbot.addWidget(field)
    qtbot.keyClicks(first, "45")
    sip.delete(first)
    qtbot.keyClicks(second, "50")
    assert typing.settle()
    typing.take_back()


def test_a_field_may_be_made_anew_by_what_it_commits(qtbot):
    typing = Typing()
    field = Field(typing, lambda text: sip.delete(field))
    qtbot.keyClicks(field, "45")
    assert typing.settle()
