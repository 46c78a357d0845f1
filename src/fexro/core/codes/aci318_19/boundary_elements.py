"""Boundary elements of special structural walls: ACI 318-19, 18.10.6."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy import maximum, minimum, sqrt, where

from fexro.core.arrays import FloatArray
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.special_frames import (
    amount_a,
    amount_b,
    hoops_by_bars,
    hoops_by_held_bars,
    required_legs,
)
from fexro.core.codes.aci318_19.special_walls import SLENDER, shear_of_root
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import (
    Area,
    FirstMoment,
    Force,
    Length,
    Moment,
    Ratio,
    RootStress,
    Stress,
)

__all__ = [
    "START",
    "STOP",
    "BoundaryElement",
    "Displacement",
    "ElementLimits",
    "EndTies",
    "Stresses",
    "by_displacement",
    "by_stress",
    "element_length",
    "element_limits",
    "end_ties",
]

LEAST_DRIFT = 0.005  # 18.10.6.2(a)
LEAST_CAPACITY = 0.015  # 18.10.6.2(b)
DEEP_COMPRESSION = 3 / 8  # c/ℓw (18.10.6.4(c))
START, STOP = 0.2, 0.15  # of f'c (18.10.6.3)
ROUNDING = 1e-6


@provision("18.10.6.2(a)", symbol="r")
def drift_ratio(delta_u: Length, h_wcs: Length) -> Ratio:
    """Design displacement over the height, as it counts."""
    return maximum(delta_u / h_wcs, LEAST_DRIFT)


@provision("18.10.6.2(a)", symbol="r_c")
def drift_limit(ell_w: Length, c: Length) -> Ratio:
    """Drift from which boundary elements are needed, by the depth of the neutral axis."""
    return ell_w / (600 * c)


@provision("18.10.6.2(a)", symbol="c_max")
def depth_limit(ell_w: Length, r: Ratio) -> Length:
    """Depth of the neutral axis from which boundary elements are needed."""
    return ell_w / (600 * 1.5 * r)


@provision("18.10.6.2(b)", symbol="ell_v")
def element_extent(ell_w: Length, M_u: Moment, V_u: Force) -> Length:
    """Height above and below the critical section along which there are boundary elements."""
    return maximum(ell_w, M_u / (4 * V_u))


@provision("18.10.6.2(b)(i)", symbol="b_s")
def width_for_stability(c: Length, ell_w: Length) -> Length:
    """Width from which boundary elements are stable without looking at the drift."""
    return sqrt(0.025 * c * ell_w)


@provision("18.10.6.2(b)(ii)", symbol="r_n")
def drift_capacity(
    *,
    ell_w: Length,
    b: Length,
    c: Length,
    V_e: Force,
    k_max: RootStress,
    f_c_prime: Stress,
    A_cv: Area,
) -> Ratio:
    """Drift that a wall with boundary elements is capable of."""
    return (4 - ell_w / b * c / b / 50 - V_e / (k_max * sqrt(f_c_prime) * A_cv)) / 100


@provision("18.10.6.3", symbol="sigma")
def elastic_stress(P_u: Force, A_g: Area, M_u: Moment, S: FirstMoment) -> Stress:
    """Stress at the compressed end of the gross section."""
    return P_u / A_g + M_u / S


@provision("18.10.6.4(a)", symbol="ell_be")
def element_length(c: Length, ell_w: Length) -> Length:
    """Length of a boundary element from the compressed end."""
    return maximum(c - 0.1 * ell_w, c / 2)


@provision("18.10.6.4(b)", symbol="b_min")
def element_width(h_u: Length) -> Length:
    """Least width of a boundary element between its supports."""
    return h_u / 16


@provision("18.10.6.4(f)", symbol="h_x,max")
def held_distance(h_0: Length, b: Length) -> Length:
    """Largest distance of held bars."""
    return minimum(h_0, 2 / 3 * b)


@provision("18.10.6.4(f)", symbol="ell_o")
def hoop_overlap(l_0: Length, b: Length) -> Length:
    """Least overlap of hoops."""
    return minimum(l_0, 2 / 3 * b)


@provision("Table 18.10.6.5(b)", symbol="s_t")
def ties_near(*, f_y: Stress, f_2: Stress, f_3: Stress, d_b: Length, s_1: Length) -> Length:
    """Largest spacing of ties at boundaries near critical sections."""
    return minimum(where(f_y <= f_2, 6 * d_b, where(f_y <= f_3, 5 * d_b, 4 * d_b)), s_1)


@provision("Table 18.10.6.5(b)", symbol="s_e")
def ties_elsewhere(*, f_y: Stress, f_2: Stress, d_b: Length, s_1: Length, s_2: Length) -> Length:
    """Largest spacing of ties at boundaries elsewhere."""
    return where(f_y <= f_2, minimum(8 * d_b, s_2), minimum(6 * d_b, s_1))


@provision("18.10.6.4(e)", symbol="s_max")
def hoop_spacing(b_least: Length, s_b: Length, s_o: Length, s_t: Length) -> Length:
    """Largest spacing of the hoops of boundary elements."""
    return minimum(minimum(b_least / 3, s_b), minimum(s_o, s_t))


@provision("Table 18.10.6.4(g)", symbol="a")
def hoop_amount(a: Ratio, b: Ratio) -> Ratio:
    """Hoops over the core in each direction."""
    return maximum(a, b)


@provision("18.10.6.5(b)", symbol="rho_0")
def boundary_ratio(f_0: Stress, f_y: Stress) -> Ratio:
    """Ratio of bars at the boundary beyond which they are tied."""
    return f_0 / f_y


@dataclass(frozen=True)
class Displacement:
    """Whether boundary elements are needed by displacement. Lengths in mm.

    Attributes:
        aspect: hwcs/ℓw.
        drift_raw, drift: δu/hwcs, and as it counts.
        trigger: 1.5 of it from which they are needed.
        depth_limit: c from which they are.
        needed: whether they are.
        length, extent: along the wall, and above and below the critical section; where needed.
        stable_width: from which no drift needs to be looked at.
        shear_term: of the drift capacity.
        capacity_raw, capacity: δc/hwcs, and as it counts.
    """

    aspect: float
    drift_raw: float
    drift: float
    trigger: float
    depth_limit: float
    needed: bool
    length: float = 0.0
    extent: float = 0.0
    stable_width: float | None = None
    shear_term: float | None = None
    capacity_raw: float | None = None
    capacity: float | None = None

    @property
    def demand(self) -> float:
        """1.5 δu/hwcs."""
        return 1.5 * self.drift

    @property
    def capable(self) -> bool:
        """Whether the drift capacity does."""
        return self.capacity is not None and self.capacity >= self.demand * (1 - ROUNDING)


def by_displacement(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float, float],
    depth: float,
    displacement: float,
    strength: float,
    actions: tuple[float, float, float],
    width: float | None,
) -> Displacement:
    """Return whether boundary elements are needed by displacement (18.10.6.2).

    Args:
        record: what is written to.
        edition: of the code.
        size: thickness, length, and height above the critical section, mm.
        depth: c, mm.
        displacement: δu, mm.
        strength: f'c, MPa.
        actions: Vu, Ve and Mu, N and N·mm.
        width: of the boundary element, mm; nothing where it is not told.
    """
    given, (b_w, length, height), (V_u, V_e, M_u) = edition.walls, size, actions
    drift = drift_ratio.into(record, displacement, height)
    trigger = drift_limit.into(record, length, depth)
    limit = depth_limit.into(record, length, drift)
    needed = bool(1.5 * drift >= trigger)
    found = (
        *(height / length, displacement / height, float(drift), float(trigger), float(limit)),
        needed,
    )
    if not needed:
        return Displacement(*found)
    along = element_length.into(record, depth, length)
    extent = length if V_u == 0 else element_extent.into(record, length, M_u, V_u)
    if width is None:
        return Displacement(*found, float(along), float(extent))
    stable = width_for_stability.into(record, depth, length)
    area = b_w * length
    capacity = drift_capacity.into(
        record,
        ell_w=length,
        b=width,
        c=depth,
        V_e=V_e,
        k_max=given.largest,
        f_c_prime=strength,
        A_cv=area,
    )
    term = V_e / (float(given.largest) * strength**0.5 * area)
    return Displacement(
        *found,
        *(float(along), float(extent), float(stable), term, float(capacity)),
        max(float(capacity), LEAST_CAPACITY),
    )


@dataclass(frozen=True, eq=False)
class Stresses:
    """Whether boundary elements are needed by stress, MPa.

    Attributes:
        area, modulus: of the gross section, mm², mm³.
        stresses: of each combination, (C,).
        start, stop: from which they are needed, and below which they may end.
    """

    area: float
    modulus: float
    stresses: FloatArray
    start: float
    stop: float

    @property
    def largest(self) -> float:
        """The largest stress."""
        return float(self.stresses.max())

    @property
    def needed(self) -> bool:
        """Whether boundary elements are needed."""
        return self.largest > self.start


def by_stress(
    record: Derivation | None,
    size: tuple[float, float],
    strength: float,
    actions: tuple[FloatArray, FloatArray],
    modulus: float | None = None,
) -> Stresses:
    """Return whether boundary elements are needed by stress (18.10.6.3).

    Args:
        record: what is written to, of the combination with the largest stress.
        size: area, mm², and length, mm.
        strength: f'c, MPa.
        actions: Pu and Mu of each combination, (C,), N and N·mm.
        modulus: of the gross section, mm³; that of a rectangle where it is not told.
    """
    (area, length), (axial, moment) = size, actions
    S = area * length / 6 if modulus is None else modulus
    stresses = np.asarray(elastic_stress(axial, area, np.abs(moment), S), float)
    if record is not None:
        at = int(stresses.argmax())
        elastic_stress.into(record, float(axial[at]), area, abs(float(moment[at])), S)
    return Stresses(area, S, stresses, START * strength, STOP * strength)


@dataclass(frozen=True)
class BoundaryElement:
    """A boundary element as it is built. Lengths in mm.

    Attributes:
        length, width: along and across the wall.
        support: height between its lateral supports.
        held: hx, the largest distance of held bars.
        bar: diameter of its smallest bar.
        spacing: of its hoops.
        hoop_yield: fyt, MPa.
        core: of its core across and along the wall, out to out of hoops.
    """

    length: float
    width: float
    support: float
    held: float
    bar: float
    spacing: float
    hoop_yield: float
    core: tuple[float, float]


@dataclass(frozen=True)
class ElementLimits:
    """What is asked of a boundary element. Lengths in mm.

    Attributes:
        length: along the wall at least.
        wide: whether the least width of a wall with deep compression counts.
        width: at least.
        held: hx at most.
        overlap, longest: of hoops.
        by_section, by_bars, by_held, by_ties: spacing of hoops by each.
        spacing: at most.
        area, core: Ag and Ach, mm².
        by_spalling, by_strength: ratios of hoops.
        amount: Ash/(s bc).
        legs: Ash for each dimension of the core, mm².
    """

    length: float
    wide: bool
    width: float
    held: float
    overlap: float
    longest: float
    by_section: float
    by_bars: float
    by_held: float
    by_ties: float
    spacing: float
    area: float
    core: float
    by_spalling: float
    by_strength: float
    amount: float
    legs: tuple[float, float]


def element_limits(
    record: Derivation | None,
    edition: Edition,
    wall: tuple[float, float],
    depth: float,
    materials: tuple[float, float],
    built: BoundaryElement,
    *,
    single_section: bool,
) -> ElementLimits:
    """Return what is asked of a boundary element (18.10.6.4).

    Args:
        record: what is written to.
        edition: of the code.
        wall: length and height, mm.
        depth: c, mm.
        materials: f'c and fy, MPa.
        built: the element.
        single_section: whether the wall is continuous with a single critical section.
    """
    given, (length, height), (f_c, f_y) = edition.walls, wall, materials
    ductility = edition.ductility
    below = 1 - ROUNDING
    along = element_length.into(record, depth, length)
    least = float(element_width.into(record, built.support))
    wide = bool(
        height / length >= SLENDER and single_section and depth / length >= DEEP_COMPRESSION
    )
    if wide:
        least = max(least, float(given.element))
    held = held_distance.into(record, ductility.held_spacing, built.width)
    overlap = hoop_overlap.into(record, given.overlap, built.width)
    narrow = min(built.width, built.length)
    by_bars = hoops_by_bars.into(record, f_y * below, given.grades[0], built.bar)
    by_held = hoops_by_held_bars.into(
        record, built.held, ductility.held_spacing, *ductility.spacing
    )
    by_ties = ties_near.into(
        record,
        f_y=f_y * below,
        f_2=given.grades[0],
        f_3=given.grades[1],
        d_b=built.bar,
        s_1=given.ties[0],
    )
    spacing = hoop_spacing.into(record, narrow, by_bars, by_held, by_ties)
    area, core = built.length * built.width, built.core[0] * built.core[1]
    spalling = amount_a.into(record, area, core, f_c, built.hoop_yield)
    strength = amount_b.into(record, f_c, built.hoop_yield)
    amount = hoop_amount.into(record, spalling, strength)
    legs = [required_legs.into(record, amount, built.spacing, b_c) for b_c in built.core]
    return ElementLimits(
        *(float(along), wide, least, float(held), float(overlap), 2 * built.width),
        *(narrow / 3, float(by_bars), float(by_held), float(by_ties), float(spacing)),
        *(area, core, float(spalling), float(strength), float(amount)),
        (float(legs[0]), float(legs[1])),
    )


@dataclass(frozen=True)
class EndTies:
    """Ties at the ends of a wall without boundary elements (18.10.6.5). Lengths in mm.

    Attributes:
        limit: ratio of bars beyond which there are ties.
        needed: whether there are to be.
        length: along the wall.
        extent: above and below critical sections with the closer spacing.
        near, elsewhere: largest spacings.
        hook_limit: shear from which horizontal bars hook the edge bars, N.
        hooks: whether they have to.
    """

    limit: float
    needed: bool
    length: float
    extent: float
    near: float
    elsewhere: float
    hook_limit: float
    hooks: bool


def end_ties(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float],
    depth: float,
    materials: tuple[float, float, float],
    actions: tuple[float, float],
    bars: tuple[float, float],
) -> EndTies:
    """Return the ties at the ends of a wall that needs no boundary elements.

    Args:
        record: what is written to.
        edition: of the code.
        size: thickness and length, mm.
        depth: c, mm.
        materials: f'c, λ and fy, MPa.
        actions: Vu and Mu, N and N·mm.
        bars: their ratio at the boundary, and the smallest diameter, mm.
    """
    given, (b_w, length), (f_c, lam, f_y) = edition.walls, size, materials
    (V_u, M_u), (ratio, diameter) = actions, bars
    below = f_y * (1 - ROUNDING)
    limit = boundary_ratio.into(record, given.boundary_ratio, f_y)
    along = element_length.into(record, depth, length)
    extent = length if V_u == 0 else element_extent.into(record, length, M_u, V_u)
    near = ties_near.into(
        record,
        f_y=below,
        f_2=given.grades[0],
        f_3=given.grades[1],
        d_b=diameter,
        s_1=given.ties[0],
    )
    elsewhere = ties_elsewhere.into(
        record, f_y=below, f_2=given.grades[0], d_b=diameter, s_1=given.ties[0], s_2=given.ties[1]
    )
    hook = shear_of_root.into(record, given.light, lam, f_c, b_w * length)
    return EndTies(
        *(float(limit), bool(ratio > limit), float(along), float(extent), float(near)),
        *(float(elsewhere), float(hook), bool(V_u >= hook)),
    )
