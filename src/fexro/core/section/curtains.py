"""Bars in two curtains along the legs of a wall, and in its ends. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.bars import BarSize
from fexro.core.section.call_out import BarGroup
from fexro.core.section.shapes.legs import Leg, Legs
from fexro.core.section.spots import Spot

__all__ = [
    "EndBars",
    "EndZone",
    "WebBars",
    "at_most",
    "bars_of_legs",
    "curtain_places",
    "end_zones",
    "hoops_of_ends",
    "nearest",
    "spots_in_legs",
    "spots_in_strip",
]

NOTHING_TAKEN: Mapping[tuple[int, int], float] = {}
END_SPACE, END_SHARE = 100.0, 4.0  # between pairs of an end zone: mm, and of the diameter


def at_most(distance: float, spacing: float) -> int:
    """Return in how many steps a distance is gone, none longer than a spacing."""
    return max(math.ceil(distance / spacing - 1e-9), 1)


def nearest(distance: float, spacing: float) -> int:
    """Return in how many steps a distance is gone, as near to a spacing as can be."""
    return max(round(distance / spacing), 1)


def curtain_places(
    legs: Legs,
    number: int,
    inset: float,
    spacing: float,
    steps: Callable[[float, float], int] = at_most,
    taken: Mapping[tuple[int, int], float] = NOTHING_TAKEN,
    offsets: Sequence[float] = (0.0,),
) -> FloatArray:
    """Return how far along its centre line the bars of a leg are, (O, B) for each offset.

    A leg that ends free, or runs through a corner, has its last bars inside its end by an inset;
    one that ends against another has them half a spacing off; one with an end zone has its first a
    spacing behind that. At corners that are not square the bars of both faces end at places of
    their own; there are as many on each.

    Args:
        legs: all of them.
        number: of the leg.
        inset: of the centres of bars from faces.
        spacing: of the bars.
        steps: in how many steps a distance is gone.
        taken: how far end zones reach, by leg and end.
        offsets: of the curtains to the left of the centre line.
    """
    zones = [(number, at) in taken for at in (0, 1)]
    run, ends = legs.legs[number].run, legs.ends(number)

    def room(at: int, offset: float) -> float:
        if zones[at]:
            return taken[number, at]
        end = ends[at]
        if end.kind == "against":
            return end.room_at(0.0, offset) + spacing / 2
        return end.room_at(inset, offset)

    lows = np.array([room(0, offset) for offset in offsets])
    highs = run - np.array([room(1, offset) for offset in offsets])
    if (highs - lows).min() < 0:
        if any(zones):
            return np.zeros((len(offsets), 0))
        return ((lows + highs) / 2)[:, None]
    count = steps(float((highs - lows).max()), spacing) + 1
    places: FloatArray = np.linspace(lows, highs, count, axis=1)
    return places[:, int(zones[0]) : count - int(zones[1])]


@dataclass(frozen=True)
class EndBars:
    """Bars at a free end of a leg.

    Attributes:
        leg, end: its number, and 0 at its start or 1 at its end.
        length: from the end to behind the last pair.
        pairs: of bars.
        apart: from one pair to the next.
        diameter, area: of each bar.
    """

    leg: int
    end: int
    length: float
    pairs: int
    apart: float
    diameter: float
    area: float


@dataclass(frozen=True)
class WebBars:
    """Bars of the curtains: how many there are, and their diameter, area and spacing."""

    curtains: int
    diameter: float
    area: float
    spacing: float


@dataclass(frozen=True)
class EndZone:
    """A free end of a leg.

    Attributes:
        leg: its number.
        end: 0 at its start, 1 at its end.
    """

    leg: int
    end: int


def end_zones(legs: Legs) -> list[EndZone]:
    """Return the free ends of the legs, in their order."""
    return [
        EndZone(number, at)
        for number in range(len(legs.legs))
        for at, end in enumerate(legs.ends(number))
        if end.kind == "free"
    ]


def spots_in_legs(legs: Legs, inset: float, groups: tuple[BarGroup, ...], where: str) -> list[Spot]:
    """Return the places of bars by a call-out: on each face, and in each end.

    Args:
        legs: the wall.
        inset: of the inside of the horizontal bars from the faces.
        groups: bars of the call-out.
        where: name of the section, for refusals.

    Raises:
        InputError: for bars that are asked for elsewhere.
    """
    ends = [group for group in groups if group.place == "each end"]
    faces = [group for group in groups if group.place in ("each face", "centre")]
    spaced = len(faces) == 1 and faces[0].spacing is not None
    if len(ends) + len(faces) < len(groups) or len(ends) > 1 or not spaced:
        allowed = "bars of a wall, as D12@200 each face + 8 D20 each end, or D12@200 centre"
        raise InputError(f"{where}, bars", "bars that a wall has no place for", allowed)
    taken: dict[tuple[int, int], float] = {}
    found: list[Spot] = []
    for group in ends:
        zones = end_zones(legs)
        if not zones:
            raise InputError(f"{where}, bars", "“each end”", "a wall with free ends")
        for zone in zones:
            places = _end_places(legs, zone, inset, group, where)
            taken[zone.leg, zone.end] = float(places[-1])
            leg = legs.legs[zone.leg]
            along = leg.run - places if zone.end else places
            aside = leg.thickness / 2 - inset - group.size.diameter / 2
            found += _bars(leg, np.stack([along, along]), (-aside, aside), group.size, group.bundle)
    (group,) = faces
    assert group.spacing is not None
    for number, leg in enumerate(legs.legs):
        first = inset + group.size.diameter / 2
        aside = 0.0 if group.place == "centre" else leg.thickness / 2 - first
        offsets = (0.0,) if group.place == "centre" else (-aside, aside)
        along = curtain_places(legs, number, first, group.spacing, taken=taken, offsets=offsets)
        found += _bars(leg, along, offsets, group.size, group.bundle)
    return found


def bars_of_legs(
    legs: Legs, inset: float, groups: tuple[BarGroup, ...], where: str
) -> tuple[WebBars, tuple[EndBars, ...]]:
    """Return the bars of the curtains and of the free ends; see `spots_in_legs`."""
    web = next(group for group in groups if group.spacing is not None)
    assert web.spacing is not None
    ends = []
    for group in groups:
        if group.place != "each end":
            continue
        for zone in end_zones(legs):
            places = _end_places(legs, zone, inset, group, where)
            length = float(places[-1]) + group.size.diameter / 2
            apart = float(np.diff(places).max(initial=0.0))
            size = group.size
            area = size.area * group.bundle
            ends.append(
                EndBars(zone.leg, zone.end, length, len(places), apart, size.diameter, area)
            )
    curtains = 1 if web.place == "centre" else 2
    spaced = WebBars(curtains, web.size.diameter, web.size.area * web.bundle, web.spacing)
    return spaced, tuple(ends)


def spots_in_strip(
    width: float, thickness: float, inset: float, groups: tuple[BarGroup, ...], where: str
) -> list[Spot]:
    """Return the places of bars of a strip along x: half a spacing from the strips beside it.

    Where the width is no multiple of the spacing, each bar has the area that makes up for it.

    Args:
        width, thickness: of the strip.
        inset: of the inside of the horizontal bars from the faces.
        groups: bars of the call-out.
        where: name of the section, for refusals.

    Raises:
        InputError: for bars that are asked for elsewhere.
    """
    group = groups[0]
    if len(groups) > 1 or group.place not in ("each face", "centre") or group.spacing is None:
        allowed = "bars of a strip, as D12@200 each face, or D12@200 centre"
        raise InputError(f"{where}, bars", "bars that a strip has no place for", allowed)
    count = at_most(width, group.spacing)
    share = width / (group.spacing * count)
    size = BarSize(group.size.name, group.size.diameter, share * group.size.area)
    aside = thickness / 2 - inset - size.diameter / 2
    sides = (0.0,) if group.place == "centre" else (-aside, aside)
    if aside < (0.0 if len(sides) == 1 else size.diameter / 2):
        found = f"a thickness of {thickness:g} mm"
        raise InputError(f"{where}, bars", found, "a wall in which the bars have their cover")
    along = width * ((np.arange(count) + 0.5) / count - 0.5)
    return [
        Spot(float(x), side, size, group.bundle, (1.0, 0.0) if side < 0 else (-1.0, 0.0))
        for x in along
        for side in sides
    ]


def hoops_of_ends(legs: Legs, groups: tuple[BarGroup, ...]) -> tuple[tuple[int, ...], ...]:
    """Return the bars, by their numbers, that each hoop and cross tie of the ends goes round.

    A hoop goes round the bars of an end; a cross tie holds each pair within.
    """
    found: list[tuple[int, ...]] = []
    first = 0
    for group in groups:
        if group.place != "each end":
            continue
        per, pairs = 2 * group.bundle, group.count // 2
        for _ in end_zones(legs):
            last = first + (pairs - 1) * per
            if pairs == 1:
                found.append((first, first + group.bundle))
            else:
                found.append((first, last, last + group.bundle, first + group.bundle))
            found += [
                (first + k * per, first + k * per + group.bundle) for k in range(1, pairs - 1)
            ]
            first += pairs * per
    return tuple(found)


def _end_places(legs: Legs, zone: EndZone, inset: float, group: BarGroup, where: str) -> FloatArray:
    """Return how far from the end the pairs of an end zone are, from the outermost."""
    if group.count % 2 or not group.count:
        allowed = "an even number, a pair at a time"
        raise InputError(f"{where}, bars", f"{group.count} at each end", allowed)
    pairs, first = group.count // 2, inset + group.size.diameter / 2
    length = first + (pairs - 1) * max(END_SPACE, END_SHARE * group.size.diameter)
    if group.length is not None:
        length = max(group.length, first)
    run = legs.legs[zone.leg].run
    free = sum(end.kind == "free" for end in legs.ends(zone.leg))
    if length >= run / free:
        raise InputError(f"{where}, bars", f"end zones of {length:.0f} mm", "shorter zones")
    return np.linspace(first, length, pairs)


def _bars(
    leg: Leg, along: FloatArray, offsets: Sequence[float], size: BarSize, bundle: int
) -> list[Spot]:
    """Return bars of a leg at places along it, (O, B), for each offset to its left."""
    u, n = leg.direction, leg.normal
    direction = float(u[0]), float(u[1])
    found = []
    for places in along.T:
        for place, offset in zip(places, offsets, strict=True):
            x, y = leg.start + u * place + n * offset
            # To the left of the tie's direction is the inside.
            back = direction if offset < 0 else (-direction[0], -direction[1])
            found.append(Spot(float(x), float(y), size, bundle, back))
    return found
