"""Walls and cores as the file has them: straight lines in plan, openings by size. Places in m."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from pydantic import FailFast, Field

from fexro.project.records import Name, Number, Record

__all__ = ["Opening", "Wall", "WallLine"]

Place = Annotated[Number, Field(ge=-10_000, le=10_000, description="m")]
Size = Annotated[Number, Field(gt=0, le=100, description="m")]


class WallLine(Record):
    """The centre line of a straight wall in plan.

    Attributes:
        x1, y1, x2, y2: its ends, m.
        thickness: of panels that are made on it, mm; each panel has its own from then on.
    """

    x1: Place
    y1: Place
    x2: Place
    y2: Place
    thickness: Annotated[Number, Field(ge=50, le=5_000, description="mm")] = 250.0

    @property
    def length(self) -> float:
        """Its length, m."""
        return float(((self.x2 - self.x1) ** 2 + (self.y2 - self.y1) ** 2) ** 0.5)


class Opening(Record):
    """An opening through a straight wall of a storey.

    Attributes:
        storey: in which it is.
        line: number of the straight wall, from 0.
        at: from the start of its line to the opening, m.
        width, height: of the opening, m.
        sill: from the floor to the opening, m.
    """

    storey: Name
    line: Annotated[int, Field(ge=0, lt=40)]
    at: Annotated[Number, Field(ge=0, le=1_000, description="m")]
    width: Size
    height: Size
    sill: Annotated[Number, Field(ge=0, le=100, description="m")] = 0.0

    @property
    def end(self) -> float:
        """From the start of the line to the far side of the opening, m."""
        return self.at + self.width


class Wall(Record):
    """A straight wall, or a core of several, through some storeys.

    Attributes:
        name: its mark; where openings part it, its piers are called by it and a number.
        lines: its straight walls.
        storeys: in which it stands, from the highest.
        openings: through it.
    """

    name: Name
    lines: Annotated[tuple[WallLine, ...], Field(min_length=1, max_length=40), FailFast()]
    storeys: Annotated[tuple[Name, ...], Field(min_length=1, max_length=500), FailFast()]
    openings: Annotated[tuple[Opening, ...], Field(max_length=2000), FailFast()] = ()

    def with_storeys(self, names: Mapping[str, str]) -> Wall:
        """Return the wall with storeys called otherwise."""
        storeys = tuple(names.get(name, name) for name in self.storeys)
        openings = tuple(
            one.model_copy(update={"storey": names.get(one.storey, one.storey)})
            for one in self.openings
        )
        return self.model_copy(update={"storeys": storeys, "openings": openings})

    def without_storey(self, name: str) -> Wall | None:
        """Return the wall without a storey and its openings; nothing where it has no other."""
        storeys = tuple(one for one in self.storeys if one != name)
        openings = tuple(one for one in self.openings if one.storey != name)
        if not storeys:
            return None
        return self.model_copy(update={"storeys": storeys, "openings": openings})
