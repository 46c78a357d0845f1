"""A cross-section: outline, concretes, structural steel, bars and ties. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.section.areas import ConcreteArea, EmbeddedSteel, areas_of_bars, concrete_areas
from fexro.core.section.bars import Bars, Ties
from fexro.core.section.outline import Outline

if TYPE_CHECKING:
    import shapely

__all__ = ["Misplaced", "Section", "eroded", "misplaced_bars"]


@dataclass(frozen=True)
class Misplaced:
    """A bar that has no place where it is.

    Attributes:
        bar: its number from 0.
        found, allowed: what is wrong, and what would be right.
        other: number of the bar it overlaps with.
    """

    bar: int
    found: str
    allowed: str
    other: int | None = None

    @property
    def where(self) -> str:
        """The bar, or both, counted from 1."""
        if self.other is None:
            return f"bar {self.bar + 1}"
        return f"bars {self.other + 1} and {self.bar + 1}"


@dataclass(frozen=True, eq=False)
class Section:
    """A reinforced concrete cross-section.

    Attributes:
        outline: of the concrete.
        bars: those along the member.
        ties: those across it.
        cover: clear cover to the ties, mm.
        round: whether it is a circle, whose outline is a polygon of many corners.
        cornered: the corners that ties go round, (V, 2); without, those of the outline.
        smooth: whether its outer edge has arcs, so that no corner needs a bar.
        by_hand: whether its bars were placed one by one.
        misplaced: bars placed by hand that have no place where they are, with the reason.
        steel: structural steel inside the concrete.
        zones: what each concrete covers, by its name; empty where there is one.
        inner_ties: how many bars there were when ties were placed by hand, and the bars that each
            goes round; nothing where they are by rule.
    """

    outline: Outline
    bars: Bars
    ties: Ties
    cover: float
    round: bool = False
    cornered: FloatArray | None = None
    smooth: bool = False
    by_hand: bool = False
    misplaced: tuple[Misplaced, ...] = ()
    steel: tuple[EmbeddedSteel, ...] = ()
    zones: Mapping[str | None, shapely.Geometry] = field(default_factory=dict)
    inner_ties: tuple[int, tuple[tuple[int, ...], ...]] | None = None

    @cached_property
    def diameter(self) -> float:
        """Of a circle, solid or hollow: that of its outer edge, mm."""
        x, y = self.outline.rings[0].T
        area = abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2
        return math.sqrt(4 * area / math.pi)

    @property
    def walls(self) -> float:
        """Of a circle, what of its diameter is concrete: twice the wall of a hollow one, mm."""
        if len(self.outline.rings) == 1:
            return self.diameter
        void = math.pi / 4 * self.diameter**2 - self.outline.area
        return self.diameter - math.sqrt(max(4 * void / math.pi, 0.0))

    @property
    def uniform(self) -> bool:
        """Whether it is of one concrete, without structural steel."""
        return not self.steel and not self.zones

    @cached_property
    def concretes(self) -> tuple[ConcreteArea, ...]:
        """The areas of each concrete, less what structural steel displaces."""
        return concrete_areas(self.outline, self.zones, self.steel)

    @cached_property
    def steel_area(self) -> float:
        """Area of the structural steel, mm²."""
        return sum(part.outline.area for part in self.steel)

    def steel_cover(self, part: EmbeddedSteel) -> float:
        """Return the least distance from a profile to the outer face of the concrete, mm."""
        import shapely

        return float(part.outline.polygon.distance(shapely.LinearRing(self.outline.rings[0])))

    @cached_property
    def bar_areas(self) -> IntArray:
        """For each bar which of the areas of concretes it stands in, (B,)."""
        return areas_of_bars(self.concretes, self.bars)

    @cached_property
    def around(self) -> IntArray:
        """The bars of the outer layer in their order along the outer edge.

        Of the outer layer are those nearer to the ties than one and a half of their diameters.
        """
        import shapely

        edge = shapely.LinearRing(self.outline.rings[0])
        points = shapely.points(self.bars.x, self.bars.y)
        depth = shapely.distance(points, edge) - self.bars.diameter / 2
        depth -= self.cover + self.ties.size.diameter
        outer = np.flatnonzero(depth <= 1.5 * self.bars.diameter)
        along = shapely.line_locate_point(edge, points[outer])
        order: IntArray = outer[np.argsort(along, kind="stable")]
        return order

    @property
    def corner_count(self) -> int:
        """How many corners need a bar: none where the edge is smooth."""
        if self.smooth or self.round:
            return 0
        return len(self.outline.rings[0] if self.cornered is None else self.cornered)

    @cached_property
    def tie_ring(self) -> FloatArray | None:
        """The centre line of the outer tie, inside the edge by its cover, (V, 2)."""
        within = eroded(self.outline, self.cover + self.ties.size.diameter / 2)
        if within.geom_type != "Polygon" or within.is_empty:
            return None
        ring: FloatArray = np.asarray(within.exterior.coords)[:-1]
        return ring

    @property
    def corners(self) -> tuple[int, ...]:
        """How many vertices each ring has; where it is not uniform, of what, with how many bars."""
        if self.uniform:
            return tuple(map(len, self.outline.rings))
        outlines = [area.outline for area in self.concretes]
        outlines += [part.outline for part in self.steel]
        bars = np.bincount(self.bar_areas, minlength=len(self.concretes))
        counts = [count for one in outlines for count in (*map(len, one.rings), 0)]
        return (*counts, *bars.tolist())


def eroded(outline: Outline, inset: float) -> shapely.Geometry:
    """Return the area inside the outer edge by an inset; voids are filled."""
    import shapely

    return shapely.Polygon(outline.rings[0]).buffer(-inset, join_style="mitre", mitre_limit=20.0)


def misplaced_bars(section: Section, *, openings: bool = False) -> tuple[Misplaced, ...]:
    """Return the bars that are outside the concrete, have too little cover, or overlap.

    What they overlap with are other bars or structural steel.

    Args:
        section: the section.
        openings: whether bars need their cover to openings too.
    """
    import shapely

    outline, bars, inset = section.outline, section.bars, section.cover
    inset += section.ties.size.diameter
    concrete = outline.polygon
    points, radius = shapely.points(bars.x, bars.y), bars.diameter / 2
    edge = shapely.distance(points, concrete.boundary) - radius
    # A circle's polygon lies within a fifth of a thousandth of the circle.
    slack = 1e-3 * max(outline.bounds[2] - outline.bounds[0], outline.bounds[3] - outline.bounds[1])
    face = shapely.distance(points, shapely.LinearRing(outline.rings[0])) - radius
    wrong = ~shapely.contains(concrete, points) | (edge < -1e-6) | (face < inset - slack)
    found = [
        Misplaced(
            int(i),
            f"a bar at ({bars.x[i]:.0f}, {bars.y[i]:.0f}) mm that is not inside the concrete"
            " with its cover",
            "bars inside the concrete; reduce the cover or enlarge the section",
        )
        for i in np.flatnonzero(wrong)
    ]
    for ring in section.outline.rings[1:] if openings else ():
        near = shapely.distance(points, shapely.LinearRing(ring)) - radius
        allowed = f"{section.cover:g} mm of cover to openings"
        found += [
            Misplaced(int(bar), f"{near[bar]:.0f} mm between a bar and an opening", allowed)
            for bar in np.flatnonzero(~wrong & (near < section.cover - slack))
        ]
    for number, part in enumerate(section.steel, 1):
        inside = shapely.distance(points, part.outline.polygon) < radius - 1e-6
        found += [
            Misplaced(int(i), f"an overlap with steel {number}", "bars beside the steel")
            for i in np.flatnonzero(inside)
        ]
    if bars.closest.least >= -1e-6:
        return tuple(found)
    distance, _ = bars.pairs()
    pairs = np.argwhere(np.triu(distance < -1e-6))
    for i, j in sorted(pairs.tolist(), key=lambda pair: distance[pair[0], pair[1]]):
        found.append(
            Misplaced(
                j,
                f"an overlap of {-distance[i, j]:.0f} mm",
                "bars that do not overlap; use fewer or smaller bars",
                i,
            )
        )
    return tuple(found)
