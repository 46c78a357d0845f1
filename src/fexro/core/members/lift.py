"""A lift and the answer to all its checks."""

from __future__ import annotations

import math
import os
import signal
from collections.abc import Callable, Generator, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass
from functools import cached_property, lru_cache, partial
from multiprocessing import get_context, parent_process
from threading import Thread

import numpy as np

from fexro.core.codes import Check, Column, Demands, DesignCode, State, state_of_ratio
from fexro.core.errors import FexroError
from fexro.core.provisions import Derivation
from fexro.core.section.outline import FloatArray
from fexro.core.strength.surface import Strength
from fexro.core.strength.utilisation import Utilisation, constant_axial, proportional

__all__ = [
    "Lift",
    "LiftResult",
    "check_lift",
    "check_lifts",
    "explain_demand",
    "stream_checks",
    "strength_of",
]

BENDING, SHORT = "Axial + biaxial bending", "N–M"
NAMED = 4  # missing combinations that a sentence names
WORTH_WORKERS = 60  # sections from which starting processes pays


@dataclass(frozen=True, eq=False)
class Lift:
    """One column between two floors.

    Attributes:
        mark, level: its place in the schedule.
        column: section and materials.
        code: the design code it is checked to.
        combinations: names of the combinations, (C,).
        analysed: N, Mx, My at top and bottom as analysed, (C, 2, 3), N and N·mm.
        missing: names of the combinations that apply to the lift but have no forces for it.
    """

    mark: str
    level: str
    column: Column
    code: DesignCode
    combinations: tuple[str, ...]
    analysed: FloatArray
    missing: tuple[str, ...] = ()

    @cached_property
    def demands(self) -> Demands:
        """The demands that the code asks to be met, (C, K, 3)."""
        return self.code.design_demands(self.column, self.analysed)

    @property
    def name(self) -> str:
        """Mark and level."""
        return f"{self.mark} · {self.level}"


@dataclass(frozen=True, eq=False)
class LiftResult:
    """All checks of a lift.

    Attributes:
        lift: what was checked.
        checks: those that decide, worst first.
        proportional: utilisations of every demand along the ray, in order of combinations and,
            within, of their places.
    """

    lift: Lift
    checks: tuple[Check, ...]
    proportional: Utilisation

    @cached_property
    def shown_checks(self) -> tuple[Check, ...]:
        """The checks and those that stand beside them for comparison, worst first."""
        if not len(self.proportional.ratio):
            return self.checks
        strength = strength_of(self.lift.code, self.lift.column)
        worst = self.worst_demand
        companions = self.lift.code.companions(
            self.lift.column, strength, self.demands[worst], self.combination_of(worst)
        )
        return tuple(sorted([*self.checks, *companions], key=_severity))

    @cached_property
    def constant_axial(self) -> Utilisation:
        """Utilisations of every demand in moment at constant axial force, in the same order."""
        strength = strength_of(self.lift.code, self.lift.column)
        return constant_axial(strength, self.demands)

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

    @property
    def demands(self) -> FloatArray:
        """All demands N, Mx, My, (R, 3), N and N·mm."""
        return self.lift.demands.values.reshape(-1, 3)

    def combination_of(self, demand: int) -> str:
        """Return the combination of a demand by its index."""
        return self.lift.combinations[demand // len(self.lift.demands.places)]

    def place_of(self, demand: int) -> str:
        """Return where a demand acts, by its index."""
        places = self.lift.demands.places
        return places[demand % len(places)]

    def demand_index(self, combination: int) -> int:
        """Return the index of the worst demand of a combination."""
        count = len(self.lift.demands.places)
        ratio = self.proportional.ratio[count * combination : count * (combination + 1)]
        return count * combination + int(ratio.argmax())

    def demand_at(self, combination: int, place: str) -> int:
        """Return the index of the demand of a combination at a place."""
        places = self.lift.demands.places
        return len(places) * combination + places.index(place)

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
            check.message[0].upper() + check.message[1:]
            for check in self.checks
            if check.state > State.SATISFIED and check is not self.governing
        )


# A strength keeps its mesh, about a megabyte: as many as a bench with its other bars looks at.
@lru_cache(maxsize=64)
def strength_of(code: DesignCode, column: Column) -> Strength:
    """Return the strength of a section, computed once while it is in use."""
    return code.strength(column)


def check_lift(lift: Lift) -> LiftResult:
    """Run every check of a lift."""
    return check_lifts([lift])[0]


def check_lifts(lifts: Sequence[Lift], workers: int = 1) -> list[LiftResult]:
    """Run every check of several lifts; see `stream_checks`."""
    results = dict(stream_checks(lifts, workers))
    return [results[i] for i in range(len(lifts))]


