"""The numbers in which the two unit editions differ."""

from __future__ import annotations

import math
from dataclasses import dataclass

from fexro.core.provisions.coefficient import INCHES, MILLIMETRES, MPA, PSI, Coefficient
from fexro.core.quantities import Dimension, Unit

__all__ = ["IN_LB_EDITION", "SI_EDITION", "Edition"]


POUNDS_PER_CUBIC_FOOT = 0.45359237 / 0.3048**3  # in kg/m³


@dataclass(frozen=True)
class Edition:
    """Coefficients with a dimension, as the edition prints them.

    Attributes:
        least_strength: smallest f'c (19.2.1.1).
        block_strength, block_step, block_full: of β1 (22.2.2.4.3).
        largest_yield: fy in flexure and axial force (20.2.2.4).
        largest_squash_yield: fy in the strength at zero eccentricity (22.4.2.1).
        largest_core_yield: Fy of structural steel in the concrete.
        modulus: of elasticity of concrete over the root of its strength (19.2.2.1).
        least_spacing: clear spacing of longitudinal bars (25.2.3).
        least_eccentricity: what stands beside 0.03 h (6.6.4.5.4).
        density_unit: that of concrete is put in, kg/m³, and its symbol.
        densities: between which the modulus follows from it (19.2.2.1(a)).
        core_ties: between which diameters ties around a core are asked for (10.7.6.1).
        held_distance: clear of a bar to one that a tie holds (25.7.2.3).
        density_modulus: of elasticity over the root of strength and density to 1.5 (19.2.2.1).
    """

    name: str
    least_strength: Coefficient
    block_strength: Coefficient
    block_step: Coefficient
    block_full: Coefficient
    largest_yield: Coefficient
    largest_squash_yield: Coefficient
    largest_core_yield: Coefficient
    modulus: Coefficient
    least_spacing: Coefficient
    least_eccentricity: Coefficient
    density_unit: tuple[float, str]
    densities: tuple[float, float]
    density_modulus: Coefficient
    core_ties: tuple[Coefficient, Coefficient]
    held_distance: Coefficient


def _stress(number: float, unit: Unit) -> Coefficient:
    return Coefficient(number, unit, Dimension.STRESS)


def _root_stress(number: float, unit: Unit) -> Coefficient:
    root = Unit(f"√{unit.symbol}", math.sqrt(unit.size), unit.decimals)
    return Coefficient(number, root, Dimension.STRESS**0.5)


def _length(number: float, unit: Unit) -> Coefficient:
    return Coefficient(number, unit, Dimension.LENGTH)


SI_EDITION = Edition(
    "ACI 318-19 (SI)",
    least_strength=_stress(17, MPA),
    block_strength=_stress(28, MPA),
    block_step=_stress(7, MPA),
    block_full=_stress(55, MPA),
    largest_yield=_stress(550, MPA),
    largest_squash_yield=_stress(550, MPA),
    largest_core_yield=_stress(350, MPA),
    modulus=_root_stress(4700, MPA),
    least_spacing=_length(40, MILLIMETRES),
    least_eccentricity=_length(15, MILLIMETRES),
    density_unit=(1.0, "kg/m³"),
    densities=(1440.0, 2560.0),
    density_modulus=_root_stress(0.043, MPA),
    core_ties=(_length(9.5, MILLIMETRES), _length(15.9, MILLIMETRES)),
    held_distance=_length(150, MILLIMETRES),
)
IN_LB_EDITION = Edition(
    "ACI 318-19 (in-lb)",
    least_strength=_stress(2500, PSI),
    block_strength=_stress(4000, PSI),
    block_step=_stress(1000, PSI),
    block_full=_stress(8000, PSI),
    largest_yield=_stress(80_000, PSI),
    largest_squash_yield=_stress(80_000, PSI),
    largest_core_yield=_stress(50_000, PSI),
    modulus=_root_stress(57_000, PSI),
    least_spacing=_length(1.5, INCHES),
    least_eccentricity=_length(0.6, INCHES),
    density_unit=(POUNDS_PER_CUBIC_FOOT, "lb/ft³"),
    densities=(90.0, 160.0),
    density_modulus=_root_stress(33, PSI),
    core_ties=(_length(0.375, INCHES), _length(0.625, INCHES)),
    held_distance=_length(6, INCHES),
)
