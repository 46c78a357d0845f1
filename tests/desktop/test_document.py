"""The document behind the window: results follow the project, whatever comes in between."""

from __future__ import annotations

import pytest

from fexro.core.errors import FexroError, InputError
from fexro.demo.tarnholm import tarnholm_archive
from fexro.desktop.document import Document
from fexro.project.file import write_project
from fexro.project.model import LiftKey
from fexro.project.resolve import check_project

KEY = LiftKey("C4", "L1")


@pytest.fixture
def document(qtbot):
    document = Document()
    document.show_project(tarnholm_archive(), None)
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    return document


def with_bars(document, bars, key=KEY):
    lift = document.project.by_key[key]
    section = lift.section.model_copy(update={"bars": bars})
    return lift.model_copy(update={"section": section})


def test_the_background_finds_what_the_command_line_finds(document):
    expected = check_project(document.project)
    assert set(document.results) == set(expected)
    for key, result in expected.items():
        assert document.results[key].verdict == result.verdict
        assert document.results[key].utilisation == result.utilisation


def test_an_edit_tells_which_lift_and_answers_at_once(qtbot, document):
    with qtbot.waitSignals([document.edited, document.checked, document.saved_changed]):
        document.replace_lift(KEY, with_bars(document, "12 D28"), "Main bars")
    assert document.checked_together == 1
    assert document.results[KEY].utilisation < 1
    assert document.modified


def test_an_edit_while_checking_keeps_the_newer_result(qtbot):
    document = Document()
    document.show_project(tarnholm_archive(), None)
    document.replace_lift(KEY, with_bars(document, "12 D28"), "Main bars")
    edited = document.results[KEY]
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    qtbot.wait(100)
    assert document.results[KEY] is edited
    assert len(document.results) == 36


def test_old_results_stay_until_the_new_arrive(qtbot, document):
    before = dict(document.results)
    basis = document.project.basis.model_copy(update={"code": "EN 1992-1-1"})
    document.change_basis(basis, "Design code EN 1992-1-1")
    assert not document.complete
    assert set(document.results) == set(before)
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    assert {r.lift.code.name for r in document.results.values()} == {"EN 1992-1-1 (recommended)"}
    assert document.checked_together == 36


def test_cancelling_leaves_the_rest_without_new_results(qtbot):
    document = Document()
    document.show_project(tarnholm_archive(), None)
    document.cancel()
    assert not document.busy
    qtbot.wait(1200)
    assert not document.complete
    assert document.results == {}
    document.cancel()  # nothing left to cancel


def test_a_refused_edit_and_a_refused_file_change_nothing(document, tmp_path):
    project, results = document.project, dict(document.results)
    with pytest.raises(InputError):
        document.replace_lift(KEY, with_bars(document, "90 D40"), "Main bars")
    noise = tmp_path / "noise.fexro.json"
    noise.write_text("nothing")
    with pytest.raises(FexroError):
        document.open_file(noise)
    assert document.project is project
    assert document.results == results
    assert document.undo_label is None


def test_undo_and_redo_without_history_do_nothing(document):
    document.undo()
    document.redo()
    assert not document.modified
    Document().undo()
    Document().redo()


def test_saving_and_opening_keep_the_path(qtbot, document, tmp_path):
    path = tmp_path / "a.fexro.json"
    document.replace_lift(KEY, with_bars(document, "12 D28"), "Main bars")
    document.save(path)
    assert not document.modified
    assert document.path == path
    other = tmp_path / "b.fexro.json"
    write_project(tarnholm_archive(), other)
    document.open_file(other)
    assert document.path == other
    assert document.project.by_key[KEY].section.bars == "10 D25"


def test_the_selection_forgets_the_combination_with_the_lift(qtbot, document):
    selection = document.selection
    selection.select_lift(KEY)
    selection.select_combination("U2")
    with qtbot.assertNotEmitted(selection.lift_changed):
        selection.select_lift(KEY)
    assert selection.combination == "U2"
    with qtbot.waitSignal(selection.lift_changed):
        selection.select_lift(LiftKey("C1", "L1"))
    assert selection.combination is None
