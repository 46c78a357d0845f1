"""Facts of members: what they are, without what a design code makes of it. Lengths in mm."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

import numpy as np

from fexro.core.actions import Actions
from fexro.core.arrays import FloatArray, IntArray
from fexro.core.fixed import FixedDict
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.section.bars import Ties
from fexro.core.section.curtains import EndBars, WebBars
from fexro.core.section.section import Section
from fexro.core.section.shapes import Legs

__all__ = [
    "Age",
    "BeamMoments",
    "BearingStrip",
    "Bracing",
    "BracingWall",
    "ColumnFacts",
    "Concretes",
    "CouplingBeam",
    "CriticalLoads",
    "CriticalSection",
    "CrossSection",
    "DiagonalGroup",
    "Ductility",
    "End",
    "EndKind",
    "FramingMember",
    "Laps",
    "LiftAbove",
    "LiftDirection",
    "Options",
    "PanelBeside",
    "StoreyDrift",
    "StoreyFacts",
    "SwayMoments",
    "WallPanel",
]


class Options(FixedDict[Any]):
    """Choices by name that differ from their defaults."""


class Concretes(FixedDict[Concrete]):
    """Concretes by name."""


NO_OTHERS = Concretes()


@dataclass(frozen=True)
class CrossSection:
    """A section and its materials: what strength depends on.

    Attributes:
        section: outline, bars and ties.
        concrete, steel: materials of the section and its bars.
        others: concretes that parts of the section are of, by name.
    """

    section: Section
    concrete: Concrete
    steel: ReinforcingSteel
    others: Concretes = NO_OTHERS

    def concrete_of(self, name: str | None) -> Concrete:
        """Return a concrete of the section; its own without a name."""
        return self.concrete if name is None else self.others[name]

    @cached_property
    def weakest(self) -> Concrete:
        """The concrete of least strength."""
        return min(self.concretes, key=lambda one: one.strength)

    @cached_property
    def mean_concrete(self) -> Concrete:
        """A concrete with the mean strength over the areas: the same squash load."""
        if len(set(self.concretes)) == 1:
            return self.concretes[0]
        areas = [area.outline.area for area in self.section.concretes]
        total = sum(area * one.strength for area, one in zip(areas, self.concretes, strict=True))
        return Concrete("mean of the section", total / sum(areas))

    @property
    def concretes(self) -> tuple[Concrete, ...]:
        """The concrete of each area of the section."""
        return tuple(self.concrete_of(area.concrete) for area in self.section.concretes)


@dataclass(frozen=True)
class BeamMoments:
    """What a beam resists where it meets a column: by its bars, or moments that are known, N·mm.

    Attributes:
        section: the beam, y up, with the bars that are known.
        hogging, sagging: moments with tension at the top and at the bottom; nothing where the bars
            of the section decide.
    """

    section: CrossSection | None = None
    hogging: float | None = None
    sagging: float | None = None


@dataclass(frozen=True)
class FramingMember:
    """A column or a beam that meets a lift at one of its ends.

    Attributes:
        second_moment: of its gross section in the plane of bending, mm⁴.
        length: to its far end, mm.
        concrete: of it.
        kind: `column`, `beam` or `slab`, by which a code takes it as cracked.
        cracked: share of the gross stiffness that stays, in place of the code's.
        far_end: how a beam is held at its far end.
        steel: modulus, MPa, and second moment, mm⁴, of structural steel in a column.
        side: of the lift that a beam is at, by the axis of the section: -1 or 1.
        moments: what a beam resists at the lift; nothing where it is not known.
        cross_section: of a column.
    """

    second_moment: float
    length: float
    concrete: Concrete
    kind: Literal["column", "beam", "slab"] = "beam"
    cracked: float | None = None
    far_end: Literal["fixed", "pinned"] = "fixed"
    steel: tuple[float, float] | None = None
    side: int = 0
    moments: BeamMoments | None = None
    cross_section: CrossSection | None = None


EndKind = Literal["framing", "fixed", "pinned", "free", "partial"]


@dataclass(frozen=True)
class End:
    """How a lift is held against rotation at one of its ends.

    Attributes:
        kind: by the members framing in; fixed, pinned or free; or partially, by `value`.
        value: stiffness of the columns over that of the beams (ψ or k of a code).
        column: the lift beyond, if there is one.
        beams: beams or slab strips in the plane of bending.
        by: where it is from, for the reader.
        planted: whether nothing stands below it although the building goes on.
    """

    kind: EndKind = "framing"
    value: float | None = None
    column: FramingMember | None = None
    beams: tuple[FramingMember, ...] = ()
    by: str = ""
    planted: bool = False


Laps = Literal["one level", "half", "none"]
SwayMoments = Literal["cases", "all", "analysis"]
Ductility = Literal["low", "medium", "high"]
Age = Literal["new", "existing"]


@dataclass(frozen=True)
class LiftDirection:
    """A lift in one direction of bending: its lengths, its ends, and how it is held. Lengths in mm.

    Attributes:
        storey: between the floors that hold it.
        clear: between the members framing in; nothing where it is not known.
        plan: direction of the plan in which it bends: 0 along x, 1 along y.
        top, bottom: its ends.
        factor, factor_sway: of its effective length, braced and unbraced, where they are given.
        sway: whether it takes part in sway; `by rule` the code decides.
        walls: whether walls resist sway in this direction.
        sway_moments: which part of the moments comes with sway: that of the cases that are flagged,
            all, or none since the analysis has second-order effects in it.
        lasting: share of the load that lasts (a code's measure of creep), where it is given.
        alpha_cr: critical factor of the building in this direction, where it is given.
        members: columns that share the imperfection.
        moment_shape: c0 of the first-order moment, where it is given.
        moment_factor: β of the first-order moment, where it is given.
        ductility: class that the frame it is part of is detailed for; low where walls resist.
    """

    storey: float
    clear: float | None = None
    plan: int = 0
    top: End = End()
    bottom: End = End()
    factor: float | None = None
    factor_sway: float | None = None
    sway: Literal["by rule", "braced", "sway"] = "by rule"
    walls: bool = False
    sway_moments: SwayMoments = "cases"
    lasting: float | None = None
    alpha_cr: float | None = None
    members: float = 1.0
    moment_shape: float | None = None
    moment_factor: float | None = None
    ductility: Ductility = "low"

    @property
    def length(self) -> float:
        """The clear length; the storey height where it is not known."""
        return self.storey if self.clear is None else self.clear


@dataclass(frozen=True)
class LiftAbove:
    """The lift that stands on a lift.

    Attributes:
        cross_section: of it, its centroid above that of the lift.
        laps: how many of its bars are lapped at one level.
    """

    cross_section: CrossSection
    laps: Laps


@dataclass(frozen=True, eq=False)
class CriticalSection:
    """The section at the base of a wall, where it yields first.

    Attributes:
        cross_section: of it.
        forces: N, Vx, Vy, T, Mx, My there in each combination, (C, 6), N and N·mm.
        combinations: their names.
    """

    cross_section: CrossSection
    forces: FloatArray
    combinations: tuple[str, ...]

    @cached_property
    def rows(self) -> dict[str, int]:
        """The rows of the forces by combination."""
        return {name: row for row, name in enumerate(self.combinations)}


@dataclass(frozen=True, eq=False)
class WallPanel:
    """What of a wall is between two floors, beside what it has as any upright member.

    Attributes:
        legs: its legs.
        lengths: of the straight wall that each leg is part of, openings included.
        clear: clear height of each leg beside openings; that of the storey where there are none.
        height: of the wall above its base.
        above: of the wall above the foot of the panel.
        storeys: of it above its base, where it yields first.
        web: bars of the curtains; nothing where bars were placed one by one.
        ends: bars of the free ends.
        hoops: around the bars of the ends, where there are any.
        critical: the section at the base; nothing where the panel stands on it.
        continuous: whether the wall goes on from its base to its top as it is.
        find_beside: finds the other panels of the wall in the storey, when they are asked for.
    """

    legs: Legs
    lengths: tuple[float, ...]
    clear: tuple[float, ...]
    height: float
    above: float
    storeys: int
    web: WebBars | None
    ends: tuple[EndBars, ...] = ()
    hoops: Ties | None = None
    critical: CriticalSection | None = None
    continuous: bool = True
    find_beside: Callable[[], tuple[PanelBeside, ...]] | None = None

    @cached_property
    def beside(self) -> tuple[PanelBeside, ...]:
        """The other panels of the wall in the storey, with which it shares a force."""
        return () if self.find_beside is None else self.find_beside()

    @property
    def curtains(self) -> int:
        """How many curtains of bars there are; two where bars were placed one by one."""
        return 2 if self.web is None else self.web.curtains


@dataclass(frozen=True, eq=False)
class PanelBeside:
    """Another panel of a wall in the same storey, with the forces on it."""

    name: str
    facts: ColumnFacts
    actions: Actions


@dataclass(frozen=True)
class DiagonalGroup:
    """One of both groups of diagonal bars of a coupling beam. Lengths in mm.

    Attributes:
        count: of its bars.
        diameter, area: of each.
        angle: to the axis of the beam, radians.
        confined: each group, or the whole section.
        hoops: around them; around the section where that is confined.
        cage: out to out along the width of the beam and across, of a confined group.
    """

    count: int
    diameter: float
    area: float
    angle: float
    confined: Literal["groups", "section"]
    hoops: Ties
    cage: tuple[float, float]

    @property
    def layers(self) -> int:
        """How many of a group lie on each side of its cage."""
        return max(self.count // 2, 1)

    @property
    def at_ends(self) -> int:
        """How many bars, last in the section of the beam, stand for both groups at its ends."""
        return 4 * self.layers


@dataclass(frozen=True, eq=False)
class CouplingBeam:
    """What a coupling beam has beside its section, whose depth is along y.

    Attributes:
        span: between the faces of the piers, mm.
        diagonals: each group, where there are diagonal bars.
        piers: lengths of the piers at its left and right end, along it, mm; nothing where they are
            not known.
    """

    span: float
    diagonals: DiagonalGroup | None = None
    piers: tuple[float, float] | None = None


@dataclass(frozen=True, eq=False)
class BearingStrip:
    """What a strip of a bearing wall has beside its section, whose depth along y is thin.

    Attributes:
        length: of the wall, mm.
        curtains: of bars.
        spacing: of the vertical bars, mm; nothing where they were placed one by one.
        service: Ps and the largest Msa at mid-height in service, N and N·mm, where it is known.
    """

    length: float
    curtains: int
    spacing: float | None
    service: tuple[float, float] | None = None


@dataclass(frozen=True, eq=False)
class ColumnFacts:
    """A column, or a panel of a wall, between two floors.

    Attributes:
        cross_section: section and materials.
        aggregate: nominal maximum size of the aggregate, mm.
        about_x, about_y: the lift where it bends about x and about y.
        options: what is chosen otherwise than by default where a code leaves room, by name.
        laps: how many of the bars are lapped at one level.
        tie_steel: of the ties; that of the bars where it is not known.
        lap_length: of the laps as they are, mm; nothing where they are as long as they have to be.
        age: whether it is to be built or stands already.
        knowledge: by which the strengths of its materials have been multiplied.
        above: the lift that stands on it, if there is one.
        storey: height between the floors at its ends, whether they hold it or not, mm; that about x
            where it is not known.
        panel: what it has as part of a wall.
        beam: what it has as a coupling beam, whose left end is its foot.
        strip: what it has as a strip of a bearing wall.
    """

    cross_section: CrossSection
    aggregate: float
    about_x: LiftDirection
    about_y: LiftDirection
    options: Options = field(default_factory=Options)
    laps: Laps = "none"
    tie_steel: ReinforcingSteel | None = None
    lap_length: float | None = None
    age: Age = "new"
    knowledge: float = 1.0
    above: LiftAbove | None = None
    storey: float | None = None
    panel: WallPanel | None = None
    beam: CouplingBeam | None = None
    strip: BearingStrip | None = None

    @property
    def transverse_steel(self) -> ReinforcingSteel:
        """Material of ties, hoops and horizontal bars: that of the bars where it is not given."""
        return self.steel if self.tie_steel is None else self.tie_steel

    @property
    def column(self) -> bool:
        """Whether it is a column, and no member of a wall."""
        return self.panel is None and self.beam is None and self.strip is None

    @property
    def height(self) -> float:
        """From floor to floor, mm; a direction in which a floor does not hold it is longer."""
        return self.about_x.storey if self.storey is None else self.storey

    @property
    def clear_height(self) -> float:
        """From the floor to what is framing in above, mm."""
        for direction in (self.about_x, self.about_y):
            if direction.storey <= self.height + 1e-6:
                return direction.length
        return self.height

    @property
    def section(self) -> Section:
        """Outline, bars and ties."""
        return self.cross_section.section

    @property
    def ductility(self) -> Ductility:
        """The highest class that it is detailed for in any direction."""
        order: tuple[Ductility, ...] = ("low", "medium", "high")
        return max((self.about_x.ductility, self.about_y.ductility), key=order.index)

    @property
    def concrete(self) -> Concrete:
        """Material of the section."""
        return self.cross_section.concrete

    @property
    def steel(self) -> ReinforcingSteel:
        """Material of the bars."""
        return self.cross_section.steel


@dataclass(frozen=True)
class StoreyDrift:
    """First-order drift of a storey in one direction of the plan.

    Attributes:
        drift: of the floor above the storey against that below it, mm.
        shear: of the storey behind it, N.
        height: of the storey, mm.
    """

    drift: float
    shear: float
    height: float


@dataclass(frozen=True)
class BracingWall:
    """A wall that braces a building: its length and thickness, mm."""

    length: float
    thickness: float


@dataclass(frozen=True)
class Bracing:
    """What braces a whole building in one direction of the plan.

    Attributes:
        walls: the walls.
        concrete: of them.
        storeys: of the building.
        height: of the building above where it is held, mm.
        cracked: whether the walls are taken as cracked.
        axial: all vertical load of the building, N.
    """

    walls: tuple[BracingWall, ...]
    concrete: Concrete
    storeys: int
    height: float
    cracked: bool
    axial: float


@dataclass(frozen=True, eq=False)
class CriticalLoads:
    """Sums over the lifts of a storey.

    Attributes:
        loads: critical loads with sway along x and y of the plan, N, (2, C).
        without: lifts whose critical load is not known, which count nothing.
    """

    loads: FloatArray
    without: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class StoreyFacts:
    """A storey: sums over its lifts, and what is known of its sway along x and y of the plan.

    Attributes:
        level: its name.
        lifts: how many there are.
        combinations: names of the combinations that any of them has, (C,).
        axial: sum of the axial forces at the feet of the lifts, and what other members carry, N,
            (C,).
        shear: sums of Vx and Vy, N, (C, 2).
        drifts: in x and in y, where they are known.
        bracing: in x and in y, where it is known.
        find_critical: finds the sums of the critical loads of its lifts, when they are asked for.
    """

    level: str
    lifts: int
    combinations: tuple[str, ...]
    axial: FloatArray
    shear: FloatArray
    drifts: tuple[StoreyDrift | None, StoreyDrift | None] = (None, None)
    bracing: tuple[Bracing | None, Bracing | None] = (None, None)
    find_critical: Callable[[], CriticalLoads] | None = None

    @cached_property
    def critical(self) -> CriticalLoads | None:
        """The sums of the critical loads of its lifts; nothing where none is known."""
        return None if self.find_critical is None else self.find_critical()

    @classmethod
    def unknown(cls, combinations: tuple[str, ...]) -> StoreyFacts:
        """Return a storey of which nothing is known."""
        count = len(combinations)
        return cls("", 0, combinations, np.full(count, np.nan), np.full((count, 2), np.nan))

    def places(self, combinations: tuple[str, ...]) -> IntArray:
        """Return where combinations of a lift are among those of the storey, (C,)."""
        if combinations == self.combinations:
            return np.arange(len(combinations))
        place = {name: i for i, name in enumerate(self.combinations)}
        return np.array([place[name] for name in combinations], dtype=np.intp)
