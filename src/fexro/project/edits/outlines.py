"""Edits of a free outline: corners moved, added, taken out; a whole one in its place."""

from __future__ import annotations

import math
from collections.abc import Sequence

from pydantic import ValidationError

from fexro.core.errors import InputError
from fexro.project.edits.verified import invalid
from fexro.project.section import SectionModel
from fexro.project.shapes import PolygonShape

__all__ = ["add_corner", "move_corner", "remove_corner", "with_outline"]

Corner = tuple[float, float, float]


def with_outline(section: SectionModel, rings: Sequence[Sequence[Corner]]) -> SectionModel:
    """Return a section of another free outline.

    Args:
        section: the section.
        rings: the outer edge, then voids; corners x and y, mm, and the bulge of the side that
            leaves each.

    Raises:
        InputError: where it encloses no clear area.
    """
    outer, *voids = rings
    curved = any(corner[2] for ring in voids for corner in ring)
    try:
        shape = PolygonShape.model_validate(
            {
                "outer": [corner[:2] for corner in outer],
                "bulges": [c[2] for c in outer] if any(c[2] for c in outer) else (),
                "voids": [[corner[:2] for corner in void] for void in voids],
                "void_bulges": [[c[2] for c in void] for void in voids] if curved else (),
            }
        )
    except ValidationError as error:
        raise invalid("outline", error) from None
    return section.model_copy(update={"shape": shape})


def _rings(section: SectionModel) -> list[list[Corner]]:
    shape = section.shape
    assert isinstance(shape, PolygonShape)
    curved = (shape.bulges, *(shape.void_bulges or ((),) * len(shape.voids)))
    return [
        [(x, y, bulges[i] if bulges else 0.0) for i, (x, y) in enumerate(ring)]
        for ring, bulges in zip((shape.outer, *shape.voids), curved, strict=True)
    ]


def move_corner(
    section: SectionModel,
    corner: int,
    x: float | None = None,
    y: float | None = None,
    rise: float | None = None,
) -> SectionModel:
    """Return a section with a corner of its outer edge elsewhere, or another arc leaving it, mm.

    Raises:
        InputError: where it encloses no clear area.
    """
    rings = _rings(section)
    held = rings[0][corner]
    at = (held[0] if x is None else x, held[1] if y is None else y)
    after = rings[0][(corner + 1) % len(rings[0])]
    bulge = held[2]
    if rise is not None:
        chord = math.dist(at, after[:2])
        bulge = 2 * rise / chord if chord else 0.0
    rings[0][corner] = (*at, bulge)
    return with_outline(section, rings)


def add_corner(section: SectionModel, side: int, x: float, y: float) -> SectionModel:
    """Return a section with a corner more in a side of its outer edge, by number from 0, mm.

    Raises:
        InputError: where it encloses no clear area.
    """
    rings = _rings(section)
    held = rings[0][side]
    rings[0][side] = (held[0], held[1], 0.0)
    rings[0].insert(side + 1, (x, y, 0.0))
    return with_outline(section, rings)


def remove_corner(section: SectionModel, corner: int) -> SectionModel:
    """Return a section without a corner of its outer edge, by number from 0.

    Raises:
        InputError: for a triangle, or where it encloses no clear area.
    """
    rings = _rings(section)
    if len(rings[0]) <= 3:
        raise InputError("outline", "3 corners", "at least three, so none can be taken out")
    before = rings[0][corner - 1]
    rings[0][corner - 1] = (before[0], before[1], 0.0)
    del rings[0][corner]
    return with_outline(section, rings)
