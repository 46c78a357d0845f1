"""Whole members against answers found by hand or by another program, not by this one.

A folder holds projects, and beside each what is expected of its members: by member, clause and
quantity, so that an answer does not rest on what a check is called.
"""

from __future__ import annotations

import json
import re
from functools import lru_cache
from pathlib import Path

import pytest

from fexro.exchange.derivations import derivations_json
from fexro.exchange.results import results_json
from fexro.project.checking import check_project
from fexro.project.column import LiftKey
from fexro.project.file import read_project

HERE = Path(__file__).parent
CASES = sorted(
    path.with_name(path.name.replace(".fexro.json", ".json"))
    for folder in ("whole_walls", "whole_lifts")
    for path in (HERE / folder).glob("*.fexro.json")
)
EXPECTED = [
    pytest.param(case, number, id=f"{case.stem}-{number}")
    for case in CASES
    for number in range(len(json.loads(case.read_text())["expected"]))
]


@lru_cache(maxsize=4)
def checked(case):
    project = read_project(case.with_name(f"{case.stem}.fexro.json"))
    results = check_project(project, workers=1)
    members = {
        f"{one['mark']} · {one['level']}": one
        for one in json.loads(results_json(project, results))["lifts"]
    }
    return project, results, members


@lru_cache(maxsize=8)
def derived(case, member):
    project, results, _ = checked(case)
    key = LiftKey(*member.split(" · "))
    data = json.loads(derivations_json(project, {key: results[key]}, None))
    return data["lifts"][0]["checks"]


def has(text, clauses):
    """A clause counts with what is below it: 18.10.4 for 18.10.4.4, not for 18.10.40."""
    return any(re.search(r"(?<![\d.])" + re.escape(one) + r"(?!\d)", text) for one in clauses)


def counts(text, expected):
    left_out = expected.get("except")
    if left_out and all(has(one, left_out) for one in text.split(", ")):
        return False
    return not expected["clause"] or has(text, expected["clause"])


def ratios(lift, expected):
    return [
        one["utilisation"]
        for one in lift["checks"]
        if counts(one["clause"] or "", expected) and one["utilisation"] is not None
    ]


def numbers(data):
    if isinstance(data, dict):
        for value in data.values():
            yield from numbers(value)
    elif isinstance(data, list):
        for value in data:
            yield from numbers(value)
    elif isinstance(data, int | float) and not isinstance(data, bool):
        yield float(data)


def near(found, expected):
    value = expected["value"]
    return abs(found - value) <= expected["tolerance"] * max(abs(value), 1e-9)


def picked(values, expected):
    match expected["pick"]:
        case "any":
            return any(near(one, expected) for one in values)
        case "at most":
            return bool(values) and max(values) <= expected["value"] * (1 + expected["tolerance"])
        case _:
            return bool(values) and near(max(values), expected)


@pytest.mark.parametrize(("case", "number"), EXPECTED)
def test_whole_members_have_the_answers_of_another_calculation(case, number):
    expected = json.loads(case.read_text())["expected"][number]
    member = expected["member"]
    lift = checked(case)[2][member]
    match expected["what"]:
        case "state":
            value = expected["value"]
            assert lift["state"] in (value if isinstance(value, list) else [value])
        case "ratio":
            found = ratios(lift, expected)
            assert picked(found, expected), (found, expected)
        case "number":
            found = [
                value
                for check in derived(case, member)
                if counts(check["clause"] or "", expected)
                for value in numbers(check["lines"])
            ]
            assert picked(found, expected), (found, expected)
        case "force":
            found = [
                abs(row[expected["component"]])
                for row in lift["combinations"]
                if row["combination"] == expected["combination"]
            ]
            assert picked(found, expected), (found, expected)
        case "ratios":
            other = checked(case.with_name(f"{expected['value']}.json"))[2][member]
            one, two = (sorted(ratios(part, expected)) for part in (lift, other))
            assert one
            assert one == pytest.approx(two, rel=expected["tolerance"])
        case what:
            pytest.fail(f"nothing tells how “{what}” is compared")


def test_there_are_whole_members_to_compare():
    assert len(CASES) >= 25
