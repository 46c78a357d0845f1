"""Bent bars and their cutting: what is refused, and plans against bounds and a second way."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.bending import cutting
from fexro.core.bending.centreline import cross_tie, rectangular_tie
from fexro.core.bending.cutting import cutting_plan
from fexro.core.bending.masses import mass_per_length
from fexro.core.bending.shapes import SHAPES, inside_radius, scheduled_length, shape_length
from fexro.core.codes.aci318_19.edition import SI_EDITION
from fexro.core.codes.aci318_19.hooks import tie_hook
from fexro.core.codes.en1992_1_1.hooks import link_hook
from fexro.core.errors import InputError
from fexro.core.section.bars import BarSize, bar_size

DEMANDS = st.dictionaries(st.sampled_from(range(600, 6001, 25)), st.integers(1, 9), max_size=4)


def bought(demand, stock):
    """Return the number of bars that first-fit-decreasing takes."""
    bars = []
    for length in sorted((one for one in demand for _ in range(demand[one])), reverse=True):
        for bar in bars:
            if sum(bar) + length <= stock:
                bar.append(length)
                break
        else:
            bars.append([length])
    return len(bars)


@settings(max_examples=40, deadline=None)
@given(DEMANDS)
def test_a_plan_takes_no_more_than_first_fit_and_no_less_than_the_pieces(demand):
    plan = cutting_plan(demand, [12_000])
    assert plan.proved
    taken = sum(length * count for length, count in demand.items())
    assert math.ceil(taken / 12_000) <= len(plan.bars) <= bought(demand, 12_000)
    assert plan.bought - plan.waste == pytest.approx(taken)


@pytest.mark.parametrize("stock", [[12_000], [6_000, 9_000, 12_000]])
def test_patterns_found_one_by_one_do_as_well_as_all_of_them(monkeypatch, stock):
    demand = {1525: 22, 3425: 7, 4100: 9, 2550: 8}
    exact = cutting_plan(demand, stock)
    monkeypatch.setattr(cutting, "LISTED", 0)
    found = cutting_plan(demand, stock)
    assert exact.proved
    assert found.bought == exact.bought


def test_many_lengths_of_a_building_have_a_plan_that_is_proved():
    demand = {900 + 175 * index: 10 + index % 7 for index in range(24)}
    plan = cutting_plan(demand, [12_000])
    assert plan.proved
    for length, count in demand.items():
        assert sum(bar.cuts.count(length) for bar in plan.bars) == count
    assert all(sum(bar.cuts) <= 12_000 for bar in plan.bars)


def test_a_piece_longer_than_the_stock_is_refused():
    with pytest.raises(InputError, match=r"12500 mm.*12000 mm"):
        cutting_plan({12_500: 1}, [6_000, 12_000])
    assert cutting_plan({}, [12_000]).bars == ()


def test_shapes_refuse_what_they_have_no_dimension_for():
    with pytest.raises(InputError, match="99 with a sketch"):
        shape_length("64", 10, {})
    with pytest.raises(InputError, match="shape 21, C: found none"):
        shape_length("21", 10, {"A": 300, "B": 200})
    with pytest.raises(InputError, match="shape 11, B: found 0"):
        shape_length("11", 10, {"A": 300, "B": 0})


def test_every_shape_grows_by_its_free_dimension():
    for shape in SHAPES.values():
        if shape.free is None:
            continue
        short = dict.fromkeys(shape.letters, 400.0)
        longer = {**short, shape.free: 500.0}
        grown = shape_length(shape.code, 12, longer)[0] - shape_length(shape.code, 12, short)[0]
        assert grown == pytest.approx(200.0 if shape.code in ("47", "51", "63") else 100.0)


def test_lengths_by_hand():
    # 2 (340 + 340) - 0.44 x 10 + 2 x 75, and shape 51 with ends of 130.
    hook = tie_hook(10.0, 135, SI_EDITION)
    exact = rectangular_tie(10, 340, 340, hook, math.radians(135))
    assert exact == pytest.approx(1505.6, abs=0.05)
    assert scheduled_length(exact) == 1525
    assert scheduled_length(1525.0) == 1525
    assert shape_length("51", 10, {"A": 340, "B": 340, "C": 130})[0] == 1520
    # A turn steeper than a fifth of its diameter: 4 x root of ((pi 90)^2 + 30^2).
    steep = shape_length("77", 10, {"A": 100, "B": 30, "C": 4})[0]
    assert steep == pytest.approx(4 * math.hypot(math.pi * 90, 30))
    ends = ((hook, math.radians(135)), (tie_hook(10.0, 90, SI_EDITION), math.radians(90)))
    assert cross_tie(10, 520, ends) == pytest.approx(
        520 - 2 * 30 + 1.25 * math.pi * 25 + 150, abs=1e-6
    )


def test_hooks_by_hand():
    # 25.3.2: 4 db and 6 db inside, 12 db for a No. 19 bent by 90°; EN: 7 diameters from 20 mm on.
    found = [tie_hook(19.1, angle, SI_EDITION) for angle in (90, 135, 180)]
    assert [hook.radius for hook in found] == pytest.approx([57.3] * 3)
    assert [hook.straight for hook in found] == pytest.approx([229.2, 114.6, 76.4])
    assert tie_hook(10.0, 180, SI_EDITION).straight == 65
    assert [link_hook(8, 90).straight, link_hook(8, 135).straight] == [80, 50]
    assert link_hook(20, 135).radius == 70
    assert [inside_radius(d) for d in (6.0, 16.0, 18.0, 20.0, 25.0)] == [12, 32, 63, 70, 87]


def test_masses_are_those_of_the_standards():
    masses = {"D6": 0.222, "D14": 1.208, "D28": 4.834, "D40": 9.865, "#36M": 7.907}
    assert {name: mass_per_length(bar_size(name)) for name in masses} == masses
    assert mass_per_length(bar_size("#5")) == pytest.approx(1.552, abs=5e-4)
    assert mass_per_length(BarSize("20M", 19.5, 300.0)) == 2.355
