"""Projects that several tests use, made from the demo."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path

import numpy as np

from fexro.demo.tarnholm import beams
from fexro.project.cases import Combination
from fexro.project.column import LiftKey, Mark
from fexro.project.file import project_text, read_project
from fexro.project.forces import Forces
from fexro.project.storey import Storey

SAMPLE = Path(__file__).parent / "project" / "samples" / "version-3.fexro.json"


@lru_cache(maxsize=1)
def factored_demo():
    """The demo with forces that are given factored, as a former version had it, and its beams.

    It is braced in both directions, so that slenderness counts in no lift.
    """
    project = read_project(SAMPLE)
    values = project.basis.values
    braced = values.model_copy(update={"x": values.x.model_copy(update={"sway": "braced"})})
    basis = project.basis.model_copy(update={"values": braced})
    return project.changed(basis=basis, beams=beams())


def swaying_sets():
    """The factored demo, U8 with what comes with the earthquake in a set of its own."""
    project = factored_demo()
    names = [*project.factored_forces.columns, "U8 sway"]
    values = np.concatenate(
        [project.factored_forces.values, 0.25 * project.factored_forces.values[:, :, [7]]], axis=2
    )
    forces = Forces(project.factored_forces.members, tuple(names), values)
    combinations = (*project.combinations, Combination(name="U8 sway"))
    return project.changed(combinations=combinations, factored_forces=forces)


def demo_data():
    """The demo, its forces given factored, as the data of its JSON file."""
    return json.loads(project_text(factored_demo()))


def rows_of(project, key):
    """The factored forces of a lift by combination, (2, 6) each: N, Vx, Vy, T, Mx, My."""
    forces = project.factored_forces
    found = {name: forces.row(key, name) for name in forces.columns}
    return {name: row for name, row in found.items() if row is not None}


def with_rows(project, key, rows):
    """The project with other factored forces on a lift."""
    return project.changed(factored_forces=project.factored_forces.with_rows({key: rows}))


def tower(storeys=60, marks=80, combinations=2):
    """A tower of the demo's lifts: loads grow downwards, each mark carries its share."""
    demo = factored_demo()
    names = demo.factored_forces.columns[:combinations]
    levels = [Storey(name=f"L{n}", level=3.5 * n, height=3.5) for n in range(storeys, 0, -1)]
    made, members, forces = [], [], []
    for number in range(marks):
        source = demo.marks[number % len(demo.marks)]
        lifts = []
        for place, storey in enumerate(levels):
            floor = min(place * len(demo.storeys) // storeys, len(demo.storeys) - 1)
            lifts.append(source.lifts[floor].model_copy(update={"storey": storey.name}))
            members.append(LiftKey(f"K{number + 1}", storey.name))
            known, _ = demo.factored_forces.of_member(
                LiftKey(source.name, demo.storeys[floor].name)
            )
            forces.append(
                (0.6 + 0.5 * (number % 7) / 7 + 0.1 * place / storeys) * known[:, :combinations]
            )
        place = (6.0 * (number % 10), 6.0 * (number // 10))
        made.append(Mark(name=f"K{number + 1}", lifts=tuple(lifts), place=place))
    return demo.changed(
        name="A tower",
        storeys=tuple(levels),
        marks=tuple(made),
        grid=(),
        beams=(),
        combinations=tuple(c for c in demo.combinations if c.name in names),
        factored_forces=Forces(tuple(members), tuple(names), np.array(forces)),
    )
