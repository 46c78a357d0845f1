"""Checks of columns of intermediate and special moment frames: ACI 318-19, 18.4.3 and 18.7."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache, partial
from typing import ClassVar

import numpy as np

from fexro.core.codes import AxialBand, Context
from fexro.core.codes.aci318_19 import special_frames as special
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.intermediate_frames import (
    hoop_zone,
    intermediate_design_shear,
    shear_of_moments,
)
from fexro.core.codes.aci318_19.lap_rules import splice_of
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.aci318_19.shear import one_way_shear
from fexro.core.codes.joint_checks import (
    Senses,
    explain_joint,
    joint_findings,
    joint_table,
    settled_by,
)
from fexro.core.codes.options import number as option_number
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import (
    capacity_shear_finding,
    hooks_finding,
    limit_finding,
    transverse_of,
    with_earthquake,
)
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, State, length, number
from fexro.core.joints import Joint, JointEnd, JointVerdict, joints_at
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.ties import HeldRule
from fexro.core.strength.uniaxial import MomentCurve, MomentRange, moment_curve, nominal
from fexro.core.transverse import Transverse

__all__ = ["DuctileOptions", "confinement_band", "ductile_checks", "joint_verdicts"]

ENDS_OF_LIFT: tuple[JointEnd, JointEnd] = ("top", "bottom")


@dataclass(frozen=True)
class DuctileOptions:
    """What ductile frames rest on.

    Attributes:
        omega_o: overstrength factor of intermediate frames (18.4.3.1).
    """

    TITLE: ClassVar[str] = "Earthquake"

    omega_o: float = option_number("Ωo of intermediate frames", 3.0, 1.0, 4.0)


PROBABLE = 1.25  # of fy in probable moments (18.7.6.1.1, 2.3)


@lru_cache(maxsize=1024)
def _curve(
    edition: Edition, cross: CrossSection, over: float, axes: tuple[int, ...] = (0, 1)
) -> MomentCurve:
    steel = replace(cross.steel, yield_strength=over * cross.steel.yield_strength)
    return moment_curve(nominal(StrengthACI(edition).of(replace(cross, steel=steel))), axes)


def _moments(
    edition: Edition, over: float, cross: CrossSection, low: float, high: float
) -> MomentRange:
    """Return the nominal moments with bars of `over` times their yield strength."""
    return _curve(edition, cross, over).between(low, high)


def _beam_moments(
    edition: Edition, over: float, cross: CrossSection, low: float, high: float
) -> MomentRange:
    """Return the same of a beam, about its level axis alone."""
    return _curve(edition, cross, over, (0,)).between(low, high)


@dataclass(frozen=True, eq=False)
class _Column:
    """A column of a ductile frame, its ties, and the axial forces on it, N."""

    edition: Edition
    facts: ColumnFacts
    transverse: Transverse
    context: Context
    low: float
    high: float

    @classmethod
    def of(cls, edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context) -> _Column:
        axial = context.actions.in_earthquake[..., 0]
        low, high = (float(axial.min()), float(axial.max())) if axial.size else (0.0, 0.0)
        return cls(edition, facts, transverse_of(facts, held), context, low, high)

    @property
    def cross(self) -> CrossSection:
        return self.facts.cross_section

    def clear(self, shear: int) -> float:
        """Return the clear height where shear acts along x (0) or y (1), mm."""
        return (self.facts.about_y, self.facts.about_x)[shear].length

    def analysed(self, shear: int) -> float:
        """Return the largest shear of the analysis along x or y, N."""
        return float(np.abs(self.context.actions.in_earthquake[..., 1 + shear]).max(initial=0.0))

    def ductile(self, shear: int) -> bool:
        """Whether the frame along x or y is more than ordinary."""
        return (self.facts.about_y, self.facts.about_x)[shear].ductility != "low"

    def special(self, axis: int) -> bool:
        """Whether the frame along x or y is special."""
        return (self.facts.about_y, self.facts.about_x)[axis].ductility == "high"


def ductile_checks(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check a column of an intermediate (18.4.3) or special moment frame (18.7)."""
    level = facts.ductility
    if level == "low" or not len(context.actions.combinations):
        return []
    column = _Column.of(edition, held, facts, context)
    if level == "medium":
        return [_hoop_spacing(column), *_shears(column), hooks_finding("hoops", "25.3.4")]
    return [
        hooks_finding("hoops and cross ties", "25.3.4, 25.3.5"),
        *_limits(column),
        *_confinement(column),
        *_shears(column),
        *_special_laps(column),
        *_strong_columns(column),
    ]


