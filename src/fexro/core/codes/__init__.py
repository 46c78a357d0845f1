"""Design codes: each is data about itself and a bundle of topics; nothing outside asks which."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from typing import Any, Protocol

from fexro.core.actions import Actions, Demand, Demands
from fexro.core.arrays import FloatArray
from fexro.core.bending.practice import BendingPractice
from fexro.core.facts import ColumnFacts, CrossSection, StoreyFacts
from fexro.core.findings import Finding, Topic
from fexro.core.joints import JointVerdict
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension, UnitSystem
from fexro.core.second_order import Column, GeneralBasis, SecondOrder, StoreyDirection
from fexro.core.section.ties import HeldRule
from fexro.core.strength.body import Body
from fexro.core.strength.surface import Points, Strength

__all__ = [
    "AxialBand",
    "Context",
    "DesignCode",
    "KeyPoint",
    "MaterialFact",
    "MaterialsTopic",
    "Rule",
    "StabilityTopic",
    "StrengthTopic",
    "Vocabulary",
]


@dataclass(frozen=True)
class KeyPoint:
    """A point of the interaction diagram with a meaning.

    Attributes:
        name: what it means.
        fraction: for a strength and directions (A,) of the compressed side, its places (A,) in the
            family of limit planes.
    """

    name: str
    fraction: Callable[[Strength, FloatArray], FloatArray]


@dataclass(frozen=True)
class Vocabulary:
    """The words and symbols of a code.

    Attributes:
        ductility: its classes of low, medium and high ductility.
        braced, sway: what it calls columns that take no part in sway, and those that do.
    """

    axial: str
    moment_x: str
    moment_y: str
    concrete_strength: str
    steel_strength: str
    ties: str
    ductility: tuple[str, str, str]
    braced: str
    sway: str


@dataclass(frozen=True, eq=False)
class MaterialFact:
    """What follows from a material under a code.

    Attributes:
        symbol: as it is read, such as Ec.
        name: what it is.
        value: in internal units.
        dimension: what it measures.
        derive: writes how it follows.
    """

    symbol: str
    name: str
    value: float
    dimension: Dimension
    derive: Callable[[], Derivation]


class MaterialsTopic(Protocol):
    """What follows from materials."""

    @property
    def reads_density(self) -> bool:
        """Whether the density of a concrete counts."""
        ...

    def concrete(self, concrete: Concrete) -> Sequence[MaterialFact]:
        """Return what follows from a concrete."""
        ...

    def steel(self, steel: ReinforcingSteel) -> Sequence[MaterialFact]:
        """Return what follows from a steel."""
        ...


class StrengthTopic(Protocol):
    """Strength of a section; a value, by which strengths are remembered."""

    def __hash__(self) -> int:
        """Topics are values: results are remembered by them."""
        ...

    @property
    def clause(self) -> str:
        """The clauses behind section strength."""
        ...

    def of(self, section: CrossSection) -> Strength:
        """Return the strength of a section."""
        ...

    def make(self, section: CrossSection) -> Hashable:
        """Return what the laws, limit planes and factor of a section depend on."""
        ...

    def working_body(self, section: CrossSection, strength: Strength, creep: float = 0.0) -> Body:
        """Return the section under the laws by which its strains at a demand are found.

        Strains of the concrete are stretched by creep, 1 + `creep`.
        """
        ...

    def key_points(self, section: CrossSection) -> Sequence[KeyPoint]:
        """Return the points that mark the interaction diagram."""
        ...

    def companions(
        self, section: CrossSection, strength: Strength, demand: FloatArray, combination: str
    ) -> list[Finding]:
        """Return what is shown beside the exact check of its governing demand, to compare."""
        ...

    def explain(
        self,
        record: Derivation,
        section: CrossSection,
        strength: Strength,
        demand: Demand,
        point: Points,
        *,
        capped: bool,
    ) -> None:
        """Write the utilisation of a demand from the surface point behind it."""
        ...


class StabilityTopic(Protocol):
    """From analysed forces to the demands that a section must meet."""

    @property
    def options(self) -> type[Any]:
        """What may be chosen where the code leaves room: a dataclass."""
        ...

    @property
    def reads(self) -> frozenset[str]:
        """Names of the values of a direction that it reads, beside how its ends are held."""
        ...

    @property
    def columns(self) -> tuple[Column, ...]:
        """What a table of second-order effects shows."""
        ...

    @property
    def couples_storey(self) -> bool:
        """Whether what the others of its storey are counts for a lift that sways."""
        ...

    def critical(self, facts: ColumnFacts, actions: Actions) -> FloatArray:
        """Return what a lift adds to the critical loads of its storey along x and y, N, (2, C)."""
        ...

    def second_order(
        self, facts: ColumnFacts, storey: StoreyFacts, actions: Actions
    ) -> SecondOrder:
        """Return what slenderness and sway make of the moments, and the demands to be met."""
        ...

    def explain(
        self,
        record: Derivation,
        facts: ColumnFacts,
        storey: StoreyFacts,
        actions: Actions,
        combination: int,
        demand: Demand,
    ) -> None:
        """Write how a demand came from the analysed forces."""
        ...

    def explain_axes(
        self,
        record: Derivation,
        facts: ColumnFacts,
        storey: StoreyFacts,
        actions: Actions,
        combination: int,
        only: int | None = None,
    ) -> None:
        """Write what slenderness and sway make of the moments of a combination."""
        ...

    def explain_length(
        self, record: Derivation, facts: ColumnFacts, axis: int, *, braced: bool
    ) -> None:
        """Write how the ends of a lift, and its effective length about x (0) or y (1), follow."""
        ...

    def general_basis(
        self, facts: ColumnFacts, found: SecondOrder, combination: int
    ) -> GeneralBasis:
        """Return on what nonlinear second-order analysis of a lift is based."""
        ...

    def storey_direction(self, storey: StoreyFacts, plan: int, walls: bool) -> StoreyDirection:
        """Return what a storey is in a direction of the plan, x (0) or y (1)."""
        ...

    def explain_storey(
        self, record: Derivation, storey: StoreyFacts, plan: int, combination: int
    ) -> None:
        """Write how it is found in a combination."""
        ...


@dataclass(frozen=True, eq=False)
class Context:
    """What rules look at beside the facts of a member.

    Attributes:
        actions: the forces as analysed.
        second_order: what the code makes of them.
        storey: the storey that the member is in.
        stability: by which it was found.
    """

    actions: Actions
    second_order: SecondOrder
    storey: StoreyFacts
    stability: StabilityTopic

    @property
    def demands(self) -> Demands:
        """What is to be met."""
        return self.second_order.demands

    def deriving(
        self, facts: ColumnFacts, combination: int, axis: int | None = None
    ) -> Callable[[], Derivation]:
        """Return what writes the second-order moments of a combination."""

        def derive() -> Derivation:
            record = Derivation()
            self.stability.explain_axes(record, facts, self.storey, self.actions, combination, axis)
            return record

        return derive


@dataclass(frozen=True)
class AxialBand:
    """Axial forces at which a ductile column is asked for more, or that it may not carry.

    Attributes:
        start: the least of them, N.
        told: what is asked, in a few words.
    """

    start: float
    told: str


Rule = Callable[[ColumnFacts, Context], Sequence[Finding]]


@dataclass(frozen=True, eq=False)
class DesignCode:
    """A design code in one of its editions, with one choice of its options.

    Attributes:
        key: what it is called in a file.
        annex: the choice of nationally determined data; one name where there is no choice.
        units: the edition's system of units.
        name: name and edition, as users read it.
        vocabulary: its words.
        loads: key of the load standard that goes with it.
        materials: what follows from materials.
        strength: strength of sections.
        stability: from forces to demands.
        rules: the rules of columns by what they are about, in the order in which they are run.
        wall_rules, beam_rules, strip_rules: likewise of panels of walls, of coupling beams and of
            strips of bearing walls.
        held: when bars are to be held by ties.
        end_zone: how far the ties of end zones reach from the joints, mm.
        laps: from where to where above the slab the laps of a lift reach, mm; nothing where none
            are told of.
        bar_ratios: least and largest area of bars over that of concrete.
        panel_ratio: least area of vertical bars of walls over that of concrete.
        band: axial forces that ask for more confinement; nothing where none do.
        joints: columns against beams at the joint above a lift, in each direction and sense.
        bending: how the bars of a lift are bent and scheduled.
        anchored: how far straight bars of a coupling beam of a diameter reach into piers, mm.
        horizontal_lap: length of the laps of the horizontal bars of a wall, mm.
    """

    key: str
    annex: str
    units: UnitSystem
    name: str
    vocabulary: Vocabulary
    loads: str
    materials: MaterialsTopic
    strength: StrengthTopic
    stability: StabilityTopic
    rules: tuple[tuple[Topic, Rule], ...]
    wall_rules: tuple[tuple[Topic, Rule], ...]
    beam_rules: tuple[tuple[Topic, Rule], ...]
    strip_rules: tuple[tuple[Topic, Rule], ...]
    held: HeldRule
    end_zone: Callable[[ColumnFacts], float]
    laps: Callable[[ColumnFacts, Context], tuple[float, float] | None]
    bar_ratios: tuple[float, float]
    panel_ratio: float
    band: Callable[[ColumnFacts], AxialBand | None]
    joints: Callable[[ColumnFacts, Context], Sequence[JointVerdict]]
    bending: Callable[[ColumnFacts], BendingPractice]
    anchored: Callable[[ColumnFacts, float], float]
    horizontal_lap: Callable[[ColumnFacts], float]

    def rules_of(self, facts: ColumnFacts) -> tuple[tuple[Topic, Rule], ...]:
        """Return the rules that a member goes by."""
        if facts.panel is not None:
            return self.wall_rules
        if facts.strip is not None:
            return self.strip_rules
        return self.rules if facts.beam is None else self.beam_rules
