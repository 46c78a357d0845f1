"""Checks of ductile columns: EN 1998-1, 5.4.2.3, 5.4.3.2, 5.5.3.2 and 5.6.3."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache, partial

import numpy as np

from fexro.core.codes import AxialBand, Context
from fexro.core.codes.en1992_1_1 import materials
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.section_strength import StrengthEN
from fexro.core.codes.en1992_1_1.shear import ShearOptions, shear, shear_web
from fexro.core.codes.en1998_1 import columns as rules
from fexro.core.codes.en1998_1.options import SeismicOptions
from fexro.core.codes.joint_checks import (
    Senses,
    explain_joint,
    joint_findings,
    joint_table,
    settled_by,
)
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
from fexro.core.strength.uniaxial import MomentCurve, MomentRange, moment_curve
from fexro.core.transverse import Transverse

__all__ = ["confinement_band", "ductile_checks", "joint_verdicts"]

ENDS_OF_LIFT: tuple[JointEnd, JointEnd] = ("top", "bottom")

CLASSES: dict[str, rules.DuctilityClass] = {"medium": "DCM", "high": "DCH"}


@lru_cache(maxsize=1024)
def _curve(annex: Annex, cross: CrossSection, axes: tuple[int, ...] = (0, 1)) -> MomentCurve:
    return moment_curve(StrengthEN(annex).of(cross), axes)


def _moments(annex: Annex, cross: CrossSection, low: float, high: float) -> MomentRange:
    return _curve(annex, cross).between(low, high)


def _beam_moments(annex: Annex, cross: CrossSection, low: float, high: float) -> MomentRange:
    """Return the same of a beam, about its level axis alone."""
    return _curve(annex, cross, (0,)).between(low, high)


@dataclass(frozen=True, eq=False)
class _Column:
    """A ductile column, its links, and the axial forces on it, N."""

    annex: Annex
    facts: ColumnFacts
    transverse: Transverse
    context: Context
    ductility: rules.DuctilityClass
    low: float
    high: float

    @property
    def cross(self) -> CrossSection:
        return self.facts.cross_section

    def clear(self, along: int) -> float:
        """Return the clear height where shear acts along x (0) or y (1), mm."""
        return (self.facts.about_y, self.facts.about_x)[along].length

    def ductile(self, along: int) -> bool:
        """Whether the frame along x or y is more than of low ductility."""
        return (self.facts.about_y, self.facts.about_x)[along].ductility != "low"

    @property
    def base(self) -> bool:
        """Whether the column stands on a foundation."""
        ends = (self.facts.about_x.bottom, self.facts.about_y.bottom)
        return any(end.kind != "framing" for end in ends)


def ductile_checks(
    annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check a column of medium (5.4) or high ductility (5.5)."""
    if facts.ductility == "low" or not len(context.actions.combinations):
        return []
    column = _column(annex, held, facts, context)
    return [
        *_critical(column),
        *_shears(column),
        hooks_finding("links", "5.6.1(2)"),
        *_columns_against_beams(column),
    ]


def _column(annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context) -> _Column:
    axial = context.actions.in_earthquake[..., 0]
    return _Column(
        annex,
        facts,
        transverse_of(facts, held),
        context,
        CLASSES[facts.ductility],
        float(axial.min()) if axial.size else 0.0,
        float(axial.max()) if axial.size else 0.0,
    )


def _found(record: Derivation | None, column: _Column) -> rules.DuctileColumn:
    """Return the column in its critical regions."""
    annex, cross = column.annex, column.cross
    given = options_of(SeismicOptions, column.facts.options, others=True)
    if record is not None:
        record.note(with_earthquake(column.context.actions))
        record.note("At the base of the building." if column.base else "Above the base.")
    strengths = (
        float(
            materials.concrete_design_strength.into(
                record, cross.weakest.strength, annex.alpha_cc, annex.gamma_c
            )
        ),
        float(
            materials.steel_design_strength.into(record, cross.steel.yield_strength, annex.gamma_s)
        ),
        float(materials.steel_design_strength(column.transverse.yield_strength, annex.gamma_s)),
    )
    seismic = rules.Seismic(
        column.ductility,
        column.base,
        max(column.high, 0.0),
        given.q0,
        given.q,
        given.T1,
        given.TC,
        "B" if given.steel_class == "B" else "C",
    )
    return rules.ductile_column(
        record, cross, column.transverse, seismic, column.clear(0), strengths
    )


