"""What dragging in a section does: from how far it was dragged to the section it would be."""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import ValidationError

from fexro.core.errors import InputError
from fexro.core.quantities import Dimension, UnitSystem, format_quantity
from fexro.core.section.faces import Face, faces_of
from fexro.core.section.shapes import Legs
from fexro.core.section.shapes.composed import placed_ring
from fexro.desktop.form import validated
from fexro.project.bars import OwnBar
from fexro.project.edits.bars import move_bars, placed_bars
from fexro.project.edits.outlines import move_corner
from fexro.project.edits.profiles import change_profile
from fexro.project.section import SectionModel, section_of
from fexro.project.shapes import SIZES, Composed, LegsShape, PolygonShape, Shape, shape_of

__all__ = [
    "DragBars",
    "DragCorner",
    "DragFace",
    "DragPart",
    "DragProfile",
    "Gesture",
    "Result",
    "bars_within",
    "faces_in",
    "part_at",
    "profile_at",
    "side_at",
    "step_of",
]


ROW = 4.0  # times the reach of a guide within which bars stand in one row


@dataclass(frozen=True)
class Result:
    """What a gesture has come to.

    Attributes:
        section: what it would be; nothing where it cannot be.
        told: the value that changes, or why it cannot be.
        guides: lines of x or y, mm, that what is moved is in line with.
    """

    section: SectionModel | None
    told: str
    guides: tuple[tuple[str, float], ...] = ()


def step_of(system: UnitSystem) -> float:
    """Return the step of places and sizes that are dragged, mm: 5 mm or a quarter of an inch."""
    return 5.0 if system is UnitSystem.SI else 6.35


class Gesture(ABC):
    """Something of a section that is taken hold of.

    Args:
        section: as it is.
        system: units that are told.
        own: bar sizes of the project.
    """

    label = ""

    def __init__(
        self, section: SectionModel, system: UnitSystem, own: tuple[OwnBar, ...] = ()
    ) -> None:
        self.section, self.system, self.own = section, system, own
        self.step = step_of(system)

    def at(self, dx: float, dy: float, *, fine: bool = False) -> Result:
        """Return the section once what is held is moved by dx, dy, mm; finely without steps."""
        try:
            result = self._moved(dx, dy, 1.0 if fine else self.step)
            if result.section is not None:
                section_of(result.section, self.own)
            return result
        except ValidationError as error:
            problem = error.errors(include_url=False)[0]
            reason = problem.get("ctx", {}).get("error", problem["msg"])
            return Result(None, str(reason))
        except InputError as error:
            return Result(None, f"{error.found}: {error.allowed}")

    @abstractmethod
    def _moved(self, dx: float, dy: float, step: float) -> Result:
        """Return what comes of it."""

    def _length(self, value: float) -> str:
        return format_quantity(value, Dimension.LENGTH, self.system)


class DragFace(Gesture):
    """A face that moves with one of the sizes of the shape, or of a part of it."""

    def __init__(
        self,
        section: SectionModel,
        system: UnitSystem,
        face: Face,
        part: int | None = None,
        own: tuple[OwnBar, ...] = (),
    ) -> None:
        super().__init__(section, system, own)
        self.face, self.part = face, part
        self.label = SIZES[face.size]

    def _moved(self, dx: float, dy: float, step: float) -> Result:
        out = dx * self.face.normal[0] + dy * self.face.normal[1]
        shape = self.section.shape
        held = held_of(shape, self.part)
        size = getattr(held, self.face.size) + self.face.gain * out
        size = round(size / step) * step
        changed = validated(
            held, {self.face.size: size}, self.label, self._length(size), self.system
        )
        if self.part is not None:
            changed = _with_held(shape, self.part, changed)
        found = self.section.model_copy(update={"shape": changed})
        return Result(found, f"{self.label} {self._length(size)}")


