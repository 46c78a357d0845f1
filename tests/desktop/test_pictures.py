"""What the pictures of a bench draw: curves, rays, key points, labels, readings, stresses."""

from __future__ import annotations

import math

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtTest import QTest

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.members.check import check_lift
from fexro.core.quantities import UnitSystem
from fexro.core.section.shapes import LShape, Rectangle
from fexro.core.strength.body import Body, Region
from fexro.core.strength.laws import Constant, PiecewiseLaw
from fexro.core.strength.state import SectionState, StrainPlane
from fexro.core.strength.utilisation import constant_axial, proportional
from fexro.desktop.application import make_application
from fexro.desktop.bench.pictures import surface
from fexro.desktop.bench.pictures.axial_bending import AxialBendingView, BesideCurve
from fexro.desktop.bench.pictures.biaxial_bending import BiaxialBendingView
from fexro.desktop.bench.pictures.shown import Shown, plane_angle
from fexro.desktop.bench.pictures.stresses import StressView, stress_stops
from fexro.desktop.bench.pictures.surface import SurfaceView
from tests.conftest import make_column, make_lift

ANALYSED = np.array(
    [[[2.0e6, 2e8, 6e7], [2.1e6, -1e8, 3e7]], [[1.0e6, -1e8, 9e7], [1.1e6, 5e7, -4e7]]]
)
RECTANGLE, ANGLE = Rectangle(width=500, depth=700), LShape(width=600, depth=600, leg=250)


@pytest.fixture(autouse=True)
def application(qapp):
    return make_application()


def result_of(shape, bars="12 D25", code=ACI_SI, analysed=ANALYSED):
    names = tuple(f"U{i + 1}" for i in range(len(analysed)))
    return check_lift(make_lift(make_column(shape, bars), code, names, analysed))


def shown_of(result, demand=0, angle=None):
    force = result.demands[demand]
    direction = plane_angle(*force[1:]) if angle is None else angle
    return Shown(result, demand, direction, float(force[0]), UnitSystem.SI)


@pytest.fixture
def diagram(qtbot):
    view = AxialBendingView()
    qtbot.addWidget(view)
    view.resize(600, 400)
    with qtbot.waitExposed(view):
        view.show()
    return view


def curve(diagram):
    moment, axial = diagram._design.getData()
    return np.column_stack([axial, moment])


def test_the_diagram_shows_the_design_surface_in_display_units(diagram):
    result = result_of(ANGLE, "10 D25")
    shown = shown_of(result, result.worst_demand)
    diagram.show_shown(shown, refit=True)
    path = curve(diagram)[5:-5:17]
    points = np.column_stack([path[:, 0] * 1e3, np.outer(path[:, 1] * 1e6, shown.unit)])
    np.testing.assert_allclose(proportional(shown.strength, points).ratio, 1.0, rtol=5e-3)
    # Both halves of an unsymmetric section.
    assert path[:, 1].min() < 0 < path[:, 1].max()


def test_a_symmetric_section_shows_one_half(diagram):
    diagram.show_shown(shown_of(result_of(RECTANGLE)), refit=True)
    assert curve(diagram)[:, 1].min() >= -1e-6


def test_ray_and_level_end_where_the_demand_is_used_up(diagram):
    result = result_of(RECTANGLE)
    diagram.show_shown(shown_of(result), refit=True)
    n, mx, my = ANALYSED[0, 0] / [1e3, 1e6, 1e6]
    ray, held = result.proportional.ratio[0], result.constant_axial.ratio[0]
    met = np.column_stack(diagram._met.getData())
    np.testing.assert_allclose(met[0], [math.hypot(mx, my) / ray, n / ray])
    np.testing.assert_allclose(met[1], [math.hypot(mx, my) / held, n])
    texts = [label.toPlainText() for label in diagram._labels]
    assert texts == [f"U1 top {ray:.2f}", f"ray {ray:.2f}", f"at N {held:.2f}"]


