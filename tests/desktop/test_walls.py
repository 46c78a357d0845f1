"""The walls stage, from nothing to bars, and the demo's walls, through what a person sees."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import Qt

from fexro.core.findings import State
from fexro.demo.tarnholm import tarnholm_archive
from fexro.desktop.shell.stages import Place
from fexro.desktop.walls.drawn_lines import snapped
from fexro.project.beginning import new_project
from fexro.project.cases import Combination
from fexro.project.column import LiftKey
from fexro.project.edits.storeys import add_storey
from fexro.project.forces import Forces
from fexro.project.storey import GridLine
from tests.desktop.pages import bench_of
from tests.desktop.test_basis import chosen, typed

LEFT = Qt.MouseButton.LeftButton
WEAK = LiftKey("K1.B1", "L3")


@pytest.fixture
def walls(qtbot, empty_window):
    """The demo with its walls, on the walls stage."""
    empty_window.open_project(tarnholm_archive(), None)
    qtbot.waitUntil(lambda: empty_window.document.complete, timeout=60_000)
    empty_window.go(Place("walls"))
    return empty_window


@pytest.fixture
def beginning(empty_window):
    """Two storeys and nothing in them, on the walls stage."""
    project = add_storey(add_storey(new_project(), None, "above"), "L1", "above")
    empty_window.open_project(project, None)
    empty_window.go(Place("walls"))
    return empty_window


def page_of(window):
    return window.stage("walls").page


def settled(qtbot, window):
    qtbot.waitUntil(lambda: window.document.complete, timeout=60_000)


def cell(model, row, column, text):
    return model.setData(model.index(row, column), text)


def test_a_wall_is_built_from_nothing(qtbot, beginning):
    page, document = page_of(beginning), beginning.document
    typed(qtbot, page.new, "W1: 0 0, 6 0 / 250")
    assert page.wall == "W1"
    assert set(document.project.by_key) == {LiftKey("W1", "L1"), LiftKey("W1", "L2")}
    qtbot.mouseClick(page.openings.add, LEFT)
    settled(qtbot, beginning)
    assert LiftKey("W1.B1", "L1") in document.project.by_key
    # The heading says metres: the door is made 1.4 m wide and goes through both storeys.
    assert cell(page.openings.model, 0, 3, "1.4")
    assert cell(page.openings.model, 0, 0, "all")
    settled(qtbot, beginning)
    openings = document.project.walls[0].openings
    assert [(one.storey, one.width) for one in openings] == [("L2", 1.4), ("L1", 1.4)]
    assert len(page.elevation.members()) == 6
    # Undone step by step, to nothing.
    for _ in range(4):
        document.undo()
    assert document.project.walls == ()


def press(qtbot, view, place, click=None):
    """Click at a place in plan, m."""
    at = view._fit().point(*place).toPoint()
    (click or qtbot.mouseClick)(view, LEFT, pos=at)


def test_a_wall_is_drawn_in_plan_and_can_be_undone(qtbot, beginning):
    page, document = page_of(beginning), beginning.document
    grid = (GridLine(name="A", axis="x", at=2.0), GridLine(name="1", axis="y", at=5.0))
    document.edit("Grid", lambda project: project.changed(grid=grid))
    qtbot.mouseClick(page.draw, LEFT)
    view = page.drawn
    assert page.stack.currentWidget() is view
    # A little beside a crossing of the grid; 6.04 m along it; square to that.
    press(qtbot, view, (2.05, 4.96))
    press(qtbot, view, (6.04, 5.03))
    press(qtbot, view, (9.0, 9.0))
    qtbot.keyClick(view, Qt.Key.Key_Backspace)
    press(qtbot, view, (6.02, 7.98))
    assert view.places == [(2.0, 5.0), (6.0, 5.0), (6.0, 8.0)]
    qtbot.mouseMove(view, view._fit().point(4.0, 8.0).toPoint())
    assert not view.grab().isNull()
    qtbot.keyClick(view, Qt.Key.Key_Return)
    settled(qtbot, beginning)
    (wall,) = document.project.walls
    assert [(one.x1, one.y1, one.x2, one.y2) for one in wall.lines] == [
        (2.0, 5.0, 6.0, 5.0),
        (6.0, 5.0, 6.0, 8.0),
    ]
    assert not page.draw.isChecked()
    assert page.wall == wall.name
    assert page.stack.currentWidget() is not view
    # Shorter than it is thick it is refused; what is drawn stays, Esc leaves.
    qtbot.mouseClick(page.draw, LEFT)
    for place in ((2.0, 5.0), (2.1, 5.0)):
        view.places.append(place)
    qtbot.keyClick(view, Qt.Key.Key_Return)
    assert page.error.isVisible()
    assert view.places == [(2.0, 5.0), (2.1, 5.0)]
    assert len(document.project.walls) == 1
    qtbot.keyClick(view, Qt.Key.Key_Escape)
    assert not page.draw.isChecked()
    document.undo()
    assert document.project.walls == ()


def test_places_that_are_drawn_are_those_that_are_meant():
    project = tarnholm_archive()
    (x, y) = (project.walls[0].lines[0].x1, project.walls[0].lines[0].y1)
    assert snapped(project, (x + 0.1, y - 0.1), None, 0.3) == (x, y)
    far = (1000.04, 2000.06)
    assert snapped(project, far, None, 0.01) == (1000.0, 2000.1)
    # Square to the place before, on a step along it.
    assert snapped(project, far, (1000.1, 1990.0), 0.1) == (1000.1, 2000.1)


def test_what_is_not_understood_is_told_and_nothing_is_lost(qtbot, beginning):
    page, document = page_of(beginning), beginning.document
    typed(qtbot, page.new, "0 0, six 0 / 250")
    assert page.error.isVisible()
    assert "six" in page.error.text()
    assert document.project.walls == ()
    typed(qtbot, page.new, "0 0, 6 0 / 250; 0 3, 6 3 / 250")
    assert "do not all meet" in page.error.text()
    # They are pointed at where they would be.
    assert [line.y1 for line in page.plan.refused] == [0, 3]
    assert not page.plan.grab().isNull()
    typed(qtbot, page.new, "0 0, 6 0 / 250")
    assert not page.error.isVisible()
    assert page.plan.refused == ()
    qtbot.mouseClick(page.openings.add, LEFT)
    settled(qtbot, beginning)
    assert not cell(page.openings.model, 0, 3, "9")
    assert page.openings.error.isVisible()
    assert "inside the wall" in page.openings.error.text()
    # It is pointed at where it would be: from the middle out of the wall.
    (area,) = page.elevation.refused_areas()
    wall = page.elevation.area_of(LiftKey("W1", "L2"))
    assert area.left() > wall.left()
    assert area.right() > wall.right()
    assert not page.elevation.grab().isNull()
    assert document.project.walls[0].openings[0].width == 1.0
    assert cell(page.openings.model, 0, 3, "1.2")
    assert page.elevation.refused_areas() == []


def test_bars_are_typed_and_proposed_for_forces(qtbot, beginning):
    page, document = page_of(beginning), beginning.document
    typed(qtbot, page.new, "W1: 0 0, 6 0 / 250")
    key = LiftKey("W1", "L1")
    row = np.array([[500.0, 0, 0, 0, 0, 0], [500.0, 0, 0, 0, 0, 0]])
    # N, Vx, Vy, T, Mx, My: along the wall, which runs along x.
    row[:, 1], row[:, 5] = 500.0, 7000.0

    def loaded(project):
        forces = Forces.of(("U1",), {key: {"U1": row}})
        return project.changed(combinations=(Combination(name="U1"),), factored_forces=forces)

    document.edit("Forces", loaded)
    settled(qtbot, beginning)
    page.choose(key)
    panel = page.panel
    typed(qtbot, panel.form.fields["bars"], "D10@300 each face")
    typed(qtbot, panel.form.fields["ties"], "D10@150")
    settled(qtbot, beginning)
    assert document.project.by_key[key].section.bars == "D10@300 each face"
    weak = document.results[key]
    assert weak.state is State.EXCEEDED
    qtbot.mouseClick(panel.propose, LEFT)
    qtbot.waitUntil(lambda: "least of" in panel.told.text(), timeout=60_000)
    settled(qtbot, beginning)
    assert document.results[key].state is not State.EXCEEDED
    assert document.project.by_key[key].section.bars != "D10@300 each face"
    # Thicker, in all storeys.
    chosen(panel.form.fields["for"], "all")
    typed(qtbot, panel.form.fields["thickness"], "300")
    shapes = [lift.section.shape for lift in document.project.by_key.values()]
    assert {shape.legs[0].thickness for shape in shapes} == {300}


def test_the_stage_opens_at_the_worst_member(qtbot, walls):
    page = page_of(walls)
    assert walls.stage("walls").unsettled() == 1
    assert page.wall == "K1"
    assert page.panel.key == WEAK
    assert page.list.item(0).text().startswith("K1")
    assert "K1.B1 · L3" in page.panel.headline.text()


def test_a_beam_is_made_as_the_one_below_and_settled(qtbot, walls):
    page, document = page_of(walls), walls.document
    page.choose(WEAK)
    qtbot.mouseClick(page.panel.alike, LEFT)
    settled(qtbot, walls)
    assert document.project.by_key[WEAK].section.ties == "D14@80"
    assert document.results[WEAK].state is not State.EXCEEDED
    assert walls.stage("walls").unsettled() == 0
    document.undo()
    settled(qtbot, walls)
    # Or with diagonal bars.
    page.choose(WEAK)
    typed(qtbot, page.panel.form.fields["diagonals"], "4 D20 section D12@75")
    group = document.project.by_key[WEAK].section.diagonals
    assert (group.bars, group.confined, group.hoops) == ("4 D20", "section", "D12@75")
    typed(qtbot, page.panel.form.fields["diagonals"], "none")
    assert document.project.by_key[WEAK].section.diagonals is None


def test_the_elevation_is_picked_and_walked_and_opens_the_bench(qtbot, walls):
    page = page_of(walls)
    elevation = page.elevation
    place = elevation.area_of(LiftKey("K1.1", "L1")).center().toPoint()
    qtbot.mouseClick(elevation, LEFT, pos=place)
    assert page.panel.key == LiftKey("K1.1", "L1")
    qtbot.keyClick(elevation, Qt.Key.Key_Up)
    assert page.panel.key.storey == "L2"
    qtbot.mouseDClick(elevation, LEFT, pos=place)
    assert walls.document.selection.lift == LiftKey("K1.1", "L1")
    assert walls.shows(walls.stage("bench"))
    # And back to where one was.
    walls.go(Place("walls"))
    assert page.panel.key == LiftKey("K1.1", "L1")


def test_required_steel_stands_beside_what_there_is(qtbot, walls):
    page = page_of(walls)
    page.show_member(LiftKey("W1", "L1"))
    qtbot.mouseClick(page.required, LEFT)
    required = page.elevation.required
    qtbot.waitUntil(lambda: len(required) == 7, timeout=120_000)
    assert not any(key.mark.startswith("W1.B") for key in required)
    needed, provided = required[LiftKey("W1", "L1")].split(" of ")
    # By hand: curtains of D16@200 in 5 m, beside 8 D25 at each end.
    area = 16 * np.pi * 25**2 / 4
    assert float(provided.split(" ")[0]) > 100 * area / (5000 * 300)
    assert 0 < float(needed.removeprefix("≤ ")) < 8
    # An edit makes it another wall.
    page.choose(LiftKey("W1", "L1"))
    typed(qtbot, page.panel.form.fields["ties"], "D14@200")
    assert not required


def test_panels_of_a_storey_stand_to_scale(qtbot, walls):
    page = page_of(walls)
    page.show_member(LiftKey("W1.1", "L2"))
    left, right = (page.elevation.area_of(LiftKey(f"W1.{n}", "L2")) for n in (1, 2))
    beam = page.elevation.area_of(LiftKey("W1.B1", "L2"))
    # 2 m of wall on both sides of an opening of 1 m.
    assert left.width() == pytest.approx(right.width(), abs=1.5)
    assert beam.width() == pytest.approx(left.width() / 2, abs=1.5)


def test_a_bearing_wall_is_built_and_its_forces_follow(qtbot, walls):
    page, document = page_of(walls), walls.document
    qtbot.mouseClick(page.new_bearing, LEFT)
    assert page.wall == "P2"
    view = page.bearing
    typed(qtbot, view.form.fields["thickness"], "200")
    typed(qtbot, view.form.fields["wind"], "Wy 1.2 / 0")
    view.loads.add_one()
    settled(qtbot, walls)
    key = LiftKey("P2", "Roof")
    row = document.project.case_forces.row(key, "D")
    assert row[0][0] == pytest.approx(10.0)
    assert document.results[key].state is not State.NOT_CHECKED
    # By hand: w h²/8 of the wind, in the diagram of the case with it alone times its factor.
    (load,) = [one for one in document.project.lift_loads if one.mark == "P2"]
    assert load.value == pytest.approx(1.2)
    # Beside an opening of 1.2 m it is 1.6 m that a strip of 1 m carries.
    typed(qtbot, view.form.fields["beside"], "1.2")
    (load,) = [one for one in document.project.lift_loads if one.mark == "P2"]
    assert load.value == pytest.approx(1.6 * 1.2)
    assert document.project.case_forces.row(key, "D")[0][0] == pytest.approx(16.0)
    typed(qtbot, view.form.fields["wind"], "strong")
    assert document.project.bearing_walls[-1].winds[0].wall == 1.2
    qtbot.mouseClick(page.remove, LEFT)
    assert key not in document.project.by_key


def test_a_panel_has_the_words_of_walls_on_its_bench(qtbot, walls):
    key = LiftKey("W1", "L4")
    walls.go(Place(lift=key))
    fields = bench_of(walls).section.fields
    names = {name: fields[name].accessibleName() for name in ("bars", "ties", "hoops")}
    assert names == {"bars": "Vertical bars", "ties": "Horizontal", "hoops": "Hoops of ends"}
    typed(qtbot, fields["hoops"], "D10@80")
    document = walls.document
    assert document.project.by_key[key].section.hoops == "D10@80"
    typed(qtbot, fields["hoops"], "often")
    assert document.project.by_key[key].section.hoops == "D10@80"
    typed(qtbot, fields["hoops"], "none")
    assert document.project.by_key[key].section.hoops is None
    walls.go(Place(lift=LiftKey("C1", "L4")))
    assert "hoops" not in bench_of(walls).section.fields


def test_a_wall_is_renamed_where_its_lines_are_typed(qtbot, walls):
    page, document = page_of(walls), walls.document
    page.show_member(WEAK)
    text = page.lines.text()
    assert text.startswith("K1: ")
    typed(qtbot, page.lines, text.replace("K1:", "Stair:"))
    assert page.wall == "Stair"
    assert page.elevation.chosen == LiftKey("Stair.B1", "L3")
    assert page.panel.key == LiftKey("Stair.B1", "L3")
    settled(qtbot, walls)
    assert document.results[LiftKey("Stair.B1", "L3")].state is State.EXCEEDED
    typed(qtbot, page.lines, page.lines.text().replace("Stair:", "W1:"))
    assert "already there" in page.error.text()
    assert page.wall == "Stair"
    page.lines.take_back()
    page.show_member(LiftKey("P1", "Roof"))
    typed(qtbot, page.bearing.form.fields["name"], "Plant")
    assert page.wall == "Plant"
    assert LiftKey("Plant", "Roof") in document.project.by_key


def test_members_are_grouped_and_leave_their_group(qtbot, walls):
    page, document = page_of(walls), walls.document
    page.show_member(WEAK)
    qtbot.mouseClick(page.panel.group, LEFT)
    assert "two members" in page.panel.told.text()
    page.panel.form.show_choice("for", (("all", "all storeys"),), "all")
    qtbot.mouseClick(page.panel.group, LEFT)
    (group,) = document.project.groups[-1:]
    # The other beams of the core are of its kind too.
    assert len(group.members) == 12
    assert "group" in page.panel.headline.text()
    assert len({document.project.by_key[key].section.ties for key in group.members}) == 1
    qtbot.mouseClick(page.panel.group, LEFT)
    assert WEAK not in document.project.group_by_key


def test_a_strip_is_told_per_metre_and_per_bar_spacing(qtbot, walls):
    page, key = page_of(walls), LiftKey("P1", "Roof")
    page.show_member(key)
    view, result = page.bearing, walls.document.results[key]
    assert [view.per.itemText(i) for i in range(view.per.count())] == [
        "per metre",
        "per bar spacing",
    ]
    whole = {name: values for name, _, values, _ in view.diagrams.curves(result)}
    view.per.setCurrentIndex(1)
    view.per.activated.emit(1)
    part = {name: values for name, _, values, _ in view.diagrams.curves(result)}
    # D12@200 in a strip of a metre: a fifth of it; it bends as much.
    for name in ("Axial force", "Shear", "Moment"):
        assert part[name] == pytest.approx(whole[name] / 5)
    assert part["Deflection"] == pytest.approx(whole["Deflection"])
    assert not view.diagrams.grab().isNull()


def test_panels_beams_and_strips_have_a_bench(qtbot, walls):
    for key in (LiftKey("K1.1", "L1"), WEAK, LiftKey("P1", "Roof")):
        walls.go(Place(lift=key))
        bench = walls.stage("bench").page
        qtbot.wait(50)
        for view in range(4):
            bench.pictures.show_view(view)
            assert not bench.grab().isNull()
