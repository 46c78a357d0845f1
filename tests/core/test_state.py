"""What a strain plane means for a section."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.section.shapes import LShape, Rectangle
from fexro.core.strength.body import BarSet, Body, Region
from fexro.core.strength.equilibrium import strain_plane
from fexro.core.strength.laws import ElasticPlastic, uniform_block
from fexro.core.strength.state import SectionState, StrainPlane
from fexro.core.strength.utilisation import proportional
from tests.conftest import make_column


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
def test_the_state_behind_a_point_adds_up_to_the_point(code):
    strength = code.strength.of(make_column(LShape(width=700, depth=600, leg=250), "16 D20"))
    for angle, fraction in ((0.3, 0.4), (2.5, 0.7), (5.1, 0.2)):
        point = strength.at(np.array([angle]), np.array([[fraction]]))
        state = SectionState(strength.body, StrainPlane.behind(point))
        np.testing.assert_allclose(state.resultant, point.nominal[0, 0], rtol=1e-9)
        assert state.extremes[1] == pytest.approx(
            point.centre_strain[0, 0] + point.curvature[0, 0] * state.extent[1]
        )


def test_block_and_neutral_axis_by_hand():
    # 400 × 600, f'c 28: c = 300 mm from the top, a = 0.85·300 = 255 mm; 0.85·28·400·255 = 2427.6 kN
    # acts 300 − 127.5 = 172.5 mm above the centre. Bars at 64 mm: 0.003·(300 − 64)/300 = 0.00236
    # yields; at 536 mm: 0.003·(300 − 536)/300 = −0.00236 yields too.
    column = make_column(Rectangle(width=400, depth=600), "4 D28", concrete=28)
    strength = ACI_SI.strength.of(column)
    state = SectionState(strength.body, StrainPlane(0.0, 0.003 / 300, 0.0))
    force, x, y = state.concrete
    assert (force, x, y) == pytest.approx((2_427_600, 0, 172.5), abs=1e-6)
    assert state.neutral_axis_depth == pytest.approx(300)
    assert state.extremes == pytest.approx((-0.003, 0.003))
    np.testing.assert_allclose(np.abs(state.stress), 420)
    np.testing.assert_allclose(state.displaced, np.where(state.y > 0, 0.85 * 28, 0))
    np.testing.assert_allclose(sorted(state.bar_depth), [64, 64, 536, 536])


def test_a_uniform_strain_has_no_neutral_axis(rectangle):
    state = SectionState(ACI_SI.strength.of(rectangle).body, StrainPlane(0.001, 0.0, 0.0))
    assert state.neutral_axis_depth is None
    assert state.extremes == (0.001, 0.001)


def test_a_small_compression_is_carried_elastically(rectangle):
    # Both materials follow their first slope: 2·0.85·35/0.002 = 29 750 MPa and 200 000 MPa.
    strength = ACI_SI.strength.of(rectangle)
    body = ACI_SI.strength.working_body(rectangle, strength)
    plane = strain_plane(body, np.array([100.0, 0.0, 0.0]))
    steel = 12 * math.pi * 25**2 / 4
    stiffness = 29_750 * (350_000 - steel) + 200_000 * steel
    assert plane.centre == pytest.approx(100.0 / stiffness, rel=1e-5)
    assert plane.curvature == pytest.approx(0.0, abs=1e-12)


def test_a_demand_is_in_equilibrium_with_its_state(rectangle):
    strength = ACI_SI.strength.of(rectangle)
    demand = np.array([1.5e6, 3e8, 1.2e8])
    assert proportional(strength, demand[None]).ratio[0] < 1
    body = ACI_SI.strength.working_body(rectangle, strength)
    plane = strain_plane(body, demand)
    np.testing.assert_allclose(SectionState(body, plane).resultant, demand, rtol=1e-6)
    # Ten times as much finds no equilibrium.
    assert strain_plane(body, 10 * demand) is None


def test_sets_of_bars_with_laws_of_their_own_are_told_apart(rectangle):
    outline = rectangle.section.outline
    block = uniform_block(30.0, 0.0006)
    weak, strong = ElasticPlastic(200_000, 300), ElasticPlastic(200_000, 500)
    at = np.array([0.0]), np.array([200.0]), np.array([500.0])
    body = Body(
        [Region(outline, block)],
        [BarSet(*at, weak, block), BarSet(-at[0], -at[1], at[2], strong, None)],
        (0.0, 0.0),
    )
    state = SectionState(body, StrainPlane(0.0, 2e-5, 0.0))
    np.testing.assert_allclose(state.stress, [300, -500])
    np.testing.assert_allclose(state.displaced, [30, 0])
    np.testing.assert_allclose(state.bars, [(270 - 500) * 500, (270 + 500) * 500 * 200, 0])
