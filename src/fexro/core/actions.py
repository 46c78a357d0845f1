"""Actions on a member: forces as analysed, and the demands that a code makes of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray

__all__ = ["COMPONENTS", "ENDS", "Actions", "Demand", "Demands", "Profile"]

ENDS = ("top", "bottom")
COMPONENTS = ("N", "Vx", "Vy", "T", "Mx", "My")
_AXIAL_BENDING = [0, 4, 5]


@dataclass(frozen=True, eq=False)
class Profile:
    """Forces along a member, N and N·mm.

    Attributes:
        places: shares of its height from the bottom, ascending, (P,).
        forces: N, Vx, Vy, T, Mx, My of each combination, (C, P, 6).
    """

    places: FloatArray
    forces: FloatArray


@dataclass(frozen=True, eq=False)
class Actions:
    """Factored forces of a member as analysed, N and N·mm.

    Attributes:
        combinations: names, (C,).
        forces: N, Vx, Vy, T, Mx, My at the stations of each combination, (C, S, 6).
        missing: names of the combinations that apply to the member but have no forces for it.
        stations: names of the places along the member, (S,).
        sustained: the lasting part of the forces, (C, S, 6); nothing where it is not known.
        sway: the part that comes with sway in x and in y, (2, C, S, 6); nothing where not known.
        quasi_permanent: the forces of what lasts, without factors, (S, 6); nothing where it is not
            known.
        beyond: the largest moments about x and y of the lifts that are one length with it, (2, C);
            not numbers about an axis about which it is one by itself.
        between: forces along the member where there are loads or moments between its ends.
        seismic: which combinations are with earthquake, (C,); nothing where none is told to be.
        earthquake: the part of the forces that is of earthquake, (C, S, 6), where it is known.
        above, below: the least and the largest axial force, in an earthquake, at the near ends of
            the lifts above and below; nothing where there are none.
    """

    combinations: tuple[str, ...]
    forces: FloatArray
    missing: tuple[str, ...] = ()
    stations: tuple[str, ...] = ENDS
    sustained: FloatArray | None = None
    sway: FloatArray | None = None
    quasi_permanent: FloatArray | None = None
    between: Profile | None = None
    beyond: FloatArray | None = None
    seismic: BoolArray | None = None
    earthquake: FloatArray | None = None
    above: tuple[float, float] | None = None
    below: tuple[float, float] | None = None

    @property
    def in_earthquake(self) -> FloatArray:
        """Forces of the combinations with earthquake, (E, S, 6); of all where none is told."""
        return self.forces if self.seismic is None else self.forces[self.seismic]

    def axial_range(self, end: str) -> tuple[float, float]:
        """Return the least and the largest axial force at an end in an earthquake, N."""
        axial = self.in_earthquake[:, self.stations.index(end), 0]
        return (float(axial.min()), float(axial.max())) if len(axial) else (0.0, 0.0)

    @property
    def profile(self) -> Profile:
        """Forces along the member, straight between its ends where nothing else is known."""
        if self.between is not None:
            return self.between
        return Profile(np.array([0.0, 1.0]), self.forces[:, [1, 0]])

    @classmethod
    def of_axial_bending(
        cls, combinations: tuple[str, ...], forces: FloatArray, missing: tuple[str, ...] = ()
    ) -> Actions:
        """Return actions of N, Mx, My at both ends, (C, 2, 3), without shear and torsion."""
        whole = np.zeros((*forces.shape[:2], len(COMPONENTS)))
        whole[..., _AXIAL_BENDING] = forces
        return cls(combinations, whole, missing)

    @property
    def axial_bending(self) -> FloatArray:
        """N, Mx, My, (C, S, 3)."""
        return self.forces[..., _AXIAL_BENDING]

    @property
    def shear(self) -> FloatArray:
        """Vx, Vy, (C, S, 2)."""
        return self.forces[..., 1:3]

    @property
    def torsion(self) -> FloatArray:
        """T, (C, S)."""
        return self.forces[..., 3]


@dataclass(frozen=True, eq=False)
class Demand:
    """One demand, N and N·mm.

    Attributes:
        values: N, Mx, My to be met, (3,).
        place: where it acts.
        first_order: the analysed forces it comes from, (3,).
    """

    values: FloatArray
    place: str
    first_order: FloatArray


@dataclass(frozen=True, eq=False)
class Demands:
    """Demands of every combination, N and N·mm.

    Attributes:
        values: N, Mx, My to be met, (C, K, 3).
        places: where each of K acts.
        first_order: the analysed forces that each comes from, (C, K, 3).
        applies: which of them are asked for, (C, K); the others repeat the first. Nothing where all
            are.
    """

    values: FloatArray
    places: tuple[str, ...]
    first_order: FloatArray
    applies: BoolArray | None = None

    @property
    def rows(self) -> FloatArray:
        """N, Mx, My in order of combinations and, within, of their places, (C·K, 3)."""
        return self.values.reshape(-1, 3)

    def at(self, index: int) -> Demand:
        """Return a demand by its index among the rows."""
        combination, place = divmod(index, len(self.places))
        return Demand(
            self.values[combination, place],
            self.places[place],
            self.first_order[combination, place],
        )
