"""Typed text is read as a person means it, or refused with both readings; never otherwise."""

from __future__ import annotations

import itertools
import math

import pytest

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, parse_quantity
from fexro.core.section.bars import parse_ties
from fexro.core.section.call_out import canonical

SI, IN_LB = UnitSystem.SI, UnitSystem.IN_LB
LENGTH, FORCE, STRESS = Dimension.LENGTH, Dimension.FORCE, Dimension.STRESS
INCH, POUND = 25.4, 4.4482216152605
UNITS = {
    LENGTH: {"mm": 1, "cm": 10, "m": 1e3, "in": INCH, "ft": 12 * INCH, "MM": 1, "feet": 12 * INCH},
    FORCE: {"N": 1, "kN": 1e3, "KN": 1e3, "MN": 1e6, "lb": POUND, "lbs": POUND, "kip": 1e3 * POUND},
    STRESS: {"MPa": 1, "mpa": 1, "N/mm²": 1, "GPa": 1e3, "psi": POUND / INCH**2},
}
BARE = {
    (LENGTH, SI): 1.0,
    (LENGTH, IN_LB): INCH,
    (FORCE, SI): 1e3,
    (FORCE, IN_LB): 1e3 * POUND,
    (STRESS, SI): 1.0,
    (STRESS, IN_LB): 1e3 * POUND / INCH**2,
}
NUMBERS = {
    "500": 500,
    "12.5": 12.5,
    "12,5": 12.5,
    "0,125": 0.125,
    "0.375": 0.375,
    "1 250": 1250,
    "1\u2009250": 1250,
    "12\u202f500.5": 12500.5,
    "1.5e3": 1500,
    "2E-1": 0.2,
    "−40": -40,
    "+7": 7,
}
MEANT = [
    (f"{number}{gap}{unit}", dimension, system, value * size)
    for (number, value), gap in itertools.product(NUMBERS.items(), ("", " "))
    for dimension, units in UNITS.items()
    for system in (SI, IN_LB)
    for unit, size in units.items()
] + [
    (number, dimension, system, value * size)
    for number, value in NUMBERS.items()
    for (dimension, system), size in BARE.items()
]
FEET = [
    ("1'-6\"", 18),
    ("1' 6\"", 18),
    ("5 ft 6", 66),
    ("5 ft 6 in", 66),
    ("5'", 60),
    ("6'-4 1/4\"", 76.25),
    ("18 1/2 in", 18.5),
    ("3/4 in", 0.75),
    ("-2' 0\"", -24),
]
BOTH = ["1,500", "1,500 mm", "12,250 kN", "1,250 in"]


def test_there_are_enough_texts():
    assert len(MEANT) + len(FEET) + len(BOTH) > 400


@pytest.mark.parametrize("system", [SI, IN_LB])
def test_numbers_with_units_are_read_as_they_are_meant(system):
    for text, dimension, theirs, value in MEANT:
        if theirs is system:
            found = parse_quantity(text, dimension, system, "field")
            assert found == pytest.approx(value, rel=1e-9), (text, dimension.name)


@pytest.mark.parametrize("system", [SI, IN_LB])
@pytest.mark.parametrize(("text", "inches"), FEET)
def test_feet_with_inches_and_fractions(text, inches, system):
    assert parse_quantity(text, LENGTH, system, "field") == pytest.approx(inches * INCH)


@pytest.mark.parametrize("system", [SI, IN_LB])
@pytest.mark.parametrize("text", BOTH)
def test_a_comma_before_three_digits_is_refused_with_both_readings(text, system):
    dimension = FORCE if "kN" in text else LENGTH
    number = text.split()[0]
    with pytest.raises(InputError) as error:
        parse_quantity(text, dimension, system, "field")
    assert number.replace(",", "") in str(error.value)
    assert f"{float(number.replace(',', '.')):g}" in str(error.value)


def test_a_point_before_three_digits_is_refused_where_it_may_part_thousands():
    for text in ("1.500", "1.500 mm", "2.250 kN"):
        with pytest.raises(InputError, match="thousands"):
            parse_quantity(text, FORCE if "kN" in text else LENGTH, SI, "field")
    # Inches are not written so, nor metres by the thousand.
    assert parse_quantity("1.125", LENGTH, IN_LB, "field") == pytest.approx(1.125 * INCH)
    assert parse_quantity("3.125 m", LENGTH, SI, "field") == pytest.approx(3125)


@pytest.mark.parametrize(
    "text",
    ["nan", "inf", "-inf", "1_0", "5'100", "10'000", "1/0 in", "5/4 in", "1' 13\"", "1e400", "٣٤"],
)
def test_what_is_no_number_is_refused(text):
    with pytest.raises(InputError):
        parse_quantity(text, LENGTH, IN_LB, "field")


def test_shares_may_be_percent():
    assert parse_quantity("2%", Dimension.SHARE, SI, "field") == pytest.approx(0.02)


@pytest.mark.parametrize(
    ("text", "spacing"),
    [
        *(("#4@20", 20 * INCH), ("#4@18", 18 * INCH), ("#4@8in", 8 * INCH), ("#4@12", 12 * INCH)),
        *(("D10@200", 200), ("#13M@200", 200), ("#3@300", 300), ("T12@150 mm", 150)),
    ],
)
def test_a_bare_spacing_is_in_the_unit_of_the_size(text, spacing):
    ties = parse_ties(text)
    assert ties.spacing == pytest.approx(spacing)
    # As it is written it is read again as the same.
    assert parse_ties(str(ties)).spacing == pytest.approx(spacing, abs=1e-3)


@pytest.mark.parametrize(
    ("text", "meant"),
    [
        *((f"8{letter}25", "8 D25") for letter in "DTHNYØ"),
        *((f"8 {letter}25", "8 D25") for letter in "DTHNYØ"),
        *((f"4-{letter}32", "4 D32") for letter in "DTN"),
        *(("12-#8", "12 #8"), ("8x D25", "8 D25"), ("2x2 D25", "2 bundles of 2 D25")),
        ("8 #8 each end in 16", "8 #8 each end in 16in"),
        ("8 D20 each end in 400", "8 D20 each end in 400"),
    ],
)
def test_bars_by_their_trade_names(text, meant):
    assert canonical(text) == meant


def test_lengths_of_the_building_are_read_by_the_same_grammar():
    from fexro.desktop.densities import read_density
    from fexro.desktop.lengths import read_metres

    assert read_metres("12 500", SI, "height") == 12500
    assert read_metres("12\u2009500 mm", SI, "height") == 12.5
    assert read_metres("3.125", SI, "height") == 3.125
    assert read_metres("1 250", IN_LB, "height") == pytest.approx(1250 * 0.3048)
    assert read_metres("11'-6\"", IN_LB, "height") == pytest.approx(11.5 * 0.3048)
    for text in ("1,250", "nan", "1_0", "inf"):
        with pytest.raises(InputError):
            read_metres(text, IN_LB, "height")
    assert read_density("1 850", SI, "density") == 1850
    for text in ("1,850", "nan", "1_0"):
        with pytest.raises(InputError):
            read_density(text, SI, "density")
    assert math.isclose(read_density("115 pcf", SI, "density"), 115 * 0.45359237 / 0.3048**3)
