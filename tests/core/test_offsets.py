"""Bars that go on into the lift above: steps of faces, offset bars, dowels, by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.actions import Actions
from fexro.core.codes.aci318_19.code import ACI_IN_LB, ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.facts import LiftAbove, Options
from fexro.core.findings import State
from fexro.core.members.verdict import message_of
from fexro.core.quantities import UnitSystem
from fexro.core.section.offsets import bars_differ, face_steps
from fexro.core.section.shapes import LShape, Rectangle
from tests.conftest import make_column
from tests.core.test_transverse import checks_of

BELOW = make_column(Rectangle(width=600, depth=500), "12 D25", ties="D10@100/200")
FORCES = Actions.of_axial_bending(("U1",), np.array([[[1e6, 0.0, 0.0]] * 2]))
D25, D10 = math.pi * 25**2 / 4, math.pi * 10**2 / 4


def smaller(width, depth=500.0, bars="12 D25"):
    return make_column(Rectangle(width=width, depth=depth), bars)


def checks(code, above, laps="one level", **options):
    given = {"above": LiftAbove(above, laps), "options": Options(options)}
    return checks_of(code, BELOW, FORCES, laps="one level", **given)


def test_faces_step_by_half_of_what_a_concentric_column_is_less():
    steps = face_steps(BELOW.section, smaller(500, 560).section)
    assert [step.inward for step in steps] == pytest.approx([50, 50, -30, -30])
    # Four bars stand next to each face of 12 around.
    assert {step.bars for step in steps} == {4}
    assert steps[0].bar_area == pytest.approx(4 * D25)


def test_an_angle_steps_from_its_centroid():
    section = make_column(LShape(width=600, depth=600, leg=250), "10 D25").section
    assert [step.inward for step in face_steps(section, section)] == pytest.approx([0.0] * 4)


def test_offset_bars_to_aci_by_hand():
    found = checks(ACI_SI, smaller(500))
    assert found["Slope of offset bars"].ratio == pytest.approx(0.6)
    # 1.5·4·490.9·420/√101; ties at 100: two sets within 150 mm, four legs along x.
    pushed = 1.5 * 4 * D25 * 420 / math.sqrt(101)
    check = found["Ties at the bend of offset bars"]
    assert check.values["found"].value == pytest.approx(pushed)
    assert check.ratio == pytest.approx(pushed / (2 * 4 * D10 * 420))
    steep = checks(ACI_SI, smaller(500), crank=5.0)["Slope of offset bars"]
    assert steep.state is State.EXCEEDED


@pytest.mark.parametrize(("code", "limit"), [(ACI_SI, 75.0), (ACI_IN_LB, 76.2)])
def test_from_three_inches_on_dowels_are_lapped(code, limit):
    under = checks(code, smaller(600 - 2 * limit + 1))
    assert "Faces at the floor above" not in under
    assert "Slope of offset bars" in under
    at = checks(code, smaller(600 - 2 * limit))
    assert at["Faces at the floor above"].state is State.ATTENTION
    assert "Slope of offset bars" not in at


def test_bars_that_lean_to_en_by_hand():
    # 4·490.9·420/1.15/√101, against two sets of two legs: inner bars are 125 mm from the corners.
    found = checks(EN_RECOMMENDED, smaller(500))["Links at the bend of offset bars"]
    assert found.ratio == pytest.approx(4 * D25 / math.sqrt(101) / (4 * D10))
    flat = checks(EN_RECOMMENDED, smaller(500), crank=12.0)
    assert "Links at the bend of offset bars" not in flat


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
def test_bars_that_run_through_are_the_same_bars(code):
    assert bars_differ(BELOW.section, smaller(600, bars="8 D25").section)
    other = checks(code, smaller(600, bars="8 D25"), laps="none")
    assert other["Bars that run through"].state is State.ATTENTION
    assert "Bars that run through" not in checks(code, smaller(600), laps="none")


@pytest.mark.parametrize("code", [ACI_SI, EN_RECOMMENDED])
def test_a_wider_lift_above_begins_with_dowels(code):
    check = checks(code, smaller(700))["Faces at the floor above"]
    assert "wider" in message_of(check, UnitSystem.SI)
    assert "Slope of offset bars" not in checks(code, smaller(600))
