"""Surface of 72 directions × 64 depths, factored; and many demands on one section."""

from __future__ import annotations

import numpy as np
import pytest

from benchmarks.scalar_loop import surface
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.registry import design_code
from fexro.core.quantities import UnitSystem
from fexro.core.section.shapes import Circle, LShape, PolygonShape, Rectangle
from fexro.core.strength.utilisation import proportional
from tests.conftest import make_column

CHANNEL = PolygonShape(
    outer=(
        *((0, 0), (4000, 0), (4000, 3000), (3700, 3000)),
        *((3700, 300), (300, 300), (300, 3000), (0, 3000)),
    )
)
SECTIONS = {
    "rectangle, 12 bars": (Rectangle(width=500, depth=700), "12 D25"),
    "L, 16 bars": (LShape(width=700, depth=700, leg=300), "16 D25"),
    "96-gon circle, 12 bars": (Circle(diameter=600), "12 D25"),
    "channel-shaped core, 80 bars": (CHANNEL, "80 D20"),
}


def factored(strength):
    return strength.grid(72, 64).points.design


LAWS = {
    "block": ACI_SI,
    "parabola–rectangle": design_code("EN 1992-1-1", UnitSystem.SI, "recommended"),
}


@pytest.mark.benchmark(group="surface 72 × 64")
@pytest.mark.parametrize("law", LAWS)
@pytest.mark.parametrize("name", SECTIONS)
def test_surface(benchmark, name, law):
    strength = LAWS[law].strength.of(make_column(*SECTIONS[name]))
    assert benchmark(factored, strength).shape == (73, 64, 3)


@pytest.mark.benchmark(group="surface 72 × 64")
def test_scalar_loop(benchmark):
    column = make_column(*SECTIONS["rectangle, 12 bars"])
    strength = ACI_SI.strength.of(column)
    mesh = strength.grid(72, 64)
    inner = mesh.fraction[1:-1]
    bars = column.section.bars
    vertices = [tuple(point) for point in column.section.outline.rings[0]]
    arguments = (
        vertices,
        list(zip(bars.x, bars.y, bars.area, strict=True)),
        35.0,
        420.0,
        mesh.angle[:-1],
        1.5 * inner / (1 - inner),
    )
    found = np.array(benchmark.pedantic(surface, arguments, rounds=3, iterations=1))
    # The yardstick gives the engine's own points, but where a bar lies on the edge of the block.
    alike = np.isclose(found / mesh.scale, mesh.points.design[:-1, 1:-1] / mesh.scale, atol=1e-9)
    assert alike.mean() > 0.999


@pytest.mark.benchmark(group="utilisation along the ray")
@pytest.mark.parametrize("count", [100, 10_000])
@pytest.mark.parametrize("name", ["rectangle, 12 bars", "channel-shaped core, 80 bars"])
def test_demands(benchmark, name, count):
    strength = ACI_SI.strength.of(make_column(*SECTIONS[name]))
    scale = strength.mesh.scale
    demands = np.random.default_rng(1).uniform([0.0, -0.5, -0.5], [0.5, 0.5, 0.5], (count, 3))
    result = benchmark.pedantic(proportional, (strength, demands * scale), rounds=3, iterations=1)
    assert np.isfinite(result.ratio).all()
