"""The document behind the window: results follow the project, whatever comes in between."""

from __future__ import annotations

import time
from collections import Counter

import pytest
from PyQt6.QtCore import QTimer

from fexro.core.errors import FexroError, InputError
from fexro.core.members.verdict import verdict_of
from fexro.core.quantities import UnitSystem
from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.document import Document
from fexro.project.checking import check_project
from fexro.project.column import LiftKey, Member
from fexro.project.file import project_text, read_project, write_project
from fexro.project.storage import ChangedOutsideError, backup_of

KEY = LiftKey("C4", "L1")
EUROCODE = "EN 1992-1-1 (recommended)"


@pytest.fixture
def document(qtbot):
    document = Document()
    document.show_project(tarnholm_columns(), None)
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    return document


def verdict(result):
    return verdict_of(result, UnitSystem.SI)


def with_bars(document, bars, key=KEY):
    lift = document.project.by_key[key]
    section = lift.section.model_copy(update={"bars": bars})
    return lift.model_copy(update={"section": section})


def test_the_background_finds_what_the_command_line_finds(document):
    expected = check_project(document.project)
    assert set(document.results) == set(expected)
    for key, result in expected.items():
        assert verdict(document.results[key]) == verdict(result)
        assert document.results[key].utilisation == pytest.approx(result.utilisation, rel=1e-9)


def test_an_edit_tells_which_lift_and_answers_at_once(qtbot, document):
    with qtbot.waitSignals([document.edited, document.checked, document.saved_changed]):
        document.replace_lift(KEY, with_bars(document, "12 D28"), "Main bars")
    assert document.checked_together == 1
    assert document.results[KEY].utilisation < 1
    assert document.modified


def test_an_edit_while_checking_keeps_the_newer_result(qtbot):
    document = Document()
    document.show_project(tarnholm_columns(), None)
    document.replace_lift(KEY, with_bars(document, "12 D28"), "Main bars")
    edited = document.results[KEY]
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    qtbot.wait(100)
    assert document.results[KEY] is edited
    assert len(document.results) == 36


def codes_of(document):
    return Counter(result.lift.code.name for result in document.results.values())


def test_no_verdict_of_former_facts_stays(qtbot, document):
    basis = document.project.basis.model_copy(update={"code": "EN 1992-1-1"})
    document.change_basis(basis, "Design code EN 1992-1-1")
    assert not document.complete
    assert codes_of(document) == {EUROCODE: 1}
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    assert {r.lift.code.name for r in document.results.values()} == {"EN 1992-1-1 (recommended)"}
    assert document.checked_together == 36


def test_a_changed_code_and_cancelled_checking_leave_lifts_unchecked(qtbot, document):
    document.change_basis(
        document.project.basis.model_copy(update={"code": "EN 1992-1-1"}), "Design code"
    )
    document.cancel()
    # An edit of one lift checks that one, and mixes nothing.
    document.replace_lift(KEY, with_bars(document, "12 D28"), "Main bars")
    assert KEY in document.results
    assert codes_of(document) == {EUROCODE: 2}
    document.undo()
    assert codes_of(document) == {EUROCODE: 2}
    document.check_rest()
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)
    assert {r.lift.code.name for r in document.results.values()} == {"EN 1992-1-1 (recommended)"}


def test_undoing_a_change_of_code_leaves_no_verdict_of_the_other(qtbot, document):
    document.change_basis(
        document.project.basis.model_copy(update={"code": "EN 1992-1-1"}), "Design code"
    )
    document.undo()
    document.cancel()
    assert sum(codes_of(document).values()) == 1
    assert EUROCODE not in codes_of(document)


def test_cancelling_leaves_the_rest_without_new_results(qtbot):
    document = Document()
    document.show_project(tarnholm_columns(), None)
    document.cancel()
    assert not document.busy
    qtbot.wait(1200)
    assert not document.complete
    assert document.results == {}
    document.cancel()  # nothing left to cancel


def test_an_error_while_checking_is_told_and_can_be_tried_again(qtbot, document, monkeypatch):
    def fail(*_):
        raise FexroError("A process that checked lifts was ended from outside.")
        yield

    monkeypatch.setattr("fexro.desktop.document.check_in_processes", fail)
    with qtbot.waitSignal(document.told) as told:
        document.change_basis(
            document.project.basis.model_copy(update={"code": "EN 1992-1-1"}), "Design code"
        )
    assert "ended from outside" in told.args[0]
    assert not document.busy
    assert not document.complete
    monkeypatch.undo()
    document.check_rest()
    qtbot.waitUntil(lambda: document.complete, timeout=30_000)


def test_combinations_are_exempted_for_a_lift_or_a_mark_and_back(qtbot, document):
    def exempt():
        return document.project.combinations[1].not_for

    document.exempt("U2", Member(mark="C4"), exempt=True)
    assert exempt() == (Member(mark="C4"),)
    qtbot.waitUntil(lambda: document.complete)
    assert "U2" not in document.results[KEY].combinations
    assert document.undo_label == "U2 not for C4"
    document.exempt("U2", Member(mark="C4", storey="L1"), exempt=False)
    # The whole storey is checked anew: it carries another load.
    qtbot.waitUntil(lambda: document.complete)
    assert {member.storey for member in exempt()} == {"Roof", "L5", "L4", "L3", "L2"}
    assert "U2" in document.results[KEY].combinations
    document.exempt("U2", Member(mark="C4", storey="L1"), exempt=True)
    assert exempt() == (Member(mark="C4"),)
    for _ in range(3):
        document.undo()
    assert exempt() == ()
    with pytest.raises(InputError):
        document.exempt("U2", Member(mark="C9"), exempt=True)
    with pytest.raises(InputError):
        document.exempt("U99", Member(mark="C4"), exempt=True)


def test_a_change_from_outside_is_kept_as_the_former_version(document, tmp_path):
    path = tmp_path / "a.fexro.json"
    document.save(path)
    assert not document.changed_outside()
    theirs = project_text(tarnholm_columns().changed(revision="Z"))
    path.write_text(theirs)
    assert document.changed_outside()
    document.replace_lift(KEY, with_bars(document, "12 D28"), "Main bars")
    with pytest.raises(ChangedOutsideError):
        document.save(path)
    assert path.read_text() == theirs
    assert document.modified
    document.save(path, overwrite=True)
    assert backup_of(path).read_text() == theirs
    assert read_project(path).by_key[KEY].section.bars == "12 D28"


def test_edits_made_while_saving_stay_unsaved(qtbot, document, tmp_path, monkeypatch):
    path = tmp_path / "a.fexro.json"

    def slow(*args):
        time.sleep(0.3)
        return write_project(*args)

    monkeypatch.setattr("fexro.desktop.document.write_project", slow)
    QTimer.singleShot(
        100, lambda: document.replace_lift(KEY, with_bars(document, "12 D28"), "Main bars")
    )
    document.save(path)
    assert document.modified
    assert read_project(path).by_key[KEY].section.bars == "10 D25"
    assert document.project.by_key[KEY].section.bars == "12 D28"


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
    write_project(tarnholm_columns(), other)
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
