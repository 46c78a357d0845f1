"""Lifts checked in numbers: the same answers whatever the workers, and a second opinion."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest

from benchmarks.building import building
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_UK
from fexro.core.errors import FexroError
from fexro.core.findings import State
from fexro.core.members.audit import second_opinion
from fexro.core.members.check import check_lift, check_lifts
from fexro.core.members.verdict import verdict_of
from fexro.core.quantities import UnitSystem
from fexro.core.section.shapes import Circle, HollowRectangle, LShape, Rectangle
from fexro.project.checking import check_in_processes, check_project
from fexro.project.column import LiftKey, Member
from fexro.project.resolve import resolve_lift
from tests.conftest import make_column, make_lift
from tests.projects import factored_demo, rows_of, with_rows

ANALYSED = np.array([[[1.5e6, 2e8, 1e8], [1.6e6, -1e8, 5e7]], [[-2e5, 5e7, 0], [-1e5, 0, 2e7]]])


def verdict(result):
    return verdict_of(result, UnitSystem.SI)


def lift(column, analysed=ANALYSED, code=ACI_SI, missing=()):
    return make_lift(column, code, ("U1", "U2")[: len(analysed)], analysed, missing)


@pytest.mark.long
def test_workers_change_nothing():
    project = building(20, 4)
    assert len({id(resolve_lift(project, key).facts.cross_section) for key in project.by_key}) >= 60
    alone, together = check_project(project, 1), check_project(project, 2)
    assert list(alone) == list(together)
    for key, result in alone.items():
        other = together[key]
        assert np.array_equal(result.proportional.ratio, other.proportional.ratio)
        assert np.array_equal(result.proportional.capacity, other.proportional.capacity)
        assert verdict(result) == verdict(other)


def test_lifts_of_one_section_answer_as_if_alone():
    column = make_column(Rectangle(width=500, depth=500), "8 D25")
    lifts = [lift(column, ANALYSED * factor) for factor in (0.5, 1.0, 1.5)]
    for single, result in zip(lifts, check_lifts(lifts), strict=True):
        np.testing.assert_allclose(
            check_lift(single).proportional.ratio, result.proportional.ratio, rtol=1e-9
        )


@pytest.mark.parametrize(("workers", "forked"), [(1, False), (2, False), (2, True)])
def test_checking_can_be_stopped(workers, forked):
    project = building(20, 3)
    lifts = [resolve_lift(project, key) for key in project.by_key]
    stream = check_in_processes(lifts, workers, forked=forked)
    first = next(stream)
    stream.close()
    assert first[1].lift is lifts[first[0]]
    assert list(stream) == []


def test_a_lift_without_forces_is_not_checked():
    column = make_column(Rectangle(width=500, depth=500), "8 D25")
    result = check_lift(lift(column, np.empty((0, 2, 3))))
    assert result.state is State.NOT_CHECKED
    assert verdict(result) == "Not checked: no combination has forces for this lift."
    assert np.isnan(second_opinion(result).engine)


def test_a_combination_without_forces_leaves_a_lift_unchecked():
    column = make_column(Rectangle(width=500, depth=500), "8 D25")
    whole = check_lift(lift(column))
    assert whole.state is not State.NOT_CHECKED
    result = check_lift(lift(column, missing=("U3", "U4")))
    assert result.state is State.NOT_CHECKED
    assert result.governing.name == "Combinations"
    assert verdict(result).startswith("Not checked: no forces in 2 of 4 combinations (U3, U4); ")
    assert f"{whole.utilisation:.2f} in the others" in verdict(result)
    # What exceeds stays exceeded.
    worse = check_lift(lift(column, 3 * ANALYSED, missing=("U3",)))
    assert worse.state is State.EXCEEDED
    assert worse.governing.combination is not None


def test_combinations_that_do_not_apply_to_a_member_are_not_missed():
    project = factored_demo()
    key = LiftKey("C4", "L1")
    bare = with_rows(project, key, {"U2": rows_of(project, key)["U2"]})
    result = check_lift(resolve_lift(bare, key))
    assert result.state is State.NOT_CHECKED
    assert len(result.lift.actions.missing) == 13
    assert result.utilisation < 0.8 < check_lift(resolve_lift(project, key)).utilisation
    exempt = tuple(
        c if c.name == "U2" else c.model_copy(update={"not_for": (Member(mark="C4"),)})
        for c in project.combinations
    )
    told = bare.changed(combinations=exempt)
    assert check_lift(resolve_lift(told, key)).lift.actions.missing == ()
    assert check_lift(resolve_lift(told, key)).state is State.SATISFIED
    # Forces of a combination that does not apply are kept in the file and not used.
    unused = project.changed(combinations=exempt)
    assert resolve_lift(unused, key).actions.combinations == ("U2",)


WORKERS = """
import os, sys, time
from benchmarks.building import building
from fexro.project.checking import check_in_processes
from fexro.project.resolve import resolve_lift
project = building(60, 2)
lifts = [resolve_lift(project, key) for key in project.by_key]
stream = check_in_processes(lifts, 2, forked={forked})
next(stream)
print("started", flush=True)
time.sleep(60)
"""


def children_of(pid):
    found = []
    for entry in Path("/proc").iterdir():
        with contextlib.suppress(OSError):
            if entry.name.isdigit():
                status = (entry / "stat").read_text().rpartition(")")[2].split()
                if int(status[1]) == pid and status[0] != "Z":
                    found += [int(entry.name), *children_of(int(entry.name))]
    return found


@pytest.mark.long
@pytest.mark.parametrize(("forked", "least"), [(False, 3), (True, 2)])
def test_processes_end_with_the_one_they_work_for(forked, least):
    program = WORKERS.format(forked=forked)
    with subprocess.Popen(
        [sys.executable, "-c", program], stdout=subprocess.PIPE, text=True
    ) as process:
        assert process.stdout.readline() == "started\n"
        children = children_of(process.pid)
        assert len(children) >= least
        process.kill()
    ended = time.monotonic() + 5
    while time.monotonic() < ended and any(Path(f"/proc/{child}").exists() for child in children):
        time.sleep(0.05)
    assert not [child for child in children if Path(f"/proc/{child}").exists()]


def test_a_killed_worker_is_told():
    project = building(60, 20)
    stream = check_in_processes([resolve_lift(project, key) for key in project.by_key], 2)
    next(stream)
    for child in children_of(os.getpid()):
        with contextlib.suppress(OSError):
            if "forkserver" in Path(f"/proc/{child}/cmdline").read_text():
                for worker in children_of(child):
                    os.kill(worker, signal.SIGKILL)
    with pytest.raises(FexroError, match="ended from outside"):
        list(stream)


def test_a_detailing_failure_leads_the_verdict():
    column = make_column(Rectangle(width=500, depth=500), "4 D16")
    result = check_lift(lift(column, ANALYSED * 0.1))
    assert result.state is State.EXCEEDED
    assert verdict(result) == "Bar ratio 0.32 %; 1 % to 8 % allowed."


@pytest.mark.long
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
