"""Answers that are kept: nothing is solved again unless the section or its demands changed."""

from __future__ import annotations

import pytest

from fexro.core.members import check
from fexro.core.members.answers import Answer, Answers
from fexro.core.members.check import solve_in_turn, stream_checks
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.column import LiftKey
from fexro.project.edits.stability import set_direction, set_option
from fexro.project.resolve import resolve_lift

DEMO = tarnholm_columns()
KEYS = [LiftKey("C4", "L2"), LiftKey("C1", "L3")]


@pytest.fixture
def kept(monkeypatch):
    """Answers of this test alone, and how many lifts were solved."""
    monkeypatch.setattr(check, "ANSWERS", Answers(8))


def checked(project):
    """Return the results, and of how many lifts a question was asked."""
    asked = []

    def solve(tasks):
        asked.extend(load for task in tasks for load in task.loads)
        return solve_in_turn(tasks)

    results = dict(stream_checks([resolve_lift(project, key) for key in KEYS], solve))
    return [results[i] for i in range(len(KEYS))], len(asked)


@pytest.mark.usefixtures("kept")
def test_only_what_has_other_demands_is_solved():
    first, asked = checked(DEMO)
    assert asked == 2
    again, asked = checked(DEMO)
    assert asked == 0
    assert [r.utilisation for r in again] == [r.utilisation for r in first]
    assert [r.first_order for r in again] == [r.first_order for r in first]
    # C1 · L3 is stocky: another stiffness changes nothing of its demands, but those of C4 · L2.
    other, asked = checked(set_option(DEMO, None, "EI", "a"))
    assert asked == 1
    assert other[1].utilisation == first[1].utilisation
    longer, asked = checked(set_direction(DEMO, KEYS[1], "x", "factor", 3.0))
    assert asked == 1
    # It grows now, if not where it governs.
    ratios = longer[1].proportional.ratio, first[1].proportional.ratio
    assert ratios[0].sum() > ratios[1].sum()


def test_the_oldest_is_let_go():
    answers, lifts = Answers(1), [check.prepare([resolve_lift(DEMO, key)])[0] for key in KEYS]
    for lift in lifts:
        answers.keep(lift, Answer(None, None))
    assert answers.of(lifts[0]) is None
    assert answers.of(lifts[1]) == (None, None)
