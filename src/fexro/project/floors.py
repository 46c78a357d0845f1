"""Imposed load that is less on lifts which carry several floors."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from fexro.core.actions import ENDS
from fexro.core.arrays import FloatArray
from fexro.core.codes.loading import live_load_rules
from fexro.core.loads.floors import Floors
from fexro.core.provisions import Derivation
from fexro.project.cases import LoadCase
from fexro.project.column import LiftKey

if TYPE_CHECKING:
    from fexro.project.project import Project

__all__ = ["explain_share", "floor_shares", "floors_of"]

GROWTH = 1e-3  # kN by which an axial force grows at a floor that loads it


def floors_of(project: Project, key: LiftKey, case: LoadCase) -> Floors:
    """Return the floors whose load of a case a lift carries.

    They are counted where the axial force of the case grows down the stack, so that a roof, whose
    load is a case of its own, is not among them.
    """
    assert case.reduction is not None
    mark = project.mark_by_name[key.mark]
    above, number = 0.0, 0
    for lift in mark.lifts:
        row = project.case_forces.row(LiftKey(mark.name, lift.storey), case.name)
        axial = above if row is None else float(row[ENDS.index("top"), 0])
        number += axial > above + GROWTH
        above = max(above, axial)
        if lift.storey == key.storey:
            break
    area = case.reduction.area if mark.floor_area is None else mark.floor_area
    rule = live_load_rules()[case.reduction.rule]
    default = rule.categories[0] if rule.categories else ""
    return Floors(
        max(number, 1),
        1e6 * area * max(number, 1),
        1e-3 * case.reduction.load,
        case.reduction.element,
        case.category or default,
        project.basis.system,
    )


def explain_share(
    record: Derivation | None, project: Project, key: LiftKey, case: LoadCase
) -> float:
    """Return the share of a case that stays on a lift, and write how it follows."""
    if case.reduction is None:
        return 1.0
    return live_load_rules()[case.reduction.rule].factor(record, floors_of(project, key, case))


def floor_shares(project: Project) -> Mapping[LiftKey, FloatArray]:
    """Return the share of each case that stays, (K,), for lifts where any is less."""
    columns = project.case_forces.columns
    reduced = [
        (columns.index(case.name), case)
        for case in project.cases
        if case.reduction is not None and case.name in columns
    ]
    found = {}
    for key in project.by_key if reduced else ():
        shares = np.ones(len(columns))
        for column, case in reduced:
            shares[column] = explain_share(None, project, key, case)
        if (shares != 1.0).any():
            found[key] = shares
    return found
