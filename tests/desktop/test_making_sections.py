"""Making sections on the bench: steel, ties, outlines, drawings, kept sections, properties."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QInputDialog

from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey
from fexro.project.shape_change import as_kind
from fexro.project.shapes import PolygonShape
from tests.desktop.pages import bench_of

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
C1L3, C1L2 = LiftKey("C1", "L3"), LiftKey("C1", "L2")


@pytest.fixture
def panel(qtbot, window):
    """The section of a square column of 500 mm with 8 D25, large."""
    window.go(Place(lift=C1L3))
    page = bench_of(window)
    qtbot.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.AltModifier)
    qtbot.waitUntil(lambda: page.section.drawing.width() > 400)
    return page.section


def section_in(window, key=C1L3):
    return window.document.project.by_key[key].section


def typed(qtbot, field, text):
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def chosen(form, name, data):
    choice = form.fields[name]
    choice.setCurrentIndex(choice.findData(data))
    choice.activated.emit(choice.currentIndex())


def reshape(window, shape):
    lift = window.document.project.by_key[C1L3]
    section = lift.section.model_copy(update={"shape": shape})
    window.document.replace_lift(C1L3, lift.model_copy(update={"section": section}), "Shape")


def test_steel_is_added_sized_dragged_and_taken_out(qtbot, window, panel):
    steel = panel.profiles
    panel.making.show_view(1)
    assert not steel.form.isVisible()
    steel.run("add")
    assert steel.parts.item(0).text() == "1  I 220 × 220 × 11 × 16.5, S355"
    assert "Structural steel" in bench_of(window).remarks.text()
    usual = steel.form.fields["rolled"]
    usual.setCurrentText("I 200 × 200 × 9 × 15")
    usual.activated.emit(usual.currentIndex())
    part = section_in(window).profiles[0]
    assert (part.profile.depth, part.profile.root) == (200, 18)
    chosen(steel.form, "grade", "S275")
    assert section_in(window).profiles[0].yield_strength == 275
    typed(qtbot, steel.form.fields["yield_strength"], "290")
    assert section_in(window).profiles[0].grade == "Fy 290 MPa"
    typed(qtbot, steel.form.fields["x"], "200")
    assert "wholly inside the concrete" in steel.form.error.text()
    assert section_in(window).profiles[0].x == 0
    steel.form.fields["x"].take_back()
    canvas = panel.drawing
    start = canvas.point_of(0, 0).toPoint()
    end = canvas.point_of(30, 15).toPoint()
    QTest.mousePress(canvas, LEFT, NONE, start)
    for k in range(1, 5):
        QTest.mouseMove(canvas, start + (end - start) * k / 4)
    QTest.mouseRelease(canvas, LEFT, NONE, end)
    part = section_in(window).profiles[0]
    assert (part.x, part.y) == (30, 15)
    assert window.document.undo_label == "Steel of C1 · L3"
    assert "structural steel" in panel._facts.text()
    chosen(steel.form, "kind", "tube")
    assert section_in(window).profiles[0].profile.kind == "tube"
    steel.run("remove")
    assert section_in(window).profiles == ()


def test_stresses_are_shown_by_region(qtbot, window, panel):
    panel.profiles.run("add")
    page = bench_of(window)
    page.toggle_section()
    qtbot.waitUntil(lambda: window.document.complete)
    page.pictures.show_view(3)
    view = page.pictures.pictures[3].widget
    qtbot.waitUntil(lambda: view._state is not None)
    assert [region.steel for region in view._state.body.regions] == [False, True]
    assert view._region_text(0.0, 0.0).startswith("Steel: σ ")
    assert view._region_text(180.0, -200.0).startswith("Concrete: σ ")
    assert view.grab().width() > 0


def test_parts_may_be_of_another_concrete(qtbot, window, panel):
    panel.parts.run("join")
    typed(qtbot, panel.parts.form.fields["x"], "0")
    assert "changes the section" in panel.parts.form.error.text()
    panel.parts.form.fields["x"].take_back()
    other = window.document.project.concretes[-1].name
    chosen(panel.parts.form, "concrete", other)
    typed(qtbot, panel.parts.form.fields["x"], "0")
    assert section_in(window).shape.parts[1].concrete == other
    made = panel.drawing._section
    assert sorted(str(area.concrete) for area in made.concretes) == sorted(["None", other])
    qtbot.waitUntil(lambda: window.document.complete)


def test_bars_are_tied_and_untied_by_hand(qtbot, window, panel):
    ties, canvas = panel.ties, panel.drawing
    panel.making.show_view(2)
    assert ties.legs.text() == "3.4 legs along x, 3.4 along y"
    assert [ties.ties.item(i).text() for i in range(ties.ties.count())] == [
        "tie about 7–5–8–6"
    ] or (ties.ties.count() == 1)
    ties.ties.setCurrentRow(0)
    assert len(canvas.chosen) == 4
    canvas.setFocus()
    qtbot.keyClick(canvas, Qt.Key.Key_T, SHIFT)
    assert section_in(window).inner_ties.ties == ()
    assert "Placed by hand. Not held" in ties.told.text()
    qtbot.waitUntil(lambda: window.document.complete)
    assert "not held by a tie" in bench_of(window).verdict.text()
    bars = canvas._section.bars
    level = [i for i in range(8) if abs(bars.y[i]) < 1]
    canvas.choose(frozenset(level))
    qtbot.keyClick(canvas, Qt.Key.Key_T)
    assert section_in(window).inner_ties.ties == (tuple(level),)
    assert ties.legs.text().startswith("3 legs along x")
    canvas.choose(frozenset(level[:1]))
    qtbot.keyClick(canvas, Qt.Key.Key_T)
    assert "two bars or more" in panel.error.text()
    # Other bars than the ties were placed for: nothing is overwritten, it is not checked.
    typed(qtbot, panel.fields["bars"], "12 d25")
    assert section_in(window).bars == "12 D25"
    qtbot.waitUntil(lambda: window.document.complete)
    assert "placed by hand for 8 bars" in bench_of(window).verdict.text()
    menu = canvas.make_menu(QPointF(10, 10))
    next(a for a in menu.actions() if a.text() == "Ties by the code's rule").trigger()
    assert section_in(window).inner_ties is None
    window.document.undo()
    ties.run("rule")
    assert section_in(window).inner_ties is None


def test_an_outline_is_typed_pasted_and_shaped(qtbot, window, panel):
    reshape(window, as_kind(section_in(window).shape, "polygon"))
    outline = panel.parts.outline
    assert outline.isVisible()
    assert outline.corners.rowCount() == 4
    outline.corners.item(2, 0).setText("300")
    assert section_in(window).shape.outer[2] == (300, 250)
    outline.corners.item(2, 0).setText("-9000")
    assert "outline" in panel.error.text()
    assert outline.corners.item(2, 0).text() == "300"
    outline.corners.item(0, 2).setText("40")
    assert section_in(window).shape.bulges[0] == pytest.approx(80 / 500)
    outline.corners.setCurrentCell(1, 0)
    outline.run("add")
    assert len(section_in(window).shape.outer) == 5
    outline.run("remove")
    clipboard = QGuiApplication.clipboard()
    outline.run("copy")
    assert clipboard.text().startswith("-250\t-250\t40")
    clipboard.setText("0 0\n600 0\n600 500\n0 500\n\n250 200\n350 200\n350 300\n250 300")
    outline.corners.setFocus()
    qtbot.keyClick(outline.corners, Qt.Key.Key_V, CTRL)
    shape = section_in(window).shape
    assert isinstance(shape, PolygonShape)
    assert len(shape.voids) == 1
    clipboard.setText("0 0\n600 nothing")
    outline.run("paste")
    assert "line 2" in panel.error.text()
    canvas = panel.drawing
    at = QPointF(canvas.point_of(300, 0))
    menu = canvas.make_menu(at)
    next(a for a in menu.actions() if a.text() == "Add a corner here").trigger()
    assert len(section_in(window).shape.outer) == 5
    menu = canvas.make_menu(QPointF(canvas.point_of(300, 0)))
    next(a for a in menu.actions() if a.text() == "Take the corner out").trigger()
    assert len(section_in(window).shape.outer) == 4


def test_a_corner_comes_into_line_with_those_beside_it(qtbot, window, panel):
    reshape(window, as_kind(section_in(window).shape, "polygon"))
    canvas = panel.drawing
    start = canvas.point_of(250, 250).toPoint()
    end = canvas.point_of(250 + 2.0, 300).toPoint()
    QTest.mousePress(canvas, LEFT, NONE, start)
    for k in range(1, 5):
        QTest.mouseMove(canvas, start + (end - start) * k / 4)
    assert ("x", 250.0) in canvas._guides
    QTest.mouseRelease(canvas, LEFT, NONE, end)
    assert section_in(window).shape.outer[2][0] == 250


def test_a_section_goes_to_a_drawing_and_back(qtbot, window, panel, tmp_path, monkeypatch):
    path = tmp_path / "section.dxf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(path), ""))
    panel.parts.run("write")
    assert path.exists()
    panel.parts.run("read")
    section = section_in(window)
    assert section.shape.kind == "polygon"
    assert section.bars == "8 D25"
    assert len(section.placed) == 8
    text = path.read_text(encoding="utf-8").replace("$INSUNITS\n 70\n4", "$INSUNITS\n 70\n0")
    path.write_text(text, encoding="utf-8")
    asked = []

    def ask(parent, title, said, texts, *more):
        asked.append((said, texts))
        return texts[0], True

    monkeypatch.setattr(QInputDialog, "getItem", ask)
    panel.parts.run("read")
    ((said, texts),) = asked
    assert "does not say its unit" in said
    assert texts[0] == "mm: 500 × 500"
    path.write_text("no drawing", encoding="utf-8")
    panel.parts.run("read")
    assert "section.dxf" in panel.error.text()
    assert section_in(window).shape.kind == "polygon"


def test_sections_are_kept_shared_and_changed_for_all(qtbot, window, panel, tmp_path, monkeypatch):
    library = panel.library
    panel.making.show_view(3)
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("K1", True))
    library.run("keep")
    assert "has section K1, as 1 lift" in library.here.text()
    window.go(Place(lift=C1L2))
    library.sections.setCurrentRow(0)
    library.run("use")
    assert section_in(window, C1L2) == section_in(window)
    assert "as 2 lifts" in library.here.text()
    typed(qtbot, panel.fields["bars"], "12 D25")
    assert "a section of its own" in library.here.text()
    library.sections.setCurrentRow(0)
    assert library.change.text() == "Change K1 to this section"
    qtbot.waitUntil(lambda: "Worst" in library.effect.text())
    assert library.effect.text().startswith("Changing K1: ")
    library.change.click()
    assert section_in(window).bars == "12 D25"
    path = tmp_path / "a.sections.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(path), ""))
    library.run("export")
    library.sections.setCurrentRow(0)
    library.run("remove")
    assert window.document.project.sections == ()
    library.run("export")
    assert "at least one section" in panel.error.text()
    library.run("import")
    assert [s.name for s in window.document.project.sections] == ["K1"]
    path.write_text("{}", encoding="utf-8")
    library.run("import")
    assert "a.sections.json" in panel.error.text()


def test_properties_follow_what_is_dragged(qtbot, window, panel):
    panel.making.show_view(4)
    properties = panel.properties
    assert properties.values["area"].text() == "250 000 mm²".replace(" ", "\u2009", 1)
    canvas = panel.drawing
    start, end = canvas.point_of(250, 100).toPoint(), canvas.point_of(290, 100).toPoint()
    QTest.mousePress(canvas, LEFT, NONE, start)
    for k in range(1, 5):
        QTest.mouseMove(canvas, start + (end - start) * k / 4)
    assert properties.values["area"].text().startswith("290")
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    QTest.mouseRelease(canvas, LEFT, NONE, end)
    assert properties.values["area"].text().startswith("250")
    properties.open.click()
    assert "I_x" in properties.derivation.text


def test_a_call_out_says_where_bars_are(qtbot, window, panel):
    typed(qtbot, panel.fields["bars"], "4 D32 corner + 3 d25 EF")
    assert section_in(window).bars == "4 D32 corners + 3 D25 each face"
    assert len(panel.drawing._section.bars) == 16
    typed(qtbot, panel.fields["bars"], "5 D32 corners")
    assert "4, one in each corner" in panel.error.text()
    assert section_in(window).bars == "4 D32 corners + 3 D25 each face"
