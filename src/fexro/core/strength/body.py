"""What resists in a section: regions and bars of some laws, turned to a direction, held, alike."""

from __future__ import annotations

import itertools
from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.errors import InputError
from fexro.core.section.outline import Outline, convex_hull
from fexro.core.strength.laws import Law, PiecewiseLaw, SideArray
from fexro.core.strength.symmetry import ROUND, Figure, Symmetry, find_symmetry

__all__ = ["BarSet", "Body", "Held", "Region", "Resisting", "Rings", "Turned"]

LONG = 0.1  # of the size of a body


@dataclass(frozen=True, eq=False)
class Region:
    """An area of one material: its outline and its law (negative laws take material away).

    Attributes:
        steel: whether it is structural steel.

    Raises:
        InputError: for an outline that encloses no area.
    """

    outline: Outline
    law: PiecewiseLaw
    steel: bool = False

    def __post_init__(self) -> None:
        """Refuse what has no area."""
        if not 0 < self.outline.area < np.inf:
            found = f"an area of {self.outline.area:g} mm²"
            raise InputError("region", found, "rings that enclose an area, anticlockwise")


@dataclass(frozen=True, eq=False)
class BarSet:
    """Bars (B,) of one law: x, y in mm, area in mm², and the law of the concrete they displace.

    Raises:
        InputError: for a place or an area that is not a finite number, and areas below zero.
    """

    x: FloatArray
    y: FloatArray
    area: FloatArray
    law: Law
    displaced: PiecewiseLaw | None = None

    def __post_init__(self) -> None:
        """Refuse what is no bar."""
        sound = np.isfinite([self.x, self.y, self.area]).all(axis=0) & (self.area >= 0)
        if not sound.all():
            number = int(sound.argmin())
            x, y, area = (float(values[number]) for values in (self.x, self.y, self.area))
            found = f"{area:g} mm² at {x:g}, {y:g} mm"
            raise InputError(f"bar {number + 1}", found, "finite places and areas from 0 mm²")


@dataclass(frozen=True, eq=False)
class Held:
    """The concrete that bars displace, held on one side of each step of its law.

    A law that jumps leaves a step in the resultant where a bar passes the jump. Held on its side,
    the concrete that a bar displaces goes on smoothly.

    Attributes:
        sides: the number of steps passed, for all bars, (B, A, D).
        steady: instead, where no law changes between its steps: N, Mx, My of it, (3, A, D).
    """

    sides: SideArray | None = None
    steady: FloatArray | None = None

    def part(self, rows: slice, columns: slice | IntArray | BoolArray) -> Held:
        """Return it for some of the planes."""
        return Held(
            None if self.sides is None else self.sides[:, rows, columns],
            None if self.steady is None else self.steady[:, rows, columns],
        )


@dataclass(frozen=True, eq=False)
class Rings:
    """The vertices of a region about the centre, (E, 2), mm, and which one follows each."""

    start: FloatArray
    following: IntArray

    @classmethod
    def of(cls, outline: Outline, centre: tuple[float, float]) -> Rings:
        """Take the rings of an outline."""
        first = np.cumsum([0, *map(len, outline.rings)])
        following = [
            np.roll(np.arange(len(ring)), -1) + first[i] for i, ring in enumerate(outline.rings)
        ]
        return cls(np.concatenate(outline.rings) - centre, np.concatenate(following))


@dataclass(frozen=True, eq=False)
class Turned:
    """A body in axes turned to directions of some shape: t towards compression, s square to it.

    Attributes:
        cos, sin: of the directions.
        t, s: of the vertices of all regions, (V, …), mm.
        lowest, highest: the least and largest t of the concrete, mm.
        lowest_bar: t of the bar furthest from the compressed side, mm.
    """

    cos: FloatArray
    sin: FloatArray
    t: FloatArray
    s: FloatArray
    lowest: FloatArray
    highest: FloatArray
    lowest_bar: FloatArray

    @property
    def extent(self) -> tuple[FloatArray, FloatArray]:
        """The lowest and highest t of the concrete, mm."""
        return self.lowest, self.highest

    def part(self, rows: slice, columns: slice) -> Turned:
        """Return some of the directions, of a shape (A, 1) or (1, D)."""
        at = (rows, slice(None)) if self.cos.shape[1] == 1 else (slice(None), columns)
        many = (slice(None), *at)
        return Turned(
            self.cos[at],
            self.sin[at],
            self.t[many],
            self.s[many],
            self.lowest[at],
            self.highest[at],
            self.lowest_bar[at],
        )


