"""Facts of the transverse reinforcement of a column lift. Lengths in mm."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from fexro.core.section.bars import BarSize

__all__ = ["ZONES", "Transverse", "TransverseKind", "Zone"]

TransverseKind = Literal["ties", "spiral", "circular ties", "circular hoops"]
Zone = Literal["end", "middle", "lap"]
ZONES: tuple[Zone, ...] = ("end", "middle", "lap")


@dataclass(frozen=True)
class Transverse:
    """Ties or a spiral of a lift.

    Attributes:
        kind: what they are; hoops are ties with the hooks that a ductile frame asks for.
        size: of the bar.
        yield_strength: of its steel, MPa.
        middle: spacing between the end zones; of a spiral its pitch.
        end: spacing in the end zones; nothing where it is as in the middle.
        lap: spacing where bars are lapped; nothing where it is as in the zone it is in.
        legs: how many run along x and along y; of circular ties two.
        held: whether each bar is held by a corner or a hook, in the order of the bars.
        first: distance of the first tie from the slab or the face of the joint, if it is known.
    """

    kind: TransverseKind
    size: BarSize
    yield_strength: float
    middle: float
    end: float | None = None
    lap: float | None = None
    legs: tuple[float, float] = (2.0, 2.0)
    held: tuple[bool, ...] = ()
    first: float | None = None

    @property
    def spiral(self) -> bool:
        """Whether it is a spiral."""
        return self.kind == "spiral"

    @property
    def circular(self) -> bool:
        """Whether each tie is a circle."""
        return self.kind != "ties"

    @cached_property
    def spacings(self) -> dict[Zone, float]:
        """The spacings of the zones that there are."""
        given = {"end": self.end, "middle": self.middle, "lap": self.lap}
        return {zone: value for zone in ZONES if (value := given[zone]) is not None}

    def spacing(self, zone: Zone) -> float:
        """Return the spacing in a zone; that of the middle where it has none of its own."""
        return self.spacings.get(zone, self.middle)

    @property
    def at_ends(self) -> float:
        """The spacing next to the joints: of the end zone, else of the laps, else of the middle."""
        return self.spacings.get("end", self.spacing("lap"))

    def leg_area(self, axis: int) -> float:
        """Return the area of the legs of one tie along x (0) or y (1), mm²."""
        return self.legs[axis] * self.size.area

    def all_held(self) -> bool:
        """Return whether every bar is held."""
        return all(self.held)
