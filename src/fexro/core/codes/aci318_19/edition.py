"""The numbers in which the two unit editions differ."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.core.quantities import INCH, KIP

__all__ = ["IN_LB_EDITION", "SI_EDITION", "Edition"]

PSI = KIP / 1000 / INCH**2


@dataclass(frozen=True)
class Edition:
    """Constants with a dimension, in N and mm, as the edition prints them.

    Attributes:
        least_strength: smallest f'c (19.2.1.1).
        block_strength, block_step, block_full: of β1 (22.2.2.4.3).
        largest_yield: fy in flexure and axial force (20.2.2.4).
        largest_squash_yield: fy in the strength at zero eccentricity (22.4.2.1).
        least_spacing: clear spacing of longitudinal bars (25.2.3).
    """

    name: str
    least_strength: float
    block_strength: float
    block_step: float
    block_full: float
    largest_yield: float
    largest_squash_yield: float
    least_spacing: float


SI_EDITION = Edition("ACI 318-19 (SI)", 17.0, 28.0, 7.0, 55.0, 550.0, 550.0, 40.0)
IN_LB_EDITION = Edition(
    "ACI 318-19 (in-lb)",
    2500 * PSI,
    4000 * PSI,
    1000 * PSI,
    8000 * PSI,
    80_000 * PSI,
    80_000 * PSI,
    1.5 * INCH,
)
