"""Legs of walls: their concrete, where their bars are, and how they share shears."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.core.section.call_out import parse_call_out
from fexro.core.section.curtains import (
    bars_of_legs,
    curtain_places,
    end_zones,
    hoops_of_ends,
    spots_in_legs,
    spots_in_strip,
)
from fexro.core.section.horizontal_bars import horizontal_bars
from fexro.core.section.leg_forces import leg_shears
from fexro.core.section.shapes.legs import Leg, Legs

STRAIGHT = Legs((Leg(-2000, 0, 2000, 0, 250),))
# A channel open to the right: a back of 6 m along y, flanges of 3 m at both ends.
CHANNEL = Legs(
    (
        Leg(3000, -3000, 0, -3000, 300),
        Leg(0, -3000, 0, 3000, 300),
        Leg(0, 3000, 3000, 3000, 300),
    )
)
CORE = Legs(
    (
        Leg(0, 0, 5000, 0, 300),
        Leg(5000, 0, 5000, 7000, 300),
        Leg(5000, 7000, 0, 7000, 300),
        Leg(0, 7000, 0, 0, 300),
    )
)
TEE = Legs((Leg(-2000, 0, 2000, 0, 250), Leg(0, 0, 0, -3000, 200)))
MITRED = Legs((Leg(0, 0, 4000, 0, 300), Leg(0, 0, 4000 * math.cos(1), 4000 * math.sin(1), 300)))


def groups(text):
    return parse_call_out(text, "bars", {})


# Concrete


@pytest.mark.parametrize(
    ("legs", "area"),
    [
        (STRAIGHT, 4000 * 250),
        # By hand: the back with its corners, and the flanges up to its face.
        (CHANNEL, 6300 * 300 + 2 * (3000 - 150) * 300),
        # The outer rectangle less the inner.
        (CORE, 5300 * 7300 - 4700 * 6700),
        (TEE, 4000 * 250 + (3000 - 125) * 200),
        # Two mitred strips: each is a trapezium as long in the middle as its centre line.
        (MITRED, 2 * 4000 * 300),
    ],
)
def test_the_concrete_has_each_corner_once(legs, area):
    assert legs.outline().area == pytest.approx(area, rel=1e-9)


def test_a_core_has_a_hole():
    assert len(CORE.outline().rings) == 2
    assert len(CHANNEL.outline().rings) == 1


def test_a_leg_is_as_long_as_its_centre_line_and_its_corners():
    assert STRAIGHT.lengths == (4000,)
    assert CHANNEL.lengths == (3150, 6300, 3150)
    # A leg against the middle of another does not reach into it.
    assert TEE.lengths == (4000, 3000)


@pytest.mark.parametrize(
    ("legs", "told"),
    [
        ((Leg(0, 0, 4000, 0, 0),), "thickness above 0"),
        ((Leg(0, 0, 200, 0, 300),), "at least its thickness"),
        ((Leg(0, 0, 4000, 0, 300), Leg(0, 3000, 4000, 3000, 300)), "legs that meet"),
    ],
)
def test_impossible_legs_are_refused(legs, told):
    with pytest.raises(InputError, match=told):
        Legs(legs)


# Bars


def test_pairs_are_evenly_spaced_inside_the_ends():
    (places,) = curtain_places(STRAIGHT, 0, 50, 200)
    # By hand: 3900 mm in at most 200: 20 steps of 195.
    assert len(places) == 21
    np.testing.assert_allclose(np.diff(places), 195)
    assert (places[0], places[-1]) == (50, 3950)


def test_no_bar_of_one_leg_is_where_another_has_one():
    spots = spots_in_legs(CORE, 40, groups("D12@200 each face"), "K1")
    places = np.array([(spot.x, spot.y) for spot in spots])
    apart = np.hypot(*(places[:, None] - places[None]).transpose(2, 0, 1))
    np.fill_diagonal(apart, np.inf)
    assert apart.min() > 12
    inside = (np.abs(places - [2500, 3500]) <= [2500 + 150 - 40, 3500 + 150 - 40]).all()
    assert inside


@pytest.mark.parametrize(
    ("legs", "across"),
    [
        (CHANNEL, 0),
        # The same channel typed from the other end, and with its back first.
        (Legs(CHANNEL.legs[::-1]), 0),
        (Legs((CHANNEL.legs[1], CHANNEL.legs[0], CHANNEL.legs[2])), 0),
        (CORE, 3500),
    ],
)
def test_bars_of_a_symmetric_wall_are_symmetric_whatever_the_order_of_its_legs(legs, across):
    spots = spots_in_legs(legs, 40.0, groups("D12@200 each face"), "wall")
    places = {(round(spot.x, 6), round(spot.y - across, 6)) for spot in spots}
    assert len(places) == len(spots)
    assert {(x, -y) for x, y in places} == places


def test_of_an_angle_the_bars_of_the_longer_leg_run_through_the_corner():
    angle = Legs((Leg(0, 0, 2000, 0, 200), Leg(0, 0, 0, 3000, 200)))
    assert [angle.ends(number)[0].kind for number in (0, 1)] == ["against", "through"]


def test_ends_have_what_is_called_for_them_and_curtains_the_rest():
    call = groups("D12@200 each face + 8 D25 each end in 450")
    web, ends = bars_of_legs(STRAIGHT, 40, call, "W1")
    assert (web.curtains, web.spacing) == (2, 200)
    assert [end.pairs for end in ends] == [4, 4]
    assert ends[0].length == pytest.approx(450, abs=60)
    spots = spots_in_legs(STRAIGHT, 40, call, "W1")
    area = math.pi * 25**2 / 4
    thick = [spot for spot in spots if spot.size.diameter == 25]
    assert len(thick) == 16
    assert sum(spot.size.area for spot in thick) == pytest.approx(16 * area, rel=0.01)
    # Two hoops, and two cross ties in each.
    assert len(hoops_of_ends(STRAIGHT, call)) == 2 * 3


def test_a_core_without_openings_has_no_free_ends():
    assert end_zones(CORE) == []
    with pytest.raises(InputError, match="free ends"):
        spots_in_legs(CORE, 40, groups("D12@200 each face + 4 D16 each end"), "K1")


def test_what_a_wall_has_no_place_for_is_refused():
    with pytest.raises(InputError, match="bars of a wall"):
        spots_in_legs(STRAIGHT, 40, groups("12 D25"), "W1")


def test_a_strip_has_the_steel_of_its_spacing_whatever_its_width():
    spots = spots_in_strip(1000, 200, 40, groups("D12@150 each face"), "P1")
    # By hand: 1000 / 150 bars a face.
    assert sum(spot.size.area for spot in spots) == pytest.approx(
        2 * math.pi * 12**2 / 4 * 1000 / 150
    )


# Shears


def straight_forces(shears, legs, centroid):
    """What shears along legs add up to: Vx, Vy, T about the centroid."""
    along = np.array([leg.direction for leg in legs.legs])
    arms = np.array([leg.middle for leg in legs.legs]) - centroid
    turn = arms[:, 0] * along[:, 1] - arms[:, 1] * along[:, 0]
    return np.array([shears @ along[:, 0], shears @ along[:, 1], shears @ turn])


@pytest.mark.parametrize("legs", [CHANNEL, CORE])
@pytest.mark.parametrize("forces", [(100.0, 0, 0), (0, 100.0, 0), (0, 0, 1e6), (50.0, -80.0, 3e5)])
def test_shears_of_legs_are_in_equilibrium(legs, forces):
    centroid = legs.outline().centroid
    shears, left = leg_shears(legs, centroid, np.array(forces))
    np.testing.assert_allclose(straight_forces(shears, legs, centroid), forces, atol=1e-6)
    np.testing.assert_allclose(left, 0, atol=1e-6)


def test_a_shear_beside_the_back_of_a_channel_turns_its_flanges():
    # By hand: the back takes all of Vy; about its line Vy at the centroid turns with Vy · e, which
    # the flanges 6 m apart take as a pair.
    centroid = CHANNEL.outline().centroid
    shears, _ = leg_shears(CHANNEL, centroid, np.array([0.0, 100.0, 0.0]))
    assert shears[1] == pytest.approx(100)
    assert abs(shears[0]) == pytest.approx(100 * centroid[0] / 6000)
    assert shears[0] == pytest.approx(shears[2])


def test_a_core_shares_a_shear_by_areas_and_a_torsion_by_arms():
    centroid = CORE.outline().centroid
    shears, _ = leg_shears(CORE, centroid, np.array([0.0, 100.0, 0.0]))
    np.testing.assert_allclose(np.abs(shears), [0, 50, 0, 50], atol=1e-9)
    # By hand: T = 2 (F1 · 3.5 + F2 · 2.5), F by area and arm: 5300 · 3.5 and 7300 · 2.5.
    shears, _ = leg_shears(CORE, centroid, np.array([0.0, 0.0, 1e6]))
    stiff = 2 * (5300 * 3.5**2 + 7300 * 2.5**2)
    expected = 1e3 * np.array([5300 * 3.5, 7300 * 2.5, 5300 * 3.5, 7300 * 2.5]) / stiff
    np.testing.assert_allclose(shears, expected, rtol=1e-9)


def test_what_a_straight_wall_does_not_resist_is_told():
    shears, left = leg_shears(STRAIGHT, (0.0, 0.0), np.array([70.0, 30.0, 5e5]))
    assert shears[0] == pytest.approx(70)
    np.testing.assert_allclose(left, [0, 30, 5e5], atol=1e-9)


# Horizontal bars: cover 30, D12, laps of 400.


def row(legs, curtains=2):
    return horizontal_bars(legs, 30.0, 12.0, curtains, 400.0)


@pytest.mark.parametrize(
    ("legs", "kinds"),
    [
        (STRAIGHT, {"horizontal": 2, "U-bar": 2}),
        # A back between two corners, each with a bar in both curtains.
        (CHANNEL, {"horizontal": 6, "U-bar": 2, "corner bar": 4}),
        (CORE, {"horizontal": 8, "corner bar": 8}),
        (TEE, {"horizontal": 4, "U-bar": 3, "corner bar": 2}),
    ],
)
def test_ends_have_u_bars_and_corners_corner_bars(legs, kinds):
    found = {}
    for one in row(legs):
        found[one.kind] = found.get(one.kind, 0) + len(one.lines)
    assert found == kinds


def test_one_curtain_has_straight_bars_alone():
    (bar,) = row(STRAIGHT, curtains=1)
    assert bar.kind == "horizontal"
    assert bar.sides == (4000 - 60,)
    np.testing.assert_allclose(bar.lines, [[[-1970, 0], [1970, 0]]])


def test_a_u_bar_is_inside_the_cover_and_laps_from_the_ends_of_the_others():
    low, high = [one for one in row(STRAIGHT) if one.kind == "U-bar"]
    assert low.sides == (400, 250 - 60, 400)
    # Its back 30 + 6 from the end, its legs in the layer of the horizontal bars.
    np.testing.assert_allclose(low.lines[0], [[-1570, -89], [-1964, -89], [-1964, 89], [-1570, 89]])
    np.testing.assert_allclose(high.lines[0][1:3, 0], [1964, 1964])


def test_corner_bars_turn_into_the_leg_that_runs_through():
    corners = [one for one in row(CHANNEL) if one.kind == "corner bar"]
    # The back, leg 2, ends against the flanges; both turn along them, away from their corner.
    assert [one.leg for one in corners] == [1, 1]
    assert all(one.sides == (400 + 270, 400 + 270) for one in corners)
    for one, sense in zip(corners, (-1, 1), strict=True):
        for line, x in zip(sorted(one.lines, key=lambda at: at[1, 0]), (-114, 114), strict=True):
            # In the layer at the outer face of the flange, 30 + 6 inside it.
            np.testing.assert_allclose(line[1], [x, sense * (3150 - 36)])
            np.testing.assert_allclose(line[0], [x, sense * (3150 - 36 - 664)])
            np.testing.assert_allclose(line[2], [x + 664, sense * (3150 - 36)])


def test_corner_bars_part_where_the_other_leg_goes_on():
    (corner,) = [one for one in row(TEE) if one.kind == "corner bar"]
    assert sorted(line[2, 0] - line[1, 0] for line in corner.lines) == [-564, 564]
    # At the far face of the flange of 250.
    assert [line[1, 1] for line in corner.lines] == pytest.approx([125 - 36] * 2)


def test_bars_of_a_symmetric_core_go_round_all_corners_alike():
    lines = np.concatenate([line for one in row(CORE) for line in one.lines])
    mirrored = lines * [-1, 1] + [5000, 0]
    assert {tuple(at) for at in lines.round(3)} == {tuple(at) for at in mirrored.round(3)}
    # All of them are within the cover of the outline.
    assert lines.min() == pytest.approx(-150 + 30)
