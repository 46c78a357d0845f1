"""The buckled shape, and moments along a lift."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fexro.core.actions import Actions
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.aci318_19.second_order import chart_factor
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.facts import LiftDirection
from fexro.core.members.buckling import bent_shape, buckled_shape, inflections
from fexro.core.members.elevation import elevation_of, ties_along
from fexro.core.members.lift import Lift, PreparedLift
from fexro.core.section.shapes import Rectangle
from tests.conftest import NO_FORCES, facts_of, make_column
from tests.core.test_slenderness import actions_of, direction, prepared

PLACES = np.linspace(0, 1, 201)
SOFT = st.floats(1e-3, 50.0)


@given(SOFT, SOFT, st.booleans())
def test_inflections_are_an_effective_length_apart(top, bottom, sway):
    factor = chart_factor(top, bottom, sway=sway)
    low, high = inflections(factor, top, bottom, sway=sway)
    assert high - low == pytest.approx(factor, rel=1e-9)
    if not sway:
        assert low >= -1e-6
        assert high <= 1 + 1e-6


@given(SOFT, SOFT, st.booleans())
def test_the_shape_has_no_curvature_where_it_has_no_moment(top, bottom, sway):
    factor = chart_factor(top, bottom, sway=sway)
    shape = buckled_shape(factor, top, bottom, PLACES, sway=sway)
    curvature = np.gradient(np.gradient(shape, PLACES), PLACES)
    for share in inflections(factor, top, bottom, sway=sway):
        if 0.05 < share < 0.95:
            there = abs(float(np.interp(share, PLACES, curvature)))
            assert there < 0.03 * float(np.abs(curvature[5:-5]).max()) + 1e-6


@given(SOFT, SOFT)
def test_a_braced_shape_meets_its_springs(top, bottom):
    """At an end the moment, minus EI times the curvature, is 2 EI / (ψ L) times the rotation."""
    factor = chart_factor(top, bottom, sway=False)
    fine = np.linspace(0, 1, 4001)
    shape = buckled_shape(factor, top, bottom, fine, sway=False)
    step = fine[1]
    rotation = (shape[1] - shape[0]) / step - 0.5 * (shape[2] - 2 * shape[1] + shape[0]) / step
    curvature = (shape[0] - 2 * shape[1] + shape[2]) / step**2
    assert curvature == pytest.approx(2 / bottom * rotation, rel=0.02, abs=0.05)


@pytest.mark.parametrize(
    ("top", "bottom", "expected"),
    [
        (0.0, 0.0, (0.25, 0.75)),
        (math.inf, math.inf, (0.0, 1.0)),
        (0.0, math.inf, (0.0, 0.69916)),
        (math.inf, 0.0, (0.30084, 1.0)),
    ],
)
def test_known_inflections_of_braced_columns(top, bottom, expected):
    factor = chart_factor(top, bottom, sway=False)
    assert inflections(factor, top, bottom, sway=False) == pytest.approx(expected, abs=1e-5)


def test_a_cantilever_has_its_inflection_at_the_tip():
    assert inflections(2.0, math.inf, 0.0, sway=True)[1] == pytest.approx(1.0, abs=1e-6)
    shape = buckled_shape(2.0, math.inf, 0.0, PLACES, sway=True)
    assert shape == pytest.approx(1 - np.cos(math.pi / 2 * PLACES), abs=1e-6)


def test_bent_shapes_are_those_of_beams():
    even = bent_shape(np.full(201, 5e6), PLACES, 1.0, 1.0, sway=False)
    # Closed form: M L² / 8 at the middle, away from the compressed side.
    assert even == pytest.approx(-4 * PLACES * (1 - PLACES), abs=1e-4)
    # A column between floors that turn nothing: M (s² / 2 − s³ / 3), moved M / 6 at the top.
    moments = 3e6 * (1 - 2 * PLACES)
    fixed = bent_shape(moments, PLACES, 0.0, 0.0, sway=True)
    assert fixed == pytest.approx(6 * (PLACES**2 / 2 - PLACES**3 / 3), abs=1e-4)
    # A pinned foot: the top does not turn.
    pinned = bent_shape(-PLACES, PLACES, 0.0, math.inf, sway=True)
    assert pinned == pytest.approx((PLACES / 2 - PLACES**3 / 6) * 3, abs=1e-4)
    # Beams as stiff as the column let both ends turn alike.
    soft = bent_shape(moments, PLACES, 1.0, 1.0, sway=True)
    slopes = np.gradient(soft, PLACES)
    assert slopes[0] == pytest.approx(slopes[-1], rel=1e-2)
    assert slopes[0] == pytest.approx(1 / 6 / (1 / 6 + 1 / 6), rel=2e-2)


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
@pytest.mark.parametrize(("top", "bottom"), [(1e8, 1e8), (1e8, -5e7), (-1e8, -8e7)])
def test_the_largest_final_moment_is_the_one_to_be_resisted(code, top, bottom):
    found = prepared(code, actions_of(1.2e6, top, bottom), about_x=direction(6500.0))
    about_x, about_y = elevation_of(found, 0)
    assert np.abs(about_x.final).max() == pytest.approx(abs(about_x.resisted), rel=1e-6)
    assert about_x.first[0] == bottom
    assert about_x.first[-1] == top
    assert about_y.first.any() is np.False_
    # At the ends there is only what is added everywhere: by imperfection, or as the least.
    added = about_x.eccentricity[about_x.places == 0.0]
    assert abs(added) == pytest.approx(found.second_order.axes[0].even[0] / 1.2e6, abs=1e-9)


def test_a_short_lift_has_its_imperfection_everywhere():
    found = prepared(EN_RECOMMENDED, actions_of(1.2e6, 1e8, -5e7), about_x=direction(2500.0))
    about_x, _ = elevation_of(found, 0)
    assert about_x.state == "short"
    # By hand: θi = 1/200, αh = 1 (l below 4 m), l0 = l: 6.25 mm.
    assert about_x.eccentricity == pytest.approx(6.25, rel=1e-9)


def test_where_a_factor_is_given_the_ends_are_alike():
    found = prepared(ACI_SI, actions_of(1e6, 1e8, 1e8), about_x=direction(6000.0, 0.8))
    about_x, _ = elevation_of(found, 0)
    low, high = about_x.inflections
    assert (low, high) == pytest.approx((0.1, 0.9), abs=1e-6)
    assert about_x.effective == pytest.approx(4800.0)


@pytest.mark.parametrize(
    ("code", "reach"), [(ACI_SI, 600.0), (EN_RECOMMENDED, 500.0)], ids=["ACI", "EN"]
)
def test_end_zones_of_ties_reach_as_far_as_the_code_has_it(code, reach):
    # ℓo by 18.4.3.3: the largest of 3600/6, 500 and 450 mm; 9.5.3(4): the larger dimension, 500 mm.
    lift = LiftDirection(storey=4000.0, clear=3600.0, sway="braced", factor=0.5)
    column = make_column(Rectangle(width=400, depth=500), "8 D20", ties="D10@100/200")
    facts = facts_of(column, about_x=lift, about_y=lift)
    lift = Lift("C1", "L1", facts, code, Actions.of_axial_bending((), NO_FORCES))
    zones = ties_along(PreparedLift.of(lift))
    assert [zone.called for zone in zones] == [100.0, 200.0, 100.0]
    assert zones[0].end == pytest.approx(reach)
    assert zones[1].end == pytest.approx(3600 - reach)