class DragBars(Gesture):
    """Bars that are moved together; they come into line with others that are near.

    One alone also comes to stand midway between the two beside it in its row.
    """

    label = "Bars"

    def __init__(
        self,
        section: SectionModel,
        system: UnitSystem,
        chosen: Collection[int],
        reach: float = 0.0,
        own: tuple[OwnBar, ...] = (),
    ) -> None:
        super().__init__(section, system, own)
        self.chosen, self.reach = frozenset(chosen), reach
        placed = placed_bars(section, own)
        self._held = np.array([[bar.x, bar.y] for i, bar in enumerate(placed) if i in chosen])
        rest = [[bar.x, bar.y] for i, bar in enumerate(placed) if i not in chosen]
        self._rest = np.array(rest).reshape(-1, 2)

    def _moved(self, dx: float, dy: float, step: float) -> Result:
        moved, guides = [], []
        for axis, (name, by) in enumerate((("x", dx), ("y", dy))):
            aligned = self._in_line(axis, by) or self._midway(axis, by, (dx, dy)[1 - axis])
            if aligned is None:
                moved.append(round(by / step) * step)
            else:
                moved.append(aligned[0])
                guides.append((name, aligned[1]))
        found = move_bars(self.section, self.chosen, moved[0], moved[1], self.own)
        told = f"{self._length(moved[0])}, {self._length(moved[1])}"
        if len(self.chosen) == 1:
            x, y = self._held[0] + moved
            told = f"x {self._length(x)}, y {self._length(y)}"
        return Result(found, told, tuple(guides))

    def _in_line(self, axis: int, by: float) -> tuple[float, float] | None:
        """Return how far to move into line with a bar that is near, and with what place."""
        if not len(self._rest) or not self.reach:
            return None
        away = self._rest[None, :, axis] - (self._held[:, None, axis] + by)
        i, j = divmod(int(np.abs(away).argmin()), len(self._rest))
        if abs(away[i, j]) > self.reach:
            return None
        return by + float(away[i, j]), float(self._rest[j, axis])

    def _midway(self, axis: int, by: float, across: float) -> tuple[float, float] | None:
        """Return how far to move to be as far from the bars to both sides, and that place."""
        if len(self._held) != 1 or not self.reach:
            return None
        here, aside = self._held[0, axis] + by, self._held[0, 1 - axis] + across
        row = self._rest[np.abs(self._rest[:, 1 - axis] - aside) <= ROW * self.reach, axis]
        before, after = row[row < here], row[row > here]
        if not len(before) or not len(after):
            return None
        middle = (float(before.max()) + float(after.min())) / 2
        return (by + middle - here, middle) if abs(middle - here) <= self.reach else None


class DragCorner(Gesture):
    """A corner of a free outline; it comes into line with the corners beside it."""

    label = "Corner"

    def __init__(
        self,
        section: SectionModel,
        system: UnitSystem,
        corner: int,
        own: tuple[OwnBar, ...] = (),
        reach: float = 0.0,
    ) -> None:
        super().__init__(section, system, own)
        self.corner, self.reach = corner, reach

    def _moved(self, dx: float, dy: float, step: float) -> Result:
        shape = self.section.shape
        assert isinstance(shape, PolygonShape)
        held, count = shape.outer[self.corner], len(shape.outer)
        beside = [shape.outer[self.corner - 1], shape.outer[(self.corner + 1) % count]]
        to, guides = [], []
        for axis, (name, by) in enumerate((("x", dx), ("y", dy))):
            wanted = held[axis] + by
            # Near the x or y of a neighbour the side between becomes upright or level.
            near = min((corner[axis] for corner in beside), key=lambda v: abs(v - wanted))
            if abs(near - wanted) <= self.reach:
                guides.append((name, near))
                to.append(near)
            else:
                to.append(round(wanted / step) * step)
        found = move_corner(self.section, self.corner, to[0], to[1])
        told = f"x {self._length(to[0])}, y {self._length(to[1])}"
        return Result(found, told, tuple(guides))


class DragPart(Gesture):
    """A part of a composed shape, such as an opening."""

    label = "Part"

    def __init__(
        self,
        section: SectionModel,
        system: UnitSystem,
        part: int,
        own: tuple[OwnBar, ...] = (),
    ) -> None:
        super().__init__(section, system, own)
        self.part = part

    def _moved(self, dx: float, dy: float, step: float) -> Result:
        shape = self.section.shape
        assert isinstance(shape, Composed)
        held = shape.parts[self.part]
        x, y = (round(v / step) * step for v in (held.x + dx, held.y + dy))
        changed = _with_part(shape, self.part, x=x, y=y)
        found = self.section.model_copy(update={"shape": changed})
        return Result(found, f"x {self._length(x)}, y {self._length(y)}")


class DragProfile(Gesture):
    """A profile of structural steel."""

    label = "Steel"

    def __init__(
        self,
        section: SectionModel,
        system: UnitSystem,
        number: int,
        own: tuple[OwnBar, ...] = (),
    ) -> None:
        super().__init__(section, system, own)
        self.number = number

    def _moved(self, dx: float, dy: float, step: float) -> Result:
        held = self.section.profiles[self.number]
        x, y = (round(v / step) * step for v in (held.x + dx, held.y + dy))
        found = change_profile(self.section, self.number, x=x, y=y)
        return Result(found, f"x {self._length(x)}, y {self._length(y)}")


