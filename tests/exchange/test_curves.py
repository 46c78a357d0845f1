"""Curves as tables, against the surface they are read from."""

from __future__ import annotations

import csv
import io
import math

import numpy as np
import pytest

from fexro.core.quantities import UnitSystem
from fexro.core.strength.utilisation import constant_axial, proportional
from fexro.demo.tarnholm import tarnholm_columns
from fexro.exchange.curves import contour_table, meridian_table
from fexro.project.column import LiftKey
from fexro.project.resolve import resolve_lift

SI = UnitSystem.SI


def numbers(table):
    return np.array([[float(cell) if cell else np.nan for cell in row] for row in table.rows])


@pytest.mark.parametrize("mark", ["C1", "C4"])
@pytest.mark.parametrize("code", ["ACI 318-19", "EN 1992-1-1"])
def test_every_design_point_is_on_the_surface(mark, code):
    project = tarnholm_columns()
    basis = project.basis.model_copy(update={"code": code})
    lift = resolve_lift(project, LiftKey(mark, "L1"), basis=basis)
    table = meridian_table(lift, math.radians(30), SI)
    rows = numbers(table)
    design = rows[~np.isnan(rows[:, 3])]
    demands = design[:, [3, 5, 6]] * [1e3, 1e6, 1e6]
    strength = lift.strength
    ratio = proportional(strength, demands).ratio
    # Six figures are written; beside steps of the block the nearer sheet counts.
    np.testing.assert_allclose(ratio, 1.0, atol=4e-3)
    assert np.median(np.abs(ratio - 1)) < 1e-5
    # Moments point in the plane.
    np.testing.assert_allclose(design[:, 6], design[:, 5] * math.tan(math.radians(30)), rtol=1e-4)
    # An uncapped curve ends in pure compression; of an L that is beside this plane.
    assert design[:, 3].max() == pytest.approx(strength.max_axial / 1e3, rel=5e-3)
    if code.startswith("ACI"):
        planes = design[~np.isnan(design[:, 2])]
        np.testing.assert_allclose(planes[:, 3], planes[:, 0] * planes[:, 2], rtol=1e-4)
        np.testing.assert_allclose(planes[:, 9], 0.003, rtol=1e-5)


def test_the_neutral_axis_belongs_to_the_strains():
    lift = resolve_lift(tarnholm_columns(), LiftKey("C1", "L1"))
    rows = numbers(meridian_table(lift, 0.0, SI))
    some = rows[(rows[:, 8] > 50) & (rows[:, 8] < 400)]
    # Bars of D28 in ties of D10 at 40 mm: the extreme bar lies 500 − 64 mm deep, bent about x.
    expected = 0.003 * (1 - 436 / some[:, 8])
    np.testing.assert_allclose(some[:, 10], expected, rtol=1e-3)


def test_the_contour_is_where_moments_are_used_up():
    lift = resolve_lift(tarnholm_columns(), LiftKey("C4", "L1"))
    rows = numbers(contour_table(lift, 2e6, SI))
    demands = rows * [1e3, 1e6, 1e6]
    ratio = constant_axial(lift.strength, demands).ratio
    np.testing.assert_allclose(ratio, 1.0, rtol=2e-5)
    assert not contour_table(lift, 1e9, SI).rows


def test_units_are_those_asked_for():
    lift = resolve_lift(tarnholm_columns(), LiftKey("C1", "L1"))
    table = meridian_table(lift, 0.0, UnitSystem.IN_LB)
    assert table.headings[0] == "nominal N, kip"
    assert table.headings[8] == "neutral axis depth, in"
    text = table.text(",")
    assert next(csv.reader(io.StringIO(text))) == list(table.headings)
