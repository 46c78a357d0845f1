"""Materials: EN 1992-1-1, 3.1 and 3.2."""

from __future__ import annotations

from collections.abc import Sequence

from numpy import maximum, where

from fexro.core.codes import Context
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, stress
from fexro.core.provisions import provision
from fexro.core.provisions.coefficient import MPA, Coefficient
from fexro.core.quantities import Dimension, Ratio, Strain, Stress

__all__ = [
    "concrete_design_strength",
    "law_exponent",
    "limit_strain",
    "material_limits",
    "peak_strain",
    "steel_design_strength",
]


CONCRETE_RANGE = (12.0, 90.0)  # MPa, 3.1.2(2)
STEEL_RANGE = (400.0, 600.0)  # MPa, 3.2.2(3)
# Strengths in the expressions of Table 3.1.
F_1, F_50, F_90, F_100 = (Coefficient(n, MPA, Dimension.STRESS) for n in (1, 50, 90, 100))


@provision("3.1.6(1)", symbol="f_cd")
def concrete_design_strength(f_ck: Stress, alpha_cc: Ratio, gamma_C: Ratio) -> Stress:
    """Design compressive strength."""
    return alpha_cc * f_ck / gamma_C


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


def material_limits(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Return a finding for each material outside the range of the code."""
    f_ck, f_yk = facts.concrete.strength, facts.steel.yield_strength
    found = []
    for name, short, symbol, value, (least, largest), clause in (
        ("Concrete strength", "concrete", "fck", f_ck, CONCRETE_RANGE, "3.1.2(2)"),
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
