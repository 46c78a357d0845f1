"""Densities of concrete as they are typed and shown: kg/m³, or lb/ft³."""

from __future__ import annotations

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, format_number, parse_quantity

__all__ = ["read_density", "write_density"]

SIZES = {"kg/m³": 1.0, "lb/ft³": 0.45359237 / 0.3048**3}  # kg/m³
WRITTEN = {"kg/m3": "kg/m³", "lb/ft3": "lb/ft³", "pcf": "lb/ft³"}


def write_density(density: float | None, system: UnitSystem) -> str:
    """Write a density given in kg/m³, in the units people see; nothing of normal weight."""
    if density is None:
        return ""
    unit = _unit(system)
    return f"{format_number(density / SIZES[unit], 0)} {unit}"


def read_density(text: str, system: UnitSystem, where: str) -> float | None:
    """Read a density, with its unit or without; returned in kg/m³, nothing where none is typed.

    Raises:
        InputError: if it is no density.
    """
    plain = text.strip()
    if not plain:
        return None
    unit = _unit(system)
    for symbol in (*SIZES, *WRITTEN):
        if plain.endswith(symbol):
            unit, plain = WRITTEN.get(symbol, symbol), plain[: -len(symbol)]
    try:
        return round(parse_quantity(plain, Dimension.RATIO, system, where) * SIZES[unit], 6)
    except InputError as error:
        allowed = f"a density such as 1850 {_unit(system)}, or nothing for normal weight"
        raise InputError(where, error.found, allowed) from None


def _unit(system: UnitSystem) -> str:
    return "kg/m³" if system is UnitSystem.SI else "lb/ft³"
