"""What the calculations of all codes write alike: demands, bars, sums."""

from __future__ import annotations

import math

import numpy as np

from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.section.outline import FloatArray
from fexro.core.strength.integration import Body, resultants
from fexro.core.strength.surface import Points, Strength

__all__ = ["BarForces", "concrete_resultant", "write_demand", "write_neutral_axis"]


class BarForces:
    """Strains and forces of all bars behind a surface point, (B,) each, and their sums.

    Attributes:
        x, y: positions from the centroid, mm.
        depth: distance from the extreme compression fibre, mm.
        strain, stress, displaced, force: of each bar; MPa and N.
        axial, moment_x, moment_y: sums, N and N·mm.
    """

    def __init__(self, strength: Strength, point: Points) -> None:
        (bars,) = strength.body.bars
        cos, sin = math.cos(point.angle[0]), math.sin(point.angle[0])
        self.x, self.y = strength.body.bar_points.T
        along = self.x * cos + self.y * sin
        _, highest = strength.body.extent(point.angle)
        self.depth = highest[0] - along
        self.strain: FloatArray = point.centre_strain[0, 0] + point.curvature[0, 0] * along
        self.stress = bars.law.stress(self.strain)
        self.displaced = (
            np.zeros_like(self.strain)
            if bars.displaced is None
            else bars.displaced.stress(self.strain)
        )
        self.force: FloatArray = (self.stress - self.displaced) * bars.area
        self.axial = float(self.force.sum())
        self.moment_x = float((self.force * self.y).sum())
        self.moment_y = float((self.force * self.x).sum())

    def write(self, record: Derivation, symbols: tuple[str, str]) -> None:
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
        arrays = (self.x, self.y, self.depth, self.strain, self.stress, self.displaced, self.force)
        rows = [(str(i + 1), *values) for i, values in enumerate(zip(*arrays, strict=True))]
        record.table(
            "Bars (d from the extreme compression fibre; σc is of the concrete displaced)",
            columns,
            rows,
        )


def concrete_resultant(strength: Strength, point: Points) -> tuple[float, float, float]:
    """Return the force of the concrete (N) and its place x, y from the centroid (mm)."""
    concrete = Body(strength.body.regions, [], strength.body.centre)
    force, moment_x, moment_y = (
        float(value)
        for value in resultants(concrete, point.angle, point.centre_strain, point.curvature)[0, 0]
    )
    if not force:
        return 0.0, 0.0, 0.0
    return force, moment_y / force, moment_x / force


def write_demand(record: Derivation, symbols: tuple[str, str, str], demand: FloatArray) -> None:
    """Add the demand N, Mx, My (N, N·mm)."""
    dimensions = (Dimension.FORCE, Dimension.MOMENT, Dimension.MOMENT)
    for symbol, value, dimension in zip(symbols, demand, dimensions, strict=True):
        record.given(symbol, float(value), dimension, "demand")


def write_neutral_axis(record: Derivation, strength: Strength, point: Points) -> None:
    """Add where the neutral axis at capacity came from."""
    lowest, highest = (float(value[0]) for value in strength.body.extent(point.angle))
    angle = math.degrees(float(point.angle[0])) % 360
    record.note(
        "Strain plane at capacity, found by iteration along the ray; the compressed side lies"
        f" {angle:.1f}° from x towards y, the section is {highest - lowest:.0f} mm deep there."
    )
