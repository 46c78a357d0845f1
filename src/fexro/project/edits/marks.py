"""Edits of marks: made, copied, renamed, put in order, placed in plan, removed."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping

from fexro.core.errors import InputError
from fexro.project.column import LiftKey, LiftRecord, Mark
from fexro.project.edits.lifts import without_members
from fexro.project.edits.storeys import free_name, renamed_members
from fexro.project.edits.verified import named, verified
from fexro.project.framing import FramingBeam
from fexro.project.project import Project
from fexro.project.shapes import Rectangle
from fexro.project.storey import GridLine
from fexro.project.values import OwnValues

__all__ = [
    "add_mark",
    "carry_floor",
    "change_mark",
    "copy_mark",
    "move_mark",
    "place_marks",
    "remove_marks",
    "set_grid",
]


def add_mark(project: Project, name: str = "", after: str | None = None) -> Project:
    """Return the project with a mark more, a stack through all storeys.

    Its section and what frames in are those of the mark it stands after, or it is a square column.

    Raises:
        InputError: if the name is taken.
    """
    names = [mark.name for mark in project.marks]
    name = named("mark", name) if name else free_name("C", names)
    at = names.index(after) + 1 if after is not None else len(names)
    if at:
        beside = project.marks[at - 1]
        known = {lift.storey: lift for lift in beside.lifts}
        first = beside.lifts[-1] if beside.lifts else _square("")
        lifts = tuple(
            known.get(s.name, first).model_copy(update={"storey": s.name, "unsupported": ()})
            for s in project.storeys
        )
        new = Mark(name=name, lifts=lifts, angle=beside.angle, own=beside.own)
        beams = _beams_alike(project, beside.name, name)
    else:
        new = Mark(name=name, lifts=tuple(_square(s.name) for s in project.storeys))
        beams = ()
    marks = (*project.marks[:at], new, *project.marks[at:])
    return verified(project.changed(marks=marks, beams=(*project.beams, *beams)))


def _beams_alike(project: Project, source: str, name: str) -> tuple[FramingBeam, ...]:
    """Return the beams that frame into a mark as those of another."""
    return tuple(
        beam.model_copy(update={"mark": name}) for beam in project.beams if beam.mark == source
    )


def _square(storey: str) -> LiftRecord:
    shape = Rectangle(width=500.0, depth=500.0)
    return LiftRecord.model_construct(
        storey=storey,
        shape=shape,
        bars="8 D25",
        ties="D10@200",
        own=OwnValues(),
        unsupported=(),
        placed=(),
    )


def copy_mark(project: Project, source: str, name: str = "") -> Project:
    """Return the project with a copy of a mark after it, without its forces and its place.

    Raises:
        InputError: if the name is taken.
    """
    names = [mark.name for mark in project.marks]
    stem = re.sub(r"[0-9]+$", "", source) or source
    name = named("mark", name) if name else free_name(stem, names)
    _refuse_walls(project, [source])
    at = names.index(source)
    copy = project.marks[at].model_copy(update={"name": name, "place": None})
    marks = (*project.marks[: at + 1], copy, *project.marks[at + 1 :])
    beams = (*project.beams, *_beams_alike(project, source, name))
    return verified(project.changed(marks=marks, beams=beams))


def change_mark(
    project: Project,
    name: str,
    *,
    new_name: str | None = None,
    angle: float | None = None,
    own: OwnValues | None = None,
) -> Project:
    """Return the project with a mark renamed, turned or with other values.

    Raises:
        InputError: if the name is taken, or a section cannot be built with the values.
    """
    update: dict[str, object] = {}
    if angle is not None:
        update["angle"] = angle
    if own is not None:
        update["own"] = own
    if new_name is not None:
        _refuse_walls(project, [name])
        new_name = named("mark", new_name)
        update["name"] = new_name
    marks = tuple(m.model_copy(update=update) if m.name == name else m for m in project.marks)
    changed = project.changed(marks=marks)
    if new_name is not None and new_name != name:

        def key(k: LiftKey) -> LiftKey:
            return LiftKey(new_name, k.storey) if k.mark == name else k

        changed = renamed_members(changed, key)
    return verified(changed)


def carry_floor(project: Project, name: str, area: float | None) -> Project:
    """Return the project with another area of a floor that a mark carries, m²."""
    return project.changed(
        marks=tuple(
            mark.model_copy(update={"floor_area": area}) if mark.name == name else mark
            for mark in project.marks
        )
    )


def move_mark(project: Project, name: str, by: int) -> Project:
    """Return the project with a mark some places further right, or left."""
    names = [mark.name for mark in project.marks]
    at = names.index(name)
    marks = list(project.marks)
    mark = marks.pop(at)
    marks.insert(min(max(at + by, 0), len(marks)), mark)
    return project.changed(marks=tuple(marks))


def remove_marks(project: Project, names: Iterable[str]) -> Project:
    """Return the project without some marks, their lifts and their forces."""
    gone = set(names)
    _refuse_walls(project, gone)
    lost = {key for key in project.record_by_key if key.mark in gone}
    marks = tuple(mark for mark in project.marks if mark.name not in gone)
    return without_members(project.changed(marks=marks), lost)


def place_marks(project: Project, places: Mapping[str, tuple[float, float] | None]) -> Project:
    """Return the project with marks at places in plan, m.

    Raises:
        InputError: for a mark that there is not, or a place out of reach.
    """
    for name, place in places.items():
        if name not in project.mark_by_name:
            known = ", ".join(list(project.mark_by_name)[:12])
            raise InputError("mark", f"“{name}”", f"one of {known}")
        _refuse_walls(project, [name])
        if place is not None and max(map(abs, place)) > 10_000:
            found = f"{place[0]:g} m, {place[1]:g} m"
            raise InputError(f"place of {name}", found, "places within 10 000 m")
    marks = tuple(
        mark.model_copy(update={"place": places[mark.name]}) if mark.name in places else mark
        for mark in project.marks
    )
    return project.changed(marks=marks)


def _refuse_walls(project: Project, names: Iterable[str]) -> None:
    """Refuse to rename, move or remove members that follow from their walls."""
    for name in names:
        mark = project.mark_by_name[name]
        if mark.kind != "column":
            allowed = "columns; walls are changed on the Walls stage"
            raise InputError(f"mark {name}", f"a {mark.kind}", allowed)


def set_grid(project: Project, grid: Iterable[GridLine]) -> Project:
    """Return the project with other grid lines.

    Raises:
        InputError: if two bear one name.
    """
    return verified(project.changed(grid=tuple(grid)))
