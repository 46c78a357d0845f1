"""Making a building in the schedule, by keyboard and mouse alone."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QSettings, Qt
from PyQt6.QtWidgets import QApplication, QPushButton

from fexro.desktop.application import make_window
from fexro.desktop.document import Document
from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey
from fexro.project.file import read_project
from tests.desktop.pages import bench_of, schedule_of
from tests.desktop.test_basis import chosen, pressed, typed

CONTROL, SHIFT, ALT = (
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
)
LEFT = Qt.MouseButton.LeftButton


def centre(view, key):
    index = view.model().index_of(key)
    view.scrollTo(index)
    return view.visualRect(index).center()


def pick(qtbot, window, *keys):
    """Pick cells with Ctrl held."""
    view = schedule_of(window).view
    view.clearSelection()
    for key in keys:
        qtbot.mouseClick(view.viewport(), LEFT, CONTROL, centre(view, key))
    return view


def press_head(qtbot, view, header, number):
    at = header.sectionViewportPosition(number) + 10
    place = header.viewport().rect().topLeft()
    place = place + (
        type(place)(at, 8) if header is view.horizontalHeader() else type(place)(8, at)
    )
    qtbot.mouseClick(header.viewport(), LEFT, pos=place)


def command(qtbot, window, panel, key):
    button = panel.findChild(QPushButton, f"command-{key}")
    qtbot.mouseClick(button, LEFT)


def project_of(window):
    return window.document.project


def test_a_small_building_from_nothing_saved_killed_and_recovered(
    qtbot, empty_window, tmp_path, settings_file
):
    window = empty_window
    pressed(qtbot, window, Qt.Key.Key_N)
    pressed(qtbot, window, Qt.Key.Key_5)
    page = schedule_of(window)
    assert page.empty.isVisible()
    assert not page.empty.mark.isEnabled()
    qtbot.mouseClick(page.empty.storey, LEFT)
    qtbot.mouseClick(page.empty.mark, LEFT)
    assert page.view.isVisible()
    assert list(project_of(window).by_key) == [LiftKey("C1", "L1")]
    # Two more storeys and marks, by keys.
    page.view.setFocus()
    for _ in range(2):
        qtbot.keyClick(window, Qt.Key.Key_Up, CONTROL | ALT)
        qtbot.keyClick(window, Qt.Key.Key_M, CONTROL | ALT)
    project = project_of(window)
    assert [s.name for s in project.storeys] == ["L3", "L2", "L1"]
    assert [m.name for m in project.marks] == ["C1", "C2", "C3"]
    assert len(project.by_key) == 9
    # A storey is renamed and raised by its head.
    press_head(qtbot, page.view, page.view.verticalHeader(), 0)
    assert page.storey.headline.text() == "Storey L3, 3 lifts"
    typed(qtbot, page.storey.form.fields["name"], "Roof")
    typed(qtbot, page.storey.form.fields["height"], "4 m")
    assert project_of(window).storeys[0].level == pytest.approx(11.0)
    # A section and bars on the bench, and onto the whole stack.
    window.go(Place(lift=LiftKey("C2", "Roof")))
    section = bench_of(window).section
    typed(qtbot, section.fields["width"], "400")
    typed(qtbot, section.fields["bars"], "8 D20")
    window.commands.actions["escape"].trigger()
    for _ in range(2):
        qtbot.keyClick(window, Qt.Key.Key_Down, CONTROL | SHIFT)
    found = {project_of(window).by_key[LiftKey("C2", s)].section.bars for s in ("Roof", "L2", "L1")}
    assert found == {"8 D20"}
    qtbot.waitUntil(lambda: window.document.complete)
    path = tmp_path / "building.fexro"
    window.document.save(path)
    assert read_project(path) == project_of(window)
    # What is not saved when the process ends is offered again.
    pick(qtbot, window, LiftKey("C3", "Roof"))
    qtbot.keyClick(window, Qt.Key.Key_Delete)
    assert "Lift C3 · Roof removed" in window.notice.text()
    qtbot.wait(300)
    expected = project_of(window)
    journal = window.document._journal._journal
    journal._file.close()
    other = make_window(
        Document(tmp_path / "journals"),
        QSettings(str(settings_file), QSettings.Format.IniFormat),
    )
    qtbot.addWidget(other)
    (lost,) = other.document.lost_projects()
    other.document.recover(lost)
    assert other.document.project == expected
    other.document._history.mark_saved()


def test_many_lifts_are_changed_at_once_with_the_effect_first(qtbot, window):
    keys = [LiftKey("C4", s) for s in ("L3", "L2", "L1")]
    view = pick(qtbot, window, *keys)
    panel = schedule_of(window).lifts
    assert panel.isVisible()
    assert panel.headline.text() == "3 lifts are selected."
    assert view.lifts() == keys
    assert not panel.apply.isEnabled()
    typed(qtbot, panel.form.fields["bars"], "12 D28")
    qtbot.waitUntil(lambda: "Worst" in panel.effect.text(), timeout=10_000)
    # Of the storey that sways all others change too.
    assert panel.effect.text().startswith("8 lifts change. Worst 1.04 (C4 · L1) before, 0.9")
    assert panel.effect.text().endswith("0 exceed a limit (2 before).")
    # Nothing is taken yet; a field that is refused changes nothing of what waits.
    assert window.document.undo_label is None
    assert panel.form.fields["bars"].text() == "12 D28"
    typed(qtbot, panel.form.fields["ties"], "D11@200")
    assert "D12" in panel.form.error.text()
    panel.form.fields["ties"].take_back()
    qtbot.mouseClick(panel.apply, LEFT)
    assert {project_of(window).by_key[key].section.bars for key in keys} == {"12 D28"}
    assert window.document.undo_label == "Bars of 3 lifts"
    # One value for lifts of several shapes; what has no such size keeps its own.
    pick(qtbot, window, LiftKey("C1", "L1"), LiftKey("C3", "L1"))
    typed(qtbot, panel.form.fields["diameter"], "700")
    chosen(panel.form.fields["concrete"], "C35")
    qtbot.mouseClick(panel.apply, LEFT)
    project = project_of(window)
    assert project.by_key[LiftKey("C3", "L1")].section.shape.diameter == 700.0
    assert project.by_key[LiftKey("C1", "L1")].concrete == "C35"
    assert project.record_by_key[LiftKey("C1", "L1")].own.given == {"concrete": "C35"}
    typed(qtbot, panel.form.fields["cover"], "250")
    assert "C1 · L1" in panel.form.error.text()


def test_cells_are_picked_by_dragging_and_by_heads(qtbot, window):
    page = schedule_of(window)
    view = page.view
    start, end = (centre(view, LiftKey(m, s)) for m, s in (("C1", "Roof"), ("C2", "L5")))
    qtbot.mousePress(view.viewport(), LEFT, pos=start)
    qtbot.mouseMove(view.viewport(), (start + end) / 2)
    qtbot.mouseMove(view.viewport(), end)
    qtbot.mouseRelease(view.viewport(), LEFT, pos=end)
    assert len(view.lifts()) == 4
    assert window.shows(window.stage("schedule"))
    press_head(qtbot, view, view.horizontalHeader(), 2)
    assert page.mark.isVisible()
    assert page.mark.headline.text() == "Mark C3, 6 lifts"
    assert len(view.lifts()) == 6
    view.setCurrentIndex(view.model().index_of(LiftKey("C1", "Roof")))
    window.commands.actions["alike"].trigger()
    assert [key.storey for key in view.lifts()] == ["Roof", "L5", "L4"]


def test_marks_are_renamed_copied_placed_and_removed(qtbot, window):
    page = schedule_of(window)
    view = page.view
    press_head(qtbot, view, view.horizontalHeader(), 1)
    typed(qtbot, page.mark.form.fields["name"], "P2")
    assert [m.name for m in project_of(window).marks][1] == "P2"
    assert LiftKey("P2", "L1") in project_of(window).case_forces.place
    press_head(qtbot, view, view.horizontalHeader(), 1)
    typed(qtbot, page.mark.form.fields["name"], "c1")
    assert "already used" in page.mark.form.error.text()
    page.mark.form.fields["name"].take_back()
    typed(qtbot, page.mark.form.fields["place"], "9.5 m, 7 m")
    typed(qtbot, page.mark.form.fields["angle"], "30")
    mark = project_of(window).mark_by_name["P2"]
    assert (mark.place, mark.angle) == ((9.5, 7.0), 30.0)
    typed(qtbot, page.mark.own.fields["cover"], "60")
    assert project_of(window).by_key[LiftKey("P2", "L1")].section.cover == 60.0
    chosen(page.mark.own.fields["sway x"], "braced")
    chosen(page.mark.own.fields["ductility y"], "high")
    typed(qtbot, page.mark.own.fields["aggregate"], "25")
    values = project_of(window).by_key[LiftKey("P2", "L1")].values
    assert (values.x.sway, values.y.sway, values.aggregate) == ("braced", "by rule", 25.0)
    assert values.y.ductility == "high"
    chosen(page.mark.own.fields["ductility y"], "")
    assert project_of(window).mark_by_name["P2"].own.y is None
    typed(qtbot, page.mark.own.fields["cover"], "")
    assert project_of(window).by_key[LiftKey("P2", "L1")].section.cover == 40.0
    command(qtbot, window, page.mark, "copy_mark")
    assert [m.name for m in project_of(window).marks][:3] == ["C1", "P2", "P1"]
    press_head(qtbot, view, view.horizontalHeader(), 1)
    command(qtbot, window, page.mark, "remove_mark")
    assert "Mark P2 removed, with 6 lifts, the forces of 6." in window.notice.text()
    pressed(qtbot, window, Qt.Key.Key_Z)
    assert "P2" in project_of(window).mark_by_name


def test_lifts_are_copied_pasted_removed_and_put_back(qtbot, window):
    view = pick(qtbot, window, LiftKey("C2", "L1"))
    pressed(qtbot, window, Qt.Key.Key_C)
    assert QApplication.clipboard().text() == "C2\tL1\t14 D28\tD10@150"
    targets = [LiftKey("C1", "L1"), LiftKey("C2", "L2")]
    pick(qtbot, window, *targets)
    pressed(qtbot, window, Qt.Key.Key_V)
    assert {project_of(window).by_key[key].section.bars for key in targets} == {"14 D28"}
    pick(qtbot, window, LiftKey("C5", "Roof"), LiftKey("C6", "Roof"))
    qtbot.keyClick(window, Qt.Key.Key_Delete)
    assert len(project_of(window).by_key) == 34
    assert "2 lifts removed, with 2 lifts, the forces of 2" in window.notice.text()
    pick(qtbot, window, LiftKey("C5", "Roof"))
    assert view.places() == [LiftKey("C5", "Roof")]
    qtbot.keyClick(window, Qt.Key.Key_Insert)
    result = window.document.results[LiftKey("C5", "Roof")]
    assert result.state.word == "not checked"


def test_storeys_come_and_go(qtbot, window):
    page = schedule_of(window)
    press_head(qtbot, page.view, page.view.verticalHeader(), 3)
    command(qtbot, window, page.storey, "storey_above")
    assert [s.name for s in project_of(window).storeys][2:5] == ["L4", "L6", "L3"]
    qtbot.waitUntil(lambda: window.document.complete, timeout=20_000)
    press_head(qtbot, page.view, page.view.verticalHeader(), 3)
    assert page.storey.headline.text() == "Storey L6, 6 lifts"
    chosen(page.storey.own.fields["concrete"], "C45")
    assert project_of(window).by_key[LiftKey("C1", "L6")].concrete == "C45"
    typed(qtbot, page.storey.form.fields["level"], "30")
    assert "more than 0.2 m" in page.storey.form.error.text()
    page.storey.form.fields["level"].take_back()
    command(qtbot, window, page.storey, "remove_storey")
    assert "Storey L6 removed, with 6 lifts." in window.notice.text()


def test_lifts_are_grouped_and_parted(qtbot, window):
    keys = [LiftKey("C1", s) for s in ("L2", "L1")]
    pick(qtbot, window, *keys)
    pressed(qtbot, window, Qt.Key.Key_G)
    # L1 is the worse off, 0.84 against 0.71.
    assert "Group G1: all carry the bars and ties of C1 · L1" in window.notice.text()
    assert {project_of(window).by_key[key].section.bars for key in keys} == {"12 D28"}
    window.go(Place(lift=keys[0]))
    typed(qtbot, bench_of(window).section.fields["bars"], "12 D25")
    assert {project_of(window).by_key[key].section.bars for key in keys} == {"12 D25"}
    window.go(Place("schedule"))
    pick(qtbot, window, *keys)
    panel = schedule_of(window).lifts
    qtbot.waitUntil(lambda: window.document.complete)
    assert "Group G1, 2 lifts: C1 · L1 governs, 0." in panel.headline.text()
    typed(qtbot, panel.form.fields["group"], "Lower C1")
    assert project_of(window).groups[0].name == "Lower C1"
    pick(qtbot, window, LiftKey("C1", "L3"), *keys)
    typed(qtbot, panel.form.fields["group"], "Lower C1")
    assert len(project_of(window).groups[0].members) == 3
    pick(qtbot, window, LiftKey("C1", "L3"), *keys)
    pressed(qtbot, window, Qt.Key.Key_G, CONTROL | SHIFT)
    assert project_of(window).groups == ()


def test_a_lift_shows_where_its_values_come_from(qtbot, window):
    key = LiftKey("C3", "L1")
    window.go(Place(lift=key))
    section = bench_of(window).section
    shown = {name: button.text() for name, button in section.origins.items()}
    folded = ("aggregate", "x", "y", "lap_length", "tie_steel", "age", "knowledge")
    assert {shown.pop(name) for name in folded} == {"project"}
    assert shown == {"cover": "C3", "concrete": "own ↺", "steel": "project", "laps": "project"}
    assert not section.origins["steel"].isEnabled()
    qtbot.mouseClick(section.origins["concrete"], LEFT)
    assert project_of(window).by_key[key].concrete == "C35"
    assert section.origins["concrete"].text() == "project"
    assert not section.fields["x"].isVisible()
    qtbot.mouseClick(section.more, LEFT)
    assert section.fields["x"].isVisible()
    chosen(section.fields["x"], "sway")
    assert project_of(window).by_key[key].values.x.sway == "sway"
    assert section.origins["x"].text() == "own ↺"
    typed(qtbot, section.fields["cover"], "50")
    assert section.origins["cover"].text() == "own ↺"
    qtbot.mouseClick(section.origins["cover"], LEFT)
    assert project_of(window).by_key[key].section.cover == 45.0


def test_a_lift_passes_a_floor_that_does_not_hold_it(qtbot, window):
    key = LiftKey("C1", "L2")
    window.go(Place(lift=key))
    held = bench_of(window).section.fields["held"]
    assert held.currentText() == "in x and y"
    held.setCurrentIndex(2)
    held.activated.emit(2)
    assert project_of(window).by_key[key].unsupported == ("x",)
    qtbot.waitUntil(lambda: window.document.complete)
    # Both lifts of that length are other facts now; they bend about y over both storeys.
    facts = window.document.results[LiftKey("C1", "L3")].lift.facts
    assert (facts.about_x.storey, facts.about_y.storey) == pytest.approx((4200.0, 8400.0))
    window.document.undo()
    assert held.currentText() == "in x and y"


def test_the_key_plan_goes_to_neighbours(qtbot, window):
    window.go(Place(lift=LiftKey("C4", "L1")))
    plan = bench_of(window).key_plan
    assert plan.isVisible()
    qtbot.mouseClick(plan, LEFT, pos=plan.position("C6").toPoint())
    assert window.document.selection.lift == LiftKey("C6", "L1")
