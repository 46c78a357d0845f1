"""Bearing walls bent out of plane, as the file has them: what stands on them and blows at them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Literal

from pydantic import FailFast, Field

from fexro.project.records import Name, Number, Record

__all__ = ["BearingWall", "FloorLoad", "WallWind"]


class FloorLoad(Record):
    """A load from a floor or roof at the top of a storey.

    Attributes:
        storey: at whose top it acts.
        case: load case.
        value: kN/m; of loads at a spacing kN each.
        eccentricity: from the middle of the wall towards +y of its strip, mm.
        spacing, bearing: of single loads along the wall, mm; 0 where it is a line.
    """

    storey: Name
    case: Name
    value: Annotated[Number, Field(ge=-1e5, le=1e5, description="kN/m, or kN")]
    eccentricity: Annotated[Number, Field(ge=-5_000, le=5_000, description="mm")] = 0.0
    spacing: Annotated[Number, Field(ge=0, le=100_000, description="mm")] = 0.0
    bearing: Annotated[Number, Field(ge=0, le=10_000, description="mm")] = 0.0


class WallWind(Record):
    """Wind across a wall.

    Attributes:
        case: load case.
        wall: pressure on the storeys towards +y of the strip, kN/m².
        parapet: on the parapet, kN/m².
    """

    case: Name
    wall: Annotated[Number, Field(ge=-100, le=100, description="kN/m²")]
    parapet: Annotated[Number, Field(ge=-100, le=100, description="kN/m²")] = 0.0


class BearingWall(Record):
    """A bearing wall as a strip, pinned at each floor and continuous past those between.

    Attributes:
        name: its mark.
        storeys: in which it stands, from the highest.
        length: of the wall, m.
        place: of its middle in plan, m, and the direction in which it runs, degrees from x.
        floors, winds: what acts on it.
        parapet: its height above the roof, m.
        beside: clear width of an opening beside the strip, half of whose loads it takes, m.
        self_weight: load case of the weight of wall and parapet; nothing where it is not counted.
        density: of the wall, kN/m³.
    """

    name: Name
    storeys: Annotated[tuple[Name, ...], Field(min_length=1, max_length=20), FailFast()]
    length: Annotated[Number, Field(gt=0.1, le=1_000, description="m")]
    thickness: Annotated[Number, Field(ge=50, le=2_000, description="mm")] = 200.0
    place: tuple[
        Annotated[Number, Field(ge=-10_000, le=10_000, description="m")],
        Annotated[Number, Field(ge=-10_000, le=10_000, description="m")],
    ] = (0.0, 0.0)
    direction: Literal["x", "y"] = "x"
    floors: Annotated[tuple[FloorLoad, ...], Field(max_length=200), FailFast()] = ()
    winds: Annotated[tuple[WallWind, ...], Field(max_length=20), FailFast()] = ()
    parapet: Annotated[Number, Field(ge=0, le=20, description="m")] = 0.0
    beside: Annotated[Number, Field(ge=0, le=20, description="m")] = 0.0
    self_weight: Name | None = None
    density: Annotated[Number, Field(gt=0, le=100, description="kN/m³")] = 24.0

    def with_storeys(self, names: Mapping[str, str]) -> BearingWall:
        """Return the wall with storeys called otherwise."""
        storeys = tuple(names.get(name, name) for name in self.storeys)
        floors = tuple(
            one.model_copy(update={"storey": names.get(one.storey, one.storey)})
            for one in self.floors
        )
        return self.model_copy(update={"storeys": storeys, "floors": floors})

    def with_cases(self, call: Callable[[str], str]) -> BearingWall:
        """Return the wall with load cases called otherwise."""
        floors, winds = (
            tuple(one.model_copy(update={"case": call(one.case)}) for one in loads)
            for loads in (self.floors, self.winds)
        )
        weight = None if self.self_weight is None else call(self.self_weight)
        update = {"floors": floors, "winds": winds, "self_weight": weight}
        return self.model_copy(update=update)

    def without_storey(self, name: str) -> BearingWall | None:
        """Return the wall without a storey and its loads; nothing where it has no other."""
        storeys = tuple(one for one in self.storeys if one != name)
        floors = tuple(one for one in self.floors if one.storey != name)
        if not storeys:
            return None
        return self.model_copy(update={"storeys": storeys, "floors": floors})
