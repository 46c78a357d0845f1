"""Lifts checked in numbers: the same answers whatever the workers, and a second opinion."""

from __future__ import annotations

import numpy as np
import pytest

from benchmarks.building import building
from fexro.core.codes import State
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_UK
from fexro.core.members.audit import second_opinion
from fexro.core.members.lift import Lift, check_lift, check_lifts, stream_checks
from fexro.core.section.shapes import Circle, HollowRectangle, LShape, Rectangle
from fexro.project.resolve import check_project, resolve_lift
from tests.conftest import make_column

ANALYSED = np.array([[[1.5e6, 2e8, 1e8], [1.6e6, -1e8, 5e7]], [[-2e5, 5e7, 0], [-1e5, 0, 2e7]]])


def lift(column, analysed=ANALYSED, code=ACI_SI):
    return Lift("C1", "L1", column, code, ("U1", "U2")[: len(analysed)], analysed)


def test_workers_change_nothing():
    project = building(20, 4)
    assert len({id(resolve_lift(project, key).column) for key in project.by_key}) >= 60
    alone, together = check_project(project, 1), check_project(project, 2)
    assert list(alone) == list(together)
    for key, result in alone.items():
        other = together[key]
        assert np.array_equal(result.proportional.ratio, other.proportional.ratio)
        assert np.array_equal(result.proportional.capacity, other.proportional.capacity)
        assert result.verdict == other.verdict


def test_lifts_of_one_section_answer_as_if_alone():
    column = make_column(Rectangle(width=500, depth=500), "8 D25")
    lifts = [lift(column, ANALYSED * factor) for factor in (0.5, 1.0, 1.5)]
    for single, result in zip(lifts, check_lifts(lifts), strict=True):
        np.testing.assert_allclose(
            check_lift(single).proportional.ratio, result.proportional.ratio, rtol=1e-9
        )


@pytest.mark.parametrize("workers", [1, 2])
def test_checking_can_be_stopped(workers):
    project = building(20, 3)
    lifts = [resolve_lift(project, key) for key in project.by_key]
    stream = stream_checks(lifts, workers)
    first = next(stream)
    stream.close()
    assert first[1].lift is lifts[first[0]]
    assert list(stream) == []


def test_a_lift_without_forces_is_not_checked():
    column = make_column(Rectangle(width=500, depth=500), "8 D25")
    result = check_lift(lift(column, np.empty((0, 2, 3))))
    assert result.state is State.NOT_CHECKED
    assert result.verdict == "Not checked: no combination has forces for this lift."
    assert np.isnan(second_opinion(result).engine)


def test_a_detailing_failure_leads_the_verdict():
    column = make_column(Rectangle(width=500, depth=500), "4 D16")
    result = check_lift(lift(column, ANALYSED * 0.1))
    assert result.state is State.EXCEEDED
    assert result.verdict == "Bar ratio 0.32 %; 1 to 8 % allowed."


@pytest.mark.parametrize("code", [ACI_SI, EN_UK], ids=["ACI", "EN"])
@pytest.mark.parametrize(
    ("shape", "bars"),
    [
        (Rectangle(width=450, depth=600), "8 D25"),
        (Circle(diameter=600), "10 D25"),
        (LShape(width=600, depth=500, leg=220), "10 D20"),
        (HollowRectangle(width=900, depth=700, wall=180), "16 D25"),
    ],
    ids=["rectangle", "circle", "L", "hollow"],
)
@pytest.mark.parametrize("demand", [(1.8e6, 2e8, 9e7), (4e5, -2.5e8, 1e8), (-3e5, 6e7, -5e7)])
def test_fibres_agree_with_the_engine(code, shape, bars, demand):
    column = make_column(shape, bars)
    result = check_lift(lift(column, np.array([[demand, demand]]), code))
    # Squares of 1/160 of the section, and the step where a bar enters the block.
    assert abs(second_opinion(result).difference) < 4e-3


def test_fibres_agree_without_moment_and_at_the_cap():
    column = make_column(Rectangle(width=450, depth=600), "8 D25")
    for axial in (9e6, -1e6):
        analysed = np.array([[[axial, 0.0, 0.0]] * 2])
        assert abs(second_opinion(check_lift(lift(column, analysed))).difference) < 1e-3
