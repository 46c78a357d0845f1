"""Ductile walls and their boundary elements: EN 1998-1, 5.4.1.2.3, 5.4.3.4 and 5.5.3.4."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from numpy import maximum, minimum, where

from fexro.core.codes.en1998_1.columns import (
    DuctilityClass,
    axial_ratio,
    curvature_ductility,
    effect_of_bars,
    effect_of_spacing,
    hoops_by_bars,
    hoops_by_core,
    largest_spacing,
)
from fexro.core.provisions import Coefficient, Derivation, provision
from fexro.core.provisions.coefficient import MILLIMETRES
from fexro.core.quantities import Dimension, Length, Moment, Ratio, Strain, Stress

__all__ = [
    "LARGEST_AXIAL",
    "LEAST_BOUNDARY",
    "LOW_STOREYS",
    "DuctileWall",
    "WallElement",
    "WallSeismic",
    "critical_height",
    "ductile_wall",
    "effective_flange",
    "flange_limit",
    "least_flange",
    "least_flange_width",
    "least_web",
    "neutral_axis",
    "vertical_web",
]

LARGEST_AXIAL = {"DCM": 0.40, "DCH": 0.35}  # 5.4.3.4.1(2), 5.5.3.4.1(2)
LEAST_OMEGA = {"DCM": 0.08, "DCH": 0.12}  # 5.4.3.4.2(9), 5.5.3.4.5(10)
HELD = {"DCM": 200.0, "DCH": 150.0}  # mm
LEAST_BOUNDARY = 0.005  # 5.4.3.4.2(8)
LIGHT, LIGHT_REDUCED = 0.15, 0.20  # 5.4.3.4.2(12)
CLASS_B = 1.5  # 5.2.3.4(4)
SPACING = {
    name: Coefficient(n, MILLIMETRES, Dimension.LENGTH) for name, n in (("DCM", 175), ("DCH", 125))
}
B_150, B_200 = (Coefficient(n, MILLIMETRES, Dimension.LENGTH) for n in (150, 200))
LOW_STOREYS = 6


@provision("5.4.1.2.3(1)", symbol="b_wo,min")
def least_web(h_s: Length) -> Length:
    """Least thickness of the web."""
    return maximum(B_150, h_s / 20)


@provision("5.4.3.4.1(4)", symbol="b_f,max")
def flange_limit(h_above: Length) -> Length:
    """Largest width of a flange from the face of its web by the height of the wall."""
    return 0.25 * h_above


@provision("5.4.3.4.1(4)", symbol="b_f")
def effective_flange(projection: Length, half_distance: Length, b_f_max: Length) -> Length:
    """Effective width of a flange from the face of its web."""
    return minimum(projection, minimum(half_distance, b_f_max))


@provision("5.4.3.4.2(1)", symbol="h_cr")
def critical_height(l_w: Length, h_w: Length, h_lim: Length) -> Length:
    """Height of the critical region above the base."""
    return minimum(maximum(l_w, h_w / 6), minimum(2 * l_w, h_lim))


@provision("5.4.3.4.2(2)", symbol="q_0'")
def wall_behaviour(q_0: Ratio, M_Ed: Moment, M_Rd: Moment) -> Ratio:
    """Basic behaviour factor as it enters the curvature ductility of a wall."""
    return q_0 * M_Ed / M_Rd


@provision("5.4.3.4.2(4)", symbol="omega_v")
def vertical_web(rho_v: Ratio, f_yd_v: Stress, f_cd: Stress) -> Ratio:
    """Mechanical ratio of the vertical bars of the web."""
    return rho_v * f_yd_v / f_cd


@provision("5.4.3.4.2(4), (5.20)", symbol="alpha omega_req")
def required_confinement(
    mu_phi: Ratio, nu_d: Ratio, omega_v: Ratio, epsilon_sy_d: Strain, b_c: Length, b_o: Length
) -> Ratio:
    """Confinement of the boundary that the curvature ductility asks for."""
    return 30 * mu_phi * (nu_d + omega_v) * epsilon_sy_d * b_c / b_o - 0.035


@provision("5.4.3.4.2(5), (5.21)", symbol="x_u")
def neutral_axis(nu_d: Ratio, omega_v: Ratio, l_w: Length, b_c: Length, b_o: Length) -> Length:
    """Depth of the neutral axis once the cover has spalled."""
    return (nu_d + omega_v) * l_w * b_c / b_o


@provision("5.4.3.4.2(6)", symbol="epsilon_cu2,c")
def confined_strain(alpha_omega: Ratio) -> Strain:
    """Ultimate strain of the confined concrete."""
    return 0.0035 + 0.1 * alpha_omega


@provision("5.4.3.4.2(6)", symbol="l_c,1")
def confined_length(x_u: Length, epsilon_cu2_c: Strain) -> Length:
    """Length of the boundary element that strains ask for."""
    return x_u * (1 - 0.0035 / epsilon_cu2_c)


@provision("5.4.3.4.2(6)", symbol="l_c")
def boundary_length(l_c_1: Length, l_w: Length, b_w: Length) -> Length:
    """Length of the boundary element."""
    return maximum(l_c_1, maximum(0.15 * l_w, 1.5 * b_w))


@provision("5.4.3.4.2(10)", symbol="b_w,min")
def boundary_width(l_c: Length, b_w: Length, l_w: Length, h_s: Length) -> Length:
    """Least thickness of the boundary element."""
    return maximum(B_200, where(l_c <= maximum(2 * b_w, 0.2 * l_w), h_s / 15, h_s / 10))


@provision("5.4.3.4.2(7)", symbol="b_f,min")
def least_flange(h_s: Length) -> Length:
    """Thickness from which a flange needs no confined boundary."""
    return h_s / 15


@provision("5.4.3.4.2(7)", symbol="l_f,min")
def least_flange_width(h_s: Length) -> Length:
    """Width from which a flange needs no confined boundary."""
    return h_s / 5


@dataclass(frozen=True)
class WallSeismic:
    """What is asked of a ductile wall.

    Attributes:
        ductility: class.
        storeys: of the building.
        basic: q0.
        moments: MEd and MRd at the base, N·mm.
        period, corner: T1 and TC, s.
        steel_class: of the bars, B or C.
        reduced: whether q is less by 15 %.
    """

    ductility: DuctilityClass
    storeys: int
    basic: float
    moments: tuple[float, float]
    period: float
    corner: float
    steel_class: Literal["B", "C"] = "C"
    reduced: bool = False


@dataclass(frozen=True)
class WallElement:
    """The boundary of a wall as it is built. Lengths in mm.

    Attributes:
        width, core_width, core_length: bc, bo and ho.
        held: clear distances bi of neighbouring held bars, around the core.
        spacing: of the hoops.
        mechanical: ωwd.
        bar: diameter of its smallest bar.
    """

    width: float
    core_width: float
    core_length: float
    held: Sequence[float]
    spacing: float
    mechanical: float
    bar: float


@dataclass(frozen=True)
class DuctileWall:
    """A ductile wall at its base. Lengths in mm.

    Attributes:
        axial, largest_axial: νd and what is allowed.
        height: hcr.
        web: its least thickness.
        behaviour: q0 MEd/MRd.
        ductility: μφ.
        yield_strain: εsy,d.
        vertical: ωv.
        depth: xu.
        required: α ωwd.
        of_bars, of_spacing: αn and αs.
        least_mechanical: ωwd at least.
        required_mechanical: ωwd that is needed.
        confinement: α ωwd as it is.
        mechanical: ωwd as it is.
        volume_ratio: of the hoops that are needed.
        strain: εcu2,c.
        by_strain, least_length, length: of the boundary element.
        width: at least.
        spacing: of hoops at most.
        held: distance of held bars at most.
        light: whether links to EN 1992-1-1 do.
    """

    axial: float
    largest_axial: float
    height: float
    web: float
    behaviour: float
    ductility: float
    yield_strain: float
    vertical: float
    depth: float
    required: float
    of_bars: float
    of_spacing: float
    least_mechanical: float
    required_mechanical: float
    confinement: float
    mechanical: float
    volume_ratio: float
    strain: float
    by_strain: float
    least_length: float
    length: float
    width: float
    spacing: float
    held: float
    light: bool

    least_boundary = LEAST_BOUNDARY

    @property
    def effect(self) -> float:
        """The effectiveness α of confinement."""
        return self.of_bars * self.of_spacing

    @property
    def confined(self) -> bool:
        """Whether there are hoops enough by the formulas."""
        return self.mechanical >= self.required_mechanical * (1 - 1e-9)


def ductile_wall(
    record: Derivation | None,
    size: tuple[float, float, float, float],
    strengths: tuple[float, float, float, float],
    vertical: float,
    axial: float,
    seismic: WallSeismic,
    element: WallElement,
) -> DuctileWall:
    """Return a ductile wall and its boundary against what is asked of them.

    Args:
        record: what is written to.
        size: thickness, length, height, and height of the storey, mm.
        strengths: fcd, fyd, fywd of the hoops, and Es, MPa.
        vertical: ρv of the web.
        axial: NEd in the seismic situation, N.
        seismic: what is asked of it.
        element: its boundary.
    """
    (b_w, l_w, h_w, h_s), (f_cd, f_yd, f_ywd, E_s) = size, strengths
    name = seismic.ductility
    nu_d = axial_ratio.into(record, axial, b_w * l_w, f_cd)
    limit = h_s if seismic.storeys <= LOW_STOREYS else 2 * h_s
    height = critical_height.into(record, l_w, h_w, limit)
    web = least_web.into(record, h_s)
    q = wall_behaviour.into(record, seismic.basic, *seismic.moments)
    factor = CLASS_B if seismic.steel_class == "B" else 1.0
    mu = curvature_ductility.into(record, q, seismic.period, seismic.corner, factor)
    strain_y = f_yd / E_s
    omega_v = vertical_web.into(record, vertical, f_yd, f_cd)
    x_u = neutral_axis.into(record, nu_d, omega_v, l_w, element.width, element.core_width)
    need = required_confinement.into(
        record, mu, nu_d, omega_v, strain_y, element.width, element.core_width
    )
    squares = sum(one**2 for one in element.held)
    a_n = effect_of_bars.into(record, squares, element.core_width, element.core_length)
    a_s = effect_of_spacing.into(record, element.spacing, element.core_width, element.core_length)
    effect = float(a_n) * float(a_s)
    least = LEAST_OMEGA[name]
    required = max(float(need) / effect, least)
    there = effect * element.mechanical
    strain = confined_strain.into(record, there)
    by_strain = confined_length.into(record, x_u, strain)
    length = boundary_length.into(record, by_strain, l_w, b_w)
    width = boundary_width.into(record, length, b_w, l_w, h_s)
    by_core = hoops_by_core.into(record, name, element.core_width)
    by_bars = hoops_by_bars.into(record, name, element.bar)
    spacing = largest_spacing.into(record, by_core, SPACING[name], by_bars)
    light = name == "DCM" and bool(nu_d <= (LIGHT_REDUCED if seismic.reduced else LIGHT))
    return DuctileWall(
        *(float(nu_d), LARGEST_AXIAL[name], float(height), float(web), float(q), float(mu)),
        *(strain_y, float(omega_v), float(x_u), float(need), float(a_n), float(a_s), least),
        *(required, there, element.mechanical, required * f_cd / f_ywd, float(strain)),
        *(float(by_strain), max(0.15 * l_w, 1.5 * b_w), float(length), float(width)),
        *(float(spacing), HELD[name], light),
    )
