"""Edits of bearing walls: their loads, from which the forces of their strips follow."""

from __future__ import annotations

from fexro.core.errors import InputError
from fexro.project.bearing import strip_width
from fexro.project.bearing_walls import BearingWall
from fexro.project.column import LiftRecord, Mark
from fexro.project.edits.lifts import without_members
from fexro.project.edits.verified import verified
from fexro.project.edits.walls import BRACED, WALL_COVER
from fexro.project.project import Project
from fexro.project.shapes import StripShape
from fexro.project.values import OwnValues

__all__ = ["remove_bearing_wall", "with_bearing_wall"]

BARS, TIES = "D12@200 each face", "D10@200"
IN_LB_BARS, IN_LB_TIES = "#4@8in each face", "#3@8in"


def with_bearing_wall(project: Project, wall: BearingWall) -> Project:
    """Return the project with a bearing wall, new or in the place of that of its name.

    Its strips keep their bars and thickness; their forces follow from what acts on the wall.

    Raises:
        InputError: if storeys or load cases are not there, or the name is another member's.
    """
    before = next((one for one in project.bearing_walls if one.name == wall.name), None)
    stack = project.mark_by_name.get(wall.name)
    if before is None and stack is not None:
        raise InputError("bearing wall", f"“{wall.name}”, already there", "another name")
    known = {} if stack is None else {lift.storey: lift for lift in stack.lifts}
    missing = next((s for s in wall.storeys if s not in project.storey_by_name), None)
    if missing is not None:
        names = ", ".join(list(project.storey_by_name)[:12])
        raise InputError(f"bearing wall {wall.name}", f"“{missing}”", f"one of {names}")
    lifts = []
    for storey in wall.storeys:
        lift = known.get(storey)
        if lift is None or (before is not None and before.thickness != wall.thickness):
            lift = _strip(project, wall, storey, lift)
        lifts.append(lift)
    # Along x a strip bends in y; one that runs along y is turned in plan.
    own = OwnValues(cover=WALL_COVER, x=BRACED, y=BRACED) if stack is None else stack.own
    mark = Mark(
        name=wall.name,
        kind="bearing wall",
        lifts=tuple(lifts),
        place=wall.place,
        angle=0.0 if wall.direction == "x" else 90.0,
        own=own,
    )
    marks = [mark if one.name == wall.name else one for one in project.marks]
    walls = [wall if one.name == wall.name else one for one in project.bearing_walls]
    if stack is None:
        marks.append(mark)
    if before is None:
        walls.append(wall)
    changed = project.changed(marks=tuple(marks), bearing_walls=tuple(walls))
    gone = {key for key in project.record_by_key if key.mark == wall.name}
    gone -= changed.record_by_key.keys()
    if gone:
        changed = without_members(changed, gone)
    return verified(changed)


def _strip(
    project: Project, wall: BearingWall, storey: str, before: LiftRecord | None
) -> LiftRecord:
    shape = StripShape(width=strip_width(project), depth=wall.thickness)
    if before is not None:
        return before.model_copy(update={"shape": shape})
    inches = project.basis.bars.main[0].startswith("#")
    bars, ties = (IN_LB_BARS, IN_LB_TIES) if inches else (BARS, TIES)
    return LiftRecord(storey=storey, shape=shape, bars=bars, ties=ties)


def remove_bearing_wall(project: Project, name: str) -> Project:
    """Return the project without a bearing wall, its strips and their forces."""
    gone = {key for key in project.record_by_key if key.mark == name}
    changed = project.changed(
        bearing_walls=tuple(one for one in project.bearing_walls if one.name != name),
        marks=tuple(mark for mark in project.marks if mark.name != name),
    )
    return without_members(changed, gone)
