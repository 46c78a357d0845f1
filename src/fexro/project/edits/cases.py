"""Edits of load cases."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from fexro.core.errors import InputError
from fexro.core.loads.expression import written
from fexro.project.cases import Combination, Factors, LoadCase
from fexro.project.edits.verified import named, verified
from fexro.project.project import Project
from fexro.project.records import look

__all__ = ["add_case", "change_case", "nature_of_name", "remove_case"]

# What names of load cases mean in the trade; the first that a name begins with.
_NATURES: tuple[tuple[str, dict[str, Any]], ...] = (
    ("roof", {"nature": "roof"}),
    ("lr", {"nature": "roof"}),
    ("qr", {"nature": "roof"}),
    ("snow", {"nature": "snow"}),
    ("dead", {"nature": "permanent"}),
    ("dl", {"nature": "permanent"}),
    ("sw", {"nature": "permanent"}),
    ("sdl", {"nature": "permanent"}),
    ("perm", {"nature": "permanent"}),
    ("self", {"nature": "permanent"}),
    ("live", {"nature": "imposed"}),
    ("ll", {"nature": "imposed"}),
    ("imp", {"nature": "imposed"}),
    ("use", {"nature": "imposed"}),
    ("wind", {"nature": "wind"}),
    ("eq", {"nature": "earthquake"}),
    ("ae", {"nature": "earthquake"}),
    ("quake", {"nature": "earthquake"}),
    ("notional", {"nature": "notional"}),
    ("nh", {"nature": "notional"}),
    ("n", {"nature": "notional"}),
    ("temp", {"nature": "temperature"}),
    ("rain", {"nature": "rain"}),
    ("d", {"nature": "permanent"}),
    ("g", {"nature": "permanent"}),
    ("l", {"nature": "imposed"}),
    ("q", {"nature": "imposed"}),
    ("s", {"nature": "snow"}),
    ("w", {"nature": "wind"}),
    ("e", {"nature": "earthquake"}),
    ("t", {"nature": "temperature"}),
    ("a", {"nature": "accidental"}),
    ("r", {"nature": "rain"}),
)


def nature_of_name(name: str) -> LoadCase:
    """Return a load case whose facts its name seems to tell; people look at them."""
    plain = look(name)
    facts = next((facts for start, facts in _NATURES if plain.startswith(start)), None)
    facts = dict(facts or {"nature": "imposed"})
    if facts["nature"] in ("wind", "earthquake", "notional"):
        rest = plain.lstrip("abcdefghijklmnopqrstuvw")
        axis = next((axis for axis in "xy" if axis in plain[1:]), None)
        if axis is None and rest[1:] in ("0", "180", "90", "270"):
            axis = "x" if rest[1:] in ("0", "180") else "y"
        facts |= {"direction": axis, "sway": axis, "both_signs": True}
    if facts["nature"] == "permanent":
        facts["sustained"] = 1.0
    return LoadCase(name=name, **facts)


def add_case(project: Project, name: str) -> Project:
    """Return the project with another load case.

    Raises:
        InputError: if there is one of that name, or it is no name.
    """
    case = nature_of_name(named("load case", name))
    return verified(project.changed(cases=(*project.cases, case)))


def change_case(project: Project, name: str, /, **fields: Any) -> Project:
    """Return the project with other facts of a load case; a new name is taken over everywhere.

    Raises:
        InputError: if one of them is not allowed.
    """
    case = project.case_by_name[name]
    if "name" in fields:
        fields["name"] = named("load case", fields["name"])
        if fields.keys() == {"name"} and case == nature_of_name(name):
            # The nature follows the name until somebody sets it.
            fields = dict(nature_of_name(fields["name"]))
    try:
        changed = LoadCase.model_validate({**dict(case), **fields})
    except ValidationError as error:
        first = error.errors()[0]
        where = ", ".join(str(part) for part in first["loc"]) or name
        found = ", ".join(f"{value}" for value in fields.values())
        raise InputError(f"{name}, {where}", f"“{found}”", first["msg"].lower()) from None
    cases = tuple(changed if c is case else c for c in project.cases)
    project = project.changed(cases=cases)
    if changed.name != name:
        project = _renamed(project, name, changed.name)
    return verified(project)


def _renamed(project: Project, old: str, new: str) -> Project:
    def call(name: str) -> str:
        return new if name == old else name

    combinations = tuple(
        _with_factors(c, {call(n): v for n, v in c.factors.items()}) if old in c.factors else c
        for c in project.combinations
    )
    return project.changed(
        combinations=combinations,
        bearing_walls=tuple(wall.with_cases(call) for wall in project.bearing_walls),
        lift_loads=tuple(
            load.model_copy(update={"case": call(load.case)}) for load in project.lift_loads
        ),
        span_forces=tuple(
            span.model_copy(update={"name": call(span.name)}) for span in project.span_forces
        ),
        case_forces=project.case_forces.with_columns(call),
        former_case_forces=project.former_case_forces.with_columns(call),
    )


def _with_factors(combination: Combination, factors: dict[str, float]) -> Combination:
    """Return a combination with its cases called otherwise, as it is written too."""
    update: dict[str, object] = {"factors": Factors(factors)}
    if combination.expression:
        update["expression"] = written(factors)[:200]
    return combination.model_copy(update=update)


def remove_case(project: Project, name: str) -> Project:
    """Return the project without a load case and its forces.

    Raises:
        InputError: if combinations count it.
    """
    users = [c.name for c in project.combinations if c.factors.get(name)]
    if users:
        shown = ", ".join(users[:8]) + (f" and {len(users) - 8} more" if len(users) > 8 else "")
        raise InputError(name, f"counted by {shown}", "a load case that no combination counts")
    kept = tuple(case for case in project.cases if case.name != name)
    return project.changed(
        cases=kept,
        lift_loads=tuple(load for load in project.lift_loads if load.case != name),
        span_forces=tuple(span for span in project.span_forces if span.name != name),
        case_forces=project.case_forces.with_columns(lambda c: None if c == name else c),
    )
