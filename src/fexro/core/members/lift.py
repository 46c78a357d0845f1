"""A lift and the answer to all its checks."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache, partial

import numpy as np

from fexro.core.codes import Check, Column, DesignCode, State, state_of_ratio
from fexro.core.provisions import Derivation
from fexro.core.section.outline import FloatArray
from fexro.core.strength.surface import Strength
from fexro.core.strength.utilisation import Utilisation, constant_axial, proportional

__all__ = [
    "ENDS",
    "Lift",
    "LiftResult",
    "check_lift",
    "check_lifts",
    "explain_demand",
    "strength_of",
]

ENDS = ("top", "bottom")
BENDING, SHORT = "Axial + biaxial bending", "N–M"


@dataclass(frozen=True, eq=False)
class Lift:
    """One column between two floors.

    Attributes:
        mark, level: its place in the schedule.
        column: section and materials.
        code: the design code it is checked to.
        combinations: names of the combinations, (C,).
        demands: N, Mx, My at top and bottom, (C, 2, 3), N and N·mm.
    """

    mark: str
    level: str
    column: Column
    code: DesignCode
    combinations: tuple[str, ...]
    demands: FloatArray

    @property
    def name(self) -> str:
        """Mark and level."""
        return f"{self.mark} · {self.level}"


@dataclass(frozen=True, eq=False)
class LiftResult:
    """All checks of a lift.

    Attributes:
        lift: what was checked.
        checks: worst first.
        proportional: utilisations of every demand along the ray, in order of combinations and,
            within, top and bottom.
    """

    lift: Lift
    checks: tuple[Check, ...]
    proportional: Utilisation

    @cached_property
    def constant_axial(self) -> Utilisation:
        """Utilisations of every demand in moment at constant axial force, in the same order."""
        strength = strength_of(self.lift.code, self.lift.column)
        return constant_axial(strength, self.lift.demands.reshape(-1, 3))

    @property
    def state(self) -> State:
        """The worst state of any check."""
        return max(check.state for check in self.checks)

    @property
    def notable_state(self) -> State:
        """The worst state of any finding, leaving aside what is merely assumed."""
        return max(check.state for check in self.checks if not check.assumption)

    @property
    def governing(self) -> Check:
        """The check that decides: the worst state, then the largest ratio."""
        return self.checks[0]

    @property
    def utilisation(self) -> float:
        """The largest ratio of any check of strength; not a number without forces."""
        return float(self.proportional.ratio.max()) if len(self.proportional.ratio) else math.nan

    def demand_index(self, combination: int) -> int:
        """Return the index of the worse end of a combination among the demands."""
        ratio = self.proportional.ratio[2 * combination : 2 * combination + 2]
        return 2 * combination + int(ratio.argmax())

    @property
    def worst_demand(self) -> int:
        """The index of the demand that governs; 0 without forces."""
        return int(self.proportional.ratio.argmax()) if len(self.proportional.ratio) else 0

    @property
    def verdict(self) -> str:
        """The verdict as a sentence."""
        check = self.governing
        place = f" in {check.combination}" if check.combination else ""
        subject = check.name[0].lower() + check.name[1:]
        if check.state is State.EXCEEDED:
            if check.combination is None:
                return check.message
            over = 100 * (check.ratio - 1)
            percent = f"{over:.0f}" if over >= 1 else f"{over:.1f}"
            return f"Exceeds by {percent} %: {subject}{place}."
        if check.state is State.NOT_CHECKED:
            return f"Not checked: {check.message}"
        if check.state is State.ATTENTION:
            if check.combination is None:
                return check.message
            return f"Close to its limit, {check.ratio:.2f}: {subject}{place}."
        return f"Section strength met, {check.ratio:.2f}{place}."

    @property
    def remarks(self) -> tuple[str, ...]:
        """What else a person should look at: messages of checks that the verdict leaves out."""
        return tuple(
            check.message
            for check in self.checks
            if check.state > State.SATISFIED and check is not self.governing
        )


@lru_cache(maxsize=1024)
def strength_of(code: DesignCode, column: Column) -> Strength:
    """Return the strength of a section, computed once."""
    return code.strength(column)


def check_lift(lift: Lift) -> LiftResult:
    """Run every check of a lift."""
    return check_lifts([lift])[0]


def check_lifts(lifts: Sequence[Lift]) -> list[LiftResult]:
    """Run every check of several lifts; those of one section are solved together."""
    alike: dict[tuple[DesignCode, Column], list[int]] = {}
    for i, lift in enumerate(lifts):
        alike.setdefault((lift.code, lift.column), []).append(i)
    results: dict[int, LiftResult] = {}
    for (code, column), places in alike.items():
        demands = [lifts[i].demands.reshape(-1, 3) for i in places]
        along = proportional(strength_of(code, column), np.concatenate(demands))
        limits = code.limits(column)
        end = 0
        for i, own in zip(places, demands, strict=True):
            part = slice(end, end := end + len(own))
            results[i] = _conclude(lifts[i], along.part(part), limits)
    return [results[i] for i in range(len(lifts))]


def _conclude(lift: Lift, along: Utilisation, limits: Sequence[Check]) -> LiftResult:
    checks = sorted([_bending_check(lift, along), *limits], key=_severity)
    return LiftResult(lift, tuple(checks), along)


def _severity(check: Check) -> tuple[int, bool, bool, float]:
    ratio = -math.inf if math.isnan(check.ratio) else check.ratio
    # An assumption never hides a finding; strength leads among what is satisfied.
    state = State.SATISFIED if check.assumption else check.state
    return -int(state), check.assumption, check.combination is None, -ratio


def _bending_check(lift: Lift, along: Utilisation) -> Check:
    clause = lift.code.strength_clause()
    if not len(along.ratio):
        message = "no combination has forces for this lift."
        return Check(BENDING, SHORT, State.NOT_CHECKED, math.nan, clause, "no forces", message)
    worst = int(along.ratio.argmax())
    ratio = float(along.ratio[worst])
    combination = lift.combinations[worst // 2]
    detail = f"{combination} at the {ENDS[worst % 2]}"
    message = f"Section strength {ratio:.2f} in {combination}."
    derive: Callable[[], Derivation] = partial(_explain, lift, along, worst)
    state = state_of_ratio(ratio)
    return Check(BENDING, SHORT, state, ratio, clause, detail, message, combination, derive=derive)


def explain_demand(result: LiftResult, index: int) -> Derivation:
    """Write the calculation of the proportional utilisation of one demand."""
    return _explain(result.lift, result.proportional, index)


def _explain(lift: Lift, along: Utilisation, index: int) -> Derivation:
    demand = lift.demands.reshape(-1, 3)[index]
    strength = strength_of(lift.code, lift.column)
    point = strength.at(along.angle[index : index + 1], along.fraction[index : index + 1, None])
    if not np.any(demand):
        record = Derivation()
        record.note("No force acts in this combination.")
        return record
    capped = bool(along.capped[index])
    return lift.code.explain_strength(lift.column, strength, demand, point, capped)
