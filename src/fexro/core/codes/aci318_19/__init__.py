"""ACI 318-19, in its SI and inch-pound editions."""

from __future__ import annotations

from fexro.core.codes import DesignCode
from fexro.core.codes.registry import Offer, register
from fexro.core.quantities import UnitSystem


def _make(units: UnitSystem, _: str) -> DesignCode:
    # Its modules are imported when the code is used.
    from fexro.core.codes.aci318_19.code import ACI_IN_LB, ACI_SI

    return ACI_SI if units is UnitSystem.SI else ACI_IN_LB


register(Offer("ACI 318-19", ("recommended",), _make))
