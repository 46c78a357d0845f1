"""Statics of a strip of a wall bent out of plane between floors. N, mm.

A strip is pinned where it meets a floor and where it ends, and continuous past the floors between.
Places run up from the bottom of each storey. A moment is positive as that of a load across the
span that is positive; a load that stands off the middle of the wall on the side of a positive
eccentricity bends the storey below it positively.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray

__all__ = ["Strip", "StripForces", "StripLoad", "StripStorey", "strip_forces"]


@dataclass(frozen=True)
class StripLoad:
    """A load from a floor on a strip.

    Attributes:
        dead, live: of it, N.
        eccentricity: from the middle of the wall, mm.
    """

    dead: float
    live: float
    eccentricity: float


@dataclass(frozen=True)
class StripStorey:
    """A storey of a strip.

    Attributes:
        height: between floors, mm.
        wind: across it, N/mm.
        loads: at its top.
    """

    height: float
    wind: float
    loads: tuple[StripLoad, ...] = ()


@dataclass(frozen=True)
class Strip:
    """A strip of a wall.

    Attributes:
        storeys: from the lowest.
        weight: of the wall, N/mm of its height.
        parapet: its height above the roof, mm.
        parapet_wind: across it, N/mm.
    """

    storeys: tuple[StripStorey, ...]
    weight: float
    parapet: float = 0.0
    parapet_wind: float = 0.0


@dataclass(frozen=True, eq=False)
class StripForces:
    """Forces along a storey of a strip in each combination, (C,); N, N·mm, mm.

    Attributes:
        height: of the storey.
        wind: across it, N/mm.
        top, bottom: moments at its ends.
        above: axial force at its top, with what stands on it.
        dead_above: the part of that which is dead load.
        weight: of the wall, N/mm of its height.
    """

    height: float
    wind: FloatArray
    bottom: FloatArray
    top: FloatArray
    above: FloatArray
    dead_above: FloatArray
    weight: FloatArray

    def axial(self, place: FloatArray | float) -> FloatArray:
        """Return the axial force at places, (..., C)."""
        return self.above + self.weight * (self.height - np.asarray(place))

    def dead(self, place: FloatArray | float) -> FloatArray:
        """Return the part of the axial force that is dead load, (..., C)."""
        return self.dead_above + self.weight * (self.height - np.asarray(place))

    def shear(self, place: FloatArray | float) -> FloatArray:
        """Return the slope of the moment at places, (..., C)."""
        x, length = np.asarray(place), self.height
        found: FloatArray = self.wind * (length / 2 - x) + (self.top - self.bottom) / length
        return found

    def moment(self, place: FloatArray | float) -> FloatArray:
        """Return the moment at places, (..., C)."""
        x, length = np.asarray(place), self.height
        ends = self.bottom + (self.top - self.bottom) * x / length
        found: FloatArray = self.wind * x * (length - x) / 2 + ends
        return found

    def deflection(self, place: FloatArray | float, stiffness: float) -> FloatArray:
        """Return the deflection at places, (..., C), of a stiffness, N·mm²."""
        x, length = np.asarray(place), self.height
        load = self.wind * x * (length**3 - 2 * length * x**2 + x**3) / 24
        y = length - x
        top = self.top * x * (length**2 - x**2) / (6 * length)
        bottom = self.bottom * y * (length**2 - y**2) / (6 * length)
        found: FloatArray = (load + top + bottom) / stiffness
        return found

    @property
    def zero_shear(self) -> FloatArray:
        """Where the shear vanishes between the ends; not a number where it does not, (C,)."""
        with np.errstate(divide="ignore", invalid="ignore"):
            place = self.height / 2 + (self.top - self.bottom) / (self.wind * self.height)
        inside = np.isfinite(place) & (place >= 0) & (place <= self.height)
        return np.where(inside, place, np.nan)

    @property
    def largest_place(self) -> FloatArray:
        """Where the moment is largest in size, (C,): at an end or where the shear vanishes."""
        between = self.zero_shear
        found = np.isfinite(between)
        span = np.where(found, self.moment(np.where(found, between, 0.0)), 0.0)
        sizes = np.abs(np.stack([self.bottom, self.top, span]))
        places = np.stack([np.zeros_like(self.top), np.full_like(self.top, self.height), between])
        found_at: FloatArray = np.take_along_axis(places, sizes.argmax(axis=0)[None], axis=0)[0]
        return found_at


def strip_forces(strip: Strip, factors: FloatArray) -> list[StripForces]:
    """Return the forces along each storey of a strip, from the lowest.

    The moments at the floors follow from the three-moment equations of a beam of one stiffness.

    Args:
        strip: the strip.
        factors: of dead load, live load and wind in each combination, (C, 3).
    """
    dead, live, wind = np.asarray(factors, float).T
    roof = _floor_moment(strip.storeys[-1].loads, dead, live)
    roof = roof - wind * strip.parapet_wind * strip.parapet**2 / 2
    moments = _support_moments(strip.storeys, dead, live, wind, roof)
    found = []
    weight = dead * strip.weight
    above = dead_above = weight * strip.parapet
    for number in reversed(range(len(strip.storeys))):
        storey = strip.storeys[number]
        above = above + sum(dead * one.dead + live * one.live for one in storey.loads)
        dead_above = dead_above + sum(dead * one.dead for one in storey.loads)
        bottom, top = moments[number]
        found.append(
            StripForces(
                *(storey.height, wind * storey.wind, bottom, top, above, dead_above, weight)
            )
        )
        above, dead_above = above + weight * storey.height, dead_above + weight * storey.height
    return found[::-1]


def _floor_moment(loads: Sequence[StripLoad], dead: FloatArray, live: FloatArray) -> FloatArray:
    """Return what the loads of a floor bend a strip with, (C,)."""
    found = np.zeros_like(dead)
    for one in loads:
        found = found + (dead * one.dead + live * one.live) * one.eccentricity
    return found


def _support_moments(
    storeys: Sequence[StripStorey],
    dead: FloatArray,
    live: FloatArray,
    wind: FloatArray,
    roof: FloatArray,
) -> list[tuple[FloatArray, FloatArray]]:
    """Return the moments at bottom and top of each storey, (C,) each.

    Unknown is the moment just above each floor between; just below it is larger by what the floor
    brings in. The slope of both storeys is the same there.
    """
    inner = len(storeys) - 1
    steps = [_floor_moment(one.loads, dead, live) for one in storeys[:-1]]
    matrix, known = np.zeros((inner, inner)), np.zeros((inner, len(dead)))
    for i in range(inner):
        low, high = storeys[i], storeys[i + 1]
        matrix[i, i] = (low.height + high.height) / 3
        known[i] = -wind * (low.wind * low.height**3 + high.wind * high.height**3) / 24
        known[i] -= steps[i] * low.height / 3
        if i > 0:
            matrix[i, i - 1] = low.height / 6
        if i + 1 < inner:
            matrix[i, i + 1] = high.height / 6
            known[i] -= steps[i + 1] * high.height / 6
        else:
            known[i] -= roof * high.height / 6
    above = np.linalg.solve(matrix, known) if inner else known
    zero = np.zeros_like(dead)
    bottoms = [zero, *above]
    tops = [*(above[i] + steps[i] for i in range(inner)), roof]
    return list(zip(bottoms, tops, strict=True))
