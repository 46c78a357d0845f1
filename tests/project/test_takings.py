"""Takings, what they changed, sums over storeys, and forces that are typed."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.demo.tarnholm import FIRST_RUN, SECOND_RUN, column_forces, tarnholm_columns
from fexro.project.checking import check_project
from fexro.project.column import LiftKey
from fexro.project.comparison import changes_of, forces_changed, former_project
from fexro.project.edits.forces import (
    add_lift_load,
    add_span,
    change_forces,
    change_lift_load,
    change_span,
    remove_lift_loads,
    remove_spans,
)
from fexro.project.edits.takings import take_forces
from fexro.project.file import parse_project, project_bytes
from fexro.project.forces import Forces
from fexro.project.lift_loads import LiftLoad, SpanForces
from fexro.project.mapping import ForcesMapping
from fexro.project.stacks import odd_storeys, storey_sums
from fexro.project.takings import Taking

KEY = LiftKey("C4", "L2")
MAPPING = ForcesMapping(name="analysis")


def taking(number=1, **fields):
    known = {
        "number": number, "date": "2026-11-25T10:00:00", "file": "run.csv",
        "checksum": "0" * 64, "mapping": "analysis", "rows": 1, "members": 1, "names": 1,
    }  # fmt: skip
    return Taking(**{**known, **fields})


def taken(project, forces, results="cases", **fields):
    return take_forces(project, forces, results, MAPPING, taking(), **fields)


@pytest.fixture(scope="module")
def demo():
    return tarnholm_columns()


@pytest.fixture(scope="module")
def second(demo):
    return taken(demo, column_forces(SECOND_RUN))


def test_a_taking_replaces_or_joins(demo):
    one = column_forces(SECOND_RUN).without([k for k in demo.by_key if k != KEY])
    replaced = taken(demo, one)
    assert replaced.case_forces.members == (KEY,)
    joined = taken(demo, one, keep_others=True)
    assert len(joined.case_forces.members) == 36
    np.testing.assert_array_equal(joined.case_forces.row(KEY, "Ex"), one.row(KEY, "Ex"))
    other = LiftKey("C1", "L1")
    np.testing.assert_array_equal(
        joined.case_forces.row(other, "Ex"), demo.case_forces.row(other, "Ex")
    )


def test_a_taking_makes_the_cases_and_combinations_that_lack(demo):
    forces = Forces.of(["D", "W−y"], {KEY: {"D": np.ones((2, 6)), "W−y": np.ones((2, 6))}})
    made = taken(demo, forces)
    assert [(c.name, c.nature, c.direction) for c in made.cases[-1:]] == [("W−y", "wind", "y")]
    given = taken(demo, forces, "combinations")
    assert [c.name for c in given.combinations[-2:]] == ["D", "W−y"]
    assert given.case_forces is demo.case_forces
    assert given.former_factored_forces is demo.factored_forces


def test_a_taking_is_kept_in_the_file(second):
    again = parse_project(project_bytes(second), "a.fexro")
    assert again == second
    assert again.former_case_forces == column_forces(FIRST_RUN)
    with pytest.raises(ValueError, match="pattern"):
        taking(checksum="0")


def test_forces_that_no_building_has_are_refused_and_nothing_is_taken(demo):
    forces = Forces.of(["D"], {KEY: {"D": np.full((2, 6), 1e12)}})
    with pytest.raises(InputError, match="kN"):
        taken(demo, forces)


def test_what_crosses_its_limit_stands_first(demo, second):
    before, after = check_project(former_project(second)), check_project(second)
    changes = changes_of(before, after)
    crossing = [(c.lift, c.crosses) for c in changes if c.crosses]
    assert crossing == [(LiftKey("C4", "L3"), 1)]
    assert changes[0].crosses
    sizes = [abs(c.size) for c in changes[1:]]
    assert sizes == sorted(sizes, reverse=True)
    back = changes_of(after, before)
    assert back[0].crosses == -1
    # The earthquake grew by a quarter.
    rows = {row.name: row for row in forces_changed(demo, second, KEY)}
    quake = demo.case_forces.row(KEY, "Ex")[:, 5]
    grown = rows["U8"].after[:, 2] - rows["U8"].before[:, 2]
    assert grown == pytest.approx(0.25 * quake, abs=0.11)
    assert next(iter(rows)) == "U8"


def test_a_lift_without_forces_before_has_changed_without_measure(demo, second):
    bare = second.changed(former_case_forces=second.former_case_forces.without({KEY}), takings=())
    key = [KEY]
    before = {k: r for k, r in check_project(former_project(bare)).items() if k in key}
    after = {k: r for k, r in check_project(bare).items() if k in key}
    (change,) = changes_of(before, after)
    assert math.isnan(change.before)
    assert math.isinf(change.size)
    assert forces_changed(former_project(bare), bare, KEY)[0].before is None


def test_each_storey_adds_what_its_floor_brings(demo):
    """The demo's dead load of a storey: 7.2 kN/m² on all tributary areas, and the columns."""
    sums = storey_sums(demo)
    areas = 48 + 68 + 60 + 31 + 18 + 68
    column = sums.names.index("L")
    assert sums.added[1:, column] == pytest.approx(np.full(5, 7.2 * areas), rel=1e-3)
    assert sums.added[0, column] == 0.0
    assert sums.lifts[:, column].tolist() == [6.0] * 6
    assert odd_storeys(sums) == []


