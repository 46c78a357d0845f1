"""Moments about one axis: what governs of many, and the depth of the neutral axis."""

from __future__ import annotations

import numpy as np
import pytest

from fexro.core.strength.slices import moments_about, moments_at
from fexro.core.strength.uniaxial import (
    SENSES,
    depth_curve,
    governing_moment,
    moments_in_sense,
)
from tests.acceptance.test_strength import CASES, code_of, column_of

# Sections of all shapes and codes, symmetric about both axes, one, or none.
SOME = [
    pytest.param(case, marks=() if i % 8 == 0 else pytest.mark.long) for i, case in enumerate(CASES)
]


def strength_of(case):
    return code_of(case).strength.of(column_of(case))


def loads(strength, axis, count=60, seed=5):
    """Axial forces within what is carried, and moments about an axis in both senses."""
    random = np.random.default_rng(seed)
    axial = random.uniform(0.6 * strength.max_tension, 0.8 * strength.max_axial, count)
    size = strength.mesh.scale[1 + axis]
    return axial, random.uniform(0.05, 1.0, count) * random.choice([-1.0, 1.0], count) * size


def carried(strength, axis, axial, moments):
    """What is carried in the sense of each moment, one by one."""
    return np.array(
        [
            moments_in_sense(strength, 2 * axis + int(m < 0), np.array([n]))[0]
            for n, m in zip(axial, moments, strict=True)
        ]
    )


@pytest.mark.parametrize("axis", [0, 1])
@pytest.mark.parametrize("strongest", [False, True])
@pytest.mark.parametrize("case", SOME, ids=lambda case: case["case"])
def test_the_moment_that_governs_is_the_worst_of_all(case, strongest, axis):
    strength = strength_of(case)
    axial, moments = loads(strength, axis)
    row, found = governing_moment(strength, axis, axial, moments, strongest=strongest)
    every = carried(strength, axis, axial, moments)
    share = every / np.abs(moments)
    best = share.max() if strongest else share.min()
    # Which it is is read off a mesh: another as near to it may be taken.
    assert share[row] == pytest.approx(best, rel=5e-3, abs=1e-9)
    assert found == pytest.approx(every[row], rel=1e-6, abs=1.0)


@pytest.mark.parametrize("case", SOME, ids=lambda case: case["case"])
def test_moments_off_the_mesh_are_about_those_of_the_surface(case):
    strength = strength_of(case)
    axial, _ = loads(strength, 0, 12)
    units = [SENSES[i % 4] for i in range(len(axial))]
    exactly, about = (one(strength, axial, units) for one in (moments_at, moments_about))
    size = strength.mesh.scale[1:].max()
    np.testing.assert_allclose(about, exactly, atol=0.03 * size)


def test_of_one_moment_it_is_that_one():
    strength = strength_of(CASES[0])
    axial, moments = loads(strength, 1, 1)
    row, found = governing_moment(strength, 1, axial, moments)
    assert row == 0
    assert found == pytest.approx(carried(strength, 1, axial, moments)[0])


@pytest.mark.parametrize("sense", range(4))
def test_with_more_axial_force_the_neutral_axis_is_deeper(sense):
    strength = strength_of(CASES[0])
    curve = depth_curve(strength, sense)
    axial = np.linspace(0.1, 0.9, 20) * strength.nominal_max_axial
    depths = curve.at(axial)
    assert (np.diff(depths) > 0).all()
    # Opposite senses of a section that is symmetric about the axis have the same.
    other = depth_curve(strength, sense ^ 1).at(axial)
    if strength.body.symmetry.point:
        np.testing.assert_allclose(depths, other, rtol=1e-6)
