"""EN 1992-1-1 by hand: the numbers of its clauses and of its annexes."""

from __future__ import annotations

from functools import partial

import numpy as np
import pytest

from fexro.core.audit.fibres import Fibres, fibre_utilisation
from fexro.core.codes.en1992_1_1 import detailing, materials, strength
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED, EN_UK
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.members.verdict import detail_of
from fexro.core.provisions import Formula
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.text import plain_text
from fexro.core.section.shapes import Circle, PolygonShape, Rectangle
from fexro.core.strength.slices import meridian
from tests.conftest import demands_of, findings_of, make_column, make_lift


def check_named(checks, name):
    return next(check for check in checks if check.name == name)


@pytest.mark.parametrize(
    ("f_ck", "peak", "limit", "n"),
    # Table 3.1.
    [(30, 2.0, 3.5, 2.0), (50, 2.0, 3.5, 2.0), (60, 2.3, 2.9, 1.6), (90, 2.6, 2.6, 1.4)],
)
def test_the_law_of_table_3_1(f_ck, peak, limit, n):
    assert materials.peak_strain(f_ck) == pytest.approx(peak / 1000, abs=0.05e-3)
    assert materials.limit_strain(f_ck) == pytest.approx(limit / 1000, abs=0.05e-3)
    assert materials.law_exponent(f_ck) == pytest.approx(n, abs=0.05)


def test_design_strengths_of_the_annexes():
    column = make_column(Rectangle(width=300, depth=500), "4 D25", concrete=30, steel=500)
    for code, alpha in ((EN_RECOMMENDED, 1.0), (EN_UK, 0.85)):
        found = code.strength.of(column)
        f_cd, area = alpha * 30 / 1.5, column.section.bars.total_area
        # At a uniform strain of 0.002 the steel is at 400 MPa, below fyd = 434.8.
        assert found.max_axial == pytest.approx(f_cd * (150_000 - area) + 400 * area)
        assert found.max_tension == pytest.approx(-500 / 1.15 * area)


def test_balanced_point_by_hand():
    # 300 × 500, 4 D25, d = 437.5 mm, fck 30, fyk 500, recommended: εyd = 434.78/200000 = 0.0021739;
    # x = 437.5·0.0035/0.0056739 = 269.87 mm. The parabola–rectangle has 17/21 of the full block,
    # its resultant 99/238 of x below the edge. Upper bars at 0.0035·(x − 62.5)/x = 0.002689: yield.
    column = make_column(Rectangle(width=300, depth=500), "4 D25", concrete=30, steel=500)
    found = EN_RECOMMENDED.strength.of(column)
    balanced = next(k for k in EN_RECOMMENDED.strength.key_points(column) if "balanced" in k.name)
    (point,) = meridian(found, 0.0, [partial(balanced.fraction, found)]).marks
    f_yd, area = 500 / 1.15, np.pi * 25**2 / 4
    x = 437.5 * 0.0035 / (0.0035 + f_yd / 200_000)
    concrete = 17 / 21 * 20 * 300 * x
    axial = concrete + 2 * area * (f_yd - 20) - 2 * area * f_yd
    moment = concrete * (250 - 99 / 238 * x) + 2 * area * (2 * f_yd - 20) * 187.5
    np.testing.assert_allclose(point, [axial, moment, 1.0], rtol=1e-6)


def test_limit_planes_join_at_the_full_depth():
    planes = strength.LimitPlanesEN(0.002, 0.0035)
    fraction = np.array([[0.0, 0.3, 0.7999999, 0.8000001, 0.9, 1.0]])
    strain, curvature = planes.planes(fraction, np.array([[-250.0]]), np.array([[250.0]]))
    top, bottom = strain + curvature * 250, strain - curvature * 250
    np.testing.assert_allclose(top[0, 1:4], 0.0035, rtol=1e-6)
    np.testing.assert_allclose(bottom[0, 2:4], 0.0, atol=1e-8)
    # The pivot, 3/7 of the depth below the top, stays at the peak strain.
    np.testing.assert_allclose((strain + curvature * (250 - 500 * 3 / 7))[0, 3:], 0.002, rtol=1e-9)
    assert curvature[0, -1] == 0


