"""Sections as the file has them: shape, cover, call-outs. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import FailFast, Field, model_validator

from fexro.core.arrays import IntArray
from fexro.core.errors import InputError
from fexro.core.section.bars import MAX_BARS, Bars, BarSize, bar_size, parse_ties
from fexro.core.section.call_out import BarGroup, parse_call_out
from fexro.core.section.curtains import hoops_of_ends
from fexro.core.section.layout import build_section, place_bars
from fexro.core.section.section import Section
from fexro.core.section.shapes import Circle, HollowCircle, Legs, Strip
from fexro.project.bars import OwnBar, PlacedBar, call_out_of, sizes_by_name
from fexro.project.profiles import SteelParts, steel_of
from fexro.project.records import Record, Text
from fexro.project.shapes import Shape, shape_of
from fexro.project.values import Cover

__all__ = [
    "BarsCallOut",
    "DiagonalBars",
    "PlacedBars",
    "PlacedTies",
    "SectionModel",
    "TiesCallOut",
    "refuse_wall_bars",
    "section_of",
]

BarsCallOut = Annotated[
    Text, Field(min_length=1, max_length=80, description="such as 4 D28 + 6 D20")
]
TiesCallOut = Annotated[Text, Field(min_length=1, max_length=40, description="such as D10@200")]


PlacedBars = Annotated[tuple[PlacedBar, ...], Field(max_length=MAX_BARS), FailFast()]


class PlacedTies(Record):
    """Ties inside the outer one, placed by hand.

    Attributes:
        bars: how many bars there were.
        ties: the numbers of the bars, from 0, that each goes round; two for a cross tie.
    """

    bars: Annotated[int, Field(ge=1, le=MAX_BARS)]
    ties: Annotated[
        tuple[
            Annotated[
                tuple[Annotated[int, Field(ge=0, lt=MAX_BARS)], ...],
                Field(min_length=2, max_length=60),
            ],
            ...,
        ],
        Field(max_length=200),
    ] = ()

    @model_validator(mode="after")
    def _of_bars(self) -> Self:
        """Refuse ties about bars that there are not, or about one twice."""
        for tie in self.ties:
            if max(tie) >= self.bars or len(set(tie)) < len(tie):
                raise ValueError("ties about different bars of the section")
        return self


class DiagonalBars(Record):
    """Diagonal bars of a coupling beam: each of both groups, and what confines them.

    Attributes:
        bars: of one group, as 4 D25.
        confined: each group by hoops of its own, or the whole section.
        hoops: around them.
    """

    bars: BarsCallOut
    confined: Literal["groups", "section"] = "groups"
    hoops: TiesCallOut = "D10@100"


class SectionModel(Record):
    """A section as called out: shape, cover to the ties, bars, ties.

    Attributes:
        placed: bars placed by hand, one by one; then `bars` is how they are called out.
        profiles: structural steel inside the concrete.
        inner_ties: ties placed by hand; by the code's rule where there are none.
        hoops: around the bars of the free ends of a wall.
        diagonals: of a coupling beam.
    """

    shape: Shape
    cover: Cover
    bars: BarsCallOut
    ties: TiesCallOut
    placed: PlacedBars = ()
    profiles: SteelParts = ()
    inner_ties: PlacedTies | None = None
    hoops: TiesCallOut | None = None
    diagonals: DiagonalBars | None = None

    def with_bars(self, bars: str, ties: str | None = None) -> SectionModel:
        """Return the section with bars and ties laid out by call-outs; without, its ties' own."""
        return self.model_copy(update=laid_out(bars, self.ties if ties is None else ties))


def laid_out(bars: str, ties: str) -> dict[str, object]:
    """Return what bars and ties by call-outs are of a section: none of them placed by hand."""
    return {"bars": bars, "ties": ties, "placed": (), "inner_ties": None}


RINGS = ("ring", "inner ring")


@lru_cache(maxsize=4096)
def refuse_wall_bars(model: SectionModel, own: tuple[OwnBar, ...] = ()) -> None:
    """Refuse hoops of ends and diagonals of a beam that cannot be read.

    Raises:
        InputError: saying which, and what is allowed.
    """
    sizes = sizes_by_name(own)
    if model.hoops is not None:
        parse_ties(model.hoops, "section.hoops", sizes)
    if model.diagonals is not None:
        parse_call_out(model.diagonals.bars, "section.diagonals", sizes)
        parse_ties(model.diagonals.hoops, "section.diagonals, hoops", sizes)


@lru_cache(maxsize=4096)
def section_of(model: SectionModel, own: tuple[OwnBar, ...] = ()) -> Section:
    """Return the section of a call-out, its bars laid out.

    Args:
        model: the section.
        own: the bar sizes of the project that no standard has.

    Raises:
        InputError: where a call-out is not understood or the bars have no place.
    """
    sizes = sizes_by_name(own)
    ties = parse_ties(model.ties, "section.ties", sizes)
    shape, steel = shape_of(model.shape), steel_of(model.profiles)
    groups: tuple[BarGroup, ...] = ()
    if model.placed:
        if model.bars != call_out_of(model.placed):
            allowed = f"{call_out_of(model.placed)}, as placed by hand; lay them out anew first"
            raise InputError("section.bars", f"“{model.bars}”", allowed)
        bars = _bars(model.placed, sizes)
        section = place_bars(shape, model.cover, bars, ties, "section", steel)
    else:
        groups = parse_call_out(model.bars, "section.bars", sizes)
        ring = all(group.place in RINGS for group in groups)
        if ties.spiral and not (isinstance(shape, Circle | HollowCircle) or ring):
            found = f"a spiral in a {model.shape.kind} with bars along its faces"
            raise InputError("section.ties", found, "one in a circle, or around bars on a ring")
        section = build_section(shape, model.cover, groups, ties, "section", steel)
    if model.inner_ties is not None:
        return replace(section, inner_ties=(model.inner_ties.bars, model.inner_ties.ties))
    if isinstance(shape, Strip):
        return replace(section, inner_ties=(len(section.bars), ()))
    if isinstance(shape, Legs):
        # The outer tie is the horizontal bars; inside are the hoops of the ends alone.
        inside = () if model.placed or model.hoops is None else hoops_of_ends(shape, groups)
        return replace(section, inner_ties=(len(section.bars), inside))
    return section


def _bars(placed: Sequence[PlacedBar], own: Mapping[str, BarSize]) -> Bars:
    """Return bars placed by hand as the core computes with them."""
    sizes = []
    for i, bar in enumerate(placed):
        if bar.size is None:
            assert bar.area is not None
            sizes.append(BarSize("", math.sqrt(4 * bar.area / math.pi), bar.area))
        else:
            sizes.append(bar_size(bar.size, f"section.placed[{i}].size", own))
    return Bars(
        np.array([bar.x for bar in placed]),
        np.array([bar.y for bar in placed]),
        np.array([size.area for size in sizes]),
        np.array([size.diameter for size in sizes]),
        _bundles(placed),
    )


def _bundles(placed: Sequence[PlacedBar]) -> IntArray | None:
    """Return the number of the bundle of each bar, one of its own where it stands alone."""
    if all(bar.bundle is None for bar in placed):
        return None
    own = 1 + max(bar.bundle or 0 for bar in placed)
    numbers = [own + i if bar.bundle is None else bar.bundle for i, bar in enumerate(placed)]
    return np.unique(numbers, return_inverse=True)[1]
