"""Drawings as lines, areas, text and dimensions on paper, whatever they are written as.

Places and lengths are mm on paper, x to the right, y up. What is drawn to scale carries how many
real mm a mm on paper is, so that dimensions can be told and a drawing file can have real sizes.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

__all__ = [
    "LAYERS",
    "Area",
    "Circle",
    "Dimension",
    "Drawing",
    "Item",
    "Layer",
    "Line",
    "Point",
    "Text",
    "text_width",
]

Point = tuple[float, float]
Layer = Literal[
    "concrete",
    "hatch",
    "inside",
    "bars",
    "ties",
    "steel",
    "laps",
    "levels",
    "dimensions",
    "text",
    "marks",
    "grid",
    "frame",
    "curves",
    "demands",
]


@dataclass(frozen=True)
class LayerStyle:
    """How what is on a layer is drawn.

    Attributes:
        colour: as #rrggbb.
        number: of the colour in the index of drawing files.
        weight: of lines, mm.
        dash: lengths of dashes and gaps, mm; none where lines are whole.
    """

    colour: str
    number: int
    weight: float
    dash: tuple[float, ...] = ()


LAYERS: dict[Layer, LayerStyle] = {
    "concrete": LayerStyle("#20293A", 7, 0.5),
    "hatch": LayerStyle("#E3DED2", 9, 0.1),
    "inside": LayerStyle("#E9EEF4", 9, 0.1),
    "bars": LayerStyle("#20293A", 7, 0.25),
    "ties": LayerStyle("#2B5C8A", 5, 0.35),
    "steel": LayerStyle("#4A5568", 8, 0.5),
    "laps": LayerStyle("#9A5B13", 30, 0.35),
    "levels": LayerStyle("#5A6270", 8, 0.18, (4.0, 1.2, 0.6, 1.2)),
    "dimensions": LayerStyle("#5A6270", 8, 0.13),
    "text": LayerStyle("#20293A", 7, 0.18),
    "marks": LayerStyle("#20293A", 7, 0.18),
    "grid": LayerStyle("#B9B2A2", 9, 0.18),
    "frame": LayerStyle("#20293A", 7, 0.35),
    "curves": LayerStyle("#2B5C8A", 5, 0.35),
    "demands": LayerStyle("#B23A2E", 1, 0.25),
}
TEXT = 2.2  # mm, height of capitals
WIDE = 0.80  # of the height of capitals that a letter is wide, about


@dataclass(frozen=True)
class Line:
    """A line through points, closed or not; of its own weight where it has one, mm."""

    points: tuple[Point, ...]
    layer: Layer
    closed: bool = False
    weight: float | None = None
    dash: tuple[float, ...] = ()


@dataclass(frozen=True)
class Area:
    """An area inside its first ring and outside the others, filled."""

    rings: tuple[tuple[Point, ...], ...]
    layer: Layer


@dataclass(frozen=True)
class Circle:
    """A circle, filled or not."""

    centre: Point
    radius: float
    layer: Layer
    filled: bool = False


@dataclass(frozen=True)
class Text:
    """A line of text.

    Attributes:
        at: its anchor.
        height: of capitals.
        anchor: which end stands there; text is centred upright of its anchor where `middle`.
        angle: by which it is turned, degrees.
        strong: whether it is bold.
    """

    text: str
    at: Point
    height: float = TEXT
    layer: Layer = "text"
    anchor: Literal["start", "middle", "end"] = "start"
    upright: Literal["base", "middle"] = "base"
    angle: float = 0.0
    strong: bool = False


@dataclass(frozen=True)
class Dimension:
    """A dimension between two points, along x or along y.

    Attributes:
        start, end: the points.
        at: where its line is: y of one along x, x of one along y.
        along: direction.
        real: mm in reality of a mm on paper.
        text: what is written; the length where it is empty.
        unit: real mm of a unit in which the length is written, and its decimals.
    """

    start: Point
    end: Point
    at: float
    along: Literal["x", "y"]
    real: float
    text: str = ""
    unit: tuple[float, int] = (1.0, 0)

    @property
    def length(self) -> float:
        """What it measures, real mm."""
        axis = 0 if self.along == "x" else 1
        return abs(self.end[axis] - self.start[axis]) * self.real

    @property
    def written(self) -> str:
        """What stands at it."""
        size, decimals = self.unit
        return self.text or f"{self.length / size:.{decimals}f}"


Item = Line | Area | Circle | Text | Dimension


@dataclass
class Drawing:
    """A drawing on paper.

    Attributes:
        title: of the drawing.
        width, height: of the paper, mm.
        scale: real mm of a mm on paper of what is drawn the largest; drawing files are made to it.
        items: what is drawn, in order.
    """

    title: str
    width: float
    height: float
    scale: float = 1.0
    items: list[Item] = field(default_factory=list)

    def add(self, *items: Item) -> None:
        """Draw something."""
        self.items += items

    def rectangle(self, x: float, y: float, width: float, height: float, layer: Layer) -> None:
        """Draw a rectangle from its lower left corner."""
        corners = ((x, y), (x + width, y), (x + width, y + height), (x, y + height))
        self.add(Line(corners, layer, closed=True))

    def text(self, text: str, x: float, y: float, room: float, given: Text | None = None) -> None:
        """Write text no wider than its room: it is set smaller, and cut short where that is far."""
        style = replace(given or Text("", (0, 0)), text=text.replace("⌀", "Ø"), at=(x, y))
        wide = text_width(text, style.height)
        if wide > room:
            style = replace(style, height=max(style.height * room / wide, 0.62 * style.height))
            while len(style.text) > 1 and text_width(style.text, style.height) > 1.001 * room:
                style = replace(style, text=style.text[:-2].rstrip() + "…")
        self.add(style)

    def placed(self, other: Iterable[Item], x: float, y: float) -> None:
        """Draw what was drawn about an origin of its own."""
        self.items += [moved(item, x, y) for item in other]


def moved(item: Item, x: float, y: float) -> Item:
    """Return what is drawn, elsewhere."""

    def at(point: Point) -> Point:
        return point[0] + x, point[1] + y

    match item:
        case Line(points=points):
            return replace(item, points=tuple(map(at, points)))
        case Area(rings=rings):
            return replace(item, rings=tuple(tuple(map(at, ring)) for ring in rings))
        case Circle(centre=centre):
            return replace(item, centre=at(centre))
        case Text(at=place):
            return replace(item, at=at(place))
        case Dimension(start=start, end=end, at=line, along=along):
            shifted = line + (y if along == "x" else x)
            return replace(item, start=at(start), end=at(end), at=shifted)


def text_width(text: str, height: float) -> float:
    """Return about how wide a line of text is, mm."""
    return WIDE * height * len(text)


def bounds_of(items: Sequence[Item]) -> tuple[float, float, float, float]:
    """Return the box around what is drawn: left, bottom, right, top."""
    points: list[Point] = []
    for item in items:
        match item:
            case Line(points=line):
                points += line
            case Area(rings=rings):
                points += [point for ring in rings for point in ring]
            case Circle(centre=(x, y), radius=radius):
                points += [(x - radius, y - radius), (x + radius, y + radius)]
            case Text(text=text, at=(x, y), height=height, anchor=anchor, angle=angle):
                wide = text_width(text, height)
                left = {"start": 0.0, "middle": -wide / 2, "end": -wide}[anchor]
                turn = math.radians(angle)
                for along in (left, left + wide):
                    points.append((x + along * math.cos(turn), y + along * math.sin(turn)))
                points.append((x, y + height))
            case Dimension(start=start, end=end, at=line_at, along=along):
                points += [start, end]
                beyond = 1.3 * TEXT
                points.append(
                    (start[0], line_at - beyond) if along == "x" else (line_at - beyond, start[1])
                )
    xs, ys = zip(*points, strict=True)
    return min(xs), min(ys), max(xs), max(ys)
