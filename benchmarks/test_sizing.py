"""Sizing: a lift of many combinations, the demo, a building whose sections are all different."""

from __future__ import annotations

from dataclasses import replace
from itertools import count

import pytest

from benchmarks.building import building
from benchmarks.test_stability import C4L2, repeated
from fexro.core.sizing.search import size_lift
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.column import LiftKey
from fexro.project.edits.sizing import set_sizing
from fexro.project.edits.stability import set_direction
from fexro.project.resolve import resolve_lift
from fexro.project.sizing import bar_rules, member_of, objective_of, rules_of
from fexro.project.sizing_processes import outcomes

C2L1 = LiftKey("C2", "L1")
COVERS = count(1)


@pytest.mark.benchmark(group="sizing a lift with 100 combinations")
@pytest.mark.parametrize("until", ["the first that does", "the end"])
@pytest.mark.parametrize("key", [C4L2, C2L1], ids=str)
def test_search_of_a_lift(benchmark, key, until):
    offered = {"mixed": False, "sizes": ("D16", "D20", "D25", "D28", "D32"), "ties": ("D10", "D12")}
    project = set_sizing(tarnholm_columns(), **offered)
    for axis in "xy":
        project = set_direction(project, None, axis, "sway", "braced")
    rules, objective = bar_rules(project, key), objective_of(rules_of(project, key))
    model = project.by_key[key]
    actions = repeated(resolve_lift(project, key).actions, 100)
    actions = replace(actions, forces=0.8 * actions.forces)

    def search():
        # With a cover of its own nothing is known of its sections.
        cover = model.section.cover + 0.01 * next(COVERS)
        member = member_of(project, key, model.with_values(cover=cover))
        lift = replace(member.lift, actions=actions, storey=None)
        for found in size_lift([replace(member, lift=lift, storey=None)], rules, objective):
            if until != "the end" and found.proposals:
                return found
        return found

    assert benchmark.pedantic(search, rounds=3).proposals


@pytest.mark.benchmark(group="sizing many lifts in two processes")
@pytest.mark.parametrize(
    "stacks", [0, 50], ids=["the demo, 36 lifts", "300 lifts of 7 combinations"]
)
def test_run(benchmark, stacks):
    project = building(stacks, 7) if stacks else tarnholm_columns()
    keys = list(project.by_key)
    found = benchmark.pedantic(lambda: [*outcomes(project, keys, 2)], rounds=1)
    assert sum(map(len, found)) == len(keys)
