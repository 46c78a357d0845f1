"""Bars, design shear and flanges of special structural walls: ACI 318-19, 18.10.2 to 18.10.5."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy import maximum, minimum, sqrt, where

from fexro.core.arrays import FloatArray
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.wall_shear import (
    PHI,
    WallShear,
    largest_of_wall,
    shear_ratio,
    wall_shear,
)
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Area, Force, Length, Moment, PerLength, Ratio, RootStress, Stress

__all__ = [
    "LEAST_RATIO",
    "SLENDER",
    "DesignShear",
    "Segment",
    "SpecialBars",
    "SpecialShear",
    "design_shear",
    "effective_flange",
    "flange_limit",
    "special_bars",
    "special_shear",
]

LEAST_RATIO = 0.0025  # 18.10.2.1
SLENDER = 2.0  # hw/ℓw (18.10.2.2, 18.10.2.4, 18.10.6.2)
END = 0.15  # of ℓw (18.10.2.4)
LEAST_OVERSTRENGTH = 1.5  # 18.10.3.1.2
LARGEST_AMPLIFICATION = 3.0  # 18.10.3.1


@provision("18.10.2.1", symbol="V_low")
def shear_of_root(k: RootStress, lam: Ratio, f_c_prime: Stress, A_cv: Area) -> Force:
    """Shear of a multiple of the root of the strength of concrete."""
    return k * lam * sqrt(f_c_prime) * A_cv


@provision("18.10.2.4(a)", symbol="rho_end")
def least_end_ratio(k_e: RootStress, f_c_prime: Stress, f_y: Stress) -> Ratio:
    """Least ratio of vertical bars at the ends of a wall."""
    return k_e * sqrt(f_c_prime) / f_y


@provision("18.10.2.4(a)", symbol="ell_end")
def end_length(ell_w: Length) -> Length:
    """Length of the ends of a wall with that ratio."""
    return END * ell_w


@provision("18.10.2.4(b)", symbol="ell_v")
def end_extent(ell_w: Length, M_u: Moment, V_u: Force) -> Length:
    """Height above and below the critical section along which the ends have that ratio."""
    return maximum(ell_w, M_u / (3 * V_u))


@provision("18.10.3.1.2", symbol="Omega_v")
def overstrength(m_cs: Ratio, M_pr: Moment, M_u: Moment) -> Ratio:
    """Factor of the shear for flexural overstrength."""
    return where(m_cs > 1.5, maximum(M_pr / M_u, LEAST_OVERSTRENGTH), 1.0)


@provision("18.10.3.1.2", symbol="n_s")
def storeys_counted(n: Ratio, k_n: PerLength, h_wcs: Length) -> Ratio:
    """Number of storeys above the critical section as it counts."""
    return maximum(n, k_n * h_wcs)


@provision("18.10.3.1.3", symbol="omega_v")
def dynamic_factor(m_cs: Ratio, n_s: Ratio) -> Ratio:
    """Factor of the shear for higher modes."""
    tall = where(n_s <= 6, 0.9 + n_s / 10, minimum(1.3 + n_s / 30, 1.8))
    return where(m_cs < 2, 1.0, tall)


@provision("18.10.3.1", symbol="V_e")
def amplified_shear(Omega_v: Ratio, omega_v: Ratio, V_u: Force) -> Force:
    """Design shear of a special wall."""
    return minimum(Omega_v * omega_v, LARGEST_AMPLIFICATION) * V_u


@provision("18.10.5.2", symbol="b_f,max")
def flange_limit(h_above: Length) -> Length:
    """Largest width of a flange from the face of its web by the height of the wall."""
    return 0.25 * h_above


@provision("18.10.5.2", symbol="b_f")
def effective_flange(projection: Length, half_distance: Length, b_f_max: Length) -> Length:
    """Effective width of a flange from the face of its web."""
    return minimum(projection, minimum(half_distance, b_f_max))


@dataclass(frozen=True)
class SpecialBars:
    """Bars of a special wall against the least; N, mm.

    Attributes:
        low_limit, low: shear up to which the ratios of 11.6 do, and whether it is not more.
        curtain_limit, two_curtains: shear beyond which there are two, and whether there have to be.
        least: of both ratios; nothing where those of 11.6 do.
        vertical_not_less: whether ρℓ must not be less than ρt.
        end_ratio, end_length, end_extent: of the bars at the ends, where they are asked for.
    """

    low_limit: float
    low: bool
    curtain_limit: float
    two_curtains: bool
    least: float | None
    vertical_not_less: bool
    end_ratio: float | None = None
    end_length: float | None = None
    end_extent: float | None = None


def special_bars(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float, float],
    materials: tuple[float, float, float],
    actions: tuple[float, float],
    *,
    single_section: bool,
    segment: float | None = None,
) -> SpecialBars:
    """Return what is asked of the bars of a special wall.

    Args:
        record: what is written to.
        edition: of the code.
        size: Acv, mm², length and height of the whole wall, mm.
        materials: f'c, λ and fy of the vertical bars, MPa.
        actions: Vu and Mu, N and N·mm.
        single_section: whether the wall is continuous with a single critical section.
        segment: length of the segment whose ends are asked for, mm; else that of the wall.
    """
    given, (area, length, height), (f_c, lam, f_y) = edition.walls, size, materials
    shear, moment = actions
    low_limit = shear_of_root.into(record, given.light, lam, f_c, area)
    curtains = shear_of_root.named(V_low="V_2").into(record, given.two_curtains, lam, f_c, area)
    low, aspect = bool(shear <= low_limit), height / length
    ratio = end = extent = None
    if aspect >= SLENDER and single_section:
        ratio = float(least_end_ratio.into(record, given.ends, f_c, f_y))
        end = float(end_length.into(record, length if segment is None else segment))
        extent = length if shear == 0 else float(end_extent.into(record, length, moment, shear))
    return SpecialBars(
        *(float(low_limit), low, float(curtains), bool(shear > curtains or aspect >= SLENDER)),
        least=None if low else LEAST_RATIO,
        vertical_not_less=bool(aspect <= SLENDER),
        end_ratio=ratio,
        end_length=end,
        end_extent=extent,
    )


@dataclass(frozen=True)
class DesignShear:
    """The design shear of a special wall, N.

    Attributes:
        aspect: hwcs over ℓw.
        storeys: ns.
        overstrength, dynamic: Ωv and ωv.
        amplification: of Vu.
        shear: Ve.
    """

    aspect: float
    storeys: float
    overstrength: float
    dynamic: float
    amplification: float
    shear: float


def design_shear(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float, float],
    actions: tuple[float, float, float],
) -> DesignShear:
    """Return the design shear of a special wall.

    Args:
        record: what is written to.
        edition: of the code.
        size: length, height above the critical section, mm, and the storeys there.
        actions: Vu, Mu and Mpr, N and N·mm.
    """
    length, height, storeys = size
    shear, moment, probable = actions
    aspect = height / length
    n_s = storeys_counted.into(record, storeys, edition.walls.stories, height)
    Omega = overstrength.into(record, aspect, probable, moment)
    omega = dynamic_factor.into(record, aspect, n_s)
    V_e = amplified_shear.into(record, Omega, omega, shear)
    factor = min(float(Omega) * float(omega), LARGEST_AMPLIFICATION)
    return DesignShear(aspect, float(n_s), float(Omega), float(omega), factor, float(V_e))


@dataclass(frozen=True)
class Segment:
    """A vertical segment of a wall. Lengths in mm.

    Attributes:
        thickness, length: of it.
        aspect: height over length that counts: the larger of its own and that of its whole wall.
        ratio, yield_strength: ρt and fyt, MPa.
        shear: Ve of it, N, of a demand or of each, (D,).
        axial: Nu of it, N, likewise, negative in tension; nothing where it is not known.
    """

    thickness: float
    length: float
    aspect: float
    ratio: float
    yield_strength: float
    shear: FloatArray | float
    axial: FloatArray | float = 0.0


@dataclass(frozen=True, eq=False)
class SpecialShear:
    """Shear of the segments of a special wall together, of a demand or of each, (D,), N.

    Attributes:
        segments: each.
        sum, cap: of their Vn, and its limit.
        strength: Vn.
        ratio: of the design shear over φ Vn.
    """

    segments: tuple[WallShear, ...]
    sum: FloatArray
    cap: float
    strength: FloatArray
    ratio: FloatArray

    @property
    def worst(self) -> float:
        """The largest ratio of the group and its segments."""
        each = [self.ratio, *(one.ratio for one in self.segments)]
        return max(float(np.max(one)) for one in each)


def special_shear(
    record: Derivation | None,
    edition: Edition,
    concrete: tuple[float, float],
    segments: Sequence[Segment],
    design: FloatArray | float,
) -> SpecialShear:
    """Return the shear of the segments of a special wall that resist a shear together.

    Args:
        record: what is written to.
        edition: of the code.
        concrete: f'c, MPa, and λ.
        segments: each with its part of the shear.
        design: Ve, N, of a demand or of each, (D,).
    """
    found = tuple(
        wall_shear(
            record,
            edition,
            (one.thickness, one.length, one.aspect),
            concrete,
            (one.ratio, one.yield_strength),
            (np.asarray(one.axial), np.asarray(one.shear)),
            special=True,
        )
        for one in segments
    )
    total = np.sum([one.strength for one in found], axis=0)
    area = sum(one.web for one in found)
    cap = float(largest_of_wall.into(record, edition.walls.largest, concrete[0], area))
    strength = np.minimum(total, cap)
    ratio = np.asarray(shear_ratio.into(record, design, PHI, strength))
    return SpecialShear(found, total, cap, strength, ratio)
