"""Cutting bars from stock with the least that is bought.

The plan is an integer programme over patterns, a pattern being what one stock bar gives. Where
there are few they are all listed, and the plan is the best there is; where there are many, those
that can improve the continuous optimum are found one by one (Gilmore and Gomory), and that
optimum, rounded up to what stock bars can add up to, bounds what the best plan could save. To those
are added the patterns that fill bar after bar, by which whole numbers are reached sooner.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import LinearConstraint, linprog, milp

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.errors import InputError

__all__ = ["CutBar", "CuttingPlan", "cutting_plan"]

LISTED = 2_000  # patterns up to which all of them are listed
ROUNDS = 400  # of patterns that are added
TIME = 10.0  # s, of the integer programme
NEAR = 1e-6
FINE = 0.01  # mm, to which pieces are rounded up where there are many patterns
TINY = 1e-9  # of worth


@dataclass(frozen=True)
class CutBar:
    """A stock bar and the lengths that it is cut to, mm."""

    stock: float
    cuts: tuple[float, ...]


@dataclass(frozen=True)
class CuttingPlan:
    """What is bought and how it is cut.

    Attributes:
        bars: each that is bought.
        proved: whether no plan buys less.
    """

    bars: tuple[CutBar, ...]
    proved: bool

    @property
    def bought(self) -> float:
        """Length of all stock bars, mm."""
        return math.fsum(bar.stock for bar in self.bars)

    @property
    def waste(self) -> float:
        """Length that is left of them, the saw's cuts among it, mm."""
        return self.bought - math.fsum(cut for bar in self.bars for cut in bar.cuts)


@dataclass(frozen=True)
class _Pattern:
    stock: float
    counts: tuple[int, ...]


def cutting_plan(
    demand: Mapping[float, int], stock: Sequence[float], kerf: float = 0.0
) -> CuttingPlan:
    """Return a plan that buys the least length of stock.

    Args:
        demand: number of pieces by length, mm.
        stock: lengths that are on offer, mm.
        kerf: what a cut takes away, mm; shears take nothing.

    Raises:
        InputError: if a piece is longer than any stock bar.
    """
    lengths = sorted((length for length, count in demand.items() if count > 0), reverse=True)
    counts = [demand[length] for length in lengths]
    if not lengths:
        return CuttingPlan((), True)
    if lengths[0] > max(stock) + NEAR:
        allowed = f"up to the longest stock bar, {max(stock):g} mm"
        raise InputError("length of a piece", f"{lengths[0]:g} mm", allowed)
    patterns = _listed(lengths, counts, stock, kerf)
    bound: float | None = None
    step = _step(stock)
    if patterns is None:
        patterns, optimum = _useful(lengths, counts, stock, kerf)
        bound = step * math.ceil(optimum / step - NEAR)
    bought, exact = _bought(patterns, counts, step)
    bars = tuple(_cut(patterns, bought, lengths, counts))
    proved = exact if bound is None else math.fsum(bar.stock for bar in bars) <= bound + NEAR
    return CuttingPlan(bars, proved)


def _listed(
    lengths: Sequence[float], counts: Sequence[int], stock: Sequence[float], kerf: float
) -> list[_Pattern] | None:
    """Return all patterns to which no piece can be added, or nothing if there are too many."""
    found: list[_Pattern] = []
    for bar in sorted(stock):
        for pattern in _fitting(lengths, counts, bar + kerf, kerf):
            found.append(_Pattern(bar, pattern))
            if len(found) > LISTED:
                return None
    return found


def _fitting(
    lengths: Sequence[float], counts: Sequence[int], room: float, kerf: float
) -> Iterator[tuple[int, ...]]:
    """Yield how many of each length go into a bar that is as full of them as it can be."""
    if len(lengths) == 1:
        number = min(counts[0], math.floor((room + NEAR) / (lengths[0] + kerf)))
        yield (number,)
        return
    each = lengths[0] + kerf
    for number in range(min(counts[0], math.floor((room + NEAR) / each)), -1, -1):
        left = room - number * each
        for rest in _fitting(lengths[1:], counts[1:], left, kerf):
            used = math.fsum(
                some * (length + kerf) for some, length in zip(rest, lengths[1:], strict=True)
            )
            # One more of this would fit: that pattern was there before.
            if number < counts[0] and left - used + NEAR >= each:
                continue
            yield (number, *rest)


