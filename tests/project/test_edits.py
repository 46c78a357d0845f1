"""Edits of a building: what they make, what goes with it, and what they refuse."""

from __future__ import annotations

import json

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.project.bars import BarsOnOffer, OwnBar
from fexro.project.basis import ConcreteGrade
from fexro.project.beginning import new_project
from fexro.project.column import LiftKey, Member
from fexro.project.dependencies import affected
from fexro.project.edits.basis import (
    add_material,
    remove_material,
    replace_basis,
    replace_material,
    users_of_material,
)
from fexro.project.edits.combinations import exempt_member
from fexro.project.edits.groups import join_group, leave_groups, rename_group
from fexro.project.edits.lifts import (
    add_lifts,
    copy_lift,
    inherit,
    remove_lifts,
    replace_lift,
    with_records,
)
from fexro.project.edits.marks import (
    add_mark,
    change_mark,
    copy_mark,
    move_mark,
    place_marks,
    remove_marks,
)
from fexro.project.edits.storeys import (
    add_storey,
    change_storey,
    remove_storey,
    set_storey_values,
)
from fexro.project.file import parse_project, project_text
from fexro.project.held import held_height
from fexro.project.resolve import resolve_lift, verify
from fexro.project.values import OwnValues
from tests.projects import factored_demo

DEMO = factored_demo()
C2L1, C2L5, C5L5 = LiftKey("C2", "L1"), LiftKey("C2", "L5"), LiftKey("C5", "L5")


def names(items):
    return [item.name for item in items]


def with_bars(lift, bars):
    return lift.model_copy(update={"section": lift.section.model_copy(update={"bars": bars})})


def kept(project):
    """The project as it comes back from its file, which is the same."""
    verify(project)
    read = parse_project(project_text(project).encode(), "file")
    assert read == project
    return read


def test_a_building_is_made_from_nothing():
    project = kept(new_project())
    assert project.by_key == {}
    project = add_storey(project, None, "above")
    project = add_mark(project)
    for _ in range(3):
        project = add_storey(project, project.storeys[0].name, "above")
    project = kept(add_mark(project, after="C1"))
    assert names(project.storeys) == ["L4", "L3", "L2", "L1"]
    assert [s.level for s in project.storeys] == [14.0, 10.5, 7.0, 3.5]
    assert names(project.marks) == ["C1", "C2"]
    assert len(project.by_key) == 8
    assert resolve_lift(project, LiftKey("C2", "L4")).facts.concrete.strength == 35.0


def test_values_are_inherited_from_what_is_nearest():
    project = DEMO
    assert project.by_key[C2L5].concrete == "C35"
    project = set_storey_values(project, "L5", OwnValues(concrete="C45", cover=50.0))
    assert project.by_key[C2L5].concrete == "C45"
    assert project.by_key[C2L5].section.cover == 50.0
    # The mark is nearer than the storey, the lift nearer than the mark.
    project = change_mark(project, "C2", own=OwnValues(cover=45.0))
    assert project.by_key[C2L5].section.cover == 45.0
    assert project.by_key[C2L1].section.cover == 45.0
    project = replace_lift(project, C2L5, project.by_key[C2L5].with_values(cover=60.0))
    assert project.by_key[C2L5].section.cover == 60.0
    assert project.record_by_key[C2L5].own.given == {"cover": 60.0}
    project = kept(inherit(project, [C2L5], "cover"))
    assert project.by_key[C2L5].section.cover == 45.0
    # What is edited otherwise goes on inheriting.
    project = replace_lift(project, C2L5, with_bars(project.by_key[C2L5], "12 D25"))
    assert project.record_by_key[C2L5].own.given == {}
    values = project.basis.values.model_copy(update={"aggregate": 25.0})
    changed = replace_basis(project, project.basis.model_copy(update={"values": values}))
    assert affected(project, changed) == frozenset(project.by_key)
    assert resolve_lift(changed, C2L5).facts.aggregate == 25.0


def beside(keys):
    """The lifts above and below some."""
    names = [storey.name for storey in DEMO.storeys]
    places = [(key.mark, names.index(key.storey) + step) for key in keys for step in (-1, 1)]
    return {LiftKey(mark, names[at]) for mark, at in places if 0 <= at < len(names)}


def test_a_value_of_the_project_concerns_only_who_inherits_it():
    values = DEMO.basis.values.model_copy(update={"concrete": "C45"})
    changed = replace_basis(DEMO, DEMO.basis.model_copy(update={"values": values}))
    former = {key for key, lift in DEMO.by_key.items() if lift.concrete == "C35"}
    # What stands above or below another stiffness is held in another way.
    assert affected(DEMO, changed) == former | beside(former)
    assert len(former) == 28


