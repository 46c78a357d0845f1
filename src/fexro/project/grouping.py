"""Types of bars and ties that lifts of a project share: a curve, and taking one point of it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple, get_args

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.sizing.amounts import amounts_of
from fexro.core.sizing.groups import fewest, sharings
from fexro.project.column import Group, LiftKey
from fexro.project.edits.groups import leave_groups
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift
from fexro.project.sizing import Chosen, lap_of, rules_of, take
from fexro.project.sizing_run import Outcome, settled, together

__all__ = [
    "SCOPES",
    "Scope",
    "TypeStep",
    "concluded",
    "share_call_outs",
    "take_types",
    "type_steps",
]

Scope = Literal["freely", "along stacks", "across storeys"]
SCOPES: tuple[Scope, ...] = get_args(Scope)


@dataclass(frozen=True)
class TypeStep:
    """Lifts that share types.

    Attributes:
        types: how many there are.
        mass: of all steel, kg.
        chosen: what each lift gets.
        least: whether so many types are known not to come to less.
    """

    types: int
    mass: float
    chosen: Mapping[LiftKey, Chosen]
    least: bool


class _Shared(NamedTuple):
    """A lift with bars and ties of another: steel, kg, and utilisation."""

    mass: float
    ratio: float


class _Table:
    """What each lift comes to with the bars and ties that a run has found for any.

    Args:
        project: the project.
        found: what a run has found; lifts without a proposal are left out.
    """

    def __init__(self, project: Project, found: Sequence[Outcome]) -> None:
        self._project = project
        self.rows = [one for one in found if one.after is not None]
        types = {(one.after.bars, one.after.ties) for one in self.rows if one.after is not None}
        self.types = [Chosen(*one) for one in sorted(types)]
        self.with_types: list[list[_Shared | None]] = []

    @property
    def total(self) -> int:
        """How many checks there are at most."""
        return len(self.rows) * len(self.types)

    @property
    def masses(self) -> FloatArray:
        """Steel of each lift with each type, kg, (L, T); infinite where it does not do."""
        found = [[np.inf if one is None else one.mass for one in row] for row in self.with_types]
        return np.array(found).reshape(len(self.rows), len(self.types))

    def fill(self) -> Iterator[int]:
        """Check every lift with every type, and yield how many are done."""
        for row in self.rows:
            lap = lap_of(resolve_lift(self._project, row.key))
            self.with_types.append([])
            for chosen in self.types:
                self.with_types[-1].append(self._with(row, chosen, lap))
                yield sum(map(len, self.with_types))

    def _with(self, one: Outcome, chosen: Chosen, lap: float) -> _Shared | None:
        """Return what a lift comes to with bars, ties and laps; nothing where they do not do."""
        if chosen == one.after:
            return _Shared(one.mass_after, one.ratio_after)
        model, rules = self._project.by_key[one.key], rules_of(self._project, one.key)
        try:
            lift = resolve_lift(self._project, one.key, model.with_bars(chosen.bars, chosen.ties))
        except InputError:
            return None
        mass = amounts_of(lift, lap).steel
        lightest = rules.objective in ("mass", "fewest call-outs")
        if lightest and mass < one.mass_after * (1 - 1e-6):
            # What is lighter than the lightest that does, does not.
            return None
        result = check_lift(lift)
        if result.state in (State.EXCEEDED, State.NOT_CHECKED):
            return None
        does = result.utilisation <= rules.aim * (1 + 1e-9)
        return _Shared(mass, result.utilisation) if does else None


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
    table = _Table(project, found)
    for done in table.fill():
        yield done, table.total + 1, []
    yield table.total + 1, table.total + 1, _steps(table, scope) if table.rows else []


def _steps(table: _Table, scope: Scope) -> list[TypeStep]:
    rows = table.rows
    names = {
        "freely": ["" for _ in rows],
        "along stacks": [one.key.mark for one in rows],
        "across storeys": [one.key.storey for one in rows],
    }[scope]
    return [
        TypeStep(
            one.types,
            one.value,
            {row.key: table.types[kind] for row, kind in zip(rows, one.chosen, strict=True)},
            one.least,
        )
        for one in sharings(table.masses, np.unique(names, return_inverse=True)[1])
    ]


def share_call_outs(
    project: Project, found: Sequence[Outcome]
) -> Iterator[tuple[int, int, list[Outcome]]]:
    """Find the fewest call-outs that do for all lifts, each the best of one of them.

    Lifts that get the same bars and ties by the rules go on having the same.

    Yields:
        how many checks are done of how many, and at last what was found with the shared call-outs.

    Args:
        project: the project.
        found: what a run has found; lifts without a proposal stay.
    """
    table = _Table(project, found)
    for done in table.fill():
        yield done, table.total + 1, []
    if not table.rows:
        yield 1, 1, list(found)
        return
    units = together(project, [row.key for row in table.rows])
    unit = {key: number for number, keys in enumerate(units) for key in keys}
    masses = np.zeros((len(units), len(table.types)))
    np.add.at(masses, [unit[row.key] for row in table.rows], table.masses)
    sharing = fewest(masses, np.zeros(len(units), dtype=np.intp))
    told = f"one of {sharing.types} call-outs" if sharing.types > 1 else "one call-out for all"
    shared: dict[LiftKey, Outcome] = {}
    for row, with_types in zip(table.rows, table.with_types, strict=True):
        kind = int(sharing.chosen[unit[row.key]])
        one = with_types[kind]
        assert one is not None
        shared[row.key] = replace(
            row,
            after=table.types[kind],
            mass_after=one.mass,
            ratio_after=one.ratio,
            reason=told,
        )
    yield table.total + 1, table.total + 1, [shared.get(one.key, one) for one in found]


def concluded(
    project: Project, found: Sequence[Outcome]
) -> Iterator[tuple[int, int, list[Outcome]]]:
    """Conclude a run: share call-outs where the fewest are asked for, and settle the ratios.

    Yields:
        how many checks are done of how many, and at last what was found.

    Args:
        project: the project.
        found: what a run has found for each lift.
    """
    rows = list(found)
    if project.basis.sizing.objective == "fewest call-outs":
        columns = [one for one in found if one.key in project.column_keys]
        for done, total, shared in share_call_outs(project, columns):
            known = {one.key: one for one in [*found, *shared]}
            rows = [known[one.key] for one in found]
            yield done, total + 1, []
    yield 1, 1, settled(project, rows)


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
