"""Storeys of a building, and the lines of its grid. Levels, heights and places in m."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from fexro.project.framing import DriftModel
from fexro.project.records import Name, Number, Record
from fexro.project.values import NOTHING, OwnValues

__all__ = ["GridLine", "Storey"]


class Storey(Record):
    """The space below a floor.

    Attributes:
        name: its name.
        level: of the floor, m.
        height: from there to the floor below, m.
        own: the values that its lifts do not inherit from the project.
        drift_x, drift_y: its first-order drift, where it is known.
        other_axial: factored vertical load that other members carry, kN.
    """

    name: Name
    level: Annotated[Number, Field(ge=-1000, le=10_000, description="m")]
    height: Annotated[Number, Field(gt=0.2, le=100, description="m")]
    own: OwnValues = NOTHING
    drift_x: DriftModel | None = None
    drift_y: DriftModel | None = None
    other_axial: Annotated[Number, Field(ge=0, le=1e8, description="kN")] = 0.0


class GridLine(Record):
    """A line of the plan's grid.

    Attributes:
        name: as drawn in its bubble.
        axis: that it is square to: a line at an x, or at a y.
        at: its place on that axis, m.
    """

    name: Name
    axis: Literal["x", "y"]
    at: Annotated[Number, Field(ge=-10_000, le=10_000, description="m")]