def test_materials_in_use_are_not_removed():
    project = add_material(DEMO, ConcreteGrade(name="C60", strength=60.0))
    assert users_of_material(project, "concrete", "C60") == []
    assert names(remove_material(project, "concrete", "C60").concretes) == ["C35", "C45"]
    with pytest.raises(InputError, match=r"“C45”, used by C1 · L2, C1 · L1, .* and 4 more"):
        remove_material(project, "concrete", "C45")
    with pytest.raises(InputError, match="used by the project"):
        remove_material(project, "concrete", "C35")
    with pytest.raises(InputError, match="already used"):
        add_material(project, ConcreteGrade(name="c60", strength=50.0))
    renamed = kept(replace_material(DEMO, "C45", ConcreteGrade(name="C50", strength=50.0)))
    assert renamed.by_key[LiftKey("C1", "L1")].concrete == "C50"
    lower = {key for key, lift in DEMO.by_key.items() if lift.concrete == "C45"}
    assert affected(DEMO, renamed) == lower | beside(lower)
    assert len(lower) == 8


def test_a_bar_size_of_ones_own_is_called_out():
    own = BarsOnOffer(own=(OwnBar(name="T26", diameter=26.0, area=531.0),))
    project = replace_basis(DEMO, DEMO.basis.model_copy(update={"bars": own}))
    project = kept(replace_lift(project, C2L5, with_bars(project.by_key[C2L5], "10 t26")))
    bars = resolve_lift(project, C2L5).facts.section.bars
    np.testing.assert_allclose(bars.area, 531.0)
    with pytest.raises(InputError, match="found “t26”"):
        replace_basis(project, project.basis.model_copy(update={"bars": BarsOnOffer()}))
    soft = replace_lift(project, C2L5, with_bars(project.by_key[C2L5], "10 #25M"))
    # A615M: size 25 is the inch size 8, of 1 in diameter.
    np.testing.assert_allclose(resolve_lift(soft, C2L5).facts.section.bars.diameter, 25.4)


def test_a_storey_between_others_lifts_what_is_above():
    project = kept(add_storey(DEMO, "L3", "above"))
    assert names(project.storeys) == ["Roof", "L5", "L4", "L6", "L3", "L2", "L1"]
    levels = {s.name: s.level for s in project.storeys}
    assert (levels["L3"], levels["L6"], levels["L4"]) == (12.6, 16.8, 21.0)
    assert project.record_by_key[LiftKey("C4", "L6")].bars == "10 D25"
    assert len(project.by_key) == 42
    below = kept(add_storey(DEMO, "L1", "below", "B1"))
    assert below.storeys[-1].level == 0.0
    between = add_storey(DEMO, "L2", "below", "M")
    assert [s.level for s in between.storeys[-3:]] == [12.6, 8.4, 4.2]
    with pytest.raises(InputError, match="already used"):
        add_storey(DEMO, "L2", "below", "roof")


def test_a_storey_grows_moves_and_goes():
    grown = change_storey(DEMO, "L2", height=5.0)
    levels = {s.name: s.level for s in grown.storeys}
    assert (levels["L1"], levels["L2"], levels["Roof"]) == (4.2, 9.2, 25.4)
    moved = change_storey(DEMO, "L2", level=8.0)
    heights = {s.name: s.height for s in moved.storeys}
    assert (heights["L2"], heights["L3"]) == (3.8, 4.6)
    with pytest.raises(InputError, match=r"more than 0\.2 m"):
        change_storey(DEMO, "L2", level=12.5)
    gone = kept(remove_storey(DEMO, "L3"))
    assert [s.level for s in gone.storeys] == [20.4, 16.8, 12.6, 8.4, 4.2]
    assert LiftKey("C1", "L3") not in gone.factored_forces.place
    assert len(gone.factored_forces.members) == 30


def test_renaming_takes_everything_with_it():
    project = exempt_member(DEMO, "U7", Member(mark="C5", storey="L5"), exempt=True)
    project = exempt_member(project, "U7", Member(mark="C6"), exempt=True)
    project = join_group(project, [C2L5, C5L5], C2L5, "Upper")
    project = change_storey(project, "L5", new_name="Level 5")
    project = kept(change_mark(project, "C5", new_name="K5"))
    key = LiftKey("K5", "Level 5")
    assert key in project.by_key
    assert project.groups[0].members == (LiftKey("C2", "Level 5"), key)
    assert [str(m) for m in project.combinations[6].not_for] == ["K5 · Level 5", "C6"]
    before = DEMO.factored_forces.row(C5L5, "U3")
    np.testing.assert_array_equal(project.factored_forces.row(key, "U3"), before)
    with pytest.raises(InputError, match="already used"):
        change_mark(project, "K5", new_name="c6")
    with pytest.raises(InputError, match="1 to 40 characters"):
        change_mark(project, "K5", new_name="a\nb")


