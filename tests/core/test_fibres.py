"""The second opinion on sections of several materials, against the engine."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from fexro.core.audit.fibres import Fibres, fibre_utilisation
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.section.outline import Outline
from fexro.core.section.shapes import Rectangle
from fexro.core.strength.body import BarSet, Body, Region
from fexro.core.strength.laws import Constant, ElasticPlastic, PiecewiseLaw, Power, uniform_block
from fexro.core.strength.utilisation import proportional
from tests.conftest import make_column


def box(x0, y0, x1, y1):
    return Outline((np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]], dtype=float),))


def composite():
    """Two concretes side by side with bars of two steels; a plate of a third displaces one."""
    strength = ACI_SI.strength.of(make_column(Rectangle(width=500, depth=700), "12 D25"))
    (bars,) = strength.body.bars
    weak, strong = uniform_block(20.0, 0.0006), uniform_block(34.0, 0.0006)
    # A law of parabola and constant for the plate less the concrete in its place.
    plate = PiecewiseLaw((Constant(0.0, np.inf, 200.0), Power(0.0, 0.001, -200.0, 2.0)))
    displaced = uniform_block(-20.0, 0.0006)
    inner = box(-150, -200, -100, 200)
    regions = [
        Region(box(-250, -350, 50, 350), weak),
        Region(box(50, -350, 250, 350), strong),
        Region(inner, plate),
        Region(inner, displaced),
    ]
    left = bars.x < 50
    sets = [
        BarSet(bars.x[left], bars.y[left], bars.area[left], ElasticPlastic(2e5, 420.0), weak),
        BarSet(bars.x[~left], bars.y[~left], bars.area[~left], ElasticPlastic(2e5, 550.0), strong),
    ]
    return replace(strength, body=Body(regions, sets, (0.0, 0.0)))


@pytest.mark.parametrize("direction", [(0.3, 0.2, 0.1), (0.3, -0.1, 0.3), (0.0, 0.2, -0.3)])
def test_fibres_of_several_materials_agree_with_the_engine(direction):
    strength = composite()
    demand = np.array(direction) * strength.mesh.scale
    engine = proportional(strength, demand[None]).ratio[0]
    # Cells of about 4 mm, each with the strain of its middle.
    assert fibre_utilisation(Fibres.of(strength), demand) == pytest.approx(engine, rel=2e-3)
