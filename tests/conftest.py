"""Sections that several tests use, and an independent way to their resultants."""

from __future__ import annotations

import os
import tempfile

import numpy as np
import pytest

from fexro.core.actions import Actions
from fexro.core.codes import Context
from fexro.core.facts import ColumnFacts, CrossSection, LiftDirection
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.members import check
from fexro.core.members.check import prepare
from fexro.core.members.lift import Lift
from fexro.core.section.bars import parse_ties
from fexro.core.section.call_out import parse_call_out
from fexro.core.section.layout import build_section
from fexro.core.section.shapes import Rectangle, Shape
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project import checking


def make_column(
    shape: Shape,
    bars: str,
    *,
    concrete: float = 35.0,
    steel: float = 420.0,
    ties: str = "D10@200",
) -> CrossSection:
    """A column of a shape with 40 mm cover."""
    section = build_section(shape, 40.0, parse_call_out(bars), parse_ties(ties))
    return CrossSection(
        section,
        Concrete(name="concrete", strength=concrete),
        ReinforcingSteel(name="steel", yield_strength=steel),
    )


# So short and so well held that slenderness counts nowhere.
STOCKY = LiftDirection(storey=800.0, clear=600.0, sway="braced", factor=0.5)


def facts_of(column, **facts):
    """A column in which slenderness counts nowhere, or as it is told."""
    return ColumnFacts(column, 20.0, **{"about_x": STOCKY, "about_y": STOCKY, **facts})


NO_FORCES = np.empty((0, 2, 3))


def make_lift(column, code, combinations=(), analysed=NO_FORCES, missing=()):
    """A lift of a section with N, Mx, My at both ends of its combinations, (C, 2, 3)."""
    actions = Actions.of_axial_bending(combinations, analysed, missing)
    return Lift("C1", "L1", facts_of(column), code, actions)


def demands_of(code, column, analysed):
    """What a code makes of analysed forces (C, 2, 3)."""
    names = tuple(f"U{i + 1}" for i in range(len(analysed)))
    return prepare([make_lift(column, code, names, analysed)])[0].demands


def findings_of(code, column, analysed=NO_FORCES):
    """What the rules of a code find of a section, apart from strength."""
    names = tuple(f"U{i + 1}" for i in range(len(analysed)))
    lift = make_lift(column, code, names, analysed)
    (prepared,) = prepare([lift])
    context = Context(lift.actions, prepared.second_order, prepared.storey, code.stability)
    return [finding for _, rule in code.rules for finding in rule(lift.facts, context)]


@pytest.fixture
def rectangle() -> CrossSection:
    """500 × 700 with 12 D25."""
    return make_column(Rectangle(width=500, depth=700), "12 D25")


def fibre_resultants(column, angle, strain, curvature, sigma_c, block_from, cell=2.0):
    """N, Mx, My by summing square fibres and bars: shares no code with the engine."""
    from shapely import contains_xy

    outline, bars = column.section.outline, column.section.bars
    x0, y0, x1, y1 = outline.bounds
    x, y = np.meshgrid(
        np.arange(x0 + cell / 2, x1, cell), np.arange(y0 + cell / 2, y1, cell), indexing="ij"
    )
    x, y = x.ravel(), y.ravel()
    inside = contains_xy(outline.polygon, x, y)
    cx, cy = outline.centroid
    x, y = x[inside] - cx, y[inside] - cy
    # Scaled to the exact area, so that only the fibres' place is approximate.
    weight = outline.area / len(x)
    fibre = strain + curvature * (x * np.cos(angle) + y * np.sin(angle))
    force = np.where(fibre >= block_from, sigma_c, 0.0) * weight
    bx, by = bars.x - cx, bars.y - cy
    bar = strain + curvature * (bx * np.cos(angle) + by * np.sin(angle))
    stress = np.clip(column.steel.modulus * bar, -column.steel.yield_strength, None)
    stress = np.minimum(stress, column.steel.yield_strength)
    bar_force = (stress - np.where(bar >= block_from, sigma_c, 0.0)) * bars.area
    return np.array(
        [
            force.sum() + bar_force.sum(),
            (force * y).sum() + (bar_force * by).sum(),
            (force * x).sum() + (bar_force * bx).sum(),
        ]
    )


@pytest.fixture(scope="session")
def shared_solutions():
    """What was solved of a section for the same demands is shared: it is the same every time."""
    known, solve = {}, check.solve_task

    def solve_once(tasks):
        for number, task in enumerate(tasks):
            loads = ((x.section, x.demands.tobytes(), x.ends.tobytes()) for x in task.loads)
            key = task.topic, *loads
            if key not in known:
                known[key] = solve(task)
            yield number, known[key]

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(checking, "solve_in_turn", solve_once)
        yield


def pytest_configure():
    """Examples are drawn the same way in every run; nothing is written into the user's home."""
    from hypothesis import settings

    os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="fexro-state-")

    settings.register_profile("repeatable", derandomize=True, deadline=None)
    settings.load_profile("repeatable")


@pytest.fixture(scope="session")
def demo():
    """The demo."""
    return tarnholm_columns()


@pytest.fixture(scope="session")
def results(demo):
    """The lifts of the demo, checked."""
    return checking.check_project(demo)
