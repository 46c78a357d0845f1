"""What the calculations of all codes write alike: demands, strain planes, bars."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes import MaterialFact
from fexro.core.provisions import Derivation, Provision
from fexro.core.quantities import Dimension
from fexro.core.strength.state import SectionState

__all__ = ["Capacity", "fact", "largest_component", "write_bars", "write_demand", "write_direction"]

NOISE = 1e-9  # of the largest of its kind: what is less is a rounding


class Capacity:
    """What a section carries under a strain plane, parted for writing; N, N·mm, mm.

    What is only a rounding of zero is zero.

    Attributes:
        state: section and plane.
        concrete: force of the concrete.
        arm_x, arm_y: its place from the centroid.
        bars: N, Mx, My of the bars, (3,).
        tension: whether no concrete resists: the end of the family at which all bars yield.
    """

    def __init__(self, state: SectionState) -> None:
        self.state = state
        size = state.body.size
        force, arm_x, arm_y = state.concrete
        self.concrete = force
        self.arm_x, self.arm_y = (0.0 if abs(arm) < NOISE * size else arm for arm in (arm_x, arm_y))
        largest = float(np.abs(state.force).sum())
        axial, moment_x, moment_y = (float(value) for value in state.bars)
        self.bars = (
            axial,
            *(0.0 if abs(m) < NOISE * largest * size else m for m in (moment_x, moment_y)),
        )
        self.tension = force <= NOISE * largest and float(state.strain.max()) < 0


def fact(
    symbol: str, name: str, dimension: Dimension, rule: Provision[Any, Any], *given: float
) -> MaterialFact:
    """Return what a provision makes of a material, with how it follows."""

    def derive() -> Derivation:
        record = Derivation()
        rule.into(record, *given)
        return record

    return MaterialFact(symbol, name, float(rule(*given)), dimension, derive)


def largest_component(demand: FloatArray, scale: FloatArray) -> int:
    """Return which of N, Mx, My, (3,), is largest against the sizes of a surface."""
    return int((np.abs(demand) / scale).argmax())


def write_bars(
    record: Derivation, state: SectionState, symbols: tuple[str, str], strains: str
) -> None:
    """Add the table of bars.

    Args:
        record: the derivation.
        state: the bars under their strain plane.
        symbols: of steel stress and of the stress of the concrete displaced.
        strains: how a strain follows from the depth, as a formula.
    """
    columns = (
        ("bar", None),
        ("x", Dimension.LENGTH),
        ("y", Dimension.LENGTH),
        ("d", Dimension.LENGTH),
        ("epsilon", Dimension.STRAIN),
        (symbols[0], Dimension.STRESS),
        (symbols[1], Dimension.STRESS),
        ("A", Dimension.AREA),
        ("F", Dimension.FORCE),
    )
    arrays = (
        *(state.x, state.y, state.bar_depth),
        *(state.strain, state.stress, state.displaced, state.area, state.force),
    )
    rows = [(str(i + 1), *values) for i, values in enumerate(zip(*arrays, strict=True))]
    title = (
        "Bars, from the centroid; d = t_top − x cos θ − y sin θ from the extreme compression fibre,"
        f" {strains}; σ_c is of the concrete displaced, F = (stress − σ_c) A"
    )
    record.table(title, columns, rows)


def write_demand(record: Derivation, symbols: tuple[str, str, str], demand: FloatArray) -> None:
    """Add the demand N, Mx, My (N, N·mm)."""
    dimensions = (Dimension.FORCE, Dimension.MOMENT, Dimension.MOMENT)
    for symbol, value, dimension in zip(symbols, demand, dimensions, strict=True):
        record.given(symbol, float(value), dimension, "demand")


def write_direction(record: Derivation, state: SectionState) -> None:
    """Add the direction of the strain plane at capacity, and where its extreme fibre is."""
    record.note("Strain plane at capacity, found by iteration along the ray.")
    lowest, highest = state.extent
    angle = math.degrees(state.plane.angle) % 360
    # Rounding must not turn a direction along an axis.
    angle = round(angle, 7) % 360
    record.given(
        "theta",
        math.radians(angle),
        Dimension.ANGLE,
        "direction of the compressed side, from x towards y",
    )
    record.given("t_top", highest, Dimension.LENGTH, "extreme fibre from the centroid, along θ")
    record.given("h_theta", highest - lowest, Dimension.LENGTH, "depth of the section along θ")
