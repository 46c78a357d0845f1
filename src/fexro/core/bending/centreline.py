"""Exact lengths of bent bars along their centre lines.

Dimensions are out to out, bends have an inside radius: a bar is straight between its tangent
points and turns by each angle at the radius plus half a diameter. Lengths in mm, angles in radians.
"""

from __future__ import annotations

import math

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.bending.hooks import Hook

__all__ = [
    "circular_tie",
    "closed_tie",
    "cranked",
    "cross_tie",
    "helix",
    "l_bar",
    "rectangular_tie",
    "turns_of",
    "u_bar",
]


def rectangular_tie(d: float, width: float, depth: float, hook: Hook, angle: float) -> float:
    """Return the length of a closed tie: three corners and two hooks at the fourth.

    Args:
        d: diameter.
        width, depth: out to out.
        hook: of both ends.
        angle: of the hooks.
    """
    straight = 2 * (width + depth) - 8 * (hook.radius + d)
    return straight + (1.5 * math.pi + 2 * angle) * _middle(d, hook.radius) + 2 * hook.straight


def turns_of(ring: FloatArray) -> FloatArray:
    """Return by how much a closed line of points (V, 2) turns at each of them, (V,), radians."""
    ahead = np.roll(ring, -1, axis=0) - ring
    heading = np.arctan2(ahead[:, 1], ahead[:, 0])
    turned: FloatArray = (heading - np.roll(heading, 1) + math.pi) % (2 * math.pi) - math.pi
    return turned


def closed_tie(d: float, ring: FloatArray, radius: float, hook: Hook, angle: float) -> float:
    """Return the length of a closed tie of any form, its two hooks at the first corner.

    Args:
        d: diameter.
        ring: corners of its centre line as if it had no radius, (V, 2).
        radius: inside its bends.
        hook: of both ends.
        angle: of the hooks.
    """
    middle, turns = _middle(d, radius), np.abs(turns_of(ring))
    sides = float(np.hypot(*(ring - np.roll(ring, 1, axis=0)).T).sum())
    straight = sides - 2 * middle * float(np.tan(turns / 2).sum())
    bends = middle * float(turns[1:].sum())
    return straight + bends + 2 * (angle * _middle(d, hook.radius) + hook.straight)


def cross_tie(
    d: float, length: float, ends: tuple[tuple[Hook, float], tuple[Hook, float]]
) -> float:
    """Return the length of a cross tie.

    Args:
        d: diameter.
        length: over its hooks.
        ends: hook and angle of each; the radius is that of the first.
    """
    (one, first), (other, second) = ends
    turned = (first + second) * _middle(d, one.radius)
    return length - 2 * (one.radius + d) + turned + one.straight + other.straight


def circular_tie(
    d: float, across: float, lap: float, hook: Hook | None = None, angle: float = 0.0
) -> float:
    """Return the length of a circular tie.

    Args:
        d: diameter.
        across: outside diameter.
        lap: along the circle.
        hook: of both ends, if they are hooked.
        angle: of the hooks.
    """
    ends = 0.0 if hook is None else 2 * (angle * _middle(d, hook.radius) + hook.straight)
    return math.pi * (across - d) + lap + ends


def helix(d: float, across: float, pitch: float, height: float, extra: float) -> float:
    """Return the length of a helix.

    Args:
        d: diameter.
        across: outside diameter.
        pitch, height: of the rising turns.
        extra: flat turns at each end.
    """
    turn = math.pi * (across - d)
    return height / pitch * math.hypot(turn, pitch) + 2 * extra * turn


def cranked(
    d: float, radius: float, lower: float, upper: float, offset: float, slope: float
) -> float:
    """Return the length of a cranked bar.

    Args:
        d: diameter.
        radius: inside both bends.
        lower, upper: along the centre line to where the straights meet.
        offset: between the centre lines.
        slope: length along the bar for one of offset.
    """
    angle = math.atan(1 / slope)
    middle = _middle(d, radius)
    saved = 2 * middle * math.tan(angle / 2) - middle * angle
    return lower + upper + offset * math.hypot(1.0, slope) - 2 * saved


def l_bar(d: float, radius: float, leg: float, other: float, angle: float = math.pi / 2) -> float:
    """Return the length of a bar with one bend.

    Args:
        d: diameter.
        radius: inside the bend.
        leg, other: to where the outer faces meet.
        angle: by which it is bent.
    """
    return leg + other - _bend_saving(d, radius, angle)


def u_bar(d: float, radius: float, leg: float, middle: float, other: float) -> float:
    """Return the length of a bar with two right-angled bends, from legs to the outer faces."""
    return leg + middle + other - 2 * _bend_saving(d, radius, math.pi / 2)


def _middle(d: float, radius: float) -> float:
    """Return the radius of the centre line of a bend."""
    return radius + d / 2


def _bend_saving(d: float, radius: float, angle: float) -> float:
    """Return by how much a bend is shorter than the legs that meet at its outer corner."""
    return 2 * (radius + d) * math.tan(angle / 2) - angle * _middle(d, radius)
