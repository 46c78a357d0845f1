"""Lifts that share types: the curve by greedy steps against all choices, and what scopes mean."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.sizing.groups import sharings

INF = np.inf
# Three lifts, three types: the heavy type does for all, the light one for the first alone.
VALUES = np.array([[1.0, 2.0, 4.0], [INF, 2.0, 4.5], [INF, INF, 5.0]])


def test_types_are_given_up_by_what_they_cost():
    steps = sharings(VALUES, np.zeros(3, dtype=int))
    assert [step.types for step in steps] == [3, 2, 1]
    # 1 + 2 + 5; without the first 2 + 2 + 5; with the last alone 4 + 4.5 + 5.
    assert [step.value for step in steps] == [8.0, 9.0, 13.5]
    assert steps[1].chosen.tolist() == [1, 1, 2]


def test_types_of_different_scopes_count_apart():
    steps = sharings(VALUES, np.array([0, 0, 1]))
    assert [step.types for step in steps] == [3, 2]
    assert steps[-1].chosen.tolist() == [1, 1, 2]


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000))
def test_more_types_never_come_to_more_and_no_sharing_betters_the_best(seed):
    random = np.random.default_rng(seed)
    values = random.uniform(1, 10, (5, 5))
    values[random.uniform(size=values.shape) < 0.4] = INF
    values[np.arange(5), np.arange(5)] = random.uniform(1, 10, 5)
    steps = sharings(values, np.zeros(5, dtype=int))
    totals = [step.value for step in steps]
    assert totals == sorted(totals)
    for step in steps:
        best = min(
            (
                values[:, list(some)].min(axis=1).sum()
                for some in itertools.combinations(range(5), step.types)
            ),
            default=INF,
        )
        # Going step by step may miss the best, never better it.
        assert step.value >= best - 1e-9
    assert totals[0] == pytest.approx(values.min(axis=1).sum())