def test_a_wrong_factor_and_a_missed_storey_are_odd(demo):
    forces = demo.case_forces
    values = forces.values.copy()
    rows = [i for i, key in enumerate(forces.members) if key.storey == "L4"]
    values[rows, :, 0, 0] *= 3
    odd = odd_storeys(storey_sums(demo.changed(case_forces=Forces(
        forces.members, forces.columns, values))))  # fmt: skip
    assert ("L4", "D") in odd
    assert ("L3", "D") in odd  # whose difference to the one above is as wrong


def test_forces_are_typed_for_cases_and_for_combinations_without_factors(demo):
    changed = change_forces(demo, KEY, "D", 1, {"N": 1234.0})
    assert changed.case_forces.row(KEY, "D")[1, 0] == 1234.0
    assert changed.case_forces.row(KEY, "D")[0, 0] == demo.case_forces.row(KEY, "D")[0, 0]
    with pytest.raises(InputError, match="combination without factors"):
        change_forces(demo, KEY, "U1", 0, {"N": 1.0})
    with pytest.raises(InputError, match="kN"):
        change_forces(demo, KEY, "D", 0, {"N": 1e9})


def test_loads_and_stations_are_edited_by_their_number(demo):
    load = LiftLoad(mark="C4", storey="L2", case="Wx", kind="point", value=5.0)
    span = SpanForces(mark="C4", storey="L2", name="D", at=0.5, Mx=1.0, My=2.0)
    changed = add_span(add_lift_load(demo, load), span)
    assert change_lift_load(changed, 0, at=0.2).lift_loads[0].at == 0.2
    assert change_span(changed, 0, N=3.0).span_forces[0].N == 3.0
    with pytest.raises(InputError, match="less than or equal to 1"):
        change_span(changed, 0, at=7.0)
    with pytest.raises(InputError, match="one of D, L"):
        change_lift_load(changed, 0, case="Q")
    assert remove_lift_loads(remove_spans(changed, {0}), {0}) == demo


def test_a_load_in_a_case_without_forces_there_makes_them(demo):
    bare = demo.changed(case_forces=demo.case_forces.without({KEY}))
    load = LiftLoad(mark="C4", storey="L2", case="Wx", kind="distributed", value=5.0)
    assert add_lift_load(bare, load).case_forces.row(KEY, "Wx").tolist() == [[0.0] * 6] * 2