@pytest.mark.parametrize(
    ("code", "meanings"),
    [
        (ACI_SI, ["zero tension", "half yield", "balanced", "tension-controlled"]),
        (EN_RECOMMENDED, ["pivot", "zero tension", "half yield", "balanced"]),
    ],
)
def test_key_points_say_what_they_mean(qtbot, diagram, code, meanings):
    shown = shown_of(result_of(RECTANGLE, code=code))
    diagram.show_shown(shown, refit=True)
    texts = list(diagram._keys.data["data"])
    for meaning in (*meanings, "pure bending", "pure tension", "largest axial force"):
        assert any(meaning in text for text in texts), meaning
    assert all("kN" in text for text in texts)
    # Pointing at one tells it.
    qtbot.wait(30)
    m, n = (values[0] for values in diagram._keys.getData())
    at = diagram.pixels(np.array([[m, n]]))[0]
    QTest.mouseMove(diagram.viewport(), QPointF(*at).toPoint())
    told = diagram.getPlotItem().getViewBox().toolTip
    qtbot.waitUntil(lambda: told() == texts[0])
    # Each lies on the design surface.
    m, n = diagram._keys.getData()
    points = np.column_stack([n * 1e3, np.outer(m * 1e6, shown.unit)])
    np.testing.assert_allclose(proportional(shown.strength, points).ratio, 1.0, atol=2e-3)


def test_a_demand_is_picked_where_it_is_clicked(qtbot, diagram):
    diagram.show_shown(shown_of(result_of(RECTANGLE)), refit=True)
    qtbot.wait(50)
    place = diagram.pixels(diagram._places(diagram._shown, ANALYSED[1, :1]))[0]
    with qtbot.waitSignal(diagram.picked) as picked:
        qtbot.mouseClick(
            diagram.viewport(), Qt.MouseButton.LeftButton, pos=QPointF(*place).toPoint()
        )
    assert picked.args == [2]


def test_demands_of_other_directions_are_fainter(diagram):
    result = result_of(RECTANGLE)
    shown = shown_of(result)
    diagram.show_shown(shown, refit=True)
    faint = [
        int(i)
        for (_, faintly), item in diagram._spots._items.items()
        if faintly
        for i in item.data["data"]
    ]
    # By hand: 16.7°, 163.3° and 135°, −38.7°; only the first is in its own plane.
    assert sorted(faint) == [1, 2, 3]
    diagram.show_shown(shown_of(result, 0, math.radians(90)), refit=False)
    # The selected demand lies out of the plane: there is no ray in it.
    assert not diagram._ray.isVisible()


def test_first_order_and_final_demands_are_joined(diagram):
    # EN moves a demand without moment to the least eccentricity: 700/30 = 23.3 mm about x.
    analysed = np.array([[[2.0e6, 0.0, 0.0], [2.0e6, 0.0, 0.0]]])
    result = result_of(RECTANGLE, code=EN_RECOMMENDED, analysed=analysed)
    shown = Shown(result, 2, 0.0, 2e6, UnitSystem.SI)
    assert result.place_of(2) == "imperfection x"
    diagram.show_shown(shown, refit=True)
    m, n = diagram._first.getData()
    joined = np.column_stack([m, n]).reshape(-1, 2, 2)
    assert [0.0, 2000.0] in joined[:, 0].tolist()
    assert joined[:, 1, 0].max() == pytest.approx(2000 * 0.7 / 30)
    diagram.show_shown(shown_of(result_of(RECTANGLE)), refit=True)
    assert not len(diagram._first.getData()[0])


def test_the_scale_follows_unless_set_by_hand(diagram):
    view = diagram.getPlotItem().getViewBox()
    diagram.show_shown(shown_of(result_of(RECTANGLE)), refit=True)
    before = view.viewRange()
    larger = shown_of(result_of(Rectangle(width=700, depth=900)))
    diagram.show_shown(larger, refit=False)
    assert view.viewRange() == before
    view.sigRangeChangedManually.emit([True, True])
    diagram.show_shown(larger, refit=True)
    assert view.viewRange() == before
    diagram.fit()
    (x0, x1), (y0, y1) = view.viewRange()
    nominal = larger.meridian.nominal_right / [1e3, 1e6]
    assert x0 < 0 < nominal[:, 1].max() < x1
    assert y0 < nominal[:, 0].min() < nominal[:, 0].max() < y1


def test_one_key_brings_up_the_corner_with_the_demands(diagram):
    wall = result_of(Rectangle(width=2000, depth=1800), "40 D25", analysed=ANALYSED * 0.3)
    diagram.show_shown(shown_of(wall), refit=True)
    whole = np.diff(diagram.getPlotItem().getViewBox().viewRange())[:, 0]
    diagram.fit_demands()
    (x0, x1), (y0, y1) = diagram.getPlotItem().getViewBox().viewRange()
    places = diagram._places(diagram._shown, wall.demands)
    assert (places >= [x0, y0]).all()
    assert (places <= [x1, y1]).all()
    assert (np.array([x1 - x0, y1 - y0]) <= whole).all()