@pytest.mark.parametrize("strain", [-0.01, -0.002, 0.0, 0.0005, 0.0015])
def test_a_place_in_the_family_has_the_strain_asked_for(strain):
    planes = strength.LimitPlanesEN(0.002, 0.0035)
    depth, height = np.array([440.0]), np.array([500.0])
    fraction = planes.fraction(np.array([strain]), depth, height)
    middle, curvature = planes.planes(fraction[:, None], np.array([[-250.0]]), np.array([[250.0]]))
    assert (middle + curvature * (250 - 440))[0, 0] == pytest.approx(strain, abs=1e-9)


# Of a lift in which slenderness counts nowhere: αh = 1, l0 = 300 mm, so that ei = 0.75 mm.
E_I = 300 / 400


def test_least_eccentricity_about_one_axis_at_a_time():
    # h/30 = 23.3 mm about x, 20 mm about y.
    column = make_column(Rectangle(width=400, depth=700), "8 D25")
    analysed = np.array(
        [
            [[1e6, 5e6, -1e6], [1e6, 4e6, 0.0]],
            [[1e6, -9e7, 0.0], [1e6, 9e6, 0.0]],
            [[-1e6, 1e6, 0.0], [-1e6, 0, 0]],
        ]
    )
    found = demands_of(EN_RECOMMENDED, column, analysed)
    assert found.places == ("top", "bottom", "imperfection x", "imperfection y")
    np.testing.assert_allclose(found.values[0, 2], [1e6, 700e6 / 30, -1e6])
    np.testing.assert_allclose(found.values[0, 3], [1e6, 5e6, -20e6])
    # The imperfection adds to the larger end in its own sense.
    np.testing.assert_allclose(found.values[1, 2], [1e6, -9e7 - 1e6 * E_I, 0.0])
    # Tension has neither, and nothing is asked but its ends.
    assert found.applies[2].tolist() == [True, True, False, False]
    np.testing.assert_allclose(found.values[2, 2:], np.tile(analysed[2, 0], (2, 1)))


def t_section(flange=1000.0):
    """A T with a web of 250 × 700 under a flange of 200, 12 D25."""
    half = flange / 2
    return PolygonShape(
        outer=(
            *((-125, 0), (125, 0), (125, 700), (half, 700)),
            *((half, 900), (-half, 900), (-half, 700), (-125, 700)),
        )
    )


def test_least_eccentricity_lies_on_either_side_of_an_unsymmetric_section():
    column = make_column(t_section(), "12 D25", concrete=35, steel=500)
    axial = 0.75 * EN_RECOMMENDED.strength.of(column).max_axial
    analysed = np.array([[[axial, 0.0, 0.0], [axial, 1e6, 0.0]]])
    result = check_lift(make_lift(column, EN_RECOMMENDED, ("U1",), analysed))
    ratio = dict(zip(result.places, result.proportional.ratio, strict=True))
    # e0 is 900/30 = 30 mm about x, 1000/30 mm about y, where the section is its own image; the
    # imperfection is less.
    places = ("imperfection x", "imperfection x reversed", "imperfection y")
    found = [result.demands[result.demand_at(0, place)] for place in places]
    np.testing.assert_allclose([demand[1] for demand in found], [30 * axial, -30 * axial, 1e6])
    # By fibres along the rays: 0.866 towards −, 0.836 about y, which is the worst towards +.
    assert ratio["imperfection x reversed"] == pytest.approx(0.866, abs=5e-4)
    fibres = Fibres.of(EN_RECOMMENDED.strength.of(column))
    for place, demand in zip(places, found, strict=True):
        assert ratio[place] == pytest.approx(fibre_utilisation(fibres, demand), rel=2e-3)
    text = plain_text(result.derivation_of(result.worst_demand), UnitSystem.SI)
    assert result.place_of(result.worst_demand) == "imperfection x reversed"
    assert "e_0,x = max(h_x / 30; 20 mm) = max(900 / 30; 20) = 30 mm   [6.1(4)]" in text
    assert "M_e0,x = N_Ed,x · e_0,x" in text
    assert "Demand: imperfection x reversed." in text


