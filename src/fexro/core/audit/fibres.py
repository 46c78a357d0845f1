"""Section strength by square fibres.

The section is cut into small squares, each with the strain of its middle; forces and moments are
sums. The design surface is met along the ray from the origin by bracketing in the depth of the
neutral axis and its direction. It is slow and not quite exact, and shares with the engine only the
data of the section, the stress laws and the limit strains of the code.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.section.outline import Outline
from fexro.core.strength.body import Region
from fexro.core.strength.laws import Law
from fexro.core.strength.surface import Strength

__all__ = ["Fibres", "fibre_utilisation"]

CELLS, ACROSS = 160, 60  # along the longer side of the section, and across what is thin
DIRECTION_WIDTH, DEPTH_WIDTH = 1e-6, 1e-9  # radians; share of the family of limit planes
MOST_STEPS, OVERSHOOT = 60, 0.4


@dataclass(frozen=True, eq=False)
class _Fibres:
    """What has one law: places from the centre, mm, and areas, mm², (F,)."""

    x: FloatArray
    y: FloatArray
    area: FloatArray
    law: Law

    def forces(self, strain: float, curvature: float, cos: float, sin: float) -> FloatArray:
        """Return N, Mx, My under a strain plane, (3,)."""
        strains = strain + curvature * (self.x * cos + self.y * sin)
        force = self.law.stress(strains) * self.area
        # A plain sum: shared among threads it would take more of the processor than it saves.
        moments = np.einsum("kf,f->k", self.places, force)
        return np.array([force.sum(), *moments])

    @cached_property
    def places(self) -> FloatArray:
        """Places y and x, (2, F)."""
        return np.stack([self.y, self.x])


@dataclass(frozen=True, eq=False)
class Fibres:
    """A section as fibres: squares of its regions, its bars, and what the bars displace.

    Attributes:
        added, displaced: what resists, and what is taken away from it.
        corners: of the regions from the centre, (V, 2), mm.
        bars: places of the bars from the centre, (B, 2), mm.
        strength: limit planes, factor and cap of the code.
    """

    added: tuple[_Fibres, ...]
    displaced: tuple[_Fibres, ...]
    corners: FloatArray
    bars: FloatArray
    strength: Strength

    @classmethod
    def of(cls, strength: Strength) -> Fibres:
        """Cut the regions of a section into squares."""
        body = strength.body
        added, displaced = [_squares(region, body.centre) for region in body.regions], []
        for bars, part in zip(body.bars, body.bar_parts, strict=True):
            x, y = body.bar_points[part].T
            added.append(_Fibres(x, y, bars.area, bars.law))
            if bars.displaced is not None:
                displaced.append(_Fibres(x, y, bars.area, bars.displaced))
        return cls(tuple(added), tuple(displaced), body.vertices, body.bar_points, strength)

    def design(self, angle: float, fraction: float) -> FloatArray:
        """Return the design N, Mx, My of a limit plane of the code."""
        strength = self.strength
        cos, sin = float(np.cos(angle)), float(np.sin(angle))
        reach = self.corners @ (cos, sin)
        strain, curvature = (
            float(value[0, 0])
            for value in strength.limit.planes(
                np.array([[fraction]]), np.array([[reach.min()]]), np.array([[reach.max()]])
            )
        )
        total = np.zeros(3)
        for fibres in self.added:
            total += fibres.forces(strain, curvature, cos, sin)
        for fibres in self.displaced:
            total -= fibres.forces(strain, curvature, cos, sin)
        lowest = strain + curvature * float((self.bars @ (cos, sin)).min())
        return float(strength.factor(np.array([lowest]))[0]) * total


def _squares(region: Region, centre: tuple[float, float]) -> _Fibres:
    outline = region.outline
    x0, y0, x1, y1 = outline.bounds
    thin = 2 * outline.area / outline.polygon.length
    size = min(max(x1 - x0, y1 - y0) / CELLS, thin / ACROSS)
    columns, rows = max(round((x1 - x0) / size), 1), max(round((y1 - y0) / size), 1)
    dx, dy = (x1 - x0) / columns, (y1 - y0) / rows
    x, y = np.meshgrid(x0 + dx * (np.arange(columns) + 0.5), y0 + dy * (np.arange(rows) + 0.5))
    share = _shares(outline, x.ravel(), y.ravel(), dx, dy)
    kept = share > 0
    area = share[kept] * dx * dy
    return _Fibres(x.ravel()[kept] - centre[0], y.ravel()[kept] - centre[1], area, region.law)


def _shares(outline: Outline, x: FloatArray, y: FloatArray, dx: float, dy: float) -> FloatArray:
    """Return the share of each square that is concrete, from 3 × 3 points in it."""
    from shapely import contains_xy, prepare
    from shapely.affinity import translate

    # A geometry of its own: others may ask the outline's meanwhile.
    polygon = translate(outline.polygon)
    prepare(polygon)
    share = np.zeros(len(x))
    for i in (-1, 0, 1):
        for j in (-1, 0, 1):
            share += contains_xy(polygon, x + i * dx / 3, y + j * dy / 3)
    share /= 9
    # The whole has the outline's area; only where the fibres lie is approximate.
    share *= outline.area / (share.sum() * dx * dy)
    return share


def fibre_utilisation(fibres: Fibres, demand: FloatArray) -> float:
    """Return the utilisation of a demand N, Mx, My along the ray from the origin."""
    strength = fibres.strength
    if not demand.any():
        return 0.0
    moment = float(np.hypot(*demand[1:]))
    by_cap = float(demand[0]) / strength.max_axial
    if moment <= 1e-9 * max(abs(float(demand[0])), 1.0):
        end = fibres.design(0.0, 1.0 if demand[0] > 0 else 0.0)
        return max(float(demand[0] / end[0]), by_cap)
    # The moment turns the same way as the direction of compression, starting from its own.
    own = float(np.arctan2(demand[1], demand[2]))

    def turned(angle: float) -> tuple[float, FloatArray]:
        point = _at_slope(fibres, angle, demand)
        return float(demand[2] * point[1] - demand[1] * point[2]), point

    point = _crossing(turned, own - np.pi / 2, own + np.pi / 2, DIRECTION_WIDTH)
    length = float(point @ demand) / float(demand @ demand)
    return max(1.0 / length if length > 0 else np.inf, by_cap)


def _at_slope(fibres: Fibres, angle: float, demand: FloatArray) -> FloatArray:
    """Return the point in a direction whose N stands to its moment as in the demand."""
    moment = float(np.hypot(*demand[1:]))

    def steeper(fraction: float) -> tuple[float, FloatArray]:
        point = fibres.design(angle, fraction)
        return float(point[0] * moment - demand[0] * np.hypot(*point[1:])), point

    return _crossing(steeper, 0.0, 1.0, DEPTH_WIDTH)


def _crossing(
    function: Callable[[float], tuple[float, FloatArray]], low: float, high: float, width: float
) -> FloatArray:
    """Return the point where a function passes from negative to positive, to a width.

    Between a chord and the middle in turn: sums over fibres have steps, at which chords alone
    would stay.
    """
    (below, _), (above, point) = function(low), function(high)
    for step in range(MOST_STEPS):
        if high - low <= width:
            break
        chord = low - below * (high - low) / (above - below) if above != below else low
        usable = step % 3 < 2 and low < chord < high
        trial = chord if usable else (low + high) / 2
        # A little beyond the chord's end, so that both sides close in.
        if usable:
            trial += OVERSHOOT * width * (1 if high - trial > trial - low else -1)
            trial = min(max(trial, low), high)
        value, point = function(trial)
        if value > 0:
            high, above = trial, value
        else:
            low, below = trial, value
    return point
