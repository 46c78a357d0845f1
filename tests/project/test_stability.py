"""What holds lifts in a project: beams, ends, storeys, choices, sets of sway forces."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.quantities import UnitSystem
from fexro.demo.tarnholm import beams, tarnholm_columns
from fexro.project.actions import actions_of
from fexro.project.column import LiftKey, Member
from fexro.project.dependencies import affected
from fexro.project.edits.combinations import change_combination, set_sway_part
from fexro.project.edits.lifts import inherit, with_records
from fexro.project.edits.marks import change_mark, copy_mark
from fexro.project.edits.stability import (
    add_beams,
    change_beams,
    copy_beams,
    made_bracing,
    remove_beams,
    set_bracing,
    set_direction,
    set_option,
    set_storey_stability,
)
from fexro.project.edits.storeys import add_storey, change_storey
from fexro.project.file import parse_project, project_text
from fexro.project.framing import FramingBeam
from fexro.project.held import directions_of, held_between
from fexro.project.readings import LENGTHS, SWAY, readings_of, subjects_of
from fexro.project.resolve import resolve_lift, storey_facts
from fexro.project.storey_sway import storeys_of
from fexro.project.sway import storey_sums
from fexro.project.values import EndCondition, OwnDirection, OwnValues
from tests.projects import factored_demo, swaying_sets

DEMO = tarnholm_columns()
C1L3, C4L2, C6L5 = LiftKey("C1", "L3"), LiftKey("C4", "L2"), LiftKey("C6", "L5")


def kept(project):
    """A project as a file has it."""
    assert parse_project(project_text(project).encode(), "file") == project
    return project


# Ends and lengths


def test_beams_hold_the_lifts_above_and_below_them():
    about_x, about_y = directions_of(DEMO, C1L3)
    # C1 stands at the left edge: one beam in x, two in y. Bending about y is along x.
    assert (len(about_y.top.beams), len(about_x.top.beams)) == (1, 2)
    assert about_y.clear == 4200 - 600
    assert about_x.clear == 4200 - 500
    assert about_y.top.beams[0].second_moment == pytest.approx(350 * 600**3 / 12)
    assert about_y.top.column.second_moment == pytest.approx(500**4 / 12)
    without = kept(remove_beams(DEMO, [i for i, b in enumerate(DEMO.beams) if b.key == C1L3]))
    assert directions_of(without, C1L3)[1].top.beams == ()
    assert directions_of(without, C1L3)[1].clear is None
    assert directions_of(without, LiftKey("C1", "L4"))[1].bottom.beams == ()
    assert affected(DEMO, without) == {C1L3, LiftKey("C1", "L4")}


def test_the_foot_of_a_stack_stands_on_its_foundation():
    about_x, _ = directions_of(DEMO, LiftKey("C1", "L1"))
    assert (about_x.bottom.kind, about_x.bottom.by) == ("fixed", "foundation, fixed")
    pinned = set_direction(DEMO, None, "y", "base", EndCondition(kind="pinned"))
    about_x, about_y = directions_of(pinned, LiftKey("C1", "L1"))
    assert (about_x.bottom.kind, about_y.bottom.kind) == ("pinned", "fixed")
    psi = check_lift(resolve_lift(pinned, LiftKey("C1", "L1"))).second_order.axes[0].values
    assert psi["psi_bottom"] == 10.0


def test_a_lift_through_a_floor_is_one_length_with_the_moments_of_both():
    held = held_between(DEMO, C6L5, "x")
    assert (held.top, held.bottom, held.height) == (0, 1, pytest.approx(7.8))
    for storey in ("Roof", "L5"):
        about_x, _ = directions_of(DEMO, LiftKey("C6", storey))
        assert about_x.storey == pytest.approx(7800.0)
    beyond = actions_of(DEMO, C6L5).beyond
    ends = [actions_of(DEMO, LiftKey("C6", s)).forces[..., 4:] for s in ("Roof", "L5")]
    largest = np.abs(np.concatenate(ends, axis=1)).max(axis=1)
    np.testing.assert_allclose(np.abs(beyond.T), largest)
    assert actions_of(DEMO, C1L3).beyond is None


def test_a_turned_column_bends_in_the_other_direction_of_the_plan():
    turned = change_mark(DEMO, "C1", angle=90.0)
    about_x, about_y = directions_of(turned, C1L3)
    assert (about_x.plan, about_y.plan) == (0, 1)
    assert (len(about_x.top.beams), len(about_y.top.beams)) == (1, 2)


def test_beams_are_changed_copied_and_follow_their_stack():
    project = kept(change_beams(DEMO, [0, 1], depth=700.0, cracked=0.5))
    assert [b.depth for b in project.beams[:3]] == [700.0, 700.0, 500.0]
    project = kept(copy_beams(DEMO, LiftKey("C2", "L3"), [C1L3, LiftKey("C1", "L4")]))
    assert [b.side for b in project.beams_by_key[C1L3]] == ["+x", "-x", "+y", "-y"]
    assert len(project.beams_by_key[LiftKey("C2", "L3")]) == 4
    renamed = kept(change_mark(DEMO, "C1", new_name="P1"))
    assert LiftKey("P1", "L3") in renamed.beams_by_key
    assert LiftKey("C1", "Upper") in change_storey(DEMO, "L3", new_name="Upper").beams_by_key
    copied = kept(copy_mark(DEMO, "C1"))
    assert copied.marks[1].name == "C7"
    assert [b.side for b in copied.beams_by_key[LiftKey("C7", "L3")]] == ["+x", "+y", "-y"]
    slab = FramingBeam(
        mark="C1", storey="L3", side="-x", kind="slab", width=3000.0, depth=250.0, span=8.0
    )
    added = kept(add_beams(DEMO, [slab]))
    assert directions_of(added, C1L3)[1].top.beams[-1].kind == "slab"


def test_a_storey_more_has_the_beams_of_the_one_beside_it_but_no_drift():
    project = kept(add_storey(DEMO, "L2", "above", "L2a"))
    sides = [b.side for b in DEMO.beams_by_key[C4L2]]
    assert [b.side for b in project.beams_by_key[LiftKey("C4", "L2a")]] == sides
    storey = project.storey_by_name["L2a"]
    assert (storey.drift_x, storey.drift_y, storey.other_axial) == (None, None, 0.0)
    assert project.storey_by_name["L2"].drift_x is not None


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"depth": 0.0}, "more than 10"),
        ({"depth": 4300.0}, "less than the storey"),
        ({"span": -1.0}, "more than 0.2"),
        ({"cracked": 1.5}, "1 or less"),
        ({"side": "up"}, r"'\+x'"),
        ({"concrete": "C99"}, "one of C35"),
    ],
)
def test_beams_that_cannot_be_are_refused(fields, words):
    with pytest.raises(InputError, match=words):
        change_beams(DEMO, [0], **fields)


# Storeys


def test_sums_over_a_storey_are_those_of_its_lifts():
    for project in (DEMO, factored_demo()):
        for storey, sums in storey_sums(project).items():
            axial = np.zeros(len(sums.combinations))
            shear = np.zeros((len(sums.combinations), 2))
            for key in project.by_key:
                if key.storey == storey:
                    actions = actions_of(project, key)
                    axial += actions.forces[:, 1, 0]
                    shear += actions.forces[:, 1, 1:3]
            np.testing.assert_allclose(sums.axial, axial, rtol=1e-9, atol=1.0)
            np.testing.assert_allclose(sums.shear, shear, rtol=1e-9, atol=1.0)


def test_a_combination_that_does_not_apply_to_a_lift_adds_nothing():
    combinations = tuple(
        c.model_copy(update={"not_for": (Member(mark="C4"),)}) if c.name == "U2" else c
        for c in DEMO.combinations
    )
    project = parse_project(project_text(DEMO.changed(combinations=combinations)).encode(), "file")
    before, after = (storey_sums(p)["L1"].axial[1] for p in (DEMO, project))
    own = actions_of(DEMO, LiftKey("C4", "L1")).forces[1, 1, 0]
    assert before - after == pytest.approx(own)


def test_a_drift_decides_whether_a_storey_sways():
    decisions = {row.name: [d.braced for d in row.directions] for row in storeys_of(DEMO)}
    assert decisions["L2"] == [False, True]
    assert all(both == [True, True] for name, both in decisions.items() if name != "L2")
    stiff = kept(set_storey_stability(DEMO, "L2", drift_x=(4.0, 910.0)))
    assert all(d.braced for row in storeys_of(stiff) for d in row.directions)
    assert {key.storey for key in affected(DEMO, stiff)} == {"L2"}
    bare = set_storey_stability(DEMO, "L2", drift_x=None)
    row = next(row for row in storeys_of(bare) if row.name == "L2")
    assert row.directions[0].deciding is None
    assert not row.directions[0].braced
    result = check_lift(resolve_lift(bare, C4L2))
    assert any("no drift of the storey is known" in t for t in result.second_order.axes[1].assumed)


def test_a_storey_close_to_instability_is_pointed_at():
    soft = set_storey_stability(DEMO, "L2", drift_x=(90.0, 910.0))
    row = next(row for row in storeys_of(soft) if row.name == "L2")
    assert "unstable" in row.directions[0].warning
    eurocode = soft.changed(basis=soft.basis.model_copy(update={"code": "EN 1992-1-1"}))
    row = next(row for row in storeys_of(eurocode) if row.name == "L2")
    assert "second-order effects" in row.directions[0].warning


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"drift_x": (0.0, 900.0)}, "drift: found 0.0; allowed: more than 0"),
        ({"drift_y": (5.0, -1.0)}, "shear: .*more than 0"),
        ({"other_axial": -5.0}, "0 or more"),
    ],
)
def test_drifts_that_cannot_be_are_refused(fields, words):
    with pytest.raises(InputError, match=words):
        set_storey_stability(DEMO, "L2", **fields)


def test_walls_that_brace_decide_in_en():
    project = DEMO.changed(basis=DEMO.basis.model_copy(update={"code": "EN 1992-1-1"}))
    walls = {"walls": [{"length": 6000.0, "thickness": 300.0}] * 4}
    strong = kept(set_bracing(project, "x", made_bracing(walls, "x")))
    facts = storey_facts(strong, strong.basis.design_code, "L1")
    bracing = facts.bracing[0]
    assert bracing.height == pytest.approx(24_600.0)
    assert bracing.storeys == 6
    assert bracing.axial == pytest.approx(storey_sums(strong)["L1"].axial.max())
    # By hand: 0.31 · 6/7.6 · ΣEcd Ic / L².
    stiffness = 4 * 300 * 6000**3 / 12 * 22_000 * 4.3**0.3 / 1.2
    limit = 0.31 * 6 / 7.6 * stiffness / 24_600**2
    assert (bracing.axial <= limit) is storeys_of(strong)[-1].directions[0].braced
    with pytest.raises(InputError, match="thickness"):
        made_bracing({"walls": [{"length": 6000.0, "thickness": 0.0}]}, "x")


def test_both_assumptions_stand_side_by_side():
    braced, swaying = readings_of(DEMO, C4L2, SWAY)
    assert braced.factors()[1] < 1 < swaying.factors()[1]
    assert swaying.result.utilisation > braced.result.utilisation
    assert braced.moments(7)[1] == pytest.approx(325.02e6, rel=1e-3)


def test_ideal_ends_are_those_of_elastic_buckling():
    found = {reading.name: reading for reading in readings_of(DEMO, C6L5, LENGTHS)}
    factors = {name: reading.factors()[0] for name, reading in found.items()}
    assert (factors["fixed–fixed"], factors["fixed–pinned"]) == (0.5, 0.7)
    assert (factors["pinned–pinned"], factors["cantilever"]) == (1.0, 2.0)
    # What holds the ends of a braced lift lies between the ideal ends.
    assert 0.5 < factors["as it is"] < 1.0
    ratios = [found[name].result.utilisation for name in ("fixed–fixed", "pinned–pinned")]
    assert ratios[0] < ratios[1]


@pytest.mark.parametrize("code", ["ACI 318-19", "EN 1992-1-1"])
def test_every_subject_can_be_read_otherwise(code):
    project = DEMO.changed(basis=DEMO.basis.model_copy(update={"code": code}))
    as_it_is = check_lift(resolve_lift(project, C4L2)).utilisation
    for subject in subjects_of(project.basis.design_code.stability):
        readings = readings_of(project, C4L2, subject)
        assert len(readings) >= 2
        ratios = [r.result.utilisation for r in readings if r.result is not None]
        if subject != SWAY:
            assert as_it_is in ratios


# Choices


def test_choices_are_inherited_and_put_back():
    project = kept(set_option(DEMO, None, "EI", "a"))
    assert resolve_lift(project, C1L3).facts.options == {"EI": "a"}
    assert affected(DEMO, project) == frozenset(DEMO.by_key)
    project = kept(set_option(project, ("storey", "L3"), "EI", "c"))
    project = kept(set_option(project, ("mark", "C1"), "radius", "rule"))
    project = kept(set_option(project, C1L3, "magnifier", "ΣP"))
    found = resolve_lift(project, C1L3).facts.options
    assert found == {"EI": "c", "radius": "rule", "magnifier": "ΣP"}
    assert resolve_lift(project, LiftKey("C2", "L3")).facts.options == {"EI": "c"}
    project = kept(set_option(project, C1L3, "magnifier", None))
    assert project.record_by_key[C1L3].own == OwnValues()
    assert set_option(project, ("storey", "L3"), "EI", None).storey_by_name["L3"].own == OwnValues()


def test_a_direction_is_its_own_value_by_value():
    project = kept(set_direction(DEMO, C1L3, "x", "factor", 0.85))
    own = project.record_by_key[C1L3].own
    assert own.x == OwnDirection(factor=0.85)
    # What else the direction is goes on being inherited.
    braced = set_direction(project, None, "x", "sway", "braced")
    assert braced.by_key[C1L3].values.x.sway == "braced"
    assert braced.by_key[C1L3].values.x.factor == 0.85
    assert kept(set_direction(project, C1L3, "x", "factor", None)).record_by_key[C1L3].own.x is None
    assert inherit(project, [C1L3], "x").record_by_key[C1L3].own.x is None


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (lambda: set_option(DEMO, None, "EI", "d"), "one of b, a, c"),
        (lambda: set_option(DEMO, None, "phi", -1.0), "0 to 10"),
        (lambda: set_option(DEMO, None, "colour", "red"), "one of"),
        (lambda: set_direction(DEMO, None, "x", "factor", 0.0), "0.3 or more"),
        (lambda: set_direction(DEMO, C1L3, "x", "clear", 0.0), "more than 100"),
        (lambda: set_direction(DEMO, C1L3, "y", "alpha_cr", -2.0), "more than 0"),
    ],
)
def test_choices_that_are_not_allowed_are_refused(edit, words):
    with pytest.raises(InputError, match=words):
        edit()


# Sets of sway forces


def test_two_sets_of_moments_are_added_and_only_one_sways():
    project = kept(set_sway_part(swaying_sets(), "U8", "x", "U8 sway"))
    before, after = actions_of(factored_demo(), C1L3), actions_of(project, C1L3)
    i = after.combinations.index("U8")
    assert "U8 sway" not in after.combinations
    np.testing.assert_allclose(after.forces[i], 1.25 * before.forces[i])
    np.testing.assert_allclose(after.sway[0, i], 0.25 * before.forces[i])
    assert not after.sway[1].any()
    renamed = change_combination(project, "U8 sway", new_name="S8")
    assert next(c for c in renamed.combinations if c.name == "U8").sway_x == "S8"
    back = set_sway_part(project, "U8", "x", None)
    assert "U8 sway" in actions_of(back, C1L3).combinations


def test_contradictory_sets_are_refused():
    with pytest.raises(InputError, match="beside load cases"):
        set_sway_part(DEMO, "U8", "x", "U9")
    project = swaying_sets()
    with pytest.raises(InputError, match="another combination"):
        set_sway_part(project, "U8", "x", "U8")
    project = set_sway_part(project, "U8", "x", "U8 sway")
    with pytest.raises(InputError, match="has a part itself"):
        set_sway_part(project, "U9", "x", "U8")


# The demo


def test_the_demo_has_one_lift_that_fails_by_slenderness():
    result = check_lift(resolve_lift(DEMO, C4L2))
    assert result.first_order < 1 < result.utilisation
    assert result.governing.name == "Second-order bending about y"
    sound = check_lift(resolve_lift(DEMO, C1L3))
    assert sound.state is State.SATISFIED
    assert beams() == DEMO.beams
    assert DEMO.basis.system is UnitSystem.SI


def test_records_that_are_put_back_are_the_same():
    record = DEMO.record_by_key[C4L2]
    assert with_records(DEMO, {C4L2: record}) == DEMO
