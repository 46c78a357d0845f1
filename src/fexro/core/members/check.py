"""Checking lifts, in passes: second-order moments, strength, rules."""

from __future__ import annotations

import math
from collections.abc import Callable, Generator, Hashable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.codes import StrengthTopic
from fexro.core.facts import CrossSection
from fexro.core.findings import Finding
from fexro.core.members.answers import Answer, Answers
from fexro.core.members.bending import bending_finding, completeness_findings
from fexro.core.members.existing import as_built
from fexro.core.members.lift import Lift, LiftResult, PreparedLift, by_severity
from fexro.core.members.strengths import strength_of
from fexro.core.strength.governing import Governing, Question, governing, likely

__all__ = [
    "Load",
    "Solution",
    "Solve",
    "Task",
    "check_lift",
    "check_lifts",
    "glance",
    "prepare",
    "rule_findings",
    "solve_in_turn",
    "solve_task",
    "stream_checks",
    "utilisation",
]


FIRST, TOGETHER = 4, 24  # sections of one make that are solved together
ANSWERS = Answers(4096)

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


def glance(lift: Lift) -> LiftResult:
    """Run every check of a lift, of strength only that of the demand which governs by the mesh.

    For what is seen for a moment: another demand may govern by the difference between the mesh and
    the surface, and where bars make sheets of the surface overlap, another sheet may be nearer.
    """
    (prepared,) = prepare([lift])
    found, rough = likely(lift.strength, prepared.demands.rows)
    first = found
    if prepared.grows:
        first, _ = likely(lift.strength, lift.actions.axial_bending.reshape(-1, 3))
    return replace(_conclude(prepared, Answer(found, first)), rough=rough)


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
        lifts: the lifts, each with its storey.
        solve: solves the tasks.
    """
    prepared = prepare(lifts)
    for i, answer in _answers(prepared, solve):
        yield i, _conclude(prepared[i], answer)


def utilisation(prepared: PreparedLift) -> float:
    """Return the utilisation of strength of a lift, kept for its check; zero without demands."""
    ((_, answer),) = _answers([prepared], solve_in_turn)
    return 0.0 if answer.found is None else answer.found.ratio


def _answers(
    prepared: Sequence[PreparedLift], solve: Solve
) -> Generator[tuple[int, Answer], None, None]:
    """Yield what governs each lift, with its index, as it is known."""
    asked = []
    for i, one in enumerate(prepared):
        known = ANSWERS.of(one)
        if known is None:
            asked.append(i)
        else:
            yield i, known
    tasks, places = _tasks(prepared, asked)
    for number, solution in solve(tasks):
        for lifts_of_section, found in zip(places[number], solution, strict=True):
            # Those as analysed follow, for the lifts where anything grows.
            count = len(lifts_of_section)
            analysed = dict(zip(_growing(prepared, lifts_of_section), found[count:], strict=True))
            for i, governs in zip(lifts_of_section, found[:count], strict=True):
                answer = Answer(governs, analysed.get(i, governs))
                ANSWERS.keep(prepared[i], answer)
                yield i, answer


def _tasks(
    prepared: Sequence[PreparedLift], asked: Sequence[int]
) -> tuple[list[Task], list[list[list[int]]]]:
    """Return what is to be solved, and for each section of each task the lifts that have it."""
    alike: dict[tuple[StrengthTopic, CrossSection], list[int]] = {}
    for i in asked:
        lift = prepared[i].lift
        alike.setdefault((lift.code.strength, lift.facts.cross_section), []).append(i)
    makes: dict[tuple[StrengthTopic, Hashable], list[tuple[CrossSection, list[int]]]] = {}
    for (topic, section), lifts in alike.items():
        make = topic.make(section), section.section.corners
        makes.setdefault((topic, make), []).append((section, lifts))
    tasks, places = [], []
    for (topic, _), sections in makes.items():
        for some in _batches(sections):
            loads = [_load(section, _rows(prepared, at)) for section, at in some]
            tasks.append(Task(topic, tuple(loads)))
            places.append([at for _, at in some])
    return tasks, places


def _growing(prepared: Sequence[PreparedLift], at: Sequence[int]) -> list[int]:
    """Return the lifts that have to meet more than the forces as analysed."""
    return [i for i in at if prepared[i].grows]


def _rows(prepared: Sequence[PreparedLift], at: Sequence[int]) -> list[FloatArray]:
    """Return the demands of lifts of a section and then, where they grow, those as analysed."""
    rows = [prepared[i].demands.rows for i in at]
    return rows + [
        prepared[i].lift.actions.axial_bending.reshape(-1, 3) for i in _growing(prepared, at)
    ]


def _batches(sections: list[T]) -> Iterator[list[T]]:
    """Part sections into a few, so that something is soon there, and then as many as pay."""
    first = FIRST if len(sections) > 2 * FIRST else len(sections)
    yield sections[:first]
    for start in range(first, len(sections), TOGETHER):
        yield sections[start : start + TOGETHER]


def _load(section: CrossSection, rows: list[FloatArray]) -> Load:
    return Load(section, np.concatenate(rows), np.cumsum([len(part) for part in rows]))


def prepare(lifts: Sequence[Lift]) -> list[PreparedLift]:
    """Find what slenderness and sway make of the moments of each lift."""
    return [PreparedLift.of(lift) for lift in lifts]


def rule_findings(prepared: PreparedLift) -> list[Finding]:
    """Return what the rules of the code find of a lift, apart from strength."""
    facts, context = prepared.lift.facts, prepared.context
    return [
        replace(found, topic=topic)
        for topic, rule in prepared.lift.code.rules_of(facts)
        for found in rule(facts, context)
    ]


def _conclude(prepared: PreparedLift, answer: Answer) -> LiftResult:
    lift, (found, first) = prepared.lift, answer
    before = math.nan if first is None else first.ratio
    findings = [bending_finding(prepared, found, before), *completeness_findings(prepared, found)]
    findings = as_built(lift.facts, [*findings, *rule_findings(prepared)])
    result = LiftResult(prepared, by_severity(findings, lift.facts), found, before)
    if lift.facts.options.get("general") == "decides":
        from fexro.core.members.general_check import decided  # only where it is chosen

        return decided(result)
    return result
