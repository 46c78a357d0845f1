"""Where rays from inside meet the strength surface, exactly.

A ray is first led to a cell of a mesh of the surface; the crossing is then refined in the two
parameters of the surface (direction of the compressed side, place in the family of limit planes) by
Newton's method. Where bars enter a block, the surface is a stack of sheets with steps and overlaps
between them: a sheet is followed with the concrete that bars displace held as it is on one side,
and of the sheets that a ray may meet the nearer counts. Where Newton's method does not settle, the
neighbourhood is subdivided around the ray until it is smaller than any digit shown.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from fexro.core.section.outline import FloatArray
from fexro.core.strength.laws import SideArray
from fexro.core.strength.surface import IntArray, Mesh, Strength

__all__ = ["BoolArray", "Crossings", "first_crossings"]

BoolArray = npt.NDArray[np.bool_]

TOLERANCE = 1e-8
STEPS, FRESH_SLOPES = 12, (0, 3, 5, 7, 9)
DIFFERENCE = 1e-5  # of a cell of the mesh
NUDGE = 1e-9  # radians
SHEETS = 4  # that are tried one after the other
# Times the share that a bar's concrete has in the largest force, and times the spread of the bars'
# strains: what lies nearer to a step than that is beside it.
BESIDE, LEAST_SPREAD, ROWS = 4.0, 1e-4, 3
SUBDIVISIONS, ZOOMS = 40, 4
SUBGRID = 7
MANY = 5000  # rays refined together, so that their arrays stay in the processor's cache
CHUNK = 64  # rays followed through the cells of the mesh together
EVERY = 3  # depths of the mesh that are passed over in the search for a start

# Corners (row, column) of the two triangles of a mesh cell.
_TRIANGLES = np.array([[[0, 0], [1, 0], [1, 1]], [[0, 0], [1, 1], [0, 1]]])


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
    """Rays in scaled coordinates: origins (3, R) and axes (3, 3, R): two square to each, along it.

    The second index of `axes` is that of the coordinate.
    """

    origin: FloatArray
    axes: FloatArray

    def take(self, index: IntArray | slice) -> _Rays:
        return _Rays(self.origin[:, index], self.axes[:, :, index])

    def nudged(self) -> _Rays:
        """Return the rays turned by next to nothing."""
        u, v, along = self.axes
        turned = along + NUDGE * (u + 0.6 * v)
        return _Rays(self.origin, np.stack([u - NUDGE * along, v - 0.6 * NUDGE * along, turned]))

    def locate(self, points: FloatArray) -> FloatArray:
        """Return offsets of points (3, R, …) from the ray, and the way along it, (3, R, …)."""
        aside = (slice(None), slice(None)) + (None,) * (points.ndim - 2)
        offset = points - self.origin[aside]
        located: FloatArray = np.einsum("ijr,jr...->ir...", self.axes, offset)
        return located


@dataclass(frozen=True, eq=False)
class _Starts:
    """Rays (R,) by their index, and where in the surface their crossings are sought.

    Attributes:
        place: angle and fraction to start from, (2, R).
        reach: the size of the cell around it, (2, R).
    """

    ray: IntArray
    place: FloatArray
    reach: FloatArray

    def take(self, index: IntArray | BoolArray | slice) -> _Starts:
        return _Starts(self.ray[index], self.place[:, index], self.reach[:, index])


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
    rays, length = _frame(origin / mesh.scale, direction / mesh.scale)
    count = np.zeros(len(length), dtype=np.intp)
    distance = np.full(len(length), np.inf)
    place = np.zeros((2, len(length)))
    sought = np.arange(len(length))
    if not origin.any():
        # From the origin a ray crosses once, near the corner of the mesh that lies in its direction
        # best; the few that do not arrive from there are followed through all cells.
        starts = _towards(mesh, rays)
        arrived = _settle(strength, rays, starts, distance, place, count)
        sought = sought[~arrived]
    if len(sought):
        _search(strength, rays, sought, distance, place, count)
    missed = np.flatnonzero(np.isinf(distance))
    if len(missed):
        # A ray through an end of the family, where all directions meet, runs along edges of the
        # mesh; turned by less than any digit shown it passes through a triangle.
        _search(strength, rays.nudged(), missed, distance, place, count)
    return Crossings(distance / length, place[0], place[1], count)


def _search(
    strength: Strength,
    rays: _Rays,
    sought: IntArray,
    distance: FloatArray,
    place: FloatArray,
    count: IntArray,
) -> None:
    """Follow rays through all cells of the mesh and refine their crossings."""
    starts = _through_mesh(strength.mesh, rays, sought)
    lost = starts.take(~_settle(strength, rays, starts, distance, place, count))
    # Where the surface bends sharply, Newton's method starts again from nearby.
    if len(lost.ray):
        _, nearby = _subdivide(strength, rays, lost, ZOOMS)
        lost = nearby.take(~_settle(strength, rays, nearby, distance, place, count))
    if len(lost.ray):
        met, nearby = _subdivide(strength, rays, lost, SUBDIVISIONS)
        _keep_nearest(nearby.ray, met, nearby.place, distance, place, count)


def _frame(origin: FloatArray, direction: FloatArray) -> tuple[_Rays, FloatArray]:
    """Return rays of origins and directions (R, 3), and the lengths of the directions."""
    length = np.sqrt((direction**2).sum(axis=1))
    along = direction / length[:, None]
    helper = np.eye(3)[np.abs(along).argmin(axis=1)]
    u = np.cross(along, helper)
    u /= np.sqrt((u**2).sum(axis=1))[:, None]
    axes = np.ascontiguousarray(np.stack([u, np.cross(along, u), along]).transpose(0, 2, 1))
    return _Rays(np.ascontiguousarray(origin.T), axes), length


def _keep_nearest(
    ray: IntArray,
    met: FloatArray,
    where: FloatArray,
    distance: FloatArray,
    place: FloatArray,
    count: IntArray,
) -> None:
    """Count crossings (H,) for their rays and keep the nearest of each; not a number is none."""
    found = np.flatnonzero(met > 0)
    np.add.at(count, ray[found], 1)
    # Of several crossings of a ray the nearest is written last.
    found = found[np.argsort(-met[found], kind="stable")]
    found = found[met[found] < distance[ray[found]]]
    distance[ray[found]], place[:, ray[found]] = met[found], where[:, found]


def _towards(mesh: Mesh, rays: _Rays) -> _Starts:
    """Return starts of rays from the origin: the surface made plane at the nearest corner."""
    points = np.moveaxis(mesh.points.design / mesh.scale, -1, 0)
    columns = np.arange(1, points.shape[2] - 1)
    corners = points[:, :-1, columns]
    # Slopes over a cell, from the neighbours on both sides; the directions are not evenly spaced.
    width = np.diff(mesh.angle)
    before = np.roll(width, 1)
    down = np.roll(corners, -1, axis=1) - np.roll(corners, 1, axis=1)
    down *= (width / (width + before))[:, None]
    across = (points[:, :-1, columns + 1] - points[:, :-1, columns - 1]) / 2
    towards = corners.reshape(3, -1)
    towards = (towards / np.sqrt((towards**2).sum(axis=0))).astype(np.float32)
    along = rays.axes[2].T.astype(np.float32)
    nearest = np.concatenate(
        [
            (part @ towards).argmax(axis=1)
            for part in np.split(along, range(CHUNK, len(along), CHUNK))
        ]
    )
    row, column = np.unravel_index(nearest, corners.shape[1:])
    reach = np.stack([width[row], np.full(len(row), mesh.fraction[1])])
    place = np.stack([mesh.angle[row], mesh.fraction[columns[column]]])
    located = [rays.locate(x[:, row, column])[:2] for x in (corners, down, across)]
    moved, _ = _newton_step(place, located[0], np.stack(located[1:], axis=1), reach)
    return _Starts(np.arange(len(row)), moved, reach)


def _through_mesh(mesh: Mesh, rays: _Rays, sought: IntArray) -> _Starts:
    """Return starts where rays pass through triangles of the mesh, which is closed."""
    surface = mesh.points.design[:, ::EVERY] / mesh.scale
    parts = [
        _through_cells(mesh, surface, rays, sought[start : start + CHUNK])
        for start in range(0, len(sought), CHUNK)
    ]
    ray, angle, fraction = (np.concatenate(found) for found in zip(*parts, strict=True))
    cell = np.searchsorted(mesh.angle, angle, side="right").clip(1, len(mesh.angle) - 1)
    width = mesh.angle[cell] - mesh.angle[cell - 1]
    reach = np.stack([width, np.full(len(width), EVERY * mesh.fraction[1])])
    return _Starts(ray, np.stack([angle, fraction]), reach)


def _through_cells(
    mesh: Mesh, surface: FloatArray, rays: _Rays, index: IntArray
) -> tuple[IntArray, FloatArray, FloatArray]:
    part = rays.take(index)
    flat = surface.reshape(-1, 3).T
    sides = [
        axis.T @ flat > np.einsum("ir,ir->r", axis, part.origin)[:, None] for axis in part.axes[:2]
    ]
    side = (sides[0].view(np.uint8) | (sides[1].view(np.uint8) << 1)).reshape(
        -1, *surface.shape[:2]
    )
    which, row, column = _straddling(side)
    rows = row[:, None, None] + _TRIANGLES[..., 0]
    columns = column[:, None, None] + _TRIANGLES[..., 1]
    located = part.take(which).locate(np.moveaxis(surface[rows, columns], -1, 0))
    weight = _weights(located)
    ahead = (weight * located[2]).sum(axis=-1) > 0
    cell, triangle = np.nonzero(_encloses_origin(located) & ahead)
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
    """Tell whether triangles (2, …, 3) enclose the origin; a shared edge counts for one of two."""
    p, q = corners[0], corners[1]
    u, v = np.roll(p, -1, axis=-1), np.roll(q, -1, axis=-1)
    spans = (q > 0) != (v > 0)
    with np.errstate(divide="ignore", invalid="ignore"):
        crosses = spans & (p - q * (u - p) / (v - q) > 0)
    inside: BoolArray = crosses.sum(axis=-1) % 2 == 1
    return inside


def _weights(corners: FloatArray) -> FloatArray:
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


def _settle(
    strength: Strength,
    rays: _Rays,
    starts: _Starts,
    distance: FloatArray,
    place: FloatArray,
    count: IntArray,
) -> BoolArray:
    """Refine the crossings of starts (H,), keep the nearest of each ray, tell which were found."""
    found = np.zeros(len(starts.ray), dtype=bool)
    for first in range(0, len(found), MANY):
        part = starts.take(slice(first, first + MANY))
        met, where = _nearest_sheet(strength, rays.take(part.ray), part)
        found[first : first + MANY] = met > 0
        _keep_nearest(part.ray, met, where, distance, place, count)
    return found


def _nearest_sheet(
    strength: Strength, rays: _Rays, starts: _Starts
) -> tuple[FloatArray, FloatArray]:
    """Return the way along rays to the nearest sheet of the surface near starts, and the place.

    A crossing counts if the bars lie where they are held. If on neither side of a step they do, the
    ray passes between two sheets, and the nearer of their continuations counts: the side that is
    safe. Beside a step the sheet across it is tried too, for there the sheets may overlap.

    Returns:
        Distances (H,), not a number where lost, and places (2, H).
    """
    if not strength.body.largest_step:
        return _newton(strength, rays, starts, None)
    nearest, place = np.full(len(starts.ray), np.nan), starts.place.copy()
    between = np.full(len(starts.ray), np.inf)
    index, tried, sides = np.arange(len(starts.ray)), starts, _sides_at(strength, starts.place)
    for _ in range(SHEETS):
        met, where = _newton(strength, rays.take(index), tried, sides)
        now = _sides_at(strength, where)
        true = (now == sides).all(axis=(0, 1))
        nearest[index[true]], place[:, index[true]] = met[true], where[:, true]
        on = ~true & (met > 0)
        # Sheets left one after the other are those the ray passes between.
        nearer = on & (met < between[index])
        between[index[nearer]], place[:, index[nearer]] = met[nearer], where[:, nearer]
        index, sides = index[on], now[..., on]
        if not len(index):
            break
        tried = _Starts(tried.ray[on], where[:, on], tried.reach[:, on])
    nearest[index] = between[index]
    _across_step(strength, rays, starts, nearest, place)
    return nearest, place


def _across_step(
    strength: Strength, rays: _Rays, starts: _Starts, nearest: FloatArray, place: FloatArray
) -> None:
    """Put nearer crossings of sheets across a step in place of those that were found beside it."""
    index = np.flatnonzero(nearest > 0)
    strain = _strains_at(strength, place[:, index])
    # The concrete of a bar moves the strain plane by about its share in the resultant, and that of
    # a row of bars by as much more.
    share = BESIDE * strength.body.largest_step / strength.mesh.scale[0]
    beside = share * np.maximum(np.ptp(strain, axis=0), LEAST_SPREAD)
    bars = np.ones_like(beside)
    for _ in range(ROWS):
        below = strength.body.sides(strain - bars * beside)
        above = strength.body.sides(strain + bars * beside)
        bars = (below != above).sum(axis=0)
        some = bars[0] > 0
        if not some.any():
            return
        index, strain, beside, bars = index[some], strain[..., some], beside[:, some], bars[:, some]
    across = below[..., some] + above[..., some] - strength.body.sides(strain)
    tried = _Starts(starts.ray[index], place[:, index], starts.reach[:, index])
    met, where = _newton(strength, rays.take(index), tried, across)
    true = (_sides_at(strength, where) == across).all(axis=(0, 1))
    better = true & (met < nearest[index])
    nearest[index[better]], place[:, index[better]] = met[better], where[:, better]


def _strains_at(strength: Strength, place: FloatArray) -> FloatArray:
    """Return strains of the bars, (B, 1, H), at places (2, H)."""
    return strength.bar_strains(strength.body.turn(place[None, 0]), place[1])


def _sides_at(strength: Strength, place: FloatArray) -> SideArray:
    """Return the sides (B, 1, H) that the bars' displaced concrete is on at places (2, H)."""
    return strength.body.sides(_strains_at(strength, place))


