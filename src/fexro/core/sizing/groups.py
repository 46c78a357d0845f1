"""How lifts may share bars and ties: the number of types against what they come to."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy.optimize import LinearConstraint, milp
from scipy.sparse import coo_array

from fexro.core.arrays import FloatArray, IntArray

__all__ = ["Sharing", "fewest", "sharings"]

EVERY = 4_000  # lifts times types up to which every step is the least there is
TIME = 10.0  # s, of one integer programme


@dataclass(frozen=True, eq=False)
class Sharing:
    """Which type each lift gets.

    Attributes:
        types: how many there are; those of different scopes count apart.
        value: what all lifts come to.
        chosen: number of the type of each lift, (L,).
        least: whether so many types are known not to come to less.
    """

    types: int
    value: float
    chosen: IntArray
    least: bool


def sharings(values: FloatArray, scope: IntArray) -> list[Sharing]:
    """Return how lifts share types, from the best of each to as few types as will do.

    For few lifts each step is the least that so many types can come to. For many, that type is
    given up from step to step which costs least; the last step has as few as will do all the same.

    Args:
        values: what each lift comes to with each type, (L, T); infinite where it does not do.
        scope: number of the scope that each lift is in, within which types are shared, (L,).
    """
    kinds = _Kinds(values, scope)
    best = kinds.sharing(np.arange(kinds.count), least=True)
    last = fewest(values, scope)
    between = range(best.types - 1, last.types, -1)
    if kinds.costs.size <= EVERY:
        steps = [best, *(kinds.least(number) for number in between)]
    else:
        steps = [one for one in kinds.given_up() if one.types > last.types]
    # Of steps with as many types the last is the least.
    return list({one.types: one for one in [*steps, last]}.values())


def fewest(values: FloatArray, scope: IntArray) -> Sharing:
    """Return how lifts share as few types as will do, and of those ways the one of least value.

    Args:
        values: what each lift comes to with each type, (L, T); infinite where it does not do.
        scope: number of the scope that each lift is in, within which types are shared, (L,).
    """
    kinds = _Kinds(values, scope)
    return kinds.least(kinds.fewest)


class _Kinds:
    """Types of lifts, each type in a scope a type of its own.

    Args:
        values: what each lift comes to with each type, (L, T); infinite where it does not do.
        scope: of each lift, (L,).
    """

    def __init__(self, values: FloatArray, scope: IntArray) -> None:
        scopes = np.unique(scope)
        apart = np.where((scope[:, None] == scopes)[:, :, None], values[:, None, :], np.inf)
        costs = apart.reshape(len(values), -1)
        does = np.isfinite(costs).any(axis=0)
        self.costs: FloatArray = costs[:, does]
        self._type = np.tile(np.arange(values.shape[1]), len(scopes))[does]

    @property
    def count(self) -> int:
        """How many types there are."""
        return int(self.costs.shape[1])

    def sharing(self, used: IntArray, *, least: bool) -> Sharing:
        """Return what each lift gets of some types: that which comes to least."""
        costs = self.costs[:, used]
        chosen = costs.argmin(axis=1)
        value = float(costs.min(axis=1).sum())
        return Sharing(len(np.unique(chosen)), value, self._type[used[chosen]], least)

    @property
    def fewest(self) -> int:
        """As few types as will do for all lifts."""
        covers = LinearConstraint(np.isfinite(self.costs).astype(float), lb=1.0)
        one = np.ones(self.count)
        found = milp(one, integrality=one, bounds=(0, 1), constraints=covers)
        return int(np.rint(found.fun))

    def least(self, number: int) -> Sharing:
        """Return the sharing of least value with so many types, if it is found in time."""
        lift, kind = np.nonzero(np.isfinite(self.costs))
        lifts, pairs = len(self.costs), len(lift)
        pair = np.arange(pairs)
        one = np.ones(pairs)
        # First of each pair whether the lift gets the type, then of each type whether it is used.
        each = coo_array((one, (lift, pair)), shape=(lifts, pairs + self.count))
        within = coo_array(
            (np.concatenate([one, -one]), (np.tile(pair, 2), np.concatenate([pair, pairs + kind]))),
            shape=(pairs, pairs + self.count),
        )
        whole = np.concatenate([np.zeros(pairs), np.ones(self.count)])
        limits = [
            LinearConstraint(each.tocsr(), lb=1.0, ub=1.0),
            LinearConstraint(within.tocsr(), ub=0.0),
            LinearConstraint(whole[None, :], ub=float(number)),
        ]
        found = milp(
            np.concatenate([self.costs[lift, kind], np.zeros(self.count)]),
            integrality=whole,
            bounds=(0, 1),
            constraints=limits,
            options={"time_limit": TIME, "mip_rel_gap": 0.0},
        )
        if found.x is None:
            *_, last = self.given_up()
            return last
        used = np.flatnonzero(found.x[pairs:] > 0.5)
        return self.sharing(used, least=found.status == 0)

    def given_up(self) -> Iterator[Sharing]:
        """Yield sharings from step to step, that type given up which costs least."""
        used = np.unique(self.costs.argmin(axis=1))
        yield self.sharing(used, least=True)
        while len(used) > 1:
            sums = [
                np.delete(self.costs[:, used], i, axis=1).min(axis=1).sum()
                for i in range(len(used))
            ]
            place = int(np.argmin(sums))
            if not np.isfinite(sums[place]):
                return
            used = np.delete(used, place)
            yield self.sharing(used, least=False)
