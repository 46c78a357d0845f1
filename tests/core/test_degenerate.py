"""Sections at the edge of what can be: random, nearly flat, nearly touching; right or refused."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.errors import InputError
from fexro.core.facts import CrossSection
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.section.bars import METRIC_SIZES, Bars, Ties
from fexro.core.section.outline import Outline
from fexro.core.section.section import Section
from fexro.core.strength.body import BarSet, Body, Region
from fexro.core.strength.integration import resultants
from fexro.core.strength.laws import ElasticPlastic, parabola_rectangle, uniform_block
from fexro.core.strength.utilisation import proportional
from tests.conftest import fibre_resultants

CODES = {"ACI": ACI_SI, "EN": EN_RECOMMENDED}
radii = st.lists(st.floats(0.35, 1.0), min_size=3, max_size=14)


def star(shape, size=400.0):
    """A polygon around the origin with a vertex at each radius."""
    turn = np.arange(len(shape)) * 2 * np.pi / len(shape)
    return np.column_stack([np.cos(turn), np.sin(turn)]) * np.array(shape)[:, None] * size


def column_of(rings, bar_points, voids=()):
    outline = Outline.from_polygons(rings, list(voids))
    x, y = np.array(bar_points, dtype=float).T
    bars = Bars(x, y, np.full(len(x), 400.0), np.full(len(x), 22.6))
    return CrossSection(
        Section(outline, bars, Ties(METRIC_SIZES["D10"], 200.0), 40.0),
        Concrete(name="c", strength=35),
        ReinforcingSteel(name="s", yield_strength=420),
    )


def plane(body, angle, depth):
    lowest, highest = (float(v[0]) for v in body.extent(np.array([angle])))
    curvature = 0.003 / (depth * (highest - lowest))
    return 0.003 - curvature * highest, curvature


@settings(max_examples=30)
@given(shape=radii, angle=st.floats(0, 6.28), depth=st.floats(0.05, 2.0))
def test_random_polygons_agree_with_fibres(shape, angle, depth):
    ring = star(shape)
    column = column_of([ring], ring * 0.6)
    strength = ACI_SI.strength.of(column)
    strain, curvature = plane(strength.body, angle, depth)
    found = resultants(
        strength.body, np.array([angle]), np.array([[strain]]), np.array([[curvature]])
    )[0, 0]
    bar_strain = strain + curvature * (strength.body.bar_points @ (np.cos(angle), np.sin(angle)))
    # A bar on the very edge of the block belongs to either side.
    assume(np.abs(bar_strain - 0.0006).min() > 1e-9)
    expected = fibre_resultants(column, angle, strain, curvature, 0.85 * 35, 0.0006)
    scale = strength.mesh.scale
    np.testing.assert_allclose(found / scale, expected / scale, atol=6e-3)


@settings(max_examples=30)
@given(
    shape=radii,
    code=st.sampled_from(sorted(CODES)),
    direction=st.tuples(*[st.floats(-1, 1)] * 3),
)
def test_random_polygons_have_one_answer_on_their_surface(shape, code, direction):
    assume(np.abs(direction).max() > 0.05)
    ring = star(shape)
    strength = CODES[code].strength.of(column_of([ring], ring * 0.6))
    demand = np.array([direction]) * strength.mesh.scale
    found = proportional(strength, demand)
    assert np.isfinite(found.ratio).all()
    assert found.ratio[0] > 0
    # What is used up lies on the surface, but for the step where a bar enters the block.
    assert proportional(strength, found.capacity).ratio[0] == pytest.approx(1.0, rel=5e-3)


@settings(max_examples=25)
@given(shape=radii, gap=st.sampled_from([1e-9, 1e-6, 1e-3]), angle=st.floats(0, 6.28))
def test_nearly_coincident_vertices_change_nothing(shape, gap, angle):
    ring = star(shape)
    doubled = np.insert(ring, 1, ring[0] + (ring[1] - ring[0]) * gap, axis=0)
    for law in (uniform_block(30.0, 0.0006), parabola_rectangle(20.0, 0.002, 2.0)):
        found = []
        for vertices in (ring, doubled):
            outline = Outline((vertices,))
            body = Body([Region(outline, law)], [], (0.0, 0.0))
            strain, curvature = plane(body, angle, 0.6)
            found.append(
                resultants(body, np.array([angle]), np.array([[strain]]), np.array([[curvature]]))
            )
        size = np.array([1.0, 400.0, 400.0]) * 30 * 400**2
        np.testing.assert_allclose(found[0] / size, found[1] / size, atol=1e-9)


@settings(max_examples=25)
@given(tilt=st.sampled_from([0.0, 1e-15, 1e-12, 1e-9, 1e-6, 1e-3]), n=st.sampled_from([1.4, 2.0]))
def test_edges_almost_along_the_neutral_axis(tilt, n):
    # A rectangle under a plane turned by next to nothing: the result hardly turns with it.
    outline = Outline((np.array([[-150.0, -250], [150, -250], [150, 250], [-150, 250]]),))
    body = Body([Region(outline, parabola_rectangle(20.0, 0.002, n))], [], (0.0, 0.0))
    planes = np.array([[0.0008]]), np.array([[9e-6]])
    straight = resultants(body, np.array([np.pi / 2]), *planes)[0, 0]
    turned = resultants(body, np.array([np.pi / 2 + tilt]), *planes)[0, 0]
    size = np.array([3e6, 7.5e8, 4.5e8])
    np.testing.assert_allclose(straight / size, turned / size, atol=1e-7 + 2 * tilt)


@pytest.mark.parametrize("thickness", [60.0, 5.0, 0.5])
def test_slivers_have_their_strength(thickness):
    # A plate of 2000 by almost nothing: the block over half its length is known by hand.
    outline = Outline.from_polygons(
        [np.array([[0, 0], [thickness, 0], [thickness, 2000], [0, 2000]], dtype=float)], []
    )
    body = Body([Region(outline, uniform_block(10.0, 0.0))], [], outline.centroid)
    found = resultants(body, np.array([np.pi / 2]), np.zeros((1, 1)), np.full((1, 1), 1e-6))[0, 0]
    force = thickness * 1000 * 10.0
    np.testing.assert_allclose(found, [force, force * 500, 0.0], rtol=1e-9, atol=1e-3)


def test_a_bar_on_the_edge_of_the_concrete_counts():
    ring = np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]]) * 200
    at_edge, inside = (ACI_SI.strength.of(column_of([ring], ring * share)) for share in (1.0, 0.75))
    demand = np.array([[5e5, 1e8, 0.0]])
    assert proportional(at_edge, demand).ratio < proportional(inside, demand).ratio


@pytest.mark.parametrize(
    "ring",
    [
        [[0, 0], [400, 0], [400, 1e-9]],
        [[0, 0], [400, 0], [200, 0], [400, 300]],
        [[0, 0], [400, 400], [400, 0], [0, 400]],
        [[0, 0], [400, 0], [400, 400], [200, 0], [0, 400]],
    ],
)
def test_degenerate_outlines_are_refused_with_a_sentence(ring):
    with pytest.raises(InputError, match=r"found .* allowed: ") as refusal:
        Outline.from_polygons([np.array(ring, dtype=float)], [], "core")
    assert str(refusal.value).startswith("core, part 1: ")


def test_separate_walls_act_as_one():
    # Two flanges joined by a web that is not drawn: the arm between them is theirs.
    flange = np.array([[0.0, 0], [2000, 0], [2000, 250], [0, 250]])
    rings = [flange, flange + np.array([0, 2750])]
    points = [[x, y] for y in (125, 2875) for x in (100, 700, 1300, 1900)]
    together = ACI_SI.strength.of(column_of(rings, points))
    one = ACI_SI.strength.of(column_of([flange], points[:4]))
    demand = np.array([[1e6, 1e9, 0.0]])
    assert proportional(together, demand).ratio < 0.25 * proportional(one, demand).ratio
    assert together.max_axial == pytest.approx(2 * one.max_axial)


def test_a_region_without_area_is_refused():
    flat = Outline((np.array([[0.0, 0.0], [400.0, 0.0], [200.0, 0.0]]),))
    with pytest.raises(InputError, match="region: found an area of 0 mm²"):
        Region(flat, uniform_block(20.0, 0.0))
    clockwise = Outline((np.array([[0.0, 0.0], [0.0, 400.0], [400.0, 0.0]]),))
    with pytest.raises(InputError, match="anticlockwise"):
        Region(clockwise, uniform_block(20.0, 0.0))


@pytest.mark.parametrize(("place", "area"), [(np.nan, 500.0), (100.0, -500.0), (100.0, np.inf)])
def test_bars_that_are_none_are_refused(place, area):
    steel = ElasticPlastic(200_000, 420)
    with pytest.raises(InputError, match="bar 2"):
        BarSet(np.array([0.0, place]), np.zeros(2), np.array([500.0, area]), steel)
