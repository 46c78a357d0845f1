"""Strips between floors against closed forms of beams."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.strips import Strip, StripLoad, StripStorey, strip_forces

H, W = 3600.0, 1.5  # mm, N/mm
WIND = np.array([[0.0, 0.0, 1.0]])
DEAD = np.array([[1.0, 0.0, 0.0]])


def of(storeys, factors=WIND, **others):
    return strip_forces(Strip(tuple(storeys), **{"weight": 0.0, **others}), factors)


def test_one_storey_is_a_simple_beam_under_wind():
    (one,) = of([StripStorey(H, W)])
    assert one.moment(H / 2)[0] == pytest.approx(W * H**2 / 8)
    assert one.deflection(H / 2, 1e12)[0] == pytest.approx(5 * W * H**4 / (384 * 1e12))
    assert one.shear(0.0)[0] == pytest.approx(W * H / 2)
    assert one.zero_shear[0] == pytest.approx(H / 2)


def test_two_equal_storeys_hog_over_the_floor_between():
    low, high = of([StripStorey(H, W), StripStorey(H, W)])
    assert low.top[0] == pytest.approx(-W * H**2 / 8)
    assert high.bottom[0] == pytest.approx(-W * H**2 / 8)
    # The largest moment in the field of a propped beam: 9 w L² / 128 at 3/8 from the pin.
    assert low.zero_shear[0] == pytest.approx(3 / 8 * H)
    assert low.moment(3 / 8 * H)[0] == pytest.approx(9 / 128 * W * H**2)
    assert low.largest_place[0] == pytest.approx(H)


def test_three_equal_storeys_are_a_beam_of_three_spans():
    low, middle, high = of([StripStorey(H, W)] * 3)
    assert low.top[0] == pytest.approx(-W * H**2 / 10)
    assert middle.top[0] == pytest.approx(-W * H**2 / 10)
    assert high.bottom[0] == pytest.approx(-W * H**2 / 10)
    assert middle.moment(H / 2)[0] == pytest.approx(W * H**2 * (1 / 8 - 1 / 10))


def test_a_load_beside_the_middle_bends_the_top_storey_and_dies_out_below():
    load = StripLoad(20e3, 0.0, 50.0)
    low, high = of([StripStorey(H, 0.0), StripStorey(H, 0.0, (load,))], DEAD)
    assert high.top[0] == pytest.approx(20e3 * 50)
    # A moment at the end of two equal spans: a quarter of it, of other sign, at the support.
    assert high.bottom[0] == pytest.approx(-20e3 * 50 / 4)
    assert low.top[0] == pytest.approx(-20e3 * 50 / 4)
    assert low.bottom[0] == 0


def test_a_load_at_a_floor_between_is_shared_by_both_storeys():
    load = StripLoad(20e3, 0.0, 50.0)
    low, high = of([StripStorey(H, 0.0, (load,)), StripStorey(H, 0.0)], DEAD)
    assert low.top[0] == pytest.approx(20e3 * 50 / 2)
    assert high.bottom[0] == pytest.approx(-20e3 * 50 / 2)


def test_slopes_of_both_storeys_agree_at_a_floor_of_unequal_storeys():
    load = StripLoad(15e3, 9e3, -40.0)
    low, high = of(
        [StripStorey(5000.0, 2.0, (load,)), StripStorey(3000.0, 0.7)],
        np.array([[1.2, 1.6, 1.0]]),
        parapet=1000.0,
        parapet_wind=2.0,
    )
    step, stiffness = 1e-2, 1e12
    below = -low.deflection(5000.0 - step, stiffness)[0] / step
    above = high.deflection(step, stiffness)[0] / step
    assert below == pytest.approx(above, rel=1e-4)


def test_a_parapet_is_a_cantilever_on_the_roof():
    (one,) = of([StripStorey(H, 0.0)], parapet=1200.0, parapet_wind=2.0)
    assert abs(one.top[0]) == pytest.approx(2.0 * 1200**2 / 2)
    # It pulls the top over against the wind below: both bend the strip the other way.
    (both,) = of([StripStorey(H, W)], parapet=1200.0, parapet_wind=2.0)
    assert both.moment(H / 2)[0] == pytest.approx(W * H**2 / 8 - 2.0 * 1200**2 / 4)


def test_axial_force_grows_with_the_weight_and_the_loads_above():
    load = StripLoad(30e3, 10e3, 0.0)
    low, high = of(
        [StripStorey(H, 0.0, (load,)), StripStorey(H, 0.0, (load,))],
        np.array([[1.2, 1.6, 0.0]]),
        weight=4.0,
        parapet=1000.0,
    )
    floor = 1.2 * 30e3 + 1.6 * 10e3
    assert high.axial(H)[0] == pytest.approx(floor + 1.2 * 4 * 1000)
    assert low.axial(0.0)[0] == pytest.approx(2 * floor + 1.2 * 4 * (1000 + 2 * H))
    assert low.dead(0.0)[0] == pytest.approx(2 * 1.2 * 30e3 + 1.2 * 4 * (1000 + 2 * H))
