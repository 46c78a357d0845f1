"""Edits make new projects; history goes back and forth between them."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.project.cases import Combination, LoadCase
from fexro.project.checking import check_project
from fexro.project.column import LiftKey, Member
from fexro.project.dependencies import affected
from fexro.project.edits.basis import replace_basis
from fexro.project.edits.combinations import exempt_member
from fexro.project.edits.lifts import replace_lift
from fexro.project.forces import Forces
from fexro.project.history import History
from fexro.project.resolve import resolve_lift
from tests.projects import factored_demo, rows_of, with_rows

KEY = LiftKey("C2", "L3")


def with_bars(project, bars, key=KEY):
    lift = project.by_key[key]
    section = lift.section.model_copy(update={"bars": bars})
    return replace_lift(project, key, lift.model_copy(update={"section": section}))


def apply(history, bars):
    history.apply(bars, with_bars(history.project, bars))


def test_an_edit_leaves_the_old_project_alone():
    project = factored_demo()
    edited = with_bars(project, "10 D28")
    assert project.by_key[KEY].section.bars == "14 D25"
    assert edited.by_key[KEY].section.bars == "10 D28"
    # All that was not touched is shared.
    assert edited.marks[0] is project.marks[0]
    assert edited.factored_forces is project.factored_forces


def changed_combination(project, **fields):
    first, *others = project.combinations
    return project.changed(combinations=(first.model_copy(update=fields), *others))


def test_what_an_edit_affects_is_worked_out_from_before_and_after():
    project = factored_demo()
    every = frozenset(project.by_key)
    assert affected(project, project) == frozenset()
    # What bars go on into the lift above is looked at in the one below.
    assert affected(project, with_bars(project, "10 D28")) == {KEY, LiftKey("C2", "L2")}
    # A label, a revision or the note of a combination is no fact of a lift.
    assert affected(project, project.changed(name="Other", revision="C")) == frozenset()
    assert affected(project, changed_combination(project, expression="1.4 G")) == frozenset()
    values = project.basis.values.model_copy(update={"aggregate": 32.0})
    basis = project.basis.model_copy(update={"values": values})
    assert affected(project, replace_basis(project, basis)) == every
    # C45 stands in the two lowest storeys of four stacks.
    concretes = (project.concretes[0], project.concretes[1].model_copy(update={"strength": 50.0}))
    found = affected(project, project.changed(concretes=concretes))
    stiffer = {key for key, lift in project.lifts() if lift.concrete == "C45"}
    # Those above are held by them.
    assert found == stiffer | {LiftKey(mark, "L3") for mark, _ in stiffer}
    assert len(stiffer) == 8
    storeys = tuple(
        s.model_copy(update={"height": 3.9}) if s.name == "L3" else s for s in project.storeys
    )
    # The lifts beside are held by those that are shorter now.
    others = affected(project, project.changed(storeys=storeys))
    assert {key.storey for key in others} == {"L2", "L3", "L4"}
    member = Member(mark="C4", storey="L2")
    exempt = exempt_member(project, "U2", member, exempt=True)
    assert affected(project, exempt) == {LiftKey("C4", "L2")}
    rows = rows_of(project, KEY)
    assert affected(project, with_rows(project, KEY, rows)) == frozenset()
    del rows["U3"]
    assert affected(project, with_rows(project, KEY, rows)) == {KEY}
    fewer = project.changed(marks=project.marks[:-1])
    assert affected(project, fewer) == frozenset()
    assert {key.mark for key in affected(fewer, project)} == {"C6"}


def test_undo_and_redo_walk_the_history():
    history = History(factored_demo())
    assert history.undo_label is None
    assert not history.modified
    apply(history, "10 D28")
    apply(history, "12 D28")
    assert history.undo_label == "12 D28"
    assert history.modified
    history.undo()
    assert history.project.by_key[KEY].section.bars == "10 D28"
    history.undo()
    assert not history.modified
    assert history.undo_label is None
    history.redo()
    history.redo()
    assert history.project.by_key[KEY].section.bars == "12 D28"
    assert history.redo_label is None


def test_a_new_edit_drops_what_was_undone():
    history = History(factored_demo())
    apply(history, "10 D28")
    history.undo()
    apply(history, "8 D28")
    assert history.redo_label is None


def test_saving_in_the_middle_of_the_history_is_remembered():
    history = History(factored_demo())
    apply(history, "10 D28")
    history.mark_saved()
    assert not history.modified
    history.undo()
    assert history.modified
    history.redo()
    assert not history.modified


def test_a_refused_edit_names_the_field():
    project = factored_demo()
    with pytest.raises(InputError, match=r"^bars: found “X1”; allowed: one of D6"):
        with_bars(project, "8 X1")
    with pytest.raises(InputError, match="overlap"):
        with_bars(project, "60 D40")


def test_an_edit_changes_only_its_lift():
    project = factored_demo()
    before = check_project(project)
    after = check_project(with_bars(project, "10 D28"))
    for key, result in before.items():
        same = after[key].utilisation == pytest.approx(result.utilisation, rel=1e-9)
        assert same == (key != KEY)


def test_forces_reach_the_core_in_newtons_and_millimetres():
    lift = resolve_lift(factored_demo(), KEY)
    top, _ = factored_demo().factored_forces.row(KEY, "U2")
    index = lift.actions.combinations.index("U2")
    assert lift.actions.forces[index, 0] == pytest.approx(top * [1e3, 1e3, 1e3, 1e6, 1e6, 1e6])
    N, _, _, _, Mx, My = top
    assert lift.actions.axial_bending[index, 0] == pytest.approx([N * 1e3, Mx * 1e6, My * 1e6])
    assert lift.facts.about_x.storey == 4200
    assert lift.actions.sustained is None


def test_combinations_are_factors_over_cases():
    project = factored_demo()
    dead = np.array([[1000.0, 5, 0, 2, 20, 10], [1010.0, 5, 0, 2, -10, -5]])
    wind = np.array([[100.0, 30, 0, 0, 0, 60], [100.0, 30, 0, 0, 0, -60]])
    cases = (
        LoadCase(name="D", nature="permanent", sustained=1.0),
        LoadCase(name="Wx", nature="wind", sway="x"),
        LoadCase(name="Ex", nature="earthquake", sway="x"),
    )
    combinations = (
        Combination(name="A", factors={"D": 1.2, "Wx": 1.0}),
        Combination(name="B", factors={"D": 0.9, "Wx": -1.0}),
        Combination(name="C", factors={"D": 1.2, "Ex": 1.0}),
        Combination(name="U1"),
    )
    project = project.changed(
        cases=cases,
        combinations=combinations,
        case_forces=Forces.of(("D", "Wx"), {KEY: {"D": dead, "Wx": wind}}),
    )
    actions = resolve_lift(project, KEY).actions
    internal = np.array([1e3, 1e3, 1e3, 1e6, 1e6, 1e6])
    # By hand; the earthquake has no forces, U1 is given factored.
    assert actions.combinations == ("A", "B", "U1")
    assert actions.missing == ("C",)
    np.testing.assert_allclose(actions.forces[0], (1.2 * dead + wind) * internal)
    np.testing.assert_allclose(actions.forces[1], (0.9 * dead - wind) * internal)
    np.testing.assert_allclose(actions.torsion[:2, 0], [2.4e6, 1.8e6])
    np.testing.assert_allclose(actions.shear[0, 0], [36e3, 0])
    assert actions.sustained is None
    # Where all are made of cases, what lasts and what sways is known.
    made = project.changed(combinations=combinations[:2])
    actions = resolve_lift(made, KEY).actions
    np.testing.assert_allclose(actions.sustained[1], 0.9 * dead * internal)
    np.testing.assert_allclose(actions.sway[0, 1], -wind * internal)
    assert not actions.sway[1].any()
    lift = LiftKey("C1", "L1")
    assert resolve_lift(made, lift).actions.missing == ("A", "B")


def test_nothing_in_a_project_can_be_changed():
    project = factored_demo()
    combination = Combination(name="A", factors={"D": 1.2})
    for change in (
        lambda: setattr(project, "name", "Other"),
        lambda: project.marks.append(None),
        lambda: setattr(project.marks[0].lifts[0], "bars", "4 D40"),
        lambda: combination.factors.update({"D": 2.0}),
        lambda: combination.factors.__setitem__("D", 2.0),
        lambda: project.factored_forces.values.__setitem__(0, 1.0),
    ):
        with pytest.raises((AttributeError, TypeError, ValueError)):
            change()
