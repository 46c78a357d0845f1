"""Steps of laws, and the corners that a turned section's extremes lie in."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fexro.core.errors import InputError
from fexro.core.section.outline import convex_hull
from fexro.core.strength.laws import (
    Constant,
    ElasticPlastic,
    PiecewiseLaw,
    Power,
    Smooth,
    parabola_rectangle,
    uniform_block,
)

STAIRS = PiecewiseLaw((Constant(0.001, 0.002, 10.0), Constant(0.002, np.inf, 25.0)))
# Rises to 30 MPa by a parabola and drops to 12 MPa at 0.003.
BROKEN = PiecewiseLaw(
    (
        Constant(0.0, 0.003, 30.0),
        Power(0.0, 0.002, -30.0, 2.0),
        Constant(0.003, np.inf, 12.0),
    )
)


@pytest.mark.parametrize(
    ("law", "steps"),
    [
        (uniform_block(29.75, 0.0006), [0.0006]),
        (parabola_rectangle(20.0, 0.002, 2.0), []),
        (parabola_rectangle(40.0, 0.0022, 1.6), []),
        (STAIRS, [0.001, 0.002]),
        (BROKEN, [0.003]),
    ],
)
def test_a_law_knows_where_it_jumps(law, steps):
    assert law.steps.tolist() == steps


@pytest.mark.parametrize("law", [uniform_block(29.75, 0.0006), STAIRS, BROKEN])
def test_on_its_own_side_the_stress_is_that_of_the_law(law):
    strain = np.concatenate([np.linspace(-0.001, 0.004, 101), law.steps])
    np.testing.assert_allclose(law.stress_on(strain, law.side(strain)), law.stress(strain))


def test_held_on_the_other_side_no_step_is_passed():
    block = uniform_block(29.75, 0.0006)
    strain = np.array([0.0005, 0.0007])
    np.testing.assert_allclose(block.stress_on(strain, np.array([1, 1], np.int8)), 29.75)
    np.testing.assert_allclose(block.stress_on(strain, np.array([0, 0], np.int8)), 0.0)
    # A law that varies goes on with what it has at the step.
    held = BROKEN.stress_on(np.array([0.0025, 0.0035]), np.array([0, 0], np.int8))
    np.testing.assert_allclose(held, 30.0)


coordinate = st.integers(-40, 40).map(float)


@given(st.lists(st.tuples(coordinate, coordinate), min_size=1, max_size=40, unique=True))
def test_no_direction_has_its_extreme_beside_the_convex_hull(points):
    array = np.array(points)
    hull = convex_hull(array)
    turn = np.linspace(0, 2 * np.pi, 73)
    along = array @ np.stack([np.cos(turn), np.sin(turn)])
    np.testing.assert_allclose(along[hull].max(axis=0), along.max(axis=0), atol=1e-9)
    np.testing.assert_allclose(along[hull].min(axis=0), along.min(axis=0), atol=1e-9)


def test_the_hull_of_a_square_is_its_corners():
    grid = np.array([[x, y] for x in range(5) for y in range(5)], dtype=float)
    corners = grid[convex_hull(grid)].tolist()
    assert corners == [[0, 0], [4, 0], [4, 4], [0, 4]]


@pytest.mark.parametrize(
    ("piece", "words"),
    [
        (Constant(0.0, np.inf, np.nan), "piece 1: .*not a finite number"),
        (Constant(0.002, 0.001, 20.0), "piece 1: .*0.002 to 0.001"),
        (Power(0.0, np.inf, 20.0, 2.0), "piece 1: .*to inf"),
        (Power(0.0, 0.002, np.inf, 2.0), "piece 1: .*not a finite number"),
        (Smooth(0.0, 0.002, lambda strain: 1 / (strain - 0.001), 3), "piece 1: .*not a finite"),
    ],
)
def test_laws_that_are_not_finite_are_refused_with_a_sentence(piece, words):
    with pytest.raises(InputError, match=words):
        PiecewiseLaw((piece,))


@pytest.mark.parametrize(("modulus", "yield_stress"), [(np.nan, 420.0), (200_000.0, -1.0)])
def test_steel_without_a_law_is_refused(modulus, yield_stress):
    with pytest.raises(InputError, match="a positive number, MPa"):
        ElasticPlastic(modulus, yield_stress)
