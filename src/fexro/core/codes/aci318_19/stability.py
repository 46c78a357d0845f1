"""From analysed forces to demands: ACI 318-19, 6.2.5 and 6.6.4, put together for a lift."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache, partial
from typing import Any

import numpy as np

from fexro.core.actions import Actions, Demand, Demands
from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.aci318_19 import slenderness as rules
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.options import OptionsACI
from fexro.core.codes.aci318_19.second_order import ENDS, AxisACI, SecondOrderOptions, StoreySway
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.calculation import write_demand
from fexro.core.codes.options import options_of
from fexro.core.codes.slenderness import (
    AXES,
    NO_DRIFT,
    REVERSED,
    DemandRows,
    direction_about,
    own_image,
    second_order_findings,
    sign_of,
)
from fexro.core.facts import ColumnFacts, StoreyFacts
from fexro.core.findings import Finding, State, force, state_of_ratio
from fexro.core.provisions import Derivation, join
from fexro.core.quantities import Dimension
from fexro.core.second_order import (
    AxisSecondOrder,
    Column,
    GeneralBasis,
    SecondOrder,
    StoreyDirection,
    axis_moments,
    unknown_axis,
)

__all__ = ["StabilityACI", "slenderness"]

SHARED = frozenset({"E_c", "f_y_o", "P_o", "A_g"})  # symbols that are of the whole lift
SOFTENING = 0.75  # of the stiffness, as in 6.6.4.5.2
COLUMNS = (
    Column("slenderness", "kℓu/r", "slenderness", Dimension.RATIO),
    Column("limit", "limit", "up to which it may be neglected", Dimension.RATIO),
    Column("delta_s", "δs", "growth of sway moments", Dimension.RATIO),
    Column("Cm", "Cm", "equivalent moment factor", Dimension.RATIO),
    Column("delta", "δ", "growth along the lift", Dimension.RATIO),
)


@dataclass(frozen=True)
class StabilityACI:
    """Moments with slenderness and sway by moment magnification (6.6.4) in one unit edition."""

    edition: Edition
    strength: StrengthACI

    @property
    def options(self) -> type[OptionsACI]:
        """What may be chosen where the code leaves room."""
        return OptionsACI

    @property
    def reads(self) -> frozenset[str]:
        """The values of a direction that are read."""
        return frozenset({"clear", "factor", "factor_sway", "lasting"})

    @property
    def columns(self) -> tuple[Column, ...]:
        """What a table of second-order effects shows."""
        return COLUMNS

    @property
    def couples_storey(self) -> bool:
        """Whether what the others of the storey are counts: their critical loads do."""
        return True

    def critical(self, facts: ColumnFacts, actions: Actions) -> FloatArray:
        """Return the critical loads with sway along x and y of the plan, N, (2, C).

        Not numbers where the effective length is not known.
        """
        found = np.full((2, len(actions.combinations)), np.nan)
        for axis in self._axes(facts):
            moments = axis_moments(actions, axis.axis, axis.direction.plan)
            _, load = axis.sway_critical(None, moments)
            found[axis.direction.plan] = load
        return found

    def second_order(
        self, facts: ColumnFacts, storey: StoreyFacts, actions: Actions
    ) -> SecondOrder:
        """Return what slenderness and sway make of the moments of all combinations."""
        assumed = self._assumed_beta(facts, actions)
        found = []
        for axis in self._axes(facts):
            sway = axis.storey(storey, actions.combinations)
            moments = axis_moments(actions, axis.axis, axis.direction.plan)
            moments, notes, missing = self._sway_part(axis, sway, moments, actions)
            missing = missing or _missing(axis, sway)
            if missing:
                found.append(
                    unknown_axis(moments, sway.braced, sway.reason, axis.direction, missing)
                )
                continue
            sums = partial(_sums, storey, actions.combinations, axis)
            beta = self._beta(facts, actions, axis.axis)
            one = axis.second_order(None, moments, beta, sway, sums)
            notes += self._assumptions(axis, sway, one, storey)
            found.append(one.assuming((*notes, *(assumed if one.any_slender else ()))))
        about_x, about_y = found
        demands = self._demands(facts, actions, (about_x, about_y))
        return SecondOrder((about_x, about_y), demands, self._values(facts))

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
        write_demand(part, ("P_u", "M_ux", "M_uy"), demand.values)
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
            moments = axis_moments(actions, axis.axis, axis.direction.plan)
            moments, _, missing = self._sway_part(axis, sway, moments, actions)
            one, part = moments.at(combination), Derivation()
            word = "held against sway" if sway.braced else "takes part in sway"
            record.note(f"Bending about {AXES[axis.axis]}: {word} ({sway.reason}).")
            if missing := missing or _missing(axis, sway):
                record.note(missing)
                continue
            part.given("P_u", one.axial, Dimension.FORCE, "largest along the lift")
            part.given("M_f_top", one.top, Dimension.MOMENT, "first order, top")
            part.given("M_f_bottom", one.bottom, Dimension.MOMENT, "first order, bottom")
            if one.transverse:
                part.given("M_f_span", one.span, Dimension.MOMENT, "largest between the ends")
            beta = self._explain_beta(part, facts, actions, combination, axis.axis, one.axial)
            sums = partial(_sums, storey, actions.combinations, axis, combination)
            axis.second_order(part, one, beta, sway.at(combination), sums)
            join(record, part, AXES[axis.axis], SHARED)

    def explain_length(
        self, record: Derivation, facts: ColumnFacts, axis: int, *, braced: bool
    ) -> None:
        """Write how the ends of a lift, and its effective length about x (0) or y (1), follow."""
        one, part = self._axes(facts)[axis], Derivation()
        one.factor(part, sway=not braced)
        join(record, part, "" if braced else "s", ENDS)

    def general_basis(
        self, facts: ColumnFacts, found: SecondOrder, combination: int
    ) -> GeneralBasis:
        """Return on what inelastic second-order analysis is based (6.2.5.3, 6.6.4.5.2, 6.8)."""
        axes = self._axes(facts)
        creep = max(one.value("beta_dns", combination) for one in found.axes)
        creep = 0.0 if np.isnan(creep) else creep
        restraint = [
            tuple(axis.restraint(end) if one.braced else 0.0 for end in ("bottom", "top"))
            for axis, one in zip(axes, found.axes, strict=True)
        ]
        said = (
            f"nominal laws of concrete and bars, 0.75 of the stiffness, strains of the concrete"
            f" stretched by 1 + βdns = {1 + creep:.2f}; sections fail at the design strength"
        )
        (x_foot, x_top), (y_foot, y_top) = restraint
        held = (x_foot, x_top), (y_foot, y_top)
        return GeneralBasis("6.8", creep, SOFTENING, (0.0, 0.0), held, said)

    def storey_direction(self, storey: StoreyFacts, plan: int, walls: bool) -> StoreyDirection:
        """Return what a storey is in a direction of the plan (6.6.4.3)."""
        drift = storey.drifts[plan]
        count = len(storey.combinations)
        if drift is None or not count:
            reason = NO_DRIFT.format("walls resist" if walls else "a frame resists")
            return StoreyDirection("Q", np.full(count, np.nan), rules.NONSWAY_INDEX, walls, reason)
        Q = np.asarray(rules.stability_index(storey.axial, drift.drift, drift.shear, drift.height))
        largest = float(np.nanmax(Q, initial=0.0))
        braced = largest <= rules.NONSWAY_INDEX
        reason = f"Q = {largest:.3f} {'≤' if braced else '>'} 0.05"
        unstable = "at Q = 1 the storey is unstable" if largest >= 0.6 else ""
        return StoreyDirection("Q", Q, rules.NONSWAY_INDEX, braced, reason, unstable)

    def explain_storey(
        self, record: Derivation, storey: StoreyFacts, plan: int, combination: int
    ) -> None:
        """Write the stability index of a storey in a combination."""
        drift = storey.drifts[plan]
        if drift is None:
            record.note("The drift of the storey is not known.")
            return
        rules.stability_index.into(
            record, float(storey.axial[combination]), drift.drift, drift.shear, drift.height
        )
        record.given("Q_lim", rules.NONSWAY_INDEX, Dimension.RATIO, "nonsway up to, 6.6.4.3(b)")

    def _axes(self, facts: ColumnFacts) -> tuple[AxisACI, AxisACI]:
        return _axes_of(self.edition, facts)

    def _beta(self, facts: ColumnFacts, actions: Actions, axis: int) -> Any:
        """Return the sustained share of the axial force of each combination (6.6.4.4.4)."""
        given = direction_about(facts, axis).lasting
        shape = len(actions.combinations)
        if given is not None:
            return np.full(shape, given)
        options = options_of(SecondOrderOptions, facts.options, others=True)
        if actions.sustained is None:
            return np.full(shape, options.beta_dns)
        lasting, whole = actions.sustained[:, 1, 0], actions.forces[:, 1, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            share = rules.sustained_share(lasting, whole)
        return np.where(whole != 0, share, 0.0)

    def _explain_beta(
        self,
        record: Derivation,
        facts: ColumnFacts,
        actions: Actions,
        combination: int,
        axis: int,
        axial: float,
    ) -> float:
        beta = float(self._beta(facts, actions, axis)[combination])
        known = actions.sustained is not None and direction_about(facts, axis).lasting is None
        if known and axial > 0 and float(actions.forces[combination, 1, 0]) > 0:
            assert actions.sustained is not None
            lasting = float(actions.sustained[combination, 1, 0])
            rules.sustained_share.into(record, lasting, float(actions.forces[combination, 1, 0]))
        else:
            source = "given" if direction_about(facts, axis).lasting is not None else "assumed"
            record.given("beta_dns", beta, Dimension.RATIO, source)
        return beta

    def _assumed_beta(self, facts: ColumnFacts, actions: Actions) -> tuple[str, ...]:
        if actions.sustained is not None or any(
            direction_about(facts, axis).lasting is not None for axis in (0, 1)
        ):
            return ()
        beta = options_of(SecondOrderOptions, facts.options, others=True).beta_dns
        return (f"βdns = {beta:g}, since the lasting part of the loads is not known",)

    def _sway_part(
        self, axis: AxisACI, sway: StoreySway, moments: Any, actions: Actions
    ) -> tuple[Any, list[str], str]:
        """Return the moments with what of them comes with sway, and what was assumed for it."""
        kind = axis.direction.sway_moments
        if sway.braced or kind == "analysis":
            return moments.without_sway(), [], ""
        if kind == "all":
            return moments.all_sway(), [], ""
        if actions.sway is None:
            assumed = (
                f"all moments about {AXES[axis.axis]} grow with sway: which part comes with it"
                " is not known"
            )
            return moments.all_sway(), [assumed], ""
        return moments, [], ""

    def _assumptions(
        self, axis: AxisACI, sway: StoreySway, found: AxisSecondOrder, storey: StoreyFacts
    ) -> list[str]:
        name = AXES[axis.axis]
        notes = [sway.assumed] if sway.assumed else []
        if axis.direction.factor is None and any(np.isnan(axis.psi)) and found.any_slender:
            notes.append(f"k = 1.0 about {name}: the members framing in are not known")
        if len(set(axis.cross.concretes)) > 1 and found.any_slender:
            notes.append("stiffness by the weakest of the concretes, over all of the section")
        if axis.direction.clear is None and found.any_slender:
            notes.append(f"the clear length about {name} is the storey height")
        from_loads = "sum_P" in np.asarray(found.words.get("delta_s_from", ""))
        if from_loads and sway.Q is None:
            notes.append(f"δs about {name} by ΣPu/ΣPc: no drift of the storey is known")
        if from_loads and storey.critical is not None and storey.critical.without:
            listed = ", ".join(storey.critical.without[:4])
            notes.append(f"nothing of {listed} counts in ΣPc: their ends are not known")
        return notes

    def _values(self, facts: ColumnFacts) -> dict[str, float]:
        axis, _ = self._axes(facts)
        section = facts.section
        return {
            "Ag": section.outline.area,
            "Ast": section.bars.total_area,
            "Ec": axis.modulus(),
            "Po": axis.squash(),
            "phi_Pn_max": self.strength.largest_design_axial(facts.cross_section),
        }

    def _demands(
        self,
        facts: ColumnFacts,
        actions: Actions,
        axes: tuple[AxisSecondOrder, AxisSecondOrder],
    ) -> Demands:
        rows = DemandRows(actions, axes)
        axial = rows.axial
        lost = np.any([one.states == "unstable storey" for one in axes], axis=0)
        rows.ends(~lost)
        pressed = (axial > 0) & ~np.any([one.unstable for one in axes], axis=0)
        transverse = any(one.values.get("transverse", False) for one in axes)
        slender = np.any([one.slender for one in axes], axis=0)
        sizes = [one.values["Mc"] * sign_of(one.values["M2"]) for one in axes]
        rows.add("pair", pressed & (slender | transverse), sizes)
        for axis, one in enumerate(axes):
            governs = pressed & np.asarray(one.values["M2_min_governs"], dtype=bool)
            least = np.asarray(one.values["Mc_min"]) * sign_of(one.values["M2"])
            moment = list(sizes)
            moment[axis] = least
            rows.add(f"minimum {AXES[axis]}", governs, moment)
            if not own_image(self.strength, facts.cross_section, axis):
                # The least moment may lie on the side where the section is weaker.
                moment = list(sizes)
                moment[axis] = -least
                rows.add(f"minimum {AXES[axis]} {REVERSED}", governs, moment)
        return rows.demands()


@lru_cache(maxsize=4096)
def _axes_of(edition: Edition, facts: ColumnFacts) -> tuple[AxisACI, AxisACI]:
    options = options_of(SecondOrderOptions, facts.options, others=True)
    about_x, about_y = (
        AxisACI(edition, options, facts.cross_section, direction_about(facts, axis), axis)
        for axis in (0, 1)
    )
    return about_x, about_y


def _missing(axis: AxisACI, sway: StoreySway) -> str:
    """Return why the moments about an axis cannot be found; empty where they can."""
    if sway.braced or not np.isnan(axis.factors[1]):
        return ""
    ends = [name for name, psi in zip(("top", "bottom"), axis.psi, strict=True) if np.isnan(psi)]
    where = " and ".join(ends) or "top and bottom"
    return (
        f"bending about {AXES[axis.axis]} with sway: the beams framing in at the {where}"
        " are not known, and no effective length factor is given."
    )


def _sums(
    storey: StoreyFacts,
    combinations: tuple[str, ...],
    axis: AxisACI,
    combination: int | slice = slice(None),
) -> tuple[Any, Any] | None:
    if axis.direction.sway_moments == "analysis" or storey.critical is None:
        return None
    places = storey.places(combinations)[combination]
    return storey.axial[places], storey.critical.loads[axis.direction.plan, places]


def slenderness(facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Return what is found of slenderness and sway (6.2.5, 6.6.4)."""
    topic = context.stability
    assert isinstance(topic, StabilityACI)
    found = second_order_findings(facts, context, "6.2.5, 6.6.4", ("Pu", "0.75 Pc"))
    found += _growth_limit(facts, context)
    found += _axial_only(facts, context)
    return found


