"""Strength of a section put together from its provisions: EN 1992-1-1, 3.1, 3.2, 5.8.9, 6.1."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from fexro.core.actions import Demand
from fexro.core.arrays import FloatArray
from fexro.core.codes import KeyPoint
from fexro.core.codes.calculation import (
    Capacity,
    largest_component,
    write_bars,
    write_demand,
    write_direction,
)
from fexro.core.codes.en1992_1_1 import materials
from fexro.core.codes.en1992_1_1 import strength as rules
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.facts import CrossSection
from fexro.core.findings import Finding, State
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.strength.body import BarSet, Body, Region
from fexro.core.strength.laws import ElasticPlastic, parabola_rectangle
from fexro.core.strength.slices import moments_at
from fexro.core.strength.state import SectionState, StrainPlane
from fexro.core.strength.surface import Points, Strength

__all__ = ["StrengthEN"]

FLAT = 1e3  # of the section's size: a depth of the neutral axis from which strains are uniform


@dataclass(frozen=True)
class StrengthEN:
    """Strength of sections with the data of one annex."""

    annex: Annex

    @property
    def clause(self) -> str:
        """The clauses behind section strength."""
        return "6.1"

    def of(self, cross: CrossSection) -> Strength:
        """Return the strength of a section (6.1)."""
        bars, outline = cross.section.bars, cross.section.outline
        f_cd, f_yd = self._design_strengths(cross)
        planes, exponent = _planes(cross), float(materials.law_exponent(cross.concrete.strength))
        concrete = parabola_rectangle(f_cd, planes.peak, exponent)
        steel = ElasticPlastic(cross.steel.modulus, f_yd)
        body = Body(
            [Region(outline, concrete)],
            [BarSet(bars.x, bars.y, bars.area, steel, concrete)],
            outline.centroid,
        )
        area = bars.total_area
        squashed = min(f_yd, cross.steel.modulus * planes.peak)
        largest = f_cd * (outline.area - area) + squashed * area
        return Strength(body, planes, np.ones_like, largest, -f_yd * area, largest)

    def make(self, cross: CrossSection) -> Hashable:
        """Return what the laws, limit planes and factor of a section depend on."""
        return cross.concrete, cross.steel

    def working_body(self, cross: CrossSection, strength: Strength, creep: float = 0.0) -> Body:
        """Return the section under its design laws (3.1.7, 3.2.7), with creep by 5.8.6(4)."""
        if not creep:
            return strength.body
        f_cd, _ = self._design_strengths(cross)
        exponent = float(materials.law_exponent(cross.concrete.strength))
        concrete = parabola_rectangle(f_cd, _planes(cross).peak * (1 + creep), exponent)
        (bars,) = strength.body.bars
        regions = [Region(region.outline, concrete) for region in strength.body.regions]
        return Body(regions, [replace(bars, displaced=concrete)], strength.body.centre)

    def key_points(self, cross: CrossSection) -> Sequence[KeyPoint]:
        """Return the points that mark the interaction diagram: the pivots and bar strains."""
        yield_strain = self._design_strengths(cross)[1] / cross.steel.modulus
        strains = (
            ("zero tension, εs = 0 at the extreme bar", 0.0),
            ("half yield, σs = 0.5 fyd", -yield_strain / 2),
            ("balanced, εs = fyd/Es", -yield_strain),
        )
        return (
            KeyPoint("x = h: the pivot passes from εcu2 at the edge to εc2 inside", _full_depth),
            *(KeyPoint(name, partial(_fraction_of_strain, strain)) for name, strain in strains),
        )

    def companions(
        self, cross: CrossSection, strength: Strength, demand: FloatArray, combination: str
    ) -> list[Finding]:
        """Return the simplified biaxial expression (5.8.9(4)) for comparison."""
        axial, moment_x, moment_y = (float(value) for value in demand)
        if not (moment_x and moment_y) or axial >= strength.max_axial or axial < 0:
            return []
        units = [
            np.array([math.copysign(1.0, moment_x), 0.0]),
            np.array([0.0, math.copysign(1.0, moment_y)]),
        ]
        capacity_x, capacity_y = moments_at(strength, np.array([axial, axial]), units)
        if not (capacity_x > 0 and capacity_y > 0):
            return []

        def calculate(record: Derivation | None = None) -> float:
            f_cd, f_yd = self._design_strengths(cross, record)
            section = cross.section
            resistance = rules.axial_resistance.into(
                record, section.outline.area, f_cd, section.bars.total_area, f_yd
            )
            n = rules.axial_share.into(record, axial, resistance)
            if section.round:
                a = 2.0
                if record is not None:
                    record.given("a", a, Dimension.RATIO, "round section")
            else:
                a = rules.biaxial_exponent.into(record, n)
            return float(
                rules.biaxial_ratio.into(
                    record, abs(moment_x), capacity_x, abs(moment_y), capacity_y, a
                )
            )

        def derive() -> Derivation:
            record = Derivation()
            write_demand(record, ("N_Ed", "M_Edx", "M_Edy"), demand)
            record.given("M_Rdx", float(capacity_x), Dimension.MOMENT, "about x alone at NEd")
            record.given("M_Rdy", float(capacity_y), Dimension.MOMENT, "about y alone at NEd")
            calculate(record)
            record.note("Shown beside the exact result, which is the check.")
            return record

        ratio = calculate()
        return [
            Finding(
                "Simplified biaxial expression",
                "simplified",
                "5.8.9(4)",
                State.SATISFIED,
                ratio,
                "{combination}, for comparison only",
                "",
                {"combination": combination},
                derive=derive,
            )
        ]

    def explain(
        self,
        record: Derivation,
        cross: CrossSection,
        strength: Strength,
        demand: Demand,
        point: Points,
        *,
        capped: bool,
    ) -> None:
        """Write the utilisation of a demand from the surface point behind it."""
        _, f_yd = self._design_strengths(cross, record)
        capacity = Capacity(SectionState(strength.body, StrainPlane.behind(point)))
        if capacity.tension:
            record.note("Pure tension: every bar yields, no concrete resists.")
            largest_tension = rules.tension_resistance.into(
                record, f_yd, cross.section.bars.total_area
            )
            rules.tension_utilisation.into(record, float(demand.values[0]), largest_tension)
            return
        resisting = self._explain_plane(record, cross, capacity)
        largest = largest_component(demand.values, strength.mesh.scale)
        force = float(demand.values[largest])
        if largest == 0:
            rules.axial_utilisation.into(record, force, resisting[0])
        else:
            axis = "xy"[largest - 1]
            record.note(f"The ray is compared in the moment about {axis}.")
            compared = rules.moment_utilisation.named(M_Ed=f"M_Ed{axis}", M_R=f"M_R{axis}")
            compared.into(record, force, resisting[largest])

    def _explain_plane(
        self, record: Derivation, cross: CrossSection, capacity: Capacity
    ) -> tuple[float, float, float]:
        """Write the strain plane and what it resists; return N, Mx, My."""
        strength, state = cross.concrete.strength, capacity.state
        materials.peak_strain.into(record, strength)
        materials.limit_strain.into(record, strength)
        materials.law_exponent.into(record, strength)
        write_direction(record, state)
        record.given("epsilon_top", state.extremes[1], Dimension.STRAIN, "extreme fibre")
        depth = state.neutral_axis_depth
        if depth is not None and abs(depth) < FLAT * state.body.size:
            record.given("x", depth, Dimension.LENGTH, "depth of the neutral axis")
            strains = "ε = ε_top (1 − d / x)"
        else:
            record.note("The strain is uniform.")
            strains = "ε = ε_top"
        record.given(
            "N_c", capacity.concrete, Dimension.FORCE, "parabola–rectangle over the section"
        )
        write_bars(record, state, ("sigma_s", "sigma_c"), f"{strains}, σ_s = E_s ε up to f_yd")
        axial, moment_x, moment_y = capacity.bars
        record.given("F_s_sum", axial, Dimension.FORCE, "sum over the bars")
        resisting = [rules.resisting_axial.into(record, capacity.concrete, axial)]
        for axis, across, arm, moment in (
            ("x", "y", capacity.arm_y, moment_x),
            ("y", "x", capacity.arm_x, moment_y),
        ):
            names = {"e_c": f"e_c{across}", "M_s_sum": f"M_s{axis}_sum", "M_R": f"M_R{axis}"}
            record.given(
                names["e_c"], arm, Dimension.LENGTH, f"concrete from the centroid in {across}"
            )
            record.given(
                names["M_s_sum"], moment, Dimension.MOMENT, f"sum of F·{across} over the bars"
            )
            resisting.append(
                rules.resisting_moment.named(**names).into(record, capacity.concrete, arm, moment)
            )
        total, about_x, about_y = resisting
        return float(total), float(about_x), float(about_y)

    def _design_strengths(
        self, cross: CrossSection, record: Derivation | None = None
    ) -> tuple[float, float]:
        annex = self.annex
        f_cd = materials.concrete_design_strength.into(
            record, cross.concrete.strength, annex.alpha_cc, annex.gamma_c
        )
        f_yd = materials.steel_design_strength.into(
            record, cross.steel.yield_strength, annex.gamma_s
        )
        return float(f_cd), float(f_yd)


def _planes(cross: CrossSection) -> rules.LimitPlanesEN:
    strength = cross.concrete.strength
    return rules.LimitPlanesEN(
        float(materials.peak_strain(strength)), float(materials.limit_strain(strength))
    )


def _fraction_of_strain(strain: float, strength: Strength, angle: FloatArray) -> FloatArray:
    planes, turned = strength.limit, strength.body.turn(angle)
    assert isinstance(planes, rules.LimitPlanesEN)
    depth, height = turned.highest - turned.lowest_bar, turned.highest - turned.lowest
    return planes.fraction(np.full_like(depth, strain), depth, height)


def _full_depth(_: Strength, angle: FloatArray) -> FloatArray:
    return np.full_like(angle, rules.FULL_DEPTH)
