"""Shear friction: ACI 318-19, 22.9."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy import maximum, minimum

from fexro.core.arrays import FloatArray
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.shear import PHI, limited_yield
from fexro.core.provisions import Case, Derivation, provision, select
from fexro.core.quantities import Area, Force, Ratio, Stress

__all__ = ["PHI", "ShearFriction", "Surface", "shear_friction"]

Surface = Literal["roughened", "not roughened"]


@provision("Table 22.9.4.2", symbol="mu")
def friction(surface: Case, lam: Ratio) -> Ratio:
    """Coefficient of friction of concrete placed against hardened concrete."""
    return select(surface, roughened=1.0 * lam, not_roughened=0.6 * lam)


@provision("22.9.4.2, 22.9.4.5", symbol="V_f")
def friction_strength(mu: Ratio, A_vf: Area, f_y: Stress, N_u: Force) -> Force:
    """Shear that bars across a joint and lasting compression resist; tension counts against it."""
    return maximum(mu * (A_vf * f_y + N_u), 0)


@provision("Table 22.9.4.4", symbol="V_n,max")
def largest_friction(
    surface: Case, f_c_prime: Stress, A_c: Area, v_1: Stress, v_2: Stress, v_3: Stress
) -> Force:
    """Largest shear of a joint."""
    return A_c * select(
        surface,
        roughened=minimum(minimum(0.2 * f_c_prime, v_1 + 0.08 * f_c_prime), v_2),
        not_roughened=minimum(0.2 * f_c_prime, v_3),
    )


@provision("22.9.4", symbol="V_n")
def joint_strength(V_f: Force, V_n_max: Force) -> Force:
    """Nominal shear strength of a joint."""
    return minimum(V_f, V_n_max)


@provision("22.9.3.1", symbol="u")
def joint_ratio(V_u: Force, phi: Ratio, V_n: Force) -> Ratio:
    """Shear at a joint over its design strength."""
    return V_u / (phi * V_n)


@dataclass(frozen=True, eq=False)
class ShearFriction:
    """Shear of a joint in each demand, (D,); N.

    Attributes:
        friction: μ.
        largest: Vn at most.
        strength: Vn.
        ratio: Vu over φ Vn.
    """

    friction: float
    largest: float
    strength: FloatArray
    ratio: FloatArray


def shear_friction(
    record: Derivation | None,
    edition: Edition,
    area: float,
    concrete: tuple[float, float],
    steel: tuple[float, float],
    actions: tuple[FloatArray, FloatArray],
    surface: Surface,
) -> ShearFriction:
    """Return the shear that a construction joint resists.

    Args:
        record: what is written to, of one demand.
        edition: of the code.
        area: Ac of the joint, mm².
        concrete: f'c, MPa, and λ.
        steel: area of the bars across the joint, mm², and fy, MPa.
        actions: Nu, negative in tension, and Vu of each demand, (D,), N.
        surface: how the hardened concrete is made.
    """
    (f_c, lam), (A_vf, f_y), (axial, shear) = concrete, steel, actions
    given = edition.walls
    mu = friction.into(record, surface, lam)
    f_yd = limited_yield.named(f_yt_0="f_y", f_yt="f_y").into(record, f_y, given.grades[0])
    V_f = friction_strength.into(record, mu, A_vf, f_yd, axial)
    most = largest_friction.into(record, surface, f_c, area, *given.friction)
    V_n = joint_strength.into(record, V_f, most)
    with np.errstate(divide="ignore", invalid="ignore"):
        ratio = np.where(np.asarray(V_n) > 0, np.asarray(shear) / (PHI * np.asarray(V_n)), np.inf)
    if record is not None and V_n > 0:
        joint_ratio.into(record, shear, PHI, V_n)
    return ShearFriction(float(mu), float(most), np.asarray(V_n), np.asarray(ratio))
