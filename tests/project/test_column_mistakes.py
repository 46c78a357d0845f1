"""What whole columns got wrong: each with numbers worked out by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.actions import Actions
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.section.shapes import Circle, HollowCircle, Rectangle
from fexro.core.section.shear import shear_section
from fexro.demo.tarnholm import tarnholm_archive
from fexro.project.beginning import new_project
from fexro.project.column import LiftKey
from fexro.project.edits.cases import add_case, change_case
from fexro.project.edits.combinations import add_combination
from fexro.project.edits.marks import add_mark
from fexro.project.edits.storeys import add_storey
from fexro.project.resolve import resolve_lift
from tests.conftest import make_column
from tests.core.test_slenderness import direction, lift_of


def acting(rows):
    return Actions(("U",), rows)


HOLLOW = make_column(HollowCircle(diameter=1200, void_diameter=900), "24 D25", ties="D12@150")
SOLID = make_column(Circle(diameter=1200), "24 D25", ties="D12@150")


def test_a_hollow_circle_shears_in_both_of_its_walls():
    hollow, solid = (shear_section(one.section, 0) for one in (HOLLOW, SOLID))
    # 1200 less 900: two walls of 150; the effective depth is that of the circle around.
    assert hollow.width == pytest.approx(300, rel=2e-3)
    assert solid.width == pytest.approx(1200, rel=2e-3)
    assert hollow.depth == pytest.approx(solid.depth) == pytest.approx(1200, rel=2e-3)
    assert hollow.effective_depth == pytest.approx(0.8 * 1200, rel=2e-3)


def test_torsion_is_for_a_person_to_look_at():
    section = make_column(Rectangle(width=500, depth=500), "8 D25")
    rows = np.zeros((1, 2, 6))
    rows[..., 0] = 1e6
    for code in (ACI_SI, EN_RECOMMENDED):
        without = check_lift(lift_of(code, acting(rows), section))
        assert without.state is State.SATISFIED
        turned = rows.copy()
        turned[..., 3] = 300e6
        found = check_lift(lift_of(code, acting(turned), section))
        assert found.state is State.ATTENTION
        (torsion,) = [one for one in found.findings if one.short == "torsion"]
        assert torsion.values["found"].value == 300e6


def ductile_lift(code, height, ties, level):
    section = make_column(Rectangle(width=500, depth=500), "12 D25", ties=ties)
    rows = np.zeros((1, 2, 6))
    rows[..., 0] = 1.5e6
    held = direction(height, ductility=level)
    return lift_of(code, acting(rows), section, about_x=held, about_y=held)


@pytest.mark.parametrize(("level", "length"), [("medium", 600.0), ("high", 750.0)])
def test_closer_hoops_reach_as_far_as_critical_regions_do(level, length):
    lift = ductile_lift(EN_RECOMMENDED, 3600.0, "D8@100/250", level)
    # 5.4.3.2.2(4), 5.5.3.2.2(4): max(hc, lcl/6, 450) and max(1.5 hc, lcl/6, 600).
    assert lift.code.end_zone(lift.facts) == pytest.approx(length)


def test_short_columns_are_critical_all_along():
    lift = ductile_lift(EN_RECOMMENDED, 1400.0, "D10@80/200", "medium")
    assert lift.code.end_zone(lift.facts) == pytest.approx(700)
    found = check_lift(lift)
    (short,) = [one for one in found.findings if one.clause == "5.4.3.2.2(5)"]
    assert short.state is State.EXCEEDED
    assert short.values["found"].value == 200


def test_bars_that_run_through_special_frames_are_developed_too():
    found = check_lift(ductile_lift(ACI_SI, 2000.0, "D12@90", "high"))
    (bond,) = [one for one in found.findings if one.clause == "18.7.4.3"]
    assert bond.values["limit"].value == pytest.approx(1000)
    assert (bond.state is State.EXCEEDED) == (bond.values["found"].value > 1000)


def test_concrete_counts_in_special_frames_under_enough_compression():
    def resisted(axial):
        lift = ductile_lift(ACI_SI, 3600.0, "D12@90", "high")
        rows = np.zeros((1, 2, 6))
        rows[..., 0] = axial
        lift = lift_of(
            ACI_SI,
            acting(rows),
            lift.facts.cross_section,
            about_x=lift.facts.about_x,
            about_y=lift.facts.about_y,
        )
        found = check_lift(lift)
        return max(
            one.values["strength"].value for one in found.findings if one.short == "capacity shear"
        )

    # Ag f'c/20 is 437.5 kN: below it concrete counts nothing (18.7.6.2.1).
    assert resisted(500e3) > 1.2 * resisted(400e3)


def test_a_planted_column_is_told():
    demo = tarnholm_archive()
    mark = next(one for one in demo.marks if one.kind == "column")
    shorter = mark.model_copy(update={"lifts": mark.lifts[:-1]})
    marks = tuple(shorter if one is mark else one for one in demo.marks)
    groups = tuple(
        g.model_copy(update={"members": tuple(k for k in g.members if k.mark != mark.name)})
        for g in demo.groups
    )
    changed = demo.changed(marks=marks, groups=groups)
    key = LiftKey(mark.name, shorter.lifts[-1].storey)
    found = check_lift(resolve_lift(changed, key))
    (planted,) = [one for one in found.findings if one.short == "planted"]
    assert planted.state is State.ATTENTION
    assert not planted.assumption
    whole = check_lift(resolve_lift(demo, key))
    assert not [one for one in whole.findings if one.short == "planted"]


def begun():
    """A storey and a mark, load cases and combinations, before any forces."""
    project = add_mark(add_storey(new_project(), None, "above"))
    project = add_case(add_case(project, "D"), "L")
    return add_combination(project, "U1", "1.2 D + 1.6 L")


def test_combinations_before_any_forces_leave_lifts_not_checked():
    project = begun()
    for key in project.by_key:
        found = check_lift(resolve_lift(project, key))
        assert found.state is State.NOT_CHECKED


def test_the_nature_of_a_case_follows_its_name_until_it_is_set():
    project = add_case(new_project(), "Case 1")
    assert project.case_by_name["Case 1"].nature == "imposed"
    dead = change_case(project, "Case 1", name="D")
    assert dead.case_by_name["D"].nature == "permanent"
    wind = change_case(dead, "D", name="Wx")
    assert wind.case_by_name["Wx"].nature == "wind"
    assert wind.case_by_name["Wx"].direction == "x"
    chosen = change_case(project, "Case 1", nature="snow")
    assert change_case(chosen, "Case 1", name="Wx").case_by_name["Wx"].nature == "snow"


def test_a_renamed_case_is_written_and_used_by_its_new_name():
    project = begun()
    renamed = change_case(project, "D", name="G")
    assert renamed.combinations[0].expression == "1.2 G + 1.6 L"
    demo = tarnholm_archive()
    changed = change_case(demo, "D", name="G")
    assert changed.bearing_walls[0].self_weight == "G"
    assert all(one.case != "D" for one in changed.bearing_walls[0].floors)
    assert math.isfinite(check_lift(resolve_lift(changed, LiftKey("P1", "Roof"))).utilisation)
