"""The design codes on offer, by name and units."""

from __future__ import annotations

from fexro.core.codes import DesignCode
from fexro.core.codes.aci318_19.code import ACI_IN_LB, ACI_SI
from fexro.core.quantities import UnitSystem

__all__ = ["CODES", "design_code"]

CODES: dict[tuple[str, UnitSystem], DesignCode] = {
    ("ACI 318-19", UnitSystem.SI): ACI_SI,
    ("ACI 318-19", UnitSystem.IN_LB): ACI_IN_LB,
}


def design_code(name: str, units: UnitSystem) -> DesignCode:
    """Return a code in the edition of a system of units."""
    return CODES[name, units]
