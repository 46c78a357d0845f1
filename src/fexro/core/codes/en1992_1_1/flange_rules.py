"""How much of the flanges of ductile walls is effective: EN 1998-1, 5.4.3.4.1(4)."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from fexro.core.codes import Context, wall_flanges
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.section_strength import strength_of
from fexro.core.codes.en1998_1.walls import effective_flange, flange_limit
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding
from fexro.core.provisions import provision
from fexro.core.quantities import Force, Length, Moment

__all__ = ["flange_width"]


@provision("5.4.3.4.1(4)", symbol="M_Ed,eff")
def moment_about_effective(M_Ed: Moment, N_Ed: Force, e: Length) -> Moment:
    """Moment in the plane of the webs about the centroid of the effective section."""
    return M_Ed - N_Ed * e


def flange_width(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check bending of ductile walls with what of their flanges is effective (5.4.3.4.1(4))."""
    if facts.ductility == "low":
        return []
    rule = wall_flanges.FlangeRule(
        "EN 1998-1, 5.4.3.4.1(4)",
        flange_limit,
        effective_flange,
        moment_about_effective,
        partial(strength_of, annex),
        ("N_Ed", "M_Ed", "M_Rd"),
    )
    return wall_flanges.flange_width(rule, facts, context)
