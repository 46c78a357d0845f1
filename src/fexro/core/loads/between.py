"""Moments and shears of a lift under loads between its ends, beside those of its end moments.

A load towards +x bends a lift so that its -x side is compressed between the ends; it is carried to
both ends as by a beam on two supports. Places are shares of the height from the bottom.
"""

from __future__ import annotations

import numpy as np

from fexro.core.arrays import FloatArray

__all__ = ["distributed", "eccentric", "first_order_deflection", "point"]


def distributed(load: float, height: float, places: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Return moments and shears of an even load along the whole height.

    Args:
        load: per length, towards the positive axis.
        height: of the lift.
        places: shares of the height, (P,).

    Returns:
        Moments and shears, (P,), in load times length squared and load times length.
    """
    s = places * height
    return -load * s * (height - s) / 2, -load * (height - 2 * s) / 2


def point(
    load: float, at: float, height: float, places: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Return moments and shears of a single load.

    Args:
        load: towards the positive axis.
        at: its place, a share of the height.
        height: of the lift.
        places: shares of the height, (P,).
    """
    below = places <= at
    moment = -load * height * np.where(below, places * (1 - at), at * (1 - places))
    return moment, np.where(below, -load * (1 - at), load * at)


def eccentric(force: float, arm: float, places: FloatArray, *, at_top: bool) -> FloatArray:
    """Return moments of an axial force that acts beside the axis at one end, (P,).

    Args:
        force: compression positive.
        arm: its distance from the axis, positive towards the positive axis.
        places: shares of the height, (P,).
        at_top: whether it acts at the top; else at the bottom.
    """
    return force * arm * (places if at_top else 1 - places)


def first_order_deflection(
    moments: FloatArray, places: FloatArray, height: float, stiffness: float
) -> FloatArray:
    """Return the deflection between the ends by first-order moments, towards the positive axis.

    The ends do not move. A moment that compresses the positive side bends the lift towards the
    negative one. Found by integrating the curvature twice by the trapezium rule.

    Args:
        moments: along the height, (..., P).
        places: shares of the height, ascending from 0 to 1, (P,).
        height: of the lift.
        stiffness: flexural.
    """
    s = places * height
    curvature = moments / stiffness

    def integrated(values: FloatArray) -> FloatArray:
        steps = np.diff(s) * (values[..., 1:] + values[..., :-1]) / 2
        start = np.zeros((*values.shape[:-1], 1))
        return np.concatenate([start, np.cumsum(steps, axis=-1)], axis=-1)

    twice = integrated(integrated(curvature))
    deflection: FloatArray = twice - twice[..., -1:] * places
    return deflection
