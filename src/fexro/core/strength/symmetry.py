"""The turns and reflections about its centre that leave a section alike."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from fexro.core.arrays import BoolArray, FloatArray, IntArray

__all__ = ["Figure", "Symmetry", "find_symmetry"]

ComplexArray = npt.NDArray[np.complex128]

ALIKE = 1e-7  # of the size: places that near are the same
ROUND = 0.98  # ratio of the variances from which both directions count as alike


@dataclass(frozen=True, eq=False)
class Figure:
    """What must come upon itself, about the centre: edges by their middles, and bars.

    Places are complex numbers x + iy.

    Attributes:
        place: (F,), mm.
        run: squares of the edges as vectors, (F,), mm²: alike whichever way they run; 0 for bars.
        kind: (2, F), what else must agree: number of the region, and -1; or of the set, and area.
    """

    place: ComplexArray
    run: ComplexArray
    kind: FloatArray

    def alike(self, turn: complex, mirrored: bool) -> bool:
        """Tell whether a turn, after a reflection in the x axis if `mirrored`, changes nothing."""
        place = np.conj(self.place) if mirrored else self.place
        run = np.conj(self.run) if mirrored else self.run
        moved = Figure(place * turn, run * turn**2, self.kind)
        return np.array_equal(self._sorted, moved._sorted)

    @property
    def most_alike(self) -> int:
        """The most that every kind can be divided by, where it is off the centre."""
        distance = np.abs(self.place)
        off_centre = self.kind[:, distance > ALIKE * distance.max()]
        _, numbers = np.unique(off_centre, axis=1, return_counts=True)
        return math.gcd(*(int(number) for number in numbers))

    @cached_property
    def _sorted(self) -> FloatArray:
        size = max(float(np.abs(self.place).max()), 1.0)
        numbers = np.stack(
            [self.place.real, self.place.imag, self.run.real / size, self.run.imag / size]
        )
        # Rounded off the steps, where equal values would part.
        rounded = np.rint(numbers / (ALIKE * size) + 0.137)
        rows = np.concatenate([rounded, self.kind])
        return rows[:, np.lexsort(rows)]


@dataclass(frozen=True)
class Symmetry:
    """Turns by a full turn over `fold`, and, if `mirrored`, a reflection in an axis.

    The axis, radians from x, is else a principal axis of the vertices.
    """

    fold: int
    axis: float
    mirrored: bool

    @property
    def point(self) -> bool:
        """Whether half a turn changes nothing."""
        return self.fold % 2 == 0

    def sources(self, count: int) -> tuple[IntArray, BoolArray]:
        """Return for directions about the axis (A,) the first that is alike, and if reflected."""
        index = np.arange(count)
        sector = count // math.gcd(self.fold, count)
        within = index % sector
        reflected = self.mirrored & (2 * within > sector)
        return np.where(reflected, sector - within, within), reflected


def find_symmetry(figure: Figure, vertices: ComplexArray) -> Symmetry:
    """Return the symmetry of a figure whose outline has vertices (V,) about the centre, mm."""
    about = vertices - vertices.mean()
    # The mean square is the difference of the principal variances, along twice their direction.
    square, spread = (about**2).mean(), (np.abs(about) ** 2).mean()
    alike = spread - np.abs(square) > ROUND * (spread + np.abs(square))
    weak = float(np.angle(-square) / 2) % math.pi
    # A section alike in both directions keeps the drawing's axes.
    axes = [0.0, math.pi / 2, math.pi / 4] if alike else [weak, weak + math.pi / 2]
    most = figure.most_alike if alike else 2
    folds = (k for k in range(most, 0, -1) if most % k == 0)
    fold = next(k for k in folds if k == 1 or figure.alike(np.exp(2j * np.pi / k), False))
    for axis in axes:
        if figure.alike(np.exp(2j * axis), True):
            return Symmetry(fold, axis, True)
    return Symmetry(fold, axes[0], False)