def _hoop_spacing(column: _Column) -> Finding:
    given = column.edition, column.cross, column.transverse, column.clear(0)
    zone = hoop_zone(None, *given)

    def derive() -> Derivation:
        record = Derivation()
        hoop_zone(record, *given)
        return record

    return limit_finding(
        *("Hoop spacing at the ends", "hoop spacing", "18.4.3.3"),
        length(column.transverse.at_ends),
        length(zone.largest),
        "Hoops at {found} at the ends; {limit} allowed.",
        derive,
    )


@dataclass(frozen=True, eq=False)
class _Shear:
    """The shear along x (0) or y (1) that goes with the moments at the ends of a column."""

    column: _Column
    axis: int
    special: bool

    def design(self, record: Derivation | None) -> tuple[float, bool]:
        """Return the design shear, N, and whether concrete carries nothing in the end zones."""
        column, axis = self.column, self.axis
        over = PROBABLE if self.special else 1.0
        moments = _moments(column.edition, over, column.cross, column.low, column.high)
        largest, clear = moments.largest(1 - axis), column.clear(axis)
        analysed = column.analysed(axis)
        if record is not None:
            kind = "probable" if self.special else "nominal"
            record.note(with_earthquake(column.context.actions))
            record.note(f"Both ends are taken to reach the largest {kind} moment over them.")
        if not self.special:
            shear = float(shear_of_moments.into(record, largest, largest, clear))
            magnified = self._overstrength(record)
            least = shear if magnified is None else magnified
            return float(intermediate_design_shear.into(record, shear, least, analysed)), False
        given = (largest, largest), self._limits(record, largest), analysed, column.low
        found = special.shear_of_probable_moments(record, column.cross, clear, *given)
        return found.design, found.without_concrete

    def _overstrength(self, record: Derivation | None) -> float | None:
        """Return the largest shear of the combinations with Ωo E, N; nothing where not known."""
        actions = self.column.context.actions
        if actions.earthquake is None or actions.seismic is None:
            if record is not None:
                record.note("Combinations with Ωo E are not known: the moments alone decide.")
            return None
        factor = options_of(DuctileOptions, self.column.facts.options, others=True).omega_o
        forces = (actions.forces + (factor - 1) * actions.earthquake)[actions.seismic]
        found = float(np.abs(forces[..., 1 + self.axis]).max(initial=0.0))
        if record is not None:
            told = f"largest of the combinations with Ωo E, Ωo {factor:g}"
            record.given("V_Omega", found, Dimension.FORCE, told)
        return found

    def _limits(
        self, record: Derivation | None, own: float
    ) -> tuple[tuple[float, float] | None, tuple[float, float] | None]:
        """Return what the beams at top and foot can bring about, and this column's share of it."""
        top, bottom = (self._limit(record, own, end) for end in ENDS_OF_LIFT)
        return top, bottom

    def _limit(
        self, record: Derivation | None, own: float, end: JointEnd
    ) -> tuple[float, float] | None:
        joints = _joints_of(self.column, self.axis, end, PROBABLE)
        word = "At the top" if end == "top" else "At the foot"
        if joints is None:
            if record is not None:
                record.note(f"{word} the beams are not known: that they limit it is not counted.")
            return None
        most = max(joints, key=lambda one: sum(one.beams))
        # The largest share: its own largest moment beside the least of the other.
        share = own / max(own + sum(most.columns[1:]), 1e-9)
        if record is not None:
            record.note(f"{word} the beams limit it; columns share as their own moments are.")
            joint_table(record, most, "probable")
        return sum(most.beams), share

    def resisted(self, record: Derivation | None, design: float, bare: bool) -> float:
        """Return the lesser strength of the end zones and between them, N."""
        column, found = self.column, []
        along = 0 if column.cross.section.round else self.axis
        given = column.edition, column.cross, column.transverse, along
        zones = (
            ("In the end zones:", column.transverse.at_ends, bare),
            ("Between the end zones:", column.transverse.middle, False),
        )
        for told, spacing, without in zones:
            if record is not None:
                record.note(told)
            demand = column.low, design, spacing
            one = one_way_shear(record, *given, demand, without_concrete=without)
            found.append(float(one.strength))
        return min(found)

    def derive(self) -> Derivation:
        """Write the calculation."""
        record = Derivation()
        self.resisted(record, *self.design(record))
        return record

    def finding(self) -> Finding:
        """Return the check."""
        design, bare = self.design(None)
        return capacity_shear_finding(
            "xy"[self.axis],
            "18.7.6" if self.special else "18.4.3.1",
            design,
            self.resisted(None, design, bare),
            self.derive,
        )


