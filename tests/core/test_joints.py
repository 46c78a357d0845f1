"""Columns against beams at joints: senses, sums and what settles them, by hand."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.optimize import brentq

from fexro.core.actions import Actions
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.facts import BeamMoments, CrossSection, End, FramingMember, LiftDirection
from fexro.core.findings import State
from fexro.core.joints import deepened, joints_at, strengthened
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.text import plain_text
from fexro.core.section.bars import parse_ties
from fexro.core.section.beams import beam_section
from fexro.core.section.call_out import parse_call_out
from fexro.core.section.shapes import Circle, Rectangle
from fexro.core.strength.uniaxial import MomentRange, moment_curve, nominal
from tests.conftest import facts_of, make_column
from tests.core.test_transverse import checks_of

HEIGHT = 3400.0
SHAPE = Rectangle(width=500, depth=600)
CONCRETE = Concrete("concrete", 30.0)


def beam(side, hogging, sagging, section=None):
    moments = BeamMoments(section, hogging, sagging)
    return FramingMember(5e9, 7000.0, CONCRETE, side=side, moments=moments)


def actions_of(N, **beside):
    forces = np.zeros((len(N), 2, 6))
    forces[..., 0] = np.array(N)[:, None]
    return Actions(tuple(f"U{i}" for i in range(len(N))), forces, **beside)


def along_x(cross, *beams, above=None, level="high"):
    """A lift whose frame along x is ductile, with beams at the joint above."""
    column = None
    if above is not None:
        column = FramingMember(5e9, 4000.0, CONCRETE, "column", cross_section=above)
    top = End("framing", column=column, beams=beams)
    ductile = LiftDirection(4000.0, HEIGHT, top=top, sway="braced", factor=0.5, ductility=level)
    other = LiftDirection(4000.0, HEIGHT, sway="braced", factor=0.5)
    return {"about_x": other, "about_y": ductile}


def constant(moments):
    """What carries the same moments at any axial force."""

    def carried(cross, low, high):
        return MomentRange(np.zeros(1), np.array(moments)[:, None])

    return carried


# Senses


def test_each_sense_takes_the_compressed_faces_and_the_bent_beams_of_its_sway():
    # A column that carries 10 with +My and 20 with −My; towards +x its head has −My, the foot of
    # the lift above +My; the beam on +x sags, that on −x hogs.
    cross = make_column(SHAPE, "12 D25")
    sides = beam(1, 300.0, 100.0), beam(-1, 50.0, 7.0)
    facts = facts_of(cross, **along_x(cross, *sides, above=cross))
    actions = actions_of([1e6], above=(5e5, 5e5))
    carried = constant([0.0, 0.0, 10.0, 20.0])
    right, left = joints_at(facts, actions, 0, "top", carried, carried)
    assert (right.sense, right.columns, right.beams) == (1, (20.0, 10.0), (100.0, 50.0))
    assert (left.sense, left.columns, left.beams) == (-1, (10.0, 20.0), (300.0, 7.0))
    assert right.ratio == pytest.approx(30 / 150)
    assert left.name == "−x"


def test_a_joint_with_a_beam_of_unknown_strength_is_not_known():
    cross = make_column(SHAPE, "12 D25")
    unknown = replace(beam(-1, 1.0, 1.0), moments=None)
    facts = facts_of(cross, **along_x(cross, beam(1, 1.0, 1.0), unknown))
    carried = constant([1.0] * 4)
    assert joints_at(facts, actions_of([1e6]), 0, "top", carried, carried) is None
    # Nothing frames in along y.
    assert joints_at(facts, actions_of([1e6]), 1, "top", carried, carried) is None


# Beams


def hand_moment(width, d_tension, A_tension, d_other, A_other, f_c, f_y):
    """Nominal moment of a beam with two layers, by equilibrium of a stress block (ACI 22.2)."""
    beta = 0.85 if f_c <= 28 else max(0.85 - 0.05 * (f_c - 28) / 7, 0.65)

    def forces(c):
        a = beta * c
        found = [(0.85 * f_c * a * width, a / 2)]
        for d, area in ((d_tension, A_tension), (d_other, A_other)):
            stress = np.clip(200e3 * 0.003 * (c - d) / c, -f_y, f_y)
            found.append((area * (stress - (0.85 * f_c if d < a else 0.0)), d))
        return found

    c = brentq(lambda c: sum(force for force, _ in forces(c)), 5.0, 500.0)
    return -sum(force * arm for force, arm in forces(c))


def test_a_beam_hogs_and_sags_with_its_bars_by_hand():
    top, bottom = parse_call_out("5 D25"), parse_call_out("3 D20")
    section = beam_section(300, 600, top, bottom, 40.0, parse_ties("D10@150"))
    assert section.bars.y.max() == pytest.approx(300 - 40 - 10 - 12.5)
    assert section.bars.y.min() == pytest.approx(-300 + 40 + 10 + 10)
    cross = CrossSection(section, CONCRETE, ReinforcingSteel("steel", 420.0))
    found = moment_curve(nominal(ACI_SI.strength.of(cross))).between(0.0, 0.0)
    sagging, hogging = found.least(0)
    A_5, A_3 = 5 * np.pi * 25**2 / 4, 3 * np.pi * 20**2 / 4
    assert hogging == pytest.approx(hand_moment(300, 537.5, A_5, 60.0, A_3, 30, 420), rel=1e-4)
    assert sagging == pytest.approx(hand_moment(300, 540.0, A_3, 62.5, A_5, 30, 420), rel=1e-4)


# Codes


def test_strong_column_of_a_special_frame_by_hand():
    cross = make_column(SHAPE, "12 D25", ties="D12@100")
    beams = beam(1, 500e6, 300e6), beam(-1, 400e6, 250e6)
    actions = actions_of([1e6, 2e6], above=(8e5, 1.5e6))
    given = along_x(cross, *beams, above=cross)
    check = checks_of(ACI_SI, cross, actions, **given)["Strong column along x"]
    curve = moment_curve(nominal(ACI_SI.strength.of(cross)))
    below, above = curve.between(1e6, 2e6), curve.between(8e5, 1.5e6)
    columns = below.least(1)[0] + above.least(1)[0]
    # Towards +x: 300 sagging and 400 hogging; towards −x 500 and 250.
    assert check.values["found"].value == pytest.approx(columns / 750e6)
    assert check.ratio == pytest.approx(1.2 / (columns / 750e6))
    # The least over the axial forces is at one of their ends.
    ends = [curve.between(N, N).least(1)[0] for N in (1e6, 2e6)]
    assert below.least(1)[0] == pytest.approx(min(ends), rel=1e-6)


def test_beams_limit_the_shear_of_a_special_column():
    cross = make_column(SHAPE, "12 D25", ties="D12@100")
    free = along_x(cross)
    check = checks_of(ACI_SI, cross, actions_of([1e6]), **free)["Shear of end moments along x"]
    weak = along_x(cross, beam(1, 60e6, 60e6), beam(-1, 60e6, 60e6))
    capped = checks_of(ACI_SI, cross, actions_of([1e6]), **weak)["Shear of end moments along x"]
    # At the top no more than the beams' 120 kN·m; at the foot nothing limits it.
    whole = check.values["found"].value
    assert capped.values["found"].value == pytest.approx(whole / 2 + 120e6 / HEIGHT, rel=1e-6)


def test_a_column_that_ends_with_little_load_may_be_weak():
    cross = make_column(SHAPE, "4 D16", ties="D12@100")
    beams = beam(1, 900e6, 900e6), beam(-1, 900e6, 900e6)
    name = "Strong column along x"
    # Ag f'c/10 is 300 000·35/10 = 1050 kN.
    light = checks_of(ACI_SI, cross, actions_of([1.0e6]), **along_x(cross, *beams))[name]
    heavy = checks_of(ACI_SI, cross, actions_of([1.1e6]), **along_x(cross, *beams))[name]
    assert light.state is State.SATISFIED
    assert heavy.state is State.EXCEEDED


def test_columns_against_beams_to_en_by_hand():
    cross = make_column(SHAPE, "12 D25", ties="D10@100")
    beams = beam(1, 500e6, 300e6), beam(-1, 400e6, 250e6)
    actions = actions_of([1e6], above=(8e5, 8e5))
    given = along_x(cross, *beams, above=cross, level="medium")
    check = checks_of(EN_RECOMMENDED, cross, actions, **given)["Strong column along x"]
    strength = EN_RECOMMENDED.strength.of(cross)
    columns = sum(moment_curve(strength).between(N, N).least(1)[0] for N in (1e6, 8e5))
    assert check.values["found"].value == pytest.approx(columns / 750e6, rel=1e-6)
    assert check.values["limit"].value == 1.3
    top = along_x(cross, *beams, level="medium")
    exempt = checks_of(EN_RECOMMENDED, cross, actions_of([1e6]), **top)["Strong column along x"]
    assert exempt.state is State.SATISFIED


# What settles it


def test_what_settles_a_weak_column_does_and_a_step_less_does_not():
    cross = make_column(SHAPE, "8 D20", ties="D12@100")
    beams = beam(1, 450e6, 300e6), beam(-1, 450e6, 300e6)
    actions = actions_of([5e5], above=(4e5, 4e5))
    facts = facts_of(cross, **along_x(cross, *beams, above=cross))
    prepared = checks_of(ACI_SI, cross, actions, **along_x(cross, *beams, above=cross))
    check = prepared["Strong column along x"]
    assert check.state is State.EXCEEDED
    text = plain_text(check.derive(), UnitSystem.SI)
    assert "of bars in this lift" in text
    assert "deep along x" in text
    strength = nominal(ACI_SI.strength.of(cross))
    other = moment_curve(strength).between(4e5, 4e5).least(1)[0]

    def ratio(section):
        own = moment_curve(nominal(ACI_SI.strength.of(section))).between(5e5, 5e5).least(1)[0]
        return (own + other) / 750e6

    factor = next(f for f in np.arange(1.05, 4, 0.05) if ratio(strengthened(cross, f)) >= 1.2)
    area = f"{factor * cross.section.bars.total_area:,.0f}".replace(",", "\u202f")
    assert area.replace("\u202f", "")[:3] in text.replace("\u202f", "").replace("\u2009", "")
    depth = next(d for d in range(550, 1500, 50) if ratio(deepened(cross, 0, d)) >= 1.2)
    assert f"{depth} mm deep" in text.replace("\u202f", "").replace("\u2009", " ").replace(
        "\xa0", " "
    )
    assert facts.ductility == "high"


def test_a_deeper_section_keeps_its_cover():
    cross = make_column(SHAPE, "12 D25")
    deeper = deepened(cross, 1, 800.0).section
    assert deeper.outline.area == pytest.approx(500 * 800)
    assert deeper.bars.y.max() == pytest.approx(cross.section.bars.y.max() + 100)
    assert deeper.bars.x.tolist() == cross.section.bars.x.tolist()
    round_one = make_column(Circle(diameter=500), "8 D25")
    wider = deepened(round_one, 0, 600.0).section
    # The circle is drawn with corners, of which the box misses a tenth of a millimetre.
    reach = np.hypot(round_one.section.bars.x, round_one.section.bars.y) + 50
    assert np.hypot(wider.bars.x, wider.bars.y) == pytest.approx(reach, abs=0.1)
