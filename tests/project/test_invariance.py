"""What is no property of a member changes nothing: order, direction, mirrors, files."""

from __future__ import annotations

import math

import pytest

from fexro.project.file import parse_project, project_bytes, project_text
from fexro.project.forces import Forces
from fexro.project.walls import WallLine
from tests.project.test_wall_mistakes import checked, loaded, special
from tests.project.test_walls import built

C_SHAPE = ((0, 0, 5, 0, 300), (0, 0, 0, 3, 250), (5, 0, 5, 4, 250))
ROW = (3000.0, 400.0, 300.0, 200.0, 900.0, 1500.0)
CODES = ["ACI 318-19", "EN 1992-1-1"]


def core(lines, row=ROW, code="ACI 318-19", level="high"):
    project = built(*(WallLine(x1=a, y1=b, x2=c, y2=d, thickness=t) for a, b, c, d, t in lines))
    return loaded(special(project, code, level), {"W1 L1": {"E": row}})


def told(project):
    """State and all ratios of the panel at the base, whatever its legs are called."""
    found = checked(project, "W1 L1")
    ratios = sorted(round(one.ratio, 6) for one in found.findings if not math.isnan(one.ratio))
    return found.state, ratios


@pytest.mark.parametrize("code", CODES)
def test_the_order_and_sense_of_lines_do_not_matter(code):
    state, ratios = told(core(C_SHAPE, code=code))
    turned = [(c, d, a, b, t) for a, b, c, d, t in C_SHAPE]
    for lines in (C_SHAPE[::-1], turned, (C_SHAPE[1], C_SHAPE[2], C_SHAPE[0])):
        # The marks of walls begin where their first line does; their forces do not.
        again = told(core(lines, code=code))
        assert again[0] is state
        assert again[1] == pytest.approx(ratios, rel=1e-6, abs=1e-6)


@pytest.mark.parametrize("code", CODES)
def test_a_mirrored_wall_is_as_strong(code):
    state, ratios = told(core(C_SHAPE, code=code))
    mirrored = [(-a, b, -c, d, t) for a, b, c, d, t in C_SHAPE]
    N, Vx, Vy, T, Mx, My = ROW
    again = told(core(mirrored, (N, -Vx, Vy, -T, Mx, -My), code))
    assert again[0] is state
    assert again[1] == pytest.approx(ratios, rel=1e-6, abs=1e-6)


@pytest.mark.parametrize("code", CODES)
def test_a_wall_turned_in_plan_is_as_strong(code):
    state, ratios = told(core(C_SHAPE, code=code))
    turned = [(-b, a, -d, c, t) for a, b, c, d, t in C_SHAPE]
    N, Vx, Vy, T, Mx, My = ROW
    # By 90°: x becomes y, y becomes −x; Mx goes with y, My with x.
    again = told(core(turned, (N, -Vy, Vx, T, My, -Mx), code))
    assert again[0] is state
    assert again[1] == pytest.approx(ratios, rel=1e-6, abs=1e-6)


def test_saved_and_opened_again_nothing_changes():
    project = core(C_SHAPE)
    for content in (project_bytes(project), project_text(project).encode()):
        assert told(parse_project(content, "file")) == told(project)


def test_the_order_of_combinations_does_not_matter():
    project = core(C_SHAPE)
    rows = {"W1 L1": {"A": ROW, "B": tuple(-one for one in ROW), "C": (500.0, *ROW[1:])}}
    project = loaded(project, rows)
    forces = project.factored_forces
    other = project.changed(
        combinations=project.combinations[::-1],
        factored_forces=Forces(forces.members, forces.columns[::-1], forces.values[:, :, ::-1]),
    )
    assert told(other) == told(project)
