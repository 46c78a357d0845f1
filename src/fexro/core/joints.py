"""Columns against beams at the joints of a lift, in each direction and sense of sway."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from fexro.core.actions import Actions
from fexro.core.arrays import FloatArray
from fexro.core.facts import ColumnFacts, CrossSection, FramingMember
from fexro.core.section.outline import Outline
from fexro.core.strength.uniaxial import MomentRange

__all__ = [
    "Carried",
    "Joint",
    "JointVerdict",
    "Settling",
    "deepened",
    "joint_in",
    "joints_at",
    "settling_of",
    "strengthened",
]

Carried = Callable[[CrossSection, float, float], MomentRange]
JointEnd = Literal["top", "bottom"]
DEEPEST, MOST_BARS = 3.0, 4.0  # times what there is, up to which is looked
DEPTH_STEP, BARS_STEP = 50.0, 0.05  # mm, and share of the bars


@dataclass(frozen=True)
class Joint:
    """The moments at a joint with sway in one direction and sense, N·mm.

    Attributes:
        end: of the lift that the joint is at.
        axis: that the sway is along, x (0) or y (1) of the section.
        sense: 1 towards the positive axis, or -1.
        columns: least moments of this lift and of the one beyond, over their axial forces.
        beams: moments of each beam.
        sides: on which side each is, -1 or 1.
    """

    end: JointEnd
    axis: int
    sense: int
    columns: tuple[float, ...]
    beams: tuple[float, ...]
    sides: tuple[int, ...]

    @property
    def name(self) -> str:
        """The direction and sense, as read."""
        return ("+" if self.sense > 0 else "−") + "xy"[self.axis]

    @property
    def ratio(self) -> float:
        """Moments of the columns over those of the beams."""
        total = sum(self.beams)
        return sum(self.columns) / total if total else np.inf

    @property
    def share(self) -> float:
        """Share of its own moment that the beams can bring about in this lift, at most 1."""
        return min(1.0, sum(self.beams) / max(sum(self.columns), 1e-9))


@dataclass(frozen=True)
class Settling:
    """What of one lift would make its columns strong enough.

    Attributes:
        bar_area: of all its bars, mm²; nothing where more bars do not do.
        depth: of its section along the sway, mm; nothing where that does not do.
    """

    bar_area: float | None
    depth: float | None


@dataclass(frozen=True, eq=False)
class JointVerdict:
    """What a code asks of a joint.

    Attributes:
        joint: the moments.
        clause: of the code.
        required: ratio of the moments of columns to those of beams.
        exempt: why it need not be met; empty where it is to be.
        settle: finds what would settle it.
    """

    joint: Joint
    clause: str
    required: float
    exempt: str
    settle: Callable[[], Settling]

    @property
    def met(self) -> bool:
        """Whether the columns are strong enough, or need not be."""
        return bool(self.exempt) or self.joint.ratio >= self.required * (1 - 1e-9)


def joints_at(
    facts: ColumnFacts,
    actions: Actions,
    axis: int,
    end: JointEnd,
    column: Carried,
    beam: Carried,
) -> tuple[Joint, ...] | None:
    """Return the joint at an end of a lift in both senses; nothing where beams are not known.

    A joint at which no beam frames in has none.

    Args:
        facts, actions: of the lift.
        axis: that sway is along, x (0) or y (1) of the section.
        end: of the lift.
        column, beam: what carries moments by section and a range of axial forces.
    """
    held = getattr((facts.about_y, facts.about_x)[axis], end)
    if not held.beams or any(one.moments is None for one in held.beams):
        return None
    beams = tuple(held.beams)
    return tuple(
        joint_in(facts, actions, (axis, sense), end, column, beam, beams) for sense in (1, -1)
    )


def joint_in(
    facts: ColumnFacts,
    actions: Actions,
    sway: tuple[int, int],
    end: JointEnd,
    column: Carried,
    beam: Carried,
    beams: tuple[FramingMember, ...],
) -> Joint:
    """Return the joint at an end of a lift for sway along an axis in a sense.

    Swaying towards +x, the head of a column has compression at its −x face and a foot at its +x
    face; the beam on the +x side sags next to the column and the one on the −x side hogs.
    """
    axis, sense = sway
    held = getattr((facts.about_y, facts.about_x)[axis], end)
    near = -sense if end == "top" else sense
    own = column(facts.cross_section, *actions.axial_range(end))
    columns = [_least(own, axis, near)]
    beside = actions.above if end == "top" else actions.below
    if held.column is not None and held.column.cross_section is not None and beside is not None:
        other = column(held.column.cross_section, *beside)
        columns.append(_least(other, axis, -near))
    found = tuple(_beam_moment(beam, one, sags=one.side == sense) for one in beams)
    return Joint(end, axis, sense, tuple(columns), found, tuple(one.side for one in beams))


def _least(moments: MomentRange, axis: int, sense: int) -> float:
    positive, negative = moments.least(1 - axis)
    return positive if sense > 0 else negative


def _beam_moment(beam: Carried, member: FramingMember, *, sags: bool) -> float:
    assert member.moments is not None
    given = member.moments.sagging if sags else member.moments.hogging
    if given is not None:
        return given
    assert member.moments.section is not None
    sagging, hogging = beam(member.moments.section, 0.0, 0.0).least(0)
    return sagging if sags else hogging


def settling_of(cross: CrossSection, axis: int, enough: Callable[[CrossSection], bool]) -> Settling:
    """Return the least bars and the least depth of a section with which it is enough.

    Bars are of steps of a twentieth of those that are there, depths of 50 mm. Without resistance
    factors more of either is always stronger. Sections of several concretes, or with structural
    steel, are not made deeper.

    Args:
        cross: the section.
        axis: along which it is made deeper, x (0) or y (1).
        enough: whether a section does.
    """
    area = cross.section.bars.total_area
    x0, y0, x1, y1 = cross.section.outline.bounds
    depth = (x1 - x0, y1 - y0)[axis]
    factors = np.arange(1 + BARS_STEP, MOST_BARS, BARS_STEP)
    bars = _first(factors, lambda factor: enough(strengthened(cross, factor)))
    depths = np.arange(np.floor(depth / DEPTH_STEP + 1) * DEPTH_STEP, DEEPEST * depth, DEPTH_STEP)
    deeper = None
    if cross.section.uniform:
        deeper = _first(depths, lambda size: enough(deepened(cross, axis, size)))
    return Settling(None if bars is None else bars * area, deeper)


def _first(values: FloatArray, enough: Callable[[float], bool]) -> float | None:
    """Return the first of rising values that is enough, if any is: what is, stays so beyond."""
    place = bisect_left(values.tolist(), True, key=enough)
    return float(values[place]) if place < len(values) else None


def strengthened(cross: CrossSection, factor: float) -> CrossSection:
    """Return a section with all bars of a multiple of their areas, where they are."""
    bars = replace(cross.section.bars, area=factor * cross.section.bars.area)
    return replace(cross, section=replace(cross.section, bars=bars))


def deepened(cross: CrossSection, axis: int, depth: float) -> CrossSection:
    """Return a section of another depth along x (0) or y (1), its bars at the same cover.

    Points on either side of the middle move away from it by half of what is added; those of a
    circle in all directions.
    """
    section = cross.section
    x0, y0, x1, y1 = section.outline.bounds
    low, size = (x0, y0)[axis], (x1 - x0, y1 - y0)[axis]
    more = depth - size

    def moved(x: FloatArray, y: FloatArray) -> FloatArray:
        points = np.column_stack([x, y])
        if section.round:
            middle = np.array([x0 + x1, y0 + y1]) / 2
            away = points - middle
            found: FloatArray = points + away / np.hypot(*away.T)[:, None] * more / 2
            return found
        share = (points[:, axis] - low - size / 2) / size
        points[:, axis] += more * np.clip(4 * share, -1, 1) / 2
        return points

    outline = Outline(tuple(moved(*ring.T) for ring in section.outline.rings))
    x, y = moved(section.bars.x, section.bars.y).T
    bars = replace(section.bars, x=x, y=y)
    return replace(cross, section=replace(section, outline=outline, bars=bars, cornered=None))
