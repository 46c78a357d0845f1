"""What would settle a lift that fails: single changes and pairs of them, each checked."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.members.lift import LiftResult
from fexro.core.section.bars import parse_ties
from fexro.core.sizing.amounts import amounts_of
from fexro.core.sizing.objective import Costs
from fexro.project.column import LiftKey, LiftModel
from fexro.project.edits.lifts import replace_lift, replace_lifts
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift
from fexro.project.sizing import lap_of, objective_of, own_sizes, rules_of, sizing_of

__all__ = [
    "Remedy",
    "SharedRemedy",
    "apply_changes",
    "apply_remedy",
    "fewest_changes",
    "remedies_of",
]

STEP = 50.0  # mm, by which sections grow
STEPS = 6
NEARER = 10.0  # mm, by which cover is made less
LEAST_COVER = 30.0  # mm, below which it is not
TRIED = 5  # changes that do not settle a lift by themselves, of which pairs are tried
SIZES = ("width", "depth", "diameter", "across")

Change = Callable[[LiftModel], LiftModel]


@dataclass(frozen=True, eq=False)
class Remedy:
    """A change, or a pair of changes, of one lift.

    Attributes:
        kinds: what is changed: `bars`, `ties`, `size`, `concrete`, `turned`, `bracing`, `cover`.
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
    def settles(self) -> bool:
        """Whether no check is exceeded."""
        return self.result.state in (State.SATISFIED, State.ATTENTION)


@dataclass(frozen=True, eq=False)
class _Step:
    """A single change that is tried."""

    kind: str
    label: str
    change: Change


def remedies_of(project: Project, key: LiftKey) -> Iterator[list[Remedy]]:
    """Try what an engineer would, and yield the remedies so far, those that settle it first.

    Among those the cheaper comes first by what is to be small: by carbon, or else by cost.

    Args:
        project: the project.
        key: of a lift.
    """
    model = project.by_key[key]
    present = resolve_lift(project, key)
    objective = objective_of(rules_of(project, key))
    now = objective.costs(amounts_of(present, lap_of(present)))
    carbon = objective.aim == "carbon"
    found: list[Remedy] = []
    tried: list[tuple[_Step, Remedy]] = []

    def judged(kinds: Sequence[str], label: str, changed: LiftModel) -> Remedy | None:
        try:
            lift = resolve_lift(project, key, changed)
        except InputError:
            return None
        result = check_lift(lift)
        costs = objective.costs(amounts_of(lift, lap_of(lift)))
        more = Costs(
            costs.mass - now.mass,
            costs.cost - now.cost,
            costs.carbon - now.carbon,
            costs.count - now.count,
        )
        return Remedy(tuple(kinds), label, changed, result, costs, more)

    def ordered() -> list[Remedy]:
        return sorted(
            found,
            key=lambda one: (
                not one.settles,
                len(one.kinds),
                # That the building holds the lift is not in the lift's own hand.
                "bracing" in one.kinds,
                one.more.carbon if carbon else one.more.cost,
            ),
        )

    settled: set[str] = set()
    for step in _steps(project, key, model):
        # Of one kind the least that settles it is enough.
        if step.kind in settled:
            continue
        remedy = judged([step.kind], step.label, step.change(model))
        if remedy is None:
            continue
        if remedy.settles:
            settled.add(step.kind)
            found.append(remedy)
        else:
            tried.append((step, remedy))
        yield ordered()
    bars = _best_bars(project, key)
    if bars is not None:
        remedy = judged(["bars"], f"{bars.bars}, {bars.ties}", _with_bars(model, *_pair(bars)))
        if remedy is not None and remedy.settles:
            found.append(remedy)
            yield ordered()
    tried.sort(key=lambda one: _utilisation(one[1]))
    for (one, _), (other, _) in itertools.combinations(tried[:TRIED], 2):
        if one.kind == other.kind:
            continue
        label = f"{one.label}; {other.label}"
        remedy = judged([one.kind, other.kind], label, other.change(one.change(model)))
        if remedy is not None and remedy.settles:
            found.append(remedy)
            yield ordered()
    yield ordered()


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
        every = [one.more for one in self.remedies.values()]
        return Costs(
            sum(one.mass for one in every),
            sum(one.cost for one in every),
            sum(one.carbon for one in every),
            sum(one.count for one in every),
        )


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
                any("bracing" in remedy.kinds for remedy in one.remedies.values()),
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