def _growth_limit(facts: ColumnFacts, context: Context) -> list[Finding]:
    """Check that second-order moments are not over 1.4 times those of first order (6.2.5.3)."""
    worst, at, axis = 0.0, 0, 0
    for number, one in enumerate(context.second_order.axes):
        ratio = np.nan_to_num(np.asarray(one.values.get("second_order_ratio", 1.0), dtype=float))
        if ratio.size and one.any_slender and float(ratio.max()) > worst:
            worst, at, axis = float(ratio.max()), int(ratio.argmax()), number
    if worst <= 1.0:
        return []
    ratio = worst / rules.SECOND_ORDER_LIMIT
    name = context.actions.combinations[at]
    state = state_of_ratio(ratio)
    return [
        Finding(
            f"Growth of moments about {AXES[axis]}",
            "growth of moments",
            "6.2.5.3",
            State.SATISFIED if state is State.ATTENTION else state,
            ratio,
            "{found} of {limit} in {combination}",
            "second-order moments are {found} times those of first order in {combination};"
            " at most {limit}: a stiffer lift is needed.",
            {"found": f"{worst:.2f}", "limit": "1.4", "combination": name},
            name,
            derive=context.deriving(facts, at, axis),
        )
    ]


def _axial_only(facts: ColumnFacts, context: Context) -> list[Finding]:
    """Compare pure compression and buckling where no combination has a moment (22.4.2, 6.6.4)."""
    forces = context.actions.axial_bending
    if not len(forces) or np.abs(forces[..., 1:]).max() > 0 or forces[..., 0].max() <= 0:
        return []
    found = axial_capacity(context)
    at = int(forces[..., 0].max(axis=1).argmax())
    ratio = found["ratio"][at]
    name = context.actions.combinations[at]
    return [
        Finding(
            "Axial force alone",
            "axial",
            "22.4.2.1, 6.6.4.4.2",
            state_of_ratio(ratio),
            ratio,
            "φPn,max {cap}; 0.75 Pc about x {x}, about y {y}: {governs} governs",
            "axial force alone {ratio} of what {governs} allows.",
            {
                "cap": force(found["phi_Pn_max"]),
                "x": force(found["buckling_x"][at]),
                "y": force(found["buckling_y"][at]),
                "governs": found["governed_by"][at],
                "ratio": f"{ratio:.2f}",
            },
            name,
            derive=context.deriving(facts, at),
        )
    ]


def axial_capacity(context: Context) -> dict[str, Any]:
    """Return the design strength in pure compression beside the buckling loads, N."""
    second = context.second_order
    cap = second.values["phi_Pn_max"]
    loads = [0.75 * np.asarray(one.values["Pc"], dtype=float) for one in second.axes]
    axial = context.actions.forces[..., 0].max(axis=1)
    every = np.stack([np.full(len(axial), cap), *(np.broadcast_to(p, axial.shape) for p in loads)])
    least = every.argmin(axis=0)
    return {
        "phi_Pn_max": cap,
        "buckling_x": every[1],
        "buckling_y": every[2],
        "capacity": every.min(axis=0),
        "governed_by": np.array(["section", "buckling x", "buckling y"])[least],
        "ratio": axial / every.min(axis=0),
    }
