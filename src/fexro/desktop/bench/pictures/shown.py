"""What the pictures of a bench show: a lift, a demand, a plane of bending and an axial force."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache, partial

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.members.lift import LiftResult
from fexro.core.quantities import Dimension, UnitSystem, format_number, format_quantity, unit_of
from fexro.core.strength.equilibrium import strain_plane
from fexro.core.strength.slices import Meridian, contour, meridian
from fexro.core.strength.state import SectionState, StrainPlane
from fexro.core.strength.surface import Strength
from fexro.core.strength.utilisation import Utilisation, proportional

__all__ = ["Reading", "Shown", "length_text", "per_mille", "plane_angle"]

IN_PLANE = 0.05  # share of a moment across the plane up to which it counts as in it
CONTOUR = 48  # even directions of the Mx–My curve, beside those that crowd where it bends
AT_LEVEL = 0.02  # share of the range of axial forces up to which a demand counts as at one


def plane_angle(moment_x: float, moment_y: float) -> float:
    """Return the direction of a moment, radians from Mx towards My; Mx where there is none."""
    return math.atan2(moment_y, moment_x) if moment_x or moment_y else 0.0


@lru_cache(maxsize=16)
def _contour(strength: Strength, axial: float) -> FloatArray:
    # Kept while only the plane is turned.
    return contour(strength, axial, CONTOUR)


def length_text(value: float, system: UnitSystem) -> str:
    """Return a length that was found, rounded for reading, with its unit."""
    unit = unit_of(Dimension.LENGTH, system)
    return f"{format_number(value / unit.size, unit.decimals)} {unit.symbol}"


def per_mille(strain: float) -> str:
    """Return a strain in thousandths."""
    return f"{format_number(1000 * strain, 2)} ‰"


@dataclass(frozen=True)
class Reading:
    """What a place in the N–M plane means.

    Attributes:
        utilisation: along the ray.
        depth: of the neutral axis at capacity, mm; nothing where the strain is uniform.
        strains: lowest and highest of the concrete at capacity.
    """

    utilisation: float
    depth: float | None
    strains: tuple[float, float]


@dataclass(frozen=True, eq=False)
class Shown:
    """What all pictures of a bench show; each computes what it needs when it is drawn.

    Attributes:
        result: the lift and its checks.
        demand: index of the selected demand; nothing where no forces are known.
        angle: direction of the moment of the N–M plane, radians from Mx towards My.
        axial: axial force of the Mx–My plane, N.
        system: the units people see.
        passing: whether it is seen for a moment only, while something is dragged: the demands are
            judged by the mesh then, but for the selected one.
    """

    result: LiftResult
    demand: int | None
    angle: float
    axial: float
    system: UnitSystem
    passing: bool = False

    @cached_property
    def ratios(self) -> FloatArray:
        """Utilisations of the demands along the ray, (R,)."""
        return self.result.estimated if self.passing else self.result.proportional.ratio

    @cached_property
    def along(self) -> Utilisation | None:
        """The utilisation of the selected demand along the ray."""
        return None if self.demand is None else self.result.along(self.demand)

    @cached_property
    def strength(self) -> Strength:
        """Strength of the section."""
        return self.result.lift.strength

    @cached_property
    def force(self) -> float:
        """Size of the unit of force, N."""
        return unit_of(Dimension.FORCE, self.system).size

    @cached_property
    def moment(self) -> float:
        """Size of the unit of moments, N·mm."""
        return unit_of(Dimension.MOMENT, self.system).size

    @property
    def unit(self) -> FloatArray:
        """Unit vector of the plane's moment in Mx, My."""
        return np.array([math.cos(self.angle), math.sin(self.angle)])

    @cached_property
    def meridian(self) -> Meridian:
        """The N–M curve in the plane, its marks those of `key_names`."""
        lift = self.result.lift
        keys = lift.code.strength.key_points(lift.facts.cross_section)
        marks = [] if self.passing else [partial(key.fraction, self.strength) for key in keys]
        return meridian(self.strength, self.angle, marks, rough=self.passing)

    @cached_property
    def key_names(self) -> tuple[str, ...]:
        """The meaning of the marks of the curve."""
        lift = self.result.lift
        keys = lift.code.strength.key_points(lift.facts.cross_section)
        return tuple(key.name for key in keys)

    @cached_property
    def contour(self) -> FloatArray:
        """The design Mx–My curve at the axial force."""
        return _contour(self.strength, self.axial)

    @property
    def demands(self) -> FloatArray:
        """All demands N, Mx, My, (R, 3)."""
        return self.result.demands

    @property
    def first_order(self) -> FloatArray:
        """The analysed forces each demand comes from, (R, 3)."""
        return self.result.prepared.demands.first_order.reshape(-1, 3)

    @cached_property
    def in_plane(self) -> FloatArray:
        """Moments of the demands along the plane's, (R,); what is alike is shown on the right."""
        return self.moments_along(self.demands)

    def moments_along(self, forces: FloatArray) -> FloatArray:
        """Return moments of forces (R, 3) along the plane's, as they are drawn."""
        along: FloatArray = forces[:, 1:] @ self.unit
        return np.abs(along) if self.strength.body.symmetry.point else along

    @cached_property
    def projected(self) -> BoolArray:
        """Which demands have moments out of the plane, (R,)."""
        across = self.demands[:, 1:] @ np.array([-self.unit[1], self.unit[0]])
        out: BoolArray = np.abs(across) > IN_PLANE * np.hypot(*self.demands[:, 1:].T) + 1e-9
        return out

    @cached_property
    def at_level(self) -> BoolArray:
        """Which demands have about the axial force of the Mx–My plane, (R,)."""
        reach = AT_LEVEL * (self.strength.max_axial - self.strength.max_tension)
        near: BoolArray = np.abs(self.demands[:, 0] - self.axial) <= reach
        return near

    def reading(self, axial: float, moment: float) -> Reading | None:
        """Return what a place N, M (N, N·mm) in the N–M plane means; nothing at the origin."""
        force = np.array([[axial, *(moment * self.unit)]])
        found = proportional(self.strength, force)
        if not found.ratio[0] > 0:
            return None
        point = self.strength.at(found.angle, found.fraction[:, None])
        state = SectionState(self.strength.body, StrainPlane.behind(point))
        depth = state.neutral_axis_depth
        if depth is not None and abs(depth) > 100 * self.strength.body.size:
            depth = None
        return Reading(float(found.ratio[0]), depth, state.extremes)

    @cached_property
    def at_capacity(self) -> SectionState | None:
        """The section where the ray through the demand meets the surface; nothing at the cap."""
        along = self.along
        if along is None or self.demand is None or not self.demands[self.demand].any():
            return None
        if along.capped[0]:
            return None
        point = self.strength.at(along.angle, along.fraction[:, None])
        return SectionState(self.strength.body, StrainPlane.behind(point))

    @cached_property
    def at_demand(self) -> SectionState | None:
        """The section in equilibrium with the demand; nothing where there is none."""
        if self.demand is None:
            return None
        lift = self.result.lift
        body = lift.code.strength.working_body(lift.facts.cross_section, self.strength)
        plane = strain_plane(body, self.demands[self.demand])
        return None if plane is None else SectionState(body, plane)

    @property
    def combination(self) -> str | None:
        """Name of the selected combination."""
        return None if self.demand is None else self.result.combination_of(self.demand)

    def name_of(self, demand: int) -> str:
        """Return a demand as it is called: its combination and where it acts."""
        return f"{self.result.combination_of(demand)} {self.result.place_of(demand)}"

    def axial_text(self) -> str:
        """Return the axial force of the Mx–My plane with its unit."""
        return format_quantity(self.axial, Dimension.FORCE, self.system)

    def angle_text(self) -> str:
        """Return the direction of the N–M plane in degrees."""
        return format_number(math.degrees(self.angle), 1)