def _critical(column: _Column) -> list[Finding]:
    """Return the checks of bars and hoops in the critical regions."""
    one, transverse = _found(None, column), column.transverse

    def derive() -> Derivation:
        record = Derivation()
        _found(record, column)
        return record

    share = partial(Term, dimension=Dimension.SHARE)
    medium = column.ductility == "DCM"
    found = [
        limit_finding(
            *("Axial force in an earthquake", "νd", "5.4.3.2.1(3)" if medium else "5.5.3.2.1(3)"),
            number(one.axial_ratio),
            number(one.largest_axial),
            "νd is {found}; {limit} allowed.",
            derive,
        ),
        limit_finding(
            *("Bar ratio of ductile columns", "bar ratio", "5.4.3.2.2(1)"),
            share(one.ratio),
            share(rules.RATIOS[1]),
            "Bar ratio {found}; {limit} allowed in ductile columns.",
            derive,
        ),
        limit_finding(
            *("Least bar ratio of ductile columns", "bar ratio", "5.4.3.2.2(1)"),
            share(one.ratio),
            share(rules.RATIOS[0]),
            "Bar ratio {found}; {limit} required in ductile columns.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *("Hoop size", "hoop size", "5.4.3.2.2(10)" if medium else "5.5.3.2.2(12)"),
            length(one.hoop),
            length(one.least_hoop),
            "Hoops of {found}; {limit} required.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *("Hoop spacing in critical regions", "hoop spacing"),
            "5.4.3.2.2(11)" if medium else "5.5.3.2.2(12)",
            length(one.spacing),
            length(one.largest),
            "Hoops at {found} in the critical regions; {limit} allowed.",
            derive,
        ),
    ]
    if one.whole and transverse.middle > one.spacing + 1e-6:
        found.append(
            limit_finding(
                *("Hoop spacing of a short column", "hoop spacing", "5.4.3.2.2(5)"),
                length(transverse.middle),
                length(one.largest),
                "Hoops at {found} between the ends of a column that is critical all along, since"
                " its clear height is less than three depths; {limit} allowed.",
                derive,
            )
        )
    if one.between_corners is False:
        found.append(
            Finding(
                *("Bars between corners", "bars", "5.4.3.2.2(2)", State.EXCEEDED, np.nan),
                "a face has none",
                "A face has no bar between its corners.",
                derive=derive,
            )
        )
    if one.held is not None and one.held_limit is not None:
        found.append(
            limit_finding(
                *("Distance of held bars", "held bars"),
                "5.4.3.2.2(11)" if medium else "5.5.3.2.2(12)",
                length(one.held),
                length(one.held_limit),
                "Held bars are {found} apart; {limit} allowed.",
                derive,
            )
        )
    needed = one.required_mechanical
    # Above the base of DCM nothing is asked for but spacing.
    if needed is not None and (column.base or not medium):
        found.append(
            limit_finding(
                *("Confinement ωwd", "confinement", "5.4.3.2.2(8)–(9)"),
                number(one.mechanical_ratio),
                number(needed),
                "ωwd is {found}; {limit} required.",
                derive,
                at_least=True,
            )
        )
    if column.facts.laps != "none":
        found.append(
            limit_finding(
                *("Hoop spacing at laps", "hoop spacing", "5.6.3(3)"),
                length(transverse.spacing("lap")),
                length(one.lap_spacing),
                "Hoops at {found} where bars are lapped; {limit} allowed.",
                derive,
            )
        )
        found.append(
            limit_finding(
                *("Hoop legs at laps", "laps", "5.6.3(4)"),
                Term(transverse.size.area, Dimension.AREA),
                Term(one.lap_hoops, Dimension.AREA),
                "A leg of {found} where bars are lapped; {limit} required.",
                derive,
                at_least=True,
            )
        )
    return found


