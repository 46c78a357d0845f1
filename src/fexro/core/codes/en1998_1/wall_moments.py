"""Design moments of ductile walls along their height: EN 1998-1, 5.4.2.4(5)."""

from __future__ import annotations

from numpy import maximum, minimum

from fexro.core.provisions import provision
from fexro.core.quantities import Length, Moment, Ratio

__all__ = ["SLENDER", "envelope", "tension_shift"]

SLENDER = 2.0  # hw/lw (5.1.2)


@provision("5.4.2.4(5)", symbol="a_1")
def tension_shift(z: Length, cot_theta: Ratio) -> Length:
    """By how much the line of moments is moved up: as the tension is by shear (9.2.1.3(2))."""
    return 0.5 * z * cot_theta


@provision("5.4.2.4(5)", symbol="M_Ed,env")
def envelope(M_base: Moment, h_foot: Length, a_1: Length, h_w: Length) -> Moment:
    """Moment of a straight line from the base to the top, moved up, at a height."""
    return M_base * maximum(minimum(1 - (h_foot - a_1) / h_w, 1), 0)
