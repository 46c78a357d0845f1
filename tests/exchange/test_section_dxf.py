"""Sections to DXF and back, and drawings that are refused."""

from __future__ import annotations

import io
import math

import ezdxf
import numpy as np
import pytest
from ezdxf import recover
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.errors import InputError
from fexro.core.section.bars import METRIC_SIZES
from fexro.exchange.section_dxf import read_drawing, section_from, write_section
from fexro.project.edits.bars import placed_bars, with_placed
from fexro.project.edits.profiles import add_profile
from fexro.project.section import SectionModel, section_of
from fexro.project.shape_change import as_kind
from fexro.project.shapes import (
    Circle,
    HollowCircle,
    HollowRectangle,
    LShape,
    PolygonShape,
    Rectangle,
    shape_of,
)

SIZES = list(METRIC_SIZES.values())


def model(shape, bars="14 D20"):
    return SectionModel(shape=shape, cover=40, bars=bars, ties="D10@150")


def written(section):
    return write_section(section, section_of(section), ()).encode()


def drawn(draw, units=4):
    """The bytes of a drawing into which something is drawn."""
    document = ezdxf.new("R2010", units=units)
    draw(document.modelspace())
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


BOX = [(0, 0), (500, 0), (500, 700), (0, 700)]


@pytest.mark.parametrize(
    "shape",
    [
        Rectangle(width=500, depth=700),
        Rectangle(width=500, depth=700, radius=60),
        LShape(width=800, depth=700, leg=250),
        HollowRectangle(width=900, depth=700, wall=180),
        Circle(diameter=600),
        HollowCircle(diameter=900, void_diameter=400),
        PolygonShape(
            outer=((-300, -200), (300, -200), (300, 200), (-300, 200)),
            bulges=(0, math.tan(math.pi / 4) / 3, 0, 0.2),
        ),
    ],
    ids=["box", "rounded", "L", "hollow", "circle", "tube", "arcs"],
)
def test_a_section_comes_back_as_it_was_written(shape):
    section = model(shape)
    section = with_placed(section, placed_bars(section))
    drawing = read_drawing(written(section), "a.dxf")
    assert drawing.sure
    again = section_from(drawing, "mm", section, SIZES, "a.dxf")
    before, after = (shape_of(s.shape).outline() for s in (section, again))
    assert after.area == pytest.approx(before.area, rel=1e-6)
    assert after.inertia[:2] == pytest.approx(before.inertia[:2], rel=3e-5)
    assert again.bars == section.bars
    # The drawing comes to stand about the middle of its box.
    box = np.array(before.bounds)
    middle = (box[:2] + box[2:]) / 2
    for old, new in zip(section.placed, again.placed, strict=True):
        assert (new.x + middle[0], new.y + middle[1]) == pytest.approx((old.x, old.y), abs=2e-3)
        assert new.size == old.size


@given(
    st.lists(st.tuples(st.integers(-40, 40), st.integers(-40, 40)), min_size=3, max_size=9),
    st.sampled_from(["mm", "cm", "m", "in"]),
)
@settings(max_examples=30, deadline=None)
def test_outlines_of_any_form_come_back(points, unit):
    import shapely

    from fexro.exchange.section_dxf import UNITS

    hull = shapely.MultiPoint([(20.0 * x, 20.0 * y) for x, y in points]).convex_hull
    if hull.geom_type != "Polygon" or hull.area < 4e4:
        return
    ring = np.array(hull.exterior.coords)[:-1] / UNITS[unit]
    codes = {"mm": 4, "cm": 5, "m": 6, "in": 1}
    data = drawn(lambda s: s.add_lwpolyline(ring.tolist(), close=True), codes[unit])
    drawing = read_drawing(data, "a.dxf")
    assert drawing.unit == unit
    found = section_from(drawing, unit, model(Rectangle(width=500, depth=500)), SIZES, "a.dxf")
    assert shape_of(found.shape).outline().area == pytest.approx(hull.area, rel=1e-5)


def test_lines_and_arcs_are_joined_in_any_order_and_sense():
    def draw(space):
        space.add_line((500, 0), (0, 0))
        space.add_line((0, 0), (0, 400))
        space.add_line((500, 400), (500, 0))
        space.add_arc((250, 400), 250, 0, 180)

    drawing = read_drawing(drawn(draw), "a.dxf")
    (loop,) = drawing.loops
    assert loop.area == pytest.approx(500 * 400 + math.pi * 250**2 / 2, rel=1e-9)
    found = section_from(drawing, "mm", model(Rectangle(width=500, depth=700)), SIZES, "a.dxf")
    assert shape_of(found.shape).outline().area == pytest.approx(loop.area)


