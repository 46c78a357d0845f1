"""Lengths of the building as they are typed and shown: m, or ft."""

from __future__ import annotations

from fexro.core.quantities import (
    Dimension,
    Unit,
    UnitSystem,
    format_number,
    parse_quantity,
)

__all__ = ["FOOT", "read_metres", "write_metres"]

FOOT = 0.3048  # m
METRE, FEET = Unit("m", 1e3, 3), Unit("ft", 1e3 * FOOT, 3)


def write_metres(metres: float, system: UnitSystem, decimals: int = 3) -> str:
    """Write a length given in m, in the units people see."""
    if system is UnitSystem.SI:
        number = format_number(metres, decimals).rstrip("0").rstrip(".")
        return f"{number} m"
    number = format_number(metres / FOOT, decimals).rstrip("0").rstrip(".")
    return f"{number} ft"


def read_metres(text: str, system: UnitSystem, where: str) -> float:
    """Read a length typed in m or ft, or in any unit that is typed with it; returned in m.

    Raises:
        InputError: if it is no length.
    """
    bare = METRE if system is UnitSystem.SI else FEET
    return round(parse_quantity(text, Dimension.LENGTH, system, where, bare) / 1e3, 6)
