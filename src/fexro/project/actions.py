"""What acts on a lift: factors times cases, and forces given factored."""

from __future__ import annotations

import numpy as np

from fexro.core.actions import COMPONENTS, ENDS, Actions
from fexro.core.arrays import FloatArray
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["actions_of"]

# From kN and kN·m to N and N·mm.
_INTERNAL = np.array([1e3, 1e3, 1e3, 1e6, 1e6, 1e6])


def actions_of(project: Project, key: LiftKey) -> Actions:
    """Return the factored forces on a lift, N and N·mm.

    A combination with factors is the sum of its cases; it lacks forces where a case that it counts
    has none for the lift. One without factors has the forces that are given for it.
    """
    plan = project.combining
    values = np.full((len(plan.names), len(ENDS), len(COMPONENTS)), np.nan)
    forces, _ = project.factored_forces.of_member(key)
    given = plan.given >= 0
    values[given] = forces[:, plan.given[given]].transpose(1, 0, 2)
    made = plan.made.any()
    if made:
        cases, known = project.case_forces.of_member(key)
        shares = project.floor_shares.get(key)
        if shares is not None:
            cases = cases * shares[:, None]
        factors = plan.factors[plan.made]
        summed = _combined(factors, cases)
        lacking = np.isnan(factors).any(axis=1) | (factors[:, ~known] != 0).any(axis=1)
        values[plan.made] = np.where(lacking[:, None, None], np.nan, summed)
    applies = np.ones(len(plan.names), dtype=bool)
    for i, combination in plan.limited:
        applies[i] = combination.applies(key)
    has = applies & ~np.isnan(values[:, 0, 0])
    sustained = sway = None
    if made and plan.made[has].all():
        factors = plan.factors[has]
        sustained = _combined(factors * plan.sustained, cases) * _INTERNAL
        sway = np.stack([_combined(factors * share, cases) * _INTERNAL for share in plan.sway])
    missing = tuple(plan.names[i] for i in np.flatnonzero(applies & ~has))
    names = plan.names if has.all() else tuple(plan.names[i] for i in np.flatnonzero(has))
    return Actions(names, values[has] * _INTERNAL, missing, sustained=sustained, sway=sway)


def _combined(factors: FloatArray, cases: FloatArray) -> FloatArray:
    """Return factors (C, K) times case forces (2, K, 6), as (C, 2, 6); what is not known is 0."""
    combined: FloatArray = np.einsum("ck,skn->csn", np.nan_to_num(factors), np.nan_to_num(cases))
    return combined
