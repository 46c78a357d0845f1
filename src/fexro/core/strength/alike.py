"""Sections of one make, solved together: arrays over all of them instead of one after the other.

Sections are of one make where their laws, limit planes and factors are the same, they have as many
edges, and one set of bars each, or as many bars in each set: columns of a grade and a shape that
differ in sizes and bars.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.strength.body import Body, Resisting, Turned
from fexro.core.strength.laws import SideArray
from fexro.core.strength.starts import Rays, Starts, about_corners, nearest_corners
from fexro.core.strength.surface import Curved, LimitPlanes, Mesh, Solvable, Strength

__all__ = ["Alike", "Sections", "alone"]

# Directions and depths of the meshes; the surface of an outline that is not convex may be folded.
COARSE, FINE = (36, 28), (72, 64)
FOLDED = 3.0  # times which such a surface may rise more steeply than its mesh tells


@dataclass(frozen=True, eq=False)
class _Stack:
    """Bodies of one make (S,) as arrays.

    Attributes:
        make: the one of most bars, for what is the same of all.
        vertices: of all regions about the centre, (V, 2, S), mm.
        bars: places about the centre and areas, x, y and area, (B, 3, S), mm and mm²; where one
            has fewer, its last bar again without area.
        absent: where that is so, (B, S).
        level: directions square to a long edge, (L, S); infinite where there are fewer.
        largest_step: the largest force by which a bar's displaced concrete jumps, (S,), N.
    """

    make: Body
    vertices: FloatArray
    bars: FloatArray
    absent: BoolArray
    level: FloatArray
    largest_step: FloatArray

    @classmethod
    def of(cls, bodies: Sequence[Body]) -> _Stack:
        level = np.full((max(len(b.level_directions) for b in bodies), len(bodies)), np.inf)
        for i, body in enumerate(bodies):
            level[: len(body.level_directions), i] = body.level_directions[:, 0]
        counts = np.array([len(body.bar_points) for body in bodies])
        number = np.arange(counts.max())
        absent = number[:, None] >= counts
        bars = np.empty((len(number), 3, len(bodies)))
        for i, body in enumerate(bodies):
            some = np.minimum(number, counts[i] - 1)
            area = np.concatenate([one.area for one in body.bars])
            bars[:, :2, i], bars[:, 2, i] = body.bar_points[some], area[some]
        bars[:, 2][absent] = 0.0
        return cls(
            bodies[int(counts.argmax())],
            np.stack([body.vertices for body in bodies], axis=-1),
            bars,
            absent,
            level,
            np.array([body.largest_step for body in bodies]),
        )


class _Bodies(Resisting):
    """Bodies of one make, one for each column or each row of the planes.

    Args:
        stack: the bodies.
        body: which of them each is about, (R,).
        of_rows: whether each row of planes is about one; else each column.
    """

    def __init__(self, stack: _Stack, body: IntArray, *, of_rows: bool) -> None:
        make = stack.make
        self.regions, self.bars, self.rings = make.regions, make.bars, make.rings
        self._stack, self._body, self._of_rows = stack, body, of_rows

    def take(self, index: IntArray) -> _Bodies:
        """Return what some of the columns are about."""
        return _Bodies(self._stack, self._body[index], of_rows=self._of_rows)

    def part(self, rows: slice, columns: slice) -> _Bodies:
        """Return what some of the planes are about."""
        part = rows if self._of_rows else columns
        return _Bodies(self._stack, self._body[part], of_rows=self._of_rows)

    def _spread(self, values: FloatArray) -> FloatArray:
        """Return values (…, S) as they stand to planes, (…, R, 1) or (…, 1, R)."""
        chosen = np.take(values, self._body, axis=-1)
        return chosen[..., None] if self._of_rows else chosen[..., None, :]

    @cached_property
    def _bars(self) -> FloatArray:
        return self._spread(self._stack.bars)

    def sides(self, strain: FloatArray) -> SideArray:
        """Return how many steps each bar's strain (B, …) has passed; none where there is no bar."""
        sides = super().sides(strain)
        if not len(sides):
            return sides
        absent = self._stack.absent[:, self._body]
        sides[
            np.broadcast_to(
                absent[:, None] if strain.shape[1] == 1 else absent[..., None], sides.shape
            )
        ] = 0
        return sides

    @property
    def largest_step(self) -> FloatArray:
        """The largest force by which a bar's displaced concrete jumps, N, (R,)."""
        return self._stack.largest_step[self._body]

    @property
    def bar_places(self) -> tuple[FloatArray, FloatArray]:
        """Positions x and y of all bars about the centre, (B, R), mm."""
        places = np.take(self._stack.bars, self._body, axis=-1)
        return places[:, 0], places[:, 1]

    @property
    def level_directions(self) -> FloatArray:
        """Directions square to a long edge of the convex hull, (L, R)."""
        return self._stack.level[:, self._body]

    def turn(self, angle: FloatArray) -> Turned:
        """Return the bodies in axes turned to directions (R, 1) or (1, R)."""
        cos, sin = np.cos(angle), np.sin(angle)
        vertices = self._spread(self._stack.vertices)
        x, y = vertices[:, 0], vertices[:, 1]
        t = x * cos
        t += y * sin
        s = y * cos
        s -= x * sin
        lowest, highest = t.min(axis=0), t.max(axis=0)
        bars = self._bars[:, 0] * cos
        bars += self._bars[:, 1] * sin
        return Turned(cos, sin, t, s, lowest, highest, bars.min(axis=0) if len(bars) else lowest)

    def bar_strains(
        self, turned: Turned, centre_strain: FloatArray, curvature: FloatArray
    ) -> FloatArray:
        """Return strains of all bars, (B, A, D), under planes (A, D) of the turned bodies."""
        strains: FloatArray = self._bars[:, 0] * (curvature * turned.cos)
        strains += self._bars[:, 1] * (curvature * turned.sin)
        strains += centre_strain
        return strains

    def bar_forces(self, number: int, stress: FloatArray) -> FloatArray:
        """Return N, Mx, My, (3, A, D), of stresses (B, A, D) in the bars of a set."""
        bars = self._bars[self.bar_parts[number]]
        force = stress * bars[:, 2]
        return np.stack(
            [force.sum(axis=0), (force * bars[:, 1]).sum(axis=0), (force * bars[:, 0]).sum(axis=0)]
        )


