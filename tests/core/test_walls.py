"""Rules of walls by hand: shear in the plane, joints, boundary elements, diagonals, strips."""

from __future__ import annotations

import math

import numpy as np
import pytest

from fexro.core.codes.aci318_19.bearing_walls import simplified_wall, slender_wall
from fexro.core.codes.aci318_19.boundary_elements import by_displacement
from fexro.core.codes.aci318_19.coupling_beams import DiagonalBars, diagonal_beam
from fexro.core.codes.aci318_19.edition import IN_LB_EDITION, SI_EDITION
from fexro.core.codes.aci318_19.shear_friction import shear_friction
from fexro.core.codes.aci318_19.special_walls import design_shear
from fexro.core.codes.aci318_19.wall_shear import wall_shear
from fexro.core.codes.en1992_1_1.plain_walls import plain_wall
from fexro.core.codes.wall_flanges import flanges_of
from fexro.core.section.shapes.legs import Leg, Legs
from fexro.core.sizing.curtains import required_ratio

KIP, KSI, IN = 4448.2216, 6.894757, 25.4
NONE = np.zeros(1)


# Shear in the plane, ACI 318-19, 11.5.4


@pytest.mark.parametrize(("aspect", "kN"), [(1.2, 2419), (1.75, 2200), (3.0, 1981)])
def test_shear_strength_falls_with_the_height_of_the_wall(aspect, kN):
    # (α_c √30 + 0.0025 · 420) · 250 · 4000, α_c 0.25, 0.21 and 0.17.
    found = wall_shear(
        None, SI_EDITION, (250, 4000, aspect), (30, 1.0), (0.0025, 420), (NONE, NONE + 1e6)
    )
    assert float(found.strength[0]) / 1e3 == pytest.approx(kN, abs=0.6)
    assert found.largest / 1e3 == pytest.approx(3615, abs=0.6)


def test_shear_strength_in_inches_and_pounds():
    found = wall_shear(
        None,
        IN_LB_EDITION,
        (10 * IN, 160 * IN, 2.0),
        (4 * KSI, 1.0),
        (0.0025, 60 * KSI),
        (NONE, NONE + 1.0),
    )
    # By hand: (2 √4000 + 0.0025 · 60 000) · 1600 = 442.4 kip, at most 8 √4000 · 1600 = 809.5.
    assert float(found.strength[0]) / KIP == pytest.approx(442.4, abs=0.05)
    assert found.largest / KIP == pytest.approx(809.5, abs=0.05)


def test_tension_takes_the_concrete_out_of_the_shear_strength():
    # By hand: α_c = 0.17 (1 − 3 / 3.5) at −3 MPa; at −4 MPa nothing is left.
    axial = np.array([0.0, -3e6, -4e6])
    found = wall_shear(
        None, SI_EDITION, (250, 4000, 3.0), (25, 1.0), (0.0025, 420), (axial, np.zeros(3))
    )
    bars = 0.0025 * 420 * 1e6
    expected = bars + np.array([0.17, 0.17 * (1 - 3 / 3.5), 0.0]) * 5 * 1e6
    np.testing.assert_allclose(found.strength, expected, rtol=1e-9)


# Shear friction, 22.9


@pytest.mark.parametrize(
    ("surface", "mu", "largest"),
    [
        # By hand, f'c 30, Ac 10⁶: min(0.2 · 30, 3.3 + 0.08 · 30, 11) and min(0.2 · 30, 5.5).
        ("roughened", 1.0, 5.7e6),
        ("not roughened", 0.6, 5.5e6),
    ],
)
def test_a_joint_resists_by_friction(surface, mu, largest):
    axial = np.array([0.0, 1e6, -0.5e6, -5e6, 20e6])
    found = shear_friction(
        None, SI_EDITION, 1e6, (30, 1.0), (3000, 420), (axial, np.full(5, 1e6)), surface
    )
    by_hand = np.clip(mu * (3000 * 420 + axial), 0, largest)
    np.testing.assert_allclose(found.strength, by_hand)
    assert found.ratio[0] == pytest.approx(1e6 / (0.75 * by_hand[0]))
    # Where tension exceeds what the bars carry, nothing is left to press the joint together.
    assert np.isinf(found.ratio[3])


# Boundary elements, design shear and diagonals, 18.10


def test_a_boundary_element_by_displacement():
    found = by_displacement(
        *(None, SI_EDITION, (300, 6000, 30_000), 1200, 300, 30),
        (0.5 * 0.66 * math.sqrt(30) * 300 * 6000, 0.5 * 0.66 * math.sqrt(30) * 300 * 6000, 1e10),
        300,
    )
    assert found.depth_limit == pytest.approx(667, abs=0.4)
    assert found.needed
    assert found.length == pytest.approx(600)
    # By hand: √(1200 · 6000 · 0.025) = 424 mm, more than there is, so the drift decides.
    assert found.stable_width == pytest.approx(424, abs=0.4)
    assert found.capacity == pytest.approx(0.019, abs=3e-4)


