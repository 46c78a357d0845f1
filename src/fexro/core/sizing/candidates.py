"""The bars and ties that may be proposed for a section."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from fexro.core.section.bars import BarSize
from fexro.core.section.call_out import BarGroup
from fexro.core.section.section import Section

__all__ = ["BarRules", "Groups", "bar_count", "layouts_of", "steel_area"]

Groups = tuple[BarGroup, ...]
MOST_ON_FACE = 5  # bars between the corners of a face that are tried
STEPS_APART = 3  # sizes of the series by which bars between corners may be smaller


@dataclass(frozen=True)
class BarRules:
    """Which bars and ties may be proposed.

    Attributes:
        sizes: of bars, rising.
        ties: sizes of ties, rising.
        spacings: of ties, mm, falling.
        mixed: whether corners may have larger bars than faces.
        faces: whether faces along x and along y may have different numbers.
        symmetric: whether opposite faces have the same bars.
        least, most: number of bars.
        least_ratio, most_ratio: area of bars over that of concrete.
        aim: largest utilisation.
    """

    sizes: tuple[BarSize, ...]
    ties: tuple[BarSize, ...]
    spacings: tuple[float, ...]
    mixed: bool = True
    faces: bool = True
    symmetric: bool = True
    least: int = 4
    most: int = 40
    least_ratio: float = 0.0
    most_ratio: float = 0.08
    aim: float = 1.0


def layouts_of(rules: BarRules, section: Section) -> tuple[Groups, ...]:
    """Return the layouts that may be proposed, by rising area.

    A section with four corners has them in its corners and along its faces; others have one size
    around.
    """
    x0, y0, x1, y1 = section.outline.bounds
    square = abs((x1 - x0) - (y1 - y0)) < 1e-6
    return _layouts(rules, section.outline.area, section.corner_count, square)


# The lifts of a building are of a few shapes.
@lru_cache(maxsize=64)
def _layouts(rules: BarRules, area: float, corners: int, square: bool) -> tuple[Groups, ...]:
    found: dict[Groups, float] = {}
    for groups in _all(rules, corners, square):
        count = sum(map(bar_count, groups))
        steel = steel_area(groups)
        if not rules.least <= count <= rules.most:
            continue
        if rules.least_ratio <= steel / area <= rules.most_ratio * (1 + 1e-9):
            found[groups] = steel
    return tuple(sorted(found, key=lambda groups: found[groups]))


def steel_area(groups: Groups) -> float:
    """Return the area of the bars of a layout, mm²."""
    return sum(bar_count(group) * group.size.area for group in groups)


def bar_count(group: BarGroup) -> int:
    """Return how many bars a group is: those along faces stand on two of them."""
    return group.count * (2 if group.place.startswith("along") else 1)


def _lopsided(corner: BarSize, face: BarSize) -> Iterator[Groups]:
    """Yield layouts whose opposite faces have different numbers of bars."""
    numbers = range(MOST_ON_FACE + 1)
    for one, other in (("top", "bottom"), ("right", "left")):
        beside = "along y" if one == "top" else "along x"
        for more, less, along in itertools.product(numbers, repeat=3):
            if more == less:
                continue
            groups = [BarGroup(4, corner, "corners")]
            some = ((more, one), (less, other), (along, beside))
            groups += [BarGroup(count, face, place) for count, place in some if count]
            yield tuple(groups)


def _all(rules: BarRules, corners: int, square: bool) -> Iterator[Groups]:
    if corners != 4:
        least = max(corners, rules.least)
        for size, count in itertools.product(rules.sizes, range(least, rules.most + 1)):
            yield (BarGroup(count, size),)
        return
    for size in rules.sizes:
        for count in range(4, rules.most + 1, 2):
            yield (BarGroup(count, size),)
    if not rules.faces:
        return
    for place, corner in enumerate(rules.sizes):
        smaller = rules.sizes[max(place - STEPS_APART, 0) : place] if rules.mixed else ()
        for face in (corner, *smaller):
            for along_x, along_y in itertools.product(range(MOST_ON_FACE + 1), repeat=2):
                if along_x == along_y == 0 or (square and face is corner and along_x == along_y):
                    # As many around are there already.
                    continue
                groups = [BarGroup(4, corner, "corners")]
                groups += [BarGroup(along_x, face, "along x")] if along_x else []
                groups += [BarGroup(along_y, face, "along y")] if along_y else []
                yield tuple(groups)
            if not rules.symmetric:
                yield from _lopsided(corner, face)
