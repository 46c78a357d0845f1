"""Outlines: closed forms of area and inertia, and what is refused."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.core.section.outline import Outline, arc_ring, circle_ring
from fexro.core.section.shapes import Circle, HollowRectangle, LShape, PolygonShape, Rectangle
from fexro.core.strength.body import Body, Region
from fexro.core.strength.integration import resultants
from fexro.core.strength.laws import uniform_block

SQUARE = np.array([[0, 0], [400, 0], [400, 400], [0, 400]], dtype=float)


def test_rectangle_inertia_is_the_closed_form():
    outline = Rectangle(width=300, depth=500).outline()
    assert outline.area == pytest.approx(300 * 500)
    assert outline.inertia == pytest.approx((300 * 500**3 / 12, 500 * 300**3 / 12, 0), abs=1e-3)


def test_circle_is_within_two_hundredths_of_a_percent():
    outline = Circle(diameter=600).outline()
    assert outline.area == pytest.approx(math.pi * 600**2 / 4, rel=1e-9)
    assert outline.inertia[0] == pytest.approx(math.pi * 600**4 / 64, rel=2e-4)
    # Equal area leaves far less than that.
    assert outline.inertia[0] == pytest.approx(math.pi * 600**4 / 64, rel=1e-5)


def test_l_shape_by_hand():
    # Legs 600 × 250 and 250 × 350: area 237 500; first moment 250·600·125 + 350·250·425.
    outline = LShape(width=600, depth=600, leg=250).outline()
    assert outline.area == pytest.approx(237_500)
    by_hand = (250 * 600 * 300 + 350 * 250 * 125) / 237_500
    assert outline.centroid[1] == pytest.approx(by_hand)
    assert outline.centroid[0] == pytest.approx(by_hand)


def test_hollow_rectangle_is_the_difference_of_two():
    outline = HollowRectangle(width=1000, depth=800, wall=200).outline()
    assert outline.area == pytest.approx(1000 * 800 - 600 * 400)
    assert outline.inertia[0] == pytest.approx((1000 * 800**3 - 600 * 400**3) / 12)


def test_orientation_and_order_of_vertices_do_not_matter():
    there = Outline.from_polygons([SQUARE], [])
    back = Outline.from_polygons([SQUARE[::-1]], [])
    assert there.area == back.area == pytest.approx(160_000)


@pytest.mark.parametrize(
    ("solids", "voids", "words"),
    [
        ([SQUARE[[0, 2, 1, 3]]], [], "cross"),
        ([SQUARE[:2]], [], "2 vertices"),
        ([np.array([[0, 0], [100, 0], [200, 0]], dtype=float)], [], "cross|no area"),
        ([np.array([[0, 0], [np.nan, 0], [0, 9]], dtype=float)], [], "finite"),
        ([SQUARE], [SQUARE / 2], "touches or leaves"),
        ([SQUARE], [SQUARE / 2 + 300], "touches or leaves"),
        ([SQUARE], [SQUARE / 4 + 50, SQUARE / 4 + 100], "void 2"),
        ([SQUARE, SQUARE + 100], [], "overlap"),
    ],
)
def test_what_encloses_no_clear_area_is_refused(solids, voids, words):
    with pytest.raises(InputError, match=words):
        Outline.from_polygons(solids, voids)


def test_a_crossing_polygon_shape_is_refused():
    with pytest.raises(InputError, match="cross"):
        PolygonShape(outer=((0, 0), (400, 400), (400, 0), (0, 400)))


def test_separate_parts_act_as_one():
    outline = Outline.from_polygons([SQUARE, SQUARE + 1000], [])
    assert outline.area == pytest.approx(320_000)
    assert outline.centroid == pytest.approx((700, 700))


def test_circle_ring_has_the_symmetry_of_both_axes():
    ring = circle_ring(500.0)
    for mirror in ([-1, 1], [1, -1]):
        mirrored = {(round(x, 6), round(y, 6)) for x, y in ring * mirror}
        assert mirrored == {(round(x, 6), round(y, 6)) for x, y in ring}


def stadium(length: float, diameter: float) -> Outline:
    """A rectangle with half circles at its ends, about the origin."""
    x, y = length / 2, diameter / 2
    corners = np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
    return Outline.from_polygons([arc_ring(corners, np.array([0.0, 1.0, 0.0, 1.0]))], [])


def test_a_stadium_of_arcs_has_the_properties_of_elementary_geometry():
    length, diameter = 600.0, 400.0
    outline, r = stadium(length, diameter), diameter / 2
    area = length * diameter + np.pi * r**2
    about_x = length * diameter**3 / 12 + np.pi * r**4 / 4
    # Half circles: their own inertia about y, moved to their centroids.
    half, lever = np.pi * r**2 / 2, length / 2 + 4 * r / (3 * np.pi)
    own = np.pi * r**4 / 8 - half * (4 * r / (3 * np.pi)) ** 2
    about_y = diameter * length**3 / 12 + 2 * (own + half * lever**2)
    assert outline.area == pytest.approx(area, rel=1e-12)
    np.testing.assert_allclose(outline.centroid, 0.0, atol=1e-9)
    np.testing.assert_allclose(outline.inertia[:2], [about_x, about_y], rtol=2e-4)


@pytest.mark.parametrize("bulge", [0.05, np.tan(np.pi / 8), 1.0, 2.0, -0.1, -np.tan(np.pi / 8)])
def test_an_arc_adds_the_area_of_its_segment(bulge):
    # A side of 1 000 mm that an arc replaces; negative arcs are cut out of the square.
    square = np.array([[0.0, 0.0], [1000.0, 0.0], [1000.0, 1000.0], [0.0, 1000.0]])
    outline = Outline.from_polygons([arc_ring(square, np.array([bulge, 0.0, 0.0, 0.0]))], [])
    angle = 4 * np.arctan(abs(bulge))
    radius = 500.0 / np.sin(angle / 2)
    segment = radius**2 / 2 * (angle - np.sin(angle))
    assert outline.area == pytest.approx(1e6 + np.sign(bulge) * segment, rel=1e-12)


def test_four_quarter_arcs_are_a_circle():
    corners = 300.0 * np.array([[1.0, 0.0], [0.0, 1.0], [-1.0, 0.0], [0.0, -1.0]])
    outline = Outline.from_polygons([arc_ring(corners, np.full(4, np.tan(np.pi / 8)))], [])
    assert outline.area == pytest.approx(np.pi * 300.0**2, rel=1e-12)
    np.testing.assert_allclose(outline.inertia[:2], np.pi * 300.0**4 / 4, rtol=2e-4)


def test_arcs_that_are_none_are_refused():
    corners = np.array([[0.0, 0.0], [400.0, 0.0], [400.0, 0.0], [0.0, 400.0]])
    with pytest.raises(InputError, match=r"side 2.*equal corners"):
        arc_ring(corners, np.array([0.0, 1.0, 0.0, 0.0]))
    with pytest.raises(InputError, match=r"side 1.*nan"):
        arc_ring(corners, np.array([np.nan, 0.0, 0.0, 0.0]))


def test_half_a_stadium_in_the_block_has_its_elementary_resultants():
    body = Body([Region(stadium(600.0, 400.0), uniform_block(20.0, 0.0))], [], (0.0, 0.0))
    force, about_x, about_y = resultants(
        body, np.zeros(1), np.zeros((1, 1)), np.full((1, 1), 1e-5)
    )[0, 0]
    half = np.pi * 200.0**2 / 2
    assert force == pytest.approx(20 * (300 * 400 + half), rel=2e-4)
    assert about_x == pytest.approx(0.0, abs=1.0)
    lever = 300 + 4 * 200.0 / (3 * np.pi)
    assert about_y == pytest.approx(20 * (300 * 400 * 150 + half * lever), rel=2e-4)
