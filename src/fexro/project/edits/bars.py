"""Edits of the bars of a section one by one; from then on they are placed by hand."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from functools import lru_cache

import numpy as np

from fexro.core.arrays import IntArray
from fexro.core.errors import InputError
from fexro.core.section.bars import MAX_BARS, bar_size
from fexro.core.section.call_out import parse_call_out
from fexro.project.bars import OwnBar, PlacedBar, call_out_of, sizes_by_name
from fexro.project.section import SectionModel, section_of

__all__ = [
    "add_bar",
    "laid_out",
    "move_bars",
    "placed_bars",
    "remove_bars",
    "resize_bars",
    "with_placed",
]

GRID = 0.1  # mm, to which places are rounded


def placed_bars(section: SectionModel, own: Sequence[OwnBar] = ()) -> tuple[PlacedBar, ...]:
    """Return the bars of a section one by one, where they are."""
    return section.placed or _as_laid_out(section, tuple(own))


@lru_cache(maxsize=64)
def _as_laid_out(section: SectionModel, own: tuple[OwnBar, ...]) -> tuple[PlacedBar, ...]:
    bars = section_of(section, own).bars
    known = sizes_by_name(own)
    names = {
        group.size.diameter: group.size.name for group in parse_call_out(section.bars, own=known)
    }
    bundles = [None] * len(bars) if bars.bundle is None else _bundled(bars.bundle)
    return tuple(
        PlacedBar(x=_rounded(x), y=_rounded(y), size=names[diameter], bundle=bundle)
        for x, y, diameter, bundle in zip(
            bars.x.tolist(), bars.y.tolist(), bars.diameter.tolist(), bundles, strict=True
        )
    )


def _bundled(bundle: IntArray) -> list[int | None]:
    """Return the number of the bundle of each bar that is not alone in it."""
    counts = np.bincount(bundle)
    return [int(number) if counts[number] > 1 else None for number in bundle]


def with_placed(section: SectionModel, placed: Sequence[PlacedBar]) -> SectionModel:
    """Return a section with bars placed by hand.

    Raises:
        InputError: without any bar, or with too many.
    """
    if not 1 <= len(placed) <= MAX_BARS:
        raise InputError("bars", f"{len(placed)} bars", f"1 to {MAX_BARS} bars")
    return section.model_copy(update={"placed": tuple(placed), "bars": call_out_of(placed)})


def laid_out(section: SectionModel, call_out: str | None = None) -> SectionModel:
    """Return a section whose bars are laid out by a call-out again, by theirs if none is given."""
    return section.model_copy(update={"placed": (), "bars": call_out or section.bars})


def move_bars(
    section: SectionModel, chosen: Collection[int], dx: float, dy: float, own: Sequence[OwnBar] = ()
) -> SectionModel:
    """Return a section with some bars, by number from 0, moved by dx and dy, mm."""
    placed = [
        bar.model_copy(update={"x": _rounded(bar.x + dx), "y": _rounded(bar.y + dy)})
        if i in chosen
        else bar
        for i, bar in enumerate(placed_bars(section, own))
    ]
    return with_placed(section, placed)


def add_bar(
    section: SectionModel, x: float, y: float, size: str, own: Sequence[OwnBar] = ()
) -> SectionModel:
    """Return a section with a bar more.

    Raises:
        InputError: for a size that is not on the market.
    """
    bar_size(size, "bar size", sizes_by_name(own))
    bar = PlacedBar(x=_rounded(x), y=_rounded(y), size=size)
    return with_placed(section, [*placed_bars(section, own), bar])


def remove_bars(
    section: SectionModel, chosen: Collection[int], own: Sequence[OwnBar] = ()
) -> SectionModel:
    """Return a section without some of its bars, by number from 0."""
    placed = placed_bars(section, own)
    return with_placed(section, [bar for i, bar in enumerate(placed) if i not in chosen])


def resize_bars(
    section: SectionModel, chosen: Collection[int], size: str, own: Sequence[OwnBar] = ()
) -> SectionModel:
    """Return a section with some bars, by number from 0, of another size.

    Raises:
        InputError: for a size that is not on the market.
    """
    known = bar_size(size, "bar size", sizes_by_name(own))
    placed = [
        bar.model_copy(update={"size": known.name, "area": None}) if i in chosen else bar
        for i, bar in enumerate(placed_bars(section, own))
    ]
    return with_placed(section, placed)


def _rounded(value: float) -> float:
    return round(round(value / GRID) * GRID, 6)
