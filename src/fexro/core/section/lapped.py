"""Bars of a section where they are lapped: cover, spacing, and the ties across their splitting."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.section.section import Section

__all__ = ["LappedBars", "lapped_bars", "largest_tension", "tension_at_laps"]


@dataclass(frozen=True)
class LappedBars:
    """The bars of a section that need the longest lap. Lengths in mm.

    Attributes:
        diameter: of the largest.
        cover: clear to its face.
        clear: between neighbours, the least.
        pitch: between their centres there; infinite for a single bar.
        along: numbers of bars along the faces square to x and to y, with the corners.
    """

    diameter: float
    cover: float
    clear: float
    pitch: float
    along: tuple[int, int]


@lru_cache(maxsize=2048)
def lapped_bars(section: Section) -> LappedBars:
    """Return the bars of a section as they are lapped."""
    bars = section.bars
    closest = bars.closest
    pair = int(closest.clear.argmin())
    radii = bars.diameter[closest.first[pair]] / 2 + bars.diameter[closest.second[pair]] / 2
    reach, along = float(bars.diameter.max()), []
    for place in (bars.x, bars.y):
        low, high = place <= place.min() + reach, place >= place.max() - reach
        along.append(int(max(low.sum(), high.sum())))
    return LappedBars(
        float(bars.equivalent.max()),
        section.cover + section.ties.size.diameter,
        closest.least,
        closest.least + float(radii),
        (along[0], along[1]),
    )


def largest_tension(section: Section, demands: FloatArray) -> FloatArray:
    """Return the largest elastic stress of tension at the edge of the concrete, (D,), MPa.

    Positive is tension: where it is not, no bar is in tension, as bars stand further in.

    Args:
        section: the section, uncracked.
        demands: N, Mx, My, (D, 3), N and N·mm.
    """
    outline = section.outline
    i_x, i_y, i_xy = outline.inertia
    points = np.concatenate(outline.rings) - outline.centroid
    N, M_x, M_y = demands.T
    whole = i_x * i_y - i_xy**2
    # σ = N/A + a y + b x with a and b from both moments.
    a = (M_x * i_y - M_y * i_xy) / whole
    b = (M_y * i_x - M_x * i_xy) / whole
    stress = N[:, None] / outline.area + a[:, None] * points[:, 1] + b[:, None] * points[:, 0]
    tension: FloatArray = -stress.min(axis=1)
    return tension


def tension_at_laps(section: Section, demands: FloatArray) -> bool:
    """Return whether bars may be in tension under any demand N, Mx, My, (D, 3).

    Without demands they may.
    """
    return not len(demands) or bool((largest_tension(section, demands) > 0).any())
