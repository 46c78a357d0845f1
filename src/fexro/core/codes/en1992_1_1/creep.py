"""Creep coefficient: EN 1992-1-1, 3.1.4 and Annex B.1, at 20 °C."""

from __future__ import annotations

from numpy import maximum, sqrt, where

from fexro.core.codes.en1992_1_1.materials import F_1, F_8
from fexro.core.provisions import Case, Derivation, provision, select
from fexro.core.provisions.coefficient import MPA, Coefficient
from fexro.core.quantities import Area, Dimension, Length, Ratio, Stress

__all__ = [
    "adjusted_age",
    "age_factor",
    "final_creep",
    "humidity_factor",
    "mean_strength",
    "notional_creep",
    "notional_size",
    "strength_factor",
]

F_35 = Coefficient(35, MPA, Dimension.STRESS)
MILLIMETRE = 1.0


@provision("Table 3.1", symbol="f_cm")
def mean_strength(f_ck: Stress) -> Stress:
    """Mean strength at 28 days."""
    return f_ck + F_8


@provision("B.1(1)", symbol="h_0")
def notional_size(A_c: Area, u: Length) -> Length:
    """Notional size: u is the perimeter that dries."""
    return 2 * A_c / u


@provision("B.1(1), (B.3)", symbol="phi_RH")
def humidity_factor(RH: Ratio, h_0_mm: Ratio, f_cm: Stress) -> Ratio:
    """Effect of the relative humidity, %, and of the notional size in mm."""
    alpha_1 = (F_35 / f_cm) ** 0.7
    alpha_2 = (F_35 / f_cm) ** 0.2
    dry = (1 - RH / 100) / (0.1 * h_0_mm ** (1 / 3))
    return where(f_cm <= F_35, 1 + dry, (1 + dry * alpha_1) * alpha_2)


@provision("B.1(1), (B.4)", symbol="beta_fcm")
def strength_factor(f_cm: Stress) -> Ratio:
    """Effect of the strength."""
    return 16.8 / sqrt(f_cm / F_1)


@provision("B.1(2), (B.9)", symbol="t_0_adj")
def adjusted_age(t_0: Ratio, cement: Case) -> Ratio:
    """Age at loading, days, by the cement."""
    alpha = select(cement, S=-1, N=0, R=1)
    return maximum(t_0 * (9 / (2 + t_0**1.2) + 1) ** alpha, 0.5)


@provision("B.1(1), (B.5)", symbol="beta_t0")
def age_factor(t_0_adj: Ratio) -> Ratio:
    """Effect of the age at loading."""
    return 1 / (0.1 + t_0_adj**0.2)


@provision("B.1(1), (B.2)", symbol="phi")
def notional_creep(phi_RH: Ratio, beta_fcm: Ratio, beta_t0: Ratio) -> Ratio:
    """Final creep coefficient."""
    return phi_RH * beta_fcm * beta_t0


def final_creep(
    record: Derivation | None,
    f_ck: float,
    area: float,
    perimeter: float,
    humidity: float,
    age: float,
    cement: str,
) -> dict[str, float]:
    """Return the final creep coefficient `phi_inf` and what leads to it (Annex B.1).

    Args:
        record: a derivation to write into.
        f_ck: strength, MPa.
        area, perimeter: of the section, mm² and mm.
        humidity: relative, %.
        age: at loading, days.
        cement: class S, N or R.
    """
    f_cm = mean_strength.into(record, f_ck)
    h_0 = notional_size.into(record, area, perimeter)
    phi_RH = humidity_factor.into(record, humidity, float(h_0) / MILLIMETRE, f_cm)
    beta_fcm = strength_factor.into(record, f_cm)
    t_0 = adjusted_age.into(record, age, cement)
    beta_t0 = age_factor.into(record, t_0)
    phi = notional_creep.into(record, phi_RH, beta_fcm, beta_t0)
    named = {
        "h0": h_0,
        "fcm": f_cm,
        "phi_RH": phi_RH,
        "beta_fcm": beta_fcm,
        "t0_adjusted": t_0,
        "beta_t0": beta_t0,
        "phi_inf": phi,
    }
    return {name: float(value) for name, value in named.items()}
