"""Cores of towers with many combinations, and a panel whose thickness is dragged."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.members.check import glance
from fexro.demo.tarnholm import tarnholm_archive
from fexro.demo.walls import CORE_LINES, DOOR, OWN
from fexro.project.cases import Combination
from fexro.project.checking import check_project
from fexro.project.column import LiftKey
from fexro.project.edits.walls import add_opening, add_wall
from fexro.project.forces import Forces
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift
from fexro.project.storey import Storey
from fexro.project.walls import Opening, WallLine

PANEL = LiftKey("K1.1", "S1")


def of_cores(storeys: int, cores: int, combinations: int, *, doors: bool) -> Project:
    """Return a project of special cores alike but for their bars' cover, with random forces."""
    random = np.random.default_rng(11)
    names = tuple(f"U{i + 1}" for i in range(combinations))
    levels = tuple(Storey(name=f"S{n}", level=4.2 * n, height=4.2) for n in range(storeys, 0, -1))
    project = tarnholm_archive()
    project = project.changed(
        marks=(),
        walls=(),
        bearing_walls=(),
        beams=(),
        groups=(),
        lift_loads=(),
        span_forces=(),
        storeys=levels,
        cases=(),
        case_forces=Forces.of((), {}),
        combinations=tuple(Combination(name=name) for name in names),
    )
    for number in range(cores):
        lines = CORE_LINES
        if not doors:
            lines = (WallLine(x1=20.0 * number, y1=0, x2=20.0 * number, y2=6, thickness=300),)
        name = f"K{number + 1}"
        project = add_wall(project, lines, name)
        if doors:
            openings = [
                Opening(storey=level.name, line=line, **DOOR) for level in levels for line in (1, 3)
            ]
            project = add_opening(project, name, openings)
    marks, rows = [], {}
    for number, mark in enumerate(project.marks):
        cover = 30 + 0.01 * number
        marks.append(mark.model_copy(update={"own": OWN.model_copy(update={"cover": cover})}))
        for place, lift in enumerate(mark.lifts):
            share = (place + 1) / storeys
            beam = mark.kind == "coupling beam"
            size = np.array([0, 0, 200, 0, 150, 0] if beam else [6000, 0, 900, 0, 6000, 100])
            factors = random.uniform(0.5, 1.0, (combinations, 1, 1))
            both = np.stack([size * share, size * share * (1 if beam else 1.1)])
            rows[LiftKey(mark.name, lift.storey)] = dict(zip(names, factors * both, strict=True))
    return project.changed(marks=tuple(marks), factored_forces=Forces.of(names, rows))


@pytest.fixture(scope="module")
def core():
    return of_cores(12, 1, 100, doors=True)


@pytest.mark.benchmark(group="walls")
def test_a_core_of_twelve_storeys_with_a_hundred_combinations(benchmark, core):
    assert len(core.by_key) == 48
    names = iter(range(1000))

    def check():
        # A cover of its own each time, so that nothing is known from before.
        own = OWN.model_copy(update={"cover": 30.5 + 0.01 * next(names)})
        marks = tuple(mark.model_copy(update={"own": own}) for mark in core.marks)
        return check_project(core.changed(marks=marks))

    assert len(benchmark.pedantic(check, rounds=5)) == 48


@pytest.mark.benchmark(group="walls")
def test_a_panel_dragged_thicker(benchmark, core):
    model = core.by_key[PANEL]
    sizes = iter(300 + 0.1 * step for step in range(1, 10_000))

    def frame():
        thickness = next(sizes)
        legs = tuple(
            leg.model_copy(update={"thickness": thickness}) for leg in model.section.shape.legs
        )
        shape = model.section.shape.model_copy(update={"legs": legs})
        section = model.section.model_copy(update={"shape": shape})
        return glance(resolve_lift(core, PANEL, model.model_copy(update={"section": section})))

    assert benchmark.pedantic(frame, rounds=20, warmup_rounds=2).shown_ratio > 0


@pytest.mark.benchmark(group="walls, large")
def test_forty_storeys_of_twenty_piers(benchmark):
    tower = of_cores(40, 20, 100, doors=False)
    assert len(tower.by_key) == 800
    assert len(benchmark.pedantic(check_project, (tower, 2), rounds=1)) == 800
