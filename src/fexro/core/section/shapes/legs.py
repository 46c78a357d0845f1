"""A wall, or a core of walls: straight legs about their centre lines. Lengths in mm."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import TYPE_CHECKING, Literal

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.outline import Outline
from fexro.core.section.shapes.shape import Write

if TYPE_CHECKING:
    import shapely

__all__ = ["TOUCH", "Leg", "LegEnd", "Legs"]

TOUCH = 1.0  # mm, up to which legs meet
STEEP = math.sin(math.radians(20))  # of the flattest corner
LEAST_LENGTH = 1.0  # of its thickness


@dataclass(frozen=True)
class LegEnd:
    """How a leg ends.

    Attributes:
        kind: free; in a corner that it runs through, or that another runs through; or against the
            face of another.
        room: from the end of the centre line to where its concrete, apart from another leg's,
            ends: positive where it is shorter.
        sine: of the angle with the other leg.
        skew: how much more room there is for each mm to the left of the leg.
    """

    kind: Literal["free", "through", "against"]
    room: float = 0.0
    sine: float = 1.0
    skew: float = 0.0

    def room_at(self, inset: float, offset: float) -> float:
        """Return the room up to an inset from the other leg's face, beside the centre line."""
        return self.room + inset / self.sine + offset * self.skew


@dataclass(frozen=True)
class Leg:
    """A straight leg: the ends of its centre line and its thickness."""

    x1: float
    y1: float
    x2: float
    y2: float
    thickness: float

    @cached_property
    def start(self) -> FloatArray:
        """Where its centre line begins, (2,)."""
        return np.array([self.x1, self.y1])

    @cached_property
    def end(self) -> FloatArray:
        """Where its centre line ends, (2,)."""
        return np.array([self.x2, self.y2])

    @cached_property
    def run(self) -> float:
        """Length of its centre line."""
        return math.hypot(self.x2 - self.x1, self.y2 - self.y1)

    @cached_property
    def direction(self) -> FloatArray:
        """The unit vector along it, (2,)."""
        found: FloatArray = (self.end - self.start) / self.run
        return found

    @cached_property
    def normal(self) -> FloatArray:
        """The unit vector to its left, (2,)."""
        u = self.direction
        return np.array([-u[1], u[0]])

    @property
    def axis(self) -> int:
        """The axis along which it runs nearest, x (0) or y (1)."""
        u = self.direction
        return 0 if abs(u[0]) >= abs(u[1]) else 1

    @property
    def middle(self) -> FloatArray:
        """The middle of its centre line, (2,)."""
        found: FloatArray = (self.start + self.end) / 2
        return found

    def distance(self, points: FloatArray) -> FloatArray:
        """Return how far points, (..., 2), are from its centre line, (...)."""
        away = points - self.start
        along = np.clip(away @ self.direction, 0, self.run)[..., None]
        found: FloatArray = np.linalg.norm(away - along * self.direction, axis=-1)
        return found


