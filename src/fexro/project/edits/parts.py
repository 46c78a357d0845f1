"""Edits of the parts a section is composed of, and turning and mirroring it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, Literal

import numpy as np
from pydantic import TypeAdapter, ValidationError

from fexro.core.errors import InputError
from fexro.core.section.shapes.composed import placed_ring
from fexro.project.bars import OwnBar, PlacedBar
from fexro.project.edits.free_room import free_room, shrunk
from fexro.project.edits.verified import invalid
from fexro.project.profiles import SteelPart
from fexro.project.section import SectionModel
from fexro.project.shape_change import as_kind
from fexro.project.shapes import (
    KINDS,
    Circle,
    Composed,
    Ellipse,
    HollowRectangle,
    PartModel,
    PolygonShape,
    Rectangle,
    Shape,
    SimpleShape,
    shape_of,
)

__all__ = [
    "add_part",
    "change_part",
    "composed",
    "mirror_section",
    "remove_part",
    "resize_part",
    "turn_section",
]

OPENING, JOINED = 0.2, 0.5  # sizes of what is added, of the shorter side
STEP, LEAST = 10.0, 50.0  # mm


def composed(shape: Shape) -> Composed:
    """Return a shape as one composed of parts, where it stands."""
    if isinstance(shape, Composed):
        return shape
    x0, y0, x1, y1 = shape_of(shape).outline().bounds
    return Composed(parts=(PartModel(shape=shape, x=(x0 + x1) / 2, y=(y0 + y1) / 2),))


def add_part(
    section: SectionModel, how: Literal["join", "cut"], own: Sequence[OwnBar] = ()
) -> SectionModel:
    """Return a section with a part more: a round opening where it has room, or a box beside it.

    Raises:
        InputError: where it cannot be so.
    """
    import shapely

    whole = composed(section.shape)
    x0, y0, x1, y1 = shape_of(whole).outline().bounds
    least = min(x1 - x0, y1 - y0)
    if how == "cut":
        size = max(round(OPENING * least / STEP) * STEP, LEAST)
        x, y, share = free_room(section, shapely.Point(0.0, 0.0).buffer(size / 2), own)
        size = shrunk(size, share, STEP, LEAST)
        part = PartModel(shape=Circle(diameter=size), x=x, y=y, how=how)
    else:
        size = max(round(JOINED * least / STEP) * STEP, 100.0)
        part = PartModel(shape=Rectangle(width=size, depth=size), x=x1, y=(y0 + y1) / 2, how=how)
    return _with(section, (*whole.parts, part))


def change_part(section: SectionModel, number: int, **changed: Any) -> SectionModel:
    """Return a section with a part, by number from 0, at another place or doing something else.

    Args:
        section: the section; it becomes composed if it is not.
        number: of the part.
        changed: `kind` of its shape, or fields of the part.

    Raises:
        InputError: where it cannot be so.
    """
    parts = composed(section.shape).parts
    held = parts[number]
    if "kind" in changed:
        kind = changed.pop("kind")
        x0, y0, x1, y1 = shape_of(held.shape).outline().bounds
        # The polygon of a circle is a little narrower than the circle.
        width, depth = (max(float(round(size)), 50.0) for size in (x1 - x0, y1 - y0))
        box = Rectangle(width=width, depth=depth)
        shape = as_kind(box if kind in KINDS else held.shape, kind)
        changed["shape"] = shape.model_dump()
    return _with(section, _replaced(parts, number, changed))


def resize_part(section: SectionModel, number: int, size: str, value: float) -> SectionModel:
    """Return a section with another size, mm, of a part's shape.

    Raises:
        InputError: where it cannot be so.
    """
    parts = composed(section.shape).parts
    shape = {**parts[number].shape.model_dump(), size: value}
    return _with(section, _replaced(parts, number, {"shape": shape}))


def remove_part(section: SectionModel, number: int) -> SectionModel:
    """Return a section without a part; one that is left alone as it was is no part any more.

    Raises:
        InputError: for the last part, or where what is left is no section.
    """
    parts = composed(section.shape).parts
    if len(parts) == 1:
        raise InputError("part", "the only one", "at least one part")
    left = parts[:number] + parts[number + 1 :]
    if len(left) == 1 and left[0] == PartModel(shape=left[0].shape):
        return section.model_copy(update={"shape": left[0].shape})
    return _with(section, left)


def turn_section(section: SectionModel, angle: float) -> SectionModel:
    """Return a section turned anticlockwise by an angle, degrees, its placed bars with it.

    Raises:
        InputError: where it cannot be so.
    """
    shape = section.shape
    turned: Shape
    if isinstance(shape, Rectangle | Ellipse | HollowRectangle) and angle % 180 == 90:
        turned = shape.model_copy(update={"width": shape.depth, "depth": shape.width})
    elif isinstance(shape, PolygonShape):
        turned = _polygon(shape, angle, mirrored=False)
    else:
        parts = []
        for part in composed(shape).parts:
            x, y = _point(part.x, part.y, angle)
            around = (part.angle + angle + 180) % 360 - 180
            parts.append(part.model_copy(update={"x": x, "y": y, "angle": around}))
        turned = Composed(parts=tuple(parts))
    return section.model_copy(
        update={
            "shape": turned,
            "placed": _bars(section.placed, angle, mirrored=False),
            "profiles": _profiles(section.profiles, angle, mirrored=False),
        }
    )


def mirror_section(section: SectionModel) -> SectionModel:
    """Return a section with left and right exchanged, its placed bars with it."""
    shape = section.shape
    mirrored: Shape
    if isinstance(shape, PolygonShape):
        mirrored = _polygon(shape, 0.0, mirrored=True)
    else:
        parts = tuple(
            part.model_copy(
                update={"x": -part.x, "angle": -part.angle, "mirrored": not part.mirrored}
            )
            for part in composed(shape).parts
        )
        mirrored = Composed(parts=parts)
    return section.model_copy(
        update={
            "shape": mirrored,
            "placed": _bars(section.placed, 0.0, mirrored=True),
            "profiles": _profiles(section.profiles, 0.0, mirrored=True),
        }
    )


def _point(x: float, y: float, angle: float, *, mirrored: bool = False) -> tuple[float, float]:
    (found,) = placed_ring(np.array([[x, y]]), angle, mirrored)
    return round(float(found[0]), 6), round(float(found[1]), 6)


def _bars(placed: Sequence[PlacedBar], angle: float, *, mirrored: bool) -> tuple[PlacedBar, ...]:
    found = []
    for bar in placed:
        x, y = _point(bar.x, bar.y, angle, mirrored=mirrored)
        found.append(bar.model_copy(update={"x": x, "y": y}))
    return tuple(found)


def _profiles(parts: Sequence[SteelPart], angle: float, *, mirrored: bool) -> tuple[SteelPart, ...]:
    found = []
    for part in parts:
        x, y = _point(part.x, part.y, angle, mirrored=mirrored)
        around = ((-part.angle if mirrored else part.angle) + angle + 180) % 360 - 180
        update = {"x": x, "y": y, "angle": around, "mirrored": part.mirrored ^ mirrored}
        found.append(part.model_copy(update=update))
    return tuple(found)


def _polygon(shape: PolygonShape, angle: float, *, mirrored: bool) -> PolygonShape:
    def ring(points: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
        moved = [_point(x, y, angle, mirrored=mirrored) for x, y in points]
        return tuple(reversed(moved)) if mirrored else tuple(moved)

    def bulges(values: Sequence[float]) -> tuple[float, ...]:
        # Run the other way round, each side leaves the corner it came to.
        turned = [*reversed(values[:-1]), values[-1]] if values else []
        return tuple(turned) if mirrored else tuple(values)

    return PolygonShape.model_validate(
        {
            "outer": ring(shape.outer),
            "voids": [ring(void) for void in shape.voids],
            "bulges": bulges(shape.bulges),
            "void_bulges": [bulges(values) for values in shape.void_bulges],
        }
    )


_SIMPLE: TypeAdapter[SimpleShape] = TypeAdapter(SimpleShape)


def _replaced(
    parts: tuple[PartModel, ...], number: int, changed: dict[str, Any]
) -> tuple[PartModel, ...]:
    where = f"part {number + 1}"
    for name in ("x", "y", "angle"):
        if name in changed and not math.isfinite(changed[name]):
            raise InputError(where, str(changed[name]), "a finite number")
    try:
        if "shape" in changed:
            changed = {**changed, "shape": _SIMPLE.validate_python(changed["shape"])}
        data = {
            **{name: getattr(parts[number], name) for name in PartModel.model_fields},
            **changed,
        }
        part = PartModel.model_validate(data)
    except ValidationError as error:
        raise invalid(where, error) from None
    return (*parts[:number], part, *parts[number + 1 :])


def _with(section: SectionModel, parts: tuple[PartModel, ...]) -> SectionModel:
    try:
        shape = Composed(parts=parts)
    except ValidationError as error:
        raise invalid("section", error) from None
    return section.model_copy(update={"shape": shape})
