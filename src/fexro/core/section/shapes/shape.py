"""What every shape of a section answers, and the checks of sizes that they share. Lengths in mm."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.outline import Outline

__all__ = ["LEAST_STEP", "LEAST_VOID", "THINNEST", "Cornered", "Shape", "Write", "box", "refuse"]

THINNEST, LEAST_VOID, LEAST_STEP = 25.0, 10.0, 10.0

Write = Callable[[float], str]


class Shape(Protocol):
    """A shape of a section."""

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        ...

    def __hash__(self) -> int:
        """Shapes are values: outlines are remembered by them."""
        ...

    def outline(self) -> Outline:
        """Return the outline."""
        ...

    def corners(self) -> FloatArray | None:
        """Return the corners that ties go round and bars stand in, (V, 2); nothing if smooth."""
        ...


class Cornered:
    """A shape bounded by one ring of straight sides."""

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise, (V, 2)."""
        raise NotImplementedError

    def outline(self) -> Outline:
        """Return the outline."""
        return Outline((self.ring(),))

    def corners(self) -> FloatArray | None:
        """Return the corners that ties go round and bars stand in, (V, 2)."""
        return self.ring()


def refuse(condition: bool, name: str, value: float, allowed: str) -> None:
    """Refuse a size where a condition holds.

    Raises:
        InputError: with the name of the size, what was found and what is allowed.
    """
    if condition:
        raise InputError(name, f"{value:g} mm", allowed)


def box(width: float, depth: float) -> FloatArray:
    """Return the corners of a rectangle about the origin, anticlockwise, (4, 2)."""
    x, y = width / 2, depth / 2
    return np.array([[-x, -y], [x, -y], [x, y], [-x, y]])
