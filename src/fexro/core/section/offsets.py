"""How the faces of a column step where another stands on it. Lengths in mm."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.section.section import Section

__all__ = ["FaceStep", "bars_differ", "face_steps"]


@dataclass(frozen=True)
class FaceStep:
    """A face of a column against that of the column on it.

    Attributes:
        axis: that the face is square to, x (0) or y (1).
        inward: how far the face above stands back; negative where it stands out.
        bar_area: of the bars next to the face, mm², and how many there are.
        bars: how many.
    """

    axis: int
    inward: float
    bar_area: float
    bars: int


def face_steps(below: Section, above: Section) -> tuple[FaceStep, ...]:
    """Return the steps of the faces of the boxes around two sections, centroid above centroid."""
    found = []
    boxes = [
        np.array(section.outline.bounds).reshape(2, 2) - section.outline.centroid
        for section in (below, above)
    ]
    for axis in (0, 1):
        places = (below.bars.x, below.bars.y)[axis]
        for sense, row in ((-1, 0), (1, 1)):
            inward = sense * (boxes[0][row, axis] - boxes[1][row, axis])
            outermost = (sense * places).max()
            near = sense * places >= outermost - below.bars.diameter.max() / 2
            area = float(below.bars.area[near].sum())
            found.append(FaceStep(axis, float(inward), area, int(near.sum())))
    return tuple(found)


def bars_differ(below: Section, above: Section) -> bool:
    """Return whether the bars of two sections are not as many of the same areas."""
    one, other = (np.sort(section.bars.area) for section in (below, above))
    return len(one) != len(other) or not np.allclose(one, other)
