"""Reduction of imposed loads: EN 1991-1-1, 6.3.1.2, recommended and with the UK's values."""

from __future__ import annotations

from numpy import clip, maximum, minimum, where

from fexro.core.codes.loading import LiveLoadRule, register_reduction
from fexro.core.loads.floors import Floors
from fexro.core.provisions import Derivation, provision
from fexro.core.provisions.coefficient import Coefficient
from fexro.core.quantities import Area, Dimension, Ratio, Unit

__all__ = ["area_factor", "area_factor_uk", "storey_factor", "storey_factor_uk"]

REDUCED = ("A", "B", "C", "D")
CATEGORIES = (*REDUCED, "E", "F", "G", "H")
PSI_0 = 0.7  # EN 1990 Table A1.1, the same for categories A to D
_SQUARE_METRE = Unit("m²", 1e6, 0)
A_0 = Coefficient(10, _SQUARE_METRE, Dimension.AREA)
A_1000 = Coefficient(1000, _SQUARE_METRE, Dimension.AREA)


@provision("6.3.1.2(11)", symbol="alpha_n")
def storey_factor(n: Ratio, psi_0: Ratio) -> Ratio:
    """Share of the imposed load that stays with the storeys above."""
    return where(n > 2, (2 + (n - 2) * psi_0) / n, 1.0)


@provision("6.3.1.2(10)", symbol="alpha_A")
def area_factor(psi_0: Ratio, A: Area, least: Ratio) -> Ratio:
    """Share of the imposed load that stays with the loaded area."""
    return clip(5 / 7 * psi_0 + A_0 / A, least, 1.0)


@provision("NA.2.6", symbol="alpha_n")
def storey_factor_uk(n: Ratio) -> Ratio:
    """Share of the imposed load that stays with the storeys above, UK."""
    return where(n <= 5, minimum(1.1 - n / 10, 1.0), where(n <= 10, 0.6, 0.5))


@provision("NA.2.5", symbol="alpha_A")
def area_factor_uk(A: Area) -> Ratio:
    """Share of the imposed load that stays with the loaded area, UK."""
    return maximum(1 - A / A_1000, 0.75)


def by_floors(record: Derivation | None, floors: Floors) -> float:
    """Return the share of the imposed load that stays: 6.3.1.2(11)."""
    if floors.category not in REDUCED:
        return 1.0
    return float(storey_factor.into(record, float(floors.number), PSI_0))


def by_area(record: Derivation | None, floors: Floors) -> float:
    """Return the share of the imposed load that stays: 6.3.1.2(10)."""
    if floors.category not in REDUCED or not floors.area:
        return 1.0
    least = 0.6 if floors.category in ("C", "D") else 0.0
    return float(area_factor.into(record, PSI_0, floors.area, least))


def by_floors_uk(record: Derivation | None, floors: Floors) -> float:
    """Return the share of the imposed load that stays: UK NA.2.6."""
    if floors.category not in REDUCED:
        return 1.0
    return float(storey_factor_uk.into(record, float(floors.number)))


def by_area_uk(record: Derivation | None, floors: Floors) -> float:
    """Return the share of the imposed load that stays: UK NA.2.5."""
    if floors.category not in REDUCED or not floors.area:
        return 1.0
    return float(area_factor_uk.into(record, floors.area))


register_reduction(LiveLoadRule("EN 1991-1-1 floors", CATEGORIES, by_floors))
register_reduction(LiveLoadRule("EN 1991-1-1 area", CATEGORIES, by_area, by_area=True))
register_reduction(LiveLoadRule("UK floors", CATEGORIES, by_floors_uk))
register_reduction(LiveLoadRule("UK area", CATEGORIES, by_area_uk, by_area=True))
