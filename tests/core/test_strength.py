"""The strength engine: independent fibres, and properties that hold for any section."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fexro.core.codes.aci318_19.code import ACI_SI
from fexro.core.facts import CrossSection
from fexro.core.section.outline import Outline
from fexro.core.section.section import Section
from fexro.core.section.shapes import Circle, HollowRectangle, LShape, PolygonShape, Rectangle
from fexro.core.strength.body import Body, Region
from fexro.core.strength.integration import resultants
from fexro.core.strength.laws import (
    Constant,
    ElasticPlastic,
    PiecewiseLaw,
    Smooth,
    parabola_rectangle,
    uniform_block,
)
from fexro.core.strength.slices import meridian, moments_at
from fexro.core.strength.starts import encloses_origin, frame, weights
from fexro.core.strength.utilisation import constant_axial, proportional
from tests.conftest import fibre_resultants, make_column

# Walls that are thin for their length: the surface bends sharply where one of them is level.
CHANNEL = PolygonShape(
    outer=(
        *((0, 0), (4000, 0), (4000, 3000), (3700, 3000)),
        *((3700, 300), (300, 300), (300, 3000), (0, 3000)),
    )
)
SHAPES = {
    "rectangle": (Rectangle(width=500, depth=700), "12 D25"),
    "circle": (Circle(diameter=600), "8 D25"),
    "L": (LShape(width=600, depth=600, leg=250), "10 D25"),
    "hollow": (HollowRectangle(width=900, depth=700, wall=200), "16 D25"),
    "channel": (CHANNEL, "80 D20"),
}
DEMANDS = np.array(
    [
        [2.5e6, 4e8, 1e8],
        [1.0e6, -2e8, 3e8],
        [4.0e6, 1e8, -1e8],
        [-5e5, 1e8, 5e7],
        [0.0, 2e8, 0.0],
        [0.0, -1e8, -2e8],
        [3e6, 0.0, 0.0],
        [-8e5, 0.0, 0.0],
    ]
)
kilo = st.floats(-1.0, 1.0)


def moved(
    column: CrossSection, matrix: np.ndarray, shift: tuple[float, float] = (0.0, 0.0)
) -> CrossSection:
    """The column with its coordinates multiplied by a matrix and shifted."""
    section = column.section
    rings = [ring @ matrix.T + shift for ring in section.outline.rings]
    x, y = matrix @ np.array([section.bars.x, section.bars.y])
    bars = replace(section.bars, x=x + shift[0], y=y + shift[1])
    outline = Outline.from_polygons(rings[:1], rings[1:])
    return replace(column, section=Section(outline, bars, section.ties, section.cover))


def ratios(column: CrossSection, demands: np.ndarray) -> np.ndarray:
    """Utilisations where bars displace no concrete.

    Deducting the displaced concrete all at once folds the surface by parts in a thousand where a
    bar enters the block; the properties below are those of the engine without that fold.
    """
    strength = ACI_SI.strength.of(column)
    body = strength.body
    plain = Body(body.regions, [replace(bars, displaced=None) for bars in body.bars], body.centre)
    return proportional(replace(strength, body=plain), demands).ratio


@pytest.mark.parametrize("name", SHAPES)
@pytest.mark.parametrize(("angle", "depth"), [(0.3, 0.4), (1.9, 0.8), (3.6, 0.15), (5.5, 1.6)])
def test_resultants_agree_with_fibres(name, angle, depth):
    column = make_column(*SHAPES[name])
    strength = ACI_SI.strength.of(column)
    lowest, highest = (float(v[0]) for v in strength.body.extent(np.array([angle])))
    curvature = 0.003 / (depth * (highest - lowest))
    strain = 0.003 - curvature * highest
    found = resultants(
        strength.body, np.array([angle]), np.array([[strain]]), np.array([[curvature]])
    )[0, 0]
    # f'c 35: β1 = 0.80, so that the block begins where the strain is 0.2 · 0.003.
    expected = fibre_resultants(column, angle, strain, curvature, 0.85 * 35, 0.2 * 0.003)
    np.testing.assert_allclose(
        found / strength.mesh.scale, expected / strength.mesh.scale, atol=2e-3
    )


def test_a_law_added_here_needs_no_change_in_the_engine():
    # A law that rises as ε² and falls to zero: over a rectangle the integrals are elementary.
    rising = Smooth(0.0, 0.002, lambda e: 30.0 * (e / 0.002) ** 2, degree=2)
    falling = Smooth(0.002, 0.004, lambda e: 30.0 * (0.004 - e) / 0.002, degree=1)
    outline = Rectangle(width=300, depth=400).outline()
    body = Body([Region(outline, PiecewiseLaw((rising, falling)))], [], (0.0, 0.0))
    # Strain 0 at the lower edge and 0.004 at the upper: 0.002 at mid-depth.
    found = resultants(body, np.array([np.pi / 2]), np.array([[0.002]]), np.array([[1e-5]]))[0, 0]
    # N = b·h/2·(30/3 + 30/2); M from the centroids 3/4 and 1/3 of the halves.
    below, above = 300 * 200 * 10.0, 300 * 200 * 15.0
    moment = below * (-200 + 0.75 * 200) + above * (200 / 3)
    np.testing.assert_allclose(found, [below + above, moment, 0.0], atol=1e-3)


@pytest.mark.parametrize("exponent", [1.4, 1.6, 2.0])
def test_parabola_rectangle_over_a_rectangle(exponent):
    law = parabola_rectangle(20.0, 0.002, exponent)
    body = Body([Region(Rectangle(width=300, depth=400).outline(), law)], [], (0.0, 0.0))
    # The strain runs from 0 to 0.004: the lower half rises, the upper is full.
    found = resultants(body, np.array([np.pi / 2]), np.array([[0.002]]), np.array([[1e-5]]))[0, 0]
    # ∫ 1 − (1 − x)^n dx from 0 to 1 is n/(n + 1); ∫ x (1 − (1 − x)^n) dx is
    # 1/2 − 1/((n + 1)(n + 2)).
    n = exponent
    rising, full = 300 * 200 * 20 * n / (n + 1), 300 * 200 * 20.0
    lever = 300 * 20 * 200**2 * (0.5 - 1 / ((n + 1) * (n + 2)))
    moment = -200 * rising + lever + 100 * full
    np.testing.assert_allclose(found, [rising + full, moment, 0.0], atol=1e-3)
    # The same by Gauss points, and in a direction in which every edge is cut.
    smooth = Smooth(0.0, 0.002, lambda e: 20 * (1 - (1 - e / 0.002) ** n), degree=40)
    full_law = uniform_block(20.0, 0.002)
    other = Body(
        [
            Region(
                Rectangle(width=300, depth=400).outline(), PiecewiseLaw((smooth, *full_law.pieces))
            )
        ],
        [],
        (0.0, 0.0),
    )
    planes = np.array([0.4]), np.array([[0.0012]]), np.array([[1e-5]])
    np.testing.assert_allclose(resultants(body, *planes), resultants(other, *planes), rtol=1e-6)


def test_parts_of_different_concrete_add_up():
    low = Outline.from_polygons([np.array([[0, 0], [400, 0], [400, 200], [0, 200]], float)], [])
    high = Outline.from_polygons(
        [np.array([[0, 200], [400, 200], [400, 500], [0, 500]], float)], []
    )
    body = Body(
        [Region(low, uniform_block(20.0, 0.0)), Region(high, uniform_block(50.0, 0.0))],
        [],
        (200.0, 250.0),
    )
    found = resultants(body, np.zeros(1), np.full((1, 1), 0.001), np.zeros((1, 1)))[0, 0]
    lower, upper = 400 * 200 * 20.0, 400 * 300 * 50.0
    np.testing.assert_allclose(found, [lower + upper, lower * -150 + upper * 100, 0], atol=1e-3)


@settings(max_examples=25, deadline=None)
@given(n=st.floats(-0.3, 1.2), mx=kilo, my=kilo, name=st.sampled_from(sorted(SHAPES)))
def test_reflection_changes_only_the_sign_of_a_moment(n, mx, my, name):
    column = make_column(*SHAPES[name])
    demand = np.array([[n * 4e6, mx * 5e8, my * 5e8]])
    mirrored = moved(column, np.diag([-1.0, 1.0]), (50.0, -20.0))
    np.testing.assert_allclose(
        ratios(column, demand), ratios(mirrored, demand * [1, 1, -1]), rtol=1e-6
    )


@pytest.mark.long
@settings(max_examples=40, deadline=None)
@given(n=st.floats(-0.3, 1.2), mx=kilo, my=kilo)
def test_the_fold_where_bars_enter_the_block_stays_small(n, mx, my):
    column = make_column(*SHAPES["rectangle"])
    demand = np.array([[n * 4e6, mx * 5e8, my * 5e8]])
    mirrored = moved(column, np.diag([-1.0, 1.0]))
    there = proportional(ACI_SI.strength.of(column), demand).ratio
    back = proportional(ACI_SI.strength.of(mirrored), demand * [1, 1, -1]).ratio
    np.testing.assert_allclose(there, back, rtol=5e-3)


@settings(max_examples=25, deadline=None)
@given(turn=st.floats(0, 6.28), mx=kilo, my=kilo, name=st.sampled_from(sorted(SHAPES)))
def test_rotation_turns_the_moments_with_it(turn, mx, my, name):
    column = make_column(*SHAPES[name])
    cos, sin = np.cos(turn), np.sin(turn)
    demand = np.array([[1.5e6, mx * 5e8, my * 5e8]])
    # The compressed side turns with the section: (My, Mx) is a vector in (x, y).
    turned = np.array([[1.5e6, sin * my * 5e8 + cos * mx * 5e8, cos * my * 5e8 - sin * mx * 5e8]])
    rotated = moved(column, np.array([[cos, -sin], [sin, cos]]))
    np.testing.assert_allclose(ratios(column, demand), ratios(rotated, turned), rtol=1e-5)


@settings(max_examples=15, deadline=None)
@given(size=st.floats(0.5, 4.0), name=st.sampled_from(sorted(SHAPES)))
def test_a_section_of_another_size_carries_forces_in_proportion(size, name):
    column = make_column(*SHAPES[name])
    larger = moved(column, np.diag([size, size]))
    bars = larger.section.bars
    larger = replace(
        larger, section=replace(larger.section, bars=replace(bars, area=bars.area * size**2))
    )
    scaled = DEMANDS * [size**2, size**3, size**3]
    np.testing.assert_allclose(ratios(column, DEMANDS), ratios(larger, scaled), rtol=1e-5)


@settings(max_examples=15, deadline=None)
@given(order=st.permutations(range(10)))
def test_the_order_of_bars_does_not_matter(order):
    column = make_column(*SHAPES["L"])
    bars, index = column.section.bars, np.array(order)
    shuffled = replace(
        bars, x=bars.x[index], y=bars.y[index], area=bars.area[index], diameter=bars.diameter[index]
    )
    other = replace(column, section=replace(column.section, bars=shuffled))
    np.testing.assert_allclose(ratios(column, DEMANDS), ratios(other, DEMANDS), rtol=1e-8)


@settings(max_examples=20, deadline=None)
@given(scale=st.floats(0.01, 20.0), name=st.sampled_from(sorted(SHAPES)))
def test_utilisation_is_proportional_to_the_demand(scale, name):
    column = make_column(*SHAPES[name])
    np.testing.assert_allclose(
        ratios(column, DEMANDS * scale), ratios(column, DEMANDS) * scale, rtol=1e-6
    )


@pytest.mark.parametrize("name", SHAPES)
def test_capacity_lies_on_the_ray_and_uses_itself_up(name):
    strength = ACI_SI.strength.of(make_column(*SHAPES[name]))
    found = proportional(strength, DEMANDS)
    np.testing.assert_allclose(found.capacity * found.ratio[:, None], DEMANDS, atol=1e-3)
    np.testing.assert_allclose(proportional(strength, found.capacity).ratio, 1.0, rtol=1e-6)


@pytest.mark.parametrize("name", SHAPES)
def test_on_the_surface_both_utilisations_are_one(name):
    strength = ACI_SI.strength.of(make_column(*SHAPES[name]))
    bent = DEMANDS[:3]
    on_surface = constant_axial(strength, bent).capacity
    np.testing.assert_allclose(proportional(strength, on_surface).ratio, 1.0, rtol=2e-5)


def test_special_demands(rectangle):
    strength = ACI_SI.strength.of(rectangle)
    top, tension = strength.max_axial, strength.max_tension
    demands = np.array(
        [[0, 0, 0], [top, 0, 0], [tension, 0, 0], [2 * top, 1e8, 0], [2 * tension, 0, 0]]
    )
    along = proportional(strength, demands.astype(float))
    assert along.ratio[0] == 0
    np.testing.assert_allclose(along.ratio[1:3], 1.0, rtol=1e-6)
    assert along.capped[1]
    assert along.ratio[3] == pytest.approx(2.0)
    assert along.ratio[4] == pytest.approx(2.0, rel=1e-6)
    held = constant_axial(strength, demands.astype(float)).ratio
    assert list(held[:3]) == [0, 0, 0]
    assert np.isnan(held[3:]).all()


@pytest.mark.parametrize("name", SHAPES)
def test_points_of_a_rough_meridian_lie_on_the_design_surface(name):
    # It has fewer points, none of them less exact; only the corner at the cap is read off. As on
    # the full curve, a point where the surface jumps may be off the plane by a hair.
    strength = ACI_SI.strength.of(make_column(*SHAPES[name]))
    angle = 0.7
    curve = meridian(strength, angle, rough=True)
    unit = np.array([np.cos(angle), np.sin(angle)])
    for path in (curve.design_right, curve.design_left):
        assert len(path) > 10
        points = np.column_stack([path[1:-1, 0], np.outer(path[1:-1, 1], unit)])
        np.testing.assert_allclose(proportional(strength, points).ratio, 1.0, rtol=2e-4)
    assert np.isnan(curve.bending)


def test_meridian_points_lie_on_the_design_surface():
    strength = ACI_SI.strength.of(make_column(*SHAPES["L"]))
    angle = 0.7
    curve = meridian(strength, angle)
    unit = np.array([np.cos(angle), np.sin(angle)])
    for path in (curve.design_right, curve.design_left):
        points = np.column_stack([path[5:-1:9, 0], np.outer(path[5:-1:9, 1], unit)])
        np.testing.assert_allclose(proportional(strength, points).ratio, 1.0, rtol=1e-4)
    bent = np.array([[1e6, *unit * 1e6], [0.0, *unit * 1e6]])
    held = constant_axial(strength, bent).capacity[:, 1:] @ unit
    np.testing.assert_allclose(moments_at(strength, bent[:, 0], [unit, unit]), held, rtol=1e-6)
    assert curve.bending == pytest.approx(held[1])


def test_steel_is_elastic_then_yields():
    law = ElasticPlastic(200_000, 420)
    np.testing.assert_allclose(
        law.stress(np.array([-0.01, -0.001, 0.002, 0.01])), [-420, -200, 400, 420]
    )


@pytest.mark.parametrize("name", SHAPES)
def test_many_demands_answer_as_few_do(name):
    # Many rays are led to their cell another way than few.
    strength = ACI_SI.strength.of(make_column(*SHAPES[name]))
    random = np.random.default_rng(5)
    demands = random.normal(size=(900, 3)) * strength.mesh.scale
    together = proportional(strength, demands).ratio
    apart = np.concatenate(
        [proportional(strength, demands[i : i + 90]).ratio for i in range(0, 900, 90)]
    )
    assert np.isfinite(together).all()
    # But for the fold where a bar enters the block, whose sheets lie parts in a thousand apart.
    np.testing.assert_allclose(together, apart, rtol=5e-3)
    assert np.isclose(together, apart, rtol=1e-6).mean() > 0.98


@pytest.mark.parametrize("bars", ["12 D25", "8 D32", "20 D16"])
def test_beside_steps_the_nearest_sheet_counts(bars):
    """Against a fine sweep of the neutral axis, in bending about x of a symmetric section."""
    strength = ACI_SI.strength.of(make_column(Rectangle(width=500, depth=700), bars))
    fraction = np.linspace(0.02, 0.98, 400_001)
    swept = strength.at(np.array([np.pi / 2]), fraction[None, :]).design[0, :, :2]
    turn = np.arctan2(*(swept / strength.mesh.scale[:2]).T[::-1])
    reach = np.hypot(*(swept / strength.mesh.scale[:2]).T)
    # Rows of bars enter the block of 35 MPa where 0.80 c is their depth; c = 1050 f / (1 - f).
    rows = np.unique(strength.body.bar_points[:, 1].round(6))
    depth = (350.0 - rows) / (0.80 * 1050.0)
    steps = np.searchsorted(fraction, depth / (1 + depth)) - 1
    steps = steps[swept[steps, 0] < 0.97 * strength.max_axial]
    ahead = np.diff(turn)[steps]
    assert len(steps) > 1
    for step, jump in zip(steps, ahead, strict=True):
        # Between both ends of the jump the sheets before and behind it overlap.
        for share in (-0.4, 0.2, 0.5, 0.8, 1.4):
            ray = turn[step] + share * jump
            met = np.flatnonzero((turn[:-1] - ray) * (turn[1:] - ray) <= 0)
            met = met[met != step]
            assert len(met) == (2 if 0 < share < 1 else 1)
            nearest = np.minimum(reach[met], reach[met + 1]).min()
            demand = nearest * np.array([np.cos(ray), np.sin(ray), 0.0]) * strength.mesh.scale
            found = proportional(strength, demand[None])
            # An axis a little aslant, with only some bars of a row inside, may be nearer still;
            # then the surface itself is there.
            assert found.ratio[0] > 1 - 5e-5
            point = strength.at(found.angle, found.fraction[:, None]).design[0, 0]
            size = strength.mesh.scale
            np.testing.assert_allclose(point / size, found.capacity[0] / size, rtol=0, atol=1e-6)


@pytest.mark.parametrize("name", SHAPES)
def test_many_rays_agree_with_their_neighbours_found_alone(name):
    """Whatever is solved together, each demand has the answer it has alone."""
    strength = ACI_SI.strength.of(make_column(*SHAPES[name]))
    random = np.random.default_rng(11)
    demands = random.uniform([-0.1, -0.5, -0.5], [0.5, 0.5, 0.5], (300, 3)) * strength.mesh.scale
    together = proportional(strength, demands)
    for i in range(0, 300, 23):
        alone = proportional(strength, demands[i : i + 1])
        assert alone.ratio[0] == pytest.approx(together.ratio[i], rel=1e-7)
    # And each capacity lies on the surface: it uses itself up, or is held by the cap.
    np.testing.assert_allclose(
        proportional(strength, together.capacity).ratio, 1.0, rtol=0, atol=1e-6
    )


@pytest.mark.parametrize("name", SHAPES)
def test_no_sheet_is_nearer_than_the_one_that_counts(name):
    """Against the mesh of the surface: no point of it in a ray's direction lies well inside."""
    strength = ACI_SI.strength.of(make_column(*SHAPES[name]))
    mesh = strength.grid(36, 40).points
    strain = strength.body.bar_strains(
        strength.body.turn(mesh.angle[:, None]), mesh.centre_strain, mesh.curvature
    )
    # Of bars that lie on the edge of the block, rounding decides which are inside.
    step = strength.body.bars[0].displaced.steps[0]
    clear = np.abs(strain - step).min(axis=0) > 1e-12
    points = mesh.design[clear & (mesh.design[..., 0] < 0.99 * strength.max_axial)]
    ratio = proportional(strength, points).ratio
    # A point on a farther sheet is beyond the capacity; none is short of it.
    assert ratio.min() > 1 - 1e-6
    assert np.median(ratio) < 1 + 1e-6


