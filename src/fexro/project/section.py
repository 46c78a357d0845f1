"""Sections as the file has them: shape, cover, call-outs. Lengths in mm."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated

from pydantic import Field

from fexro.core.section.bars import parse_call_out, parse_ties
from fexro.core.section.layout import Section, build_section
from fexro.project.bars import OwnBar
from fexro.project.records import Record, Text
from fexro.project.shapes import Shape, shape_of
from fexro.project.values import Cover

__all__ = ["BarsCallOut", "SectionModel", "TiesCallOut", "section_of"]

BarsCallOut = Annotated[
    Text, Field(min_length=1, max_length=80, description="such as 4 D28 + 6 D20")
]
TiesCallOut = Annotated[Text, Field(min_length=1, max_length=40, description="such as D10@200")]


class SectionModel(Record):
    """A section as called out: shape, cover to the ties, bars, ties."""

    shape: Shape
    cover: Cover
    bars: BarsCallOut
    ties: TiesCallOut


@lru_cache(maxsize=4096)
def section_of(model: SectionModel, own: tuple[OwnBar, ...] = ()) -> Section:
    """Return the section of a call-out, its bars laid out.

    Args:
        model: the section.
        own: the bar sizes of the project that no standard has.

    Raises:
        InputError: where a call-out is not understood or the bars have no place.
    """
    sizes = {bar.name.upper(): bar.size() for bar in own}
    groups = parse_call_out(model.bars, "section.bars", sizes)
    ties = parse_ties(model.ties, "section.ties", sizes)
    return build_section(shape_of(model.shape), model.cover, groups, ties)
