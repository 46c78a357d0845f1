"""Bars that change direction at a floor where faces step: EN 1992-1-1, 9.5.3(5)."""

from __future__ import annotations

from collections.abc import Sequence

from numpy import sqrt

from fexro.core.codes import Context
from fexro.core.codes.en1992_1_1 import materials
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.offset_checks import (
    OffsetOptions,
    bend_finding,
    largest_step,
    sets_at_bend,
    through_findings,
)
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import transverse_of
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Area, Dimension, Force, Ratio, Stress
from fexro.core.section.ties import HeldRule

__all__ = ["lateral_force", "links_at_bend", "offset_checks"]

FLAT = 12.0  # 1 in so much, from which the force may be ignored (9.5.3(5))


@provision("9.5.3(5)", symbol="F_t")
def lateral_force(A_s: Area, f_yd: Stress, n: Ratio) -> Force:
    """What bars that yield push sideways where they change direction."""
    return A_s * f_yd / sqrt(1 + n**2)


@provision("9.5.3(5)", symbol="F_Rt")
def links_at_bend(n_t: Ratio, A_sw: Area, f_ywd: Stress) -> Force:
    """What the links next to a bend carry."""
    return n_t * A_sw * f_ywd


def offset_checks(
    annex: Annex, held: HeldRule, facts: ColumnFacts, _: Context
) -> Sequence[Finding]:
    """Check the links where bars lean back with the faces of the lift above (9.5.3(5))."""
    found, step = through_findings(facts), largest_step(facts)
    lean = options_of(OffsetOptions, facts.options, others=True).crank
    if step is None or lean >= FLAT:
        return found
    transverse = transverse_of(facts, held)
    legs, sets = transverse.leg_area(step.axis), sets_at_bend(transverse)

    def forces(record: Derivation | None) -> tuple[float, float]:
        f_yd, f_ywd = (
            float(materials.steel_design_strength(value, annex.gamma_s))
            for value in (facts.steel.yield_strength, transverse.yield_strength)
        )
        pushed = lateral_force.into(record, step.bar_area, f_yd, lean)
        return float(pushed), float(links_at_bend.into(record, float(sets), legs, f_ywd))

    def derive() -> Derivation:
        record = Derivation()
        along = "xy"[step.axis]
        record.note(f"{step.bars} bars stand next to the face along {along}; they are to yield.")
        record.given("s_f", step.inward, Dimension.LENGTH, "step of the face, centroids in line")
        record.note("Links within 150 mm of the bend are counted.")
        forces(record)
        return record

    return [*found, bend_finding("9.5.3(5)", "Links", *forces(None), derive)]
