"""Sections that several tests use, and an independent way to their resultants."""

from __future__ import annotations

import os
import tempfile

import numpy as np
import pytest

from fexro.core.codes import Column
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.quantities import UnitSystem
from fexro.core.section.bars import parse_call_out, parse_ties
from fexro.core.section.layout import build_section
from fexro.core.section.shapes import Rectangle, Shape


def make_column(
    shape: Shape,
    bars: str,
    *,
    concrete: float = 35.0,
    steel: float = 420.0,
    ties: str = "D10@200",
    units: UnitSystem = UnitSystem.SI,
) -> Column:
    """A column of a shape with 40 mm cover."""
    section = build_section(shape, 40.0, parse_call_out(bars), parse_ties(ties))
    return Column(
        section,
        Concrete(name="concrete", strength=concrete),
        ReinforcingSteel(name="steel", yield_strength=steel),
        20.0,
        units,
    )


@pytest.fixture
def rectangle() -> Column:
    """500 × 700 with 12 D25."""
    return make_column(Rectangle(width=500, depth=700), "12 D25")


def fibre_resultants(column, angle, strain, curvature, sigma_c, block_from, cell=2.0):
    """N, Mx, My by summing square fibres and bars: shares no code with the engine."""
    from shapely import contains_xy

    outline, bars = column.section.outline, column.section.bars
    x0, y0, x1, y1 = outline.bounds
    x, y = np.meshgrid(
        np.arange(x0 + cell / 2, x1, cell), np.arange(y0 + cell / 2, y1, cell), indexing="ij"
    )
    x, y = x.ravel(), y.ravel()
    inside = contains_xy(outline.polygon(), x, y)
    cx, cy = outline.centroid
    x, y = x[inside] - cx, y[inside] - cy
    # Scaled to the exact area, so that only the fibres' place is approximate.
    weight = outline.area / len(x)
    fibre = strain + curvature * (x * np.cos(angle) + y * np.sin(angle))
    force = np.where(fibre >= block_from, sigma_c, 0.0) * weight
    bx, by = bars.x - cx, bars.y - cy
    bar = strain + curvature * (bx * np.cos(angle) + by * np.sin(angle))
    stress = np.clip(column.steel.modulus * bar, -column.steel.yield_strength, None)
    stress = np.minimum(stress, column.steel.yield_strength)
    bar_force = (stress - np.where(bar >= block_from, sigma_c, 0.0)) * bars.area
    return np.array(
        [
            force.sum() + bar_force.sum(),
            (force * y).sum() + (bar_force * by).sum(),
            (force * x).sum() + (bar_force * bx).sum(),
        ]
    )


def pytest_configure():
    """Examples are drawn the same way in every run; nothing is written into the user's home."""
    from hypothesis import settings

    os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="fexro-state-")

    settings.register_profile("repeatable", derandomize=True, deadline=None)
    settings.load_profile("repeatable")
