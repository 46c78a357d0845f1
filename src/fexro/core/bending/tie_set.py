"""The ties of one set: what goes round a section at one height, bent as it is scheduled."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.bending.bent_bar import BentBar, circle, closed, cross, rounded_ring, spiral
from fexro.core.bending.practice import BendingPractice
from fexro.core.section.section import Section
from fexro.core.section.ties import HeldRule, arrange

__all__ = ["SetTie", "TieKind", "inner_ring", "spiral_of", "tie_set"]


TieKind = Literal["outer tie", "inner tie", "cross tie"]


@dataclass(frozen=True)
class SetTie:
    """Ties of a set that are alike.

    Attributes:
        bar: as it is bent.
        number: of them in a set.
        kind: what they are.
        around: the bars that each of them goes round; none for the outer one.
    """

    bar: BentBar
    number: int
    kind: TieKind
    around: tuple[tuple[int, ...], ...] = ()


@lru_cache(maxsize=4096)
def tie_set(section: Section, rule: HeldRule, practice: BendingPractice) -> tuple[SetTie, ...]:
    """Return the ties of one set, none where there is a spiral or no room for a tie.

    Args:
        section: the section.
        rule: by which bars are held.
        practice: how bars are bent.
    """
    ring = section.tie_ring
    if ring is None or section.ties.spiral:
        return ()
    found = [SetTie(_outer(section, ring, practice), 1, "outer tie")]
    inner = arrange(section, rule).inner
    bent = [_inner(section, tie, practice) for tie in inner]
    for bar, number in Counter(bent).items():
        around = tuple(tie for tie, other in zip(inner, bent, strict=True) if other == bar)
        kind: TieKind = "cross tie" if len(around[0]) == 2 else "inner tie"
        found.append(SetTie(bar, number, kind, around))
    return tuple(found)


def spiral_of(section: Section, height: float, practice: BendingPractice) -> BentBar:
    """Return the spiral of a section over a height, mm."""
    return spiral(section.ties.size, _across(section), section.ties.spacing, height, practice)


def _across(section: Section) -> float:
    """Return the outside diameter of the ties of a round section, mm."""
    return section.diameter - 2 * section.cover


def _outer(section: Section, ring: FloatArray, practice: BendingPractice) -> BentBar:
    size = section.ties.size
    if section.round:
        return circle(size, _across(section), practice)
    if section.smooth:
        return rounded_ring(size, ring, practice)
    return closed(size, ring, practice)


def _inner(section: Section, tie: tuple[int, ...], practice: BendingPractice) -> BentBar:
    """Return a tie round some bars."""
    bars, size = section.bars, section.ties.size
    places = np.column_stack([bars.x[list(tie)], bars.y[list(tie)]])
    radii = bars.diameter[list(tie)] / 2
    if len(tie) == 2:
        over = float(np.hypot(*(places[1] - places[0]))) + float(radii.sum()) + 2 * size.diameter
        return cross(size, over, practice)
    return closed(size, inner_ring(section, tie), practice, around=float(radii.max()))


def inner_ring(section: Section, tie: tuple[int, ...]) -> FloatArray:
    """Return the centre line of a tie round some bars as if it had no radius, (V, 2), mm."""
    import shapely

    bars = section.bars
    places = np.column_stack([bars.x[list(tie)], bars.y[list(tie)]])
    beside = (float(bars.diameter[list(tie)].max()) + section.ties.size.diameter) / 2
    around = shapely.Polygon(places).buffer(beside, join_style="mitre", mitre_limit=20.0)
    ring: FloatArray = np.asarray(shapely.orient_polygons(around).exterior.coords)[:-1]
    return ring
