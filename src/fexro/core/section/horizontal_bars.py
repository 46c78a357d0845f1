"""Horizontal bars of walls: along the faces, around free ends and around corners. Lengths in mm."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.section.shapes.legs import TOUCH, Leg, Legs

__all__ = ["HorizontalBar", "HorizontalKind", "horizontal_bars"]

HorizontalKind = Literal["horizontal", "U-bar", "corner bar"]


@dataclass(frozen=True, eq=False)
class HorizontalBar:
    """Horizontal bars of one row that are alike.

    Attributes:
        kind: along a leg, around its free end, or around its corner with another.
        leg: its number, from 0.
        sides: lengths between the outer faces of its bends, and to its ends.
        lines: centre lines as if they had no radius, one for each bar, (V, 2).
    """

    kind: HorizontalKind
    leg: int
    sides: tuple[float, ...]
    lines: tuple[FloatArray, ...]


def horizontal_bars(
    legs: Legs, cover: float, diameter: float, curtains: int, lap: float
) -> list[HorizontalBar]:
    """Return the horizontal bars of a row.

    Along each leg one in each curtain. Where there are two, a U-bar goes round each free end; a
    corner bar in each curtain round where a leg ends against another: both the same way round a
    corner, each its own way where the other goes on.

    Args:
        legs: the wall.
        cover: of the bars.
        diameter: of them.
        curtains: one or two.
        lap: of U-bars and corner bars with those along.
    """
    found: list[HorizontalBar] = []
    for number, leg in enumerate(legs.legs):
        low, high = legs.span(number)
        aside = leg.thickness / 2 - cover - diameter / 2
        sides = (-aside, aside) if curtains > 1 else (0.0,)
        a, b = leg.start + leg.direction * (low + cover), leg.start + leg.direction * (high - cover)
        along = tuple(np.stack([a + leg.normal * off, b + leg.normal * off]) for off in sides)
        length = legs.lengths[number] - 2 * cover
        found.append(HorizontalBar("horizontal", number, (length,), along))
        if curtains < 2:
            continue
        for at, end in enumerate(legs.ends(number)):
            away = -leg.direction if at else leg.direction
            edge = leg.start + leg.direction * (high if at else low)
            if end.kind == "free":
                found.append(_u_bar(leg, number, edge, away, (cover, diameter, lap)))
            elif end.kind == "against":
                found.append(_corner_bar(legs, number, at, away, (cover, diameter, lap)))
    return found


def _u_bar(
    leg: Leg, number: int, edge: FloatArray, away: FloatArray, size: tuple[float, float, float]
) -> HorizontalBar:
    cover, d, lap = size
    across = leg.thickness - 2 * cover
    back, half = edge + away * (cover + d / 2), leg.normal * (across - d) / 2
    tip = edge + away * (cover + lap)
    line = np.stack([tip - half, back - half, back + half, tip + half])
    return HorizontalBar("U-bar", number, (lap, across, lap), (line,))


def _corner_bar(
    legs: Legs, number: int, at: int, away: FloatArray, size: tuple[float, float, float]
) -> HorizontalBar:
    cover, d, lap = size
    leg, out = legs.legs[number], -away
    point = leg.end if at else leg.start
    others = [one for other, one in enumerate(legs.legs) if other != number]
    met = min(others, key=lambda one: float(one.distance(point)))
    # The layer of bars at its far face, and how far each bar of this leg runs until there.
    square = met.normal if met.normal @ out > 0 else -met.normal
    layer = point + square * (met.thickness / 2 - cover - d / 2)
    nearest = min(float(np.hypot(*(end - point))) for end in (met.start, met.end))
    goes_on = nearest > max(leg.thickness, met.thickness) / 2 + TOUCH
    arm, turned = lap + met.thickness - cover, lap + leg.thickness - cover
    aside = leg.thickness / 2 - cover - d / 2
    lines = []
    for off in (-aside, aside):
        start = point + leg.normal * off
        corner = start + out * float((layer - start) @ square) / float(out @ square)
        towards = leg.normal * off if goes_on else met.middle - point
        way = met.direction if met.direction @ towards > 0 else -met.direction
        lines.append(
            np.stack([corner + away * (arm - d / 2), corner, corner + way * (turned - d / 2)])
        )
    return HorizontalBar("corner bar", number, (arm, turned), tuple(lines))
