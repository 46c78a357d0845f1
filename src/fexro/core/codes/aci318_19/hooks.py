"""Bends and hooks: ACI 318-19, 25.3."""

from __future__ import annotations

from functools import lru_cache, partial

from fexro.core.bending.hooks import Hook
from fexro.core.bending.practice import BendingPractice
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.facts import ColumnFacts
from fexro.core.quantities import INCH, UnitSystem

__all__ = ["bend_radius", "bending", "tie_hook"]

TIGHT, WIDE = 2.0, 3.0  # inside radius over diameter: half of 4 and 6
ROUNDING = 1e-6
# mm: a little above the nominal diameters of No. 25 [#8] and No. 36 [#11] (table 25.3.1).
SIX_UP_TO, EIGHT_UP_TO = 25.5, 36.5


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


def bend_radius(d: float) -> float:
    """Return the inside radius of a bend of a bar along a member of diameter d, mm (25.3.1)."""
    if d <= SIX_UP_TO:
        return 3 * d
    return 4 * d if d <= EIGHT_UP_TO else 5 * d


def bending(edition: Edition, units: UnitSystem, facts: ColumnFacts) -> BendingPractice:
    """Return how bars of a lift are bent (25.3) and scheduled."""
    return _bending(edition, units, facts.ductility == "high")


@lru_cache
def _bending(edition: Edition, units: UnitSystem, special: bool) -> BendingPractice:
    metric = units is UnitSystem.SI
    return BendingPractice(
        told="hooks by ACI 318-19, 25.3; lengths along the centre line",
        hook=partial(_hook, edition),
        radius=bend_radius,
        # 25.3.5; 18.7.5.2 where every bar is to have the support of a seismic hook.
        cross=(135, 135) if special else (135, 90),
        by_table=False,
        apart=partial(_apart, 150.0 if metric else 6 * INCH),
        largest_offset=float(edition.cover.ground),
        step=5.0 if metric else INCH / 4,
        length_step=25.0 if metric else INCH,
        circle_lap=150.0 if metric else 6 * INCH,
        cover_at_ends=50.0 if metric else 2 * INCH,
    )


def _apart(most: float, lap: float, _: float) -> float:
    """Return how far lapped bars may be apart (25.5.1.3)."""
    return min(lap / 5, most)


def _hook(edition: Edition, d: float, angle: int) -> Hook:
    return tie_hook(d, angle, edition)
