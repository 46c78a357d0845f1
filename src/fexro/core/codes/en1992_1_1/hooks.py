"""Hooks of links: EN 1992-1-1, 8.3 and 8.5."""

from __future__ import annotations

from fexro.core.bending.hooks import Hook

__all__ = ["link_hook"]

SMALL = 16.0  # mm, up to which the mandrel is 4 diameters, then 7 (table 8.1N)


def link_hook(d: float, angle: int) -> Hook:
    """Return the hook of a link (8.3(2), 8.5(2)).

    Args:
        d: diameter, mm.
        angle: 90, or 135 degrees and more.
    """
    radius = (2.0 if d <= SMALL else 3.5) * d
    return Hook(radius, max(10 * d, 70.0) if angle == 90 else max(5 * d, 50.0))
