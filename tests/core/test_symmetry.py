"""The symmetry of sections, told from their drawings, and surfaces built by means of it."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.section.shapes import (
    Circle,
    HollowRectangle,
    LShape,
    PolygonShape,
    Rectangle,
)
from fexro.core.strength.body import BarSet, Body
from fexro.core.strength.laws import ElasticPlastic
from tests.conftest import make_column

CHANNEL = PolygonShape(
    outer=(
        *((0, 0), (4000, 0), (4000, 3000), (3700, 3000)),
        *((3700, 300), (300, 300), (300, 3000), (0, 3000)),
    )
)
# A Z, alike after half a turn only.
ZED = PolygonShape(
    outer=(
        *((0, 0), (700, 0), (700, 250), (250, 250)),
        *((250, 900), (-450, 900), (-450, 650), (0, 650)),
    )
)
# The shape, its bars, turns that leave it alike, and the axis of a reflection that does, degrees.
SECTIONS = {
    "rectangle": (Rectangle(width=500, depth=700), "12 D25", 2, 0),
    "square": (Rectangle(width=600, depth=600), "12 D25", 4, 0),
    "hollow rectangle": (HollowRectangle(width=900, depth=700, wall=200), "16 D25", 2, 90),
    "circle, 12 bars": (Circle(diameter=600), "12 D25", 12, 0),
    "circle, 9 bars": (Circle(diameter=600), "9 D25", 3, 90),
    "circle, 7 bars": (Circle(diameter=600), "7 D25", 1, 90),
    "L with equal legs": (LShape(width=700, depth=700, leg=300), "16 D25", 1, 45),
    "L with unequal legs": (LShape(width=700, depth=900, leg=300), "16 D25", 1, None),
    "channel": (CHANNEL, "80 D20", 1, 90),
    "Z": (ZED, "12 D25", 2, None),
}


def strength_of(name):
    shape, bars, _, _ = SECTIONS[name]
    return ACI_SI.strength.of(make_column(shape, bars))


@pytest.mark.parametrize("name", SECTIONS)
def test_a_section_has_the_symmetry_of_its_drawing(name):
    _, _, fold, axis = SECTIONS[name]
    symmetry = strength_of(name).body.symmetry
    assert symmetry.fold == fold
    assert symmetry.point == (fold % 2 == 0)
    assert symmetry.mirrored == (axis is not None)
    if axis is not None and fold == 1:
        assert math.degrees(symmetry.axis) % 180 == pytest.approx(axis)


@pytest.mark.parametrize("name", SECTIONS)
def test_the_surface_is_that_computed_in_full(name):
    strength = strength_of(name)
    mesh = strength.grid(72, 64)
    full = strength.at(mesh.angle, np.broadcast_to(mesh.fraction, (73, 64)))
    np.testing.assert_allclose(mesh.points.factor, full.factor, atol=1e-12)
    alike = np.isclose(mesh.points.nominal / mesh.scale, full.nominal / mesh.scale, atol=1e-9)
    # Where a row of bars lies exactly on the block's edge, rounding decides whether it is inside.
    assert alike.mean() > 0.998
    assert (np.diff(mesh.angle) > 0).all()


@pytest.mark.parametrize("fault", ["moved", "thicker"])
def test_one_bar_out_of_place_ends_the_symmetry(rectangle, fault):
    bars = rectangle.section.bars
    x, area = bars.x.copy(), bars.area.copy()
    # A bar inside one side; one in a corner or in a middle might keep a diagonal or an axis.
    inner = int(np.flatnonzero(np.abs(bars.x) < np.abs(bars.x).max() - 1)[0])
    if fault == "moved":
        x[inner] += 7.0
    else:
        area[inner] *= 1.5
    section = replace(rectangle.section, bars=replace(bars, x=x, area=area))
    symmetry = ACI_SI.strength.of(replace(rectangle, section=section)).body.symmetry
    assert (symmetry.fold, symmetry.mirrored) == (1, False)


def test_bars_of_different_laws_are_not_alike(rectangle):
    # Alike in place, and nearly in area, but of two steels.
    strength = ACI_SI.strength.of(rectangle)
    (bars,) = strength.body.bars
    left = bars.x < 0
    sets = [
        BarSet(bars.x[side], bars.y[side], np.full(int(side.sum()), area), ElasticPlastic(2e5, fy))
        for side, area, fy in ((left, 500.0, 420.0), (~left, 499.5, 550.0))
    ]
    symmetry = Body(strength.body.regions, sets, strength.body.centre).symmetry
    # Only the reflection that exchanges neither side is left.
    assert (symmetry.fold, symmetry.mirrored) == (1, True)
