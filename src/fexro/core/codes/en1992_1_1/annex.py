"""Nationally determined parameters, one set of data for each annex."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["ANNEXES", "RECOMMENDED", "UK", "Annex"]


@dataclass(frozen=True)
class Annex:
    """The parameters that an annex determines.

    Attributes:
        name: as users read it.
        alpha_cc: long-term factor of strength in flexure and axial force (3.1.6(1)).
        gamma_c, gamma_s: partial factors (2.4.2.4(1)).
        gamma_m0: of structural steel (EN 1993-1-1, 6.1(1)).
        least_diameter: of longitudinal bars, mm (9.5.2(1)).
        axial_share, area_share: of the least reinforcement (9.5.2(2)).
        largest_ratio: of reinforcement outside laps (9.5.2(3)).
        spacing_factor, spacing_margin: of the clear spacing, and mm (8.2(2)).
    """

    name: str
    alpha_cc: float = 1.0
    gamma_c: float = 1.5
    gamma_s: float = 1.15
    gamma_m0: float = 1.0
    least_diameter: float = 8.0
    axial_share: float = 0.10
    area_share: float = 0.002
    largest_ratio: float = 0.04
    spacing_factor: float = 1.0
    spacing_margin: float = 5.0


RECOMMENDED = Annex("recommended")
UK = Annex("UK", alpha_cc=0.85, least_diameter=12.0)
ANNEXES = {annex.name: annex for annex in (RECOMMENDED, UK)}
