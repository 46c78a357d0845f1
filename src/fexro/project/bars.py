"""Bar sizes that a project uses: those on offer, and its own."""

from __future__ import annotations

from typing import Annotated

from pydantic import FailFast, Field

from fexro.core.section.bars import BarSize
from fexro.project.records import Name, Number, Record

__all__ = ["BarsOnOffer", "OwnBar"]


class OwnBar(Record):
    """A bar size that no standard has: nominal diameter, mm, and area, mm²."""

    name: Annotated[Name, Field(max_length=8, pattern=r"^[A-Za-z]{1,3}[0-9]{1,3}$")]
    diameter: Annotated[Number, Field(ge=4, le=80, description="mm")]
    area: Annotated[Number, Field(gt=0, le=6000, description="mm²")]

    def size(self) -> BarSize:
        """Return the size the core computes with."""
        return BarSize(self.name, self.diameter, self.area)


class BarsOnOffer(Record):
    """The bar sizes that the project uses: what is proposed is of these.

    Attributes:
        main: names of sizes along members.
        ties: names of sizes across them.
        own: sizes that no standard has.
    """

    main: tuple[Name, ...] = ("D16", "D20", "D25", "D28", "D32", "D36", "D40")
    ties: tuple[Name, ...] = ("D10", "D12", "D16")
    own: Annotated[tuple[OwnBar, ...], FailFast(), Field(max_length=40)] = ()