class Resisting(ABC):
    """What is asked of a body, or of several of one make, under planes.

    Attributes:
        regions, bars: areas and sets of bars, whose laws count.
        rings: the vertices of each region.
    """

    regions: tuple[Region, ...]
    bars: tuple[BarSet, ...]
    rings: tuple[Rings, ...]

    @cached_property
    def width(self) -> int:
        """The largest number of edges of a region or bars of a set."""
        return max(
            [len(rings.start) for rings in self.rings] + [len(bars.x) for bars in self.bars] + [1]
        )

    @cached_property
    def bar_parts(self) -> list[slice]:
        """Where the bars of each set stand among all bars."""
        ends = np.cumsum([0, *(len(bars.x) for bars in self.bars)])
        return [slice(a, b) for a, b in itertools.pairwise(ends)]

    @cached_property
    def vertex_parts(self) -> list[slice]:
        """Where the vertices of each region stand among all vertices."""
        ends = np.cumsum([0, *(len(rings.start) for rings in self.rings)])
        return [slice(a, b) for a, b in itertools.pairwise(ends)]

    @property
    def stepped(self) -> bool:
        """Whether the displaced concrete of any bar jumps."""
        return any(
            bars.displaced is not None and len(bars.displaced.steps) > 0 for bars in self.bars
        )

    @cached_property
    def steps_alone(self) -> bool:
        """Whether the stress of displaced concrete changes in steps alone."""
        return all(bars.displaced is None or bars.displaced.steady for bars in self.bars)

    def sides(self, strain: FloatArray) -> SideArray:
        """Return how many steps of the law of its displaced concrete each bar's strain has passed.

        Args:
            strain: strains of all bars, (B, …).
        """
        sides = np.zeros(strain.shape, dtype=np.int8)
        for bars, part in zip(self.bars, self.bar_parts, strict=True):
            if bars.displaced is not None:
                sides[part] = bars.displaced.side(strain[part])
        return sides

    def hold(self, sides: SideArray) -> Held:
        """Return the displaced concrete held on sides (B, A, D)."""
        if not self.steps_alone:
            return Held(sides=sides)
        steady = np.zeros((3, *sides.shape[1:]))
        for number, (bars, part) in enumerate(zip(self.bars, self.bar_parts, strict=True)):
            if bars.displaced is not None:
                steady += self.bar_forces(number, bars.displaced.levels[sides[part]])
        return Held(steady=steady)

    @abstractmethod
    def take(self, index: IntArray) -> Resisting:
        """Return what some of the columns are about."""

    @abstractmethod
    def part(self, rows: slice, columns: slice) -> Resisting:
        """Return what some of the planes (A, D) are about."""

    @property
    @abstractmethod
    def largest_step(self) -> float | FloatArray:
        """The largest force by which a bar's displaced concrete jumps, N, one or (R,)."""

    @property
    @abstractmethod
    def bar_places(self) -> tuple[FloatArray, FloatArray]:
        """Positions x and y of all bars about the centre, (B, 1) or (B, R), mm."""

    @property
    @abstractmethod
    def level_directions(self) -> FloatArray:
        """Directions square to a long edge of the convex hull, (L, 1) or (L, R), 0 … 2π.

        There the extreme fibre passes from one vertex to another far from it.
        """

    @abstractmethod
    def turn(self, angle: FloatArray) -> Turned:
        """Return the body in axes turned to directions of the compressed side, of any shape."""

    @abstractmethod
    def bar_strains(
        self, turned: Turned, centre_strain: FloatArray, curvature: FloatArray
    ) -> FloatArray:
        """Return strains of all bars, (B, A, D), under planes (A, D) of the turned body."""

    @abstractmethod
    def bar_forces(self, number: int, stress: FloatArray) -> FloatArray:
        """Return N, Mx, My, (3, A, D), of stresses (B, A, D) in the bars of a set."""


