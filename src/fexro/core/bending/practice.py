"""How bars are bent and scheduled by a design code and its standards."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from fexro.core.bending.hooks import Hook

__all__ = ["BendingPractice"]


@dataclass(frozen=True)
class BendingPractice:
    """How bars are bent and scheduled.

    Attributes:
        told: the standards, in words.
        hook: of a tie of a diameter, mm, bent by an angle, degrees.
        radius: inside the bends of bars along a member, of a diameter, mm.
        cross: angles of the hooks of a cross tie, degrees.
        by_table: whether lengths are those of the formulas of BS 8666 where it has the shape; else
            of the centre line.
        apart: how far the centres of two bars that are lapped may be apart, of a length of the
            lap and a diameter, mm.
        largest_offset: of the faces, below which bars are cranked; from there on dowels are lapped
            with both, mm.
        step: to which bent dimensions are rounded, mm.
        length_step: up to which lengths are rounded, mm.
        turns: flat turns at each end of a spiral.
        circle_lap: by which the ends of a circular tie pass each other, mm.
        cover_at_ends: of bars that end below a floor, mm.
    """

    told: str
    hook: Callable[[float, int], Hook]
    radius: Callable[[float], float]
    cross: tuple[int, int]
    by_table: bool
    apart: Callable[[float, float], float]
    largest_offset: float
    step: float
    length_step: float
    turns: float = 1.5
    circle_lap: float = 150.0
    cover_at_ends: float = 50.0
