"""The section on the bench: faces, corners, parts and bars dragged, nudged, typed and undone."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest

from fexro.desktop.shell.stages import Place
from fexro.project.column import LiftKey
from fexro.project.shape_change import as_kind
from fexro.project.shapes import Circle, Composed, PartModel, Rectangle
from tests.desktop.pages import bench_of

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
C1L3 = LiftKey("C1", "L3")


@pytest.fixture
def canvas(qtbot, window):
    """The drawing of a square column of 500 mm with 8 D25, large."""
    window.go(Place(lift=C1L3))
    page = bench_of(window)
    qtbot.keyClick(window, Qt.Key.Key_S, Qt.KeyboardModifier.AltModifier)
    qtbot.waitUntil(lambda: page.section.drawing.width() > 400)
    return page.section.drawing


def section_in(window, key=C1L3):
    return window.document.project.by_key[key].section


def pixel(canvas, x, y):
    return canvas.point_of(x, y).toPoint()


def dragged(canvas, start, by, modifier=NONE, steps=4, release=True):
    """Drag from a place of the section, mm, by so many mm."""
    a = pixel(canvas, *start)
    b = pixel(canvas, start[0] + by[0], start[1] + by[1])
    QTest.mousePress(canvas, LEFT, modifier, a)
    for k in range(1, steps + 1):
        QTest.mouseMove(canvas, a + (b - a) * k / steps)
    if release:
        QTest.mouseRelease(canvas, LEFT, modifier, b)
    return b


def reshape(window, shape):
    lift = window.document.project.by_key[C1L3]
    section = lift.section.model_copy(update={"shape": shape})
    window.document.replace_lift(C1L3, lift.model_copy(update={"section": section}), "Shape")


def test_a_face_is_dragged_as_one_step_and_followed(qtbot, window, canvas):
    before, told = section_in(window).shape.width, []
    canvas.previewed.connect(lambda s: told.append(None if s is None else s.shape.width))
    verdict = bench_of(window).verdict.text()
    end = dragged(canvas, (before / 2, 100), (40, 0), release=False)
    assert canvas.told == f"Width {before + 80:g} mm"
    assert section_in(window).shape.width == before
    assert bench_of(window).verdict.text() != verdict
    QTest.mouseRelease(canvas, LEFT, NONE, end)
    assert section_in(window).shape.width == pytest.approx(before + 80)
    assert told[0] < told[-1] == before + 80
    assert window.document.undo_label == "Width of C1 · L3"
    window.document.undo()
    assert section_in(window).shape.width == before


def test_escape_gives_a_gesture_up(qtbot, window, canvas):
    before = section_in(window)
    dragged(canvas, (250, 100), (40, 0), release=False)
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    assert canvas.told == ""
    assert section_in(window) == before
    QTest.mouseRelease(canvas, LEFT, NONE, pixel(canvas, 250, 100))
    assert section_in(window) == before


def test_what_cannot_be_is_told_while_it_is_dragged_and_not_taken(window, canvas):
    before = section_in(window)
    dragged(canvas, (250, 100), (-245, 0), release=False)
    assert canvas.told == "“10 mm”: 50 mm or more"
    shown = canvas._section
    assert shown.outline.area > 0
    QTest.mouseRelease(canvas, LEFT, NONE, pixel(canvas, 5, 100))
    # The last section that could be is taken; it can be built.
    assert section_in(window).shape.width <= before.shape.width


def test_bars_are_chosen_dragged_nudged_removed_and_laid_out_anew(qtbot, window, canvas):
    bars = canvas._section.bars
    x, y = float(bars.x[0]), float(bars.y[0])
    dragged(canvas, (x, y), (60, 60), modifier=NONE)
    section = section_in(window)
    assert section.placed
    assert (section.placed[0].x, section.placed[0].y) == pytest.approx((x + 60, y + 60), abs=3)
    assert canvas.chosen == {0}
    at = section.placed[0].x
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    assert section_in(window).placed[0].x == pytest.approx(at + 5)
    qtbot.keyClick(canvas, Qt.Key.Key_Left, SHIFT)
    assert section_in(window).placed[0].x == pytest.approx(at + 4)
    count = len(section.placed)
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    assert len(section_in(window).placed) == count - 1
    assert canvas.chosen == frozenset()
    qtbot.keyClick(canvas, Qt.Key.Key_Insert)
    assert len(section_in(window).placed) == count
    # Its call-out says what there is, and typing another does not take its place unasked.
    panel = bench_of(window).section
    assert panel.fields["bars"].text() == section_in(window).bars
    panel.fields["bars"].setFocus()
    panel.fields["bars"].selectAll()
    qtbot.keyClicks(panel.fields["bars"], "12 D25")
    qtbot.keyClick(panel.fields["bars"], Qt.Key.Key_Return)
    assert "lay them out anew first" in panel.error.text()
    panel.fields["bars"].take_back()
    menu = canvas.make_menu(QPointF(10, 10))
    next(a for a in menu.actions() if a.text() == "Lay the bars out anew").trigger()
    assert section_in(window).placed == ()
    for _ in range(6):
        window.document.undo()
    assert section_in(window).placed == ()


def test_bars_come_into_line_with_others(window, canvas):
    bars = canvas._section.bars
    x, y = float(bars.x[0]), float(bars.y[0])
    end = dragged(canvas, (x, y), (0, -2 * y - 2), release=False)
    # The corner bar comes to the height of those at the other side, and stays in its line.
    assert {name for name, _ in canvas._guides} == {"x", "y"}
    QTest.mouseRelease(canvas, LEFT, NONE, end)
    assert section_in(window).placed[0].y == pytest.approx(-y, abs=0.1)


def test_many_bars_are_chosen_by_a_band_and_resized(qtbot, window, canvas):
    dragged(canvas, (-100, 60), (200, -120))
    assert canvas.chosen == frozenset()
    qtbot.keyClick(canvas, Qt.Key.Key_A, CTRL)
    count = len(canvas._section.bars)
    assert len(canvas.chosen) == count
    first = QPointF(
        pixel(canvas, float(canvas._section.bars.x[0]), float(canvas._section.bars.y[0]))
    )
    menu = canvas.make_menu(first)
    sizes = next(a for a in menu.actions() if a.text() == f"Size of {count} bars").menu()
    next(a for a in sizes.actions() if a.text() == "D20").trigger()
    assert section_in(window).bars == f"{count} D20"
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    field = canvas._field
    qtbot.keyClicks(field, "D99")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert "one of D6" in bench_of(window).section.error.text()
    field.selectAll()
    qtbot.keyClicks(field, "D16")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert section_in(window).bars == f"{count} D16"
    assert canvas.hasFocus()


def test_the_size_of_a_face_is_typed_in_place(qtbot, window, canvas):
    QTest.mouseDClick(canvas, LEFT, NONE, pixel(canvas, 250, 100))
    field = canvas._field
    assert field.text() == "500 mm"
    qtbot.keyClicks(field, "620")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert section_in(window).shape.width == 620
    QTest.mouseDClick(canvas, LEFT, NONE, pixel(canvas, 310, 100))
    qtbot.keyClicks(canvas._field, "10")
    qtbot.keyClick(canvas._field, Qt.Key.Key_Return)
    assert "50" in bench_of(window).section.error.text()
    assert section_in(window).shape.width == 620


def test_openings_are_dragged_and_turned_faces_follow(window, canvas):
    duct = PartModel(shape=Circle(diameter=100), x=0, y=0, how="cut")
    reshape(window, Composed(parts=(PartModel(shape=Rectangle(width=500, depth=500)), duct)))
    dragged(canvas, (10, 10), (60, 30))
    part = section_in(window).shape.parts[1]
    assert (part.x, part.y) == (60, 30)
    # An opening that leaves too little concrete is not taken.
    end = dragged(canvas, (70, 40), (125, 0), release=False)
    assert "10 mm" in canvas.told or "cover" in canvas.told
    QTest.mouseRelease(canvas, LEFT, NONE, end)
    assert section_in(window).shape.parts[1].x < 190
    reshape(
        window,
        Composed(parts=(PartModel(shape=Rectangle(width=500, depth=700), angle=90.0),)),
    )
    dragged(canvas, (350, 0), (20, 0))
    assert section_in(window).shape.parts[0].shape.depth == 740


def test_corners_of_a_free_outline_are_dragged(window, canvas):
    reshape(window, as_kind(section_in(window).shape, "polygon"))
    dragged(canvas, (250, 250), (40, 20))
    assert section_in(window).shape.outer[2] == (290, 270)


def test_the_wheel_comes_nearer_at_the_pointer(qtbot, window, canvas):
    at = canvas.point_of(100, 100)
    event = QWheelEvent(
        at,
        QPointF(canvas.mapToGlobal(at.toPoint())),
        QPoint(),
        QPoint(0, 120),
        Qt.MouseButton.NoButton,
        NONE,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    scale = canvas._fit().scale
    canvas.wheelEvent(event)
    assert canvas._fit().scale == pytest.approx(1.2 * scale)
    assert canvas.point_of(100, 100).x() == pytest.approx(at.x(), abs=1e-6)
    qtbot.keyClick(canvas, Qt.Key.Key_0)
    assert canvas._fit().scale == pytest.approx(scale)


def test_the_shape_is_chosen_with_a_bar_in_each_corner(qtbot, window):
    window.go(Place(lift=C1L3))
    panel = bench_of(window).section
    shape = panel.fields["shape"]
    for kind in ("octagon", "T", "circle", "rectangle"):
        shape.setCurrentIndex(shape.findData(kind))
        shape.activated.emit(shape.currentIndex())
        assert section_in(window).shape.kind == kind
    assert section_in(window).bars == "8 D25"
    assert panel.fields["radius"].isHidden()
    qtbot.mouseClick(panel.more, LEFT)
    radius = panel.fields["radius"]
    radius.setFocus()
    radius.selectAll()
    qtbot.keyClicks(radius, "60")
    qtbot.keyClick(radius, Qt.Key.Key_Return)
    assert section_in(window).shape.radius == 60


def test_parts_are_added_placed_turned_and_removed(qtbot, window, canvas):
    panel = bench_of(window).section.parts
    assert [panel.parts.item(i).text() for i in range(panel.parts.count())] == ["1  500 × 500"]
    panel.run("cut")
    assert panel.parts.currentRow() == 1
    assert panel.parts.item(1).text() == "2  less ⌀ 100"
    field = panel.form.fields["x"]
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "60")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert section_in(window).shape.parts[1].x == 60
    field = panel.form.fields["diameter"]
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "480")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert "no room inside the ties" in panel.form.error.text()
    field.take_back()
    how = panel.form.fields["how"]
    how.setCurrentIndex(how.findData("intersect"))
    how.activated.emit(how.currentIndex())
    # A disc of 100 mm has no room for the bars: it is refused with its reason.
    assert "no room inside the ties" in panel.form.error.text()
    assert section_in(window).shape.parts[1].how == "cut"
    panel.run("turn")
    assert (section_in(window).shape.parts[1].x, section_in(window).shape.parts[1].y) == (0, 60)
    panel.run("mirror")
    panel.run("remove")
    assert len(section_in(window).shape.parts) == 1
    panel.run("remove")
    assert "at least one part" in bench_of(window).section.error.text()
    undone = 0
    while section_in(window).shape != Rectangle(width=500, depth=500):
        window.document.undo()
        undone += 1
    assert undone == 5


def test_a_dimension_is_dragged_and_typed(qtbot, window, canvas):
    below = canvas.point_of(0, -250).toPoint() + QPoint(0, 22)
    QTest.mousePress(canvas, LEFT, NONE, below)
    for k in range(1, 5):
        QTest.mouseMove(canvas, below + QPoint(10 * k, 0))
    assert canvas.told.startswith("Width ")
    QTest.mouseRelease(canvas, LEFT, NONE, below + QPoint(40, 0))
    assert section_in(window).shape.width > 500
    aside = canvas.point_of(-section_in(window).shape.width / 2, 0).toPoint() - QPoint(22, 0)
    QTest.mouseDClick(canvas, LEFT, NONE, aside)
    qtbot.keyClicks(canvas._field, "640")
    qtbot.keyClick(canvas._field, Qt.Key.Key_Return)
    assert section_in(window).shape.depth == 640


def test_a_bar_comes_midway_between_those_beside_it(window, canvas):
    bars = canvas._section.bars
    middle = next(i for i in range(8) if abs(bars.x[i]) < 1 and bars.y[i] > 0)
    y = float(bars.y[middle])
    dragged(canvas, (0, y), (60, 0))
    assert section_in(window).placed[middle].x == pytest.approx(60, abs=3)
    end = dragged(canvas, (section_in(window).placed[middle].x, y), (-57, 0), release=False)
    assert any(name == "x" and abs(value) < 0.1 for name, value in canvas._guides)
    QTest.mouseRelease(canvas, LEFT, NONE, end)
    assert section_in(window).placed[middle].x == pytest.approx(0, abs=0.1)


def test_an_opening_too_near_to_bars_is_not_taken(window, canvas):
    duct = PartModel(shape=Circle(diameter=100), x=0, y=0, how="cut")
    reshape(window, Composed(parts=(PartModel(shape=Rectangle(width=500, depth=500)), duct)))
    end = dragged(canvas, (10, 10), (100, 0), release=False)
    assert "cover to openings" in canvas.told
    QTest.mouseRelease(canvas, LEFT, NONE, end)
    assert section_in(window).shape.parts[1].x <= 100
