"""Edits of walls: their lines, openings and thickness; panels and coupling beams follow."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from pydantic import ValidationError

from fexro.core.errors import InputError
from fexro.project.bearing import with_strip_forces
from fexro.project.column import LiftKey, LiftRecord, Mark, MemberKind
from fexro.project.edits.lifts import with_groups, with_records, without_members
from fexro.project.edits.verified import invalid, named, verified
from fexro.project.project import Project
from fexro.project.section import DiagonalBars, section_of
from fexro.project.shapes import LegsShape, Rectangle, Shape, shape_of
from fexro.project.values import OwnDirection, OwnValues
from fexro.project.wall_layout import BeamPlace, PanelPlace, WallLayout
from fexro.project.wall_members import depths_of, layout_in, panel_shape, wall_marks
from fexro.project.walls import Opening, Wall, WallLine

__all__ = [
    "add_opening",
    "add_wall",
    "beams_alike",
    "change_opening",
    "relaid",
    "remove_opening",
    "remove_wall",
    "rename_wall",
    "replace_openings",
    "set_diagonals",
    "set_hoops",
    "set_lines",
    "set_panel_bars",
    "set_thickness",
    "with_wall",
]

# Bars that a new panel or beam has until someone chooses others.
PANEL_BARS, OPEN_ENDS, PANEL_TIES = "D12@200 each face", " + 4 D16 each end", "D10@200"
BEAM_BARS, BEAM_TIES = "4 D16 corners", "D10@150"
IN_LB_PANEL, IN_LB_ENDS, IN_LB_TIES = "#4@8in each face", " + 4 #5 each end", "#3@8in"
IN_LB_BEAM, IN_LB_HOOPS = "4 #5 corners", "#3@6in"
WALL_COVER = 25.0  # mm, of new marks to horizontal bars
BRACED = OwnDirection(frame="walls", sway="braced")


def with_wall(project: Project, wall: Wall) -> Project:
    """Return the project with a wall's panels and beams as its lines and openings make them.

    What stays keeps its bars, thickness and values; what is new takes those of the nearest of its
    kind, or some to begin with. Forces of members that are gone go with them.

    Raises:
        InputError: if the wall is impossible, or a section cannot be built.
    """
    layout = layout_in(project, wall)
    before = {mark.name: mark for mark in wall_marks(project, wall.name)}
    taken = {mark.name for mark in project.marks} - before.keys()
    for name in layout.marks:
        if name in taken:
            raise InputError(f"wall {wall.name}", f"“{name}”, a mark that there is", "another name")
    marks = []
    for name, kind in layout.marks.items():
        marks.append(_mark(project, wall, layout, name, kind, before))  # type: ignore[arg-type]
    walls = [one for one in project.walls if one.name != wall.name]
    at = next((i for i, one in enumerate(project.walls) if one.name == wall.name), len(walls))
    walls.insert(at, wall)
    first = next((i for i, m in enumerate(project.marks) if m.wall == wall.name), None)
    others = [mark for mark in project.marks if mark.wall != wall.name]
    place = len(others) if first is None else min(first, len(others))
    changed = project.changed(walls=tuple(walls), marks=(*others[:place], *marks, *others[place:]))
    lost = project.record_by_key.keys() - changed.record_by_key.keys()
    return verified(without_members(changed, set(lost)) if lost else changed)


def _mark(
    project: Project,
    wall: Wall,
    layout: WallLayout,
    name: str,
    kind: MemberKind,
    before: Mapping[str, Mark],
) -> Mark:
    former = before.get(name)
    known = {} if former is None else {lift.storey: lift for lift in former.lifts}
    alike = former or next((m for m in before.values() if m.kind == kind), None)
    lifts = []
    for panel in layout.panels:
        if panel.mark == name:
            lifts.append(_panel(project, wall, panel, known, alike))
    for beam in layout.beams:
        if beam.mark == name:
            lifts.append(_beam(project, wall, beam, known, alike))
    own = _own(project) if alike is None else alike.own
    place = None
    if kind == "wall panel":
        x, y = shape_of(lifts[-1].shape).outline().centroid
        first = wall.lines[0]
        place = round(first.x1 + x / 1e3, 4), round(first.y1 + y / 1e3, 4)
    return Mark(name=name, lifts=tuple(lifts), kind=kind, wall=wall.name, own=own, place=place)


def _own(project: Project) -> OwnValues:
    """Return the values that walls do not inherit from columns: cover, and that they are braced."""
    values = project.basis.values
    cover = None if values.cover == WALL_COVER else WALL_COVER
    return OwnValues(cover=cover, x=BRACED, y=BRACED)


def _alike(known: Mapping[str, LiftRecord], alike: Mark | None, storey: str) -> LiftRecord | None:
    """Return the lift that one is made after: its own, or of the same storey, or any."""
    found = known.get(storey)
    if found is not None or alike is None:
        return found
    return next((lift for lift in alike.lifts if lift.storey == storey), alike.lifts[-1])


def _panel(
    project: Project,
    wall: Wall,
    panel: PanelPlace,
    known: Mapping[str, LiftRecord],
    alike: Mark | None,
) -> LiftRecord:
    model = _alike(known, alike, panel.storey)
    before = model.shape if model is not None and isinstance(model.shape, LegsShape) else None
    shape = panel_shape(wall, panel, before)
    if model is not None:
        changed = model.model_copy(update={"storey": panel.storey, "shape": shape, "placed": ()})
        if panel.storey not in known:
            changed = changed.model_copy(update={"kept": False, "named": None})
        if shape == model.shape:
            return changed.model_copy(update={"placed": model.placed})
        if _fits(project, changed):
            return changed
    inches = project.basis.bars.main[0].startswith("#")
    bars, ends, ties = (
        (IN_LB_PANEL, IN_LB_ENDS, IN_LB_TIES) if inches else (PANEL_BARS, OPEN_ENDS, PANEL_TIES)
    )
    for text in (bars + ends, bars):
        new = LiftRecord(storey=panel.storey, shape=shape, bars=text, ties=ties)
        if _fits(project, new):
            return new
    return new


def _beam(
    project: Project,
    wall: Wall,
    beam: BeamPlace,
    known: Mapping[str, LiftRecord],
    alike: Mark | None,
) -> LiftRecord:
    width, depth = depths_of(project, wall, beam)
    shape: Shape = Rectangle(width=width, depth=depth)
    model = _alike(known, alike, beam.storey)
    if model is not None:
        changed = model.model_copy(update={"storey": beam.storey, "shape": shape})
        if beam.storey not in known:
            changed = changed.model_copy(update={"kept": False, "named": None})
        if _fits(project, changed):
            return changed
    inches = project.basis.bars.main[0].startswith("#")
    bars, ties = (IN_LB_BEAM, IN_LB_HOOPS) if inches else (BEAM_BARS, BEAM_TIES)
    return LiftRecord(storey=beam.storey, shape=shape, bars=bars, ties=ties)


def _fits(project: Project, record: LiftRecord) -> bool:
    """Tell whether the bars of a panel or beam have their places."""
    values = project.basis.values.over(OwnValues(cover=WALL_COVER)).over(record.own)
    try:
        section_of(record.complete(values).section, project.basis.bars.own)
    except InputError:
        return False
    return True


def add_wall(
    project: Project, lines: Iterable[WallLine], name: str = "", storeys: Iterable[str] = ()
) -> Project:
    """Return the project with a wall more, along lines in plan, through all storeys or some.

    Raises:
        InputError: if the name is taken or the lines do not meet.
    """
    taken = {wall.name for wall in project.walls} | {mark.name for mark in project.marks}
    if not name:
        name = next(f"W{n}" for n in range(1, len(taken) + 2) if f"W{n}" not in taken)
    name = named("wall", name)
    if name in taken:
        raise InputError("wall", f"“{name}”, already there", "names that can be told apart")
    if not project.storeys:
        raise InputError("wall", "no storey", "a storey in which it stands")
    through = tuple(storeys) or tuple(storey.name for storey in project.storeys)
    return with_wall(project, Wall(name=name, lines=tuple(lines), storeys=through))


def rename_wall(project: Project, name: str, new_name: str) -> Project:
    """Return the project with a wall, or a bearing wall, called otherwise, and its members with it.

    Raises:
        InputError: if a wall or another member bears the name.
    """
    from fexro.project.edits.storeys import renamed_members

    new_name = named("wall", new_name)
    if new_name == name:
        return project
    own = {m.name for m in project.marks if m.wall == name or m.name == name}
    names = {one: new_name + one.removeprefix(name) for one in own}
    others = {mark.name for mark in project.marks} - own
    others |= {wall.name for wall in project.walls} | {wall.name for wall in project.bearing_walls}
    others.discard(name)
    taken = next((one for one in (new_name, *names.values()) if one in others), None)
    if taken is not None:
        raise InputError("wall", f"“{taken}”, already there", "names that can be told apart")
    marks = tuple(
        mark.model_copy(
            update={"name": names[mark.name], "wall": new_name if mark.wall == name else mark.wall}
        )
        if mark.name in names
        else mark
        for mark in project.marks
    )

    changed = project.changed(
        marks=marks,
        **{
            field: tuple(
                one.model_copy(update={"name": new_name}) if one.name == name else one
                for one in getattr(project, field)
            )
            for field in ("walls", "bearing_walls")
        },
    )
    return verified(
        renamed_members(changed, lambda key: LiftKey(names.get(key.mark, key.mark), key.storey))
    )


def remove_wall(project: Project, name: str) -> Project:
    """Return the project without a wall, its panels and beams, and their forces."""
    gone = {
        LiftKey(mark.name, lift.storey) for mark in wall_marks(project, name) for lift in mark.lifts
    }
    changed = project.changed(
        walls=tuple(wall for wall in project.walls if wall.name != name),
        marks=tuple(mark for mark in project.marks if mark.wall != name),
    )
    return without_members(changed, gone)


def wall_named(project: Project, name: str) -> Wall:
    """Return a wall by its name.

    Raises:
        InputError: if there is none.
    """
    found = next((wall for wall in project.walls if wall.name == name), None)
    if found is None:
        known = ", ".join(wall.name for wall in project.walls)
        raise InputError("wall", f"“{name}”", f"one of {known}" if known else "none; there is none")
    return found


def _changed(project: Project, name: str, update: Mapping[str, object]) -> Project:
    wall = wall_named(project, name)
    try:
        changed = Wall.model_validate({**dict(wall), **update})
    except ValidationError as error:
        raise invalid(f"wall {name}", error) from None
    return with_wall(project, changed)


def relaid(project: Project) -> Project:
    """Return the project with panels and beams as storeys of other heights make them.

    Raises:
        InputError: if an opening has no room any more, or a section cannot be built.
    """
    for wall in project.walls:
        project = with_wall(project, wall)
    return with_strip_forces(project)


def set_lines(project: Project, name: str, lines: Iterable[WallLine]) -> Project:
    """Return the project with a wall along other lines.

    Raises:
        InputError: if they do not meet, or an opening is no longer inside.
    """
    return _changed(project, name, {"lines": tuple(lines)})


def set_storeys(project: Project, name: str, storeys: Iterable[str]) -> Project:
    """Return the project with a wall through other storeys; openings elsewhere go."""
    kept = tuple(storeys)
    openings = tuple(o for o in wall_named(project, name).openings if o.storey in kept)
    return _changed(project, name, {"storeys": kept, "openings": openings})


def add_opening(project: Project, name: str, openings: Iterable[Opening]) -> Project:
    """Return the project with openings more through a wall.

    Raises:
        InputError: if one is outside the wall, or overlaps another.
    """
    wall = wall_named(project, name)
    return _changed(project, name, {"openings": (*wall.openings, *openings)})


def change_opening(project: Project, name: str, number: int, opening: Opening) -> Project:
    """Return the project with an opening of a wall in the place of one, by its number from 0."""
    openings = list(wall_named(project, name).openings)
    openings[number] = opening
    return _changed(project, name, {"openings": tuple(openings)})


def remove_opening(project: Project, name: str, numbers: Iterable[int]) -> Project:
    """Return the project without some openings of a wall, by their numbers from 0."""
    gone = set(numbers)
    wall = wall_named(project, name)
    kept = tuple(one for i, one in enumerate(wall.openings) if i not in gone)
    return _changed(project, name, {"openings": kept})


def replace_openings(
    project: Project, name: str, numbers: Iterable[int], openings: Iterable[Opening]
) -> Project:
    """Return the project with openings of a wall in the place of some, by their numbers from 0.

    Raises:
        InputError: if one is outside the wall, or overlaps another.
    """
    gone, wall = set(numbers), wall_named(project, name)
    kept = [one for i, one in enumerate(wall.openings) if i not in gone]
    return _changed(project, name, {"openings": (*kept, *openings)})


def set_thickness(
    project: Project, keys: Iterable[LiftKey], thickness: float, leg: int | None = None
) -> Project:
    """Return the project with panels of another thickness, all legs or one of them, mm.

    Coupling beams beside them become as wide.

    Raises:
        InputError: if bars no longer have their places.
    """
    records = {}
    walls = set()
    for key in keys:
        record = project.record_by_key[key]
        walls.add(project.mark_by_name[key.mark].wall)
        if not isinstance(record.shape, LegsShape):
            raise InputError(str(key), "no panel of a wall", "panels")
        legs = tuple(
            one.model_copy(update={"thickness": thickness}) if leg in (None, i) else one
            for i, one in enumerate(record.shape.legs)
        )
        try:
            shape = LegsShape.model_validate({"kind": "legs", "legs": [dict(one) for one in legs]})
        except ValidationError as error:
            raise invalid(f"{key}, thickness", error) from None
        records[key] = record.model_copy(update={"shape": shape})
    changed = with_records(project, records)
    for wall in changed.walls:
        if wall.name in walls:
            changed = with_wall(changed, wall)
    return changed


def set_panel_bars(
    project: Project,
    keys: Iterable[LiftKey],
    *,
    bars: str | None = None,
    ties: str | None = None,
) -> Project:
    """Return the project with other vertical or horizontal bars in some panels.

    Raises:
        InputError: if they are not understood or have no place.
    """
    update = {name: value for name, value in (("bars", bars), ("ties", ties)) if value is not None}
    return _with(project, keys, update)


def set_hoops(project: Project, keys: Iterable[LiftKey], hoops: str | None) -> Project:
    """Return the project with other hoops around the bars of the ends of some panels, or none."""
    return _with(project, keys, {"hoops": hoops})


def set_diagonals(
    project: Project, keys: Iterable[LiftKey], diagonals: DiagonalBars | None
) -> Project:
    """Return the project with other diagonal bars in some coupling beams, or none."""
    return _with(project, keys, {"diagonals": diagonals})


def beams_alike(project: Project, source: LiftKey, keys: Iterable[LiftKey]) -> Project:
    """Return the project with the bars of a coupling beam in some others."""
    model = project.record_by_key[source]
    update = {name: getattr(model, name) for name in ("bars", "ties", "diagonals")}
    return _with(project, keys, update)


def _with(project: Project, keys: Iterable[LiftKey], update: Mapping[str, object]) -> Project:
    records = {}
    for key in keys:
        record = project.record_by_key[key]
        try:
            changed = LiftRecord.model_validate({**dict(record), **update, "kept": True})
        except ValidationError as error:
            raise invalid(str(key), error) from None
        records[key] = changed
    return with_records(project, with_groups(project, records))
