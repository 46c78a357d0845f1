"""Links of columns: EN 1992-1-1, 9.5.3."""

from __future__ import annotations

from dataclasses import dataclass

from numpy import maximum, minimum

from fexro.core.facts import CrossSection
from fexro.core.provisions import Coefficient, Derivation, provision
from fexro.core.provisions.coefficient import MILLIMETRES
from fexro.core.quantities import Dimension, Length
from fexro.core.section.shear import largest_dimension, least_dimension
from fexro.core.transverse import Transverse, Zone

__all__ = ["LinkLimits", "link_limits"]

D_6 = Coefficient(6, MILLIMETRES, Dimension.LENGTH)
S_MAX = Coefficient(400, MILLIMETRES, Dimension.LENGTH)
CLOSE = 0.6  # 9.5.3(4)
LARGE_LAPPED = 14.0  # mm, diameter up to which laps need no closer links (9.5.3(4))
ROUNDING = 1e-3  # mm


@provision("9.5.3(1)", symbol="phi_t,min")
def least_size(phi: Length) -> Length:
    """Least diameter of links around bars."""
    return maximum(D_6, phi / 4)


@provision("9.5.3(3)", symbol="s_1")
def spacing_by_bars(phi: Length) -> Length:
    """Largest spacing of links by the bars that they hold."""
    return 20 * phi


@provision("9.5.3(3)", symbol="s_max")
def largest_spacing(s_1: Length, b: Length) -> Length:
    """Largest spacing of links, with the lesser dimension of the column."""
    return minimum(minimum(s_1, b), S_MAX)


@provision("9.5.3(4)", symbol="s_max,0.6")
def close_spacing(s_max: Length) -> Length:
    """Largest spacing of links next to beams and slabs, and at laps."""
    return CLOSE * s_max


@dataclass(frozen=True)
class LinkLimits:
    """Limits of links. Lengths in mm.

    Attributes:
        least_size: diameter.
        by_bars, by_section: largest spacing by each.
        largest: the least of these and of 400.
        at_ends, end_length: next to beams and slabs, and how far it reaches.
        at_laps: where bars are lapped.
        size_enough: whether the links are large enough.
    """

    least_size: float
    by_bars: float
    by_section: float
    largest: float
    at_ends: float
    end_length: float
    at_laps: float
    size_enough: bool

    def allowed(self, transverse: Transverse) -> dict[Zone, bool]:
        """Return whether the spacing of each zone is allowed."""
        limit: dict[Zone, float] = {
            "end": self.at_ends,
            "middle": self.largest,
            "lap": self.at_laps,
        }
        return {
            zone: spacing <= limit[zone] + ROUNDING for zone, spacing in transverse.spacings.items()
        }


def link_limits(
    record: Derivation | None, cross: CrossSection, transverse: Transverse
) -> LinkLimits:
    """Return the limits of links."""
    section = cross.section
    largest_bar = float(section.bars.equivalent.max())
    least = least_size.into(record, largest_bar)
    across = least_dimension(section)
    by_bars = spacing_by_bars.into(record, float(section.bars.diameter.min()))
    largest = largest_spacing.into(record, by_bars, across)
    close = float(close_spacing.into(record, largest))
    return LinkLimits(
        float(least),
        float(by_bars),
        across,
        float(largest),
        close,
        largest_dimension(section),
        close if largest_bar > LARGE_LAPPED else float(largest),
        transverse.size.diameter >= least - ROUNDING,
    )
