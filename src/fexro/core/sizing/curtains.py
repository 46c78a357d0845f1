"""How much steel a wall needs, uniform over its curtains."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from fexro.core.arrays import BoolArray, FloatArray

__all__ = ["RequiredRatio", "required_ratio"]

LEAST, MOST, STEPS = 0.0025, 0.04, 16
CLOSE = 1e-7  # of the ratio


@dataclass(frozen=True, eq=False)
class RequiredRatio:
    """The ratio of vertical bars that would just do.

    Attributes:
        ratio: the least; nothing where none up to the largest does.
        tried, ratios: ratios that were looked at, and the utilisations there.
        gaps: ratios between which more steel does not do although less does.
    """

    ratio: float | None
    tried: FloatArray
    ratios: FloatArray
    gaps: tuple[tuple[float, float], ...]


def required_ratio(
    utilisation: Callable[[float], float],
    aim: float = 1.0,
    least: float = LEAST,
    most: float = MOST,
) -> RequiredRatio:
    """Return the least ratio of vertical bars with which a utilisation is within an aim.

    Ratios are gone through upwards: with a resistance factor that falls as less of the steel
    yields, more is not always stronger.

    Args:
        utilisation: with a ratio.
        aim: largest utilisation.
        least, most: ratios to look between.
    """
    tried = np.linspace(least, most, STEPS)
    ratios = np.array([utilisation(float(rho)) for rho in tried])
    does = ratios <= aim
    gaps = tuple(
        (float(tried[i]), float(tried[j])) for i, j in _runs(~does & (np.cumsum(does) > 0))
    )
    if not does.any():
        return RequiredRatio(None, tried, ratios, gaps)
    first = int(does.argmax())
    if first == 0:
        return RequiredRatio(least, tried, ratios, gaps)
    low, high = float(tried[first - 1]), float(tried[first])
    found = brentq(lambda rho: utilisation(rho) - aim, low, high, xtol=CLOSE * high)
    return RequiredRatio(float(found), tried, ratios, gaps)


def _runs(marked: BoolArray) -> list[tuple[int, int]]:
    """Return first and last place of each run of what is marked."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], marked.astype(int), [0]])))
    return [(int(a), int(b) - 1) for a, b in edges.reshape(-1, 2)]
