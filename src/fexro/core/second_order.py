"""What slenderness and sway make of the moments of a lift, about each axis of its section."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from fexro.core.actions import Actions, Demands
from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.facts import LiftDirection
from fexro.core.quantities import Dimension

__all__ = [
    "AxisMoments",
    "AxisSecondOrder",
    "Column",
    "GeneralBasis",
    "SecondOrder",
    "StoreyDirection",
    "axis_moments",
    "unknown_axis",
]

STRAIGHT = 1e-6  # share of the larger end moment up to which moments count as straight


@dataclass(frozen=True)
class Column:
    """A column of the table of second-order effects.

    Attributes:
        key: of the values.
        heading: as the code writes it.
        name: what it is.
        dimension: what it measures.
    """

    key: str
    heading: str
    name: str
    dimension: Dimension


@dataclass(frozen=True, eq=False)
class AxisMoments:
    """First-order moments about one axis, N·mm; floats or arrays over combinations.

    Attributes:
        axial: the largest compression along the lift, N.
        top, bottom: at the ends.
        sway_top, sway_bottom: the part of those that comes with sway in the lift's direction.
        span: the largest between the ends; equal to the larger end where no load is between.
        transverse: whether moments are not straight between the ends in any combination.
    """

    axial: Any
    top: Any
    bottom: Any
    sway_top: Any
    sway_bottom: Any
    span: Any
    transverse: bool

    def at(self, combination: int) -> AxisMoments:
        """Return those of one combination, as plain numbers."""
        axial, top, bottom, sway_top, sway_bottom, span = (
            float(np.asarray(values)[combination])
            for values in (
                *(self.axial, self.top, self.bottom),
                *(self.sway_top, self.sway_bottom, self.span),
            )
        )
        return AxisMoments(axial, top, bottom, sway_top, sway_bottom, span, self.transverse)

    def without_sway(self) -> AxisMoments:
        """Return them where nothing comes with sway."""
        nothing = np.zeros_like(self.top)
        return replace(self, sway_top=nothing, sway_bottom=nothing)

    def all_sway(self) -> AxisMoments:
        """Return them where all comes with sway."""
        return replace(self, sway_top=self.top, sway_bottom=self.bottom)


def axis_moments(actions: Actions, axis: int, plan: int) -> AxisMoments:
    """Return the first-order moments about x (0) or y (1) of all combinations.

    Args:
        actions: the forces as analysed.
        axis: of the section.
        plan: direction of the plan in which the lift bends about it.
    """
    forces = actions.forces
    component = 4 + axis
    axial = forces[..., 0].max(axis=1)
    top, bottom = forces[:, 0, component], forces[:, 1, component]
    zero = np.zeros_like(top)
    sway = actions.sway
    sway_top = zero if sway is None else sway[plan, :, 0, component]
    sway_bottom = zero if sway is None else sway[plan, :, 1, component]
    larger = np.where(np.abs(bottom) > np.abs(top), bottom, top)
    between = actions.between
    if actions.beyond is not None and not np.isnan(actions.beyond[axis]).any():
        # One length with others: the largest moment of all of them, as of load between the ends.
        span = actions.beyond[axis]
        return AxisMoments(axial, top, bottom, sway_top, sway_bottom, span, True)
    if between is None:
        return AxisMoments(axial, top, bottom, sway_top, sway_bottom, larger, False)
    axial = np.maximum(axial, between.forces[..., 0].max(axis=1))
    moments, places = between.forces[..., component], between.places
    straight = bottom[:, None] + places * (top - bottom)[:, None]
    off = np.abs(moments - straight).max(initial=0.0)
    if not off > STRAIGHT * max(np.abs(moments).max(initial=0.0), 1.0):
        return AxisMoments(axial, top, bottom, sway_top, sway_bottom, larger, False)
    at = np.abs(moments).argmax(axis=1)
    span = np.take_along_axis(moments, at[:, None], axis=1)[:, 0]
    return AxisMoments(axial, top, bottom, sway_top, sway_bottom, span, True)


@dataclass(frozen=True, eq=False)
class AxisSecondOrder:
    """What slenderness and sway make of the moments about one axis; arrays over combinations.

    Attributes:
        braced: whether the lift is held against sway.
        reason: why it is taken so.
        length: its clear length, mm.
        factor: of its effective length along the lift.
        slenderness, limit: and up to which it may be neglected, (C,).
        slender: where it may not, (C,).
        states: what was done, in the code's words, (C,).
        ends: moments at top and bottom with the growth of what comes with sway, N·mm, (C, 2).
        first: the largest first-order moment, (C,).
        even: what imperfection or a least eccentricity adds alike along the lift, in the sense of
            the larger moment, N·mm, (C,).
        moment: the moment to be resisted, with the sign of the larger, (C,); not a number where
            there is none.
        buckling: axial force over that at which the lift is unstable, (C,).
        unstable: where it or its storey is, (C,).
        values: everything on the way, by symbol, (C,) or plain numbers.
        words: likewise what is said in words.
        assumed: what was assumed for want of better, in sentences.
        missing: why it cannot be computed; empty where it can.
    """

    braced: bool
    reason: str
    length: float
    factor: float
    slenderness: FloatArray
    limit: FloatArray
    slender: BoolArray
    states: Any
    ends: FloatArray
    first: FloatArray
    even: FloatArray
    moment: FloatArray
    buckling: FloatArray
    unstable: BoolArray
    values: Mapping[str, Any]
    words: Mapping[str, Any] = field(default_factory=dict)
    assumed: tuple[str, ...] = ()
    missing: str = ""

    def assuming(self, sentences: tuple[str, ...]) -> AxisSecondOrder:
        """Return the same with what was assumed."""
        return replace(self, assumed=sentences)

    @property
    def effective(self) -> float:
        """The effective length along the lift, mm."""
        return self.factor * self.length

    @property
    def judged(self) -> float:
        """The factor of the effective length that slenderness is judged by: with sway, its own."""
        sway = self.values.get("k_sway")
        return self.factor if self.braced or sway is None else float(sway)

    def value(self, key: str, combination: int) -> float:
        """Return a value of a combination; not a number where there is none."""
        found = self.values.get(key)
        if found is None:
            return float("nan")
        array = np.asarray(found, dtype=float)
        return float(array if array.ndim == 0 else array[combination])

    def word(self, key: str, combination: int) -> str:
        """Return what is said of a combination."""
        found = np.asarray(self.words.get(key, ""))
        return str(found if found.ndim == 0 else found[combination])

    @property
    def any_slender(self) -> bool:
        """Whether slenderness counts in any combination."""
        return bool(self.slender.any())


def unknown_axis(
    moments: AxisMoments, braced: bool, reason: str, direction: LiftDirection, missing: str
) -> AxisSecondOrder:
    """Return an axis about which second-order moments cannot be computed, and why."""
    shape = np.shape(moments.top)
    nothing, never = np.full(shape, np.nan), np.zeros(shape, dtype=bool)
    first = np.where(np.abs(moments.span) > 0, moments.span, moments.top)
    return AxisSecondOrder(
        braced=braced,
        reason=reason,
        length=direction.length,
        factor=float("nan"),
        slenderness=nothing,
        limit=nothing,
        slender=never,
        states=np.full(shape, "not known"),
        ends=np.stack([moments.top, moments.bottom], axis=-1),
        first=first,
        even=np.zeros(shape),
        moment=first,
        buckling=nothing,
        unstable=never,
        values={
            "Mc": np.abs(first),
            "M2": first,
            "M2_min_governs": never,
            "Mc_min": nothing,
            "M_Ed": np.abs(first),
            "M_design": np.abs(first),
            "sign": np.sign(first),
            "Pc": nothing,
        },
        missing=missing,
    )


@dataclass(frozen=True)
class GeneralBasis:
    """On what a code bases nonlinear second-order analysis of a lift.

    Attributes:
        clause: of the code.
        creep: by which strains of the concrete are stretched, 1 + creep.
        softening: share of the stiffness that counts.
        imperfection: bow at mid-height about x and about y, mm.
        restraint: of the ends against rotation, about x and y, at foot and top, N·mm.
        said: what is assumed, in a sentence.
    """

    clause: str
    creep: float
    softening: float
    imperfection: tuple[float, float]
    restraint: tuple[tuple[float, float], tuple[float, float]]
    said: str


@dataclass(frozen=True, eq=False)
class SecondOrder:
    """What slenderness and sway make of a lift.

    Attributes:
        axes: about x and about y.
        demands: what its section has to meet.
        values: of the section, by symbol.
    """

    axes: tuple[AxisSecondOrder, AxisSecondOrder]
    demands: Demands
    values: Mapping[str, Any] = field(default_factory=dict)

    @property
    def missing(self) -> str:
        """Why something cannot be computed; empty where all can."""
        return next((axis.missing for axis in self.axes if axis.missing), "")

    @property
    def slender(self) -> bool:
        """Whether slenderness counts about any axis in any combination."""
        return any(axis.any_slender for axis in self.axes)


@dataclass(frozen=True, eq=False)
class StoreyDirection:
    """How a storey is held against sway in one direction of the plan.

    Attributes:
        symbol: of the measure, such as Q.
        value: of each combination of the storey, (C,); not numbers where it is not known.
        limit: at which the storey takes part in sway.
        braced: the decision.
        reason: why.
        warning: what a measure close to instability means; empty otherwise.
        least: whether the smallest value decides, not the largest.
    """

    symbol: str
    value: FloatArray
    limit: float
    braced: bool
    reason: str
    warning: str = ""
    least: bool = False

    @property
    def deciding(self) -> int | None:
        """Index of the combination that decides; nothing where nothing is known."""
        if not len(self.value) or np.isnan(self.value).all():
            return None
        return int(np.nanargmin(self.value) if self.least else np.nanargmax(self.value))
