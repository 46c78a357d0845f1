"""Edits that bring forces in, and take them back to what they were."""

from __future__ import annotations

from typing import Literal

from fexro.project.cases import Combination
from fexro.project.comparison import former_project
from fexro.project.edits.cases import nature_of_name
from fexro.project.edits.verified import verified
from fexro.project.forces import Forces
from fexro.project.forces_data import refuse_odd_numbers
from fexro.project.lift_loads import SpanForces
from fexro.project.mapping import ForcesMapping
from fexro.project.project import Project
from fexro.project.takings import Taking

__all__ = ["put_back_forces", "take_forces"]


def take_forces(
    project: Project,
    forces: Forces,
    results: Literal["cases", "combinations"],
    mapping: ForcesMapping,
    taking: Taking,
    *,
    span_forces: tuple[SpanForces, ...] = (),
    keep_others: bool = False,
) -> Project:
    """Return the project with the forces of a table.

    Load cases and combinations that it lacks are made; what cases seem to be by their names is for
    people to look at.

    Args:
        project: the project.
        forces: of its lifts, under cases or combinations.
        results: which of both.
        mapping: by which the table was read; it takes the place of one of its name.
        taking: what is known of it.
        span_forces: moments between the ends that are larger than at both.
        keep_others: whether forces of other lifts, cases and combinations stay.

    Raises:
        InputError: if a force is one that no building has.
    """
    refuse_odd_numbers(forces, "table")
    field = "case_forces" if results == "cases" else "factored_forces"
    before: Forces = getattr(project, field)
    taken = before.joined(forces) if keep_others else forces
    mappings = tuple(m for m in project.mappings if m.name != mapping.name)
    names = set(before.columns) | set(forces.columns)
    # What was given between the ends is of the forces that are gone.
    kept = tuple(
        span
        for span in project.span_forces
        if span.name not in names or (keep_others and forces.row(span.key, span.name) is None)
    )
    changed = project.changed(
        **{field: taken},
        span_forces=(*kept, *span_forces),
        former_case_forces=project.case_forces,
        former_factored_forces=project.factored_forces,
        mappings=(*mappings, mapping),
        takings=(*project.takings, taking),
    )
    if results == "cases":
        new = [nature_of_name(c) for c in taken.columns if c not in project.case_by_name]
        changed = changed.changed(cases=(*project.cases, *new))
        return verified(changed)
    known = {c.name for c in project.combinations}
    made = tuple(Combination(name=c) for c in taken.columns if c not in known)
    return verified(changed.changed(combinations=(*project.combinations, *made)))


def put_back_forces(project: Project) -> Project:
    """Return the project with the forces that the last taking took the place of, and vice versa.

    Forces of lifts that are there no more are left out.
    """
    former = former_project(project)
    return project.changed(
        case_forces=former.case_forces,
        factored_forces=former.factored_forces,
        former_case_forces=project.case_forces,
        former_factored_forces=project.factored_forces,
        takings=project.takings[:-1],
    )
