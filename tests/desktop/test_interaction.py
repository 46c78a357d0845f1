"""The pictures in the real window: one selection drives them all."""

from __future__ import annotations

import math

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from fexro.core.quantities import UnitSystem
from fexro.demo.tarnholm import tarnholm_columns
from fexro.desktop.bench.pictures.surface import opengl_available
from fexro.desktop.shell.stages import Place
from fexro.exchange.curves import contour_table, meridian_table
from fexro.project.column import LiftKey
from tests.desktop.pages import bench_of

C2, C4 = LiftKey("C2", "L1"), LiftKey("C4", "L1")


@pytest.fixture
def pictures(window):
    window.go(Place(lift=C2))
    return bench_of(window).pictures


def typed(qtbot, field, text):
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def test_the_plane_is_turned_by_typing(qtbot, window, pictures):
    typed(qtbot, pictures.controls.angle, "30")
    assert window.document.selection.angle == pytest.approx(math.radians(30))
    assert pictures.axial_bending._shown.angle == pytest.approx(math.radians(30))
    assert pictures.controls.angle.text() == "30.0°"
    assert "From Mux towards Muy" in pictures.caption.text()
    typed(qtbot, pictures.controls.angle, "north")
    assert "“north”" in pictures.caption.text()
    assert "degrees" in pictures.caption.text()
    assert window.document.selection.angle == pytest.approx(math.radians(30))


