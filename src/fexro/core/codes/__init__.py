"""What all design codes share: how a check answers, and what a code is asked."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from enum import IntEnum
from typing import Protocol

from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem
from fexro.core.section.layout import Section
from fexro.core.section.outline import FloatArray
from fexro.core.strength.body import Body
from fexro.core.strength.surface import Points, Strength

__all__ = [
    "ATTENTION_RATIO",
    "ENDS",
    "Check",
    "Column",
    "Demand",
    "Demands",
    "DesignCode",
    "KeyPoint",
    "State",
    "Vocabulary",
    "state_of_ratio",
]

ATTENTION_RATIO = 0.95
ENDS = ("top", "bottom")


class State(IntEnum):
    """The state of a check or a lift; the larger is the worse."""

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
class Column:
    """What a code needs of a lift to judge its section.

    Attributes:
        section: outline, bars and ties.
        concrete, steel: materials of the section and its bars.
        aggregate: nominal maximum size of the aggregate, mm.
        units: the units in which results are spoken.
    """

    section: Section
    concrete: Concrete
    steel: ReinforcingSteel
    aggregate: float
    units: UnitSystem


@dataclass(frozen=True, eq=False)
class Check:
    """One answered question.

    Attributes:
        name: what is checked.
        short: the same in a word or two, for a cell of the schedule.
        state: the answer.
        ratio: utilisation, or not a number where there is none.
        clause: clause of the code.
        detail: what was found against what is allowed, with units.
        message: sentence for the verdict where the check is not satisfied.
        combination: combination that governs, if forces matter.
        assumption: whether it notes an assumption rather than a finding.
        derive: writes the calculation.
    """

    name: str
    short: str
    state: State
    ratio: float
    clause: str
    detail: str
    message: str
    combination: str | None = None
    assumption: bool = False
    derive: Callable[[], Derivation] = field(default=Derivation)


@dataclass(frozen=True, eq=False)
class Demand:
    """One demand, N and N·mm.

    Attributes:
        values: N, Mx, My to be met, (3,).
        place: where it acts.
        first_order: the analysed forces it comes from, (3,).
    """

    values: FloatArray
    place: str
    first_order: FloatArray


@dataclass(frozen=True, eq=False)
class Demands:
    """Demands of every combination, N and N·mm.

    Attributes:
        values: N, Mx, My to be met, (C, K, 3).
        places: where each of K acts.
        first_order: the analysed forces that each comes from, (C, K, 3).
    """

    values: FloatArray
    places: tuple[str, ...]
    first_order: FloatArray

    def at(self, index: int) -> Demand:
        """Return a demand by its index in order of combinations and, within, of their places."""
        combination, place = divmod(index, len(self.places))
        return Demand(
            self.values[combination, place],
            self.places[place],
            self.first_order[combination, place],
        )


@dataclass(frozen=True)
class KeyPoint:
    """A point of the interaction diagram with a meaning.

    Attributes:
        name: what it means.
        fraction: for a strength and directions (A,) of the compressed side, its places (A,) in the
            family of limit planes.
    """

    name: str
    fraction: Callable[[Strength, FloatArray], FloatArray]


@dataclass(frozen=True)
class Vocabulary:
    """The words and symbols of a code."""

    axial: str
    moment_x: str
    moment_y: str
    concrete_strength: str
    steel_strength: str
    ties: str


class DesignCode(Protocol):
    """A design code; nothing outside `codes` asks which one it is."""

    def __hash__(self) -> int:
        """Codes are values: results are remembered by them."""
        ...

    @property
    def name(self) -> str:
        """Name and edition."""
        ...

    @property
    def vocabulary(self) -> Vocabulary:
        """Its words."""
        ...

    def strength(self, column: Column) -> Strength:
        """Return the strength of a section."""
        ...

    def strength_clause(self) -> str:
        """Return the clauses behind section strength."""
        ...

    def working_body(self, column: Column, strength: Strength) -> Body:
        """Return the section under the laws by which its strains at a demand are found."""
        ...

    def key_points(self, column: Column) -> Sequence[KeyPoint]:
        """Return the points that mark the interaction diagram."""
        ...

    def design_demands(self, column: Column, analysed: FloatArray) -> Demands:
        """Return the demands to be met for N, Mx, My analysed at top and bottom, (C, 2, 3)."""
        ...

    def limits(self, column: Column, demands: FloatArray) -> list[Check]:
        """Return the checks of materials and bars; demands are N, Mx, My, (R, 3)."""
        ...

    def companions(
        self, column: Column, strength: Strength, demand: FloatArray, combination: str
    ) -> list[Check]:
        """Return checks shown beside the exact one for its governing demand, for comparison."""
        ...

    def explain_strength(
        self, column: Column, strength: Strength, demand: Demand, point: Points, capped: bool
    ) -> Derivation:
        """Write the calculation of the utilisation of a demand from the surface point behind it."""
        ...
