"""Hooks of links: EN 1992-1-1, 8.3 and 8.5."""

from __future__ import annotations

from functools import lru_cache, partial

from fexro.core.bending.hooks import Hook
from fexro.core.bending.practice import BendingPractice
from fexro.core.bending.shapes import inside_radius
from fexro.core.facts import ColumnFacts

__all__ = ["bending", "link_hook"]

SMALL = 16.0  # mm, up to which the mandrel is 4 diameters, then 7 (table 8.1N)


def link_hook(d: float, angle: int, *, ductile: bool = False) -> Hook:
    """Return the hook of a link (8.3(2), 8.5(2); EN 1998-1, 5.4.3.2.2(12)).

    Args:
        d: diameter, mm.
        angle: 90, or 135 degrees and more.
        ductile: whether it is in a column of class DCM or DCH.
    """
    radius = (2.0 if d <= SMALL else 3.5) * d
    if ductile:
        return Hook(radius, 10 * d)
    return Hook(radius, max(10 * d, 70.0) if angle == 90 else max(5 * d, 50.0))


def _apart(_: float, d: float) -> float:
    """Return how far lapped bars may be apart (8.7.2(3)): clear 4 diameters, and 50 mm."""
    return min(4 * d, 50.0) + d


def bending(facts: ColumnFacts) -> BendingPractice:
    """Return how bars of a lift are bent (8.3, 8.5) and scheduled (BS 8666:2020)."""
    return _bending(facts.ductility != "low")


@lru_cache
def _bending(ductile: bool) -> BendingPractice:
    return BendingPractice(
        told="bends by EN 1992-1-1, 8.3 and 8.5; shapes and lengths by BS 8666:2020",
        hook=partial(link_hook, ductile=ductile),
        radius=inside_radius,
        cross=(135, 135) if ductile else (135, 90),
        by_table=True,
        apart=_apart,
        largest_offset=75.0,
        step=5.0,
        length_step=25.0,
    )
