"""Bars of walls: EN 1992-1-1, 9.6."""

from __future__ import annotations

from dataclasses import dataclass

from numpy import maximum, minimum

from fexro.core.codes.en1992_1_1.links import largest_spacing as links_by_section
from fexro.core.codes.en1992_1_1.links import least_size, spacing_by_bars
from fexro.core.provisions import Coefficient, Derivation, provision
from fexro.core.provisions.coefficient import MILLIMETRES
from fexro.core.quantities import Area, Dimension, Length, Ratio

__all__ = ["WALL_ASPECT", "VerticalBars", "WallBars", "is_wall", "wall_bars"]

WALL_ASPECT = 4.0  # length over thickness (9.6.1(1))
LEAST, MOST = 0.002, 0.04  # 9.6.2(1), recommended
S_400 = Coefficient(400, MILLIMETRES, Dimension.LENGTH)
LINKED = 0.02  # of the concrete (9.6.4(1))
LINKS_PER_AREA = 4  # 9.6.4(2)
SMALL_BAR = 16.0  # mm


@provision("9.6.2(1)", symbol="A_s,vmin")
def least_vertical(A_c: Area) -> Area:
    """Least area of vertical bars."""
    return LEAST * A_c


@provision("9.6.2(1)", symbol="A_s,vmax")
def largest_vertical(A_c: Area, n: Ratio) -> Area:
    """Largest area of vertical bars, twice as much at laps."""
    return n * MOST * A_c


@provision("9.6.2(3)", symbol="s_v,max")
def vertical_spacing(h: Length) -> Length:
    """Largest spacing of vertical bars."""
    return minimum(3 * h, S_400)


@provision("9.6.3(1)", symbol="rho_h,min")
def least_horizontal(A_s_v: Area, A_c: Area) -> Ratio:
    """Least ratio of horizontal bars."""
    return maximum(0.25 * A_s_v, 0.001 * A_c) / A_c


def is_wall(length: float, thickness: float) -> bool:
    """Tell whether a vertical member is a wall by its proportions (9.6.1(1))."""
    return length >= WALL_ASPECT * thickness * (1 - 1e-9)


@dataclass(frozen=True)
class VerticalBars:
    """Vertical bars of a wall.

    Attributes:
        area: of all, mm².
        diameter: of the smallest, mm.
        cover: to them, mm.
        mesh: whether they are of welded mesh.
        outermost: whether they are outside the horizontal bars.
        at_laps: whether the area is that at laps.
    """

    area: float
    diameter: float
    cover: float
    mesh: bool = False
    outermost: bool = False
    at_laps: bool = False


@dataclass(frozen=True)
class WallBars:
    """Bars of a wall against the least and the largest; mm, mm².

    Attributes:
        area: Ac.
        ratio: of the vertical bars.
        least, largest: areas of vertical bars.
        vertical_spacing, horizontal_spacing: at most.
        least_horizontal: ratio of horizontal bars.
        linked: whether links as of columns are asked for.
        link_spacing, link_size: of them at most and at least; nothing where not.
        links_per_area: per m².
    """

    area: float
    ratio: float
    least: float
    largest: float
    vertical_spacing: float
    least_horizontal: float
    linked: bool
    link_spacing: float | None
    link_size: float | None
    links_per_area: int

    horizontal_spacing = float(S_400)


def wall_bars(record: Derivation | None, size: tuple[float, float], bars: VerticalBars) -> WallBars:
    """Return the bars of a wall against the least and the largest.

    Args:
        record: what is written to.
        size: thickness and length, mm.
        bars: its vertical bars.
    """
    h, length = size
    area = h * length
    least = least_vertical.into(record, area)
    largest = largest_vertical.into(record, area, 2 if bars.at_laps else 1)
    s_v = vertical_spacing.into(record, h)
    rho_h = least_horizontal.into(record, bars.area, area)
    linked = bars.area > LINKED * area
    spacing = link = None
    if linked:
        by_bars = spacing_by_bars.into(record, bars.diameter)
        spacing = float(links_by_section.into(record, by_bars, h))
        link = float(least_size.into(record, bars.diameter))
    small = bars.mesh and bars.diameter <= SMALL_BAR and bars.cover > 2 * bars.diameter
    across = LINKS_PER_AREA if bars.outermost and not small else 0
    return WallBars(
        *(area, bars.area / area, float(least), float(largest), float(s_v), float(rho_h)),
        *(linked, spacing, link, across),
    )
