"""The stability stage, the elevation and the tables of second order, as they are used."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QComboBox

from fexro.core.errors import ConvergenceError
from fexro.desktop.bench.pictures.elevation import ElevationView
from fexro.desktop.cells import CHOICES as OFFERED
from fexro.desktop.shell.stages import Place
from fexro.desktop.stability.page import BEAMS, CHOICES, LIFTS, STOREYS
from fexro.project.column import LiftKey
from fexro.project.values import EndCondition
from tests.desktop.pages import bench_of, schedule_of
from tests.projects import swaying_sets

LEFT = Qt.MouseButton.LeftButton
C4L2, C1L3, C6L5 = LiftKey("C4", "L2"), LiftKey("C1", "L3"), LiftKey("C6", "L5")


@pytest.fixture
def page(window):
    """The stability stage in front."""
    window.go(Place("stability"))
    return window.stage("stability").page


def project_of(window):
    return window.document.project


def column(model, title):
    titles = [model.headerData(i, Qt.Orientation.Horizontal) for i in range(model.columnCount())]
    return titles.index(title)


def cell(model, row, title):
    return model.index(row, column(model, title))


def chosen(box, key):
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(box.findData(key))
    box.activated.emit(box.currentIndex())


def typed(qtbot, field, text):
    field.setFocus()
    field.selectAll()
    qtbot.keyClick(field, Qt.Key.Key_Delete)
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def test_storeys_show_the_decision_and_a_drift_is_typed(qtbot, window, page):
    page.show_view(STOREYS)
    model = page.storeys.model
    assert page.storeys.told.text() == "◇ Take part in sway: L2 along x (Q = 0.149 > 0.05)."
    row = [model.index(i, 0).data() for i in range(model.rowCount())].index("L2")
    assert cell(model, row, "Drift x at shear").data() == "17.5 mm at 910 kN"
    assert cell(model, row, "Decision x").data() == "◇ sway"
    assert cell(model, row, "Decision y").data() == "nonsway"
    # The calculation of the storey that sways stands beside the profiles.
    heading = page.storeys._calculation.itemAt(0).widget()
    assert heading.text() == "L2, sway along x"
    assert model.setData(cell(model, row, "Drift x at shear"), "4 mm at 910 kN")
    assert window.document.undo_label == "Drift x of L2"
    qtbot.waitUntil(lambda: window.document.complete)
    assert page.storeys.told.text() == "No storey sways."
    assert window.document.results[C4L2].utilisation < 1
    window.document.undo()
    qtbot.waitUntil(lambda: window.document.complete)
    assert window.document.results[C4L2].utilisation > 1


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("8 mm", "such as 8 mm at 600 kN"),
        ("8 kN at 600 kN", "found “8 kN”"),
        ("0 mm at 600 kN", "more than 0"),
        ("8 mm at −600 kN", "more than 0"),
    ],
)
def test_a_drift_that_cannot_be_is_told_and_nothing_changes(window, page, text, words):
    model, before = page.storeys.model, project_of(window)
    page.refresh()
    assert not model.setData(cell(model, 4, "Drift x at shear"), text)
    assert words in page.storeys.error.text()
    assert project_of(window) is before


def test_profiles_are_painted_with_and_without_drifts(qtbot, window, page):
    page.show_view(STOREYS)
    profiles = page.storeys.profiles
    profiles.resize(700, 260)
    with_drifts = profiles.grab().toImage()
    model = page.storeys.model
    for row in range(model.rowCount()):
        assert model.setData(cell(model, row, "Drift y at shear"), "")
    without = profiles.grab().toImage()
    assert with_drifts != without
    assert "(assumed)" in cell(model, 0, "Decision y").data()


def test_beams_are_added_changed_copied_and_removed(qtbot, window, page):
    page.show_view(BEAMS)
    beams = page.beams
    beams._show(C1L3)
    assert beams.lift.currentText() == "C1 · L3"
    assert beams.model.rowCount() == 3
    assert "about y: ψ" in beams.ends.text()
    assert window.document.selection.lift == C1L3
    depth = cell(beams.model, 0, "Depth")
    assert beams.model.setData(depth, "700 mm")
    assert project_of(window).beams_by_key[C1L3][0].depth == 700.0
    assert beams.model.setData(cell(beams.model, 0, "Far end"), "pinned")
    assert not beams.model.setData(depth, "0 mm")
    assert "more than 10" in beams.error.text()
    assert not beams.model.setData(cell(beams.model, 0, "Span"), "wide")
    qtbot.mouseClick(beams.add, LEFT)
    assert project_of(window).beams_by_key[C1L3][-1].side == "-x"
    qtbot.mouseClick(beams.along_stack, LEFT)
    assert window.document.undo_label == "Beams of C1 · L3 to stack C1"
    assert len(project_of(window).beams_by_key[LiftKey("C1", "Roof")]) == 4
    qtbot.mouseClick(beams.along_storey, LEFT)
    assert len(project_of(window).beams_by_key[LiftKey("C4", "L3")]) == 4
    beams.model.remove([0, 1, 2, 3])
    assert C1L3 not in project_of(window).beams_by_key
    assert beams.joint.grab().size().width() > 0
    qtbot.waitUntil(lambda: window.document.complete)
    assert window.stage("stability").unsettled() == 0
    assert "–" in beams.ends.text() or "1.00 of the clear" in beams.ends.text()


def test_lifts_are_listed_folded_sorted_and_opened(qtbot, window, page):
    page.show_view(LIFTS)
    lifts = page.lifts
    assert lifts.filter.rowCount() == 36
    assert lifts.told.text().startswith("8 of 36 lifts are slender")
    lifts.only.setChecked(True)
    assert lifts.filter.rowCount() == 8
    lifts.view.sortByColumn(3, Qt.SortOrder.DescendingOrder)
    first = [lifts.filter.index(0, i).data() for i in range(4)]
    assert first == ["C4", "L2", "0.913", "1.016"]
    lifts.view.activated.emit(lifts.filter.index(0, 0))
    assert bench_of(window).place.text() == "C4 · L2"


def test_choices_are_made_for_the_project_and_for_a_lift(qtbot, window, page):
    page.show_view(CHOICES)
    choices = page.choices
    chosen(choices.options.fields["EI"], "a")
    assert project_of(window).basis.values.options == {"EI": "a"}
    qtbot.waitUntil(lambda: window.document.complete)
    choices.code.setCurrentIndex(choices.code.findText("lift C1 · L3"))
    choices.code.activated.emit(choices.code.currentIndex())
    assert choices.options.fields["EI"].currentText() == "inherited: (a)"
    form = choices.directions["x"]
    typed(qtbot, form.fields["factor"], "0.85")
    assert project_of(window).by_key[C1L3].values.x.factor == 0.85
    chosen(form.fields["sway"], "braced")
    chosen(form.fields["bottom"], "partial")
    typed(qtbot, form.fields["bottom value"], "2.5")
    own = project_of(window).record_by_key[C1L3].own.x
    assert (own.sway, own.bottom) == ("braced", EndCondition(kind="partial", value=2.5))
    typed(qtbot, form.fields["clear"], "0")
    assert "more than 100" in form.error.text()
    form.fields["clear"].take_back()
    typed(qtbot, form.fields["factor"], "")
    assert project_of(window).record_by_key[C1L3].own.x.factor is None
    chosen(form.fields["sway"], "")
    assert project_of(window).record_by_key[C1L3].own.x.sway is None


def test_what_en_asks_is_asked_there(qtbot, window, page):
    document = window.document
    document.change_basis(
        document.project.basis.model_copy(update={"code": "EN 1992-1-1"}), "Design code"
    )
    page.show_view(CHOICES)
    choices = page.choices
    assert "RH" in choices.options.fields
    typed(qtbot, choices.options.fields["RH"], "80")
    assert document.project.basis.values.options == {"RH": 80.0}
    typed(qtbot, choices.options.fields["RH"], "-3")
    assert "20 to 100" in choices.options.error.text()
    choices.options.fields["RH"].take_back()
    form = choices.directions["x"]
    typed(qtbot, form.fields["walls"], "6000 × 300, 4000x250")
    assert [w.length for w in document.project.basis.bracing_x.walls] == [6000.0, 4000.0]
    chosen(form.fields["cracked"], "false")
    assert not document.project.basis.bracing_x.cracked
    typed(qtbot, form.fields["axial"], "90 MN")
    assert document.project.basis.bracing_x.axial == 90_000.0
    typed(qtbot, form.fields["walls"], "6000")
    assert "length × thickness" in form.error.text()
    form.fields["walls"].take_back()
    typed(qtbot, form.fields["walls"], "")
    assert document.project.basis.bracing_x is None


def test_the_stage_is_reached_and_remembered(qtbot, window):
    qtbot.keyClick(window, Qt.Key.Key_4, Qt.KeyboardModifier.ControlModifier)
    stage = window.stage("stability")
    assert window.shows(stage)
    window.commands.actions["slender"].trigger()
    assert stage.page.view == LIFTS
    assert stage.state() == ["2"]
    stage.restore(["1"])
    assert stage.page.view == BEAMS
    stage.restore(["nonsense"])
    assert stage.page.view == BEAMS


# Forces


def test_a_set_of_sway_forces_is_chosen_beside_given_combinations(qtbot, window):
    window.open_project(swaying_sets(), None)
    window.go(Place("forces"))
    model = window.stage("forces").page.loads.combinations
    row = [model.index(i, 0).data() for i in range(model.rowCount())].index("U8")
    where = cell(model, row, "Sway x")
    assert model.data(where, OFFERED)[:2] == ["", "U1"]
    assert model.setData(where, "U8 sway")
    assert next(c for c in project_of(window).combinations if c.name == "U8").sway_x == "U8 sway"
    part = [model.index(i, 0).data() for i in range(model.rowCount())].index("U8 sway")
    assert cell(model, part, "Made by").data() == "part of another"
    # It is no part of itself, nor has a part a part.
    assert not model.setData(cell(model, part, "Sway x"), "U1")
    assert model.setData(cell(model, row, "Sway x"), "")
    assert next(c for c in project_of(window).combinations if c.name == "U8").sway_x is None


# The bench


def painted(view):
    size = QSize(560, 400)
    image = QImage(size, QImage.Format.Format_ARGB32)
    painter = QPainter(image)
    done = view.paint(painter, QRectF(0, 0, size.width(), size.height()))
    painter.end()
    return done, image


def test_the_elevation_shows_the_selected_combination(qtbot, window):
    window.go(Place(lift=C4L2))
    pictures = bench_of(window).pictures
    qtbot.keyClick(window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    view = pictures.picture
    assert isinstance(view, ElevationView)
    assert "U8: about x short; about y magnified" in pictures.caption.text()
    done, first = painted(view)
    assert done
    window.document.selection.select_combination("U2")
    _, second = painted(view)
    assert first != second
    table = view.table(pictures._shown)
    assert len(table.rows) == 41
    qtbot.mouseMove(view, QPointF(300, view.height() / 2).toPoint())
    qtbot.waitUntil(lambda: "above the foot" in pictures.reading.text())
    assert "Mx" in pictures.reading.text()
    window.go(Place(lift=C6L5))
    assert painted(view)[0]
    # An effective length that is not known is not drawn.
    window.document.edit("Beams", lambda project: project.changed(beams=()))
    qtbot.waitUntil(lambda: window.document.complete)
    window.go(Place(lift=C4L2))
    assert "about y not known" in pictures.caption.text()
    assert painted(view)[0]


def test_the_tables_of_a_lift_follow_the_selection(qtbot, window):
    window.go(Place(lift=C4L2))
    bench = bench_of(window)
    qtbot.mouseClick(bench.tables.tabs[1], LEFT)
    table, model = bench.second_order, bench.second_order.model()
    heads = [model.headerData(i, Qt.Orientation.Horizontal) for i in range(model.columnCount())]
    assert heads[:4] == ["Combination", "N\nkN", "With\nratio", "Without\nratio"]
    assert "δs y" in heads
    first = [model.index(0, i).data() for i in range(4)]
    assert first == ["U8", "2\u2009352", "1.016", "0.913"]
    table.setCurrentIndex(model.index(2, 0))
    assert window.document.selection.combination == model.index(2, 0).data()


def rows_of(table):
    columns = range(table.columnCount())
    cells = ([table.item(row, c) for c in columns] for row in range(table.rowCount()))
    return {row[0].text(): [cell.text() for cell in row[1:]] for row in cells}


def test_a_lift_is_read_otherwise(qtbot, window):
    window.go(Place(lift=C4L2))
    bench = bench_of(window)
    qtbot.mouseClick(bench.tables.tabs[2], LEFT)
    rows = rows_of(bench.readings.table)
    assert list(rows) == ["nonsway", "sway"]
    assert rows["nonsway"][0] < "1.016" <= rows["sway"][0]
    # About y, in which the storey sways: the first-order moment, if it did not.
    assert rows["nonsway"][-1] == "325"
    assert "Moments of U8" in bench.readings.told.text()
    chosen(bench.readings.subject, "lengths")
    rows = rows_of(bench.readings.table)
    assert [rows[name][2] for name in ("fixed–fixed", "fixed–pinned")] == ["0.50", "0.70"]
    assert rows["as it is"][0] == "1.016"
    # A storey's drift makes moments grow alike however its lifts are held.
    assert rows["pinned–pinned"][6:8] == ["∞", "∞"]
    chosen(bench.readings.subject, "EI")
    rows = rows_of(bench.readings.table)
    assert list(rows) == ["(b) (chosen)", "(a)", "(c)"]
    assert window.document.project.basis.values.options == {}


def test_the_general_method_is_computed_on_demand(qtbot, window):
    window.go(Place(lift=C6L5))
    bench = bench_of(window)
    qtbot.mouseClick(bench.tables.tabs[3], LEFT)
    general = bench.general
    assert general.checks == []
    qtbot.mouseClick(general.one, LEFT)
    qtbot.waitUntil(lambda: len(general.checks) == 1, timeout=30_000)
    assert general.table.item(0, 2).text() == f"{general.checks[0].ratio:.3f}"
    assert general.told.text().startswith("6.8: nominal laws")
    assert general.curve.grab().width() > 0
    qtbot.mouseClick(general.all, LEFT)
    qtbot.waitUntil(lambda: len(general.checks) >= 2, timeout=30_000)
    qtbot.mouseClick(general.stop, LEFT)
    assert general.told.text().startswith("Stopped after")
    # Other facts: what was found is nothing any more.
    window.document.selection.select_lift(C4L2)
    assert general.checks == []


def test_no_convergence_of_the_general_method_is_a_sentence(qtbot, window, monkeypatch):
    window.go(Place(lift=C6L5))
    bench = bench_of(window)
    qtbot.mouseClick(bench.tables.tabs[3], LEFT)
    general = bench.general

    def lost(*_):
        raise ConvergenceError("no equilibrium was found")

    monkeypatch.setattr("fexro.desktop.bench.general.general_check", lost)
    qtbot.mouseClick(general.one, LEFT)
    qtbot.waitUntil(lambda: "no equilibrium" in general.told.text(), timeout=30_000)
    assert "simplified method stands" in general.told.text()
    assert general.one.isEnabled()


def test_slender_lifts_are_sought_in_the_schedule(qtbot, window):
    window.go(Place("schedule"))
    page = schedule_of(window)
    page.seek()
    page.filters.slender.setChecked(True)
    assert page.filters.count.text() == "8 of 36"
    page.filters.clear()
    assert page.filters.count.text() == ""
