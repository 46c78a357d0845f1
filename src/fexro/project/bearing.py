"""Strips of bearing walls: their forces from what acts on them, and what rules look at."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.facts import BearingStrip
from fexro.core.section.call_out import parse_call_out
from fexro.core.strips import Strip, StripForces, StripLoad, StripStorey, strip_forces
from fexro.project.bars import sizes_by_name
from fexro.project.bearing_walls import BearingWall, FloorLoad
from fexro.project.column import LiftKey, LiftModel
from fexro.project.forces import Forces
from fexro.project.lift_loads import LiftLoad

if TYPE_CHECKING:
    from fexro.project.project import Project

__all__ = [
    "carried_share",
    "carried_width",
    "refuse_bearing",
    "strip_loads",
    "strip_of",
    "strip_width",
    "with_strip_forces",
]

SERVICE = {"permanent": 1.0, "imposed": 0.5, "snow": 0.5, "wind": 0.6}
FOOT = 304.8


def strip_width(project: Project) -> float:
    """Return the width of a strip: a metre, or a foot, mm."""
    return 1000.0 if project.basis.units == "SI" else FOOT


def carried_width(project: Project, wall: BearingWall) -> float:
    """Return what width of the wall a strip carries: its own, and half an opening beside it, mm."""
    return strip_width(project) + 1e3 * wall.beside / 2


def carried_share(load: FloorLoad, thickness: float) -> float:
    """Return what a load is per metre of wall, over its value (ACI 318-19, 11.2.3.1), 1/m.

    A single load is carried by its bearing and four times the thickness, within the spacing.
    """
    if load.spacing <= 0:
        return 1.0
    return 1e3 / min(load.spacing, load.bearing + 4 * thickness)


def _thickness(project: Project, wall: BearingWall, storey: str) -> float:
    record = project.record_by_key.get(LiftKey(wall.name, storey))
    depth = getattr(record.shape, "depth", None) if record is not None else None
    return wall.thickness if depth is None else float(depth)


def _statics(project: Project, wall: BearingWall, case: str) -> list[StripForces]:
    """Return the forces along each storey of a strip under a load case, from the lowest, N, mm.

    Moments are positive where they compress the +y face, as a load beside the middle towards +y
    does; a pressure towards +y bends the storeys the other way, so its sign is turned.
    """
    width = carried_width(project, wall)
    wind = next((one for one in wall.winds if one.case == case), None)
    storeys = []
    for name in reversed(wall.storeys):
        thickness = _thickness(project, wall, name)
        loads = tuple(
            StripLoad(load.value * carried_share(load, thickness) * width, 0.0, load.eccentricity)
            for load in wall.floors
            if load.case == case and load.storey == name
        )
        height = 1e3 * project.storey_by_name[name].height
        pressure = 0.0 if wind is None else -1e-3 * wind.wall * width
        storeys.append(StripStorey(height, pressure, loads))
    weight = 0.0
    if wall.self_weight == case:
        weight = 1e-6 * wall.density * width * _thickness(project, wall, wall.storeys[0])
    strip = Strip(
        tuple(storeys),
        weight,
        1e3 * wall.parapet,
        0.0 if wind is None else -1e-3 * wind.parapet * width,
    )
    return strip_forces(strip, np.array([[1.0, 0.0, 1.0]]))


def strip_loads(
    project: Project, wall: BearingWall
) -> tuple[Mapping[LiftKey, Mapping[str, FloatArray]], tuple[LiftLoad, ...]]:
    """Return the end forces of each storey of a strip by load case, kN and kN·m, and its wind.

    Args:
        project: the project.
        wall: the wall.
    """
    width = carried_width(project, wall)
    rows: dict[LiftKey, dict[str, FloatArray]] = {
        LiftKey(wall.name, storey): {} for storey in wall.storeys
    }
    for case in project.cases:
        for storey, forces in zip(
            reversed(wall.storeys), _statics(project, wall, case.name), strict=True
        ):
            row = np.zeros((2, 6))
            for end, place in ((0, forces.height), (1, 0.0)):
                row[end, 0] = forces.axial(place)[0] / 1e3
                # The wind along the storey is a load of its own beside the end forces.
                straight = (forces.top[0] - forces.bottom[0]) / forces.height
                row[end, 2] = straight / 1e3
                row[end, 4] = forces.moment(place)[0] / 1e6
            rows[LiftKey(wall.name, storey)][case.name] = np.round(row, 9) + 0.0
    loads = tuple(
        LiftLoad(
            mark=wall.name,
            storey=storey,
            case=wind.case,
            kind="distributed",
            axis="y",
            value=1e-3 * wind.wall * width,
        )
        for storey in wall.storeys
        for wind in wall.winds
        if wind.wall
    )
    return rows, loads


def with_strip_forces(project: Project) -> Project:
    """Return the project with the forces of all strips by what acts on their walls.

    The same project where they are so already.
    """
    if not project.bearing_walls:
        return project
    rows: dict[LiftKey, Mapping[str, FloatArray]] = {}
    loads: list[LiftLoad] = []
    for wall in project.bearing_walls:
        forces, winds = strip_loads(project, wall)
        rows.update(forces)
        loads.extend(winds)
    cases = tuple(case.name for case in project.cases)
    joined = project.case_forces.joined(Forces.of(cases, rows))
    names = {wall.name for wall in project.bearing_walls}
    present = [load for load in project.lift_loads if load.mark in names]
    changed: dict[str, object] = {}
    if joined != project.case_forces:
        changed["case_forces"] = joined
    if present != loads:
        others = [load for load in project.lift_loads if load.mark not in names]
        changed["lift_loads"] = (*others, *loads)
    return project.changed(**changed) if changed else project


def strip_of(project: Project, key: LiftKey, model: LiftModel) -> BearingStrip | None:
    """Return what a lift has as a strip of a bearing wall; nothing of others."""
    wall = next((one for one in project.bearing_walls if one.name == key.mark), None)
    if wall is None:
        return None
    sizes = sizes_by_name(project.basis.bars.own)
    spacing, curtains = None, 2
    if not model.section.placed:
        (group,) = parse_call_out(model.section.bars, "bars", sizes)[:1]
        spacing, curtains = group.spacing, 1 if group.place == "centre" else 2
    return BearingStrip(1e3 * wall.length, curtains, spacing, _service(project, wall, key.storey))


def _service(project: Project, wall: BearingWall, storey: str) -> tuple[float, float] | None:
    """Return Ps and the largest Msa at mid-height of D + 0.5 L ± 0.6 W, N and N·mm."""
    at = list(reversed(wall.storeys)).index(storey)
    axial, steady, winds = 0.0, 0.0, [0.0]
    for case in project.cases:
        factor = SERVICE.get(case.nature, 0.0)
        if not factor:
            continue
        forces = _statics(project, wall, case.name)[at]
        middle = forces.height / 2
        moment = factor * float(forces.moment(middle)[0])
        if case.nature == "wind":
            winds += [moment, -moment] if case.both_signs else [moment]
        else:
            axial += factor * float(forces.axial(middle)[0])
            steady += moment
    return axial, max(abs(steady + wind) for wind in winds)


def refuse_bearing(project: Project) -> None:
    """Refuse bearing walls whose storeys, cases or marks there are not.

    Raises:
        InputError: naming the wall.
    """
    cases = set(project.case_by_name)
    known = {wall.name: wall for wall in project.bearing_walls}
    for mark in project.marks:
        if (mark.kind == "bearing wall") is not (mark.name in known):
            raise InputError(f"mark {mark.name}", mark.kind, "a bearing wall with its loads")
    for wall in project.bearing_walls:
        where = f"bearing wall {wall.name}"
        stack = project.mark_by_name.get(wall.name)
        if stack is None:
            raise InputError(where, "no mark of its name", "a mark for its strips")
        if [lift.storey for lift in stack.lifts] != list(wall.storeys):
            raise InputError(where, "other storeys than those of its mark", "the same storeys")
        for storey in (*wall.storeys, *(load.storey for load in wall.floors)):
            if storey not in wall.storeys or storey not in project.storey_by_name:
                names = ", ".join(wall.storeys[:12])
                raise InputError(where, f"“{storey}”", f"one of its storeys: {names}")
        for case in (*(f.case for f in wall.floors), *(w.case for w in wall.winds)):
            if case not in cases:
                names = ", ".join(sorted(cases)[:12])
                raise InputError(where, f"“{case}”", f"a load case: {names}")
        if wall.self_weight is not None and wall.self_weight not in cases:
            names = ", ".join(sorted(cases)[:12])
            raise InputError(where, f"“{wall.self_weight}”", f"a load case: {names}")