def test_the_design_shear_of_a_tall_special_wall():
    # Eight storeys of 3.5 m, ℓw 6 m: Ωv = max(Mpr/Mu, 1.5), ωv = 1.3 + 8/30.
    found = design_shear(None, SI_EDITION, (6000, 28_000, 8), (1e6, 1e9, 1.3e9))
    assert found.overstrength == 1.5
    assert found.dynamic == pytest.approx(1.3 + 8 / 30)
    assert found.amplification == pytest.approx(2.35)
    # No fewer storeys count than 0.00028 of the height: 8.4 in 30 m.
    higher = design_shear(None, SI_EDITION, (6000, 30_000, 8), (1e6, 1e9, 1.3e9))
    assert higher.dynamic == pytest.approx(1.3 + 8.4 / 30)


def test_diagonals_by_hand():
    bars = DiagonalBars(
        *(2580, 28.7, math.radians(20), "section", 40, 420, 100, None, 200),
    )
    found = diagonal_beam(None, SI_EDITION, (300, 900), (30, 420), bars, 600e3)
    assert found.of_bars / 1e3 == pytest.approx(741, abs=0.5)
    assert found.largest / 1e3 == pytest.approx(1227, abs=0.8)
    assert found.ratio == pytest.approx(600 / (0.85 * 741.2), rel=1e-3)


# Bent out of plane, 11.5.3 and 11.8


def test_the_simplified_method():
    # A metre of 200 mm, 3.6 m high: 0.55 · 25 · 200 000 (1 − (0.8 · 3600 / (32 · 200))²).
    found = simplified_wall(None, (200, 1000, 3600), 25, "restrained", (500e3, 0.0))
    assert found.strength / 1e3 == pytest.approx(2193, abs=0.5)
    assert found.design / 1e3 == pytest.approx(1426, abs=0.7)


def test_the_alternative_method():
    found = slender_wall(
        *(None, SI_EDITION, (150, 75, 1000, 6000)),
        (28, 1.0, 4700 * math.sqrt(28), 420, 200_000),
        500,
        (40e3, 8e6),
        (30e3, 5e6),
    )
    assert found.steel == pytest.approx(595.2, abs=0.1)
    assert found.depth == pytest.approx(12.36, abs=0.01)
    assert found.cracked / 1e6 == pytest.approx(19.41, abs=0.02)
    assert found.moment / 1e6 == pytest.approx(13.66, abs=0.02)
    assert found.deflection == pytest.approx(141, abs=0.6)
    assert found.cracking / 1e6 == pytest.approx(12.30, abs=0.02)
    assert found.design / 1e6 == pytest.approx(15.69, abs=0.03)


def test_a_plain_wall_by_the_european_rules():
    # fck 20, h 200, l0 2550 (0.85 of 3 m), e0 20: etot 20 + 2550/400, Φ by (12.11).
    found = plain_wall(
        None,
        (200, 3000, 6000, 1000),
        (20, 0.8, 1.5),
        "two edges",
        (500e3, 20),
        monolithic=True,
    )
    assert found.length == pytest.approx(2550)
    assert found.eccentricity == pytest.approx(26.4, abs=0.05)
    assert found.buckling == pytest.approx(0.584, abs=1e-3)
    assert found.resistance / 1e3 == pytest.approx(1247, abs=2)


# Required steel


def test_the_least_steel_is_found_past_a_gap():
    # Utilisation falls, rises above one between 0.01 and 0.02, and falls again.
    def utilisation(rho):
        return 1.2 - 40 * rho if rho < 0.01 else (1.3 if rho < 0.02 else 0.9)

    found = required_ratio(utilisation)
    # By hand: 1.2 − 40 ρ = 1.
    assert found.ratio == pytest.approx(0.005)
    ((low, high),) = found.gaps
    assert 0.01 <= low <= high <= 0.02
    assert required_ratio(lambda rho: 2.0).ratio is None
    assert required_ratio(lambda rho: 0.5).ratio == 0.0025


# Flanges, ACI 318-19, 18.10.5.2


def flanges(*legs):
    found = flanges_of(Legs(tuple(Leg(*leg) for leg in legs)))
    return [(one.leg, one.projection, one.half) for one in found]


def test_flanges_reach_from_the_faces_of_their_webs():
    # A channel of 5 m and 3 m, 300 thick: the back is a flange between both sides, each of these
    # a flange of the back.
    sides = flanges((0, 0, 5000, 0, 300), (0, 0, 0, 3000, 300), (5000, 0, 5000, 3000, 300))
    assert sides == [(0, 4700, 2350), (1, 2850, math.inf), (2, 2850, math.inf)]
    # A T: the flange of 4 m reaches to both sides of the web of 200 at 1 m; the web is the flange
    # of the other.
    tee = flanges((0, 0, 4000, 0, 250), (1000, 0, 1000, -3000, 200))
    assert tee == [(0, 900, math.inf), (0, 2900, math.inf), (1, 2875, math.inf)]
    assert flanges((0, 0, 4000, 0, 250)) == []
