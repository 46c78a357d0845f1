"""Offset bars at a floor where faces step: ACI 318-19, 10.7.4 and 10.7.6.4."""

from __future__ import annotations

from collections.abc import Sequence

from numpy import sqrt

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.offset_checks import (
    OffsetOptions,
    bend_finding,
    dowel_finding,
    largest_step,
    sets_at_bend,
    through_findings,
)
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import limit_finding, transverse_of
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, number
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Area, Dimension, Force, Length, Ratio, Stress
from fexro.core.section.ties import HeldRule

__all__ = ["bend_force", "crank_length", "offset_checks", "ties_at_bend"]

STEEPEST = 6.0  # 1 in so much (10.7.4.1)


@provision("10.7.4.1", symbol="l_c")
def crank_length(s_f: Length, n: Ratio) -> Length:
    """Length over which bars lean to stand back with the face."""
    return s_f * sqrt(1 + n**2)


@provision("10.7.6.4.2", symbol="H_u")
def bend_force(A_b: Area, f_y: Stress, n: Ratio) -> Force:
    """Force for ties at a bend: one and a half times what bars that yield push sideways."""
    return 1.5 * A_b * f_y / sqrt(1 + n**2)


@provision("10.7.6.4.1", symbol="H_n")
def ties_at_bend(n_t: Ratio, A_v: Area, f_yt: Stress) -> Force:
    """What the ties within 150 mm [6 in] of a bend carry."""
    return n_t * A_v * f_yt


def offset_checks(
    edition: Edition, held: HeldRule, facts: ColumnFacts, _: Context
) -> Sequence[Finding]:
    """Check offset bars where the lift above stands back (10.7.4, 10.7.6.4)."""
    found, step = through_findings(facts), largest_step(facts)
    if step is None:
        return found
    lean = options_of(OffsetOptions, facts.options, others=True).crank
    transverse = transverse_of(facts, held)
    legs, sets = transverse.leg_area(step.axis), sets_at_bend(transverse)
    limit = edition.cover.ground

    def forces(record: Derivation | None) -> tuple[float, float]:
        pushed = bend_force.into(record, step.bar_area, facts.steel.yield_strength, lean)
        carried = ties_at_bend.into(record, float(sets), legs, transverse.yield_strength)
        return float(pushed), float(carried)

    def derive() -> Derivation:
        record = Derivation()
        along = "xy"[step.axis]
        record.note(f"{step.bars} bars stand next to the face along {along}; they are to yield.")
        record.given("s_f", step.inward, Dimension.LENGTH, "step of the face, centroids in line")
        crank_length.into(record, step.inward, lean)
        forces(record)
        return record

    if step.inward >= limit:
        return [*found, dowel_finding("10.7.4.2", step.inward, float(limit), derive)]
    return [
        *found,
        limit_finding(
            *("Slope of offset bars", "offset bars", "10.7.4.1"),
            number(lean),
            number(STEEPEST),
            "Offset bars lean 1 in {found}; 1 in {limit} is the steepest.",
            derive,
            at_least=True,
        ),
        bend_finding("10.7.6.4", "Ties", *forces(None), derive),
    ]
