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
        shear_strength: fck up to which it counts in shear, MPa (3.1.2(2)).
        flattest_strut, flattest_in_tension: largest cot θ (6.2.3(2)).
        low_stress_struts: ν1 with links of low stress, up to 60 MPa, and its start beyond
            (6.2.3(3)).
        large_bar: diameter beyond which bars are large, mm (8.8(1)).
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
    shear_strength: float = 90.0
    flattest_strut: float = 2.5
    flattest_in_tension: float = 2.5
    low_stress_struts: tuple[float, float] = (0.6, 0.9)
    large_bar: float = 32.0


RECOMMENDED = Annex("recommended")
UK = Annex(
    "UK",
    alpha_cc=0.85,
    least_diameter=12.0,
    shear_strength=50.0,
    flattest_in_tension=1.0,
    low_stress_struts=(0.54, 0.84),
    large_bar=40.0,
)
ANNEXES = {annex.name: annex for annex in (RECOMMENDED, UK)}