def _newton(
    strength: Strength, rays: _Rays, starts: _Starts, sides: SideArray | None
) -> tuple[FloatArray, FloatArray]:
    """Return the way along rays to the surface near starts, (H,), and the place, (2, H).

    Not a number where a ray is lost. Between fresh slopes each step corrects the last one's.
    """
    count = len(starts.ray)
    found, where = np.full(count, np.nan), starts.place.copy()
    active, start, reach = np.arange(count), starts.place, starts.reach
    place, change = start.copy(), np.zeros((2, count))
    miss: FloatArray = np.zeros((2, count))
    slope: FloatArray = np.zeros((2, 2, count))
    for step in range(STEPS):
        if step in FRESH_SLOPES:
            located, slope = _with_slope(strength, rays, place, reach, sides)
        else:
            turned = strength.body.turn(place[None, 0])
            located = _locate(strength, rays, strength.design_in_row(turned, place[1], sides))
            # Broyden: the least change of the slope that explains the step just taken.
            surprise = located[:2] - miss - (slope * change).sum(axis=1)
            share = change / np.maximum((change**2).sum(axis=0), 1e-30)
            slope += surprise[:, None] * share
        miss = located[:2]
        done = np.maximum(np.abs(miss[0]), np.abs(miss[1])) < TOLERANCE
        found[active[done]], where[:, active[done]] = located[2, done], place[:, done]
        moved, regular = _newton_step(place, miss, slope, reach)
        near = np.abs(moved - start) < 3 * reach
        keep = ~done & regular & near[0] & near[1]
        if not keep.any():
            break
        change = (moved - place) / reach
        place = moved
        if not keep.all():
            active, slope = active[keep], slope[..., keep]
            miss, change, place, start, reach = (
                values[:, keep] for values in (miss, change, place, start, reach)
            )
            rays = rays.take(np.flatnonzero(keep))
            sides = None if sides is None else sides[..., keep]
    found[~(found > 0)] = np.nan
    return found, where


