"""The strength surface: every direction of the neutral axis against every limit strain plane."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Protocol

import numpy as np
import numpy.typing as npt

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.strength.body import Body, Held, Resisting, Turned
from fexro.core.strength.integration import turned_resultants

__all__ = ["Curved", "LimitPlanes", "Mesh", "Points", "Solvable", "Strength"]

# Of the mesh that rays are first followed through and curves are drawn on; what is shown is then
# solved on the surface.
ANGLES = 72
DEPTHS = 64
STEEPER = 2.0  # times which the surface may rise between the corners of its mesh
SAME_DIRECTION = 1e-9  # radians


class LimitPlanes(Protocol):
    """The family of strain planes at the limit, from pure tension (0) to full compression (1)."""

    def planes(
        self, fraction: FloatArray, lowest: FloatArray, highest: FloatArray
    ) -> tuple[FloatArray, FloatArray]:
        """Return the strain at t = 0 and the curvature (1/mm) of limit planes.

        Args:
            fraction: place in the family, 0 … 1, (A, D).
            lowest: t of the fibre furthest from the compressed side, (A, 1), mm.
            highest: t of the extreme compression fibre, (A, 1), mm.
        """
        ...


@dataclass(frozen=True, eq=False)
class Points:
    """Points of the surface: resultants and the strain planes behind them.

    Attributes:
        angle: direction of the compressed side, (A,), radians.
        fraction: place in the family of limit planes, (A, D).
        nominal: N, Mx, My without the factor, (A, D, 3), N and N·mm.
        factor: resistance factor, (A, D).
        centre_strain: strain at the centre, (A, D).
        curvature: curvature, (A, D), 1/mm.
    """

    angle: FloatArray
    fraction: FloatArray
    nominal: FloatArray
    factor: FloatArray
    centre_strain: FloatArray
    curvature: FloatArray

    @cached_property
    def design(self) -> FloatArray:
        """N, Mx, My with the factor, (A, D, 3)."""
        return self.nominal * self.factor[..., None]

    def part(self, chosen: slice | IntArray) -> Points:
        """Return the points of some of the directions."""
        return Points(
            self.angle[chosen],
            self.fraction[chosen],
            self.nominal[chosen],
            self.factor[chosen],
            self.centre_strain[chosen],
            self.curvature[chosen],
        )


@dataclass(frozen=True, eq=False)
class Mesh:
    """A grid of surface points over all directions (closed: the first is repeated) and depths.

    Attributes:
        angle: (A + 1,), radians; fraction: (D,).
        points: the surface points.
        scale: sizes that make N, Mx, My comparable, (3,).
    """

    angle: FloatArray
    fraction: FloatArray
    points: Points
    scale: FloatArray

    @cached_property
    def steepness(self) -> float:
        """How steeply ln r may change with the direction anywhere on the surface, 1/radian.

        Of all edges of the mesh it is the steepest, with room for what lies between its corners.
        """
        points = self.points.design / self.scale
        size = np.sqrt((points**2).sum(axis=-1))
        unit, log = points / size[..., None], np.log(size)
        steepest = 0.0
        for axis in (0, 1):
            turn = np.sqrt((np.diff(unit, axis=axis) ** 2).sum(axis=-1))
            rise = np.abs(np.diff(log, axis=axis))
            # Where directions meet in one point, nothing rises.
            apart = turn > SAME_DIRECTION
            steepest = max(steepest, float((rise[apart] / turn[apart]).max(initial=0.0)))
        return STEEPER * steepest

    @cached_property
    def curved(self) -> Curved:
        """The surface about each corner that is not an end of the family."""
        design = np.moveaxis(self.points.design[:-1] / self.scale, -1, 0)
        points = np.concatenate([design[:, -1:], design, design[:, :1]], axis=1)
        here, before, after = points[:, 1:-1], points[:, :-2], points[:, 2:]
        down, down_down = (after - before) / 2, before + after - 2 * here
        across = (here[..., 2:] - here[..., :-2]) / 2
        across_across = here[..., 2:] + here[..., :-2] - 2 * here[..., 1:-1]
        down_across = (down[..., 2:] - down[..., :-2]) / 2
        inner = [x[..., 1:-1] for x in (here, down, down_down)]
        terms = [inner[0], inner[1], across, inner[2], down_across, across_across]
        turn = np.diff(self.angle)
        previous = np.roll(turn, 1)
        flat = np.zeros_like(turn)
        angle = [self.angle[:-1], (turn + previous) / 2, flat, turn - previous, flat, flat]
        return Curved(np.stack(terms).reshape(6, 3, -1), np.stack(angle)[:, None], self.fraction)


@dataclass(frozen=True, eq=False)
class Curved:
    """A mesh about its corners (C,), row by row, as quadratics in the number of cells from there.

    The first and last column, which are the ends of the family, are left out. Terms are the value,
    both first and the three second derivatives, that over both between.

    Attributes:
        points: scaled N, Mx, My, (6, 3, C).
        angle: direction of the compressed side, radians, for each row, (6, 1, A).
        fraction: places of all columns, (D,).
    """

    points: FloatArray
    angle: FloatArray
    fraction: FloatArray

    @property
    def columns(self) -> int:
        """How many corners a row has."""
        return len(self.fraction) - 2

    @cached_property
    def units(self) -> npt.NDArray[np.float32]:
        """Directions from the origin to the corners, (3, C)."""
        corners = self.points[0].astype(np.float32)
        units: npt.NDArray[np.float32] = corners / np.sqrt((corners**2).sum(axis=0))
        return units


class Solvable(ABC):
    """What rays ask of the strength of a section, or of several, one for each ray.

    Attributes:
        body: regions and bars with their laws.
        limit: the family of limit planes.
        factor: resistance factor from the strain of the bar furthest on the tension side.
    """

    body: Resisting
    limit: LimitPlanes
    factor: Callable[[FloatArray], FloatArray]

    @property
    @abstractmethod
    def scale(self) -> FloatArray:
        """Sizes that make N, Mx, My comparable, (3, 1) or (3, R)."""

    @abstractmethod
    def take(self, index: IntArray) -> Solvable:
        """Return what some of the rays ask."""

    def at(self, angle: FloatArray, fraction: FloatArray) -> Points:
        """Return the surface points of directions (A,) and places in the family (A, D)."""
        # Planes of one depth are laid in a row, so that the long axis is the last.
        in_row = fraction.shape[1] == 1
        turned = self.body.turn(angle[None, :] if in_row else angle[:, None])
        strain, curvature = self.limit.planes(fraction.T if in_row else fraction, *turned.extent)
        total = turned_resultants(self.body, turned, strain, curvature)
        factor = self.factor(strain + curvature * turned.lowest_bar)
        if in_row:
            strain, curvature, factor = strain.T, curvature.T, factor.T
        axes = (2, 1, 0) if in_row else (1, 2, 0)
        return Points(angle, fraction, total.transpose(axes), factor, strain, curvature)

    def design_in_row(self, turned: Turned, fraction: FloatArray, held: Held | None) -> FloatArray:
        """Return design N, Mx, My, (3, R), of places (R,) in the family in directions (1, R).

        What the bars displace may be held as it is.
        """
        strain, curvature = self.limit.planes(fraction[None, :], *turned.extent)
        total = turned_resultants(self.body, turned, strain, curvature, held)
        total *= self.factor(strain + curvature * turned.lowest_bar)
        return total[:, 0]

    def bar_strains(self, turned: Turned, fraction: FloatArray) -> FloatArray:
        """Return strains of the bars, (B, 1, R), for the same."""
        strain, curvature = self.limit.planes(fraction[None, :], *turned.extent)
        return self.body.bar_strains(turned, strain, curvature)


@dataclass(frozen=True, eq=False)
class Strength(Solvable):
    """What a design code makes of a section.

    Attributes:
        body: regions and bars with their laws.
        limit: the family of limit planes.
        factor: resistance factor from the strain of the bar furthest on the tension side.
        max_axial: largest design axial force, N; the surface is cut off flat there.
        max_tension: design axial force with every bar yielding in tension, N (negative).
        nominal_max_axial: `max_axial` without the factor, N.
    """

    body: Body
    limit: LimitPlanes
    factor: Callable[[FloatArray], FloatArray]
    max_axial: float
    max_tension: float
    nominal_max_axial: float

    def take(self, index: IntArray) -> Strength:
        """Return itself: all rays are about it."""
        return self

    @cached_property
    def scale(self) -> FloatArray:
        """Sizes that make N, Mx, My comparable, (3, 1)."""
        return self.mesh.scale[:, None]

    @cached_property
    def mesh(self) -> Mesh:
        """The surface on a grid fine enough to start solving from and to draw smooth curves."""
        return self.grid(ANGLES, DEPTHS)

    @cached_property
    def axial_limits(self) -> tuple[float, float]:
        """The axial forces between which a force without moment is inside the surface, N.

        The surface is met once along each ray from the origin; where half a turn changes nothing
        its ends are on the axis.
        """
        if self.body.symmetry.point:
            return self.max_tension, self.max_axial
        from fexro.core.strength.rays import first_crossings

        ends = np.array([[self.max_tension, 0.0, 0.0], [self.max_axial, 0.0, 0.0]])
        reached = np.minimum(first_crossings(self, np.zeros((2, 3)), ends).distance, 1.0)
        low, high = (float(value) for value in reached * ends[:, 0])
        return low, high

    def grid(self, angles: int, depths: int) -> Mesh:
        """Return the surface on a grid of directions and depths.

        Directions are closest about the weak axis, where the moment turns fastest with them.
        """
        angle, fraction = self.body.directions(angles), np.linspace(0.0, 1.0, depths)
        sector = self.sector(angle)
        points = self.at(sector, np.broadcast_to(fraction, (len(sector), depths)))
        return self.closed_mesh(angle, fraction, points)

    def sector(self, angle: FloatArray) -> FloatArray:
        """Return those of directions (A,) from which the others follow by symmetry: the first."""
        source, _ = self.body.symmetry.sources(len(angle))
        return angle[: source.max() + 1]

    def closed_mesh(self, angle: FloatArray, fraction: FloatArray, sector: Points) -> Mesh:
        """Return the mesh of directions (A,) and depths (D,) whose first points are known.

        Args:
            angle, fraction: the directions of the whole surface and the depths.
            sector: points of the directions from which the others follow.
        """
        points = self._around(angle, sector)
        # Both ends are one point whatever the direction; rounding must not tear the mesh there.
        points.nominal[:, 0], points.nominal[:, -1] = points.nominal[0, 0], points.nominal[0, -1]
        largest = np.abs(points.nominal).max(axis=(0, 1))
        # Each moment by its own size: a wall carries many times more in its plane than across it.
        scale = np.maximum(largest, 1e-9)
        return Mesh(np.append(angle, angle[0] + 2 * np.pi), fraction, points, scale)

    def closed(self, angles: int = 72, depths: int = 64) -> tuple[FloatArray, IntArray]:
        """Return the closed design surface, cap included, as a mesh of triangles.

        Columns of points that rise above the cap are cut where they pass it and end in its middle.

        Args:
            angles, depths: number of directions and of depths.

        Returns:
            Points N, Mx, My, (P, 3), and the three corners of each triangle, (T, 3), seen
            anticlockwise from outside where My, Mx, N are right-handed axes.
        """
        points = self.grid(angles, depths).points.design[:-1].copy()
        above = points[..., 0] > self.max_axial
        for row in np.flatnonzero(above.any(axis=1)):
            first = int(above[row].argmax())
            low, high = points[row, first - 1], points[row, first]
            share = (self.max_axial - low[0]) / (high[0] - low[0])
            edge = low + share * (high - low)
            # From the edge to the axis, one ring for each depth that was cut off.
            left = np.linspace(1.0, 0.0, points.shape[1] - first)
            points[row, first:] = edge * [0.0, 1.0, 1.0] * left[:, None]
            points[row, first:, 0] = self.max_axial
        a = np.arange(angles)[:, None] * depths + np.arange(depths - 1)
        b = np.roll(a, -1, axis=0)
        quads = np.stack([a, b, b + 1, a + 1], axis=-1).reshape(-1, 4)
        triangles = np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])
        return points.reshape(-1, 3), triangles

    def _around(self, angle: FloatArray, sector: Points) -> Points:
        """Return points of all directions (A,) and the first again, from the first of them."""
        source, reflected = (np.append(x, x[0]) for x in self.body.symmetry.sources(len(angle)))
        closed = sector.part(source)
        if len(sector.angle) < len(angle):
            # The moment turns and is reflected with the direction.
            every = np.append(angle, angle[0])
            moment = closed.nominal[..., 2] + 1j * closed.nominal[..., 1]
            np.conjugate(moment, out=moment, where=reflected[:, None])
            moment *= np.exp(1j * (every + np.where(reflected, 1, -1) * closed.angle))[:, None]
            closed.nominal[..., 1], closed.nominal[..., 2] = moment.imag, moment.real
            closed = replace(closed, angle=every)
        return closed
