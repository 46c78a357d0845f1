"""Bar sizes that a project uses: those on offer, and its own."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from typing import Annotated, Self

from pydantic import FailFast, Field, model_validator

from fexro.core.section.bars import BarSize
from fexro.project.records import Name, Number, Record

__all__ = ["BarsOnOffer", "OwnBar", "PlacedBar", "call_out_of", "sizes_by_name"]


class OwnBar(Record):
    """A bar size that no standard has: nominal diameter, mm, and area, mm²."""

    name: Annotated[Name, Field(max_length=8, pattern=r"^[A-Za-z]{1,3}[0-9]{1,3}$")]
    diameter: Annotated[Number, Field(ge=4, le=80, description="mm")]
    area: Annotated[Number, Field(gt=0, le=6000, description="mm²")]

    def size(self) -> BarSize:
        """Return the size the core computes with."""
        return BarSize(self.name, self.diameter, self.area)


def sizes_by_name(own: Iterable[OwnBar]) -> dict[str, BarSize]:
    """Return the sizes that no standard has, by name in capitals."""
    return {bar.name.upper(): bar.size() for bar in own}


class PlacedBar(Record):
    """A bar placed by hand: its place, mm, and its size by name or by area, mm².

    Attributes:
        bundle: number of the bundle that it is of, if it is of one.
    """

    x: Annotated[Number, Field(ge=-100_000, le=100_000, description="mm")]
    y: Annotated[Number, Field(ge=-100_000, le=100_000, description="mm")]
    size: Name | None = None
    area: Annotated[Number, Field(gt=0, le=6000, description="mm²")] | None = None
    bundle: Annotated[int, Field(ge=0, le=1000)] | None = None

    @model_validator(mode="after")
    def _sized(self) -> Self:
        if (self.size is None) is (self.area is None):
            raise ValueError("a size by its name, or an area")
        return self

    @property
    def called(self) -> str:
        """Its size as a call-out has it."""
        return f"{self.area:g} mm²" if self.size is None else self.size


def call_out_of(placed: Sequence[PlacedBar]) -> str:
    """Return bars placed by hand as a call-out: how many of each size, in the order of placing."""
    counts = Counter(bar.called for bar in placed)
    return " + ".join(f"{count} {size}" for size, count in counts.items())


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
