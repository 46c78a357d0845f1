"""Materials and their limits: ACI 318-19, 19.2 and 20.2.2."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from numpy import sqrt

from fexro.core.codes import Context, MaterialFact
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.strength import block_factor, block_stress, yield_strain
from fexro.core.codes.calculation import fact
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, stress
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.provisions import provision
from fexro.core.quantities import Dimension, Ratio, RootStress, Stress

__all__ = ["MaterialsACI", "concrete_modulus", "material_limits", "modulus_by_density"]

ROUNDING = 1e-6  # of a strength written in other units


@provision("19.2.2.1", symbol="E_c")
def concrete_modulus(f_c_prime: Stress, k_E: RootStress) -> Stress:
    """Modulus of elasticity of normal-weight concrete."""
    return k_E * sqrt(f_c_prime)


@provision("19.2.2.1(a)", symbol="E_c")
def modulus_by_density(w_c: Ratio, f_c_prime: Stress, k_w: RootStress) -> Stress:
    """Modulus of elasticity of concrete by its density, in kg/m³ or lb/ft³."""
    return w_c**1.5 * k_w * sqrt(f_c_prime)


@dataclass(frozen=True)
class MaterialsACI:
    """What follows from materials in one unit edition."""

    edition: Edition

    def concrete(self, concrete: Concrete) -> Sequence[MaterialFact]:
        """Return the modulus and the rectangular block of a concrete."""
        f_c, e = concrete.strength, self.edition
        block = f_c, e.block_strength, e.block_step, e.block_full
        return [
            fact("Ec", "modulus of elasticity", Dimension.STRESS, concrete_modulus, f_c, e.modulus),
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
    strength, least = facts.concrete.strength, edition.least_strength
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
