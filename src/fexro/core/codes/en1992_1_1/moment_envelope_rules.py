"""Check of bending with the envelope of the moments of ductile walls: EN 1998-1, 5.4.2.4(5)."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from fexro.core.codes import Context
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.section_strength import strength_of
from fexro.core.codes.en1992_1_1.wall_shear import wall_arm
from fexro.core.codes.en1998_1.wall_moments import SLENDER, envelope, tension_shift
from fexro.core.codes.transverse_checks import noted
from fexro.core.codes.wall_checks import panel_of
from fexro.core.codes.wall_sides import WallSide, sides_of
from fexro.core.facts import ColumnFacts, CriticalSection
from fexro.core.findings import Finding, State, moment, state_of_ratio
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.strength.governing import Question, governing

__all__ = ["moment_envelope"]

CLAUSE = "EN 1998-1, 5.4.2.4(5)"
NAME = "Bending with the envelope of moments"


def moment_envelope(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check the foot of a panel of a slender wall with the envelope of its moments.

    At the base it is the moment of the analysis.
    """
    panel, actions = panel_of(facts), context.actions
    critical = panel.critical
    slender = {side.axis: side for side in sides_of(facts) if panel.height / side.extent > SLENDER}
    if facts.ductility == "low" or critical is None or not slender:
        return []
    rows = _seismic(critical, context)
    if not rows:
        if not len(actions.combinations):
            return []
        told = "the moments at the base are not known in the combinations of this panel."
        return [
            Finding(
                *(NAME, "envelope", CLAUSE, State.NOT_CHECKED, math.nan),
                "not checked",
                told,
                derive=noted(told.capitalize()),
            )
        ]
    here = actions.forces[[row for row, _ in rows], actions.stations.index("bottom")]
    base = critical.forces[[row for _, row in rows]]
    demands = here[:, [0, 4, 5]].copy()
    height = panel.height - panel.above
    for axis, side in slender.items():
        column, shift = side.moments, _shift(annex, side, None)
        line = np.asarray(envelope(base[:, column], height, shift, panel.height))
        larger = np.abs(line) > np.abs(here[:, column])
        demands[larger, 2 - axis] = line[larger]
    (found,) = governing(
        [Question(strength_of(annex, facts.cross_section), demands, np.array([len(demands)]))]
    )
    if found[0] is None:
        return []
    row, ratio = found[0].demand, found[0].ratio
    combination = actions.combinations[rows[row][0]]

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Governing: {combination}, at the foot of the panel.")
        record.given("h_foot", height, Dimension.LENGTH, "of the foot above the base")
        record.given("h_w", panel.height, Dimension.LENGTH, "of the wall")
        for side in slender.values():
            record.note(f"Moments of a wall that is slender along {'xy'[side.axis]}:")
            shift = _shift(annex, side, record)
            acting = float(here[row, side.moments])
            record.given("M_Ed", acting, Dimension.MOMENT, "of the analysis, here")
            envelope.into(record, float(base[row, side.moments]), height, shift, panel.height)
        record.given("N_Ed", float(demands[row, 0]), Dimension.FORCE, "here")
        record.given("M_Ed,x", float(demands[row, 1]), Dimension.MOMENT, "the larger of both")
        record.given("M_Ed,y", float(demands[row, 2]), Dimension.MOMENT, "the larger of both")
        record.given("u", ratio, Dimension.RATIO, "along the ray from no force")
        return record

    size = float(np.hypot(*demands[row, 1:]))
    return [
        Finding(
            *(NAME, "envelope", CLAUSE, state_of_ratio(ratio), ratio),
            "{found}",
            "Moment {found} of the envelope at the foot of the panel in {combination}.",
            {"found": moment(size), "combination": combination},
            combination=combination,
            derive=derive,
        )
    ]


def _seismic(critical: CriticalSection, context: Context) -> list[tuple[int, int]]:
    """Return the combinations with earthquake, by number here and at the base."""
    actions = context.actions
    seismic = np.ones(len(actions.combinations), dtype=bool)
    if actions.seismic is not None and actions.seismic.any():
        seismic = actions.seismic
    return [
        (row, critical.rows[name])
        for row, name in enumerate(actions.combinations)
        if name in critical.rows and seismic[row]
    ]


def _shift(annex: Annex, side: WallSide, record: Derivation | None) -> float:
    """Return by how much the moments along a side's axis are moved up, mm."""
    cot = 1.0 if side.facts.ductility == "high" else annex.flattest_strut
    z = wall_arm.into(record, side.extent)
    return float(tension_shift.into(record, z, cot))
