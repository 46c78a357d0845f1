"""A large building out of the demo: every lift a section of its own, many combinations."""

from __future__ import annotations

import numpy as np

from fexro.project.cases import Combination
from fexro.project.column import LiftKey, Mark
from fexro.project.forces import Forces
from fexro.project.project import Project
from tests.projects import factored_demo


def building(stacks: int, combinations: int) -> Project:
    """Return a project of six lifts in each stack."""
    demo = factored_demo()
    random = np.random.default_rng(7)
    names = tuple(f"U{i + 1}" for i in range(combinations))
    marks, members, forces, beams = [], [], [], []
    for number in range(stacks):
        source = demo.marks[number % len(demo.marks)]
        lifts = []
        for lift in source.lifts:
            # A cover of its own makes every section one that is seen for the first time.
            cover = demo.by_key[LiftKey(source.name, lift.storey)].section.cover
            own = lift.own.model_copy(update={"cover": cover + 0.01 * number})
            known, _ = demo.factored_forces.of_member(LiftKey(source.name, lift.storey))
            taken = known[:, np.arange(combinations) % known.shape[1]]
            factors = np.array([random.uniform(0.8, 1.1) for _ in names])
            forces.append(factors[:, None] * taken)
            lifts.append(lift.model_copy(update={"own": own}))
        marks.append(Mark(name=f"K{number + 1}", lifts=tuple(lifts)))
        beams += [
            beam.model_copy(update={"mark": marks[-1].name})
            for lift in lifts
            for beam in demo.beams_by_key.get(LiftKey(source.name, lift.storey), ())
        ]
        members += [LiftKey(marks[-1].name, lift.storey) for lift in lifts]
    return demo.changed(
        name="A large building",
        combinations=tuple(Combination(name=name) for name in names),
        marks=tuple(marks),
        beams=tuple(beams),
        factored_forces=Forces(tuple(members), names, np.array(forces)),
    )
