"""Tables of a code, read between their places and recorded as they are read."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from typing import Any

import numpy as np

from fexro.core.provisions.derivation import Derivation, Reading, Term
from fexro.core.quantities import Dimension

__all__ = ["LookupTable"]


@dataclass(frozen=True)
class LookupTable:
    """A table over one or two axes, linear between its places and constant beyond its ends.

    Attributes:
        clause: of the table.
        symbol: of its values.
        axes: symbol, dimension and ascending places of each axis, internal units.
        values: of the places, first axis slowest, internal units.
        dimension: what the values measure.
    """

    clause: str
    symbol: str
    axes: tuple[tuple[str, Dimension, tuple[float, ...]], ...]
    values: tuple[float, ...]
    dimension: Dimension = Dimension.RATIO

    def __call__(self, *at: Any) -> Any:
        """Read the table at a place of each axis; arrays are read element by element."""
        values = np.reshape(self.values, [len(places) for _, _, places in self.axes])
        total = 0.0
        for corner, weight in self._corners(at):
            total = total + weight * values[corner]
        return total

    def into(self, record: Derivation | None, /, *at: float) -> float:
        """Read the table at one place and record the rows, columns and interpolation."""
        result = float(self(*at))
        if record is None:
            return result
        steps, kept = [], []
        for (symbol, dimension, places), value in zip(self.axes, at, strict=True):
            low, share = _place(places, value)
            between = [i for i, weight in ((low, 1 - share), (low + 1, share)) if weight > 0]
            steps.append(
                (symbol, Term(float(value), dimension), tuple(places[int(i)] for i in between))
            )
            kept.append([int(i) for i in between])
        values = np.reshape(self.values, [len(places) for _, _, places in self.axes])
        corners = tuple(float(values[corner]) for corner in itertools.product(*kept))
        term = Term(result, self.dimension)
        record.lines.append(Reading(self.clause, self.symbol, tuple(steps), corners, term))
        return result

    def _corners(self, at: tuple[Any, ...]) -> list[tuple[tuple[Any, ...], Any]]:
        """Return indices and weights of the places around."""
        sides = []
        for (_, _, places), value in zip(self.axes, at, strict=True):
            low, share = _place(places, value)
            high = np.minimum(low + 1, len(places) - 1)
            sides.append(((low, 1 - share), (high, share)))
        return [
            (tuple(index for index, _ in corner), np.prod([w for _, w in corner], axis=0))
            for corner in itertools.product(*sides)
        ]


def _place(places: tuple[float, ...], value: Any) -> tuple[Any, Any]:
    """Return the place before a value and how far on towards the next it lies, 0 to 1."""
    low = np.clip(np.searchsorted(places, value, side="right") - 1, 0, max(len(places) - 2, 0))
    known = np.asarray(places)
    width = known[np.minimum(low + 1, len(places) - 1)] - known[low]
    share = np.clip((value - known[low]) / np.where(width > 0, width, 1.0), 0.0, 1.0)
    return low, share