def test_marks_are_copied_put_in_order_and_removed():
    project = copy_mark(DEMO, "C2")
    assert names(project.marks) == ["C1", "C2", "C7", "C3", "C4", "C5", "C6"]
    assert project.mark_by_name["C7"].lifts == DEMO.mark_by_name["C2"].lifts
    assert LiftKey("C7", "L1") not in project.factored_forces.place
    assert names(move_mark(DEMO, "C6", -5).marks)[0] == "C6"
    assert names(move_mark(DEMO, "C1", 99).marks)[-1] == "C1"
    gone = kept(remove_marks(DEMO, ["C1", "C3"]))
    assert names(gone.marks) == ["C2", "C4", "C5", "C6"]
    assert len(gone.factored_forces.members) == 24
    placed = place_marks(DEMO, {"C1": (1.0, 2.5), "C2": None})
    assert placed.mark_by_name["C1"].place == (1.0, 2.5)
    assert placed.mark_by_name["C2"].place is None
    with pytest.raises(InputError, match="one of C1, C2"):
        place_marks(DEMO, {"C9": (0.0, 0.0)})


def test_stacks_start_and_end_where_lifts_do():
    shorter = remove_lifts(DEMO, [LiftKey("C1", "Roof"), LiftKey("C1", "L1")])
    assert len(shorter.by_key) == 34
    assert LiftKey("C1", "L1") not in shorter.factored_forces.place
    back = add_lifts(shorter, [LiftKey("C1", "L1"), LiftKey("C1", "L2")])
    assert len(back.by_key) == 35
    # Like the lift above it, the nearest there is.
    assert back.record_by_key[LiftKey("C1", "L1")].bars == "12 D25"
    assert [lift.storey for lift in back.mark_by_name["C1"].lifts][-1] == "L1"


def test_a_lift_is_given_to_others_or_to_none():
    targets = [LiftKey("C2", s) for s in ("Roof", "L5", "L4")]
    project = kept(copy_lift(DEMO, C2L1, targets))
    assert {project.by_key[key].section.bars for key in targets} == {"14 D28"}
    assert {project.by_key[key].concrete for key in targets} == {"C45"}
    with pytest.raises(InputError, match="a mark of the project"):
        copy_lift(DEMO, C2L1, [C2L5, LiftKey("C9", "L1")])
    with pytest.raises(InputError, match=r"storey.*L9"):
        copy_lift(DEMO, C2L1, [LiftKey("C2", "L9")])


def test_groups_have_one_call_out():
    project = kept(join_group(DEMO, [C2L5, LiftKey("C2", "L4"), C2L1], C2L1))
    (group,) = project.groups
    assert (group.name, len(group.members)) == ("G1", 3)
    assert project.by_key[C2L5].section.bars == "14 D28"
    changed = replace_lift(project, C2L5, with_bars(project.by_key[C2L5], "16 D25"))
    assert {changed.by_key[key].section.bars for key in group.members} == {"16 D25"}
    # The lift below the group has others on it.
    assert affected(project, changed) == {*group.members, LiftKey("C2", "L3")}
    # A bar that has no place in one has it in none.
    wide = join_group(project, [C2L5, C5L5], C5L5, "Mixed")
    with pytest.raises(InputError, match=r"C5 · L5, bars"):
        replace_lift(wide, C2L5, with_bars(wide.by_key[C2L5], "60 D28"))
    assert names(leave_groups(changed, [C2L1, C2L5]).groups) == []
    assert names(rename_group(changed, "G1", "Tower").groups) == ["Tower"]
    again = join_group(changed, [LiftKey("C2", "L3")], C2L5)
    assert len(again.groups[0].members) == 4
    with pytest.raises(InputError, match="at least two"):
        join_group(DEMO, [C2L1], C2L1)


def test_a_floor_that_does_not_hold_a_lift_lengthens_it():
    record = DEMO.record_by_key[LiftKey("C1", "L2")]
    project = with_records(
        DEMO, {LiftKey("C1", "L2"): record.model_copy(update={"unsupported": ("x",)})}
    )
    kept(project)
    for storey in ("L2", "L3"):
        assert held_height(project, LiftKey("C1", storey), "x") == pytest.approx(8.4)
        assert held_height(project, LiftKey("C1", storey), "y") == pytest.approx(4.2)
    assert held_height(project, LiftKey("C1", "L4"), "x") == pytest.approx(4.2)
    # Bending about y moves a column in x.
    facts = resolve_lift(project, LiftKey("C1", "L3")).facts
    assert (facts.about_y.storey, facts.about_x.storey) == pytest.approx((8400.0, 4200.0))
    long = {LiftKey("C1", "L2"), LiftKey("C1", "L3")}
    assert affected(DEMO, project) == long | beside(long)


def test_no_edit_leaves_what_a_file_would_refuse():
    data = json.loads(project_text(copy_mark(DEMO, "C4")))
    assert [mark["name"] for mark in data["marks"]][3:5] == ["C4", "C7"]


@pytest.mark.parametrize("name", ["", " ", "a\nb", "x" * 41, "\u200b"])
def test_names_can_be_seen_and_are_not_too_long(name):
    keys = [LiftKey("C1", "L1"), LiftKey("C1", "L2")]
    grouped = join_group(DEMO, keys, keys[0])
    for edit in (
        lambda: change_mark(DEMO, "C1", new_name=name),
        lambda: change_storey(DEMO, "L1", new_name=name),
        lambda: rename_group(grouped, "G1", name),
    ):
        with pytest.raises(InputError, match="1 to 40 characters"):
            edit()
