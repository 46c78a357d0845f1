"""Searching bars and ties of a lift: every proposal is checked with the engine."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from fexro.core.errors import InputError
from fexro.core.facts import ColumnFacts, CrossSection, StoreyFacts
from fexro.core.findings import Finding, State
from fexro.core.members.check import check_lift, prepare, rule_findings, utilisation
from fexro.core.members.lift import Lift, LiftResult, PreparedLift
from fexro.core.members.strengths import strength_of
from fexro.core.members.verdict import message_of
from fexro.core.quantities import UnitSystem
from fexro.core.section.bars import BarSize, Ties
from fexro.core.section.call_out import format_call_out
from fexro.core.section.offsets import bars_differ
from fexro.core.section.section import Section
from fexro.core.sizing.amounts import Amounts, amounts_of, bar_mass, least_tie_mass
from fexro.core.sizing.candidates import BarRules, Groups, bar_count, layouts_of, steel_area
from fexro.core.sizing.objective import Costs, Objective
from fexro.core.strength.governing import estimated

__all__ = ["Make", "Member", "Point", "Proposal", "Rejected", "Sizing", "size_lift"]

# Makes the section of a lift with other bars and ties.
Make = Callable[[Groups, Ties], CrossSection]
MARGIN = 0.03  # by which the mesh may be off, at most
WANTED = 6  # proposals
FIRST = 12  # candidates from where strength does, among which a first proposal is looked for


@dataclass(frozen=True, eq=False)
class Member:
    """A lift that is sized, alone or with others that get the same bars and ties.

    Attributes:
        lift: as it is.
        make: makes its section.
        lap: length of a lap, mm.
        storey: its storey with other facts of the lift; nothing where it stays as it is.
    """

    lift: Lift
    make: Make
    lap: float
    storey: Callable[[ColumnFacts], StoreyFacts] | None = None

    def with_section(self, cross: CrossSection) -> Lift:
        """Return the lift with another section."""
        facts = replace(self.lift.facts, cross_section=cross)
        storey = self.lift.storey if self.storey is None else self.storey(facts)
        return replace(self.lift, facts=facts, storey=storey)


@dataclass(frozen=True, eq=False)
class Proposal:
    """Bars and ties that do.

    Attributes:
        bars, ties: call-outs.
        results: of the check of each member.
        costs: what all members come to.
        value: what is compared.
    """

    bars: str
    ties: str
    results: tuple[LiftResult, ...]
    costs: Costs
    value: float

    @property
    def result(self) -> LiftResult:
        """The check of the member that is used the most."""
        return max(self.results, key=lambda one: np.nan_to_num(one.utilisation))

    @property
    def section(self) -> Section:
        """The section of the first member."""
        return self.results[0].lift.facts.section


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

    def told(self, system: UnitSystem) -> str:
        """Return which bars they are, and why they do not do."""
        why = self.reason if self.finding is None else message_of(self.finding, system)
        return f"{self.bars}: {why}"


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
        looked: whether it was looked at.
        strong: whether its strength does; nothing where it was not judged.
        prepared: its members, where the strength of all does.
    """

    groups: Groups
    tie: BarSize
    least: float
    looked: bool = False
    strong: bool | None = None
    prepared: tuple[PreparedLift, ...] = ()

    @functools.cached_property
    def bars(self) -> str:
        """Call-out of the bars."""
        return format_call_out(self.groups)

    @property
    def called(self) -> str:
        """Bars and size of ties."""
        return f"{self.bars}, {self.tie.name}"


def size_lift(
    members: Sequence[Member], rules: BarRules, objective: Objective, wanted: int = WANTED
) -> Iterator[Sizing]:
    """Search the bars and ties of a lift, or of several alike; yield what is found after each step.

    A first proposal is looked for by halving. Then all candidates are taken in the order of what
    they come to at least, with the outer tie alone and as wide as is on offer; when that is more
    than the proposals wanted come to, nothing better is left.

    Args:
        members: the lift, or lifts that get the same bars and ties.
        rules: which bars and ties may be proposed, with layouts for the section of the first.
        objective: what is to be small.
        wanted: number of proposals.
    """
    search = _Search(members, rules, objective, wanted)
    yield search.found
    yield from search.halve()
    yield from search.go_through()


