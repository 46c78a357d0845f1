"""What a column carries of the floors above, as rules of reduction see it."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.core.quantities import UnitSystem

__all__ = ["Floors"]


@dataclass(frozen=True)
class Floors:
    """Floors whose imposed load a lift carries.

    Attributes:
        number: of floors.
        area: tributary area of them all, mm².
        load: unreduced imposed load, MPa.
        element: live load element factor, KLL.
        category: of use, in the words of the rule.
        units: the edition in which a rule is read.
    """

    number: int
    area: float = 0.0
    load: float = 0.0
    element: float = 1.0
    category: str = ""
    units: UnitSystem = UnitSystem.SI
