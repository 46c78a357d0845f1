"""The same layout with other bars."""

from __future__ import annotations

from dataclasses import replace

from fexro.core.section.bars import IN_LB_SIZES, MAX_BARS, METRIC_SIZES, BarSize
from fexro.core.section.call_out import BarGroup

__all__ = ["other_counts", "other_sizes", "resized"]

Groups = tuple[BarGroup, ...]


def resized(groups: Groups, steps: int) -> Groups | None:
    """Return groups with every size moved along its series; nothing beyond the series' ends."""
    moved = []
    for group in groups:
        series = _series(group.size)
        place = series.index(group.size) + steps
        if not 0 <= place < len(series):
            return None
        moved.append(replace(group, size=series[place]))
    return tuple(moved)


def other_sizes(groups: Groups, reach: int) -> list[Groups]:
    """Return the groups with sizes up to some steps smaller and larger, smallest first."""
    steps = [step for step in range(-reach, reach + 1) if step]
    return [found for step in steps if (found := resized(groups, step)) is not None]


def other_counts(groups: Groups, changes: tuple[int, ...] = (-4, -2, 2, 4)) -> list[Groups]:
    """Return the groups with fewer and more bars of the last group, fewest first.

    Even changes keep what is alike on opposite sides so.
    """
    *others, last = groups
    total = sum(group.total for group in groups)
    return [
        (*others, replace(last, count=last.count + change))
        for change in changes
        if last.count and last.count + change > 0 and total + change <= MAX_BARS
    ]


def _series(size: BarSize) -> list[BarSize]:
    return list((METRIC_SIZES if size.name in METRIC_SIZES else IN_LB_SIZES).values())
