"""Reduction of imposed loads: AS/NZS 1170.1, 3.4.2."""

from __future__ import annotations

from numpy import clip, sqrt

from fexro.core.codes.loading import LiveLoadRule, register_reduction
from fexro.core.loads.floors import Floors
from fexro.core.provisions import Derivation, provision
from fexro.core.provisions.coefficient import Coefficient
from fexro.core.quantities import Area, Dimension, Ratio, Unit

__all__ = ["area_factor"]

USES = ("general", "storage")
C_3 = Coefficient(3, Unit("m", 1000.0, 1), Dimension.LENGTH)


@provision("3.4.2", symbol="psi_a")
def area_factor(A: Area) -> Ratio:
    """Share of the imposed load that stays with the tributary area of all floors."""
    return clip(0.3 + C_3 / sqrt(A), 0.5, 1.0)


def reduction(record: Derivation | None, floors: Floors) -> float:
    """Return the share of the imposed load that stays: AS/NZS 1170.1, 3.4.2."""
    if floors.category == "storage" or not floors.area:
        return 1.0
    return float(area_factor.into(record, floors.area))


register_reduction(LiveLoadRule("AS/NZS 1170.1", USES, reduction, by_area=True))
