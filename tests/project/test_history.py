"""Edits make new projects; history goes back and forth between them."""

from __future__ import annotations

import pytest

from fexro.core.errors import InputError
from fexro.demo.tarnholm import tarnholm_archive
from fexro.project.checking import check_project
from fexro.project.history import History, replace_lift
from fexro.project.model import LiftKey
from fexro.project.resolve import resolve_lift

KEY = LiftKey("C2", "L3")


def with_bars(project, bars, key=KEY):
    lift = project.by_key[key]
    section = lift.section.model_copy(update={"bars": bars})
    return replace_lift(project, key, lift.model_copy(update={"section": section}), "Main bars")


def test_an_edit_leaves_the_old_project_alone():
    project = tarnholm_archive()
    edit = with_bars(project, "10 D28")
    assert project.by_key[KEY].section.bars == "14 D25"
    assert edit.project.by_key[KEY].section.bars == "10 D28"
    assert edit.touched == {KEY}
    # All that was not touched is shared.
    assert edit.project.marks[0] is project.marks[0]


def test_undo_and_redo_walk_the_history():
    history = History(tarnholm_archive())
    assert history.undo_label is None
    assert not history.modified
    history.apply(with_bars(history.project, "10 D28"))
    history.apply(with_bars(history.project, "12 D28"))
    assert history.undo_label == "Main bars of C2 · L3"
    assert history.modified
    assert history.undo() == {KEY}
    assert history.project.by_key[KEY].section.bars == "10 D28"
    assert history.undo() == {KEY}
    assert not history.modified
    assert history.undo_label is None
    history.redo()
    history.redo()
    assert history.project.by_key[KEY].section.bars == "12 D28"
    assert history.redo_label is None


def test_a_new_edit_drops_what_was_undone():
    history = History(tarnholm_archive())
    history.apply(with_bars(history.project, "10 D28"))
    history.undo()
    history.apply(with_bars(history.project, "8 D28"))
    assert history.redo_label is None


def test_saving_in_the_middle_of_the_history_is_remembered():
    history = History(tarnholm_archive())
    history.apply(with_bars(history.project, "10 D28"))
    history.mark_saved()
    assert not history.modified
    history.undo()
    assert history.modified
    history.redo()
    assert not history.modified


def test_a_refused_edit_names_the_field():
    project = tarnholm_archive()
    with pytest.raises(InputError, match=r"^section.bars: found “8 X1”"):
        with_bars(project, "8 X1")
    with pytest.raises(InputError, match="overlap"):
        with_bars(project, "60 D40")


def test_an_edit_changes_only_its_lift():
    project = tarnholm_archive()
    before = check_project(project)
    after = check_project(with_bars(project, "10 D28").project)
    for key, result in before.items():
        same = after[key].utilisation == pytest.approx(result.utilisation, rel=1e-9)
        assert same == (key != KEY)


def test_forces_reach_the_core_in_newtons_and_millimetres():
    lift = resolve_lift(tarnholm_archive(), KEY)
    top = tarnholm_archive().by_key[KEY].forces["U2"][0]
    index = lift.actions.combinations.index("U2")
    assert lift.actions.forces[index, 0] == pytest.approx(
        [top.N * 1e3, top.Vx * 1e3, top.Vy * 1e3, 0.0, top.Mx * 1e6, top.My * 1e6]
    )
    assert lift.actions.axial_bending[index, 0].tolist() == [
        top.N * 1e3,
        top.Mx * 1e6,
        top.My * 1e6,
    ]
    assert lift.facts.about_x.storey == 4200
