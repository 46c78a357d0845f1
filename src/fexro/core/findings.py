"""What rules find: the state of a check, its ratio, its numbers and how they were reached."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from enum import IntEnum
from typing import Literal, get_args

from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension

__all__ = [
    "ATTENTION_RATIO",
    "TOPICS",
    "Finding",
    "State",
    "Topic",
    "force",
    "length",
    "moment",
    "number",
    "state_of_ratio",
    "stress",
]

ATTENTION_RATIO = 0.95

# What a finding is about, in the order in which engineers go about it.
Topic = Literal["strength", "stability", "shear", "detailing", "ductility"]
TOPICS: tuple[Topic, ...] = get_args(Topic)


class State(IntEnum):
    """The state of a check or a member; the larger is the worse."""

    SATISFIED = 0
    ATTENTION = 1
    NOT_CHECKED = 2
    EXCEEDED = 3

    @property
    def word(self) -> str:
        """The state as users read it."""
        return self.name.lower().replace("_", " ")


def state_of_ratio(ratio: float) -> State:
    """Return the state a utilisation means."""
    if ratio > 1.0:
        return State.EXCEEDED
    return State.ATTENTION if ratio > ATTENTION_RATIO else State.SATISFIED


@dataclass(frozen=True, eq=False)
class Finding:
    """One answered question.

    Attributes:
        name: what is checked.
        short: the same in a word or two, for a cell of the schedule.
        clause: clause of the code.
        state: the answer.
        ratio: utilisation, or not a number where there is none.
        detail: what was found against what is allowed; names in braces stand for `values`.
        message: sentence for the verdict where it is not satisfied, likewise.
        values: the numbers found and allowed with their dimensions, and names, by what they are
            called in the sentences.
        combination: combination that governs, if forces matter.
        assumption: whether it notes an assumption rather than a finding.
        leads: whether it leads among what is satisfied.
        resists: whether it is of what the member resists beside bending: shear, laps.
        topic: what it is about.
        derive: writes the calculation.
    """

    name: str
    short: str
    clause: str
    state: State
    ratio: float
    detail: str
    message: str
    values: Mapping[str, Term | str] = field(default_factory=dict)
    combination: str | None = None
    assumption: bool = False
    leads: bool = False
    resists: bool = False
    topic: Topic = "strength"
    derive: Callable[[], Derivation] = field(default=Derivation)


def force(value: float) -> Term:
    """Return a force, N, as a value of a finding."""
    return Term(value, Dimension.FORCE)


def length(value: float) -> Term:
    """Return a length, mm, as a value of a finding."""
    return Term(value, Dimension.LENGTH)


def stress(value: float) -> Term:
    """Return a stress, MPa, as a value of a finding."""
    return Term(value, Dimension.STRESS)


def moment(value: float) -> Term:
    """Return a moment, N·mm, as a value of a finding."""
    return Term(value, Dimension.MOMENT)


def number(value: float) -> Term:
    """Return a plain number as a value of a finding."""
    return Term(value, Dimension.RATIO)
