"""Checking lifts, in passes: stiffness, storey sums, demands, rules."""

from __future__ import annotations

from collections.abc import Callable, Generator, Hashable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from fexro.core.actions import ENDS
from fexro.core.arrays import FloatArray, IntArray
from fexro.core.codes import Context, Stiffness, StrengthTopic
from fexro.core.facts import CrossSection, StoreyFacts
from fexro.core.members.bending import bending_finding, completeness_findings
from fexro.core.members.lift import Lift, LiftResult, PreparedLift, by_severity
from fexro.core.members.strengths import strength_of
from fexro.core.strength.governing import Governing, Question, governing

__all__ = [
    "Load",
    "Solution",
    "Solve",
    "Task",
    "check_lift",
    "check_lifts",
    "prepare",
    "solve_in_turn",
    "solve_task",
    "storey_sums",
    "stream_checks",
]


FIRST, TOGETHER = 4, 24  # sections of one make that are solved together

T = TypeVar("T")


@dataclass(frozen=True, eq=False)
class Load:
    """The demands of all lifts that have one section.

    Attributes:
        section: the section.
        demands: N, Mx, My, (R, 3), lift after lift.
        ends: where those of each lift end, (L,).
    """

    section: CrossSection
    demands: FloatArray
    ends: IntArray


@dataclass(frozen=True, eq=False)
class Task:
    """What is solved at once: sections of one make and what is on them.

    Attributes:
        topic: the code's strength.
        loads: for each section.
    """

    topic: StrengthTopic
    loads: tuple[Load, ...]


# For each load of a task which demand of each lift governs.
Solution = list[list[Governing | None]]


# Solves tasks in any order and yields each answer with the task's index.
Solve = Callable[[Sequence[Task]], Iterable[tuple[int, Solution]]]


def check_lift(lift: Lift) -> LiftResult:
    """Run every check of a lift."""
    return check_lifts([lift])[0]


def check_lifts(lifts: Sequence[Lift]) -> list[LiftResult]:
    """Run every check of several lifts; see `stream_checks`."""
    results = dict(stream_checks(lifts))
    return [results[i] for i in range(len(lifts))]


def solve_task(task: Task) -> Solution:
    """Return which demand of each lift governs along the ray."""
    return governing(
        [
            Question(strength_of(task.topic, load.section), load.demands, load.ends)
            for load in task.loads
        ]
    )


def solve_in_turn(tasks: Sequence[Task]) -> Iterator[tuple[int, Solution]]:
    """Solve tasks one after the other."""
    for number, task in enumerate(tasks):
        yield number, solve_task(task)


def stream_checks(
    lifts: Sequence[Lift], solve: Solve = solve_in_turn
) -> Generator[tuple[int, LiftResult], None, None]:
    """Check lifts and yield each with its index as it is done; closing the iterator stops.

    Lifts of one section are solved together, and with them those of others of its make; how, does
    not depend on how tasks are spread.

    Args:
        lifts: the lifts; those of one level are one storey.
        solve: solves the tasks.
    """
    prepared = prepare(lifts)
    tasks, places = _tasks(prepared)
    for number, solution in solve(tasks):
        for lifts_of_section, found in zip(places[number], solution, strict=True):
            for i, governs in zip(lifts_of_section, found, strict=True):
                yield i, _conclude(prepared[i], governs)


def _tasks(prepared: Sequence[PreparedLift]) -> tuple[list[Task], list[list[list[int]]]]:
    """Return what is to be solved, and for each section of each task the lifts that have it."""
    alike: dict[tuple[StrengthTopic, CrossSection], list[int]] = {}
    for i, one in enumerate(prepared):
        alike.setdefault((one.lift.code.strength, one.lift.facts.cross_section), []).append(i)
    makes: dict[tuple[StrengthTopic, Hashable], list[tuple[CrossSection, list[int]]]] = {}
    for (topic, section), lifts in alike.items():
        make = topic.make(section), section.section.corners
        makes.setdefault((topic, make), []).append((section, lifts))
    tasks, places = [], []
    for (topic, _), sections in makes.items():
        for some in _batches(sections):
            loads = [_load(section, [prepared[i].demands.rows for i in at]) for section, at in some]
            tasks.append(Task(topic, tuple(loads)))
            places.append([at for _, at in some])
    return tasks, places


def _batches(sections: list[T]) -> Iterator[list[T]]:
    """Part sections into a few, so that something is soon there, and then as many as pay."""
    first = FIRST if len(sections) > 2 * FIRST else len(sections)
    yield sections[:first]
    for start in range(first, len(sections), TOGETHER):
        yield sections[start : start + TOGETHER]


def _load(section: CrossSection, rows: list[FloatArray]) -> Load:
    return Load(section, np.concatenate(rows), np.cumsum([len(part) for part in rows]))


def prepare(lifts: Sequence[Lift]) -> list[PreparedLift]:
    """Run the passes up to the demands: stiffness of every lift, storey sums, demands."""
    stiffness = [lift.code.stability.stiffness(lift.facts) for lift in lifts]
    storeys = storey_sums(lifts, stiffness)
    return [
        PreparedLift(lift, storey, lift.code.stability.demands(lift.facts, storey, lift.actions))
        for lift in lifts
        for storey in [storeys[lift.level]]
    ]


def storey_sums(
    lifts: Sequence[Lift], stiffness: Sequence[Stiffness | None]
) -> dict[str, StoreyFacts]:
    """Return the sums over the lifts of each level; `stiffness` is that of each lift."""
    levels: dict[str, list[int]] = {}
    for i, lift in enumerate(lifts):
        levels.setdefault(lift.level, []).append(i)
    return {
        level: _storey_sum([lifts[i] for i in places], [stiffness[i] for i in places])
        for level, places in levels.items()
    }


def _storey_sum(lifts: Sequence[Lift], stiffness: Sequence[Stiffness | None]) -> StoreyFacts:
    names = tuple(dict.fromkeys(name for lift in lifts for name in lift.actions.combinations))
    place = {name: i for i, name in enumerate(names)}
    sums = np.zeros((len(names), 3))
    for lift in lifts:
        combinations = lift.actions.combinations
        same = combinations == names
        where = slice(None) if same else [place[name] for name in combinations]
        sums[where] += lift.actions.forces[:, ENDS.index("bottom"), :3]
    known = [(s.about_x, s.about_y) for s in stiffness if s is not None]
    total = np.sum(known, axis=0) if len(known) == len(lifts) else None
    return StoreyFacts(len(lifts), names, sums[:, 0], sums[:, 1:], total)


def _conclude(prepared: PreparedLift, found: Governing | None) -> LiftResult:
    lift = prepared.lift
    context = Context(lift.actions, prepared.demands)
    findings = [bending_finding(prepared, found), *completeness_findings(prepared, found)]
    for rule in lift.code.rules:
        findings += rule(lift.facts, context)
    return LiftResult(prepared, tuple(sorted(findings, key=by_severity)), found)
