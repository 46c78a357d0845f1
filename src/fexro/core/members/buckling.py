"""The shape in which a column buckles between springs, and where it has no moment."""

from __future__ import annotations

import math

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.loads.between import first_order_deflection

__all__ = ["bent_shape", "buckled_shape", "inflections"]

STIFF, SOFT = 1e-9, 1e9  # flexibilities that stand for fixed and pinned


def _phases(factor: float, top: float, bottom: float, *, sway: bool) -> tuple[float, float, float]:
    """Return the wave number times the length, and the weights of sine and cosine at the foot."""
    wave = math.pi / factor
    psi = [min(max(value, STIFF), SOFT) for value in (bottom, top)]
    if sway:
        # No shear: the moment is a cosine whose phase the spring at the foot decides.
        phase = math.atan(wave * psi[0] / 6)
        return wave, -math.sin(phase), math.cos(phase)
    # Moment at the foot over its rotation by the spring, 2 EI / (ψ L), solved for both weights.
    spring = 2 / psi[0]
    sine = spring * (1 - math.cos(wave)) + wave**2
    cosine = -spring * (wave - math.sin(wave))
    size = math.hypot(sine, cosine)
    return wave, sine / size, cosine / size


def buckled_shape(
    factor: float, top: float, bottom: float, places: FloatArray, *, sway: bool
) -> FloatArray:
    """Return the deflection of the buckled shape at shares of the height, its largest 1, (P,).

    Args:
        factor: of the effective length.
        top, bottom: ψ at the ends, columns over beams: 0 fixed, infinite pinned.
        places: shares of the height from the foot, (P,).
        sway: whether the top moves sideways.
    """
    if math.isinf(factor):
        return places.copy()
    wave, sine, cosine = _phases(factor, top, bottom, sway=sway)
    if sway:
        moment = sine * np.sin(wave * places) + cosine * np.cos(wave * places)
        shape = cosine - moment
    else:
        shape = sine * (np.sin(wave * places) - places * math.sin(wave)) + cosine * (
            np.cos(wave * places) - 1 + places * (1 - math.cos(wave))
        )
    largest = float(np.abs(shape).max(initial=0.0))
    return shape / largest if largest else shape


def inflections(factor: float, top: float, bottom: float, *, sway: bool) -> tuple[float, float]:
    """Return the shares of the height at which the buckled shape has no moment, lower first.

    They lie an effective length apart; of a column that sways one or both may lie beyond its ends.
    """
    if math.isinf(factor):
        return -math.inf, math.inf
    wave, sine, cosine = _phases(factor, top, bottom, sway=sway)
    # The moment is sine · sin + cosine · cos: it vanishes where the tangent is their ratio.
    first = math.atan2(-cosine, sine) / wave
    period = factor
    if sway:
        upper = first % period
        return upper - period, upper
    middle = (1 - factor) / 2
    lower = first + period * round((middle - first) / period)
    return lower, lower + period


def bent_shape(
    moments: FloatArray, places: FloatArray, top: float, bottom: float, *, sway: bool
) -> FloatArray:
    """Return the shape that moments bend a column of even stiffness to, its largest 1, (P,).

    A positive moment compresses the positive side, so that the column bows to the other. Held
    against sway both ends stay in place; otherwise the foot turns with its spring, or the top where
    the foot has none.

    Args:
        moments: at the places, (P,).
        places: shares of the height from the foot, rising from 0 to 1, (P,).
        top, bottom: ψ at the ends, columns over beams: 0 fixed, infinite pinned.
        sway: whether the top moves sideways.
    """
    shape = first_order_deflection(moments, places, 1.0, 1.0)
    if sway:
        area, lever = (
            float(np.trapezoid(values, places)) for values in (moments, (1 - places) * moments)
        )
        if math.isfinite(bottom):
            shape = shape + (lever + float(moments[0]) * bottom / 6) * places
        elif math.isfinite(top):
            shape = shape + (lever - float(moments[-1]) * top / 6 - area) * places
    largest = float(np.abs(shape).max(initial=0.0))
    return shape / largest if largest else shape
