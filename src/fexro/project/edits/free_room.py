"""Where a section has room for something more: in its middle, or else where it is roomiest."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from fexro.project.bars import OwnBar
from fexro.project.section import SectionModel, section_of

if TYPE_CHECKING:
    import shapely

__all__ = ["free_room", "shrunk"]

FINELY = 0.01  # of the section, to which the roomiest place is sought
STEP = 10.0  # mm, to which places are rounded


def free_room(
    section: SectionModel, wanted: shapely.Geometry, own: Sequence[OwnBar] = ()
) -> tuple[float, float, float]:
    """Return where something more has room in the concrete, beside bars, steel and openings.

    Args:
        section: the section.
        wanted: what is added, about the origin, mm.
        own: bar sizes of the project that no standard has.

    Returns:
        x and y, mm, and how large it can be there, as a share of what is wanted.
    """
    import shapely
    from shapely.affinity import translate

    found = section_of(section, tuple(own))
    bars, outline = found.bars, found.outline
    spots = shapely.buffer(shapely.points(bars.x, bars.y), bars.diameter / 2 + section.cover)
    taken = [*spots, *(part.outline.polygon.buffer(section.cover) for part in found.steel)]
    room = outline.polygon.buffer(-section.cover).difference(shapely.union_all(taken))
    x, y = (round(value, 1) for value in outline.centroid)
    if room.is_empty or room.covers(translate(wanted, x, y)):
        return x, y, 1.0
    x0, y0, x1, y1 = outline.bounds
    circle = shapely.maximum_inscribed_circle(room, FINELY * max(x1 - x0, y1 - y0))
    x, y = (np.round(shapely.get_coordinates(circle)[0] / STEP) * STEP).tolist()
    left = room.boundary.distance(shapely.Point(x, y))
    reach = shapely.hausdorff_distance(shapely.Point(0.0, 0.0), wanted)
    return x, y, min(left / reach, 1.0)


def shrunk(size: float, share: float, step: float, least: float) -> float:
    """Return a share of a size, mm, down to a step, but not less than the least."""
    return max(math.floor(share * size / step + 1e-9) * step, least)
