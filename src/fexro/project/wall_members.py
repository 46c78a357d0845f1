"""The panels and coupling beams of walls as members with sections. Lengths of sections in mm."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from fexro.core.errors import InputError
from fexro.project.column import LiftKey, LiftRecord, Mark, MemberKind
from fexro.project.shapes import LegModel, LegsShape, Rectangle, StripShape
from fexro.project.wall_layout import BeamPlace, PanelPlace, WallLayout, layout_of
from fexro.project.walls import Wall, WallLine

if TYPE_CHECKING:
    from fexro.project.project import Project

__all__ = [
    "beams_of",
    "depths_of",
    "layout_in",
    "panel_shape",
    "panels_of",
    "refuse_other_shape",
    "refuse_strayed",
    "wall_marks",
]

NEAR = 0.5  # mm, up to which a leg is where its line is


def layout_in(project: Project, wall: Wall) -> WallLayout:
    """Return the panels and beams of a wall of a project."""
    return layout_of(wall, project.storey_by_name)


def panel_shape(wall: Wall, panel: PanelPlace, before: LegsShape | None = None) -> LegsShape:
    """Return the shape of a panel, its coordinates from where the first line begins.

    Args:
        wall: the wall.
        panel: its place.
        before: the shape that it has had, whose thicknesses stay.
    """
    known = {} if before is None else _thicknesses(wall, before)
    legs = []
    for stretch in panel.stretches:
        line = wall.lines[stretch.line]
        (x1, y1), (x2, y2) = (_coordinates(wall, line, at) for at in (stretch.start, stretch.end))
        thickness = known.get(stretch.line, line.thickness)
        legs.append(LegModel(x1=x1, y1=y1, x2=x2, y2=y2, thickness=thickness))
    return LegsShape(legs=tuple(legs))


def _coordinates(wall: Wall, line: WallLine, at: float) -> tuple[float, float]:
    """Return a place along a line, from where the first line begins, mm."""
    first, share = wall.lines[0], at / line.length
    x = line.x1 + share * (line.x2 - line.x1) - first.x1
    y = line.y1 + share * (line.y2 - line.y1) - first.y1
    return round(1e3 * x, 3), round(1e3 * y, 3)


def _thicknesses(wall: Wall, shape: LegsShape) -> dict[int, float]:
    """Return the thickness on each line that legs of a shape lie on."""
    found: dict[int, float] = {}
    for leg in shape.legs:
        middle = (leg.x1 + leg.x2) / 2, (leg.y1 + leg.y2) / 2
        for number, line in enumerate(wall.lines):
            (a, b), (c, d) = (_coordinates(wall, line, at) for at in (0.0, line.length))
            length = 1e3 * line.length
            away = abs((c - a) * (middle[1] - b) - (d - b) * (middle[0] - a)) / length
            along = ((c - a) * (middle[0] - a) + (d - b) * (middle[1] - b)) / length
            if away <= NEAR and -NEAR <= along <= length + NEAR:
                found.setdefault(number, leg.thickness)
    return found


def depths_of(project: Project, wall: Wall, beam: BeamPlace) -> tuple[float, float]:
    """Return width and depth of a coupling beam, mm: as thick as the panel beside it."""
    for panel in layout_in(project, wall).panels:
        if panel.storey != beam.storey:
            continue
        record = project.record_by_key.get(LiftKey(panel.mark, panel.storey))
        if record is not None and isinstance(record.shape, LegsShape):
            thickness = _thicknesses(wall, record.shape).get(beam.line)
            if thickness is not None and any(s.line == beam.line for s in panel.stretches):
                return thickness, round(1e3 * beam.depth, 3)
    return wall.lines[beam.line].thickness, round(1e3 * beam.depth, 3)


def panels_of(project: Project) -> Mapping[LiftKey, tuple[Wall, PanelPlace]]:
    """Return the place of each panel of the project, found once for it."""
    known: dict[LiftKey, tuple[Wall, PanelPlace]] | None = vars(project).get("_panels")
    if known is None:
        known = {
            LiftKey(panel.mark, panel.storey): (wall, panel)
            for wall in project.walls
            for panel in layout_in(project, wall).panels
        }
        vars(project)["_panels"] = known
    return known


def beams_of(project: Project) -> Mapping[LiftKey, tuple[Wall, BeamPlace]]:
    """Return the place of each coupling beam of the project, found once for it."""
    known: dict[LiftKey, tuple[Wall, BeamPlace]] | None = vars(project).get("_coupling_beams")
    if known is None:
        known = {
            LiftKey(beam.mark, beam.storey): (wall, beam)
            for wall in project.walls
            for beam in layout_in(project, wall).beams
        }
        vars(project)["_coupling_beams"] = known
    return known


def wall_marks(project: Project, name: str) -> list[Mark]:
    """Return the marks that are part of a wall."""
    return [mark for mark in project.marks if mark.wall == name]


def refuse_strayed(project: Project) -> None:
    """Refuse panels and beams that are not where the lines and openings of their walls make them.

    Raises:
        InputError: naming the wall, or the member.
    """
    known = {wall.name for wall in project.walls}
    places = [LiftKey(m.name, lift.storey) for m in project.marks if m.wall for lift in m.lifts]
    for i, mark in enumerate(project.marks):
        if (mark.kind in ("wall panel", "coupling beam")) is not (mark.wall is not None):
            raise InputError(f"marks[{i}].wall", f"“{mark.wall}”", f"the wall of a {mark.kind}")
        if mark.wall is not None and mark.wall not in known:
            allowed = f"one of {', '.join(sorted(known))}" if known else "none; there is no wall"
            raise InputError(f"marks[{i}].wall", f"“{mark.wall}”", allowed)
    wanted: dict[LiftKey, tuple[Wall, PanelPlace | BeamPlace]] = {
        **panels_of(project),
        **beams_of(project),
    }
    for key in places:
        if key not in wanted:
            raise InputError(str(key), "a member that its wall does not have", "as it is laid out")
    for key, (wall, place) in wanted.items():
        record = project.record_by_key.get(key)
        if record is None:
            found = f"no {key}"
            raise InputError(f"wall {wall.name}", found, "a member for each panel and beam")
        if isinstance(place, PanelPlace):
            before = record.shape if isinstance(record.shape, LegsShape) else None
            if before is None or not _same_legs(panel_shape(wall, place, before), before):
                found = "legs that are not on the lines of the wall"
                raise InputError(str(key), found, "as the lines and openings make them")


SHAPES: Mapping[MemberKind, tuple[type, str]] = {
    "wall panel": (LegsShape, "the legs that its wall has there"),
    "coupling beam": (Rectangle, "a rectangle, as deep as the openings leave it"),
    "bearing wall": (StripShape, "a strip of the wall"),
}


def refuse_other_shape(project: Project, mark: Mark, lift: LiftRecord, where: str) -> None:
    """Refuse a member of a wall of another shape than its wall gives it.

    Raises:
        InputError: telling what it has to be.
    """
    if mark.kind == "column":
        if isinstance(lift.shape, LegsShape | StripShape):
            raise InputError(f"{where}.shape", lift.shape.kind, "a shape of columns")
        return
    kind, allowed = SHAPES[mark.kind]
    place = panels_of(project).get(LiftKey(mark.name, lift.storey))
    strayed = (
        place is not None
        and isinstance(lift.shape, LegsShape)
        and not _same_legs(panel_shape(*place, lift.shape), lift.shape)
    )
    if strayed or not isinstance(lift.shape, kind):
        raise InputError(f"{where}.shape", lift.shape.kind, allowed)


def _same_legs(one: LegsShape, other: LegsShape) -> bool:
    if len(one.legs) != len(other.legs):
        return False
    return all(
        max(abs(getattr(a, name) - getattr(b, name)) for name in ("x1", "y1", "x2", "y2")) <= NEAR
        for a, b in zip(one.legs, other.legs, strict=True)
    )
