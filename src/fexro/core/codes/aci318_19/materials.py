"""Materials and their limits: ACI 318-19, 19.2 and 20.2.2."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from numpy import minimum, sqrt, where

from fexro.core.codes import Context, MaterialFact
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.strength import block_factor, block_stress, yield_strain
from fexro.core.codes.calculation import fact
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, stress
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.provisions import Derivation, Provision, provision
from fexro.core.quantities import Dimension, Ratio, RootStress, Stress

__all__ = [
    "MaterialsACI",
    "concrete_modulus",
    "light_factor",
    "lightness",
    "material_limits",
    "modulus",
    "modulus_by_density",
]

ROUNDING = 1e-6  # of a strength written in other units


@provision("19.2.2.1", symbol="E_c")
def concrete_modulus(f_c_prime: Stress, k_E: RootStress) -> Stress:
    """Modulus of elasticity of normal-weight concrete."""
    return k_E * sqrt(f_c_prime)


@provision("19.2.2.1(a)", symbol="E_c")
def modulus_by_density(w_c: Ratio, f_c_prime: Stress, k_w: RootStress) -> Stress:
    """Modulus of elasticity of concrete by its density, in kg/m³ or lb/ft³."""
    return w_c**1.5 * k_w * sqrt(f_c_prime)


@provision("19.2.4.1", symbol="lam")
def light_factor(w_c: Ratio, w_light: Ratio, w_normal: Ratio, k_w: Ratio) -> Ratio:
    """Factor for the lower tensile strength of light concrete, by its density."""
    return where(w_c <= w_light, 0.75, where(w_c <= w_normal, minimum(k_w * w_c, 1), 1.0))


def lightness(record: Derivation | None, edition: Edition, concrete: Concrete) -> float:
    """Return λ of a concrete by its density; one for normal weight (19.2.4.1)."""
    if concrete.density is None:
        return 1.0
    density = concrete.density / edition.density_unit[0]
    return float(light_factor.into(record, density, *edition.light))


def modulus(record: Derivation | None, edition: Edition, concrete: Concrete) -> float:
    """Return the modulus of a concrete by its density, or for normal weight, MPa (19.2.2.1)."""
    rule, given = _modulus(edition, concrete)
    return float(rule.into(record, *given))


def _modulus(edition: Edition, concrete: Concrete) -> tuple[Provision[Any, Any], tuple[Any, ...]]:
    """Return by which rule a modulus is found, and of what."""
    if concrete.density is None:
        return concrete_modulus, (concrete.strength, edition.modulus)
    density = concrete.density / edition.density_unit[0]
    return modulus_by_density, (density, concrete.strength, edition.density_modulus)


@dataclass(frozen=True)
class MaterialsACI:
    """What follows from materials in one unit edition."""

    edition: Edition

    @property
    def reads_density(self) -> bool:
        """Whether the density of a concrete counts."""
        return True

    def concrete(self, concrete: Concrete) -> Sequence[MaterialFact]:
        """Return the modulus and the rectangular block of a concrete."""
        f_c, e = concrete.strength, self.edition
        block = f_c, e.block_strength, e.block_step, e.block_full
        rule, given = _modulus(e, concrete)
        return [
            fact("Ec", "modulus of elasticity", Dimension.STRESS, rule, *given),
            fact(
                "β1",
                "depth of the block over that of the neutral axis",
                Dimension.RATIO,
                block_factor,
                *block,
            ),
            fact("0.85 f'c", "stress of the block", Dimension.STRESS, block_stress, f_c),
        ]

    def steel(self, steel: ReinforcingSteel) -> Sequence[MaterialFact]:
        """Return the yield strain of a steel."""
        given = steel.yield_strength, steel.modulus
        return [fact("εty", "yield strain", Dimension.STRAIN, yield_strain, *given)]


def material_limits(edition: Edition, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Return a finding for each material outside the limits of the edition."""
    found = []
    strength, least = facts.cross_section.weakest.strength, edition.least_strength
    if strength < least * (1 - ROUNDING):
        found.append(
            Finding(
                "Concrete strength",
                "concrete",
                "19.2.1.1",
                State.EXCEEDED,
                least / strength,
                "{found} < {least}",
                "f'c {found}; at least {least} required.",
                {"found": stress(strength), "least": stress(least)},
            )
        )
    (size, unit), (low, high) = edition.density_unit, edition.densities
    density = math.nan if facts.concrete.density is None else facts.concrete.density / size
    if density < low * (1 - ROUNDING) or density > high * (1 + ROUNDING):
        found.append(
            Finding(
                "Concrete density",
                "density",
                "19.2.2.1(a)",
                State.NOT_CHECKED,
                math.nan,
                "{found}",
                "Density of concrete {found}; Ec is given from {low} to {high} only.",
                {
                    "found": f"{density:.4g} {unit}",
                    "low": f"{low:g}",
                    "high": f"{high:g} {unit}",
                },
            )
        )
    yield_strength, largest = facts.steel.yield_strength, edition.largest_yield
    if yield_strength > largest * (1 + ROUNDING):
        found.append(
            Finding(
                "Steel strength",
                "steel",
                "20.2.2.4",
                State.ATTENTION,
                yield_strength / largest,
                "{found} > {largest}",
                "fy {found}; above {largest} only by Table 20.2.2.4(a).",
                {"found": stress(yield_strength), "largest": stress(largest)},
            )
        )
    return found