class _Search:
    """A search of bars and ties, see `size_lift`."""

    def __init__(
        self, members: Sequence[Member], rules: BarRules, objective: Objective, wanted: int
    ) -> None:
        self.members, self.rules = members, rules
        self.objective, self.wanted = objective, wanted
        self.found = Sizing()
        present = [amounts_of(one.lift, one.lap) for one in members]
        self.beside = self._costs(present)
        self._places: set[bytes] = set()
        self._axial: dict[float, float] = {}
        self._spaced: dict[BarSize, tuple[int, int]] = {}
        self.units = list(self._all(present))
        self.units.sort(key=lambda unit: unit.least)
        self.found.considered = len(self.units)

    def _costs(self, amounts: Sequence[Amounts]) -> Costs:
        return self.objective.costs(functools.reduce(Amounts.__add__, amounts))

    def _costs_of(self, lifts: Sequence[Lift]) -> Costs:
        """Return what the members come to as they are changed."""
        return self._costs(
            [amounts_of(x, one.lap) for x, one in zip(lifts, self.members, strict=True)]
        )

    def _value(self, costs: Costs) -> float:
        return self.objective.value(costs, self.beside)

    def _all(self, present: Sequence[Amounts]) -> Iterator[_Unit]:
        """Yield every layout with every size of ties, and what it comes to at least."""
        rules = self.rules
        lifts = [one.lift for one in self.members]
        ties = [
            (tie, [least_tie_mass(lift, tie, rules.spacings[0]) for lift in lifts])
            for tie in rules.ties
        ]
        for groups in layouts_of(rules, lifts[0].facts.section):
            count = sum(map(bar_count, groups))
            bars = [bar_mass(one.lift, groups, one.lap) for one in self.members]
            for tie, around in ties:
                least = [
                    amounts.with_steel(bar, outer, count)
                    for amounts, bar, outer in zip(present, bars, around, strict=True)
                ]
                yield _Unit(groups, tie, self._value(self._costs(least)))

    @property
    def _enough(self) -> float:
        """What a candidate has to come to less than."""
        proposals = self.found.proposals
        return proposals[-1].value if len(proposals) == self.wanted else math.inf

    def halve(self) -> Iterator[Sizing]:
        """Look for a first proposal where strength begins to do."""
        if not self.units:
            return
        low = _first(len(self.units), lambda at: self._strong(self.units[at]))
        for unit in self.units[low : low + FIRST]:
            self._look(unit)
            yield self.found
            if self.found.proposals:
                break

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

    def _look(self, unit: _Unit) -> None:
        """Look at a candidate, and propose it if it does."""
        if self._strong(unit) and unit.prepared:
            proposal = self._with_ties(unit, unit.prepared)
            if proposal is not None:
                self._propose(proposal)
        unit.looked, unit.prepared = True, ()

    def _strong(self, unit: _Unit) -> bool:
        """Tell whether the strength of a candidate does; one that has no place is too strong."""
        if unit.strong is None:
            unit.strong = self._judge(unit)
        return unit.strong

    def _judge(self, unit: _Unit) -> bool:
        closest = Ties(unit.tie, self.rules.spacings[-1])
        area = round(steel_area(unit.groups), 3)
        if self._axial.get(area, 0.0) > self.rules.aim * (1 + 1e-9):
            # As much steel, wherever it is: the axial force alone is too much.
            return self._too_pressed(unit, self._axial[area])
        try:
            sections = [one.make(unit.groups, closest) for one in self.members]
        except InputError as error:
            self._reject(unit, error.found)
            # Bars without a place are too many rather than too few.
            return True
        if self._known(sections[0].section):
            self.found.considered -= 1
            return True
        lifts = [one.with_section(x) for one, x in zip(self.members, sections, strict=True)]
        if self._enough < math.inf:
            # With the ties inside the outer one, as wide as is on offer.
            widest = Ties(unit.tie, self.rules.spacings[0])
            wide = [
                one.with_section(_tied(x, widest))
                for one, x in zip(self.members, sections, strict=True)
            ]
            if self._value(self._costs_of(wide)) >= self._enough:
                return True
        pressed = self._axial[area] = max(map(_pressed, lifts))
        if pressed > self.rules.aim * (1 + 1e-9):
            return self._too_pressed(unit, pressed)
        prepared, ratio = [], 0.0
        for lift in lifts:
            (one,) = prepare([lift])
            prepared.append(one)
            ratio = max(ratio, _ratio(one, self.rules.aim))
            if ratio > self.rules.aim * (1 + 1e-9):
                break
        self._point(unit, ratio)
        if ratio > self.rules.aim * (1 + 1e-9):
            self._reject(unit, f"utilisation {ratio:.3f}", None, ratio)
            return False
        unit.prepared = tuple(prepared)
        return True

    def _too_pressed(self, unit: _Unit, ratio: float) -> bool:
        """Reject a candidate whose axial force alone is too much, whatever the moments."""
        self._point(unit, ratio)
        self._reject(unit, f"utilisation {ratio:.3f} of the axial force", None, ratio)
        return False

    def _known(self, section: Section) -> bool:
        """Tell whether bars of the same areas at the same places were looked at."""
        bars = section.bars
        order = np.lexsort((bars.y.round(1), bars.x.round(1)))
        place = np.stack([bars.x, bars.y, bars.area])[:, order].round(1).tobytes()
        known = place in self._places
        self._places.add(place)
        return known

    def _point(self, unit: _Unit, ratio: float) -> None:
        mass = math.fsum(bar_mass(one.lift, unit.groups, one.lap) for one in self.members)
        self.found.points.append(Point(unit.bars, unit.tie.name, mass, ratio, unit.least))

    def _propose(self, proposal: Proposal) -> None:
        """Keep a proposal among the best; of the same bars and size of ties the better one."""

        def same(other: Proposal) -> bool:
            sizes = {one.section.ties.size.name for one in (proposal, other)}
            return len(sizes) == 1 and not bars_differ(proposal.section, other.section)

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

    def _with_ties(self, unit: _Unit, prepared: Sequence[PreparedLift]) -> Proposal | None:
        """Return a layout with the widest ties of its size that do, if any do."""
        spacings = self.rules.spacings
        last = len(spacings) - 1
        good: list[tuple[int, int]] = []
        bad: list[tuple[int, int]] = []
        reason: Finding | None = None

        def changed(end: int, middle: int) -> list[Lift]:
            ends, between = spacings[end], spacings[middle]
            ties = Ties(unit.tie, between, end=ends if ends < between else None)
            # The bars, and how ties go round them, stay as they are.
            return [
                member.with_section(_tied(one.lift.facts.cross_section, ties))
                for member, one in zip(self.members, prepared, strict=True)
            ]

        def does(end: int, middle: int) -> bool:
            nonlocal reason
            # Closer ties do, if wider do.
            if any(e <= end and m <= middle for e, m in good):
                return True
            if any(e >= end and m >= middle for e, m in bad):
                return False
            for one, lift in zip(prepared, changed(end, middle), strict=True):
                reason = _blocking(rule_findings(replace(one, lift=lift)))
                if reason is not None:
                    bad.append((end, middle))
                    return False
            good.append((end, middle))
            return True

        if self._value(self._costs_of(changed(0, 0))) >= self._enough:
            return None
        # What did with the candidate before mostly does again.
        near = self._spaced.get(unit.tie, (0, 0))
        if not does(*near) and not does(last, last):
            assert reason is not None
            self._reject(unit, reason.message, reason, reason.ratio)
            return None
        # The widest between the end zones, then in them.
        middle = _first(last, lambda at: does(last, at), near[1])
        end = middle + _first(last - middle, lambda at: does(middle + at, middle))
        self._spaced[unit.tie] = end, middle
        lifts = changed(end, middle)
        costs = self._costs_of(lifts)
        if self._value(costs) >= self._enough:
            return None
        results = []
        for lift in lifts:
            result = check_lift(lift)
            self.found.full_checks += 1
            worst = _blocking(result.findings)
            if worst is not None or result.utilisation > self.rules.aim * (1 + 1e-9):
                ratio = result.utilisation if worst is None else worst.ratio
                told = f"utilisation {ratio:.3f}" if worst is None else worst.message
                self._reject(unit, told, worst, ratio)
                return None
            results.append(result)
        ties = str(lifts[0].facts.section.ties)
        return Proposal(unit.bars, ties, tuple(results), costs, self._value(costs))


