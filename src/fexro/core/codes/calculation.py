"""What the calculations of all codes write alike: demands, bars, sums."""

from __future__ import annotations

import math

from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.section.outline import FloatArray
from fexro.core.strength.state import SectionState

__all__ = ["write_bars", "write_demand", "write_neutral_axis"]


def write_bars(record: Derivation, state: SectionState, symbols: tuple[str, str]) -> None:
    """Add the table of bars; `symbols` are those of steel and displaced concrete stress."""
    columns = (
        ("bar", None),
        ("x", Dimension.LENGTH),
        ("y", Dimension.LENGTH),
        ("d", Dimension.LENGTH),
        ("epsilon", Dimension.STRAIN),
        (symbols[0], Dimension.STRESS),
        (symbols[1], Dimension.STRESS),
        ("F", Dimension.FORCE),
    )
    arrays = (
        *(state.x, state.y, state.bar_depth),
        *(state.strain, state.stress, state.displaced, state.force),
    )
    rows = [(str(i + 1), *values) for i, values in enumerate(zip(*arrays, strict=True))]
    record.table(
        "Bars (d from the extreme compression fibre; σc is of the concrete displaced)",
        columns,
        rows,
    )


def write_demand(record: Derivation, symbols: tuple[str, str, str], demand: FloatArray) -> None:
    """Add the demand N, Mx, My (N, N·mm)."""
    dimensions = (Dimension.FORCE, Dimension.MOMENT, Dimension.MOMENT)
    for symbol, value, dimension in zip(symbols, demand, dimensions, strict=True):
        record.given(symbol, float(value), dimension, "demand")


def write_neutral_axis(record: Derivation, state: SectionState) -> None:
    """Add where the neutral axis at capacity came from."""
    lowest, highest = state.extent
    angle = math.degrees(state.plane.angle) % 360
    record.note(
        "Strain plane at capacity, found by iteration along the ray; the compressed side lies"
        f" {angle:.1f}° from x towards y, the section is {highest - lowest:.0f} mm deep there."
    )
