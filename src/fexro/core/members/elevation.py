"""A lift between its floors: moments along it, how it would buckle, and where its ties stand."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes.slenderness import direction_about
from fexro.core.codes.transverse_checks import transverse_of
from fexro.core.facts import LiftDirection
from fexro.core.members.buckling import bent_shape, buckled_shape, inflections
from fexro.core.members.lift import PreparedLift
from fexro.core.second_order import AxisSecondOrder
from fexro.core.tie_zones import TieZone, tie_zones

__all__ = ["AxisElevation", "elevation_of", "ties_along"]

EVEN = np.linspace(0.0, 1.0, 65)
HALVINGS = 60


@dataclass(frozen=True, eq=False)
class AxisElevation:
    """A lift bending about one axis in one combination; places are shares of the height, (P,).

    Attributes:
        direction: lengths and ends.
        braced: whether it is held against sway.
        places: from the foot.
        first: first-order moments, N·mm, (P,).
        swayed: the same with the growth of what comes with sway, (P,).
        final: with sway and the growth along the lift, (P,); their largest is the moment to be
            resisted. The growth along the lift is drawn as half a sine wave, over what imperfection
            or a least eccentricity adds everywhere.
        eccentricity: that the moments have beside those of first order, their difference over the
            axial force, mm; nothing without compression.
        buckled: the buckled shape, its largest 1, (P,).
        bent: the shape under the final moments, its largest 1, (P,).
        inflections: where the buckled shape has no moment; an effective length apart.
        effective, factor: effective length, mm, and over the clear length, of that shape.
        resisted: the moment to be resisted; not a number where the lift is unstable.
        state: what was done, in a word.
        missing: why there is no more than first order; empty otherwise.
    """

    direction: LiftDirection
    braced: bool
    places: FloatArray
    first: FloatArray
    swayed: FloatArray
    final: FloatArray
    eccentricity: FloatArray | None
    buckled: FloatArray
    bent: FloatArray
    inflections: tuple[float, float]
    effective: float
    factor: float
    resisted: float
    state: str
    missing: str


def elevation_of(prepared: PreparedLift, combination: int) -> tuple[AxisElevation, AxisElevation]:
    """Return a lift in a combination where it bends about x and about y."""
    about_x, about_y = (_about(prepared, combination, axis) for axis in (0, 1))
    return about_x, about_y


def _about(prepared: PreparedLift, combination: int, number: int) -> AxisElevation:
    lift, axis = prepared.lift, prepared.second_order.axes[number]
    direction = direction_about(lift.facts, number)
    profile = lift.actions.profile
    places = np.union1d(profile.places, EVEN)
    first = np.interp(places, profile.places, profile.forces[combination, :, 4 + number])
    grown = np.asarray(axis.ends[combination], dtype=float)
    ends = np.array([first[0], first[-1]])
    if not np.isnan(grown).any():
        bottom, top = grown[1] - ends[0], grown[0] - ends[1]
        swayed = first + bottom + places * (top - bottom)
    else:
        swayed = first
    resisted = float(axis.moment[combination])
    final = _grown(swayed, places, resisted, float(axis.even[combination]))
    axial = float(lift.actions.forces[combination, :, 0].max())
    eccentricity = (final - first) / axial if axial > 0 else None
    factor, top_psi, bottom_psi = _buckling(axis, direction)
    sway = not axis.braced
    return AxisElevation(
        direction=direction,
        braced=axis.braced,
        places=places,
        first=first,
        swayed=swayed,
        final=final,
        eccentricity=eccentricity,
        buckled=buckled_shape(factor, top_psi, bottom_psi, places, sway=sway),
        bent=bent_shape(final, places, top_psi, bottom_psi, sway=sway),
        inflections=inflections(factor, top_psi, bottom_psi, sway=sway),
        effective=factor * axis.length,
        factor=factor,
        resisted=resisted,
        state=str(np.asarray(axis.states)[combination]),
        missing=axis.missing,
    )


def _grown(swayed: FloatArray, places: FloatArray, resisted: float, even: float) -> FloatArray:
    """Return moments grown evenly, then by half a sine wave up to what is to be resisted."""
    if math.isnan(resisted):
        return swayed
    sense = math.copysign(1.0, resisted)
    swayed = swayed + sense * even
    largest = float(np.abs(swayed).max())
    if abs(resisted) <= largest * (1 + 1e-9):
        return swayed
    wave = sense * np.sin(math.pi * places)
    low, high = 0.0, 2 * abs(resisted) + largest
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        if float(np.abs(swayed + middle * wave).max()) < abs(resisted):
            low = middle
        else:
            high = middle
    grown: FloatArray = swayed + high * wave
    return grown


def _buckling(axis: AxisSecondOrder, direction: LiftDirection) -> tuple[float, float, float]:
    """Return the effective length factor and the flexibility of the ends of the buckled shape.

    Where a factor is given the ends are taken as alike.
    """
    ends: list[float | None] = []
    for name in ("top", "bottom"):
        value = axis.values.get(f"psi_{name}")
        if value is None and axis.values.get(f"k_{name}") is not None:
            # Rotation for a moment, M l / EI, is half of ψ in single curvature.
            value = 2 * float(axis.values[f"k_{name}"])
        ends.append(None if value is None else float(value))
    factor = axis.judged
    if math.isnan(factor):
        factor = 1.0
    top, bottom = ends
    if top is None or bottom is None:
        sway = not axis.braced
        alike = _alike(factor, sway=sway)
        return factor, alike, alike
    return factor, top, bottom


def _alike(factor: float, *, sway: bool) -> float:
    """Return ψ of two ends that are alike and give an effective length factor."""
    if math.isinf(factor):
        return math.inf
    wave = math.pi / factor
    if sway:
        # The moment is a cosine symmetric about the middle.
        return 6 / wave / math.tan(wave / 2) if wave < math.pi else 0.0
    if factor >= 1 or factor <= 0.5:
        return math.inf if factor >= 1 else 0.0
    return -2 * math.tan(wave / 2) / wave


def ties_along(prepared: PreparedLift) -> tuple[TieZone, ...]:
    """Return the zones of ties of a lift over its clear height."""
    facts, code = prepared.lift.facts, prepared.lift.code
    transverse = transverse_of(facts, code.held)
    laps = code.laps(facts, prepared.context)
    return tie_zones(transverse, facts.clear_height, code.end_zone(facts), laps)
