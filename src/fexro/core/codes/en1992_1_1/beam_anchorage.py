"""Anchorage of coupling beams in piers: EN 1992-1-1, 8.4, and EN 1998-1, 5.5.3.5(3)."""

from __future__ import annotations

from fexro.core.codes.en1992_1_1.anchorage import (
    anchorage_length,
    basic_length,
    bond,
    least_anchorage,
)
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.materials import steel_design_strength
from fexro.core.codes.en1998_1.wall_shear import longer_anchorage
from fexro.core.facts import ColumnFacts
from fexro.core.provisions import Derivation

__all__ = ["anchored"]


def anchored(annex: Annex, record: Derivation | None, facts: ColumnFacts, diameter: float) -> float:
    """Return how far straight bars of a beam reach into a pier, mm (8.4.4, 5.5.3.5(3)).

    Nothing shortens it: α1 to α5 are taken as 1.

    Args:
        annex: nationally determined data.
        record: what is written to.
        facts: the beam.
        diameter: of the bars, mm.
    """
    strength = bond(record, annex, facts.concrete.strength, diameter, good=False).strength
    f_yd = steel_design_strength.into(record, facts.steel.yield_strength, annex.gamma_s)
    basic = basic_length.into(record, diameter, f_yd, strength)
    least = least_anchorage.into(record, "tension", basic, diameter)
    found = anchorage_length.into(record, 1.0, 1.0, 1.0, basic, least)
    assert facts.beam is not None
    if facts.ductility == "low" or facts.beam.diagonals is None:
        return float(found)
    return float(longer_anchorage.into(record, found))