def _shears(column: _Column) -> list[Finding]:
    high = column.facts.ductility == "high"
    return [_Shear(column, axis, high).finding() for axis in (0, 1) if column.ductile(axis)]


def _limits(column: _Column) -> list[Finding]:
    """Return the checks of size and bars of a column of a special frame (18.7.2, 18.7.4)."""
    given = column.edition.ductility
    zone = _zone(None, column)
    derive = partial(_derive_zone, column)
    section = column.cross.section
    least = zone.by_section * 4
    share = partial(Term, dimension=Dimension.SHARE)
    found = [
        limit_finding(
            *("Least dimension", "dimensions", "18.7.2.1(a)"),
            length(least),
            length(given.least_dimension),
            "The least dimension is {found}; {limit} required.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *("Ratio of dimensions", "dimensions", "18.7.2.1(b)"),
            number(zone.aspect),
            number(special.LEAST_ASPECT),
            "The dimensions are as {found} to 1; {limit} required.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *("Bar ratio of special frames", "bar ratio", "18.7.4.1"),
            share(zone.ratio),
            share(special.LARGEST_RATIO),
            "Bar ratio {found}; {limit} allowed in special frames.",
            derive,
        ),
    ]
    if column.transverse.circular:
        found.append(
            limit_finding(
                *("Bars in circular hoops", "bars", "18.7.4.2"),
                number(len(section.bars)),
                number(special.LEAST_BARS_ROUND),
                "{found} bars in circular hoops; {limit} required.",
                derive,
                at_least=True,
            )
        )
    return found


def _zone(record: Derivation | None, column: _Column) -> special.ConfinementZone:
    return special.confinement_zone(
        record,
        column.edition,
        column.cross,
        column.transverse,
        column.clear(0),
        max(column.high, 0.0),
    )


def _derive_zone(column: _Column) -> Derivation:
    record = Derivation()
    record.note(with_earthquake(column.context.actions))
    _zone(record, column)
    return record


def _confinement(column: _Column) -> list[Finding]:
    """Return the checks of hoops of a column of a special frame (18.7.5)."""
    zone = _zone(None, column)
    derive, transverse = partial(_derive_zone, column), column.transverse
    found = []
    if zone.held_spacing is not None and zone.held_limit is not None:
        found.append(
            limit_finding(
                *("Distance of held bars", "held bars", "18.7.5.2"),
                length(zone.held_spacing),
                length(zone.held_limit),
                "Held bars are {found} apart; {limit} allowed.",
                derive,
            )
        )
        if zone.demanding and not zone.all_held:
            found.append(
                Finding(
                    *("Every bar held", "held bars", "18.7.5.2(f)", State.EXCEEDED, np.nan),
                    "{count} not held",
                    "Every bar is to be held under this axial force or strength; {count} are not.",
                    {"count": number(transverse.held.count(False))},
                    derive=derive,
                )
            )
    found += [
        limit_finding(
            *("Hoop spacing at the ends", "hoop spacing", "18.7.5.3"),
            length(transverse.at_ends),
            length(zone.largest),
            "Hoops at {found} at the ends; {limit} allowed.",
            derive,
        ),
        limit_finding(
            *("Hoop spacing between the ends", "hoop spacing", "18.7.5.5"),
            length(transverse.middle),
            length(zone.largest_outside),
            "Hoops at {found} between the ends; {limit} allowed.",
            derive,
        ),
    ]
    return [*found, *_amounts(column, zone.demanding)]


def _amounts(column: _Column, demanding: bool) -> list[Finding]:
    given = column.edition, column.cross, column.transverse, max(column.high, 0.0)
    amount = special.confinement(None, *given, demanding=demanding)

    def derive() -> Derivation:
        record = Derivation()
        record.note(with_earthquake(column.context.actions))
        special.confinement(record, *given, demanding=demanding)
        return record

    if amount.volume_ratio is not None:
        share = partial(Term, dimension=Dimension.SHARE)
        return [
            limit_finding(
                *("Volume of hoops", "confinement", "18.7.5.4"),
                share(amount.volume_ratio),
                share(amount.required),
                "Hoops of {found} of the core; {limit} required.",
                derive,
                at_least=True,
            )
        ]
    area = partial(Term, dimension=Dimension.AREA)
    return [
        limit_finding(
            *(f"Hoop legs along {name}", "confinement", "18.7.5.4"),
            area(leg.there),
            area(leg.required),
            f"Legs of {{found}} along {name} at the ends; {{limit}} required.",
            derive,
            at_least=True,
        )
        for name, leg in zip("xy", amount.legs, strict=True)
    ]


