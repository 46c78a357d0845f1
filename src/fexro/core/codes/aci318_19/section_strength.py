"""Strength of a section put together from its provisions: ACI 318-19, 21.2 and 22.2 to 22.4."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from fexro.core.actions import Demand
from fexro.core.arrays import FloatArray
from fexro.core.codes import KeyPoint
from fexro.core.codes.aci318_19 import composite
from fexro.core.codes.aci318_19 import strength as rules
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.calculation import (
    Capacity,
    all_steel,
    largest_component,
    write_areas,
    write_bars,
    write_direction,
    write_resistance,
)
from fexro.core.codes.section_body import body_of, materials_of
from fexro.core.facts import CrossSection
from fexro.core.findings import Finding
from fexro.core.materials import Concrete, StructuralSteel
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.strength.body import Body
from fexro.core.strength.laws import PiecewiseLaw, parabola_rectangle, uniform_block
from fexro.core.strength.state import SectionState, StrainPlane
from fexro.core.strength.surface import Points, Strength

__all__ = ["LimitPlanesACI", "StrengthACI"]

FLAT = 1e6  # of the section's size: a depth of the neutral axis from which strains are uniform


@dataclass(frozen=True)
class LimitPlanesACI:
    """Strain planes with the limit strain at the extreme compression fibre (22.2.2.1).

    The place in the family grows with the depth of the neutral axis, c = 1.5 h f / (1 - f).
    """

    limit_strain: float = rules.CONCRETE_LIMIT_STRAIN

    def planes(
        self, fraction: FloatArray, lowest: FloatArray, highest: FloatArray
    ) -> tuple[FloatArray, FloatArray]:
        """Return strain at t = 0 and curvature; see `LimitPlanes`."""
        depth = 1.5 * (highest - lowest) * np.maximum(fraction, 1e-12)
        curvature = self.limit_strain * (1 - fraction) / depth
        return self.limit_strain - curvature * highest, curvature

    def fraction(self, neutral_axis: FloatArray, height: FloatArray) -> FloatArray:
        """Return the place in the family of a depth of the neutral axis, both in mm."""
        ratio = neutral_axis / (1.5 * height)
        return ratio / (1 + ratio)


@dataclass(frozen=True)
class StrengthACI:
    """Strength of sections by one unit edition."""

    edition: Edition

    @property
    def clause(self) -> str:
        """The clauses behind section strength."""
        return "22.4, 21.2"

    def of(self, cross: CrossSection) -> Strength:
        """Return the strength of a section (22.2 to 22.4, 21.2)."""
        body = body_of(cross, self._law, cross.steel.yield_strength, self._core_yield)
        phi_c = _compression_factor(cross)
        epsilon_ty = rules.yield_strain(cross.steel.yield_strength, cross.steel.modulus)
        nominal, tension = self._largest_axial(cross), self._largest_tension(cross)
        return Strength(
            body,
            LimitPlanesACI(),
            partial(_factor, epsilon_ty=epsilon_ty, phi_c=phi_c),
            phi_c * nominal,
            -rules.FACTOR_TENSION * tension,
            nominal,
        )

    def largest_design_axial(self, cross: CrossSection) -> float:
        """Return the largest design axial strength (22.4.2.1, 21.2.2), N."""
        return _compression_factor(cross) * self._largest_axial(cross)

    def make(self, cross: CrossSection) -> Hashable:
        """Return what the laws, limit planes and factor of a section depend on."""
        return materials_of(cross), cross.section.ties.kind

    def working_body(self, cross: CrossSection, strength: Strength, creep: float = 0.0) -> Body:
        """Return the section with a parabola up to 0.85 f'c in place of the block (22.2.2.3)."""

        def law(concrete: Concrete) -> PiecewiseLaw:
            _, sigma_c = self._block(concrete)
            return parabola_rectangle(sigma_c, rules.PEAK_STRAIN * (1 + creep), 2.0)

        return body_of(cross, law, cross.steel.yield_strength, self._core_yield)

    def key_points(self, cross: CrossSection) -> Sequence[KeyPoint]:
        """Return the points that mark the interaction diagram, by strains of the extreme bar."""
        epsilon_ty = cross.steel.yield_strength / cross.steel.modulus
        return tuple(
            KeyPoint(name, partial(_fraction_of_strain, strain))
            for name, strain in (
                ("zero tension, εt = 0 at the extreme bar", 0.0),
                ("half yield, fs = 0.5 fy", -epsilon_ty / 2),
                ("balanced, εt = εty", -epsilon_ty),
                ("tension-controlled, εt = εty + 0.003", -epsilon_ty - 0.003),
            )
        )

    def companions(
        self, cross: CrossSection, strength: Strength, demand: FloatArray, combination: str
    ) -> list[Finding]:
        """Return nothing: the exact check stands alone."""
        return []

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
        if capped:
            self._explain_cap(record, cross, float(demand.values[0]))
            return
        capacity = Capacity(SectionState(strength.body, StrainPlane.behind(point)))
        if capacity.tension:
            self._explain_tension(record, cross, float(demand.values[0]))
        else:
            c = rules.CONCRETE_LIMIT_STRAIN / max(float(point.curvature[0, 0]), 1e-30)
            largest = largest_component(demand.values, strength.mesh.scale)
            force = float(demand.values[largest])
            self._explain_point(record, cross, capacity, c, force, largest)

    def _explain_cap(self, record: Derivation, cross: CrossSection, axial: float) -> None:
        record.note("The cap of the axial strength governs.")
        largest = self._largest_axial(cross, record)
        phi_c = _compression_factor(cross, record)
        rules.cap_utilisation.into(record, axial, phi_c, largest)

    def _explain_tension(self, record: Derivation, cross: CrossSection, axial: float) -> None:
        record.note(f"Pure tension: {all_steel(cross)}, no concrete resists.")
        largest = self._largest_tension(cross, record)
        phi = rules.FACTOR_TENSION
        record.given("phi", phi, Dimension.RATIO, "tension-controlled, Table 21.2.2")
        rules.tension_utilisation.into(record, axial, phi, largest)

    def _explain_point(
        self,
        record: Derivation,
        cross: CrossSection,
        capacity: Capacity,
        c: float,
        force: float,
        largest: int,
    ) -> None:
        """Write the strength of a strain plane; `force` is the component `largest` of the demand.

        Args:
            record: what is written into.
            section: the section.
            capacity: what it carries under the strain plane.
            c: depth of the neutral axis, mm.
            force: the component of the demand that is compared, N or N·mm.
            largest: which of N, Mx, My that is.
        """
        steel, state = cross.steel, capacity.state
        write_direction(record, state)
        limit = rules.CONCRETE_LIMIT_STRAIN
        record.given("epsilon_cu", limit, Dimension.STRAIN, "extreme compression fibre, 22.2.2.1")
        for other in dict.fromkeys(cross.concretes):
            _, sigma_c = self._block(other, record)
        if c < FLAT * cross.section.outline.area**0.5:
            record.given("c", c, Dimension.LENGTH, "depth of the neutral axis")
            for other in dict.fromkeys(cross.concretes):
                rules.block_depth.into(record, self._block(other)[0], c)
            strains = "ε = ε_cu (1 − d / c)"
        else:
            record.note("The strain is uniform: all of the section is in the block.")
            strains = "ε = ε_cu"
        C_c = capacity.concrete
        if cross.section.uniform:
            area = capacity.concrete / sigma_c
            record.given("A_c", area, Dimension.AREA, "area of the block, bars not deducted")
            C_c = rules.concrete_force.into(record, sigma_c, area)
        else:
            write_areas(record, cross, state)
            record.given("C_c", C_c, Dimension.FORCE, "sum over the concretes, bars not deducted")
        bars = f"{strains}, f_s = E_s ε up to f_y, σ_c where d < a"
        write_bars(record, state, ("f_s", "sigma_c"), bars)
        resisting = write_resistance(
            record,
            capacity,
            C_c,
            (rules.nominal_axial, rules.nominal_moment),
            (composite.composite_axial, composite.composite_moment),
            ("M_n", "block"),
        )
        epsilon_t = float(-state.strain.min())
        epsilon_ty = rules.yield_strain.into(record, steel.yield_strength, steel.modulus)
        record.given(
            "epsilon_t", epsilon_t, Dimension.STRAIN, "net tensile strain of the extreme bar"
        )
        phi_c = _compression_factor(cross, record)
        phi = rules.resistance_factor.into(record, epsilon_t, epsilon_ty, phi_c)
        if largest == 0:
            rules.axial_utilisation.into(record, force, phi, resisting[0])
        else:
            axis = "xy"[largest - 1]
            record.note(f"The ray is compared in the moment about {axis}.")
            compared = rules.moment_utilisation.named(M_u=f"M_u{axis}", M_n=f"M_n{axis}")
            compared.into(record, force, phi, resisting[largest])

    def _law(self, concrete: Concrete) -> PiecewiseLaw:
        """Return the rectangular block of a concrete."""
        beta_1, sigma_c = self._block(concrete)
        return uniform_block(sigma_c, (1 - beta_1) * rules.CONCRETE_LIMIT_STRAIN)

    def _core_yield(self, steel: StructuralSteel) -> float:
        return float(composite.core_yield(steel.yield_strength, self.edition.largest_core_yield))

    def _block(self, concrete: Concrete, record: Derivation | None = None) -> tuple[float, float]:
        f_c, edition = concrete.strength, self.edition
        beta_1 = rules.block_factor.into(
            record, f_c, edition.block_strength, edition.block_step, edition.block_full
        )
        return float(beta_1), float(rules.block_stress.into(record, f_c))

    def squash(self, cross: CrossSection, record: Derivation | None = None) -> float:
        """Return the strength at zero eccentricity, P_o (22.4.2.2), N."""
        section = cross.section
        f_y_o = rules.squash_yield.into(
            record, cross.steel.yield_strength, self.edition.largest_squash_yield
        )
        bars = section.bars.total_area
        if section.uniform:
            f_c, gross = cross.concrete.strength, section.outline.area
            return float(rules.strength_at_zero_eccentricity.into(record, f_c, gross, bars, f_y_o))
        forces = []
        for number, (area, one) in enumerate(zip(section.concretes, cross.concretes, strict=True)):
            inside = float(section.bars.area[section.bar_areas == number].sum())
            left = area.outline.area - inside
            if record is not None:
                source = f"concrete {one.name}, bars and steel deducted"
                record.given("A_c", left, Dimension.AREA, source)
            forces.append(float(composite.concrete_squash.into(record, one.strength, left)))
        core = self._core_squash(cross, record)
        if record is not None:
            record.given("C_o_sum", sum(forces), Dimension.FORCE, "sum over the concretes")
        return float(composite.composite_squash.into(record, sum(forces), f_y_o, bars, core))

    def _core_squash(self, cross: CrossSection, record: Derivation | None = None) -> float:
        """Return the force of all structural steel at yield, N."""
        forces = [0.0]
        for part in cross.section.steel:
            if record is not None:
                source = f"structural steel {part.material.name}"
                record.given("A_sx", part.outline.area, Dimension.AREA, source)
            F_y = composite.core_yield.into(
                record, part.material.yield_strength, self.edition.largest_core_yield
            )
            forces.append(float(composite.core_squash.into(record, F_y, part.outline.area)))
        if record is not None:
            record.given("F_o_sum", sum(forces), Dimension.FORCE, "sum over the structural steel")
        return sum(forces)

    def _largest_axial(self, cross: CrossSection, record: Derivation | None = None) -> float:
        P_o = self.squash(cross, record)
        if cross.section.steel:
            alpha = composite.AXIAL_SHARE
            if record is not None:
                record.given("alpha", alpha, Dimension.RATIO, "with structural steel, 22.4.2.1")
        else:
            alpha = float(rules.axial_share.into(record, cross.section.ties.kind))
        return float(rules.max_axial_strength.into(record, alpha, P_o))

    def _largest_tension(self, cross: CrossSection, record: Derivation | None = None) -> float:
        f_y, area = cross.steel.yield_strength, cross.section.bars.total_area
        if not cross.section.steel:
            return float(rules.tension_strength.into(record, f_y, area))
        core = self._core_squash(cross, record)
        return float(composite.composite_tension.into(record, f_y, area, core))


def _fraction_of_strain(strain: float, strength: Strength, angle: FloatArray) -> FloatArray:
    turned = strength.body.turn(angle)
    planes = LimitPlanesACI()
    bar_depth = turned.highest - turned.lowest_bar
    neutral_axis = bar_depth * planes.limit_strain / (planes.limit_strain - strain)
    return planes.fraction(neutral_axis, turned.highest - turned.lowest)


def _compression_factor(cross: CrossSection, record: Derivation | None = None) -> float:
    return float(rules.compression_factor.into(record, cross.section.ties.kind))


def _factor(strain: FloatArray, epsilon_ty: float, phi_c: float) -> FloatArray:
    factor: FloatArray = rules.resistance_factor(-strain, epsilon_ty, phi_c)
    return factor
