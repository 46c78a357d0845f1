"""The project: a building's columns, what they rest on and what acts on them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import Annotated, Any, Final, Literal

from pydantic import ConfigDict, FailFast, Field, WithJsonSchema

from fexro.core.arrays import FloatArray
from fexro.project.basis import Basis, ConcreteGrade, SteelGrade
from fexro.project.bearing_walls import BearingWall
from fexro.project.cases import Combination, LoadCase
from fexro.project.column import Group, LiftKey, LiftModel, LiftRecord, Mark
from fexro.project.combining import Combining, combining
from fexro.project.floors import floor_shares
from fexro.project.forces import Forces
from fexro.project.framing import FramingBeam
from fexro.project.library import NamedSection
from fexro.project.lift_loads import LiftLoad, SpanForces
from fexro.project.mapping import ForcesMapping
from fexro.project.papers import Papers
from fexro.project.records import Record, Text, Title
from fexro.project.storey import GridLine, Storey
from fexro.project.takings import Taking
from fexro.project.values import Values
from fexro.project.walls import Wall
from fexro.project.weights import weights

__all__ = ["FORCES", "FORMAT", "VERSION", "Project"]

FORMAT: Final = "fexro project"
VERSION: Final = 9
FORCES = (
    "case_forces",
    "factored_forces",
    "former_case_forces",
    "former_factored_forces",
)  # what a file keeps apart


class Project(Record):
    """A building's columns; nothing in it changes, an edit makes another."""

    model_config = ConfigDict(arbitrary_types_allowed=True)

    format: Literal["fexro project"] = FORMAT
    version: Literal[9] = VERSION
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
    groups: Annotated[tuple[Group, ...], FailFast()] = ()
    sections: Annotated[tuple[NamedSection, ...], FailFast(), Field(max_length=500)] = ()
    grid: Annotated[tuple[GridLine, ...], FailFast()] = ()
    mappings: Annotated[tuple[ForcesMapping, ...], FailFast()] = ()
    lift_loads: Annotated[tuple[LiftLoad, ...], FailFast()] = ()
    span_forces: Annotated[tuple[SpanForces, ...], FailFast()] = ()
    beams: Annotated[tuple[FramingBeam, ...], FailFast()] = ()
    walls: Annotated[tuple[Wall, ...], FailFast(), Field(max_length=500)] = ()
    bearing_walls: Annotated[tuple[BearingWall, ...], FailFast(), Field(max_length=500)] = ()
    papers: Papers = Papers()
    takings: Annotated[
        tuple[Taking, ...], FailFast(), Field(description="from the first to the last")
    ] = ()
    case_forces: Annotated[Forces, WithJsonSchema({})] = Field(default_factory=Forces, exclude=True)
    factored_forces: Annotated[Forces, WithJsonSchema({})] = Field(
        default_factory=Forces, exclude=True
    )
    # What the last taking took the place of.
    former_case_forces: Annotated[Forces, WithJsonSchema({})] = Field(
        default_factory=Forces, exclude=True
    )
    former_factored_forces: Annotated[Forces, WithJsonSchema({})] = Field(
        default_factory=Forces, exclude=True
    )

    def lifts(self) -> Iterator[tuple[LiftKey, LiftModel]]:
        """Yield every lift with its key, complete, mark by mark."""
        yield from self.by_key.items()

    def inherited(self, mark: Mark, lift: LiftRecord) -> Values:
        """Return the values that a lift has without any of its own."""
        # Verified projects have its storey; others are not asked.
        storey = self.storey_by_name.get(lift.storey)
        values = self.basis.values if storey is None else self.basis.values.over(storey.own)
        return values.over(mark.own)

    def origin(self, key: LiftKey, field: str) -> str:
        """Return what a lift has a value from: itself, its `mark`, its `storey` or the `project`.

        Args:
            key: an existing lift.
            field: the name of an inherited value.
        """
        if field in self.record_by_key[key].own.given:
            return "lift"
        if field in self.mark_by_name[key.mark].own.given:
            return "mark"
        return "storey" if field in self.storey_by_name[key.storey].own.given else "project"

    @cached_property
    def by_key(self) -> Mapping[LiftKey, LiftModel]:
        """All lifts by mark and storey."""
        return {key: lift for key, (_, lift) in self._completed.items()}

    @cached_property
    def _completed(self) -> dict[LiftKey, tuple[tuple[Record | None, ...], LiftModel]]:
        """All lifts with what they are made of; an edit leaves most of them as they are."""
        earlier = vars(self).get("_earlier", {})
        own = {storey.name: storey.own for storey in self.storeys}
        found = {}
        for mark in self.marks:
            for record in mark.lifts:
                key = LiftKey(mark.name, record.storey)
                parts = record, mark.own, own.get(record.storey), self.basis.values
                kept = earlier.get(key)
                if kept is None or any(a is not b for a, b in zip(kept[0], parts, strict=True)):
                    kept = parts, record.complete(self.inherited(mark, record))
                found[key] = kept
        return found

    @cached_property
    def storey_by_name(self) -> Mapping[str, Storey]:
        """All storeys by name."""
        return {storey.name: storey for storey in self.storeys}

    @cached_property
    def storey_place(self) -> Mapping[str, int]:
        """Where each storey is, from the highest."""
        return {storey.name: i for i, storey in enumerate(self.storeys)}

    @cached_property
    def passing(self) -> frozenset[str]:
        """The marks that pass some floor which does not hold them."""
        return frozenset(
            mark.name for mark in self.marks if any(lift.unsupported for lift in mark.lifts)
        )

    @cached_property
    def mark_by_name(self) -> Mapping[str, Mark]:
        """All marks by name."""
        return {mark.name: mark for mark in self.marks}

    @cached_property
    def columns(self) -> tuple[Mark, ...]:
        """The marks that are column stacks."""
        return tuple(mark for mark in self.marks if mark.kind == "column")

    @cached_property
    def column_keys(self) -> frozenset[LiftKey]:
        """The lifts of columns."""
        return frozenset(
            LiftKey(mark.name, lift.storey) for mark in self.columns for lift in mark.lifts
        )

    @cached_property
    def record_by_key(self) -> Mapping[LiftKey, LiftRecord]:
        """All lifts as the file has them, by mark and storey."""
        return {LiftKey(mark.name, lift.storey): lift for mark in self.marks for lift in mark.lifts}

    @cached_property
    def group_by_key(self) -> Mapping[LiftKey, Group]:
        """The group of each lift that is in one."""
        return {key: group for group in self.groups for key in group.members}

    @cached_property
    def concrete_by_name(self) -> Mapping[str, ConcreteGrade]:
        """All concretes by name."""
        return {concrete.name: concrete for concrete in self.concretes}

    @cached_property
    def steel_by_name(self) -> Mapping[str, SteelGrade]:
        """All steels by name."""
        return {steel.name: steel for steel in self.steels}

    @cached_property
    def case_by_name(self) -> Mapping[str, LoadCase]:
        """All load cases by name."""
        return {case.name: case for case in self.cases}

    @cached_property
    def floor_shares(self) -> Mapping[LiftKey, FloatArray]:
        """The share of each case that stays, (K,), for lifts where any is less."""
        return floor_shares(self)

    @cached_property
    def lifts_between(self) -> frozenset[LiftKey]:
        """The lifts with loads, or moments that are given, between their ends."""
        loads, spans = self.lift_loads, self.span_forces
        return frozenset([*(load.key for load in loads), *(span.key for span in spans)])

    @cached_property
    def beams_by_key(self) -> Mapping[LiftKey, tuple[FramingBeam, ...]]:
        """The beams at the floor above each lift that has any."""
        found: dict[LiftKey, list[FramingBeam]] = {}
        for beam in self.beams:
            found.setdefault(beam.key, []).append(beam)
        return {key: tuple(beams) for key, beams in found.items()}

    @cached_property
    def weights(self) -> Mapping[LiftKey, tuple[int, float, float]]:
        """Column of the case that counts self-weight, weight above and own weight of lifts, kN."""
        return weights(self)

    @cached_property
    def combining(self) -> Combining:
        """How its combinations are made."""
        return combining(
            [c for c in self.combinations if c.for_strength],
            self.cases,
            self.case_forces.columns,
            self.factored_forces.columns,
        )

    def changed(self, **fields: Any) -> Project:
        """Return the project with other values in some of its fields."""
        kept = {name: getattr(self, name) for name in type(self).model_fields}
        # Made from what is valid; nothing that was worked out from the old values is taken over
        # but lifts that are the same records.
        changed = type(self).model_construct(**{**kept, **fields})
        vars(changed)["_earlier"] = vars(self).get("_completed") or vars(self).get("_earlier", {})
        return changed
