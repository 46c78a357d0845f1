"""The forces stage: cases, combinations, a table that is taken, and what it changed."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt
from PyQt6.QtGui import QDropEvent, QGuiApplication
from PyQt6.QtWidgets import QComboBox

from fexro.desktop.cells import CHOICES
from fexro.desktop.schedule.model import CELL
from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey
from fexro.project.edits.forces import add_lift_load
from fexro.project.lift_loads import LiftLoad

EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"
TABLES = Path(__file__).parents[1] / "acceptance" / "tables"


@pytest.fixture
def page(window):
    window.go(Place("forces"))
    return window.stage("forces").page


def cell(view, row, title):
    model = view.model()
    heads = [model.headerData(i, Qt.Orientation.Horizontal) for i in range(model.columnCount())]
    return model.index(row, heads.index(title))


def project_of(window):
    return window.document.project


def read(qtbot, page, name):
    page.show_view(1)
    page.taking.open_file(name)
    qtbot.waitUntil(lambda: not page.taking._work.running, timeout=20_000)


def test_cases_are_edited_in_place_and_undone(qtbot, window, page):
    view = page.loads.cases_view
    index = cell(view, 1, "Less by floors")
    assert "EN 1991-1-1 floors" in index.data(CHOICES)
    view.setCurrentIndex(index)
    view.edit(index)
    box = view.findChild(QComboBox)
    box.setCurrentText("EN 1991-1-1 floors")
    box.activated.emit(box.currentIndex())
    assert project_of(window).cases[1].reduction.rule == "EN 1991-1-1 floors"
    # Category E, storage, is never less.
    assert project_of(window).floor_shares == {}
    view.model().setData(cell(view, 1, "Category"), "B")
    assert len(project_of(window).floor_shares) == 18
    window.document.selection.select_lift(LiftKey("C2", "L1"))
    page.show_view(3)
    share = page.by_hand.shares["L"]
    assert share.text() == "L: 0.82 of it stays, EN 1991-1-1 floors ▸"
    qtbot.mouseClick(share, Qt.MouseButton.LeftButton)
    assert "6.3.1.2(11)" in page.by_hand.derivation.text
    page.show_view(0)
    view.model().setData(cell(view, 0, "Self-weight"), "yes")
    assert project_of(window).weights
    window.document.undo()
    view.model().setData(cell(view, 1, "Lasts"), "much")
    assert "a number" in page.loads.error.text()
    view.model().setData(cell(view, 0, "Case"), "Dead")
    assert project_of(window).combinations[0].factors == {"Dead": 1.4}
    assert not page.loads.error.isVisible()
    for _ in range(3):
        window.document.undo()
    assert project_of(window).cases[1].reduction is None
    assert cell(view, 0, "Case").data() == "D"


def test_a_mark_says_which_floor_it_carries(qtbot, window, page):
    window.go(Place("schedule"))
    panel = window.stage("schedule").page.mark
    panel.show_mark(project_of(window), "C2")
    field = panel.form.fields["floor_area"]

    def typed(text):
        field.setText("")
        field.textEdited.emit("")
        field.setText(text)
        field.commit()

    typed("68 m²")
    assert project_of(window).mark_by_name["C2"].floor_area == 68.0
    typed("large")
    assert "an area in m²" in panel.form.error.text()
    typed("")
    assert project_of(window).mark_by_name["C2"].floor_area is None


def test_a_case_that_is_counted_is_not_removed(qtbot, window, page):
    view = page.loads.cases_view
    view.setCurrentIndex(cell(view, 3, "Case"))
    qtbot.keyClick(view, Qt.Key.Key_Delete)
    assert "counted by U4, U5" in page.loads.error.text()
    assert len(project_of(window).cases) == 7
    page.loads.cases.add()
    assert project_of(window).cases[-1].name == "Case 1"
    page.loads.cases.remove([7])
    assert len(project_of(window).cases) == 7


def test_combinations_are_made_typed_ticked_and_folded(qtbot, window, page):
    loads = page.loads
    assert "23 combinations of the cases; 9 are new" in loads.rules.told.text()
    qtbot.mouseClick(loads.rules.make, Qt.MouseButton.LeftButton)
    assert len(project_of(window).combinations) == 23
    qtbot.keyClicks(loads.typed, "1.2 D + 1.6 Q")
    qtbot.keyClick(loads.typed, Qt.Key.Key_Return)
    assert "unknown case at “Q”" in loads.error.text()
    assert loads.typed.text() == "1.2 D + 1.6 Q"
    loads.typed.setText("1,1 (D + L)")
    qtbot.keyClick(loads.typed, Qt.Key.Key_Return)
    assert project_of(window).combinations[-1].factors == {"D": 1.1, "L": 1.1}
    view = loads.view
    factor = cell(view, 0, "D")
    view.model().setData(factor, "1.25")
    assert project_of(window).combinations[0].factors["D"] == 1.25
    assert project_of(window).combinations[0].equation == ""
    view.model().setData(factor, "x")
    assert "empty where it does not count" in loads.error.text()
    tick = cell(view, 0, "Service")
    view.model().setData(tick, Qt.CheckState.Checked.value, Qt.ItemDataRole.CheckStateRole)
    assert project_of(window).combinations[0].uses == ("strength", "service")
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    qtbot.waitUntil(lambda: "lie inside the others" in loads.inside.text(), timeout=20_000)
    # What governs a lift of the demo lies outside there.
    for row in range(view.model().rowCount()):
        governed = int(cell(view, row, "Governs").data() or 0)
        assert int(cell(view, row, "Outside").data().replace("–", "0")) >= governed
    loads.fold.setChecked(True)
    shown = view.model().rowCount()
    assert 0 < shown < 24
    assert sum(int(cell(view, row, "Governs").data()) for row in range(shown)) == 36
    loads.fold.setChecked(False)
    view.selectRow(view.model().rowCount() - 1)
    qtbot.keyClick(view, Qt.Key.Key_Delete)
    assert len(project_of(window).combinations) == 23


def test_rules_are_chosen_with_their_options(qtbot, window, page):
    form = page.loads.rules.form
    field = form.fields["live_factor"]
    field.setFocus()
    qtbot.keyClicks(field, "")
    field.selectAll()
    qtbot.keyClicks(field, "0.3")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert "0.5 to 1" in form.error.text()
    box = form.fields["standard"]
    box.setCurrentIndex(box.findData("EN 1990"))
    box.activated.emit(box.currentIndex())
    assert project_of(window).basis.combining.standard == "EN 1990"
    assert "fire" in page.loads.rules.form.fields
    qtbot.mouseClick(page.loads.rules.make, Qt.MouseButton.LeftButton)
    assert any(c.equation == "6.10" for c in project_of(window).combinations)


def test_a_table_is_read_taken_compared_and_put_back(qtbot, window, page):
    read(qtbot, page, EXAMPLES / "tarnholm-forces-C.xlsx")
    taking = page.taking
    assert taking.headline.text() == "36 lifts have forces in 7 cases."
    before = project_of(window)
    taking.view.selectRow(4)
    assert "Row 5: C1 · Roof, L, bottom" in taking.picture.toolTip()
    qtbot.mouseClick(taking.take, Qt.MouseButton.LeftButton)
    assert window.document.undo_label == "Take forces of tarnholm-forces-C.xlsx"
    assert page.view == 2
    qtbot.waitUntil(lambda: window.document.complete and bool(page.sources.changes), timeout=30_000)
    sources = page.sources
    assert sources.changes[0].crosses == 1
    assert sources.changes[0].lift == LiftKey("C4", "L3")
    assert "1 lift exceeds its limit since" in sources.headline.text()
    assert sources.forces.rows[0][0][0] == "U8"
    assert "tarnholm-forces-C.xlsx" in sources.takings.item(0).text()
    window.go(Place("schedule"))
    window.commands.actions["cell_changes"].trigger()
    schedule = window.stage("schedule").page.view
    index = schedule.model().index_of(LiftKey("C4", "L2"))
    qtbot.waitUntil(lambda: index.data(CELL).change is not None, timeout=20_000)
    assert index.data(CELL).change == pytest.approx(0.22, abs=0.005)
    schedule.grab()
    window.commands.actions["cell_changes"].trigger()
    assert index.data(CELL).change is None
    window.go(Place("forces"))
    qtbot.mouseClick(sources.back, Qt.MouseButton.LeftButton)
    assert project_of(window).case_forces == before.case_forces
    assert project_of(window).takings == ()
    window.document.undo()
    window.document.undo()
    assert project_of(window) is before
    # The next run is read by the mapping that was kept.
    window.document.redo()
    read(qtbot, page, EXAMPLES / "tarnholm-forces-B.csv")
    assert taking.kept.currentText() == "forces"
    assert not taking._guessed


def test_the_reading_is_corrected_and_nothing_changes_until_it_is_taken(qtbot, window, page):
    before = project_of(window)
    read(qtbot, page, TABLES / "T6-wide-tonnes.csv")
    taking = page.taking
    assert taking.mapping.columns["Ma@top"] == 6
    assert not taking.take.isEnabled()
    assert "0 lifts have forces" in taking.headline.text()
    form = taking.form

    def typed(name, text):
        field = form.fields[name]
        field.setFocus()
        field.selectAll()
        qtbot.keyClicks(field, text)
        qtbot.keyClick(field, Qt.Key.Key_Return)
        qtbot.waitUntil(lambda: not taking._work.running, timeout=20_000)

    typed("marks", "P-10 = C1, P-11 = C2")
    typed("storeys", "Ground = L1, First = L2")
    assert taking.matched.members == 4
    assert taking.take.isEnabled()
    typed("matrices", "P-10 = 90")
    assert taking.mapping.matrices["P-10"][0] == pytest.approx((0, 1))
    typed("matrices", "P-10")
    assert "pairs such as C1 = 30" in form.error.text()
    typed("first_row", "many")
    assert "the number of a line" in form.error.text()
    axes = form.fields["axes"]
    axes.setCurrentIndex(axes.findData("a = −y, b = x"))
    axes.activated.emit(axes.currentIndex())
    qtbot.waitUntil(lambda: not taking._work.running)
    assert taking.mapping.matrix == ((0.0, -1.0), (1.0, 0.0))
    # A name dropped on a column gives it its meaning; what had it has none.
    data = QMimeData()
    data.setData("application/x-fexro-meaning", b"Va@top")
    at = QPointF(taking.view.columnViewportPosition(3) + 5, 40)
    event = QDropEvent(
        at, Qt.DropAction.CopyAction, data,
        Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier,
    )  # fmt: skip
    taking.view.dropEvent(event)
    qtbot.waitUntil(lambda: not taking._work.running)
    assert taking.mapping.columns["Va@top"] == 4
    assert "Mb@top" not in taking.mapping.columns
    assert project_of(window) is before


def test_doubtful_rows_are_pointed_at(qtbot, window, page):
    read(qtbot, page, TABLES / "T1-plain.csv")
    taking = page.taking
    texts = [taking.doubts.item(i).text() for i in range(taking.doubts.count())]
    number = next(i for i, text in enumerate(texts) if "different forces" in text)
    assert "Rows 147, 219" in texts[number]
    taking.doubts.itemClicked.emit(taking.doubts.item(number))
    assert taking.view.currentIndex().row() == 146


def test_what_is_no_table_is_told_and_the_last_stays(qtbot, window, page, tmp_path):
    path = tmp_path / "a.xlsx"
    path.write_bytes(b"nothing")
    read(qtbot, page, path)
    assert "no workbook" in page.taking.error.text()
    read(qtbot, page, tmp_path / "missing.csv")
    assert "No such file" in page.taking.error.text()


def test_forces_are_pasted_from_a_spreadsheet(qtbot, window, page):
    rows = (EXAMPLES / "tarnholm-forces-B.csv").read_text(encoding="utf-8-sig")
    QGuiApplication.clipboard().setText(rows.replace(",", "\t"))
    window.commands.actions["paste_forces"].trigger()
    qtbot.waitUntil(lambda: not page.taking._work.running, timeout=20_000)
    assert page.taking.matched.members == 36
    QGuiApplication.clipboard().setText(" ")
    page.taking.paste_table()
    assert "no text on the clipboard" in page.taking.error.text()


def test_the_stage_counts_what_has_no_forces(qtbot, window, page):
    stage = window.stage("forces")
    assert stage.unsettled() == 0
    key = LiftKey("C1", "L1")
    window.document.edit("Forces", lambda p: p.changed(case_forces=p.case_forces.without({key})))
    assert stage.unsettled() == 1
    qtbot.keyClick(window, Qt.Key.Key_5, Qt.KeyboardModifier.ControlModifier)
    assert window.shows(window.stage("schedule"))
    qtbot.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.ControlModifier)
    assert window.shows(stage)


def test_forces_are_typed_lift_by_lift(qtbot, window, page):
    window.document.selection.select_lift(LiftKey("C5", "Roof"))
    page.show_view(3)
    view = page.by_hand.view
    model = view.model()
    assert page.by_hand.lift.currentText() == "C5 · Roof"
    assert cell(view, 0, "Case or combination").data() == "D"
    assert model.setData(cell(view, 0, "N, kN"), "0.5 MN")
    assert project_of(window).case_forces.row(LiftKey("C5", "Roof"), "D")[0, 0] == 500.0
    # 500 kN at 40 mm are 20 kN·m.
    assert model.setData(cell(view, 0, "ex, mm"), "40")
    assert project_of(window).case_forces.row(LiftKey("C5", "Roof"), "D")[0, 5] == pytest.approx(20)
    assert not model.setData(cell(view, 0, "N, kN"), "heavy")
    assert "N" in page.by_hand.error.text()
    assert not model.setData(cell(view, 0, "N, kN"), "900000000 kN")
    assert "1e+07" in page.by_hand.error.text()
    assert not model.setData(cell(view, 2, "ex, mm"), "10")
    assert "an axial force first" in page.by_hand.error.text()
    page.by_hand.loads.add()
    loads = page.by_hand.loads_view
    assert loads.model().setData(cell(loads, 0, "Value"), "-12 kN/m")
    assert loads.model().setData(cell(loads, 0, "Case"), "Wx")
    load = project_of(window).lift_loads[0]
    assert (load.case, load.value, load.kind) == ("Wx", -12.0, "distributed")
    assert loads.model().setData(cell(loads, 0, "Load"), "at one place")
    assert not loads.model().setData(cell(loads, 0, "Place"), "2")
    assert "less than or equal to 1" in page.by_hand.error.text()
    assert loads.model().setData(cell(loads, 0, "Place"), "0.25")
    loads.selectRow(0)
    qtbot.keyClick(loads, Qt.Key.Key_Delete)
    assert project_of(window).lift_loads == ()
    window.document.undo()
    assert project_of(window).lift_loads[0].at == 0.25
    page.by_hand.spans.add()
    spans = page.by_hand.spans_view
    assert spans.model().setData(cell(spans, 0, "My"), "35 kN·m")
    assert spans.model().setData(cell(spans, 0, "Case or combination"), "L")
    assert spans.model().setData(cell(spans, 0, "Place"), "0.4")
    span = project_of(window).span_forces[0]
    assert (span.name, span.at, span.My) == ("L", 0.4, 35.0)
    assert cell(spans, 0, "N").data() == "straight"
    assert spans.model().setData(cell(spans, 0, "N"), "0.2 MN")
    assert project_of(window).span_forces[0].N == 200.0
    assert spans.model().setData(cell(spans, 0, "N"), "")
    assert project_of(window).span_forces[0].N is None
    assert not spans.model().setData(cell(spans, 0, "Place"), "high")
    assert "0 to 1" in page.by_hand.error.text()
    spans.selectRow(0)
    qtbot.keyClick(spans, Qt.Key.Key_Delete)
    assert project_of(window).span_forces == ()


def test_the_stacks_tell_an_odd_storey(qtbot, window, page):
    page.show_view(4)
    assert page.stacks.multiples.count == 14
    assert "Each storey adds" in page.stacks.added.text()
    project = project_of(window)
    forces = project.case_forces
    values = forces.values.copy()
    values[[i for i, key in enumerate(forces.members) if key.storey == "L3"], :, 1, 0] = 0.0
    wrong = type(forces)(forces.members, forces.columns, values)
    window.document.edit("Forces", lambda p: p.changed(case_forces=wrong))
    assert "L at L3" in page.stacks.added.text()
    page.stacks.grab()


def test_forces_along_a_lift_are_drawn_and_read(qtbot, window):
    key = LiftKey("C2", "L1")
    load = LiftLoad(mark="C2", storey="L1", case="Wx", kind="distributed", value=-60.0)
    window.document.edit("Load", lambda p: add_lift_load(p, load))
    window.go(Place(lift=key))
    qtbot.waitUntil(lambda: window.document.complete)
    pictures = window.stage("bench").page.pictures
    pictures.show_view(4)
    assert "with loads or moments between the ends" in pictures.caption.text()
    qtbot.mouseMove(pictures.along, QPoint(200, 150))
    qtbot.waitUntil(lambda: "above the foot" in pictures.reading.text())
    table = pictures.along.table(pictures._shown)
    assert table.headings[1:3] == ("N, kN", "Vx, kN")
    assert len(table.rows) > 129  # what the lift has, and even places
    pictures.copy_numbers()
    assert QGuiApplication.clipboard().text().startswith("share of the height")
    window.go(Place(lift=LiftKey("C1", "L1")))
    assert "straight between the ends" in pictures.caption.text()
