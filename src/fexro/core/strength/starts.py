"""Where on the strength surface rays from inside are likely to meet it: starts of the solution."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.strength.surface import Curved, Mesh, Solvable

__all__ = [
    "TRIANGLES",
    "Rays",
    "Starts",
    "about_corners",
    "curved",
    "encloses_origin",
    "frame",
    "joined",
    "nearest_corners",
    "nearest_on_mesh",
    "newton_step",
    "through_mesh",
    "towards",
    "weights",
]

QUADRATIC_STEPS = 3
NUDGE = 1e-9  # radians
EVERY = 2  # row and column of the mesh among which the nearest corner is sought first
CHUNK = 64  # rays followed through the cells of the mesh together
ROWS = 256  # directions compared with the corners of the mesh together

# Corners (row, column) of the two triangles of a mesh cell.
TRIANGLES = np.array([[[0, 0], [1, 0], [1, 1]], [[0, 0], [1, 1], [0, 1]]])


@dataclass(frozen=True, eq=False)
class Rays:
    """Rays in scaled coordinates: origins (3, R) and axes (3, 3, R): two square to each, along it.

    The second index of `axes` is that of the coordinate. `strength` is that of the section whose
    surface they meet, or of each of them its own.
    """

    strength: Solvable
    origin: FloatArray
    axes: FloatArray

    def take(self, index: IntArray) -> Rays:
        """Return some of the rays."""
        return Rays(self.strength.take(index), self.origin[:, index], self.axes[:, :, index])

    def nudged(self) -> Rays:
        """Return the rays turned by next to nothing."""
        u, v, along = self.axes
        turned = along + NUDGE * (u + 0.6 * v)
        return Rays(
            self.strength,
            self.origin,
            np.stack([u - NUDGE * along, v - 0.6 * NUDGE * along, turned]),
        )

    def locate(self, points: FloatArray) -> FloatArray:
        """Return offsets of points (3, R, …) from the ray, and the way along it, (3, R, …)."""
        aside = (slice(None), slice(None)) + (None,) * (points.ndim - 2)
        offset = points - self.origin[aside]
        located: FloatArray = np.einsum("ijr,jr...->ir...", self.axes, offset)
        return located


@dataclass(frozen=True, eq=False)
class Starts:
    """Rays (R,) by their index, and where in the surface their crossings are sought.

    Attributes:
        place: angle and fraction to start from, (2, R).
        reach: the size of the cell around it, (2, R).
        slope: offsets from the ray over that size, (2, 2, R), as far as known: about.
    """

    ray: IntArray
    place: FloatArray
    reach: FloatArray
    slope: FloatArray | None = None

    def take(self, index: IntArray | BoolArray | slice) -> Starts:
        """Return some of the starts."""
        slope = None if self.slope is None else self.slope[..., index]
        return Starts(self.ray[index], self.place[:, index], self.reach[:, index], slope)


def joined(parts: Sequence[Starts]) -> Starts:
    """Return starts of parts, all with slopes, one after the other, as those of one set of rays."""
    first = np.cumsum([0, *(len(part.ray) for part in parts[:-1])])
    slopes = [part.slope for part in parts if part.slope is not None]
    return Starts(
        np.concatenate([part.ray + n for part, n in zip(parts, first, strict=True)]),
        np.concatenate([part.place for part in parts], axis=-1),
        np.concatenate([part.reach for part in parts], axis=-1),
        np.concatenate(slopes, axis=-1),
    )


def frame(strength: Solvable, origin: FloatArray, direction: FloatArray) -> tuple[Rays, FloatArray]:
    """Return rays of origins and directions (R, 3), and the lengths of the directions."""
    length = np.sqrt((direction**2).sum(axis=1))
    along = direction / length[:, None]
    helper = np.eye(3)[np.abs(along).argmin(axis=1)]
    u = np.cross(along, helper)
    u /= np.sqrt((u**2).sum(axis=1))[:, None]
    axes = np.ascontiguousarray(np.stack([u, np.cross(along, u), along]).transpose(0, 2, 1))
    return Rays(strength, np.ascontiguousarray(origin.T), axes), length


def towards(mesh: Mesh, rays: Rays) -> Starts:
    """Return starts of rays from the origin: about the corners that lie in their directions."""
    corner = nearest_corners(mesh.curved, rays.axes[2])
    return about_corners(mesh.curved, rays, np.arange(len(corner)), corner)


def curved(mesh: Mesh, rays: Rays, starts: Starts) -> Starts:
    """Return starts (H,) with the surface as it curves about the nearest corner of its mesh."""
    angle, fraction = starts.place
    row = np.rint(np.interp(angle, mesh.angle, np.arange(len(mesh.angle)))).astype(np.intp)
    column = np.rint(fraction / mesh.fraction[1]).astype(np.intp)
    rows, columns = len(mesh.angle) - 1, mesh.curved.columns
    corner = row % rows * columns + np.clip(column - 1, 0, columns - 1)
    return about_corners(mesh.curved, rays.take(starts.ray), starts.ray, corner)


def about_corners(curved: Curved, rays: Rays, ray: IntArray, corner: IntArray) -> Starts:
    """Return where rays meet the surface as it curves about corners of a mesh, one for each."""
    terms = np.take(curved.points, corner, axis=2)
    terms[0] -= rays.origin
    located = np.einsum("ijr,kjr->kir", rays.axes, terms)
    aside = np.zeros((2, len(corner)))
    for _ in range(QUADRATIC_STEPS):
        aside += newton_step(*_quadratic(located, aside))[0]
    _, slope = _quadratic(located, aside)
    row, column = np.divmod(corner, curved.columns)
    (angle,), (turn,) = _quadratic(np.take(curved.angle, row, axis=2), aside)
    depth = np.clip((column + 1 + aside[1]) * curved.fraction[1], 0.0, 1.0)
    reach = np.stack([turn[0], np.full(len(corner), curved.fraction[1])])
    return Starts(ray, np.stack([angle, depth]), reach, slope)


def nearest_corners(curved: Curved, along: FloatArray) -> IntArray:
    """Return which corners of a mesh lie in directions (3, R) best, but for rare neighbours."""
    units, along = curved.units, along.T.astype(np.float32)
    number = np.arange(units.shape[1]).reshape(-1, curved.columns)
    some = number[1::EVERY, 1::EVERY].ravel()
    coarse = units[:, some]
    parts = np.split(along, range(ROWS, len(along), ROWS))
    best = some[np.concatenate([(part @ coarse).argmax(axis=1) for part in parts])]
    # Of the best among some, all that lie around.
    row, column = np.divmod(best[:, None], number.shape[1])
    aside = np.arange(-1, 2)
    near = number[
        (row + np.repeat(aside, 3)) % len(number),
        np.minimum(column + np.tile(aside, 3), number.shape[1] - 1),
    ]
    closeness: FloatArray = np.einsum("crk,rc->rk", units[:, near], along)
    nearest: IntArray = near[np.arange(len(near)), closeness.argmax(axis=1)]
    return nearest


def _quadratic(terms: FloatArray, aside: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Return values (I, R) and slopes (I, 2, R) of quadratics (6, I, R) at places (2, R)."""
    value, down, across, down_down, down_across, across_across = terms
    x, y = aside
    slope = np.stack(
        [down + x * down_down + y * down_across, across + x * down_across + y * across_across],
        axis=1,
    )
    return value + (x * (down + slope[:, 0]) + y * (across + slope[:, 1])) / 2, slope


