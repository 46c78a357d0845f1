"""Edits of the forces of single lifts, by hand."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from pydantic import ValidationError

from fexro.core.actions import COMPONENTS, ENDS
from fexro.core.errors import InputError
from fexro.project.column import LiftKey
from fexro.project.edits.verified import verified
from fexro.project.forces import Forces
from fexro.project.forces_data import refuse_odd_numbers
from fexro.project.lift_loads import LiftLoad, SpanForces
from fexro.project.project import Project

__all__ = [
    "add_lift_load",
    "add_span",
    "change_forces",
    "change_lift_load",
    "change_span",
    "remove_lift_loads",
    "remove_spans",
]


def change_forces(
    project: Project, key: LiftKey, name: str, end: int, values: Mapping[str, float]
) -> Project:
    """Return the project with other forces at an end of a lift.

    What was not known before is 0, at both ends.

    Args:
        project: the project.
        key: the lift.
        name: of a load case, or of a combination whose forces are given factored.
        end: 0 at the top, 1 at the bottom.
        values: of some components, kN and kN·m.

    Raises:
        InputError: if there is no such case or combination, or no building has such a force.
    """
    given = {c.name for c in project.combinations if not c.factors}
    if name in project.case_by_name:
        field = "case_forces"
    elif name in given:
        field = "factored_forces"
    else:
        allowed = "a load case, or a combination without factors"
        raise InputError("forces", f"“{name}”", allowed)
    forces: Forces = getattr(project, field)
    row = forces.row(key, name)
    rows = np.zeros((len(ENDS), len(COMPONENTS))) if row is None else row.copy()
    for component, value in values.items():
        rows[end, COMPONENTS.index(component)] = value
    changed = forces.joined(Forces.of([name], {key: {name: rows.tolist()}}))
    refuse_odd_numbers(changed, "forces")
    return project.changed(**{field: changed})


def add_lift_load(project: Project, load: LiftLoad) -> Project:
    """Return the project with another load on a lift; its case has forces there from now on.

    Raises:
        InputError: if there is no such lift or case.
    """
    changed = verified(project.changed(lift_loads=(*project.lift_loads, load)))
    if project.case_forces.row(load.key, load.case) is None:
        return change_forces(changed, load.key, load.case, 0, {})
    return changed


def change_lift_load(project: Project, number: int, **fields: Any) -> Project:
    """Return the project with other facts of a load, by its number among all.

    Raises:
        InputError: if one of them is not allowed.
    """
    return _changed(project, "lift_loads", number, fields)


def add_span(project: Project, span: SpanForces) -> Project:
    """Return the project with moments at another place between the ends of a lift.

    Raises:
        InputError: if there is no such lift, case or combination.
    """
    return verified(project.changed(span_forces=(*project.span_forces, span)))


def change_span(project: Project, number: int, **fields: Any) -> Project:
    """Return the project with other moments between the ends, by their number among all.

    Raises:
        InputError: if one of them is not allowed.
    """
    return _changed(project, "span_forces", number, fields)


def remove_spans(project: Project, numbers: set[int]) -> Project:
    """Return the project without some moments between the ends, by their numbers among all."""
    kept = tuple(span for i, span in enumerate(project.span_forces) if i not in numbers)
    return project.changed(span_forces=kept)


def _changed(project: Project, field: str, number: int, fields: Mapping[str, Any]) -> Project:
    items = list(getattr(project, field))
    try:
        items[number] = type(items[number]).model_validate({**items[number].model_dump(), **fields})
    except ValidationError as error:
        first = error.errors()[0]
        where = ", ".join(str(part) for part in first["loc"])
        found = ", ".join(str(value) for value in fields.values())
        raise InputError(where, f"“{found}”", first["msg"].lower()) from None
    return verified(project.changed(**{field: tuple(items)}))


def remove_lift_loads(project: Project, numbers: set[int]) -> Project:
    """Return the project without some loads, by their numbers among all."""
    kept = tuple(load for i, load in enumerate(project.lift_loads) if i not in numbers)
    return project.changed(lift_loads=kept)
