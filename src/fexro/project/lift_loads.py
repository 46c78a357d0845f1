"""Loads on lifts between their ends, and moments between the ends that an analysis gives."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from fexro.project.column import LiftKey
from fexro.project.records import Name, Number, Record

__all__ = ["LiftLoad", "SpanForces"]

Share = Annotated[Number, Field(ge=0, le=1, description="of the height, from the bottom")]


class LiftLoad(Record):
    """A load on a lift beside its end forces.

    Attributes:
        mark, storey: of the lift.
        case: the load case it belongs to.
        kind: along the whole height, at one place, or an axial force beside the axis.
        axis: of the section, towards whose positive side a load across acts.
        value: kN/m along the height, kN at a place; of an axial force kN, compression positive.
        at: place of a single load.
        ex, ey: where an axial force acts, mm from the centroid.
        end: at which it acts there.
    """

    mark: Name
    storey: Name
    case: Name
    kind: Literal["distributed", "point", "axial"]
    axis: Literal["x", "y"] = "x"
    value: Annotated[Number, Field(ge=-1e6, le=1e6)]
    at: Share = 0.5
    ex: Annotated[Number, Field(ge=-1e5, le=1e5, description="mm")] = 0.0
    ey: Annotated[Number, Field(ge=-1e5, le=1e5, description="mm")] = 0.0
    end: Literal["top", "bottom"] = "top"

    @property
    def key(self) -> LiftKey:
        """The lift it acts on."""
        return LiftKey(self.mark, self.storey)


class SpanForces(Record):
    """Forces at a place between the ends of a lift, as an analysis gives them.

    Attributes:
        mark, storey: of the lift.
        name: of the load case, or of the combination whose forces are given factored.
        at: place.
        Mx, My: moments there, kN·m.
        N, Vx, Vy, T: there, kN and kN·m; straight between the ends where they are not given.
    """

    mark: Name
    storey: Name
    name: Name
    at: Share
    Mx: Number
    My: Number
    N: Number | None = None
    Vx: Number | None = None
    Vy: Number | None = None
    T: Number | None = None

    @property
    def key(self) -> LiftKey:
        """The lift it is of."""
        return LiftKey(self.mark, self.storey)
