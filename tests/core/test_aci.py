"""ACI 318-19 by hand: the numbers of its clauses in both editions."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import numpy as np
import pytest

from fexro.core.codes.aci318_19 import detailing, strength
from fexro.core.codes.aci318_19.code import ACI_IN_LB, ACI_SI
from fexro.core.codes.aci318_19.edition import IN_LB_EDITION, SI_EDITION
from fexro.core.findings import State
from fexro.core.members.verdict import detail_of, message_of
from fexro.core.provisions.coefficient import PSI
from fexro.core.quantities import UnitSystem
from fexro.core.section.bars import Bars
from fexro.core.section.shapes import Circle, Rectangle
from fexro.core.strength.slices import meridian
from tests.conftest import findings_of, make_column


@pytest.mark.parametrize(
    ("f_c", "beta"),
    [(17, 0.85), (28, 0.85), (35, 0.80), (42, 0.75), (54.9, 0.6579), (55, 0.65), (80, 0.65)],
)
def test_block_factor_si(f_c, beta):
    e = SI_EDITION
    found = strength.block_factor(f_c, e.block_strength, e.block_step, e.block_full)
    assert found == pytest.approx(beta, abs=1e-4)


@pytest.mark.parametrize(("psi", "beta"), [(3000, 0.85), (5000, 0.80), (6000, 0.75), (8000, 0.65)])
def test_block_factor_in_lb(psi, beta):
    e = IN_LB_EDITION
    found = strength.block_factor(psi * PSI.size, e.block_strength, e.block_step, e.block_full)
    assert found == pytest.approx(beta, abs=1e-9)


def test_resistance_factor_between_its_ends():
    # εty = 0.0021: 0.65 below, 0.90 from 0.0051, half way at 0.0036.
    strains = np.array([0.0, 0.0021, 0.0036, 0.0051, 0.02])
    found = strength.resistance_factor(strains, 0.0021, 0.65)
    np.testing.assert_allclose(found, [0.65, 0.65, 0.775, 0.9, 0.9])


def test_largest_axial_force_by_hand(rectangle):
    # 500 × 700, 12 D25 = 5890.5 mm²: Po = 0.85·35·(350000 − 5890.5) + 420·5890.5 = 12 711.3 kN.
    found = ACI_SI.strength.of(rectangle)
    p_o = 0.85 * 35 * (350_000 - 5890.486) + 420 * 5890.486
    assert found.nominal_max_axial == pytest.approx(0.80 * p_o)
    assert found.max_axial == pytest.approx(0.65 * 0.80 * p_o)
    assert found.max_tension == pytest.approx(-0.9 * 420 * 5890.486)


@pytest.mark.parametrize("code", [ACI_SI, ACI_IN_LB])
def test_no_more_than_80_ksi_counts_at_zero_eccentricity(code):
    # 22.4.2.1; the bars' own yield strength still counts in tension.
    column = make_column(Rectangle(width=500, depth=700), "12 D25", steel=600)
    found = code.strength.of(column)
    counted = 550.0 if code is ACI_SI else 80_000 * PSI.size
    p_o = 0.85 * 35 * (350_000 - 5890.486) + counted * 5890.486
    assert found.nominal_max_axial == pytest.approx(0.80 * p_o)
    assert found.max_tension == pytest.approx(-0.9 * 600 * 5890.486)


def test_the_pair_of_bars_with_the_least_to_spare_decides_their_spacing():
    # Two D16 40 mm apart need 40; a D40 55 mm from a D16 needs 1.5 · 40 = 60.
    column = make_column(Rectangle(width=500, depth=700), "8 D16")
    x, diameter = np.array([-200.0, -144.0, 0.0, 83.0]), np.array([16.0, 16.0, 16.0, 40.0])
    bars = Bars(x, np.zeros(4), np.pi * diameter**2 / 4, diameter)
    spaced = replace(column, section=replace(column.section, bars=bars))
    check = next(c for c in findings_of(ACI_SI, spaced) if c.name == "Clear bar spacing")
    assert check.state is State.EXCEEDED
    assert check.ratio == pytest.approx(60 / 55)
    assert (
        message_of(check, UnitSystem.SI) == "Clear spacing 55 mm of bars 3 and 4; 60 mm required."
    )


def test_spirals_carry_more():
    ties = ACI_SI.strength.of(make_column(Circle(diameter=500), "8 D25"))
    spiral = ACI_SI.strength.of(make_column(Circle(diameter=500), "8 D25", ties="D10@60 spiral"))
    assert spiral.max_axial / ties.max_axial == pytest.approx(0.75 * 0.85 / (0.65 * 0.80))


def test_balanced_point_by_hand():
    # 400 × 600, 4 D28 (615.75 mm² each), f'c 28, fy 420; bars at 64 mm, d = 536 mm.
    # c = 536·0.003/0.0051 = 315.29 mm, a = 0.85·c = 268.0 mm; upper bars at
    # 0.003·(c − 64)/c = 0.002391 > εty yield: P = 0.85·28·(400·a − 2·A) + (420 − 420)·2·A.
    column = make_column(Rectangle(width=400, depth=600), "4 D28", concrete=28)
    found = ACI_SI.strength.of(column)
    balanced = next(k for k in ACI_SI.strength.key_points(column) if "balanced" in k.name)
    (point,) = meridian(found, 0.0, [partial(balanced.fraction, found)]).marks
    area = np.pi * 28**2 / 4
    a = 0.85 * 536 * 0.003 / 0.0051
    axial = 0.85 * 28 * (400 * a - 2 * area)
    moment = (
        0.85 * 28 * 400 * a * (300 - a / 2)
        + 2 * area * (420 - 0.85 * 28) * 236
        + 2 * area * 420 * 236
    )
    np.testing.assert_allclose(point, [axial, moment, 0.65], rtol=1e-6)


def test_clear_spacing_limits():
    # 40 mm, 1.5 db or 4/3 of the aggregate, whichever is largest.
    assert detailing.least_clear_spacing(40.0, 20.0, 20.0) == 40.0
    assert detailing.least_clear_spacing(40.0, 32.0, 20.0) == 48.0
    assert detailing.least_clear_spacing(40.0, 20.0, 40.0) == pytest.approx(160 / 3)


@pytest.mark.parametrize(
    ("bars", "state"), [("4 D20", State.EXCEEDED), ("12 D25", State.SATISFIED)]
)
def test_bar_ratio(bars, state):
    # 4 D20 in 500 × 700 is 0.36 %, 12 D25 is 1.68 %.
    checks = findings_of(ACI_SI, make_column(Rectangle(width=500, depth=700), bars))
    assert next(c for c in checks if c.name == "Bar ratio").state is state


@pytest.mark.parametrize(
    ("ties", "bars", "state"),
    [
        ("D10@200", "3 D32", State.EXCEEDED),
        ("D10@200", "4 D32", State.SATISFIED),
        ("D10@60 spiral", "5 D32", State.EXCEEDED),
        ("D10@60 spiral", "6 D32", State.SATISFIED),
    ],
)
def test_number_of_bars(ties, bars, state):
    checks = findings_of(ACI_SI, make_column(Circle(diameter=400), bars, ties=ties))
    assert next(c for c in checks if c.name == "Number of bars").state is state


def test_clear_spacing_names_the_bars():
    # 22 D25 on a circle of 600: chord 67.6 mm less 25 leaves 42.6; 24 leave 37.0 of 40 mm.
    good, bad = (
        next(
            c
            for c in findings_of(ACI_SI, make_column(Circle(diameter=600), bars))
            if c.name == "Clear bar spacing"
        )
        for bars in ("22 D25", "24 D25")
    )
    assert good.state is State.SATISFIED
    assert bad.state is State.EXCEEDED
    assert "37 mm of bars" in message_of(bad, UnitSystem.SI)
    assert bad.ratio == pytest.approx(40 / (2 * 237.5 * np.sin(np.pi / 24) - 25), rel=1e-6)


def test_materials_outside_the_edition_are_said():
    weak = findings_of(ACI_SI, make_column(Circle(diameter=600), "8 D25", concrete=15))
    assert next(c for c in weak if c.name == "Concrete strength").state is State.EXCEEDED
    strong = findings_of(ACI_SI, make_column(Circle(diameter=600), "8 D25", steel=600))
    assert next(c for c in strong if c.name == "Steel strength").state is State.ATTENTION


def test_what_is_not_checked_is_said(rectangle):
    said = {
        message_of(check, UnitSystem.SI)
        for check in findings_of(ACI_SI, rectangle, np.array([[[1e6, 1e8, 0]] * 2]))
        if check.assumption
    }
    assert {
        "Torsion not yet checked.",
        "no shear forces are given; shear is not checked.",
    } <= said


def test_in_lb_edition_uses_its_own_numbers():
    column = make_column(
        Rectangle(width=508, depth=508),
        "8 #8",
        concrete=4000 * PSI.size,
        steel=60_000 * PSI.size,
        ties="#4@8in",
    )
    # 20 × 20 in, 8 #8 = 6.32 in²: Po = 0.85·4·(400 − 6.32) + 60·6.32 = 1717.7 kip.
    p_o = (0.85 * 4 * (400 - 6.32) + 60 * 6.32) * 4448.2216
    assert ACI_IN_LB.strength.of(column).nominal_max_axial == pytest.approx(0.8 * p_o, rel=1e-6)
    spacing = next(c for c in findings_of(ACI_IN_LB, column) if c.name == "Clear bar spacing")
    assert detail_of(spacing, UnitSystem.IN_LB).endswith("≥ 1.5 in")
    assert ACI_IN_LB.name == "ACI 318-19 (in-lb)"
