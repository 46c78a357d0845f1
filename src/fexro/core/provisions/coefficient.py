"""Numbers of a code with a dimension, printed as its edition prints them."""

from __future__ import annotations

from fexro.core.quantities import INCH, KIP, Dimension, Unit, format_significant

__all__ = ["INCHES", "MILLIMETRES", "MPA", "PSI", "Coefficient"]

MPA = Unit("MPa", 1.0, 1)
PSI = Unit("psi", KIP / 1000 / INCH**2, 0)
MILLIMETRES, INCHES = Unit("mm", 1.0, 0), Unit("in", INCH, 2)


class Coefficient(float):
    """A number in internal units (N, mm) that knows its dimension and how its code writes it.

    In a formula it computes as any number; printed, it stands as the code writes it, and among the
    values put in with its value in the units of the formula.

    Args:
        number: as the code writes it.
        unit: the unit it is written in.
        dimension: what it measures.
    """

    dimension: Dimension
    written: str

    def __new__(cls, number: float, unit: Unit, dimension: Dimension) -> Coefficient:
        """Make the number in internal units."""
        made = super().__new__(cls, number * unit.size)
        made.dimension = dimension
        made.written = f"{format_significant(number, 9)} {unit.symbol}"
        made._arguments = number, unit, dimension
        return made

    _arguments: tuple[float, Unit, Dimension]

    def __getnewargs__(self) -> tuple[float, Unit, Dimension]:  # type: ignore[override]
        return self._arguments
