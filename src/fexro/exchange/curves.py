"""Curves of the interaction diagram as tables: for a spreadsheet, the clipboard, a checker."""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.members.lift import Lift
from fexro.core.quantities import Dimension, UnitSystem, unit_of
from fexro.core.strength.slices import Meridian, contour, meridian
from fexro.core.strength.surface import Strength

__all__ = ["Table", "contour_table", "meridian_table"]

SAME = 1e-9  # of the largest force: points that are one
UNIFORM = 1e3  # depths of the section from which a neutral axis is as good as none


@dataclass(frozen=True)
class Table:
    """Numbers under headings with their units; an empty text where there is none."""

    headings: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]

    def text(self, delimiter: str) -> str:
        """Return the table with a delimiter between its cells."""
        stream = io.StringIO()
        writer = csv.writer(stream, delimiter=delimiter, lineterminator="\n")
        writer.writerow(self.headings)
        writer.writerows(self.rows)
        return stream.getvalue()


def meridian_table(lift: Lift, angle: float, system: UnitSystem) -> Table:
    """Return the N–M curve of a lift in the plane of a moment direction.

    Each row is a limit strain plane: its nominal and design strength, where its neutral axis is,
    and its strains; a row without a plane is the corner at the cap of the axial force.

    Args:
        lift: the lift.
        angle: direction of the moment, radians from Mx towards My.
        system: the units of the numbers.
    """
    strength = lift.strength
    curve = meridian(strength, angle)
    force, moment, length = (
        unit_of(d, system) for d in (Dimension.FORCE, Dimension.MOMENT, Dimension.LENGTH)
    )
    headings = (
        f"nominal N, {force.symbol}",
        f"nominal M, {moment.symbol}",
        "factor",
        *(f"design N, {force.symbol}", f"design M, {moment.symbol}"),
        *(f"design Mx, {moment.symbol}", f"design My, {moment.symbol}"),
        "compressed side from x towards y, °",
        f"neutral axis depth, {length.symbol}",
        *("largest compression strain", "strain of the extreme bar"),
    )
    sizes = np.array([force.size, moment.size, 1.0, *[force.size], *[moment.size] * 3])
    rows = []
    for right in (True, False):
        for numbers in _side(strength, curve, right):
            scaled = [*(numbers[:7] / sizes), numbers[7], numbers[8] / length.size, *numbers[9:]]
            rows.append(tuple(_written(value) for value in scaled))
    return Table(headings, tuple(rows))


def contour_table(lift: Lift, axial: float, system: UnitSystem) -> Table:
    """Return the design Mx–My curve of a lift at an axial force (N), in the units of a system."""
    strength = lift.strength
    force, moment = (unit_of(d, system) for d in (Dimension.FORCE, Dimension.MOMENT))
    headings = (
        f"N, {force.symbol}",
        f"design Mx, {moment.symbol}",
        f"design My, {moment.symbol}",
    )
    rows = tuple(
        (_written(axial / force.size), *(_written(value / moment.size) for value in point))
        for point in contour(strength, axial)
    )
    return Table(headings, rows)


def _side(strength: Strength, curve: Meridian, right: bool) -> FloatArray:
    """Return rows (P, 11) of one side, internal units; not a number where there is none."""
    nominal = curve.nominal_right if right else curve.nominal_left
    design = curve.design_right if right else curve.design_left
    places = curve.places_right if right else curve.places_left
    points = strength.at(places[:, 0], places[:, 1:])
    turned = strength.body.turn(places[:, 0])
    curvature, centre = points.curvature[:, 0], points.centre_strain[:, 0]
    top = centre + curvature * turned.highest
    with np.errstate(divide="ignore", over="ignore"):
        depth = top / curvature
    depth = np.where(np.abs(depth) < UNIFORM * strength.body.size, depth, np.nan)
    # While all of the section is in the block, its planes are one point of the curve.
    step = np.abs(np.diff(nominal, axis=0)) / strength.mesh.scale[:2]
    apart = np.concatenate([[True], step.max(axis=1) > SAME])
    kept = nominal[:, 0] * points.factor[:, 0] <= strength.max_axial
    factored = np.where(kept[:, None], nominal * points.factor, np.nan)
    unit = np.array([math.cos(curve.angle), math.sin(curve.angle)])
    rows: FloatArray = np.column_stack(
        [
            *(nominal, points.factor[:, 0], factored, factored[:, 1:] * unit),
            *(np.degrees(places[:, 0]) % 360, depth, top, centre + curvature * turned.lowest_bar),
        ]
    )
    rows, kept = rows[apart], kept[apart]
    if kept.all():
        return rows
    corner = np.full((1, rows.shape[1]), np.nan)
    corner[0, 3:7] = [*design[-1], *(design[-1, 1] * unit)]
    return np.insert(rows, int(kept.argmin()), corner, axis=0)


def _written(value: float) -> str:
    return f"{value:.6g}" if math.isfinite(value) else ""
