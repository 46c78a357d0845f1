"""What an edit would do to the lifts that it changes."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from threading import Event

from fexro.core.findings import State
from fexro.core.members.check import check_lifts
from fexro.core.members.lift import LiftResult
from fexro.project.column import LiftKey
from fexro.project.dependencies import affected
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift

__all__ = ["Effect", "effect_of", "worst_of"]


@dataclass(frozen=True)
class Effect:
    """What a change would do: how many lifts, the worst of them and how many exceed, now and then.

    Attributes:
        lifts: that it changes.
        before, after: the worst of them and its utilisation.
        exceeded: how many exceed a limit before and after.
    """

    lifts: int
    before: tuple[LiftKey, float]
    after: tuple[LiftKey, float]
    exceeded: tuple[int, int]

    def __str__(self) -> str:
        noun = "lift changes" if self.lifts == 1 else "lifts change"
        (was, former), (now, ratio) = self.before, self.after
        exceed = "exceeds" if self.exceeded[1] == 1 else "exceed"
        return (
            f"{self.lifts} {noun}. Worst {former:.2f} ({was}) before, {ratio:.2f} ({now}) after;"
            f" {self.exceeded[1]} {exceed} a limit ({self.exceeded[0]} before)."
        )


def effect_of(before: Project, after: Project, _: Event) -> Iterator[Effect]:
    """Yield what an edit would do to the lifts that it changes."""
    changed = affected(before, after)
    keys = [key for key in after.by_key if key in changed]
    if not keys:
        return
    both = [
        dict(zip(keys, check_lifts([resolve_lift(p, key) for key in keys]), strict=True))
        for p in (before, after)
    ]
    was, now = ([r.state is State.EXCEEDED for r in results.values()] for results in both)
    yield Effect(len(keys), worst_of(both[0]), worst_of(both[1]), (sum(was), sum(now)))


def worst_of(results: dict[LiftKey, LiftResult]) -> tuple[LiftKey, float]:
    """Return the lift of largest utilisation, and that."""

    def ratio(key: LiftKey) -> float:
        found = results[key].utilisation
        return -1.0 if math.isnan(found) else found

    key = max(results, key=ratio)
    return key, results[key].utilisation
