"""Lifts with structural steel: slenderness and limits of both codes, by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.codes.aci318_19 import composite
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.codes.en1994_1_1 import limits, resistance, second_order
from fexro.core.facts import LiftDirection
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.text import plain_text
from fexro.core.section.profiles import IProfile, Plate
from fexro.core.section.shapes import Rectangle
from tests.conftest import facts_of, make_lift
from tests.core.test_composite import S355, StructuralSteel, encased

CORNERS = [(x, y, 314) for x in (-150, 150) for y in (-150, 150)]
SLENDER = LiftDirection(storey=4000.0, clear=4000.0, sway="braced", factor=1.0)


def findings(code, cross, forces=(2e6, 1e8, 5e7), direction=None):
    lift = make_lift(cross, code, ("U1",), np.array([[forces, forces]]))
    if direction is not None:
        facts = facts_of(cross, about_x=direction, about_y=direction)
        lift = type(lift)("C1", "L1", facts, code, lift.actions)
    result = check_lift(lift)
    return {finding.short: finding for finding in result.findings}, result


def test_stiffness_and_buckling_of_the_hand_calculation():
    # 400 × 400, solid core 120 × 120 S355, C30, 4 × 314 mm² fyk 500 at 150 mm from the axis,
    # Ec,eff 33 GPa, L 4 m: (EI)eff 50.62, (EI)eff,II 39.36·10¹² N·mm², Ncr 31 224 kN,
    # Npl,Rk 9421 kN, λ̄ 0.549, χ by curve b 0.862 and by c 0.815; δ 0.630.
    core, bars = 120**4 / 12, 4 * 314 * 150**2
    given = 210_000 * core, 200_000, bars, 33_000, 400**4 / 12 - core
    stiffness = second_order.stiffness(*given)
    assert stiffness / 1e12 == pytest.approx(50.62, abs=0.6)
    # By hand the bars are taken out of the concrete too; in the product they are not (0.9 %).
    less = (*given[:4], given[4] - bars)
    assert second_order.stiffness(*less) / 1e12 == pytest.approx(50.62, abs=0.01)
    assert second_order.second_order_stiffness(*less) / 1e12 == pytest.approx(39.36, abs=0.01)
    critical = second_order.critical_load(second_order.stiffness(*less), 4000.0)
    assert critical / 1e3 == pytest.approx(31_224, abs=10)
    concrete = (160_000 - 14_400 - 1256) * 30.0
    characteristic = second_order.characteristic_resistance(14_400 * 355, concrete, 1256, 500)
    assert characteristic / 1e3 == pytest.approx(9421, abs=1)
    relative = second_order.relative_slenderness(characteristic, critical)
    assert relative == pytest.approx(0.549, abs=5e-4)
    for alpha, expected in ((0.34, 0.862), (0.49, 0.815)):
        chi = second_order.buckling_share(second_order.buckling_phi(alpha, relative), relative)
        assert chi == pytest.approx(expected, abs=1e-3)
    total = resistance.plastic_resistance(14_400 * 355, concrete / 30, 17.0, 1256, 500 / 1.15)
    assert resistance.contribution_ratio(14_400 * 355, total) == pytest.approx(0.630, abs=1e-3)


def test_buckling_and_growth_by_hand():
    # χ at λ̄ 0.8: curve b 0.724, c 0.662. k: Ncr,eff 5 NEd, r 0.5 → 1.10; r −1: β 0.44, k 1.
    for alpha, expected in ((0.34, 0.724), (0.49, 0.662)):
        phi = second_order.buckling_phi(alpha, 0.8)
        assert second_order.buckling_share(phi, 0.8) == pytest.approx(expected, abs=1e-3)
    beta = second_order.end_moment_factor(0.5)
    assert second_order.moment_growth(beta, 1.0, 5.0) == pytest.approx(1.10, abs=1e-3)
    assert second_order.end_moment_factor(-1.0) == 0.44
    assert second_order.moment_growth(0.44, 1.0, 5.0) == 1.0


def test_a_slender_composite_lift_by_en():
    cross = encased(bars=CORNERS)
    found, result = findings(EN_RECOMMENDED, cross, direction=SLENDER)
    axis = result.second_order.axes[0]
    E_c = axis.values["N_cr_eff"]
    assert axis.slender.all()
    # One curvature, equal ends: β = 1.1; bow L/200 = 20 mm about the axis that is not weaker.
    k_1, k_2 = axis.values["k1"][0], axis.values["k2"][0]
    assert k_1 == pytest.approx(1.1 / (1 - 2e6 / E_c))
    assert k_2 == pytest.approx(1.0 / (1 - 2e6 / E_c))
    assert axis.moment[0] == pytest.approx(k_1 * 1e8 + k_2 * 2e6 * 20.0)
    assert found["steel share"].state is State.SATISFIED
    assert found["buckling x"].ratio < 1
    text = plain_text(result.derivation_of(result.worst_demand), UnitSystem.SI)
    assert "N_cr,eff" in text
    assert "EN 1994-1-1" in found["plastic N–M"].clause
    assert "α_M" in plain_text(found["plastic N–M"].derive(), UnitSystem.SI)
    assert "χ" in plain_text(found["buckling x"].derive(), UnitSystem.SI)


def test_plastic_moments_by_hand():
    # Pure bending about x of the square core section: blocks by equilibrium of forces.
    cross = encased(bars=CORNERS)
    from fexro.core.codes.en1992_1_1.encased import _plastic_strength
    from fexro.core.strength.slices import moments_at

    plastic = _plastic_strength(EN_RECOMMENDED.strength, cross)
    # Cover of the core counts to 0.3 and 0.4 of 120 mm: a box of 216 by 192 about it.
    width, depth, core, sigma, f_y = 216.0, 192.0, 120.0, 17.0, 355.0
    # At N = 0 the neutral axis lies above the middle by y: concrete above less the core.
    f_s = 500 / 1.15

    def axial(y):
        above = sigma * (width * (depth / 2 - y) - core * max(core / 2 - y, 0.0))
        # The bars stand outside the box; those above displace what counts at their place.
        return above - 2 * y * core * f_y - 2 * 314 * sigma

    low, high = 0.0, 60.0
    for _ in range(80):
        y = (low + high) / 2
        low, high = (y, high) if axial(y) > 0 else (low, y)
    concrete = sigma * (width * (depth**2 / 4 - y**2) / 2 - core * (core**2 / 4 - y**2) / 2)
    steel = f_y * core * (core**2 / 4 - y**2)
    bars = 2 * 314 * 150 * (2 * f_s - sigma)
    found = moments_at(plastic, np.zeros(1), [np.array([1.0, 0.0])])[0]
    assert found == pytest.approx(concrete + steel + bars, rel=2e-3)


@pytest.mark.parametrize(
    ("cross", "short", "state"),
    [
        (encased(steel=StructuralSteel("S690", 690.0)), "steel grade", State.EXCEEDED),
        (encased(profile=Plate(40, 40)), "steel share", State.ATTENTION),
        (
            encased(profile=IProfile(300, 300, 11, 19), shape=Rectangle(380, 600)),
            "steel cover",
            State.EXCEEDED,
        ),
        (
            encased(profile=IProfile(300, 300, 11, 19), shape=Rectangle(600, 600)),
            "steel cover",
            State.SATISFIED,
        ),
        (encased(bars=[(150, 150, 60), (-150, -150, 60)]), "bar ratio", State.EXCEEDED),
        (encased(at=(20.0, 0.0)), "simplified method", State.ATTENTION),
    ],
    ids=["grade", "share", "cover less", "cover enough", "bars", "aside"],
)
def test_limits_of_en(cross, short, state):
    found, _ = findings(EN_RECOMMENDED, cross)
    assert found[short].state is state


def test_limits_of_aci():
    found, _ = findings(ACI_SI, encased())
    # 400 square: ties of at least 9.5 mm, D10@200 of 8 D20 is at half of the side.
    assert found["tie size"].state is State.SATISFIED
    assert found["tie spacing"].ratio == pytest.approx(200 / 200)
    # Bars between corners stand 140 mm apart: within half of the least side.
    assert found["bars around core"].ratio == pytest.approx(140 / 200)
    assert found["bar ratio"].clause == "10.6.1.2"
    expected = 8 * math.pi * 100 / (160_000 - 14_400)
    assert composite.composite_ratio(8 * math.pi * 100, 160_000, 14_400) == pytest.approx(expected)
    assert "350" in str(found["yield of the core"].values["largest"].value)
    assert found["load introduction"].assumption
    large = encased(shape=Rectangle(900, 900))
    found, _ = findings(ACI_SI, large)
    # 0.02 of 900 mm is more than any tie needs to be: 15.9 mm.
    assert found["tie size"].ratio == pytest.approx(15.9 / 10)
    assert found["bars around core"].state is State.SATISFIED


def test_stiffness_and_radius_of_aci_by_hand():
    cross = encased()
    _, result = findings(ACI_SI, cross, direction=SLENDER)
    axis = result.second_order.axes[0]
    E_c = 4700 * math.sqrt(30)
    gross, core = 400**4 / 12, 120**4 / 12
    top = 0.2 * E_c * gross + 210_000 * core
    radius = math.sqrt(top / (0.2 * E_c * 160_000 + 210_000 * 14_400))
    assert axis.slenderness[0] == pytest.approx(4000 / radius)
    assert limits.SLENDERNESS == 2.0


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
def test_the_calculation_of_a_composite_lift_is_written(code):
    _, result = findings(code, encased(angle=90.0))
    text = plain_text(result.derivation_of(result.worst_demand), UnitSystem.SI)
    assert "steel S355" in text
    assert "structural steel" in text
    for finding in result.shown_findings:
        plain_text(finding.derive(), UnitSystem.SI)
    assert S355.name in text
