"""Second-order moments of a lift about one axis: ACI 318-19, 6.2.5 and 6.6.4, step by step."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache, partial
from typing import Any, ClassVar

import numpy as np

from fexro.core.codes.aci318_19 import composite
from fexro.core.codes.aci318_19 import slenderness as rules
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.materials import modulus
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.options import choice, number
from fexro.core.codes.slenderness import (
    AXES,
    NO_DRIFT,
    SectionAbout,
    framing_sums,
    larger_end,
    sign_of,
    words,
)
from fexro.core.facts import CrossSection, End, FramingMember, LiftDirection, StoreyFacts
from fexro.core.provisions import Derivation, join
from fexro.core.quantities import Dimension
from fexro.core.second_order import AxisMoments, AxisSecondOrder

__all__ = ["AxisACI", "SecondOrderOptions", "StoreySway", "member_stiffness"]

CRACKED = {"column": 0.70, "beam": 0.35, "slab": 0.25}  # Table 6.6.3.1.1(a)
ENDS = frozenset(
    f"{symbol}{end}{more}"
    for end in ("top", "bottom")
    for symbol, more in (("psi_", ""), ("EI_ell_col_", "_sum"), ("EI_ell_beam_", "_sum"))
)
STIFFEST = 0.02  # ψ that stands for a fixed end
LONGEST = 1e6  # effective length factor up to which the chart is solved


@dataclass(frozen=True)
class SecondOrderOptions:
    """What may be chosen where the code leaves room.

    Attributes:
        radius: how the radius of gyration is found (6.2.5.2).
        EI: form of the effective stiffness (6.6.4.4.4).
        Cm_at_minimum: Cm where the minimum moment governs (6.6.4.5.4).
        magnifier: how sway moments grow (6.6.4.6.2).
        fixed_psi, pinned_psi: ψ of a footing that is called fixed, and of one called pinned.
        beta_dns: sustained share of the axial force where it is not known.
        general: whether inelastic second-order analysis only stands beside, or decides where the
            simplified method is exceeded (6.8).
        beta_ds: sustained share of the storey shear.
    """

    TITLE: ClassVar[str] = "Slenderness and sway"

    radius: str = choice("Radius of gyration", "exact", "rule")
    EI: str = choice("(EI)eff by 6.6.4.4.4", "b", "a", "c")
    Cm_at_minimum: str = choice("Cm where M2,min governs", "one", "end moments")
    magnifier: str = choice("Sway magnifier", "Q, else ΣP", "Q", "ΣP")
    fixed_psi: float = number("ψ of a fixed footing", 1.0, 0.0, 10.0)
    pinned_psi: float = number("ψ of a pinned footing", 10.0, 1.0, 1e6)
    beta_dns: float = number("βdns where not known", 0.6, 0.0, 1.0)
    general: str = choice("General method", "beside", "decides")
    beta_ds: float = number("βds, sustained storey shear", 0.0, 0.0, 1.0)


def member_stiffness(edition: Edition, member: FramingMember) -> tuple[float, float]:
    """Return the modulus of a member framing in, MPa, and the share of its stiffness that stays."""
    share = CRACKED[member.kind] if member.cracked is None else member.cracked
    return modulus(None, edition, member.concrete), share


@lru_cache(maxsize=8192)
def chart_factor(psi_A: float, psi_B: float, *, sway: bool) -> float:
    """Return the effective length factor by the equation of the alignment chart."""
    return _chart(None, psi_A, psi_B, sway=sway)


def _chart(record: Derivation | None, psi_A: float, psi_B: float, *, sway: bool) -> float:
    if sway and math.isinf(psi_A) and math.isinf(psi_B):
        if record is not None:
            record.note("Both ends turn freely: a column that sways carries no load by itself.")
        return math.inf
    low, high = rules.LEAST_PSI, rules.LARGEST_PSI
    near = [min(max(psi, low), high) for psi in (psi_A, psi_B)]
    if record is not None and near != [psi_A, psi_B]:
        record.note("ψ = 0 is put in as 10⁻⁹, and an infinite ψ as 10⁹.")
    if sway:
        return rules.sway_chart.into(record, 1 + 1e-12, LONGEST, *near)
    return rules.nonsway_chart.into(record, 0.5 + 1e-12, 1 - 1e-12, *near)


# Finds the sums of axial forces and of critical loads over a storey; nothing where not known.
StoreySums = Callable[[], tuple[Any, Any] | None]


@dataclass(frozen=True, eq=False)
class StoreySway:
    """What a storey is in one direction of the plan; arrays over the combinations of a lift.

    Attributes:
        braced: whether its lifts are held against sway, if they do not say otherwise.
        reason: why.
        assumed: what of it is assumed, in a sentence.
        Q: stability index; nothing where the drift is not known.
    """

    braced: bool
    reason: str
    assumed: str
    Q: Any

    def at(self, combination: int) -> StoreySway:
        """Return that of one combination, as a plain number."""
        return replace(self, Q=None if self.Q is None else float(self.Q[combination]))


class AxisACI:
    """A lift where it bends about one axis.

    Args:
        edition: the unit edition.
        options: what is chosen.
        cross: section and materials.
        direction: lengths and ends.
        axis: 0 about x, 1 about y.
    """

    def __init__(
        self,
        edition: Edition,
        options: SecondOrderOptions,
        cross: CrossSection,
        direction: LiftDirection,
        axis: int,
    ) -> None:
        self.edition, self.options, self.cross = edition, options, cross
        self.direction, self.axis = direction, axis
        self.section = SectionAbout(cross.section, axis)

    def given(self, record: Derivation) -> None:
        """Write what the calculation about the axis starts from."""
        section = self.section
        record.given("h", section.depth, Dimension.LENGTH, "depth in the direction of bending")
        record.given("A_g", section.area, Dimension.AREA, "gross section")
        record.given("I_g", section.second_moment, Dimension.SECOND_MOMENT, "gross section")
        record.given("I_se", section.bars_second_moment, Dimension.SECOND_MOMENT, "bars")
        if section.steel_stiffness is not None:
            I_sx = section.steel_second_moment
            record.given("I_sx", I_sx, Dimension.SECOND_MOMENT, "structural steel")
        source = "clear length"
        if self.direction.clear is None:
            source = "storey height: the depth of the beams is not known"
        record.given("ell_u", self.direction.length, Dimension.LENGTH, source)

    def modulus(self, record: Derivation | None = None) -> float:
        """Return the modulus of the lift's concrete (19.2.2.1)."""
        return modulus(record, self.edition, self.cross.weakest)

    def squash(self, record: Derivation | None = None) -> float:
        """Return the strength at zero eccentricity (22.4.2.2)."""
        return StrengthACI(self.edition).squash(self.cross, record)

    def radius(self, record: Derivation | None = None) -> float:
        """Return the radius of gyration (6.2.5.2)."""
        section = self.section
        if section.steel_stiffness is not None:
            E_s, I_sx = section.steel_stiffness
            return float(
                composite.composite_radius.into(
                    record,
                    self.modulus(record),
                    section.second_moment,
                    E_s,
                    I_sx,
                    section.area,
                    section.section.steel_area,
                )
            )
        by = section.form if self.options.radius == "rule" and section.form else "exact"
        return float(
            rules.radius_of_gyration.into(
                record, by, section.second_moment, section.area, section.depth
            )
        )

    @cached_property
    def psi(self) -> tuple[float, float]:
        """ψ at top and bottom; not a number where it is not known."""
        return self.end_ratio(None, "top"), self.end_ratio(None, "bottom")

    def end_ratio(self, record: Derivation | None, name: str) -> float:
        """Return ψ at an end, and write it."""
        end: End = getattr(self.direction, name)
        psi, options = rules.end_ratio, self.options
        kinds = {
            "partial": end.value,
            "fixed": options.fixed_psi,
            "pinned": options.pinned_psi,
            "free": math.inf,
        }
        if end.kind in kinds:
            value = kinds[end.kind]
            assert value is not None
            if record is not None:
                source = f"{name}: {end.by or end.kind}"
                record.given(f"psi_{name}", value, Dimension.RATIO, source)
            return value
        if not end.beams:
            if record is not None:
                record.note(f"{name}: no members framing in are known.".capitalize())
            return math.nan
        own = FramingMember(
            self.section.second_moment,
            self.direction.storey,
            self.cross.concrete,
            "column",
            steel=self.section.steel_stiffness,
        )
        columns = [own] if end.column is None else [own, end.column]
        stiffness = partial(member_stiffness, self.edition)
        sums = framing_sums(
            record, f"{name}, bending about {AXES[self.axis]}", columns, end.beams, stiffness
        )
        return float(psi.named(**sums.names, psi=f"psi_{name}").into(record, *sums.values))

    def restraint(self, name: str) -> float:
        """Return the stiffness of an end against rotation, N·mm: 2 EI over ψ times the length."""
        psi = self.psi[0 if name == "top" else 1]
        if self.direction.factor is not None or math.isnan(psi) or math.isinf(psi):
            return 0.0
        stiffness = CRACKED["column"] * self.modulus() * self.section.second_moment
        return 2 * stiffness / (max(psi, STIFFEST) * self.direction.length)

    @cached_property
    def factors(self) -> tuple[float, float]:
        """Effective length factors braced and with sway; not a number where not known."""
        return self.factor(None, sway=False), self.factor(None, sway=True)

    def factor(self, record: Derivation | None, *, sway: bool) -> float:
        """Return the effective length factor, and write it (6.6.4.4.3)."""
        given = self.direction.factor_sway if sway else self.direction.factor
        if given is not None:
            if record is not None:
                record.given("k", given, Dimension.RATIO, "given")
            return given
        psi = self.psi
        if any(math.isnan(value) for value in psi):
            if sway:
                return math.nan
            if record is not None:
                record.given("k", 1.0, Dimension.RATIO, "the members framing in are not known")
            return 1.0
        if record is None:
            return chart_factor(*psi, sway=sway)
        part = Derivation()
        self.end_ratio(part, "top")
        self.end_ratio(part, "bottom")
        found = _chart(part, *psi, sway=sway)
        join(record, part)
        return found

    def stiffness(
        self, record: Derivation | None, beta_d: Any, axial: Any, first: Any
    ) -> tuple[Any, Any]:
        """Return (EI)eff and, in form (c), the second moment that goes with the load."""
        section, E_c = self.section, self.modulus(record)
        if section.steel_stiffness is not None:
            E_s, I_sx = section.steel_stiffness
            return composite.composite_stiffness.into(
                record, E_c, section.second_moment, beta_d, E_s, I_sx
            ), None
        if self.options.EI == "a":
            return rules.stiffness_a.into(record, E_c, section.second_moment, beta_d), None
        if self.options.EI == "b":
            E_s, I_se = self.cross.steel.modulus, section.bars_second_moment
            stiffness = rules.stiffness_b.into(
                record, E_c, section.second_moment, E_s, I_se, beta_d
            )
            return stiffness, None
        P_o = self.squash(record)
        with np.errstate(divide="ignore", invalid="ignore"):
            variable = rules.variable_second_moment.into(
                record,
                self.cross.section.bars.total_area,
                section.area,
                abs(first),
                axial,
                section.depth,
                P_o,
                section.second_moment,
            )
        return rules.stiffness_c.into(record, E_c, variable, beta_d), variable

    def first(self, moments: AxisMoments) -> Any:
        """Return the largest first-order moment anywhere in the lift, with its sign."""
        larger, _ = larger_end(moments.top, moments.bottom)
        if not moments.transverse:
            return larger
        return np.where(np.abs(moments.span) > np.abs(larger), moments.span, larger)

    def sway_critical(self, record: Derivation | None, moments: AxisMoments) -> tuple[Any, Any]:
        """Return (EI)eff and the critical load with sway, for the sum over the storey."""
        stiffness, _ = self.stiffness(
            record, self.options.beta_ds, moments.axial, self.first(moments)
        )
        k = self.factors[1] if record is None else self.factor(record, sway=True)
        return stiffness, rules.critical_load.into(record, stiffness, k, self.direction.length)

    def storey(self, storey: StoreyFacts, combinations: tuple[str, ...]) -> StoreySway:
        """Return what the storey is in the direction of bending (6.2.5, 6.6.4.3)."""
        direction, places = self.direction, storey.places(combinations)
        drift = storey.drifts[direction.plan]
        Q, largest = None, math.nan
        if drift is not None:
            every = rules.stability_index(storey.axial, drift.drift, drift.shear, drift.height)
            Q, largest = every[places], float(np.nanmax(every, initial=0.0))
        if direction.sway != "by rule":
            return StoreySway(direction.sway == "braced", "stated", "", Q)
        if drift is not None:
            braced = largest <= rules.NONSWAY_INDEX
            sign = "≤" if braced else ">"
            return StoreySway(braced, f"Q = {largest:.3f} {sign} 0.05", "", Q)
        if direction.walls:
            assumed = "walls hold the storey against sway: their stiffness is 12 times the columns'"
            return StoreySway(True, NO_DRIFT.format("walls resist"), assumed, Q)
        assumed = "the storey sways: a moment frame without a drift given"
        return StoreySway(False, NO_DRIFT.format("a frame resists"), assumed, Q)

    def sway_growth(
        self,
        record: Derivation | None,
        storey: StoreySway,
        sums: StoreySums,
        count: tuple[int, ...],
    ) -> dict[str, Any]:
        """Return δs by Q, δs by ΣP, that which is used, and where it is from (6.6.4.6.2).

        Args:
            record: a derivation to write into.
            storey: what it is.
            sums: finds the sums of the axial forces and of the critical loads of the storey, if
                they are known; it is only asked where they count.
            count: shape of the results: of the combinations, or of one.
        """
        by_Q = by_P = np.full(count, np.nan)
        usable = np.zeros(count, dtype=bool)
        with np.errstate(divide="ignore", invalid="ignore"):
            if storey.Q is not None and self.options.magnifier != "ΣP":
                # At and beyond 1 the storey is unstable by the index.
                by_Q = np.where(storey.Q < 1, rules.sway_magnifier_by_index(storey.Q), np.nan)
                usable = by_Q <= rules.LARGEST_SWAY_BY_Q
            by_loads = self.options.magnifier != "Q" and not bool(np.all(usable))
            found = sums() if by_loads else None
            if found is not None:
                axial, critical = found
                stable = ~usable & (axial < 0.75 * critical)
                by_P = np.where(stable, rules.sway_magnifier_by_loads(axial, critical), np.nan)
        if record is not None:
            self._write_growth(record, storey, found, bool(np.all(usable)))
        return {
            "delta_s_Q": by_Q,
            "delta_s_P": by_P,
            "delta_s": np.where(usable, by_Q, by_P),
            "delta_s_from": words(usable, "Q", "sum_P"),
        }

    def _write_growth(
        self,
        record: Derivation,
        storey: StoreySway,
        sums: tuple[Any, Any] | None,
        by_index: bool,
    ) -> None:
        if by_index:
            rules.sway_magnifier_by_index.into(record, float(storey.Q))
            return
        if storey.Q is not None and self.options.magnifier != "ΣP":
            record.note("δs by Q is over 1.5, so that the loads of the storey decide.")
        if sums is None:
            record.note("The sums over the storey are not known.")
        elif sums[0] >= 0.75 * sums[1]:
            record.given("P_u_sum", float(sums[0]), Dimension.FORCE, "axial forces of the storey")
            record.given("P_c_sum", float(sums[1]), Dimension.FORCE, "critical loads")
            record.note("ΣPu is not below 0.75 ΣPc: the storey is unstable.")
        else:
            rules.sway_magnifier_by_loads.into(record, float(sums[0]), float(sums[1]))

    def second_order(
        self,
        record: Derivation | None,
        moments: AxisMoments,
        beta_dns: Any,
        storey: StoreySway,
        sums: StoreySums,
    ) -> AxisSecondOrder:
        """Return what slenderness and sway make of the moments (6.2.5, 6.6.4).

        Args:
            record: a derivation to write into, for one combination.
            moments: first-order moments.
            beta_dns: sustained share of the axial force.
            storey: what the storey is.
            sums: see `sway_growth`.
        """
        direction, options, shape = self.direction, self.options, np.shape(moments.top)
        axial, braced = moments.axial, storey.braced
        if record is not None:
            self.given(record)
        r = self.radius(record)
        factors = self.factors
        k = factors[0] if braced else factors[1]
        called = "k" if braced else "k_s"
        if record is not None:
            part = Derivation()
            self.factor(part, sway=not braced)
            join(record, part, "" if braced else "s", ENDS)
        slenderness = rules.slenderness_ratio.named(k=called).into(record, k, direction.length, r)
        first_larger, first_smaller = larger_end(moments.top, moments.bottom)
        first_ratio = self._ratio(None, first_smaller, first_larger, moments)
        if braced:
            if record is not None:
                self._ratio(record, first_smaller, first_larger, moments)
            limit = rules.nonsway_limit.into(record, first_ratio)
        else:
            limit = rules.SWAY_LIMIT + 0 * np.asarray(first_ratio)
            if record is not None:
                record.given("L", rules.SWAY_LIMIT, Dimension.RATIO, "limit with sway, 6.2.5.1(a)")
        slender = np.asarray(slenderness > limit)
        pressed = np.asarray(axial > 0)
        growing = slender & pressed
        one = bool(np.all(growing)) if record is not None else False
        grows = record if one else None
        if record is not None and not one:
            record.note(
                "Slenderness may be neglected."
                if not bool(slender)
                else "Without compression nothing grows along the lift."
            )
        first = self.first(moments)
        stiffness, variable = self.stiffness(grows, beta_dns, axial, first)
        if grows is not None and not braced:
            self.factor(grows, sway=False)
        P_c = rules.critical_load.into(grows, stiffness, factors[0], direction.length)
        values: dict[str, Any] = {
            "r": r,
            "k_braced": factors[0],
            "k_sway": None if braced else factors[1],
            "psi_top": self._shown_psi(0),
            "psi_bottom": self._shown_psi(1),
            "slenderness": slenderness,
            "limit": limit,
            "M1_M2_first": first_ratio,
            "I_c": variable,
            "EI_eff": stiffness,
            "Pc": P_c,
            "Q": storey.Q,
            "M_top_first": moments.top,
            "M_bottom_first": moments.bottom,
            "slender": slender,
            "beta_dns": beta_dns,
            "transverse": moments.transverse,
        }
        said: dict[str, Any] = {}
        growth: Any = 1.0
        lost = np.zeros(shape, dtype=bool)
        if not braced:
            found = self._sway(record, moments, storey, sums, slender, shape)
            values.update({key: v for key, v in found.items() if key != "delta_s_from"})
            said["delta_s_from"] = found["delta_s_from"]
            growth, lost = found["delta_s"], np.isnan(found["delta_s"])
        add = record if record is not None and not braced and bool(np.all(slender)) else None
        ends = [
            rules.sway_end_moment.named(M=f"M_{name}", M_ns=f"M_ns_{name}", M_s=f"M_s_{name}").into(
                add, whole - sway, growth, sway
            )
            for name, whole, sway in (
                ("top", moments.top, moments.sway_top),
                ("bottom", moments.bottom, moments.sway_bottom),
            )
        ]
        larger, smaller = larger_end(*ends)
        M_2 = larger
        if moments.transverse:
            M_2 = np.where(np.abs(moments.span) > np.abs(larger), moments.span, larger)
        ratio = self._ratio(grows, smaller, M_2, moments)
        least = rules.minimum_moment.into(
            grows, np.maximum(axial, 0.0), self.section.depth, self.edition.least_eccentricity
        )
        with np.errstate(divide="ignore", invalid="ignore"):
            buckling = np.where(pressed & slender, axial / (0.75 * P_c), np.nan)
        unstable = growing & ~(buckling < 1)
        if grows is not None and bool(unstable):
            grows.note("Pu is not below 0.75 Pc: the lift is unstable.")
            grows = None
        C_m = 1.0 if moments.transverse else rules.equivalent_moment_factor.into(grows, ratio)
        C_m_least = C_m if options.Cm_at_minimum == "end moments" else 1.0
        size = np.abs(M_2)
        governs = growing & (least > size)
        if grows is not None and bool(governs):
            grows.note("The least moment is larger than M2; both are carried on.")
        with np.errstate(divide="ignore", invalid="ignore"):
            delta = rules.nonsway_magnifier.into(grows, C_m, axial, P_c)
            on_least = grows if grows is not None and bool(governs) else None
            delta_least = rules.nonsway_magnifier.named(delta="delta_min", C_m="C_m_min").into(
                on_least, C_m_least, axial, P_c
            )
        steady = growing & ~unstable
        delta = np.where(steady, delta, 1.0)
        M_c = rules.second_order_moment.into(grows, delta, size)
        M_c_least = np.where(
            governs & ~unstable,
            rules.second_order_moment.named(M_c="M_c_min", delta="delta_min", M_2="M_2,min").into(
                on_least, delta_least, least
            ),
            np.nan,
        )
        reference = np.maximum(np.abs(first), np.where(growing, least, 0.0))
        design = np.fmax(M_c, M_c_least)
        with np.errstate(divide="ignore", invalid="ignore"):
            growth_ratio = np.where(
                growing & (reference > 0), rules.second_order_ratio(design, reference), 1.0
            )
        # A slender lift without compression keeps what sway adds.
        if grows is not None and float(reference) > 0:
            rules.second_order_ratio.into(grows, float(design), float(reference))
        void = np.asarray(unstable | lost)
        gone = np.where(void, np.nan, 0.0)
        values.update(
            M_top=ends[0],
            M_bottom=ends[1],
            M2=M_2,
            M1_M2=ratio,
            M1=np.where(moments.transverse, np.nan, smaller),
            M2_min=least,
            M2_min_governs=governs,
            buckling_ratio=buckling,
            Cm=np.where(growing, C_m, np.nan),
            Cm_min=np.where(growing, C_m_least, np.nan),
            delta=delta + gone,
            delta_min=np.where(growing, delta_least, np.nan) + gone,
            Mc=M_c + gone,
            Mc_min=M_c_least + gone,
            second_order_ratio=growth_ratio + gone,
        )
        states = words(slender, words(pressed, "magnified", "tension"), "short")
        states = words(unstable, "unstable", words(lost, "unstable storey", states))
        final = np.where(governs, M_c_least, M_c) * sign_of(M_2)
        return AxisSecondOrder(
            braced=braced,
            reason=storey.reason,
            length=direction.length,
            factor=factors[0],
            slenderness=np.broadcast_to(slenderness, shape),
            limit=np.broadcast_to(limit, shape),
            slender=slender,
            states=states,
            ends=np.stack(ends, axis=-1),
            first=np.asarray(first),
            even=np.where(governs, least - size, 0.0),
            moment=final + gone,
            buckling=buckling,
            unstable=void,
            values=values,
            words=said,
            assumed=(),
        )

    def _shown_psi(self, end: int) -> float | None:
        """Return ψ at an end where it is used: where no factor is given in its place."""
        if self.direction.factor is not None or math.isnan(self.psi[end]):
            return None
        return self.psi[end]

    def _ratio(
        self, record: Derivation | None, smaller: Any, larger: Any, moments: AxisMoments
    ) -> Any:
        """Return M1/M2 by the code's sign; -1 without end moments and with load between them."""
        if moments.transverse:
            if record is not None:
                record.given("m_12", -1.0, Dimension.RATIO, "load acts between the ends")
            return np.full(np.shape(larger), -1.0)[()]
        with np.errstate(divide="ignore", invalid="ignore"):
            if record is not None and float(larger) == 0:
                record.given("m_12", -1.0, Dimension.RATIO, "no end moments")
                record = None
            found = rules.moment_ratio.into(record, smaller, larger)
        return np.where(np.asarray(larger) == 0, -1.0, found)

    def _sway(
        self,
        record: Derivation | None,
        moments: AxisMoments,
        storey: StoreySway,
        sums: StoreySums,
        slender: Any,
        shape: tuple[int, ...],
    ) -> dict[str, Any]:
        """Return δs and where it is from; 1 where it is neglected or the analysis has it."""
        nothing = np.full(shape, np.nan)
        found: dict[str, Any] = {"EI_eff_sway": nothing, "Pc_sway": nothing, "sum_Pc": nothing}
        if self.direction.sway_moments == "analysis":
            if record is not None:
                record.given("delta_s", 1.0, Dimension.RATIO, "the analysis has sway in it")
            return {
                **found,
                "delta_s_Q": nothing,
                "delta_s_P": nothing,
                "delta_s": np.ones(shape),
                "delta_s_from": words(np.ones(shape, dtype=bool), "second-order analysis", ""),
            }
        into = record if record is not None and bool(np.all(slender)) else None
        if into is not None and storey.Q is not None:
            into.given("Q", float(storey.Q), Dimension.RATIO, "stability index of the storey")
        growth = self.sway_growth(into, storey, sums, shape)
        loads = growth["delta_s_from"] == "sum_P"
        known = sums() if bool(np.any(loads)) else None
        if known is not None:
            stiffness, critical = self.sway_critical(None, moments)
            found = {
                "EI_eff_sway": np.where(loads, stiffness, np.nan),
                "Pc_sway": np.where(loads, critical, np.nan),
                "sum_Pc": np.where(loads, known[1], np.nan),
            }
        growth["delta_s"] = np.where(slender, growth["delta_s"], 1.0)
        growth["delta_s_from"] = words(slender, growth["delta_s_from"], "neglected")
        return {**found, **growth}
