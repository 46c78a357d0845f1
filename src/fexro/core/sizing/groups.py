"""How lifts may share bars and ties: the number of types against what they come to."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray, IntArray

__all__ = ["Sharing", "sharings"]


@dataclass(frozen=True, eq=False)
class Sharing:
    """Which type each lift gets.

    Attributes:
        types: how many there are; those of different scopes count apart.
        value: what all lifts come to.
        chosen: number of the type of each lift, (L,).
    """

    types: int
    value: float
    chosen: IntArray


def sharings(values: FloatArray, scope: IntArray) -> list[Sharing]:
    """Return how lifts share types, from the best of each to as few types as will do.

    From step to step that type is given up which costs least: what its lifts come to more with the
    cheapest of the types that are left in their scope.

    Args:
        values: what each lift comes to with each type, (L, T); infinite where it does not do.
        scope: number of the scope that each lift is in, within which types are shared, (L,).
    """
    scopes = np.unique(scope)
    # A type in a scope is a type of its own.
    used = [
        (int(one), int(kind))
        for one in scopes
        for kind in np.unique(values[scope == one].argmin(axis=1))
    ]
    found = [_sharing(values, scope, used)]
    while True:
        best: tuple[float, int] | None = None
        for place in range(len(used)):
            left = used[:place] + used[place + 1 :]
            value = _sharing(values, scope, left).value if _covers(values, scope, left) else np.inf
            if np.isfinite(value) and (best is None or value < best[0]):
                best = value, place
        if best is None:
            return found
        del used[best[1]]
        found.append(_sharing(values, scope, used))


def _covers(values: FloatArray, scope: IntArray, used: list[tuple[int, int]]) -> bool:
    """Tell whether every lift has a type of its scope that does."""
    for one in np.unique(scope):
        kinds = [kind for s, kind in used if s == one]
        if not kinds or not np.isfinite(values[scope == one][:, kinds].min(axis=1)).all():
            return False
    return True


def _sharing(values: FloatArray, scope: IntArray, used: list[tuple[int, int]]) -> Sharing:
    chosen = np.zeros(len(values), dtype=np.intp)
    for one in np.unique(scope):
        kinds = np.array([kind for s, kind in used if s == one], dtype=np.intp)
        rows = scope == one
        chosen[rows] = kinds[values[rows][:, kinds].argmin(axis=1)]
    # A type that no lift is the better for is none.
    types = len({(int(s), int(kind)) for s, kind in zip(scope, chosen, strict=True)})
    value = float(values[np.arange(len(values)), chosen].sum())
    return Sharing(types, value, chosen)