def _locate(strength: Strength, rays: _Rays, design: FloatArray) -> FloatArray:
    return rays.locate(design / strength.mesh.scale[:, None])


def _newton_step(
    place: FloatArray, miss: FloatArray, slope: FloatArray, reach: FloatArray
) -> tuple[FloatArray, BoolArray]:
    """Return places (2, H) one step of Newton's method on, `reach` at most, and which slopes allow.

    Where a slope (2, 2, H) is singular the place stays.
    """
    det = slope[0, 0] * slope[1, 1] - slope[0, 1] * slope[1, 0]
    regular: BoolArray = np.abs(det) > 1e-16
    step = np.empty_like(place)
    step[0] = miss[1] * slope[0, 1] - miss[0] * slope[1, 1]
    step[1] = miss[0] * slope[1, 0] - miss[1] * slope[0, 0]
    step /= np.where(regular, det, np.inf)
    moved = np.clip(step, -1.0, 1.0, out=step)
    moved *= reach
    moved += place
    np.clip(moved[1], 0.0, 1.0, out=moved[1])
    return moved, regular


def _with_slope(
    strength: Strength, rays: _Rays, place: FloatArray, reach: FloatArray, sides: SideArray | None
) -> tuple[FloatArray, FloatArray]:
    """Return where surface points lie, (3, H), and the slopes of it over `reach`, (2, 2, H)."""
    step = DIFFERENCE * reach
    # Differences are taken towards the inside of the family, which ends at 0 and 1.
    sign = np.where(place[1] > 0.5, -1.0, 1.0)
    turned = strength.body.turn(place[None, 0])
    aside = strength.body.turn(place[None, 0] + step[0])
    here = strength.design_in_row(turned, place[1], sides)
    down = strength.design_in_row(aside, place[1], sides) - here
    across = strength.design_in_row(turned, place[1] + sign * step[1], sides) - here
    slope = np.stack([down, across * sign]) / (strength.mesh.scale[:, None] * DIFFERENCE)
    return _locate(strength, rays, here), np.einsum("ijr,kjr->ikr", rays.axes[:2], slope)