def newton_step(miss: FloatArray, slope: FloatArray) -> tuple[FloatArray, BoolArray]:
    """Return steps (2, H) of Newton's method, one cell at most, and which slopes allow them.

    Where a slope (2, 2, H) is singular the step is none.
    """
    det = slope[0, 0] * slope[1, 1] - slope[0, 1] * slope[1, 0]
    regular: BoolArray = np.abs(det) > 1e-16
    step = np.empty_like(miss[:2])
    step[0] = miss[1] * slope[0, 1] - miss[0] * slope[1, 1]
    step[1] = miss[0] * slope[1, 0] - miss[1] * slope[0, 0]
    step /= np.where(regular, det, np.inf)
    np.maximum(np.minimum(step, 1.0, out=step), -1.0, out=step)
    return step, regular


def through_mesh(mesh: Mesh, rays: Rays, sought: IntArray) -> Starts:
    """Return starts where rays pass through triangles of the mesh, which is closed."""
    ray, angle, fraction, _ = _passing(mesh, rays, sought)
    cell = np.searchsorted(mesh.angle, angle, side="right").clip(1, len(mesh.angle) - 1)
    width = mesh.angle[cell] - mesh.angle[cell - 1]
    reach = np.stack([width, np.full(len(width), mesh.fraction[1])])
    return Starts(ray, np.stack([angle, fraction]), reach)


