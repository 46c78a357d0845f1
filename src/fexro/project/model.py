"""The project as written in its file. Lengths in mm, stresses in MPa, forces in kN and kN·m."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import Annotated, Any, Final, Literal, NamedTuple

from pydantic import BeforeValidator, FailFast, Field

from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.quantities import UnitSystem
from fexro.core.records import Name, Number, Record, Text, Title
from fexro.core.section.shapes import Shape

__all__ = [
    "FORMAT",
    "VERSION",
    "Basis",
    "Combination",
    "EndForces",
    "LiftKey",
    "LiftModel",
    "Mark",
    "Member",
    "Project",
    "SectionModel",
    "Storey",
]

FORMAT: Final = "fexro project"
VERSION: Final = 1


MOST_COMBINATIONS = 10_000


Level = Annotated[Number, Field(ge=-1000, le=10_000, description="m")]
ForceKN = Annotated[Number, Field(ge=-1e7, le=1e7, description="kN")]
MomentKNM = Annotated[Number, Field(ge=-1e8, le=1e8, description="kN·m")]


class EndForces(NamedTuple):
    """Factored forces at one end of a lift: N compression positive, kN; moments kN·m."""

    N: ForceKN
    Mx: MomentKNM
    My: MomentKNM
    Vx: ForceKN
    Vy: ForceKN


class Basis(Record):
    """What the whole project rests on."""

    code: Annotated[Name, Field(description="key of a design code on offer")]
    annex: Annotated[Name, Field(description="one that the code has")]
    units: Literal["SI", "in-lb"]
    aggregate: Annotated[Number, Field(ge=4, le=80, description="mm")]

    @property
    def system(self) -> UnitSystem:
        """The units people see, and the edition of the code."""
        return UnitSystem(self.units)


class LiftKey(NamedTuple):
    """Names one lift."""

    mark: str
    storey: str

    def __str__(self) -> str:
        return f"{self.mark} · {self.storey}"


class Storey(Record):
    """The space below a floor: its name, the floor's level (m) and its height (m)."""

    name: Name
    level: Level
    height: Annotated[Number, Field(gt=0.2, le=100, description="m")]


class Member(Record):
    """A column stack, or one lift of it."""

    mark: Name
    storey: Name | None = None

    def covers(self, key: LiftKey) -> bool:
        """Tell whether a lift is meant."""
        return self.mark == key.mark and self.storey in (None, key.storey)

    def __str__(self) -> str:
        return self.mark if self.storey is None else f"{self.mark} · {self.storey}"


class Combination(Record):
    """A factored load combination; `not_for` are the members that it does not apply to."""

    name: Name
    expression: Annotated[Text, Field(max_length=200)] = ""
    not_for: Annotated[tuple[Member, ...], FailFast()] = ()

    def applies(self, key: LiftKey) -> bool:
        """Tell whether the combination applies to a lift."""
        return not any(member.covers(key) for member in self.not_for)


class SectionModel(Record):
    """A section as called out: shape, cover to the ties, bars, ties."""

    shape: Shape
    cover: Annotated[Number, Field(ge=10, le=300, description="mm, to the ties")]
    bars: Annotated[Text, Field(min_length=1, max_length=80, description="such as 4 D28 + 6 D20")]
    ties: Annotated[Text, Field(min_length=1, max_length=40, description="such as D10@200")]


def _not_too_many(forces: Any) -> Any:
    if isinstance(forces, dict) and len(forces) > MOST_COMBINATIONS:
        raise ValueError(f"forces of at most {MOST_COMBINATIONS} combinations")
    return forces


Forces = Annotated[dict[str, tuple[EndForces, EndForces]], BeforeValidator(_not_too_many)]


class LiftModel(Record):
    """A column between two floors; `forces` has a top and a bottom row for each combination."""

    storey: Name
    section: SectionModel
    concrete: Name
    steel: Name
    forces: Forces = Field(default_factory=dict)


class Mark(Record):
    """A column stack: its mark and its lifts."""

    name: Name
    lifts: Annotated[list[LiftModel], FailFast()]


class Project(Record):
    """A building's columns."""

    format: Literal["fexro project"]
    version: Literal[1]
    name: Title
    revision: Annotated[Text, Field(max_length=40)] = ""
    basis: Basis
    concretes: Annotated[list[Concrete], FailFast()]
    steels: Annotated[list[ReinforcingSteel], FailFast()]
    storeys: Annotated[
        list[Storey], FailFast(), Field(description="from the highest to the lowest")
    ]
    combinations: Annotated[list[Combination], FailFast()]
    marks: Annotated[list[Mark], FailFast()]

    def lifts(self) -> Iterator[tuple[LiftKey, LiftModel]]:
        """Yield every lift with its key, mark by mark."""
        for mark in self.marks:
            for lift in mark.lifts:
                yield LiftKey(mark.name, lift.storey), lift

    @cached_property
    def by_key(self) -> dict[LiftKey, LiftModel]:
        """All lifts by mark and storey."""
        return dict(self.lifts())

    def concrete(self, name: str) -> Concrete:
        """Return a concrete by name."""
        return next(concrete for concrete in self.concretes if concrete.name == name)

    def steel(self, name: str) -> ReinforcingSteel:
        """Return a steel by name."""
        return next(steel for steel in self.steels if steel.name == name)
