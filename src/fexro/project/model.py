"""The project as written in its file. Lengths in mm, stresses in MPa, forces in kN and kN·m."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import Annotated, Literal, NamedTuple

from pydantic import BaseModel, ConfigDict, Field

from fexro.core.materials import Concrete, Name, ReinforcingSteel
from fexro.core.quantities import UnitSystem
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
    "Project",
    "SectionModel",
    "Storey",
]

FORMAT = "fexro project"
VERSION = 1


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


Level = Annotated[float, Field(ge=-1000, le=10_000, description="m")]
ForceKN = Annotated[float, Field(ge=-1e7, le=1e7, description="kN")]
MomentKNM = Annotated[float, Field(ge=-1e8, le=1e8, description="kN·m")]


class EndForces(NamedTuple):
    """Factored forces at one end of a lift: N compression positive, kN; moments kN·m."""

    N: ForceKN
    Mx: MomentKNM
    My: MomentKNM
    Vx: ForceKN = 0.0
    Vy: ForceKN = 0.0


class Basis(_Model):
    """What the whole project rests on."""

    code: Literal["ACI 318-19", "EN 1992-1-1"] = "ACI 318-19"
    annex: Literal["recommended", "UK"] = "recommended"
    units: Literal["SI", "in-lb"] = "SI"
    aggregate: Annotated[float, Field(ge=4, le=80, description="mm")] = 20.0

    @property
    def system(self) -> UnitSystem:
        """The units people see, and the edition of the code."""
        return UnitSystem(self.units)


class Storey(_Model):
    """The space below a floor: its name, the floor's level (m) and its height (m)."""

    name: Name
    level: Level
    height: Annotated[float, Field(gt=0.2, le=100, description="m")]


class Combination(_Model):
    """A factored load combination."""

    name: Name
    expression: Annotated[str, Field(max_length=200)] = ""


class SectionModel(_Model):
    """A section as called out: shape, cover to the ties, bars, ties."""

    shape: Shape
    cover: Annotated[float, Field(ge=10, le=300, description="mm, to the ties")]
    bars: Annotated[str, Field(min_length=1, max_length=80, description="such as 4 D28 + 6 D20")]
    ties: Annotated[str, Field(min_length=1, max_length=40, description="such as D10@200")]


class LiftModel(_Model):
    """A column between two floors; `forces` has a top and a bottom row for each combination."""

    storey: Name
    section: SectionModel
    concrete: Name
    steel: Name
    forces: dict[str, tuple[EndForces, EndForces]] = {}


class Mark(_Model):
    """A column stack: its mark and its lifts."""

    name: Name
    lifts: list[LiftModel]


class LiftKey(NamedTuple):
    """Names one lift."""

    mark: str
    storey: str

    def __str__(self) -> str:
        return f"{self.mark} · {self.storey}"


class Project(_Model):
    """A building's columns."""

    format: Literal["fexro project"] = "fexro project"
    version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120)]
    revision: Annotated[str, Field(max_length=40)] = ""
    basis: Basis = Basis()
    concretes: list[Concrete]
    steels: list[ReinforcingSteel]
    storeys: Annotated[list[Storey], Field(description="from the highest to the lowest")]
    combinations: list[Combination]
    marks: list[Mark]

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
