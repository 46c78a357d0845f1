"""Materials: EN 1992-1-1, 3.1 and 3.2."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from numpy import maximum, where

from fexro.core.codes import Context, MaterialFact
from fexro.core.codes.calculation import fact
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, stress
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.provisions import provision
from fexro.core.provisions.coefficient import MPA, Coefficient
from fexro.core.quantities import Dimension, Ratio, Strain, Stress

__all__ = [
    "MaterialsEN",
    "concrete_design_strength",
    "concrete_modulus",
    "design_modulus",
    "design_yield_strain",
    "law_exponent",
    "limit_strain",
    "material_limits",
    "peak_strain",
    "steel_design_strength",
]


CONCRETE_RANGE = (12.0, 90.0)  # MPa, 3.1.2(2)
STEEL_RANGE = (400.0, 600.0)  # MPa, 3.2.2(3)
# Strengths in the expressions of Table 3.1.
F_1, F_8, F_10, F_50, F_90, F_100 = (
    Coefficient(n, MPA, Dimension.STRESS) for n in (1, 8, 10, 50, 90, 100)
)
E_22 = Coefficient(22_000, MPA, Dimension.STRESS)


@provision("3.1.6(1)", symbol="f_cd")
def concrete_design_strength(f_ck: Stress, alpha_cc: Ratio, gamma_C: Ratio) -> Stress:
    """Design compressive strength."""
    return alpha_cc * f_ck / gamma_C


@provision("Table 3.1", symbol="E_cm")
def concrete_modulus(f_ck: Stress) -> Stress:
    """Secant modulus of elasticity of concrete with quartzite aggregate."""
    return E_22 * ((f_ck + F_8) / F_10) ** 0.3


@provision("5.8.6(3)", symbol="E_cd")
def design_modulus(E_cm: Stress) -> Stress:
    """Design modulus of concrete for second-order effects."""
    return E_cm / 1.2


@provision("3.2.7(2)", symbol="epsilon_yd")
def design_yield_strain(f_yd: Stress, E_s: Stress) -> Strain:
    """Strain at the design yield strength."""
    return f_yd / E_s


@provision("Table 3.1", symbol="epsilon_c2")
def peak_strain(f_ck: Stress) -> Strain:
    """Strain at which the parabola reaches the strength."""
    return where(f_ck <= F_50, 2.0, 2.0 + 0.085 * (maximum(f_ck - F_50, 0) / F_1) ** 0.53) / 1000


@provision("Table 3.1", symbol="epsilon_cu2")
def limit_strain(f_ck: Stress) -> Strain:
    """Ultimate strain of the parabola–rectangle."""
    return where(f_ck <= F_50, 3.5, 2.6 + 35 * ((F_90 - f_ck) / F_100) ** 4) / 1000


@provision("Table 3.1", symbol="n")
def law_exponent(f_ck: Stress) -> Ratio:
    """Exponent of the parabola–rectangle."""
    return where(f_ck <= F_50, 2.0, 1.4 + 23.4 * ((F_90 - f_ck) / F_100) ** 4)


@provision("3.2.7(2)", symbol="f_yd")
def steel_design_strength(f_yk: Stress, gamma_S: Ratio) -> Stress:
    """Design yield strength."""
    return f_yk / gamma_S


@dataclass(frozen=True)
class MaterialsEN:
    """What follows from materials with the data of one annex."""

    annex: Annex

    @property
    def reads_density(self) -> bool:
        """Whether the density of a concrete counts: lightweight concrete is not covered."""
        return False

    def concrete(self, concrete: Concrete) -> Sequence[MaterialFact]:
        """Return the modulus, the design strength and the limit strains of a concrete."""
        f_ck, annex = concrete.strength, self.annex
        design = f_ck, annex.alpha_cc, annex.gamma_c
        return [
            fact("Ecm", "secant modulus", Dimension.STRESS, concrete_modulus, f_ck),
            fact("fcd", "design strength", Dimension.STRESS, concrete_design_strength, *design),
            fact("εc2", "strain at the strength", Dimension.STRAIN, peak_strain, f_ck),
            fact("εcu2", "ultimate strain", Dimension.STRAIN, limit_strain, f_ck),
        ]

    def steel(self, steel: ReinforcingSteel) -> Sequence[MaterialFact]:
        """Return the design strength and the yield strain of a steel."""
        f_yk, gamma = steel.yield_strength, self.annex.gamma_s
        f_yd = float(steel_design_strength(f_yk, gamma))
        return [
            fact("fyd", "design strength", Dimension.STRESS, steel_design_strength, f_yk, gamma),
            fact("εyd", "yield strain", Dimension.STRAIN, design_yield_strain, f_yd, steel.modulus),
        ]


def material_limits(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Return a finding for each material outside the range of the code."""
    f_yk = facts.steel.yield_strength
    strengths = sorted({one.strength for one in facts.cross_section.concretes})
    found = []
    for name, short, symbol, value, (least, largest), clause in (
        *(
            ("Concrete strength", "concrete", "fck", f_ck, CONCRETE_RANGE, "3.1.2(2)")
            for f_ck in strengths
        ),
        ("Steel strength", "steel", "fyk", f_yk, STEEL_RANGE, "3.2.2(3)"),
    ):
        if not least <= value <= largest:
            values = {"found": value, "least": least, "largest": largest}
            found.append(
                Finding(
                    name,
                    short,
                    clause,
                    State.EXCEEDED,
                    value / largest if value > largest else least / value,
                    "{found} of {least} to {largest}",
                    f"{symbol} {{found}}; {{least}} to {{largest}} allowed.",
                    {key: stress(number) for key, number in values.items()},
                )
            )
    return found
