"""The bars of a lift as they are built: how long, how many, where they begin and end, by hand."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from fexro.core.actions import Actions
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.facts import LiftAbove, LiftDirection
from fexro.core.members.bar_layout import bars_of_lift
from fexro.core.members.check import prepare
from fexro.core.members.lift import Lift
from fexro.core.section.bars import METRIC_SIZES
from fexro.core.section.shapes import Circle, Rectangle
from tests.conftest import facts_of, make_column

SHAPE = Rectangle(width=500, depth=500)
HELD = LiftDirection(3600.0, clear=3000.0, sway="braced", factor=0.5)
FORCES = Actions.of_axial_bending(("U1",), np.array([[[1e6, 0.0, 0.0]] * 2]))
LAP = 800.0


def size_of(diameter, area):
    (found,) = [
        size for size in METRIC_SIZES.values() if math.isclose(size.diameter, diameter, abs_tol=0.1)
    ]
    return found


def lift(code=ACI_SI, shape=SHAPE, bars="8 D25", laps="one level", ties="D10@100/200", **given):
    directions = {"about_x": HELD, "about_y": HELD}
    column = make_column(shape, bars, ties=ties)
    facts = facts_of(column, laps=laps, lap_length=LAP, **directions, **given)
    return Lift("C1", "L1", facts, code, FORCES)


def laid(below, above=None):
    if above is not None:
        stands = LiftAbove(above.facts.cross_section, above.facts.laps)
        below = replace(below, facts=replace(below.facts, above=stands))
    (prepared,) = prepare([below])
    upper = None if above is None else prepare([above])[0]
    return bars_of_lift(prepared, upper, size_of)


def along(found):
    return [one for one in found if one.kind in ("bar", "dowel")]


def test_bars_reach_through_the_laps_of_the_lift_above():
    bars, *ties = laid(lift(), lift())
    # 3600 + 800 = 4400.
    assert (bars.number, bars.bar.shape, bars.bar.cut) == (8, "00", 4400)
    assert (bars.start, bars.end, bars.which) == (0.0, 4400.0, tuple(range(8)))
    # 50 to 2950: end zones of 500 mm (the larger side; 3000/6; 450) at 100, laps to 800 at 100 too.
    sets = math.ceil(750 / 100) + math.ceil(1700 / 200) + math.ceil(450 / 100) + 1
    assert [one.number for one in ties if one.kind == "outer tie"] == [sets]


def test_the_highest_lift_ends_below_its_floor():
    (bars, *_) = laid(lift())
    assert (bars.bar.cut, bars.told) == (3550, "ends below the floor above")


def test_coupled_bars_are_as_long_as_the_storey():
    (bars, *_) = laid(lift(laps="none"), lift(laps="none"))
    assert (bars.bar.cut, bars.told) == (3600, "coupled with the lift above")


def test_every_second_bar_is_higher_where_half_are_lapped_at_one_level():
    bars = along(laid(lift(laps="half"), lift(laps="half")))
    # 1.3 laps higher at both ends, so that all are of one length.
    assert {one.bar.cut for one in bars} == {4400}
    assert sorted((one.start, one.number) for one in bars) == [(0.0, 4), (1040.0, 4)]
    highest = along(laid(lift(laps="half")))
    assert sorted(one.bar.cut for one in highest) == [2525, 3550]


def test_special_frames_lap_in_the_middle():
    ductile = {"about_x": replace(HELD, ductility="high"), "about_y": HELD}
    special = lift()
    special = replace(special, facts=replace(special.facts, **ductile))
    (bars, *_) = laid(special, special)
    # Laps from 1100 to 1900: 3600 - 1100 + 1900.
    assert (bars.start, bars.end, bars.bar.cut) == (1100.0, 5500.0, 4400)


def test_bars_are_cranked_where_the_faces_stand_back():
    smaller = lift(shape=Rectangle(width=420, depth=500))
    found = along(laid(lift(), smaller))
    straight, *cranked = sorted(found, key=lambda one: one.bar.shape)
    # The bars in the middle of the faces along y have their cover above; the others lean 40 mm.
    assert (straight.number, straight.bar.cut) == (2, 4400)
    assert sum(one.number for one in cranked) == 6
    for one in cranked:
        by = dict(one.bar.dimensions)
        assert one.bar.shape == "26"
        assert (by["A"], by["B"], by["C"], by["D"]) == (3200, 400, 800, 40)
        assert one.told == "cranked 1 in 10 below the floor above"


def test_from_75_mm_on_bars_end_and_dowels_are_lapped_with_both():
    far = lift(shape=Rectangle(width=350, depth=500))
    found = along(laid(lift(), far))
    assert sorted((one.kind, one.number, one.bar.cut) for one in found) == [
        ("bar", 2, 4400),
        ("bar", 6, 3550),
        ("dowel", 6, 1600),
    ]


def test_more_bars_below_than_above_end_below_the_floor():
    found = along(laid(lift(bars="12 D25"), lift(bars="8 D25")))
    assert sorted((one.number, one.bar.cut) for one in found) == [(4, 3550), (8, 4400)]


def test_lapped_bars_to_en_are_no_further_apart_than_8_7_2_allows():
    # Six and four bars on a circle: two stand over one another, the others are 30° apart: 174 mm.
    shape = Circle(diameter=800)
    below, above = (lift(EN_RECOMMENDED, shape, bars) for bars in ("6 D25", "4 D25"))
    found = along(laid(below, above))
    assert sorted((one.kind, one.number) for one in found) == [("bar", 2), ("bar", 4), ("dowel", 2)]
    # Of twelve and eight each has one within 15°, 61 mm: less than 50 mm clear.
    below, above = (lift(EN_RECOMMENDED, Circle(diameter=550), n) for n in ("12 D25", "8 D25"))
    assert sorted((one.kind, one.number) for one in along(laid(below, above))) == [
        ("bar", 4),
        ("bar", 8),
    ]


def test_a_spiral_is_one_helix_over_the_clear_height():
    found = laid(lift(EN_RECOMMENDED, Circle(diameter=580), "8 D25", ties="D10@75 spiral"))
    (spiral,) = [one for one in found if one.kind == "spiral"]
    # Methods, check 5: A 500, pitch 75, 3000 high: 43 turns.
    assert dict(spiral.bar.dimensions) == {"A": 500, "B": 75, "C": 43}
