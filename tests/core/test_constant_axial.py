"""Utilisation at a held axial force: near the ends of the axis, and beside rows of bars."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.strength.utilisation import constant_axial, proportional
from tests.acceptance.test_strength import CASES, code_of, column_of


def strength_of(number):
    case = next(case for case in CASES if case["case"].startswith(number))
    return code_of(case).strength.of(column_of(case))


def nearest_by_sweep(strength, demand, angle, fraction, da=4e-3, df=6e-3, count=801):
    """The utilisation at the nearest sheet around a place, each followed over a fine grid.

    It shares the resultants of strain planes with the engine, and nothing of its search.
    """
    body, (axial, *moment) = strength.body, demand
    size = np.hypot(*moment)
    unit = np.array(moment) / size
    angles = angle + np.linspace(-da, da, count)
    fractions = fraction + np.linspace(-df, df, count)
    numbers = np.random.default_rng(0).integers(1 << 40, size=len(body.bar_points))
    nearest, before = np.inf, {}
    for part in np.array_split(angles, count // 20):
        points = strength.at(part, np.broadcast_to(fractions, (len(part), count)))
        design = points.design
        strain = body.bar_strains(body.turn(part[:, None]), points.centre_strain, points.curvature)
        sheet = np.tensordot(numbers, body.sides(strain).astype(np.int64), axes=(0, 0))
        over = design[..., 0] - axial
        passes = (sheet[:, :-1] == sheet[:, 1:]) & ((over[:, :-1] <= 0) != (over[:, 1:] <= 0))
        for row in range(len(part)):
            here = {}
            for j in np.flatnonzero(passes[row]):
                share = over[row, j] / (over[row, j] - over[row, j + 1])
                at = design[row, j, 1:] * (1 - share) + design[row, j + 1, 1:] * share
                here[sheet[row, j]] = (at[1] * unit[0] - at[0] * unit[1], at @ unit)
            for key in here.keys() & before.keys():
                (aside, way), (aside_before, way_before) = here[key], before[key]
                if (aside_before <= 0) != (aside <= 0) and way > 0:
                    share = aside_before / (aside_before - aside)
                    nearest = min(nearest, way_before + (way - way_before) * share)
            before = here
    return size / nearest


@pytest.mark.long
def test_a_row_of_bars_at_a_step_is_parted():
    # 36 bars along the face of a wall 6125 × 350, where the neutral axis is a little aslant.
    strength = strength_of("021")
    demand = np.array([10370.765e3, 2991.339e6, 686.559e6])
    found = constant_axial(strength, demand[None])
    assert found.ratio[0] == pytest.approx(1.0194, abs=2e-4)
    swept = nearest_by_sweep(strength, demand, found.angle[0], found.fraction[0])
    assert found.ratio[0] == pytest.approx(swept, rel=1e-5)


@pytest.mark.long
@pytest.mark.parametrize(("number", "weak"), [("021", np.pi / 2), ("027", np.pi / 2), ("011", 0.0)])
def test_no_sheet_beside_rows_of_bars_is_nearer(number, weak):
    strength, random = strength_of(number), np.random.default_rng(1)
    body = strength.body
    step = float(body.bars[0].displaced.steps[0])
    places, demands = [], []
    while len(places) < 60:
        angle = weak + random.choice([0, np.pi]) + random.normal() * 1e-3
        bar = random.integers(len(body.bar_points))
        depths = np.linspace(0.02, 0.9, 4000)
        strain = strength.bar_strains(body.turn(np.full((1, 4000), angle)), depths)[bar, 0]
        depth = depths[np.abs(strain - step).argmin()] + random.normal() * 5e-4
        demand = strength.at(np.array([angle]), np.array([[depth]])).design[0, 0]
        if demand[0] < strength.max_axial:
            places.append((angle, depth))
            demands.append(demand)
    found = constant_axial(strength, np.array(demands))
    for i in range(0, 60, 12):
        swept = nearest_by_sweep(strength, demands[i], *places[i], count=401)
        assert found.ratio[i] >= swept * (1 - 1e-4)


# A third of the cases; the walls, and most others, take seconds.
SOME = [
    pytest.param(case, marks=pytest.mark.long) if "wall" in case["case"] or i % 3 else case
    for i, case in enumerate(CASES[::3])
]


@pytest.mark.parametrize("case", SOME, ids=lambda case: case["case"])
def test_inside_there_is_a_number_in_every_direction(case):
    strength = code_of(case).strength.of(column_of(case))
    low, high = strength.axial_limits
    share = np.array([1e-6, 1e-4, 1e-3, 3e-3, 0.01, 0.99, 0.999, 1 - 1e-4])
    axial = low + (high - low) * share
    for turn in np.linspace(0, 2 * np.pi, 7)[:-1]:
        demands = np.column_stack([axial, *np.outer([np.cos(turn), np.sin(turn)], [1e7] * 8)])
        found = constant_axial(strength, demands)
        assert np.isfinite(found.ratio).all()
        # By another way: the point reached is on the surface, seen from the origin.
        on = proportional(strength, found.capacity)
        np.testing.assert_allclose(on.ratio[~on.capped], 1.0, atol=6e-3)


def test_beyond_the_axis_there_is_none():
    # In an L the axis leaves the surface before pure tension.
    strength = strength_of("007")
    low, _ = strength.axial_limits
    assert strength.max_tension < low < 0
    beyond = np.array([[low * 1.001, 1e6, 0.0], [strength.max_tension * 1.001, 1e6, 0.0]])
    assert np.isnan(constant_axial(strength, beyond).ratio).all()
