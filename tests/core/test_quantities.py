"""Reading and writing quantities."""

from __future__ import annotations

import pytest

from fexro.core.errors import InputError
from fexro.core.quantities import (
    Dimension,
    UnitSystem,
    format_number,
    format_quantity,
    format_significant,
    parse_quantity,
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


@pytest.mark.parametrize("typed", ["", "abc", "5 kN", "nan", "inf", "1e999", "3;4", "__import__"])
def test_what_is_no_length_is_refused_with_the_field(typed):
    with pytest.raises(InputError, match=r"Width: found .* allowed: a number in mm"):
        parse_quantity(typed, Dimension.LENGTH, SI, "Width")


def test_numbers_are_written_for_reading():
    assert format_number(4310.4, 0) == "4\u2009310"
    assert format_number(-0.2, 0) == "0"
    assert format_number(-212.0, 0) == "\u2212212"
    assert format_significant(0.0123456) == "0.0123"
    assert format_significant(1.13e13) == "1.13·10¹³"
    assert format_significant(999.96, 4) == "1\u2009000"


def test_quantities_carry_their_unit():
    assert format_quantity(2.4e6, Dimension.FORCE, SI) == "2\u2009400 kN"
    assert format_quantity(457.2, Dimension.LENGTH, IN_LB) == "18 in"
    assert format_quantity(34.473786, Dimension.STRESS, IN_LB) == "5 ksi"
