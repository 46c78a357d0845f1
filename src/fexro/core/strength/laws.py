"""Material laws: stress over strain, compression positive, piecewise smooth.

A law of a region is given in pieces between break strains, so that the section can be cut there;
a law of bars only needs a stress for any strain.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from fexro.core.section.outline import FloatArray

__all__ = ["ElasticPlastic", "Law", "Piece", "PiecewiseLaw", "uniform_block"]


class Law(Protocol):
    """Anything that gives a stress (MPa) for each strain, compression positive."""

    def stress(self, strain: FloatArray) -> FloatArray:
        """Return the stress, MPa, in the shape of `strain`."""
        ...


@dataclass(frozen=True)
class Piece:
    """A smooth part of a law.

    Attributes:
        lower: strain at which it begins (belongs to the piece).
        upper: strain at which it ends.
        stress: stress in MPa for an array of strains inside, or a number where it is constant.
        degree: degree in strain if polynomial; otherwise a degree that represents it closely.
    """

    lower: float
    upper: float
    stress: Callable[[FloatArray], FloatArray] | float
    degree: int = 0


@dataclass(frozen=True)
class PiecewiseLaw:
    """A law made of pieces; zero outside them."""

    pieces: tuple[Piece, ...]

    def stress(self, strain: FloatArray) -> FloatArray:
        """Return the stress, MPa, in the shape of `strain`."""
        only = self.pieces[0]
        if len(self.pieces) == 1 and isinstance(only.stress, float) and only.upper == np.inf:
            block: FloatArray = np.multiply(strain >= only.lower, only.stress, dtype=float)
            return block
        result = np.zeros_like(strain)
        for piece in self.pieces:
            inside = (strain >= piece.lower) & (strain < piece.upper)
            if callable(piece.stress):
                result[inside] = piece.stress(strain[inside])
            else:
                result[inside] = piece.stress
        return result


@dataclass(frozen=True)
class ElasticPlastic:
    """Linear to the yield stress, then constant; alike in tension and compression (MPa)."""

    modulus: float
    yield_stress: float

    def stress(self, strain: FloatArray) -> FloatArray:
        """Return the stress, MPa, in the shape of `strain`."""
        result = strain * self.modulus
        return np.clip(result, -self.yield_stress, self.yield_stress, out=result)


def uniform_block(stress: float, from_strain: float) -> PiecewiseLaw:
    """Return the rectangular block: a constant stress (MPa) at and beyond a strain."""
    return PiecewiseLaw((Piece(from_strain, np.inf, stress),))
