"""In-plane shear of walls: ACI 318-19, 11.5.4 and 18.10.4."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy import clip, maximum, minimum, sqrt

from fexro.core.arrays import FloatArray
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.shear import limited_yield
from fexro.core.provisions import Derivation, provision
from fexro.core.quantities import Area, Force, Length, Ratio, RootStress, Stress

__all__ = [
    "PHI",
    "WallShear",
    "concrete_factor",
    "concrete_of_wall",
    "factor_in_tension",
    "largest_of_wall",
    "ratio_for_strength",
    "strength_of_wall",
    "wall_shear",
    "web_area",
]

PHI = 0.75  # 21.2.1(b), and 18.10.4.6 for special walls


@provision("11.5.4.2", symbol="A_cv")
def web_area(b_w: Length, ell_w: Length) -> Area:
    """Gross area of the web of a wall."""
    return b_w * ell_w


@provision("11.5.4.3", symbol="alpha_c")
def concrete_factor(m: Ratio, k_1: RootStress, k_2: RootStress) -> RootStress:
    """Factor of the shear that concrete carries, by the height of a wall over its length."""
    return k_1 + (k_2 - k_1) * clip((m - 1.5) / 0.5, 0, 1)


@provision("11.5.4.4", symbol="alpha_c")
def factor_in_tension(k_2: RootStress, N_u: Force, f_t: Stress, A_g: Area) -> RootStress:
    """Factor of the shear that concrete carries, of a wall in net tension."""
    return maximum(k_2 * (1 + N_u / (f_t * A_g)), 0)


@provision("11.5.4.3", symbol="V_c")
def concrete_of_wall(alpha_c: RootStress, lam: Ratio, f_c_prime: Stress, A_cv: Area) -> Force:
    """Shear that the concrete of a wall carries."""
    return alpha_c * lam * sqrt(f_c_prime) * A_cv


@provision("11.5.4.3", symbol="V_s")
def bars_of_wall(rho_t: Ratio, f_yt: Stress, A_cv: Area) -> Force:
    """Shear that the horizontal bars of a wall carry."""
    return rho_t * f_yt * A_cv


@provision("11.5.4.2", symbol="V_n,max")
def largest_of_wall(k_max: RootStress, f_c_prime: Stress, A_cv: Area) -> Force:
    """Largest shear of a wall."""
    return k_max * sqrt(f_c_prime) * A_cv


@provision("11.5.4.3", symbol="V_n")
def strength_of_wall(V_c: Force, V_s: Force, V_n_max: Force) -> Force:
    """Nominal shear strength of a wall."""
    return minimum(V_c + V_s, V_n_max)


@provision("11.5.4.3", symbol="rho_t,s")
def ratio_for_strength(V_u: Force, phi: Ratio, V_c: Force, f_yt: Stress, A_cv: Area) -> Ratio:
    """Ratio of horizontal bars that a shear asks for."""
    return maximum((V_u / phi - V_c) / (f_yt * A_cv), 0)


@provision("11.5.4.1", symbol="u")
def shear_ratio(V_u: Force, phi: Ratio, V_n: Force) -> Ratio:
    """Shear over its design strength."""
    return V_u / (phi * V_n)


@dataclass(frozen=True, eq=False)
class WallShear:
    """Shear of a wall or a segment in each demand, (D,); N, mm², √MPa.

    Attributes:
        web: Acv.
        aspect: height over length, as it counts.
        without_tension, concrete_factor: αc without net tension, and as it is.
        yield_strength: fyt as it counts, MPa.
        concrete, bars, largest, strength: Vc, Vs, the largest Vn, Vn.
        for_strength: ρt that the shear asks for.
        ratio: Vu over φ Vn.
    """

    web: float
    aspect: float
    without_tension: float
    concrete_factor: FloatArray
    yield_strength: float
    concrete: FloatArray
    bars: float
    largest: float
    strength: FloatArray
    for_strength: FloatArray
    ratio: FloatArray

    @property
    def uncapped(self) -> FloatArray:
        """Vn without its limit."""
        return self.concrete + self.bars


def wall_shear(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float, float],
    concrete: tuple[float, float],
    bars: tuple[float, float],
    actions: tuple[FloatArray, FloatArray],
    *,
    special: bool = False,
) -> WallShear:
    """Return the shear of a wall in its plane.

    Args:
        record: what is written to, of one demand.
        edition: of the code.
        size: thickness and length, mm, and the height over the length that counts.
        concrete: f'c, MPa, and λ.
        bars: ρt and fyt, MPa.
        actions: Nu and Vu of each demand, (D,), N.
        special: whether it is a segment of a special wall, which has other limits.
    """
    given, (b_w, length, aspect), (f_c, lam), (rho, f_y) = edition.walls, size, concrete, bars
    axial, shear = actions
    area = web_area.into(record, b_w, length)
    alpha_0 = concrete_factor.into(record, aspect, given.squat, given.slender)
    alpha = np.where(
        axial < 0, factor_in_tension(given.slender, axial, given.tension, area), alpha_0
    )
    if record is not None and axial < 0:
        factor_in_tension.into(record, given.slender, axial, given.tension, area)
    V_c = concrete_of_wall.into(record, alpha if record is None else float(alpha), lam, f_c, area)
    f_yt = limited_yield.into(record, f_y, given.grades[2 if special else 0])
    V_s = bars_of_wall.into(record, rho, f_yt, area)
    most = given.largest_segment if special else given.largest
    V_max = largest_of_wall.into(record, most, f_c, area)
    V_n = strength_of_wall.into(record, V_c, V_s, V_max)
    need = ratio_for_strength.into(record, shear, PHI, V_c, f_yt, area)
    ratio = shear_ratio.into(record, shear, PHI, V_n)
    return WallShear(
        float(area),
        aspect,
        float(alpha_0),
        np.asarray(alpha, float),
        float(f_yt),
        np.asarray(V_c, float),
        float(V_s),
        float(V_max),
        np.asarray(V_n, float),
        np.asarray(need, float),
        np.asarray(ratio, float),
    )