def test_where_the_analysed_moment_is_larger_e0_changes_nothing():
    column = make_column(t_section(), "12 D25", concrete=35, steel=500)
    analysed = np.array([[[1e6, 5e7, 0.0], [1e6, -5e7, 0.0]]])
    found = demands_of(EN_RECOMMENDED, column, analysed)
    assert found.places == ("top", "bottom", "imperfection x", "imperfection y")
    np.testing.assert_allclose(found.values[0, :3, 1], [5e7, -5e7, 5e7 + 1e6 * E_I])


def test_limits_of_bars():
    column = make_column(Rectangle(width=400, depth=700), "4 D10", steel=500)
    # 0.002 Ac = 560 mm² and 0.1 NEd/fyd = 0.1·4e6/434.78 = 920 mm²; 4 D10 are 314 mm².
    demands = np.array([[[4e6, 0, 0], [0, 0, 0]]])
    area = check_named(findings_of(EN_RECOMMENDED, column, demands), "Bar area")
    assert area.state is State.EXCEEDED
    assert area.ratio == pytest.approx(0.1 * 4e6 * 1.15 / 500 / (np.pi * 100), rel=1e-6)
    # D10 are enough but for the UK, which asks for 12 mm.
    for code, state in ((EN_RECOMMENDED, State.SATISFIED), (EN_UK, State.EXCEEDED)):
        diameter = check_named(findings_of(code, column), "Bar diameter")
        assert diameter.state is state
    assert detail_of(diameter, UnitSystem.SI) == "10 mm < 12 mm"
    assert detailing.least_clear_spacing(1.0, 25.0, 20.0, 5.0) == 25.0
    assert detailing.least_clear_spacing(1.0, 16.0, 32.0, 5.0) == 37.0


def test_materials_outside_the_code_are_said():
    column = make_column(Circle(diameter=600), "8 D25", concrete=100, steel=700)
    checks = findings_of(EN_RECOMMENDED, column)
    for name in ("Concrete strength", "Steel strength"):
        assert check_named(checks, name).state is State.EXCEEDED


def test_the_simplified_expression_stands_beside_the_exact_one():
    column = make_column(Rectangle(width=400, depth=600), "8 D25", steel=500)
    demands = np.array([[[2e6, 2e8, 1e8], [2e6, 1e8, -5e7]]])
    result = check_lift(make_lift(column, EN_RECOMMENDED, ("U1",), demands))
    simplified = check_named(result.shown_findings, "Simplified biaxial expression")
    assert simplified.state is State.SATISFIED
    assert result.governing.name == "Axial + biaxial bending"
    # By hand from the capacities about each axis alone, at n = NEd/NRd.
    found = EN_RECOMMENDED.strength.of(column)
    n_rd = 400 * 600 * 35 / 1.5 + column.section.bars.total_area * 500 / 1.15
    a = np.interp(2e6 / n_rd, [0.1, 0.7, 1.0], [1.0, 1.5, 2.0])
    from fexro.core.strength.utilisation import constant_axial

    # The imperfection about y governs: it adds to the larger end moment.
    assert result.place_of(result.worst_demand) == "imperfection y"
    larger = 1e8 + 2e6 * E_I
    alone = constant_axial(found, np.array([[2e6, 2e8, 0], [2e6, 0, larger]])).ratio
    assert simplified.ratio == pytest.approx((alone**a).sum(), rel=1e-6)


def test_the_derivation_ends_in_the_utilisation():
    column = make_column(Rectangle(width=400, depth=600), "8 D25", concrete=60, steel=500)
    analysed = np.array([[[2e6, 2e8, 1e8], [-4e5, 1e8, -5e7]], [[3e6, 0, 0], [1e5, 1e8, 0]]])
    result = check_lift(make_lift(column, EN_UK, ("U1", "U2"), analysed))
    for index, ratio in enumerate(result.proportional.ratio):
        last = result.derivation_of(index).lines[-1]
        assert isinstance(last, Formula)
        assert last.result.value == pytest.approx(ratio, rel=1e-5)
