"""Bars placed by what a call-out says of their places; places worked out by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.errors import InputError
from fexro.core.facts import CrossSection
from fexro.core.findings import State
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.section.bars import parse_ties
from fexro.core.section.call_out import (
    PLACES,
    canonical,
    format_call_out,
    parse_call_out,
    short_call_out,
)
from fexro.core.section.layout import build_section
from fexro.core.section.shapes import (
    Circle,
    HollowCircle,
    HollowRectangle,
    LShape,
    Rectangle,
    Wall,
)
from tests.conftest import findings_of

TIES = parse_ties("D10@200")


def bars_of(shape, call_out):
    return build_section(shape, 40.0, parse_call_out(call_out), TIES).bars


def points(bars):
    return {(round(x, 3), round(y, 3)) for x, y in zip(bars.x, bars.y, strict=True)}


@pytest.mark.parametrize(
    ("typed", "written"),
    [
        ("4 D32 corners + 3 d25 along x", "4 D32 corners + 3 D25 along x"),
        ("D12@200 EF + 8 D20 each end", "D12@200 each face + 8 D20 each end"),
        ("#4@8in each face", "#4@8in each face"),
        ("4 bundles of 3 D32 corners", "4 bundles of 3 D32 corners"),
        ("4×2 D32", "4 bundles of 2 D32"),
        ("12×#11", "12 #11"),
        ("8 D20 each end in 500", "8 D20 each end in 500"),
        ("8 D20 each end / 0.5m", "8 D20 each end in 500"),
        ("12 D25 + 8 D20 second ring", "12 D25 + 8 D20 inner ring"),
    ],
)
def test_places_are_read_and_written(typed, written):
    assert format_call_out(parse_call_out(typed)) == written
    assert format_call_out(parse_call_out(written)) == written


@given(
    st.integers(1, 40),
    st.sampled_from(["D20", "#8", "D32"]),
    st.sampled_from(["", *PLACES]),
    st.integers(1, 4),
)
def test_what_is_written_is_read_again(count, size, place, bundle):
    text = (
        f"{count} bundles of {bundle} {size} {place}" if bundle > 1 else f"{count} {size} {place}"
    )
    groups = parse_call_out(text)
    assert parse_call_out(format_call_out(groups)) == groups


@pytest.mark.parametrize(
    ("shape", "call_out", "words"),
    [
        (Rectangle(500, 700), "6 D25 corners", "4, one in each corner"),
        (Rectangle(500, 700), "3 D25 along x", "bars in the corners too"),
        (Circle(700), "4 D25 corners", "a section with corners"),
        (Rectangle(500, 700), "8 D16 inner face", "a section with one void"),
        (LShape(800, 800, 300), "8 D20 each end", "a rectangular wall"),
        (Rectangle(3000, 250), "D12@200 each face + 7 D20 each end", "an even number"),
        (Rectangle(3000, 250), "8 D20 each end in 1500", "shorter zones"),
        (Rectangle(500, 700), "D12@20 each face + D12@20 around", "1 to 400 bars|overlap"),
        (Rectangle(250, 250), "4 bundles of 4 D40", "do not overlap|with its cover"),
        (Circle(250), "8 D20 + 8 D20 inner ring", "overlap|larger section"),
    ],
)
def test_places_that_a_section_has_not_are_refused(shape, call_out, words):
    with pytest.raises(InputError, match=words):
        bars_of(shape, call_out)


@pytest.mark.parametrize(
    "typed",
    [
        "4 D25 nowhere",
        "D12@200",
        "3 D25@200 each face",
        "5 bundles of 6 D20",
        "8 D20 top in 300",
        "D12@5 each face",
    ],
)
def test_call_outs_without_sense_are_refused(typed):
    with pytest.raises(InputError, match="allowed"):
        parse_call_out(typed)


def test_corners_and_faces_have_bars_of_their_own():
    bars = bars_of(Rectangle(600, 800), "4 D32 corners + 3 D25 along x + 2 D20 along y")
    # Cover 40 and tie 10: corner bars 66 mm from the faces, those of D25 62.5, of D20 60 mm.
    assert points(bars) >= {(234, 334), (-234, -334), (0, 337.5), (0, -337.5)}
    assert (-118.75, 337.5) in points(bars)
    assert (240, round(340 - 680 / 3, 3)) in points(bars)
    assert len(bars) == 4 + 6 + 4


def test_a_spacing_is_kept_on_every_face():
    bars = bars_of(Rectangle(600, 800), "D20@150 each face")
    # 480 and 680 mm between the corner bars: 4 and 5 spaces of 120 and 136 mm.
    assert len(bars) == 4 + 2 * 3 + 2 * 4
    assert points(bars) >= {(-120, 340), (0, 340), (240, (340 - 136))}


def test_faces_follow_the_outline():
    for width in (500, 650, 800):
        bars = bars_of(Rectangle(width, 700), "4 D25 corners + 2 D20 top + 3 D20 bottom")
        assert (bars.y > 250).sum() == 4
        assert (bars.y < -250).sum() == 5
        assert np.abs(bars.x).max() == pytest.approx(width / 2 - 62.5)


def test_rings():
    bars = bars_of(Circle(700), "12 D25 + 8 D20 inner ring")
    radius = np.hypot(bars.x, bars.y)
    assert radius[:12] == pytest.approx(np.full(12, 350 - 62.5))
    # 40 mm clear between the layers.
    assert radius[12:] == pytest.approx(np.full(8, 350 - 50 - 25 - 40 - 10))
    bars = bars_of(HollowCircle(1200, 700), "24 D25 ring + 16 D16 inner face")
    radius = np.hypot(bars.x, bars.y)
    assert radius[24:] == pytest.approx(np.full(16, 350 + 50 + 8))
    bars = bars_of(Rectangle(600, 600), "8 D25 ring")
    assert np.hypot(bars.x, bars.y) == pytest.approx(np.full(8, 300 - 62.5))


def test_bars_at_the_void_and_in_a_second_layer():
    bars = bars_of(HollowRectangle(1000, 800, 200), "20 D25 + 12 D16 inner face")
    # The void is 600 × 400: its bars stand 58 mm outside it.
    assert {(358, 258), (-358, -258)} <= points(bars)
    bars = bars_of(Rectangle(600, 800), "12 D25 + 2 D20 second layer")
    assert (300 - 50 - 25 - 40 - 10, 0) in points(bars)


def test_walls_have_curtains_and_end_zones():
    bars = bars_of(Rectangle(3000, 250), "D12@200 each face + 8 D20 each end in 500")
    ends = bars.diameter == 20
    assert ends.sum() == 16
    assert np.unique(np.round(np.abs(bars.x[ends]), 3)) == pytest.approx(
        [1000, 1000 + 440 / 3, 1000 + 880 / 3, 1440]
    )
    # 2000 mm between the zones: ten spaces of 200 mm.
    assert (~ends).sum() == 2 * 9
    assert np.abs(bars.y[~ends]) == pytest.approx(np.full(18, 125 - 50 - 6))
    upright = bars_of(Rectangle(250, 3000), "D12@200 each face + 8 D20 each end in 500")
    assert points(upright) == {(y, x) for x, y in points(bars)}
    bars = bars_of(Wall(3000, 500, 400, 250), "D12@200 each face + 8 D20 each end")
    assert (np.abs(bars.x) > 1100).sum() == 16
    assert np.abs(bars.y[bars.diameter == 12]) == pytest.approx(69)


def test_bars_of_a_bundle_touch():
    for call_out, count in (("4 bundles of 3 D32 corners", 12), ("8 bundles of 2 D25", 16)):
        bars = bars_of(Rectangle(600, 800), call_out)
        assert len(bars) == count
        distance = np.hypot(bars.x[:, None] - bars.x, bars.y[:, None] - bars.y)
        same = (bars.bundle[:, None] == bars.bundle) & ~np.eye(count, dtype=bool)
        nearest = np.where(same, distance, np.inf).min(axis=1)
        assert nearest == pytest.approx(bars.diameter)
        # Left and right, and top and bottom, are alike.
        assert {(-x, y) for x, y in points(bars)} == points(bars)
        assert {(x, -y) for x, y in points(bars)} == points(bars)
    round_ = bars_of(Circle(800), "8 bundles of 4 D20")
    assert np.unique(np.round(np.hypot(round_.x, round_.y), 3)) == pytest.approx(
        [math.hypot(320, 10), math.hypot(340, 10)], abs=21
    )


def test_bars_around_are_alike_to_both_sides_of_the_middle():
    for count in (9, 10, 12, 14):
        bars = bars_of(Rectangle(600, 800), f"{count} D25 around")
        assert len(bars) == count
        assert {(-x, y) for x, y in points(bars)} == points(bars)


def test_a_bundle_counts_as_one_bar_of_its_area():
    bars = bars_of(Rectangle(600, 800), "4 bundles of 3 D32 corners + 2 D25 each face")
    assert bars.equivalent.max() == pytest.approx(32 * math.sqrt(3))
    clear, larger = bars.pairs()
    assert clear.min() > 50
    assert larger.max() == pytest.approx(32 * math.sqrt(3))


def test_bundles_are_checked():
    steel = ReinforcingSteel("B500", 500.0)
    for count, state in ((2, State.SATISFIED), (4, State.EXCEEDED)):
        section = build_section(
            Rectangle(900, 900), 50.0, parse_call_out(f"8 bundles of {count} D32"), TIES
        )
        cross = CrossSection(section, Concrete("C40", 40.0), steel)
        found = {f.short: f for f in findings_of(EN_RECOMMENDED, cross)}
        # φn = 32 √n: 45 and 64 mm against 55 mm.
        assert found["bundles"].state is state
        assert found["bundles"].ratio == pytest.approx(32 * math.sqrt(count) / 55)
        spacing = {f.short: f for f in findings_of(ACI_SI, cross)}["spacing"]
        assert spacing.values["least"].value == pytest.approx(1.5 * 32 * math.sqrt(count))


@pytest.mark.parametrize(
    ("written", "short"),
    [
        ("8 D25", ["8 D25"]),
        ("4 D32 corners + 3 D25 along x", ["4 D32 c", "3 D25 ∥x"]),
        ("D12@200 each face + 8 D20 each end in 500", ["D12@200 EF", "8 D20 EE"]),
        ("4 bundles of 3 D32 corners", ["4×3 D32 c"]),
    ],
)
def test_call_outs_are_short_in_a_schedule(written, short):
    assert short_call_out(written) == short


def test_a_call_out_is_written_as_the_trade_writes_it():
    assert canonical("4 d32 corner + 3 d25 EF") == "4 D32 corners + 3 D25 each face"
    with pytest.raises(InputError, match="Main bars"):
        canonical("4 corners", "Main bars")
