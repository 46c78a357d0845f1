"""Thickness and bars of walls: ACI 318-19, 11.3, 11.6 and 11.7."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from numpy import maximum, minimum

from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.shear import limited_yield
from fexro.core.codes.aci318_19.wall_shear import (
    PHI,
    concrete_factor,
    concrete_of_wall,
    ratio_for_strength,
    web_area,
)
from fexro.core.provisions import Case, Derivation, provision, select
from fexro.core.quantities import Force, Length, Ratio

__all__ = ["LEAST", "WallBars", "WallKind", "WallMesh", "wall_bars"]

WallKind = Literal["bearing", "nonbearing", "basement"]
LOW = 0.5  # of the shear that concrete carries (11.6.1)
LEAST = 0.0025  # 11.6.2
ROUNDING = 1e-6


@provision("Table 11.3.1.1", symbol="h_min")
def least_thickness(kind: Case, ell: Length, h_0: Length, h_b: Length) -> Length:
    """Least thickness of a wall, by the lesser of its unsupported length and height."""
    return select(
        kind, bearing=maximum(h_0, ell / 25), nonbearing=maximum(h_0, ell / 30), basement=h_b
    )


@provision("11.6.1", symbol="V_low")
def low_shear(phi: Ratio, V_c: Force) -> Force:
    """Shear up to which the low ratios of bars do."""
    return LOW * phi * V_c


@provision("Table 11.6.1", symbol="rho_l,min")
def least_vertical_low(mesh: Case) -> Ratio:
    """Least ratio of vertical bars in low shear."""
    return select(mesh, small_bars=0.0012, wire=0.0012, other_bars=0.0015, precast=0.0010)


@provision("Table 11.6.1", symbol="rho_t,min")
def least_horizontal_low(mesh: Case) -> Ratio:
    """Least ratio of horizontal bars in low shear."""
    return select(mesh, small_bars=0.0020, wire=0.0020, other_bars=0.0025, precast=0.0010)


@provision("11.6.2(a)", symbol="rho_l,f")
def vertical_by_height(m: Ratio, rho_t: Ratio) -> Ratio:
    """Least ratio of vertical bars by the height of a wall over its length and its bars."""
    return LEAST + 0.5 * (2.5 - m) * (rho_t - LEAST)


@provision("11.6.2(a)", symbol="rho_l,min")
def least_vertical(rho_l_f: Ratio, rho_t_s: Ratio) -> Ratio:
    """Least ratio of vertical bars, not more than the horizontal that strength asks for."""
    return maximum(LEAST, minimum(rho_l_f, rho_t_s))


@provision("11.7.2.1", symbol="s_l,max")
def vertical_spacing(needed: Case, h: Length, s_0: Length, ell_w: Length) -> Length:
    """Largest spacing of vertical bars."""
    return select(
        needed,
        without_shear=minimum(3 * h, s_0),
        with_shear=minimum(minimum(3 * h, s_0), ell_w / 3),
    )


@provision("11.7.3.1", symbol="s_t,max")
def horizontal_spacing(needed: Case, h: Length, s_0: Length, ell_w: Length) -> Length:
    """Largest spacing of horizontal bars."""
    return select(
        needed,
        without_shear=minimum(3 * h, s_0),
        with_shear=minimum(minimum(3 * h, s_0), ell_w / 5),
    )


@dataclass(frozen=True)
class WallMesh:
    """The bars of a wall as Table 11.6.1 tells them apart.

    Attributes:
        making: cast in place or precast.
        kind: bars or welded wire.
        small: whether none is larger than No. 16 [#5].
        yield_strength: MPa.
    """

    making: Literal["cast in place", "precast"]
    kind: Literal["bars", "wire"]
    small: bool
    yield_strength: float

    def row(self, edition: Edition) -> str:
        """Return the row of Table 11.6.1."""
        if self.making == "precast":
            return "precast"
        enough = self.yield_strength >= edition.walls.grades[0] * (1 - ROUNDING)
        if not self.small:
            return "other bars"
        if self.kind == "wire":
            return "wire"
        return "small bars" if enough else "other bars"


@dataclass(frozen=True)
class WallBars:
    """Thickness and bars of a wall against the least; N, mm.

    Attributes:
        web: Acv, mm².
        concrete_factor: αc, √MPa.
        low_limit, low: shear up to which the low ratios do, and whether it is not more.
        concrete: φ Vc.
        needed: whether bars are needed for shear.
        for_strength: ρt that strength asks for.
        by_height: ρℓ by the height; nothing in low shear.
        least_vertical, least_horizontal: ρℓ and ρt at least.
        vertical_spacing, horizontal_spacing: at most.
        two_curtains: whether there have to be two.
        least_thickness: of the wall.
    """

    web: float
    concrete_factor: float
    low_limit: float
    low: bool
    concrete: float
    needed: bool
    for_strength: float
    by_height: float | None
    least_vertical: float
    least_horizontal: float
    vertical_spacing: float
    horizontal_spacing: float
    two_curtains: bool
    least_thickness: float

    @property
    def required_horizontal(self) -> float:
        """The ρt that both the least and strength ask for."""
        return max(self.least_horizontal, self.for_strength)


def wall_bars(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float, float],
    concrete: tuple[float, float],
    mesh: WallMesh,
    horizontal: float,
    shear: float,
    *,
    kind: WallKind = "bearing",
    unsupported: float,
    one_curtain: bool = False,
    aspects: tuple[float, float] | None = None,
) -> WallBars:
    """Return thickness and bars of a wall against the least.

    Args:
        record: what is written to.
        edition: of the code.
        size: thickness, length and height, mm.
        concrete: f'c, MPa, and λ.
        mesh: the bars.
        horizontal: ρt that there is.
        shear: Vu, N.
        kind: of wall.
        unsupported: the lesser of its unsupported length and height, mm.
        aspects: height over length by which concrete counts in shear, and of the whole wall; those
            of the size where they are not told.
        one_curtain: whether it is excepted from having two (single-storey basement walls).
    """
    given, (h, length, height), (f_c, lam) = edition.walls, size, concrete
    area = web_area.into(record, h, length)
    for_concrete, whole = aspects or (height / length, height / length)
    alpha = concrete_factor.into(record, for_concrete, given.squat, given.slender)
    V_c = concrete_of_wall.into(record, alpha, lam, f_c, area)
    limit = low_shear.into(record, PHI, V_c)
    low, needed = shear <= limit, shear > PHI * V_c
    f_yt = limited_yield.into(record, mesh.yield_strength, given.grades[0])
    for_strength = ratio_for_strength.into(record, shear, PHI, V_c, f_yt, area)
    row, by_height = mesh.row(edition), None
    if low:
        rho_l = least_vertical_low.into(record, row)
        rho_t = least_horizontal_low.into(record, row)
    else:
        by_height = float(vertical_by_height.into(record, whole, horizontal))
        rho_l = least_vertical.into(record, by_height, for_strength)
        rho_t = LEAST
    case = "with shear" if needed else "without shear"
    s_l = vertical_spacing.into(record, case, h, given.spacing, length)
    s_t = horizontal_spacing.into(record, case, h, given.spacing, length)
    least = least_thickness.into(
        record, kind, unsupported, given.least_thickness, given.least_basement
    )
    return WallBars(
        *(float(area), float(alpha), float(limit), bool(low), float(PHI * V_c), bool(needed)),
        *(float(for_strength), by_height, float(rho_l), float(rho_t), float(s_l), float(s_t)),
        bool(h > given.one_curtain * (1 + ROUNDING) and not one_curtain),
        float(least),
    )