def test_the_plane_is_turned_by_dragging_and_by_keys(qtbot, window, pictures):
    dial = pictures.controls.dial
    QTest.mousePress(dial, Qt.MouseButton.LeftButton, pos=QPoint(24, 13))
    QTest.mouseMove(dial, QPoint(13, 2))
    QTest.mouseRelease(dial, Qt.MouseButton.LeftButton, pos=QPoint(13, 2))
    assert window.document.selection.angle == pytest.approx(math.pi / 2, abs=0.1)
    typed(qtbot, pictures.controls.angle, "10")
    dial.setFocus()
    qtbot.keyClick(dial, Qt.Key.Key_Left)
    qtbot.keyClick(dial, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert math.degrees(window.document.selection.angle) == pytest.approx(26)


def test_the_plane_follows_the_selection_unless_pinned(qtbot, window, pictures):
    selection = window.document.selection
    typed(qtbot, pictures.controls.angle, "30")
    selection.select_combination("U6")
    followed = pictures.axial_bending._shown.angle
    assert followed != pytest.approx(math.radians(30))
    typed(qtbot, pictures.controls.angle, "30")
    pictures.controls.pinned.setChecked(True)
    selection.select_combination("U2")
    assert pictures.axial_bending._shown.angle == pytest.approx(math.radians(30))
    assert pictures.axial_bending._shown.combination == "U2"
    pictures.controls.pinned.setChecked(False)
    assert pictures.axial_bending._shown.angle != pytest.approx(math.radians(30))


def test_the_axial_force_is_typed_and_slid(qtbot, window, pictures):
    pictures.show_view(1)
    typed(qtbot, pictures.controls.axial, "2 MN")
    assert window.document.selection.axial == pytest.approx(2e6)
    assert "2 000 kN".replace(" ", "\u2009", 1) in pictures.caption.text()
    strength = pictures._shown.strength
    pictures.controls.slider.setValue(500)
    middle = (strength.max_axial + strength.max_tension) / 2
    assert window.document.selection.axial == pytest.approx(middle)
    typed(qtbot, pictures.controls.axial, "3 m")
    assert "“3 m”" in pictures.caption.text()
    assert window.document.selection.axial == pytest.approx(middle)


def test_any_point_row_or_check_moves_the_selection(qtbot, window, pictures):
    selection, bench = window.document.selection, bench_of(window)
    for view in (pictures.axial_bending, pictures.biaxial, pictures.surface):
        for demand in (4, 9):
            view.picked.emit(demand)
            result = window.document.results[C2]
            assert selection.combination == result.combination_of(demand)
            assert selection.place == result.place_of(demand)
            row = bench.combinations.currentIndex().siblingAtColumn(0).data()
            assert row == result.combination_of(demand)
    assert pictures._shown.demand == 9
    check = bench.checks.heads[0].check
    bench.checks.toggle(check.name)
    assert selection.combination == check.combination


def test_views_are_reached_by_keys(qtbot, window, pictures):
    for number, key in enumerate((Qt.Key.Key_1, Qt.Key.Key_2, Qt.Key.Key_3, Qt.Key.Key_4)):
        qtbot.keyClick(window, key, Qt.KeyboardModifier.AltModifier)
        assert pictures.current == number
    assert pictures.controls.demand.isVisible()
    pictures.controls.demand.click()
    assert "under the demand itself" in pictures.caption.text()
    qtbot.keyClick(window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    qtbot.keyClick(window, Qt.Key.Key_P, Qt.KeyboardModifier.AltModifier)
    assert window.document.selection.pinned


def test_the_pointer_is_read_off(qtbot, window, pictures):
    shown = pictures._shown
    pictures.axial_bending.hovered.emit(100.0, 1000.0)
    text = pictures.reading.text()
    ratio = shown.reading(1e6, 1e8).utilisation
    assert f"utilisation {ratio:.3f}" in text
    for part in ("N 1\u2009000 kN", "M 100 kN·m", "c ", "‰"):
        assert part in text
    QApplication.sendEvent(pictures.axial_bending, QEvent(QEvent.Type.Leave))
    assert pictures.reading.text() == ""
    pictures.show_view(1)
    pictures.biaxial.hovered.emit(30.0, 40.0)
    assert "at 53.1°" in pictures.reading.text()


def test_other_bars_are_compared_and_adopted(qtbot, window, pictures):
    pictures.controls.other_bars.setChecked(True)
    qtbot.waitUntil(lambda: len(pictures.comparison._curves) == 4)
    choices = {choice.call_out: choice for choice in pictures.comparison.strip.choices}
    present = window.document.project.by_key[C2].section.bars
    assert choices[present].present
    assert choices[present].utilisation == window.document.results[C2].utilisation
    # Least area first, and more steel is used less.
    ratios = [choice.utilisation for choice in pictures.comparison.strip.choices]
    assert ratios == sorted(ratios, reverse=True)
    other = pictures.comparison.strip.choices[-1].call_out
    expected = choices[other].utilisation
    strip = pictures.comparison.strip
    with qtbot.waitSignal(strip.previewed) as previewed:
        QTest.mouseMove(strip, QPoint(strip.width() - 20, 15))
    assert previewed.args == [other]
    qtbot.mouseClick(strip, Qt.MouseButton.LeftButton, pos=QPoint(strip.width() - 20, 15))
    assert window.document.project.by_key[C2].section.bars == other
    assert window.document.results[C2].utilisation == pytest.approx(expected, rel=1e-12)
    assert window.document.undo_label == f"Main bars of {C2}"
    window.document.undo()
    assert window.document.project.by_key[C2].section.bars == present
    # A click on a curve adopts too.
    qtbot.waitUntil(lambda: len(pictures.comparison._curves) == 4)
    pictures.axial_bending.chosen.emit(other)
    assert window.document.project.by_key[C2].section.bars == other


def test_fewer_and_more_bars_are_compared_on_demand(qtbot, window, pictures):
    pictures.controls.counts.setChecked(True)
    assert pictures.controls.other_bars.isChecked()
    qtbot.waitUntil(lambda: len(pictures.comparison._curves) >= 3)
    count = int(window.document.project.by_key[C2].section.bars.split(" ")[0])
    found = [int(choice.call_out.split(" ")[0]) for choice in pictures.comparison.strip.choices]
    assert found == [count + change for change in (-4, -2, 0, 2, 4) if count + change > 0]
    pictures.controls.counts.setChecked(False)
    pictures.controls.other_bars.setChecked(False)
    qtbot.waitUntil(lambda: not pictures.comparison._curves)
    assert not pictures.comparison.strip.isVisible()


def test_versions_lifts_and_codes_are_compared(qtbot, window, pictures):
    pictures.comparison.button.hold()
    lift = window.document.project.by_key[C2]
    section = lift.section.model_copy(update={"cover": 60.0})
    window.document.replace_lift(C2, lift.model_copy(update={"section": section}), "Cover")
    pictures.comparison.button.compare_lift("C4", "L1")
    pictures.comparison.button.compare_code("EN 1992-1-1", "UK")
    qtbot.waitUntil(lambda: len(pictures.comparison._curves) == 3)
    held, other, code = pictures.comparison._curves
    assert held.label.startswith("C2 · L1 held")
    # Solved in other company, to what the solution is exact to.
    utilisation = window.document.results[C4].utilisation
    assert other.utilisation == pytest.approx(utilisation, rel=1e-7)
    assert "EN 1992-1-1 (UK)" in code.label
    now = pictures._shown.meridian.design_right
    assert abs(held.path[:, 1].max() - now[:, 1].max()) > 1e3
    menu = pictures.comparison.button.menu()
    menu.aboutToShow.emit()
    removals = [action for action in menu.actions() if action.text().startswith("Remove C4")]
    removals[0].trigger()
    qtbot.waitUntil(lambda: len(pictures.comparison._curves) == 2)
    pictures.comparison.button.release()
    qtbot.waitUntil(lambda: not pictures.comparison._curves)


def test_numbers_and_pictures_are_carried_away(qtbot, window, pictures, tmp_path):
    clipboard = QGuiApplication.clipboard()
    lift = window.document.results[C2].lift
    pictures.copy_numbers()
    assert clipboard.text() == meridian_table(lift, pictures._shown.angle, UnitSystem.SI).text("\t")
    pictures.show_view(1)
    pictures.copy_numbers()
    assert clipboard.text() == contour_table(lift, pictures._shown.axial, UnitSystem.SI).text("\t")
    for view in range(5):
        pictures.show_view(view)
        if view == 2 and not opengl_available():
            pictures.save_picture(tmp_path / "surface.png")
            assert "no OpenGL" in window.notice.text()
            window.notice.hide()
            continue
        qtbot.wait(20)
        pictures.copy_picture()
        sharper = 1 if view == 2 else 2
        assert clipboard.image().width() == sharper * pictures.views.width()
        for ending, start in ((".png", b"\x89PNG"), (".svg", b"<?xml"), (".pdf", b"%PDF")):
            path = tmp_path / f"view{view}{ending}"
            pictures.save_picture(path)
            assert path.read_bytes().startswith(start)
            assert path.stat().st_size > 1000
    image = QImage(str(tmp_path / "view0.png"))
    colours = {image.pixel(x, y) for x in range(0, image.width(), 9) for y in range(0, 500, 9)}
    assert len(colours) > 5
    assert not window.notice.isVisible()
    pictures.save_picture(tmp_path / "view.bmp")
    assert ".bmp" in window.notice.text()
    pictures.save_picture(tmp_path / "missing" / "view.png")
    assert "could not be written" in window.notice.text()


def test_a_lift_without_forces_has_pictures_too(qtbot, window):
    document = window.document
    document.edit(
        "Forces",
        lambda project: project.changed(case_forces=project.case_forces.without({C2})),
    )
    window.go(Place(lift=C2))
    for view in range(5):
        bench_of(window).pictures.show_view(view)
        qtbot.wait(10)
    assert bench_of(window).pictures.stresses._message == "No forces are known for this lift."


def test_the_picture_and_the_division_are_remembered(qtbot, window, request):
    window.go(Place(lift=C2))
    bench_of(window).pictures.show_view(1)
    bench_of(window).splitter.setSizes([800, 480])
    sizes = bench_of(window).splitter.sizes()
    window.close()
    again = request.getfixturevalue("window_again")
    again.open_project(tarnholm_columns(), None)
    again.show()
    qtbot.waitUntil(lambda: again.document.complete, timeout=30_000)
    again.go(Place(lift=C2))
    assert bench_of(again).pictures.current == 1
    assert bench_of(again).splitter.sizes() == pytest.approx(sizes, abs=3)
    bench_of(again).restore_layout(["nonsense"])
    bench_of(again).restore_layout(["a", "b", "c", "9"])
    assert bench_of(again).pictures.current == 1


@pytest.mark.long
def test_units_of_the_project_are_everywhere(qtbot, window):
    project = window.document.project
    basis = project.basis.model_copy(update={"units": "in-lb"})
    window.document.change_basis(basis, "Units")
    qtbot.waitUntil(lambda: window.document.complete, timeout=30_000)
    window.go(Place(lift=C2))
    pictures = bench_of(window).pictures
    axis = pictures.axial_bending.getPlotItem().getAxis("left")
    assert axis.labelText == "N, kip"
    pictures.axial_bending.hovered.emit(100.0, 500.0)
    assert "N 500 kip" in pictures.reading.text()
    assert " in" in pictures.reading.text()
    pictures.show_view(1)
    assert pictures.biaxial.getPlotItem().getAxis("bottom").labelText == "Mx, kip·ft"
    typed(qtbot, pictures.controls.axial, "400")
    assert window.document.selection.axial == pytest.approx(400 * 4448.2216)
    pictures.show_view(3)
    pictures.controls.demand.click()
    assert "ksi" in pictures.stresses._bar_text(0)
