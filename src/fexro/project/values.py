"""Values that lifts inherit: project, then storey, then mark, then the lift itself."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field, SerializerFunctionWrapHandler, model_serializer

from fexro.project.records import Name, Number, Record

__all__ = ["INHERITED", "NOTHING", "Aggregate", "Cover", "Direction", "OwnValues", "Values"]

Cover = Annotated[Number, Field(ge=10, le=300, description="mm, to the ties")]
Aggregate = Annotated[Number, Field(ge=4, le=80, description="mm")]


class Direction(Record):
    """How the building resists sway along a direction of the plan.

    Attributes:
        frame: what resists.
        ductility: the class it is detailed for; each design code has its own word for it.
        sway: whether columns take part in sway, or the rule of the code that decides it.
    """

    frame: Literal["moment frame", "walls", "dual"] = "moment frame"
    ductility: Literal["low", "medium", "high"] = "low"
    sway: Literal["by rule", "braced", "sway"] = "by rule"


class Values(Record):
    """What a lift rests on, complete; names are those of the project's materials."""

    concrete: Name
    steel: Name
    cover: Cover
    aggregate: Aggregate
    x: Direction = Direction()
    y: Direction = Direction()

    def over(self, own: OwnValues) -> Values:
        """Return the values with those that are given in their place."""
        if own is NOTHING:
            return self
        given = own.given
        return self.model_copy(update=given) if given else self


class OwnValues(Record):
    """Values of a storey, a mark or a lift that differ from what it would inherit."""

    concrete: Name | None = None
    steel: Name | None = None
    cover: Cover | None = None
    aggregate: Aggregate | None = None
    x: Direction | None = None
    y: Direction | None = None

    @property
    def given(self) -> Mapping[str, Any]:
        """The values that differ, by name."""
        found = {name: getattr(self, name) for name in INHERITED}
        return {name: value for name, value in found.items() if value is not None}

    @model_serializer(mode="wrap")
    def _written(self, write: SerializerFunctionWrapHandler) -> dict[str, Any]:
        return {name: value for name, value in write(self).items() if value is not None}


NOTHING = OwnValues()
INHERITED = tuple(Values.model_fields)
