"""Profiles of structural steel by their dimensions, upright about the origin. Lengths in mm."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.core.section.outline import Outline, arc_ring
from fexro.core.section.shapes.shape import Write, box

__all__ = ["ChannelProfile", "HollowProfile", "IProfile", "Plate", "Profile", "Tube"]

FILLET = math.tan(math.pi / 8)  # bulge of a quarter of a circle
CHORDS = 16  # of a whole circle: the area stays exact, and few edges stay fast
TUBE_CORNERS = 48


class Profile(Protocol):
    """A profile of steel."""

    @property
    def flange_width(self) -> float:
        """Width of its flanges, or of it all, mm."""
        ...

    def label(self, write: Write) -> str:
        """Return how it is called on a schedule; `write` writes a length."""
        ...

    def outline(self) -> Outline:
        """Return its outline about the middle of its bounding box."""
        ...

    def __hash__(self) -> int:
        """Profiles are values."""
        ...


def _thin(name: str, value: float, room: float, of: str) -> None:
    """Refuse a thickness that leaves nothing between."""
    if not 0 < value < room:
        raise InputError(name, f"{value:g} mm", f"less than {room:g} mm, {of}")


@dataclass(frozen=True)
class IProfile:
    """An I-section: two flanges of one width and a web, with fillets of a root radius.

    Raises:
        InputError: if its sizes do not fit together.
    """

    depth: float
    width: float
    web: float
    flange: float
    root: float = 0.0

    def __post_init__(self) -> None:
        _refuse_rolled(self, (self.width - self.web) / 2)

    @property
    def flange_width(self) -> float:
        """Width of its flanges."""
        return self.width

    def label(self, write: Write) -> str:
        """Return how it is called on a schedule."""
        sizes = (self.depth, self.width, self.web, self.flange)
        return "I " + " × ".join(map(write, sizes))

    def outline(self) -> Outline:
        """Return its outline."""
        x, y, w = self.width / 2, self.depth / 2, self.web / 2
        inner, r = y - self.flange, self.root
        quarter = [(x, inner), (w + r, inner), (w, inner - r)] if r else [(x, inner), (w, inner)]
        right = np.array([(x, -y), *_flipped(quarter), *quarter[::-1], (x, y)])
        left = -right
        return _with_fillets(np.concatenate([right, left]), w, inner, r)


def _flipped(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    return [(px, -py) for px, py in points]


def _with_fillets(ring: FloatArray, web: float, inner: float, root: float) -> Outline:
    """Return the outline of a ring whose steps from web to flange are rounded."""
    if not root:
        return Outline((ring,))
    ahead = np.roll(ring, -1, axis=0) - ring
    sloped = np.abs(ahead).min(axis=1) > 1e-9
    return Outline((arc_ring(ring, np.where(sloped, -FILLET, 0.0), "profile", CHORDS),))


def _refuse_rolled(profile: IProfile | ChannelProfile, outstand: float) -> None:
    """Refuse flanges, webs and fillets that do not fit together."""
    _thin("flange", profile.flange, profile.depth / 2, "half of the depth")
    _thin("web", profile.web, profile.width, "the width")
    room = min(outstand, profile.depth / 2 - profile.flange)
    if not 0 <= profile.root < room:
        raise InputError("root radius", f"{profile.root:g} mm", f"less than {room:g} mm")


@dataclass(frozen=True)
class ChannelProfile:
    """A channel: a web at the left, two flanges to the right, with fillets of a root radius.

    Raises:
        InputError: if its sizes do not fit together.
    """

    depth: float
    width: float
    web: float
    flange: float
    root: float = 0.0

    def __post_init__(self) -> None:
        _refuse_rolled(self, self.width - self.web)

    @property
    def flange_width(self) -> float:
        """Width of its flanges."""
        return self.width

    def label(self, write: Write) -> str:
        """Return how it is called on a schedule."""
        sizes = (self.depth, self.width, self.web, self.flange)
        return "channel " + " × ".join(map(write, sizes))

    def outline(self) -> Outline:
        """Return its outline."""
        x, y = self.width / 2, self.depth / 2
        inner, w, r = y - self.flange, self.web - x, self.root
        step = [(x, inner), (w + r, inner), (w, inner - r)] if r else [(x, inner), (w, inner)]
        ring = np.array([(-x, -y), (x, -y), *_flipped(step), *step[::-1], (x, y), (-x, y)])
        return _with_fillets(ring, w, inner, r)


@dataclass(frozen=True)
class HollowProfile:
    """A rectangular hollow section of one wall thickness, its corners sharp.

    Raises:
        InputError: if its wall leaves no hollow.
    """

    depth: float
    width: float
    wall: float

    def __post_init__(self) -> None:
        _thin("wall", self.wall, min(self.depth, self.width) / 2, "half of the lesser side")

    @property
    def flange_width(self) -> float:
        """Width of it."""
        return self.width

    def label(self, write: Write) -> str:
        """Return how it is called on a schedule."""
        return f"hollow {write(self.depth)} × {write(self.width)} × {write(self.wall)}"

    def outline(self) -> Outline:
        """Return its outline."""
        inside = box(self.width - 2 * self.wall, self.depth - 2 * self.wall)
        return Outline((box(self.width, self.depth), inside[::-1]))


@dataclass(frozen=True)
class Tube:
    """A round hollow section.

    Raises:
        InputError: if its wall leaves no hollow.
    """

    diameter: float
    wall: float

    def __post_init__(self) -> None:
        _thin("wall", self.wall, self.diameter / 2, "half of the diameter")

    @property
    def flange_width(self) -> float:
        """Width of it."""
        return self.diameter

    def label(self, write: Write) -> str:
        """Return how it is called on a schedule."""
        return f"tube {write(self.diameter)} × {write(self.wall)}"

    def outline(self) -> Outline:
        """Return its outline: polygons of the areas of the circles."""
        inside = self.diameter - 2 * self.wall
        return Outline((_circle(self.diameter), _circle(inside)[::-1]))


def _circle(diameter: float) -> FloatArray:
    step = 2 * np.pi / TUBE_CORNERS
    radius = diameter / 2 * np.sqrt(step / np.sin(step))
    angle = (np.arange(TUBE_CORNERS) + 0.5) * step
    ring: FloatArray = radius * np.column_stack([np.cos(angle), np.sin(angle)])
    return ring


@dataclass(frozen=True)
class Plate:
    """A solid rectangle of steel: depth along y, width along x."""

    depth: float
    width: float

    @property
    def flange_width(self) -> float:
        """Width of it."""
        return self.width

    def label(self, write: Write) -> str:
        """Return how it is called on a schedule."""
        return f"plate {write(self.depth)} × {write(self.width)}"

    def outline(self) -> Outline:
        """Return its outline."""
        return Outline((box(self.width, self.depth),))
