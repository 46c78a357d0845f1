"""Slenderness: limits, hand calculations, properties that any code must have."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fexro.core.actions import Actions, Profile
from fexro.core.codes.aci318_19 import slenderness as aci
from fexro.core.codes.aci318_19.code import ACI_IN_LB, ACI_SI
from fexro.core.codes.aci318_19.second_order import chart_factor
from fexro.core.codes.en1992_1_1 import creep, imperfections
from fexro.core.codes.en1992_1_1 import slenderness as en
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.facts import (
    ColumnFacts,
    CriticalLoads,
    End,
    LiftDirection,
    Options,
    StoreyDrift,
    StoreyFacts,
)
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.members.lift import Lift, PreparedLift
from fexro.core.members.verdict import message_of, verdict_of
from fexro.core.quantities import UnitSystem
from fexro.core.section.shapes import Circle, LShape, Rectangle
from tests.conftest import STOCKY, make_column

CODES = [ACI_SI, EN_RECOMMENDED]
RECTANGLE = make_column(Rectangle(width=400, depth=500), "8 D25")


def direction(length=4000.0, factor=1.0, **more):
    known = {"storey": length, "clear": length, "factor": factor, "sway": "braced"}
    return LiftDirection(**{**known, **more})


def actions_of(axial, top, bottom, about=0, sway=None, lasting=0.6):
    """One combination: N and moments about one axis at top and bottom, N and N·mm."""
    forces = np.zeros((1, 2, 6))
    forces[..., 0] = axial
    forces[0, :, 4 + about] = [top, bottom]
    part = np.zeros((2, 1, 2, 6))
    if sway is not None:
        part[1 - about, 0, :, 4 + about] = sway
    return Actions(
        ("U",),
        forces,
        sustained=lasting * forces,
        sway=part,
        quasi_permanent=lasting * forces[0],
    )


def lift_of(code, actions, section=RECTANGLE, storey=None, options=None, **directions):
    found = {"about_x": STOCKY, "about_y": STOCKY, **directions}
    facts = ColumnFacts(section, 20.0, options=Options(options or {}), **found)
    return Lift("C", "L", facts, code, actions, storey)


def prepared(code, actions, **more):
    return PreparedLift.of(lift_of(code, actions, **more))


def storey_of(axial, drift=None, critical=None, plan=0):
    drifts = [None, None]
    drifts[plan] = drift
    loads = None if critical is None else (lambda: CriticalLoads(np.full((2, 1), critical)))
    return StoreyFacts(
        "L", 1, ("U",), np.array([axial]), np.zeros((1, 2)), tuple(drifts), find_critical=loads
    )


# The charts


@pytest.mark.parametrize(
    ("top", "bottom", "braced", "sway"),
    [
        # Of fixed and pinned ends, by Euler; the braced fixed–pinned by tan x = x.
        (0.0, 0.0, 0.5, 1.0),
        (math.inf, math.inf, 1.0, math.inf),
        (0.0, math.inf, math.pi / 4.493409457909064, 2.0),
    ],
)
def test_the_charts_reach_their_limits(top, bottom, braced, sway):
    assert chart_factor(top, bottom, sway=False) == pytest.approx(braced, rel=1e-6)
    assert chart_factor(top, bottom, sway=True) == pytest.approx(sway, rel=1e-6)


ENDS = st.floats(0.0, 50.0)


@given(ENDS, ENDS, st.booleans())
def test_the_charts_are_symmetric_and_bounded(a, b, sway):
    factor = chart_factor(a, b, sway=sway)
    assert factor == pytest.approx(chart_factor(b, a, sway=sway), rel=1e-9)
    assert (factor >= 1 - 1e-9) if sway else (0.5 - 1e-6 <= factor <= 1)


@given(ENDS, ENDS, st.floats(0.01, 5.0), st.booleans())
def test_a_softer_end_is_never_shorter(a, b, more, sway):
    assert chart_factor(a + more, b, sway=sway) >= chart_factor(a, b, sway=sway) - 1e-12


def test_effective_lengths_of_en_by_hand():
    # k = 0.1 at both ends, the stiffest: 0.5 l (1 + 0.1/0.55).
    assert en.braced_length(1.0, 0.1, 0.1) == pytest.approx(0.5 * (1 + 0.1 / 0.55))
    assert en.isolated_sway_length(1.0, 0.1, 0.1) == pytest.approx(math.sqrt(1.5), rel=1e-12)
    # A cantilever: one end free, one fixed, 2 · (1 + 0.1/1.1).
    assert en.isolated_sway_length(1.0, 1e12, 0.1) == pytest.approx(2 * (1 + 0.1 / 1.1), rel=1e-9)


# Hand calculations


def test_magnification_of_aci_by_hand():
    """400 × 500 bending about x over 500: N 1500 kN, equal single curvature of 100 kN·m."""
    section = RECTANGLE.section
    found = prepared(
        ACI_SI,
        actions_of(1.5e6, 1e8, 1e8),
        about_x=direction(6000.0),
        options={"EI": "a"},
    )
    axis = found.second_order.axes[0]
    E_c, I_g = 4700 * math.sqrt(35), 400 * 500**3 / 12
    P_c = math.pi**2 * 0.4 * E_c * I_g / 1.6 / 6000**2
    delta = 1 / (1 - 1.5e6 / (0.75 * P_c))
    assert axis.value("slenderness", 0) == pytest.approx(6000 / (500 / math.sqrt(12)))
    assert axis.value("limit", 0) == pytest.approx(34 - 12)
    assert axis.value("Pc", 0) == pytest.approx(P_c)
    assert axis.moment[0] == pytest.approx(delta * 1e8)
    assert section.outline.area == 200_000
    # 15 + 0.03 · 500 = 30 mm is 45 kN·m: less than M2.
    assert axis.value("M2_min", 0) == pytest.approx(45e6)
    assert found.demands.places == ("top", "bottom", "pair")


def test_the_least_moment_differs_between_the_unit_editions():
    for code, least in ((ACI_SI, 15.0), (ACI_IN_LB, 0.6 * 25.4)):
        axis = prepared(code, actions_of(1e6, 0, 0), about_x=direction(9000.0)).second_order.axes[0]
        assert axis.value("M2_min", 0) == pytest.approx(1e6 * (least + 15))


def test_a_stocky_lift_is_not_magnified():
    for code in CODES:
        found = prepared(code, actions_of(1e6, 1e8, -5e7), about_x=direction(600.0))
        axis = found.second_order.axes[0]
        assert not axis.any_slender
        assert abs(axis.ends[0, 0]) == 1e8


def test_sway_by_the_index_and_by_the_loads():
    """Q = ΣPu Δ / (V h) = 30 MN · 8 mm / (1 MN · 4 m) = 0.06; δs = 1 / 0.94."""
    swaying = direction(4000.0, 1.0, factor_sway=2.0, sway="by rule", plan=1)
    actions = actions_of(1.5e6, 1e8, -1e8, sway=[1e8, -1e8])
    drift = StoreyDrift(8.0, 1e6, 4000.0)
    storey = storey_of(30e6, drift, 400e6, plan=1)
    axis = prepared(ACI_SI, actions, about_x=swaying, storey=storey).second_order.axes[0]
    assert not axis.braced
    assert axis.reason == "Q = 0.060 > 0.05"
    assert axis.value("delta_s", 0) == pytest.approx(1 / 0.94)
    assert axis.ends[0] == pytest.approx([1e8 / 0.94, -1e8 / 0.94])
    by_loads = prepared(
        ACI_SI, actions, about_x=swaying, storey=storey, options={"magnifier": "ΣP"}
    )
    found = by_loads.second_order.axes[0]
    assert found.value("delta_s", 0) == pytest.approx(1 / (1 - 30 / (0.75 * 400)))
    # A little stiffer, and the storey does not sway: Q = 0.05.
    stiff = storey_of(25e6, drift, 400e6, plan=1)
    assert prepared(ACI_SI, actions, about_x=swaying, storey=stiff).second_order.axes[0].braced


def test_imperfection_and_creep_of_en_by_hand():
    assert float(imperfections.height_factor(4000.0)) == pytest.approx(1.0)
    assert float(imperfections.height_factor(6250.0)) == pytest.approx(0.8)
    assert float(imperfections.height_factor(20_000.0)) == pytest.approx(2 / 3)
    assert imperfections.members_factor(1) == 1.0
    # C30/37, RH 50 %, h0 300 mm, 28 days, cement N: φ(∞, t0) about 2.2 in the chart of 3.1.
    found = creep.final_creep(None, 30.0, 300.0 * 300.0 / 2 * 4, 300.0 * 4, 50.0, 28.0, "N")
    assert found["h0"] == pytest.approx(300.0)
    assert found["phi_inf"] == pytest.approx(2.2, abs=0.15)
    young = creep.final_creep(None, 30.0, 180_000.0, 1200.0, 50.0, 7.0, "N")
    assert young["phi_inf"] > found["phi_inf"]


# Instability and what is not known


def test_at_the_critical_load_the_lift_is_unstable_and_no_ratio_is_infinite():
    lift = lift_of(ACI_SI, actions_of(4e6, 1e7, 1e7), about_x=direction(14_000.0))
    result = check_lift(lift)
    axis = result.second_order.axes[0]
    assert axis.states[0] == "unstable"
    assert np.isnan(axis.moment[0])
    assert result.state is State.EXCEEDED
    (finding,) = [f for f in result.findings if f.name.startswith("Instability")]
    assert math.isfinite(finding.ratio)
    assert finding.ratio > 1
    assert "the lift is unstable" in message_of(finding, UnitSystem.SI)
    # Just below 0.75 Pc there is a moment, and it is large.
    critical = 0.75 * axis.value("Pc", 0)
    near = prepared(
        ACI_SI, actions_of(0.99 * critical, 1e7, 1e7), about_x=direction(14_000.0)
    ).second_order.axes[0]
    assert near.states[0] == "magnified"
    assert near.moment[0] > 50 * 1e7


def test_an_unstable_storey_is_said():
    swaying = direction(4000.0, 1.0, factor_sway=2.0, sway="sway", plan=1)
    actions = actions_of(1.5e6, 1e8, -1e8, sway=[1e8, -1e8])
    result = check_lift(
        lift_of(ACI_SI, actions, about_x=swaying, storey=storey_of(30e6, None, 35e6))
    )
    assert result.state is State.EXCEEDED
    assert "the storey is unstable" in message_of(result.governing, UnitSystem.SI)
    alpha = replace(swaying, alpha_cr=0.9)
    found = check_lift(lift_of(EN_RECOMMENDED, actions, about_x=alpha))
    assert "the storey is unstable" in message_of(found.governing, UnitSystem.SI)


@pytest.mark.parametrize("code", CODES)
def test_without_beams_a_lift_that_sways_is_not_checked(code):
    bare = LiftDirection(4000.0, 3500.0, sway="sway")
    result = check_lift(lift_of(code, actions_of(1e6, 1e8, -1e8), about_x=bare))
    assert result.state is State.NOT_CHECKED
    assert "beams framing in" in verdict_of(result, UnitSystem.SI)
    # Braced it is checked, with what is assumed for it.
    held = check_lift(
        lift_of(code, actions_of(1e6, 1e8, 1e8), about_x=replace(bare, sway="braced", storey=8e3))
    )
    assert held.state is not State.NOT_CHECKED


def test_what_is_assumed_is_said():
    unknown = LiftDirection(9000.0, None, walls=True)
    actions = replace(actions_of(1e6, 1e8, 1e8), sustained=None, quasi_permanent=None)
    for code, words in (
        (ACI_SI, ("k = 1.0 about x", "βdns = 0.6", "storey height", "walls hold the storey")),
        (EN_RECOMMENDED, ("l0 about x", "M0Eqp/M0Ed = 1", "storey height", "RH 50 %")),
    ):
        result = check_lift(lift_of(code, actions, about_x=unknown))
        (finding,) = [f for f in result.findings if f.name.startswith("Assumed")]
        text = message_of(finding, UnitSystem.SI)
        for word in words:
            assert word in text


def test_braced_in_a_storey_that_sways_is_an_attention():
    held = direction(3000.0, 0.9, sway="braced", plan=1)
    storey = storey_of(30e6, StoreyDrift(20.0, 1e6, 4000.0), 400e6, plan=1)
    result = check_lift(lift_of(ACI_SI, actions_of(1e6, 1e7, -1e7), about_x=held, storey=storey))
    assert result.state is State.ATTENTION
    assert (
        "taken as braced about x, but the storey sways" in verdict_of(result, UnitSystem.SI).lower()
    )


def test_moments_of_the_analysis_are_not_magnified_twice():
    swaying = direction(4000.0, 1.0, factor_sway=2.0, sway="sway", plan=1, sway_moments="analysis")
    actions = actions_of(1e6, 1e8, -1e8, sway=[1e8, -1e8])
    storey = storey_of(30e6, StoreyDrift(8.0, 1e6, 4000.0), 400e6, plan=1)
    axis = prepared(ACI_SI, actions, about_x=swaying, storey=storey).second_order.axes[0]
    assert axis.value("delta_s", 0) == 1.0
    assert axis.word("delta_s_from", 0) == "second-order analysis"
    assert axis.ends[0] == pytest.approx([1e8, -1e8])


def test_the_whole_moment_sways_where_its_part_is_not_known():
    swaying = direction(4000.0, 1.0, factor_sway=2.0, sway="sway", plan=1)
    storey = storey_of(30e6, StoreyDrift(8.0, 1e6, 4000.0), 400e6, plan=1)
    unknown = replace(actions_of(1e6, 1e8, -1e8), sway=None)
    axis = prepared(ACI_SI, unknown, about_x=swaying, storey=storey).second_order.axes[0]
    assert axis.ends[0] == pytest.approx([1e8 / 0.94, -1e8 / 0.94])
    assert any("grow with sway" in text for text in axis.assumed)
    told = replace(swaying, sway_moments="all")
    same = prepared(
        ACI_SI, actions_of(1e6, 1e8, -1e8, sway=[0, 0]), about_x=told, storey=storey
    ).second_order.axes[0]
    assert same.ends[0] == pytest.approx(axis.ends[0])


def test_load_between_the_ends_makes_the_moment_even():
    actions = actions_of(1.5e6, 5e7, -5e7)
    along = np.zeros((1, 3, 6))
    along[..., 0] = 1.5e6
    along[0, :, 4] = [-5e7, 9e7, 5e7]
    between = replace(actions, between=Profile(np.array([0.0, 0.5, 1.0]), along))
    for code in CODES:
        axis = prepared(code, between, about_x=direction(7000.0)).second_order.axes[0]
        plain = prepared(code, actions, about_x=direction(7000.0)).second_order.axes[0]
        assert axis.first[0] == 9e7
        assert abs(axis.moment[0]) > abs(plain.moment[0])


def test_one_length_with_another_lift_takes_the_largest_moment_of_both():
    actions = actions_of(1.5e6, 5e7, -5e7)
    chain = replace(actions, beyond=np.array([[1.2e8], [np.nan]]))
    axis = prepared(ACI_SI, chain, about_x=direction(8000.0)).second_order.axes[0]
    assert axis.first[0] == 1.2e8
    assert axis.value("Cm", 0) == 1.0


# Properties

SECTIONS = [
    RECTANGLE,
    make_column(Circle(diameter=500), "8 D25"),
    make_column(LShape(width=600, depth=600, leg=250), "10 D25"),
]
MOMENT = st.floats(-2e8, 2e8)


@given(st.sampled_from(CODES), st.floats(2e5, 3e6), MOMENT, MOMENT, st.floats(3e3, 1.2e4))
def test_longer_is_never_stronger(code, axial, top, bottom, length):
    actions = actions_of(axial, top, bottom)
    moments = []
    for share in (1.0, 1.1, 1.3):
        axis = prepared(code, actions, about_x=direction(length * share)).second_order.axes[0]
        size = abs(axis.moment[0])
        moments.append(math.inf if math.isnan(size) else size)
    for shorter, longer in itertools.pairwise(moments):
        assert longer >= shorter * (1 - 1e-9)


@given(st.sampled_from(CODES), st.floats(2e5, 3e6), MOMENT, MOMENT, st.floats(0.0, 10.0))
def test_more_restraint_is_never_weaker(code, axial, top, bottom, soft):
    actions, found = actions_of(axial, top, bottom), []
    for value in (soft, soft + 2.0):
        end = End("partial", value)
        held = direction(7000.0, None, top=end, bottom=end)
        size = abs(prepared(code, actions, about_x=held).second_order.axes[0].moment[0])
        found.append(math.inf if math.isnan(size) else size)
    assert found[1] >= found[0] * (1 - 1e-9)


@given(st.sampled_from(CODES), st.sampled_from(SECTIONS[:2]), st.floats(2e5, 2e6), MOMENT, MOMENT)
def test_a_mirrored_lift_has_the_mirrored_answer(code, section, axial, top, bottom):
    plain = prepared(code, actions_of(axial, top, bottom), section=section, about_x=direction())
    turned = prepared(code, actions_of(axial, -top, -bottom), section=section, about_x=direction())
    upside = prepared(code, actions_of(axial, bottom, top), section=section, about_x=direction())
    size = np.abs(plain.second_order.axes[0].moment)
    assert np.abs(turned.second_order.axes[0].moment) == pytest.approx(size, nan_ok=True)
    assert np.abs(upside.second_order.axes[0].moment) == pytest.approx(size, nan_ok=True)


@given(st.sampled_from(CODES), st.floats(1e5, 2e6), MOMENT, MOMENT)
def test_tension_grows_nothing(code, axial, top, bottom):
    found = prepared(code, actions_of(-axial, top, bottom), about_x=direction(9000.0))
    assert found.second_order.axes[0].states[0] in ("tension", "short")
    applies = found.demands.applies[0]
    assert applies.tolist() == [True, True, *[False] * (len(applies) - 2)]


def test_all_combinations_at_once_are_those_one_by_one():
    chance = np.random.default_rng(3)
    count = 40
    forces = np.zeros((count, 2, 6))
    forces[..., 0] = chance.uniform(-5e5, 3e6, count)[:, None]
    forces[..., 4:] = chance.uniform(-2e8, 2e8, (count, 2, 2))
    names = tuple(f"U{i}" for i in range(count))
    whole = Actions(names, forces, sustained=0.5 * forces, sway=np.zeros((2, count, 2, 6)))
    for code in CODES:
        held = {"about_x": direction(7000.0, 0.9), "about_y": direction(6000.0, 0.8)}
        together = prepared(code, whole, **held).second_order.axes
        for i in range(count):
            one = Actions(
                (names[i],),
                forces[[i]],
                sustained=0.5 * forces[[i]],
                sway=np.zeros((2, 1, 2, 6)),
            )
            alone = prepared(code, one, **held).second_order.axes
            for a, b in zip(together, alone, strict=True):
                assert a.moment[i] == pytest.approx(b.moment[0], rel=1e-12, nan_ok=True)
                assert a.states[i] == b.states[0]


@pytest.mark.parametrize("code", CODES)
def test_the_second_order_moment_governs_and_is_named(code):
    actions = actions_of(1.9e6, 1.5e8, 1.5e8)
    result = check_lift(lift_of(code, actions, about_x=direction(5500.0)))
    assert result.governing.name == "Second-order bending about x"
    assert result.utilisation > result.first_order
    assert f"without slenderness {result.first_order:.2f}" in verdict_of(result, UnitSystem.SI)


def test_the_limit_of_growth_is_a_finding():
    # δ = 1.6 in equal single curvature: more than 1.4 times first order.
    section = make_column(Rectangle(width=500, depth=500), "12 D28")
    for axial in np.linspace(1e6, 3e6, 9):
        lift = lift_of(
            ACI_SI, actions_of(axial, 1e8, 1e8), section=section, about_x=direction(7500.0)
        )
        result = check_lift(lift)
        ratio = result.second_order.axes[0].value("second_order_ratio", 0)
        found = [f for f in result.findings if f.clause == "6.2.5.3"]
        if math.isnan(ratio) or ratio <= 1:
            continue
        assert found[0].ratio == pytest.approx(ratio / 1.4)
        assert (found[0].state is State.EXCEEDED) == (ratio > 1.4)


def test_axial_force_alone_is_compared_with_buckling():
    lift = lift_of(
        ACI_SI, actions_of(2e6, 0, 0), about_x=direction(9000.0), about_y=direction(9000.0)
    )
    result = check_lift(lift)
    (finding,) = [f for f in result.findings if f.name == "Axial force alone"]
    critical = 0.75 * result.second_order.axes[1].value("Pc", 0)
    assert finding.ratio == pytest.approx(
        2e6 / min(critical, result.second_order.values["phi_Pn_max"])
    )
    assert finding.values["governs"] == "buckling y"


def test_the_chart_vanishes_where_it_is_solved():
    for a, b in ((0.3, 2.0), (5.0, 5.0)):
        k = chart_factor(a, b, sway=False)
        assert abs(float(aci.nonsway_chart.function(k, a, b))) < 1e-9
        k = chart_factor(a, b, sway=True)
        assert abs(float(aci.sway_chart.function(k, a, b))) < 1e-9