def test_labels_cover_neither_demands_nor_each_other(diagram):
    random = np.random.default_rng(3)
    analysed = random.uniform([5e5, -2e8, -2e8], [3e6, 2e8, 2e8], (12, 2, 3))
    result = result_of(RECTANGLE, analysed=analysed)
    for demand in range(0, 24, 5):
        diagram.show_shown(shown_of(result, demand), refit=True)
        boxes = [
            diagram.mapFromScene(label.sceneBoundingRect()).boundingRect().toRectF()
            for label in diagram._labels
            if label.isVisible()
        ]
        shown = diagram._shown
        points = diagram.pixels(diagram._places(shown, shown.demands))
        for number, box in enumerate(boxes):
            assert not box.contains(QPointF(*points[demand]))
            for other in boxes[number + 1 :]:
                overlap = box.intersected(other)
                assert overlap.width() * overlap.height() < 40


def test_curves_beside_are_labelled_and_chosen_by_a_click(qtbot, diagram):
    shown = shown_of(result_of(RECTANGLE))
    other = shown_of(result_of(RECTANGLE, "12 D32"))
    diagram.show_shown(shown, refit=True)
    path = other.meridian.design_right
    diagram.show_beside([BesideCurve("12 D32  0.71", path, 0.71, "12 D32")])
    line, text = diagram._beside[0]
    assert text.toPlainText() == "12 D32  0.71"
    np.testing.assert_allclose(np.column_stack(line.getData()), path[:, ::-1] / [1e6, 1e3])
    diagram.bring_out("12 D32")
    assert line.opts["pen"].style() == Qt.PenStyle.SolidLine
    with qtbot.waitSignal(diagram.chosen) as chosen:
        line.sigClicked.emit(line, None)
    assert chosen.args == ["12 D32"]
    diagram.show_beside([])
    assert not line.isVisible()


def test_the_contour_is_where_moments_are_used_up(qtbot):
    view = BiaxialBendingView()
    qtbot.addWidget(view)
    shown = shown_of(result_of(ANGLE, "10 D25"))
    view.show_shown(shown, refit=True)
    path = np.column_stack(view._contour.getData())[:-1:9] * 1e6
    demands = np.column_stack([np.full(len(path), shown.axial), path])
    np.testing.assert_allclose(constant_axial(shown.strength, demands).ratio, 1.0, rtol=1e-6)
    # Demands at about this axial force stand out.
    assert shown.at_level.tolist() == [True, True, False, False]
    with qtbot.waitSignal(view.turned) as turned:
        view._handle.setPos(0.0, 100.0)
    assert turned.args[0] == pytest.approx(math.pi / 2)


def test_beyond_the_cap_no_moment_is_left(qtbot):
    view = BiaxialBendingView()
    qtbot.addWidget(view)
    result = result_of(RECTANGLE)
    shown = Shown(result, 0, 0.0, 1e9, UnitSystem.SI)
    view.show_shown(shown, refit=True)
    assert view._beyond.isVisibleTo(view._beyond.parentItem())
    assert not view._contour.isVisible()


def test_a_reading_by_hand():
    # 400 × 600, 4 D28, f'c 28: at c = 300 mm, a = 255 mm, all bars yield (see the test of states):
    # N = 2427.6 − 2·615.75·0.0238 kN, εt = 0.00236, φ = 0.65 + 0.25·(0.00236 − 0.0021)/0.003.
    column = make_column(Rectangle(width=400, depth=600), "4 D28", concrete=28)
    lift = make_lift(column, ACI_SI, ("U1",), ANALYSED[:1])
    shown = Shown(check_lift(lift), 0, 0.0, 0.0, UnitSystem.SI)
    area = math.pi * 28**2 / 4
    force = 0.85 * 28 * (400 * 255 - 2 * area)
    moment = 0.85 * 28 * 400 * 255 * 172.5 + 2 * area * (2 * 420 - 0.85 * 28) * 236
    phi = 0.65 + 0.25 * (0.00236 - 0.0021) / 0.003
    reading = shown.reading(phi * force, phi * moment)
    assert reading.utilisation == pytest.approx(1.0, abs=1e-6)
    assert reading.depth == pytest.approx(300, abs=1e-3)
    assert reading.strains == pytest.approx((-0.003, 0.003), abs=1e-7)
    half = shown.reading(phi * force / 2, phi * moment / 2)
    assert half.utilisation == pytest.approx(0.5, abs=1e-6)
    assert half.depth == pytest.approx(300, abs=1e-3)
    assert shown.reading(0.0, 0.0) is None


