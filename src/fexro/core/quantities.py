"""Dimensions, display units, and reading and writing of quantities.

Numbers are kept in N, mm, MPa and N·mm. People see kN, kN·m, mm, MPa or kip, kip·ft, in, ksi,
and may type any unit of the right dimension.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from enum import Enum
from functools import lru_cache
from typing import Annotated, Any, ClassVar, TypeAlias

from fexro.core.errors import InputError

__all__ = [
    "Angle",
    "Area",
    "Curvature",
    "Dimension",
    "FirstMoment",
    "Force",
    "Length",
    "Moment",
    "PerLength",
    "PerRootStress",
    "PerStress",
    "Ratio",
    "RootStress",
    "SecondMoment",
    "Stiffness",
    "Strain",
    "Stress",
    "Unit",
    "UnitSystem",
    "format_change",
    "format_length",
    "format_number",
    "format_quantity",
    "format_significant",
    "parse_quantity",
    "quantity_reading",
    "unit_of",
]

THIN_SPACE = "\u2009"
MINUS = "\u2212"

KIP = 4448.2216152605
INCH = 25.4


@dataclass(frozen=True)
class Dimension:
    """What a number measures: a product of powers of force and length.

    Attributes:
        force, length: the powers.
        kind: how a number without powers is written: as a ratio, share, strain or angle.
    """

    force: float = 0.0
    length: float = 0.0
    kind: str = ""

    LENGTH: ClassVar[Dimension]
    AREA: ClassVar[Dimension]
    SECOND_MOMENT: ClassVar[Dimension]
    FORCE: ClassVar[Dimension]
    MOMENT: ClassVar[Dimension]
    STIFFNESS: ClassVar[Dimension]
    STRESS: ClassVar[Dimension]
    STRAIN: ClassVar[Dimension]
    ANGLE: ClassVar[Dimension]
    RATIO: ClassVar[Dimension]
    SHARE: ClassVar[Dimension]

    def __mul__(self, other: Dimension) -> Dimension:
        return Dimension(self.force + other.force, self.length + other.length)

    def __truediv__(self, other: Dimension) -> Dimension:
        return self * other**-1

    def __pow__(self, power: float) -> Dimension:
        return Dimension(self.force * power, self.length * power)

    @property
    def name(self) -> str:
        """What it is called in a sentence."""
        return _NAMES.get(self, "quantity")


Dimension.RATIO = Dimension()
Dimension.STRAIN, Dimension.ANGLE = Dimension(kind="strain"), Dimension(kind="angle")
Dimension.SHARE = Dimension(kind="share")
Dimension.LENGTH, Dimension.FORCE = Dimension(length=1), Dimension(force=1)
Dimension.AREA, Dimension.SECOND_MOMENT = Dimension.LENGTH**2, Dimension.LENGTH**4
Dimension.MOMENT = Dimension.FORCE * Dimension.LENGTH
Dimension.STIFFNESS = Dimension.FORCE * Dimension.AREA
Dimension.STRESS = Dimension.FORCE / Dimension.AREA
_NAMES = {
    Dimension.LENGTH: "length",
    Dimension.AREA: "area",
    Dimension.FORCE: "force",
    Dimension.MOMENT: "moment",
    Dimension.STRESS: "stress",
    Dimension.ANGLE: "angle",
}

Length: TypeAlias = Annotated[Any, Dimension.LENGTH]
Area: TypeAlias = Annotated[Any, Dimension.AREA]
Force: TypeAlias = Annotated[Any, Dimension.FORCE]
Moment: TypeAlias = Annotated[Any, Dimension.MOMENT]
Stress: TypeAlias = Annotated[Any, Dimension.STRESS]
PerRootStress: TypeAlias = Annotated[Any, Dimension.STRESS**-0.5]
PerLength: TypeAlias = Annotated[Any, Dimension.LENGTH**-1]
PerStress: TypeAlias = Annotated[Any, Dimension.STRESS**-1]
RootStress: TypeAlias = Annotated[Any, Dimension.STRESS**0.5]
FirstMoment: TypeAlias = Annotated[Any, Dimension.LENGTH**3]
SecondMoment: TypeAlias = Annotated[Any, Dimension.SECOND_MOMENT]
Stiffness: TypeAlias = Annotated[Any, Dimension.STIFFNESS]
Curvature: TypeAlias = Annotated[Any, Dimension.LENGTH**-1]
Strain: TypeAlias = Annotated[Any, Dimension.STRAIN]
Angle: TypeAlias = Annotated[Any, Dimension.ANGLE]
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
        Dimension.STIFFNESS: Unit("kN·m²", 1e9, 0),
        Dimension.SECOND_MOMENT: Unit("mm⁴", 1.0, 0),
        Dimension.STRESS: Unit("MPa", 1.0, 1),
        Dimension.STRAIN: Unit("", 1.0, 5),
        Dimension.ANGLE: Unit("°", math.pi / 180, 1),
        Dimension.RATIO: Unit("", 1.0, 3),
        Dimension.SHARE: Unit("%", 0.01, 2),
    },
    UnitSystem.IN_LB: {
        Dimension.LENGTH: Unit("in", INCH, 2),
        Dimension.AREA: Unit("in²", INCH**2, 2),
        Dimension.SECOND_MOMENT: Unit("in⁴", INCH**4, 1),
        Dimension.FORCE: Unit("kip", KIP, 0),
        Dimension.MOMENT: Unit("kip·ft", KIP * INCH * 12, 0),
        Dimension.STRESS: Unit("ksi", KIP / INCH**2, 2),
        Dimension.STRAIN: Unit("", 1.0, 5),
        Dimension.ANGLE: Unit("°", math.pi / 180, 1),
        Dimension.RATIO: Unit("", 1.0, 3),
        Dimension.SHARE: Unit("%", 0.01, 2),
    },
}

# Units in which a printed formula holds as it stands, without a factor between its terms.
_COHERENT: dict[UnitSystem, dict[Dimension, Unit]] = {
    UnitSystem.SI: {
        **_DISPLAY[UnitSystem.SI],
        Dimension.FORCE: Unit("N", 1.0, 0),
        Dimension.MOMENT: Unit("N·mm", 1.0, 0),
        Dimension.STIFFNESS: Unit("N·mm²", 1.0, 0),
    },
    UnitSystem.IN_LB: {
        **_DISPLAY[UnitSystem.IN_LB],
        Dimension.MOMENT: Unit("kip·in", KIP * INCH, 0),
    },
}

# What may be typed behind a number; sizes in internal units.
_LENGTHS = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1e3,
    "in": INCH,
    "in.": INCH,
    "inch": INCH,
    '"': INCH,
    "″": INCH,
    "ft": 12 * INCH,
    "ft.": 12 * INCH,
    "foot": 12 * INCH,
    "feet": 12 * INCH,
    "inches": INCH,
    "'": 12 * INCH,
    "′": 12 * INCH,
}
_FORCES = {
    "N": 1.0,
    "kN": 1e3,
    "MN": 1e6,
    "lb": KIP / 1e3,
    "lbf": KIP / 1e3,
    "lbs": KIP / 1e3,
    "k": KIP,
    "kip": KIP,
    "kips": KIP,
}
_TYPED: dict[Dimension, dict[str, float]] = {
    Dimension.LENGTH: _LENGTHS,
    Dimension.AREA: {
        f"{name}{square}": _LENGTHS[name] ** 2
        for name in ("mm", "cm", "m", "in", "ft")
        for square in ("²", "2", "^2")
    },
    Dimension.FORCE: _FORCES,
    Dimension.MOMENT: {
        f"{force}{joint}{arm}": size * _LENGTHS[arm]
        for force, size in _FORCES.items()
        for arm in ("mm", "m", "in", "ft")
        for joint in ("·", "⋅", "*", ".", "-", " ", "")
    },
    Dimension.STRESS: {
        "Pa": 1e-6,
        "kPa": 1e-3,
        "MPa": 1.0,
        "GPa": 1e3,
        "N/mm²": 1.0,
        "N/mm2": 1.0,
        "kN/m²": 1e-3,
        "kN/m2": 1e-3,
        "psi": KIP / 1e3 / INCH**2,
        "ksi": KIP / INCH**2,
    },
    Dimension.ANGLE: {"°": math.pi / 180, "deg": math.pi / 180, "rad": 1.0},
}
# Those named in a refusal.
_OFFERED = {
    Dimension.LENGTH: "mm, cm, m, in, ft",
    Dimension.AREA: "mm², cm², m², in², ft²",
    Dimension.FORCE: "N, kN, MN, lbf, kip",
    Dimension.MOMENT: "N·mm, kN·m, MN·m, lbf·ft, kip·in, kip·ft",
    Dimension.STRESS: "kPa, MPa, N/mm², GPa, psi, ksi",
    Dimension.ANGLE: "degrees °, radians rad",
}

# One number: a sign, digits that may stand in groups of three, a point or a comma before decimals.
_QUANTITY = re.compile(
    r"""(?P<sign>[+-])?\ ?
    (?P<whole>[1-9][0-9]{0,2}(?P<joint>[ '])[0-9]{3}(?:(?P=joint)[0-9]{3})*|[0-9]+)?
    (?:(?P<point>[.,])(?P<decimals>[0-9]+))?
    \ *(?P<unit>[^0-9 ].*)?""",
    re.VERBOSE,
)
# A number with a power of ten; feet with inches; inches with a fraction.
_POWER = re.compile(r"([+-]?[0-9]+(?:[.,][0-9]+)?[eE][+-]?[0-9]{1,2})\ *([^0-9 ].*)?")
_PART = r"([0-9]{1,2})/([0-9]{1,3})"
_FEET = re.compile(
    r"([+-])? ?([0-9]+) *(?:'|′|ft\.?|feet|foot) *-? *"
    rf"([0-9]{{1,2}}(?:\.[0-9]+)?)?(?: *-? *(?<![0-9]){_PART})? *(?:\"|″|in\.?|inch|inches)?"
)
_FRACTION = re.compile(rf"([+-])? ?(?:([0-9]+)(?: +| *- *))?{_PART} *([^0-9 ].*)?")
# Units in which a point before three digits is as likely between thousands as before decimals.
_COUNTED = {"mm", "N", "kN", "kN·m", "kNm", "N·mm", "MPa", "N/mm²", "N/mm2", "kPa"}
_SPACES = dict.fromkeys(map(ord, "\t\u00a0\u2007\u2009\u202f"), " ")
_THOUSANDS = re.compile(r"(?<![0-9])[1-9][0-9]{0,2}[.,][0-9]{3}(?![0-9])")
LONGEST_TYPED = 60
_RAISED = str.maketrans("-0123456789.", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹·")


def unit_of(dimension: Dimension, system: UnitSystem, *, coherent: bool = False) -> Unit:
    """Return the unit in which a dimension is shown (or, coherent, put into formulas)."""
    named = (_COHERENT if coherent else _DISPLAY)[system]
    return named.get(dimension) or _composed(dimension, system)


@lru_cache(maxsize=256)
def _composed(dimension: Dimension, system: UnitSystem) -> Unit:
    """Return the unit of a dimension that has none of its own: a product of coherent units."""
    units = _COHERENT[system]
    powers = [
        (units[Dimension.FORCE], dimension.force),
        (units[Dimension.LENGTH], dimension.length),
    ]
    if dimension.length == -2 * dimension.force:
        powers = [(units[Dimension.STRESS], dimension.force)]
    above = "·".join(_power(unit.symbol, power) for unit, power in powers if power > 0)
    below = "·".join(_power(unit.symbol, -power) for unit, power in powers if power < 0)
    size = math.prod(unit.size**power for unit, power in powers)
    return Unit(f"{above or '1'}/{below}" if below else above, size, 3)


def _power(symbol: str, power: float) -> str:
    if power == 0.5:
        return f"√{symbol}"
    return symbol if power == 1 else symbol + f"{power:g}".translate(_RAISED)


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


def format_change(value: float, decimals: int = 0) -> str:
    """Return a number with its sign, whichever it is, but none where it is shown as nought."""
    text = format_number(value, decimals)
    return f"+{text}" if math.isfinite(value) and round(value, decimals) > 0.0 else text


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
        superscript = str(int(power)).translate(_RAISED)
        return f"{group_digits(mantissa)}·10{superscript}"
    text = f"{rounded:.{max(figures - 1 - exponent, 0)}f}"
    return group_digits(text.rstrip("0").rstrip(".") if "." in text else text)


def format_quantity(value: float, dimension: Dimension, system: UnitSystem) -> str:
    """Write an internal value in display units, rounded for reading, with its unit."""
    unit = unit_of(dimension, system)
    shown = value / unit.size
    if dimension in (Dimension.FORCE, Dimension.MOMENT):
        text = format_number(shown, 0) if abs(shown) >= 100 else format_significant(shown)
    elif dimension == Dimension.RATIO:
        text = format_significant(shown)
    elif dimension == Dimension.SHARE:
        text = _trimmed(format_number(shown, unit.decimals))
    else:
        text = format_significant(shown, 6 if dimension == Dimension.LENGTH else 4)
    return f"{text}{unit.symbol}" if unit.symbol == "°" else f"{text} {unit.symbol}".rstrip()


def format_length(value: float, system: UnitSystem) -> str:
    """Write a length that was found, to a tenth of a millimetre or a thousandth of an inch."""
    unit = unit_of(Dimension.LENGTH, system)
    return f"{_trimmed(format_number(value / unit.size, unit.decimals + 1))} {unit.symbol}"


def _trimmed(text: str) -> str:
    """Return a number without the zeros that end its decimals."""
    return text.rstrip("0").rstrip(".") if "." in text else text


@dataclass(frozen=True)
class _Typed:
    """A quantity as typed: its value in internal units, and whether it is just a plain number."""

    value: float
    plain: bool


def parse_quantity(
    text: str,
    dimension: Dimension,
    system: UnitSystem,
    where: str,
    bare: Unit | None = None,
) -> float:
    """Read a typed quantity such as `500`, `1 500 mm`, `18in` or `2,4 MN` into internal units.

    It is an optional sign, one number and at most one unit of the dimension. Decimals follow a
    point or a comma; spaces or apostrophes stand between groups of three digits only. A bare number
    is taken in the display unit of the system. Lengths may be feet with inches, or inches with a
    fraction. Nothing else is computed. A comma before three digits means thousands to some and
    decimals to others, and is refused; so is a point where metric units are counted in thousands.

    Args:
        text: what was typed.
        dimension: what it must measure.
        system: the units people see.
        where: name of the field, for the refusal.
        bare: unit of a number without one, in internal units; the display unit where not told.

    Raises:
        InputError: if it is anything else, or not finite.
    """
    unit = bare or unit_of(dimension, system)
    typed = _read(text, dimension, system, unit)
    if typed is None:
        found, symbol = f"“{text}”", unit.symbol
        both = _THOUSANDS.search(text.translate(_SPACES))
        if both is not None:
            number = both[0]
            whole, decimals = re.sub("[.,]", "", number), number.replace(",", ".")
            mark = "comma" if "," in number else "point"
            found += f", whose {mark} may mean thousands, {whole}, or decimals, {float(decimals):g}"
        allowed = "a number" + (f" in {symbol}" if symbol else "")
        if dimension in _OFFERED:
            allowed += f", or one with a unit of {dimension.name} ({_OFFERED[dimension]})"
        raise InputError(where, found, allowed)
    return typed.value


def quantity_reading(text: str, dimension: Dimension, system: UnitSystem) -> str:
    """Return how a typed quantity is read, with its unit, where that is not plain to see.

    Empty for a plain number in the display unit, and for what is no quantity.
    """
    typed = _read(text, dimension, system, unit_of(dimension, system))
    if typed is None or typed.plain:
        return ""
    return format_quantity(typed.value, dimension, system)


def _read(text: str, dimension: Dimension, system: UnitSystem, bare: Unit) -> _Typed | None:
    if len(text) > LONGEST_TYPED:
        return None
    cleaned = text.translate(_SPACES).strip().replace(MINUS, "-").replace("’", "'")
    units = _TYPED.get(dimension, {})
    if dimension == Dimension.LENGTH and (found := _read_inches(cleaned, system)) is not None:
        return _Typed(found, False)
    if power := _POWER.fullmatch(cleaned):
        size = bare.size if power[2] is None else _size(power[2], units)
        value = float(power[1].replace(",", ".")) * size if size else math.inf
        return _Typed(value, power[2] is None) if math.isfinite(value) else None
    match = _QUANTITY.fullmatch(cleaned)
    if match is None or not (match["whole"] or match["decimals"]):
        return None
    # The mark of feet parts no thousands where people count in feet.
    if system is UnitSystem.IN_LB and match["joint"] == "'":
        return None
    symbol = match["unit"] or bare.symbol
    if _THOUSANDS.search(cleaned) and (
        match["point"] == "," or (system is UnitSystem.SI and symbol in _COUNTED)
    ):
        return None
    size = bare.size if match["unit"] is None else _size(match["unit"], units)
    if dimension == Dimension.SHARE and match["unit"] == "%":
        size = 0.01
    if size is None:
        return None
    whole = re.sub("[ ']", "", match["whole"] or "0")
    value = float(f"{match['sign'] or ''}{whole}.{match['decimals'] or '0'}") * size
    plain = not match["unit"] and match["point"] != ","
    return _Typed(value, plain) if math.isfinite(value) else None


def _size(unit: str, units: dict[str, float]) -> float | None:
    """Return the size of a typed unit, in capitals too where these mean nothing else."""
    unit = re.sub(r" *([·⋅*.-]) *", r"\1", unit)
    if unit in units:
        return units[unit]
    alike = {size for name, size in units.items() if name.lower() == unit.lower()}
    return alike.pop() if len(alike) == 1 and len(unit) > 1 else None


def _read_inches(text: str, system: UnitSystem) -> float | None:
    """Read feet with inches, as 1'-6", 5 ft 6 or 5' 6 1/2", and fractions, as 18 1/2 in."""
    if feet := _FEET.fullmatch(text):
        sign, whole, inches, above, below = feet.groups()
        if inches is None and above is None:
            return None  # feet alone are a number with a unit
        part = float(inches or 0) + _fraction(above, below)
        if part >= 12 or (inches is not None and len(inches.partition(".")[0]) > 2):
            return None
        value = 12 * INCH * float(whole) + INCH * part
    elif (fraction := _FRACTION.fullmatch(text)) is not None:
        sign, number, above, below, unit = fraction.groups()
        size = INCH if unit is None and system is UnitSystem.IN_LB else _LENGTHS.get(unit or "")
        if size not in (INCH, 12 * INCH):
            return None
        value = size * (float(number or 0) + _fraction(above, below))
    else:
        return None
    if not math.isfinite(value):
        return None
    return -value if sign == "-" else value


def _fraction(above: str | None, below: str | None) -> float:
    if above is None or below is None:
        return 0.0
    return int(above) / int(below) if 0 < int(above) < int(below) else math.inf
