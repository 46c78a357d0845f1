"""A lift, and all that was found of it."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fexro.core.actions import Actions, Demands
from fexro.core.arrays import FloatArray
from fexro.core.codes import Context, DesignCode
from fexro.core.facts import ColumnFacts, StoreyFacts
from fexro.core.findings import Finding, State
from fexro.core.members.strengths import strength_of
from fexro.core.provisions import Derivation, join
from fexro.core.second_order import SecondOrder
from fexro.core.strength.governing import Governing, estimated
from fexro.core.strength.surface import Strength
from fexro.core.strength.utilisation import Utilisation, constant_axial, proportional

__all__ = ["Lift", "LiftResult", "PreparedLift", "by_severity", "explain_demand"]


@dataclass(frozen=True, eq=False)
class Lift:
    """One column between two floors.

    Attributes:
        mark, level: its place in the schedule.
        facts: what it is.
        code: the design code it is checked to.
        actions: the forces on it as analysed.
        storey: the storey it is in; nothing where nothing is known of it.
    """

    mark: str
    level: str
    facts: ColumnFacts
    code: DesignCode
    actions: Actions
    storey: StoreyFacts | None = None

    @property
    def name(self) -> str:
        """Mark and level."""
        return f"{self.mark} · {self.level}"

    @property
    def strength(self) -> Strength:
        """The strength of its section."""
        return strength_of(self.code.strength, self.facts.cross_section)


@dataclass(frozen=True, eq=False)
class PreparedLift:
    """A lift whose demands are known.

    Attributes:
        lift: the lift.
        storey: its storey.
        second_order: what slenderness and sway make of its moments.
    """

    lift: Lift
    storey: StoreyFacts
    second_order: SecondOrder

    @classmethod
    def of(cls, lift: Lift) -> PreparedLift:
        """Return a lift with its second-order moments."""
        storey = lift.storey or StoreyFacts.unknown(lift.actions.combinations)
        found = lift.code.stability.second_order(lift.facts, storey, lift.actions)
        return cls(lift, storey, found)

    @property
    def demands(self) -> Demands:
        """What the code asks to be met."""
        return self.second_order.demands

    @property
    def context(self) -> Context:
        """What rules look at beside the facts of the lift."""
        lift = self.lift
        return Context(lift.actions, self.second_order, self.storey, lift.code.stability)

    @property
    def grows(self) -> bool:
        """Whether anything is to be met beyond the forces as analysed."""
        demands = self.demands
        return not np.array_equal(demands.values, demands.first_order)


@dataclass(frozen=True, eq=False)
class LiftResult:
    """All that was found of a lift.

    Attributes:
        prepared: the lift and its demands.
        findings: those that decide, worst first.
        solved: the demand that governs along the ray; nothing without forces.
        first_order: the largest utilisation of the forces as analysed; not a number without forces.
        decided: the utilisation where another method decides; nothing else.
        rough: about the utilisations of all demands, where no more was asked than at a glance.
    """

    prepared: PreparedLift
    findings: tuple[Finding, ...]
    solved: Governing | None
    first_order: float = math.nan
    decided: float | None = None
    rough: FloatArray | None = None

    @cached_property
    def proportional(self) -> Utilisation:
        """Utilisations of every demand along the ray, in order of the demands' rows."""
        if self.solved is not None and self.solved.every is not None:
            return self.solved.every
        return proportional(self.lift.strength, self.demands)

    def along(self, demand: int) -> Utilisation:
        """Return the utilisation of one demand along the ray, without that of all others."""
        if "proportional" in vars(self):
            return self.proportional.part(slice(demand, demand + 1))
        if self.solved is not None and demand == self.solved.demand:
            return self.solved.along
        return proportional(self.lift.strength, self.demands[demand : demand + 1])

    @cached_property
    def estimated(self) -> FloatArray:
        """About the utilisation of every demand along the ray, from the mesh: for what is drawn."""
        if self.rough is not None:
            return self.rough
        return estimated(self.lift.strength, self.demands)

    @property
    def lift(self) -> Lift:
        """What was checked."""
        return self.prepared.lift

    @property
    def combinations(self) -> tuple[str, ...]:
        """Names of the combinations it was checked for."""
        return self.lift.actions.combinations

    @property
    def places(self) -> tuple[str, ...]:
        """Where the demands of each combination act."""
        return self.prepared.demands.places

    @cached_property
    def shown_findings(self) -> tuple[Finding, ...]:
        """The findings and those that stand beside them for comparison, worst first."""
        if self.solved is None:
            return self.findings
        lift, worst = self.lift, self.worst_demand
        companions = lift.code.strength.companions(
            lift.facts.cross_section,
            lift.strength,
            self.demands[worst],
            self.combination_of(worst),
        )
        return by_severity([*self.findings, *companions], lift.facts)

    @cached_property
    def constant_axial(self) -> Utilisation:
        """Utilisations of every demand in moment at constant axial force, in the same order."""
        return constant_axial(self.lift.strength, self.demands)

    @cached_property
    def state(self) -> State:
        """The worst state of any finding, leaving aside what is merely assumed."""
        return max(finding.state for finding in self.findings if not finding.assumption)

    @property
    def governing(self) -> Finding:
        """The finding that decides: the worst state, then the largest ratio."""
        return self.findings[0]

    @property
    def shown_ratio(self) -> float:
        """The ratio that stands for the lift: of what governs, or of strength where it has none.

        Not a number where it is not checked.
        """
        ratio = self.governing.ratio
        if math.isnan(ratio) and self.governing.state is not State.NOT_CHECKED:
            return self.utilisation
        return ratio

    @property
    def utilisation(self) -> float:
        """The largest ratio of any check of strength; not a number without forces."""
        if self.decided is not None:
            return self.decided
        if self.solved is None:
            return math.nan
        return max((f.ratio for f in self.findings if f.leads), default=self.solved.ratio)

    @property
    def demands(self) -> FloatArray:
        """All demands N, Mx, My, (R, 3), N and N·mm."""
        return self.prepared.demands.rows

    def combination_of(self, demand: int) -> str:
        """Return the combination of a demand by its index."""
        return self.combinations[demand // len(self.places)]

    def combination_index(self, name: str | None) -> int:
        """Return the index of a combination; of that which governs, if it has not this one."""
        combinations = self.combinations
        if name in combinations:
            return combinations.index(name)
        return self.worst_demand // max(len(self.places), 1)

    def place_of(self, demand: int) -> str:
        """Return where a demand acts, by its index."""
        return self.places[demand % len(self.places)]

    def demand_index(self, combination: int) -> int:
        """Return the index of the worst demand of a combination."""
        count = len(self.places)
        ratio = self.proportional.ratio[count * combination : count * (combination + 1)]
        return count * combination + int(ratio.argmax())

    def demand_at(self, combination: int, place: str) -> int:
        """Return the index of the demand of a combination at a place."""
        return len(self.places) * combination + self.places.index(place)

    def derivation_of(self, demand: int) -> Derivation:
        """Write the calculation of the utilisation of a demand by its index."""
        part = slice(demand, demand + 1)
        return explain_demand(self.prepared, self.proportional.part(part), demand)

    @cached_property
    def first_order_ratios(self) -> FloatArray:
        """The largest utilisation of the forces as analysed in each combination, (C,)."""
        forces = self.lift.actions.axial_bending
        ratios = proportional(self.lift.strength, forces.reshape(-1, 3)).ratio
        largest: FloatArray = ratios.reshape(forces.shape[:2]).max(axis=1, initial=0.0)
        return largest

    @property
    def second_order(self) -> SecondOrder:
        """What slenderness and sway make of its moments."""
        return self.prepared.second_order

    @property
    def worst_demand(self) -> int:
        """The index of the demand that governs; 0 without forces."""
        return 0 if self.solved is None else self.solved.demand


def by_severity(findings: Iterable[Finding], facts: ColumnFacts) -> tuple[Finding, ...]:
    """Return findings, worst first.

    Among what is satisfied axial force with bending leads; of panels of walls and of coupling
    beams, where shear may as well decide, all that they resist.
    """
    wall = facts.panel is not None or facts.beam is not None

    def rank(finding: Finding) -> tuple[int, bool, bool, float]:
        ratio = -math.inf if math.isnan(finding.ratio) else finding.ratio
        # An assumption never hides a finding.
        state = State.SATISFIED if finding.assumption else finding.state
        leads = finding.leads or (wall and (finding.resists or finding.topic == "strength"))
        return -int(state), finding.assumption, not leads, -ratio

    return tuple(sorted(findings, key=rank))


def explain_demand(prepared: PreparedLift, along: Utilisation, index: int) -> Derivation:
    """Write the calculation of the proportional utilisation of one demand.

    Args:
        prepared: the lift and its demands.
        along: the utilisation of one of its demands.
        index: of that demand among their rows.
    """
    lift, demand = prepared.lift, prepared.demands.at(index)
    record = Derivation()
    if not demand.values.any():
        record.note("No force acts in this combination.")
        return record
    point = lift.strength.at(along.angle, along.fraction[:, None])
    lift.code.stability.explain(
        record,
        lift.facts,
        prepared.storey,
        lift.actions,
        index // len(prepared.demands.places),
        demand,
    )
    strength = Derivation()
    lift.code.strength.explain(
        strength,
        lift.facts.cross_section,
        lift.strength,
        demand,
        point,
        capped=bool(along.capped[0]),
    )
    join(record, strength)
    return record
