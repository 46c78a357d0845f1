"""The design codes on offer, by name, units and annex."""

from __future__ import annotations

from fexro.core.codes import DesignCode
from fexro.core.codes.aci318_19.code import ACI_IN_LB, ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED, EN_UK
from fexro.core.quantities import UnitSystem

__all__ = ["CODES", "design_code"]

# Names and annexes.
CODES = (
    ("ACI 318-19", "recommended"),
    ("EN 1992-1-1", "recommended"),
    ("EN 1992-1-1", "UK"),
)


def design_code(name: str, units: UnitSystem, annex: str) -> DesignCode:
    """Return a code: ACI 318-19 in the edition of the units, EN 1992-1-1 with an annex."""
    if name == "ACI 318-19":
        return ACI_SI if units is UnitSystem.SI else ACI_IN_LB
    return EN_UK if annex == "UK" else EN_RECOMMENDED
