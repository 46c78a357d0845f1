"""Shapes of sections: areas and second moments in closed form, parts put together, bars in them."""

from __future__ import annotations

import dataclasses
import itertools
import math

import numpy as np
import pytest
import shapely
import shapely.affinity
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.errors import InputError
from fexro.core.facts import CrossSection
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.section.bars import parse_ties
from fexro.core.section.call_out import parse_call_out
from fexro.core.section.faces import faces_of
from fexro.core.section.layout import build_section
from fexro.core.section.section import Section
from fexro.core.section.shapes import (
    Channel,
    Circle,
    Composed,
    Ellipse,
    Hexagon,
    HollowCircle,
    HollowRectangle,
    IShape,
    LShape,
    Octagon,
    Part,
    Plus,
    PolygonShape,
    Rectangle,
    Trapezium,
    TShape,
    Wall,
    ZShape,
)
from fexro.core.strength.utilisation import proportional

TIES = parse_ties("D10@150")


def of_boxes(*boxes):
    """Area, Ix and Iy about the centroid of boxes (width, height, x, y), by hand."""
    area = sum(b * h for b, h, _, _ in boxes)
    cx = sum(b * h * x for b, h, x, _ in boxes) / area
    cy = sum(b * h * y for b, h, _, y in boxes) / area
    about_x = sum(b * h**3 / 12 + b * h * (y - cy) ** 2 for b, h, _, y in boxes)
    about_y = sum(h * b**3 / 12 + b * h * (x - cx) ** 2 for b, h, x, _ in boxes)
    return area, about_x, about_y


def of_regular(count, across):
    """A regular polygon: I = A (6 R² − s²) / 24."""
    radius = across / 2 / math.cos(math.pi / count)
    side = 2 * radius * math.sin(math.pi / count)
    area = count * side * across / 4
    second = area * (6 * radius**2 - side**2) / 24
    return area, second, second


def of_ellipse(a, b):
    return math.pi * a * b / 4, math.pi * a * b**3 / 64, math.pi * b * a**3 / 64


def less_corners(b, h, corner):
    """A rectangle less four corners of area A, own second moment, and centroid from the sides."""
    area, second, away = corner
    about = [
        size * other**3 / 12 - 4 * (second + area * (other / 2 - away) ** 2)
        for size, other in ((b, h), (h, b))
    ]
    return b * h - 4 * area, *about


def spandrel(r):
    """What a fillet takes off: a square less a quarter of a circle."""
    quarter, arm = math.pi * r**2 / 4, r - 4 * r / (3 * math.pi)
    area = r**2 - quarter
    away = (r**3 / 2 - quarter * arm) / area
    about_side = r**4 / 3 - (r**4 * (math.pi / 16 - 4 / (9 * math.pi)) + quarter * arm**2)
    return area, about_side - area * away**2, away


def trapezium(a, b, h):
    area, second = h * (a + b) / 2, h**3 * (a * a + 4 * a * b + b * b) / (36 * (a + b))
    return area, second, h * (a + b) * (a * a + b * b) / 48


KNOWN = {
    Rectangle(500, 700): of_boxes((500, 700, 0, 0)),
    Rectangle(500, 700, chamfer=60): less_corners(500, 700, (1800, 60**4 / 36, 20)),
    Rectangle(500, 700, radius=150): less_corners(500, 700, spandrel(150)),
    HollowRectangle(900, 700, 150): tuple(
        a - b for a, b in zip(of_boxes((900, 700, 0, 0)), of_boxes((600, 400, 0, 0)), strict=True)
    ),
    Wall(3000, 500, 600, 250): of_boxes(
        (600, 500, -1200, 0), (1800, 250, 0, 0), (600, 500, 1200, 0)
    ),
    Circle(600): of_ellipse(600, 600),
    HollowCircle(700, 200): tuple(
        a - b for a, b in zip(of_ellipse(700, 700), of_ellipse(200, 200), strict=True)
    ),
    Ellipse(800, 500): of_ellipse(800, 500),
    Hexagon(600): of_regular(6, 600),
    Octagon(700): of_regular(8, 700),
    LShape(600, 700, 250): of_boxes((600, 250, 300, 125), (250, 450, 125, 475)),
    LShape(600, 700, 250, 200): of_boxes((600, 250, 300, 125), (200, 450, 100, 475)),
    TShape(900, 800, 250, 300): of_boxes((900, 250, 0, 275), (300, 550, 0, -125)),
    IShape(800, 1000, 250, 300): of_boxes(
        (800, 250, 0, 375), (300, 500, 0, 0), (800, 250, 0, -375)
    ),
    IShape(800, 1000, 250, 300, 600): of_boxes(
        (800, 250, 0, 375), (300, 500, 0, 0), (600, 250, 0, -375)
    ),
    ZShape(900, 1000, 250, 300): of_boxes(
        (300, 250, -300, 375), (300, 1000, 0, 0), (300, 250, 300, -375)
    ),
    Channel(900, 1000, 250, 300): of_boxes(
        (300, 1000, -300, 0), (600, 250, 150, 375), (600, 250, 150, -375)
    ),
    Plus(900, 1000, 300, 200): of_boxes((200, 1000, 0, 0), (350, 300, 275, 0), (350, 300, -275, 0)),
    Trapezium(800, 600, 500): trapezium(800, 500, 600),
}


