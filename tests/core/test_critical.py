"""Demands on the convex outside: against shapes whose corners are known, and as a property."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.loads.critical import outside


def test_corners_of_a_box_are_outside_and_its_inside_is_not():
    corners = np.array(np.meshgrid([-1, 1], [-2, 2], [-3, 3])).reshape(3, -1).T.astype(float)
    inside = np.array([[0.5, 0.5, 0.5], [0.0, 0.0, 0.0], [0.9, -1.9, 2.9]])
    assert outside(np.vstack([corners, inside])).tolist() == [True] * 8 + [False] * 3


def test_demands_in_a_plane_on_a_line_and_alone():
    plane = np.array([[1, 1, 0], [1, -1, 0], [2, 0, 0], [1.5, 0, 0]], dtype=float)
    assert outside(plane).tolist() == [True, True, True, False]
    line = np.array([[1, 2, 3], [2, 4, 6], [0.5, 1, 1.5]], dtype=float)
    assert outside(line).tolist() == [False, True, False]
    assert outside(np.array([[5.0, 0, 0]])).tolist() == [True]
    assert outside(np.zeros((2, 3))).tolist() == [False, False]
    assert outside(np.zeros((0, 3))).tolist() == []


def test_of_demands_that_are_the_same_one_is_outside():
    assert outside(np.array([[1.0, 0, 0], [1.0, 0, 0], [0, 1.0, 0]])).sum() == 2


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000))
def test_no_demand_inside_is_furthest_in_any_direction(seed):
    random = np.random.default_rng(seed)
    demands = random.normal(size=(40, 3)) * [1e6, 1e8, 1e8]
    corner = outside(demands)
    ways = random.normal(size=(200, 3)) / [1e6, 1e8, 1e8]
    furthest = (ways @ demands.T).argmax(axis=1)
    ahead = (ways @ demands.T).max(axis=1) > 0  # else the origin is furthest
    assert corner[furthest[ahead]].all()
