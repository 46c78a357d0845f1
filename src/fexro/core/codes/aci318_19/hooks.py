"""Hooks of ties: ACI 318-19, 25.3.2."""

from __future__ import annotations

from fexro.core.bending.hooks import Hook
from fexro.core.codes.aci318_19.edition import Edition

__all__ = ["tie_hook"]

TIGHT, WIDE = 2.0, 3.0  # inside radius over diameter: half of 4 and 6
ROUNDING = 1e-6


def tie_hook(d: float, angle: int, edition: Edition) -> Hook:
    """Return the hook of a tie (25.3.2).

    Args:
        d: diameter, mm.
        angle: 90, 135 or 180 degrees.
        edition: the unit edition.
    """
    numbers = edition.ties
    tight = d <= numbers.tight_up_to + ROUNDING
    radius = (TIGHT if tight else WIDE) * d
    if angle == 180:
        return Hook(radius, max(4 * d, numbers.return_hook))
    if angle == 90 and not tight:
        return Hook(radius, 12 * d)
    return Hook(radius, max(6 * d, numbers.hook))
