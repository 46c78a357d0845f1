"""What the checks of walls of all codes share: shears of legs, and their findings."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np

from fexro.core.actions import Actions
from fexro.core.arrays import BoolArray, FloatArray
from fexro.core.codes.transverse_checks import SMALLEST, noted
from fexro.core.facts import BearingStrip, ColumnFacts, CouplingBeam, CrossSection, WallPanel
from fexro.core.findings import Finding, State, force, moment, state_of_ratio
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.leg_forces import leg_shears
from fexro.core.section.shapes import Leg

__all__ = [
    "LegShears",
    "axis_of",
    "bars_by_leg",
    "bars_within_ends",
    "base_moments",
    "beam_of",
    "box_size",
    "diagonal_shear_finding",
    "governing_shear",
    "leg_name",
    "leg_shear_finding",
    "legs_alike",
    "panel_of",
    "placed_by_hand_findings",
    "profile_rows",
    "shear_across",
    "strip_of",
    "strip_shear_finding",
    "taken_for_granted",
    "torsion_findings",
    "worst",
    "worst_by_name",
    "worst_of_legs",
    "write_leg",
]

# Of a section, an axis, axial forces and moments about it: which moment, and what is resisted then.
Resisted = Callable[[CrossSection, int, tuple[float, ...], tuple[float, ...]], tuple[int, float]]

MATTERS = 0.5  # of the largest moment: combinations in which an earthquake acts along an axis
STRAIGHT = 1e-6  # sine of the angle up to which a leg runs along an axis
UNRESISTED = 0.01  # of the shear times the length, up to which torsion is a rounding


def panel_of(facts: ColumnFacts) -> WallPanel:
    """Return what a panel of a wall has as such."""
    assert facts.panel is not None
    return facts.panel


def beam_of(facts: ColumnFacts) -> CouplingBeam:
    """Return what a coupling beam has as such."""
    assert facts.beam is not None
    return facts.beam


def strip_of(facts: ColumnFacts) -> BearingStrip:
    """Return what a strip of a bearing wall has as such."""
    assert facts.strip is not None
    return facts.strip


def profile_rows(actions: Actions) -> tuple[FloatArray, list[str], list[str]]:
    """Return forces along a member, (D, 6), each with its combination and its place in words."""
    profile = actions.profile
    rows = profile.forces.reshape(-1, 6)
    names = [name for name in actions.combinations for _ in profile.places]
    places = [f"at {share:.2f} of the height" for share in profile.places]
    return rows, names, places * len(actions.combinations)


def axis_of(panel: WallPanel, leg: int) -> int:
    """Return along which axis a leg runs nearest, x (0) or y (1)."""
    return panel.legs.legs[leg].axis


def base_moments(
    facts: ColumnFacts,
    actions: Actions,
    axis: int,
    resisted: Resisted,
    least: float = MATTERS,
) -> tuple[float, float]:
    """Return the moment acting at the base of a wall and that resisted, where they are apart most.

    Of the combinations with earthquake whose moment is at least a share of the largest; N·mm.

    Args:
        facts: the panel.
        actions: the forces on it.
        axis: along which the legs run that bend, x (0) or y (1).
        resisted: for moments of a section about x (0) or y (1) at axial forces, which of them
            is furthest from what it carries, and that, N and N·mm.
        least: of the largest moment, from which a combination counts.
    """
    critical = panel_of(facts).critical
    if critical is None:
        cross = facts.cross_section
        forces = actions.forces[:, actions.stations.index("bottom")]
    else:
        cross, forces = critical.cross_section, critical.forces
    seismic = actions.seismic
    if seismic is not None and seismic.any() and len(seismic) == len(forces):
        forces = forces[seismic]
    moments = forces[:, 5 if axis == 0 else 4]
    largest = float(np.abs(moments).max(initial=0.0))
    if largest <= 0:
        return 1.0, 1.0
    rows = np.flatnonzero(np.abs(moments) >= least * largest)
    acting = moments[rows]
    row, carried = resisted(
        cross, 1 - axis, tuple(forces[rows, 0].tolist()), tuple(acting.tolist())
    )
    return abs(float(acting[row])), carried


def governing_shear(actions: Actions) -> tuple[float, str] | None:
    """Return the largest shear along the depth of a beam, N, and its combination, if any acts."""
    shears = np.abs(actions.forces[..., 2]).max(axis=1, initial=0.0)
    if not len(shears) or shears.max() <= SMALLEST:
        return None
    at = int(shears.argmax())
    return float(shears[at]), actions.combinations[at]


def diagonal_shear_finding(
    clause: str,
    shear: tuple[float, str],
    strength: float,
    required: float,
    ratio: float,
    derive: Callable[[], Derivation],
) -> Finding:
    """Return the check of the shear that diagonal bars of a coupling beam resist.

    Args:
        clause: of the code.
        shear: the largest, N, and its combination.
        strength: that is resisted, N.
        required: area of a group, mm².
        ratio: of the shear over what is resisted.
        derive: writes the calculation.
    """
    acting, combination = shear
    return Finding(
        *("Shear of diagonal bars", "shear", clause, state_of_ratio(ratio), ratio),
        "{found} of {strength}",
        "Shear {found} in {combination}; the diagonal bars resist {strength}, each group needs"
        " {needed}.",
        {
            "found": force(acting),
            "strength": force(strength),
            "needed": Term(required, Dimension.AREA),
            "combination": combination,
        },
        combination=combination,
        resists=True,
        derive=derive,
    )


def box_size(facts: ColumnFacts) -> tuple[float, float]:
    """Return the sides of the box around a section along x and y, mm."""
    x0, y0, x1, y1 = facts.section.outline.bounds
    return x1 - x0, y1 - y0


def strip_shear_finding(
    clause: str,
    combination: str,
    shear: float,
    strength: float,
    ratio: float,
    derive: Callable[[], Derivation],
) -> Finding:
    """Return the check of the shear of a strip out of the plane of its wall.

    Args:
        clause: of the code.
        combination: that governs.
        shear, strength: in it, N.
        ratio: of both.
        derive: writes the calculation.
    """
    return Finding(
        *("Shear out of plane", "shear", clause, state_of_ratio(ratio), ratio),
        "{found} of {strength}",
        "Shear {found} out of plane in {combination}; {strength} is resisted.",
        {"found": force(shear), "strength": force(strength), "combination": combination},
        combination=combination,
        resists=True,
        derive=derive,
    )


def across_axis(facts: ColumnFacts) -> int | None:
    """Return the axis of the section across a straight panel along x or y; nothing of others."""
    directions = np.array([leg.direction for leg in panel_of(facts).legs.legs])
    for axis in (0, 1):
        if np.abs(directions[:, axis]).max() < STRAIGHT:
            return axis
    return None


def shear_across(
    facts: ColumnFacts, actions: Actions, clause: str, along: Callable[[int], list[Finding]]
) -> list[Finding]:
    """Return the check of shear across a panel, or that it is not checked; none without any.

    Args:
        facts: the panel.
        actions: the forces on it.
        clause: of the code.
        along: checks shear out of plane along an axis of the section.
    """
    axis = across_axis(facts)
    if axis is not None:
        return along(axis)
    shears = LegShears.of(facts, actions)
    left = np.hypot(*shears.shared[1][:, :2].T)
    acting = np.hypot(*shears.rows[:, 1:3].T).max(initial=0.0)
    if left.max(initial=0.0) <= max(SMALLEST, STRAIGHT * acting):
        return []
    row = int(left.argmax())
    combination, _ = shears.place(row)
    return [
        Finding(
            *("Shear out of plane", "shear", clause, State.NOT_CHECKED, math.nan),
            "{found} across, not checked",
            "shear of {found} in {combination} acts across all legs, which run askew to the axes"
            " of the section; it is not checked.",
            {"found": force(float(left[row])), "combination": combination},
            derive=noted("Shear across legs is checked where they run along x or along y."),
        )
    ]


def taken_for_granted(clause: str, told: Sequence[str]) -> list[Finding]:
    """Return the note of detailing that is not checked, a sentence for each; none without any."""
    if not told:
        return []

    def derive() -> Derivation:
        record = Derivation()
        for one in told:
            record.note(one)
        return record

    listed = " ".join(told)
    return [
        Finding(
            *("Detailing taken for granted", "detailing", clause, State.ATTENTION, math.nan),
            f"{len(told)} not checked",
            f"taken for granted: {listed}",
            assumption=True,
            derive=derive,
        )
    ]


def placed_by_hand_findings(clause: str, panel: WallPanel) -> list[Finding]:
    """Return the note that the spacing of bars that were placed one by one is not checked."""
    if panel.web is not None:
        return []
    told = "bars were placed one by one; their spacing is not checked."
    return [
        Finding(
            *("Spacing of vertical bars", "spacing", clause, State.NOT_CHECKED, math.nan),
            "placed by hand",
            told,
            derive=noted(told.capitalize()),
        )
    ]


def leg_name(panel: WallPanel, number: int) -> str:
    """Return how a leg is called, with the space before it; nothing of a wall that is one leg."""
    return "" if len(panel.legs.legs) == 1 else f" of leg {number + 1}"


@dataclass(frozen=True, eq=False)
class LegShears:
    """Shears of the legs of a panel in all combinations at top and bottom, N.

    Attributes:
        facts: the panel.
        actions: the forces as analysed.
        shared: shear of each leg, (D, L), and Vx, Vy, T that no leg resists, (D, 3).
    """

    facts: ColumnFacts
    actions: Actions
    shared: tuple[FloatArray, FloatArray]

    # Several rules in turn ask for those of one panel.
    @classmethod
    @lru_cache(maxsize=4)
    def of(cls, facts: ColumnFacts, actions: Actions) -> LegShears:
        """Return the shears of a panel, of all combinations."""
        centroid = facts.section.outline.centroid
        rows = actions.forces.reshape(-1, 6)
        return cls(facts, actions, leg_shears(panel_of(facts).legs, centroid, rows[:, 1:4]))

    @property
    def panel(self) -> WallPanel:
        """The panel."""
        return panel_of(self.facts)

    @property
    def rows(self) -> FloatArray:
        """N, Vx, Vy, T, Mx, My of each combination and end, (D, 6)."""
        return self.actions.forces.reshape(-1, 6)

    @property
    def shears(self) -> FloatArray:
        """Shear of each leg without sign, (D, L)."""
        return np.abs(self.shared[0])

    @cached_property
    def axial(self) -> FloatArray:
        """Axial force of each leg by its share of the area, (D, L)."""
        area = np.array([leg.thickness for leg in self.panel.legs.legs]) * self.panel.legs.lengths
        found: FloatArray = self.rows[:, :1] * area / area.sum()
        return found

    @cached_property
    def lasting(self) -> FloatArray:
        """Axial force of each leg that is there for certain, (D, L): with tension as it is.

        Compression counts as far as it lasts; where the part that lasts is not known, as far as
        all combinations have it.
        """
        actions = self.actions
        if actions.sustained is not None:
            sure = actions.sustained[..., 0].reshape(-1)
        else:
            least = actions.forces[..., 0].min(axis=0, initial=np.inf)
            sure = np.tile(least, len(actions.combinations))
        whole = self.rows[:, 0]
        share = np.where(
            whole > 0, np.clip(sure, 0.0, whole) / np.where(whole > 0, whole, 1.0), 1.0
        )
        found: FloatArray = self.axial * share[:, None]
        return found

    def moments(self, leg: int) -> FloatArray:
        """Return the moment of the panel in the plane of a leg without sign, (D,)."""
        u = self.panel.legs.legs[leg].direction
        found: FloatArray = np.abs(self.rows[:, 4] * u[1] + self.rows[:, 5] * u[0])
        return found

    @property
    def sheared(self) -> list[bool]:
        """Which legs have any shear."""
        return [bool(one) for one in self.shears.max(axis=0, initial=0.0) > SMALLEST]

    @property
    def none_given(self) -> bool:
        """Whether no shear acts anywhere."""
        return not bool((np.abs(self.rows[:, 1:3]) > SMALLEST).any())

    def of_leg(self, leg: int, row: int | None = None) -> tuple[FloatArray, FloatArray]:
        """Return axial force and shear of a leg in all demands, (D,), or in one of them."""
        axial, shear = self.axial[:, leg], self.shears[:, leg]
        return (axial, shear) if row is None else (axial[row], shear[row])

    @property
    def seismic(self) -> BoolArray:
        """Which demands are of combinations with earthquake, (D,); all where none is told."""
        count = len(self.actions.stations)
        if self.actions.seismic is None or not self.actions.seismic.any():
            return np.ones(len(self.actions.combinations) * count, dtype=bool)
        return np.repeat(self.actions.seismic, count)

    def amplified(self, factor: FloatArray) -> LegShears:
        """Return the same with the shears of the demands multiplied by factors, (D, L)."""
        shears, left = self.shared
        return replace(self, shared=(shears * factor, left))

    def at_least(self, least: FloatArray) -> LegShears:
        """Return the same with the shears of the demands not less than some, (D, L), N."""
        shears, left = self.shared
        size = np.maximum(np.abs(shears), least)
        return replace(self, shared=(np.where(shears < 0, -size, size), left))

    def place(self, row: int) -> tuple[str, str]:
        """Return combination and place of a row."""
        combination, end = divmod(row, len(self.actions.stations))
        return self.actions.combinations[combination], self.actions.stations[end]


def write_leg(record: Derivation, shears: LegShears, leg: int, row: int) -> None:
    """Write how the shear of a leg follows from the forces of its panel.

    Args:
        record: what is written to.
        shears: of the panel.
        leg: its number.
        row: of the demand.
    """
    names = ("N", "V_x", "V_y", "T")
    sizes = (Dimension.FORCE, Dimension.FORCE, Dimension.FORCE, Dimension.MOMENT)
    for name, value, dimension in zip(names, shears.rows[row], sizes, strict=False):
        record.given(name, float(value), dimension, "of the panel")
    legs = shears.panel.legs
    if len(legs.legs) > 1:
        record.note(
            "Each leg resists along itself, as stiff as its area; the floors turn about the"
            " centroid as rigid planes."
        )
        x, y = shears.facts.section.outline.centroid
        rows = []
        for number, one in enumerate(legs.legs):
            (u, v), (a, b) = one.direction, one.middle
            arm = (a - x) * v - (b - y) * u
            area = one.thickness * legs.lengths[number]
            rows.append((str(number + 1), area, float(arm), float(shears.shared[0][row, number])))
        columns = (
            ("leg", None),
            ("A", Dimension.AREA),
            ("arm", Dimension.LENGTH),
            ("V", Dimension.FORCE),
        )
        record.table("Shear of the legs; arm about the centroid", columns, rows)


def leg_shear_finding(
    clause: str,
    shears: LegShears,
    ratios: FloatArray,
    strengths: FloatArray,
    derive: Callable[[int, int], Derivation],
    demand: FloatArray | None = None,
) -> Finding:
    """Return the check of shear in the plane of the leg and in the combination that govern.

    Args:
        clause: of the code.
        shears: of the panel.
        ratios: of each demand and leg, (D, L).
        strengths: likewise, N.
        derive: writes the calculation of a leg in a demand.
        demand: shear to be resisted in place of that of the analysis, (D, L), N.
    """
    worst_at = int(np.nan_to_num(ratios, nan=np.inf).argmax())
    row, leg = divmod(worst_at, ratios.shape[1])
    ratio = float(ratios[row, leg])
    combination, place = shears.place(row)
    where = leg_name(shears.panel, leg)
    acting = shears.shears if demand is None else demand
    return Finding(
        f"Shear in plane{where}",
        "shear",
        clause,
        state_of_ratio(ratio),
        ratio,
        "{found} of {strength}",
        f"Shear {{found}} in the plane{where} at the {place} in {{combination}};"
        " {strength} is resisted.",
        {
            "found": force(float(acting[row, leg])),
            "strength": force(float(strengths[row, leg])),
            "combination": combination,
        },
        combination=combination,
        resists=True,
        derive=lambda: derive(leg, row),
    )


def torsion_findings(shears: LegShears) -> list[Finding]:
    """Return the note that legs in their planes leave some torsion, which is not checked."""
    left = np.abs(shears.shared[1][:, 2])
    size = max(shears.panel.legs.lengths)
    acting = np.abs(shears.rows[:, 1:3]).max(initial=0.0) * size
    acting = max(acting, float(np.abs(shears.rows[:, 3]).max(initial=0.0)))
    if not len(left) or left.max() <= max(UNRESISTED * acting, 1.0):
        return []
    row = int(left.argmax())
    combination, _ = shears.place(row)
    return [
        Finding(
            *("Torsion", "torsion", "", State.ATTENTION, math.nan),
            "{found} left, not checked",
            "torsion of {found} in {combination} is not resisted by legs in their planes; it is"
            " left to the floors and not checked.",
            {"found": moment(float(left[row])), "combination": combination},
            derive=noted("The legs do not resist torsion about the point in which they meet."),
        )
    ]


def bars_by_leg(facts: ColumnFacts) -> FloatArray:
    """Return the area of the bars of each leg, (L,), mm²; those in corners of the nearer one."""
    legs, bars = panel_of(facts).legs.legs, facts.section.bars
    points = np.column_stack([bars.x, bars.y])
    away = np.array([leg.distance(points) / leg.thickness for leg in legs])
    areas: FloatArray = np.bincount(away.argmin(axis=0), bars.area, len(legs)).astype(float)
    return areas


def bars_within_ends(facts: ColumnFacts, leg: int, reach: float) -> tuple[float, float]:
    """Return the area of the bars within a distance of the start and of the end of a leg, mm²."""
    legs, bars = panel_of(facts).legs, facts.section.bars
    one = legs.legs[leg]
    away = np.column_stack([bars.x, bars.y]) - one.start
    along, aside = away @ one.direction, np.abs(away @ one.normal)
    low, high = legs.span(leg)
    inside = aside <= one.thickness / 2
    near = inside & (along >= low) & (along <= low + reach)
    far = inside & (along <= high) & (along >= high - reach)
    return float(bars.area[near].sum()), float(bars.area[far].sum())


def worst(findings: Sequence[Finding]) -> list[Finding]:
    """Return the worst of some findings: the worst state, then the largest ratio."""
    ranked = sorted(
        findings, key=lambda one: (one.state, -1.0 if math.isnan(one.ratio) else one.ratio)
    )
    return ranked[-1:]


def worst_by_name(findings: Sequence[Finding]) -> list[Finding]:
    """Return of the findings of all sides the worst of each kind."""
    kinds: dict[str, Finding] = {}
    for one in findings:
        name = one.name.split(" at ")[0]
        other = kinds.get(name)
        rank = one.state, -1.0 if math.isnan(one.ratio) else one.ratio
        if other is None or rank > (
            other.state,
            -1.0 if math.isnan(other.ratio) else other.ratio,
        ):
            kinds[name] = one
    return list(kinds.values())


def worst_of_legs(each: Sequence[Sequence[Finding]]) -> list[Finding]:
    """Return of checks that all legs have, in one order, the worst of each."""
    return [one for findings in zip(*each, strict=True) for one in worst(findings)]


def legs_alike(panel: WallPanel) -> list[tuple[int, Leg]]:
    """Return one leg of each thickness and length, with its number."""
    known: dict[tuple[float, float], tuple[int, Leg]] = {}
    for number, leg in enumerate(panel.legs.legs):
        known.setdefault((leg.thickness, round(panel.legs.lengths[number], 3)), (number, leg))
    return list(known.values())