@dataclass(frozen=True)
class Legs:
    """Legs that meet at their ends, or end against one another.

    Where two legs meet in a corner, both reach its outer edge; the bars of one run through it: of
    the one that ends free elsewhere, else of the longer, else of the first; what is symmetric so
    has symmetric bars.

    Raises:
        InputError: for legs without length, at too flat a corner, or that do not all meet.
    """

    legs: tuple[Leg, ...]

    def __post_init__(self) -> None:
        for number, leg in enumerate(self.legs, 1):
            if leg.thickness <= 0:
                found = f"a thickness of {leg.thickness:g} mm"
                raise InputError(f"section, leg {number}", found, "a thickness above 0")
            if leg.run < LEAST_LENGTH * leg.thickness:
                found = f"a length of {leg.run:.0f} mm"
                allowed = f"at least its thickness, {leg.thickness:g} mm"
                raise InputError(f"section, leg {number}", found, allowed)
        if self._area.geom_type != "Polygon":
            found = "legs that do not meet"
            raise InputError("section, legs", found, "legs that meet at ends or end at another")

    def __hash__(self) -> int:
        return hash(self.legs)

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        thick = sorted({leg.thickness for leg in self.legs}, reverse=True)
        thicknesses = ", ".join(map(write, thick))
        if len(self.legs) == 1:
            return f"wall {write(self.lengths[0])} × {thicknesses}"
        x0, y0, x1, y1 = self._area.bounds
        kind = "core" if self._area.interiors else f"{len(self.legs)} legs"
        return f"{kind} {write(x1 - x0)} × {write(y1 - y0)} / {thicknesses}"

    @cached_property
    def lengths(self) -> tuple[float, ...]:
        """Length of each leg with its corners: what counts as ℓw of it."""
        return tuple(high - low for low, high in map(self.span, range(len(self.legs))))

    def span(self, number: int) -> tuple[float, float]:
        """Return from where to where a leg reaches with its corners, along from its start."""
        low, high = (min(self._reach(number, at), 0.0) for at in (0, 1))
        return low, self.legs[number].run - high

    def ends(self, number: int) -> tuple[LegEnd, LegEnd]:
        """Return how a leg ends at its start and at its end."""
        return self._ends[number]

    @cached_property
    def _ends(self) -> tuple[tuple[LegEnd, LegEnd], ...]:
        found = []
        for number, leg in enumerate(self.legs):
            both = []
            for point, out in ((leg.start, -leg.direction), (leg.end, leg.direction)):
                other = self._met(number, point)
                if other is None:
                    both.append(LegEnd("free"))
                    continue
                met = self.legs[other]
                sine = self._slope(leg, met)
                half = met.thickness / 2 / sine
                away = met.normal if met.normal @ out > 0 else -met.normal
                skew = round(float(leg.normal @ away), 12) / sine
                through = self._corner(met, point, leg) and self._leads(number, other)
                if through:
                    both.append(LegEnd("through", -half, sine, skew))
                else:
                    both.append(LegEnd("against", half, sine, skew))
            found.append((both[0], both[1]))
        return tuple(found)

    def _reach(self, number: int, at: int) -> float:
        """Return how much shorter than its centre line a leg is at an end, negative if longer."""
        end = self._ends[number][at]
        if end.kind == "free":
            return 0.0
        leg, point = self.legs[number], (self.legs[number].start, self.legs[number].end)[at]
        other = self._met(number, point)
        assert other is not None
        met = self.legs[other]
        return -met.thickness / 2 / self._slope(leg, met) if self._corner(met, point, leg) else 0.0

    def _leads(self, number: int, other: int) -> bool:
        """Tell whether the bars of a leg run through its corner with another."""
        freer = self._free_ends[number] - self._free_ends[other]
        longer = self.legs[number].run - self.legs[other].run
        if freer:
            return freer > 0
        return longer > TOUCH or (abs(longer) <= TOUCH and number < other)

    @cached_property
    def _free_ends(self) -> list[int]:
        return [
            sum(self._met(number, point) is None for point in (leg.start, leg.end))
            for number, leg in enumerate(self.legs)
        ]

    @staticmethod
    def _corner(met: Leg, point: FloatArray, leg: Leg) -> bool:
        away = min(np.hypot(*(point - met.start)), np.hypot(*(point - met.end)))
        return bool(away <= TOUCH + max(leg.thickness, met.thickness) / 2)

    @staticmethod
    def _slope(leg: Leg, met: Leg) -> float:
        """Return the sine of the angle between two legs."""
        u, v = leg.direction, met.direction
        return max(abs(float(u[0] * v[1] - u[1] * v[0])), STEEP)

    def _met(self, number: int, point: FloatArray) -> int | None:
        """Return which leg one ends at in a point, if any."""
        for other, met in enumerate(self.legs):
            if other != number and met.distance(point) <= TOUCH:
                u, v = self.legs[number].direction, met.direction
                if abs(float(u[0] * v[1] - u[1] * v[0])) >= STEEP:
                    return other
        return None

    @property
    def _area(self) -> shapely.Geometry:
        return _area_of(self)

    def concrete_of(self, number: int) -> shapely.Geometry:
        """Return the concrete of a leg, with its parts of corners."""
        import shapely

        leg = self.legs[number]
        u, n, half = leg.direction, leg.normal, leg.thickness / 2
        reach = [0.0, 0.0]
        cuts = []
        for at, point in enumerate((leg.start, leg.end)):
            other = self._met(number, point)
            if other is None or not self._corner(self.legs[other], point, leg):
                continue
            met = self.legs[other]
            reach[at] = (met.thickness + leg.thickness) / self._slope(leg, met)
            cuts.append(self._beyond(leg, met, u if at else -u))
        a, b = leg.start - u * reach[0], leg.end + u * reach[1]
        strip = shapely.Polygon([a - n * half, b - n * half, b + n * half, a + n * half])
        for cut in cuts:
            strip = strip.difference(cut)
        return strip

    @staticmethod
    def _beyond(leg: Leg, met: Leg, outwards: FloatArray) -> shapely.Geometry:
        """Return what is beyond the far face of a leg that is met."""
        import shapely

        side = met.normal if met.normal @ outwards > 0 else -met.normal
        far = 4 * (leg.run + met.run + leg.thickness + met.thickness)
        base = met.middle + side * met.thickness / 2
        v = met.direction * far
        return shapely.Polygon([base - v, base + v, base + v + side * far, base - v + side * far])

    def outline(self) -> Outline:
        """Return the outline."""
        import shapely

        area = shapely.geometry.polygon.orient(shapely.simplify(self._area, 1e-6))
        return Outline(
            (
                np.asarray(area.exterior.coords)[:-1],
                *(np.asarray(ring.coords)[:-1] for ring in area.interiors),
            )
        )

    def corners(self) -> FloatArray | None:
        """Return the corners of the outer edge, (V, 2)."""
        return self.outline().rings[0]


# The panels of a building are made again and again of the same legs.
@lru_cache(maxsize=2048)
def _area_of(legs: Legs) -> shapely.Geometry:
    import shapely

    return shapely.union_all([legs.concrete_of(number) for number in range(len(legs.legs))])
