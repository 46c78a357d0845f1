"""The members stage: the plan and the table, through what a person sees."""

from __future__ import annotations

import math
from functools import partial

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication

from fexro.desktop.shell.stages import Place
from fexro.exchange.members import COLUMNS
from fexro.project.column import LiftKey
from fexro.project.edits.marks import place_marks
from tests.desktop.test_basis import typed

LEFT = Qt.MouseButton.LeftButton
COLUMN = {column.key: i for i, column in enumerate(COLUMNS)}


@pytest.fixture
def page(window):
    window.go(Place("members"))
    return window.stage("members").page


def at(plan, name):
    mark = next(mark for mark in plan.marks() if mark.name == name)
    return plan.position(mark).toPoint()


def drag(qtbot, plan, start, end):
    qtbot.mousePress(plan, LEFT, pos=start)
    for share in (0.3, 0.7, 1.0):
        qtbot.mouseMove(plan, start + (end - start) * share)
    qtbot.mouseRelease(plan, LEFT, pos=end)


def test_the_plan_is_to_scale_and_goes_to_lifts(qtbot, window, page):
    plan = page.plan.plan
    assert page.plan.storey.count() == 6
    # 8 m between A and B, 7 m between 1 and 2: alike in both directions.
    across = at(plan, "C2").x() - at(plan, "C1").x()
    along = at(plan, "C4").y() - at(plan, "C1").y()
    assert across / along == pytest.approx(8 / 7, rel=0.02)
    page.plan.storey.setCurrentText("L1")
    page.plan.storey.activated.emit(page.plan.storey.currentIndex())
    qtbot.mouseClick(plan, LEFT, pos=at(plan, "C4"))
    assert window.document.selection.lift == LiftKey("C4", "L1")
    assert window.shows(window.stage("bench"))


def test_marks_are_placed_by_dragging_and_by_coordinates(qtbot, window, page):
    plan, document = page.plan.plan, window.document
    drag(qtbot, plan, at(plan, "C1"), at(plan, "C2") + QPoint(3, 2))
    # Near grid lines it goes onto them.
    assert document.project.mark_by_name["C1"].place == (8.0, 7.0)
    document.undo()
    assert document.project.mark_by_name["C1"].place == (0.0, 7.0)
    typed(qtbot, page.plan.places, "C1 1.5 2; C5 10ft 3")
    assert document.project.mark_by_name["C1"].place == (1.5, 2.0)
    assert document.project.mark_by_name["C5"].place == (3.048, 3.0)
    typed(qtbot, page.plan.places, "C1 1.5 2 C5 3.048 3.5")
    assert document.project.mark_by_name["C5"].place == (3.048, 3.5)
    typed(qtbot, page.plan.places, "C1 1; C2 5 5")
    assert "C1 0 7" in page.plan.error.text()
    typed(qtbot, page.plan.places, "C9 1 2")
    assert "one of C1" in page.plan.error.text()
    assert document.project.mark_by_name["C2"].place == (8.0, 7.0)


def test_the_grid_is_typed(qtbot, window, page):
    typed(qtbot, page.plan.grid["x"], "A 0, A' 4.5, B 8")
    lines = [(line.name, line.at) for line in window.document.project.grid if line.axis == "x"]
    assert lines == [("A", 0.0), ("A'", 4.5), ("B", 8.0)]
    assert sum(line.axis == "y" for line in window.document.project.grid) == 3
    typed(qtbot, page.plan.grid["y"], "A 0")
    assert "already used" in page.plan.error.text()


def test_marks_without_a_place_are_unsettled(qtbot, window, page):
    assert window.rail.buttons["members"].count == 0
    window.document.edit("Place of C1", partial(place_marks, places={"C1": None}))
    assert window.rail.buttons["members"].count == 1


