"""Ductile frames and existing columns in the window: from the basis to the joint that is drawn."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QImage, QPainter

from fexro.core.findings import State
from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey
from tests.desktop.pages import bench_of
from tests.desktop.test_basis import basis_of, chosen, typed
from tests.desktop.test_forces import project_of
from tests.desktop.test_stability import BEAMS, cell

KEY = LiftKey("C2", "L5")
JOINT = 6


def settled(qtbot, window):
    qtbot.waitUntil(lambda: window.document.complete, timeout=60_000)


@pytest.fixture
def ductile(qtbot, window):
    page = basis_of(window)
    chosen(page.directions.forms["x"].fields["ductility"], "high")
    settled(qtbot, window)
    return window


def panel_of(window, key=KEY):
    window.go(Place(lift=key))
    panel = bench_of(window).pictures
    panel.show_view(JOINT)
    return panel


def test_the_joint_is_drawn_with_the_moments_of_all_members(qtbot, ductile):
    panel = panel_of(ductile)
    assert panel.joint.missing() == ""
    assert "1.2 required" in panel.caption.text()
    table = panel.joint.table(panel._shown)
    # Two senses of one direction, each of two lifts and two beams.
    assert [row[1] for row in table.rows[:4]] == ["this lift", "the lift above", *_beams(table)]
    assert len(table.rows) == 8
    image = QImage(600, 420, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    assert panel.joint.paint(painter, QRectF(0, 0, 600, 420))
    painter.end()


def _beams(table):
    return [row[1] for row in table.rows[2:4]]


def test_stronger_beams_are_typed_and_what_would_settle_the_joint_is_told(qtbot, ductile):
    ductile.go(Place("stability"))
    page = ductile.stage("stability").page
    page.show_view(BEAMS)
    beams = page.beams
    beams._show(KEY)
    model = beams.model
    assert cell(model, 0, "Top").data() == "4 D25"
    for row in range(model.rowCount()):
        assert model.setData(cell(model, row, "Top"), "900 kN·m")
    assert cell(model, 0, "Top").data() == "900 kN·m"
    assert not model.setData(cell(model, 0, "Bottom"), "many")
    assert "bars such as 4 D25" in beams.error.text()
    assert model.setData(cell(model, 0, "Bottom"), "2 d25+1 d20")
    assert cell(model, 0, "Bottom").data() == "2 D25 + 1 D20"
    settled(qtbot, ductile)
    result = ductile.document.results[KEY]
    check = next(c for c in result.findings if c.name == "Strong column along x")
    assert check.state is State.EXCEEDED
    panel = panel_of(ductile)
    told = panel.joint._told(panel.joint.worst[0])
    assert "of bars in this lift" in told
    assert "deep along x" in told


def test_the_joint_of_an_ordinary_frame_says_what_it_needs(qtbot, window):
    panel = panel_of(window)
    assert "ductility" in panel.joint.missing()
    assert panel.joint.table(panel._shown) is None


def test_demands_that_ask_for_confinement_lie_in_a_band(qtbot, ductile):
    ductile.go(Place(lift=LiftKey("C1", "L1")))
    view = bench_of(ductile).pictures.axial_bending
    bench_of(ductile).pictures.show_view(0)
    assert view._band.isVisible()
    low, _ = view._band.getRegion()
    # 0.3·500·500·45 N.
    assert low == pytest.approx(3375.0)
    ductile.go(Place(lift=LiftKey("C1", "Roof")))
    assert not view._band.isVisible()


def test_a_column_that_stands_is_told_of_in_the_order_in_which_it_fails(qtbot, window):
    page = basis_of(window)
    assert not page.values.fields["knowledge"].isVisible()
    chosen(page.values.fields["age"], "existing")
    assert page.values.fields["knowledge"].isVisible()
    typed(qtbot, page.values.fields["knowledge"], "0.3")
    assert "0.5 of the strength or more" in page.values.error.text()
    typed(qtbot, page.values.fields["knowledge"], "0.75")
    typed(qtbot, page.values.fields["lap_length"], "400")
    settled(qtbot, window)
    assert project_of(window).basis.values.knowledge == 0.75
    window.go(Place(lift=LiftKey("C4", "L2")))
    lines = bench_of(window).checks.order.text().splitlines()
    assert lines[0] == "What fails first:"
    assert lines[1].startswith("1 laps at 0.")
    typed(qtbot, page.values.fields["lap_length"], "")
    assert project_of(window).basis.values.lap_length is None
    assert page.values.fields["lap_length"].placeholderText() == "as long as they have to be"


def test_a_lift_has_a_steel_of_ties_and_laps_of_its_own(qtbot, window):
    window.go(Place(lift=KEY))
    section = bench_of(window).section
    qtbot.mouseClick(section.more, Qt.MouseButton.LeftButton)
    ties = section.fields["tie_steel"]
    assert ties.currentText() == "as the bars"
    ties.setCurrentIndex(ties.findData("Grade 550"))
    ties.activated.emit(ties.currentIndex())
    assert project_of(window).by_key[KEY].values.tie_steel == "Grade 550"
    assert section.origins["tie_steel"].text() == "own ↺"
    typed(qtbot, section.fields["lap_length"], "850")
    assert project_of(window).by_key[KEY].values.lap_length == 850
    settled(qtbot, window)
    check = next(c for c in window.document.results[KEY].findings if c.name == "Lap length")
    assert check.values["found"].value == 850
    qtbot.mouseClick(section.origins["tie_steel"], Qt.MouseButton.LeftButton)
    assert project_of(window).by_key[KEY].values.tie_steel is None
