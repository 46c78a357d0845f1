"""Where rays from inside meet the strength surface, exactly.

A ray is first followed through the triangles of the mesh, which is closed, so that no crossing is
lost; the crossing is then refined in the two parameters of the surface (direction of the
compressed side, place in the family of limit planes) by Newton's method. Where the surface has a
jump or a fold and Newton's method does not settle, the neighbourhood is subdivided around the ray
until it is smaller than any digit shown, and the nearer side of the jump counts.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from fexro.core.section.outline import FloatArray
from fexro.core.strength.surface import Mesh, Points, Strength

__all__ = ["BoolArray", "Crossings", "IntArray", "first_crossings"]

IntArray = npt.NDArray[np.intp]
BoolArray = npt.NDArray[np.bool_]

TOLERANCE = 1e-10
STEPS, FRESH_SLOPES = 10, (0, 5)
SIDES, STEPS_BESIDE = 3, 5
DIFFERENCE = 1e-5  # of a cell of the mesh
SUBDIVISIONS = 40
SUBGRID = 7
CHUNK = 64
FEW, WALK = 600, 14  # rays from which walking pays, and its steps
EVERY = 3  # depths of the mesh that are passed over in the search for a start

# Corners (row, column) of the two triangles of a mesh cell.
_TRIANGLES = np.array([[[0, 0], [1, 0], [1, 1]], [[0, 0], [1, 1], [0, 1]]])
# The same as numbers of the corners, taken around the cell.
_CORNERS = np.array([[0, 1, 2], [0, 2, 3]])


@dataclass(frozen=True, eq=False)
class Crossings:
    """The first crossing of each ray, (R,).

    Attributes:
        distance: distance along the ray as a multiple of its direction; infinite without crossing.
        angle: direction of the compressed side there, radians.
        fraction: place in the family of limit planes there.
        count: number of crossings found along the ray.
    """

    distance: FloatArray
    angle: FloatArray
    fraction: FloatArray
    count: IntArray


@dataclass(frozen=True, eq=False)
class _Rays:
    """Rays in scaled coordinates with two unit vectors square to each, all (R, 3)."""

    origin: FloatArray
    along: FloatArray
    u: FloatArray
    v: FloatArray

    def take(self, index: IntArray) -> _Rays:
        return _Rays(self.origin[index], self.along[index], self.u[index], self.v[index])

    def locate(self, points: FloatArray) -> FloatArray:
        """Return (R, …, 3): offsets of points (R, …, 3) from the ray in u and v, and along it."""
        middle = (slice(None),) + (None,) * (points.ndim - 2)
        axes = np.stack([self.u, self.v, self.along], axis=-1)
        located: FloatArray = np.matmul(
            points - self.origin[middle], axes[middle] if points.ndim > 3 else axes
        )
        return located


def first_crossings(strength: Strength, origin: FloatArray, direction: FloatArray) -> Crossings:
    """Find where rays first meet the design surface.

    Args:
        strength: the section's strength.
        origin: starting points N, Mx, My, (R, 3), N and N·mm.
        direction: directions, (R, 3), not zero.

    Returns:
        The first crossing of each ray; the cap of the axial force is not part of the surface here.
    """
    mesh = strength.mesh
    if not len(direction):
        nothing = np.zeros(0)
        return Crossings(nothing, nothing, nothing, np.zeros(0, dtype=np.intp))
    scaled = direction / mesh.scale
    length = np.sqrt((scaled**2).sum(axis=1))
    rays = _frame(origin / mesh.scale, scaled / length[:, None])
    count = np.zeros(len(length), dtype=np.intp)
    distance = np.full(len(length), np.inf)
    angle, fraction = np.zeros(len(length)), np.zeros(len(length))

    surface = mesh.points.design[:, ::EVERY] / mesh.scale
    ray, start_angle, start_fraction = _through_mesh(mesh, surface, rays)
    if len(ray):
        hit = _refine(strength, rays.take(ray), start_angle, start_fraction)
        found = hit[:, 0] > 0
        np.add.at(count, ray[found], 1)
        # Of several crossings of a ray the nearest is written last.
        order = np.argsort(-hit[:, 0], kind="stable")
        order = order[found[order]]
        distance[ray[order]], angle[ray[order]], fraction[ray[order]] = hit[order].T
    return Crossings(distance / length, angle, fraction, count)


def _frame(origin: FloatArray, along: FloatArray) -> _Rays:
    helper = np.eye(3)[np.abs(along).argmin(axis=1)]
    u = np.cross(along, helper)
    u /= np.sqrt((u**2).sum(axis=1))[:, None]
    return _Rays(origin, along, u, np.cross(along, u))


def _through_mesh(
    mesh: Mesh, surface: FloatArray, rays: _Rays
) -> tuple[IntArray, FloatArray, FloatArray]:
    """Return rays, angles and fractions where rays pass through triangles of the mesh."""
    found, sought = [], np.arange(len(rays.u))
    if len(sought) > FEW and not rays.origin.any():
        # From the origin a ray passes through once; many are led there from cell to cell.
        found.append(_walk(mesh, surface, rays))
        sought = np.setdiff1d(sought, found[0][0])
    for start in range(0, len(sought), CHUNK):
        found.append(_through_cells(mesh, surface, rays, sought[start : start + CHUNK]))
    ray, angle, fraction = (np.concatenate(parts) for parts in zip(*found, strict=True))
    return ray, angle, fraction


def _walk(mesh: Mesh, surface: FloatArray, rays: _Rays) -> tuple[IntArray, FloatArray, FloatArray]:
    """Follow rays from the origin to their triangle, from the nearest of a few corners of cells.

    Returns:
        As `_through_mesh`, for the rays that arrive.
    """
    height, width = surface.shape[0] - 1, surface.shape[1] - 1
    few = surface[:-1:4, 1:-1:3]
    few = few / np.sqrt((few**2).sum(axis=-1, keepdims=True))
    nearest = (rays.along @ few.reshape(-1, 3).T).argmax(axis=1)
    row, column = np.unravel_index(nearest, few.shape[:2])
    row, column = row * 4, np.minimum(column * 3 + 1, width - 1)
    index, found = np.arange(len(row)), []
    for _ in range(WALK):
        part = rays.take(index)
        quads = (
            np.stack([row, row + 1, row + 1, row], -1),
            np.stack([column, column, column + 1, column + 1], -1),
        )
        corners = part.locate(surface[quads])
        located = corners[:, [[0, 1, 2], [0, 2, 3]]]
        weight = _weights(located[..., :2])
        ahead = (weight * located[..., 2]).sum(axis=-1) > 0
        inside = _encloses_origin(located[..., :2]) & ahead
        here, triangle = np.nonzero(inside)
        rows, columns = (at[here[:, None], _CORNERS[triangle]] for at in quads)
        weight = weight[here, triangle]
        found.append(
            (
                index[here],
                (weight * mesh.angle[rows]).sum(axis=-1),
                (weight * mesh.fraction[::EVERY][columns]).sum(axis=-1),
            )
        )
        # Where the ray would pass if the cell went on as it is.
        a, b, c, d = np.moveaxis(corners[..., :2], 1, 0)
        down, across = (b - a + c - d) / 2, (d - a + c - b) / 2
        det = down[:, 0] * across[:, 1] - down[:, 1] * across[:, 0]
        det = np.where(np.abs(det) < 1e-14, np.inf, det)
        rows_on = np.floor((a[:, 1] * across[:, 0] - a[:, 0] * across[:, 1]) / det)
        columns_on = np.floor((a[:, 0] * down[:, 1] - a[:, 1] * down[:, 0]) / det)
        rows_on, columns_on = (np.clip(on, -4, 4).astype(np.intp) for on in (rows_on, columns_on))
        next_column = np.clip(column + columns_on, 0, width - 1)
        going = ~inside.any(axis=1) & ((rows_on != 0) | (next_column != column))
        row, column = ((row + rows_on) % height)[going], next_column[going]
        index = index[going]
        if not len(index):
            break
    ray, angle, fraction = (np.concatenate(parts) for parts in zip(*found, strict=True))
    return ray, angle, fraction


def _through_cells(
    mesh: Mesh, surface: FloatArray, rays: _Rays, index: IntArray
) -> tuple[IntArray, FloatArray, FloatArray]:
    part = rays.take(index)
    flat = surface.reshape(-1, 3).T
    sides = [axis @ flat > (axis * part.origin).sum(axis=1)[:, None] for axis in (part.u, part.v)]
    side = (sides[0].view(np.uint8) | (sides[1].view(np.uint8) << 1)).reshape(
        -1, *surface.shape[:2]
    )
    which, row, column = _straddling(side)
    rows = row[:, None, None] + _TRIANGLES[..., 0]
    columns = column[:, None, None] + _TRIANGLES[..., 1]
    corners = surface[rows, columns].reshape(len(which), 6, 3)
    located = part.take(which).locate(corners).reshape(-1, 2, 3, 3)
    inside = _encloses_origin(located[..., :2])
    weight = _weights(located[..., :2])
    ahead = (weight * located[..., 2]).sum(axis=-1) > 0
    cell, triangle = np.nonzero(inside & ahead)
    weight = weight[cell, triangle]
    angle = (weight * mesh.angle[rows[cell, triangle]]).sum(axis=-1)
    fraction = (weight * mesh.fraction[::EVERY][columns[cell, triangle]]).sum(axis=-1)
    return index[which[cell]], angle, fraction


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


def _encloses_origin(corners: FloatArray) -> BoolArray:
    """Tell whether triangles (…, 3, 2) enclose the origin; a shared edge counts for one of two."""
    ahead = np.roll(corners, -1, axis=-2)
    p, q, u, v = corners[..., 0], corners[..., 1], ahead[..., 0], ahead[..., 1]
    spans = (q > 0) != (v > 0)
    with np.errstate(divide="ignore", invalid="ignore"):
        crosses = spans & (p - q * (u - p) / (v - q) > 0)
    inside: BoolArray = crosses.sum(axis=-1) % 2 == 1
    return inside


def _weights(corners: FloatArray) -> FloatArray:
    """Return the barycentric weights (…, 3) of the origin in triangles (…, 3, 2)."""
    x, y = corners[..., 0], corners[..., 1]
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


def _evaluate(
    strength: Strength, angle: FloatArray, fraction: FloatArray, held: Points | None = None
) -> FloatArray:
    """Return scaled surface points (H, G, 3) at angles and fractions (H, G).

    The strains of `held` (H, 1) decide what the bars displace, where they are given.
    """
    if held is not None:
        held = held.part(np.repeat(np.arange(len(angle)), angle.shape[1]))
    points = strength.at(angle.ravel(), fraction.reshape(-1, 1), held)
    return points.design.reshape(*angle.shape, 3) / strength.mesh.scale


def _refine(strength: Strength, rays: _Rays, angle: FloatArray, fraction: FloatArray) -> FloatArray:
    """Return distance, angle and fraction (H, 3) of crossings near given starts; 0 if lost."""
    mesh = strength.mesh
    cell = np.searchsorted(mesh.angle, angle, side="right").clip(1, len(mesh.angle) - 1)
    width = mesh.angle[cell] - mesh.angle[cell - 1]
    reach = np.column_stack([width, np.full(len(width), mesh.fraction[EVERY])])
    start = np.column_stack([angle, fraction])
    result = np.column_stack([np.zeros(len(angle)), start])
    active, place = np.arange(len(angle)), start.copy()
    slope = np.empty((len(angle), 2, 2))
    miss, change = np.empty((len(angle), 2)), np.empty((len(angle), 2))
    for step in range(STEPS):
        part = rays.take(active)
        if step in FRESH_SLOPES:
            located, slope = _with_slope(strength, part, place, reach[active])
        else:
            located = part.locate(_evaluate(strength, place[:, :1], place[:, 1:]))[:, 0]
            # Broyden: the least change of the slope that explains the step just taken.
            surprise = located[:, :2] - miss - np.einsum("rij,rj->ri", slope, change)
            length = (change**2).sum(axis=1)
            slope += (
                surprise[:, :, None] * (change / np.maximum(length, 1e-30)[:, None])[:, None, :]
            )
        miss = located[:, :2]
        done = np.abs(miss).max(axis=1) < TOLERANCE
        result[active[done], 0] = located[done, 2]
        result[active[done], 1:] = place[done]
        moved, regular = _newton_step(place, miss, slope, reach[active])
        near = (np.abs(moved - start[active]) < 3 * reach[active]).all(axis=1)
        keep = ~done & near & regular
        change = ((moved - place) / reach[active])[keep]
        active, place, miss, slope = active[keep], moved[keep], miss[keep], slope[keep]
        if not len(active):
            break
    lost = np.flatnonzero(result[:, 0] == 0)
    if len(lost):
        result[lost] = _beside_step(strength, rays.take(lost), start[lost], reach[lost])
        lost = lost[result[lost, 0] == 0]
    if len(lost):
        result[lost] = _subdivide(strength, rays.take(lost), start[lost], reach[lost])
    return result


def _beside_step(
    strength: Strength, rays: _Rays, start: FloatArray, reach: FloatArray
) -> FloatArray:
    """Return crossings (H, 3) where bars entering a block leave a step in the surface; 0 if lost.

    With the concrete that bars displace held as it is on one side, that side goes on smoothly past
    the step and meets the ray; the place it meets it decides the other side. The weaker counts.
    """
    place, weaker = start.copy(), np.zeros((len(start), 3))
    for side in range(SIDES):
        held = strength.at(place[:, 0], place[:, 1:])
        for _ in range(STEPS_BESIDE):
            located, slope = _with_slope(strength, rays, place, reach, held)
            if np.abs(located[:, :2]).max() < TOLERANCE:
                break
            place, _ = _newton_step(place, located[:, :2], slope, reach)
        met = _evaluate(strength, place[:, :1], place[:, 1:], held)
        located = rays.locate(met)[:, 0]
        good = (np.abs(located[:, :2]).max(axis=1) < 1e-8) & (located[:, 2] > 0)
        good &= (np.abs(place - start) < 4 * reach).all(axis=1)
        # The first side starts from afar and only leads to the step.
        if side > 0:
            better = good & ((weaker[:, 0] == 0) | (located[:, 2] < weaker[:, 0]))
            weaker[better] = np.column_stack([located[:, 2], place])[better]
            weaker[~good] = 0.0
    return weaker


def _newton_step(
    place: FloatArray, miss: FloatArray, slope: FloatArray, reach: FloatArray
) -> tuple[FloatArray, BoolArray]:
    """Return places (H, 2) one step of Newton's method on, `reach` at most, and which slopes allow.

    Where a slope (H, 2, 2) is singular the place stays.
    """
    det = slope[:, 0, 0] * slope[:, 1, 1] - slope[:, 0, 1] * slope[:, 1, 0]
    regular: BoolArray = np.abs(det) > 1e-16
    u, v = miss[:, 0], miss[:, 1]
    step = np.column_stack(
        [v * slope[:, 0, 1] - u * slope[:, 1, 1], u * slope[:, 1, 0] - v * slope[:, 0, 0]]
    )
    step /= np.where(regular, det, np.inf)[:, None]
    moved = place + np.clip(step, -1.0, 1.0) * reach
    moved[:, 1] = np.clip(moved[:, 1], 0.0, 1.0)
    return moved, regular


def _with_slope(
    strength: Strength,
    rays: _Rays,
    place: FloatArray,
    reach: FloatArray,
    held: Points | None = None,
) -> tuple[FloatArray, FloatArray]:
    """Return offsets of surface points (H, 3) and their slopes (H, 2, 2) over a step of `reach`."""
    step = DIFFERENCE * reach
    # Differences are taken towards the inside of the family, which ends at 0 and 1.
    side = np.where(place[:, 1] > 0.5, -step[:, 1], step[:, 1])
    angles = place[:, :1] + step[:, :1] * np.array([0.0, 1.0, 0.0])
    fractions = place[:, 1:] + side[:, None] * np.array([0.0, 0.0, 1.0])
    located = rays.locate(_evaluate(strength, angles, fractions, held))
    change = located[:, 1:, :2] - located[:, :1, :2]
    change[:, 1] *= np.sign(side)[:, None]
    return located[:, 0], change.transpose(0, 2, 1) / DIFFERENCE


def _subdivide(strength: Strength, rays: _Rays, start: FloatArray, reach: FloatArray) -> FloatArray:
    """Close in on crossings by subdividing the neighbourhood of each start; (H, 3)."""
    centre, half = start.copy(), reach.copy()
    grid = np.linspace(-1.0, 1.0, SUBGRID)
    cells = np.arange(SUBGRID - 1)
    row = np.repeat(cells, SUBGRID - 1)[:, None, None] + _TRIANGLES[..., 0]
    column = np.tile(cells, SUBGRID - 1)[:, None, None] + _TRIANGLES[..., 1]
    corner = (row * SUBGRID + column).reshape(-1, 3)
    shape = (len(start), SUBGRID, SUBGRID)
    result = np.zeros((len(start), 3))
    every = np.arange(len(start))
    for _ in range(SUBDIVISIONS):
        angles = centre[:, :1] + half[:, :1] * grid
        fractions = np.clip(centre[:, 1:] + half[:, 1:] * grid, 0, 1)
        angles = np.broadcast_to(angles[:, :, None], shape).reshape(len(start), -1)
        fractions = np.broadcast_to(fractions[:, None, :], shape).reshape(len(start), -1)
        located = rays.locate(_evaluate(strength, angles, fractions))
        triangles = located[:, corner]
        met = (_weights(triangles[..., :2]) * triangles[..., 2]).sum(axis=-1)
        met = np.where(_encloses_origin(triangles[..., :2]) & (met > 0), met, np.inf)
        best = met.argmin(axis=1)
        hit = np.isfinite(met[every, best])
        cell = corner[best]
        # The capacity is that of the weaker corner: at a jump the side that is safe.
        result[hit, 0] = triangles[every, best, :, 2].min(axis=-1)[hit]
        result[hit, 1] = angles[every[:, None], cell].mean(axis=1)[hit]
        result[hit, 2] = fractions[every[:, None], cell].mean(axis=1)[hit]
        centre[hit] = result[hit, 1:]
        # The ray may leave the chord for a neighbouring cell: keep one more on each side.
        half = np.where(hit[:, None], half * 0.5, half * 1.7)
        corners = triangles[every, best, :, 2]
        settled = np.ptp(corners, axis=1) < 1e-10 * np.abs(corners).max(axis=1)
        if ((settled & hit) | (half[:, 0] < 1e-7)).all():
            break
    return result
