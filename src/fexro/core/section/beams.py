"""Sections of beams with a layer of bars at the top and one at the bottom. Lengths in mm."""

from __future__ import annotations

from fexro.core.errors import InputError
from fexro.core.section.bars import Ties
from fexro.core.section.call_out import BarGroup
from fexro.core.section.layout import place_bars
from fexro.core.section.section import Section
from fexro.core.section.shapes import Rectangle
from fexro.core.section.spots import Spot, bars_at

__all__ = ["beam_section"]

Groups = tuple[BarGroup, ...]


def beam_section(
    width: float, depth: float, top: Groups, bottom: Groups, cover: float, ties: Ties
) -> Section:
    """Return the section of a beam, y up, its bars in one layer at each face.

    Args:
        width, depth: of the concrete.
        top, bottom: bars at each face.
        cover: clear cover to the ties.
        ties: around them.

    Raises:
        InputError: where bars are called out by their spacing or place, or overlap.
    """
    inset = cover + ties.size.diameter
    spots = _layer(top, width, inset, (depth / 2 - inset, -1), "top")
    spots += _layer(bottom, width, inset, (inset - depth / 2, 1), "bottom")
    section = place_bars(Rectangle(width, depth), cover, bars_at(spots), ties, "beam")
    if section.misplaced:
        one = section.misplaced[0]
        raise InputError("bars", f"{one.where}: {one.found}", one.allowed)
    return section


def _layer(
    groups: Groups, width: float, inset: float, face: tuple[float, int], where: str
) -> list[Spot]:
    """Return bars side by side along a face, from one side of the ties to the other.

    Args:
        groups: the bars.
        width: of the beam.
        inset: from its faces to the inside of the ties.
        face: where that is at this face, and which way is inwards.
        where: name of the face, for the refusal.
    """
    sizes = [group.size for group in groups for _ in range(group.total)]
    if any(group.place or group.spacing is not None for group in groups):
        raise InputError(where, "bars with a place or a spacing", "such as 4 D25 + 2 D20")
    room = width / 2 - inset - max((size.diameter for size in sizes), default=0.0) / 2
    step = 2 * room / max(len(sizes) - 1, 1)
    edge, inward = face
    return [
        Spot(-room + i * step, edge + inward * size.diameter / 2, size)
        for i, size in enumerate(sizes)
    ]
