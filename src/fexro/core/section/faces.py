"""The faces of a shape, and which of its sizes moves each: what can be dragged."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.shapes import Composed, PolygonShape, Shape

__all__ = ["Face", "faces_of"]

STEP, LEAST = 1e-3, 0.05  # mm by which a size is tried; movement that counts, per mm of it


@dataclass(frozen=True)
class Face:
    """A side of a shape that moves square to itself with one of its sizes.

    Attributes:
        start, end: its ends, mm.
        normal: away from the concrete.
        size: the name of the size.
        gain: change of the size for each mm that the face moves along the normal.
    """

    start: tuple[float, float]
    end: tuple[float, float]
    normal: tuple[float, float]
    size: str
    gain: float

    def distance(self, x: float, y: float) -> float:
        """Return how far a point is from the face, mm."""
        (x0, y0), (x1, y1) = self.start, self.end
        dx, dy = x1 - x0, y1 - y0
        along = ((x - x0) * dx + (y - y0) * dy) / max(dx * dx + dy * dy, 1e-12)
        along = min(max(along, 0.0), 1.0)
        return math.hypot(x - x0 - along * dx, y - y0 - along * dy)


def faces_of(shape: Shape) -> list[Face]:
    """Return the faces of a shape with the size that moves each most.

    Shapes of free corners or of several parts have none: their corners and parts are moved instead.
    """
    if isinstance(shape, PolygonShape | Composed):
        return []
    assert dataclasses.is_dataclass(shape)
    rings = shape.outline().rings
    moved = {}
    for field in dataclasses.fields(shape):
        other = _with(shape, field.name)
        if other is not None and [len(r) for r in other] == [len(r) for r in rings]:
            moved[field.name] = [(b - a) / STEP for a, b in zip(rings, other, strict=True)]
    found = []
    for number, ring in enumerate(rings):
        ahead = np.roll(ring, -1, axis=0) - ring
        normal = np.column_stack([ahead[:, 1], -ahead[:, 0]])
        normal /= np.hypot(*normal.T)[:, None]
        for side in range(len(ring)):
            # How far the side moves along its normal with each size, at its middle.
            by = {
                name: float((m[number][[side, (side + 1) % len(ring)]] @ normal[side]).mean())
                for name, m in moved.items()
            }
            size = max(by, key=lambda name: abs(by[name]), default=None)
            if size is not None and abs(by[size]) > LEAST:
                a, b = ring[side], ring[(side + 1) % len(ring)]
                found.append(
                    Face(
                        (float(a[0]), float(a[1])),
                        (float(b[0]), float(b[1])),
                        (float(normal[side, 0]), float(normal[side, 1])),
                        size,
                        1 / by[size],
                    )
                )
    return found


def _with(shape: Shape, name: str) -> tuple[FloatArray, ...] | None:
    """Return the rings with a size a little larger, or smaller; nothing if it moves nothing."""
    value = getattr(shape, name)
    # A size of 0 is one that the shape does not have.
    if not value:
        return None
    for step in (STEP, -STEP):
        try:
            other = dataclasses.replace(shape, **{name: value + step})  # type: ignore[type-var]
        except InputError:
            continue
        rings = other.outline().rings
        if step > 0:
            return tuple(rings)
        here = shape.outline().rings
        return tuple(2 * a - b for a, b in zip(here, rings, strict=True))
    return None
