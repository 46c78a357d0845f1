"""Where rays are led before the surface is solved: geometry, checked by itself."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.registry import design_code
from fexro.core.quantities import UnitSystem
from fexro.core.section.shapes import LShape, Rectangle
from fexro.core.strength.starts import curved, encloses_origin, frame, through_mesh, towards
from tests.conftest import make_column

EN = design_code("EN 1992-1-1", UnitSystem.SI, "recommended")
coordinate = st.floats(0.1, 10.0)


@given(coordinate, coordinate, st.floats(0.1, 3.0), coordinate, coordinate)
def test_an_edge_through_the_origin_counts_for_one_of_its_triangles(x, y, share, left, right):
    # The edge from a to b passes through the origin but for rounding; the others lie aside.
    a, b = np.array([x, y]), -share * np.array([x, y])
    normal = np.array([-y, x])
    triangles = np.array([[a, b, left * normal], [b, a, -right * normal]])
    assert encloses_origin(np.moveaxis(triangles, -1, 0)).sum() == 1
    # The same whichever corner comes first.
    turned = np.roll(triangles, 1, axis=1)
    assert encloses_origin(np.moveaxis(turned, -1, 0)).sum() == 1


@pytest.mark.parametrize("code", [ACI_SI, EN], ids=["ACI", "EN"])
@pytest.mark.parametrize(
    ("shape", "bars"),
    [
        (Rectangle(width=500, depth=700), "12 D25"),
        (LShape(width=700, depth=900, leg=300), "16 D25"),
    ],
)
def test_starts_lie_near_the_rays_they_are_for(code, shape, bars):
    strength = code.strength.of(make_column(shape, bars))
    mesh = strength.mesh
    random = np.random.default_rng(4)
    direction = random.normal(size=(300, 3))
    for origin in (np.zeros((300, 3)), np.tile([0.2, 0.0, 0.0], (300, 1))):
        rays, _ = frame(
            strength, origin, direction * [0.0, 1.0, 1.0] if origin.any() else direction
        )
        if origin.any():
            starts = curved(mesh, rays, through_mesh(mesh, rays, np.arange(300)))
        else:
            starts = towards(mesh, rays)
        assert set(starts.ray) == set(range(300))
        assert ((starts.place[1] >= 0) & (starts.place[1] <= 1)).all()
        points = strength.at(starts.place[0], starts.place[1][:, None]).design[:, 0] / mesh.scale
        located = rays.take(starts.ray).locate(points.T)
        # Within a share of a cell, which is about a twentieth of the surface.
        aside = np.abs(located[:2]).max(axis=0)
        assert np.median(aside) < 2e-3
        assert (located[2] > 0).mean() > 0.99


def test_slopes_of_starts_are_those_of_the_surface(rectangle):
    strength = EN.strength.of(rectangle)
    mesh = strength.mesh
    direction = np.random.default_rng(5).normal(size=(200, 3))
    # Moments alike in all directions of the plan.
    direction[:, 1:] *= mesh.scale[1:].max() / mesh.scale[1:]
    rays, _ = frame(strength, np.zeros((200, 3)), direction)
    starts = towards(mesh, rays)
    assert starts.slope is not None
    for parameter in (0, 1):
        step = np.zeros_like(starts.place)
        step[parameter] = 1e-4 * starts.reach[parameter]
        inside = starts.place.copy()
        inside[1] = np.clip(inside[1], 0.001, 0.999)
        there, here = (
            strength.at(place[0], place[1][:, None]).design[:, 0] / mesh.scale
            for place in (inside + step, inside)
        )
        change = (rays.locate(there.T) - rays.locate(here.T)) / 1e-4
        wrong = np.abs(change - starts.slope[:, parameter]).max(axis=0)
        size = np.abs(change).max(axis=0)
        # Off where steel begins to yield within the cell.
        assert np.median(wrong / size) < 0.05
