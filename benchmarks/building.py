"""A large building out of the demo: every lift a section of its own, many combinations."""

from __future__ import annotations

import numpy as np

from fexro.demo.tarnholm import tarnholm_archive
from fexro.project.model import Combination, EndForces, Mark, Project


def building(stacks: int, combinations: int) -> Project:
    """Return a project of six lifts in each stack."""
    demo = tarnholm_archive()
    random = np.random.default_rng(7)
    names = [f"U{i + 1}" for i in range(combinations)]
    marks = []
    for number in range(stacks):
        source = demo.marks[number % len(demo.marks)]
        lifts = []
        for lift in source.lifts:
            # A cover of its own makes every section one that is seen for the first time.
            cover = lift.section.cover + 0.01 * number
            section = lift.section.model_copy(update={"cover": cover})
            known = list(lift.forces.values())
            forces = {}
            for i, name in enumerate(names):
                ends, factor = known[i % len(known)], random.uniform(0.8, 1.1)
                top, bottom = (EndForces(*(factor * value for value in end)) for end in ends)
                forces[name] = (top, bottom)
            lifts.append(lift.model_copy(update={"section": section, "forces": forces}))
        marks.append(Mark(name=f"K{number + 1}", lifts=lifts))
    return demo.model_copy(
        update={
            "name": "A large building",
            "combinations": [Combination(name=name) for name in names],
            "marks": marks,
        }
    )
