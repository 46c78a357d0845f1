"""Bearing walls bent out of plane: ACI 318-19, 11.2.3, 11.5.3 and 11.8."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from numpy import maximum, sqrt, where

from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.strength import (
    CONCRETE_LIMIT_STRAIN,
    block_factor,
    compression_factor,
    resistance_factor,
    yield_strain,
)
from fexro.core.provisions import Case, Derivation, provision, select
from fexro.core.quantities import (
    Area,
    Force,
    Length,
    Moment,
    Ratio,
    RootStress,
    SecondMoment,
    Strain,
    Stress,
)

__all__ = [
    "ConcentratedLoad",
    "Restraint",
    "SimplifiedWall",
    "SlenderWall",
    "SpreadLoad",
    "effective_lengths",
    "simplified_wall",
    "slender_wall",
]

Restraint = Literal["restrained", "unrestrained", "not braced"]
PHI_SIMPLIFIED = 0.65  # 21.2.1(c)
LEAST_MODULAR = 6.0  # 11.8.3.1(c)
AXIAL_SHARE = 0.06  # 11.8.1.1(d)
DEFLECTION = 150  # ℓc over it (11.8.1.1(e))
SERVICE_ROUNDS = 400


@provision("Table 11.5.3.2", symbol="k")
def simplified_factor(ends: Case) -> Ratio:
    """Effective length factor of a wall by how its ends are held."""
    return select(ends, restrained=0.8, unrestrained=1.0, not_braced=2.0)


@provision("11.5.3.1", symbol="e_max")
def middle_third(h: Length) -> Length:
    """Eccentricity up to which the resultant is in the middle third."""
    return h / 6


@provision("11.5.3.1", symbol="b")
def slenderness_bracket(k: Ratio, ell_c: Length, h: Length) -> Ratio:
    """Share of the strength that is left of a slender wall."""
    return 1 - (k * ell_c / (32 * h)) ** 2


@provision("11.5.3.1", symbol="P_n")
def simplified_strength(f_c_prime: Stress, A_g: Area, b: Ratio) -> Force:
    """Nominal axial strength of a wall by the simplified method."""
    return 0.55 * f_c_prime * A_g * b


@provision("11.8.3.1", symbol="A_se,w")
def effective_steel(A_s: Area, P_u: Force, f_y: Stress, h: Length, d: Length) -> Area:
    """Area of bars with the share of the axial force that acts as bars would."""
    return A_s + P_u / f_y * h / (2 * d)


@provision("22.2.2.4.1", symbol="a")
def block_of_steel(A_se: Area, f_y: Stress, f_c_prime: Stress, ell_w: Length) -> Length:
    """Depth of the block that balances the bars."""
    return A_se * f_y / (0.85 * f_c_prime * ell_w)


@provision("11.8.3.1", symbol="n")
def modular_ratio(E_s: Stress, E_c: Stress) -> Ratio:
    """Modulus of steel over that of concrete, as it counts."""
    return maximum(E_s / E_c, LEAST_MODULAR)


@provision("11.8.3.1(c)", symbol="I_cr")
def cracked_wall(n: Ratio, A_se: Area, d: Length, c: Length, ell_w: Length) -> SecondMoment:
    """Second moment of the cracked section."""
    return n * A_se * (d - c) ** 2 + ell_w * c**3 / 3


@provision("21.2.2", symbol="epsilon_t")
def tension_strain(d: Length, c: Length) -> Strain:
    """Strain of the bars at nominal strength."""
    return CONCRETE_LIMIT_STRAIN * (d - c) / c


@provision("11.8.3.1", symbol="M_n")
def wall_moment(A_se: Area, f_y: Stress, d: Length, a: Length) -> Moment:
    """Nominal moment with the effective area of bars."""
    return A_se * f_y * (d - a / 2)


@provision("24.2.3.5", symbol="M_cr")
def cracking_moment(
    k_r: RootStress, lam: Ratio, f_c_prime: Stress, I_g: SecondMoment, h: Length
) -> Moment:
    """Moment at which the section cracks."""
    f_r: Stress = k_r * lam * sqrt(f_c_prime)
    return f_r * I_g / (h / 2)


@provision("11.8.1.1(d)", symbol="P_max")
def largest_axial(f_c_prime: Stress, A_g: Area) -> Force:
    """Largest axial force at mid-height."""
    return AXIAL_SHARE * f_c_prime * A_g


@provision("11.8.3.1(d)", symbol="r_P")
def axial_effect(P_u: Force, ell_c: Length, E_c: Stress, I_cr: SecondMoment) -> Ratio:
    """Axial force over that at which the deflection grows without end."""
    return 5 * P_u * ell_c**2 / (0.75 * 48 * E_c * I_cr)


@provision("11.8.3.1(d)", symbol="M_u")
def magnified_wall_moment(M_ua: Moment, r_P: Ratio) -> Moment:
    """Moment with the effect of the deflection."""
    return M_ua / (1 - r_P)


@provision("11.8.3.1(b)", symbol="Delta_u")
def factored_deflection(M_u: Moment, ell_c: Length, E_c: Stress, I_cr: SecondMoment) -> Length:
    """Deflection at mid-height under factored loads."""
    return 5 * M_u * ell_c**2 / (0.75 * 48 * E_c * I_cr)


@provision("11.8.4.3", symbol="Delta")
def deflection_of(M: Moment, ell_c: Length, E_c: Stress, I: SecondMoment) -> Length:  # noqa: E741
    """Deflection at mid-height of a wall by its moment there."""
    return 5 * M * ell_c**2 / (48 * E_c * I)


@provision("11.8.4.1", symbol="Delta_s")
def service_deflection(
    M_a: Moment, M_cr: Moment, M_n: Moment, Delta_cr: Length, Delta_n: Length
) -> Length:
    """Deflection at mid-height in service."""
    return where(
        M_a <= 2 / 3 * M_cr,
        M_a / M_cr * Delta_cr,
        2 / 3 * Delta_cr
        + (M_a - 2 / 3 * M_cr) / (M_n - 2 / 3 * M_cr) * (Delta_n - 2 / 3 * Delta_cr),
    )


@provision("11.8.1.1(e)", symbol="Delta_max")
def largest_deflection(ell_c: Length) -> Length:
    """Largest deflection in service."""
    return ell_c / DEFLECTION


@provision("11.2.3.1", symbol="b_e")
def effective_length(b: Length, h: Length) -> Length:
    """Length of a wall that carries a concentrated load, by its bearing."""
    return b + 4 * h


@provision("11.8.2.2", symbol="b_e")
def spread_length(b: Length, ell_c: Length) -> Length:
    """Length that a concentrated load has spread to at mid-height of a slender wall."""
    return b + ell_c / 2


@dataclass(frozen=True)
class SimplifiedWall:
    """A wall by the simplified method (11.5.3); N, mm.

    Attributes:
        factor: k.
        eccentricity, inside: of the resultant, and whether it is in the middle third.
        bracket: share that slenderness leaves.
        strength, design: Pn and φ Pn.
        ratio: Pu over φ Pn; nothing where the method does not apply.
    """

    factor: float
    eccentricity: float
    inside: bool
    bracket: float
    strength: float
    design: float
    ratio: float | None

    @property
    def applicable(self) -> bool:
        """Whether the method applies."""
        return self.inside and self.bracket > 0


def simplified_wall(
    record: Derivation | None,
    size: tuple[float, float, float],
    strength: float,
    restraint: Restraint,
    actions: tuple[float, float],
) -> SimplifiedWall:
    """Return a wall by the simplified method.

    Args:
        record: what is written to.
        size: thickness, width of the strip and height between supports, mm.
        strength: f'c, MPa.
        restraint: of its ends.
        actions: Pu and Mu, N and N·mm.
    """
    (h, width, height), (axial, moment) = size, actions
    k = simplified_factor.into(record, restraint)
    most = middle_third.into(record, h)
    e = abs(moment) / axial if axial > 0 else float("inf")
    inside = bool(e <= most)
    bracket = slenderness_bracket.into(record, k, height, h)
    P_n = simplified_strength.into(record, strength, h * width, bracket)
    design = PHI_SIMPLIFIED * float(P_n)
    applies = inside and bracket > 0
    return SimplifiedWall(
        *(float(k), e, inside, float(bracket), float(P_n), design),
        axial / design if applies else None,
    )


@dataclass(frozen=True)
class SlenderWall:
    """A wall by the alternative method for out-of-plane slenderness (11.8); N, mm, MPa.

    Attributes:
        modulus, modular: Ec and n.
        steel, block, depth: Ase, a and c.
        cracked: Icr, mm⁴.
        strain: εt.
        phi: of the strain.
        strength: Mn.
        gross: Ig, mm⁴.
        rupture, cracking: fr and Mcr.
        axial_limit: largest Pu.
        axial_effect: 5 Pu ℓc²/(0.75 · 48 Ec Icr).
        moment, deflection: Mu and Δu; nothing where the wall is unstable.
        cracking_deflection, strength_deflection: Δcr and Δn.
        service_moment, service_deflection: Ma and Δs; nothing where it grows without end.
        deflection_limit: of Δs.
    """

    modulus: float
    modular: float
    steel: float
    block: float
    depth: float
    cracked: float
    strain: float
    phi: float
    strength: float
    gross: float
    rupture: float
    cracking: float
    axial: float
    axial_limit: float
    axial_effect: float
    tension_controlled: bool
    moment: float | None
    deflection: float | None
    cracking_deflection: float
    strength_deflection: float
    service_moment: float | None
    service_deflection: float | None
    deflection_limit: float

    @property
    def design(self) -> float:
        """φ Mn."""
        return self.phi * self.strength

    @property
    def above_cracking(self) -> bool:
        """Whether φ Mn is at least Mcr."""
        return self.design >= self.cracking

    @property
    def light(self) -> bool:
        """Whether the axial force is small enough."""
        return self.axial <= self.axial_limit

    @property
    def ratio(self) -> float | None:
        """Mu over φ Mn; nothing where the wall is unstable."""
        return None if self.moment is None else self.moment / self.design

    @property
    def stiff(self) -> bool:
        """Whether the deflection in service is small enough."""
        return (
            self.service_deflection is not None and self.service_deflection <= self.deflection_limit
        )

    @property
    def uncracked_in_service(self) -> bool:
        """Whether the moment in service is at most two thirds of that at cracking."""
        return self.service_moment is not None and self.service_moment <= 2 / 3 * self.cracking


def slender_wall(
    record: Derivation | None,
    edition: Edition,
    size: tuple[float, float, float, float],
    materials: tuple[float, float, float, float, float],
    steel: float,
    factored: tuple[float, float],
    service: tuple[float, float],
) -> SlenderWall:
    """Return a wall by the alternative method for out-of-plane slenderness.

    Args:
        record: what is written to.
        edition: of the code.
        size: thickness, depth of the bars in tension, width and height between supports, mm.
        materials: f'c, λ, Ec, fy and Es, MPa.
        steel: area of the bars in tension, mm².
        factored: Pu at mid-height and Mua, N and N·mm.
        service: Ps and Msa.
    """
    (h, d, width, height), (f_c, lam, E_c, f_y, E_s) = size, materials
    (P_u, M_ua), (P_s, M_sa) = factored, service
    n = modular_ratio.into(record, E_s, E_c)
    A_se = effective_steel.into(record, steel, P_u, f_y, h, d)
    a = block_of_steel.into(record, A_se, f_y, f_c, width)
    beta = block_factor.into(
        record, f_c, edition.block_strength, edition.block_step, edition.block_full
    )
    c = float(a) / float(beta)
    I_cr = cracked_wall.into(record, n, A_se, d, c, width)
    strain = tension_strain.into(record, d, c)
    eps_y = yield_strain.into(record, f_y, E_s)
    controlled = bool(strain >= eps_y + CONCRETE_LIMIT_STRAIN)
    phi = float(resistance_factor.into(record, strain, eps_y, compression_factor("ties")))
    M_n = wall_moment.into(record, A_se, f_y, d, a)
    I_g = width * h**3 / 12
    root = edition.walls.rupture
    M_cr = cracking_moment.into(record, root, lam, f_c, I_g, h)
    limit = largest_axial.into(record, f_c, width * h)
    effect = axial_effect.into(record, P_u, height, E_c, I_cr)
    moment = deflection = None
    if effect < 1:
        moment = float(magnified_wall_moment.into(record, M_ua, effect))
        deflection = float(factored_deflection.into(record, moment, height, E_c, I_cr))
    d_cr = deflection_of.named(M="M_cr", I="I_g", Delta="Delta_cr").into(
        record, M_cr, height, E_c, I_g
    )
    d_n = deflection_of.named(M="M_n", I="I_cr", Delta="Delta_n").into(
        record, M_n, height, E_c, I_cr
    )
    M_a = _service_moment(P_s, M_sa, float(M_cr), float(M_n), float(d_cr), float(d_n))
    d_s = None
    if M_a is not None:
        d_s = float(service_deflection.into(record, M_a, M_cr, M_n, d_cr, d_n))
    most = largest_deflection.into(record, height)
    return SlenderWall(
        *(E_c, float(n), float(A_se), float(a), c, float(I_cr), float(strain), phi, float(M_n)),
        *(I_g, float(root) * lam * f_c**0.5, float(M_cr), P_u, float(limit), float(effect)),
        controlled,
        moment,
        deflection,
        *(float(d_cr), float(d_n)),
        M_a,
        d_s,
        float(most),
    )


def _service_moment(
    P_s: float, M_sa: float, M_cr: float, M_n: float, d_cr: float, d_n: float
) -> float | None:
    """Return Ma = Msa + Ps Δs, iterated to the end; nothing where it grows beyond Mn."""
    moment = M_sa
    for _ in range(SERVICE_ROUNDS):
        found = M_sa + P_s * float(service_deflection(moment, M_cr, M_n, d_cr, d_n))
        if abs(found - moment) <= 1e-12 * abs(found):
            return found
        moment = found
        if moment > 1e3 * max(M_n, abs(M_sa)):
            return None
    return moment


@dataclass(frozen=True)
class ConcentratedLoad:
    """A concentrated load on a wall: its place and bearing along the wall, mm, and size, N."""

    place: float
    bearing: float
    size: float


@dataclass(frozen=True)
class SpreadLoad:
    """The length of a wall that carries a concentrated load, mm.

    Attributes:
        uncut: before the edges of the wall cut it.
        start, end: from where to where.
        per_length: the load over it, N/mm.
    """

    uncut: float
    start: float
    end: float
    per_length: float

    @property
    def length(self) -> float:
        """The length."""
        return self.end - self.start


def effective_lengths(
    record: Derivation | None,
    loads: Sequence[ConcentratedLoad],
    edges: tuple[float, float],
    thickness: float,
    height: float,
    *,
    slender: bool = False,
) -> list[SpreadLoad]:
    """Return the length of a wall that carries each of its concentrated loads.

    Args:
        record: what is written to.
        loads: in the order of their places.
        edges: of the wall, mm.
        thickness, height: of the wall, mm.
        slender: whether at mid-height by 11.8.2.2, or under the load by 11.2.3.1.
    """
    places = [one.place for one in loads]
    found = []
    for number, one in enumerate(loads):
        if slender:
            reach = float(spread_length.into(record, one.bearing, height))
        else:
            reach = float(effective_length.into(record, one.bearing, thickness))
        others = places[:number] + places[number + 1 :]
        spacing = min((abs(one.place - other) for other in others), default=float("inf"))
        uncut = min(reach, spacing)
        start, end = max(edges[0], one.place - uncut / 2), min(edges[1], one.place + uncut / 2)
        found.append(SpreadLoad(uncut, start, end, one.size / (end - start)))
    return found