def _useful(
    lengths: Sequence[float], counts: Sequence[int], stock: Sequence[float], kerf: float
) -> tuple[list[_Pattern], float]:
    """Return patterns with which the continuous optimum is reached, and that optimum, mm."""
    wanted = np.asarray(counts, dtype=float)
    room = _Room(lengths, stock, kerf)
    longest = max(stock)
    patterns = list(_filled(room, np.asarray(lengths), counts, longest))
    for index in range(len(lengths)):
        alone = np.eye(len(lengths))[index]
        patterns.append(_Pattern(longest, room.fullest(longest, alone, counts)[0]))
    for _ in range(ROUNDS):
        costs = np.array([one.stock for one in patterns])
        solved = linprog(costs, A_ub=-_table(patterns), b_ub=-wanted)
        worth = -solved.ineqlin.marginals
        priced = [(bar, *room.fullest(bar, worth, counts)) for bar in stock]
        better = [_Pattern(bar, some) for bar, some, sum_ in priced if sum_ > bar * (1 + NEAR)]
        if not better:
            for bar in stock:
                patterns.extend(_filled(room, worth, counts, bar))
            return patterns, float(solved.fun)
        patterns.extend(better)
    # The optimum is not reached; what the pieces take is a bound all the same.
    return patterns, float(np.asarray(lengths) @ wanted)


def _filled(
    room: _Room, worth: FloatArray, counts: Sequence[int], bar: float
) -> Iterator[_Pattern]:
    """Yield patterns that fill bar after bar with what is worth most of what is left."""
    left = list(counts)
    while any(left):
        some, _ = room.fullest(bar, worth, left)
        if not any(some):
            return
        yield _Pattern(bar, some)
        left = [have - taken for have, taken in zip(left, some, strict=True)]


class _Room:
    """Which pieces fit into stock bars together, by the room they take in whole steps."""

    def __init__(self, lengths: Sequence[float], stock: Sequence[float], kerf: float) -> None:
        # Pieces take no less than they do, bars have no more than they have.
        takes = [math.ceil((length + kerf) / FINE - NEAR) for length in lengths]
        self._has = {bar: math.floor((bar + kerf) / FINE + NEAR) for bar in stock}
        step = math.gcd(*takes)
        self._takes = [one // step for one in takes]
        self._has = {bar: one // step for bar, one in self._has.items()}

    def fullest(
        self, bar: float, worth: FloatArray, counts: Sequence[int]
    ) -> tuple[tuple[int, ...], float]:
        """Return how many of each length to cut from a bar for the most worth, and that worth."""
        room = self._has[bar]
        best = np.zeros(room + 1)
        taken: list[tuple[int, int, BoolArray]] = []
        for index, take in enumerate(self._takes):
            for number in _parts(min(counts[index], room // take)):
                with_those = best[: room + 1 - number * take] + number * worth[index]
                better = np.zeros(room + 1, dtype=bool)
                better[number * take :] = with_those > best[number * take :] + TINY
                best[better] = with_those[better[number * take :]]
                taken.append((index, number, better))
        found, place = [0] * len(self._takes), room
        for index, number, better in reversed(taken):
            if better[place]:
                found[index] += number
                place -= number * self._takes[index]
        return tuple(found), float(best[room])


def _parts(count: int) -> Iterator[int]:
    """Yield numbers whose sums are all numbers up to a count: powers of two, and the rest."""
    part = 1
    while count > 0:
        yield min(part, count)
        count -= part
        part *= 2


def _step(stock: Sequence[float]) -> float:
    """Return the length of which everything that is bought is a multiple, mm: at least a micron."""
    return math.gcd(*(round(one * 1000) for one in stock)) / 1000


def _bought(
    patterns: Sequence[_Pattern], counts: Sequence[int], step: float
) -> tuple[list[int], bool]:
    """Return how many bars of each pattern to buy, and whether nothing less does."""
    # In steps the costs are whole numbers, which lets the solver stop within one of its bound.
    costs = np.array([round(one.stock / step) for one in patterns])
    wanted = LinearConstraint(_table(patterns), lb=np.asarray(counts, dtype=float))
    options = {"time_limit": TIME, "mip_rel_gap": 0.0}
    solved = milp(costs, integrality=np.ones(len(costs)), constraints=wanted, options=options)
    return np.rint(solved.x).astype(int).tolist(), solved.status == 0


def _table(patterns: Sequence[_Pattern]) -> FloatArray:
    """Return how many of each length a pattern gives, (L, P)."""
    return np.array([one.counts for one in patterns], dtype=float).T


def _cut(
    patterns: Sequence[_Pattern],
    bought: Sequence[int],
    lengths: Sequence[float],
    counts: Sequence[int],
) -> Iterator[CutBar]:
    """Yield the bars; what a pattern gives beyond the demand is not cut."""
    left = list(counts)
    for pattern, number in zip(patterns, bought, strict=True):
        for _ in range(number):
            cuts: list[float] = []
            for index, length in enumerate(lengths):
                some = min(pattern.counts[index], left[index])
                left[index] -= some
                cuts.extend([length] * some)
            yield CutBar(pattern.stock, tuple(cuts))
