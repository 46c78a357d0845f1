"""Ductile frames, existing columns and steels of ties: from the document to what is checked."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.errors import InputError
from fexro.core.findings import State
from fexro.core.members.check import check_lift
from fexro.core.members.verdict import failing_first
from fexro.demo.tarnholm import tarnholm_columns
from fexro.project.column import LiftKey
from fexro.project.dependencies import affected
from fexro.project.edits.lifts import replace_lift
from fexro.project.edits.stability import change_beams, set_direction
from fexro.project.framing import FramingBeam
from fexro.project.resolve import actions_at, column_facts, resolve_lift

DEMO = tarnholm_columns()
KEY, ABOVE, BELOW = (LiftKey("C2", storey) for storey in ("L3", "L4", "L2"))


def ductile(project=DEMO, level="high"):
    return set_direction(project, None, "x", "ductility", level)


def checks(project, key=KEY):
    return {check.name: check for check in check_lift(resolve_lift(project, key)).findings}


def test_the_class_of_a_frame_reaches_the_lifts_and_stays_low_where_walls_resist():
    facts = column_facts(ductile(set_direction(DEMO, None, "y", "ductility", "high")), KEY)
    # Along y of the plan walls resist; bending about y goes with sway along x.
    assert (facts.about_x.ductility, facts.about_y.ductility) == ("low", "high")


def test_combinations_with_earthquake_are_known_by_their_cases():
    actions = actions_at(DEMO, KEY)
    names = [name for name, one in zip(actions.combinations, actions.seismic, strict=True) if one]
    told = {c.name for c in DEMO.combinations if "earthquake" in c.uses}
    assert set(names) == told
    assert actions.in_earthquake.shape[0] == len(told)
    # U8 has Ex once: what is of earthquake in it is the case.
    place = actions.combinations.index("U8")
    cases, _ = DEMO.case_forces.of_member(KEY)
    column = list(DEMO.case_forces.columns).index("Ex")
    scale = np.array([1e3, 1e3, 1e3, 1e6, 1e6, 1e6])
    np.testing.assert_allclose(actions.earthquake[place], cases[:, column] * scale)


def test_axial_forces_beside_a_lift_are_those_of_the_lifts_there():
    project = ductile()
    actions = actions_at(project, KEY)
    assert actions.above == actions_at(project, ABOVE).axial_range("bottom")
    assert actions.below == actions_at(project, BELOW).axial_range("top")
    assert actions_at(DEMO, KEY).above is None
    roof = actions_at(project, LiftKey("C2", "Roof"))
    assert roof.above is None


def test_beams_bring_their_bars_and_sides_to_the_joint():
    facts = column_facts(ductile(), KEY)
    beams = {beam.side: beam for beam in facts.about_y.top.beams}
    assert set(beams) == {-1, 1}
    section = beams[1].moments.section.section
    assert len(section.bars) == 7
    check = checks(ductile())["Strong column along x"]
    assert check.values["limit"].value == 1.2


@pytest.mark.parametrize(
    ("angle", "side", "expected"),
    [(0, "+x", 1), (0, "-y", -1), (90, "+y", 1), (90, "+x", -1), (180, "+x", -1), (270, "+x", 1)],
)
def test_sides_are_by_the_axes_of_a_turned_section(angle, side, expected):
    marks = tuple(
        mark.model_copy(update={"angle": float(angle)}) if mark.name == "C2" else mark
        for mark in DEMO.marks
    )
    beam = FramingBeam(mark="C2", storey="L3", side=side, width=300, depth=500, span=6.0)
    facts = column_facts(DEMO.changed(marks=marks, beams=(beam,)), KEY)
    found = [*facts.about_x.top.beams, *facts.about_y.top.beams]
    assert [one.side for one in found] == [expected]


def test_a_moment_may_stand_for_the_bars_of_a_beam():
    project = ductile()
    numbers = [i for i, beam in enumerate(project.beams) if beam.key == KEY]
    known = change_beams(project, numbers, top=300.0, bottom=200.0)
    twice = change_beams(project, numbers, top=600.0, bottom=400.0)
    once, half = (
        checks(one)["Strong column along x"].values["found"].value for one in (known, twice)
    )
    assert once == pytest.approx(2 * half)
    unknown = change_beams(project, numbers, bottom=None)
    assert checks(unknown)["Strong column along x"].assumption
    with pytest.raises(InputError, match="overlap"):
        change_beams(project, numbers, top="12 D40")


def test_other_forces_above_are_looked_at_below_in_ductile_frames_only():
    def with_more(project):
        cases = project.case_forces
        values, _ = cases.of_member(ABOVE)
        more = {name: 1.1 * values[:, i] for i, name in enumerate(cases.columns)}
        return project.changed(case_forces=cases.with_rows({ABOVE: more}))

    for project, expected in ((DEMO, set()), (ductile(), {KEY})):
        found = affected(project, with_more(project))
        assert {ABOVE} <= found
        assert (found & {KEY}) == expected


def existing(key=KEY, **values):
    lift = DEMO.by_key[key]
    return replace_lift(DEMO, key, lift.with_values(age="existing", **values))


def test_the_strengths_of_an_existing_column_are_those_that_are_known():
    facts = column_facts(existing(knowledge=0.75), KEY)
    assert facts.concrete.strength == pytest.approx(0.75 * 35)
    assert facts.steel.yield_strength == pytest.approx(0.75 * 420)
    assert column_facts(DEMO, KEY).concrete.strength == 35
    # Of a new column the factor counts nothing.
    lift = DEMO.by_key[KEY]
    new = replace_lift(DEMO, KEY, lift.with_values(knowledge=0.75))
    assert column_facts(new, KEY).concrete.strength == 35


def test_detailing_of_an_existing_column_is_told_and_what_resists_is_asked():
    lift = DEMO.by_key[KEY]
    section = lift.section.model_copy(update={"ties": "D10@450"})
    wide = lift.model_copy(update={"section": section})
    new = checks(replace_lift(DEMO, KEY, wide))
    assert new["Tie spacing"].state is State.EXCEEDED
    values = {"age": "existing", "lap_length": 500.0}
    result = check_lift(resolve_lift(replace_lift(DEMO, KEY, wide.with_values(**values)), KEY))
    old = {check.name: check for check in result.findings}
    assert old["Tie spacing"].state is State.ATTENTION
    assert old["Lap length"].state is State.EXCEEDED
    assert "Existing column" in old
    lines = failing_first(result).splitlines()
    kinds = [line.split()[1] for line in lines[1:]]
    assert sorted(kinds) == ["bending", "laps", "shear", "ties"]
    shares = [float(line.split()[3]) for line in lines[1:]]
    assert shares == sorted(shares)
    assert shares[0] == pytest.approx(1 / old["Lap length"].ratio, abs=0.005)


def test_laps_longer_than_the_storey_are_refused():
    with pytest.raises(InputError, match="less than the storey"):
        existing(lap_length=9000.0)


def test_the_steel_of_ties_counts_and_is_no_longer_assumed():
    lift = DEMO.by_key[KEY]
    other = replace_lift(DEMO, KEY, lift.with_values(tie_steel="Grade 550"))
    assert column_facts(other, KEY).tie_steel.yield_strength == 550
    assert "Steel of the ties" in checks(DEMO)
    assert "Steel of the ties" not in checks(other)
    with pytest.raises(InputError, match="tie_steel"):
        replace_lift(DEMO, KEY, lift.with_values(tie_steel="Grade 999"))


def test_a_spiral_around_bars_along_faces_is_refused():
    lift = DEMO.by_key[KEY]
    section = lift.section.model_copy(update={"ties": "D10@75 spiral"})
    with pytest.raises(InputError, match="a spiral in a rectangle"):
        replace_lift(DEMO, KEY, lift.model_copy(update={"section": section}))
