"""Reading and writing quantities."""

from __future__ import annotations

import math
import re
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fexro.core.errors import InputError
from fexro.core.quantities import (
    Dimension,
    UnitSystem,
    format_change,
    format_number,
    format_quantity,
    format_significant,
    parse_quantity,
    quantity_reading,
)

SI, IN_LB = UnitSystem.SI, UnitSystem.IN_LB


@pytest.mark.parametrize(
    ("typed", "dimension", "system", "value"),
    [
        ("500", Dimension.LENGTH, SI, 500.0),
        ("18in", Dimension.LENGTH, SI, 457.2),
        ("18", Dimension.LENGTH, IN_LB, 457.2),
        ("0.5 m", Dimension.LENGTH, IN_LB, 500.0),
        ("2.4 MN", Dimension.FORCE, SI, 2.4e6),
        ("100", Dimension.FORCE, IN_LB, 444822.16152605),
        ("1 kip·ft", Dimension.MOMENT, SI, 1355817.9483314),
        ("5 ksi", Dimension.STRESS, SI, 34.473786),
        ("1 200", Dimension.LENGTH, SI, 1200.0),
    ],
)
def test_typed_quantities(typed, dimension, system, value):
    typed = typed.replace("1 200", "1\u2009200")
    assert parse_quantity(typed, dimension, system, "field") == pytest.approx(value)


@pytest.mark.parametrize(
    ("typed", "value"),
    [
        ("1 500 mm", 1500.0),
        ("2 400 mm", 2400.0),
        ("1,5 m", 1500.0),
        ("1.5m", 1500.0),
        ("1'500", 1500.0),
        ("1’500 mm", 1500.0),
        ("1\u202f500\u00a0mm", 1500.0),
        ("12 345,6", 12345.6),
        ("−40", -40.0),
        ("+.5 m", 500.0),
        ('18"', 457.2),
        ("6 ft", 1828.8),
    ],
)
def test_one_number_and_one_unit_in_the_ways_people_write_them(typed, value):
    assert parse_quantity(typed, Dimension.LENGTH, SI, "Width") == pytest.approx(value)


@pytest.mark.parametrize(
    "typed",
    [
        *("", "abc", "5 kN", "nan", "inf", "1e999", "3;4", "__import__"),
        *("500±5 mm", "3 4 m", "9**9**9", "2*300", "1 50", "12 34 567", "1 500'000", "0 500"),
        *(
            "1.500,5",
            "1,500,000",
            "1_000",
            "١٥٠٠",
            "5.",
            "5 m m",
            "5 mm2",
        ),
        *("--5", "5-3", "mm", "5 mm mm", "5\x00", "9" * 400),
    ],
)
def test_what_is_no_length_is_refused_with_the_field(typed):
    with pytest.raises(InputError, match=r"Width: found .* allowed: a number in mm"):
        parse_quantity(typed, Dimension.LENGTH, SI, "Width")


def test_where_a_comma_may_mean_thousands_it_is_refused_before_three_digits():
    assert parse_quantity("1,50 m", Dimension.LENGTH, SI, "Width") == 1500.0
    assert parse_quantity("0,125", Dimension.LENGTH, IN_LB, "Width") == pytest.approx(3.175)
    with pytest.raises(InputError, match="comma may mean thousands"):
        parse_quantity("1,500 kip", Dimension.FORCE, IN_LB, "N")


@pytest.mark.parametrize("joint", ["·", "*", "-", " ", "", ".", " · "])
def test_moments_are_a_force_and_an_arm(joint):
    assert parse_quantity(f"5 kN{joint}m", Dimension.MOMENT, SI, "Mx") == 5e6


def test_angles_are_radians():
    for typed in ("30", "30°", "30 deg", "0.5235987755982988 rad"):
        assert parse_quantity(typed, Dimension.ANGLE, SI, "Moment at") == pytest.approx(math.pi / 6)


def test_how_a_quantity_was_read_is_told_where_it_is_not_plain():
    for typed, shown in (
        ("18in", "457.2 mm"),
        ("1,5 m", "1\u2009500 mm"),
        ("0,5", "0.5 mm"),
        ("500", ""),
        ("1 500", ""),
        ("5 kN", ""),
    ):
        assert quantity_reading(typed, Dimension.LENGTH, SI) == shown


GROUPED = re.compile(r"[-+]? ?[1-9]\d{0,2}(?:'\d{3})+(?:[.,]\d+)?\D*")


SIZES = {"": 1, "mm": 1, "m": 1e3, "in": 25.4, '"': 25.4, "'": 304.8}


def by_parts(text):
    """The value of powers of ten, of feet with inches and of fractions, mm, by adding parts."""
    sign = -1 if text.startswith("-") else 1
    text = text.lstrip("+-").strip()
    if "e" in text:
        number, unit = re.fullmatch(r"(.*e[+-]?\d+)\s*(\D*)", text).groups()
        return sign * float(number.replace(",", ".")) * SIZES[unit.strip().lower()]
    feet, mark, rest = text.rpartition("'")
    if mark and not rest.strip():
        feet, mark, rest = "0", "", feet
    parts = re.findall(r"\d+/\d+|[\d.]+", rest)
    inches = sum(float(Fraction(one)) for one in parts)
    scale = 12 if not mark and text.endswith("'") else 1
    return sign * 25.4 * ((12 * float(feet) if mark else 0.0) + scale * inches)


@given(st.text("0123456789 .,'+-−*/e±mkNMin\"²·\u2009", max_size=14))
def test_no_text_is_read_as_anything_but_its_one_number(text):
    try:
        value = parse_quantity(text, Dimension.LENGTH, SI, "Width")
    except InputError:
        return
    plain = text.translate({0x2009: " ", 0x2212: "-"}).strip()
    if re.search("e|/|'[^0-9]*[0-9]", plain) and not GROUPED.fullmatch(plain):
        assert value == pytest.approx(by_parts(plain))
        return
    # By another way: the digits in their order are those of the number.
    sign, number, unit = re.fullmatch(r"\s*([-+−]?)\s*([\d .,'\u2009]*[\d])(.*)", text).groups()
    digits = re.sub("[ '\u2009]", "", number).replace(",", ".")
    size = {"": 1, "mm": 1, "m": 1e3, "in": 25.4, '"': 25.4, "'": 304.8}[unit.strip().lower()]
    assert value == pytest.approx(float(digits) * size * (-1 if sign in "-−" and sign else 1))


def test_numbers_are_written_for_reading():
    assert format_number(4310.4, 0) == "4\u2009310"
    assert format_number(-0.2, 0) == "0"
    assert format_number(-212.0, 0) == "\u2212212"
    assert format_significant(0.0123456) == "0.0123"
    assert format_significant(1.13e13) == "1.13·10¹³"
    assert format_significant(999.96, 4) == "1\u2009000"


def test_changes_carry_their_sign_and_nought_has_none():
    shown = [format_change(value) for value in (12345.6, -4.4, 0.2, -0.3, math.inf)]
    assert shown == ["+12\u2009346", "\u22124", "0", "0", "–"]
    assert format_change(0.26, 1) == "+0.3"


def test_quantities_carry_their_unit():
    assert format_quantity(2.4e6, Dimension.FORCE, SI) == "2\u2009400 kN"
    assert format_quantity(457.2, Dimension.LENGTH, IN_LB) == "18 in"
    assert format_quantity(34.473786, Dimension.STRESS, IN_LB) == "5 ksi"
