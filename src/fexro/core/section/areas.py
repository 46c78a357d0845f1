"""What a section is made of: areas of concretes and of structural steel. Lengths in mm."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from fexro.core.arrays import IntArray
from fexro.core.errors import InputError
from fexro.core.materials import StructuralSteel
from fexro.core.section.bars import Bars
from fexro.core.section.outline import Outline
from fexro.core.section.profiles import Profile
from fexro.core.section.shapes.composed import placed_ring

if TYPE_CHECKING:
    import shapely

__all__ = [
    "ConcreteArea",
    "EmbeddedSteel",
    "areas_of_bars",
    "concrete_areas",
    "counted_areas",
    "refuse_loose_steel",
]

LEAST = 1.0  # mm²: what is less is a rounding of two edges that meet


@dataclass(frozen=True)
class EmbeddedSteel:
    """A profile of structural steel in its place.

    Attributes:
        profile: what it is.
        material: its grade.
        x, y: where the middle of its bounding box stands, mm.
        angle: by which it is turned anticlockwise, degrees.
        mirrored: whether left and right change places, before it is turned.
    """

    profile: Profile
    material: StructuralSteel
    x: float = 0.0
    y: float = 0.0
    angle: float = 0.0
    mirrored: bool = False

    @cached_property
    def outline(self) -> Outline:
        """Its outline in its place."""
        at = np.array([self.x, self.y])
        rings = self.profile.outline().rings
        return Outline(tuple(placed_ring(ring, self.angle, self.mirrored) + at for ring in rings))


@dataclass(frozen=True, eq=False)
class ConcreteArea:
    """An area of one concrete, steel inside it taken out.

    Attributes:
        outline: of it.
        concrete: its name; nothing for that of the section.
    """

    outline: Outline
    concrete: str | None


def concrete_areas(
    whole: Outline, zones: Mapping[str | None, shapely.Geometry], steel: Sequence[EmbeddedSteel]
) -> tuple[ConcreteArea, ...]:
    """Return the areas of each concrete, less what steel displaces.

    Args:
        whole: the outline of the section.
        zones: what each concrete covers, by its name; empty where there is one.
        steel: the steel inside.
    """
    if not zones and not steel:
        return (ConcreteArea(whole, None),)
    import shapely

    displaced = shapely.union_all([part.outline.polygon for part in steel])
    found = []
    for name, area in (zones or {None: whole.polygon}).items():
        found += _pieces(area.difference(displaced) if steel else area, name)
    return tuple(found)


def _pieces(geometry: shapely.Geometry, name: str | None) -> list[ConcreteArea]:
    """Return the polygons of a geometry as areas of a concrete."""
    import shapely

    found = []
    for piece in getattr(geometry, "geoms", [geometry]):
        if piece.geom_type == "Polygon" and piece.area > LEAST:
            turned = shapely.geometry.polygon.orient(piece)
            rings = (turned.exterior, *turned.interiors)
            outline = Outline(tuple(np.asarray(ring.coords)[:-1] for ring in rings))
            found.append(ConcreteArea(outline, name))
    return found


def areas_of_bars(areas: Sequence[ConcreteArea], bars: Bars) -> IntArray:
    """Return for each bar which of the areas it stands in or is nearest to, (B,)."""
    import shapely

    points = shapely.points(bars.x, bars.y)
    away = np.stack([shapely.distance(area.outline.polygon, points) for area in areas])
    nearest: IntArray = away.argmin(axis=0)
    return nearest


def refuse_loose_steel(whole: Outline, steel: Sequence[EmbeddedSteel], where: str) -> None:
    """Refuse steel that is not wholly inside the concrete, and profiles that overlap.

    Raises:
        InputError: naming the profile by its number.
    """
    for i, part in enumerate(steel):
        area = part.outline.polygon
        if not whole.polygon.contains_properly(area):
            found = "a profile that touches or leaves the concrete"
            raise InputError(f"{where}, steel {i + 1}", found, "steel wholly inside the concrete")
        for j, other in enumerate(steel[:i]):
            if area.intersection(other.outline.polygon).area > LEAST:
                raise InputError(
                    f"{where}, steel {i + 1}", f"overlap with steel {j + 1}", "profiles apart"
                )


def counted_areas(
    areas: Sequence[ConcreteArea], part: EmbeddedSteel, shares: tuple[float, float]
) -> tuple[ConcreteArea, ...]:
    """Return the areas of concrete that count beside a profile, each cut to a box around it.

    Args:
        areas: of each concrete.
        part: the profile, upright or turned by a quarter.
        shares: of its depth and of its width by which the box is larger on each side.
    """
    import shapely

    x0, y0, x1, y1 = part.outline.bounds
    upright = part.angle % 180 == 0
    of_y, of_x = shares if upright else shares[::-1]
    by_x, by_y = of_x * (x1 - x0), of_y * (y1 - y0)
    counted = shapely.box(x0 - by_x, y0 - by_y, x1 + by_x, y1 + by_y)
    found: list[ConcreteArea] = []
    for area in areas:
        found += _pieces(area.outline.polygon.intersection(counted), area.concrete)
    return tuple(found)