def nearest_on_mesh(mesh: Mesh, rays: Rays) -> FloatArray:
    """Return how far along rays they first pass through a triangle of the mesh, (R,), or never."""
    count = rays.origin.shape[1]
    found = np.full(count, np.inf)
    ray, _, _, met = _passing(mesh, rays, np.arange(count))
    np.minimum.at(found, ray, met)
    return found


def _passing(
    mesh: Mesh, rays: Rays, sought: IntArray
) -> tuple[IntArray, FloatArray, FloatArray, FloatArray]:
    """Return rays where they pass through triangles: which, the place there, and how far along."""
    surface = mesh.points.design / mesh.scale
    parts = [
        _through_cells(mesh, surface, rays, sought[start : start + CHUNK])
        for start in range(0, len(sought), CHUNK)
    ]
    ray, angle, fraction, met = (np.concatenate(found) for found in zip(*parts, strict=True))
    return ray, angle, fraction, met


def _through_cells(
    mesh: Mesh, surface: FloatArray, rays: Rays, index: IntArray
) -> tuple[IntArray, FloatArray, FloatArray, FloatArray]:
    part = rays.take(index)
    flat = surface.reshape(-1, 3).T
    sides = [
        axis.T @ flat > np.einsum("ir,ir->r", axis, part.origin)[:, None] for axis in part.axes[:2]
    ]
    side = (sides[0].view(np.uint8) | (sides[1].view(np.uint8) << 1)).reshape(
        -1, *surface.shape[:2]
    )
    which, row, column = _straddling(side)
    rows = row[:, None, None] + TRIANGLES[..., 0]
    columns = column[:, None, None] + TRIANGLES[..., 1]
    located = part.take(which).locate(np.moveaxis(surface[rows, columns], -1, 0))
    weight = weights(located)
    ahead = (weight * located[2]).sum(axis=-1) > 0
    cell, triangle = np.nonzero(encloses_origin(located) & ahead)
    weight = weight[cell, triangle]
    angle = (weight * mesh.angle[rows[cell, triangle]]).sum(axis=-1)
    fraction = (weight * mesh.fraction[columns[cell, triangle]]).sum(axis=-1)
    met = (weight * located[2, cell, triangle]).sum(axis=-1)
    return index[which[cell]], angle, fraction, met


def _straddling(side: npt.NDArray[np.uint8]) -> tuple[IntArray, IntArray, IntArray]:
    """Return ray, row and column of cells whose corners lie on both sides of u and of v.

    Args:
        side: a bit for each of u and v at the corners of the grid, (R, A, D).
    """
    some = side[:, :-1] | side[:, 1:]
    every = side[:, :-1] & side[:, 1:]
    some = some[..., :-1] | some[..., 1:]
    every = every[..., :-1] & every[..., 1:]
    cells = np.flatnonzero((some & ~every) == 3)
    which, row, column = np.unravel_index(cells, some.shape)
    return which, row, column


def encloses_origin(corners: FloatArray) -> BoolArray:
    """Tell whether triangles (2, …, 3) enclose the origin; a shared edge counts for one of two."""
    p, q = corners[0], corners[1]
    u, v = np.roll(p, -1, axis=-1), np.roll(q, -1, axis=-1)
    # Written so that rounding is the same whichever way an edge is followed.
    crosses = ((q > 0) != (v > 0)) & ((p * v - q * u) * (v - q) > 0)
    inside: BoolArray = crosses.sum(axis=-1) % 2 == 1
    return inside


def weights(corners: FloatArray) -> FloatArray:
    """Return the barycentric weights (…, 3) of the origin in triangles (2, …, 3)."""
    x, y = corners[0], corners[1]
    area = np.stack(
        [
            x[..., 1] * y[..., 2] - x[..., 2] * y[..., 1],
            x[..., 2] * y[..., 0] - x[..., 0] * y[..., 2],
            x[..., 0] * y[..., 1] - x[..., 1] * y[..., 0],
        ],
        axis=-1,
    )
    total = area.sum(axis=-1, keepdims=True)
    weights: FloatArray = np.where(total == 0, 1 / 3, area / np.where(total == 0, 1.0, total))
    return np.clip(weights, 0.0, 1.0)