def painted(view):
    image = QImage(500, 360, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    view.paint(painter, QRectF(0, 0, 500, 360))
    painter.end()
    return image


@pytest.mark.parametrize("size", [(0, 0), (0, 200), (1, 1), (300, 1)])
def test_a_surface_without_room_is_no_error(size):
    view = surface.SurfaceView()
    view.show_shown(shown_of(result_of(RECTANGLE)), refit=True)
    if view._scene is not None:
        view._scene._camera.resize(0, 0)
    view.resize(*size)
    view.picture()
    view.resize(300, 200)
    assert view.picture() is not None or not surface.opengl_available()


def test_every_jump_of_a_law_is_a_jump_of_colour():
    # 10 MPa from 0.5 ‰, 30 from 1 ‰, 20 from 2 ‰, over strains of −1 to 3 ‰.
    law = PiecewiseLaw(
        (Constant(5e-4, 1e-3, 10.0), Constant(1e-3, 2e-3, 30.0), Constant(2e-3, np.inf, 20.0))
    )
    body = Body([Region(Rectangle(width=400, depth=400).outline(), law)], [], (0.0, 0.0))
    state = SectionState(body, StrainPlane(1e-3, 0.0, 1e-5))
    stops = stress_stops(law, state)
    for at, below, above in ((0.375, 0.0, 10.0), (0.5, 10.0, 30.0), (0.75, 30.0, 20.0)):
        near = [value for place, value in stops if abs(place - at) < 2e-4]
        assert near[0] == below
        assert near[-1] == above


def test_stresses_are_shown_at_capacity_and_at_the_demand(qtbot):
    result = result_of(RECTANGLE)
    shown = shown_of(result)
    view = StressView()
    qtbot.addWidget(view)
    section = result.lift.facts.section
    images = []
    for state in (shown.at_capacity, shown.at_demand):
        view.show_state(section, state, "", shown.system)
        bar = int(np.abs(state.stress).argmax())
        assert f"Bar {bar + 1}: σ" in view._bar_text(bar)
        assert "MPa" in view._bar_text(bar)
        images.append(painted(view))
    assert images[0] != images[1]
    # The demand is carried with less strain than at capacity.
    assert shown.at_demand.extremes[1] < shown.at_capacity.extremes[1]
    np.testing.assert_allclose(shown.at_demand.resultant, result.demands[0], rtol=1e-5)
    view.show_state(section, None, "No equilibrium.", shown.system)
    assert painted(view) != images[0]


def test_at_the_cap_no_strains_belong_to_the_demand():
    analysed = np.array([[[9e6, 1e6, 1e6], [9e6, 1e6, 1e6]]])
    shown = shown_of(result_of(RECTANGLE, analysed=analysed))
    assert shown.result.proportional.capped[0]
    assert shown.at_capacity is None


def test_without_opengl_a_message_stands_in_the_place_of_the_surface(qtbot, monkeypatch):
    monkeypatch.setattr(surface, "opengl_available", lambda: False)
    view = SurfaceView()
    qtbot.addWidget(view)
    view.show_shown(shown_of(result_of(RECTANGLE)), refit=True)
    view.fit()
    assert "no OpenGL" in view.missing()
    assert view.picture() is None


def test_the_surface_is_drawn_and_its_demands_are_picked(qtbot):
    if not surface.opengl_available():
        pytest.skip("this display offers no OpenGL")
    view = SurfaceView()
    qtbot.addWidget(view)
    view.resize(500, 400)
    with qtbot.waitExposed(view):
        view.show()
    shown = shown_of(result_of(RECTANGLE))
    view.show_shown(shown, refit=True)
    qtbot.wait(100)
    image = view.picture()
    colours = {image.pixel(x, y) for x in range(0, 500, 10) for y in range(0, 400, 10)}
    assert len(colours) > 10
    x, y = view._scene._seen(view._scene._scaled(shown.demands))[2]
    with qtbot.waitSignal(view.picked) as picked:
        at = QPointF(float(x), float(y)).toPoint()
        qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=at)
    assert picked.args == [2]
    # A drag turns it, the usual view comes back.
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(view, at + QPoint(60, 10))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at + QPoint(60, 10))
    assert view.picture() != image
    view.fit()
    assert view.picture() == image