def held_of(shape: Shape, part: int | None) -> Any:
    """Return what a face is of: a part of a composed shape, a leg of a wall, or the shape."""
    if part is None:
        return shape
    return shape.parts[part].shape if isinstance(shape, Composed) else _legs(shape).legs[part]


def _legs(shape: Shape) -> LegsShape:
    assert isinstance(shape, LegsShape)
    return shape


def _with_held(shape: Shape, part: int, changed: Any) -> Shape:
    if isinstance(shape, Composed):
        return _with_part(shape, part, shape=changed)
    legs = list(_legs(shape).legs)
    legs[part] = changed
    return LegsShape.model_validate({"kind": "legs", "legs": [dict(leg) for leg in legs]})


def _with_part(whole: Composed, number: int, **update: object) -> Composed:
    parts = [part.model_dump() for part in whole.parts]
    parts[number] |= update
    return Composed.model_validate({"kind": "composed", "parts": parts})


def faces_in(section: SectionModel) -> list[tuple[Face, int | None]]:
    """Return the faces of a section, those of parts where they stand, with the part's number."""
    shape = section.shape
    if isinstance(shape, LegsShape):
        return [face for number in range(len(shape.legs)) for face in _faces_of_leg(shape, number)]
    if not isinstance(shape, Composed):
        return [(face, None) for face in faces_of(shape_of(shape))]
    found: list[tuple[Face, int | None]] = []
    for number, part in enumerate(shape.parts):
        core = part.part()
        for face in faces_of(shape_of(part.shape)):
            # A mirrored ring is turned round: each end stays what it was.
            ends = [core.placed(np.array([end]))[0] for end in (face.start, face.end)]
            normal = placed_ring(np.array([face.normal]), part.angle, part.mirrored)[0]
            moved = Face(
                (float(ends[0][0]), float(ends[0][1])),
                (float(ends[1][0]), float(ends[1][1])),
                (float(normal[0]), float(normal[1])),
                face.size,
                face.gain,
            )
            found.append((moved, number))
    return found


def _faces_of_leg(shape: LegsShape, number: int) -> list[tuple[Face, int | None]]:
    """Return both long faces of a leg: its thickness grows to both sides of its centre line."""
    core = shape_of(shape)
    assert isinstance(core, Legs)
    leg = core.legs[number]
    found: list[tuple[Face, int | None]] = []
    for side in (-1.0, 1.0):
        off = side * leg.normal * leg.thickness / 2
        (a, b), (c, d) = leg.start + off, leg.end + off
        normal = side * leg.normal
        ends = (float(a), float(b)), (float(c), float(d))
        away = float(normal[0]), float(normal[1])
        found.append((Face(*ends, away, "thickness", 2.0), number))
    return found


def part_at(section: SectionModel, x: float, y: float) -> int | None:
    """Return the number of the last part at a point, mm; nothing beside all of them."""
    import shapely

    shape = section.shape
    if not isinstance(shape, Composed) or not math.isfinite(x + y):
        return None
    point = shapely.Point(x, y)
    covering = [i for i, p in enumerate(shape.parts) if p.part().polygon().covers(point)]
    return covering[-1] if covering else None


def profile_at(section: SectionModel, x: float, y: float) -> int | None:
    """Return the number of the profile whose box a point, mm, is in."""
    for number, part in enumerate(section.profiles):
        x0, y0, x1, y1 = part.part().outline.bounds
        if x0 <= x <= x1 and y0 <= y <= y1:
            return number
    return None


def side_at(shape: PolygonShape, x: float, y: float) -> tuple[int, float]:
    """Return the side of a free outline that is nearest to a point, and how far it is, mm."""
    ring = np.array(shape.outer)
    run = np.roll(ring, -1, axis=0) - ring
    length = np.maximum((run**2).sum(axis=1), 1e-9)
    along = np.clip(((np.array([x, y]) - ring) * run).sum(axis=1) / length, 0.0, 1.0)
    away = np.hypot(*(np.array([x, y]) - ring - run * along[:, None]).T)
    nearest = int(away.argmin())
    return nearest, float(away[nearest])


def bars_within(
    places: Sequence[tuple[float, float]], low: tuple[float, float], high: tuple[float, float]
) -> frozenset[int]:
    """Return the bars inside a box from one corner to the other, mm."""
    x0, x1 = sorted((low[0], high[0]))
    y0, y1 = sorted((low[1], high[1]))
    return frozenset(i for i, (x, y) in enumerate(places) if x0 <= x <= x1 and y0 <= y <= y1)
