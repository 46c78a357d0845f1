"""Lifts that share types: the curve against all choices, and what scopes mean."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.sizing.groups import EVERY, fewest, sharings

INF = np.inf
# Three lifts, three types: the heavy type does for all, the light one for the first alone.
VALUES = np.array([[1.0, 2.0, 4.0], [INF, 2.0, 4.5], [INF, INF, 5.0]])


def test_fewer_types_come_to_more():
    steps = sharings(VALUES, np.zeros(3, dtype=int))
    assert [step.types for step in steps] == [3, 2, 1]
    # 1 + 2 + 5; without the first 2 + 2 + 5; with the last alone 4 + 4.5 + 5.
    assert [step.value for step in steps] == [8.0, 9.0, 13.5]
    assert steps[1].chosen.tolist() == [1, 1, 2]


def test_types_of_different_scopes_count_apart():
    steps = sharings(VALUES, np.array([0, 0, 1]))
    assert [step.types for step in steps] == [3, 2]
    assert steps[-1].chosen.tolist() == [1, 1, 2]


def random_values(seed, lifts, types):
    """Lifts that each have a type of their own, and may have those of others."""
    random = np.random.default_rng(seed)
    values = random.uniform(1, 10, (lifts, types))
    values[random.uniform(size=values.shape) < 0.4] = INF
    values[np.arange(lifts), np.arange(lifts) % types] = random.uniform(1, 10, lifts)
    return values


def least_of(values, count):
    """What so many types come to, by going through all choices."""
    return min(
        values[:, list(some)].min(axis=1).sum()
        for some in itertools.combinations(range(values.shape[1]), count)
    )


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000))
def test_every_step_is_the_least_and_the_last_has_the_fewest(seed):
    values = random_values(seed, 6, 5)
    steps = sharings(values, np.zeros(6, dtype=int))
    counts = [step.types for step in steps]
    assert counts == sorted(counts, reverse=True)
    for step in steps:
        assert step.least
        assert step.value == pytest.approx(least_of(values, step.types))
        assert values[np.arange(6), step.chosen].sum() == pytest.approx(step.value)
        assert len(set(step.chosen.tolist())) == step.types
    assert steps[0].value == pytest.approx(values.min(axis=1).sum())
    assert counts[-1] == 1 or not np.isfinite(least_of(values, counts[-1] - 1))
    assert fewest(values, np.zeros(6, dtype=int)).types == counts[-1]


def test_many_lifts_go_step_by_step_and_end_with_the_fewest():
    values = random_values(3, 700, 6)
    assert values.size > EVERY
    steps = sharings(values, np.zeros(700, dtype=int))
    totals = [step.value for step in steps]
    assert totals == sorted(totals)
    assert not any(step.least for step in steps[1:-1])
    assert steps[-1].least
    assert steps[-1].value == pytest.approx(least_of(values, steps[-1].types))
