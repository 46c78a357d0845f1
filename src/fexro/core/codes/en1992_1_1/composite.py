"""Second-order moments of a lift with structural steel about one axis: EN 1994-1-1, 6.7.3."""

from __future__ import annotations

from functools import cached_property
from typing import Any

import numpy as np

from fexro.core.codes.en1992_1_1 import slenderness as reinforced
from fexro.core.codes.en1992_1_1.materials import concrete_modulus
from fexro.core.codes.en1992_1_1.second_order import AxisEN, StoreySway
from fexro.core.codes.en1994_1_1 import second_order as rules
from fexro.core.codes.slenderness import AXES, SectionAbout, words
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.second_order import AxisMoments, AxisSecondOrder

__all__ = ["CompositeAxis"]

MAJOR, MINOR = (200.0, 0.34), (150.0, 0.49)  # bow L over it, α of the curve: Table 6.5, encased
NEGLIGIBLE = 10.0  # N_cr,eff over N_Ed from which second-order effects are neglected, 5.2.1(3)


class CompositeAxis(AxisEN):
    """A lift with structural steel where it bends about one axis."""

    @cached_property
    def stronger(self) -> bool:
        """Whether its structural steel is at least as stiff about this axis as about the other."""
        other = SectionAbout(self.cross.section, 1 - self.axis)
        return self.section.steel_second_moment >= other.steel_second_moment * (1 - 1e-9)

    @property
    def curve(self) -> tuple[float, float]:
        """By what L is divided for the bow, and α of the buckling curve (Table 6.5)."""
        return MAJOR if self.stronger else MINOR

    def effective_modulus(self, record: Derivation | None, share: Any) -> Any:
        """Return the modulus of the concrete with creep (6.7.3.3(4))."""
        E_cm = float(concrete_modulus.into(record, self.cross.weakest.strength))
        phi_t = self.final_creep(record)["phi_inf"]
        if record is not None:
            record.given("share", share, Dimension.RATIO, "lasting part of the axial force")
        return rules.effective_modulus.into(record, E_cm, share, phi_t)

    def stiffnesses(self, record: Derivation | None, share: Any) -> tuple[Any, Any]:
        """Return the stiffness for slenderness and for second-order moments, N·mm²."""
        E_c = self.effective_modulus(record, share)
        modulus, second = self.section.steel_stiffness or (0.0, 0.0)
        if record is not None:
            source = f"structural steel, E_a I_a with I_a {second / 1e4:.0f} cm⁴"
            record.given("EI_a", modulus * second, Dimension.STIFFNESS, source)
        concrete = self.section.second_moment - second
        given = (
            *(modulus * second, self.cross.steel.modulus, self.section.bars_second_moment),
            *(E_c, concrete),
        )
        if record is not None:
            source = "gross section less structural steel, uncracked"
            record.given("I_c", concrete, Dimension.SECOND_MOMENT, source)
        slender = rules.stiffness.into(record, *given)
        return slender, rules.second_order_stiffness.into(record, *given)

    def characteristic(self, record: Derivation | None = None) -> float:
        """Return N_pl,Rk, N."""
        section = self.cross.section
        steel = sum(p.outline.area * p.material.yield_strength for p in section.steel)
        concrete = sum(
            (area.outline.area - float(section.bars.area[section.bar_areas == i].sum()))
            * one.strength
            for i, (area, one) in enumerate(
                zip(section.concretes, self.cross.concretes, strict=True)
            )
        )
        if record is not None:
            record.given("N_a_k", steel, Dimension.FORCE, "structural steel")
            record.given("N_c_k", concrete, Dimension.FORCE, "concrete, all steel deducted")
        bars = section.bars.total_area, self.cross.steel.yield_strength
        return float(rules.characteristic_resistance.into(record, steel, concrete, *bars))

    def relative_slenderness(self, record: Derivation | None, l_0: float, share: Any) -> Any:
        """Return the relative slenderness for an effective length, mm."""
        stiffness, _ = self.stiffnesses(record, share)
        resistance = self.characteristic(record)
        critical = rules.critical_load.into(record, stiffness, l_0)
        return rules.relative_slenderness.into(record, resistance, critical)

    def second_order(
        self, record: Derivation | None, moments: AxisMoments, lasting: Any, storey: StoreySway
    ) -> AxisSecondOrder:
        """Return what slenderness and sway make of the moments; see `AxisEN.second_order`."""
        direction, section = self.direction, self.section
        shape, braced, axial = np.shape(moments.top), storey.braced, moments.axial
        pressed = np.asarray(axial > 0)
        start = self.first_order(record, moments, storey)
        larger, smaller = np.abs(start.larger), start.smaller
        if record is not None:
            record.given("l", direction.length, Dimension.LENGTH, "between the floors, clear")
        l_0 = self.length(record, sway=not start.held)
        share = lasting(record, axial, 0.0) if callable(lasting) else lasting
        relative = self.relative_slenderness(record, l_0, share)
        creep = self.final_creep()["phi_inf"] * share
        divisor, _ = self.curve
        _, stiffness = self.stiffnesses(None, share)
        with np.errstate(divide="ignore", invalid="ignore"):
            critical = rules.critical_load.named(EI="(EI)_eff,II", N_cr="N_cr,eff").into(
                record, stiffness, l_0
            )
            slender = np.asarray(pressed & (critical < NEGLIGIBLE * axial))
            e_0 = float(rules.bow.into(record, direction.length, divisor))
            sense = np.where(start.larger < 0, -1.0, 1.0)
            r = np.where(larger == 0, 1.0, sense * smaller / np.where(larger == 0, 1.0, larger))
            if start.held and not moments.transverse:
                if record is not None:
                    record.given("r", float(r), Dimension.RATIO, "smaller over larger end moment")
                beta = rules.end_moment_factor.into(record, r)
            else:
                beta = np.ones(shape)
                if record is not None:
                    why = "load between the ends" if moments.transverse else "unbraced"
                    record.given("beta", 1.0, Dimension.RATIO, why)
            limit = np.where(pressed, relative * np.sqrt(critical / (NEGLIGIBLE * axial)), np.nan)
            unstable = slender & ~(axial < critical)
            safe = np.where(pressed & ~unstable, axial, 0.0)
            active = record if record is not None and bool(slender & ~unstable) else None
            growth = [
                np.where(slender, rules.moment_growth(one, safe, critical), 1.0)
                for one in (beta, np.ones(shape))
            ]
        if record is not None and bool(pressed):
            if active is not None:
                rules.moment_growth.named(k="k_1").into(active, float(beta), axial, float(critical))
                rules.moment_growth.named(k="k_2", beta="beta_0").into(
                    active, 1.0, axial, float(critical)
                )
            elif bool(unstable):
                record.note("NEd is not below N_cr,eff: the lift is unstable.")
            else:
                record.note("N_cr,eff is 10 NEd or more: k = 1.")
        gone = np.where(unstable | start.lost, np.nan, 0.0)
        bow = np.where(pressed, growth[1] * np.maximum(axial, 0.0) * e_0, 0.0)
        without = growth[0] * larger + gone
        design = without + bow
        if record is not None and bool(pressed) and not bool(unstable):
            rules.design_moment.into(
                record, float(growth[0]), float(larger), float(growth[1]), axial, e_0
            )
        radius = float(reinforced.radius_of_gyration(section.second_moment, section.area))
        values: dict[str, Any] = {
            "M_top_first": moments.top,
            "M_bottom_first": moments.bottom,
            "i": radius,
            "l0": l_0,
            "lambda": l_0 / radius,
            "slenderness": relative,
            "l0_over_l": l_0 / direction.length,
            "alpha_cr": start.alpha,
            "sign": start.sign,
            "magnifier": start.growth if start.magnified else np.full(shape, np.nan),
            "M_top": start.grown[0],
            "M_bottom": start.grown[1],
            "transverse": moments.transverse,
            "lambda_rel": relative,
            "share": share,
            "N_cr_eff": critical,
            "ei": e_0,
            "beta": beta,
            "k1": growth[0],
            "k2": growth[1],
            "M0e": larger,
            "M_Ed": without,
            "M_Ed_both": design,
            "M_design": design,
            "M_other": bow,
            "limit": limit,
            "phi_ef": creep,
            "slender": slender,
        }
        states = words(pressed, words(slender, "second order", "short"), "tension")
        states = words(unstable, "unstable", states)
        states = words(start.lost, "unstable storey", states)
        with np.errstate(divide="ignore", invalid="ignore"):
            buckling = np.where(pressed, axial / critical, np.nan)
        return AxisSecondOrder(
            braced=braced,
            reason=storey.reason,
            length=direction.length,
            factor=l_0 / direction.length,
            slenderness=np.broadcast_to(relative, shape),
            limit=limit,
            slender=slender,
            states=states,
            ends=np.stack([np.asarray(end) for end in start.grown], axis=-1),
            first=larger * start.sign,
            even=bow,
            moment=design * start.sign,
            buckling=buckling,
            unstable=np.asarray(unstable | start.lost),
            values=values,
            words={"design_governs": words(pressed, f"bow about {AXES[self.axis]}", "first order")},
        )
