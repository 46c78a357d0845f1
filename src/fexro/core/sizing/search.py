"""Searching bars and ties of a lift: every proposal is checked with the engine."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from fexro.core.errors import InputError
from fexro.core.facts import CrossSection
from fexro.core.findings import Finding, State
from fexro.core.members.check import check_lift, prepare, rule_findings
from fexro.core.members.lift import Lift, LiftResult, PreparedLift
from fexro.core.members.strengths import strength_of
from fexro.core.section.bars import BarSize, Ties
from fexro.core.section.call_out import format_call_out
from fexro.core.section.offsets import bars_differ
from fexro.core.sizing.amounts import Amounts, amounts_of, bar_mass, least_amounts
from fexro.core.sizing.candidates import BarRules, Groups, layouts_of
from fexro.core.sizing.objective import Costs, Objective
from fexro.core.strength.governing import Question, estimated, governing

__all__ = ["Make", "Point", "Proposal", "Rejected", "Sizing", "size_lift"]

# Makes the section of a lift with other bars and ties.
Make = Callable[[Groups, Ties], CrossSection]
MARGIN = 0.03  # by which the mesh may be off, at most
WANTED = 6  # proposals


@dataclass(frozen=True, eq=False)
class Proposal:
    """Bars and ties that do.

    Attributes:
        bars, ties: call-outs.
        lift: the lift with them.
        result: of its check.
        amounts, costs: what it takes and comes to.
        value: what is compared.
    """

    bars: str
    ties: str
    lift: Lift
    result: LiftResult
    amounts: Amounts
    costs: Costs
    value: float


@dataclass(frozen=True)
class Point:
    """A candidate as it is seen among all.

    Attributes:
        bars: call-out.
        tie: size of the ties.
        mass: of its bars, kg.
        ratio: utilisation of strength, from the mesh where it is not close to what is aimed at; of
            the axial force alone where that is too much.
        value: what is compared, at least.
    """

    bars: str
    tie: str
    mass: float
    ratio: float
    value: float


@dataclass(frozen=True)
class Rejected:
    """Bars that do not do.

    Attributes:
        bars: call-out, with the size of ties.
        reason: why, in a few words; `{found}` and `{limit}` are put in.
        finding: the check that keeps them out; nothing where they have no place or strength.
        ratio: of that check, or of strength.
    """

    bars: str
    reason: str
    finding: Finding | None = None
    ratio: float = math.nan


@dataclass(eq=False)
class Sizing:
    """What a search has found so far.

    Attributes:
        considered: layouts with each size of ties.
        proposals: those that do, best first.
        points: all candidates whose strength was looked at.
        rejected: those that do not do.
        full_checks: how many were checked in full.
        done: whether nothing better is left.
    """

    considered: int = 0
    proposals: list[Proposal] = field(default_factory=list)
    points: list[Point] = field(default_factory=list)
    rejected: list[Rejected] = field(default_factory=list)
    full_checks: int = 0
    done: bool = False

    @property
    def best(self) -> Proposal | None:
        """The best proposal."""
        return self.proposals[0] if self.proposals else None

    @property
    def nearest(self) -> Rejected | None:
        """The candidate that misses its limit by the least."""
        known = [one for one in self.rejected if one.ratio > 1]
        return min(known, key=lambda one: one.ratio, default=None)


@dataclass(eq=False)
class _Unit:
    """A layout with one size of ties.

    Attributes:
        least: what it comes to at least.
        looked: whether its strength was looked at.
    """

    groups: Groups
    bars: str
    tie: BarSize
    least: float
    looked: bool = False

    @property
    def called(self) -> str:
        """Bars and size of ties."""
        return f"{self.bars}, {self.tie.name}"


def size_lift(
    lift: Lift,
    rules: BarRules,
    make: Make,
    objective: Objective,
    lap: float,
    wanted: int = WANTED,
) -> Iterator[Sizing]:
    """Search the bars and ties of a lift, and yield what is found so far after each step.

    A first proposal is looked for by halving. Then all candidates are taken in the order of what
    they come to at least, with the outer tie alone and as wide as is on offer; when that is more
    than the proposals wanted come to, nothing better is left.

    Args:
        lift: as it is.
        rules: which bars and ties may be proposed.
        make: makes the section.
        objective: what is to be small.
        lap: length of a lap, mm.
        wanted: number of proposals.
    """
    search = _Search(lift, rules, make, objective, lap, wanted)
    yield search.found
    yield from search.halve()
    yield from search.go_through()


class _Search:
    """A search of the bars and ties of one lift, see `size_lift`."""

    def __init__(
        self,
        lift: Lift,
        rules: BarRules,
        make: Make,
        objective: Objective,
        lap: float,
        wanted: int,
    ) -> None:
        self.lift, self.rules, self.make = lift, rules, make
        self.objective, self.lap, self.wanted = objective, lap, wanted
        self.found = Sizing()
        self.present = amounts_of(lift, lap)
        self.beside = objective.costs(self.present)
        self._places: set[bytes] = set()
        layouts = layouts_of(rules, lift.facts.section)
        self.units = [self._unit(*one) for one in itertools.product(layouts, rules.ties)]
        self.units.sort(key=lambda unit: unit.least)
        self.found.considered = len(self.units)

    def _unit(self, groups: Groups, tie: BarSize) -> _Unit:
        least = least_amounts(self.lift, groups, tie, self.rules.spacings[0], self.lap)
        value = self.objective.value(self.objective.costs(least), self.beside)
        return _Unit(groups, format_call_out(groups), tie, value)

    @property
    def _enough(self) -> float:
        """What a candidate has to come to less than."""
        proposals = self.found.proposals
        return proposals[-1].value if len(proposals) == self.wanted else math.inf

    def halve(self) -> Iterator[Sizing]:
        """Look for a first proposal where strength begins to do."""
        low, high = 0, len(self.units)
        while low < high:
            middle = (low + high) // 2
            if self._look(self.units[middle]):
                high = middle
            else:
                low = middle + 1
            yield self.found

    def go_through(self) -> Iterator[Sizing]:
        """Take all candidates that may be better."""
        for unit in self.units:
            if unit.least >= self._enough:
                break
            if not unit.looked:
                self._look(unit)
                yield self.found
        self.found.done = True
        yield self.found

    def _look(self, unit: _Unit) -> bool:
        """Look at a candidate; tell whether its strength does."""
        unit.looked = True
        try:
            cross = self.make(unit.groups, Ties(unit.tie, self.rules.spacings[-1]))
        except InputError as error:
            self._reject(unit, error.found)
            # Bars without a place are too many rather than too few.
            return True
        bars = cross.section.bars
        order = np.lexsort((bars.y.round(1), bars.x.round(1)))
        place = np.stack([bars.x, bars.y, bars.area])[:, order].round(1).tobytes()
        if place in self._places:
            self.found.considered -= 1
            return True
        self._places.add(place)
        lift = replace(self.lift, facts=replace(self.lift.facts, cross_section=cross))
        pressed = self._pressed(lift)
        if pressed > self.rules.aim * (1 + 1e-9):
            # The axial force alone is too much, whatever the moments.
            self._point(unit, pressed)
            self._reject(unit, f"utilisation {pressed:.3f} of the axial force", None, pressed)
            return False
        (prepared,) = prepare([lift])
        rows, aim = prepared.demands.rows, self.rules.aim
        ratio = math.nan
        if len(rows):
            strength = strength_of(lift.code.strength, cross)
            ratio = float(estimated(strength, rows).max())
            if abs(ratio - aim) <= aim * MARGIN:
                ends = np.array([len(rows)])
                ((exact,),) = governing([Question(strength, rows, ends)])
                assert exact is not None
                ratio = exact.ratio
        self._point(unit, ratio)
        if ratio > aim * (1 + 1e-9):
            self._reject(unit, f"utilisation {ratio:.3f}", None, ratio)
            return False
        proposal = self._with_ties(unit, prepared)
        if proposal is not None:
            self._propose(proposal)
        return True

    def _pressed(self, lift: Lift) -> float:
        """Return the utilisation by the axial force alone: no demand has less."""
        axial = lift.actions.axial_bending[..., 0]
        if not axial.size:
            return 0.0
        strength = lift.code.strength.of(lift.facts.cross_section)
        return max(
            float(axial.max()) / strength.max_axial, float(axial.min()) / strength.max_tension
        )

    def _point(self, unit: _Unit, ratio: float) -> None:
        mass = bar_mass(self.lift, unit.groups, self.lap)
        self.found.points.append(Point(unit.bars, unit.tie.name, mass, ratio, unit.least))

    def _propose(self, proposal: Proposal) -> None:
        """Keep a proposal among the best; of the same bars and size of ties the better one."""

        def same(other: Proposal) -> bool:
            sections = proposal.lift.facts.section, other.lift.facts.section
            sizes = {section.ties.size.name for section in sections}
            return len(sizes) == 1 and not bars_differ(*sections)

        proposals = self.found.proposals
        alike = next((i for i, one in enumerate(proposals) if same(one)), None)
        if alike is None:
            proposals.append(proposal)
        elif proposal.value < proposals[alike].value:
            proposals[alike] = proposal
        proposals.sort(key=lambda one: one.value)
        del proposals[self.wanted :]

    def _reject(
        self,
        unit: _Unit,
        reason: str,
        finding: Finding | None = None,
        ratio: float = math.nan,
    ) -> None:
        self.found.rejected.append(Rejected(unit.called, reason, finding, ratio))

    def _with_ties(self, unit: _Unit, prepared: PreparedLift) -> Proposal | None:
        """Return a layout with the widest ties of its size that do, if any do."""
        spacings = self.rules.spacings
        tried: dict[tuple[int, int], Finding | None] = {}

        section = prepared.lift.facts.section

        def changed(end: int, middle: int) -> Lift:
            ends, between = spacings[end], spacings[middle]
            ties = Ties(unit.tie, between, end=ends if ends < between else None)
            # The bars, and how ties go round them, stay as they are.
            cross = replace(prepared.lift.facts.cross_section, section=replace(section, ties=ties))
            return replace(self.lift, facts=replace(self.lift.facts, cross_section=cross))

        def blocked(end: int, middle: int) -> Finding | None:
            key = end, middle
            if key not in tried:
                lift = changed(end, middle)
                tried[key] = _blocking(rule_findings(replace(prepared, lift=lift)))
            return tried[key]

        def value_of(lift: Lift) -> tuple[Amounts, Costs, float]:
            amounts = amounts_of(lift, self.lap)
            costs = self.objective.costs(amounts)
            return amounts, costs, self.objective.value(costs, self.beside)

        if value_of(changed(0, 0))[2] >= self._enough:
            return None
        middle = end = 0
        if blocked(0, 0) is not None:
            last = len(spacings) - 1
            reason = blocked(last, last)
            if reason is not None:
                self._reject(unit, reason.message, reason, reason.ratio)
                return None
            # The widest between the end zones, then in them: closer ones do, if wider do.
            middle = _first(last, lambda at: blocked(last, at) is None)
            end = middle + _first(last - middle, lambda at: blocked(middle + at, middle) is None)
        lift = changed(end, middle)
        amounts, costs, value = value_of(lift)
        if value >= self._enough:
            return None
        result = check_lift(lift)
        self.found.full_checks += 1
        worst = _blocking(result.findings)
        if worst is not None or result.utilisation > self.rules.aim * (1 + 1e-9):
            ratio = result.utilisation if worst is None else worst.ratio
            told = f"utilisation {ratio:.3f}" if worst is None else worst.message
            self._reject(unit, told, worst, ratio)
            return None
        ties = str(lift.facts.section.ties)
        return Proposal(unit.bars, ties, lift, result, amounts, costs, value)


def _blocking(findings: Sequence[Finding]) -> Finding | None:
    """Return the worst finding that keeps a proposal out, if one does."""
    out = [
        one
        for one in findings
        if not one.assumption and one.state in (State.EXCEEDED, State.NOT_CHECKED)
    ]
    return max(out, key=lambda one: -1.0 if math.isnan(one.ratio) else one.ratio, default=None)


def _first(last: int, does: Callable[[int], bool]) -> int:
    """Return the first place from 0 to the last that does; those beyond one that does do too."""
    low, high, step = 0, last, 1
    # What is looked for is mostly near the beginning.
    while low + step - 1 < high and not does(low + step - 1):
        low, step = low + step, 2 * step
    high = min(high, low + step - 1)
    while low < high:
        middle = (low + high) // 2
        if does(middle):
            high = middle
        else:
            low = middle + 1
    return low
