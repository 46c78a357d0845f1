"""Shapes of flanges and webs, legs and arms: L, T, I, Z, plus, channel; and the trapezium."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.section.shapes.shape import LEAST_STEP, Cornered, Write, refuse

__all__ = ["Channel", "IShape", "LShape", "Plus", "TShape", "Trapezium", "ZShape"]

THINNER = f"at least {LEAST_STEP:g} mm less than "


def _thinner(name: str, size: float, whole: float, of: str) -> None:
    """Refuse a part that is as large as the whole."""
    refuse(size > whole - LEAST_STEP, name, size, THINNER + of)


@dataclass(frozen=True)
class LShape(Cornered):
    """Two legs sharing the corner at lower left: width along x, depth along y.

    Attributes:
        leg: thickness of the level leg, and of the upright one if that has no other.
        stem: thickness of the upright leg; 0 as the level one.

    Raises:
        InputError: if a leg is as thick as the shape.
    """

    width: float
    depth: float
    leg: float
    stem: float = 0.0

    def __post_init__(self) -> None:
        least = min(self.width, self.depth)
        allowed = f"the leg must be at least {LEAST_STEP:g} mm thinner than the width and the depth"
        refuse(self.leg > least - LEAST_STEP, "leg", self.leg, allowed)
        _thinner("stem", self.stem, self.width, "the width")

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        called = f"L {write(self.width)} × {write(self.depth)} / {write(self.leg)}"
        return f"{called}, {write(self.stem)}" if self.stem else called

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise from the lower left one in the origin, (6, 2)."""
        w, d, t, s = self.width, self.depth, self.leg, self.stem or self.leg
        return np.array([[0, 0], [w, 0], [w, t], [s, t], [s, d], [0, d]], dtype=float)


@dataclass(frozen=True)
class TShape(Cornered):
    """A flange above a web in its middle.

    Attributes:
        flange: thickness of the flange.
        web: thickness of the web.

    Raises:
        InputError: if flange or web fill the shape.
    """

    width: float
    depth: float
    flange: float
    web: float

    def __post_init__(self) -> None:
        _thinner("flange", self.flange, self.depth, "the depth")
        _thinner("web", self.web, self.width, "the width")

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return _called("T", self.width, self.depth, self.flange, self.web, write)

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise about the middle, (8, 2)."""
        x, y, w = self.width / 2, self.depth / 2, self.web / 2
        under = y - self.flange
        right = [[w, -y], [w, under], [x, under], [x, y]]
        return np.array([*right, *([-a, b] for a, b in reversed(right))])


@dataclass(frozen=True)
class IShape(Cornered):
    """Two flanges with a web in the middle between them.

    Attributes:
        flange: thickness of the flanges.
        web: thickness of the web.
        bottom_width: of the lower flange; 0 as the upper one.

    Raises:
        InputError: if flanges or web fill the shape.
    """

    width: float
    depth: float
    flange: float
    web: float
    bottom_width: float = 0.0

    def __post_init__(self) -> None:
        _thinner("flange", 2 * self.flange, self.depth, "the depth, both flanges together")
        least = min(self.width, self.bottom_width or self.width)
        _thinner("web", self.web, least, "the width of the flanges")

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        called = _called("I", self.width, self.depth, self.flange, self.web, write)
        return f"{called}, below {write(self.bottom_width)}" if self.bottom_width else called

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise about the middle, (12, 2)."""
        x, y, w = self.width / 2, self.depth / 2, self.web / 2
        low, inner = (self.bottom_width or self.width) / 2, self.depth / 2 - self.flange
        right = [[low, -y], [low, -inner], [w, -inner], [w, inner], [x, inner], [x, y]]
        return np.array([*right, *([-a, b] for a, b in reversed(right))])


@dataclass(frozen=True)
class ZShape(Cornered):
    """Two flanges on opposite sides of a web: the upper one to the left, the lower to the right.

    Attributes:
        width: over both flanges.
        flange: thickness of the flanges.
        web: thickness of the web, in the middle.

    Raises:
        InputError: if flanges or web fill the shape.
    """

    width: float
    depth: float
    flange: float
    web: float

    def __post_init__(self) -> None:
        _thinner("flange", 2 * self.flange, self.depth, "the depth, both flanges together")
        _thinner("web", self.web, self.width, "the width")

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return _called("Z", self.width, self.depth, self.flange, self.web, write)

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise about the middle, (8, 2)."""
        x, y, w = self.width / 2, self.depth / 2, self.web / 2
        half = [[-w, -y], [x, -y], [x, -y + self.flange], [w, -y + self.flange]]
        return np.array([*half, *([-a, -b] for a, b in half)])


@dataclass(frozen=True)
class Channel(Cornered):
    """Two flanges to the right of a web at the left.

    Attributes:
        flange: thickness of the flanges.
        web: thickness of the web.

    Raises:
        InputError: if flanges or web fill the shape.
    """

    width: float
    depth: float
    flange: float
    web: float

    def __post_init__(self) -> None:
        _thinner("flange", 2 * self.flange, self.depth, "the depth, both flanges together")
        _thinner("web", self.web, self.width, "the width")

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return _called("channel", self.width, self.depth, self.flange, self.web, write)

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise about the middle of the box, (8, 2)."""
        x, y, inner = self.width / 2, self.depth / 2, self.depth / 2 - self.flange
        web = -x + self.web
        return np.array(
            [
                [-x, -y],
                [x, -y],
                [x, -inner],
                [web, -inner],
                [web, inner],
                [x, inner],
                [x, y],
                [-x, y],
            ]
        )


@dataclass(frozen=True)
class Plus(Cornered):
    """Four arms about the middle.

    Attributes:
        flange: thickness of the level arms.
        web: thickness of the upright arms.

    Raises:
        InputError: if arms fill the shape.
    """

    width: float
    depth: float
    flange: float
    web: float

    def __post_init__(self) -> None:
        _thinner("flange", self.flange, self.depth, "the depth")
        _thinner("web", self.web, self.width, "the width")

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return _called("plus", self.width, self.depth, self.flange, self.web, write)

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise about the middle, (12, 2)."""
        x, y, w, f = self.width / 2, self.depth / 2, self.web / 2, self.flange / 2
        half = [[-w, -y], [w, -y], [w, -f], [x, -f], [x, f], [w, f]]
        return np.array([*half, *([-a, -b] for a, b in half)])


@dataclass(frozen=True)
class Trapezium(Cornered):
    """A tapered section: width of the lower side, top_width of the upper, depth between them.

    Attributes:
        lean: how far the middle of the upper side stands to the right of that of the lower.
    """

    width: float
    depth: float
    top_width: float
    lean: float = 0.0

    def label(self, write: Write) -> str:
        """Return how the section is called on a schedule; `write` writes a length."""
        return f"tapered {write(self.width)} to {write(self.top_width)} × {write(self.depth)}"

    def ring(self) -> FloatArray:
        """Return the corners, anticlockwise about the middle of the lower side, (4, 2)."""
        x, top, y, lean = self.width / 2, self.top_width / 2, self.depth / 2, self.lean
        return np.array([[-x, -y], [x, -y], [lean + top, y], [lean - top, y]])


def _called(name: str, width: float, depth: float, flange: float, web: float, write: Write) -> str:
    thick = write(flange) if flange == web else f"{write(flange)}, {write(web)}"
    return f"{name} {write(width)} × {write(depth)} / {thick}"
