"""Load cases and combinations of a project: made, changed, reduced, used."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.core.provisions import Derivation
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.actions import actions_of
from fexro.project.cases import CombinationRules, FloorReduction
from fexro.project.column import LiftKey
from fexro.project.dependencies import affected
from fexro.project.edits.cases import add_case, change_case, nature_of_name, remove_case
from fexro.project.edits.combinations import (
    add_combination,
    change_combination,
    make_combinations,
    remove_combinations,
)
from fexro.project.edits.takings import put_back_forces
from fexro.project.floors import explain_share, floors_of
from tests.projects import factored_demo

KEY = LiftKey("C2", "L1")
RULES = CombinationRules(standard="ACI 318-19")


@pytest.fixture
def demo():
    return tarnholm_columns()


def test_the_demo_has_the_forces_of_its_former_version_to_their_rounding(demo):
    """Former factored forces were rounded to a tenth; now the cases are."""
    former = factored_demo()
    for key in demo.by_key:
        new, old = actions_of(demo, key), actions_of(former, key)
        assert new.combinations == old.combinations
        # Half a tenth for each of up to four cases with factors up to 1.6, and for the former sum.
        apart = np.abs(new.forces - old.forces) / np.array([1e3, 1e3, 1e3, 1e6, 1e6, 1e6])
        assert apart.max() < 0.05 * (1.2 + 1.6 + 0.5 + 1.0) + 0.05


def test_rules_make_the_combinations_of_the_cases(demo):
    made = make_combinations(demo, RULES)
    # 1.4D; 1.2D+1.6L+0.5S; 1.2D+1.6S+(L, 4 winds); 4 winds; 4 winds; 4 quakes; 4 quakes, less
    # what people wrote: U1, U2, U3, U4-U7, U8-U11 and U12-U14.
    written = {tuple(sorted(c.factors.items())) for c in demo.combinations}
    fresh = [c for c in made.combinations if c.equation]
    assert len(written) == 14
    assert not written & {tuple(sorted(c.factors.items())) for c in fresh}
    assert len(fresh) == 23 - 14
    assert [c.name for c in made.combinations[-14:]] == [c.name for c in demo.combinations]
    assert fresh[0].expression == "1.2 D + 1.6 S + 0.5 Wx"
    again = make_combinations(made, RULES)
    assert again.combinations == made.combinations


def test_what_was_said_of_a_made_combination_stays_when_it_is_made_again(demo):
    empty = remove_combinations(demo, [c.name for c in demo.combinations])
    made = make_combinations(empty, RULES)
    name = made.combinations[3].name
    told = change_combination(made, name, uses=("service",))
    again = make_combinations(told, RULES)
    assert again.combinations[3].uses == ("service",)
    european = CombinationRules(standard="EN 1990", options={"service": True})
    other = make_combinations(told, european)
    assert {c.equation for c in other.combinations} == {"6.10", "6.12b", "6.14b", "6.15b", "6.16b"}


def test_a_combination_that_serves_two_uses_stands_once(demo):
    rules = CombinationRules(standard="EN 1990", options={"service": True, "fire": True})
    made = make_combinations(change_case(demo, "L", category="B"), rules)
    # Fire and quasi-permanent: 1.0 D + 0.3 L + 0 S.
    (both,) = [c for c in made.combinations if c.factors == {"D": 1.0, "L": 0.3}]
    assert both.uses == ("accidental", "service")


def test_combinations_of_service_are_not_checked_for_strength(demo):
    changed = change_combination(demo, "U2", uses=("service",))
    assert "U2" not in actions_of(changed, KEY).combinations
    assert actions_of(changed, KEY).missing == ()
    assert affected(demo, changed) == frozenset(demo.by_key)


def test_a_typed_combination_is_the_sum_of_its_cases(demo):
    added = add_combination(demo, "X1", "1.2 (D + L) − 0.5 Wx")
    row = actions_of(added, KEY).forces[-1]
    cases = {name: demo.case_forces.row(KEY, name) for name in ("D", "L", "Wx")}
    expected = 1.2 * (cases["D"] + cases["L"]) - 0.5 * cases["Wx"]
    np.testing.assert_allclose(row, expected * [1e3, 1e3, 1e3, 1e6, 1e6, 1e6])
    with pytest.raises(InputError, match="unknown case at “Q”"):
        add_combination(demo, "X2", "1.2 Q")
    with pytest.raises(InputError, match=r"told apart|already"):
        add_combination(demo, "u1", "D")
    zero = change_combination(added, "X1", factors={"D": 1.0, "L": 0.0})
    assert zero.combinations[-1].expression == "1.0 D"


def test_a_case_is_renamed_everywhere_and_not_removed_while_it_is_counted(demo):
    renamed = change_case(demo, "Wx", name="Wind x")
    assert "Wind x" in renamed.case_forces.columns
    assert "Wind x" in renamed.combinations[3].factors
    np.testing.assert_array_equal(actions_of(renamed, KEY).forces, actions_of(demo, KEY).forces)
    with pytest.raises(InputError, match="counted by U4, U5"):
        remove_case(demo, "Wx")
    bare = remove_combinations(demo, [c.name for c in demo.combinations])
    assert "Wx" not in remove_case(bare, "Wx").case_forces.columns
    with pytest.raises(InputError, match="less than or equal to 1"):
        change_case(demo, "L", sustained=3.0)
    assert add_case(demo, "E−y").cases[-1].direction == "y"


@pytest.mark.parametrize(
    ("name", "nature", "direction"),
    [
        ("DEAD", "permanent", None),
        ("SDL", "permanent", None),
        ("Live 2", "imposed", None),
        ("Lr", "roof", None),
        ("SNOW", "snow", None),
        ("W+X", "wind", "x"),
        ("Wind 90", "wind", "y"),
        ("EQY", "earthquake", "y"),
        ("N1", "notional", None),
    ],
)
def test_names_of_cases_tell_what_they_are(name, nature, direction):
    case = nature_of_name(name)
    assert (case.nature, case.direction) == (nature, direction)


def test_imposed_load_is_less_on_lifts_that_carry_floors(demo):
    """EN 1991-1-1 6.3.1.2(11) by hand: five floors, (2 + 3·0.7)/5 = 0.82; the roof is no floor."""
    reduction = FloorReduction(rule="EN 1991-1-1 floors")
    reduced = change_case(demo, "L", reduction=reduction, category="B")
    case = reduced.case_by_name["L"]
    assert floors_of(reduced, KEY, case).number == 5
    record = Derivation()
    assert explain_share(record, reduced, KEY, case) == pytest.approx(0.82)
    assert record.lines
    full, less = actions_of(demo, KEY), actions_of(reduced, KEY)
    live = 1e3 * demo.case_forces.row(KEY, "L")[0, 0]
    assert full.forces[1, 0, 0] - less.forces[1, 0, 0] == pytest.approx(1.6 * 0.18 * live)
    # Two floors or fewer are not reduced.
    touched = affected(demo, reduced)
    assert LiftKey("C2", "Roof") in touched
    assert reduced.floor_shares.keys() == {
        LiftKey(mark.name, storey) for mark in demo.marks for storey in ("L3", "L2", "L1")
    }
    area = FloorReduction(rule="UK area", area=50.0)
    by_area = change_case(demo, "L", reduction=area, category="B")
    assert explain_share(None, by_area, KEY, by_area.case_by_name["L"]) == pytest.approx(0.75)


def test_rules_that_no_standard_has_are_refused(demo):
    with pytest.raises(InputError, match="one of ACI 318-19"):
        make_combinations(demo, CombinationRules(standard="X"))
    with pytest.raises(InputError, match=r"0.5 to 1"):
        make_combinations(demo, CombinationRules(standard="ACI 318-19", options={"live_factor": 3}))
    with pytest.raises(InputError, match="at least one"):
        make_combinations(demo.changed(cases=(), combinations=()), RULES)


def test_putting_back_leaves_out_what_is_there_no_more(demo):
    changed = demo.changed(
        former_case_forces=demo.case_forces, former_factored_forces=demo.factored_forces
    )
    gone = changed.changed(marks=tuple(m for m in demo.marks if m.name != "C6"))
    assert len(put_back_forces(gone).case_forces.members) == 30