def _special_laps(column: _Column) -> list[Finding]:
    """Return the checks of bars that are lapped or pass through a joint (18.7.4.3, 18.7.4.4)."""
    facts, lapped = column.facts, column.facts.laps != "none"
    # Bars that run through are developed like those of laps at one level.
    of_bars = facts if lapped else replace(facts, laps="one level")
    given = column.edition, of_bars, column.transverse, facts.steel.yield_strength
    splice, half = splice_of(None, *given), column.clear(0) / 2
    bond = float(special.bond_length(splice.development.tension))

    def derive() -> Derivation:
        record = Derivation()
        found = splice_of(record, *given)
        special.bond_length.into(record, found.development.tension)
        record.given("l_u/2", half, Dimension.LENGTH, "half of the clear height")
        return record

    laps = limit_finding(
        *("Laps within the middle half", "laps", "18.7.4.4"),
        length(splice.tension),
        length(half),
        "Laps of {found}, in tension, do not fit the middle half of {limit}.",
        derive,
    )
    return [
        *([laps] if lapped else []),
        limit_finding(
            *("Bars developed within the height", "laps", "18.7.4.3"),
            length(bond),
            length(half),
            "1.25 of the development length, {found}, exceeds half of the clear height, {limit}.",
            derive,
        ),
    ]


def confinement_band(edition: Edition, facts: ColumnFacts) -> AxialBand | None:
    """Return the axial forces that ask for every bar held and more hoops (18.7.5.2, 18.7.5.4)."""
    if facts.ductility != "high":
        return None
    cross = facts.cross_section
    if cross.weakest.strength > edition.ductility.high_strength:
        return AxialBand(-np.inf, "more confinement: f'c is high")
    start = special.HEAVY * cross.section.outline.area * cross.weakest.strength
    return AxialBand(start, "more confinement, 18.7.5")


def joint_verdicts(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[JointVerdict]:
    """Return columns against beams at the joint above a lift, of special frames (18.7.3)."""
    if not len(context.actions.combinations):
        return []
    column = _Column.of(edition, held, facts, context)
    return [one for axis in (0, 1) for one in _joint(column, axis) or ()]


def _joint(column: _Column, axis: int) -> Senses:
    """Return the joint above in both senses; nothing where it is not known."""
    if not column.special(axis):
        return []
    joints = _joints_of(column, axis, "top", 1.0)
    if joints is None:
        return None
    return [_verdict(column, joint) for joint in joints]


def _joints_of(
    column: _Column, axis: int, end: JointEnd, over: float, instead: CrossSection | None = None
) -> tuple[Joint, ...] | None:
    """Return a joint with nominal moments, of bars of `over` times their yield strength."""
    carried = [partial(of, column.edition, over) for of in (_moments, _beam_moments)]
    facts = column.facts if instead is None else replace(column.facts, cross_section=instead)
    return joints_at(facts, column.context.actions, axis, end, *carried)


def _strong_column(
    record: Derivation | None, column: _Column, joint: Joint
) -> special.StrongColumn:
    ends = len(joint.columns) == 1
    axial = column.context.actions.axial_range("top")[1]
    given = column.cross, joint.columns, joint.beams
    return special.strong_column(record, *given, ends=ends, axial=axial)


def _verdict(column: _Column, joint: Joint) -> JointVerdict:
    found = _strong_column(None, column, joint)
    exempt = "The column ends here and carries less than Ag f'c/10." if found.exempt else ""
    joints = partial(_joints_of, column, joint.axis, "top", 1.0)
    settle = settled_by(column.cross, joint.axis, special.STRONG_COLUMN, joints)
    return JointVerdict(joint, "18.7.3.2", special.STRONG_COLUMN, exempt, settle)


def _strong_columns(column: _Column) -> list[Finding]:
    """Return the checks of columns against beams in each direction of a special frame."""

    def explain(verdict: JointVerdict) -> Derivation:
        rule = partial(_strong_column, column=column, joint=verdict.joint)
        return explain_joint(column.context.actions, verdict, "nominal", rule)

    return joint_findings("18.7.3", (_joint(column, axis) for axis in (0, 1)), explain)
