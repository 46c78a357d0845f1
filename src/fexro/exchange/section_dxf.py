"""Sections read from DXF and written to it: outline, openings and bars."""

from __future__ import annotations

import io
import itertools
import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from pydantic import ValidationError

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.bars import BarSize
from fexro.core.section.outline import arc_ring
from fexro.core.section.section import Section
from fexro.exchange.plain_files import read_whole
from fexro.project.bars import PlacedBar
from fexro.project.edits.bars import with_placed
from fexro.project.section import SectionModel
from fexro.project.shapes import Circle, HollowCircle, PolygonShape

if TYPE_CHECKING:
    from ezdxf.layouts.layout import Modelspace

__all__ = ["UNITS", "Drawing", "Loop", "read_drawing", "read_file", "section_from", "write_section"]

# Units of a drawing by $INSUNITS, and mm in each.
UNITS: dict[str, float] = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}
_CODES = {1: "in", 2: "ft", 4: "mm", 5: "cm", 6: "m"}
LARGEST_BAR = 60.0  # mm: larger circles are openings or outlines
LEAST, MOST = 100.0, 20_000.0  # mm, of a section that can be meant
MEETS = 1e-4  # of the drawing's size: ends that are nearer meet
MOST_ENTITIES = 20_000
BAR_LAYERS = ("bar", "rebar", "reinf")
# Layers of what is drawn but is no edge of the concrete.
OTHER_LAYERS = ("tie", "link", "stirrup", "steel")
NEAR_SIZE = 0.3  # mm, by which a circle may differ from a bar size
GRID = 1e-3  # mm, to which coordinates are rounded
SPLINE = "a polyline of lines and arcs; splines are not read"
# What has no line of a section in it.
LEFT_OUT = frozenset(
    {"TEXT", "MTEXT", "DIMENSION", "HATCH", "POINT", "LEADER", "MULTILEADER", "VIEWPORT", "SOLID"}
)


@dataclass(frozen=True)
class Loop:
    """A closed line: its corners and the bulges of the sides that leave them, in drawing units."""

    points: tuple[tuple[float, float], ...]
    bulges: tuple[float, ...]

    @property
    def ring(self) -> FloatArray:
        """Its polygon, arcs as chords, (V, 2)."""
        corners = np.array(self.points)
        return arc_ring(corners, np.array(self.bulges)) if any(self.bulges) else corners

    @property
    def area(self) -> float:
        """The area it encloses."""
        (x, y), (u, v) = self.ring.T, np.roll(self.ring, -1, axis=0).T
        return abs(float((x * v - u * y).sum())) / 2


@dataclass(frozen=True)
class Drawing:
    """What of a drawing can be a section, in its units.

    Attributes:
        loops: closed lines, the largest first.
        circles: x, y, diameter, and whether their layer is of bars.
        unit: of the drawing, where it says so.
    """

    loops: tuple[Loop, ...]
    circles: tuple[tuple[float, float, float, bool], ...]
    unit: str | None

    @property
    def size(self) -> tuple[float, float]:
        """Width and depth over all, in units of the drawing."""
        points = [loop.ring for loop in self.loops]
        points += [
            np.array([[x - d / 2, y - d / 2], [x + d / 2, y + d / 2]])
            for x, y, d, _ in self.circles
        ]
        every = np.concatenate(points)
        width, depth = np.ptp(every, axis=0)
        return float(width), float(depth)

    @property
    def likely(self) -> tuple[str, ...]:
        """The units in which it would be a section, that of the drawing first."""
        larger = max(self.size)
        found = [name for name, mm in UNITS.items() if LEAST <= larger * mm <= MOST]
        return tuple(sorted(found, key=lambda name: name != self.unit))

    @property
    def sure(self) -> bool:
        """Whether the drawing says its unit, and would be a section in it."""
        return self.unit is not None and self.unit in self.likely