@pytest.mark.long
@pytest.mark.parametrize(
    ("shape", "bars"),
    [
        (Rectangle(width=400, depth=400), "8 D32"),
        (Circle(diameter=600), "12 D25"),
        (LShape(width=700, depth=700, leg=300), "16 D25"),
    ],
)
def test_where_sheets_overlap_a_fine_mesh_finds_none_nearer(shape, bars):
    """Against triangles of a mesh of the neighbourhood, of which none spans a step."""
    strength = ACI_SI.strength.of(make_column(shape, bars))
    size = strength.mesh.scale
    random = np.random.default_rng(3)
    demands = random.uniform([0.0, -0.5, -0.5], [0.5, 0.5, 0.5], (400, 3)) * size
    demands[::2, 1] = 0.0
    found = proportional(strength, demands)
    strain = strength.bar_strains(strength.body.turn(found.angle[None]), found.fraction)[:, 0]
    step = strength.body.bars[0].displaced.steps[0]
    beside = np.flatnonzero((np.abs(strain - step).min(axis=0) < 2e-5) & ~found.capped)
    overlaps = 0
    assert len(beside) > 5
    for i in beside[:12]:
        angle = found.angle[i] + np.linspace(-0.04, 0.04, 201)
        fraction = np.clip(found.fraction[i] + np.linspace(-0.01, 0.01, 201), 0, 1)
        points = strength.at(angle, np.broadcast_to(fraction, (201, 201)))
        turned = strength.body.turn(angle[:, None])
        inside = strength.body.bar_strains(turned, points.centre_strain, points.curvature) >= step
        sheet = (2.0 ** np.arange(len(inside)) @ inside.reshape(len(inside), -1)).reshape(201, 201)
        rays, length = frame(strength, np.zeros((1, 3)), demands[i : i + 1] / size)
        located = rays.locate(np.moveaxis(points.design / size, -1, 0)[:, None])[:, 0]
        near = []
        for second, third in (((1, 0), (1, 1)), ((1, 1), (0, 1))):
            ends = [np.s_[a : 200 + a, b : 200 + b] for a, b in ((0, 0), second, third)]
            corners = np.stack([located[:, rows, columns] for rows, columns in ends], axis=-1)
            alike = np.ptp(np.stack([sheet[end] for end in ends]), axis=0) == 0
            met = corners[:, encloses_origin(corners) & alike]
            near.extend(length[0] / (weights(met) * met[2]).sum(axis=-1))
        overlaps += len(near) > 1
        assert not near or max(near) < found.ratio[i] * (1 + 2e-6)
    assert overlaps


def test_displaced_concrete_that_jumps_and_goes_on_changing():
    """A law of bars' concrete with a jump and a slope: each capacity lies on the surface."""
    strength = ACI_SI.strength.of(make_column(*SHAPES["rectangle"]))
    broken = PiecewiseLaw(
        (
            Constant(0.0008, np.inf, 25.0),
            Smooth(0.0008, 0.003, lambda strain: 3000.0 * (strain - 0.0008), 1),
        )
    )
    bars = [replace(bars, displaced=broken) for bars in strength.body.bars]
    body = Body(strength.body.regions, bars, strength.body.centre)
    assert body.largest_step > 0
    assert not broken.steady
    strength = replace(strength, body=body)
    random = np.random.default_rng(2)
    demands = random.uniform([0.0, -0.5, -0.5], [0.5, 0.5, 0.5], (300, 3)) * strength.mesh.scale
    found = proportional(strength, demands)
    size = strength.mesh.scale
    there = strength.at(found.angle, found.fraction[:, None]).design[:, 0]
    off = np.abs((there - found.capacity) / size).max(axis=1)[~found.capped]
    # But for the few rays that pass between two sheets.
    assert (off < 1e-6).mean() > 0.97
    assert off.max() < 1e-2
