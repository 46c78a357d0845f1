"""Reduction of imposed loads: BS 6399-1, 6.1 and Tables 2 and 3."""

from __future__ import annotations

from numpy import maximum, minimum, where

from fexro.core.codes.loading import LiveLoadRule, register_reduction
from fexro.core.loads.floors import Floors
from fexro.core.provisions import Derivation, provision
from fexro.core.provisions.coefficient import Coefficient
from fexro.core.quantities import Area, Dimension, Ratio, Unit

__all__ = ["area_reduction", "floor_reduction", "imposed_load_factor"]

A_50 = Coefficient(50, Unit("m²", 1e6, 0), Dimension.AREA)


@provision("Table 2", symbol="r_n")
def floor_reduction(n: Ratio) -> Ratio:
    """Reduction by the number of floors carried."""
    return where(n <= 4, (n - 1) / 10, where(n <= 10, 0.4, 0.5))


@provision("Table 3", symbol="r_A")
def area_reduction(A: Area) -> Ratio:
    """Reduction by the area carried."""
    return minimum(0.05 * A / A_50, 0.25)


@provision("6.1", symbol="alpha")
def imposed_load_factor(r_n: Ratio, r_A: Ratio) -> Ratio:
    """Share of the imposed load that stays, by the larger of both reductions."""
    return 1 - maximum(r_n, r_A)


def reduction(record: Derivation | None, floors: Floors) -> float:
    """Return the share of the imposed load that stays: BS 6399-1, 6.1."""
    r_n = float(floor_reduction.into(record, float(floors.number)))
    r_A = float(area_reduction.into(record, floors.area))
    return float(imposed_load_factor.into(record, r_n, r_A))


register_reduction(LiveLoadRule("BS 6399-1", (), reduction, by_area=True))
