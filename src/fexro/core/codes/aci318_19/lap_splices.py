"""Development and lap splices of column bars: ACI 318-19, 10.7.5, 25.4 and 25.5."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from numpy import maximum, minimum, where

from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.shear import limited_root
from fexro.core.provisions import Case, Derivation, provision, select
from fexro.core.quantities import (
    Area,
    Dimension,
    Length,
    PerRootStress,
    PerStress,
    Ratio,
    RootStress,
    Stress,
)
from fexro.core.section.section import Section
from fexro.core.section.shear import shear_section
from fexro.core.transverse import Transverse

__all__ = [
    "Development",
    "LapSplice",
    "Lapped",
    "TieReduction",
    "development",
    "lap_splice",
    "tie_reduction",
]

BELOW = 1 - 1e-6  # by which a grade written in other units is not beyond its own limit
HALF = 50.0  # per cent lapped at one level up to which class A is allowed (Table 25.5.2.1)


@provision("10.7.5.2.1(a)", symbol="A_need")
def ties_to_shorten(h: Length, s: Length) -> Area:
    """Area of the legs along a direction from which compression laps may be shorter."""
    return 0.0015 * h * s


@provision("10.7.5.2.1", symbol="k_t")
def lap_reduction(around: Case) -> Ratio:
    """Share of the length of compression laps that stays with the ties around them."""
    return select(around, ties=0.83, spiral=0.75, fewer_ties=1.0)


@provision("25.4.2.2", symbol="K_tr,min")
def least_transverse_index(d_b: Length) -> Length:
    """Least transverse index of strong bars that stand close."""
    return 0.5 * d_b


@provision("25.4.2.4", symbol="ell_d,0")
def tension_development(
    *,
    f_y: Stress,
    psi_te: Ratio,
    psi_s: Ratio,
    psi_g: Ratio,
    k_d: RootStress,
    lam: Ratio,
    f_r: RootStress,
    c_K: Ratio,
    d_b: Length,
) -> Length:
    """Development length of a bar in tension, before the least."""
    return f_y * psi_te * psi_s * psi_g / (k_d * lam * f_r * c_K) * d_b


@provision("25.4.2.1(b)", symbol="ell_d")
def least_development(ell_d_0: Length, ell_min: Length) -> Length:
    """Development length of a bar in tension."""
    return maximum(ell_d_0, ell_min)


@provision("25.4.2.4", symbol="K_tr")
def transverse_index(A_tr: Area, s: Length, n: Ratio) -> Length:
    """Transverse index of the ties across the plane of splitting."""
    return 40 * A_tr / (s * n)


@provision("25.4.2.4", symbol="c_K,0")
def confinement(c_b: Length, K_tr: Length, d_b: Length) -> Ratio:
    """Confinement of a bar by cover and ties, over its diameter."""
    return (c_b + K_tr) / d_b


@provision("25.4.2.4", symbol="c_K")
def counted_confinement(c_K_0: Ratio) -> Ratio:
    """Confinement of a bar as far as it counts."""
    return minimum(c_K_0, 2.5)


@provision("Table 25.4.2.5", symbol="psi_t")
def cast_factor(below: Case) -> Ratio:
    """Factor for fresh concrete below a horizontal bar."""
    return select(below, much=1.3, little=1.0)


@provision("Table 25.4.2.5", symbol="psi_e")
def coating_factor(coating: Case) -> Ratio:
    """Factor for coated bars, by cover and clear spacing."""
    return select(coating, uncoated=1.0, epoxy_close=1.5, epoxy_apart=1.2)


@provision("Table 25.4.2.5", symbol="psi_te")
def cast_and_coating(psi_t: Ratio, psi_e: Ratio) -> Ratio:
    """Both factors, as far as they count together."""
    return minimum(psi_t * psi_e, 1.7)


@provision("Table 25.4.2.5", symbol="psi_s")
def size_factor(d_b: Length, d_small: Length) -> Ratio:
    """Factor for small bars."""
    return where(d_b <= d_small, 0.8, 1.0)


@provision("Table 25.4.2.5", symbol="psi_g")
def grade_factor(f_y: Stress, f_1: Stress, f_2: Stress) -> Ratio:
    """Factor for the grade of the bars."""
    return where(f_y <= f_1, 1.0, where(f_y <= f_2, 1.15, 1.3))


@provision("25.4.9.2(a)", symbol="ell_a")
def compression_development_a(
    *, f_y: Stress, psi_r: Ratio, k_c: PerRootStress, lam: Ratio, f_r: RootStress, d_b: Length
) -> Length:
    """Development length of a bar in compression by the concrete."""
    return k_c * f_y * psi_r / (lam * f_r) * d_b


@provision("25.4.9.2(b)", symbol="ell_b")
def compression_development_b(f_y: Stress, psi_r: Ratio, k_y: PerStress, d_b: Length) -> Length:
    """Development length of a bar in compression by the yield strength alone."""
    return k_y * f_y * psi_r * d_b


@provision("25.4.9.1", symbol="ell_dc")
def compression_development(ell_a: Length, ell_b: Length, ell_min: Length) -> Length:
    """Development length of a bar in compression."""
    return maximum(maximum(ell_a, ell_b), ell_min)


@provision("Table 25.4.9.3", symbol="psi_r")
def confining_factor(around: Case) -> Ratio:
    """Factor for ties or a spiral that confine bars in compression."""
    return select(around, confining=0.75, other=1.0)


@provision("Table 25.5.2.1", symbol="ell_st")
def tension_lap(lap_class: Case, ell_d_0: Length, ell_min: Length) -> Length:
    """Lap of bars in tension."""
    return maximum(select(lap_class, A=1.0, B=1.3) * ell_d_0, ell_min)


@provision("25.5.5.1", symbol="ell_sc,0")
def compression_lap_by_grade(
    *, f_y: Stress, f_1: Stress, k_1: PerStress, k_2: PerStress, d_b: Length, ell_min: Length
) -> Length:
    """Lap of bars in compression, before concrete and ties count."""
    return maximum(where(f_y <= f_1, k_1 * f_y, k_2 * f_y - 24) * d_b, ell_min)


@provision("25.5.5.1", symbol="k_f")
def low_strength_factor(f_c_prime: Stress, f_low: Stress) -> Ratio:
    """Factor for compression laps in concrete of low strength."""
    return where(f_c_prime < f_low, 4 / 3, 1.0)


@provision("25.5.5.1", symbol="ell_sc,1")
def lengthened(ell_sc_0: Length, k_f: Ratio) -> Length:
    """Lap of bars in compression in this concrete."""
    return ell_sc_0 * k_f


@provision("25.5.5.1(c)", symbol="ell_sc,1")
def not_below_tension(ell_sc_1: Length, ell_d: Length) -> Length:
    """Lap of strong bars in compression, not shorter than they develop in tension."""
    return maximum(ell_sc_1, ell_d)


@provision("10.7.5.2.1", symbol="ell_sc")
def compression_lap(ell_sc_1: Length, k_t: Ratio, ell_min: Length) -> Length:
    """Lap of bars in compression."""
    return maximum(ell_sc_1 * k_t, ell_min)


@dataclass(frozen=True)
class Lapped:
    """Bars that are lapped, where they are. Lengths in mm, stresses in MPa.

    Attributes:
        diameter: of a bar.
        yield_strength: of it.
        clear_cover, clear_spacing: of the bars.
        splitting: cb, the lesser of the cover to a centre and half the spacing of centres.
        pitch: spacing of the centres.
        tie_area: Atr, of the legs across the plane of splitting, mm².
        across: n, the bars developed along that plane.
        stress: of the governing combination, positive in tension.
        percent: of the bars lapped at one level.
        staggered: whether neighbouring laps are apart along the bars.
        confined: whether ties or a spiral confine the bars in the sense of ψr.
        coated: whether they are coated with epoxy.
        over_fresh_concrete: whether much concrete is cast below them: not below vertical bars.
    """

    diameter: float
    yield_strength: float
    clear_cover: float
    clear_spacing: float
    splitting: float
    pitch: float
    tie_area: float
    across: int
    stress: float
    percent: float = 100.0
    staggered: bool = False
    confined: bool = False
    coated: bool = False
    over_fresh_concrete: bool = False


@dataclass(frozen=True)
class Development:
    """Development lengths of a bar and what they are made of. Lengths in mm."""

    cast: float
    coating: float
    cast_and_coating: float
    size: float
    grade: float
    transverse_index: float
    confinement_there: float
    confinement: float
    before_least: float
    tension: float
    least_index: float | None
    confining: float
    compression_a: float
    compression_b: float
    compression: float

    @property
    def index_enough(self) -> bool | None:
        """Whether there are enough ties across the plane of splitting, where it is asked for."""
        return None if self.least_index is None else self.transverse_index >= self.least_index


def development(
    record: Derivation | None,
    edition: Edition,
    strength: tuple[float, float],
    lapped: Lapped,
    spacing: float,
) -> Development:
    """Return the development lengths of bars.

    Args:
        record: what is written to.
        edition: of the code.
        strength: f'c, MPa, and λ.
        lapped: the bars.
        spacing: of the ties there, mm.
    """
    given, d_b, f_y = edition.laps, lapped.diameter, lapped.yield_strength
    f_c, lam = strength
    root = limited_root.into(record, f_c, edition.shear.largest_root)
    psi_t = cast_factor.into(record, "much" if lapped.over_fresh_concrete else "little")
    near = lapped.clear_cover < 3 * d_b or lapped.clear_spacing < 6 * d_b
    coating = ("epoxy close" if near else "epoxy apart") if lapped.coated else "uncoated"
    psi_e = coating_factor.into(record, coating)
    psi_te = cast_and_coating.into(record, psi_t, psi_e)
    psi_s = size_factor.into(record, d_b, given.small_bar)
    psi_g = grade_factor.into(record, f_y * BELOW, *given.grades)
    if record is not None:
        record.given("c_b", lapped.splitting, Dimension.LENGTH, "to the centre, or half a spacing")
        record.given("A_tr", lapped.tie_area, Dimension.AREA, "ties across the plane of splitting")
    index = transverse_index.into(record, lapped.tie_area, spacing, lapped.across)
    there = confinement.into(record, lapped.splitting, index, d_b)
    counted = counted_confinement.into(record, there)
    raw = tension_development.into(
        record,
        f_y=f_y,
        psi_te=psi_te,
        psi_s=psi_s,
        psi_g=psi_g,
        k_d=given.tension,
        lam=lam,
        f_r=root,
        c_K=counted,
        d_b=d_b,
    )
    tension = least_development.into(record, raw, given.least)
    asked = f_y >= given.grades[1] * (1 - 1e-6) and lapped.pitch < given.wide_spacing
    least = least_transverse_index.into(record, d_b) if asked else None
    psi_r = confining_factor.into(record, "confining" if lapped.confined else "other")
    a = compression_development_a.into(
        record, f_y=f_y, psi_r=psi_r, k_c=given.compression, lam=lam, f_r=root, d_b=d_b
    )
    b = compression_development_b.into(record, f_y, psi_r, given.compression_yield, d_b)
    compression = compression_development.into(record, a, b, given.least_compression)
    return Development(
        cast=float(psi_t),
        coating=float(psi_e),
        cast_and_coating=float(psi_te),
        size=float(psi_s),
        grade=float(psi_g),
        transverse_index=float(index),
        confinement_there=float(there),
        confinement=float(counted),
        before_least=float(raw),
        tension=float(tension),
        least_index=None if least is None else float(least),
        confining=float(psi_r),
        compression_a=float(a),
        compression_b=float(b),
        compression=float(compression),
    )


@dataclass(frozen=True)
class TieReduction:
    """Whether the ties at a lap shorten it.

    Attributes:
        need, have: areas of the legs along x and along y, mm²; nothing for spirals.
        factor: share of the length that stays.
    """

    need: tuple[float, float] | None
    have: tuple[float, float] | None
    factor: float


def tie_reduction(
    record: Derivation | None, section: Section, transverse: Transverse
) -> TieReduction:
    """Return whether the ties at a lap shorten it."""
    if transverse.spiral:
        return TieReduction(None, None, float(lap_reduction.into(record, "spiral")))
    spacing = transverse.spacing("lap")
    # Legs along x tie the faces that are as wide as the section is deep along y.
    across = tuple(shear_section(section, 1 - axis).depth for axis in (0, 1))
    need = tuple(float(ties_to_shorten.into(record, h, spacing)) for h in across)
    have = transverse.leg_area(0), transverse.leg_area(1)
    enough = have[0] >= need[0] and have[1] >= need[1]
    factor = lap_reduction.into(record, "ties" if enough else "fewer ties")
    return TieReduction((need[0], need[1]), have, float(factor))


@dataclass(frozen=True)
class LapSplice:
    """Laps of bars. Lengths in mm.

    Attributes:
        development: of the bars.
        reduction: by the ties.
        tension_class: of laps in tension.
        tension: length of a lap in tension.
        compression_base: of a lap in compression by the grade of the bars.
        low_strength: factor for concrete of low strength.
        compression_unreduced, compression: length of a lap in compression without and with the
            ties around it.
        kind: which of them the stress of the bars asks for.
        allowed: whether bars so large may be lapped.
    """

    development: Development
    reduction: TieReduction
    tension_class: Literal["A", "B"]
    tension: float
    compression_base: float
    low_strength: float
    compression_unreduced: float
    compression: float
    kind: Literal["tension", "compression"]
    allowed: bool

    @property
    def length(self) -> float:
        """Length of the lap."""
        return self.tension if self.kind == "tension" else self.compression


def lap_splice(
    record: Derivation | None,
    edition: Edition,
    section: Section,
    strength: tuple[float, float],
    lapped: Lapped,
    transverse: Transverse,
) -> LapSplice:
    """Return the laps of bars.

    Args:
        record: what is written to.
        edition: of the code.
        section: that the bars are in.
        strength: f'c, MPa, and λ.
        lapped: the bars.
        transverse: the ties around them.
    """
    given, f_y, d_b = edition.laps, lapped.yield_strength, lapped.diameter
    found = development(record, edition, strength, lapped, transverse.spacing("lap"))
    few = lapped.stress <= 0.5 * f_y and lapped.percent <= HALF and lapped.staggered
    lap_class: Literal["A", "B"] = "A" if few else "B"
    tension = tension_lap.into(record, lap_class, found.before_least, given.least)
    base = compression_lap_by_grade.into(
        record,
        f_y=f_y * BELOW,
        f_1=given.grades[0],
        k_1=given.compression_lap,
        k_2=given.high_compression_lap,
        d_b=d_b,
        ell_min=given.least,
    )
    k_f = low_strength_factor.into(record, strength[0], given.low_strength)
    whole = lengthened.into(record, base, k_f)
    if f_y > given.grades[1] * (1 + 1e-6):
        whole = not_below_tension.into(record, whole, found.tension)
    reduction = tie_reduction(record, section, transverse)
    compression = compression_lap.into(record, whole, reduction.factor, given.least)
    return LapSplice(
        found,
        reduction,
        lap_class,
        float(tension),
        float(base),
        float(k_f),
        float(whole),
        float(compression),
        "tension" if lapped.stress > 0 else "compression",
        d_b <= given.largest_lapped * (1 + 1e-3),
    )
