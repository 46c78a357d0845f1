"""Ties, links and shear of lifts: what the cases leave out, by hand, and how it behaves."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.actions import Actions, Profile
from fexro.core.codes.aci318_19.code import ACI_IN_LB, ACI_SI
from fexro.core.codes.aci318_19.edition import SI_EDITION
from fexro.core.codes.aci318_19.shear import one_way_shear
from fexro.core.codes.en1992_1_1 import anchorage, shear
from fexro.core.codes.en1992_1_1.annex import RECOMMENDED
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.codes.transverse_checks import shear_demands
from fexro.core.errors import InputError
from fexro.core.facts import LiftDirection, Options
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.members.lift import Lift
from fexro.core.members.verdict import detail_of, message_of
from fexro.core.quantities import UnitSystem
from fexro.core.section.bars import METRIC_SIZES, parse_ties
from fexro.core.section.lapped import largest_tension
from fexro.core.section.shapes import Circle, HollowCircle, LShape, Rectangle
from fexro.core.section.shear import chord_widths, least_dimension, shear_section
from fexro.core.tie_zones import tie_count, tie_places, tie_zones
from fexro.core.transverse import Transverse
from tests.conftest import facts_of, make_column

SQUARE = Rectangle(width=400, depth=400)


def actions_of(N=1e6, Vx=0.0, Vy=0.0, between=None):
    forces = np.zeros((1, 2, 6))
    forces[..., 0], forces[..., 1], forces[..., 2] = N, Vx, Vy
    return Actions(("U1",), forces, between=between)


def checks_of(code, cross, actions, **facts):
    result = check_lift(Lift("C1", "L1", facts_of(cross, **facts), code, actions))
    return {check.name: check for check in result.findings}


# Geometry


def test_web_and_bars_in_tension_of_a_square_with_four_bars():
    # Bars at 40 + 10 + 12.5 = 62.5 mm from the faces.
    found = shear_section(make_column(SQUARE, "4 D25").section, 0)
    assert (found.width, found.depth) == (400.0, 400.0)
    assert found.effective_depth == pytest.approx(337.5)
    assert found.tension_area == pytest.approx(2 * math.pi * 25**2 / 4)


def test_the_web_of_an_l_is_its_leg():
    cross = make_column(LShape(width=600, depth=500, leg=200, stem=250), "10 D20")
    assert shear_section(cross.section, 1).width == pytest.approx(250)
    assert shear_section(cross.section, 0).width == pytest.approx(200)
    assert least_dimension(cross.section) == pytest.approx(200)


@given(place=st.floats(-290, 290))
def test_chords_of_a_tube_by_closed_form(place):
    outline = HollowCircle(diameter=600, void_diameter=300).outline()
    found = chord_widths(outline, 0, np.array([place]))[0]
    inner = math.sqrt(max(150**2 - place**2, 0))
    assert found == pytest.approx(2 * (math.sqrt(300**2 - place**2) - inner), abs=4)


def test_the_least_dimension_of_a_circle_is_its_diameter():
    cross = make_column(Circle(diameter=500), "8 D20")
    assert least_dimension(cross.section) == pytest.approx(500)


# Call-outs


@pytest.mark.parametrize(
    ("text", "end", "middle", "lap"),
    [
        ("D10@200", None, 200, None),
        ("D10@100/200", 100, 200, None),
        ("D10@100 / 200 / 75", 100, 200, 75),
        ("#4@4/8in", 101.6, 203.2, None),
    ],
)
def test_spacings_of_ties_by_zones(text, end, middle, lap):
    found = parse_ties(text)
    assert (found.end, found.spacing, found.lap) == (
        pytest.approx(end),
        pytest.approx(middle),
        pytest.approx(lap),
    )
    assert parse_ties(str(found)) == found


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("D10@60/80 spiral", "one pitch"),
        ("D10@100/200/100/50", "up to three"),
        ("D10@10/200", "20 to 1000 mm"),
    ],
)
def test_spacings_that_contradict_are_refused(text, said):
    with pytest.raises(InputError, match=said):
        parse_ties(text)


# ACI 318-19


def test_shear_by_hand_to_aci():
    # f'c 35: √ 5.916. σN = 1000/(6·160) = 1.0417; Va = (0.17·5.916 + 1.0417)·400·337.5 = 276.4 kN,
    # Vb less. Vs = 157.08·420·337.5/200 = 111.3 kN; φVn = 0.75·387.7 = 290.8 kN.
    checks = checks_of(ACI_SI, make_column(SQUARE, "4 D25"), actions_of(Vx=200e3))
    check = checks["Shear along x"]
    strength = 0.75 * ((0.17 * math.sqrt(35) + 1e6 / 960e3) * 135e3 + 157.0796 * 420 * 337.5 / 200)
    assert check.ratio == pytest.approx(200e3 / strength, rel=1e-6)
    assert check.combination == "U1"
    assert detail_of(check, UnitSystem.SI) == "200 kN along x of 291 kN"
    # 0.5·0.75·276.4 = 103.6 kN < 200: ties are needed, at d/2 = 168.75 mm.
    close = checks["Tie spacing for shear along x"]
    assert close.state is State.EXCEEDED
    assert close.ratio == pytest.approx(200 / 168.75)
    assert message_of(close, UnitSystem.SI) == (
        "Ties at 200 mm; 168.8 mm allowed for the shear along x."
    )
    # 0.062·5.916 = 0.3668 MPa: 0.3668·400·200/420 = 69.9 mm² of 157.
    least = checks["Least ties for shear along x"]
    assert least.ratio == pytest.approx(0.062 * math.sqrt(35) * 400 * 200 / 420 / 157.0796)


def test_both_directions_act_together_above_half_of_each():
    cross = make_column(SQUARE, "4 D25", ties="D10@150")
    alone = checks_of(ACI_SI, cross, actions_of(Vx=220e3))["Shear along x"].ratio
    together = checks_of(ACI_SI, cross, actions_of(Vx=220e3, Vy=210e3))
    assert alone > 0.5
    assert together["Shear in both directions"].ratio == pytest.approx(
        alone * (1 + 210 / 220) / 1.5
    )


def test_shear_of_a_circle_is_that_of_the_resultant():
    cross = make_column(Circle(diameter=500), "8 D25")
    along = checks_of(ACI_SI, cross, actions_of(Vx=150e3))["Shear"].ratio
    both = checks_of(ACI_SI, cross, actions_of(Vx=90e3, Vy=-120e3))["Shear"].ratio
    assert both == pytest.approx(along)


def test_without_shear_forces_shear_is_not_checked():
    check = checks_of(ACI_SI, make_column(SQUARE, "4 D25"), actions_of())["Shear"]
    assert check.state is State.ATTENTION
    assert check.assumption
    assert message_of(check, UnitSystem.SI) == "no shear forces are given; shear is not checked."


def test_ties_at_their_limit_are_at_one():
    # 16 · 12 = 192 mm governs over 48 · 10 and 400.
    checks = checks_of(ACI_SI, make_column(SQUARE, "8 D12", ties="D10@192"), actions_of())
    assert checks["Tie spacing"].ratio == pytest.approx(1.0)
    assert checks["Tie spacing"].state is State.SATISFIED
    wider = checks_of(ACI_SI, make_column(SQUARE, "8 D12", ties="D10@193"), actions_of())
    assert wider["Tie spacing"].state is State.EXCEEDED


@pytest.mark.parametrize(
    ("bars", "ties", "state"),
    [
        ("4 D32", "D10@200", State.SATISFIED),
        ("4 D36", "D10@200", State.EXCEEDED),
        ("4 D36", "D14@200", State.SATISFIED),
    ],
)
def test_large_bars_need_larger_ties(bars, ties, state):
    checks = checks_of(ACI_SI, make_column(SQUARE, bars, ties=ties), actions_of())
    assert checks["Tie size"].state is state


def test_spiral_by_hand():
    # D 500, cover 40: Dch 420, Ach 138 544, Ag 196 350. ρs = π·410·78.54/(138 544·50) = 0.01460;
    # least 0.45·(1.4172 − 1)·35/420 = 0.01565.
    cross = make_column(Circle(diameter=500), "8 D25", ties="D10@50 spiral")
    checks = checks_of(ACI_SI, cross, actions_of())
    assert checks["Spiral ratio"].ratio == pytest.approx(0.015646 / 0.014604, rel=1e-3)
    assert checks["Spiral ratio"].state is State.EXCEEDED
    assert checks["Clear pitch"].state is State.SATISFIED
    assert "Tie spacing" not in checks


def test_in_lb_ties_by_hand():
    # 16 · 1.0 in = 16 in, 48 · 0.375 = 18 in, 16 in wide: 12 in of 16.
    cross = make_column(Rectangle(width=406.4, depth=508), "8 #8", ties="#3@12in")
    checks = checks_of(ACI_IN_LB, cross, actions_of())
    assert checks["Tie spacing"].ratio == pytest.approx(12 / 16)
    assert detail_of(checks["Tie spacing"], UnitSystem.IN_LB) == "12 in ≤ 16 in"


@settings(max_examples=40)
@given(
    spacing=st.floats(40, 400),
    closer=st.floats(0.3, 0.999),
    axial=st.floats(-5e5, 4e6),
)
def test_closer_ties_are_never_weaker(spacing, closer, axial):
    cross = make_column(SQUARE, "8 D20")
    found = []
    for s in (spacing, spacing * closer):
        ties = Transverse("ties", METRIC_SIZES["D10"], 420.0, s)
        demand = (axial, 1e5, s)
        found.append(one_way_shear(None, SI_EDITION, cross, ties, 0, demand).strength)
        web = shear.shear_web(cross, 0)
        given = (shear.ShearOptions(), cross, ties, 0, web, demand)
        found.append(shear.shear(None, RECOMMENDED, *given).resistance)
    assert found[2] >= found[0] * (1 - 1e-12)
    assert found[3] >= found[1] * (1 - 1e-12)


# EN 1992-1-1


@pytest.mark.parametrize(("cot", "links", "struts"), [(1.0, 107.5, 665), (2.5, 268.8, 459)])
def test_shear_by_hand_to_en(cot, links, struts):
    # 400 × 400, d 350, z 315, 4 φ20 in tension, C30, NEd 1000 kN, 2 φ10 at 200.
    cross = make_column(SQUARE, "8 D20", concrete=30.0, steel=500.0)
    ties = Transverse("ties", METRIC_SIZES["D10"], 500.0, 200.0)
    web = shear.ShearWeb(400.0, 350.0, 315.0, 4 * math.pi * 100)
    options = shear.ShearOptions("given slope", cot)
    found = shear.shear(None, RECOMMENDED, options, cross, ties, 0, web, (1e6, 1e5, 200.0))
    assert found.size_factor == pytest.approx(1.756, abs=5e-4)
    assert float(found.axial_limited) == pytest.approx(4.0)
    assert float(found.concrete) / 1e3 == pytest.approx(172.4, abs=0.05)
    # The sheet counts the legs as 157 mm².
    assert float(found.links) / 1e3 == pytest.approx(links, rel=1e-3)
    assert float(found.struts) / 1e3 == pytest.approx(struts, abs=0.5)


def test_bond_and_laps_by_hand_to_en():
    # C30, φ20, B500, good bond: fbd 3.04, lb,rqd 715; with α6 1.5 and the others one, l0 1072.
    cross = make_column(SQUARE, "8 D20", concrete=30.0, steel=500.0)
    bars = anchorage.Lapped(20.0, 500 / 1.15, 40.0, 20.0, 20.0, 0.0, 0.0, 100.0)
    lap = anchorage.lap(None, RECOMMENDED, cross, bars, 100.0)
    assert lap.bond.strength == pytest.approx(3.04, abs=5e-3)
    assert lap.basic == pytest.approx(715, abs=0.5)
    assert lap.length == pytest.approx(1072, abs=0.5)


def test_links_are_closer_next_to_joints_and_at_laps():
    # 20·16 = 320 mm; 0.6 of it, 192 mm, at the ends and for bars beyond 14 mm at laps.
    cross = make_column(SQUARE, "8 D16", steel=500.0, ties="D8@200")
    check = checks_of(EN_RECOMMENDED, cross, actions_of())["Link spacing"]
    assert check.ratio == pytest.approx(200 / 192)
    assert message_of(check, UnitSystem.SI) == (
        "Links at 200 mm next to the joints; 192 mm allowed."
    )
    zoned = make_column(SQUARE, "8 D16", steel=500.0, ties="D8@190/300/200")
    unlapped = checks_of(EN_RECOMMENDED, zoned, actions_of())["Link spacing"]
    assert unlapped.ratio == pytest.approx(190 / 192)
    lapped = checks_of(EN_RECOMMENDED, zoned, actions_of(), laps="one level")["Link spacing"]
    assert lapped.ratio == pytest.approx(200 / 192)


def test_choices_of_shear_to_en_count():
    # Little axial force and wide links, so that concrete alone does not do.
    cross = make_column(SQUARE, "8 D20", concrete=30.0, steel=500.0, ties="D8@150")

    def check(Vy=0.0, **options):
        given = checks_of(
            EN_RECOMMENDED, cross, actions_of(1e5, 140e3, Vy), options=Options(options)
        )
        return next(one for name, one in given.items() if name.startswith("Shear"))

    best = check().ratio
    assert check(struts="given slope", cot_theta=1.0).ratio > best
    # z stands in links and struts alike.
    assert check(lever_arm=0.72).ratio == pytest.approx(best / 0.8)
    across = check(140e3).ratio
    assert check(140e3, biaxial="linear").ratio == pytest.approx(2 * best, rel=1e-6)
    assert across == pytest.approx(max(2 * best**2, best), rel=1e-6)


# Along the lift


def test_shear_between_the_ends_meets_the_ties_that_are_there():
    places = np.array([0.0, 0.1, 0.5, 0.9, 1.0])
    forces = np.zeros((1, 5, 6))
    forces[0, :, 1] = [100e3, 80e3, 0.0, -80e3, -100e3]
    demands = shear_demands(actions_of(between=Profile(places, forces)), 0.15)
    assert demands.zones == ("end", "end", "middle", "end", "end")
    assert demands.along[0].tolist() == [100e3, 80e3, 0.0, 80e3, 100e3]
    # Nothing in between: as large in the middle as at the ends.
    assert shear_demands(actions_of(Vx=1.0), 0.15).zones == ("middle", "middle")


def test_a_load_along_the_lift_uses_the_close_ties_of_its_ends():
    places = np.array([0.0, 0.5, 1.0])
    forces = np.zeros((1, 3, 6))
    forces[..., 0], forces[0, :, 1] = 1e6, [250e3, 0.0, -250e3]
    lift = LiftDirection(storey=4000.0, clear=3600.0, sway="braced", factor=0.5)
    cross = make_column(SQUARE, "4 D25", ties="D10@100/200")
    given = {"about_x": lift, "about_y": lift}
    between = actions_of(Vx=250e3, between=Profile(places, forces))
    along = checks_of(ACI_SI, cross, between, **given)["Shear along x"].ratio
    even = checks_of(ACI_SI, cross, actions_of(Vx=250e3), **given)["Shear along x"].ratio
    assert along < even


def test_ties_of_a_lift_are_counted_by_hand():
    # Clear 3000, 600 at 100 at both ends, 200 between, the first at 50: 6 + 9 + 6 spaces, 22 sets.
    ties = Transverse("ties", METRIC_SIZES["D10"], 420.0, 200.0, end=100.0)
    zones = tie_zones(ties, 3000.0, 600.0)
    assert [zone.spaces for zone in zones] == [6, 9, 6]
    assert tie_count(zones) == 22
    places = tie_places(zones)
    assert len(places) == 22
    assert (places[0], places[-1]) == (50.0, 2950.0)
    assert {600.0, 2400.0} <= set(places)


def test_laps_beyond_the_end_zone_have_their_own_ties():
    ties = Transverse("ties", METRIC_SIZES["D10"], 420.0, 200.0, end=100.0, lap=75.0, first=37.5)
    zones = tie_zones(ties, 3000.0, 600.0, laps=(0.0, 900.0))
    assert [(zone.end, zone.called) for zone in zones] == [
        (900.0, 75.0),
        (2400.0, 200.0),
        (2962.5, 100.0),
    ]


@settings(max_examples=60)
@given(
    clear=st.floats(400, 12_000),
    end=st.floats(0, 3000),
    spacings=st.tuples(*[st.floats(25, 400)] * 3),
    low=st.floats(0, 2500),
    lap=st.floats(0, 2500),
)
def test_no_two_ties_are_further_apart_than_called_out(clear, end, spacings, low, lap):
    ties = Transverse("ties", METRIC_SIZES["D10"], 420.0, *spacings)
    zones = tie_zones(ties, clear, end, (low, low + lap))
    places = tie_places(zones)
    assert len(places) == tie_count(zones)
    gaps = np.diff(places)
    assert (gaps > 0).all()
    for gap, place in zip(gaps, (places[:-1] + places[1:]) / 2, strict=True):
        allowed = next(zone.called for zone in zones if zone.start <= place <= zone.end)
        assert gap <= allowed * (1 + 1e-6)
    assert places[0] <= max(min(ties.at_ends / 2, 50), 0) + 1e-6


# Laps


def bending(N, My):
    return Actions.of_axial_bending(("U1",), np.array([[[N, 0.0, My]] * 2]))


def test_tension_at_the_edge_of_a_rectangle_by_closed_form():
    section = make_column(Rectangle(width=400, depth=600), "8 D20").section
    demands = np.array([[1e6, 0, 0], [1e6, 9e7, 0], [1e6, 0, 8e7], [0, 9e7, 8e7], [-1e5, 0, 0]])
    M_x, M_y = np.abs(demands[:, 1:]).T
    stress = demands[:, 0] / 240e3 - M_x / (400 * 600**2 / 6) - M_y / (600 * 400**2 / 6)
    np.testing.assert_allclose(largest_tension(section, demands), -stress, atol=1e-9)


@pytest.mark.parametrize(
    ("moment", "kind", "lap"),
    [
        # ld = 420/(1.1·5.916·2.5)·25 = 645.4 mm, class B 1.3 of it.
        (1.5e8, "tension, class B", 839),
        # 0.071·420·25 = 745.5 mm; legs of 157 mm² beyond 0.0015·400·200 = 120: 0.83 of it.
        (1e6, "compression", 618.8),
    ],
)
def test_laps_by_hand_to_aci(moment, kind, lap):
    cross = make_column(SQUARE, "4 D25")
    checks = checks_of(ACI_SI, cross, bending(2e6, moment), laps="one level")
    assert detail_of(checks["Lap length"], UnitSystem.SI) == f"{lap} mm, {kind}"


def test_laps_longer_than_the_lift_are_exceeded():
    checks = checks_of(ACI_SI, make_column(SQUARE, "4 D25"), bending(1e6, 1.5e8), laps="half")
    check = checks["Lap length"]
    assert check.state is State.EXCEEDED
    assert message_of(check, UnitSystem.SI).endswith("do not fit the clear height of 600 mm.")


def test_without_laps_nothing_is_said_of_them():
    checks = checks_of(ACI_SI, make_column(SQUARE, "4 D25"), bending(1e6, 1e8))
    assert "Lap length" not in checks


def test_laps_by_hand_to_en():
    # C30, φ20, cover 48 to the bar: α2 = 1 − 0.15·28/20 = 0.79; l0 = 0.79·1.5·714.8 = 847 mm.
    cross = make_column(SQUARE, "4 D20", concrete=30.0, steel=500.0, ties="D8@100/200")
    lift = LiftDirection(storey=4000.0, clear=3600.0, sway="braced", factor=0.5)
    given = {"about_x": lift, "about_y": lift, "laps": "one level"}
    checks = checks_of(EN_RECOMMENDED, cross, bending(5e5, 1e8), **given)
    assert detail_of(checks["Lap length"], UnitSystem.SI) == "847 mm, tension"
    # Half of 314 mm² in each third of 282 mm: 4 links of 50.3 mm²; at 100 mm there are 3.
    links = checks["Links across laps"]
    assert links.state is State.EXCEEDED
    assert links.ratio == pytest.approx(4 / 3)
    close = make_column(SQUARE, "4 D20", concrete=30.0, steel=500.0, ties="D8@100/200/75")
    assert (
        checks_of(EN_RECOMMENDED, close, bending(5e5, 1e8), **given)["Links across laps"].state
        is State.SATISFIED
    )


def test_large_bars_are_not_lapped_to_aci_and_told_of_to_en():
    big = make_column(Rectangle(width=700, depth=700), "8 D40", steel=500.0, ties="D14@150")
    aci = checks_of(ACI_SI, big, bending(1e6, 5e8), laps="one level")
    assert aci["Large bars lapped"].state is State.EXCEEDED
    en = checks_of(EN_RECOMMENDED, big, bending(1e6, 5e8), laps="one level")
    assert en["Large bars lapped"].assumption


@pytest.mark.parametrize(("share", "kind"), [(0.49, "A"), (0.51, "B")])
def test_the_class_of_half_laps_goes_by_the_stress_of_the_bars(share, kind):
    # In pure tension the bars carry all of it: N over As of 4 D25, against half of 420 MPa.
    N = -share * 420 * 4 * math.pi * 25**2 / 4
    cross = make_column(SQUARE, "4 D25")
    found = checks_of(ACI_SI, cross, bending(N, 0.0), laps="half")["Lap length"]
    assert f"class {kind}" in detail_of(found, UnitSystem.SI)
    at_once = checks_of(ACI_SI, cross, bending(N, 0.0), laps="one level")["Lap length"]
    assert at_once.values["lap"].value >= found.values["lap"].value


@pytest.mark.parametrize(
    ("code", "spacing", "name"),
    # 16 db of D20 is 320 mm; 0.6 of the lesser of 20 φ and 400 mm is 240 mm.
    [(ACI_SI, 320, "Tie spacing"), (EN_RECOMMENDED, 240, "Link spacing")],
)
def test_at_the_largest_spacing_the_ratio_is_one(code, spacing, name):
    check = checks_of(code, make_column(SQUARE, "8 D20", ties=f"D10@{spacing}"), actions_of())
    assert check[name].ratio == pytest.approx(1.0, abs=1e-12)
    assert check[name].state is not State.EXCEEDED
    over = make_column(SQUARE, "8 D20", ties=f"D10@{spacing + 1}")
    assert checks_of(code, over, actions_of())[name].state is State.EXCEEDED
