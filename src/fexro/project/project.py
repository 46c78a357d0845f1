"""The project: a building's columns, what they rest on and what acts on them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import Annotated, Any, Final, Literal

from pydantic import ConfigDict, FailFast, Field, WithJsonSchema

from fexro.project.basis import Basis, ConcreteGrade, SteelGrade
from fexro.project.cases import Combination, LoadCase
from fexro.project.column import LiftKey, LiftModel, Mark
from fexro.project.combining import Combining, combining
from fexro.project.forces import Forces
from fexro.project.records import Record, Text, Title
from fexro.project.storey import Storey

__all__ = ["FORCES", "FORMAT", "VERSION", "Project"]

FORMAT: Final = "fexro project"
VERSION: Final = 2
FORCES = ("case_forces", "factored_forces")  # what a file keeps apart


class Project(Record):
    """A building's columns; nothing in it changes, an edit makes another."""

    model_config = ConfigDict(arbitrary_types_allowed=True)

    format: Literal["fexro project"] = FORMAT
    version: Literal[2] = VERSION
    name: Title
    revision: Annotated[Text, Field(max_length=40)] = ""
    basis: Basis
    concretes: Annotated[tuple[ConcreteGrade, ...], FailFast()]
    steels: Annotated[tuple[SteelGrade, ...], FailFast()]
    storeys: Annotated[
        tuple[Storey, ...], FailFast(), Field(description="from the highest to the lowest")
    ]
    cases: Annotated[tuple[LoadCase, ...], FailFast()] = ()
    combinations: Annotated[tuple[Combination, ...], FailFast()]
    marks: Annotated[tuple[Mark, ...], FailFast()]
    case_forces: Annotated[Forces, WithJsonSchema({})] = Field(default_factory=Forces, exclude=True)
    factored_forces: Annotated[Forces, WithJsonSchema({})] = Field(
        default_factory=Forces, exclude=True
    )

    def lifts(self) -> Iterator[tuple[LiftKey, LiftModel]]:
        """Yield every lift with its key, mark by mark."""
        for mark in self.marks:
            for lift in mark.lifts:
                yield LiftKey(mark.name, lift.storey), lift

    @cached_property
    def by_key(self) -> Mapping[LiftKey, LiftModel]:
        """All lifts by mark and storey."""
        return dict(self.lifts())

    @cached_property
    def storey_by_name(self) -> Mapping[str, Storey]:
        """All storeys by name."""
        return {storey.name: storey for storey in self.storeys}

    @cached_property
    def concrete_by_name(self) -> Mapping[str, ConcreteGrade]:
        """All concretes by name."""
        return {concrete.name: concrete for concrete in self.concretes}

    @cached_property
    def steel_by_name(self) -> Mapping[str, SteelGrade]:
        """All steels by name."""
        return {steel.name: steel for steel in self.steels}

    @cached_property
    def combining(self) -> Combining:
        """How its combinations are made."""
        return combining(
            self.combinations,
            self.cases,
            self.case_forces.columns,
            self.factored_forces.columns,
        )

    def changed(self, **fields: Any) -> Project:
        """Return the project with other values in some of its fields."""
        kept = {name: getattr(self, name) for name in type(self).model_fields}
        # Made from what is valid; nothing that was worked out from the old values is taken over.
        return type(self).model_construct(**{**kept, **fields})
