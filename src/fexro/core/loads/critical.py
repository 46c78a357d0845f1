"""Demands on the convex outside of all: the others cannot govern where strength is convex."""

from __future__ import annotations

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from fexro.core.arrays import BoolArray, FloatArray

__all__ = ["outside"]

FLAT = 1e-9  # share of the largest extent up to which demands lie in a plane or on a line


def outside(demands: FloatArray) -> BoolArray:
    """Return which demands are corners of the convex hull of all and the origin, (R,).

    The origin belongs to the hull: a section that carries a demand carries a part of it.

    Args:
        demands: N, Mx, My, (R, 3), in any units.
    """
    count = len(demands)
    found = np.zeros(count, dtype=bool)
    if not count:
        return found
    unique, first = np.unique(demands, axis=0, return_index=True)
    points = np.vstack([unique, np.zeros(3)])
    scale = np.abs(points).max(axis=0)
    points = points / np.where(scale > 0, scale, 1.0)
    # Demands in a plane, or on a line through the origin, are looked at there.
    _, size, axes = np.linalg.svd(points, full_matrices=False)
    rank = int((size > FLAT * max(size[0], FLAT)).sum())
    flat = points @ axes[:rank].T
    if rank == 0:
        return found
    if rank == 1:
        corners = np.array([flat[:, 0].argmin(), flat[:, 0].argmax()])
    elif len(flat) <= rank + 1:
        corners = np.arange(len(flat))
    else:
        try:
            corners = ConvexHull(flat).vertices
        except QhullError:
            corners = np.arange(len(flat))
    kept = corners[corners < len(unique)]
    on_hull = np.zeros(len(unique), dtype=bool)
    on_hull[kept] = True
    found[first[on_hull]] = True
    return found
