"""Reinforcing bars: sizes on the market, bars in their places, and ties."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, parse_quantity, unit_of

__all__ = [
    "IN_LB_SIZES",
    "MAX_BARS",
    "METRIC_SIZES",
    "SIZE",
    "SOFT_METRIC_SIZES",
    "STANDARDS",
    "BarSize",
    "Bars",
    "ClosestBars",
    "Ties",
    "bar_length",
    "bar_size",
    "in_inches",
    "parse_ties",
]

MAX_BARS = 400


@dataclass(frozen=True)
class BarSize:
    """A bar size: its name, nominal diameter (mm) and area (mm²)."""

    name: str
    diameter: float
    area: float


def _metric(diameter: int) -> BarSize:
    return BarSize(f"D{diameter}", float(diameter), math.pi * diameter**2 / 4)


def _in_lb(number: int, diameter: float, area: float) -> BarSize:
    return BarSize(f"#{number}", diameter * 25.4, area * 25.4**2)


METRIC_SIZES = {
    size.name: size for size in map(_metric, (6, 8, 10, 12, 14, 16, 18, 20, 22, 25, 28, 32, 36, 40))
}
# ASTM A615: nominal diameters (in) and areas (in²).
IN_LB_SIZES = {
    size.name: size
    for size in (
        _in_lb(3, 0.375, 0.11),
        _in_lb(4, 0.5, 0.20),
        _in_lb(5, 0.625, 0.31),
        _in_lb(6, 0.75, 0.44),
        _in_lb(7, 0.875, 0.60),
        _in_lb(8, 1.0, 0.79),
        _in_lb(9, 1.128, 1.00),
        _in_lb(10, 1.27, 1.27),
        _in_lb(11, 1.41, 1.56),
        _in_lb(14, 1.693, 2.25),
        _in_lb(18, 2.257, 4.00),
    )
}


# ASTM A615M: the same bars under the diameters in mm that they are near.
SOFT_METRIC_SIZES = {
    f"#{near}M": BarSize(f"#{near}M", size.diameter, size.area)
    for near, size in zip(
        (10, 13, 16, 19, 22, 25, 29, 32, 36, 43, 57), IN_LB_SIZES.values(), strict=True
    )
}
STANDARDS: Mapping[str, Mapping[str, BarSize]] = {
    "metric": METRIC_SIZES,
    "in-lb": IN_LB_SIZES,
    "soft metric": SOFT_METRIC_SIZES,
}


@dataclass(frozen=True)
class Ties:
    """Transverse reinforcement along a lift. Spacings in mm.

    Attributes:
        size: of the bar.
        spacing: between the end zones; of a spiral its pitch.
        spiral: whether it is one.
        end: spacing in the end zones; nothing where it is as between them.
        lap: spacing where bars are lapped; nothing where it is as in the end zones.
    """

    size: BarSize
    spacing: float
    spiral: bool = False
    end: float | None = None
    lap: float | None = None

    @property
    def kind(self) -> str:
        """What they are: `ties` or `spiral`."""
        return "spiral" if self.spiral else "ties"

    def __str__(self) -> str:
        given = (self.end, self.spacing, self.lap)
        inches = in_inches(self.size.name)
        known = [value / 25.4 if inches else value for value in given if value is not None]
        spacings = "/".join(f"{value:g}" for value in known)
        unit = "in" if inches else ""
        return f"{self.size.name}@{spacings}{unit}{' spiral' if self.spiral else ''}"


@dataclass(frozen=True, eq=False)
class ClosestBars:
    """Pairs of bars (P,) that are closest, mm; with fewer than two bars infinitely far.

    Attributes:
        first, second: their numbers.
        clear: clear distances, mm.
        larger: the larger diameter of each pair, mm.
    """

    first: IntArray
    second: IntArray
    clear: FloatArray
    larger: FloatArray

    @property
    def least(self) -> float:
        """The least clear distance, mm."""
        return float(self.clear.min())


@dataclass(frozen=True, eq=False)
class Bars:
    """Bars as arrays (B,): position x, y (mm), area (mm²), diameter (mm).

    Attributes:
        bundle: number of the bundle that each bar is of; nothing where every bar stands alone.
    """

    x: FloatArray
    y: FloatArray
    area: FloatArray
    diameter: FloatArray
    bundle: IntArray | None = None

    def __len__(self) -> int:
        return len(self.x)

    @cached_property
    def total_area(self) -> float:
        """Area of all bars, mm²."""
        return float(self.area.sum())

    def pairs(self) -> tuple[FloatArray, FloatArray]:
        """Return clear distances and larger diameters of all pairs of bars, (B, B), mm.

        A bar is infinitely far from itself and from those of its bundle; of a bundle counts the
        diameter of one bar of the same area.
        """
        across, up = self.x[:, None] - self.x, self.y[:, None] - self.y
        distance: FloatArray = np.sqrt(across * across + up * up)  # many times faster than hypot
        distance -= (self.diameter[:, None] + self.diameter) / 2
        np.fill_diagonal(distance, np.inf)
        if self.bundle is not None:
            distance[self.bundle[:, None] == self.bundle] = np.inf
        return distance, np.maximum(self.equivalent[:, None], self.equivalent)

    @cached_property
    def equivalent(self) -> FloatArray:
        """Diameters, of bundled bars that of one bar with the area of the bundle, (B,), mm."""
        if self.bundle is None:
            return self.diameter
        area = np.bincount(self.bundle, weights=self.area)[self.bundle]
        counts = np.bincount(self.bundle)[self.bundle]
        found: FloatArray = np.where(counts > 1, np.sqrt(4 * area / np.pi), self.diameter)
        return found

    @cached_property
    def closest(self) -> ClosestBars:
        """Of all pairs the closest, one for each diameter that is the larger of a pair."""
        clear, larger = self.pairs()
        found = [
            int(np.where(larger == diameter, clear, np.inf).argmin())
            for diameter in sorted(set(self.equivalent.tolist()))
        ]
        first, second = np.divmod(np.array(sorted(found)), len(self))
        apart, diameter = clear[first, second], larger[first, second]
        some = np.isfinite(apart)
        if not some.any():
            some[:1] = True
        return ClosestBars(first[some], second[some], apart[some], diameter[some])


_NO_SIZES: Mapping[str, BarSize] = {}


def bar_size(name: str, where: str = "bar size", own: Mapping[str, BarSize] = _NO_SIZES) -> BarSize:
    """Return the bar size of a name such as `D25`, `#8` or `#25M`.

    Args:
        name: of the size.
        where: name of the input, for the refusal.
        own: sizes that no standard has, by name in capitals.

    Raises:
        InputError: if there is no such size.
    """
    key = re.sub(r"\s+", "", name).upper()
    # Metric sizes under the letters that the trade has for them.
    if re.fullmatch("[HTNYBØ⌀Φ][0-9]+", key) and key not in own:
        key = f"D{key[1:]}"
    for sizes in (own, *STANDARDS.values()):
        if key in sizes:
            return sizes[key]
    if key.startswith("#"):
        offered = SOFT_METRIC_SIZES if key.endswith("M") else IN_LB_SIZES
    else:
        offered = METRIC_SIZES
    names = ", ".join([*offered, *(size.name for size in own.values())])
    raise InputError(where, f"“{name.strip()}”", f"one of {names}")


SIZE = r"([A-Za-zØø⌀φΦ]{1,3}\s*[0-9]+|#\s*[0-9]+\s*[mM]?)"
INCHES = 40.0  # up to which a bare spacing beside a size by number is in inches; beyond in mm


_TIES = re.compile(rf"\s*{SIZE}\s*@(.*?)(spiral)?\s*")


def parse_ties(text: str, where: str = "ties", own: Mapping[str, BarSize] = _NO_SIZES) -> Ties:
    """Read ties such as `D10@200` (mm), `#4@8in`, `D10@100/200` or `D10@60 spiral`.

    Of two spacings the first is that of the end zones, of three the last that of the laps.

    Args:
        text: the call-out.
        where: name of the input, for the refusal.
        own: sizes that no standard has, by name in capitals.

    Raises:
        InputError: if it is not understood, a spacing is outside 20 to 1000 mm, or a spiral has
            more than one pitch.
    """
    match = _TIES.fullmatch(text)
    if match is None:
        allowed = "ties such as D10@200, D10@100/200, #4@8in or D10@60 spiral"
        raise InputError(where, f"“{text}”", allowed)
    spiral = match[3] is not None
    size = bar_size(match[1].replace(" ", ""), where, own)
    spacings = _spacings(match[2], where, inches=in_inches(size.name))
    if spiral and len(spacings) > 1:
        raise InputError(where, f"a spiral with {len(spacings)} pitches", "one pitch, as D10@60")
    if len(spacings) == 1:
        return Ties(size, spacings[0], spiral)
    return Ties(size, spacings[1], end=spacings[0], lap=spacings[2] if spacings[2:] else None)


def in_inches(name: str) -> bool:
    """Tell whether a size is one by number, whose lengths are in inches."""
    return name.startswith("#") and not name.endswith("M")


def bar_length(text: str, where: str, *, inches: bool) -> float:
    """Read a length beside a bar size, mm; a bare number is in the unit of the size's system.

    A bare number that is no length of bars in inches is in mm, as files have had it.

    Raises:
        InputError: if it is no length.
    """
    bare = unit_of(Dimension.LENGTH, UnitSystem.IN_LB if inches else UnitSystem.SI)
    value = parse_quantity(text, Dimension.LENGTH, UnitSystem.SI, where, bare)
    typed = re.search(r"[^0-9.,\s]", text) is not None
    return value / 25.4 if inches and not typed and value > 25.4 * INCHES else value


def _spacings(text: str, where: str, *, inches: bool) -> list[float]:
    """Read spacings parted by slashes, mm; those without a unit have that of the last."""
    parts = [part.strip() for part in text.split("/")]
    if len(parts) > 3:
        raise InputError(where, f"{len(parts)} spacings", "up to three: ends/between/laps")
    unit = re.sub(r"[0-9.,\s]", "", parts[-1])
    found = []
    for part in parts:
        written = part if re.search(r"[^0-9.,\s]", part) else part + unit
        spacing = bar_length(written, f"{where}, spacing", inches=inches)
        if not 20 <= spacing <= 1000:
            raise InputError(where, f"a spacing of {spacing:g} mm", "20 to 1000 mm")
        found.append(spacing)
    return found
