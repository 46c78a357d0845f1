"""Where ties stand along a lift: zones of even spacing, and how many ties there are."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.transverse import Transverse

__all__ = ["LARGEST_FIRST", "TieZone", "first_tie", "tie_count", "tie_places", "tie_zones"]

LARGEST_FIRST = 50.0  # mm, from the slab to the first tie, unless half a spacing is less
ROUNDING = 1e-6  # of a space, and mm


@dataclass(frozen=True)
class TieZone:
    """A part of a lift in which ties stand evenly. Lengths in mm.

    Attributes:
        start, end: of its first and its last tie, from the slab below.
        called: spacing that is called out.
    """

    start: float
    end: float
    called: float

    @property
    def spaces(self) -> int:
        """How many there are between its ties."""
        return max(math.ceil((self.end - self.start) / self.called - ROUNDING), 1)

    @property
    def spacing(self) -> float:
        """The spacing that the ties have: even, and no more than is called out."""
        return (self.end - self.start) / self.spaces


def first_tie(transverse: Transverse) -> float:
    """Return how far the first tie is from a slab, mm: half a spacing, and no more than 50 mm."""
    if transverse.first is not None:
        return transverse.first
    return min(transverse.at_ends / 2, LARGEST_FIRST)


def tie_zones(
    transverse: Transverse,
    clear: float,
    end_length: float,
    laps: tuple[float, float] | None = None,
) -> tuple[TieZone, ...]:
    """Return the zones of ties of a lift from the slab below to what is framing in above.

    Each begins where the last ends, so that the tie between two is one of both. Where laps reach
    into other ties, the closer ones count.

    Args:
        transverse: the ties.
        clear: height between slab and what is framing in, mm.
        end_length: of the end zones, from slab and soffit, mm.
        laps: from where to where above the slab, mm; nothing where bars are not lapped.
    """
    lap_low, lap_high = laps or (0.0, 0.0)
    start = min(first_tie(transverse), clear / 2 - ROUNDING)
    stop = clear - start

    def called(place: float) -> float:
        at_end = place < end_length or place > clear - end_length
        spacing = transverse.spacing("end" if at_end else "middle")
        lapped = lap_low < place < lap_high
        return min(spacing, transverse.spacing("lap")) if lapped else spacing

    inner = {end_length, clear - end_length, lap_low, lap_high}
    marks = [start, *sorted(mark for mark in inner if start < mark < stop), stop]
    found: list[TieZone] = []
    for low, high in itertools.pairwise(marks):
        spacing = called((low + high) / 2)
        if found and math.isclose(found[-1].called, spacing):
            low = found.pop().start
        found.append(TieZone(low, high, spacing))
    return tuple(found)


def tie_count(zones: tuple[TieZone, ...]) -> int:
    """Return how many ties, or sets of them, stand in zones."""
    return sum(zone.spaces for zone in zones) + 1


def tie_places(zones: tuple[TieZone, ...]) -> FloatArray:
    """Return where the ties of zones stand, from the slab below, (T,), mm."""
    parts = [np.linspace(zone.start, zone.end, zone.spaces + 1)[1:] for zone in zones]
    return np.concatenate([[zones[0].start], *parts])
