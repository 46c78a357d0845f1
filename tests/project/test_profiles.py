"""Structural steel and several concretes in the project: edited, kept, checked again."""

from __future__ import annotations

import json

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.core.section.rolled import ROLLED
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.column import LiftKey
from fexro.project.dependencies import affected
from fexro.project.edits.basis import remove_material, replace_material, users_of_material
from fexro.project.edits.lifts import replace_lift
from fexro.project.edits.parts import add_part, change_part, composed, mirror_section, turn_section
from fexro.project.edits.profiles import add_profile, change_profile, remove_profile
from fexro.project.file import parse_project, project_text
from fexro.project.profiles import ChannelProfile, HollowProfile, SteelPart, profile_model
from fexro.project.resolve import column_facts, verify
from fexro.project.section import SectionModel, section_of
from fexro.project.shapes import Rectangle, shape_of
from fexro.project.weights import weights

BOX = SectionModel(shape=Rectangle(width=600, depth=600), cover=40, bars="8 D25", ties="D12@200")
C1L3 = LiftKey("C1", "L3")


def with_section(project, key, section):
    lift = project.by_key[key]
    return replace_lift(project, key, lift.model_copy(update={"section": section}))


def test_a_profile_is_added_changed_turned_and_taken_out():
    steel = add_profile(BOX)
    part = steel.profiles[0]
    assert (part.profile.kind, part.profile.depth, part.x, part.grade) == ("I", 270, 0, "S355")
    hollow = change_profile(steel, 0, kind="hollow")
    assert isinstance(hollow.profiles[0].profile, HollowProfile)
    assert hollow.profiles[0].profile.depth == 270
    thicker = change_profile(hollow, 0, wall=20.0, x=10.0, grade="S460")
    assert thicker.profiles[0].profile.wall == 20
    assert thicker.profiles[0].yield_strength == 460
    again = add_profile(remove_profile(thicker, 0))
    assert again.profiles[0].grade == "S355"
    section = section_of(thicker)
    assert section.steel_area == pytest.approx(270**2 - 230**2)


def test_a_second_profile_stands_beside_the_first_and_beside_openings():
    wide = BOX.model_copy(update={"shape": Rectangle(width=1200, depth=900), "bars": "16 D25"})
    two = add_profile(add_profile(wide))
    assert two.profiles[0].x == two.profiles[0].y == 0
    assert (two.profiles[1].x, two.profiles[1].y) != (0, 0)
    assert not section_of(two).misplaced
    cut = add_part(add_part(wide, "cut"), "cut")
    # The first opening is in the middle of the section itself, the second elsewhere.
    assert [(part.x, part.y) == (0, 0) for part in cut.shape.parts] == [True, True, False]
    beside = add_profile(cut)
    assert not section_of(beside).misplaced
    # Where there is less room, it is as large as there is: 270 mm would reach the second layer.
    crowded = BOX.model_copy(update={"bars": "16 D25 + 8 D20 second layer"})
    small = add_profile(crowded)
    assert small.profiles[0].profile.depth < add_profile(BOX).profiles[0].profile.depth
    assert not section_of(small).misplaced


def test_what_cannot_be_steel_is_refused():
    steel = add_profile(BOX)
    with pytest.raises(InputError, match="flange less than 135 mm"):
        change_profile(steel, 0, flange=150.0)
    with pytest.raises(InputError, match="steel 1, x"):
        change_profile(steel, 0, x=float("nan"))
    with pytest.raises(InputError, match="wholly inside the concrete"):
        section_of(change_profile(steel, 0, x=250.0))


def test_steel_is_turned_and_mirrored_with_its_section():
    channel = SteelPart(profile=ChannelProfile(depth=200, width=75, web=8, flange=11), x=50, y=20)
    section = BOX.model_copy(update={"profiles": (channel,)})
    before = section_of(section).steel[0].outline
    turned = section_of(turn_section(section, 90.0)).steel[0].outline
    assert turned.centroid == pytest.approx((-before.centroid[1], before.centroid[0]))
    mirrored = section_of(mirror_section(section)).steel[0].outline
    assert mirrored.centroid == pytest.approx((-before.centroid[0], before.centroid[1]))
    assert section_of(turn_section(section, 90.0)).steel_area == pytest.approx(before.area)


def test_steel_is_kept_in_the_file_and_changes_what_is_checked():
    project = tarnholm_columns()
    changed = with_section(project, C1L3, add_profile(project.by_key[C1L3].section))
    assert C1L3 in affected(project, changed)
    # The lift below meets a stiffer column at its top.
    assert LiftKey("C1", "L2") in affected(project, changed)
    again = parse_project(project_text(changed).encode(), "kept")
    assert again.by_key[C1L3].section.profiles == changed.by_key[C1L3].section.profiles
    below = column_facts(changed, LiftKey("C1", "L2")).about_x.top.column
    assert below.steel[1] > 0
    verify(again)


def test_steel_adds_to_the_weight():
    project = tarnholm_columns()
    case = project.cases[0].model_copy(update={"self_weight": True})
    heavy = project.changed(cases=(case, *project.cases[1:]))
    changed = with_section(heavy, C1L3, add_profile(project.by_key[C1L3].section))
    steel = section_of(changed.by_key[C1L3].section).steel_area
    height = project.storey_by_name["L3"].height
    more = weights(changed)[C1L3][2] - weights(heavy)[C1L3][2]
    assert more == pytest.approx((78.5 - 25.0) * steel * 1e-6 * height)


def test_parts_of_another_concrete():
    project = tarnholm_columns()
    name = project.concretes[-1].name
    section = project.by_key[C1L3].section
    core = composed(section.shape)
    inner = core.parts[0].model_copy(
        update={"shape": Rectangle(width=200, depth=200), "concrete": name}
    )
    jacketed = section.model_copy(
        update={"shape": core.model_copy(update={"parts": (core.parts[0], inner)})}
    )
    changed = with_section(project, C1L3, jacketed)
    facts = column_facts(changed, C1L3)
    assert [c.name for c in facts.cross_section.concretes].count(name) == 1
    assert sum(a.outline.area for a in facts.section.concretes) == pytest.approx(
        shape_of(section.shape).outline().area
    )
    assert str(C1L3) in users_of_material(changed, "concrete", name)
    with pytest.raises(InputError, match=r"used by .*C1 · L3"):
        remove_material(changed, "concrete", name)
    grade = changed.concrete_by_name[name].model_copy(update={"name": "C99"})
    renamed = replace_material(changed, name, grade)
    assert renamed.by_key[C1L3].section.shape.parts[1].concrete == "C99"
    # Its strength counts.
    weaker = replace_material(
        changed, name, grade.model_copy(update={"name": name, "strength": 20.0})
    )
    assert C1L3 in affected(changed, weaker)
    with pytest.raises(InputError, match="concrete of a part"):
        with_section(changed, C1L3, change_part(jacketed, 1, concrete="nothing"))
    data = json.loads(project_text(changed))
    assert name in json.dumps(data["marks"])


def test_usual_sizes_can_be_kept():
    for profile in ROLLED:
        assert profile_model(profile).geometry() == profile
        assert profile.outline().area > 0
    assert np.isfinite(sum(p.outline().area for p in ROLLED))