@pytest.mark.parametrize("shape", KNOWN, ids=lambda shape: shape.label(str))
def test_areas_and_second_moments_are_those_of_closed_forms(shape):
    outline = shape.outline()
    area, about_x, about_y = KNOWN[shape]
    assert outline.area == pytest.approx(area, rel=1e-9)
    # Circles and fillets are polygons of their area: their second moments are a little off.
    assert outline.inertia[:2] == pytest.approx((about_x, about_y), rel=3e-5)
    assert shapely.Polygon(outline.rings[0]).exterior.is_ccw


@pytest.mark.parametrize("shape", KNOWN, ids=lambda shape: shape.label(str))
def test_bars_stand_inside_their_cover_in_every_shape(shape):
    section = build_section(shape, 40.0, parse_call_out("24 D20"), TIES)
    edge = shapely.LinearRing(section.outline.rings[0])
    clear = shapely.distance(shapely.points(section.bars.x, section.bars.y), edge) - 10
    assert clear.min() > 50 - 1e-3 * max(section.outline.bounds)
    corners = shape.corners()
    assert section.corner_count == (0 if corners is None else len(corners))


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: Rectangle(500, 700, chamfer=300), "less than half the shorter side"),
        (lambda: Rectangle(500, 700, chamfer=30, radius=30), "none beside a chamfer"),
        (lambda: TShape(900, 800, 800, 300), "flange.*less than the depth"),
        (lambda: IShape(900, 800, 400, 300), "flange"),
        (lambda: ZShape(300, 800, 200, 300), "web"),
        (lambda: Channel(900, 800, 200, 900), "web"),
        (lambda: Wall(1000, 500, 500, 250), "at least 10 mm apart"),
        (lambda: Wall(3000, 300, 500, 300), "less than the depth of the ends"),
    ],
)
def test_sizes_that_do_not_fit_are_refused(make, words):
    with pytest.raises(InputError, match=words):
        make()


# Parts put together

SIZE, PLACE = st.integers(200, 900), st.integers(-300, 300)
PARTS = st.builds(
    Part,
    st.one_of(st.builds(Rectangle, SIZE, SIZE), st.builds(Circle, SIZE)),
    PLACE,
    PLACE,
    st.sampled_from([0.0, 30.0, 90.0, 217.5]),
    st.booleans(),
    st.sampled_from(["join", "cut", "intersect"]),
)


def as_shapely(part):
    """The area of a part by turning and moving it with another library."""
    area = shapely.Polygon(part.shape.outline().rings[0])
    if part.mirrored:
        area = shapely.affinity.scale(area, -1, 1, origin=(0, 0))
    area = shapely.affinity.rotate(area, part.angle, origin=(0, 0))
    return shapely.affinity.translate(area, part.x, part.y)


@settings(max_examples=60, deadline=None)
@given(st.builds(Part, st.builds(Rectangle, SIZE, SIZE)), st.lists(PARTS, min_size=1, max_size=3))
def test_parts_together_cover_what_their_areas_do(first, others):
    steps = [as_shapely(first)]
    for part in others:
        operation = {"join": "union", "cut": "difference", "intersect": "intersection"}[part.how]
        steps.append(getattr(steps[-1], operation)(as_shapely(part)))
    wanted = steps[-1]
    core = wanted.buffer(-5.0, join_style="mitre")
    idle = any(abs(b.area - a.area) < 1.0 for a, b in itertools.pairwise(steps))
    whole = all(area.geom_type == "Polygon" and not area.is_empty for area in (wanted, core))
    holes = whole and len(core.interiors) == len(wanted.interiors)
    if idle or not whole or not holes:
        with pytest.raises(InputError):
            Composed((first, *others))
        return
    outline = Composed((first, *others)).outline()
    assert outline.area == pytest.approx(wanted.area, rel=1e-9)
    assert outline.centroid == pytest.approx((wanted.centroid.x, wanted.centroid.y), abs=1e-6)