@dataclass(frozen=True, eq=False)
class _Shear:
    """The shear along x (0) or y (1) that goes with the moments at the ends of a column."""

    column: _Column
    axis: int

    def design(self, record: Derivation | None) -> float:
        """Return the design shear, N."""
        column, axis = self.column, self.axis
        moments = _moments(column.annex, column.cross, column.low, column.high)
        largest = moments.largest(1 - axis)
        if record is not None:
            record.note(with_earthquake(column.context.actions))
            record.note("Both ends are taken to reach the largest moment over them.")
        top, bottom = (self._end(record, largest, end) for end in ENDS_OF_LIFT)
        given = column.ductility, column.clear(axis), top, bottom
        found = rules.capacity_shear(record, *given)
        analysed = np.abs(column.context.actions.in_earthquake[..., 1 + axis])
        return max(found.shear, float(analysed.max(initial=0.0)))

    def _end(
        self, record: Derivation | None, own: float, end: JointEnd
    ) -> tuple[Sequence[float], Sequence[float], bool]:
        """Return moments of columns and of beams at an end; of the column alone if not known."""
        joints = _joints_of(self.column, self.axis, end)
        word = "At the top" if end == "top" else "At the foot"
        if joints is None:
            if record is not None:
                record.note(f"{word} the beams are not known: that they limit it is not counted.")
            return [own], [own], False
        most = max(joints, key=lambda one: sum(one.beams))
        if record is not None:
            record.note(f"{word} the beams limit it; of this lift the largest moment counts.")
            joint_table(record, most, "design")
        # The largest share: its own largest moment beside the least of the other.
        return [own, *most.columns[1:]], most.beams, len(most.columns) == 1

    def resisted(self, record: Derivation | None, design: float) -> float:
        """Return the least resistance along the column, N."""
        column = self.column
        along = 0 if column.cross.section.round else self.axis
        options = options_of(ShearOptions, column.facts.options, others=True)
        web = shear_web(column.cross, along, options.lever_arm)
        given = column.annex, options, column.cross, column.transverse, along, web
        spacings = sorted({column.transverse.at_ends, column.transverse.middle})
        found = [shear(record, *given, (column.low, design, s)).resistance for s in spacings]
        return float(min(found))

    def derive(self) -> Derivation:
        """Write the calculation."""
        record = Derivation()
        self.resisted(record, self.design(record))
        return record

    def finding(self) -> Finding:
        """Return the check."""
        return capacity_shear_finding(
            "xy"[self.axis],
            "5.4.2.3",
            design := self.design(None),
            self.resisted(None, design),
            self.derive,
        )


def _shears(column: _Column) -> list[Finding]:
    return [_Shear(column, axis).finding() for axis in (0, 1) if column.ductile(axis)]


def confinement_band(annex: Annex, facts: ColumnFacts) -> AxialBand | None:
    """Return the axial forces beyond the largest νd (5.4.3.2.1(3), 5.5.3.2.1(3))."""
    if facts.ductility == "low":
        return None
    cross = facts.cross_section
    strength = materials.concrete_design_strength(
        cross.weakest.strength, annex.alpha_cc, annex.gamma_c
    )
    largest = rules.LARGEST_AXIAL[CLASSES[facts.ductility]]
    return AxialBand(
        float(largest * strength * cross.section.outline.area), f"νd beyond {largest:g}"
    )


def joint_verdicts(
    annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[JointVerdict]:
    """Return columns against beams at the joint above a lift (4.4.2.3)."""
    if facts.ductility == "low" or not len(context.actions.combinations):
        return []
    column = _column(annex, held, facts, context)
    return [one for axis in (0, 1) for one in _joint(column, axis) or ()]


def _joint(column: _Column, axis: int) -> Senses:
    """Return the joint above in both senses; nothing where it is not known."""
    if not column.ductile(axis):
        return []
    joints = _joints_of(column, axis, "top")
    return None if joints is None else [_verdict(column, joint) for joint in joints]


def _joints_of(
    column: _Column, axis: int, end: JointEnd, instead: CrossSection | None = None
) -> tuple[Joint, ...] | None:
    """Return a joint with design moments."""
    carried = [partial(of, column.annex) for of in (_moments, _beam_moments)]
    facts = column.facts if instead is None else replace(column.facts, cross_section=instead)
    return joints_at(facts, column.context.actions, axis, end, *carried)


def _verdict(column: _Column, joint: Joint) -> JointVerdict:
    exempt = "The column ends here, at the top storey." if len(joint.columns) == 1 else ""
    joints = partial(_joints_of, column, joint.axis, "top")
    settle = settled_by(column.cross, joint.axis, rules.STRONG_COLUMN, joints)
    return JointVerdict(joint, "4.4.2.3(4)", rules.STRONG_COLUMN, exempt, settle)


def _columns_against_beams(column: _Column) -> list[Finding]:
    """Return the checks of columns against beams in each direction of a ductile frame."""

    def explain(verdict: JointVerdict) -> Derivation:
        def rule(record: Derivation) -> None:
            joint = verdict.joint
            rules.moment_ratio.into(record, sum(joint.columns), sum(joint.beams))

        return explain_joint(column.context.actions, verdict, "design", rule)

    return joint_findings("4.4.2.3", (_joint(column, axis) for axis in (0, 1)), explain)