class Body(Resisting):
    """What resists: regions and bars, with moments taken about a reference point.

    Args:
        regions: areas of material.
        bars: sets of bars.
        centre: reference point of moments and of the strain at centroid, mm.
        numbers: of the bars in the section, in the order of the sets; nothing where it is the same.

    Attributes:
        rings: the vertices of each region.
    """

    def __init__(
        self,
        regions: Sequence[Region],
        bars: Sequence[BarSet],
        centre: tuple[float, float],
        numbers: IntArray | None = None,
    ) -> None:
        self.numbers = numbers
        self.regions, self.bars, self.centre = tuple(regions), tuple(bars), centre
        self.rings = tuple(Rings.of(region.outline, centre) for region in self.regions)

    @cached_property
    def bar_points(self) -> FloatArray:
        """Positions of all bars about the centre, (B, 2), mm."""
        points = [np.column_stack([bars.x, bars.y]) - self.centre for bars in self.bars]
        return np.concatenate([np.empty((0, 2)), *points])

    def turn(self, angle: FloatArray) -> Turned:
        """Return the body in axes turned to directions of the compressed side, of any shape."""
        cos, sin = np.cos(angle), np.sin(angle)
        # Vertices and bars turned at once, and both coordinates of them.
        c, n = cos.ravel(), sin.ravel()
        turned = self._turning @ np.concatenate([c, -n, n, c]).reshape(2, -1)
        turned = turned.reshape(len(turned), 2, *angle.shape)
        count = len(self.vertices)
        t, s, bars = turned[:count, 0], turned[:count, 1], turned[count:, 0]
        ends = t[self._outermost]
        lowest, highest = ends.min(axis=0), ends.max(axis=0)
        return Turned(cos, sin, t, s, lowest, highest, bars.min(axis=0) if len(bars) else lowest)

    @cached_property
    def _turning(self) -> FloatArray:
        """The vertices, and the bars that can be furthest from a compressed side."""
        outermost = self.bar_points[convex_hull(self.bar_points)]
        return np.concatenate([self.vertices, outermost])

    @cached_property
    def _outermost(self) -> IntArray:
        """The vertices of the convex hull: no direction has its extremes elsewhere."""
        return convex_hull(self.vertices)

    @cached_property
    def level_directions(self) -> FloatArray:
        """Directions square to a long edge of the convex hull, ascending in 0 … 2π, (L, 1)."""
        hull = self.vertices[self._outermost]
        run = np.roll(hull, -1, axis=0) - hull
        run = run[np.hypot(*run.T) > LONG * self.size]
        return np.sort(np.arctan2(-run[:, 0], run[:, 1]) % (2 * np.pi))[:, None]

    def bar_strains(
        self, turned: Turned, centre_strain: FloatArray, curvature: FloatArray
    ) -> FloatArray:
        """Return strains of all bars, (B, A, D), under planes (A, D) of the turned body."""
        planes = np.empty((3, *centre_strain.shape))
        np.multiply(curvature, turned.cos, out=planes[0])
        np.multiply(curvature, turned.sin, out=planes[1])
        planes[2] = centre_strain
        strains: FloatArray = self._bar_rows @ planes.reshape(3, -1)
        return strains.reshape(len(strains), *centre_strain.shape)

    @cached_property
    def _bar_rows(self) -> FloatArray:
        """For each bar what multiplies curvature towards x, towards y and the strain at centre."""
        return np.column_stack([self.bar_points, np.ones(len(self.bar_points))])

    @cached_property
    def vertices(self) -> FloatArray:
        """Vertices of all regions about the centre, (V, 2), mm."""
        return np.concatenate([rings.start for rings in self.rings])

    @cached_property
    def _bar_moments(self) -> tuple[FloatArray, ...]:
        """For each set of bars the matrix (B, 3) from stress to N, Mx, My."""
        matrices = []
        for bars, part in zip(self.bars, self.bar_parts, strict=True):
            x, y = self.bar_points[part].T
            matrices.append(np.column_stack([bars.area, bars.area * y, bars.area * x]))
        return tuple(matrices)

    def bar_forces(self, number: int, stress: FloatArray) -> FloatArray:
        """Return N, Mx, My, (3, A, D), of stresses (B, A, D) in the bars of a set."""
        forces: FloatArray = self._bar_moments[number].T @ stress.reshape(len(stress), -1)
        return forces.reshape(3, *stress.shape[1:])

    @property
    def bar_places(self) -> tuple[FloatArray, FloatArray]:
        """Positions x and y of all bars about the centre, (B, 1), mm."""
        return self.bar_points[:, :1], self.bar_points[:, 1:]

    def take(self, index: IntArray) -> Body:
        """Return itself: all columns are about it."""
        return self

    def part(self, rows: slice, columns: slice) -> Body:
        """Return itself: all planes are about it."""
        return self

    @cached_property
    def largest_step(self) -> float:
        """The largest force by which a bar's displaced concrete jumps, N; 0 if none does."""
        return max((jump * float(bars.area.max()) for bars, jump in self._jumps), default=0.0)

    @cached_property
    def all_steps(self) -> float:
        """The force by which the displaced concrete of all bars together jumps at most, N."""
        return sum(jump * float(bars.area.sum()) for bars, jump in self._jumps)

    @cached_property
    def _jumps(self) -> list[tuple[BarSet, float]]:
        """The bars whose displaced concrete jumps, with the largest jump of its stress, MPa."""
        found = []
        for bars in self.bars:
            if bars.displaced is not None and len(steps := bars.displaced.steps):
                jump = bars.displaced.stress(steps) - bars.displaced.stress(steps - 1e-9)
                found.append((bars, float(np.abs(jump).max())))
        return found

    def extent(self, angle: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return the lowest and highest t of the concrete for each direction (A,), mm."""
        return self.turn(angle).extent

    def directions(self, count: int) -> FloatArray:
        """Return directions (A,) that turn the moment about evenly: closest about the weak axis."""
        axis = self.symmetry.axis
        turn = np.arange(count, dtype=np.float64) * (2 * np.pi / count)
        along = self.vertices @ [np.cos(axis), np.sin(axis)]
        aside = self.vertices @ [-np.sin(axis), np.cos(axis)]
        ratio = along.std() / aside.std()
        if not ROUND < ratio**2 < 1 / ROUND:
            turn = np.mod(np.arctan2(ratio * np.sin(turn), np.cos(turn)), 2 * np.pi)
        directions: FloatArray = axis + turn
        return directions

    @cached_property
    def figure(self) -> Figure:
        """What must come upon itself where the body is alike: its edges and bars."""
        place, run, kind = [], [], []
        for index, rings in enumerate(self.rings):
            start = rings.start[:, 0] + 1j * rings.start[:, 1]
            end = start[rings.following]
            place.append((start + end) / 2)
            run.append((end - start) ** 2)
            kind.append(np.full((2, len(start)), [[index], [-1]], dtype=float))
        for index, (bars, part) in enumerate(zip(self.bars, self.bar_parts, strict=True)):
            points = self.bar_points[part]
            place.append(points[:, 0] + 1j * points[:, 1])
            run.append(np.zeros(len(points), dtype=np.complex128))
            kind.append(np.stack([np.full(len(points), float(index)), np.round(bars.area, 6)]))
        return Figure(*(np.concatenate(parts, axis=-1) for parts in (place, run, kind)))

    @cached_property
    def symmetry(self) -> Symmetry:
        """The turns and reflections about the centre that leave the body alike."""
        return find_symmetry(self.figure, self.vertices[:, 0] + 1j * self.vertices[:, 1])

    @cached_property
    def size(self) -> float:
        """The larger side of the box around the body, mm."""
        return float(np.ptp(self.vertices, axis=0).max())