def _subdivide(
    strength: Strength, rays: _Rays, starts: _Starts, times: int
) -> tuple[FloatArray, _Starts]:
    """Close in on the crossings of starts (H,) by subdividing their neighbourhoods.

    Returns:
        The way along the rays, (H,), not a number where there is no crossing, and starts nearby.
    """
    rays = rays.take(starts.ray)
    centre, half = starts.place.copy(), starts.reach.copy()
    count = centre.shape[1]
    grid = np.linspace(-1.0, 1.0, SUBGRID)
    aside, ahead = (grid.ravel() for grid in np.meshgrid(grid, grid, indexing="ij"))
    cells = np.arange(SUBGRID - 1)
    row = np.repeat(cells, SUBGRID - 1)[:, None, None] + _TRIANGLES[..., 0]
    column = np.tile(cells, SUBGRID - 1)[:, None, None] + _TRIANGLES[..., 1]
    corner = (row * SUBGRID + column).reshape(-1, 3)
    result, place, every = np.full(count, np.nan), centre.copy(), np.arange(count)
    for _ in range(times):
        angles = centre[0, :, None] + half[0, :, None] * aside
        fractions = np.clip(centre[1, :, None] + half[1, :, None] * ahead, 0.0, 1.0)
        turned = strength.body.turn(angles.reshape(1, -1))
        design = strength.design_in_row(turned, fractions.ravel(), None)
        scaled = design / strength.mesh.scale[:, None]
        triangles = rays.locate(scaled.reshape(3, *angles.shape))[:, :, corner]
        met = (_weights(triangles) * triangles[2]).sum(axis=-1)
        met = np.where(_encloses_origin(triangles) & (met > 0), met, np.inf)
        best = met.argmin(axis=1)
        hit = np.isfinite(met[every, best])
        cell, corners = corner[best], triangles[2, every, best]
        # The capacity is that of the weaker corner: at a jump the side that is safe.
        result[hit] = corners.min(axis=-1)[hit]
        for axis, values in enumerate((angles, fractions)):
            place[axis, hit] = values[every[:, None], cell].mean(axis=1)[hit]
        centre[:, hit] = place[:, hit]
        # The ray may leave the chord for a neighbouring cell: keep one more on each side.
        half = np.where(hit, half * 0.5, half * 1.7)
        settled = np.ptp(corners, axis=1) < 1e-10 * np.abs(corners).max(axis=1)
        if ((settled & hit) | (half[0] < 1e-7)).all():
            break
    return result, _Starts(starts.ray, place, half)
