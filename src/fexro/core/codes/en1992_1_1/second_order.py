"""Second-order moments of a lift about one axis: EN 1992-1-1, 5.2 and 5.8, step by step."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, ClassVar

import numpy as np

from fexro.core.codes.en1992_1_1 import creep, imperfections
from fexro.core.codes.en1992_1_1 import slenderness as rules
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.materials import (
    concrete_design_strength,
    concrete_modulus,
    design_modulus,
    design_yield_strain,
    steel_design_strength,
)
from fexro.core.codes.en1992_1_1.strength import least_eccentricity, least_moment
from fexro.core.codes.options import choice, flag, number
from fexro.core.codes.slenderness import (
    AXES,
    NO_DRIFT,
    SectionAbout,
    framing_sums,
    larger_end,
    sign_of,
    words,
)
from fexro.core.facts import Bracing, CrossSection, End, FramingMember, LiftDirection, StoreyFacts
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.second_order import AxisMoments, AxisSecondOrder

__all__ = ["AxisEN", "FirstOrder", "SecondOrderOptions", "StoreySway", "bracing_limit"]

FREE = 1e12  # flexibility that stands for an end that turns freely
RESTRAINT = {"fixed": 2.0, "pinned": 1.5}  # of a beam by its far end, in place of 4 and 3 halved
LEAST_FULL, LEAST_SIMPLIFIED = 0.002, 0.01  # bar ratios, 5.8.7.2(2) and (3)
DEFAULT_A, DEFAULT_B, DEFAULT_C = 0.7, 1.1, 0.7  # 5.8.3.1(1)
CRACKED_BRACING, UNCRACKED_BRACING = 0.31, 0.62  # 5.8.3.3(1), (2)
SMALL_CREEP, SMALL_SLENDERNESS = 2.0, 75.0  # 5.8.4(4)


@dataclass(frozen=True)
class SecondOrderOptions:
    """What may be chosen of second order where the code leaves room.

    Attributes:
        method: of second order (5.8.5).
        c: of nominal curvature, by the shape of the total curvature (5.8.8.2(4)).
        stiffness_form: of nominal stiffness (5.8.7.2).
        A, B, C: of the limiting slenderness, computed or the values for want of better (5.8.3.1).
        imperfection: by the inclination, or a share of the length (5.2(7), 5.2(9)).
        imperfection_in: the direction where it is worse, or both (5.8.9(2)).
        unbraced: how a lift that sways is looked at (5.8.7.3, 5.8.8.2, Annex H).
        alpha_cr_limit: from which global effects need not be looked at (5.8.2(6), H.1.2).
        creep: coefficient by Annex B, or given.
        phi: the coefficient that is given.
        RH: relative humidity, %.
        t0: age at loading, days.
        cement: class of the cement.
        neglect_small_creep: whether creep is left out where 5.8.4(4) allows it.
        general: whether nonlinear analysis only stands beside, or decides where the simplified
            method is exceeded (5.8.6).
        lasting: lasting part of the first-order moments where it is not known.
    """

    TITLE: ClassVar[str] = "Slenderness and sway"

    method: str = choice("Second order by", "curvature", "stiffness")
    c: float = number("c of nominal curvature", 10.0, 8.0, 12.0)
    stiffness_form: str = choice("Nominal stiffness", "full", "simplified")
    A: str = choice("A of λlim", "computed", "default")
    B: str = choice("B of λlim", "computed", "default")
    C: str = choice("C of λlim", "computed", "default")
    imperfection: str = choice("Imperfection", "theta", "l0/400")
    imperfection_in: str = choice("Imperfection in", "worse", "both")
    unbraced: str = choice("Unbraced lifts", "magnified, else isolated", "isolated", "magnified")
    alpha_cr_limit: float = number("αcr to neglect sway", 10.0, 10.0, 11.0)
    creep: str = choice("Creep coefficient", "Annex B", "given")
    phi: float = number("φ(∞,t0) given", 2.0, 0.0, 10.0)
    RH: float = number("Relative humidity, %", 50.0, 20.0, 100.0)
    t0: float = number("Age at loading, days", 28.0, 0.5, 10_000.0)
    cement: str = choice("Cement class", "N", "S", "R")
    neglect_small_creep: bool = flag("Neglect creep, 5.8.4(4)", default=False)
    general: str = choice("General method", "beside", "decides")
    lasting: float = number("M0Eqp/M0Ed where not known", 1.0, 0.0, 1.0)


def member_stiffness(member: FramingMember) -> tuple[float, float]:
    """Return the modulus of a member framing in, MPa, and the share that counts.

    A beam restrains an end by 4 EI/l, or 3 EI/l where its far end is pinned, half of it where it is
    cracked; a column counts once.
    """
    modulus = float(concrete_modulus(member.concrete.strength))
    if member.kind == "column":
        return modulus, 1.0
    return modulus, RESTRAINT[member.far_end] * 2 * (
        0.5 if member.cracked is None else member.cracked
    )


@dataclass(frozen=True, eq=False)
class StoreySway:
    """What a storey is in one direction of the plan; arrays over the combinations of a lift.

    Attributes:
        braced: whether its lifts are held against sway, if they do not say otherwise.
        reason: why.
        assumed: what of it is assumed, in a sentence.
        alpha_cr: factor at which the building buckles; nothing where it is not known.
    """

    braced: bool
    reason: str
    assumed: str
    alpha_cr: Any

    def at(self, combination: int) -> StoreySway:
        """Return that of one combination, as a plain number."""
        one = None if self.alpha_cr is None else float(self.alpha_cr[combination])
        return replace(self, alpha_cr=one)


@dataclass(frozen=True, eq=False)
class _Pair:
    """M02 and M01 with or without imperfection, and what is made of them."""

    M02: Any
    M01: Any
    M0Ed: Any
    M0Ed_from: Any
    M2: Any
    M_Ed: Any
    governs: Any


@dataclass(frozen=True, eq=False)
class FirstOrder:
    """Moments about an axis before the bow of the lift counts.

    Attributes:
        held: whether the lift is held against sway, or magnified apart.
        magnified: whether what comes with sway is magnified.
        growth, alpha: by how much, and αcr.
        grown: moments at top and bottom.
        larger, smaller: of them, or between the ends.
        sign: of the larger.
        lost: where the storey is unstable.
    """

    held: bool
    magnified: bool
    growth: Any
    alpha: Any
    grown: tuple[Any, Any]
    larger: Any
    smaller: Any
    sign: Any
    lost: Any


class AxisEN:
    """A lift where it bends about one axis.

    Args:
        annex: nationally determined data.
        options: what is chosen.
        cross: section and materials.
        direction: lengths and ends.
        axis: 0 about x, 1 about y.
    """

    def __init__(
        self,
        annex: Annex,
        options: SecondOrderOptions,
        cross: CrossSection,
        direction: LiftDirection,
        axis: int,
    ) -> None:
        self.annex, self.options, self.cross = annex, options, cross
        self.direction, self.axis = direction, axis
        self.section = SectionAbout(cross.section, axis)

    def strengths(self, record: Derivation | None = None) -> tuple[float, float]:
        """Return fcd and fyd (3.1.6, 3.2.7)."""
        f_cd = concrete_design_strength.into(
            record, self.cross.mean_concrete.strength, self.annex.alpha_cc, self.annex.gamma_c
        )
        f_yd = steel_design_strength.into(
            record, self.cross.steel.yield_strength, self.annex.gamma_s
        )
        return float(f_cd), float(f_yd)

    def omega(self, record: Derivation | None = None) -> float:
        """Return the mechanical ratio of the reinforcement."""
        f_cd, f_yd = self.strengths()
        area = self.cross.section.bars.total_area
        return float(rules.mechanical_ratio.into(record, area, f_yd, self.section.area, f_cd))

    def final_creep(self, record: Derivation | None = None) -> dict[str, float]:
        """Return the final creep coefficient and, by Annex B, what leads to it."""
        if self.options.creep == "given":
            if record is not None:
                record.given("phi_inf", self.options.phi, Dimension.RATIO, "given")
            return {"phi_inf": self.options.phi}
        return creep.final_creep(
            record,
            self.cross.mean_concrete.strength,
            self.section.area,
            self.section.perimeter,
            self.options.RH,
            self.options.t0,
            self.options.cement,
        )

    @cached_property
    def ends(self) -> tuple[float, float]:
        """k at top and bottom; not a number where it is not known."""
        return self.end(None, "top"), self.end(None, "bottom")

    def end(self, record: Derivation | None, name: str) -> float:
        """Return k at an end, and write it (5.8.3.2(3))."""
        end: End = getattr(self.direction, name)
        kinds = {
            "partial": end.value,
            "fixed": rules.LEAST_END,
            "pinned": math.inf,
            "free": math.inf,
        }
        if end.kind in kinds:
            value = kinds[end.kind]
            assert value is not None
            value = max(value, rules.LEAST_END)
            if record is not None:
                record.given(
                    f"k_{name}", min(value, FREE), Dimension.RATIO, f"{name}: {end.by or end.kind}"
                )
            return value
        if not end.beams:
            if record is not None:
                record.note(f"{name.capitalize()}: no members framing in are known.")
            return math.nan
        own = FramingMember(
            self.section.second_moment,
            self.direction.storey,
            self.cross.concrete,
            "column",
            steel=self.section.steel_stiffness,
        )
        columns = [own] if end.column is None else [own, end.column]
        sums = framing_sums(
            record, f"{name}, bending about {AXES[self.axis]}", columns, end.beams, member_stiffness
        )
        names = {"EI_l_columns_sum": sums.names["EI_ell_columns_sum"]}
        names["restraint_sum"] = sums.names["EI_ell_beams_sum"]
        return float(rules.end_factor.named(**names, k=f"k_{name}").into(record, *sums.values))

    def restraint(self, end: int) -> float:
        """Return the stiffness of an end, top (0) or foot (1), against rotation, N·mm."""
        k = self.ends[end]
        if self.direction.factor is not None or math.isnan(k) or math.isinf(k):
            return 0.0
        stiffness = float(concrete_modulus(self.cross.weakest.strength))
        return stiffness * self.section.second_moment / (k * self.direction.length)

    def length(self, record: Derivation | None, *, sway: bool) -> float:
        """Return the effective length (5.8.3.2); not a number where it is not known."""
        direction = self.direction
        given = direction.factor_sway if sway else direction.factor
        clear = direction.length
        if given is not None:
            if record is not None:
                record.given("l_0_l", given, Dimension.RATIO, "effective length over clear, given")
            return given * clear
        ends = self.ends
        if any(math.isnan(k) for k in ends):
            if sway:
                return math.nan
            if record is not None:
                record.given("l_0", clear, Dimension.LENGTH, "members framing in are not known")
            return clear
        if record is not None:
            self.end(record, "top")
            self.end(record, "bottom")
        near = [min(k, FREE) for k in ends]
        if not sway:
            return float(rules.braced_length.into(record, clear, *near))
        if all(math.isinf(k) for k in ends):
            return math.inf
        return float(rules.isolated_sway_length.into(record, clear, *near))

    def storey(self, storey: StoreyFacts, combinations: tuple[str, ...]) -> StoreySway:
        """Return what the storey is in the direction of bending (5.8.2(6), 5.8.3.3, H.1)."""
        direction, places = self.direction, storey.places(combinations)
        limit, alpha, least = self.options.alpha_cr_limit, None, math.nan
        drift = storey.drifts[direction.plan]
        if direction.alpha_cr is not None:
            alpha, least = np.full(len(combinations), direction.alpha_cr), direction.alpha_cr
        elif drift is not None:
            with np.errstate(divide="ignore", invalid="ignore"):
                every = rules.critical_factor(
                    drift.shear, np.maximum(storey.axial, 0.0), drift.height, drift.drift
                )
            alpha, least = every[places], float(np.nanmin(every, initial=np.inf))
        if direction.sway != "by rule":
            return StoreySway(direction.sway == "braced", "stated", "", alpha)
        bracing = storey.bracing[direction.plan]
        if bracing is not None:
            allowed = self.bracing_limit(None, storey)["limit"]
            braced = bracing.axial <= allowed
            reason = "FV,Ed ≤ limit of (5.18)" if braced else "FV,Ed > limit of (5.18)"
            return StoreySway(braced, reason, "", alpha)
        if alpha is not None:
            braced = least >= limit
            reason = f"αcr = {least:.1f} {'≥' if braced else '<'} {limit:g}"
            return StoreySway(braced, reason, "", alpha)
        if direction.walls:
            return StoreySway(
                True, NO_DRIFT.format("walls resist"), "walls hold the storey against sway", None
            )
        assumed = "the storey sways: a moment frame without a drift given"
        return StoreySway(False, NO_DRIFT.format("a frame resists"), assumed, None)

    def bracing_limit(self, record: Derivation | None, storey: StoreyFacts) -> dict[str, float]:
        """Return the limit of (5.18) and what leads to it."""
        bracing = storey.bracing[self.direction.plan]
        assert bracing is not None
        return bracing_limit(record, bracing)

    def magnifier(self, alpha_cr: Any) -> Any:
        """Return the growth of what comes with sway; not a number where the storey is unstable."""
        with np.errstate(divide="ignore", invalid="ignore"):
            grown = rules.sway_magnifier(alpha_cr)
        found = np.where(alpha_cr >= self.options.alpha_cr_limit, 1.0, grown)
        return np.where(alpha_cr > 1, found, np.nan)

    def _nothing(self, record: Derivation | None, text: str) -> None:
        if record is not None:
            record.note(text)

    def second_order(
        self, record: Derivation | None, moments: AxisMoments, lasting: Any, storey: StoreySway
    ) -> AxisSecondOrder:
        """Return what slenderness and sway make of the moments.

        Args:
            record: a derivation to write into, for one combination.
            moments: first-order moments.
            lasting: lasting part of the first-order moments, M0Eqp/M0Ed; or the moments themselves
                by a function of M0Ed.
            storey: what the storey is.
        """
        options, direction, section = self.options, self.direction, self.section
        shape, braced = np.shape(moments.top), storey.braced
        axial = moments.axial
        pressed = np.asarray(axial > 0)
        start = self.first_order(record, moments, storey)
        held, growth, alpha = start.held, start.growth, start.alpha
        grown, larger, smaller, sign = start.grown, start.larger, start.smaller, start.sign
        magnified, lost = start.magnified, start.lost
        if record is not None:
            self._given(record)
        f_cd, f_yd = self.strengths(record)
        radius = float(rules.radius_of_gyration.into(record, section.second_moment, section.area))
        l_0 = self.length(record, sway=not held)
        slenderness = float(rules.slenderness_ratio.into(record, l_0, radius))
        n = rules.relative_axial.into(record, axial, section.area, f_cd)
        omega = self.omega(record)
        values: dict[str, Any] = {
            "M_top_first": moments.top,
            "M_bottom_first": moments.bottom,
            "i": radius,
            "l0": l_0,
            "lambda": slenderness,
            "l0_over_l": l_0 / direction.length,
            "n": n,
            "omega": omega,
            "alpha_cr": alpha,
            "sign": sign,
            "magnifier": growth if magnified else np.full(shape, np.nan),
            "M_top": grown[0],
            "M_bottom": grown[1],
            "slenderness": slenderness,
            "k_top": self._shown_end(0),
            "k_bottom": self._shown_end(1),
            "transverse": moments.transverse,
        }
        if record is not None and not bool(pressed):
            record.note("Without compression: first-order moments only.")
            record = None
        # Imperfection, 5.2 and 5.8.9(2).
        e_i = self._imperfection(record, l_0, values)
        e_0 = float(least_eccentricity.into(record, section.depth))
        M_i = imperfections.imperfection_moment.into(record, np.maximum(axial, 0.0), e_i)
        N_e0 = least_moment.into(record, np.maximum(axial, 0.0), e_0)
        one_curve = direction_of(larger, smaller)
        with_ = np.abs(larger) + M_i, one_curve * np.abs(smaller) + M_i
        without = np.abs(larger) + 0 * M_i, one_curve * np.abs(smaller) + 0 * M_i
        with np.errstate(divide="ignore", invalid="ignore"):
            r_m = np.asarray(
                np.where(with_[0] == 0, 1.0, rules.moment_ratio(with_[1], with_[0]))
                if braced and not moments.transverse
                else np.ones(shape)
            )
        if record is not None:
            sense = "in the sense of the larger end moment"
            record.given("M_02", float(with_[0]), Dimension.MOMENT, f"larger end with M_i, {sense}")
            if not moments.transverse:
                record.given("M_01", float(with_[1]), Dimension.MOMENT, "smaller end with M_i")
            if braced and not moments.transverse and float(with_[0]):
                rules.moment_ratio.into(record, float(with_[1]), float(with_[0]))
            else:
                why = "load between the ends" if moments.transverse else "unbraced"
                record.given("r_m", 1.0, Dimension.RATIO, why)
        ends_differ = held and not moments.transverse
        M0_with = self._equivalent(record, with_, ends_differ)
        M0_without = self._equivalent(None, without, ends_differ)
        share = lasting(record, M0_with[0], e_i) if callable(lasting) else lasting
        phi_ef = self._effective_creep(record, share, slenderness, M0_with[0], axial)
        with np.errstate(divide="ignore", invalid="ignore"):
            A = self._factor(record, "A", phi_ef)
            B = self._factor(record, "B", omega)
            C = self._factor(record, "C", r_m)
            positive = np.where(pressed, n, np.nan)
            limit = rules.slenderness_limit.into(record, A, B, C, positive)
        slender = np.asarray(pressed & (slenderness > limit))
        active = record if record is not None and bool(slender) else None
        if record is not None and active is None:
            record.note("Second-order effects may be neglected in this direction.")
        values.update(
            rm=r_m,
            phi_ef=phi_ef,
            A=A,
            B=B,
            C=C,
            lambda_lim=limit,
            limit=limit,
            slender=slender,
            ei=e_i,
            e0=e_0,
            N_e0=N_e0,
        )
        unstable = np.zeros(shape, dtype=bool)
        buckling = np.full(shape, np.nan)
        if options.method == "curvature":
            e_2 = self._curvature(active, n, omega, slenderness, phi_ef, f_yd, l_0, values)
            second = [np.where(slender, rules.curvature_moment(axial, e_2), 0.0)] * 2
            if active is not None:
                rules.curvature_moment.into(active, axial, float(e_2))
        else:
            beta, N_B = self._stiffness_method(active, n, slenderness, phi_ef, l_0, held, values)
            with np.errstate(divide="ignore", invalid="ignore"):
                ratio = axial / N_B
                buckling = np.where(pressed, ratio, np.nan)
                unstable = slender & ~(ratio < 1)
                second = [
                    np.where(
                        slender & ~unstable,
                        rules.nominal_stiffness_moment(M0, beta, N_B, axial),
                        0.0,
                    )
                    for M0 in (M0_with[0], M0_without[0])
                ]
            values["buckling_ratio"] = buckling
            if active is not None and bool(unstable):
                active.note("NEd is not below NB: the lift is unstable.")
            elif active is not None:
                rules.nominal_stiffness_moment.into(
                    active, float(M0_with[0]), float(beta), float(N_B), axial
                )
        gone = np.where(unstable | lost, np.nan, 0.0)
        pairs = [
            self._pair(ends, M0, M2, slender, ends_differ, gone)
            for ends, M0, M2 in (
                (with_, M0_with, second[0]),
                (without, M0_without, second[1]),
            )
        ]
        least_governs = pressed & (N_e0 > np.nan_to_num(pairs[0].M_Ed))
        design = np.where(least_governs, N_e0, pairs[0].M_Ed) + gone
        for name, pair in zip(("with_imperfection", "without_imperfection"), pairs, strict=True):
            values[name] = vars(pair)
        values["M_Ed"], values["M_design"] = pairs[1].M_Ed, design
        values["M_Ed_both"] = pairs[0].M_Ed
        values["M0e"] = pairs[0].M0Ed
        values["M2"] = pairs[0].M2
        # What lies on the other side of the section, for one that is not its own image.
        least = np.where(np.abs(larger) < N_e0, N_e0, 0.0)
        values["M_other"] = np.fmax(least, M_i + second[0] - np.abs(M0_without[0]))
        said = {"design_governs": words(least_governs, "N e0", pairs[0].governs)}
        if record is not None and not bool(unstable):
            self._write_design(record, pairs[0], float(N_e0), float(design), ends_differ)
        states = words(pressed, words(slender, "second order", "short"), "tension")
        states = words(unstable, "unstable", states)
        states = words(lost, "unstable storey", states)
        first = np.abs(larger) * sign
        return AxisSecondOrder(
            braced=braced,
            reason=storey.reason,
            length=direction.length,
            factor=l_0 / direction.length,
            slenderness=np.broadcast_to(slenderness, shape),
            limit=np.asarray(limit),
            slender=slender,
            states=states,
            ends=np.stack([np.asarray(end) for end in grown], axis=-1),
            first=first,
            even=np.where(least_governs, N_e0 - np.abs(larger), M_i),
            moment=design * sign,
            buckling=buckling,
            unstable=np.asarray(unstable | lost),
            values=values,
            words=said,
        )

    def first_order(
        self, record: Derivation | None, moments: AxisMoments, storey: StoreySway
    ) -> FirstOrder:
        """Return the end moments with the growth of what comes with sway."""
        shape, braced = np.shape(moments.top), storey.braced
        magnified = not braced and self._magnified(storey)
        growth: Any = np.ones(shape)
        alpha: Any = np.full(shape, np.nan)
        if magnified:
            alpha = np.asarray(storey.alpha_cr)
            growth = self.magnifier(alpha)
            self._write_magnifier(record, alpha)
        elif not braced and self.direction.sway_moments == "analysis":
            self._nothing(record, "The analysis has the effects of sway in it.")
        top, bottom = (
            whole + (growth - 1) * sway if magnified else whole
            for whole, sway in (
                (moments.top, moments.sway_top),
                (moments.bottom, moments.sway_bottom),
            )
        )
        larger, smaller = larger_end(top, bottom)
        if moments.transverse:
            beyond = np.abs(moments.span) > np.abs(larger)
            larger = np.where(beyond, moments.span, larger)
        lost = np.isnan(np.asarray(growth, dtype=float))
        return FirstOrder(
            *(braced or magnified, magnified, growth, alpha),
            *((top, bottom), larger, smaller, sign_of(larger), lost),
        )

    def _given(self, record: Derivation) -> None:
        section, direction = self.section, self.direction
        record.given("h", section.depth, Dimension.LENGTH, "depth in the direction of bending")
        record.given("A_c", section.area, Dimension.AREA, "gross section")
        record.given("I_c", section.second_moment, Dimension.SECOND_MOMENT, "gross section")
        source = "clear length"
        if direction.clear is None:
            source = "storey height: the depth of the beams is not known"
        record.given("l", direction.length, Dimension.LENGTH, source)

    def _magnified(self, storey: StoreySway) -> bool:
        """Tell whether the effects of sway are magnified apart from those along the lift."""
        if self.direction.sway_moments == "analysis":
            return False
        return storey.alpha_cr is not None and self.options.unbraced != "isolated"

    def _write_magnifier(self, record: Derivation | None, alpha: Any) -> None:
        if record is None:
            return
        record.given("alpha_cr", float(alpha), Dimension.RATIO, "of the storey or the building")
        if float(alpha) >= self.options.alpha_cr_limit:
            record.note(f"αcr is {self.options.alpha_cr_limit:g} or more: sway is neglected.")
        elif float(alpha) <= 1:
            record.note("αcr is not above 1: the storey is unstable.")
        else:
            rules.sway_magnifier.into(record, float(alpha))

    def _shown_end(self, end: int) -> float | None:
        if self.direction.factor is not None or math.isnan(self.ends[end]):
            return None
        return self.ends[end]

    def _imperfection(self, record: Derivation | None, l_0: float, values: dict[str, Any]) -> float:
        alpha_h = imperfections.height_factor(self.direction.length)
        alpha_m = imperfections.members_factor(self.direction.members)
        theta = imperfections.inclination(alpha_h, alpha_m)
        values.update(alpha_h=alpha_h, alpha_m=alpha_m, theta_i=theta)
        if self.options.imperfection == "l0/400":
            return float(imperfections.eccentricity_of_braced.into(record, l_0))
        if record is not None:
            imperfections.height_factor.into(record, self.direction.length)
            imperfections.members_factor.into(record, self.direction.members)
            imperfections.inclination.into(record, alpha_h, alpha_m)
        return float(imperfections.eccentricity.into(record, theta, l_0))

    def _equivalent(
        self, record: Derivation | None, ends: tuple[Any, Any], differ: bool
    ) -> tuple[Any, Any]:
        """Return M0Ed of M02 and M01, and how it was found."""
        M_02, M_01 = ends
        if not differ:
            return M_02, words(np.ones(np.shape(M_02), dtype=bool), "M02", "")
        M_0e = rules.equivalent_moment.into(record, M_01, M_02)
        raised = 0.6 * M_02 + 0.4 * M_01 < 0.4 * M_02
        return M_0e, words(raised, "0.4 M02", "0.6 M02 + 0.4 M01")

    def _effective_creep(
        self, record: Derivation | None, share: Any, slenderness: float, M_0Ed: Any, axial: Any
    ) -> Any:
        phi = self.final_creep(record)["phi_inf"]
        found = rules.effective_creep.into(record, phi, share)
        if not self.options.neglect_small_creep:
            return found
        small = (
            (phi <= SMALL_CREEP)
            & (slenderness <= SMALL_SLENDERNESS)
            & (M_0Ed >= axial * self.section.depth)
        )
        if record is not None and bool(small):
            record.given("phi_ef", 0.0, Dimension.RATIO, "creep may be neglected, 5.8.4(4)")
        return np.where(small, 0.0, found)

    def _factor(self, record: Derivation | None, name: str, given: Any) -> Any:
        """Return A, B or C of the limiting slenderness."""
        if getattr(self.options, name) == "default":
            value = {"A": DEFAULT_A, "B": DEFAULT_B, "C": DEFAULT_C}[name]
            if record is not None:
                record.given(name, value, Dimension.RATIO, "where it is not computed")
            return value
        if name == "A":
            return rules.factor_A.into(record, given)
        return (rules.factor_B if name == "B" else rules.factor_C).into(record, given)

    def _curvature(
        self,
        record: Derivation | None,
        n: Any,
        omega: float,
        slenderness: float,
        phi_ef: Any,
        f_yd: float,
        l_0: float,
        values: dict[str, Any],
    ) -> Any:
        """Return the deflection by nominal curvature (5.8.8)."""
        section, bars = self.section, self.cross.section.bars
        i_s = math.sqrt(section.bars_second_moment / bars.total_area)
        if record is not None:
            record.given("i_s", i_s, Dimension.LENGTH, "radius of gyration of the bars")
        d = rules.effective_depth.into(record, section.depth, i_s)
        K_r = rules.curvature_factor.into(record, omega, n)
        f_ck = self.cross.mean_concrete.strength
        K_phi = rules.creep_factor.into(record, f_ck, slenderness, phi_ef)
        strain = design_yield_strain.into(record, f_yd, self.cross.steel.modulus)
        curvature_0 = rules.curvature_at_yield.into(record, strain, d)
        curvature = rules.nominal_curvature.into(record, K_r, K_phi, curvature_0)
        e_2 = rules.second_order_eccentricity.into(record, curvature, l_0, self.options.c)
        nu = 1 + omega
        values.update(
            **{"is": i_s, "d": d, "nu": nu, "Kr_raw": (nu - n) / (nu - 0.4), "Kr": K_r},
            beta_creep=0.35 + f_ck / 200 - slenderness / 150,
            Kphi=K_phi,
            curvature_0=curvature_0,
            curvature=curvature,
            c=self.options.c,
            e2=e_2,
        )
        return e_2

    def _stiffness_method(
        self,
        record: Derivation | None,
        n: Any,
        slenderness: float,
        phi_ef: Any,
        l_0: float,
        held: bool,
        values: dict[str, Any],
    ) -> tuple[Any, Any]:
        """Return β and the buckling load by nominal stiffness (5.8.7)."""
        section, f_ck = self.section, self.cross.weakest.strength
        E_cd = self.design_modulus(record)
        k_1: Any = None
        k_2: Any = None
        if self.options.stiffness_form == "full":
            k_1 = rules.strength_share.into(record, f_ck)
            k_2 = rules.load_factor.into(record, n, slenderness)
            K_c = rules.concrete_share.into(record, k_1, k_2, phi_ef)
            K_s = 1.0
        else:
            K_c, K_s = rules.simplified_share.into(record, phi_ef), 0.0
        stiffness = rules.full_stiffness.into(
            record,
            K_c,
            E_cd,
            section.second_moment,
            K_s,
            self.cross.steel.modulus,
            section.bars_second_moment,
        )
        N_B = rules.buckling_load.into(record, stiffness, l_0)
        direction = self.direction
        c_0: float | None = None
        if direction.moment_factor is not None:
            beta = direction.moment_factor
        elif not held:
            beta = 1.0
        else:
            c_0 = 8.0 if direction.moment_shape is None else direction.moment_shape
            beta = float(rules.shape_factor(c_0))
        if record is not None and c_0 is not None:
            rules.shape_factor.into(record, c_0)
        elif record is not None:
            record.given("beta", beta, Dimension.RATIO, "given" if held else "unbraced, 5.8.7.3(4)")
        values.update(k1=k_1, k2=k_2, Kc=K_c, Ks=K_s, EI=stiffness, NB=N_B, c0=c_0, beta=beta)
        return beta, N_B

    def design_modulus(self, record: Derivation | None = None) -> float:
        """Return the design modulus of the concrete (5.8.6(3))."""
        E_cm = concrete_modulus.into(record, self.cross.weakest.strength)
        return float(design_modulus.into(record, E_cm))

    def _pair(
        self,
        ends: tuple[Any, Any],
        M0: tuple[Any, Any],
        M2: Any,
        slender: Any,
        differ: bool,
        gone: Any,
    ) -> _Pair:
        """Return the largest of M02, M0Ed + M2 and |M01| + M2/2."""
        M_02, M_01 = ends
        candidates = [M_02, np.where(slender, M0[0] + M2, -np.inf)]
        names = ["M02", "M0Ed + M2"]
        if differ:
            candidates.append(np.where(slender, np.abs(M_01) + 0.5 * M2, -np.inf))
            names.append("M01 + 0.5 M2")
        every = np.stack([np.broadcast_to(c, np.shape(M_02)) for c in candidates])
        at = every.argmax(axis=0)
        return _Pair(
            M_02,
            M_01,
            M0[0],
            M0[1],
            M2 + gone,
            every.max(axis=0) + gone,
            np.array(names)[at],
        )

    def _write_design(
        self, record: Derivation, pair: _Pair, N_e0: float, design: float, differ: bool
    ) -> None:
        last = ", |M01| + 0.5 M2" if differ and float(pair.M2) else ""
        second = ", M0Ed + M2" if float(pair.M2) else ""
        record.note(f"Largest of M02{second}{last} and N e0:")
        record.given(
            "M_Ed", design, Dimension.MOMENT, f"about {AXES[self.axis]}, with imperfection"
        )


def direction_of(larger: Any, smaller: Any) -> Any:
    """Return 1 where the smaller end moment bends in the sense of the larger, else -1."""
    return sign_of(larger) * sign_of(smaller)


def bracing_limit(record: Derivation | None, bracing: Bracing) -> dict[str, float]:
    """Return the vertical load up to which global effects may be neglected (5.18), N.

    Args:
        record: a derivation to write into.
        bracing: the walls and the building.
    """
    E_cd = design_modulus.into(record, concrete_modulus.into(record, bracing.concrete.strength))
    second_moment = sum(wall.thickness * wall.length**3 / 12 for wall in bracing.walls)
    if record is not None:
        record.given("I_c_sum", second_moment, Dimension.SECOND_MOMENT, "walls that brace")
    stiffness = float(E_cd) * second_moment
    k_1 = CRACKED_BRACING if bracing.cracked else UNCRACKED_BRACING
    limit = rules.bracing_limit.into(record, k_1, bracing.storeys, stiffness, bracing.height)
    return {"sum_EcdIc": stiffness, "k1": k_1, "limit": float(limit)}
