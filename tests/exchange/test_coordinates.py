"""Outlines as pasted text."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fexro.core.errors import InputError
from fexro.core.quantities import UnitSystem
from fexro.exchange.coordinates import outline_text, read_outline
from fexro.project.edits.outlines import add_corner, move_corner, remove_corner, with_outline
from fexro.project.section import SectionModel
from fexro.project.shapes import PolygonShape, Rectangle, shape_of

SI, IN_LB = UnitSystem.SI, UnitSystem.IN_LB
BASE = SectionModel(shape=Rectangle(width=500, depth=500), cover=40, bars="8 D20", ties="D10@150")
SQUARE = [(0, 0, 0), (600, 0, 0), (600, 600, 0), (0, 600, 0)]


@pytest.mark.parametrize(
    "text",
    [
        "0 0\n600 0\n600 600\n0 600",
        "x\ty\n0\t0\n600\t0\n600\t600\n0\t600\n",
        "0,0\n600,0\n600,600\n0,600\n0,0",
        "0;0\n600,0;0\n600;600,0\n0;600",
        "0, 0\n600, 0\n600, 600\n0, 600",
    ],
    ids=["spaces", "tabs with heading", "commas, closed", "semicolons", "comma and space"],
)
def test_a_square_is_read_in_any_form(text):
    (ring,) = read_outline(text, SI)
    assert ring == SQUARE


def test_openings_arcs_and_units():
    text = "0 0\n40 0\n40 40 5\n0 40\n\n10 10\n20 10\n20 20\n"
    outer, void = read_outline(text, IN_LB)
    assert outer[1][:2] == (1016, 0)
    assert outer[2][2] == pytest.approx(2 * 5 / 40)
    section = with_outline(BASE, [outer, void])
    area = shape_of(section.shape).outline().area
    # A segment of a circle with a chord of 40 and a rise of 5 in.
    radius = (20**2 + 5**2) / 10
    half = math.asin(20 / radius)
    segment = radius**2 * (half - math.sin(half) * math.cos(half))
    assert area == pytest.approx((1600 + segment - 50) * 25.4**2, rel=1e-9)
    again = read_outline(outline_text(section.shape, IN_LB), IN_LB)
    for ring, other in zip((outer, void), again, strict=True):
        for corner, same in zip(ring, other, strict=True):
            assert corner == pytest.approx(same, abs=1e-6)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "coordinates"),
        ("0 0\n600 0\n600 six", "line 3"),
        ("0 0\n600 0\n600 600 1 2", "line 3"),
        ("0 0\n600 0", "2 corners"),
        ("0 0\n0 0\n600 0\n600 600", "corners apart"),
    ],
)
def test_what_is_no_outline_is_refused(text, words):
    with pytest.raises(InputError, match=words):
        read_outline(text, SI)


@given(st.text(max_size=200))
def test_any_text_is_read_or_refused(text):
    try:
        rings = read_outline(text, SI)
    except InputError:
        return
    assert all(len(ring) >= 3 for ring in rings)


def test_corners_are_moved_added_and_taken_out():
    section = with_outline(BASE, [SQUARE])
    assert isinstance(section.shape, PolygonShape)
    moved = move_corner(section, 2, x=700.0)
    assert moved.shape.outer[2] == (700, 600)
    arched = move_corner(moved, 2, rise=50.0)
    assert arched.shape.bulges[2] == pytest.approx(100 / 700)
    more = add_corner(arched, 0, 300.0, -80.0)
    assert len(more.shape.outer) == 5
    assert remove_corner(more, 1).shape.outer == arched.shape.outer
    with pytest.raises(InputError, match=r"cross|touch"):
        move_corner(section, 0, x=700.0, y=300.0)
    triangle = with_outline(BASE, [SQUARE[:3]])
    with pytest.raises(InputError, match="at least three"):
        remove_corner(triangle, 0)