def stream_checks(
    lifts: Sequence[Lift], workers: int = 1
) -> Generator[tuple[int, LiftResult], None, None]:
    """Check lifts and yield each with its index as it is done; closing the iterator stops.

    Lifts of one section are solved together, and each section by itself, so that the results do not
    depend on the number of workers.

    Args:
        lifts: the lifts.
        workers: processes to use; one stays in this process, as do a few sections.
    """
    alike: dict[tuple[DesignCode, Column], list[int]] = {}
    for i, lift in enumerate(lifts):
        alike.setdefault((lift.code, lift.column), []).append(i)
    tasks = [
        (code, column, np.concatenate([lifts[i].demands.values.reshape(-1, 3) for i in places]))
        for (code, column), places in alike.items()
    ]
    solved = _solve_here if workers == 1 or len(tasks) < WORTH_WORKERS else _solve_in_workers
    groups = list(alike.values())
    for number, along in solved(tasks, workers):
        end = 0
        for i in groups[number]:
            part = slice(end, end := end + lifts[i].demands.values[..., 0].size)
            yield i, _conclude(lifts[i], along.part(part))


_Task = tuple[DesignCode, Column, FloatArray]


def _solve(code: DesignCode, column: Column, demands: FloatArray) -> Utilisation:
    return proportional(strength_of(code, column), demands)


def _solve_here(tasks: Sequence[_Task], _: int) -> Iterator[tuple[int, Utilisation]]:
    for number, task in enumerate(tasks):
        yield number, _solve(*task)


def _solve_in_workers(tasks: Sequence[_Task], workers: int) -> Iterator[tuple[int, Utilisation]]:
    # A server that forks is safe beside the threads of a window.
    context = get_context("forkserver")
    # One thread of linear algebra in each process: the matrices are small.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    context.set_forkserver_preload([__name__])
    pool = ProcessPoolExecutor(workers, mp_context=context, initializer=_end_with_parent)
    try:
        running = {pool.submit(_solve, *task): number for number, task in enumerate(tasks)}
        for future in as_completed(running):
            yield running[future], future.result()
    except BrokenProcessPool:
        raise FexroError(
            "A process that checked lifts was ended from outside, perhaps for want of memory;"
            " the lifts it had not finished are not checked."
        ) from None
    finally:
        pool.shutdown(wait=True, cancel_futures=True)


def _end_with_parent() -> None:
    """End this process as soon as the one it works for is gone, however that ended.

    An interrupt is for that one, which then ends this.
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    parent = parent_process()
    assert parent is not None

    def wait() -> None:
        parent.join()
        os._exit(1)

    Thread(target=wait, daemon=True).start()


def _conclude(lift: Lift, along: Utilisation) -> LiftResult:
    demands = lift.demands.values.reshape(-1, 3)
    checks = [
        _bending_check(lift, along),
        *_completeness_checks(lift, along),
        *lift.code.limits(lift.column, demands),
    ]
    return LiftResult(lift, tuple(sorted(checks, key=_severity)), along)


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
    places = lift.demands.places
    combination = lift.combinations[worst // len(places)]
    detail = f"{combination} at the {places[worst % len(places)]}"
    message = f"Section strength {ratio:.2f} in {combination}."
    derive: Callable[[], Derivation] = partial(_explain, lift, along, worst)
    state = state_of_ratio(ratio)
    return Check(BENDING, SHORT, state, ratio, clause, detail, message, combination, derive=derive)


def _completeness_checks(lift: Lift, along: Utilisation) -> list[Check]:
    """Return the check that no combination lacks forces, where one does but not all do."""
    if not lift.missing or not lift.combinations:
        return []
    missing, count = lift.missing, len(lift.missing) + len(lift.combinations)
    named = ", ".join(missing[:NAMED]) + (", …" if len(missing) > NAMED else "")
    message = (
        f"no forces in {len(missing)} of {count} combinations ({named});"
        f" {along.ratio.max():.2f} in the others."
    )

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Without forces: {', '.join(missing)}.")
        record.note("A combination that does not apply to the lift can be marked so.")
        return record

    detail = f"{len(missing)} of {count} missing"
    return [
        Check(
            "Combinations",
            "forces missing",
            State.NOT_CHECKED,
            math.nan,
            "",
            detail,
            message,
            derive=derive,
        )
    ]


def explain_demand(result: LiftResult, index: int) -> Derivation:
    """Write the calculation of the proportional utilisation of one demand."""
    return _explain(result.lift, result.proportional, index)


def _explain(lift: Lift, along: Utilisation, index: int) -> Derivation:
    demand = lift.demands.at(index)
    strength = strength_of(lift.code, lift.column)
    point = strength.at(along.angle[index : index + 1], along.fraction[index : index + 1, None])
    if not np.any(demand.values):
        record = Derivation()
        record.note("No force acts in this combination.")
        return record
    capped = bool(along.capped[index])
    return lift.code.explain_strength(lift.column, strength, demand, point, capped)