def read_drawing(content: bytes, name: str) -> Drawing:
    """Return what of a DXF file can be a section.

    Args:
        content: of the file, text or binary DXF.
        name: of the file, for refusals.

    Raises:
        InputError: for what is no DXF, open lines, splines, and drawings without closed lines.
    """
    from ezdxf import recover
    from ezdxf.lldxf.const import DXFError

    try:
        document, _ = recover.read(io.BytesIO(content))
    except (DXFError, OSError, ValueError, IndexError, KeyError, TypeError, UnicodeError):
        raise InputError(name, "a file that is no DXF drawing", "a DXF file") from None
    loops: list[Loop] = []
    circles: list[tuple[float, float, float, bool]] = []
    loose: list[tuple[tuple[float, float], tuple[float, float], float]] = []
    for number, entity in enumerate(_entities(document.modelspace())):
        if number > MOST_ENTITIES:
            raise InputError(name, f"more than {MOST_ENTITIES} lines", "the drawing of one section")
        _take(entity, name, loops, circles, loose)
    size = _extent(loops, circles, loose)
    loops += _joined(loose, MEETS * size, name)
    if not loops and not circles:
        raise InputError(name, "no closed line", "a closed outline: polyline, circle, lines, arcs")
    loops.sort(key=lambda loop: -loop.area)
    unit = _CODES.get(int(document.header.get("$INSUNITS", 0)))
    return Drawing(tuple(loops), tuple(circles), unit)


def _entities(layout: Modelspace) -> Iterator[Any]:
    """Return what is drawn, blocks taken apart."""

    def apart(entities: Iterable[Any], depth: int) -> Iterator[Any]:
        for entity in entities:
            if entity.dxftype() == "INSERT" and depth < 8:
                yield from apart(entity.virtual_entities(), depth + 1)
            else:
                yield entity

    yield from apart(layout, 0)


def _take(
    entity: Any,
    name: str,
    loops: list[Loop],
    circles: list[tuple[float, float, float, bool]],
    loose: list[tuple[tuple[float, float], tuple[float, float], float]],
) -> None:
    layer = str(entity.dxf.get("layer", "0"))
    if any(word in layer.lower() for word in OTHER_LAYERS):
        return
    match entity.dxftype():
        case "CIRCLE":
            x, y, _ = entity.dxf.center
            of_bars = any(word in layer.lower() for word in BAR_LAYERS)
            circles.append((float(x), float(y), 2 * float(entity.dxf.radius), of_bars))
        case "LINE":
            (x, y, _), (u, v, _) = entity.dxf.start, entity.dxf.end
            loose.append(((float(x), float(y)), (float(u), float(v)), 0.0))
        case "ARC":
            (x, y, _), (u, v, _) = entity.start_point, entity.end_point
            turn = math.radians((entity.dxf.end_angle - entity.dxf.start_angle) % 360.0)
            loose.append(((float(x), float(y)), (float(u), float(v)), math.tan(turn / 4)))
        case "LWPOLYLINE" | "POLYLINE":
            _take_polyline(entity, loops, loose)
        case "SPLINE" | "ELLIPSE":
            kind = entity.dxftype().lower()
            raise InputError(name, f"a {kind} on layer {layer}", SPLINE)
        case other if other not in LEFT_OUT:
            raise InputError(name, f"{other} on layer {layer}", "lines, arcs, polylines, circles")


def _take_polyline(
    entity: Any,
    loops: list[Loop],
    loose: list[tuple[tuple[float, float], tuple[float, float], float]],
) -> None:
    if entity.dxftype() == "LWPOLYLINE":
        rows = [(float(x), float(y), float(b)) for x, y, b in entity.get_points("xyb")]
        closed = bool(entity.closed)
    else:
        rows = [
            (float(v.dxf.location[0]), float(v.dxf.location[1]), float(v.dxf.get("bulge", 0.0)))
            for v in entity.vertices
        ]
        closed = bool(entity.is_closed)
    rows = [
        row
        for row, after in zip(rows, [*rows[1:], None], strict=True)
        if after is None or row[:2] != after[:2]
    ]
    if len(rows) > 1 and rows[0][:2] == rows[-1][:2]:
        rows, closed = rows[:-1], True
    if closed and len(rows) > 1:
        points = tuple(row[:2] for row in rows)
        loops.append(Loop(points, tuple(row[2] for row in rows)))
        return
    for (x, y, bulge), (u, v, _) in itertools.pairwise(rows):
        loose.append(((x, y), (u, v), bulge))


