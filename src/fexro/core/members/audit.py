"""A second opinion on the governing utilisation of a lift."""

from __future__ import annotations

import math
from dataclasses import dataclass

from fexro.core.audit.fibres import Fibres, fibre_utilisation
from fexro.core.members.lift import LiftResult

__all__ = ["Opinion", "second_opinion"]


@dataclass(frozen=True)
class Opinion:
    """The governing utilisation along the ray, by the engine and by fibres.

    Attributes:
        combination: where it governs; empty without forces.
        engine, fibres: the utilisations; not a number without forces.
    """

    combination: str
    engine: float
    fibres: float

    @property
    def difference(self) -> float:
        """How far the fibres are from the engine, relative to it."""
        return self.fibres / self.engine - 1 if self.engine else 0.0


def second_opinion(result: LiftResult) -> Opinion:
    """Recompute the governing utilisation of a lift by fibres."""
    if result.solved is None:
        return Opinion("", math.nan, math.nan)
    worst = result.worst_demand
    fibres = Fibres.of(result.lift.strength)
    return Opinion(
        result.combination_of(worst),
        result.solved.ratio,
        fibre_utilisation(fibres, result.demands[worst]),
    )
