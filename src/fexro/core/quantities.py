"""Dimensions, display units, and reading and writing of quantities.

Numbers are kept in N, mm, MPa and N·mm. People see kN, kN·m, mm, MPa or kip, kip·ft, in, ksi,
and may type any unit of the right dimension.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import Enum
from functools import cache
from typing import TYPE_CHECKING, Annotated, Any, TypeAlias

from fexro.core.errors import InputError

if TYPE_CHECKING:
    import pint

__all__ = [
    "Area",
    "Dimension",
    "Force",
    "Length",
    "Moment",
    "Ratio",
    "Strain",
    "Stress",
    "Unit",
    "UnitSystem",
    "format_number",
    "format_quantity",
    "format_significant",
    "parse_quantity",
    "unit_of",
]

THIN_SPACE = "\u2009"
MINUS = "\u2212"

KIP = 4448.2216152605
INCH = 25.4


class Dimension(Enum):
    """What a number measures."""

    LENGTH = "length"
    AREA = "area"
    FORCE = "force"
    MOMENT = "moment"
    STRESS = "stress"
    STRAIN = "strain"
    RATIO = "ratio"


Length: TypeAlias = Annotated[Any, Dimension.LENGTH]
Area: TypeAlias = Annotated[Any, Dimension.AREA]
Force: TypeAlias = Annotated[Any, Dimension.FORCE]
Moment: TypeAlias = Annotated[Any, Dimension.MOMENT]
Stress: TypeAlias = Annotated[Any, Dimension.STRESS]
Strain: TypeAlias = Annotated[Any, Dimension.STRAIN]
Ratio: TypeAlias = Annotated[Any, Dimension.RATIO]


class UnitSystem(Enum):
    """The units people see."""

    SI = "SI"
    IN_LB = "in-lb"


@dataclass(frozen=True)
class Unit:
    """A unit: its symbol, its size in internal units, and the decimals a table shows."""

    symbol: str
    size: float
    decimals: int


_DISPLAY: dict[UnitSystem, dict[Dimension, Unit]] = {
    UnitSystem.SI: {
        Dimension.LENGTH: Unit("mm", 1.0, 0),
        Dimension.AREA: Unit("mm²", 1.0, 0),
        Dimension.FORCE: Unit("kN", 1e3, 0),
        Dimension.MOMENT: Unit("kN·m", 1e6, 0),
        Dimension.STRESS: Unit("MPa", 1.0, 1),
        Dimension.STRAIN: Unit("", 1.0, 5),
        Dimension.RATIO: Unit("", 1.0, 3),
    },
    UnitSystem.IN_LB: {
        Dimension.LENGTH: Unit("in", INCH, 2),
        Dimension.AREA: Unit("in²", INCH**2, 2),
        Dimension.FORCE: Unit("kip", KIP, 0),
        Dimension.MOMENT: Unit("kip·ft", KIP * INCH * 12, 0),
        Dimension.STRESS: Unit("ksi", KIP / INCH**2, 2),
        Dimension.STRAIN: Unit("", 1.0, 5),
        Dimension.RATIO: Unit("", 1.0, 3),
    },
}

# Units in which a printed formula holds as it stands, without a factor between its terms.
_COHERENT: dict[UnitSystem, dict[Dimension, Unit]] = {
    UnitSystem.SI: {
        **_DISPLAY[UnitSystem.SI],
        Dimension.FORCE: Unit("N", 1.0, 0),
        Dimension.MOMENT: Unit("N·mm", 1.0, 0),
    },
    UnitSystem.IN_LB: {
        **_DISPLAY[UnitSystem.IN_LB],
        Dimension.MOMENT: Unit("kip·in", KIP * INCH, 0),
    },
}

_PINT_BASE = {
    Dimension.LENGTH: "mm",
    Dimension.AREA: "mm**2",
    Dimension.FORCE: "N",
    Dimension.MOMENT: "N*mm",
    Dimension.STRESS: "MPa",
}


def unit_of(dimension: Dimension, system: UnitSystem, *, coherent: bool = False) -> Unit:
    """Return the unit in which a dimension is shown (or, coherent, put into formulas)."""
    return (_COHERENT if coherent else _DISPLAY)[system][dimension]


def group_digits(text: str) -> str:
    """Separate the thousands of a plain decimal number by thin spaces and use a true minus."""
    sign = MINUS if text.startswith("-") else ""
    whole, _, fraction = text.lstrip("-").partition(".")
    grouped = f"{int(whole):,}".replace(",", THIN_SPACE) if whole else whole
    return sign + grouped + (f".{fraction}" if fraction else "")


def format_number(value: float, decimals: int) -> str:
    """Write a number with fixed decimals, for columns aligned on the decimal point."""
    if not math.isfinite(value):
        return "–"
    text = f"{value:.{decimals}f}"
    return group_digits(text.lstrip("-") if float(text) == 0 else text)


def format_significant(value: float, figures: int = 3) -> str:
    """Write a number with the given significant figures, without an exponent below 1e10."""
    if not math.isfinite(value):
        return "–"
    if value == 0:
        return "0"
    exponent = math.floor(math.log10(abs(value)))
    rounded = round(value, figures - 1 - exponent)
    if abs(rounded) >= 1e10 or abs(rounded) < 1e-6:
        mantissa, _, power = f"{value:.{figures - 1}e}".partition("e")
        superscript = str(int(power)).translate(str.maketrans("-0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹"))
        return f"{group_digits(mantissa)}·10{superscript}"
    text = f"{rounded:.{max(figures - 1 - exponent, 0)}f}"
    return group_digits(text.rstrip("0").rstrip(".") if "." in text else text)


def format_quantity(value: float, dimension: Dimension, system: UnitSystem) -> str:
    """Write an internal value in display units, rounded for reading, with its unit."""
    unit = unit_of(dimension, system)
    shown = value / unit.size
    if dimension is Dimension.FORCE or dimension is Dimension.MOMENT:
        text = format_number(shown, 0) if abs(shown) >= 100 else format_significant(shown)
    elif dimension is Dimension.RATIO:
        text = format_significant(shown)
    else:
        text = format_significant(shown, 6 if dimension is Dimension.LENGTH else 4)
    return f"{text} {unit.symbol}".rstrip()


@cache
def _registry() -> pint.UnitRegistry[float]:
    import pint  # a heavy import that only typed input needs

    return pint.UnitRegistry(cache_folder=None)


def parse_quantity(text: str, dimension: Dimension, system: UnitSystem, where: str) -> float:
    """Read a typed quantity such as `500`, `18in` or `2.4 MN` into internal units.

    A bare number is taken in the display unit of the system.

    Args:
        text: what was typed.
        dimension: what it must measure.
        system: the units people see.
        where: name of the field, for the refusal.

    Raises:
        InputError: if it is not a finite number with a unit of that dimension.
    """
    unit = unit_of(dimension, system)
    allowed = f"a number in {unit.symbol}, or with another unit of {dimension.value}"
    if not unit.symbol:
        allowed = "a number"
    cleaned = text.strip().replace(THIN_SPACE, "").replace(MINUS, "-").replace("·", "*")
    try:
        value = float(cleaned) * unit.size
    except ValueError:
        value = _parse_with_unit(cleaned, dimension, where, text, allowed)
    if not math.isfinite(value):
        raise InputError(where, f"“{text}”", allowed)
    return value


def _parse_with_unit(
    cleaned: str, dimension: Dimension, where: str, text: str, allowed: str
) -> float:
    if dimension not in _PINT_BASE or len(cleaned) > 60 or not cleaned:
        raise InputError(where, f"“{text}”", allowed)
    readable = cleaned.replace("kip*ft", "kip*foot").replace("#", "")
    try:
        quantity: Any = _registry().Quantity(readable)
        return float(quantity.to(_PINT_BASE[dimension]).magnitude)
    except Exception as error:  # the parser raises many kinds; all mean "not understood"
        raise InputError(where, f"“{text}”", allowed) from error
