"""Call-outs, layouts and clear distances."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.core.section.bars import bar_size, parse_ties
from fexro.core.section.call_out import format_call_out, parse_call_out
from fexro.core.section.layout import build_section
from fexro.core.section.shapes import Circle, HollowCircle, LShape, Rectangle

TIES = parse_ties("D10@200")


def layout(shape, bars):
    return build_section(shape, 40.0, parse_call_out(bars), TIES).bars


@pytest.mark.parametrize(
    ("typed", "written"),
    [
        ("8 D25", "8 D25"),
        ("8d25", "8 D25"),
        ("4 D28 + 6 D20", "4 D28 + 6 D20"),
        ("8 #8", "8 #8"),
        ("12×#11", "12 #11"),
    ],
)
def test_call_outs_are_read_as_they_are_written(typed, written):
    assert format_call_out(parse_call_out(typed)) == written


@pytest.mark.parametrize("typed", ["", "D25", "8", "8 D26", "8 #12", "0 D25", "401 D25", "8 D25 +"])
def test_other_call_outs_are_refused(typed):
    with pytest.raises(InputError, match="allowed"):
        parse_call_out(typed)


def test_sizes_are_those_of_the_standards():
    assert bar_size("D25").area == pytest.approx(490.87, abs=0.01)
    assert bar_size("#8").area == pytest.approx(0.79 * 25.4**2)
    assert bar_size("#8").diameter == pytest.approx(25.4)


def test_ties_and_spirals():
    assert parse_ties("#4@8in").spacing == pytest.approx(203.2)
    assert parse_ties("D10@60 spiral").spiral
    for typed in ("D10", "D10@5", "10@200", "D10@2000"):
        with pytest.raises(InputError, match="ties"):
            parse_ties(typed)


def test_rectangle_bars_lie_on_the_ties():
    bars = layout(Rectangle(width=500, depth=700), "12 D25")
    # Cover 40, tie 10, half a bar 12.5: centres 62.5 mm from the faces.
    assert np.abs(bars.x).max() == pytest.approx(187.5)
    assert np.abs(bars.y).max() == pytest.approx(287.5)
    assert bars.x.sum() == pytest.approx(0, abs=1e-9)
    assert bars.y.sum() == pytest.approx(0, abs=1e-9)
    # Eight bars besides the corners: spacing 575 in y and 375 in x share them 2 × 2 and 2 × 2.
    assert (np.abs(bars.x) == bars.x.max()).sum() == 8


def test_larger_bars_take_the_corners():
    bars = layout(Rectangle(width=500, depth=500), "4 D28 + 8 D20")
    corner = (np.abs(bars.x) > 150) & (np.abs(bars.y) > 150)
    assert set(bars.diameter[corner]) == {28.0}
    assert set(bars.diameter[~corner]) == {20.0}


def test_circle_bars_are_even_on_a_ring():
    bars = layout(Circle(diameter=600), "8 D25")
    np.testing.assert_allclose(np.hypot(bars.x, bars.y), 300 - 62.5)
    chord = 2 * 237.5 * math.sin(math.pi / 8)
    assert bars.closest.least == pytest.approx(chord - 25)


def test_mixed_bars_alternate_around_a_circle():
    bars = layout(Circle(diameter=700), "6 D28 + 6 D20")
    assert list(bars.diameter) in ([28, 20] * 6, [20, 28] * 6)


def test_l_shape_has_a_bar_in_every_corner_and_is_symmetric():
    bars = layout(LShape(width=600, depth=600, leg=250), "10 D25")
    mirrored = {(round(y, 6), round(x, 6)) for x, y in zip(bars.x, bars.y, strict=True)}
    assert mirrored == {(round(x, 6), round(y, 6)) for x, y in zip(bars.x, bars.y, strict=True)}
    assert bars.closest.least > 40


@pytest.mark.parametrize(
    ("shape", "bars", "words"),
    [
        (Rectangle(width=500, depth=500), "7 D25", "even"),
        (Rectangle(width=500, depth=500), "2 D25", "at least 4"),
        (LShape(width=600, depth=600, leg=250), "4 D25", "at least 6"),
        (Rectangle(width=300, depth=300), "40 D40", "overlap"),
        (Rectangle(width=100, depth=400), "4 D25", "overlap|not inside"),
        (HollowCircle(diameter=600, void_diameter=500), "8 D25", "not inside"),
        (Circle(diameter=300), "20 D40", "overlap"),
    ],
)
def test_bars_without_a_place_are_refused(shape, bars, words):
    with pytest.raises(InputError, match=words):
        layout(shape, bars)
