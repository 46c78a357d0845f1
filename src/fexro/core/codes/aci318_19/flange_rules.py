"""How much of the flanges of special walls is effective: ACI 318-19, 18.10.5.2."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache, partial

from fexro.core.codes import Context, wall_flanges
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.aci318_19.special_walls import effective_flange, flange_limit
from fexro.core.codes.aci318_19.wall_rules import is_special
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding
from fexro.core.provisions import provision
from fexro.core.quantities import Force, Length, Moment
from fexro.core.strength.surface import Strength

__all__ = ["flange_width"]


@provision("18.10.5.2", symbol="M_u,eff")
def moment_about_effective(M_u: Moment, N_u: Force, e: Length) -> Moment:
    """Moment in the plane of the webs about the centroid of the effective section."""
    return M_u - N_u * e


def flange_width(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check bending of special walls with what of their flanges is effective (18.10.5.2)."""
    if not is_special(facts):
        return []
    rule = wall_flanges.FlangeRule(
        "18.10.5.2",
        flange_limit,
        effective_flange,
        moment_about_effective,
        partial(_strength, edition),
        ("N_u", "M_u", "phi M_n"),
    )
    return wall_flanges.flange_width(rule, facts, context)


@lru_cache(maxsize=128)
def _strength(edition: Edition, cross: CrossSection) -> Strength:
    return StrengthACI(edition).of(cross)
