"""What codes look at alike where a lift is slender: its section about an axis, its end moments."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np

from fexro.core.actions import Actions, Demands
from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.codes import Context, StrengthTopic
from fexro.core.facts import ColumnFacts, CrossSection, FramingMember, LiftDirection
from fexro.core.findings import Finding, State, moment, number, state_of_ratio
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.second_order import AxisSecondOrder
from fexro.core.section.section import Section

__all__ = [
    "AXES",
    "IDEAL_ENDS",
    "NO_DRIFT",
    "REVERSED",
    "DemandRows",
    "FramingSums",
    "SectionAbout",
    "direction_about",
    "framing_sums",
    "larger_end",
    "own_image",
    "second_order_findings",
    "sign_of",
    "words",
]

AXES = ("x", "y")
NO_DRIFT = "no drift is known; {} sway"  # why a storey is taken as it is
# Effective length over clear, held against sway and not, of columns with ideal ends: elastic
# buckling, EN 1992-1-1 Figure 5.7.
IDEAL_ENDS: Mapping[str, tuple[float, float]] = {
    "fixed–fixed": (0.5, 1.0),
    "fixed–pinned": (0.7, 2.0),
    "pinned–pinned": (1.0, math.inf),
    "cantilever": (2.0, 2.0),
}


class SectionAbout:
    """A section where it bends about x (0) or y (1), by its gross concrete; mm.

    Attributes:
        section: outline and bars.
        axis: that it bends about.
    """

    def __init__(self, section: Section, axis: int) -> None:
        self.section, self.axis = section, axis

    @property
    def area(self) -> float:
        """Area of the concrete, voids deducted, mm²."""
        return self.section.outline.area

    @cached_property
    def depth(self) -> float:
        """Depth in the direction of bending, mm."""
        x0, y0, x1, y1 = self.section.outline.bounds
        if self.section.round:
            # The polygon of a circle has its area, and reaches a little beyond it.
            return float(2 * np.sqrt(self.area / np.pi))
        return (y1 - y0, x1 - x0)[self.axis]

    @property
    def second_moment(self) -> float:
        """Second moment of the concrete about its centroid, mm⁴."""
        return self.section.outline.inertia[self.axis]

    @cached_property
    def bars_second_moment(self) -> float:
        """Second moment of the bars about the centroid of the concrete, mm⁴."""
        bars, centroid = self.section.bars, self.section.outline.centroid
        away = (bars.y - centroid[1], bars.x - centroid[0])[self.axis]
        return float((bars.area * away**2).sum())

    @cached_property
    def steel_second_moment(self) -> float:
        """Second moment of the structural steel about the centroid of the concrete, mm⁴.

        Where profiles differ in modulus, by that of the first.
        """
        middle, total = self.section.outline.centroid[1 - self.axis], 0.0
        for part in self.section.steel:
            outline = part.outline
            away = outline.centroid[1 - self.axis] - middle
            second = outline.inertia[self.axis] + outline.area * away**2
            total += second * part.material.modulus / self.section.steel[0].material.modulus
        return total

    @property
    def steel_stiffness(self) -> tuple[float, float] | None:
        """Modulus, MPa, and second moment, mm⁴, of the structural steel, if there is any."""
        steel = self.section.steel
        if not steel:
            return None
        return steel[0].material.modulus, self.steel_second_moment

    @cached_property
    def perimeter(self) -> float:
        """Length of the outer edge, mm."""
        if self.section.round:
            return float(np.pi * self.depth)
        ring = self.section.outline.rings[0]
        return float(np.hypot(*(np.roll(ring, -1, axis=0) - ring).T).sum())

    @cached_property
    def form(self) -> str:
        """`circle`, `rectangle` or, for anything else, nothing."""
        if self.section.round:
            return "circle"
        x0, y0, x1, y1 = self.section.outline.bounds
        full = (x1 - x0) * (y1 - y0)
        return "rectangle" if abs(self.area / full - 1) < 1e-9 else ""


def direction_about(facts: ColumnFacts, axis: int) -> LiftDirection:
    """Return a lift in the direction in which it bends about x (0) or y (1)."""
    return (facts.about_x, facts.about_y)[axis]


@dataclass(frozen=True)
class FramingSums:
    """Stiffness at an end of a lift, over lengths, N·mm.

    Attributes:
        values: of the columns, and of the beams that hold them.
        names: symbols of both at this end, by those of the formula.
    """

    values: tuple[float, float]
    names: dict[str, str]


def framing_sums(
    record: Derivation | None,
    end: str,
    columns: Sequence[FramingMember],
    beams: Sequence[FramingMember],
    stiffness: Callable[[FramingMember], tuple[float, float]],
) -> FramingSums:
    """Return the sums of stiffness over length of what meets at an end, and write them as a table.

    Args:
        record: a derivation to write into.
        end: its name, and what else tells it.
        columns: the lift itself and the one beyond.
        beams: in the plane of bending.
        stiffness: gives the modulus of a member and the share of its stiffness that counts.
    """
    sums: list[float] = []
    rows: list[tuple[str | float, ...]] = []
    for members in (columns, beams):
        total = 0.0
        for i, member in enumerate(members):
            modulus, share = stiffness(member)
            found = share * modulus * member.second_moment / member.length
            name = member.kind if i or member.kind != "column" else "this lift"
            rows.append((name, modulus, share, member.second_moment, member.length, found))
            total += found
            if member.steel is not None:
                modulus, second = member.steel
                found = modulus * second / member.length
                rows.append((f"{name}, steel", modulus, 1.0, second, member.length, found))
                total += found
        sums.append(total)
    name_of_end = end.partition(",")[0]
    names = {
        "EI_ell_columns_sum": f"EI_ell_col_{name_of_end}_sum",
        "EI_ell_beams_sum": f"EI_ell_beam_{name_of_end}_sum",
    }
    if record is not None:
        columns_of_table = (
            ("member", None),
            ("E", Dimension.STRESS),
            ("kappa", Dimension.RATIO),
            ("I", Dimension.SECOND_MOMENT),
            ("ell", Dimension.LENGTH),
            ("EI_ell", Dimension.MOMENT),
        )
        record.table(f"Members at the {end}; EI_ℓ = κ E I / ℓ", columns_of_table, rows)
        for symbol, value in zip(names.values(), sums, strict=True):
            record.given(symbol, value, Dimension.MOMENT, "sum of EI_ℓ")
    return FramingSums((sums[0], sums[1]), names)


def larger_end(top: Any, bottom: Any) -> tuple[Any, Any]:
    """Return the larger and the smaller of two end moments; the top of two that are equal."""
    below = np.abs(bottom) > np.abs(top)
    return np.where(below, bottom, top), np.where(below, top, bottom)


def sign_of(moment: Any) -> Any:
    """Return the sign of a moment, 1 where there is none."""
    return np.where(np.asarray(moment) < 0, -1.0, 1.0)


def words(condition: Any, then: Any, otherwise: Any) -> Any:
    """Return one of two words for each combination."""
    return np.where(condition, then, otherwise)


def own_image(topic: StrengthTopic, cross: CrossSection, axis: int) -> bool:
    """Tell whether a section is its own image when moments about an axis change their sign."""
    return _own_images(topic, cross)[axis]


@lru_cache(maxsize=4096)
def _own_images(topic: StrengthTopic, cross: CrossSection) -> tuple[bool, bool]:
    """Return the same of both axes."""
    figure = topic.of(cross).body.figure
    return figure.alike(1.0, True), figure.alike(-1.0, True)


REVERSED = "reversed"  # what acts on the side away from the analysed moment


class DemandRows:
    """Demands of all combinations, put together row by row.

    Args:
        actions: the forces as analysed.
        axes: what slenderness and sway make of the moments about x and y.
    """

    def __init__(self, actions: Actions, axes: Sequence[AxisSecondOrder]) -> None:
        self._actions, self._axes = actions, axes
        forces = actions.axial_bending
        self.axial: FloatArray = forces[..., 0].max(axis=1, initial=-np.inf)
        self._least: FloatArray = forces[..., 0].min(axis=1, initial=np.inf)
        self._uneven = bool((self.axial - self._least > 1e-6 * np.abs(self.axial)).any())
        self._first = np.stack([self.axial, *(axis.first for axis in axes)], axis=-1)
        self._values: list[FloatArray] = []
        self._first_order: list[FloatArray] = []
        self._applies: list[BoolArray] = []
        self._places: list[str] = []

    def ends(self, applies: BoolArray) -> None:
        """Add the stations along the lift, the ends with the growth of what comes with sway."""
        forces = self._actions.axial_bending
        grown = forces.copy()
        for axis, one in enumerate(self._axes):
            grown[:, :2, 1 + axis] = np.where(np.isnan(one.ends), grown[:, :2, 1 + axis], one.ends)
        for station, name in enumerate(self._actions.stations):
            self._values.append(grown[:, station])
            self._first_order.append(forces[:, station])
            self._applies.append(applies)
            self._places.append(name)

    def add(self, name: str, applies: BoolArray, moments: Sequence[FloatArray]) -> None:
        """Add a demand of moments about x and y, at the largest and the least axial force."""
        if not applies.any():
            return
        self._row(name, applies, self.axial, moments)
        if self._uneven:
            self._row(f"{name}, least N", applies, self._least, moments)

    def _row(
        self, name: str, applies: BoolArray, axial: FloatArray, moments: Sequence[FloatArray]
    ) -> None:
        wanted = np.stack([axial, *moments], axis=-1)
        first = self._first.copy()
        first[:, 0] = axial
        # What is not asked for repeats what is there already.
        self._values.append(np.where(applies[:, None], wanted, self._values[0]))
        self._first_order.append(np.where(applies[:, None], first, self._first_order[0]))
        self._applies.append(applies)
        self._places.append(name)

    def demands(self) -> Demands:
        """Return all that was added."""
        return Demands(
            np.stack(self._values, axis=1),
            tuple(self._places),
            np.stack(self._first_order, axis=1),
            np.stack(self._applies, axis=1),
        )


def second_order_findings(
    facts: ColumnFacts, context: Context, clause: str, symbols: tuple[str, str]
) -> list[Finding]:
    """Return what is found of slenderness, stability and sway about each axis.

    Args:
        facts: the column.
        context: its forces and what was made of them.
        clause: of all of it.
        symbols: of the axial force and of that at which a lift is unstable.
    """
    found: list[Finding] = []
    if not context.actions.combinations:
        return found
    assumed: list[str] = []
    for number_of, axis in enumerate(context.second_order.axes):
        found.append(_axis_finding(facts, context, clause, symbols, number_of))
        found += _sway_findings(facts, context, clause, number_of)
        assumed += [text for text in axis.assumed if text not in assumed]
    if assumed:
        text = "; ".join(assumed)
        found.append(
            Finding(
                "Assumed for slenderness",
                "assumptions",
                clause,
                State.ATTENTION,
                np.nan,
                "{assumed}",
                "assumed: {assumed}.",
                {"assumed": text},
                assumption=True,
                derive=context.deriving(facts, 0),
            )
        )
    return found


def _axis_finding(
    facts: ColumnFacts, context: Context, clause: str, symbols: tuple[str, str], number_of: int
) -> Finding:
    axis, name = context.second_order.axes[number_of], AXES[number_of]
    short, title = f"slenderness {name}", f"Slenderness about {name}"
    if axis.missing:
        return Finding(
            title,
            short,
            clause,
            State.NOT_CHECKED,
            np.nan,
            "not known",
            axis.missing,
            derive=context.deriving(facts, 0, number_of),
        )
    combinations = context.actions.combinations
    if axis.unstable.any():
        return _unstable_finding(facts, context, clause, symbols, number_of)
    if not axis.any_slender:
        beyond = np.nan_to_num(axis.slenderness - axis.limit, nan=-np.inf)
        at = int(beyond.argmax())
        short_of = {
            "found": number(float(axis.slenderness[at])),
            "limit": number(float(axis.limit[at])),
        }
        return Finding(
            title,
            short,
            clause,
            State.SATISFIED,
            np.nan,
            "no compression" if np.isneginf(beyond[at]) else "not slender: {found} ≤ {limit}",
            "",
            short_of,
            derive=context.deriving(facts, at, number_of),
        )
    grown = np.abs(np.nan_to_num(axis.moment)) - np.abs(axis.first)
    at = int(np.where(axis.slender, grown, -np.inf).argmax())
    known = axis.buckling[~np.isnan(axis.buckling)]
    ratio = float(known.max()) if len(known) else np.nan
    return Finding(
        title,
        short,
        clause,
        state_of_ratio(ratio) if len(known) else State.SATISFIED,
        ratio,
        "slender: {found} > {limit}; {first} becomes {moment} in {combination}",
        f"{symbols[0]} is {{ratio}} of {symbols[1]} about {name}.",
        {
            "found": number(float(axis.slenderness[at])),
            "limit": number(float(axis.limit[at])),
            "first": moment(float(axis.first[at])),
            "moment": moment(float(axis.moment[at])),
            "ratio": f"{ratio:.2f}",
            "combination": combinations[at],
        },
        combinations[at],
        derive=context.deriving(facts, at, number_of),
    )


def _unstable_finding(
    facts: ColumnFacts, context: Context, clause: str, symbols: tuple[str, str], number_of: int
) -> Finding:
    axis, name = context.second_order.axes[number_of], AXES[number_of]
    storey = np.asarray(axis.states) == "unstable storey"
    if storey.any():
        at, ratio = int(storey.argmax()), np.nan
        subject = f"Instability of the storey with bending about {name}"
        message = f"the storey is unstable in sway that bends it about {name}, in {{combination}}."
        detail = f"unstable storey, sway with bending about {name}"
    else:
        at = int(np.nanargmax(axis.buckling))
        ratio = float(axis.buckling[at])
        subject = f"Instability of the lift about {name}"
        message = (
            f"{symbols[0]} is {{ratio}} of {symbols[1]} about {name} in {{combination}}:"
            " the lift is unstable."
        )
        detail = f"{symbols[0]} is {{ratio}} of {symbols[1]} in {{combination}}"
        ratio = ratio if np.isfinite(ratio) else np.nan
    combination = context.actions.combinations[at]
    return Finding(
        subject,
        "unstable",
        clause,
        State.EXCEEDED,
        ratio,
        detail,
        message,
        {"ratio": f"{ratio:.2f}", "combination": combination},
        None,
        derive=context.deriving(facts, at, number_of),
    )


def _sway_findings(
    facts: ColumnFacts, context: Context, clause: str, number_of: int
) -> list[Finding]:
    """Return an attention for a lift that is said to be braced in a storey that sways."""
    axis, direction = context.second_order.axes[number_of], direction_about(facts, number_of)
    if not axis.braced or direction.sway != "braced" or not facts.column:
        return []
    storey = context.stability.storey_direction(context.storey, direction.plan, direction.walls)
    if storey.braced or storey.deciding is None:
        return []
    combination = context.storey.combinations[storey.deciding]
    return [
        Finding(
            f"Braced in a storey that sways, about {AXES[number_of]}",
            "braced or not",
            clause,
            State.ATTENTION,
            np.nan,
            "taken as braced; {reason} in {combination}",
            "taken as braced about {axis}, but the storey sways: {reason} in {combination}.",
            {"reason": storey.reason, "combination": combination, "axis": AXES[number_of]},
            derive=context.deriving(facts, 0, number_of),
        )
    ]
