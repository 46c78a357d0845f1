"""Nominal masses of bars, as the tables print them."""

from __future__ import annotations

from fexro.core.quantities import INCH
from fexro.core.section.bars import IN_LB_SIZES, SOFT_METRIC_SIZES, BarSize

__all__ = ["POUND", "mass_per_length"]

STEEL = 0.00785  # kg/m of a mm²
POUND = 0.45359237  # kg
FOOT = 12 * INCH / 1000  # m
# ASTM A615 and A615M, from the smallest size on.
POUNDS_PER_FOOT = (0.376, 0.668, 1.043, 1.502, 2.044, 2.670, 3.400, 4.303, 5.313, 7.650, 13.60)
KILOGRAMS_PER_METRE = (0.560, 0.994, 1.552, 2.235, 3.042, 3.973, 5.060, 6.404, 7.907, 11.38, 20.24)
STANDARD = {
    **dict(zip(IN_LB_SIZES.values(), (p * POUND / FOOT for p in POUNDS_PER_FOOT), strict=True)),
    **dict(zip(SOFT_METRIC_SIZES.values(), KILOGRAMS_PER_METRE, strict=True)),
}


def mass_per_length(size: BarSize) -> float:
    """Return the nominal mass of a bar size, kg/m.

    It is that of the standard for ASTM A615 and A615M; of others it follows from the area, to
    three decimals.
    """
    return STANDARD.get(size, round(STEEL * size.area, 3))