def strength_of(outline, bars):
    section = Section(outline, bars, TIES, 40.0)
    steel = ReinforcingSteel("steel", 420.0, 200_000.0)
    cross = CrossSection(section, Concrete("concrete", 35.0), steel)
    return ACI_SI.strength.of(cross)


def test_a_composed_section_is_as_strong_as_its_outline_as_a_polygon():
    opening = Part(Rectangle(120, 60), -100.0, -250.0, 10.0, how="cut")
    composed = Composed((Part(LShape(700, 800, 300), mirrored=True), opening))
    outline = composed.outline()
    outer, void = (tuple(map(tuple, ring.tolist())) for ring in outline.rings)
    polygon = PolygonShape(outer, (void,))
    bars = build_section(composed, 40.0, parse_call_out("14 D25"), TIES).bars
    demands = np.array([[2e6, 3e8, 1e8], [1e6, -2e8, 3e8], [4e6, 1e8, -1e8], [-3e5, 5e7, 0.0]])
    ratios = [
        proportional(strength_of(shape.outline(), bars), demands).ratio
        for shape in (composed, polygon)
    ]
    assert ratios[0] == pytest.approx(ratios[1], rel=1e-9)


def test_a_part_is_mirrored_turned_and_moved_exactly():
    mirrored = Composed((Part(LShape(600, 700, 250), mirrored=True),))
    x = LShape(600, 700, 250).outline().centroid[0] - 300
    assert mirrored.outline().centroid[0] == pytest.approx(-x)
    turned = Composed((Part(Rectangle(500, 700), 10.0, 20.0, 90.0),))
    assert turned.outline().bounds == (-340.0, -230.0, 360.0, 270.0)
    assert turned.corners().tolist() == turned.outline().rings[0].tolist()


@pytest.mark.parametrize(
    ("parts", "words"),
    [
        ((Part(Rectangle(500, 500), how="cut"),), "a shape that the others join or cut"),
        ((Part(Rectangle(500, 500)), Part(Circle(100), 900.0, how="cut")), "changes the section"),
        ((Part(Rectangle(500, 500)), Part(Circle(100), 900.0)), "one piece of concrete"),
        ((Part(Rectangle(500, 500)), Part(Circle(200), 145.0, how="cut")), "also beside openings"),
        ((Part(Rectangle(500, 500)), Part(Circle(600), how="cut")), "one piece|thinner"),
    ],
)
def test_what_is_no_section_is_refused(parts, words):
    with pytest.raises(InputError, match=words):
        Composed(parts)


def test_labels_are_read_as_the_trade_writes_them():
    write = "{:g}".format
    assert LShape(600, 600, 250).label(write) == "L 600 × 600 / 250"
    assert TShape(900, 800, 250, 300).label(write) == "T 900 × 800 / 250, 300"
    assert Rectangle(500, 700, chamfer=25).label(write) == "500 × 700, 25 chamfers"
    duct = Part(Circle(200), 150.0, how="cut")
    assert Composed((Part(Rectangle(800, 800)), duct)).label(write) == "800 × 800 less ⌀ 200"


def test_a_side_may_be_an_arc():
    half = PolygonShape(((0, 0), (600, 0), (600, 400), (0, 400)), bulges=(0, 1.0, 0, 0))
    assert half.outline().area == pytest.approx(600 * 400 + math.pi * 200**2 / 2, rel=1e-9)
    assert half.corners() is None
    with pytest.raises(InputError, match="one for each side"):
        PolygonShape(((0, 0), (600, 0), (600, 400)), bulges=(0.0, 1.0))


@pytest.mark.parametrize("shape", KNOWN, ids=lambda shape: shape.label(str))
def test_a_face_moves_as_its_size_says(shape):
    faces = faces_of(shape)
    assert faces
    for face in faces:
        value = getattr(shape, face.size)
        wider = dataclasses.replace(shape, **{face.size: value + 2 * face.gain})
        middle = (np.array(face.start) + face.end) / 2 + 2 * np.array(face.normal)
        edges = [shapely.LinearRing(ring) for ring in wider.outline().rings]
        # The side is where it was dragged to: 2 mm further out.
        assert min(e.distance(shapely.Point(middle)) for e in edges) < 0.02


def test_sides_are_moved_by_the_sizes_people_know_them_by():
    faces = faces_of(TShape(900, 800, 250, 300))
    assert {face.size for face in faces} == {"width", "depth", "flange", "web"}
    right = next(f for f in faces_of(Rectangle(500, 700)) if f.normal == (1.0, 0.0))
    # Both sides move: the width grows by 2 mm for each that this one does.
    assert (right.size, right.gain) == ("width", pytest.approx(2.0))
    assert right.distance(260.0, 0.0) == pytest.approx(10.0)
    assert faces_of(Composed((Part(Circle(500)),))) == []
