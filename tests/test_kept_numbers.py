"""Numbers that a change of structure must not change: a table, kept beside, compared to 1e-9.

The table was written by the code before the change, its utilisations solved to 1e-11 instead of the
5e-8 it was content with. It is written anew, where a rule is meant to give other numbers, by
`python -m tests.test_kept_numbers`.
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from fexro.core.strength.utilisation import constant_axial, proportional
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.checking import check_project
from tests.acceptance.test_strength import CASES, code_of, column_of

TABLE = Path(__file__).parent / "kept_numbers.json"
BASES = [
    ("ACI 318-19", "recommended", "SI"),
    ("EN 1992-1-1", "recommended", "SI"),
]
MORE = [("ACI 318-19", "recommended", "in-lb"), ("EN 1992-1-1", "UK", "SI")]


def case_numbers(case):
    strength = code_of(case).strength.of(column_of(case))
    demands = np.array(case["demands"]) * [1e3, 1e6, 1e6]
    return {
        "limits": [strength.max_axial, strength.max_tension],
        "along the ray": proportional(strength, demands).ratio.tolist(),
        "at constant N": constant_axial(strength, demands).ratio.tolist(),
    }


def demo_numbers(code, annex, units):
    project = tarnholm_columns()
    basis = project.basis.model_copy(update={"code": code, "annex": annex, "units": units})
    found = {}
    for key, result in check_project(project.changed(basis=basis)).items():
        found[str(key)] = {
            "utilisation": [result.utilisation],
            "checks": {check.name: [check.ratio] for check in result.shown_findings},
            "sum along the ray": [float(result.proportional.ratio.sum())],
            "sum at constant N": [float(np.nansum(result.constant_axial.ratio))],
        }
    return found


def flat(value, path=""):
    """Every number of nested objects by its path."""
    if isinstance(value, dict):
        return {k: v for key, part in value.items() for k, v in flat(part, f"{path}/{key}").items()}
    return {f"{path}[{i}]": number for i, number in enumerate(value)}


def agree(found, kept):
    found, kept = flat(found), flat(kept)
    # What is found may have grown; what was found before is the same.
    assert found.keys() >= kept.keys()
    for name, number in kept.items():
        assert found[name] == pytest.approx(number, rel=1e-9, nan_ok=True), name


@pytest.fixture(scope="module")
def kept():
    return json.loads(TABLE.read_text())


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["case"])
def test_acceptance_cases_are_as_kept(kept, case):
    agree(case_numbers(case), kept["cases"][case["case"]])


@pytest.mark.parametrize(
    "basis", [*BASES, *(pytest.param(b, marks=pytest.mark.long) for b in MORE)], ids=", ".join
)
def test_the_demo_is_as_kept(kept, basis):
    agree(demo_numbers(*basis), kept["demo"][", ".join(basis)])


if __name__ == "__main__":
    table = {
        "cases": {case["case"]: case_numbers(case) for case in CASES},
        "demo": {", ".join(basis): demo_numbers(*basis) for basis in (*BASES, *MORE)},
    }
    TABLE.write_text(json.dumps(table, indent=0) + "\n")
