"""Sections with structural steel and with several concretes: strength by two codes."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.audit.fibres import Fibres, fibre_utilisation
from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.codes.en1992_1_1.annex import RECOMMENDED
from fexro.core.codes.en1992_1_1.code import code_en
from fexro.core.errors import InputError
from fexro.core.facts import Concretes, CrossSection
from fexro.core.materials import Concrete, ReinforcingSteel, StructuralSteel
from fexro.core.quantities import UnitSystem
from fexro.core.section.areas import EmbeddedSteel
from fexro.core.section.bars import METRIC_SIZES, Bars, Ties
from fexro.core.section.call_out import parse_call_out
from fexro.core.section.layout import build_section, place_bars
from fexro.core.section.profiles import ChannelProfile, HollowProfile, IProfile, Plate, Tube
from fexro.core.section.shapes import Composed, Part, PolygonShape, Rectangle
from fexro.core.strength.utilisation import proportional

EN = code_en(UnitSystem.SI, RECOMMENDED)
TIES = Ties(METRIC_SIZES["D10"], 200.0)
C30, C50 = Concrete("C30/37", 30.0), Concrete("C50/60", 50.0)
BARS = ReinforcingSteel("B500B", 500.0)
S355 = StructuralSteel("S355", 355.0)
DEMANDS = np.array([[3e6, 2e8, 0.0], [1e6, 1.5e8, 1e8], [5e6, -1e8, 2e8], [-5e5, 1e8, 5e7]])


def write(value):
    return f"{value:g}"


def encased(concrete=C30, profile=None, steel=S355, bars=None, shape=None, angle=0.0, at=(0, 0)):
    profile = profile or Plate(120, 120)
    part = EmbeddedSteel(profile, steel, *at, angle=angle)
    shape = shape or Rectangle(400, 400)
    if bars is None:
        section = build_section(shape, 40.0, parse_call_out("8 D20"), TIES, steel=(part,))
    else:
        x, y, area = np.array(bars, dtype=float).T
        place = Bars(x, y, area, np.sqrt(4 * area / np.pi))
        section = place_bars(shape, 30.0, place, TIES, steel=(part,))
    return CrossSection(section, concrete, BARS)


@pytest.mark.parametrize(
    ("profile", "area", "second_x", "second_y"),
    [
        (Plate(120, 80), 9600, 80 * 120**3 / 12, 120 * 80**3 / 12),
        (
            HollowProfile(200, 150, 10),
            200 * 150 - 180 * 130,
            (150 * 200**3 - 130 * 180**3) / 12,
            (200 * 150**3 - 180 * 130**3) / 12,
        ),
        (
            Tube(300, 10),
            math.pi / 4 * (300**2 - 280**2),
            math.pi / 64 * (300**4 - 280**4),
            math.pi / 64 * (300**4 - 280**4),
        ),
        (
            IProfile(200, 180, 10, 15),
            2 * 180 * 15 + 170 * 10,
            (180 * 200**3 - 170 * 170**3) / 12,
            (2 * 15 * 180**3 + 170 * 10**3) / 12,
        ),
    ],
    ids=["plate", "hollow", "tube", "I"],
)
def test_profiles_have_their_closed_forms(profile, area, second_x, second_y):
    outline = profile.outline()
    assert outline.area == pytest.approx(area, rel=1e-9)
    assert outline.centroid == pytest.approx((0, 0), abs=1e-6)
    assert outline.inertia[:2] == pytest.approx((second_x, second_y), rel=1e-4)


def test_fillets_add_what_they_are():
    # Each fillet is a square less a quarter of a circle: (1 - π/4) r².
    with_root, without = IProfile(200, 200, 9, 15, 18), IProfile(200, 200, 9, 15)
    more = with_root.outline().area - without.outline().area
    assert more == pytest.approx(4 * (1 - math.pi / 4) * 18**2, rel=1e-9)
    # A rolled section of these sizes has 78.1 cm² and 5696 cm⁴ in the tables of EN 10365.
    assert with_root.outline().area == pytest.approx(7810, rel=1e-3)
    assert with_root.outline().inertia[0] == pytest.approx(56.96e6, rel=1e-3)
    channel = ChannelProfile(200, 75, 8.5, 11.5, 11.5)
    flat = ChannelProfile(200, 75, 8.5, 11.5)
    more = channel.outline().area - flat.outline().area
    assert more == pytest.approx(2 * (1 - math.pi / 4) * 11.5**2, rel=1e-9)


def test_profiles_that_cannot_be_are_refused():
    for make in (
        lambda: IProfile(200, 200, 9, 100),
        lambda: IProfile(200, 200, 250, 15),
        lambda: ChannelProfile(200, 75, 8, 11, 90),
        lambda: HollowProfile(200, 100, 50),
        lambda: Tube(100, 50),
    ):
        with pytest.raises(InputError, match="less than"):
            make()


def test_the_plastic_resistance_is_that_of_the_hand_calculation():
    # 400 × 400, solid core 120 × 120 S355, C30, 4 × 314 mm² fyk 500:
    # 14 400·355 + 0.85·20·(160 000 − 14 400 − 1256) + 1256·434.8 = 8112 kN by hand, of which bars
    # reach no more than Es·εc2 = 400 MPa at the uniform strain of the limit planes.
    cross = encased(bars=[(x, y, 314) for x in (-150, 150) for y in (-150, 150)])
    strength = EN.strength.of(cross)
    bars = 1256 * min(500 / 1.15, 0.002 * 200_000)
    expected = 14_400 * 355 + 17.0 * (160_000 - 14_400 - 1256) + bars
    assert strength.max_axial == pytest.approx(expected, rel=1e-9)
    plastic = expected + 1256 * (500 / 1.15 - 400)
    assert plastic / 1e3 == pytest.approx(8112, abs=1)
    assert strength.max_tension == pytest.approx(-(14_400 * 355 + 1256 * 500 / 1.15))


def test_the_cap_counts_the_core_to_350_mpa():
    cross = encased(bars=[(x, y, 314) for x in (-150, 150) for y in (-150, 150)])
    P_o = 0.85 * 30 * (160_000 - 14_400 - 1256) + 500 * 1256 + 350 * 14_400
    assert ACI_SI.strength.of(cross).max_axial == pytest.approx(0.65 * 0.85 * P_o)


def test_the_core_and_the_concrete_it_displaces_resist_by_plane_sections():
    # ACI, bending about x with c = 200 mm: by strips of 0.001 mm, independent of the engine.
    cross = encased()
    strength = ACI_SI.strength.of(cross)
    c, f_c = 200.0, 30.0
    beta = 0.85 - 0.05 * 2 / 7
    planes = strength.limit
    fraction = planes.fraction(np.array([c]), np.array([400.0]))
    point = strength.at(np.array([math.pi / 2]), fraction[:, None])
    y = np.arange(-200, 200, 0.001) + 0.0005
    strain = 0.003 * (1 - (200 - y) / c)
    width = np.where(np.abs(y) < 60, 280.0, 400.0)
    concrete = np.where(200 - y < beta * c, 0.85 * f_c, 0.0) * width
    core = np.where(np.abs(y) < 60, np.clip(210_000 * strain, -350, 350) * 120, 0.0)
    bars = cross.section.bars
    bar_strain = 0.003 * (1 - (200 - bars.y) / c)
    stress = np.clip(200_000 * bar_strain, -500, 500)
    stress -= np.where(200 - bars.y < beta * c, 0.85 * f_c, 0.0)
    axial = (concrete + core).sum() * 0.001 + (stress * bars.area).sum()
    moment = ((concrete + core) * y).sum() * 0.001 + (stress * bars.area * bars.y).sum()
    factor = float(strength.factor(np.array([bar_strain.min()]))[0])
    found = point.design[0, 0]
    assert float(found[0]) == pytest.approx(factor * axial, rel=1e-5)
    assert float(found[1]) == pytest.approx(factor * moment, rel=1e-5)


@pytest.mark.parametrize("code", [ACI_SI, EN], ids=["ACI", "EN"])
@pytest.mark.parametrize(
    "cross",
    [
        encased(),
        encased(profile=IProfile(240, 240, 10, 17, 21), shape=Rectangle(500, 600), angle=90.0),
        encased(profile=Tube(219, 8), at=(30.0, -20.0), shape=Rectangle(500, 500)),
        encased(profile=HollowProfile(200, 150, 10), angle=30.0, shape=Rectangle(500, 500)),
    ],
    ids=["core", "I turned", "tube aside", "hollow askew"],
)
def test_composite_sections_meet_the_second_opinion(code, cross):
    strength = code.strength.of(cross)
    ratios = proportional(strength, DEMANDS).ratio
    fibres = Fibres.of(strength)
    for demand, ratio in zip(DEMANDS, ratios, strict=True):
        assert fibre_utilisation(fibres, demand) == pytest.approx(ratio, rel=0.01)


def jacketed(core=C30, jacket=C50):
    """A column of 400 in a jacket to 600 of another concrete."""
    shape = Composed((Part(Rectangle(600, 600)), Part(Rectangle(400, 400), concrete="core")))
    section = build_section(shape, 40.0, parse_call_out("12 D25"), TIES)
    return CrossSection(section, jacket, BARS, Concretes({"core": core}))


@pytest.mark.parametrize("code", [ACI_SI, EN], ids=["ACI", "EN"])
def test_a_jacket_of_another_concrete(code):
    both = proportional(code.strength.of(jacketed()), DEMANDS).ratio
    # Of one concrete it is the plain section; of two it lies between.
    plain = [
        proportional(
            code.strength.of(
                CrossSection(
                    build_section(Rectangle(600, 600), 40.0, parse_call_out("12 D25"), TIES),
                    concrete,
                    BARS,
                )
            ),
            DEMANDS,
        ).ratio
        for concrete in (C30, C50)
    ]
    same = proportional(code.strength.of(jacketed(C50, C50)), DEMANDS).ratio
    np.testing.assert_allclose(same, plain[1], rtol=1e-9)
    pressed = DEMANDS[:, 0] > 0
    assert (both[pressed] < plain[0][pressed]).all()
    assert (both[pressed] > plain[1][pressed]).all()
    fibres = Fibres.of(code.strength.of(jacketed()))
    for demand, ratio in zip(DEMANDS, both, strict=True):
        assert fibre_utilisation(fibres, demand) == pytest.approx(ratio, rel=0.01)


def test_bars_keep_their_numbers_in_areas_of_several_concretes():
    from fexro.core.strength.state import SectionState, StrainPlane

    cross = jacketed()
    bars = cross.section.bars
    body = ACI_SI.strength.of(cross).body
    state = SectionState(body, StrainPlane(0.001, 2e-6, 1e-6))
    np.testing.assert_allclose(state.x, bars.x)
    np.testing.assert_allclose(state.area, bars.area)
    np.testing.assert_allclose(state.stress, np.clip(200_000 * state.strain, -500, 500))


@pytest.mark.parametrize("code", [ACI_SI, EN], ids=["ACI", "EN"])
def test_a_composed_section_is_the_polygon_it_makes(code):
    parts = (
        Part(Rectangle(700, 300)),
        Part(Rectangle(300, 700), 0.0, 100.0),
        Part(Rectangle(60, 120), 10.0, 290.0, how="cut"),
    )
    composed = Composed(parts)
    outer, *voids = composed.outline().rings
    polygon = PolygonShape(
        tuple(map(tuple, outer.tolist())), tuple(tuple(map(tuple, v.tolist())) for v in voids)
    )
    ratios = [
        proportional(
            code.strength.of(
                CrossSection(build_section(shape, 40.0, parse_call_out("16 D20"), TIES), C30, BARS)
            ),
            DEMANDS,
        ).ratio
        for shape in (composed, polygon)
    ]
    np.testing.assert_allclose(ratios[0], ratios[1], rtol=1e-9)


def test_loose_steel_is_refused():
    with pytest.raises(InputError, match=r"steel 1.*wholly inside the concrete"):
        encased(profile=Plate(120, 120), at=(150.0, 0.0))
    two = tuple(EmbeddedSteel(Plate(100, 100), S355, x) for x in (0.0, 60.0))
    with pytest.raises(InputError, match=r"steel 2.*overlap with steel 1"):
        build_section(Rectangle(600, 600), 40.0, parse_call_out("8 D20"), TIES, steel=two)
    with pytest.raises(InputError, match="overlap with steel 1"):
        encased(profile=Plate(300, 300))
    assert encased().section.steel[0].profile.label(write) == "plate 120 × 120"
