"""Column stacks and their lifts: as the file has them, and complete with what they inherit."""

from __future__ import annotations

from typing import Annotated, Literal, NamedTuple

from pydantic import FailFast, Field

from fexro.project.profiles import SteelParts
from fexro.project.records import Name, Number, Record
from fexro.project.section import (
    BarsCallOut,
    DiagonalBars,
    PlacedBars,
    PlacedTies,
    SectionModel,
    TiesCallOut,
)
from fexro.project.shapes import Shape
from fexro.project.sizing_rules import OwnSizing
from fexro.project.values import NOTHING, OwnValues, Values

__all__ = [
    "REINFORCEMENT",
    "Axis",
    "Group",
    "LiftKey",
    "LiftModel",
    "LiftRecord",
    "Mark",
    "Member",
    "MemberKind",
]

Axis = Literal["x", "y"]
Metres = Annotated[Number, Field(ge=-10_000, le=10_000, description="m")]


class LiftKey(NamedTuple):
    """Names one lift."""

    mark: str
    storey: str

    def __str__(self) -> str:
        return f"{self.mark} · {self.storey}"


class Member(Record):
    """A column stack, or one lift of it."""

    mark: Name
    storey: Name | None = None

    def covers(self, key: LiftKey) -> bool:
        """Tell whether a lift is meant."""
        return self.mark == key.mark and self.storey in (None, key.storey)

    def __str__(self) -> str:
        return self.mark if self.storey is None else f"{self.mark} · {self.storey}"


# What lifts of a group have alike.
REINFORCEMENT = ("bars", "ties", "placed", "inner_ties", "hoops", "diagonals")


class LiftRecord(Record):
    """A column between two floors, as the file has it.

    Attributes:
        storey: where it is.
        shape, bars, ties: its section.
        placed: its bars where they are placed by hand.
        profiles: structural steel inside the concrete.
        inner_ties: ties inside the outer one, where they are placed by hand.
        named: the section that the project keeps, which this lift shares; nothing where it has its
            own.
        own: the values that it does not inherit.
        unsupported: directions in which the floor at its top does not hold it.
        kept: whether its bars and ties are kept by hand: no run changes them.
        sizing: rules by which bars are proposed that differ from those of the project.
        hoops: around the bars of the free ends of a wall, whose horizontal bars are the ties.
        diagonals: of a coupling beam.
    """

    storey: Name
    shape: Shape
    bars: BarsCallOut
    ties: TiesCallOut
    placed: PlacedBars = ()
    profiles: SteelParts = ()
    inner_ties: PlacedTies | None = None
    named: Name | None = None
    own: OwnValues = NOTHING
    unsupported: Annotated[tuple[Axis, ...], Field(max_length=2)] = ()
    kept: bool = False
    sizing: OwnSizing | None = None
    hoops: TiesCallOut | None = None
    diagonals: DiagonalBars | None = None

    def complete(self, inherited: Values) -> LiftModel:
        """Return the lift with what it inherits."""
        # Both are valid, so that what is made of them is.
        values = inherited.over(self.own)
        section = SectionModel.model_construct(
            shape=self.shape,
            cover=values.cover,
            bars=self.bars,
            ties=self.ties,
            placed=self.placed,
            profiles=self.profiles,
            inner_ties=self.inner_ties,
            hoops=self.hoops,
            diagonals=self.diagonals,
        )
        return LiftModel.model_construct(
            storey=self.storey, section=section, values=values, unsupported=self.unsupported
        )


class LiftModel(Record):
    """A column between two floors with all its values.

    Attributes:
        storey: where it is.
        section: shape, cover, bars and ties.
        values: what it rests on, inherited or its own; the cover is that of the section.
        unsupported: directions in which the floor at its top does not hold it.
    """

    storey: Name
    section: SectionModel
    values: Values
    unsupported: tuple[Axis, ...] = ()

    @property
    def concrete(self) -> str:
        """Name of its concrete."""
        return self.values.concrete

    @property
    def steel(self) -> str:
        """Name of the steel of its bars."""
        return self.values.steel

    def with_values(self, **values: object) -> LiftModel:
        """Return the lift with other values."""
        changed = self.values.model_copy(update=values)
        section = self.section.model_copy(update={"cover": changed.cover})
        return self.model_copy(update={"values": changed, "section": section})

    def with_bars(self, bars: str, ties: str | None = None) -> LiftModel:
        """Return the lift with bars and ties laid out by call-outs; without, its ties' own."""
        return self.model_copy(update={"section": self.section.with_bars(bars, ties)})

    def record(self, inherited: Values, before: OwnValues, named: str | None = None) -> LiftRecord:
        """Return the lift as the file has it.

        Args:
            inherited: what it would have without values of its own.
            before: its own values until now; they stay its own where they do not change.
            named: the section that it shares.
        """
        values = self.values.model_copy(update={"cover": self.section.cover})
        return LiftRecord(
            storey=self.storey,
            shape=self.section.shape,
            bars=self.section.bars,
            ties=self.section.ties,
            placed=self.section.placed,
            profiles=self.section.profiles,
            inner_ties=self.section.inner_ties,
            hoops=self.section.hoops,
            diagonals=self.section.diagonals,
            named=named,
            own=values.beyond(inherited, before),
            unsupported=self.unsupported,
        )


MemberKind = Literal["column", "wall panel", "coupling beam", "bearing wall"]


class Mark(Record):
    """A column stack; or a stack of panels, coupling beams or strips of a wall.

    Attributes:
        name: its mark.
        kind: what its lifts are.
        wall: the wall that its panels or beams are part of.
        lifts: from the highest to the lowest.
        place: of its centroid in plan, m; nothing where it is not placed.
        angle: from the x of the plan to that of its sections, degrees.
        own: the values that its lifts do not inherit from project and storey.
        floor_area: of a floor that it carries, m²; that of the load case where there is none.
    """

    name: Name
    lifts: Annotated[tuple[LiftRecord, ...], FailFast()]
    place: tuple[Metres, Metres] | None = None
    angle: Annotated[Number, Field(ge=-360, le=360, description="degrees")] = 0.0
    own: OwnValues = NOTHING
    floor_area: Annotated[Number, Field(ge=0, le=10_000, description="m²")] | None = None
    kind: MemberKind = "column"
    wall: Name | None = None


class Group(Record):
    """Lifts that carry the same bars and ties."""

    name: Name
    members: Annotated[tuple[LiftKey, ...], Field(min_length=2), FailFast()]
