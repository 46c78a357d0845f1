"""The sides towards which walls bend: the ends and flanges that are compressed there."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from fexro.core.arrays import FloatArray
from fexro.core.codes.wall_checks import axis_of, panel_of
from fexro.core.facts import ColumnFacts
from fexro.core.section.curtains import EndBars
from fexro.core.section.shapes.legs import TOUCH, Leg

__all__ = ["AXES", "SENSES", "SideName", "WallSide", "sides_of"]

AXES = "xy"
SideName = Literal["+x", "-x", "+y", "-y"]
# In which sense a panel bends towards each: +Mx (0), −Mx, +My, −My.
SENSES: dict[SideName, int] = {"+x": 2, "-x": 3, "+y": 0, "-y": 1}


@dataclass(frozen=True, eq=False)
class WallSide:
    """The side of a panel that bending towards it compresses. Lengths in mm."""

    facts: ColumnFacts
    name: SideName

    @property
    def axis(self) -> int:
        """Along which axis the panel is bent, x (0) or y (1)."""
        return AXES.index(self.name[1])

    @property
    def sign(self) -> int:
        """The sign of the axis towards the side."""
        return 1 if self.name[0] == "+" else -1

    @property
    def moments(self) -> int:
        """The column of N, Vx, Vy, T, Mx, My that bends along the axis."""
        return 5 if self.axis == 0 else 4

    @property
    def extent(self) -> float:
        """Length of the section along the axis; of a straight wall along itself."""
        legs = panel_of(self.facts).legs
        if len(legs.legs) == 1:
            return legs.lengths[0]
        x0, y0, x1, y1 = self.facts.section.outline.bounds
        return (x1 - x0, y1 - y0)[self.axis]

    def bent_towards(self, rows: FloatArray) -> FloatArray:
        """Return which forces N, Vx, Vy, T, Mx, My, (D, 6), compress the side."""
        return rows[rows[:, self.moments] * self.sign > 0]

    @cached_property
    def ends(self) -> list[EndBars]:
        """The bars of the free ends at that side of legs along the axis."""
        panel = panel_of(self.facts)
        middle = self.facts.section.outline.centroid[self.axis]
        found = []
        for end in panel.ends:
            leg = panel.legs.legs[end.leg]
            point = leg.end if end.end else leg.start
            if leg.axis == self.axis and (point[self.axis] - middle) * self.sign > 0:
                found.append(end)
        return found

    @cached_property
    def free_legs(self) -> list[int]:
        """The numbers of the legs along the axis that end free at that side."""
        legs = panel_of(self.facts).legs
        middle = self.facts.section.outline.centroid[self.axis]
        return [
            number
            for number, leg in enumerate(legs.legs)
            if leg.axis == self.axis
            for end, point in zip(legs.ends(number), (leg.start, leg.end), strict=True)
            if end.kind == "free" and (point[self.axis] - middle) * self.sign > 0
        ]

    @property
    def free_width(self) -> float:
        """Thickness of all legs that end free at that side."""
        legs = panel_of(self.facts).legs.legs
        return sum(legs[end.leg].thickness for end in self.ends)

    @cached_property
    def webs(self) -> list[Leg]:
        """The legs along the axis."""
        return [leg for leg in panel_of(self.facts).legs.legs if leg.axis == self.axis]

    @cached_property
    def flanges(self) -> list[Leg]:
        """The legs across that form that side."""
        bounds = self.facts.section.outline.bounds
        edge = bounds[self.axis + (2 if self.sign > 0 else 0)]
        return [
            leg
            for leg in panel_of(self.facts).legs.legs
            if leg.axis != self.axis
            and abs(leg.middle[self.axis] - edge) <= leg.thickness / 2 + TOUCH
        ]


def sides_of(facts: ColumnFacts) -> list[WallSide]:
    """Return the sides towards which a panel bends in the planes of its legs."""
    panel = panel_of(facts)
    used = {axis_of(panel, number) for number in range(len(panel.legs.legs))}
    every = [WallSide(facts, name) for name in SENSES]
    return [side for side in every if side.axis in used]
