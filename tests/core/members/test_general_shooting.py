"""The general method against another way: shooting along the lift, its end slope in command.

The section is cut into strips with laws written here (EN 1992-1-1, 3.1.7 and 3.2.7); for each slope
at the foot that load is sought which brings the lift back to its axis at the top. The first load
that does not grow any more, or strains the concrete to its end, is what the lift carries.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import pytest

from fexro.core.codes.en1992_1_1.code import EN_RECOMMENDED
from fexro.core.errors import ConvergenceError
from fexro.core.members import general
from fexro.core.members.general import NODES, GeneralLift, load_path, solve_step
from fexro.core.section.shapes import Rectangle
from fexro.core.strength.utilisation import proportional
from tests.conftest import make_column

WIDTH, DEPTH = 400.0, 500.0
STRIPS, STEPS = 120, 32
GAMMA_C, F_YD, E_S = 1.5, 420 / 1.15, 200e3


@dataclass(frozen=True)
class Case:
    """A lift: fck MPa, length mm, N in N, moments at top and foot N·mm, bow mm."""

    f_ck: float
    length: float
    axial: float
    top: float
    foot: float
    bow: float

    @property
    def section(self):
        return make_column(Rectangle(width=WIDTH, depth=DEPTH), "8 D25", concrete=self.f_ck)


class Strips:
    """The section under its design laws, tabled over N and curvature; compression positive."""

    def __init__(self, case):
        section = case.section.section
        edges = np.linspace(-DEPTH / 2, DEPTH / 2, STRIPS + 1)
        self.y, self.area = (edges[1:] + edges[:-1]) / 2, WIDTH * np.diff(edges)
        self.bars_y, self.bars = section.bars.y, section.bars.area
        f_ck = case.f_ck
        self.f_cd = f_ck / GAMMA_C
        high = f_ck > 50
        self.peak = (2.0 + 0.085 * (f_ck - 50) ** 0.53 if high else 2.0) / 1e3
        self.last = (2.6 + 35 * ((90 - f_ck) / 100) ** 4 if high else 3.5) / 1e3
        self.n = 1.4 + 23.4 * ((90 - f_ck) / 100) ** 4 if high else 2.0
        self.axial = np.linspace(0, 3.5 * case.axial, 90)
        self.curvatures = np.concatenate(
            [np.linspace(0, 2e-6, 40)[:-1], np.geomspace(2e-6, 6e-5, 160)]
        )
        N, bent = np.meshgrid(self.axial, self.curvatures, indexing="ij")
        low, high_ = np.full(N.shape, -0.02), np.full(N.shape, 0.02)
        for _ in range(44):
            middle = (low + high_) / 2
            less = self.forces(middle, bent)[0] < N
            low, high_ = np.where(less, middle, low), np.where(less, high_, middle)
        self.moment = self.forces(low, bent)[1]
        self.strain = low + bent * DEPTH / 2

    def concrete(self, strain):
        share = np.clip(strain / self.peak, 0.0, 1.0)
        return self.f_cd * (1 - (1 - share) ** self.n)

    def forces(self, middle, curvature):
        strain = middle[..., None] + curvature[..., None] * self.y
        at_bars = middle[..., None] + curvature[..., None] * self.bars_y
        stress = self.concrete(strain) * self.area
        net = (np.clip(E_S * at_bars, -F_YD, F_YD) - self.concrete(at_bars)) * self.bars
        return stress.sum(-1) + net.sum(-1), (stress @ self.y) + (net @ self.bars_y)

    def at(self, axial):
        """Moments and largest strains over the curvatures with an axial force."""
        place = axial / self.axial[1]
        i = min(int(place), len(self.axial) - 2)
        share = place - i
        mix = [
            (1 - share) * table[i] + share * table[i + 1] for table in (self.moment, self.strain)
        ]
        # What comes after the largest moment is not reached.
        last = int(mix[0].argmax()) + 1
        return mix[0][:last], mix[1][:last]


def end_of(case, strips, factor, slope):
    """Where a lift with a slope at its foot ends, mm off its axis, and its strain over the last."""
    h = case.length / STEPS
    w, turned, used = 0.0, slope, 0.0
    axial = factor * case.axial
    moments, strains = strips.at(axial)

    def bent(s, w):
        share = s / case.length
        moment = factor * (case.foot + share * (case.top - case.foot))
        moment += axial * (w + case.bow * math.sin(math.pi * share))
        size = abs(moment)
        if size > moments[-1]:
            return math.nan, math.inf
        curvature = float(np.interp(size, moments, strips.curvatures[: len(moments)]))
        strain = float(np.interp(size, moments, strains))
        return math.copysign(curvature, moment), strain / strips.last

    for i in range(STEPS):
        s = i * h
        k1, use = bent(s, w)
        used = max(used, use)
        k2, _ = bent(s + h / 2, w + h / 2 * turned)
        k3, _ = bent(s + h / 2, w + h / 2 * (turned - h / 2 * k1))
        k4, _ = bent(s + h, w + h * (turned - h / 2 * k2))
        w += h * turned - h**2 / 6 * (k1 + k2 + k3)
        turned -= h / 6 * (k1 + 2 * k2 + 2 * k3 + k4)
        if math.isnan(w):
            return math.nan, math.inf
    return w, max(used, bent(case.length, w)[1])


def load_with(case, strips, slope, near):
    """The share of the forces under which a lift with a slope at its foot ends on its axis."""
    low, high = near, near + 0.02
    while low > 1e-6 and not end_of(case, strips, low, slope)[0] > 0:
        low *= 0.97
    while end_of(case, strips, high, slope)[0] > 0:
        low, high = high, high + 0.05
    while high - low > 1e-5:
        middle = (low + high) / 2
        low, high = (middle, high) if end_of(case, strips, middle, slope)[0] > 0 else (low, middle)
    return low


def carried(case):
    """The largest share of its forces that the lift carries."""
    strips, best = Strips(case), 0.0
    growth = 1e-3
    slope = growth / 4
    for _ in range(200):
        factor = load_with(case, strips, slope, best)
        used = end_of(case, strips, factor, slope)[1]
        if factor < best + 2e-6 or used > 1:
            if growth < 1e-5:
                return best
            slope, growth = slope - growth, growth / 4
            slope += growth
            continue
        best, slope = factor, slope + growth
    raise AssertionError("the lift carries more and more")


CASES = [
    # A bow and nothing else.
    Case(35, 9000, 2.2e6, 0, 0, 40),
    Case(50, 12000, 1.5e6, 0, 0, 60),
    Case(30, 7000, 2.5e6, 0, 0, 20),
    # Even moments.
    Case(35, 6000, 1.5e6, 1.5e8, 1.5e8, 0),
    Case(30, 9000, 8e5, 1.2e8, 1.2e8, 0),
    Case(40, 4500, 3e6, 1.2e8, 1.2e8, 10),
    Case(50, 10000, 1.2e6, 0.8e8, 0.8e8, 25),
    # Unlike ones.
    Case(35, 8000, 1.8e6, 1.6e8, 0.4e8, 0),
    Case(30, 7000, 1.2e6, 2.2e8, -1.0e8, 15),
    Case(45, 11000, 1e6, 1.0e8, 0.2e8, 20),
    # High strength.
    Case(70, 8000, 2.6e6, 1.5e8, 1.5e8, 20),
    Case(80, 10000, 2.0e6, 1.0e8, 0.5e8, 30),
]


def lift_of(case):
    strength = EN_RECOMMENDED.strength.of(case.section)
    body = EN_RECOMMENDED.strength.working_body(case.section, strength)
    lift = GeneralLift(
        body,
        (case.length, case.length),
        case.axial,
        np.array([0.0, 1.0]),
        np.array([[case.foot, case.top], [0.0, 0.0]]),
        imperfection=(case.bow, 0.0),
    )
    return lift, lambda rows: proportional(strength, rows).ratio


@pytest.mark.long
@pytest.mark.parametrize("case", CASES, ids=str)
def test_a_lift_carries_what_shooting_finds(case):
    lift, utilisation = lift_of(case)
    found = load_path(lift, utilisation)
    assert found.load_factor == pytest.approx(carried(case), rel=0.01)


@pytest.mark.parametrize("case", CASES, ids=str)
@pytest.mark.parametrize("expected", [0.2, 0.7, 3.0])
def test_what_a_lift_carries_does_not_depend_on_where_the_search_begins(case, expected):
    lift, utilisation = lift_of(case)
    one, other = (load_path(lift, utilisation, near) for near in (1.0, expected))
    assert one.load_factor == pytest.approx(other.load_factor, rel=3e-3)
    # On the path a lift that is loaded more bows more.
    bows = [step.largest_deflection for step in other.steps]
    assert bows == sorted(bows)


@pytest.mark.long
@pytest.mark.parametrize("case", CASES, ids=str)
def test_a_mesh_three_times_as_fine_finds_the_same(case):
    lift, utilisation = lift_of(case)
    coarse, fine = (load_path(lift, utilisation, nodes=n) for n in (NODES, 3 * NODES))
    assert coarse.load_factor == pytest.approx(fine.load_factor, rel=4e-3)


def test_without_equilibrium_where_the_lift_is_stiff_it_says_so(monkeypatch):
    lift, utilisation = lift_of(CASES[3])

    def only_small(lift, factor, *rest):
        return None if factor > 0.2 else solve_step(lift, factor, *rest)

    monkeypatch.setattr(general, "solve_step", only_small)
    with pytest.raises(ConvergenceError, match="still has"):
        load_path(lift, utilisation)
