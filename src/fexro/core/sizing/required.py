"""How much steel a section needs, uniform over the layout that it has."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.joints import strengthened
from fexro.core.members.check import prepare
from fexro.core.members.lift import Lift
from fexro.core.members.strengths import strength_of
from fexro.core.strength.governing import Question, governing

__all__ = ["RequiredSteel", "required_steel"]

LEAST, MOST, STEPS = 0.002, 0.08, 24  # of the concrete, and in how many steps
CLOSE = 0.005  # share of the area, to which it is found


@dataclass(frozen=True, eq=False)
class RequiredSteel:
    """The area of bars that would just do.

    Attributes:
        area: the least, mm²; nothing where none up to 8 % does.
        provided: of the lift, mm².
        areas, ratios: what was looked at, mm², and the utilisation there.
        gaps: areas between which more steel does not do although less does, mm².
    """

    area: float | None
    provided: float
    areas: FloatArray
    ratios: FloatArray
    gaps: tuple[tuple[float, float], ...]


def required_steel(lift: Lift, aim: float, least: float | None = None) -> RequiredSteel:
    """Return the area of bars, where they are and alike in proportion, that would just do.

    Areas are gone through upwards from the least that the code allows: with a resistance factor
    that falls as less of the steel yields, more is not always stronger.

    Args:
        lift: the lift, slenderness included.
        aim: largest utilisation.
        least: ratio to begin with, where it is not that of columns.
    """
    provided = lift.facts.section.bars.total_area
    least_ratio = max(LEAST, lift.code.bar_ratios[0]) if least is None else least
    areas = np.geomspace(least_ratio, MOST, STEPS) * lift.facts.section.outline.area
    ratios = np.array([_ratio(lift, area / provided) for area in areas])
    does = ratios <= aim
    if not does.any():
        return RequiredSteel(None, provided, areas, ratios, ())
    first = int(does.argmax())
    found = areas[0] if first == 0 else _between(lift, aim, areas[first - 1], areas[first])
    gaps, at = [], first
    while at < STEPS:
        if does[at]:
            at += 1
            continue
        end = at
        while end < STEPS and not does[end]:
            end += 1
        gaps.append((float(areas[at - 1]), float(areas[min(end, STEPS - 1)])))
        at = end
    return RequiredSteel(float(found), provided, areas, ratios, tuple(gaps))


def _between(lift: Lift, aim: float, low: float, high: float) -> float:
    """Return the least area that does between one that does not and one that does, mm²."""
    provided = lift.facts.section.bars.total_area
    while high - low > CLOSE * high:
        middle = (low + high) / 2
        if _ratio(lift, middle / provided) <= aim:
            high = middle
        else:
            low = middle
    return high


def _ratio(lift: Lift, factor: float) -> float:
    """Return the utilisation with the bars of a multiple of their areas."""
    cross = strengthened(lift.facts.cross_section, factor)
    changed = replace(lift, facts=replace(lift.facts, cross_section=cross))
    (prepared,) = prepare([changed])
    rows = prepared.demands.rows
    if not len(rows):
        return 0.0
    strength = strength_of(lift.code.strength, cross)
    ((found,),) = governing([Question(strength, rows, np.array([len(rows)]))])
    return 0.0 if found is None else found.ratio