def _extent(
    loops: Sequence[Loop],
    circles: Sequence[tuple[float, float, float, bool]],
    loose: Sequence[tuple[tuple[float, float], tuple[float, float], float]],
) -> float:
    points = [point for loop in loops for point in loop.points]
    points += [(x, y) for x, y, _, _ in circles] + [end for a, b, _ in loose for end in (a, b)]
    if not points:
        return 1.0
    return float(np.ptp(np.array(points), axis=0).max()) or 1.0


def _joined(
    loose: Sequence[tuple[tuple[float, float], tuple[float, float], float]],
    near: float,
    name: str,
) -> list[Loop]:
    """Return lines and arcs joined end to end; refuse what does not close."""
    left = list(loose)
    found = []
    while left:
        start, end, bulge = left.pop()
        points, bulges = [start], [bulge]
        while math.dist(start, end) > near or len(points) < 2:
            for i, (a, b, other) in enumerate(left):
                if math.dist(a, end) <= near:
                    following, sense = b, other
                elif math.dist(b, end) <= near:
                    following, sense = a, -other
                else:
                    continue
                points.append(end)
                bulges.append(sense)
                end = following
                del left[i]
                break
            else:
                where = (
                    f"an open line from ({start[0]:g}, {start[1]:g}) to ({end[0]:g}, {end[1]:g})"
                )
                raise InputError(name, where, "closed lines; its ends have to meet")
        found.append(Loop(tuple(points), tuple(bulges)))
    return found


def section_from(
    drawing: Drawing, unit: str, section: SectionModel, sizes: Sequence[BarSize], name: str
) -> SectionModel:
    """Return a section with the outline, openings and bars of a drawing.

    Its bars stay as they are called out where the drawing has none.

    Args:
        drawing: what was read.
        unit: of the drawing, one of `UNITS`.
        section: what else it has: cover, ties.
        sizes: of bars that circles may stand for; others are kept by their area.
        name: of the file, for refusals.

    Raises:
        InputError: for more than one outline, or lines that enclose no clear area.
    """
    scale = UNITS[unit]
    loops = [
        Loop(tuple((x * scale, y * scale) for x, y in loop.points), loop.bulges)
        for loop in drawing.loops
    ]
    bars = []
    for x, y, diameter, of_bars in drawing.circles:
        x, y, diameter = x * scale, y * scale, diameter * scale
        if of_bars or diameter <= LARGEST_BAR:
            bars.append((x, y, diameter))
        else:
            ends = ((x - diameter / 2, y), (x + diameter / 2, y))
            loops.append(Loop(ends, (1.0, 1.0)))
    if not loops:
        raise InputError(name, "bars alone", "an outline around them")
    loops.sort(key=lambda loop: -loop.area)
    outer, *voids = (_oriented(loop) for loop in loops)
    low, high = outer.ring.min(axis=0), outer.ring.max(axis=0)
    middle = np.round((low + high) / 2, 3)
    shape = _polygon(outer, voids, middle, name)
    update: dict[str, object] = {"shape": shape, "profiles": (), "inner_ties": None, "placed": ()}
    found = section.model_copy(update=update)
    if bars:
        placed = [_bar(x - middle[0], y - middle[1], d, sizes) for x, y, d in bars]
        found = with_placed(found, placed)
    return found


def _oriented(loop: Loop) -> Loop:
    """Return a loop that runs anticlockwise."""
    (x, y), (u, v) = loop.ring.T, np.roll(loop.ring, -1, axis=0).T
    if float((x * v - u * y).sum()) > 0:
        return loop
    bulges = [-bulge for bulge in loop.bulges[-2::-1]] + [-loop.bulges[-1]]
    return Loop(tuple(reversed(loop.points)), tuple(bulges))


def _polygon(outer: Loop, voids: Sequence[Loop], middle: FloatArray, name: str) -> PolygonShape:
    def moved(loop: Loop) -> list[tuple[float, float]]:
        points = np.round((np.array(loop.points) - middle) / GRID) * GRID
        return [(round(float(x), 6), round(float(y), 6)) for x, y in points]

    curved = any(any(void.bulges) for void in voids)
    rings = [_with_middles(loop) for loop in (outer, *voids)]
    outer, *voids = rings
    try:
        return PolygonShape.model_validate(
            {
                "outer": moved(outer),
                "bulges": outer.bulges if any(outer.bulges) else (),
                "voids": [moved(void) for void in voids],
                "void_bulges": [void.bulges for void in voids] if curved else (),
            }
        )
    except ValidationError as error:
        problem = error.errors(include_url=False)[0]
        reason = str(problem.get("ctx", {}).get("error", problem["msg"]))
        raise InputError(name, "lines that are no section", reason) from None


