"""Which panels and coupling beams the openings of a wall leave, storey by storey."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from fexro.core.errors import InputError
from fexro.project.storey import Storey
from fexro.project.walls import Opening, Wall, WallLine

__all__ = ["BeamPlace", "PanelPlace", "Stretch", "WallLayout", "layout_of"]

TOUCH = 1e-3  # m, up to which lines meet
LEAST_PIER, LEAST_BEAM = 0.1, 0.1  # m


@dataclass(frozen=True)
class Stretch:
    """Part of a straight wall between its ends and openings.

    Attributes:
        line: number of the straight wall.
        start, end: along it, m.
        clear: height beside openings, m; that of the storey where there are none.
    """

    line: int
    start: float
    end: float
    clear: float


@dataclass(frozen=True)
class PanelPlace:
    """A panel of a wall in a storey.

    Attributes:
        mark: its name.
        storey: of it.
        stretches: that it is made of.
    """

    mark: str
    storey: str
    stretches: tuple[Stretch, ...]


@dataclass(frozen=True)
class BeamPlace:
    """A coupling beam over an opening.

    Attributes:
        mark: its name.
        storey: at whose top it is.
        line: number of the straight wall.
        start, end: of its clear span along that, m.
        depth: from the head of the opening to the sill of the one above, m.
        above: of that what stands above the floor, m.
        opening: over which it is.
    """

    mark: str
    storey: str
    line: int
    start: float
    end: float
    depth: float
    above: float
    opening: Opening


@dataclass(frozen=True)
class WallLayout:
    """All panels and coupling beams of a wall."""

    panels: tuple[PanelPlace, ...]
    beams: tuple[BeamPlace, ...]

    @property
    def marks(self) -> dict[str, str]:
        """The kind of each mark, in the order in which they come."""
        found = {panel.mark: "wall panel" for panel in self.panels}
        return found | {beam.mark: "coupling beam" for beam in self.beams}


def layout_of(wall: Wall, storeys: Mapping[str, Storey]) -> WallLayout:
    """Return the panels and coupling beams of a wall.

    Args:
        wall: the wall.
        storeys: those of the project by name.

    Raises:
        InputError: for storeys that there are not, openings outside the wall or overlapping, lines
            without length, and a wall whose parts do not meet.
    """
    for name in wall.storeys:
        if name not in storeys:
            known = ", ".join(list(storeys)[:12])
            raise InputError(f"wall {wall.name}, storeys", f"“{name}”", f"one of {known}")
    return _layout(wall, tuple(storeys[name] for name in wall.storeys))


@lru_cache(maxsize=512)
def _layout(wall: Wall, storeys: tuple[Storey, ...]) -> WallLayout:
    _refuse_lines(wall)
    heights = {storey.name: storey.height for storey in storeys}
    for number, opening in enumerate(wall.openings):
        _refuse_opening(wall, heights, number, opening)
    panels: list[PanelPlace] = []
    beams: list[BeamPlace] = []
    for place, storey in enumerate(storeys):
        here = [one for one in wall.openings if one.storey == storey.name]
        parts = _parts(wall, here, storey.height)
        single = len(parts) == 1
        for number, part in enumerate(parts, 1):
            mark = wall.name if single else f"{wall.name}.{number}"
            panels.append(PanelPlace(mark, storey.name, part))
        over = storeys[place - 1] if place else None
        higher = [] if over is None else [o for o in wall.openings if o.storey == over.name]
        for number, opening in enumerate(_ordered(here), 1):
            beams.append(_beam(wall, storey, opening, number, higher))
    return WallLayout(tuple(panels), tuple(beams))


def _ordered(openings: Sequence[Opening]) -> list[Opening]:
    return sorted(openings, key=lambda one: (one.line, one.at, one.sill))


def _beam(
    wall: Wall, storey: Storey, opening: Opening, number: int, higher: Sequence[Opening]
) -> BeamPlace:
    # It reaches up to the sill of an opening above it, if there is one.
    sills = [
        one.sill
        for one in higher
        if one.line == opening.line and one.at < opening.end and one.end > opening.at
    ]
    above = min(sills, default=0.0)
    depth = storey.height - opening.sill - opening.height + above
    return BeamPlace(
        *(f"{wall.name}.B{number}", storey.name, opening.line, opening.at, opening.end),
        *(depth, above, opening),
    )


def _refuse_lines(wall: Wall) -> None:
    for number, line in enumerate(wall.lines, 1):
        if line.length < 2 * TOUCH or 1e3 * line.length < line.thickness:
            found = f"a length of {line.length:g} m"
            allowed = f"at least its thickness, {line.thickness:g} mm"
            raise InputError(f"wall {wall.name}, line {number}", found, allowed)
    if (
        len(_joined([Stretch(i, 0.0, one.length, 0.0) for i, one in enumerate(wall.lines)], wall))
        > 1
    ):
        raise InputError(
            f"wall {wall.name}", "lines that do not all meet", "lines that meet or end at others"
        )


def _refuse_opening(wall: Wall, heights: Mapping[str, float], number: int, one: Opening) -> None:
    where = f"wall {wall.name}, opening {number + 1} in {one.storey}"
    if one.storey not in heights:
        known = ", ".join(wall.storeys[:12])
        raise InputError(where, f"“{one.storey}”", f"a storey of the wall: {known}")
    if one.line >= len(wall.lines):
        allowed = f"1 to {len(wall.lines)}"
        raise InputError(where, f"line {one.line + 1}", allowed)
    length, height = wall.lines[one.line].length, heights[one.storey]
    if one.at < LEAST_PIER - 1e-9 or one.end > length - LEAST_PIER + 1e-9:
        found = f"from {one.at:g} to {one.end:g} m"
        allowed = f"inside the wall, {LEAST_PIER:g} m from its ends: {length:g} m"
        raise InputError(where, found, allowed)
    if one.sill + one.height > height - LEAST_BEAM + 1e-9:
        found = f"a head at {one.sill + one.height:g} m"
        allowed = f"at most {height - LEAST_BEAM:g} m: a beam below the floor at {height:g} m"
        raise InputError(where, found, allowed)
    for other in wall.openings[:number]:
        same = other.storey == one.storey and other.line == one.line
        if same and other.at < one.end + LEAST_PIER and other.end > one.at - LEAST_PIER:
            found = f"{one.at:g} to {one.end:g} m beside {other.at:g} to {other.end:g} m"
            raise InputError(where, found, "openings that do not overlap, with a pier between")
    for crossing in range(len(wall.lines)):
        if crossing == one.line:
            continue
        for point in _ends(wall.lines[crossing]):
            along, aside = _on(wall.lines[one.line], point)
            half = wall.lines[crossing].thickness / 2e3
            if aside <= TOUCH and one.at - half < along < one.end + half:
                found = f"{one.at:g} to {one.end:g} m"
                allowed = f"clear of line {crossing + 1}, which meets it at {along:g} m"
                raise InputError(where, found, allowed)


def _ends(line: WallLine) -> tuple[tuple[float, float], tuple[float, float]]:
    return (line.x1, line.y1), (line.x2, line.y2)


def _on(line: WallLine, point: tuple[float, float]) -> tuple[float, float]:
    """Return how far along a line a point is, and how far aside from it, m."""
    start = np.array([line.x1, line.y1])
    u = (np.array([line.x2, line.y2]) - start) / line.length
    away = np.array(point) - start
    along = float(np.clip(away @ u, 0, line.length))
    return along, float(np.hypot(*(away - along * u)))


def _parts(wall: Wall, openings: Sequence[Opening], height: float) -> list[tuple[Stretch, ...]]:
    """Return the panels that openings leave of a storey, each of stretches that meet."""
    stretches = []
    for number, line in enumerate(wall.lines):
        here = _ordered([one for one in openings if one.line == number])
        edges = [0.0, *(edge for one in here for edge in (one.at, one.end)), line.length]
        for k in range(len(here) + 1):
            beside = here[max(k - 1, 0) : k + 1] if here else []
            clear = min((one.height for one in beside), default=height)
            stretches.append(Stretch(number, edges[2 * k], edges[2 * k + 1], clear))
    parts = _joined(stretches, wall)

    def place(part: Sequence[Stretch]) -> tuple[float, float]:
        points = [_point(wall.lines[s.line], at) for s in part for at in (s.start, s.end)]
        xs, ys = zip(*points, strict=True)
        return round(sum(xs) / len(xs), 6), round(sum(ys) / len(ys), 6)

    return [tuple(part) for part in sorted(parts, key=place)]


def _point(line: WallLine, at: float) -> tuple[float, float]:
    share = at / line.length
    return line.x1 + share * (line.x2 - line.x1), line.y1 + share * (line.y2 - line.y1)


def _joined(stretches: Sequence[Stretch], wall: Wall) -> list[list[Stretch]]:
    """Return stretches by what they hang together with."""
    group = list(range(len(stretches)))

    def root(i: int) -> int:
        while group[i] != i:
            i = group[i]
        return i

    for i, one in enumerate(stretches):
        for point in (_point(wall.lines[one.line], at) for at in (one.start, one.end)):
            for j, other in enumerate(stretches):
                if i == j or one.line == other.line:
                    continue
                along, aside = _on(wall.lines[other.line], point)
                if aside <= TOUCH and other.start - TOUCH <= along <= other.end + TOUCH:
                    group[root(i)] = root(j)
    found: dict[int, list[Stretch]] = {}
    for i, one in enumerate(stretches):
        found.setdefault(root(i), []).append(one)
    return list(found.values())
