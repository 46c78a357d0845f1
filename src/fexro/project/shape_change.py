"""A section of another shape, as large as it was, with a bar in each corner."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from pydantic import TypeAdapter

from fexro.core.errors import InputError
from fexro.core.section.call_out import BarGroup, format_call_out, parse_call_out
from fexro.project.bars import OwnBar, sizes_by_name
from fexro.project.section import SectionModel, section_of
from fexro.project.shapes import (
    KINDS,
    Circle,
    Composed,
    Ellipse,
    HollowCircle,
    PartModel,
    PolygonShape,
    Rectangle,
    Shape,
    shape_of,
)

__all__ = ["PROPOSED", "as_kind", "with_corner_bars"]

STEP = 10.0  # mm, to which proposed sizes are rounded
THICK, THIN, WALL_ENDS = 0.4, 0.25, 0.2  # of the shorter side or the length
ROOM = 180.0  # mm, for two rows of bars with their ties and cover
QUARTERS, ARCS = 4, 16  # arcs of a circle, and of an ellipse
_SHAPE: TypeAdapter[Shape] = TypeAdapter(Shape)
PROPOSED = (*KINDS, "polygon", "composed")


def as_kind(shape: Shape, kind: str) -> Shape:
    """Return a shape of another kind that fills the same box, its other sizes proposed.

    Args:
        shape: as it is.
        kind: of `PROPOSED`. A polygon has the corners of the outline, and arcs where it is round;
            a composed shape has the present one as its only part.
    """
    if kind == shape.kind:
        return shape
    if kind == "composed":
        assert not isinstance(shape, Composed)
        return Composed(parts=(PartModel(shape=shape),))
    if kind == "polygon":
        return _free(shape)
    outline = shape_of(shape).outline()
    x0, y0, x1, y1 = outline.bounds
    width, depth = _rounded(x1 - x0), _rounded(y1 - y0)
    least = min(width, depth)
    part = max(_rounded(THICK * least), 50.0)
    proposed = {
        "width": width,
        "depth": depth,
        "diameter": least,
        "across": least,
        "void_diameter": max(_rounded(THICK * least), 50.0),
        "top_width": max(_rounded((1 - THIN) * width), 50.0),
        # Wide enough for bars.
        "end_width": max(_rounded(WALL_ENDS * width), min(250.0, _rounded(THICK * width))),
        "wall": max(_rounded(THIN * least), 25.0),
        "flange": part,
        "web": part,
        "leg": part,
    }
    model = KINDS[kind]
    needed = {name for name, field in model.model_fields.items() if field.is_required()}
    sizes = {name: size for name, size in proposed.items() if name in needed}
    if kind in ("I", "Z", "channel"):
        # Wide enough for bars at both faces.
        sizes["flange"] = max(_rounded(THIN * least), min(ROOM, part))
    if kind == "wall with ends":
        sizes["wall"] = max(_rounded(depth / 2), 25.0)
    return _SHAPE.validate_python({"kind": kind, **sizes})


def _free(shape: Shape) -> PolygonShape:
    """Return a shape as corners and arcs."""
    if isinstance(shape, Circle | HollowCircle):
        outer, bulges = _arcs(shape.diameter, shape.diameter, QUARTERS)
        if isinstance(shape, Circle):
            return PolygonShape(outer=outer, bulges=bulges)
        void, curved = _arcs(shape.void_diameter, shape.void_diameter, QUARTERS)
        return PolygonShape(outer=outer, bulges=bulges, voids=(void,), void_bulges=(curved,))
    if isinstance(shape, Ellipse):
        outer, bulges = _arcs(shape.width, shape.depth, ARCS)
        return PolygonShape(outer=outer, bulges=bulges)
    if isinstance(shape, Rectangle) and shape.radius:
        cut = shape_of(shape.model_copy(update={"chamfer": shape.radius, "radius": 0.0})).outline()
        ring = cut.rings[0]
        # Corners are cut where sides run aslant.
        aslant = np.abs(np.roll(ring, -1, axis=0) - ring).min(axis=1) > 0
        return PolygonShape(
            outer=tuple((x, y) for x, y in ring.tolist()),
            bulges=tuple(np.where(aslant, math.tan(math.pi / 8), 0.0).tolist()),
        )
    outer, *voids = (tuple(map(tuple, ring.tolist())) for ring in shape_of(shape).outline().rings)
    return PolygonShape.model_validate({"outer": outer, "voids": voids})


def _arcs(
    width: float, depth: float, count: int
) -> tuple[tuple[tuple[float, float], ...], tuple[float, ...]]:
    """Return corners and bulges of an ellipse as arcs, each with the area of what it stands for."""
    step = 2 * math.pi / count
    turn = np.arange(count) * step
    x, y = width / 2 * np.cos(turn), depth / 2 * np.sin(turn)
    corners = tuple((round(px, 6) + 0.0, round(py, 6) + 0.0) for px, py in zip(x, y, strict=True))
    if width == depth:
        return corners, (math.tan(step / 4),) * count
    square = (np.roll(x, -1) - x) ** 2 + (np.roll(y, -1) - y) ** 2
    # A flat arc is a parabola, of two thirds of its rise times its chord.
    segment = width * depth / 8 * (step - math.sin(step))
    return corners, tuple((3 * segment / square).tolist())


def with_corner_bars(section: SectionModel, own: tuple[OwnBar, ...] = ()) -> SectionModel:
    """Return a section with as many bars as it has corners, more of its first size if need be."""
    sizes = sizes_by_name(own)
    groups = parse_call_out(section.bars, "bars", sizes)
    corners = shape_of(section.shape).corners()
    if any(group.place for group in groups):
        return _with_placed_groups(section, groups, own)
    count = sum(group.count for group in groups)
    wanted = count if corners is None else max(count, len(corners))
    if section.shape.kind in ("rectangle", "hollow rectangle"):
        wanted += wanted % 2
    if wanted == count:
        return section
    first = replace(groups[0], count=groups[0].count + wanted - count)
    return section.model_copy(update={"bars": format_call_out((first, *groups[1:]))})


def _with_placed_groups(
    section: SectionModel, groups: tuple[BarGroup, ...], own: tuple[OwnBar, ...]
) -> SectionModel:
    """Return a section whose bars stay where they are called for; by rule where that cannot be."""
    corners = shape_of(section.shape).corners()
    if corners is not None:
        groups = tuple(
            replace(group, count=len(corners)) if group.place == "corners" else group
            for group in groups
        )
    found = section.model_copy(update={"bars": format_call_out(groups)})
    try:
        section_of(found, own)
    except InputError:
        free = tuple(BarGroup(max(group.total, 2), group.size) for group in groups)
        return with_corner_bars(section.model_copy(update={"bars": format_call_out(free)}), own)
    return found


def _rounded(size: float) -> float:
    return max(round(size / STEP) * STEP, STEP)
