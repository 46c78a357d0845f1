"""Placing the bars of a call-out inside a shape, held by ties at the given cover."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.areas import EmbeddedSteel, refuse_loose_steel
from fexro.core.section.bars import MAX_BARS, Bars, Ties
from fexro.core.section.call_out import BarGroup
from fexro.core.section.curtains import spots_in_legs, spots_in_strip
from fexro.core.section.outline import Outline
from fexro.core.section.places import spots_of
from fexro.core.section.section import Section, eroded, misplaced_bars
from fexro.core.section.shapes import (
    Circle,
    Composed,
    HollowCircle,
    HollowRectangle,
    Legs,
    Rectangle,
    Shape,
    Strip,
)
from fexro.core.section.spots import Spot, along_edge, along_sides, bars_at, on_circle, spread

__all__ = ["build_section", "place_bars"]


def build_section(
    shape: Shape,
    cover: float,
    groups: tuple[BarGroup, ...],
    ties: Ties,
    where: str = "section",
    steel: tuple[EmbeddedSteel, ...] = (),
) -> Section:
    """Lay out the bars of a call-out along the ties and return the section.

    Circles take the bars evenly spaced on a ring, other smooth shapes along their edge. Shapes with
    corners take one bar in every corner and the others along the sides, where the spacing is
    largest; the largest bars go to the corners.

    Args:
        shape: shape of the concrete.
        cover: clear cover to the ties, mm.
        groups: bars of the call-out.
        ties: transverse reinforcement.
        where: name of the section, for the refusal.
        steel: structural steel inside the concrete.

    Raises:
        InputError: where the bars have no place: outside the concrete, overlapping, or fewer
            than the corners; for steel outside the concrete.
    """
    outline = _outline_of(shape)
    inset = cover + ties.size.diameter
    if isinstance(shape, Legs):
        spots = spots_in_legs(shape, inset, groups, where)
    elif isinstance(shape, Strip):
        spots = spots_in_strip(shape.width, shape.depth, inset, groups, where)
    else:
        spots = _spots(shape, outline, inset, groups, where)
    if len(spots) > MAX_BARS:
        raise InputError(f"{where}, bars", f"{len(spots)} bars", f"1 to {MAX_BARS} bars")
    bars = bars_at(spots)
    section = _section(shape, bars, ties, cover, steel, where)
    for one in misplaced_bars(section, openings=isinstance(shape, Composed)):
        raise InputError(f"{where}, {one.where}", one.found, one.allowed)
    return section


def _spots(
    shape: Shape, outline: Outline, inset: float, groups: tuple[BarGroup, ...], where: str
) -> list[Spot]:
    """Return the places of bars of a call-out along the ties of a column."""
    corners = shape.corners()
    free = [group for group in groups if not group.place]
    spots = _by_rule(shape, outline, corners, inset, free, where) if free else []
    if len(free) < len(groups):
        spots += spots_of(shape, outline, corners, inset, groups, where)
    if corners is not None and len(corners) != len(outline.rings[0]):
        spots = _off_corners(outline, spots, inset)
    return spots


def place_bars(
    shape: Shape,
    cover: float,
    bars: Bars,
    ties: Ties,
    where: str = "section",
    steel: tuple[EmbeddedSteel, ...] = (),
) -> Section:
    """Return a section whose bars stand where they were placed; those without a place are named.

    Args:
        shape: shape of the concrete.
        cover: clear cover to the ties, mm.
        bars: those along the member.
        ties: transverse reinforcement.
        where: name of the section, for the refusal.
        steel: structural steel inside the concrete.

    Raises:
        InputError: for steel outside the concrete.
    """
    section = _section(shape, bars, ties, cover, steel, where)
    misplaced = misplaced_bars(section, openings=isinstance(shape, Composed))
    return replace(section, by_hand=True, misplaced=misplaced)


def _section(
    shape: Shape,
    bars: Bars,
    ties: Ties,
    cover: float,
    steel: tuple[EmbeddedSteel, ...],
    where: str,
) -> Section:
    outline, corners = _outline_of(shape), shape.corners()
    refuse_loose_steel(outline, steel, where)
    return Section(
        outline,
        bars,
        ties,
        cover,
        isinstance(shape, Circle | HollowCircle),
        corners,
        corners is None,
        steel=steel,
        zones=shape.zones if isinstance(shape, Composed) else {},
    )


@lru_cache(maxsize=512)
def _outline_of(shape: Shape) -> Outline:
    """Return the outline of a shape, kept with what is worked out of it."""
    return shape.outline()


def _by_rule(
    shape: Shape,
    outline: Outline,
    corners: FloatArray | None,
    inset: float,
    groups: Sequence[BarGroup],
    where: str,
) -> list[Spot]:
    """Return the places of bars that do not say where they are; larger ones in corners."""
    order = sorted(groups, key=lambda group: -group.size.diameter)
    sizes = [group.size for group in order for _ in range(group.count)]
    bundles = {group.size: group.bundle for group in groups}
    if isinstance(shape, Circle | HollowCircle):
        # Each bar touches the tie, whatever its size.
        spots = []
        for spot in on_circle(1.0, (0.0, 0.0), spread(sizes)):
            radius = shape.diameter / 2 - inset - spot.size.diameter / 2
            spots.append(replace(spot, x=spot.x * radius, y=spot.y * radius))
    elif corners is None:
        spots = along_edge(outline, inset, sizes, where)
    else:
        symmetric = isinstance(shape, Rectangle | HollowRectangle)
        spots = along_sides(corners, inset, sizes, symmetric, where)
    if all(bundle == 1 for bundle in bundles.values()):
        return spots
    return [replace(spot, bundle=bundles[spot.size]) for spot in spots]


def _off_corners(outline: Outline, spots: Sequence[Spot], inset: float) -> list[Spot]:
    """Return places moved in where a corner is cut or rounded off and leaves too little cover."""
    import shapely

    found = []
    for spot in spots:
        within = eroded(outline, inset + spot.size.diameter / 2)
        point = shapely.Point(spot.x, spot.y)
        if not within.is_empty and not within.covers(point):
            x, y = shapely.shortest_line(within, point).coords[0]
            spot = replace(spot, x=x, y=y)
        found.append(spot)
    return found