def test_circles_are_bars_or_openings_by_their_size_and_layer():
    def draw(space):
        space.add_lwpolyline(BOX, close=True)
        space.add_circle((250, 350), 60)
        for x in (70, 430):
            for y in (70, 630):
                space.add_circle((x, y), 10)
        space.add_circle((250, 70), 15.7)
        space.add_circle((250, 630), 33, dxfattribs={"layer": "Rebar"})

    drawing = read_drawing(drawn(draw), "a.dxf")
    found = section_from(drawing, "mm", model(Rectangle(width=500, depth=700)), SIZES, "a.dxf")
    area = shape_of(found.shape).outline().area
    assert area == pytest.approx(500 * 700 - math.pi * 60**2, rel=1e-6)
    assert [bar.size for bar in found.placed[:4]] == ["D20"] * 4
    # 31.4 and 66 mm are no bar sizes: they are kept by their area.
    assert found.placed[4].area == pytest.approx(math.pi * 15.7**2, rel=1e-5)
    assert found.placed[5].area == pytest.approx(math.pi * 33**2, rel=1e-5)
    assert found.placed[0].x == -180


def test_blocks_are_taken_apart():
    document = ezdxf.new("R2010", units=4)
    block = document.blocks.new("SECTION")
    block.add_lwpolyline(BOX, close=True)
    document.modelspace().add_blockref("SECTION", (1e5, 2e5))
    text = io.StringIO()
    document.write(text)
    drawing = read_drawing(text.getvalue().encode(), "a.dxf")
    assert drawing.loops[0].area == pytest.approx(350_000)


@pytest.mark.parametrize(
    ("draw", "words"),
    [
        (lambda s: s.add_lwpolyline(BOX), "an open line from"),
        (lambda s: (s.add_line((0, 0), (500, 0)), s.add_line((500, 0), (500, 9))), "open line"),
        (lambda s: s.add_spline([(0, 0), (5, 9), (9, 0)]), "a spline on layer 0"),
        (lambda s: s.add_ellipse((0, 0), (300, 0), 0.5), "an? ellipse on layer 0"),
        (lambda s: s.add_text("no lines"), "no closed line"),
        (lambda s: s.add_3dface([(0, 0), (1, 0), (1, 1)]), "3DFACE on layer 0"),
    ],
    ids=["open polyline", "open lines", "spline", "ellipse", "text", "face"],
)
def test_what_is_no_section_is_refused_with_its_place(draw, words):
    with pytest.raises(InputError, match=words):
        read_drawing(drawn(draw), "a.dxf")


@pytest.mark.parametrize("content", [b"", b"no drawing", b"\x00\x01" * 400, b"0\nSECTION\n2\n"])
def test_other_files_are_refused(content):
    with pytest.raises(InputError, match=r"a\.dxf"):
        read_drawing(content, "a.dxf")


def test_drawings_of_no_section_are_refused():
    def two(space):
        space.add_lwpolyline(BOX, close=True)
        space.add_lwpolyline([(x + 900, y) for x, y in BOX], close=True)

    base = model(Rectangle(width=500, depth=700))
    with pytest.raises(InputError, match="void"):
        section_from(read_drawing(drawn(two), "a.dxf"), "mm", base, SIZES, "a.dxf")
    crossing = [(0, 0), (500, 700), (500, 0), (0, 700)]
    data = drawn(lambda s: s.add_lwpolyline(crossing, close=True))
    with pytest.raises(InputError, match="cross"):
        section_from(read_drawing(data, "a.dxf"), "mm", base, SIZES, "a.dxf")
    data = drawn(lambda s: s.add_circle((0, 0), 10))
    with pytest.raises(InputError, match="outline around"):
        section_from(read_drawing(data, "a.dxf"), "mm", base, SIZES, "a.dxf")


def test_units_that_are_not_told_or_cannot_be_are_asked_for():
    plain = read_drawing(drawn(lambda s: s.add_lwpolyline(BOX, close=True), 0), "a.dxf")
    assert plain.unit is None
    assert not plain.sure
    assert plain.likely == ("mm", "cm", "in")
    # In metres it would be half a kilometre.
    wrong = read_drawing(drawn(lambda s: s.add_lwpolyline(BOX, close=True), 6), "a.dxf")
    assert wrong.unit == "m"
    assert not wrong.sure
    assert wrong.size == pytest.approx((500, 700))


def test_ties_and_steel_are_drawn_on_layers_of_their_own():
    section = add_profile(model(as_kind(Rectangle(width=600, depth=600), "rectangle"), "8 D25"))
    made = section_of(section)
    lines = (np.array([[-240.0, 0.0], [240.0, 0.0]]),)
    document, _ = recover.read(io.BytesIO(write_section(section, made, lines).encode()))
    layers = [entity.dxf.layer for entity in document.modelspace()]
    assert layers.count("STEEL") == 1
    assert layers.count("BARS") == 8
    assert layers.count("TIES") == 1
    assert document.header["$INSUNITS"] == 4
