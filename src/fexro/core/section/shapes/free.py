"""A free outline: any polygon, its sides straight or arcs, with any number of voids."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.outline import Outline, arc_ring
from fexro.core.section.shapes.shape import Write

__all__ = ["PolygonShape", "Ring"]

Ring = tuple[tuple[float, float], ...]
Bulges = tuple[float, ...]


@dataclass(frozen=True)
class PolygonShape:
    """Any polygon with any number of voids.

    Attributes:
        outer: its corners.
        voids: corners of each void.
        bulges: of the sides that leave the outer corners, see `arc_ring`; empty: all straight.
        void_bulges: likewise for each void.

    Raises:
        InputError: if it encloses no clear area; see `Outline.from_polygons`.
    """

    outer: Ring
    voids: tuple[Ring, ...] = ()
    bulges: Bulges = ()
    void_bulges: tuple[Bulges, ...] = ()

    def __post_init__(self) -> None:
        self.outline()

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"polygon, {len(self.outer)} corners"

    def outline(self) -> Outline:
        """Return the outline as given."""
        curved = self.void_bulges or ((),) * len(self.voids)
        if len(curved) != len(self.voids):
            raise InputError("void bulges", f"{len(curved)} rings", "one for each void or none")
        voids = [
            _ring(ring, bulges, f"outline, void {i + 1}")
            for i, (ring, bulges) in enumerate(zip(self.voids, curved, strict=True))
        ]
        return Outline.from_polygons([_ring(self.outer, self.bulges, "outline, part 1")], voids)

    def corners(self) -> FloatArray | None:
        """Return the corners as given; nothing where sides are arcs."""
        return None if any(self.bulges) else self.outline().rings[0]


def _ring(points: Ring, bulges: Bulges, where: str) -> FloatArray:
    corners = np.asarray(points, dtype=float)
    if not bulges:
        return corners
    if len(bulges) != len(points):
        raise InputError(f"{where}, bulges", f"{len(bulges)}", f"{len(points)}, one for each side")
    return arc_ring(corners, np.asarray(bulges, dtype=float), where)
