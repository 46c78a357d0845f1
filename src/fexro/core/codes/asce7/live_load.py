"""Reduction of live loads: ASCE 7-16, 4.7, in both unit editions."""

from __future__ import annotations

from dataclasses import dataclass

from numpy import maximum, sqrt, where

from fexro.core.codes.loading import LiveLoadRule, register_reduction
from fexro.core.loads.floors import Floors
from fexro.core.provisions import Derivation, provision
from fexro.core.provisions.coefficient import PSI, Coefficient
from fexro.core.quantities import Area, Dimension, Length, Ratio, Stress, Unit, UnitSystem

__all__ = ["heavy_live_load", "live_load_factor"]

HEAVY_LEAST = 0.8
USES = ("other", "garage", "assembly")


@dataclass(frozen=True)
class _Edition:
    root: Coefficient
    influence: Coefficient
    heavy: Coefficient


_METRE, _FOOT = Unit("m", 1000.0, 2), Unit("ft", 304.8, 1)
_SQUARE_METRE, _SQUARE_FOOT = Unit("m²", 1e6, 1), Unit("ft²", 304.8**2, 0)
_PSF = Unit("psf", PSI.size / 144, 0)
EDITIONS = {
    UnitSystem.SI: _Edition(
        Coefficient(4.57, _METRE, Dimension.LENGTH),
        Coefficient(37.2, _SQUARE_METRE, Dimension.AREA),
        Coefficient(4.79, Unit("kPa", 1e-3, 2), Dimension.STRESS),
    ),
    UnitSystem.IN_LB: _Edition(
        Coefficient(15, _FOOT, Dimension.LENGTH),
        Coefficient(400, _SQUARE_FOOT, Dimension.AREA),
        Coefficient(100, _PSF, Dimension.STRESS),
    ),
}


@provision("4.7.2", symbol="L/L_0")
def live_load_factor(K_LL: Ratio, A_T: Area, c: Length, A_least: Area, least: Ratio) -> Ratio:
    """Share of the live load that stays, where the influence area is large enough."""
    A_I: Area = K_LL * A_T
    return where(A_least <= A_I, maximum(0.25 + c / sqrt(A_I), least), 1.0)


@provision("4.7.3", symbol="L/L_0")
def heavy_live_load(factor: Ratio, floors: Ratio, L_0: Stress, L_heavy: Stress) -> Ratio:
    """Share that stays of a heavy live load: less only where two floors or more are carried."""
    return where(L_heavy < L_0, where(floors >= 2, maximum(factor, HEAVY_LEAST), 1.0), factor)


@provision("4.7.4", symbol="L/L_0")
def garage_live_load(factor: Ratio, floors: Ratio) -> Ratio:
    """Share that stays in garages of passenger vehicles."""
    return where(floors >= 2, maximum(factor, HEAVY_LEAST), 1.0)


def reduction(record: Derivation | None, floors: Floors) -> float:
    """Return the share of the live load that stays: ASCE 7-16, 4.7.2 to 4.7.5."""
    if floors.category == "assembly" or not floors.area:
        return 1.0
    edition = EDITIONS[floors.units]
    least = 0.5 if floors.number == 1 else 0.4
    factor = live_load_factor.into(
        record, floors.element, floors.area, edition.root, edition.influence, least
    )
    number = float(floors.number)
    if "garage" in floors.category:
        return float(garage_live_load.into(record, float(factor), number))
    return float(heavy_live_load.into(record, float(factor), number, floors.load, edition.heavy))


register_reduction(LiveLoadRule("ASCE 7-16", USES, reduction, by_area=True, by_load=True))
