"""What a strain plane means for a section: strains, stresses, forces and where they act."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.strength.body import Body
from fexro.core.strength.integration import resultants
from fexro.core.strength.surface import Points

__all__ = ["SectionState", "StrainPlane"]

FLAT = 1e-12  # curvature, 1/mm, of a strain that is uniform


@dataclass(frozen=True)
class StrainPlane:
    """A strain plane: strain at the centre, and curvatures towards +y and +x, 1/mm.

    With ε = centre + curvature_x · y + curvature_y · x about the body's centre; `curvature_x` goes
    with Mx, `curvature_y` with My.
    """

    centre: float
    curvature_x: float
    curvature_y: float

    @classmethod
    def behind(cls, point: Points) -> StrainPlane:
        """Return the plane behind a single point of the strength surface."""
        angle, curvature = float(point.angle[0]), float(point.curvature[0, 0])
        centre = float(point.centre_strain[0, 0])
        return cls(centre, curvature * math.sin(angle), curvature * math.cos(angle))

    @property
    def angle(self) -> float:
        """Direction of the compressed side, radians from x towards y."""
        return math.atan2(self.curvature_x, self.curvature_y)

    @property
    def curvature(self) -> float:
        """Curvature towards the compressed side, 1/mm."""
        return math.hypot(self.curvature_x, self.curvature_y)

    @property
    def neutral_axis(self) -> float | None:
        """Distance of the neutral axis from the centre towards the compressed side, mm.

        Nothing where the strain is uniform.
        """
        return -self.centre / self.curvature if self.curvature > FLAT else None

    def strain(self, x: FloatArray, y: FloatArray) -> FloatArray:
        """Return strains at places from the body's centre, mm."""
        return self.centre + self.curvature_x * y + self.curvature_y * x


class SectionState:
    """A body under a strain plane; places are from the body's centre, mm; N, N·mm, MPa.

    Attributes:
        body, plane: what is strained, and how.
        x, y: positions of all bars, (B,).
        strain, stress, displaced, area, force: of each bar, with the stress of the concrete
            displaced.
        bars: sums over the bars: N, Mx, My, (3,).
    """

    def __init__(self, body: Body, plane: StrainPlane) -> None:
        self.body, self.plane = body, plane
        self.x, self.y = body.bar_points.T
        self.strain = plane.strain(self.x, self.y)
        self.stress, self.displaced = np.zeros_like(self.x), np.zeros_like(self.x)
        self.area = np.zeros_like(self.x)
        for bars, part in zip(body.bars, body.bar_parts, strict=True):
            self.stress[part] = bars.law.stress(self.strain[part])
            if bars.displaced is not None:
                self.displaced[part] = bars.displaced.stress(self.strain[part])
            self.area[part] = bars.area
        if body.numbers is not None:
            back = np.argsort(body.numbers)
            for name in ("x", "y", "strain", "stress", "displaced", "area"):
                setattr(self, name, getattr(self, name)[back])
        self.force: FloatArray = (self.stress - self.displaced) * self.area
        arms = np.stack([np.ones_like(self.x), self.y, self.x])
        self.bars: FloatArray = arms @ self.force

    @cached_property
    def regions(self) -> FloatArray:
        """N, Mx, My of each region, (G, 3)."""
        plane = self.plane
        found = [
            resultants(
                Body([region], [], self.body.centre),
                np.array([plane.angle]),
                np.array([[plane.centre]]),
                np.array([[plane.curvature]]),
            )[0, 0]
            for region in self.body.regions
        ]
        return np.reshape(found, (len(found), 3))

    @cached_property
    def concrete(self) -> tuple[float, float, float]:
        """The force of all concrete and its place x, y; no place without a force."""
        force, moment_x, moment_y = (
            float(value) for value in self.regions[~self._of_steel].sum(axis=0)
        )
        return (force, moment_y / force, moment_x / force) if force else (0.0, 0.0, 0.0)

    @cached_property
    def steel(self) -> FloatArray:
        """N, Mx, My of the structural steel, (3,)."""
        total: FloatArray = self.regions[self._of_steel].sum(axis=0)
        return total

    @cached_property
    def _of_steel(self) -> BoolArray:
        return np.array([region.steel for region in self.body.regions], dtype=bool)

    @cached_property
    def resultant(self) -> FloatArray:
        """N, Mx, My of regions and bars together, (3,)."""
        total: FloatArray = self.bars + self.regions.sum(axis=0)
        return total

    @cached_property
    def extent(self) -> tuple[float, float]:
        """The lowest and highest place of the concrete towards the compressed side, mm."""
        lowest, highest = self.body.extent(np.array([self.plane.angle]))
        return float(lowest[0]), float(highest[0])

    @cached_property
    def extremes(self) -> tuple[float, float]:
        """The lowest and highest strain of the concrete."""
        strains = self.plane.strain(*self.body.vertices.T)
        return float(strains.min()), float(strains.max())

    @cached_property
    def neutral_axis_depth(self) -> float | None:
        """Depth of the neutral axis from the extreme compression fibre, mm; nothing if uniform."""
        axis = self.plane.neutral_axis
        return None if axis is None else self.extent[1] - axis

    @cached_property
    def bar_depth(self) -> FloatArray:
        """Distances of the bars from the extreme compression fibre, (B,), mm."""
        angle = self.plane.angle
        depth: FloatArray = self.extent[1] - (self.x * math.cos(angle) + self.y * math.sin(angle))
        return depth
