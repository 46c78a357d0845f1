"""What can govern: bounds hold for every demand, and the one that is found governs."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.strength.alike import Alike, Sections
from fexro.core.strength.governing import Question, bounds, governing
from fexro.core.strength.rays import aim
from fexro.core.strength.utilisation import proportional
from tests.acceptance.test_strength import CASES, code_of, column_of

SOME = [
    pytest.param(case, marks=() if i % 6 == 0 else pytest.mark.long) for i, case in enumerate(CASES)
]


def demands_around(strength, count, seed=3):
    """Demands in all directions, of all sizes, some of them small and some beyond the surface."""
    random = np.random.default_rng(seed)
    directions = random.normal(size=(count, 3))
    directions /= np.sqrt((directions**2).sum(axis=1))[:, None]
    sizes = random.uniform(0.001, 1.5, count)
    return directions * sizes[:, None] * strength.mesh.scale


@pytest.mark.parametrize("case", SOME, ids=lambda case: case["case"])
def test_every_utilisation_lies_between_its_bounds(case):
    strength = code_of(case).strength.of(column_of(case))
    demands = demands_around(strength, 3000)
    exact = proportional(strength, demands).ratio
    between = bounds(aim(Alike(Sections((strength,)), np.zeros(3000, dtype=int)), demands))
    assert (exact >= between.lower * (1 - 1e-7)).all()
    assert (exact <= between.upper * (1 + 1e-7)).all()
    # But for walls, where few directions are told apart, they tell most demands apart.
    if "wall" not in case["case"]:
        known = np.isfinite(between.upper)
        assert known.mean() > 0.5
        assert np.median((between.upper / between.lower)[known]) < 1.5


@pytest.mark.parametrize("case", SOME, ids=lambda case: case["case"])
def test_the_demand_that_governs_is_the_worst_of_all(case):
    strength = code_of(case).strength.of(column_of(case))
    demands = demands_around(strength, 900)
    # Groups of several sizes, one of them empty.
    ends = np.array([200, 200, 300, 900])
    (found,) = governing([Question(strength, demands, ends)])
    exact = proportional(strength, demands).ratio
    assert found[1] is None
    for group, start, end in ((0, 0, 200), (2, 200, 300), (3, 300, 900)):
        assert found[group].ratio == pytest.approx(exact[start:end].max(), rel=2e-8)
        assert found[group].demand == exact[start:end].argmax()


def test_few_demands_are_all_solved():
    strength = code_of(CASES[0]).strength.of(column_of(CASES[0]))
    demands = demands_around(strength, 40)
    ((found,),) = governing([Question(strength, demands, np.array([40]))])
    np.testing.assert_array_equal(found.every.ratio, proportional(strength, demands).ratio)
    ((zero,),) = governing([Question(strength, np.zeros((100, 3)), np.array([100]))])
    assert (zero.ratio, zero.demand) == (0.0, 0)
