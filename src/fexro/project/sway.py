"""Sums over the lifts of storeys, and the walls that brace them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from fexro.core.actions import ENDS
from fexro.core.arrays import FloatArray
from fexro.core.facts import Bracing, BracingWall
from fexro.project.column import LiftKey

if TYPE_CHECKING:
    from fexro.project.project import Project

__all__ = ["StoreyLoads", "bracing_of", "storey_sums"]

KILO = 1e3
FOOT = ENDS.index("bottom")


@dataclass(frozen=True, eq=False)
class StoreyLoads:
    """Forces at the feet of all lifts of a storey, N.

    Attributes:
        combinations: that are checked, (C,).
        axial: sum of N, (C,).
        shear: sums of Vx and Vy, (C, 2).
    """

    combinations: tuple[str, ...]
    axial: FloatArray
    shear: FloatArray


def storey_sums(project: Project) -> Mapping[str, StoreyLoads]:
    """Return the sums over the lifts of each storey, found once for a project.

    A lift for which forces are missing, or to which a combination does not apply, adds nothing.
    """
    known: dict[str, StoreyLoads] | None = vars(project).get("_storey_sums")
    if known is None:
        known = vars(project)["_storey_sums"] = _sums(project)
    return known


def _sums(project: Project) -> dict[str, StoreyLoads]:
    plan, place = project.combining, project.storey_place
    cases, given = project.case_forces, project.factored_forces
    by_case = np.zeros((len(place), len(cases.columns), 3))
    at = np.array([place[key.storey] for key in cases.members], dtype=np.intp)
    rows = np.nan_to_num(cases.values[:, FOOT, :, :3])
    if project.floor_shares:
        ones = np.ones(len(cases.columns))
        shares = np.array([project.floor_shares.get(key, ones) for key in cases.members])
        rows = rows * shares[..., None]
    np.add.at(by_case, at, rows)
    for key, (column, above, own) in project.weights.items():
        by_case[place[key.storey], column, 0] += above + own
    factors = np.nan_to_num(plan.factors)
    found = np.einsum("ck,skf->scf", factors, by_case)
    by_name = np.zeros((len(place), len(given.columns), 3))
    at = np.array([place[key.storey] for key in given.members], dtype=np.intp)
    np.add.at(by_name, at, np.nan_to_num(given.values[:, FOOT, :, :3]))
    for c, column in enumerate(plan.given):
        if column >= 0:
            found[:, c] += by_name[:, column]
    for c, parts in enumerate(plan.sway_parts.T):
        for column in parts[parts >= 0]:
            found[:, c] += by_name[:, column]
    for c, combination in plan.limited:
        for key in project.by_key:
            if not combination.applies(key):
                found[place[key.storey], c] -= _own(project, key, c)
    return {
        name: StoreyLoads(plan.names, KILO * found[i, :, 0], KILO * found[i, :, 1:])
        for name, i in place.items()
    }


def _own(project: Project, key: LiftKey, combination: int) -> FloatArray:
    """Return N, Vx, Vy at the foot of one lift in a combination, kN."""
    plan = project.combining
    cases, _ = project.case_forces.of_member(key)
    given, _ = project.factored_forces.of_member(key)
    rows = np.nan_to_num(cases[FOOT, :, :3])
    shares = project.floor_shares.get(key)
    if shares is not None:
        rows = rows * shares[:, None]
    weight = project.weights.get(key)
    if weight is not None:
        rows[weight[0], 0] += weight[1] + weight[2]
    found: FloatArray = np.nan_to_num(plan.factors[combination]) @ rows
    for column in (plan.given[combination], *plan.sway_parts[:, combination]):
        if column >= 0:
            found = found + np.nan_to_num(given[FOOT, column, :3])
    return found


def bracing_of(project: Project) -> tuple[Bracing | None, Bracing | None]:
    """Return the walls that brace the building in x and y, where they are given."""
    found = [_bracing(project, axis) for axis in ("x", "y")]
    return found[0], found[1]


def _bracing(project: Project, axis: str) -> Bracing | None:
    given = getattr(project.basis, f"bracing_{axis}")
    if given is None or not project.storeys:
        return None
    concrete = given.concrete or project.basis.values.concrete
    lowest = project.storeys[-1]
    if given.axial is not None:
        axial = KILO * given.axial
    else:
        axial = float(storey_sums(project)[lowest.name].axial.max(initial=0.0))
    return Bracing(
        tuple(BracingWall(wall.length, wall.thickness) for wall in given.walls),
        project.concrete_by_name[concrete].material(),
        len(project.storeys),
        1e3 * sum(storey.height for storey in project.storeys),
        given.cracked,
        axial,
    )
