"""How much steel, concrete and formwork a lift takes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.bending.tie_set import SetTie, spiral_of, tie_set
from fexro.core.codes.transverse_checks import transverse_of
from fexro.core.members.lift import Lift
from fexro.core.section.bars import BarSize
from fexro.core.section.call_out import BarGroup
from fexro.core.section.section import Section, eroded
from fexro.core.sizing.candidates import bar_count
from fexro.core.tie_zones import LARGEST_FIRST, tie_count, tie_zones

__all__ = ["Amounts", "amounts_of", "bar_mass", "least_tie_mass", "set_mass"]

STEEL = 7.85e-6  # kg/mm³


@dataclass(frozen=True)
class Amounts:
    """What a lift takes between its floors.

    Attributes:
        bars, ties: kg.
        concrete: m³.
        strength: volume times strength of the concrete, m³ MPa.
        formwork: m².
        count: bars in the section.
    """

    bars: float
    ties: float
    concrete: float
    strength: float
    formwork: float
    count: int

    def __add__(self, other: Amounts) -> Amounts:
        """Return what two lifts take."""
        return Amounts(
            self.bars + other.bars,
            self.ties + other.ties,
            self.concrete + other.concrete,
            self.strength + other.strength,
            self.formwork + other.formwork,
            self.count + other.count,
        )

    def with_steel(self, bars: float, ties: float, count: int) -> Amounts:
        """Return the same with other bars and ties."""
        return Amounts(bars, ties, self.concrete, self.strength, self.formwork, count)

    @property
    def steel(self) -> float:
        """Bars and ties, kg."""
        return self.bars + self.ties


def bar_mass(lift: Lift, groups: Sequence[BarGroup], lap: float) -> float:
    """Return the mass of bars over a lift, each with one lap, kg."""
    area = math.fsum(bar_count(group) * group.size.area for group in groups)
    return STEEL * area * (lift.facts.height + lap)


def least_tie_mass(lift: Lift, tie: BarSize, spacing: float) -> float:
    """Return the mass of ties that a lift has at least, of the outer one alone, kg.

    Args:
        lift: the lift.
        tie: size of its ties.
        spacing: the widest of them, mm.
    """
    facts = lift.facts
    around = _outer_length(facts.section, tie.diameter)
    sets = math.floor(max(facts.clear_height - 2 * LARGEST_FIRST, 0.0) / spacing) + 1
    return STEEL * tie.area * sets * around


@lru_cache(maxsize=256)
def _outer_length(section: Section, diameter: float) -> float:
    """Return the length of the centre line of an outer tie of a diameter, mm."""
    return float(eroded(section.outline, section.cover + diameter / 2).length)


@lru_cache(maxsize=1024)
def amounts_of(lift: Lift, lap: float) -> Amounts:
    """Return what a lift takes: over its storey, with one lap a bar; ties as they are cut.

    Args:
        lift: the lift.
        lap: length of the laps, mm; zero where bars are coupled.
    """
    facts, code = lift.facts, lift.code
    section, storey = facts.section, facts.height
    bars = STEEL * section.bars.total_area * (storey + lap)
    transverse = transverse_of(facts, code.held)
    clear = facts.clear_height
    laps = (0.0, lap) if lap and transverse.lap is not None else None
    if transverse.spiral:
        ties = spiral_of(section, clear, code.bending(facts)).mass
    else:
        sets = tie_count(tie_zones(transverse, clear, code.end_zone(facts), laps))
        ties = sets * set_mass(tie_set(section, code.held, code.bending(facts)))
    edge = _around(section.outline.rings[0])
    return Amounts(
        bars,
        ties,
        section.outline.area * storey * 1e-9,
        section.outline.area * storey * 1e-9 * facts.cross_section.mean_concrete.strength,
        edge * clear * 1e-6,
        len(section.bars),
    )


def set_mass(ties: Sequence[SetTie]) -> float:
    """Return the mass of the ties of one set, kg."""
    return math.fsum(one.number * one.bar.mass for one in ties)


def _around(ring: FloatArray) -> float:
    """Return the length of a closed ring of points, mm."""
    return float(np.hypot(*(ring - np.roll(ring, 1, axis=0)).T).sum())
