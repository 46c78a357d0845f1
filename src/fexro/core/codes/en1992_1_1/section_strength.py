"""Strength of a section put together from its provisions: EN 1992-1-1, 3.1, 3.2, 5.8.9, 6.1."""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial

import numpy as np

from fexro.core.actions import Demand
from fexro.core.arrays import FloatArray
from fexro.core.codes import KeyPoint
from fexro.core.codes.calculation import (
    Capacity,
    all_steel,
    largest_component,
    write_areas,
    write_bars,
    write_demand,
    write_direction,
    write_resistance,
)
from fexro.core.codes.en1992_1_1 import materials
from fexro.core.codes.en1992_1_1 import strength as rules
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1994_1_1 import resistance
from fexro.core.codes.section_body import body_of, materials_of
from fexro.core.facts import CrossSection
from fexro.core.findings import Finding, State
from fexro.core.materials import Concrete, StructuralSteel
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.strength.body import Body
from fexro.core.strength.laws import PiecewiseLaw, parabola_rectangle
from fexro.core.strength.slices import moments_at
from fexro.core.strength.state import SectionState, StrainPlane
from fexro.core.strength.surface import Points, Strength

__all__ = ["StrengthEN", "strength_of"]

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
        planes, f_yd = _planes(cross), self.bar_strength(cross)
        body = self._body(cross)
        area, section = cross.section.bars.total_area, cross.section
        # Uniform strain at the end of the family of limit planes.
        at_end = np.array([planes.peak])
        largest = min(f_yd, cross.steel.modulus * planes.peak) * area
        for number, region in enumerate(body.regions):
            solid = region.outline.area
            if not region.steel:
                solid -= float(section.bars.area[section.bar_areas == number].sum())
            largest += float(region.law.stress(at_end)[0]) * solid
        tension = f_yd * area + sum(
            self.steel_strength(part.material) * part.outline.area for part in section.steel
        )
        return Strength(body, planes, np.ones_like, largest, -tension, largest)

    def _body(self, cross: CrossSection, creep: float = 0.0) -> Body:
        """Return the section under its design laws (3.1.7, 3.2.7), stretched by creep."""

        def law(concrete: Concrete) -> PiecewiseLaw:
            peak = float(materials.peak_strain(concrete.strength)) * (1 + creep)
            exponent = float(materials.law_exponent(concrete.strength))
            return parabola_rectangle(self.concrete_strength(cross, concrete), peak, exponent)

        return body_of(cross, law, self.bar_strength(cross), self.steel_strength)

    def make(self, cross: CrossSection) -> Hashable:
        """Return what the laws, limit planes and factor of a section depend on."""
        return materials_of(cross)

    def working_body(self, cross: CrossSection, strength: Strength, creep: float = 0.0) -> Body:
        """Return the section under its design laws (3.1.7, 3.2.7), with creep by 5.8.6(4)."""
        return self._body(cross, creep) if creep else strength.body

    def key_points(self, cross: CrossSection) -> Sequence[KeyPoint]:
        """Return the points that mark the interaction diagram: the pivots and bar strains."""
        yield_strain = self.bar_strength(cross) / cross.steel.modulus
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
        if not cross.section.uniform:
            return []
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
            f_cd = self.concrete_strength(cross, cross.concrete, record)
            f_yd = self.bar_strength(cross, record)
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
        for concrete in dict.fromkeys(cross.concretes):
            self.concrete_strength(cross, concrete, record)
        f_yd = self.bar_strength(cross, record)
        steel = self._steel_tension(cross, record)
        capacity = Capacity(SectionState(strength.body, StrainPlane.behind(point)))
        if capacity.tension:
            record.note(f"Pure tension: {all_steel(cross)}, no concrete resists.")
            area = cross.section.bars.total_area
            if cross.section.steel:
                largest_tension = resistance.tension_resistance.into(record, f_yd, area, steel)
            else:
                largest_tension = rules.tension_resistance.into(record, f_yd, area)
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
        state = capacity.state
        for concrete in dict.fromkeys(cross.concretes):
            materials.peak_strain.into(record, concrete.strength)
            materials.limit_strain.into(record, concrete.strength)
            materials.law_exponent.into(record, concrete.strength)
        if len(set(cross.concretes)) > 1:
            record.note("The least strains of the concretes limit the section.")
        write_direction(record, state)
        record.given("epsilon_top", state.extremes[1], Dimension.STRAIN, "extreme fibre")
        depth = state.neutral_axis_depth
        if depth is not None and abs(depth) < FLAT * state.body.size:
            record.given("x", depth, Dimension.LENGTH, "depth of the neutral axis")
            strains = "ε = ε_top (1 − d / x)"
        else:
            record.note("The strain is uniform.")
            strains = "ε = ε_top"
        over = "section"
        if not cross.section.uniform:
            write_areas(record, cross, state)
            over = "concretes"
        record.given(
            "N_c", capacity.concrete, Dimension.FORCE, f"parabola–rectangle over the {over}"
        )
        write_bars(record, state, ("sigma_s", "sigma_c"), f"{strains}, σ_s = E_s ε up to f_yd")
        resisting = write_resistance(
            record,
            capacity,
            capacity.concrete,
            (rules.resisting_axial, rules.resisting_moment),
            (resistance.composite_axial, resistance.composite_moment),
            ("M_R", "concrete"),
        )
        total, about_x, about_y = resisting
        return float(total), float(about_x), float(about_y)

    def concrete_strength(
        self, cross: CrossSection, concrete: Concrete, record: Derivation | None = None
    ) -> float:
        """Return the largest design stress of a concrete (3.1.6; encased steel: EN 1994-1-1)."""
        f_ck, annex = concrete.strength, self.annex
        if cross.section.steel:
            return float(resistance.encased_concrete.into(record, f_ck, annex.gamma_c))
        return float(
            materials.concrete_design_strength.into(record, f_ck, annex.alpha_cc, annex.gamma_c)
        )

    def bar_strength(self, cross: CrossSection, record: Derivation | None = None) -> float:
        """Return the design strength of the bars (3.2.7(2))."""
        f_yk = cross.steel.yield_strength
        return float(materials.steel_design_strength.into(record, f_yk, self.annex.gamma_s))

    def steel_strength(self, steel: StructuralSteel, record: Derivation | None = None) -> float:
        """Return the design strength of structural steel (EN 1994-1-1, 6.7.3.2)."""
        strength = resistance.steel_design_strength
        return float(strength.into(record, steel.yield_strength, self.annex.gamma_m0))

    def _steel_tension(self, cross: CrossSection, record: Derivation) -> float:
        """Write the strengths of structural steel and return its force at yield, N."""
        total = 0.0
        for part in cross.section.steel:
            total += self.steel_strength(part.material, record) * part.outline.area
        if cross.section.steel:
            record.given("N_a_d", total, Dimension.FORCE, "structural steel at yield")
        return total


def _planes(cross: CrossSection) -> rules.LimitPlanesEN:
    """Return limit planes whose strains none of the concretes exceeds."""
    strengths = [concrete.strength for concrete in cross.concretes]
    return rules.LimitPlanesEN(
        min(float(materials.peak_strain(f_ck)) for f_ck in strengths),
        min(float(materials.limit_strain(f_ck)) for f_ck in strengths),
    )


def _fraction_of_strain(strain: float, strength: Strength, angle: FloatArray) -> FloatArray:
    planes, turned = strength.limit, strength.body.turn(angle)
    assert isinstance(planes, rules.LimitPlanesEN)
    depth, height = turned.highest - turned.lowest_bar, turned.highest - turned.lowest
    return planes.fraction(np.full_like(depth, strain), depth, height)


def _full_depth(_: Strength, angle: FloatArray) -> FloatArray:
    return np.full_like(angle, rules.FULL_DEPTH)


# Rules of ductile walls ask again and again for that of a panel, and of the base of its wall.
@lru_cache(maxsize=256)
def strength_of(annex: Annex, cross: CrossSection) -> Strength:
    """Return the strength of a section by an annex; of the last few it is kept."""
    return StrengthEN(annex).of(cross)
