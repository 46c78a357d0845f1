"""Check of construction joints of walls by shear friction: ACI 318-19, 22.9 and 18.10.3."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.codes.aci318_19.shear_friction import Surface, shear_friction
from fexro.core.codes.aci318_19.special_wall_rules import SpecialWall
from fexro.core.codes.aci318_19.wall_rules import WallOptions, is_special
from fexro.core.codes.aci318_19.wall_shear import PHI
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import limit_finding
from fexro.core.codes.wall_checks import (
    LegShears,
    bars_by_leg,
    leg_name,
    panel_of,
    write_leg,
)
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, force
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension

__all__ = ["joint_checks"]


def _surface(facts: ColumnFacts) -> Surface:
    """Return how the construction joints of a panel are made."""
    options = options_of(WallOptions, facts.options, others=True)
    return "roughened" if options.wall_joint == "roughened" else "not roughened"


def joint_checks(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check sliding at the construction joint at the foot of a panel by shear friction (22.9).

    In special walls under the design shear (18.10.3).
    """
    analysed, panel = LegShears.of(facts, context.actions), panel_of(facts)
    if analysed.none_given:
        return []
    wall = SpecialWall(edition, facts, context) if is_special(facts) else None
    shears = analysed
    if wall is not None:
        # Of what is not sheared no probable moments are asked.
        factor = [
            wall.amplification(leg) if sheared else 1.0
            for leg, sheared in enumerate(analysed.sheared)
        ]
        shears = analysed.amplified(np.where(analysed.seismic[:, None], factor, 1.0))
    legs = panel.legs.legs
    crossing = bars_by_leg(facts)

    def of(
        record: Derivation | None, leg: int, row: int | None = None
    ) -> tuple[FloatArray, FloatArray]:
        concrete = facts.cross_section.weakest
        _, shear = shears.of_leg(leg, row)
        found = shear_friction(
            record,
            edition,
            legs[leg].thickness * panel.legs.lengths[leg],
            (concrete.strength, lightness(record, edition, concrete)),
            (crossing[leg], facts.steel.yield_strength),
            (analysed.lasting[:, leg] if row is None else analysed.lasting[row, leg], shear),
            _surface(facts),
        )
        return found.ratio, found.strength

    each = [of(None, leg) for leg in range(len(legs))]
    ratios = np.stack([ratio for ratio, _ in each], axis=1)
    row, leg = (int(i) for i in np.unravel_index(int(ratios.argmax()), ratios.shape))
    combination, _ = shears.place(row)

    def derive() -> Derivation:
        record = Derivation()
        write_leg(record, analysed, leg, row)
        if wall is not None and analysed.seismic[row]:
            wall.design(record, leg, float(analysed.shears[row, leg]))
        record.note(
            "Compression counts as far as it is permanent (22.9.4.5): the part that lasts where"
            " load cases tell it, else the least of all combinations; tension as it is."
        )
        record.given("N_u", float(analysed.lasting[row, leg]), Dimension.FORCE, "share of the leg")
        record.given("A_vf", crossing[leg], Dimension.AREA, "vertical bars of the leg")
        of(record, leg, row)
        return record

    ratio = float(ratios[row, leg])
    name = leg_name(panel, leg)
    return [
        replace(
            limit_finding(
                *(f"Sliding at the construction joint{name}", "joint", "22.9"),
                force(float(shears.shears[row, leg])),
                force(PHI * float(each[leg][1][row])),
                f"Shear {{found}}{name} slides at the joint in {combination}; {{limit}} resisted.",
                derive,
            ),
            ratio=ratio,
            combination=combination,
            resists=True,
        )
    ]