def _with_middles(loop: Loop) -> Loop:
    """Return a loop of at least three corners: arcs of one of two are halved."""
    if len(loop.points) > 2:
        return loop
    points, bulges = [], []
    for (start, bulge), end in zip(
        zip(loop.points, loop.bulges, strict=True),
        (*loop.points[1:], loop.points[0]),
        strict=True,
    ):
        half = math.tan(math.atan(bulge) / 2)
        a, b = complex(*start), complex(*end)
        # The middle of the arc is off the chord by its rise, to the right where it turns left.
        top = (a + b) / 2 - 1j * (b - a) / 2 * bulge
        points += [start, (top.real, top.imag)]
        bulges += [half, half]
    return Loop(tuple(points), tuple(bulges))


def _bar(x: float, y: float, diameter: float, sizes: Sequence[BarSize]) -> PlacedBar:
    at = {"x": round(float(x), 3), "y": round(float(y), 3)}
    nearest = min(sizes, key=lambda size: abs(size.diameter - diameter), default=None)
    if nearest is not None and abs(nearest.diameter - diameter) <= NEAR_SIZE:
        return PlacedBar(size=nearest.name, **at)
    return PlacedBar(area=round(math.pi * diameter**2 / 4, 3), **at)


def write_section(model: SectionModel, section: Section, lines: Sequence[FloatArray]) -> str:
    """Return a section as DXF text, in mm: outline, openings, bars, ties, structural steel.

    Args:
        model: the section as the project has it: circles and arcs stay what they are.
        section: the same with its bars.
        lines: centre lines of its ties, each (V, 2), mm.
    """
    from ezdxf.filemanagement import new

    document = new("R2010", units=4)
    for name, colour in (("CONCRETE", 7), ("BARS", 5), ("TIES", 4), ("STEEL", 8)):
        document.layers.add(name, color=colour)
    space = document.modelspace()
    _write_concrete(space, model, section)
    bars = section.bars
    for x, y, diameter in zip(bars.x, bars.y, bars.diameter, strict=True):
        place = (float(x), float(y))
        space.add_circle(place, float(diameter) / 2, dxfattribs={"layer": "BARS"})
    for line in lines:
        closed = len(line) > 2
        points = line[:-1] if closed else line
        space.add_lwpolyline(points.tolist(), close=closed, dxfattribs={"layer": "TIES"})
    for part in section.steel:
        for ring in part.outline.rings:
            space.add_lwpolyline(ring.tolist(), close=True, dxfattribs={"layer": "STEEL"})
    text = io.StringIO()
    document.write(text)
    return text.getvalue()


def _write_concrete(space: Modelspace, model: SectionModel, section: Section) -> None:
    shape, layer = model.shape, {"layer": "CONCRETE"}
    if isinstance(shape, Circle | HollowCircle):
        space.add_circle((0.0, 0.0), shape.diameter / 2, dxfattribs=layer)
        if isinstance(shape, HollowCircle):
            space.add_circle((0.0, 0.0), shape.void_diameter / 2, dxfattribs=layer)
        return
    if isinstance(shape, PolygonShape):
        rings = [shape.outer, *shape.voids]
        bulges = [shape.bulges, *(shape.void_bulges or ((),) * len(shape.voids))]
        for ring, curved in zip(rings, bulges, strict=True):
            turns = curved or (0.0,) * len(ring)
            rows = [(x, y, bulge) for (x, y), bulge in zip(ring, turns, strict=True)]
            space.add_lwpolyline(rows, format="xyb", close=True, dxfattribs=layer)
        return
    for points in section.outline.rings:
        space.add_lwpolyline(points.tolist(), close=True, dxfattribs=layer)


def read_file(path: Path) -> Drawing:
    """Return what of a DXF file can be a section; see `read_drawing`.

    Raises:
        InputError: where it cannot be read.
    """
    return read_drawing(read_whole(path, "a DXF file"), path.name)