def _tied(cross: CrossSection, ties: Ties) -> CrossSection:
    """Return a section with its bars and other ties of the same size."""
    return replace(cross, section=_section_with(cross.section, ties))


@functools.lru_cache(maxsize=8192)
def _section_with(section: Section, ties: Ties) -> Section:
    return replace(section, ties=ties)


def _pressed(lift: Lift) -> float:
    """Return the utilisation by the axial force alone: no demand has less."""
    axial = lift.actions.axial_bending[..., 0]
    if not axial.size:
        return 0.0
    strength = lift.code.strength.of(lift.facts.cross_section)
    return max(float(axial.max()) / strength.max_axial, float(axial.min()) / strength.max_tension)


def _ratio(prepared: PreparedLift, aim: float) -> float:
    """Return the utilisation of strength: exact where it is near what is aimed at."""
    rows, lift = prepared.demands.rows, prepared.lift
    if not len(rows):
        return 0.0
    strength = strength_of(lift.code.strength, lift.facts.cross_section)
    ratio = float(estimated(strength, rows).max())
    if abs(ratio - aim) <= aim * MARGIN:
        return utilisation(prepared)
    return ratio


def _blocking(findings: Sequence[Finding]) -> Finding | None:
    """Return the worst finding that keeps a proposal out, if one does."""
    out = [
        one
        for one in findings
        if not one.assumption and one.state in (State.EXCEEDED, State.NOT_CHECKED)
    ]
    return max(out, key=lambda one: -1.0 if math.isnan(one.ratio) else one.ratio, default=None)


def _first(last: int, does: Callable[[int], bool], near: int = 0) -> int:
    """Return the first place from 0 to the last that does; those beyond one that does do too.

    Args:
        last: the last place, which does.
        does: whether a place does.
        near: about where the first is.
    """
    low, high, step = 0, last, 1
    if near and does(near):
        high = near
        while low < high and does(max(high - step, low)):
            high, step = max(high - step, low), 2 * step
        low = max(high - step + 1, low)
    else:
        low = near + 1 if near else low
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
