"""Anchorage of coupling beams in piers: ACI 318-19, 25.4.2 and 18.10.7.4(b)."""

from __future__ import annotations

from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.lap_splices import Lapped, development
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.facts import ColumnFacts
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Length
from fexro.core.section.lapped import lapped_bars

__all__ = ["anchored", "developed_beyond_yield"]


@provision("18.10.7.4(b)", symbol="ell_a")
def developed_beyond_yield(ell_d: Length) -> Length:
    """Development of bars in tension at 1.25 times their yield strength."""
    return 1.25 * ell_d


def anchored(
    edition: Edition, record: Derivation | None, facts: ColumnFacts, diameter: float
) -> float:
    """Return how far straight bars of a beam reach into a pier, mm (25.4.2, 18.10.7.4(b)).

    Args:
        edition: of the code.
        record: what is written to.
        facts: the beam.
        diameter: of the bars, mm.
    """
    section, closest, f_y = facts.section, lapped_bars(facts.section), facts.steel.yield_strength
    cover = section.cover + section.ties.size.diameter
    bars = Lapped(
        diameter,
        f_y,
        cover,
        closest.clear,
        min(cover + diameter / 2, closest.pitch / 2),
        closest.pitch,
        tie_area=0.0,
        across=1,
        stress=f_y,
        over_fresh_concrete=True,
    )
    strength = facts.concrete.strength, lightness(record, edition, facts.concrete)
    found = development(record, edition, strength, bars, section.ties.spacing).tension
    if facts.ductility != "high":
        return found
    return float(developed_beyond_yield.into(record, found))
