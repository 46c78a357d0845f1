"""Ties inside sections: which bars they hold, by two codes' rules, and their legs."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.codes.aci318_19.code import ACI_IN_LB, ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.facts import CrossSection
from fexro.core.findings import State
from fexro.core.materials import Concrete, ReinforcingSteel, StructuralSteel
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.text import plain_text
from fexro.core.section.areas import EmbeddedSteel
from fexro.core.section.bars import parse_ties
from fexro.core.section.call_out import parse_call_out
from fexro.core.section.layout import build_section
from fexro.core.section.profiles import IProfile
from fexro.core.section.section import Section
from fexro.core.section.shapes import (
    Circle,
    HollowRectangle,
    LShape,
    Octagon,
    Plus,
    Rectangle,
    TShape,
)
from fexro.core.section.ties import arrange
from tests.conftest import findings_of

TIES = parse_ties("D10@200")
ACI, EN = ACI_SI.held, EN_RECOMMENDED.held


def section(shape, bars, ties=TIES, steel=()):
    return build_section(shape, 40.0, parse_call_out(bars), ties, steel=steel)


def by_hand(made, ties, count=None):
    numbers = (len(made.bars) if count is None else count, tuple(ties))
    return Section(**{**vars_of(made), "inner_ties": numbers})


def vars_of(made):
    return {name: getattr(made, name) for name in made.__dataclass_fields__}


def test_four_bars_need_no_tie_inside():
    found = arrange(section(Rectangle(400, 400), "4 D25"), ACI)
    assert found.inner == ()
    assert found.held.all()
    assert found.legs == pytest.approx((2, 2))


def test_one_bar_in_each_face_of_a_square_is_held_by_a_diamond():
    found = arrange(section(Rectangle(500, 500), "8 D25"), ACI)
    (diamond,) = found.inner
    assert len(diamond) == 4
    assert found.held.all()
    # Two legs of the outer tie and two of the diamond at 45°.
    assert found.legs == pytest.approx((2 + math.sqrt(2), 2 + math.sqrt(2)))


def test_two_bars_in_each_face_are_held_by_hoops():
    found = arrange(section(Rectangle(500, 700), "12 D25"), ACI)
    assert sorted(len(tie) for tie in found.inner) == [4, 4]
    assert found.legs == pytest.approx((4, 4))
    assert found.held.all()


def test_alternate_bars_need_not_be_held_where_they_are_near():
    # 16 bars in 700 × 700: clear 115 mm apart, so every second is enough; with 600 × 900 the
    # clear distance on the long faces is less than 150 mm too.
    found = arrange(section(Rectangle(700, 700), "16 D28"), ACI)
    assert len(found.unheld) == 8
    assert all(not one.reasons for one in found.unheld)
    one = found.unheld[0]
    spacing = (700 - 2 * (50 + 14)) / 4
    assert (one.before, one.after) == pytest.approx((spacing - 28, spacing - 28))


def test_the_rule_of_en_looks_at_the_nearer_held_bar_between_centres():
    made = section(Rectangle(500, 700), "12 D25")
    found = arrange(made, EN)
    # 125 mm between centres on the short faces: both intermediate bars are near a corner.
    assert {one.bar for one in found.unheld} == {i for i in range(12) if abs(made.bars.x[i]) < 100}
    assert all(one.nearer == pytest.approx(125) for one in found.unheld)
    assert found.legs == pytest.approx((4, 2))


def test_the_inch_edition_allows_six_inches():
    assert ACI_IN_LB.held.distance == pytest.approx(152.4)
    assert ACI_SI.held.distance == 150


@pytest.mark.parametrize(
    ("shape", "bars"),
    [
        (LShape(600, 600, 250), "14 D20"),
        (TShape(900, 800, 250, 300), "18 D20"),
        (Plus(900, 900, 300, 300), "24 D20"),
        (Octagon(700), "16 D20"),
        (Rectangle(250, 900), "12 D20"),
        (HollowRectangle(1000, 800, 200), "20 D20 + 20 D16 inner face"),
    ],
    ids=["L", "T", "plus", "octagon", "thin", "hollow"],
)
@pytest.mark.parametrize("rule", [ACI, EN], ids=["ACI", "EN"])
def test_what_the_rule_lays_out_meets_it(shape, bars, rule):
    made = section(shape, bars)
    found = arrange(made, rule)
    assert not [one for one in found.unheld if one.reasons]
    polygon = made.outline.polygon
    import shapely

    for line in found.lines[1:]:
        assert polygon.covers(shapely.LineString(line))


@given(
    st.integers(250, 1200), st.integers(250, 1200), st.integers(2, 14), st.sampled_from([ACI, EN])
)
@settings(max_examples=60, deadline=None)
def test_rectangles_of_any_size_are_laid_out_by_the_rule(width, depth, pairs, rule):
    from fexro.core.errors import InputError

    try:
        made = section(Rectangle(width, depth), f"{2 * pairs} D16")
    except InputError:
        return
    found = arrange(made, rule)
    assert not [one for one in found.unheld if one.reasons]
    assert found.legs[0] >= 2 - 1e-9


def test_ties_do_not_go_through_steel_or_a_void():
    steel = (EmbeddedSteel(IProfile(240, 240, 10, 17), StructuralSteel("S355", 355.0)),)
    found = arrange(section(Rectangle(500, 500), "8 D25", steel=steel), ACI)
    assert found.inner == ()
    assert {one.reasons for one in found.unheld} == {("distance",)}
    hollow = arrange(section(HollowRectangle(1000, 800, 200), "20 D25"), ACI)
    assert [one for one in hollow.unheld if "distance" in one.reasons]


def test_ties_placed_by_hand_are_kept_and_judged():
    made = section(Rectangle(500, 500), "8 D25")
    none = arrange(by_hand(made, ()), ACI)
    assert none.by_hand
    assert [one.bar for one in none.unheld] == [4, 5, 6, 7]
    # 250 − 62.5 = 187.5 mm between centres, less two halves of 25 mm.
    assert none.unheld[0].nearer == pytest.approx(162.5)
    assert none.unheld[0].reasons == ("distance",)
    opposite = next(i for i in (5, 6, 7) if made.bars.x[i] == pytest.approx(made.bars.x[4], abs=1))
    one = arrange(by_hand(made, ((4, opposite),)), ACI)
    assert [u.bar for u in one.unheld if u.reasons] == [i for i in (5, 6, 7) if i != opposite]
    stale = arrange(by_hand(made, ((0, 1),), count=10), ACI)
    assert stale.stale
    assert stale.inner == ()


def test_a_corner_of_more_than_135_degrees_holds_nothing():
    made = section(Rectangle(900, 900), "4 D25 corners + 5 D20 each face")
    top = [i for i in range(len(made.bars)) if made.bars.y[i] > 350 and abs(made.bars.x[i]) < 300]
    low = [i for i in range(len(made.bars)) if made.bars.y[i] < -350 and abs(made.bars.x[i]) < 300]
    left, middle, right = (
        min(top, key=lambda i, x=x: abs(made.bars.x[i] - x)) for x in (-130, 0, 130)
    )
    foot = min(low, key=lambda i: abs(made.bars.x[i]))
    found = arrange(by_hand(made, ((foot, right, middle, left),)), ACI)
    assert found.held[[foot, right, left]].all()
    # The tie runs straight along the face at the bar between.
    assert not found.held[middle]


def test_round_sections_and_spirals_hold_their_bars():
    for made in (
        section(Circle(600), "8 D25"),
        section(Rectangle(600, 600), "8 D25 ring", parse_ties("D10@60 spiral")),
    ):
        assert arrange(made, ACI).inner == ()
    assert arrange(section(Circle(600), "8 D25"), ACI).unheld == ()


def finding(made, code=ACI_SI):
    cross = CrossSection(made, Concrete("C30", 30.0), ReinforcingSteel("G420", 420.0))
    return next(f for f in findings_of(code, cross) if f.short == "held bars")


def test_what_is_found_of_held_bars():
    made = section(Rectangle(500, 500), "8 D25")
    good = finding(made)
    assert (good.state, good.clause) == (State.SATISFIED, "25.7.2.3")
    bad = finding(by_hand(made, ()))
    assert bad.state is State.EXCEEDED
    assert bad.values["distance"].value == pytest.approx(162.5)
    text = plain_text(bad.derive(), UnitSystem.SI)
    assert "Bar 5: 162.5 mm and 162.5 mm to held bars; it is too far from a held bar." in text
    assert finding(by_hand(made, (), count=9)).state is State.NOT_CHECKED
    assert finding(made, EN_RECOMMENDED).clause == "9.5.3(6)"
    layered = finding(section(Rectangle(700, 700), "12 D25 + 4 D20 second layer"))
    assert "4 inside the outer layer not looked at" in layered.detail
    assert np.isnan(layered.ratio)
