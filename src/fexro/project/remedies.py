"""What would settle a lift that fails, and what could be left out of one that does not."""

from __future__ import annotations

import functools
import itertools
import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.members.lift import LiftResult
from fexro.core.sizing.amounts import amounts_of
from fexro.core.sizing.objective import Costs
from fexro.project.column import LiftKey, LiftModel
from fexro.project.edits.lifts import replace_lift, replace_lifts
from fexro.project.lift_changes import LiftChange, savings, strengthenings
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift
from fexro.project.sizing import lap_of, objective_of, rules_of, sizing_of
from fexro.project.wall_changes import wall_savings, wall_strengthenings

__all__ = [
    "Remedy",
    "SharedRemedy",
    "apply_changes",
    "apply_remedy",
    "fewest_changes",
    "remedies_of",
    "savings_of",
]

TRIED = 5  # changes that do not settle a lift by themselves, of which pairs are tried
# What the building does for a lift is not in the lift's own hand: offered after the rest.
OF_THE_BUILDING = frozenset({"bracing", "restraint"})


@dataclass(frozen=True, eq=False)
class Remedy:
    """A change, or a pair of changes, of one lift.

    Attributes:
        kinds: what is changed, as of a `LiftChange`.
        label: what is done.
        model: the lift with it.
        result: of its check.
        costs: what the lift comes to.
        more: by how much that is more than now.
    """

    kinds: tuple[str, ...]
    label: str
    model: LiftModel
    result: LiftResult
    costs: Costs
    more: Costs

    @property
    def of_the_building(self) -> bool:
        """Whether the building does something for the lift."""
        return not OF_THE_BUILDING.isdisjoint(self.kinds)

    @property
    def settles(self) -> bool:
        """Whether no check is exceeded."""
        return self.result.state in (State.SATISFIED, State.ATTENTION)


class _Trials:
    """Changes of a lift, each checked and priced."""

    def __init__(self, project: Project, key: LiftKey) -> None:
        self._project, self._key = project, key
        self._model = project.by_key[key]
        self._objective = objective_of(rules_of(project, key))
        present = resolve_lift(project, key)
        self._now = self._objective.costs(amounts_of(present, lap_of(present)))
        self._by_carbon = self._objective.aim == "carbon"

    def of(self, *changes: LiftChange) -> Remedy | None:
        """Return the lift with changes, or nothing where there is no such lift."""
        changed = self._changed(changes)
        try:
            lift = resolve_lift(self._project, self._key, changed)
        except InputError:
            return None
        costs = self._objective.costs(amounts_of(lift, lap_of(lift)))
        kinds = tuple(change.kind for change in changes)
        label = "; ".join(change.label for change in changes)
        return Remedy(kinds, label, changed, check_lift(lift), costs, costs - self._now)

    def best_bars(self, *changes: LiftChange) -> LiftChange | None:
        """Return the best bars and ties of the lift with changes, if any do; of walls none."""
        if self._key not in self._project.column_keys:
            return None
        changed = {self._key: self._changed(changes)}
        try:
            *_, found = sizing_of(self._project, [self._key], changed, wanted=1)
        except InputError:
            return None
        if found.best is None:
            return None
        bars, ties = found.best.bars, found.best.ties
        return LiftChange("bars", f"{bars}, {ties}", lambda one: one.with_bars(bars, ties))

    def _changed(self, changes: Sequence[LiftChange]) -> LiftModel:
        return functools.reduce(lambda model, change: change.of(model), changes, self._model)

    def saved(self, one: Remedy) -> float:
        """Return what is the smaller the better, of a remedy."""
        return one.more.carbon if self._by_carbon else one.more.cost

    def ordered(self, found: Sequence[Remedy]) -> list[Remedy]:
        """Return remedies, those of the lift alone and of fewest changes first."""
        return sorted(
            found,
            key=lambda one: (
                len(one.kinds),
                one.of_the_building,
                self.saved(one),
            ),
        )


