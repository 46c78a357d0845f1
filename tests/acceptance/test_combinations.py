"""Combinations, reduction of imposed load and typed expressions, against the acceptance cases."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from fexro.core.codes.loading import live_load_rules, load_standard
from fexro.core.loads.cases import Case
from fexro.core.loads.expression import ExpressionError, factors_of, written
from fexro.core.loads.floors import Floors
from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem

CASES = json.loads((Path(__file__).parent / "combinations.json").read_text())
NATURES = {"dead": "permanent", "live": "imposed", "roof live": "roof"}


def case_of(data):
    return Case(
        data["name"],
        NATURES.get(data["nature"], data["nature"]),
        direction=data.get("direction"),
        both_signs=data.get("signs") == "both",
        category=data.get("category", ""),
        source=data.get("source", ""),
        half_allowed=data.get("half_allowed", True),
    )


def rounded(factors):
    return frozenset(
        (name, round(value, 6)) for name, value in factors.items() if abs(value) > 1e-6
    )


@pytest.mark.parametrize("case", CASES["combinations"], ids=lambda case: case["case"])
def test_combinations(case):
    rules = dict(case["rules"])
    standard = load_standard(rules.pop("code"))
    options = standard.option_values(rules)
    made = standard.combine([case_of(data) for data in case["load_cases"]], options)
    expected = {rounded(c["factors"]) for c in case["expected"]["combinations"]}
    assert {rounded(c.factors) for c in made} == expected
    assert len(made) == case["expected"]["count"]


def floors_of(data, number):
    imperial = data.get("units") == "in-lb"
    square, load = (304.8**2, 4.4482216152605 / 304.8**2) if imperial else (1e6, 1e-3)
    category = data.get("use", data.get("category", ""))
    area = (
        data["area_per_floor"] * number
        if "area_per_floor" in data
        else data.get("AT", data.get("A", 0.0))
    )
    return Floors(
        number,
        area * square,
        data.get("L0", 0.0) * load,
        data.get("KLL", 1),
        category,
        UnitSystem.IN_LB if imperial else UnitSystem.SI,
    )


@pytest.mark.parametrize("case", CASES["live_load_reduction"], ids=lambda case: case["case"])
def test_live_load_reduction(case):
    data, expected = case["input"], case["expected"]
    rule = live_load_rules()[data["rule"]]
    if "factor" in expected:
        floors = floors_of(data, data.get("floors", 1))
        record = Derivation()
        assert rule.factor(record, floors) == pytest.approx(expected["factor"], abs=1e-6)
        assert rule.factor(None, floors) == rule.factor(record, floors)
    else:
        found = [rule.factor(None, floors_of(data, i + 1)) for i in range(data["lifts"])]
        assert found == pytest.approx(expected["factors_top_down"], abs=1e-6)


@pytest.mark.parametrize("case", CASES["expressions"], ids=lambda case: case["case"])
def test_expressions(case):
    expected = case["expected"]
    if "error" in expected:
        with pytest.raises(ExpressionError) as refusal:
            factors_of(case["text"], case["names"])
        assert refusal.value.kind == expected["error"]
        assert refusal.value.place in expected["at"]
    else:
        factors = factors_of(case["text"], case["names"])
        assert factors == pytest.approx(expected["factors"], abs=1e-12)
        # What is written back means the same.
        assert factors_of(written(factors), case["names"]) == pytest.approx(factors)
