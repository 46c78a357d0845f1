"""The general method against elastic closed forms, its own finer mesh and the simplified method."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.aci318_19.second_order import chart_factor
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.members.general import NODES, GeneralLift, load_path, solve_step
from fexro.core.members.general_check import general_check, general_lift
from fexro.core.section.shapes import Rectangle
from fexro.core.strength.body import Body, Region
from fexro.core.strength.laws import PiecewiseLaw, Smooth
from fexro.core.strength.utilisation import proportional
from tests.core.test_slenderness import actions_of, direction, lift_of

E = 30_000.0
WIDTH, DEPTH, LENGTH = 400.0, 600.0, 9000.0
LINEAR = PiecewiseLaw((Smooth(-1.0, 1.0, lambda strain: E * strain, 1),))
ELASTIC = Body([Region(Rectangle(WIDTH, DEPTH).outline(), LINEAR)], [], (0.0, 0.0))
STIFFNESS = E * WIDTH * DEPTH**3 / 12, E * DEPTH * WIDTH**3 / 12
EULER = tuple(math.pi**2 * stiffness / LENGTH**2 for stiffness in STIFFNESS)
PLACES = np.array([0.0, 1.0])


def elastic(axial, moments, **more):
    """An elastic lift with moments about x and y at foot and top, N·mm."""
    first = np.array(moments, dtype=float)
    return GeneralLift(ELASTIC, (LENGTH, LENGTH), axial, PLACES, first, **more)


@pytest.mark.parametrize("share", [0.05, 0.3, 0.6, 0.9])
@pytest.mark.parametrize("axis", [0, 1])
def test_even_moments_grow_by_the_secant(share, axis):
    """Of a pinned elastic column: M / cos(π/2 √(N/NE)) at mid-height."""
    moments = np.zeros((2, 2))
    moments[axis] = 5e7
    axial = share * EULER[axis] if axis else share * EULER[1]
    step = solve_step(elastic(axial, moments), 1.0)
    exact = 5e7 / math.cos(math.pi / 2 * math.sqrt(axial / EULER[axis]))
    assert step.forces[NODES // 2, 1 + axis] == pytest.approx(exact, rel=1e-4)
    away = (exact - 5e7) / axial
    assert step.deflection[axis, NODES // 2] == pytest.approx(away, rel=1e-4)


def test_unlike_end_moments_follow_the_differential_equation():
    """M(s) = M0 cos us + (M1 - M0 cos u) / sin u · sin us, u = π √(N/NE)."""
    axial = 0.5 * EULER[1]
    u = math.pi * math.sqrt(0.5)
    foot, top = 8e7, -3e7
    step = solve_step(elastic(axial, [[0, 0], [foot, top]]), 1.0)
    s = np.linspace(0, 1, NODES)
    exact = foot * np.cos(u * s) + (top - foot * math.cos(u)) / math.sin(u) * np.sin(u * s)
    assert step.forces[:, 2] == pytest.approx(exact, rel=2e-4, abs=2e3)


def test_an_imperfection_grows_as_euler_says():
    axial = 0.4 * EULER[1]
    step = solve_step(elastic(axial, np.zeros((2, 2)), imperfection=(0.0, 20.0)), 1.0)
    assert step.deflection[1, NODES // 2] == pytest.approx(20 * 0.4 / 0.6, rel=1e-4)


@pytest.mark.parametrize(("top", "bottom"), [(1.0, 1.0), (0.5, 3.0), (0.1, 20.0)])
def test_springs_at_the_ends_raise_the_critical_load_as_the_chart_does(top, bottom):
    factor = chart_factor(top, bottom, sway=False)
    critical = EULER[1] / factor**2
    springs = tuple(2 * STIFFNESS[1] / (psi * LENGTH) for psi in (bottom, top))
    lift = elastic(1.0, np.zeros((2, 2)), imperfection=(0.0, 1.0), springs=((0.0, 0.0), springs))
    assert solve_step(replace(lift, axial=0.99 * critical), 1.0) is not None
    assert solve_step(replace(lift, axial=1.01 * critical), 1.0) is None


def test_beyond_the_critical_load_there_is_no_equilibrium():
    lift = elastic(1.02 * EULER[1], [[0, 0], [1e6, 1e6]])
    assert solve_step(lift, 1.0) is None
    path = load_path(lift, lambda rows: np.zeros(len(rows)))
    assert path.by == "stability"
    # Close to it the bow is beyond all measure, and counts as lost.
    assert 0.9 < path.load_factor * 1.02 <= 1.0
    assert path.at_load is None


def test_softening_is_a_smaller_stiffness():
    soft = solve_step(elastic(0.3 * EULER[1], [[0, 0], [5e7, 5e7]], softening=0.75), 1.0)
    exact = 5e7 / math.cos(math.pi / 2 * math.sqrt(0.3 / 0.75))
    assert soft.forces[NODES // 2, 2] == pytest.approx(exact, rel=1e-4)


def slender_result(code, axial=1.2e6, top=1.2e8, bottom=1.2e8, length=5500.0):
    actions = actions_of(axial, top, bottom)
    return check_lift(lift_of(code, actions, about_x=direction(length)))


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
def test_a_finer_mesh_changes_little(code):
    result = slender_result(code)
    lift, _ = general_lift(result, 0)

    def utilisation(rows):
        return proportional(result.lift.strength, rows).ratio

    coarse, fine = (load_path(lift, utilisation, nodes=n) for n in (NODES, 81))
    assert coarse.load_factor == pytest.approx(fine.load_factor, rel=6e-3)
    assert coarse.by == fine.by == "section"


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
def test_the_simplified_method_stands_beside_it(code):
    check = general_check(slender_result(code), 0)
    assert check.simplified > slender_result(code).first_order
    # It costs something, and is not far off.
    assert 0.6 < check.ratio / check.simplified < 1.1
    assert check.found.steps[0].factor < check.found.steps[-1].factor
    bows = [step.largest_deflection for step in check.found.steps]
    assert bows == sorted(bows)


def test_a_stocky_lift_has_the_strength_of_its_section():
    result = slender_result(ACI_SI, length=600.0)
    check = general_check(result, 0)
    assert check.ratio == pytest.approx(result.first_order, rel=0.02)


def test_where_it_is_chosen_the_general_method_decides():
    actions = actions_of(1.75e6, 4.2e8, 4.2e8)
    held = direction(5000.0)
    simple = check_lift(lift_of(EN_RECOMMENDED, actions, about_x=held))
    assert simple.utilisation > 1
    decided = check_lift(
        lift_of(EN_RECOMMENDED, actions, about_x=held, options={"general": "decides"})
    )
    general = general_check(simple, 0)
    assert decided.utilisation == pytest.approx(general.ratio)
    assert decided.governing.name == "Second-order bending, general method"
    assert decided.governing.clause == "5.8.6"
    assert (decided.state is State.EXCEEDED) == (general.ratio > 1)
    # What is satisfied anyway stays as it is.
    fine = check_lift(
        lift_of(
            EN_RECOMMENDED,
            actions_of(1e6, 2e7, 2e7),
            about_x=held,
            options={"general": "decides"},
        )
    )
    assert fine.decided is None
