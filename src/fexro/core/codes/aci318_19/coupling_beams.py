"""Coupling beams and wall piers: ACI 318-19, 18.6, 18.10.7 and 18.10.8."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from numpy import cos, maximum, minimum, sin, sqrt, where

from fexro.core.codes.aci318_19.boundary_elements import hoop_amount
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.special_frames import (
    amount_a,
    amount_b,
    hoops_by_held_bars,
    required_legs,
)
from fexro.core.codes.aci318_19.wall_shear import largest_of_wall
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import (
    Angle,
    Area,
    Force,
    Length,
    Moment,
    Ratio,
    RootStress,
    Stress,
)

__all__ = [
    "PHI_DIAGONAL",
    "Confined",
    "DiagonalBars",
    "Diagonals",
    "FrameBeam",
    "PierKind",
    "beam_kind",
    "deep_beam_ratio",
    "deep_beam_shear",
    "deep_beam_spacing",
    "diagonal_beam",
    "frame_beam",
    "pier_kind",
]

PHI_DIAGONAL = 0.85  # 21.2.4.4
LONG, SHORT = 4.0, 2.0  # ℓn/h (18.10.7.1, 18.10.7.2)
DEEP = 0.0025  # 9.9.3.1
SKIN = 0.002  # 18.10.7.4(c)
ROUNDING = 1e-6
BeamKind = Literal["frame", "diagonal", "either"]
PierKind = Literal["pier: column rules", "pier: column rules or alternative", "wall"]


@provision("18.10.7.2", symbol="V_d")
def shear_for_diagonals(k_d: RootStress, lam: Ratio, f_c_prime: Stress, A_cw: Area) -> Force:
    """Shear from which short coupling beams have diagonal bars."""
    return k_d * lam * sqrt(f_c_prime) * A_cw


@provision("18.10.7.4", symbol="V_d")
def diagonal_strength(A_vd: Area, f_y: Stress, alpha: Angle) -> Force:
    """Shear that both groups of diagonal bars carry."""
    return 2 * A_vd * f_y * sin(alpha)


@provision("18.10.7.4", symbol="V_n")
def diagonal_limited(V_d: Force, V_n_max: Force) -> Force:
    """Nominal shear strength of a beam with diagonal bars."""
    return minimum(V_d, V_n_max)


@provision("18.10.7.4", symbol="A_vd,req")
def diagonal_required(V_u: Force, phi: Ratio, f_y: Stress, alpha: Angle) -> Area:
    """Area of a group of diagonal bars that a shear asks for."""
    return V_u / (phi * 2 * f_y * sin(alpha))


@provision("18.10.7.4", symbol="M_d")
def diagonal_moment(A_vd: Area, f_y: Stress, alpha: Angle, arm: Length) -> Moment:
    """Moment that diagonal bars resist at an end, by their arm there."""
    return A_vd * f_y * cos(alpha) * arm


@provision("18.10.7.4(c)", symbol="s_max")
def cage_spacing(s_o: Length, d_b: Length) -> Length:
    """Largest spacing of hoops around a group of diagonal bars."""
    return minimum(s_o, 6 * d_b)


@provision("9.9.2.1", symbol="phi V_n,max")
def deep_beam_shear(phi: Ratio, k: RootStress, f_c_prime: Stress, b_w: Length, d: Length) -> Force:
    """Shear up to which a deep beam is large enough."""
    return phi * k * sqrt(f_c_prime) * b_w * d


@provision("9.9.3.1", symbol="A_v/s")
def deep_beam_ratio(b_w: Length) -> Length:
    """Bars spread over a deep beam, across and along, over their spacing."""
    return DEEP * b_w


@provision("9.9.4.3", symbol="s_max")
def deep_beam_spacing(d: Length, s_0: Length) -> Length:
    """Largest spacing of bars spread over a deep beam."""
    return minimum(d / 5, s_0)


@provision("18.10.7.4(c)", symbol="A_skin/s")
def skin_bars(b_w: Length) -> Length:
    """Bars along and across the beam beside confined groups, over their spacing."""
    return SKIN * b_w


@provision("18.6.2.1(b)", symbol="b_w,min")
def least_beam_width(h: Length, b_0: Length) -> Length:
    """Least width of a beam."""
    return minimum(0.3 * h, b_0)


@provision("9.6.1.2", symbol="rho_min")
def least_beam_ratio(k_b: RootStress, f_c_prime: Stress, f_0: Stress, f_y: Stress) -> Ratio:
    """Least ratio of the bars of a beam."""
    return maximum(k_b * sqrt(f_c_prime), f_0) / f_y


@provision("18.6.3.1", symbol="rho_max")
def largest_beam_ratio(f_y: Stress, f_1: Stress) -> Ratio:
    """Largest ratio of the bars of a beam."""
    return where(f_y <= f_1, 0.025, 0.020)


@provision("18.6.4.4", symbol="s_max")
def beam_hoop_spacing(*, d: Length, s_0: Length, f_y: Stress, f_1: Stress, d_b: Length) -> Length:
    """Largest spacing of hoops near the ends of a beam."""
    return minimum(minimum(d / 4, s_0), where(f_y <= f_1, 6 * d_b, 5 * d_b))


@provision("18.6.5.1", symbol="V_e")
def beam_design_shear(M_pr_1: Moment, M_pr_2: Moment, ell_n: Length, V_g: Force) -> Force:
    """Design shear of a beam: of its probable moments, and of its loads."""
    return (M_pr_1 + M_pr_2) / ell_n + V_g


def beam_kind(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float, float],
    concrete: tuple[float, float],
    shear: float,
) -> tuple[BeamKind, float]:
    """Return by which rules a coupling beam goes, and the shear from which it has diagonals, N.

    Args:
        record: what is written to.
        edition: of the code.
        size: width, depth and clear length, mm.
        concrete: f'c, MPa, and λ.
        shear: Vu, N.
    """
    b_w, h, span = size
    limit = shear_for_diagonals.into(
        record, edition.walls.diagonal, concrete[1], concrete[0], b_w * h
    )
    if span / h >= LONG:
        return "frame", float(limit)
    short = span / h < SHORT and shear >= limit
    return "diagonal" if short else "either", float(limit)


@dataclass(frozen=True)
class DiagonalBars:
    """Diagonal bars of a coupling beam. Lengths in mm.

    Attributes:
        area: of one group, mm².
        diameter: of its smallest bar.
        angle: to the axis of the beam, radians.
        confined: each group, or the whole section.
        cover: to the cages, or to the hoops of the section.
        hoop_yield: fyt, MPa.
        spacing: of hoops.
        cage: out to out, along the width and across; of groups.
        held: hx.
    """

    area: float
    diameter: float
    angle: float
    confined: Literal["groups", "section"]
    cover: float
    hoop_yield: float
    spacing: float
    cage: tuple[float, float] | None
    held: float


@dataclass(frozen=True)
class Confined:
    """What is asked of the confinement of diagonal bars. Lengths in mm.

    Attributes:
        cage: least sizes of cages; nothing where the section is confined.
        by_held: so; nothing where the section is confined.
        spacing: of hoops at most.
        legs_apart: at most.
        skin, skin_apart: bars beside groups per spacing, mm, and their largest spacing.
        area, core: Ag and Ach, mm².
        by_spalling, by_strength, amount: ratios of hoops.
        legs: Ash for each dimension of the core, mm².
    """

    cage: tuple[float, float] | None
    by_held: float | None
    spacing: float
    legs_apart: float
    skin: float | None
    skin_apart: float | None
    area: float
    core: float
    by_spalling: float
    by_strength: float
    amount: float
    legs: tuple[float, float]


@dataclass(frozen=True)
class Diagonals:
    """Shear of a coupling beam with diagonal bars, N.

    Attributes:
        largest: Vn at most.
        of_bars: Vn of the bars.
        strength, design: Vn and φ Vn.
        ratio: Vu over it.
        required: area of a group that is needed, mm².
        confined: what is asked of the hoops.
    """

    largest: float
    of_bars: float
    strength: float
    design: float
    ratio: float
    required: float
    confined: Confined


def diagonal_beam(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float],
    materials: tuple[float, float],
    bars: DiagonalBars,
    shear: float,
) -> Diagonals:
    """Return the shear of a coupling beam with diagonal bars (18.10.7.4).

    Args:
        record: what is written to.
        edition: of the code.
        size: width and depth, mm.
        materials: f'c and fy of the diagonal bars, MPa.
        bars: the diagonal bars.
        shear: Vu, N.
    """
    (b_w, h), (f_c, f_y) = size, materials
    most = largest_of_wall.into(record, edition.walls.largest_segment, f_c, b_w * h)
    V_d = diagonal_strength.into(record, bars.area, f_y, bars.angle)
    V_n = diagonal_limited.into(record, V_d, most)
    need = diagonal_required.into(record, shear, PHI_DIAGONAL, f_y, bars.angle)
    return Diagonals(
        *(float(most), float(V_d), float(V_n), float(PHI_DIAGONAL * V_n)),
        *(float(shear / (PHI_DIAGONAL * V_n)), float(need)),
        _confined(record, edition, size, f_c, bars),
    )


def _confined(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float],
    f_c: float,
    bars: DiagonalBars,
) -> Confined:
    (b_w, h), given, ductility = size, edition.walls, edition.ductility
    cage: tuple[float, float] | None = None
    by_held = skin = skin_apart = None
    if bars.confined == "groups":
        assert bars.cage is not None
        one, other = bars.cage
        area = (one + 2 * bars.cover) * (other + 2 * bars.cover)
        sides, cage = bars.cage, (b_w / 2, b_w / 5)
        by_held = float(
            hoops_by_held_bars.into(record, bars.held, ductility.held_spacing, *ductility.spacing)
        )
        spacing = float(cage_spacing.into(record, by_held, bars.diameter))
        skin = float(skin_bars.into(record, b_w))
        apart, skin_apart = float(ductility.held_spacing), float(given.skin)
    else:
        area, sides = b_w * h, (b_w - 2 * bars.cover, h - 2 * bars.cover)
        spacing = min(float(given.beam_hoops), 6 * bars.diameter)
        apart = float(given.beam_legs)
    core = sides[0] * sides[1]
    spalling = amount_a.into(record, area, core, f_c, bars.hoop_yield)
    strength = amount_b.into(record, f_c, bars.hoop_yield)
    amount = hoop_amount.into(record, spalling, strength)
    legs = [float(required_legs.into(record, amount, bars.spacing, side)) for side in sides]
    return Confined(
        *(cage, by_held, spacing, apart, skin, skin_apart, area, core),
        *(float(spalling), float(strength), float(amount), (legs[0], legs[1])),
    )


@dataclass(frozen=True)
class FrameBeam:
    """What is asked of a coupling beam as a beam of a special frame (18.6). Lengths in mm.

    Attributes:
        width: at least.
        least_ratio, largest_ratio: of the bars at each face.
        hoop_length: from the face of the support.
        hoops, elsewhere: largest spacings.
        shear: Ve, N.
    """

    width: float
    least_ratio: float
    largest_ratio: float
    hoop_length: float
    hoops: float
    elsewhere: float
    shear: float


def frame_beam(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float, float],
    materials: tuple[float, float],
    diameter: float,
    actions: tuple[float, float, float],
) -> FrameBeam:
    """Return what is asked of a coupling beam as a beam of a special frame.

    Args:
        record: what is written to.
        edition: of the code.
        size: depth, effective depth and clear length, mm.
        materials: f'c and fy, MPa.
        diameter: of the smallest bar, mm.
        actions: both Mpr and the shear of the loads, N·mm and N.
    """
    (h, d, span), (f_c, f_y), given = size, materials, edition.walls
    below, grade = f_y * (1 - ROUNDING), given.grades[0]
    width = least_beam_width.into(record, h, given.beam_width)
    least = least_beam_ratio.into(record, given.beam_root, f_c, given.beam_stress, f_y)
    largest = largest_beam_ratio.into(record, below, grade)
    hoops = beam_hoop_spacing.into(
        record, d=d, s_0=given.beam_hoops, f_y=below, f_1=grade, d_b=diameter
    )
    V_e = beam_design_shear.into(record, actions[0], actions[1], span, actions[2])
    return FrameBeam(
        *(float(width), float(least), float(largest), 2 * h, float(hoops), d / 2, float(V_e))
    )


def pier_kind(size: tuple[float, float, float]) -> PierKind:
    """Return by which rules a vertical segment goes (18.10.8.1, Table R18.10.1).

    Args:
        size: thickness, length and clear height, mm.
    """
    b_w, length, height = size
    if height / length < 2.0 or length / b_w > 6.0:
        return "wall"
    return "pier: column rules" if length / b_w <= 2.5 else "pier: column rules or alternative"
