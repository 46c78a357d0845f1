"""Which of many demands governs: bounds for all, the exact answer for those that can.

From the mesh a ray is led to a point of the surface itself, close beside it. How far the surface
can rise or fall over the angle between the two is bounded by how steeply it rises anywhere, and by
the steps that bars make where they enter a block. A demand whose upper bound is below the lower
bound of another does not govern; the others are solved, and must lie within their bounds, else all
are.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray, IntArray
from fexro.core.strength.alike import Alike, Sections, alone
from fexro.core.strength.rays import Aimed, aim
from fexro.core.strength.surface import Strength
from fexro.core.strength.utilisation import (
    Utilisation,
    acting,
    proportional,
    proportional_about,
    proportional_of,
)

__all__ = ["Bounds", "Governing", "Question", "bounds", "estimated", "governing", "likely"]

FEW = 64  # demands of a group that are solved without asking which can govern, if on one section
MANY = 600  # demands on a section for which it is worth while to be asked by itself
NEAR = 0.05  # radians within which a point tells of a ray
STEPS, BESIDE = 6, 1e-4  # steps nearer to rays, and radians aside that are near enough
ROUNDING = 1e-7  # of a utilisation, by which solved and bounded may differ


@dataclass(frozen=True, eq=False)
class Bounds:
    """Between what the utilisations of demands lie, (R,)."""

    lower: FloatArray
    upper: FloatArray


@dataclass(frozen=True, eq=False)
class Governing:
    """The demand that governs among some, and its utilisation.

    Attributes:
        demand: its index among them.
        along: its utilisation along the ray, of one demand.
        every: the utilisations of all of them, where they were solved together.
    """

    demand: int
    along: Utilisation
    every: Utilisation | None = None

    @property
    def ratio(self) -> float:
        """The utilisation."""
        return float(self.along.ratio[0])


def bounds(aimed: Aimed) -> Bounds:
    """Return between what the utilisations of demands along the ray lie.

    Args:
        aimed: the demands, and points of the surfaces near their rays.
    """
    strength = aimed.strength
    sections, section = strength.sections, strength.section
    # Steps of the surface are no larger than all bars together.
    steps = sections.all_steps[section] / sections.scale[0, section]
    spread = sections.steepness[section] * aimed.aside + steps / aimed.distance
    share = aimed.length / aimed.distance
    near = aimed.aside < NEAR
    cap = aimed.direction[:, 0] / strength.max_axial
    return Bounds(
        np.maximum(np.where(near, share * np.exp(-spread), 0.0), cap),
        np.maximum(np.where(near, share * np.exp(spread), np.inf), cap),
    )


@dataclass(frozen=True, eq=False)
class Question:
    """Which demand of each group governs on a section.

    Attributes:
        strength: the section's strength.
        demands: N, Mx, My, (R, 3), group after group.
        ends: where each group ends, (G,).
    """

    strength: Strength
    demands: FloatArray
    ends: IntArray


def estimated(strength: Strength, demands: FloatArray) -> FloatArray:
    """Return about the utilisations of demands (R, 3) along the ray, (R,), from the mesh alone."""
    return _estimate(strength, demands)[0]


def _estimate(strength: Strength, demands: FloatArray) -> tuple[FloatArray, IntArray, Aimed]:
    """Return about the utilisations, which demands act, and those aimed."""
    alike = Alike(alone(strength), np.zeros(len(demands), dtype=np.intp))
    loaded = acting(alike, demands)
    aimed = aim(alike.take(loaded), demands[loaded])
    found = np.zeros(len(demands))
    found[loaded] = np.maximum(
        aimed.length / aimed.distance, aimed.direction[:, 0] / strength.max_axial
    )
    return found, loaded, aimed


def likely(strength: Strength, demands: FloatArray) -> tuple[Governing | None, FloatArray]:
    """Return the demand (R, 3) that governs by the mesh, and about the utilisations of all.

    Returns:
        what governs, nothing without demands; and about the utilisation of each, (R,).
    """
    if not len(demands):
        return None, np.zeros(0)
    found, loaded, aimed = _estimate(strength, demands)
    if not aimed.strength.sections.convex:
        # Of a folded surface a point far aside tells nothing.
        far = np.flatnonzero(aimed.aside > NEAR)
        solved = proportional_of(demands[loaded[far]], np.arange(len(far)), aimed.take(far))
        found[loaded[far]] = solved.ratio
    at = int(found.argmax())
    some = np.flatnonzero(loaded == at)
    place = np.zeros(len(some), dtype=np.intp)
    along = proportional_about(demands[at : at + 1], place, aimed.take(some))
    return Governing(at, along), found


def governing(questions: Sequence[Question]) -> list[list[Governing | None]]:
    """Return which demand of each group governs; nothing for groups without any.

    Args:
        questions: about sections of one make.
    """
    together = [question for question in questions if len(question.demands) < MANY]
    found = iter(_governing_together(together) if together else [])
    return [
        next(found) if len(question.demands) < MANY else _governing_together([question])[0]
        for question in questions
    ]


def _governing_together(questions: Sequence[Question]) -> list[list[Governing | None]]:
    starts = [np.concatenate([[0], q.ends[:-1]]).astype(np.intp) for q in questions]
    if len(questions) == 1 and (questions[0].ends - starts[0]).max(initial=0) <= FEW:
        (single,) = questions
        every = np.arange(len(single.demands))
        solved = proportional(single.strength, single.demands)
        return [_choose(solved, every, starts[0], single.ends)]
    counts = [len(q.demands) for q in questions]
    before = np.cumsum([0, *counts[:-1]])
    demands = np.concatenate([q.demands for q in questions])
    start = np.concatenate([s + b for s, b in zip(starts, before, strict=True)])
    end = np.concatenate([q.ends + b for q, b in zip(questions, before, strict=True)])
    sections = Sections(tuple(q.strength for q in questions))
    strength = Alike(sections, np.repeat(np.arange(len(questions)), counts))
    chosen = iter(_governing(strength, demands, start, end))
    return [list(itertools.islice(chosen, len(q.ends))) for q in questions]


def _governing(
    strength: Alike, demands: FloatArray, starts: IntArray, ends: IntArray
) -> list[Governing | None]:
    """Return which demand of each group, from a start to an end (G,), governs."""
    loaded = acting(strength, demands)
    aimed = aim(strength.take(loaded), demands[loaded])
    filled = np.flatnonzero(ends > starts)
    lower, upper = np.zeros(len(demands)), np.zeros(len(demands))
    for step in range(STEPS + 1):
        within = bounds(aimed)
        lower[loaded], upper[loaded] = within.lower, within.upper
        least = np.maximum.reduceat(lower, starts[filled])
        able = np.flatnonzero(upper >= np.repeat(least, (ends - starts)[filled]))
        some = np.flatnonzero(np.isin(loaded, able))
        wide = some[aimed.aside[some] > BESIDE]
        if step == STEPS or not len(wide):
            break
        # Far beside its ray a point tells little; a step nearer costs less than to solve it.
        aimed.come_nearer(wide)
    place = np.searchsorted(able, loaded[some])
    solved = proportional_of(demands[able], place, aimed.take(some))
    ratio = solved.ratio[place]
    inside = (ratio >= within.lower[some] - ROUNDING) & (ratio <= within.upper[some] + ROUNDING)
    if not inside.all():
        # Where a surface is not as bounded as it seemed, every demand is solved.
        able, solved = np.arange(len(demands)), proportional_of(demands, loaded, aimed)
    return _choose(solved, able, starts, ends)


def _choose(
    solved: Utilisation, index: IntArray, starts: IntArray, ends: IntArray
) -> list[Governing | None]:
    """Return the largest of each group among solved demands, whose indices rise."""
    low, high = np.searchsorted(index, starts), np.searchsorted(index, ends)
    chosen: list[Governing | None] = []
    for start, end, first, last in zip(starts, ends, low, high, strict=True):
        if first == last:
            chosen.append(None)
            continue
        worst = first + int(solved.ratio[first:last].argmax())
        along = solved.part(slice(worst, worst + 1))
        every = solved.part(slice(first, last)) if last - first == end - start else None
        chosen.append(Governing(int(index[worst] - start), along, every))
    return chosen
