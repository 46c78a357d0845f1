"""Materials as data; what a code makes of them lives with the code."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Concrete", "ReinforcingSteel", "StructuralSteel"]


@dataclass(frozen=True)
class Concrete:
    """A concrete grade; strength is f'c (ACI) or fck (EN), MPa.

    Attributes:
        density: kg/m³; nothing for concrete of normal weight.
    """

    name: str
    strength: float
    density: float | None = None


@dataclass(frozen=True)
class ReinforcingSteel:
    """A grade of reinforcing bar: yield strength and modulus, MPa."""

    name: str
    yield_strength: float
    modulus: float = 200_000.0


@dataclass(frozen=True)
class StructuralSteel:
    """A grade of rolled or welded steel: yield strength and modulus, MPa."""

    name: str
    yield_strength: float
    modulus: float = 210_000.0
