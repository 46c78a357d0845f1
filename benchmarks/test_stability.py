"""Slenderness and sway: a lift of many combinations, the demo checked anew, the general method."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from fexro.core.actions import Actions
from fexro.core.codes import Context
from fexro.core.members.check import check_lift, check_lifts
from fexro.core.members.general_check import general_check
from fexro.core.members.lift import PreparedLift
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.column import LiftKey
from fexro.project.dependencies import affected
from fexro.project.edits.stability import set_option, set_storey_stability
from fexro.project.resolve import resolve_lift

CODES = ["ACI 318-19", "EN 1992-1-1"]
C4L2, C6L5 = LiftKey("C4", "L2"), LiftKey("C6", "L5")


def demo_of(code):
    project = tarnholm_columns()
    return project.changed(basis=project.basis.model_copy(update={"code": code}))


def repeated(actions, count):
    """The forces of a lift as if it had so many combinations, no two alike."""
    picked = np.arange(count) % len(actions.combinations)
    factors = np.random.default_rng(3).uniform(0.8, 1.2, (count, 1, 1))
    return Actions(
        tuple(f"U{i + 1}" for i in range(count)),
        factors * actions.forces[picked],
        sway=factors * actions.sway[:, picked],
        sustained=factors * actions.sustained[picked],
    )


@pytest.mark.benchmark(group="slenderness of a lift with 300 combinations")
@pytest.mark.parametrize("code", CODES)
def test_moments_demands_and_findings(benchmark, code):
    lift = resolve_lift(demo_of(code), C4L2)
    actions = repeated(lift.actions, 300)
    storey = dataclasses.replace(
        lift.storey,
        combinations=actions.combinations,
        axial=np.resize(lift.storey.axial, 300),
        shear=np.resize(lift.storey.shear, (300, 2)),
        find_critical=None,
    )
    many = dataclasses.replace(lift, actions=actions, storey=storey)

    def found():
        prepared = PreparedLift.of(many)
        context = Context(actions, prepared.second_order, prepared.storey, many.code.stability)
        return [finding for _, rule in many.code.rules for finding in rule(many.facts, context)]

    benchmark(found)


@pytest.mark.benchmark(group="the demo checked anew")
@pytest.mark.parametrize("code", CODES)
def test_every_lift_under_another_option(benchmark, code):
    """No value comes twice: what is kept of former answers is of use as in an edit."""
    name, low, high = ("fixed_psi", 0.5, 2.0) if code == CODES[0] else ("t0", 10.0, 60.0)
    demo = demo_of(code)
    values = iter(np.random.default_rng(5).uniform(low, high, 100))

    def check():
        project = set_option(demo, None, name, float(next(values)))
        return check_lifts([resolve_lift(project, key) for key in project.by_key])

    check()
    assert len(benchmark.pedantic(check, rounds=10)) == 36


@pytest.mark.benchmark(group="the demo checked anew")
def test_a_storey_under_another_drift(benchmark):
    demo = demo_of(CODES[0])
    drifts = iter(np.random.default_rng(5).uniform(16.0, 18.0, 100))

    def check():
        project = set_storey_stability(demo, "L2", drift_x=(float(next(drifts)), 910.0))
        keys = affected(demo, project)
        assert {key.storey for key in keys} == {"L2"}
        return check_lifts([resolve_lift(project, key) for key in keys])

    check()
    benchmark.pedantic(check, rounds=10)


@pytest.mark.benchmark(group="the general method, a combination")
@pytest.mark.parametrize("code", CODES)
@pytest.mark.parametrize("key", [C4L2, C6L5], ids=str)
def test_general(benchmark, code, key):
    result = check_lift(resolve_lift(demo_of(code), key))
    count, turns = len(result.combinations), iter(range(10**9))

    def analyse():
        return general_check(result, next(turns) % count)

    benchmark.pedantic(analyse, rounds=2 * count)
