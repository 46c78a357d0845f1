"""Properties of sections, and their calculation, against closed forms."""

from __future__ import annotations

import math

import pytest

from fexro.core.members.section_properties import explain_properties, properties_of
from fexro.core.provisions import Derivation
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.text import plain_text
from fexro.core.section.shapes import (
    Circle,
    Composed,
    HollowRectangle,
    LShape,
    Part,
    Rectangle,
    ZShape,
)


def test_a_rectangle_turned_has_its_principal_axes_turned():
    for angle in (-80.0, -30.0, 0.0, 30.0, 45.0, 80.0):
        turned = properties_of(Composed((Part(Rectangle(300, 600), 50.0, 20.0, angle),)).outline())
        # About its own level axis the upright rectangle is stiffest.
        assert turned.angle == pytest.approx(math.radians(angle), abs=1e-9)
        assert turned.larger == pytest.approx(300 * 600**3 / 12)
        assert turned.smaller == pytest.approx(600 * 300**3 / 12)
        assert (turned.x, turned.y) == pytest.approx((50, 20))
        assert turned.radius_smaller == pytest.approx(300 / math.sqrt(12))
        assert turned.perimeter == pytest.approx(1800)


def test_an_angle_of_equal_legs_leans_by_45_degrees():
    found = properties_of(LShape(600, 600, 250).outline())
    assert abs(found.angle) == pytest.approx(math.pi / 4)
    assert found.about_x == pytest.approx(found.about_y)
    assert found.larger - found.smaller == pytest.approx(2 * abs(found.product))
    assert properties_of(Circle(500).outline()).angle == 0.0


@pytest.mark.parametrize(
    "shape",
    [
        HollowRectangle(900, 700, 150),
        ZShape(900, 1000, 250, 300),
        Composed((Part(Rectangle(500, 700)), Part(Circle(150), 60.0, 30.0, how="cut"))),
    ],
    ids=["hollow", "Z", "duct"],
)
def test_the_calculation_ends_in_the_same_numbers(shape):
    outline, record = shape.outline(), Derivation()
    explain_properties(record, outline)
    found = properties_of(outline)
    results = {line.symbol: line.result.value for line in record.lines if hasattr(line, "result")}
    assert results["A"] == pytest.approx(found.area)
    assert (results["x_c"], results["y_c"]) == pytest.approx((found.x, found.y), abs=1e-6)
    assert results["I_x"] == pytest.approx(found.about_x)
    assert results["I_xy"] == pytest.approx(found.product, abs=1e-6 * found.about_x)
    assert results["I_1"] == pytest.approx(found.larger)
    assert results["r_2"] == pytest.approx(found.radius_smaller)
    text = plain_text(record, UnitSystem.SI)
    assert "I_1" in text
