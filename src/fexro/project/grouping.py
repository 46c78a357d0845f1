"""Types of bars and ties that lifts of a project share: a curve, and taking one point of it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.sizing.amounts import amounts_of
from fexro.core.sizing.groups import sharings
from fexro.project.column import Group, LiftKey
from fexro.project.edits.groups import leave_groups
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift
from fexro.project.sizing import Chosen, lap_of, rules_of, take
from fexro.project.sizing_run import Outcome

__all__ = ["SCOPES", "Scope", "TypeStep", "take_types", "type_steps"]

Scope = Literal["freely", "along stacks", "across storeys"]
SCOPES: tuple[Scope, ...] = ("freely", "along stacks", "across storeys")


@dataclass(frozen=True)
class TypeStep:
    """Lifts that share types.

    Attributes:
        types: how many there are.
        mass: of all steel, kg.
        chosen: what each lift gets.
    """

    types: int
    mass: float
    chosen: Mapping[LiftKey, Chosen]


def type_steps(
    project: Project, found: Sequence[Outcome], scope: Scope
) -> Iterator[tuple[int, int, list[TypeStep]]]:
    """Check what each lift does with the bars and ties of the others, and find how to share.

    Yields:
        how many checks are done of how many, and at last the steps, from all different to as few
        types as will do.

    Args:
        project: the project.
        found: what a run has found; lifts without a proposal are left out.
        scope: within which types are shared.
    """
    rows = [one for one in found if one.after is not None]
    types = sorted({(one.after.bars, one.after.ties) for one in rows if one.after is not None})
    if not rows:
        yield 0, 0, []
        return
    values = np.full((len(rows), len(types)), np.inf)
    total = values.size
    for i, one in enumerate(rows):
        lap = lap_of(resolve_lift(project, one.key))
        for j, (bars, ties) in enumerate(types):
            mass = _mass_with(project, one, Chosen(bars, ties), lap)
            values[i, j] = np.inf if mass is None else mass
            yield i * len(types) + j + 1, total, []
    yield total, total, _steps(rows, types, values, scope)


def _steps(
    rows: Sequence[Outcome], types: Sequence[tuple[str, str]], values: FloatArray, scope: Scope
) -> list[TypeStep]:
    names = {
        "freely": ["" for _ in rows],
        "along stacks": [one.key.mark for one in rows],
        "across storeys": [one.key.storey for one in rows],
    }[scope]
    numbers = np.unique(names, return_inverse=True)[1]
    return [
        TypeStep(
            one.types,
            one.value,
            {row.key: Chosen(*types[kind]) for row, kind in zip(rows, one.chosen, strict=True)},
        )
        for one in sharings(values, numbers)
    ]


def _mass_with(project: Project, one: Outcome, chosen: Chosen, lap: float) -> float | None:
    """Return the steel of a lift with bars, ties and laps, kg; nothing where they do not do."""
    if chosen == one.after:
        return one.mass_after
    model = project.by_key[one.key]
    try:
        lift = resolve_lift(project, one.key, model.with_bars(chosen.bars, chosen.ties))
    except InputError:
        return None
    mass = amounts_of(lift, lap).steel
    lightest = rules_of(project, one.key).objective == "mass"
    if lightest and mass < one.mass_after * (1 - 1e-6):
        # What is lighter than the lightest that does, does not.
        return None
    result = check_lift(lift)
    if result.state in (State.EXCEEDED, State.NOT_CHECKED):
        return None
    return mass if result.utilisation <= rules_of(project, one.key).aim * (1 + 1e-9) else None


def take_types(project: Project, chosen: Mapping[LiftKey, Chosen], scope: Scope) -> Project:
    """Return the project with shared types: lifts of one type are a group.

    Raises:
        InputError: where bars do not fit; none is taken.
    """
    project = take(leave_groups(project, list(chosen)), chosen)
    alike: dict[tuple[str, str, str], list[LiftKey]] = {}
    for key, one in chosen.items():
        place = {"freely": "", "along stacks": key.mark, "across storeys": key.storey}[scope]
        alike.setdefault((place, one.bars, one.ties), []).append(key)
    taken = {group.name for group in project.groups}
    names = (name for n in range(1, 10_000) if (name := f"T{n}") not in taken)
    made = [
        Group(name=next(names), members=tuple(keys)) for keys in alike.values() if len(keys) > 1
    ]
    return project.changed(groups=(*project.groups, *made))
