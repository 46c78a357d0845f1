"""Plane sections of the strength surface, solved on the surface rather than read off a mesh."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.strength.alike import alone
from fexro.core.strength.rays import crossings_on_mesh, first_crossings
from fexro.core.strength.surface import Mesh, Strength

__all__ = ["Mark", "Meridian", "contour", "meridian", "moments_about", "moments_at"]

STEPS, SECANT_STEPS = 30, 7
TOLERANCE = 1e-6  # of the largest moment, off the plane
WIDTH = 1e-4  # radians; where the surface jumps there is no point in the plane to be met


# For directions (P,) of the compressed side, a mark's places in the family of limit planes, (P,).
Mark = Callable[[FloatArray], FloatArray]


@dataclass(frozen=True, eq=False)
class Meridian:
    """The N–M curve in the plane of a moment direction.

    Each path (P, 2) of N and M runs from pure tension to the top: to full compression where it is
    nominal, to the cap where it is the design curve. M is negative on the left.

    Attributes:
        angle: direction of the moment, radians from Mx towards My.
        nominal_right, nominal_left: the nominal curve.
        design_right, design_left: the design curve with its cap.
        places_right, places_left: where the nominal points are on the surface: direction of the
            compressed side, radians, and place in the family of limit planes, (P, 2).
        marks: nominal N and M, and factor, at the marked limit planes on the right, (K, 3); not
            numbers where a mark's planes are all beside this one.
        bending: design moment on the right without axial force, N·mm.
    """

    angle: float
    nominal_right: FloatArray
    nominal_left: FloatArray
    design_right: FloatArray
    design_left: FloatArray
    places_right: FloatArray
    places_left: FloatArray
    marks: FloatArray
    bending: float

    @property
    def nominal(self) -> FloatArray:
        """The nominal curve as a closed path."""
        return np.concatenate([self.nominal_right, self.nominal_left[::-1]])

    @property
    def design(self) -> FloatArray:
        """The design curve as a closed path."""
        return np.concatenate([self.design_right, self.design_left[::-1]])


def meridian(
    strength: Strength, angle: float, marks: Sequence[Mark] = (), *, rough: bool = False
) -> Meridian:
    """Return the N–M curve in the plane of a moment direction.

    Args:
        strength: the section's strength.
        angle: direction of the moment, radians from Mx towards My.
        marks: limit planes to mark on the right side.
        rough: whether the curve is of fewer points, the corner at the cap read off it, and pure
            bending not sought: for what is seen for a moment.
    """
    unit = np.array([np.cos(angle), np.sin(angle)])
    mesh = alone(strength).meshes[0] if rough else strength.mesh
    fraction = mesh.fraction[1:-1]
    levels = len(fraction)

    def places(directions: FloatArray, column: IntArray) -> FloatArray:
        found = fraction[np.minimum(column, levels - 1)]
        for number, mark in enumerate(marks):
            marked = column == levels + number
            if marked.any():
                found[marked] = mark(directions[marked])
        return found

    sample = mesh.points.nominal[:, 1:-1]
    if marks:
        at = np.column_stack([mark(mesh.angle) for mark in marks])
        sample = np.concatenate([sample, strength.at(mesh.angle, at).nominal], axis=1)
    # The curve of a symmetric section is symmetric too.
    senses = (1.0,) if strength.body.symmetry.point else (1.0, -1.0)
    sides = _through_plane(strength, mesh, unit, senses, sample, places)
    top = strength.max_axial
    corners, bending = [np.nan] * len(senses), np.nan
    if not rough:
        *corners, bending = moments_at(
            strength, np.array([*(top for _ in senses), 0.0]), [*(unit * s for s in senses), unit]
        )
    low, high = (_end(mesh, unit, place) for place in (0, -1))
    nominal, design, where = [], [], []
    for side, corner, sense in zip(sides, corners, senses, strict=True):
        # Marks are corners of the curve, where the factor begins or ends to change, for one.
        inner = side[np.argsort(side[:, 4], kind="stable")]
        path = np.concatenate([low, inner[~np.isnan(inner[:, 0])], high])
        nominal.append(path[:, :2])
        where.append(path[:, 3:])
        factored = path[:, :2] * path[:, 2:3]
        above = factored[:, 0] > top
        if above.any():
            first = int(above.argmax())
            if rough:
                corner = sense * np.interp(top, *factored[max(first - 1, 0) : first + 1].T)
            end = [[top, sense * corner]]
            factored = np.concatenate([factored[:first], end])
        design.append(factored)
    mirror = np.array([1.0, -1.0])
    if len(senses) == 1:
        nominal.append(nominal[0] * mirror)
        design.append(design[0] * mirror)
        where.append(where[0] + [np.pi, 0.0])
    return Meridian(
        angle,
        *(nominal[0], nominal[1], design[0], design[1], where[0], where[1]),
        sides[0][levels:, :3],
        float(bending),
    )


def _end(mesh: Mesh, unit: FloatArray, place: int) -> FloatArray:
    """Return N, M, factor and place of an end of the family, (1, 5), or none off the plane."""
    ends = mesh.points
    resultant = ends.nominal[0, place]
    if abs(_offset(resultant, unit)) > 1e-9 * mesh.scale[1:].max():
        return np.empty((0, 5))
    found = [resultant[0], resultant[1:] @ unit, ends.factor[0, place]]
    # The direction is that of a moment in the plane, in which the strain is uniform or nearly so.
    return np.array([[*found, np.arctan2(unit[0], unit[1]), mesh.fraction[place]]])


def moments_at(strength: Strength, axial: FloatArray, units: list[FloatArray]) -> FloatArray:
    """Return the design moments (R,) in directions (Mx, My) at axial forces (R,), N·mm and N.

    Zero where the axial force alone is beyond the surface.
    """
    size = float(strength.mesh.scale[1:].max())
    distance = first_crossings(strength, *_level_rays(axial, units, size)).distance
    moments: FloatArray = np.where(np.isfinite(distance), distance * size, 0.0)
    return moments


def moments_about(strength: Strength, axial: FloatArray, units: list[FloatArray]) -> FloatArray:
    """Return about the same, from the mesh alone."""
    size = float(strength.mesh.scale[1:].max())
    distance = crossings_on_mesh(strength, *_level_rays(axial, units, size))
    moments: FloatArray = np.where(np.isfinite(distance), distance * size, 0.0)
    return moments


def _level_rays(
    axial: FloatArray, units: list[FloatArray], size: float
) -> tuple[FloatArray, FloatArray]:
    """Return origins and directions of rays at axial forces, (R, 3); a moment is of a size."""
    origin = np.column_stack([axial, np.zeros((len(axial), 2))])
    return origin, np.column_stack([np.zeros(len(axial)), np.array(units) * size])


def contour(strength: Strength, axial: float, count: int = 96) -> FloatArray:
    """Return the design Mx–My curve at an axial force as a closed path.

    Args:
        strength: the section's strength.
        axial: axial force, N.
        count: number of moment directions evenly spaced in moments scaled by the section's own, to
            which those of evenly turned neutral axes are added: they crowd where the curve bends.

    Returns:
        Mx and My, (P, 2), N·mm; empty where the axial force is beyond the surface.
    """
    if not strength.max_tension <= axial <= strength.max_axial:
        return np.empty((0, 2))
    largest = np.abs(strength.mesh.points.design).max(axis=(0, 1))[1:]
    largest = np.maximum(largest, 1e-9)
    turn = np.arange(count) * (2 * np.pi / count)
    bent = _moments_on_mesh(strength, axial) / largest
    turn = np.unique(np.concatenate([turn, np.arctan2(bent[:, 1], bent[:, 0]) % (2 * np.pi)]))
    units = np.column_stack([np.cos(turn), np.sin(turn)]) * largest
    units /= np.hypot(*units.T)[:, None]
    moments = moments_at(strength, np.full(len(turn), axial), list(units))
    path = units * moments[:, None]
    return np.concatenate([path, path[:1]])


def _moments_on_mesh(strength: Strength, axial: float) -> FloatArray:
    """Return about the moments (A, 2) at which each direction of the mesh has an axial force.

    They are read off the mesh, for what is only drawn or sought from there.
    """
    points = strength.mesh.points.design[:-1]
    after = (points[..., 0] >= axial).argmax(axis=1).clip(1)
    every = np.arange(len(points))
    low, high = points[every, after - 1], points[every, after]
    rise = np.where(high[:, 0] == low[:, 0], 1.0, high[:, 0] - low[:, 0])
    share = np.clip((axial - low[:, 0]) / rise, 0.0, 1.0)
    moments: FloatArray = (low + share[:, None] * (high - low))[:, 1:]
    return moments


def _through_plane(
    strength: Strength,
    mesh: Mesh,
    unit: FloatArray,
    senses: tuple[float, ...],
    sample: FloatArray,
    places: Callable[[FloatArray, IntArray], FloatArray],
) -> list[FloatArray]:
    """Return where rings of moments pass through a plane on its sides, (P, 5) each.

    The columns are N, M, factor, direction of the compressed side and place in the family.

    Args:
        senses: 1 for the side that `unit` points to, -1 for the other.
        sample: nominal N, Mx, My on the directions of the mesh, (A + 1, P, 3); brackets the points.
        places: places in the family of limit planes for directions and the points they belong to.
    """
    ring, count = mesh.angle, sample.shape[1]
    offset = _offset(sample, unit)
    ahead, behind = offset[:-1] > 0, offset[1:] > 0
    # With the direction of compression the moment turns the same way: it leaves the plane's left
    # side where `unit` points, and comes back to it on the other side.
    passes = [ahead & ~behind if s > 0 else ~ahead & behind for s in senses]
    start = np.concatenate([passed.argmax(axis=0) for passed in passes])
    sense, column = np.repeat(senses, count), np.tile(np.arange(count), len(senses))
    low, high = ring[start], ring[start + 1]
    f_low, f_high = offset[start, column] * sense, offset[start + 1, column] * sense
    kept = np.zeros(len(start))
    # Near its ends the family may turn about beside the plane without passing through it.
    found = np.full((len(start), 5), np.nan)
    open_ = np.flatnonzero(np.concatenate([passed.any(axis=0) for passed in passes]))
    kept, low, high, f_low, f_high = (x[open_] for x in (kept, low, high, f_low, f_high))
    for step in range(STEPS if len(open_) else 0):
        with np.errstate(divide="ignore", invalid="ignore"):
            secant = low - f_low * (high - low) / (f_high - f_low)
        # Illinois: a bound that stays put has its value halved. What has not settled by then sits
        # at a kink or a jump, where only bisection is sure.
        usable = np.isfinite(secant) & (step < SECANT_STEPS)
        trial = np.where(usable, secant, (low + high) / 2)
        at = places(trial, column[open_])
        points = strength.at(trial, at[:, None])
        nominal = points.nominal[:, 0]
        found[open_] = np.column_stack(
            [nominal[:, 0], nominal[:, 1:] @ unit, points.factor[:, 0], trial, at]
        )
        value = _offset(nominal, unit) * sense[open_]
        above = value > 0
        f_high = np.where(above & (kept > 0), f_high / 2, f_high)
        f_low = np.where(~above & (kept < 0), f_low / 2, f_low)
        kept = np.where(above, 1.0, -1.0)
        low, f_low = np.where(above, trial, low), np.where(above, value, f_low)
        high, f_high = np.where(above, high, trial), np.where(above, f_high, value)
        on = (np.abs(value) > TOLERANCE * mesh.scale[1:].max()) & (high - low > WIDTH)
        if not on.any():
            break
        open_, kept = open_[on], kept[on]
        low, high, f_low, f_high = low[on], high[on], f_low[on], f_high[on]
    return list(found.reshape(len(senses), count, 5))


def _offset(resultant: FloatArray, unit: FloatArray) -> FloatArray:
    """Return how far moments (…, 3) lie to the left of the plane of a direction, N·mm."""
    offset: FloatArray = resultant[..., 2] * unit[0] - resultant[..., 1] * unit[1]
    return offset
