"""Material laws: stress over strain, compression positive, piecewise smooth.

A law of a region is given in pieces between break strains, so that the section can be cut there;
a law of bars only needs a stress for any strain.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol, TypeAlias

import numpy as np
import numpy.typing as npt

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError

__all__ = [
    "Constant",
    "ElasticPlastic",
    "Law",
    "Piece",
    "PiecewiseLaw",
    "Power",
    "SideArray",
    "Smooth",
    "elastic_plastic_region",
    "parabola_rectangle",
    "uniform_block",
]

SideArray = npt.NDArray[np.int8]

SAMPLES = 33  # strains of a piece at which its stress is looked at
JUMP = 1e-6  # share of the stress from which a change at a break is a jump


class Law(Protocol):
    """Anything that gives a stress (MPa) for each strain, compression positive."""

    def stress(self, strain: FloatArray) -> FloatArray:
        """Return the stress, MPa, in the shape of `strain`."""
        ...


@dataclass(frozen=True)
class Constant:
    """A stress (MPa) that does not change between two strains, the lower included."""

    lower: float
    upper: float
    value: float

    def stress(self, strain: FloatArray) -> FloatArray:
        """Return the stress, MPa, of strains inside."""
        return np.full_like(strain, self.value)


@dataclass(frozen=True)
class Power:
    """A stress that falls to zero at the upper strain as a power of the distance from it.

    The stress is `value` · ((upper - ε) / (upper - lower)) ^ `exponent`, MPa.
    """

    lower: float
    upper: float
    value: float
    exponent: float

    def stress(self, strain: FloatArray) -> FloatArray:
        """Return the stress, MPa, of strains inside."""
        share = np.clip((self.upper - strain) / (self.upper - self.lower), 0.0, 1.0)
        result: FloatArray = self.value * share**self.exponent
        return result


@dataclass(frozen=True)
class Smooth:
    """Any smooth stress between two strains.

    Attributes:
        function: stress in MPa for an array of strains inside.
        degree: degree in strain if polynomial; otherwise a degree that represents it closely.
    """

    lower: float
    upper: float
    function: Callable[[FloatArray], FloatArray]
    degree: int

    def stress(self, strain: FloatArray) -> FloatArray:
        """Return the stress, MPa, of strains inside."""
        return self.function(strain)


Piece: TypeAlias = Constant | Power | Smooth


@dataclass(frozen=True)
class PiecewiseLaw:
    """The sum of pieces, each zero outside its strains.

    Attributes:
        pieces: the pieces, by which regions are integrated.
        whole: the same stress in one expression, where that is faster for bars.
    """

    pieces: tuple[Piece, ...]
    whole: Callable[[FloatArray], FloatArray] | None = None

    def __post_init__(self) -> None:
        """Refuse pieces without an extent and stresses that are not finite.

        Raises:
            InputError: naming the piece.
        """
        for number, piece in enumerate(self.pieces, start=1):
            _refuse_endless(piece, f"law, piece {number}")

    def stress(self, strain: FloatArray) -> FloatArray:
        """Return the stress, MPa, in the shape of `strain`."""
        if self.whole is not None:
            return self.whole(strain)
        result = np.zeros_like(strain)
        for piece in self.pieces:
            inside = (strain >= piece.lower) & (strain < piece.upper)
            result[inside] += piece.stress(strain[inside])
        return result

    @cached_property
    def steps(self) -> FloatArray:
        """The strains at which the stress jumps, ascending."""
        ends = {end for piece in self.pieces for end in (piece.lower, piece.upper)}
        breaks = np.array(sorted(end for end in ends if np.isfinite(end)))
        below, above = self.stress(np.nextafter(breaks, -np.inf)), self.stress(breaks)
        jumps = np.abs(above - below) > JUMP * np.maximum(np.abs(above), np.abs(below))
        steps: FloatArray = breaks[jumps]
        return steps

    def side(self, strain: FloatArray) -> SideArray:
        """Return the number of steps that each strain has passed."""
        side = np.zeros(strain.shape, dtype=np.int8)
        for step in self.steps:
            side += strain >= step
        return side

    def stress_on(self, strain: FloatArray, side: SideArray) -> FloatArray:
        """Return the stress, MPa, as if no step but those of a side were passed."""
        ends = np.concatenate([[-np.inf], self.steps, [np.inf]])
        below = np.nextafter(ends, -np.inf)
        return self.stress(np.clip(strain, ends[side], below[side + 1]))

    @cached_property
    def steady(self) -> bool:
        """Whether the stress does not change between the steps."""
        return all(isinstance(piece, Constant) for piece in self.pieces)

    @cached_property
    def levels(self) -> FloatArray:
        """The stress before the first step and after each, where it does not change between."""
        return self.stress(np.concatenate([self.steps[:1] - 1.0, self.steps]))


def _refuse_endless(piece: Piece, where: str) -> None:
    if not piece.lower < piece.upper:
        found = f"strains from {piece.lower:g} to {piece.upper:g}"
        raise InputError(where, found, "a lower strain below the upper")
    if isinstance(piece, Constant):
        stress = np.array([piece.value])
    else:
        if not np.isfinite([piece.lower, piece.upper]).all():
            found = f"strains from {piece.lower:g} to {piece.upper:g}"
            raise InputError(where, found, "finite strains")
        inside = np.linspace(piece.lower, piece.upper, SAMPLES)
        with np.errstate(all="ignore"):
            stress = piece.stress(inside)
    if not np.isfinite(stress).all():
        raise InputError(where, "a stress that is not a finite number", "finite stresses, MPa")


@dataclass(frozen=True)
class ElasticPlastic:
    """Linear to the yield stress, then constant; alike in tension and compression (MPa).

    Raises:
        InputError: for a modulus or a yield stress that is not a positive finite number.
    """

    modulus: float
    yield_stress: float

    def __post_init__(self) -> None:
        """Refuse what is not a law."""
        for name in ("modulus", "yield_stress"):
            value = getattr(self, name)
            if not (np.isfinite(value) and value > 0):
                where = f"steel law, {name.replace('_', ' ')}"
                raise InputError(where, f"{value:g}", "a positive number, MPa")

    def stress(self, strain: FloatArray) -> FloatArray:
        """Return the stress, MPa, in the shape of `strain`."""
        result = strain * self.modulus
        return np.clip(result, -self.yield_stress, self.yield_stress, out=result)


def elastic_plastic_region(modulus: float, yield_stress: float) -> PiecewiseLaw:
    """Return the law of `ElasticPlastic` in pieces, for areas of steel (MPa)."""
    law = ElasticPlastic(modulus, yield_stress)
    limit = yield_stress / modulus
    pieces = (
        Constant(-np.inf, -limit, -yield_stress),
        Smooth(-limit, limit, lambda strain: strain * modulus, 1),
        Constant(limit, np.inf, yield_stress),
    )
    return PiecewiseLaw(pieces, law.stress)


def uniform_block(stress: float, from_strain: float) -> PiecewiseLaw:
    """Return the rectangular block: a constant stress (MPa) at and beyond a strain."""

    def whole(strain: FloatArray) -> FloatArray:
        block: FloatArray = np.multiply(strain >= from_strain, stress, dtype=float)
        return block

    return PiecewiseLaw((Constant(from_strain, np.inf, stress),), whole)


def parabola_rectangle(stress: float, peak_strain: float, exponent: float) -> PiecewiseLaw:
    """Return a law that rises to a stress (MPa) at a strain and stays there.

    The rise is stress · (1 - (1 - ε / peak) ^ exponent): a block from zero strain less a power.
    """

    def whole(strain: FloatArray) -> FloatArray:
        # In place as far as it goes: there is a strain for every bar at every point.
        short = strain * (-1.0 / peak_strain)
        short += 1.0
        np.clip(short, 0.0, 1.0, out=short)
        short **= exponent
        short *= -stress
        short += stress
        return short

    rise = Power(0.0, peak_strain, -stress, exponent)
    return PiecewiseLaw((Constant(0.0, np.inf, stress), rise), whole)
