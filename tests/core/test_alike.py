"""Sections of one make, solved together, answer as each does by itself."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.registry import design_code
from fexro.core.quantities import UnitSystem
from fexro.core.section.shapes import Circle, HollowRectangle, LShape, Rectangle
from fexro.core.strength.alike import Alike, Sections
from fexro.core.strength.governing import Question, governing
from fexro.core.strength.rays import aim, crossings_of, first_crossings
from fexro.core.strength.utilisation import proportional
from tests.conftest import make_column
from tests.core.test_governing import demands_around

EN = design_code("EN 1992-1-1", UnitSystem.SI, "recommended")
CODES = pytest.mark.parametrize("code", [ACI_SI, EN], ids=["ACI", "EN"])

# Sizes and numbers of bars differ, so that some have fewer than others.
MAKES = {
    "rectangles": [
        (Rectangle(width=500, depth=500), "8 D25"),
        (Rectangle(width=350, depth=900), "14 D28"),
        (Rectangle(width=800, depth=400), "4 D40"),
    ],
    "circles": [(Circle(diameter=600), "8 D25"), (Circle(diameter=900), "22 D25")],
    "Ls": [
        (LShape(width=700, depth=900, leg=300), "16 D25"),
        (LShape(width=500, depth=500, leg=200), "6 D20"),
    ],
    "hollow": [
        (HollowRectangle(width=900, depth=700, wall=200), "16 D25"),
        (HollowRectangle(width=600, depth=600, wall=150), "12 D20"),
    ],
}


@pytest.fixture(params=MAKES.values(), ids=MAKES.keys())
def columns(request):
    return [make_column(shape, bars) for shape, bars in request.param]


@CODES
def test_points_of_the_surface_are_those_of_each_section(code, columns):
    each = [code.strength.of(column) for column in columns]
    sections = Sections(tuple(each))
    for strength, mesh in zip(each, sections.meshes, strict=True):
        alone = strength.grid(len(mesh.angle) - 1, len(mesh.fraction))
        np.testing.assert_allclose(
            mesh.points.design / mesh.scale, alone.points.design / mesh.scale, atol=1e-12
        )
    number = np.repeat(np.arange(len(each)), 200)
    place = np.random.default_rng(1).uniform(0, 1, (2, len(number)))
    stacked = Alike(sections, number)
    angle = place[:1] * 2 * np.pi
    found = stacked.design_in_row(stacked.body.turn(angle), place[1], None)
    for i, strength in enumerate(each):
        some = number == i
        alone = strength.design_in_row(strength.body.turn(angle[:, some]), place[1, some], None)
        np.testing.assert_allclose(
            found[:, some] / strength.scale, alone / strength.scale, atol=1e-12
        )


@CODES
def test_rays_meet_the_surfaces_where_each_section_has_them(code, columns):
    each = [code.strength.of(column) for column in columns]
    demands = [demands_around(strength, 400, seed=i) for i, strength in enumerate(each)]
    number = np.repeat(np.arange(len(each)), 400)
    aimed = aim(Alike(Sections(tuple(each)), number), np.concatenate(demands))
    found = crossings_of(aimed).distance
    for i, strength in enumerate(each):
        alone = first_crossings(strength, np.zeros((400, 3)), demands[i]).distance
        np.testing.assert_allclose(found[number == i], alone, rtol=2e-8)
    # Of some of them the points are those that were aimed at before.
    some = np.arange(0, len(number), 7)
    np.testing.assert_allclose(crossings_of(aimed.take(some)).distance, found[some], rtol=2e-8)


@CODES
def test_what_governs_is_the_worst_on_each_section(code, columns):
    each = [code.strength.of(column) for column in columns]
    questions, expected = [], []
    for i, strength in enumerate(each):
        demands = demands_around(strength, 120, seed=i)
        demands[50:53] = 0.0
        ends = np.array([50, 53, 53, 120])
        ratios = proportional(strength, demands).ratio
        questions.append(Question(strength, demands, ends))
        expected.append([ratios[:50], ratios[50:53], None, ratios[53:]])
    for found, ratios in zip(governing(questions), expected, strict=True):
        for governs, of_group in zip(found, ratios, strict=True):
            if of_group is None:
                assert governs is None
                continue
            assert governs.ratio == pytest.approx(of_group.max(), rel=2e-8)
            assert governs.demand == of_group.argmax()
