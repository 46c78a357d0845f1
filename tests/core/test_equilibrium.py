"""Strain planes in equilibrium; plane sections and the closed surface."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_UK
from fexro.core.section.shapes import Circle, LShape, Rectangle
from fexro.core.strength.body import BarSet, Body, Region
from fexro.core.strength.equilibrium import strain_plane
from fexro.core.strength.laws import Constant, ElasticPlastic, PiecewiseLaw, Smooth
from fexro.core.strength.slices import contour
from fexro.core.strength.utilisation import constant_axial, proportional
from tests.conftest import make_column

SHAPES = [
    (Rectangle(width=400, depth=600), "8 D25"),
    (Circle(diameter=600), "8 D25"),
    (LShape(width=600, depth=600, leg=250), "10 D25"),
]


def elastic(modulus):
    return PiecewiseLaw((Smooth(-1.0, 1.0, lambda e: modulus * e, degree=1),))


def test_an_elastic_rectangle_bends_as_in_the_books():
    outline = Rectangle(width=300, depth=500).outline()
    body = Body([Region(outline, elastic(30_000))], [], outline.centroid)
    found = strain_plane(body, np.array([6e5, 5e7, -2e7]))
    assert found is not None
    assert found.centre == pytest.approx(6e5 / (30_000 * 150_000))
    assert found.curvature_x == pytest.approx(5e7 / (30_000 * 300 * 500**3 / 12))
    assert found.curvature_y == pytest.approx(-2e7 / (30_000 * 500 * 300**3 / 12))


@pytest.mark.parametrize(("shape", "bars"), SHAPES)
@pytest.mark.parametrize("share", [0.2, 0.6, 0.95])
def test_a_demand_inside_the_surface_has_its_plane(shape, bars, share):
    column = make_column(shape, bars)
    strength = EN_UK.strength.of(column)
    for direction in ([0.3, 0.3, 0.1], [0.1, -0.2, 0.3], [-0.1, 0.1, 0.1]):
        demand = np.array(direction) * strength.mesh.scale
        demand *= share / proportional(strength, demand[None]).ratio[0]
        found = strain_plane(strength.body, demand)
        assert found is not None
        x, y = strength.body.vertices.T
        assert found.strain(x, y).max() < 0.0035


@pytest.mark.parametrize(("shape", "bars"), SHAPES)
def test_a_demand_beyond_every_plane_has_none(shape, bars):
    strength = EN_UK.strength.of(make_column(shape, bars))
    for demand in ([1.2, 0, 0], [-1.2, 0, 0], [0.3, 3.0, 1.0]):
        scale = [
            strength.max_axial if demand[0] > 0 else -strength.max_tension,
            *strength.mesh.scale[1:],
        ]
        assert strain_plane(strength.body, np.array(demand) * scale) is None


def test_steel_in_concrete_displaces_it():
    # A steel core of 100 × 100 in 300 × 300: the concrete it displaces is a region taken away.
    whole = Rectangle(width=300, depth=300).outline()
    core = Rectangle(width=100, depth=100).outline()
    minus = PiecewiseLaw((Smooth(-1.0, 1.0, lambda e: -30_000 * e, degree=1),))
    body = Body(
        [Region(whole, elastic(30_000)), Region(core, minus), Region(core, elastic(200_000))],
        [],
        (0.0, 0.0),
    )
    found = strain_plane(body, np.array([1e6, 1e7, 0.0]))
    assert found is not None
    assert found.centre == pytest.approx(1e6 / (30_000 * 80_000 + 200_000 * 10_000))
    inertia = 30_000 * (300**4 - 100**4) / 12 + 200_000 * 100**4 / 12
    assert found.curvature_x == pytest.approx(1e7 / inertia)


def test_four_hundred_bars_of_their_own_laws():
    column = make_column(Rectangle(width=3000, depth=3000), "400 D25")
    bars, outline = column.section.bars, column.section.outline
    block = PiecewiseLaw((Constant(0.0, np.inf, 20.0),))
    even = np.arange(400) % 2 == 0
    sets = [
        BarSet(bars.x[part], bars.y[part], bars.area[part], ElasticPlastic(200_000, fy), block)
        for part, fy in ((even, 420.0), (~even, 550.0))
    ]
    body = Body([Region(outline, block)], sets, outline.centroid)
    from fexro.core.strength.integration import resultants

    found = resultants(body, np.zeros(1), np.full((1, 1), 0.01), np.zeros((1, 1)))[0, 0, 0]
    area = np.pi * 625 / 4
    assert found == pytest.approx(20 * (9e6 - 400 * area) + 200 * area * (420 + 550))


@pytest.mark.parametrize("code", [ACI_SI, EN_UK], ids=["ACI", "EN"])
@pytest.mark.parametrize(("shape", "bars"), SHAPES)
def test_a_contour_is_where_moments_are_used_up(code, shape, bars):
    strength = code.strength.of(make_column(shape, bars))
    for share in (-0.3, 0.0, 0.4, 0.9):
        axial = share * (strength.max_axial if share > 0 else -strength.max_tension)
        path = contour(strength, axial, 24)
        assert len(path) > 25
        assert np.array_equal(path[0], path[-1])
        demands = np.column_stack([np.full(len(path) - 1, axial), path[:-1]])
        np.testing.assert_allclose(constant_axial(strength, demands).ratio, 1.0, rtol=1e-6)
    assert not len(contour(strength, 1.01 * strength.max_axial))


@pytest.mark.parametrize("code", [ACI_SI, EN_UK], ids=["ACI", "EN"])
@pytest.mark.parametrize(("shape", "bars"), SHAPES)
def test_the_closed_surface_encloses_and_is_capped(code, shape, bars):
    strength = code.strength.of(make_column(shape, bars))
    points, triangles = strength.closed(48, 40)
    assert points[:, 0].max() <= strength.max_axial * (1 + 1e-9)
    assert points[:, 0].min() == pytest.approx(strength.max_tension)
    scaled = points / strength.mesh.scale
    a, b, c = (scaled[triangles[:, i]] for i in range(3))
    # Every edge belongs to two triangles that run through it in opposite senses.
    edges = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    _, counts = np.unique(np.sort(edges, axis=1), axis=0, return_counts=True)
    ends = 48 * 2  # the rings at both ends, each shrunk to a point
    assert (counts == 2).sum() == len(counts) - ends
    volume = np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6
    finer_points, finer = strength.closed(96, 80)
    finer_points = finer_points / strength.mesh.scale
    p, q, r = (finer_points[finer[:, i]] for i in range(3))
    assert abs(volume) == pytest.approx(
        abs(np.einsum("ij,ij->i", p, np.cross(q, r)).sum() / 6), rel=0.02
    )
