"""Beams that frame into columns, the drift of storeys, and walls that brace a building."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import FailFast, Field

from fexro.project.column import LiftKey
from fexro.project.records import Name, Number, Record
from fexro.project.section import BarsCallOut

__all__ = ["BracingModel", "DriftModel", "FramingBeam", "Side", "WallModel"]

Side = Literal["+x", "-x", "+y", "-y"]
Moment = Annotated[Number, Field(gt=0, le=1e6, description="kN·m")]
Size = Annotated[Number, Field(gt=10, le=20_000, description="mm")]


class FramingBeam(Record):
    """A beam, or a strip of a slab, that frames into a stack at the floor above a lift.

    Attributes:
        mark, storey: the stack, and the storey whose floor it is.
        side: of the column, in plan.
        kind: by which a code takes it as cracked.
        width, depth: of its section, mm.
        span: to its far end, m.
        far_end: how it is held there.
        cracked: share of the gross stiffness that stays, in place of the code's.
        concrete: its grade; that of the lift where there is none.
        top, bottom: bars next to the column as a call-out, or the moment with tension there, kN·m;
            nothing where it is not known.
    """

    mark: Name
    storey: Name
    side: Side
    kind: Literal["beam", "slab"] = "beam"
    width: Size
    depth: Size
    span: Annotated[Number, Field(gt=0.2, le=100, description="m")]
    far_end: Literal["fixed", "pinned"] = "fixed"
    cracked: Annotated[Number, Field(gt=0, le=1)] | None = None
    concrete: Name | None = None
    top: BarsCallOut | Moment | None = None
    bottom: BarsCallOut | Moment | None = None

    @property
    def key(self) -> LiftKey:
        """The lift at whose top it is."""
        return LiftKey(self.mark, self.storey)

    @property
    def axis(self) -> Literal["x", "y"]:
        """The direction of the plan that it runs in."""
        return "x" if self.side.endswith("x") else "y"


class DriftModel(Record):
    """First-order drift of a storey against the floor below, and the storey shear behind it.

    Attributes:
        drift: mm.
        shear: kN.
    """

    drift: Annotated[Number, Field(gt=0, le=10_000, description="mm")]
    shear: Annotated[Number, Field(gt=0, le=1e7, description="kN")]


class WallModel(Record):
    """A wall that braces: its length and thickness, mm."""

    length: Annotated[Number, Field(gt=100, le=100_000, description="mm")]
    thickness: Annotated[Number, Field(gt=50, le=5_000, description="mm")]


class BracingModel(Record):
    """Walls that brace the building in a direction.

    Attributes:
        walls: the walls.
        cracked: whether they are taken as cracked.
        concrete: their grade; that of the project where there is none.
        axial: all vertical load of the building, kN; that of the columns where there is none.
    """

    walls: Annotated[tuple[WallModel, ...], FailFast(), Field(min_length=1, max_length=200)]
    cracked: bool = True
    concrete: Name | None = None
    axial: Annotated[Number, Field(gt=0, le=1e9, description="kN")] | None = None