@dataclass(frozen=True, eq=False)
class Sections:
    """The strengths of sections of one make (S,), and what is worked out of all at once."""

    each: tuple[Strength, ...]

    @cached_property
    def stack(self) -> _Stack:
        """Their bodies."""
        return _Stack.of([strength.body for strength in self.each])

    @cached_property
    def convex(self) -> bool:
        """Whether no outline turns inwards."""
        bodies = [strength.body for strength in self.each]
        return all(region.outline.convex for body in bodies for region in body.regions)

    @cached_property
    def meshes(self) -> list[Mesh]:
        """Their meshes, coarser than those on which curves are drawn."""
        directions, depths = COARSE if self.convex else FINE
        angles = [strength.body.directions(directions) for strength in self.each]
        fraction = np.linspace(0.0, 1.0, depths)
        sectors = [strength.sector(a) for strength, a in zip(self.each, angles, strict=True)]
        counts = [len(sector) for sector in sectors]
        rows = Alike(self, np.repeat(np.arange(len(self.each)), counts), of_rows=True)
        points = rows.at(np.concatenate(sectors), np.broadcast_to(fraction, (sum(counts), depths)))
        ends = np.cumsum([0, *counts])
        return [
            strength.closed_mesh(angle, fraction, points.part(slice(start, end)))
            for strength, angle, (start, end) in zip(
                self.each, angles, itertools.pairwise(ends), strict=True
            )
        ]

    @cached_property
    def curved(self) -> Curved:
        """The meshes about their corners, one after the other."""
        parts = [mesh.curved for mesh in self.meshes]
        return Curved(
            np.concatenate([part.points for part in parts], axis=2),
            np.concatenate([part.angle for part in parts], axis=2),
            parts[0].fraction,
        )

    @cached_property
    def scale(self) -> FloatArray:
        """Sizes that make N, Mx, My comparable, (3, S)."""
        return np.stack([mesh.scale for mesh in self.meshes], axis=1)

    @cached_property
    def steepness(self) -> FloatArray:
        """How steeply ln r may change with the direction, 1/radian, (S,)."""
        steepness = np.array([mesh.steepness for mesh in self.meshes])
        return steepness if self.convex else FOLDED * steepness

    @cached_property
    def max_axial(self) -> FloatArray:
        """Largest design axial forces, N, (S,)."""
        return np.array([strength.max_axial for strength in self.each])

    @cached_property
    def all_steps(self) -> FloatArray:
        """The force by which the displaced concrete of all bars jumps at most, N, (S,)."""
        return np.array([strength.body.all_steps for strength in self.each])


@lru_cache(maxsize=512)
def alone(strength: Strength) -> Sections:
    """Return a single section as such; of the last few, what is worked out of them is kept."""
    return Sections((strength,))


@dataclass(frozen=True, eq=False)
class Alike(Solvable):
    """The strengths of sections of one make, one for each ray.

    Attributes:
        sections: the sections.
        section: which of them each ray is about, (R,).
        of_rows: whether it is each row of planes instead.
    """

    sections: Sections
    section: IntArray
    of_rows: bool = False

    @cached_property
    def body(self) -> Resisting:  # type: ignore[override]
        """Regions and bars with their laws."""
        if len(self.sections.each) == 1:
            return self.sections.each[0].body
        return _Bodies(self.sections.stack, self.section, of_rows=self.of_rows)

    @property
    def limit(self) -> LimitPlanes:  # type: ignore[override]
        """The family of limit planes, the same of all."""
        return self.sections.each[0].limit

    @property
    def factor(self) -> Callable[[FloatArray], FloatArray]:  # type: ignore[override]
        """Resistance factor, the same of all."""
        return self.sections.each[0].factor

    @property
    def scale(self) -> FloatArray:
        """Sizes that make N, Mx, My comparable, (3, R)."""
        return self.sections.scale[:, self.section]

    @property
    def max_axial(self) -> FloatArray:
        """Largest design axial forces, N, (R,)."""
        return self.sections.max_axial[self.section]

    def take(self, index: IntArray) -> Alike:
        """Return what some of the rays are about."""
        return Alike(self.sections, self.section[index])

    def towards(self, rays: Rays) -> Starts:
        """Return starts of rays from the origin, in the order of their sections."""
        ends = np.searchsorted(self.section, np.arange(len(self.sections.each) + 1))
        corners, before = [], 0
        for mesh, (start, end) in zip(self.sections.meshes, itertools.pairwise(ends), strict=True):
            corners.append(before + nearest_corners(mesh.curved, rays.axes[2][:, start:end]))
            before += mesh.curved.units.shape[1]
        corner = np.concatenate(corners)
        return about_corners(self.sections.curved, rays, np.arange(len(corner)), corner)
