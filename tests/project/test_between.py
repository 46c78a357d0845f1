"""Loads between the ends of lifts, moments given there, self-weight: against hand calculation."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.core.loads.between import distributed, eccentric, first_order_deflection, point
from fexro.core.members.check import check_lift
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.actions import actions_of
from fexro.project.column import LiftKey
from fexro.project.dependencies import affected
from fexro.project.edits.cases import change_case
from fexro.project.edits.lifts import remove_lifts
from fexro.project.edits.marks import change_mark
from fexro.project.edits.verified import verified
from fexro.project.lift_loads import LiftLoad, SpanForces
from fexro.project.resolve import resolve_lift

KEY = LiftKey("C2", "L1")  # 4.2 m high


@pytest.fixture
def demo():
    return tarnholm_columns()


def loaded(project, **fields):
    load = LiftLoad(mark="C2", storey="L1", case="Wx", **fields)
    return project.changed(lift_loads=(*project.lift_loads, load))


def test_a_beam_on_two_supports_has_its_closed_forms():
    places = np.linspace(0, 1, 5)
    moment, shear = distributed(8.0, 4.0, places)
    assert moment.min() == -8 * 4**2 / 8  # q h² / 8
    assert (shear[0], shear[-1]) == (-16.0, 16.0)
    moment, shear = point(10.0, 0.25, 4.0, places)
    assert moment[1] == -10 * 1 * 3 / 4  # P a b / h
    assert (shear[0], shear[-1]) == (-7.5, 2.5)
    assert eccentric(100.0, 0.05, places, at_top=True).tolist() == [0, 1.25, 2.5, 3.75, 5.0]


def test_first_order_deflection_of_a_beam_has_its_closed_form():
    """5 q h⁴ / (384 EI) under an even load; it goes the way the load does."""
    places = np.linspace(0, 1, 2001)
    moment, _ = distributed(8.0, 4.0, places)
    deflection = first_order_deflection(moment, places, 4.0, 1000.0)
    assert deflection[1000] == pytest.approx(5 * 8 * 4**4 / (384 * 1000), rel=1e-5)
    assert (deflection[0], deflection[-1]) == (0.0, pytest.approx(0.0, abs=1e-15))


def test_the_largest_moment_between_the_ends_is_checked(demo):
    """U4 is 1.2 D + 1.0 L + 0.5 S + 1.0 Wx: ends as before, and q h²/8 beside half their sum."""
    changed = loaded(demo, kind="distributed", axis="x", value=-400.0)
    before, after = actions_of(demo, KEY), actions_of(changed, KEY)
    assert after.stations == ("top", "bottom", "between, My")
    np.testing.assert_allclose(after.forces[:, :2, [0, 4, 5]], before.forces[..., [0, 4, 5]])
    i = after.combinations.index("U4")
    middle = before.forces[i, :, 5].mean() + 400e3 / 1e3 * 4200.0**2 / 8
    assert after.profile.forces[i, 64, 5] == pytest.approx(middle)
    # The vertex of the parabola lies beside the middle; 128 parts find it nearly.
    slope = (before.forces[i, 0, 5] - before.forces[i, 1, 5]) / 4200
    vertex = middle + slope**2 / (2 * 400)
    assert after.forces[i, 2, 5] == pytest.approx(vertex, rel=1e-4)
    assert affected(demo, changed) == {KEY}
    result = check_lift(resolve_lift(changed, KEY))
    # It grows along the lift, which is braced there, by Cm = 1.
    assert result.place_of(result.worst_demand) == "pair"
    assert after.sustained.shape == after.forces.shape
    assert after.sway.shape == (2, *after.forces.shape)


def test_single_loads_and_eccentric_forces(demo):
    changed = loaded(demo, kind="point", axis="y", value=100.0, at=0.3)
    changed = loaded(changed, kind="axial", value=200.0, ex=50.0, ey=-20.0, end="top")
    before, after = actions_of(demo, KEY), actions_of(changed, KEY)
    i = after.combinations.index("U4")
    ends = before.forces[i]
    moved = after.profile.forces[i]
    place = int(np.flatnonzero(np.isclose(after.profile.places, 0.3))[0])
    straight = ends[1, 4] + 0.3 * (ends[0, 4] - ends[1, 4])
    expected = straight - 100e3 * 4200 * 0.3 * 0.7 - 0.3 * 200e3 * 20
    assert moved[place, 4] == pytest.approx(expected)
    assert moved[-1, 5] - ends[0, 5] == pytest.approx(200e3 * 50)
    assert moved[0, 5] == pytest.approx(ends[1, 5])
    assert moved[0, 0] - ends[1, 0] == pytest.approx(200e3)


def test_moments_between_the_ends_that_an_analysis_gives(demo):
    span = SpanForces(mark="C2", storey="L1", name="Wx", at=0.5, Mx=0.0, My=900.0)
    changed = demo.changed(span_forces=(span,))
    after = actions_of(changed, KEY)
    i = after.combinations.index("U4")
    cases = {n: demo.case_forces.row(KEY, n)[:, 5].mean() for n in ("D", "L", "S")}
    expected = 1e6 * (1.2 * cases["D"] + cases["L"] + 0.5 * cases["S"] + 900)
    assert after.forces[i, after.stations.index("between, My"), 5] == pytest.approx(expected)


def test_all_forces_at_a_station_between(demo):
    """N at the station of the largest My is what is given there, not the mean of the ends."""
    span = SpanForces(mark="C2", storey="L1", name="Wx", at=0.5, Mx=0.0, My=900.0, N=50.0, Vx=7.0)
    after = actions_of(demo.changed(span_forces=(span,)), KEY)
    before = actions_of(demo, KEY)
    i, station = after.combinations.index("U4"), after.stations.index("between, My")
    mean = before.forces[i].mean(axis=0)
    wind = demo.case_forces.row(KEY, "Wx").mean(axis=0)
    assert after.forces[i, station, 0] == pytest.approx(mean[0] + 1e3 * (50 - wind[0]))
    assert after.forces[i, station, 1] == pytest.approx(mean[1] + 1e3 * (7 - wind[1]))
    assert after.forces[i, station, 2] == pytest.approx(mean[2])


def test_self_weight_grows_down_the_stack(demo):
    """C2 is 500 by 700: 25 · 0.35 · 3.6 = 31.5 kN at the top lift, 36.75 at each of the others."""
    weighed = change_case(demo, "D", self_weight=True)
    i = actions_of(demo, KEY).combinations.index("U1")
    apart = actions_of(weighed, KEY).forces[i, :, 0] - actions_of(demo, KEY).forces[i, :, 0]
    above = 31.5 + 4 * 36.75
    assert apart / 1e3 == pytest.approx([1.4 * above, 1.4 * (above + 36.75)])
    assert affected(demo, weighed) == frozenset(demo.by_key)


def test_loads_go_with_their_lifts(demo):
    changed = loaded(demo, kind="distributed", axis="x", value=5.0)
    renamed = change_mark(changed, "C2", new_name="K2")
    assert renamed.lift_loads[0].key == LiftKey("K2", "L1")
    assert remove_lifts(changed, [KEY]).lift_loads == ()
    assert change_case(changed, "Wx", name="W").lift_loads[0].case == "W"
    lost = LiftLoad(mark="C9", storey="L1", case="Wx", kind="point", value=1.0)
    with pytest.raises(InputError, match="a lift of the project"):
        verified(demo.changed(lift_loads=(lost,)))
