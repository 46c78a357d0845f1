"""Which lifts are other facts after an edit: worked out from the project before and after."""

from __future__ import annotations

import numpy as np

from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.resolve import held_height

__all__ = ["affected"]


def affected(before: Project, after: Project) -> frozenset[LiftKey]:
    """Return the lifts whose facts, forces or code are not what they were.

    Lifts that are only before are left out: nothing is found of them any more.
    """
    if _rules(before) != _rules(after):
        return frozenset(after.by_key)
    found = _by_facts(before, after)
    found |= before.case_forces.changed(after.case_forces)
    found |= before.factored_forces.changed(after.factored_forces)
    found |= _by_combinations(before, after)
    found |= _by_floors(before, after)
    found |= _by_loads(before, after)
    found &= after.by_key.keys()
    return _with_storeys(before, after, found)


def _rules(project: Project) -> tuple[object, ...]:
    """What all lifts are checked by; what they inherit is among their facts."""
    return project.basis.code, project.basis.annex, project.basis.units, project.basis.bars.own


def _by_facts(before: Project, after: Project) -> set[LiftKey]:
    """Return the lifts that are others, rest on other materials or are held elsewhere."""
    same = all(
        getattr(before, field) is getattr(after, field)
        for field in ("concretes", "steels", "storeys")
    )
    # Where no floor was or is passed, the height of a lift is that of its storey.
    if same and not before.passing and not after.passing:
        return {
            key
            for key, lift in after.by_key.items()
            if lift is not (former := before.by_key.get(key)) and lift != former
        }
    return {key for key in after.by_key if _facts(before, key) != _facts(after, key)}


def _facts(project: Project, key: LiftKey) -> tuple[object, ...]:
    lift = project.by_key.get(key)
    if lift is None:
        return ()
    return (
        lift,
        project.concrete_by_name[lift.concrete],
        project.steel_by_name[lift.steel],
        *(held_height(project, key, axis) for axis in ("x", "y")),
    )


def _by_loads(before: Project, after: Project) -> set[LiftKey]:
    """Return the lifts with other loads or moments between their ends, or another weight."""
    found: set[LiftKey] = set()
    for field in ("lift_loads", "span_forces"):
        old, new = getattr(before, field), getattr(after, field)
        if old is not new:
            found |= {one.key for one in set(old) ^ set(new)}
    old, new = before.weights, after.weights
    return found | {key for key in old.keys() | new.keys() if old.get(key) != new.get(key)}


def _by_floors(before: Project, after: Project) -> set[LiftKey]:
    """Return the lifts of which another share of a load case stays."""
    old, new = before.floor_shares, after.floor_shares
    return {
        key
        for key in old.keys() | new.keys()
        if key not in old or key not in new or not np.array_equal(old[key], new[key])
    }


def _by_combinations(before: Project, after: Project) -> set[LiftKey]:
    if before.combinations is after.combinations and before.cases is after.cases:
        return set()
    old, new = ({c.name: c for c in p.combinations} for p in (before, after))
    if before.cases != after.cases or list(old) != list(new):
        return set(after.by_key)
    found: set[LiftKey] = set()
    for name, combination in new.items():
        former = old[name]
        if former is combination or former == combination:
            continue
        if (former.factors, former.for_strength) != (
            combination.factors,
            combination.for_strength,
        ):
            found |= {k for k in after.by_key if former.applies(k) or combination.applies(k)}
        else:
            found |= {k for k in after.by_key if former.applies(k) != combination.applies(k)}
    return found


def _with_storeys(before: Project, after: Project, found: set[LiftKey]) -> frozenset[LiftKey]:
    """Add the other lifts of the storeys where the code couples them by their sway."""
    if not after.basis.design_code.stability.couples_storey:
        return frozenset(found)
    gone = before.by_key.keys() - after.by_key.keys()
    storeys = {key.storey for key in (*found, *gone)}
    return frozenset(key for key in after.by_key if key.storey in storeys)
