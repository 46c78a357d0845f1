"""What a taking changed: utilisations and forces before and after, lift by lift."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.findings import State
from fexro.core.members.lift import LiftResult
from fexro.project.actions import actions_of
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["Change", "CombinationChange", "changes_of", "forces_changed", "former_project"]


@dataclass(frozen=True)
class Change:
    """A lift before and after a taking.

    Attributes:
        lift: which one.
        before, after: its utilisation; not a number where it has none.
        crosses: 1 if it exceeds its limit since, -1 if it does no more, else 0.
    """

    lift: LiftKey
    before: float
    after: float
    crosses: int

    @property
    def size(self) -> float:
        """How much the utilisation changed; without one of both it is infinite."""
        if math.isnan(self.before) and math.isnan(self.after):
            return 0.0
        change = self.after - self.before
        return math.inf if math.isnan(change) else change


@dataclass(frozen=True)
class CombinationChange:
    """The forces of a lift in a combination before and after, kN and kN·m.

    Attributes:
        name: of the combination.
        before, after: N, Mx, My at top and bottom, (2, 3); nothing where it has none.
    """

    name: str
    before: FloatArray | None
    after: FloatArray | None


def former_project(project: Project) -> Project:
    """Return the project with the forces that the last taking took the place of.

    Forces of lifts, cases and combinations that are there no more are left out.
    """
    fields = ("former_case_forces", "former_factored_forces")
    gone = {
        key
        for field in fields
        for key in getattr(project, field).members
        if key not in project.by_key
    }
    combinations = {c.name for c in project.combinations}
    cases, factored = (
        getattr(project, field)
        .without(gone)
        .with_columns(lambda name, known=known: name if name in known else None)
        for field, known in zip(fields, (project.case_by_name, combinations), strict=True)
    )
    return project.changed(case_forces=cases, factored_forces=factored)


def changes_of(
    before: Mapping[LiftKey, LiftResult], after: Mapping[LiftKey, LiftResult]
) -> list[Change]:
    """Return what changed, those that cross their limit first, then by the size of the change."""
    changes = []
    for key, result in after.items():
        former = before.get(key)
        if former is None:
            continue
        now, then = (r.state is State.EXCEEDED for r in (result, former))
        changes.append(Change(key, former.utilisation, result.utilisation, int(now) - int(then)))
    return sorted(changes, key=lambda c: (-abs(c.crosses), -abs(c.size), c.lift))


def forces_changed(former: Project, project: Project, key: LiftKey) -> list[CombinationChange]:
    """Return the forces of a lift in each combination, the one that changed most first."""
    found: dict[str, list[FloatArray | None]] = {}
    for i, one in enumerate((former, project)):
        actions = actions_of(one, key)
        for name, forces in zip(actions.combinations, actions.axial_bending, strict=True):
            found.setdefault(name, [None, None])[i] = forces / [1e3, 1e6, 1e6]

    def size(pair: list[FloatArray | None]) -> float:
        before, after = pair
        if before is None or after is None:
            return math.inf
        return float(np.abs(after - before).max())

    rows = [CombinationChange(name, *pair) for name, pair in found.items()]
    return sorted(rows, key=lambda row: -size(found[row.name]))