@dataclass(frozen=True)
class _Bars:
    bars: str
    ties: str


def _pair(bars: _Bars) -> tuple[str, str]:
    return bars.bars, bars.ties


def _best_bars(project: Project, key: LiftKey) -> _Bars | None:
    """Return the best bars and ties of the section as it is, if any do."""
    *_, found = sizing_of(project, [key], wanted=1)
    return None if found.best is None else _Bars(found.best.bars, found.best.ties)


def _with_bars(model: LiftModel, bars: str, ties: str) -> LiftModel:
    changed = {"bars": bars, "ties": ties, "placed": (), "inner_ties": None}
    return model.model_copy(update={"section": model.section.model_copy(update=changed)})


def _steps(project: Project, key: LiftKey, model: LiftModel) -> Iterator[_Step]:
    yield from _ties(project, key, model)
    yield from _concretes(project, model)
    yield from _sizes(model)
    yield from _turned(model)
    yield from _bracing(model)
    cover = model.section.cover - NEARER
    if cover >= LEAST_COVER:
        told = f"cover {cover:g} mm in place of {model.section.cover:g}"
        yield _Step("cover", told, lambda one: one.with_values(cover=cover))


def _ties(project: Project, key: LiftKey, model: LiftModel) -> Iterator[_Step]:
    """Yield closer ties, from the next spacing on."""
    ties = parse_ties(model.section.ties, "ties", own_sizes(project))
    spacings = sorted(rules_of(project, key).spacings, reverse=True)
    for spacing in (one for one in spacings if one < ties.spacing and not ties.spiral):
        closer = str(replace(ties, spacing=spacing, end=None, lap=None))

        def change(one: LiftModel, closer: str = closer) -> LiftModel:
            section = one.section.model_copy(update={"ties": closer})
            return one.model_copy(update={"section": section})

        yield _Step("ties", f"ties {closer}", change)


def _concretes(project: Project, model: LiftModel) -> Iterator[_Step]:
    present = project.concrete_by_name[model.concrete].strength
    stronger = [grade for grade in project.concretes if grade.strength > present]
    for grade in sorted(stronger, key=lambda one: one.strength):

        def change(one: LiftModel, name: str = grade.name) -> LiftModel:
            return one.with_values(concrete=name)

        yield _Step("concrete", f"concrete {grade.name}", change)


def _sizes(model: LiftModel) -> Iterator[_Step]:
    """Yield larger sections: one size at a time, both of a square."""
    shape = model.section.shape
    names = [name for name in SIZES if hasattr(shape, name)]
    sides = [getattr(shape, name) for name in ("width", "depth") if hasattr(shape, name)]
    square = len(sides) == 2 and sides[0] == sides[1]
    groups = [tuple(names)] if square else [(name,) for name in names]
    for some in groups:
        for number in range(1, STEPS + 1):
            sizes = {name: getattr(shape, name) + number * STEP for name in some}
            told = " × ".join(f"{size:g}" for size in sizes.values())

            def change(one: LiftModel, sizes: dict[str, float] = sizes) -> LiftModel:
                larger = one.section.shape.model_copy(update=sizes)
                section = one.section.model_copy(update={"shape": larger})
                return one.model_copy(update={"section": section})

            yield _Step("size", f"{' and '.join(some)} {told} mm", change)


def _turned(model: LiftModel) -> Iterator[_Step]:
    shape = model.section.shape
    sides = {"width": getattr(shape, "depth", 0.0), "depth": getattr(shape, "width", 0.0)}
    if shape.kind != "rectangle" or sides["width"] == sides["depth"] or model.section.placed:
        return

    def change(one: LiftModel) -> LiftModel:
        turned = one.section.shape.model_copy(update=sides)
        section = one.section.model_copy(update={"shape": turned})
        return one.model_copy(update={"section": section})

    yield _Step("turned", "turned by 90°", change)


def _bracing(model: LiftModel) -> Iterator[_Step]:
    for axis in ("x", "y"):
        direction = getattr(model.values, axis)
        if direction.sway == "braced":
            continue
        braced = direction.model_copy(update={"sway": "braced"})

        def change(one: LiftModel, axis: str = axis, braced: object = braced) -> LiftModel:
            return one.with_values(**{axis: braced})

        yield _Step("bracing", f"braced along {axis}", change)
