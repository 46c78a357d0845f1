"""From analysed forces to demands: EN 1992-1-1, 5.2, 5.8 and 6.1(4), put together for a lift."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial
from typing import Any

import numpy as np

from fexro.core.actions import Actions, Demand, Demands
from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.calculation import write_demand
from fexro.core.codes.en1992_1_1 import slenderness as rules
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.composite import CompositeAxis
from fexro.core.codes.en1992_1_1.options import OptionsEN
from fexro.core.codes.en1992_1_1.second_order import (
    AxisEN,
    StoreySway,
    bracing_limit,
)
from fexro.core.codes.en1992_1_1.section_strength import StrengthEN
from fexro.core.codes.en1992_1_1.strength import axial_resistance
from fexro.core.codes.options import options_of
from fexro.core.codes.slenderness import (
    AXES,
    NO_DRIFT,
    REVERSED,
    DemandRows,
    direction_about,
    larger_end,
    own_image,
    second_order_findings,
)
from fexro.core.facts import ColumnFacts, StoreyFacts
from fexro.core.findings import Finding
from fexro.core.provisions import Derivation, join
from fexro.core.quantities import Dimension
from fexro.core.second_order import (
    AxisMoments,
    AxisSecondOrder,
    Column,
    GeneralBasis,
    SecondOrder,
    StoreyDirection,
    axis_moments,
    unknown_axis,
)

__all__ = ["StabilityEN", "separate_checks", "slenderness"]

SHARED = frozenset(
    {
        *("f_cd", "f_yd", "E_cm", "E_cd", "A_c", "phi_inf", "phi", "f_cm", "h_0", "phi_RH"),
        *("beta_fcm", "t_0_adj", "beta_t0", "alpha_1", "alpha_2", "dry", "alpha"),
    }
)  # symbols that are of the whole lift
COLUMNS = (
    Column("slenderness", "λ", "slenderness", Dimension.RATIO),
    Column("limit", "λlim", "up to which it may be neglected", Dimension.RATIO),
    Column("alpha_cr", "αcr", "critical factor of sway", Dimension.RATIO),
    Column("M0e", "M0e", "equivalent first-order moment", Dimension.MOMENT),
    Column("e2", "e2", "second-order deflection", Dimension.LENGTH),
)
ALIKE = 2.0  # (5.38a)
NEARLY_ONE_AXIS = 0.2  # (5.38b)
VERY_LOW = 3.0  # αcr from which simplified magnification is doubtful


@dataclass(frozen=True)
class StabilityEN:
    """Moments with imperfections and second-order effects, by nominal curvature or stiffness."""

    annex: Annex
    strength: StrengthEN

    @property
    def options(self) -> type[OptionsEN]:
        """What may be chosen where the code leaves room."""
        return OptionsEN

    @property
    def reads(self) -> frozenset[str]:
        """The values of a direction that are read."""
        return frozenset(
            {
                *("clear", "factor", "factor_sway", "lasting", "alpha_cr", "members"),
                *("moment_shape", "moment_factor", "bracing"),
            }
        )

    @property
    def columns(self) -> tuple[Column, ...]:
        """What a table of second-order effects shows."""
        return COLUMNS

    @property
    def couples_storey(self) -> bool:
        """Whether what the others of the storey are counts: only what they carry does."""
        return False

    def critical(self, facts: ColumnFacts, actions: Actions) -> FloatArray:
        """Return nothing that counts: sway is judged by drift or a critical factor."""
        return np.zeros((2, len(actions.combinations)))

    def second_order(
        self, facts: ColumnFacts, storey: StoreyFacts, actions: Actions
    ) -> SecondOrder:
        """Return what slenderness and sway make of the moments of all combinations."""
        found = []
        for axis in self._axes(facts):
            sway = axis.storey(storey, actions.combinations)
            moments, notes, missing = self._moments(axis, sway, actions)
            missing = missing or self._missing(axis, sway)
            if missing:
                found.append(
                    unknown_axis(moments, sway.braced, sway.reason, axis.direction, missing)
                )
                continue
            one = axis.second_order(None, moments, self._lasting(facts, actions, axis), sway)
            found.append(one.assuming((*notes, *self._assumed(axis, sway, one, actions))))
        about_x, about_y = found
        demands = self._demands(facts, actions, (about_x, about_y))
        return SecondOrder((about_x, about_y), demands, self._values(facts, actions))

    def explain(
        self,
        record: Derivation,
        facts: ColumnFacts,
        storey: StoreyFacts,
        actions: Actions,
        combination: int,
        demand: Demand,
    ) -> None:
        """Write how a demand came from the analysed forces."""
        self.explain_axes(record, facts, storey, actions, combination)
        part = Derivation()
        part.note(f"Demand: {demand.place}.")
        write_demand(part, ("N_Ed", "M_Edx", "M_Edy"), demand.values)
        join(record, part)

    def explain_axes(
        self,
        record: Derivation,
        facts: ColumnFacts,
        storey: StoreyFacts,
        actions: Actions,
        combination: int,
        only: int | None = None,
    ) -> None:
        """Write what slenderness and sway make of the moments of a combination."""
        for axis in self._axes(facts):
            if only is not None and axis.axis != only:
                continue
            sway = axis.storey(storey, actions.combinations)
            moments, _, missing = self._moments(axis, sway, actions)
            one, part = moments.at(combination), Derivation()
            word = "held against sway" if sway.braced else "takes part in sway"
            record.note(f"Bending about {AXES[axis.axis]}: {word} ({sway.reason}).")
            if missing := missing or self._missing(axis, sway):
                record.note(missing)
                continue
            part.given("N_Ed", one.axial, Dimension.FORCE, "largest along the lift")
            part.given("M_f_top", one.top, Dimension.MOMENT, "first order, top")
            part.given("M_f_bottom", one.bottom, Dimension.MOMENT, "first order, bottom")
            if one.transverse:
                part.given("M_f_span", one.span, Dimension.MOMENT, "largest between the ends")
            lasting = self._lasting(facts, actions, axis)
            if not callable(lasting):
                source = "given" if axis.direction.lasting is not None else "assumed"
                if not facts.section.steel:
                    source = f"M0Eqp / M0Ed, {source}"
                    part.given("share", lasting, Dimension.RATIO, source)
            axis.second_order(part, one, lasting, sway.at(combination))
            join(record, part, AXES[axis.axis], SHARED)

    def explain_length(
        self, record: Derivation, facts: ColumnFacts, axis: int, *, braced: bool
    ) -> None:
        """Write how the ends of a lift, and its effective length about x (0) or y (1), follow."""
        self._axes(facts)[axis].length(record, sway=not braced)

    def general_basis(
        self, facts: ColumnFacts, found: SecondOrder, combination: int
    ) -> GeneralBasis:
        """Return on what nonlinear second-order analysis is based (5.8.6)."""
        axes = self._axes(facts)
        creeps = [one.value("phi_ef", combination) for one in found.axes]
        creep = max((c for c in creeps if not np.isnan(c)), default=0.0)
        bows = [np.nan_to_num(one.value("ei", combination)) for one in found.axes]
        slender = [one.value("slenderness", combination) for one in found.axes]
        worse = int(np.nanargmax(slender)) if not np.isnan(slender).all() else 0
        both = axes[0].options.imperfection_in == "both"
        bow_x, bow_y = (
            float(bow) if both or axis == worse else 0.0 for axis, bow in enumerate(bows)
        )
        held = [
            tuple(axis.restraint(end) if one.braced else 0.0 for end in (1, 0))
            for axis, one in zip(axes, found.axes, strict=True)
        ]
        said = (
            f"design laws of concrete and bars, strains of the concrete stretched by"
            f" 1 + φef = {1 + creep:.2f}, the imperfection where it is worse"
        )
        (x_foot, x_top), (y_foot, y_top) = held
        restraint = (x_foot, x_top), (y_foot, y_top)
        return GeneralBasis("5.8.6", creep, 1.0, (bow_x, bow_y), restraint, said)

    def storey_direction(self, storey: StoreyFacts, plan: int, walls: bool) -> StoreyDirection:
        """Return what a storey is in a direction of the plan (5.8.2(6), 5.8.3.3, H.1)."""
        drift, bracing = storey.drifts[plan], storey.bracing[plan]
        count = len(storey.combinations)
        alpha, limit = np.full(count, np.nan), 10.0
        if drift is not None and count:
            with np.errstate(divide="ignore", invalid="ignore"):
                alpha = np.asarray(
                    rules.critical_factor(
                        drift.shear, np.maximum(storey.axial, 0.0), drift.height, drift.drift
                    )
                )
        least = float(np.nanmin(alpha, initial=np.inf))
        known = bool(np.isfinite(least))
        braced = least >= limit if known else walls
        reason = NO_DRIFT.format("walls resist" if walls else "a frame resists")
        if known:
            reason = f"αcr = {least:.1f} {'≥' if braced else '<'} {limit:g}"
        if bracing is not None:
            braced = bracing.axial <= bracing_limit(None, bracing)["limit"]
            reason = "FV,Ed ≤ limit of (5.18)" if braced else "FV,Ed > limit of (5.18)"
        warning = ""
        if known and least < VERY_LOW:
            warning = f"αcr below {VERY_LOW:g}: analyse the building with second-order effects"
        return StoreyDirection("αcr", alpha, limit, braced, reason, warning, least=True)

    def explain_storey(
        self, record: Derivation, storey: StoreyFacts, plan: int, combination: int
    ) -> None:
        """Write the critical factor of a storey in a combination, and (5.18) where it is known."""
        drift, bracing = storey.drifts[plan], storey.bracing[plan]
        if drift is None:
            record.note("The drift of the storey is not known.")
        elif storey.axial[combination] > 0:
            rules.critical_factor.into(
                record, drift.shear, float(storey.axial[combination]), drift.height, drift.drift
            )
        if bracing is not None:
            bracing_limit(record, bracing)
            record.given("F_V_Ed", bracing.axial, Dimension.FORCE, "all vertical load")

    def _axes(self, facts: ColumnFacts) -> tuple[AxisEN, AxisEN]:
        return _axes_of(self.annex, facts)

    def _moments(
        self, axis: AxisEN, sway: StoreySway, actions: Actions
    ) -> tuple[AxisMoments, list[str], str]:
        """Return first-order moments, what of them comes with sway, and what was assumed."""
        moments = axis_moments(actions, axis.axis, axis.direction.plan)
        kind = axis.direction.sway_moments
        if sway.braced or kind == "analysis":
            return moments.without_sway(), [], ""
        if kind == "all":
            return moments.all_sway(), [], ""
        if actions.sway is None and sway.alpha_cr is not None:
            assumed = (
                f"all moments about {AXES[axis.axis]} grow with sway: which part comes with it"
                " is not known"
            )
            return moments.all_sway(), [assumed], ""
        return moments, [], ""

    def _missing(self, axis: AxisEN, sway: StoreySway) -> str:
        """Return why the moments about an axis cannot be found; empty where they can."""
        name, options = AXES[axis.axis], axis.options
        ratio = axis.cross.section.bars.total_area / axis.section.area
        if options.method == "stiffness" and not axis.cross.section.steel:
            least = {"full": 0.002, "simplified": 0.01}[options.stiffness_form]
            if ratio < least:
                return (
                    f"bending about {name}: nominal stiffness asks for a bar ratio of {least:g};"
                    f" found {ratio:.4f}."
                )
        if sway.braced or axis.direction.sway_moments == "analysis":
            return ""
        if options.unbraced == "magnified" and sway.alpha_cr is None:
            return f"bending about {name}: αcr or the drift of the storey is not known."
        if sway.alpha_cr is not None and options.unbraced != "isolated":
            return ""
        if np.isnan(axis.length(None, sway=True)):
            return (
                f"bending about {name} with sway: the beams framing in are not known,"
                " and no effective length is given."
            )
        return ""

    def _lasting(
        self, facts: ColumnFacts, actions: Actions, axis: AxisEN
    ) -> float | Callable[[Derivation | None, Any, Any], Any]:
        """Return the lasting part of the first-order moments, or what finds it (5.8.4)."""
        given = axis.direction.lasting
        if given is not None:
            return given
        lasting = actions.quasi_permanent
        if lasting is None:
            return axis.options.lasting
        axial = max(float(lasting[:, 0].max()), 0.0)
        if axis.cross.section.steel:
            return partial(_axial_share, axial)
        moments = [float(lasting[end, 4 + axis.axis]) for end in (0, 1)]
        larger, smaller = (abs(float(m)) for m in larger_end(*moments))
        sense = 1.0 if moments[0] * moments[1] >= 0 else -1.0
        equivalent = float(rules.equivalent_moment(sense * smaller, larger))

        def share(record: Derivation | None, M_0Ed: Any, e_i: Any) -> Any:
            M_0Eqp = equivalent + axial * e_i
            with np.errstate(divide="ignore", invalid="ignore"):
                found = rules.creep_share.into(record, M_0Eqp, M_0Ed)
            return np.where(M_0Ed > 0, found, 1.0)

        return share

    def _assumed(
        self, axis: AxisEN, sway: StoreySway, found: AxisSecondOrder, actions: Actions
    ) -> list[str]:
        name, direction = AXES[axis.axis], axis.direction
        notes = [sway.assumed] if sway.assumed else []
        if not found.any_slender:
            return notes
        if direction.factor is None and any(np.isnan(axis.ends)):
            notes.append(f"l0 about {name} is the clear length: the beams are not known")
        if direction.clear is None:
            notes.append(f"the clear length about {name} is the storey height")
        if len(set(axis.cross.concretes)) > 1:
            notes.append(
                "in slenderness the mean strength of the concretes, and the modulus of the weakest"
            )
        if direction.lasting is None and actions.quasi_permanent is None:
            share = axis.options.lasting
            of = "NG,Ed/NEd" if axis.cross.section.steel else "M0Eqp/M0Ed"
            notes.append(f"{of} = {share:g}: the lasting part of the loads is not known")
        if not sway.braced and sway.alpha_cr is None:
            notes.append(f"an isolated lift about {name}: no drift of the storey is known")
        if axis.options.creep == "Annex B":
            o = axis.options
            notes.append(f"creep by Annex B: RH {o.RH:g} %, t0 {o.t0:g} days, cement {o.cement}")
        return notes

    def _values(self, facts: ColumnFacts, actions: Actions) -> dict[str, Any]:
        axis, _ = self._axes(facts)
        f_cd, f_yd = axis.strengths()
        area, bars = axis.section.area, facts.section.bars.total_area
        E_cd = axis.design_modulus()
        axial = actions.forces[..., 0].max(axis=1, initial=-np.inf)
        return {
            "Ac": area,
            "As": bars,
            "rho": bars / area,
            "fcd": f_cd,
            "fyd": f_yd,
            "Ecm": 1.2 * E_cd,
            "Ecd": E_cd,
            "omega": axis.omega(),
            "n": rules.relative_axial(axial, area, f_cd),
            "NRd": float(axial_resistance(area, f_cd, bars, f_yd)),
            "creep": axis.final_creep(),
        }

    def _demands(
        self,
        facts: ColumnFacts,
        actions: Actions,
        axes: tuple[AxisSecondOrder, AxisSecondOrder],
    ) -> Demands:
        rows = DemandRows(actions, axes)
        lost = np.any([one.states == "unstable storey" for one in axes], axis=0)
        rows.ends(~lost)
        pressed = (rows.axial > 0) & ~np.any([one.unstable for one in axes], axis=0)
        both = options_of(OptionsEN, facts.options, others=True).imperfection_in == "both"
        signs = [np.where(one.values["sign"] < 0, -1.0, 1.0) for one in axes]
        for axis, one in enumerate(axes):
            other = axes[1 - axis]
            beside = other.values["M_Ed_both" if both else "M_Ed"] * signs[1 - axis]
            moments = [beside, beside]
            moments[axis] = one.values["M_design"] * signs[axis]
            rows.add(f"imperfection {AXES[axis]}", pressed, moments)
            if one.missing or own_image(self.strength, facts.cross_section, axis):
                continue
            # On the side where an unsymmetrical section may be weaker.
            reverse = np.asarray(one.values["M_other"])
            moments = list(moments)
            moments[axis] = -reverse * signs[axis]
            rows.add(f"imperfection {AXES[axis]} {REVERSED}", pressed & (reverse > 0), moments)
        return rows.demands()


def _axial_share(lasting: float, _: Derivation | None, N_Ed: Any, __: Any) -> Any:
    """Return the lasting part of axial forces (EN 1994-1-1, 6.7.3.3(4))."""
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(N_Ed > 0, np.clip(lasting / N_Ed, 0.0, 1.0), 1.0)


@lru_cache(maxsize=4096)
def _axes_of(annex: Annex, facts: ColumnFacts) -> tuple[AxisEN, AxisEN]:
    options = options_of(OptionsEN, facts.options, others=True)
    cross = facts.cross_section
    kind = CompositeAxis if cross.section.steel else AxisEN
    about_x, about_y = (
        kind(annex, options, cross, direction_about(facts, axis), axis) for axis in (0, 1)
    )
    return about_x, about_y


def slenderness(facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Return what is found of slenderness and sway (5.8)."""
    return second_order_findings(facts, context, "5.8", ("NEd", "NB"))


def separate_checks(second: SecondOrder, combination: int) -> dict[str, Any]:
    """Return whether both directions may be checked apart, in a combination (5.8.9(3), (5.38)).

    Args:
        second: what was made of the moments.
        combination: its index.
    """
    slenderness = [axis.value("slenderness", combination) for axis in second.axes]
    ratio = slenderness[0] / slenderness[1]
    alike = 1 / ALIKE <= ratio <= ALIKE
    found: dict[str, Any] = {"lambda_ratio": ratio, "slenderness_alike": alike}
    # h and b of (5.38b) are those of the rectangle with the same radii of gyration.
    sides = [axis.value("i", combination) * np.sqrt(12) for axis in second.axes]
    for place, name in enumerate(second.demands.places):
        if not name.startswith("imperfection") or name.endswith((REVERSED, "least N")):
            continue
        axial, *moments = second.demands.values[combination, place]
        relative = [abs(m) / axial / side for m, side in zip(moments, sides, strict=True)]
        larger = max(relative)
        eccentricity = min(relative) / larger if larger else 0.0
        apart = bool(alike and eccentricity <= NEARLY_ONE_AXIS)
        found[name] = {"eccentricity_ratio": eccentricity, "separate": apart}
    return found
