"""Columns of ductile frames: what the cases leave out, by hand, and where it counts."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from fexro.core.actions import Actions
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.codes.en1998_1 import columns as en1998
from fexro.core.facts import End, LiftDirection, Options
from fexro.core.findings import State
from fexro.core.members.verdict import message_of
from fexro.core.quantities import UnitSystem
from fexro.core.section.shapes import Circle, LShape, Rectangle
from fexro.core.strength.slices import moments_at
from fexro.core.strength.uniaxial import SENSES, moment_curve, nominal
from tests.conftest import make_column
from tests.core.test_transverse import checks_of

HEIGHT = 3400.0
SHAPE = Rectangle(width=500, depth=600)


def actions_of(N, Vx=0.0, seismic=None):
    forces = np.zeros((len(N), 2, 6))
    forces[..., 0], forces[..., 1] = np.array(N)[:, None], Vx
    names = tuple(f"U{i + 1}" for i in range(len(N)))
    return Actions(names, forces, seismic=None if seismic is None else np.array(seismic))


def ductile(code, cross, actions, level, other="low", **facts):
    """The checks of a column whose frame along y, where it bends about x, is of a class."""
    about_x, about_y = (
        LiftDirection(4000.0, HEIGHT, sway="braced", factor=0.5, ductility=one)
        for one in (level, other)
    )
    checks = checks_of(code, cross, actions, about_x=about_x, about_y=about_y, **facts)
    return {name: check for name, check in checks.items() if check.topic == "ductility"}


# Moments


@pytest.mark.parametrize("shape", [SHAPE, Circle(diameter=550)])
def test_moments_over_axial_forces_are_those_of_many_neutral_axes(shape):
    strength = ACI_SI.strength.of(make_column(shape, "12 D25"))
    found = moment_curve(nominal(strength)).between(-3e5, 4e6)
    depths = np.linspace(0.001, 0.999, 40_001)[None]
    for axis, angle in ((0, math.pi / 2), (1, 0.0)):
        # In bending about an axis of symmetry the compressed side lies square to it.
        points = strength.at(np.array([angle]), depths).nominal[0]
        expected = np.interp(found.axial, points[:, 0], points[:, 1 + axis])
        # But for the steps at which bars enter the block.
        np.testing.assert_allclose(found.moments[2 * axis], expected, rtol=1e-3)
        assert found.largest(axis) == pytest.approx(found.moments[2 * axis].max())


@pytest.mark.parametrize("shape", [SHAPE, LShape(width=600, depth=500, leg=250)])
def test_the_curve_of_moments_is_that_of_the_surface(shape):
    strength = nominal(ACI_SI.strength.of(make_column(shape, "12 D25")))
    N = 0.37 * strength.max_axial
    found = moment_curve(strength).between(N, N).moments[:, 0]
    asked = moments_at(strength, np.full(4, N), list(SENSES))
    np.testing.assert_allclose(found, asked, rtol=2e-4)


def test_nominal_strength_has_no_factors():
    cross = make_column(SHAPE, "12 D25")
    strength = ACI_SI.strength.of(cross)
    bare = nominal(strength)
    assert bare.max_tension == pytest.approx(-420 * cross.section.bars.total_area)
    assert bare.max_axial == pytest.approx(strength.max_axial / 0.65)


def test_beyond_what_it_carries_there_is_no_moment():
    strength = nominal(ACI_SI.strength.of(make_column(SHAPE, "12 D25")))
    found = moment_curve(strength).between(2 * strength.max_axial, 3 * strength.max_axial)
    assert not found.moments.any()


# ACI 318-19


def test_ordinary_frames_are_asked_nothing():
    assert ductile(ACI_SI, make_column(SHAPE, "12 D25"), actions_of([1e6]), "low") == {}


def test_an_intermediate_column_by_hand():
    cross = make_column(SHAPE, "12 D25", ties="D10@100/200")
    checks = ductile(ACI_SI, cross, actions_of([1e6, 2e6]), "medium")
    # 8·25 = 200, 200, 500/2: 200 mm.
    assert checks["Hoop spacing at the ends"].ratio == pytest.approx(100 / 200)
    # Only the frame along y is; there 2 Mn/ℓu, Mn the largest of both axial forces.
    assert "Shear of end moments along x" not in checks
    strength = ACI_SI.strength.of(cross)
    points = strength.at(np.array([math.pi / 2]), np.linspace(0.001, 0.999, 20_001)[None]).nominal
    inside = (points[0, :, 0] >= 1e6) & (points[0, :, 0] <= 2e6)
    largest = points[0, inside, 1].max()
    found = checks["Shear of end moments along y"].values["found"]
    assert found.value == pytest.approx(2 * largest / HEIGHT, rel=1e-3)


def test_the_shear_of_an_intermediate_column_is_that_of_omega_where_it_is_less():
    cross = make_column(SHAPE, "12 D25", ties="D10@100/200")
    forces = np.zeros((2, 2, 6))
    forces[..., 0], forces[..., 2] = 1e6, 80e3
    quake = np.zeros_like(forces)
    quake[1, :, 2] = 40e3
    known = Actions(("U1", "U2"), forces, seismic=np.array([False, True]), earthquake=quake)
    name = "Shear of end moments along y"
    # 80 + (3 − 1)·40 = 160 kN, less than that of the moments; with Ωo 1 that of the analysis.
    assert ductile(ACI_SI, cross, known, "medium")[name].values["found"].value == 160e3
    options = Options(omega_o=1.0)
    least = ductile(ACI_SI, cross, known, "medium", options=options)[name]
    assert least.values["found"].value == 80e3
    alone = ductile(ACI_SI, cross, actions_of([1e6]), "medium")[name]
    assert alone.values["found"].value > 160e3


def test_a_special_column_by_hand():
    cross = make_column(SHAPE, "12 D25", ties="D12@100/150")
    actions = actions_of([1e6, 2e6])
    checks = ductile(ACI_SI, cross, actions, "high", "high", laps="one level")
    # 500/4 = 125, 6·25 = 150; hx 157: so = 100 + (350 − 157)/3 > 150.
    assert checks["Hoop spacing at the ends"].ratio == pytest.approx(100 / 125)
    assert checks["Hoop spacing between the ends"].ratio == pytest.approx(150 / 150)
    assert checks["Hoop spacing between the ends"].state is State.SATISFIED
    # 0.3·(300 000/218 400 − 1)·35/420 = 0.00934 > 0.09·35/420; along x 520 mm: 485.7 mm² of 452.4.
    legs = checks["Hoop legs along x"]
    assert legs.ratio == pytest.approx(
        0.3 * (300_000 / (420 * 520) - 1) * 35 / 420 * 100 * 520 / (4 * math.pi * 36), rel=1e-6
    )
    assert legs.state is State.EXCEEDED
    assert checks["Ratio of dimensions"].ratio == pytest.approx(0.4 / (500 / 600))
    # Bars of 1.25 fy.
    probable = replace(cross, steel=replace(cross.steel, yield_strength=1.25 * 420))
    moments = moment_curve(nominal(ACI_SI.strength.of(probable))).between(1e6, 2e6)
    for name, axis in (("x", 1), ("y", 0)):
        found = checks[f"Shear of end moments along {name}"].values["found"]
        assert found.value == pytest.approx(2 * moments.largest(axis) / HEIGHT, rel=1e-6)
    assert checks["Strong column along x"].assumption


def test_a_heavily_loaded_special_column_needs_every_bar_held():
    # 0.3·300 000·35 = 3.15 MN.
    cross = make_column(SHAPE, "16 D20", ties="D12@100")
    light = ductile(ACI_SI, cross, actions_of([3.0e6]), "high")
    heavy = ductile(ACI_SI, cross, actions_of([3.3e6]), "high")
    assert "Every bar held" not in light
    assert heavy["Every bar held"].state is State.EXCEEDED
    assert heavy["Hoop legs along x"].ratio > light["Hoop legs along x"].ratio


def test_circular_hoops_of_a_special_column_by_hand():
    cross = make_column(Circle(diameter=600), "8 D25", ties="D12@75")
    checks = ductile(ACI_SI, cross, actions_of([1e6]), "high")
    # 0.45·((600/520)² − 1)·35/420 and 0.12·35/420 = 0.0100: 0.01242; π·508·113.1/(π/4·520²·75).
    required = max(0.45 * ((600 / 520) ** 2 - 1) * 35 / 420, 0.12 * 35 / 420)
    there = 4 * 508 * math.pi * 36 / (520**2 * 75)
    assert checks["Volume of hoops"].ratio == pytest.approx(required / there, rel=1e-6)
    few = make_column(Circle(diameter=600), "5 D25", ties="D12@75")
    assert (
        ductile(ACI_SI, few, actions_of([1e6]), "high")["Bars in circular hoops"].state
        is State.EXCEEDED
    )


def test_only_combinations_with_earthquake_count_where_they_are_told():
    cross = make_column(SHAPE, "16 D20", ties="D12@100")
    every = ductile(ACI_SI, cross, actions_of([3.3e6, 1e6]), "high")
    told = ductile(ACI_SI, cross, actions_of([3.3e6, 1e6], seismic=[False, True]), "high")
    assert "Every bar held" in every
    assert "Every bar held" not in told
    text = every["Hoop legs along x"].derive().lines[0]
    assert "of all" in str(text)


# EN 1998-1


def test_confinement_by_the_numbers_of_the_sheet():
    # 500², core 430², 12 bars at 130, s 100, q0 3.9, νd 0.4.
    ductility = en1998.curvature_ductility(3.9, 0.6, 0.5, 1.0)
    assert ductility == pytest.approx(6.8)
    needed = en1998.required_confinement(ductility, 0.4, 500 / 1.15 / 2e5, 500 / 430)
    assert needed == pytest.approx(0.171, abs=5e-4)
    effect = en1998.effect_of_bars(12 * 130**2, 430, 430) * en1998.effect_of_spacing(100, 430, 430)
    assert effect == pytest.approx(0.638, abs=5e-4)
    assert needed / effect == pytest.approx(0.27, abs=5e-3)


def test_a_ductile_column_to_en_by_class():
    cross = make_column(SHAPE, "12 D25", steel=500.0, ties="D12@100/150")
    actions = actions_of([2e6])
    medium = ductile(EN_RECOMMENDED, cross, actions, "medium", laps="one level")
    high = ductile(EN_RECOMMENDED, cross, actions, "high", laps="one level")
    # 2000/(300·35/1.5) = 0.2857 of 0.65 and of 0.55.
    nu = 2e6 / (300_000 * 35 / 1.5)
    assert medium["Axial force in an earthquake"].ratio == pytest.approx(nu / 0.65)
    assert high["Axial force in an earthquake"].ratio == pytest.approx(nu / 0.55)
    # 5.6.3: the lesser of 500/4 and 100 mm.
    assert high["Hoop spacing at laps"].ratio == pytest.approx(1.0)
    # 6 mm; 0.4·25 mm.
    assert medium["Hoop size"].ratio == pytest.approx(6 / 12)
    assert high["Hoop size"].ratio == pytest.approx(10 / 12)
    shear = [checks["Shear of end moments along y"].values["found"] for checks in (medium, high)]
    assert shear[1].value / shear[0].value == pytest.approx(1.3 / 1.1)


def test_confinement_at_the_base_goes_with_q0():
    cross = make_column(SHAPE, "12 D25", steel=500.0, ties="D12@100/150")
    footed = LiftDirection(
        4000.0, HEIGHT, bottom=End("fixed"), sway="braced", factor=0.5, ductility="medium"
    )
    given = {"about_x": footed, "about_y": footed}
    low, high = (
        checks_of(EN_RECOMMENDED, cross, actions_of([2e6]), options=Options({"q0": q0}), **given)[
            "Confinement ωwd"
        ]
        for q0 in (3.0, 4.5)
    )
    assert high.ratio > low.ratio
    above = ductile(EN_RECOMMENDED, cross, actions_of([2e6]), "medium")
    assert "Confinement ωwd" not in above


def test_what_is_not_checked_of_joints_is_said():
    check = ductile(EN_RECOMMENDED, make_column(SHAPE, "12 D25"), actions_of([1e6]), "medium")[
        "Strong column along y"
    ]
    assert check.state is State.ATTENTION
    assert check.assumption
    assert "4.4.2.3" in message_of(check, UnitSystem.SI)
