"""Cover by exposure and size in fire: the sheets' checks by hand, and where the tables end."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from fexro.core.actions import Actions
from fexro.core.codes.aci318_19.code import ACI_IN_LB, ACI_SI
from fexro.core.codes.en1992_1_1.annex import RECOMMENDED
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED, EN_UK
from fexro.core.codes.en1992_1_1.cover import cover_checks, fire_class
from fexro.core.facts import LiftDirection, Options
from fexro.core.findings import State
from fexro.core.members.verdict import message_of
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.text import plain_text
from fexro.core.section.shapes import Circle, LShape, Rectangle
from tests.conftest import facts_of, make_column
from tests.core.test_transverse import checks_of

SQUARE = Rectangle(width=400, depth=400)
SHORT = LiftDirection(4000.0, 3400.0, sway="braced", factor=0.5)


def checks(code, cross, N=1e6, My=0.0, storey=SHORT, **options):
    forces = Actions.of_axial_bending(("U1",), np.array([[[N, 0.0, My]] * 2]))
    given = {"about_x": storey, "about_y": storey, "options": Options(options)}
    return checks_of(code, cross, forces, **given)


# EN 1992-1-1


def test_cover_to_en_by_the_numbers_of_the_sheet():
    # C35/45, XC3, 50 years: S3, 20 mm; of a D10 link 30 mm, of D16 bars 30 − 10.
    cross = make_column(SQUARE, "8 D16", concrete=35.0)
    check = checks(EN_RECOMMENDED, cross, exposure_class="XC3")["Cover by exposure"]
    assert check.values["limit"].value == 30.0
    assert check.ratio == pytest.approx(30 / 40)


@pytest.mark.parametrize(
    ("concrete", "bars", "given", "limit"),
    [
        # S4 + 2 for 100 years: S6, 35 + 10.
        (30.0, "8 D16", {"exposure_class": "XC3", "working_life": "100"}, 45.0),
        # Bond of D40 decides: 40 + 10 − 10 for the link.
        (30.0, "4 D40", {"exposure_class": "XC1"}, 40.0),
        # S4 − 1 for C45: S3 40, without deviation.
        (45.0, "8 D16", {"exposure_class": "XS3", "deviation": 0.0}, 40.0),
        (30.0, "8 D16", {"exposure_class": "X0", "cast_against": "soil"}, 75.0),
    ],
)
def test_cover_to_en_by_hand(concrete, bars, given, limit):
    cross = make_column(SQUARE, bars, concrete=concrete)
    check = checks(EN_RECOMMENDED, cross, **given)["Cover by exposure"]
    assert check.values["limit"].value == limit


def test_large_aggregate_asks_five_more_for_bond():
    # D40: 40 + 5 + 10 − 10.
    cross = make_column(SQUARE, "4 D40", concrete=30.0)
    options = Options(exposure_class="XC1")
    facts = replace(facts_of(cross, options=options), aggregate=40.0)
    check, *_ = cover_checks(RECOMMENDED, facts, None)
    assert check.values["limit"].value == 45.0


def test_the_uk_has_its_own_tables_which_are_not_here():
    check = checks(EN_UK, make_column(SQUARE, "8 D16"), exposure_class="XC3")["Cover by exposure"]
    assert check.assumption
    assert "own tables" in message_of(check, UnitSystem.SI)


@pytest.mark.parametrize(
    ("name", "load", "width", "expected"),
    [
        ("R 60", 0.5, 250.0, (200.0, 33.5, False)),
        ("R 90", 0.7, 500.0, (350.0, 40.0, True)),
        # Half way between 0.5 and 0.7: (45 + 53)/2 at 300, which is less than 325.
        ("R 90", 0.6, 300.0, (325.0, 49.0, True)),
        ("R 120", 0.2, 400.0, (250.0, 35.0, False)),
        ("R 240", 0.5, 450.0, (450.0, 75.0, True)),
        ("R 240", 0.6, 450.0, None),
    ],
)
def test_the_table_of_columns_in_fire_by_hand(name, load, width, expected):
    found = fire_class(name, load, width)
    assert found == (None if expected is None else pytest.approx(expected))


def test_a_column_in_fire_by_hand():
    # 400 × 400, R 90, μ 0.5: b 300, a 38; 40 + 10 + 8 there.
    found = checks(EN_RECOMMENDED, make_column(SQUARE, "8 D16"), fire_class="R 90", eta_fi=0.5)
    assert found["Least dimension in fire"].ratio == pytest.approx(300 / 400)
    assert found["Axis distance in fire"].ratio == pytest.approx(38 / 58)
    assert "Number of bars in fire" not in found
    more = checks(EN_RECOMMENDED, make_column(SQUARE, "4 D25"), fire_class="R 90")
    assert more["Number of bars in fire"].state is State.EXCEEDED
    one = checks(
        EN_RECOMMENDED, make_column(SQUARE, "8 D16"), fire_class="R 240", fire_sides="one side"
    )
    assert one["Axis distance in fire"].state is State.EXCEEDED
    assert one["Least dimension in fire"].ratio == pytest.approx(295 / 400)


@pytest.mark.parametrize(
    ("cross", "given", "why"),
    [
        (make_column(LShape(width=600, depth=600, leg=250), "8 D20"), {}, "rectangles and circles"),
        (make_column(SQUARE, "8 D16"), {"My": 7e7}, "0.15 of 400 mm"),
        (make_column(SQUARE, "8 D32"), {}, "4 %"),
        (make_column(SQUARE, "8 D16"), {"N": -1e4}, "tension"),
        (
            make_column(SQUARE, "8 D16"),
            {"storey": LiftDirection(7000.0, sway="braced", factor=0.5)},
            "3 m",
        ),
    ],
)
def test_where_the_table_does_not_hold_fire_is_not_checked(cross, given, why):
    check = checks(EN_RECOMMENDED, cross, fire_class="R 60", **given)["Fire resistance"]
    assert check.assumption
    assert why in message_of(check, UnitSystem.SI)


# ACI 318-19


def test_cover_to_aci_by_hand():
    cross = make_column(SQUARE, "8 D16")
    for exposure, limit in (("indoors", 40.0), ("weather", 40.0), ("ground", 75.0)):
        check = checks(ACI_SI, cross, exposure=exposure)["Cover by exposure"]
        assert check.values["limit"].value == limit
    # D25 bars in the weather: 50 − 12 of ties D12, less than 40 to the ties themselves.
    large = checks(ACI_SI, make_column(SQUARE, "4 D25", ties="D12@200"), exposure="weather")
    assert large["Cover by exposure"].values["limit"].value == 40.0
    # Ties of D20 are large bars too.
    heavy = checks(ACI_SI, make_column(SQUARE, "4 D25", ties="D20@200"), exposure="weather")
    assert heavy["Cover by exposure"].values["limit"].value == 50.0


def test_cover_of_the_inch_pound_edition_is_written_in_inches():
    cross = make_column(SQUARE, "8 #8", ties="#4@8in")
    check = checks(ACI_IN_LB, cross, exposure="weather")["Cover by exposure"]
    assert check.values["limit"].value == pytest.approx(1.5 * 25.4)
    text = plain_text(check.derive(), UnitSystem.IN_LB)
    assert "1.5" in text


def test_a_column_in_fire_to_aci_by_hand():
    cross = make_column(SQUARE, "8 D16")
    found = checks(ACI_SI, cross, fire_rating="3 h")
    # 12 in, here 300 mm; cover min(3·25, 50) against 40 + 10.
    assert found["Least dimension in fire"].ratio == pytest.approx(300 / 400)
    assert found["Cover in fire"].ratio == pytest.approx(50 / 50)
    assert found["Cover in fire"].state is State.SATISFIED
    small = checks(ACI_SI, make_column(Circle(diameter=300), "8 D16"), fire_rating="4 h")
    assert small["Least dimension in fire"].state is State.EXCEEDED


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
def test_without_an_exposure_cover_is_not_checked(code):
    check = checks(code, make_column(SQUARE, "8 D16"))["Cover by exposure"]
    assert check.assumption
    assert "no exposure" in message_of(check, UnitSystem.SI)