def test_zoom_stays_at_the_pointer(qtbot, window, page):
    plan = page.plan.plan
    before = at(plan, "C6")
    event = QWheelEvent(
        QPointF(before),
        QPointF(plan.mapToGlobal(before)),
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    plan.wheelEvent(event)
    after = at(plan, "C6")
    assert math.hypot(after.x() - before.x(), after.y() - before.y()) <= 2
    qtbot.keyClick(plan, Qt.Key.Key_0)
    assert at(plan, "C6") == before


def test_the_table_edits_filters_and_sorts(qtbot, window, page):
    page.show_view(1)
    table, document = page.table, window.document
    assert table.filter.rowCount() == 36
    assert table.view.isColumnHidden(COLUMN["wall"])
    index = table.filter.index(0, COLUMN["bars"])
    assert table.filter.setData(index, "12 D20")
    assert document.project.by_key[LiftKey("C1", "Roof")].section.bars == "12 D20"
    assert document.undo_label == "Main bars of C1 · Roof"
    assert table.filter.setData(table.filter.index(0, COLUMN["width"]), "20in")
    assert document.project.by_key[LiftKey("C1", "Roof")].section.shape.width == 508.0
    assert not table.filter.setData(index, "12 Q20")
    assert "found “12 Q20”" in table.problems.text() or "“Q20”" in table.problems.text()
    assert not table.filter.setData(table.filter.index(0, COLUMN["diameter"]), "300")
    assert "no such size" in table.problems.text()
    table.sought.setText("c4 250")
    assert table.filter.rowCount() == 6
    table.sought.setText("exceeded")
    found = [[table.filter.index(row, i).data() for i in (0, 1)] for row in (0, 1)]
    assert found == [["C4", "L2"], ["C4", "L1"]]
    table.sought.clear()
    table.view.sortByColumn(COLUMN["utilisation"], Qt.SortOrder.DescendingOrder)
    assert table.filter.index(0, 0).data() == "C4"
    table.view.sortByColumn(COLUMN["storey"], Qt.SortOrder.AscendingOrder)
    assert table.filter.index(0, 1).data() == "Roof"


def test_blocks_go_to_a_spreadsheet_and_come_back(qtbot, window, page):
    page.show_view(1)
    table, document = page.table, window.document
    clipboard = QApplication.clipboard()
    table.view.selectAll()
    table.copy()
    lines = clipboard.text().split("\n")
    assert len(lines) == 37
    assert lines[0].startswith("Mark\tStorey\tUtilisation")
    clipboard.setText("Mark\tStorey\tMain bars\nC2\tL1\t16 D28\nC2\tL2\t16 D25")
    table.view.setFocus()
    qtbot.keyClick(table.view, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert document.project.by_key[LiftKey("C2", "L1")].section.bars == "16 D28"
    assert document.undo_label == "2 rows pasted"
    # Without headings it goes onto the cells from here on.
    table.view.setCurrentIndex(table.filter.index(0, COLUMN["bars"]))
    table.paste("8 D25\tD10@150\n8 D28\tD10@150")
    assert document.project.by_key[LiftKey("C1", "L5")].section.bars == "8 D28"
    assert document.project.by_key[LiftKey("C1", "Roof")].section.ties == "D10@150"
    # Nothing is half taken.
    label = document.undo_label
    table.paste("Mark\tStorey\tMain bars\nC1\tL1\t4 D40\nC1\tL9\t4 D40\nC2\tL1\t4 Q1")
    assert table.problems.text().startswith("2 of 3 rows do not fit; nothing was taken.\nRow 3: ")
    assert document.undo_label == label
    table.view.setCurrentIndex(table.filter.index(35, COLUMN["bars"]))
    table.paste("8 D25\n8 D25")
    assert "does not fit from here on" in table.problems.text()


def test_a_table_makes_a_building(qtbot, empty_window, tmp_path):
    window = empty_window
    window.commands.actions["new"].trigger()
    window.go(Place("schedule"))
    window.commands.actions["storey_above"].trigger()
    window.go(Place("members"))
    page = window.stage("members").page
    path = tmp_path / "columns.csv"
    rows = [f"K{i},L1,rectangle,400,600,8 D25,D10@200" for i in range(1, 31)]
    path.write_text("\n".join(["Mark,Storey,Shape,Width,Depth,Main bars,Ties", *rows]))
    page.table.take_file(path)
    assert len(window.document.project.by_key) == 30
    assert window.rail.buttons["members"].count == 30


def test_the_elevation_picks_a_storey_to_scale(qtbot, window, page):
    elevation = page.plan.elevation
    # The roof storey is 3.6 m, those below 4.2 m.
    roof, l5, l4 = (elevation.height_of(level) for level in (24.6, 21.0, 16.8))
    assert (l5 - roof) / (l4 - l5) == pytest.approx(3.6 / 4.2)
    y = round((elevation.height_of(4.2) + elevation.height_of(0.0)) / 2)
    qtbot.mouseClick(elevation, LEFT, pos=QPoint(40, y))
    assert page.plan.plan.storey == "L1"
    assert page.plan.storey.currentText() == "L1"


def test_the_building_turns_and_goes_to_lifts(qtbot, window, page):
    tower = page.plan.tower
    keys, bodies = tower.lifts()
    assert len(keys) == 36
    before = tower.azimuth
    qtbot.mousePress(tower, LEFT, pos=QPoint(100, 100))
    qtbot.mouseMove(tower, QPoint(140, 100))
    qtbot.mouseRelease(tower, LEFT, pos=QPoint(140, 100))
    assert tower.azimuth != before
    assert window.shows(window.stage("members"))
    tower.azimuth = before
    number = keys.index(LiftKey("C4", "L2"))
    middle = bodies[number, :3] + [0.0, 0.0, 2.1]
    x, y, _ = tower.projected(middle[None])[0]
    qtbot.mouseClick(tower, LEFT, pos=QPoint(round(x), round(y)))
    assert window.document.selection.lift == LiftKey("C4", "L2")
