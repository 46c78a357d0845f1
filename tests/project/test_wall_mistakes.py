"""What walls got wrong where provisions are put together: each with numbers worked out by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.codes.en1998_1.wall_shear import spectrum_share
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.section.leg_forces import leg_shears
from fexro.core.section.shapes.legs import Leg, Legs
from fexro.demo.tarnholm import tarnholm_archive
from fexro.project.actions import cases_along
from fexro.project.bearing import strip_loads
from fexro.project.cases import Combination
from fexro.project.column import LiftKey
from fexro.project.edits.bearing import with_bearing_wall
from fexro.project.edits.lifts import with_records
from fexro.project.edits.marks import change_mark
from fexro.project.edits.walls import add_opening, set_diagonals, set_hoops, set_panel_bars
from fexro.project.file import parse_project, project_text
from fexro.project.forces import Forces
from fexro.project.resolve import resolve_lift
from fexro.project.section import DiagonalBars
from fexro.project.values import OwnDirection, OwnValues
from fexro.project.wall_sizing import required_in_panels
from fexro.project.walls import Opening, WallLine
from tests.project.test_walls import built

DUCTILE = {"frame": "walls", "sway": "braced"}


def special(project, code="ACI 318-19", ductility="high"):
    """The project under a code, its walls ductile."""
    basis = project.basis.model_copy(update={"code": code})
    for mark in [one.name for one in project.marks]:
        own = OwnValues(
            cover=30.0,
            x=OwnDirection(ductility=ductility, **DUCTILE),
            y=OwnDirection(ductility=ductility, **DUCTILE),
            laps="none",
        )
        project = change_mark(project, mark, own=own)
    return project.changed(basis=basis)


def loaded(project, rows):
    """The project with forces of combinations: (N, Vx, Vy, T, Mx, My) at both ends by member."""
    names = sorted({name for row in rows.values() for name in row})
    forces = Forces.of(
        names,
        {
            LiftKey(*key.split(" ")): {name: [row, row] for name, row in given.items()}
            for key, given in rows.items()
        },
    )
    combinations = tuple(Combination(name=name) for name in names)
    return project.changed(combinations=combinations, factored_forces=forces)


def checked(project, key):
    return check_lift(resolve_lift(project, LiftKey(*key.split(" "))))


def of_clause(result, clause):
    return [one for one in result.findings if clause in one.clause]


# Bearing walls


def test_wind_and_moments_at_the_ends_of_a_strip_pull_opposite_faces():
    demo = tarnholm_archive()
    (wall,) = demo.bearing_walls
    # Two storeys of 3.6 m, 1.5 kN/m² one way: by three moments −qL²/8 over the floor between.
    storeys = tuple(storey.name for storey in demo.storeys[:2])
    wall = wall.model_copy(
        update={
            "name": "P9",
            "storeys": storeys,
            "floors": (),
            "parapet": 0.0,
            "self_weight": None,
            "winds": (wall.winds[0].model_copy(update={"wall": 1.5, "parapet": 0.0}),),
        }
    )
    changed = with_bearing_wall(demo, wall)
    rows, loads = strip_loads(changed, wall)
    heights = [demo.storey_by_name[name].height for name in storeys]
    support = 1.5 * (heights[0] ** 3 + heights[1] ** 3) / (8 * sum(heights))
    case = wall.winds[0].case
    above, below = rows[LiftKey("P9", storeys[0])][case], rows[LiftKey("P9", storeys[1])][case]
    assert above[1][4] == pytest.approx(support)
    assert below[0][4] == pytest.approx(support)
    # Between the ends it bends the other way, as a beam under the load alone would.
    assert [one.value for one in loads] == [1.5, 1.5]
    key = LiftKey("P9", storeys[1])
    ends, _ = changed.case_forces.of_member(key)
    _, along, _ = cases_along(changed, key, ends, np.zeros((2, 0, 6)))
    middle = along[64, changed.case_forces.columns.index(case), 4]
    assert middle == pytest.approx(-1.5 * heights[1] ** 2 / 8 + support / 2)


def test_forces_of_strips_in_a_file_do_not_count():
    demo = tarnholm_archive()
    key = LiftKey("P1", demo.bearing_walls[0].storeys[0])
    wrong = demo.case_forces.with_rows({key: {"D": [[1.0] * 6] * 2}})
    read = parse_project(project_text(demo.changed(case_forces=wrong)).encode(), "file")
    assert read == demo


def test_a_thicker_strip_weighs_more_at_once():
    demo = tarnholm_archive()
    (wall,) = demo.bearing_walls
    key = LiftKey("P1", wall.storeys[0])
    record = demo.record_by_key[key]
    shape = record.shape.model_copy(update={"depth": record.shape.depth + 100})
    changed = with_records(demo, {key: record.model_copy(update={"shape": shape})})
    before, after = (one.case_forces.row(key, wall.self_weight)[1][0] for one in (demo, changed))
    height = demo.storey_by_name[key.storey].height
    # A single load of 60 kN is spread over its bearing and four thicknesses, too.
    spread = 60e3 / (250 + 4 * 280) - 60e3 / (250 + 4 * 180)
    assert after - before == pytest.approx(wall.density * 0.1 * (height + wall.parapet) + spread)


# Shear of legs


L_SHAPE = Legs((Leg(0, 0, 6000, 0, 300), Leg(0, 0, 0, 6000, 300)))
T_SHAPE = Legs((Leg(0, 0, 6000, 0, 300), Leg(3000, 0, 3000, 5000, 300)))
Y_SHAPE = Legs((Leg(0, 0, 5000, 0, 300), Leg(0, 0, -3000, 4000, 250), Leg(0, 0, -3000, -4000, 250)))


@pytest.mark.parametrize("legs", [L_SHAPE, T_SHAPE, Y_SHAPE])
@pytest.mark.parametrize("force", [(900e3, 0, 0), (0, 500e3, 0), (3e5, -2e5, 4e8)])
def test_legs_that_meet_in_a_point_balance_the_shears(legs, force):
    centroid = legs.outline().centroid
    shears, left = leg_shears(legs, centroid, np.array([force]))
    along = np.array([leg.direction for leg in legs.legs])
    np.testing.assert_allclose(shears[0] @ along, force[:2], atol=1e-3)
    np.testing.assert_allclose(left[0, :2], 0, atol=1e-3)
    # What turns is told, not traded for shear.
    arms = np.array([leg.middle - centroid for leg in legs.legs])
    turned = (arms[:, 0] * along[:, 1] - arms[:, 1] * along[:, 0]) @ shears[0]
    assert left[0, 2] == pytest.approx(force[2] - turned, abs=1.0)


def test_shear_across_a_straight_wall_is_checked_out_of_plane():
    project = loaded(built(), {"W1 L1": {"U": (1000, 500, 2000, 0, 0, 0)}})
    found = checked(project, "W1 L1")
    assert found.state is State.EXCEEDED
    (across,) = [one for one in found.findings if one.name == "Shear out of plane"]
    # By hand: d of 250 less 25, 10 and 6; φ 0.66 λs ρ^(1/3) √f'c b d and N/(6 A) beside it.
    section = resolve_lift(project, LiftKey("W1", "L1")).facts.section
    depth = 250 - 25 - 10 - 6
    pulled = section.bars.area[section.bars.y > 0].sum()
    f_c = resolve_lift(project, LiftKey("W1", "L1")).facts.concrete.strength
    size = min(math.sqrt(2 / (1 + 0.004 * depth)), 1)
    width = 6000
    stress = 0.66 * size * (pulled / (width * depth)) ** (1 / 3) * math.sqrt(f_c)
    stress += min(1e6 / (6 * section.outline.area), 0.05 * f_c)
    assert across.values["strength"].value == pytest.approx(0.75 * stress * width * depth, rel=0.02)


def test_shear_across_a_wall_askew_is_not_checked():
    askew = WallLine(x1=0, y1=0, x2=4, y2=3, thickness=250)
    project = loaded(built(askew), {"W1 L1": {"U": (1000, -300, 400, 0, 0, 0)}})
    found = checked(project, "W1 L1")
    assert found.state is State.NOT_CHECKED
    assert any("askew" in one.message for one in found.findings)


# Ductile walls to ACI


def test_a_lone_leg_shares_its_force_with_none_and_is_limited_as_a_group():
    project = special(built(storeys=8))
    project = set_panel_bars(project, [LiftKey("W1", "L1")], ties="D16@75")
    project = loaded(project, {"W1 L1": {"E": (2000, 1500, 0, 0, 0, 100)}})
    (found,) = of_clause(checked(project, "W1 L1"), "18.10.4")
    f_c = project.concretes[0].strength
    cap = 0.66 * math.sqrt(f_c) * 250 * 6000
    assert found.values["strength"].value == pytest.approx(0.75 * cap)


def test_piers_beside_an_opening_share_the_force():
    project = add_opening(
        special(built()), "W1", [Opening(storey="L1", line=0, at=2.4, width=1.2, height=2.2)]
    )
    project = special(project)
    piers = [LiftKey("W1.1", "L1"), LiftKey("W1.2", "L1")]
    project = set_panel_bars(project, piers, ties="D16@75")
    rows = {"W1.1 L1": {"E": (500, 700, 0, 0, 0, 10)}, "W1.2 L1": {"E": (500, 1500, 0, 0, 0, 10)}}
    project = loaded(project, rows)
    cap = 0.66 * math.sqrt(project.concretes[0].strength) * 250 * (2400 + 2400)
    for key in rows:
        (found,) = of_clause(checked(project, key), "18.10.4.4")
        assert found.values["found"].value == pytest.approx(2200e3)
        assert found.values["strength"].value == pytest.approx(0.75 * cap)
        assert found.ratio == pytest.approx(2200e3 / (0.75 * cap))


def test_another_steel_of_horizontal_bars_counts_in_special_walls():
    project = special(built(storeys=8))
    weak = project.steels[0].model_copy(update={"name": "weak", "yield_strength": 300.0})
    project = project.changed(steels=(*project.steels, weak))
    own = project.mark_by_name["W1"].own.model_copy(update={"tie_steel": "weak"})
    project = loaded(change_mark(project, "W1", own=own), {"W1 L1": {"E": (0, 600, 0, 0, 0, 100)}})
    (found,) = of_clause(checked(project, "W1 L1"), "18.10.4")
    f_c, rho = project.concretes[0].strength, 2 * math.pi * 25 / (200 * 250)
    nominal = (0.17 * math.sqrt(f_c) + rho * 300) * 250 * 6000
    assert found.values["strength"].value == pytest.approx(0.75 * nominal)


def test_bars_of_curtains_at_a_free_end_are_tied():
    project = special(built(storeys=4))
    key = LiftKey("W1", "L1")
    project = set_panel_bars(project, [key], bars="D25@100 each face")
    project = loaded(project, {"W1 L1": {"E": (500, 300, 0, 0, 0, 500)}})
    found = of_clause(checked(project, "W1 L1"), "18.10.6.5")
    # 2 × 491 / (100 × 250) = 0.039 > 2.8/420.
    assert found
    assert found[0].state is State.EXCEEDED
    assert found[0].values["ratio"].value == pytest.approx(2 * math.pi * 12.5**2 / (100 * 250))
    tied = set_hoops(project, [key], "D12@100")
    assert of_clause(checked(tied, "W1 L1"), "18.10.6.5")[0].state is State.SATISFIED


# Coupling beams


def test_skin_bars_beside_diagonal_groups_are_compared():
    door = Opening(storey="L1", line=0, at=2.0, width=1.5, height=2.2)
    project = special(add_opening(built(), "W1", [door]))
    key = LiftKey("W1.B1", "L1")
    project = set_diagonals(
        project, [key], DiagonalBars(bars="4 D20", confined="groups", hoops="D12@100")
    )
    record = project.record_by_key[key]
    bare = record.model_copy(update={"bars": "4 D16 corners", "ties": "D10@300"})
    project = with_records(project, {key: bare})
    project = loaded(project, {"W1.B1 L1": {"E": (0, 0, 100, 0, 0, 0)}})
    found = checked(project, "W1.B1 L1").findings
    skin = {one.name: one for one in found if one.short == "skin bars"}
    # 1300 mm deep, cover 30, ties of 10, bars of 16: corners 1204 mm apart where 300 are allowed.
    apart = skin["Spacing of skin bars along the beam"]
    assert apart.values["found"].value == pytest.approx(1300 - 2 * (30 + 10 + 8))
    assert apart.state is State.EXCEEDED
    across = skin["Skin bars across the beam"]
    assert across.values["limit"].value == pytest.approx(0.002 * 250 * 300)
    assert across.values["found"].value == pytest.approx(2 * math.pi * 25)


def test_a_deep_coupling_beam_has_bars_spread_over_it():
    door = Opening(storey="L1", line=0, at=2.0, width=1.5, height=2.2)
    project = add_opening(built(), "W1", [door])
    project = loaded(project, {"W1.B1 L1": {"U": (0, 0, 100, 0, 0, 0)}})
    found = checked(project, "W1.B1 L1")
    assert found.state is State.EXCEEDED
    names = {one.name for one in found.findings if one.clause.startswith("9.9")}
    assert {"Size of the deep beam", "Bars along the deep beam"} <= names
    assert "Spacing in the deep beam" in names


def test_ductile_coupling_beams_to_en_have_the_shear_of_their_moments():
    door = Opening(storey="L1", line=0, at=2.0, width=1.5, height=2.2)
    project = special(add_opening(built(), "W1", [door]), "EN 1992-1-1", "medium")
    project = loaded(project, {"W1.B1 L1": {"E": (0, 0, 50, 0, 0, 0)}})
    found = checked(project, "W1.B1 L1")
    (shear,) = [one for one in found.findings if one.short == "capacity shear"]
    # 4 D16 at the corners: As fyd z at each face, z about 0.95 d, over 1.5 m.
    facts = resolve_lift(project, LiftKey("W1.B1", "L1")).facts
    tension = 2 * math.pi * 64 * facts.steel.yield_strength / 1.15
    depth = 1300 - 25 - 10 - 8 - 5
    assert shear.values["found"].value == pytest.approx(2 * tension * depth / 1500, rel=0.06)
    (hoops,) = [one for one in found.findings if one.clause == "EN 1998-1, 5.4.3.1.2(6)"]
    assert hoops.values["limit"].value == pytest.approx(8 * 16)


# Any plan


@pytest.mark.parametrize("angle", [30, 45, 60, 120, 135, 150])
def test_legs_meet_at_any_angle_and_their_bars_are_inside(angle):
    c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    one = WallLine(x1=0, y1=0, x2=6, y2=0, thickness=300)
    other = WallLine(x1=6, y1=0, x2=6 - 4 * c, y2=4 * s, thickness=250)
    project = built(one, other)
    facts = resolve_lift(project, LiftKey("W1", "L1")).facts
    # Of each curtain at its face: nowhere is concrete further from a bar than the spacing asks.
    bars, legs = facts.section.bars, facts.panel.legs
    along = bars.x[np.abs(bars.y + 300 / 2 - 25 - 10 - 6) < 1]
    assert np.diff(np.sort(along)).max() <= 200 + 1e-6
    assert legs.lengths[0] > 6000
    project = loaded(project, {"W1 L1": {"U": (2000, 200, 100, 0, 50, 300)}})
    assert checked(project, "W1 L1").findings


def test_required_steel_begins_at_what_a_code_allows():
    project = loaded(built(), {"W1 L1": {"U": (500, 20, 0, 0, 0, 10)}})
    for code, least in (("ACI 318-19", 0.0025), ("EN 1992-1-1", 0.002)):
        basis = project.basis.model_copy(update={"code": code})
        (found,) = required_in_panels(project.changed(basis=basis), [LiftKey("W1", "L1")])
        assert found.required == pytest.approx(least)
        assert found.least_does


def test_the_spectrum_falls_faster_beyond_its_last_corner():
    assert spectrum_share(0.3, 0.5, 2.0) == 1
    assert spectrum_share(1.0, 0.5, 2.0) == pytest.approx(2.0)
    # EN 1998-1, (3.4) and (3.5): Se of 2.5 s is TC TD / T² of the plateau.
    assert spectrum_share(2.5, 0.5, 2.0) == pytest.approx(2.5**2 / (0.5 * 2.0))


def test_friction_in_joints_counts_compression_that_lasts():
    project = special(built(storeys=4))
    rows = {
        "W1 L1": {"E1": (4000, 300, 0, 0, 0, 500), "E2": (1000, 300, 0, 0, 0, 500)},
    }
    project = loaded(project, rows)
    found = of_clause(checked(project, "W1 L1"), "22.9")
    friction = next(one for one in found if one.short == "joint")
    facts = resolve_lift(project, LiftKey("W1", "L1")).facts
    crossing = facts.section.bars.total_area * min(facts.steel.yield_strength, 420.0)
    limit = 0.2 * facts.concrete.strength * 250 * 6000
    nominal = min(1.0 * (crossing + 1000e3), limit, 11 * 250 * 6000)
    assert friction.values["limit"].value == pytest.approx(0.75 * nominal)
