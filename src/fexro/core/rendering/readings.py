"""How a value was read from a table of a code, in words and numbers."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

from fexro.core.provisions import Reading, Term
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.expressions import number_of
from fexro.core.rendering.symbols import text_symbol

__all__ = ["Interpolation", "interpolation"]


@dataclass(frozen=True)
class Interpolation:
    """A reading as it is written.

    Attributes:
        where: what was looked up, and between which places.
        sum: the values at those places with their weights.
    """

    where: str
    sum: str


def interpolation(line: Reading, system: UnitSystem) -> Interpolation:
    """Return how a reading is written, so that its sum can be done again."""
    where, weights = [], []
    for symbol, value, places in line.steps:
        at = number_of(value, system)
        known = [number_of(Term(place, value.dimension), system) for place in places]
        if len(known) == 1:
            where.append(f"{text_symbol(symbol)} {at} at {known[0]}")
            weights.append([""])
        else:
            low, high = known
            where.append(f"{text_symbol(symbol)} {at} between {low} and {high}")
            width = f"({high} − {low})"
            weights.append([f" · ({high} − {at}) / {width}", f" · ({at} − {low}) / {width}"])
    parts = [
        number_of(Term(corner, line.result.dimension), system) + "".join(weight)
        for corner, weight in zip(line.corners, itertools.product(*weights), strict=True)
    ]
    return Interpolation(f"table at {', '.join(where)}", " + ".join(parts))