def remedies_of(project: Project, key: LiftKey) -> Iterator[list[Remedy]]:
    """Try what an engineer would, and yield the remedies so far that settle a lift.

    Single changes come before pairs; of as many the cheaper comes first by what is to be small: by
    carbon, or else by cost. Bars go with another change only where they do not settle it alone.

    Args:
        project: the project.
        key: of a lift.
    """
    trials = _Trials(project, key)
    found: list[Remedy] = []
    tried: list[tuple[LiftChange, Remedy]] = []
    column = key in project.column_keys
    for series in strengthenings(project, key) if column else wall_strengthenings(project, key):
        for change in series:
            remedy = trials.of(change)
            if remedy is not None and remedy.settles:
                found.append(remedy)
            elif remedy is not None:
                tried.append((change, remedy))
            yield trials.ordered(found)
            # Of a series the least that settles it is enough.
            if remedy is not None and remedy.settles:
                break
    tried.sort(key=lambda one: _utilisation(one[1]))
    nearest = [change for change, _ in tried[:TRIED]]
    pairs: Iterable[tuple[LiftChange, ...]]
    bars = trials.best_bars()
    if bars is not None:
        pairs = [(bars,)]
    else:
        with_those = ((change, trials.best_bars(change)) for change in nearest)
        pairs = ((change, those) for change, those in with_those if those is not None)
    others = (pair for pair in itertools.combinations(nearest, 2) if pair[0].kind != pair[1].kind)
    for some in itertools.chain(pairs, others):
        remedy = trials.of(*some)
        if remedy is not None and remedy.settles:
            found.append(remedy)
        yield trials.ordered(found)


def savings_of(project: Project, key: LiftKey) -> Iterator[list[Remedy]]:
    """Try what could be left out of a lift in which no check is exceeded, and yield it so far.

    Of each series of changes it is the one furthest on before a check is exceeded; other bars are
    the best there are. What saves most comes first, by carbon or else by cost.

    Args:
        project: the project.
        key: of a lift.
    """
    trials = _Trials(project, key)
    found: list[Remedy] = []
    every = savings(project, key) if key in project.column_keys else wall_savings(project, key)
    for series in itertools.chain(every, [_only(trials.best_bars)]):
        furthest: Remedy | None = None
        for change in series:
            remedy = trials.of(change)
            if remedy is None or not remedy.settles:
                break
            furthest = remedy
            yield trials.ordered(found)
        if furthest is not None and trials.saved(furthest) < 0.0:
            found.append(furthest)
    yield trials.ordered(found)


def _only(made: Callable[[], LiftChange | None]) -> Iterator[LiftChange]:
    """Yield a change when it is its turn, if there is one."""
    change = made()
    if change is not None:
        yield change


@dataclass(frozen=True, eq=False)
class SharedRemedy:
    """One change that settles several lifts.

    Attributes:
        label: what is done.
        remedies: of each lift.
    """

    label: str
    remedies: dict[LiftKey, Remedy]

    @property
    def more(self) -> Costs:
        """By how much all of it is more than now."""
        return functools.reduce(Costs.__add__, (one.more for one in self.remedies.values()))

    @property
    def of_the_building(self) -> bool:
        """Whether the building does something for one of the lifts."""
        return any(one.of_the_building for one in self.remedies.values())


def fewest_changes(found: Mapping[LiftKey, Sequence[Remedy]]) -> list[SharedRemedy]:
    """Return the fewest changes that settle lifts, that of the most lifts first.

    From step to step the change is taken that settles the most of those that are left; of as many
    the cheaper. A lift that nothing settles is left out.

    Args:
        found: the remedies of each lift that settle it.
    """
    left = {key: [one for one in some if one.settles] for key, some in found.items()}
    changes: list[SharedRemedy] = []
    while any(left.values()):
        shared: dict[str, dict[LiftKey, Remedy]] = {}
        for key, some in left.items():
            for one in some:
                shared.setdefault(one.label, {})[key] = one
        made = [SharedRemedy(label, remedies) for label, remedies in shared.items()]
        best = min(
            made,
            key=lambda one: (
                -len(one.remedies),
                one.of_the_building,
                one.more.cost,
            ),
        )
        changes.append(best)
        left = {key: some for key, some in left.items() if key not in best.remedies}
    return changes


def apply_changes(project: Project, changes: Sequence[SharedRemedy]) -> Project:
    """Return the project with changes taken for all their lifts.

    Raises:
        InputError: if a lift does not fit the project so; none is taken.
    """
    models = {key: one.model for change in changes for key, one in change.remedies.items()}
    return replace_lifts(project, models)


def apply_remedy(project: Project, key: LiftKey, remedy: Remedy) -> Project:
    """Return the project with a remedy taken.

    Raises:
        InputError: if the lift does not fit the project so.
    """
    return replace_lift(project, key, remedy.model)


def _utilisation(remedy: Remedy) -> float:
    ratio = remedy.result.utilisation
    return math.inf if math.isnan(ratio) else ratio
