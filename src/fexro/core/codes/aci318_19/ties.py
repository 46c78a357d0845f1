"""Ties and spirals of any column: ACI 318-19, 10.7.6 and 25.7."""

from __future__ import annotations

import math
from dataclasses import dataclass

from numpy import maximum, minimum, pi, where

from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.shear import limited_yield
from fexro.core.facts import CrossSection
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Area, Length, Ratio, Stress
from fexro.core.section.shear import least_dimension
from fexro.core.transverse import Transverse, Zone

__all__ = ["SpiralLimits", "TieLimits", "spiral_limits", "spiral_ratio", "tie_limits"]

ROUNDING = 1e-3  # mm; sizes are known to a tenth, and converted ones to less


@provision("10.7.6.2.2", symbol="s_1,max")
def first_tie(s: Length) -> Length:
    """Largest distance of the first tie from a slab or footing."""
    return s / 2


@provision("25.7.2.1(a)", symbol="s_min")
def least_spacing(d_agg: Length, d_t: Length) -> Length:
    """Least spacing of ties between centres."""
    return 4 * d_agg / 3 + d_t


@provision("25.7.2.1(b)", symbol="s_b")
def spacing_by_bars(d_b: Length) -> Length:
    """Largest spacing of ties by the bars that they hold."""
    return 16 * d_b


@provision("25.7.2.1(b)", symbol="s_t")
def spacing_by_ties(d_t: Length) -> Length:
    """Largest spacing of ties by their own size."""
    return 48 * d_t


@provision("25.7.2.1(b)", symbol="s_max")
def largest_spacing(s_b: Length, s_t: Length, b: Length) -> Length:
    """Largest spacing of ties between centres, with the least dimension of the member."""
    return minimum(minimum(s_b, s_t), b)


@provision("25.7.2.2", symbol="d_t,min")
def least_size(d_b: Length, d_small: Length, d_1: Length, d_2: Length) -> Length:
    """Least diameter of ties around bars; bundles count as larger bars."""
    return where(d_b <= d_small, d_1, d_2)


@provision("25.7.3.1", symbol="s_min")
def least_pitch(d_agg: Length, s_1: Length) -> Length:
    """Least clear distance between the turns of a spiral."""
    return maximum(s_1, 4 * d_agg / 3)


@provision("25.7.3.3", symbol="rho_s,min")
def least_spiral_ratio(A_g: Area, A_ch: Area, f_c_prime: Stress, f_yt: Stress) -> Ratio:
    """Least volume of a spiral over that of its core."""
    return 0.45 * (A_g / A_ch - 1) * f_c_prime / f_yt


@provision("25.7.3.3", symbol="rho_s")
def spiral_ratio(A_b: Area, D_ch: Length, d_t: Length, s: Length) -> Ratio:
    """Volume of a spiral, or of circular hoops, over that of the core inside them."""
    return pi * (D_ch - d_t) * A_b / (pi * D_ch**2 / 4 * s)


@dataclass(frozen=True)
class TieLimits:
    """Limits of ties. Lengths in mm.

    Attributes:
        least_size: diameter.
        by_bars, by_ties, by_section: largest spacing by each.
        largest: the least of these.
        least: smallest spacing.
        first: largest distance of the first tie.
        size_enough: whether the ties are large enough.
        first_enough: whether the first tie is near enough; nothing where it is not known.
    """

    least_size: float
    by_bars: float
    by_ties: float
    by_section: float
    largest: float
    least: float
    first: float
    size_enough: bool
    first_enough: bool | None

    def allowed(self, transverse: Transverse) -> dict[Zone, bool]:
        """Return whether the spacing of each zone is allowed."""
        return {
            zone: self.least - ROUNDING <= spacing <= self.largest + ROUNDING
            for zone, spacing in transverse.spacings.items()
        }


def tie_limits(
    record: Derivation | None,
    edition: Edition,
    cross: CrossSection,
    transverse: Transverse,
    aggregate: float,
) -> TieLimits:
    """Return the limits of ties.

    Args:
        record: what is written to.
        edition: of the code.
        cross: section and materials.
        transverse: the ties.
        aggregate: nominal maximum size of the aggregate, mm.
    """
    bars, d_t, given = cross.section.bars, transverse.size.diameter, edition.ties
    largest_bar, smallest_bar = float(bars.diameter.max()), float(bars.diameter.min())
    bundled = bars.bundle is not None
    counted = max(largest_bar, 1.001 * given.small_up_to) if bundled else largest_bar
    least = least_size.into(record, counted, given.small_up_to, given.small, given.large)
    across = least_dimension(cross.section)
    by_bars = spacing_by_bars.into(record, smallest_bar)
    by_ties = spacing_by_ties.into(record, d_t)
    largest = largest_spacing.into(record, by_bars, by_ties, across)
    closest = least_spacing.into(record, aggregate, d_t)
    first = first_tie.into(record, transverse.at_ends)
    return TieLimits(
        float(least),
        float(by_bars),
        float(by_ties),
        across,
        float(largest),
        float(closest),
        float(first),
        d_t >= least - ROUNDING,
        None if transverse.first is None else transverse.first <= first + ROUNDING,
    )


@dataclass(frozen=True)
class SpiralLimits:
    """Limits of a spiral. Lengths in mm.

    Attributes:
        core_diameter, core_area: of what is inside its outer edge, mm and mm².
        yield_strength: as it counts, MPa.
        ratio, least_ratio: of volumes, and the least.
        largest_pitch: by the least ratio.
        clear, least_clear, largest_clear: between its turns.
        size_enough: whether its bar is large enough.
    """

    core_diameter: float
    core_area: float
    yield_strength: float
    ratio: float
    least_ratio: float
    largest_pitch: float
    clear: float
    least_clear: float
    largest_clear: float
    size_enough: bool

    @property
    def enough(self) -> bool:
        """Whether there is enough of it."""
        return self.ratio >= self.least_ratio * (1 - 1e-9)

    @property
    def clear_allowed(self) -> bool:
        """Whether the turns are neither too near nor too far."""
        return self.least_clear - ROUNDING <= self.clear <= self.largest_clear + ROUNDING


def spiral_limits(
    record: Derivation | None,
    edition: Edition,
    cross: CrossSection,
    transverse: Transverse,
    aggregate: float,
) -> SpiralLimits:
    """Return the limits of a spiral in a circle.

    Args:
        record: what is written to.
        edition: of the code.
        cross: section and materials.
        transverse: the spiral.
        aggregate: nominal maximum size of the aggregate, mm.
    """
    given, size = edition.ties, transverse.size
    A_g, D_ch = cross.section.outline.area, core_diameter(cross)
    A_ch = math.pi * D_ch**2 / 4
    f_yt = limited_yield.into(record, transverse.yield_strength, given.confining_yield)
    least = least_spiral_ratio.into(record, A_g, A_ch, cross.weakest.strength, f_yt)
    ratio = spiral_ratio.into(record, size.area, D_ch, size.diameter, transverse.middle)
    clearest = least_pitch.into(record, aggregate, given.clear_pitch[0])
    return SpiralLimits(
        D_ch,
        A_ch,
        float(f_yt),
        float(ratio),
        float(least),
        float(ratio * transverse.middle / least),
        transverse.middle - size.diameter,
        float(clearest),
        given.clear_pitch[1],
        size.diameter >= given.spiral_diameter - ROUNDING,
    )


def core_diameter(cross: CrossSection) -> float:
    """Return the diameter of the core of a circle, to the outside of its ties, mm."""
    section = cross.section
    return section.diameter - 2 * section.cover
