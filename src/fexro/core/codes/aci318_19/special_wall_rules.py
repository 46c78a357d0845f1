"""Checks of panels of special structural walls: ACI 318-19, 18.10."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache, partial
from typing import Literal

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.aci318_19.boundary_elements import (
    BoundaryElement,
    Displacement,
    ElementLimits,
    by_displacement,
    by_stress,
    element_length,
    element_limits,
    end_ties,
)
from fexro.core.codes.aci318_19.coupling_beams import pier_kind
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.aci318_19.special_walls import (
    SLENDER,
    DesignShear,
    Segment,
    SpecialShear,
    design_shear,
    special_shear,
)
from fexro.core.codes.aci318_19.wall_rules import (
    WallOptions,
    horizontal_ratio,
    is_special,
)
from fexro.core.codes.aci318_19.wall_shear import PHI
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import (
    SMALLEST,
    limit_finding,
    no_shear_finding,
    with_earthquake,
)
from fexro.core.codes.wall_checks import (
    LegShears,
    axis_of,
    base_moments,
    leg_name,
    panel_of,
    write_leg,
)
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, State, force, length, number, state_of_ratio, stress
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.curtains import EndBars
from fexro.core.strength.surface import Strength
from fexro.core.strength.uniaxial import (
    DepthCurve,
    depth_curve,
    governing_moment,
    nominal,
)

__all__ = ["boundary_checks", "pier_checks", "special_shear_checks"]

PROBABLE = 1.25  # of fy in Mpr (2.3)
Side = Literal["+x", "-x", "+y", "-y"]
SENSES: dict[Side, int] = {"+x": 2, "-x": 3, "+y": 0, "-y": 1}  # of a curve of moments
AXES = "xy"
share = partial(Term, dimension=Dimension.SHARE)


@lru_cache(maxsize=256)
def _probable(edition: Edition, cross: CrossSection) -> Strength:
    steel = replace(cross.steel, yield_strength=PROBABLE * cross.steel.yield_strength)
    return nominal(StrengthACI(edition).of(replace(cross, steel=steel)))


@lru_cache(maxsize=1024)
def _probable_moment(
    edition: Edition,
    cross: CrossSection,
    axis: int,
    axial: tuple[float, ...],
    moments: tuple[float, ...],
) -> tuple[int, float]:
    """Return of which of moments about an axis Mpr is the largest multiple, and Mpr, N·mm."""
    strength = _probable(edition, cross)
    return governing_moment(strength, axis, np.array(axial), np.array(moments), strongest=True)


@lru_cache(maxsize=256)
def _depths(edition: Edition, cross: CrossSection, sense: int) -> DepthCurve:
    return depth_curve(StrengthACI(edition).of(cross), sense)


@dataclass(frozen=True, eq=False)
class _Wall:
    """A panel of a special wall."""

    edition: Edition
    facts: ColumnFacts
    context: Context

    @cached_property
    def shears(self) -> LegShears:
        return LegShears.of(self.facts, self.context.actions)

    @property
    def concrete(self) -> tuple[float, float]:
        weakest = self.facts.cross_section.weakest
        return weakest.strength, lightness(None, self.edition, weakest)

    def design(self, record: Derivation | None, leg: int, shear: float) -> DesignShear:
        """Return Ve of a leg with a shear of the analysis."""
        panel = panel_of(self.facts)
        probable = partial(_probable_moment, self.edition)
        M_u, M_pr = base_moments(self.facts, self.context.actions, axis_of(panel, leg), probable)
        height = panel.height if panel.critical is not None else panel.above
        if record is not None:
            record.note(with_earthquake(self.context.actions))
            record.note(
                "M_u and M_pr are those at the critical section, of the combinations whose moment"
                " is at least half of the largest, where their ratio is largest; M_pr with 1.25 fy."
            )
            record.given("M_u", M_u, Dimension.MOMENT, "at the critical section")
            record.given("M_pr", M_pr, Dimension.MOMENT, "there")
        return design_shear(
            record,
            self.edition,
            (panel.lengths[leg], height, panel.storeys),
            (shear, M_u, M_pr),
        )


def special_shear_checks(
    edition: Edition, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check shear in plane of legs and of parallel legs together, amplified (18.10.3, 18.10.4)."""
    if not is_special(facts):
        return []
    wall = _Wall(edition, facts, context)
    if wall.shears.none_given:
        return [no_shear_finding("18.10.4")]
    panel = panel_of(facts)
    found = []
    numbers = range(len(panel.legs.legs))
    groups = [[n for n in numbers if axis_of(panel, n) == axis] for axis in (0, 1)]
    for axis, legs in enumerate(groups):
        if legs and wall.shears.shears[:, legs].max() > SMALLEST:
            found.append(_group_shear(wall, axis, legs))
    return [max(each, key=lambda one: one.ratio) for each in found]


def _group_shear(wall: _Wall, axis: int, legs: list[int]) -> list[Finding]:
    """Return the checks of parallel legs, and of all of them together."""
    facts, shears = wall.facts, wall.shears
    panel = panel_of(facts)
    acting = shears.shears[:, legs].copy()
    amplified = wall.design(None, legs[0], 1.0).shear
    factor = np.where(shears.seismic, amplified, 1.0)[:, None]
    acting *= factor

    def strengths(record: Derivation | None, rows: int | slice) -> SpecialShear:
        parts = [
            Segment(
                panel.legs.legs[leg].thickness,
                panel.legs.lengths[leg],
                panel.clear[leg],
                horizontal_ratio(facts, leg),
                acting[rows, place],
                shears.axial[rows, leg],
            )
            for place, leg in enumerate(legs)
        ]
        aspect = max(panel.height / panel.lengths[leg] for leg in legs)
        design = acting[rows].sum(axis=-1)
        return special_shear(
            record, wall.edition, aspect, wall.concrete, facts.steel.yield_strength, parts, design
        )

    all_rows = strengths(None, slice(None))
    ratios = np.column_stack([one.ratio for one in all_rows.segments])
    resisted = PHI * np.column_stack([one.strength for one in all_rows.segments])
    together = all_rows.ratio

    def derive(leg: int, row: int) -> Derivation:
        record = Derivation()
        write_leg(record, shears, legs[leg], row)
        if shears.seismic[row]:
            wall.design(record, legs[leg], float(shears.shears[row, legs[leg]]))
        strengths(record, row)
        return record

    row, place = (int(i) for i in np.unravel_index(int(ratios.argmax()), ratios.shape))
    combination, at = shears.place(row)
    name = leg_name(panel, legs[place])
    told = " with overstrength" if shears.seismic[row] and amplified > 1 else ""
    findings = [
        Finding(
            f"Shear in plane{name}",
            "shear",
            "18.10.3, 18.10.4",
            state_of_ratio(float(ratios[row, place])),
            float(ratios[row, place]),
            "{found} of {strength}",
            f"Shear {{found}}{told} in the plane{name} at the {at} in {{combination}};"
            " {strength} is resisted.",
            {
                "found": force(float(acting[row, place])),
                "strength": force(float(resisted[row, place])),
                "combination": combination,
            },
            combination=combination,
            resists=True,
            derive=partial(derive, place, row),
        )
    ]
    if len(legs) > 1:
        row = int(together.argmax())
        combination, at = shears.place(row)
        findings.append(
            Finding(
                f"Shear of the legs along {AXES[axis]} together",
                "shear",
                "18.10.4.4",
                state_of_ratio(float(together[row])),
                float(together[row]),
                "{found} of {strength}",
                f"Shear {{found}} of the legs along {AXES[axis]} at the {at} in {{combination}};"
                " {strength} is resisted.",
                {
                    "found": force(float(acting[row].sum())),
                    "strength": force(PHI * float(all_rows.strength[row])),
                    "combination": combination,
                },
                combination=combination,
                resists=True,
                derive=partial(derive, 0, row),
            )
        )
    return findings


def pier_checks(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Tell by which rules each leg beside openings goes, by its proportions (18.10.8)."""
    if not is_special(facts):
        return []
    panel = panel_of(facts)
    found = []
    for leg, one in enumerate(panel.legs.legs):
        size = one.thickness, panel.legs.lengths[leg], panel.clear[leg]
        kind = pier_kind(size)
        if kind == "wall":
            continue
        told = (
            "by its proportions it goes by the rules of columns, 18.7.4 to 18.7.6"
            if kind == "pier: column rules"
            else "by its proportions it goes by the rules of columns or by 18.10.8.1(a) to (f)"
        )
        name = leg_name(panel, leg) or " of the panel"
        found.append(
            Finding(
                *(f"Wall pier{name}", "pier", "18.10.8.1", State.NOT_CHECKED, math.nan),
                "ℓw/bw {aspect}, hw/ℓw {slender}",
                f"wall pier{name}: {told}; its hoops are not checked.",
                {"aspect": number(size[1] / size[0]), "slender": number(size[2] / size[1])},
                derive=partial(_derive_pier, size),
            )
        )
    return found


def _derive_pier(size: tuple[float, float, float]) -> Derivation:
    record = Derivation()
    record.given("b_w", size[0], Dimension.LENGTH, "thickness")
    record.given("ell_w", size[1], Dimension.LENGTH, "length")
    record.given("h_w", size[2], Dimension.LENGTH, "clear height beside openings")
    record.note("A pier: h_w/ℓ_w of 2.0 or more and ℓ_w/b_w of 6.0 or less; as a column up to 2.5.")
    return record


# ---- boundary elements ---------------------------------------------------------------------------


@dataclass(frozen=True, eq=False)
class _Boundary:
    """The compressed end of a panel that is bent towards one side."""

    wall: _Wall
    side: Side

    @property
    def axis(self) -> int:
        """Along which axis the panel is bent, x (0) or y (1)."""
        return AXES.index(self.side[1])

    @property
    def extent(self) -> float:
        """Length of the section along that axis, mm."""
        x0, y0, x1, y1 = self.wall.facts.section.outline.bounds
        return (x1 - x0, y1 - y0)[self.axis]

    @cached_property
    def rows(self) -> FloatArray:
        """Forces that bend towards the side, with earthquake, (D, 6)."""
        rows = self.wall.shears.rows[self.wall.shears.seismic]
        bent = rows[:, 5 if self.axis == 0 else 4] * (1 if self.side[0] == "+" else -1)
        return rows[bent > 0]

    @cached_property
    def ends(self) -> list[EndBars]:
        """The bars of the free ends at that side of legs along the axis."""
        panel = panel_of(self.wall.facts)
        x, y = self.wall.facts.section.outline.centroid
        found = []
        for end in panel.ends:
            leg = panel.legs.legs[end.leg]
            point = leg.end if end.end else leg.start
            away = (point[0] - x, point[1] - y)[self.axis]
            if axis_of(panel, end.leg) == self.axis and (away > 0) == (self.side[0] == "+"):
                found.append(end)
        return found

    @cached_property
    def closed(self) -> bool:
        """Whether a leg across forms that side, so that there is no free end."""
        panel = panel_of(self.wall.facts)
        bounds = self.wall.facts.section.outline.bounds
        edge = bounds[self.axis + (2 if self.side[0] == "+" else 0)]
        return any(
            axis_of(panel, n) != self.axis
            and abs(leg.middle[self.axis] - edge) <= leg.thickness / 2 + 1.0
            for n, leg in enumerate(panel.legs.legs)
        )

    @cached_property
    def depth(self) -> float:
        """The largest depth of the neutral axis for the axial forces with earthquake, mm."""
        rows = self.rows
        if not len(rows):
            return 0.0
        cross = self.wall.facts.cross_section
        depths = _depths(self.wall.edition, cross, SENSES[self.side])
        return float(depths.at(rows[:, 0]).max())

    @property
    def drift(self) -> float:
        """δu/hwcs along the axis of the plan that is nearest."""
        facts = self.wall.facts
        options = options_of(WallOptions, facts.options, others=True)
        about = facts.about_y if self.axis == 0 else facts.about_x
        return (options.drift_x, options.drift_y)[about.plan]

    @property
    def goes_by_displacement(self) -> bool:
        """Whether 18.10.6.2 applies and the displacement is given."""
        panel = panel_of(self.wall.facts)
        slender = panel.height / self.extent >= SLENDER
        return bool(self.drift > 0 and slender and panel.continuous)

    def displacement(self, record: Derivation | None) -> Displacement:
        """Return whether it is needed by displacement."""
        wall, panel = self.wall, panel_of(self.wall.facts)
        across = 1 + self.axis
        shear = float(np.abs(self.rows[:, across]).max(initial=0.0))
        moment = float(np.abs(self.rows[:, 5 if self.axis == 0 else 4]).max(initial=0.0))
        leg = next((n for n in range(len(panel.legs.legs)) if axis_of(panel, n) == self.axis), 0)
        design = wall.design(None, leg, shear).shear
        height = panel.height
        thickness = panel.legs.legs[leg].thickness
        if record is not None:
            record.given("c", self.depth, Dimension.LENGTH, "largest, neutral axis along the side")
            record.given("delta_u", self.drift * height, Dimension.LENGTH, "as chosen")
        return by_displacement(
            record,
            wall.edition,
            (thickness, self.extent, height),
            self.depth,
            self.drift * height,
            wall.concrete[0],
            (shear, design, moment),
            thickness,
        )

    def stresses(self) -> FloatArray:
        """Return the elastic stress at the most compressed point of that side, (D,), MPa."""
        section = self.wall.facts.section
        outline = section.outline
        points = np.concatenate(outline.rings) - outline.centroid
        edge = points[:, self.axis] * (1 if self.side[0] == "+" else -1)
        points = points[edge >= edge.max() - 1e-6]
        i_x, i_y, i_xy = outline.inertia
        rows = self.rows
        # Bending about both axes of a section that need not be symmetric.
        det = i_x * i_y - i_xy**2
        slope_y = (rows[:, 4] * i_y - rows[:, 5] * i_xy) / det
        slope_x = (rows[:, 5] * i_x - rows[:, 4] * i_xy) / det
        bent = slope_x[:, None] * points[:, 0] + slope_y[:, None] * points[:, 1]
        found: FloatArray = rows[:, 0] / outline.area + bent.max(axis=1)
        return found


def boundary_checks(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check when, how long and how confined boundary elements are (18.10.6)."""
    if not is_special(facts):
        return []
    wall = _Wall(edition, facts, context)
    panel = panel_of(facts)
    found: list[Finding] = []
    used = {axis_of(panel, n) for n in range(len(panel.legs.legs))}
    for side in SENSES:
        boundary = _Boundary(wall, side)
        if boundary.axis in used and len(boundary.rows):
            found += _boundary(boundary)
    return _worst_by_name(found)


def _worst_by_name(findings: Sequence[Finding]) -> list[Finding]:
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


def _boundary(boundary: _Boundary) -> list[Finding]:
    where = f" at {boundary.side}"
    derive = partial(_derive_need, boundary)
    if boundary.goes_by_displacement:
        found = boundary.displacement(None)
        needed, clause = found.needed, "18.10.6.2"
        detail = "{found} of {limit} of drift"
        values = {
            "found": share(found.demand),
            "limit": share(found.trigger),
        }
        told = "1.5 δu/hwcs is {found}; from {limit} on they are"
        extent = found.extent
    else:
        stresses = boundary.stresses()
        limit = 0.2 * boundary.wall.concrete[0]
        needed, clause = bool(stresses.max() > limit), "18.10.6.3"
        detail = "{found} of {limit}"
        values = {"found": stress(float(stresses.max())), "limit": stress(limit)}
        told = "the gross section is stressed to {found}; beyond {limit} they are"
        extent = 0.0
    word = "needed" if needed else "not needed"
    need = Finding(
        f"Boundary elements{where}",
        "boundary",
        clause,
        State.SATISFIED,
        math.nan,
        f"{word}: {detail}",
        f"Boundary elements{where} are {word}: {told}.",
        values,
        derive=derive,
    )
    if not needed:
        return [need, *_end_ties(boundary)]
    return [need, *_element(boundary, extent)]


def _derive_need(boundary: _Boundary) -> Derivation:
    record = Derivation()
    wall = boundary.wall
    record.note(with_earthquake(wall.context.actions))
    record.given(
        "ell_w", boundary.extent, Dimension.LENGTH, f"of the section along {boundary.side}"
    )
    if boundary.goes_by_displacement:
        boundary.displacement(record)
        return record
    if boundary.drift == 0:
        record.note("No design displacement is given: by stress.")
    stresses = boundary.stresses()
    at = int(stresses.argmax())
    outline = wall.facts.section.outline
    # Bending about both axes is one moment over one modulus at that point.
    bent = float(stresses[at]) - float(boundary.rows[at, 0]) / outline.area
    moment = abs(float(boundary.rows[at, 5 if boundary.axis == 0 else 4]))
    by_stress(
        record,
        (outline.area, boundary.extent),
        wall.concrete[0],
        (boundary.rows[at : at + 1, 0], np.array([moment])),
        moment / bent if bent > 0 else None,
    )
    return record


def _end_ties(boundary: _Boundary) -> list[Finding]:
    """Check the ties at an end without boundary element (18.10.6.5)."""
    wall, facts = boundary.wall, boundary.wall.facts
    panel = panel_of(facts)
    found = []
    for end in boundary.ends:
        leg = panel.legs.legs[end.leg]
        shear = float(wall.shears.shears[:, end.leg].max(initial=0.0))
        moment = float(wall.shears.moments(end.leg).max(initial=0.0))
        zone = end.length + facts.section.cover
        ratio = 2 * end.pairs * end.area / (zone * leg.thickness)

        def of(
            record: Derivation | None,
            end: EndBars = end,
            ratio: float = ratio,
            actions: tuple[float, float] = (shear, moment),
        ) -> tuple[bool, float]:
            limits = end_ties(
                record,
                wall.edition,
                (panel.legs.legs[end.leg].thickness, boundary.extent),
                boundary.depth,
                (*wall.concrete, facts.steel.yield_strength),
                actions,
                (ratio, end.diameter),
            )
            beyond = panel.height - panel.above >= limits.extent - 1e-6
            return limits.needed, limits.elsewhere if beyond else limits.near

        needed, near = of(None)
        if not needed:
            continue

        def derive(of: object = of, ratio: float = ratio) -> Derivation:
            record = Derivation()
            record.given("rho", ratio, Dimension.RATIO, "bars of the end over its concrete")
            foot = panel.height - panel.above
            record.given(
                "h_foot", foot, Dimension.LENGTH, "of the panel above the critical section"
            )
            of(record)  # type: ignore[operator]
            return record

        name = f"Ties at ends at {boundary.side}"
        if panel.hoops is None:
            found.append(
                Finding(
                    *(name, "end ties", "18.10.6.5", State.EXCEEDED, math.nan),
                    "none; at {limit}",
                    f"Bars of the end{leg_name(panel, end.leg)} are {{ratio}} of it; ties at"
                    " {limit} are required.",
                    {"ratio": share(ratio), "limit": length(near)},
                    derive=derive,
                )
            )
        else:
            found.append(
                limit_finding(
                    *(name, "end ties", "18.10.6.5"),
                    length(panel.hoops.spacing),
                    length(near),
                    f"Ties of the end{leg_name(panel, end.leg)} at {{found}}; {{limit}} allowed.",
                    derive,
                )
            )
    return found


def _element(boundary: _Boundary, extent: float) -> list[Finding]:
    """Check the boundary element of a side as it is built (18.10.6.4)."""
    panel = panel_of(boundary.wall.facts)
    need = float(element_length(boundary.depth, boundary.extent))
    where = f" at {boundary.side}"
    if boundary.closed and not boundary.ends:
        return [
            Finding(
                f"Boundary element{where}",
                "boundary",
                "18.10.6.4",
                State.NOT_CHECKED,
                math.nan,
                "along a leg across",
                f"a boundary element {{length}} long is needed{where}, where a leg runs across;"
                " its confinement is not checked.",
                {"length": length(need)},
                derive=partial(_derive_need, boundary),
            )
        ]
    if not boundary.ends or panel.hoops is None:
        return [
            Finding(
                f"Boundary element{where}",
                "boundary",
                "18.10.6.4",
                State.EXCEEDED,
                math.nan,
                "none; {length} required",
                f"A boundary element {{length}} long is needed{where}; there are no"
                f" {'bars' if not boundary.ends else 'hoops'} for it.",
                {"length": length(need)},
                derive=partial(_derive_need, boundary),
            )
        ]
    found: list[Finding] = []
    for end in boundary.ends:
        found += _built(boundary, end)
    return found


def _built(boundary: _Boundary, end: EndBars) -> list[Finding]:
    wall, facts = boundary.wall, boundary.wall.facts
    panel, section = panel_of(facts), facts.section
    hoops = panel.hoops
    assert hoops is not None
    thickness = panel.legs.legs[end.leg].thickness
    across = thickness - 2 * section.cover
    along = end.length + hoops.size.diameter - section.cover
    faces = across - 2 * hoops.size.diameter - end.diameter
    held = max(end.apart, faces)
    built = BoundaryElement(
        length=end.length + hoops.size.diameter + section.cover,
        width=thickness,
        support=facts.clear_height,
        held=held,
        bar=end.diameter,
        spacing=hoops.spacing,
        hoop_yield=facts.steel.yield_strength,
        core=(across, along),
    )

    def limits(record: Derivation | None) -> ElementLimits:
        return element_limits(
            record,
            wall.edition,
            (boundary.extent, panel.height),
            boundary.depth,
            (wall.concrete[0], facts.steel.yield_strength),
            built,
            single_section=panel.continuous,
        )

    given = limits(None)

    def derive() -> Derivation:
        record = Derivation()
        record.given("c", boundary.depth, Dimension.LENGTH, "largest, neutral axis along the side")
        record.given("ell_be", built.length, Dimension.LENGTH, "of the element as it is built")
        record.given("h_x", held, Dimension.LENGTH, "between held bars; every pair is held")
        record.note(f"Legs across: a cross tie or hoop leg at each of {end.pairs} pairs; along: 2.")
        limits(record)
        return record

    at = f" at {boundary.side}"
    # Across the wall a leg at each pair resists what spreads it along; along it two.
    there = (2 * hoops.size.area, end.pairs * hoops.size.area)
    worst_leg = max((0, 1), key=lambda n: given.legs[n] / there[n])
    return [
        limit_finding(
            *(f"Length of boundary element{at}", "boundary", "18.10.6.4(a)"),
            length(built.length),
            length(given.length),
            f"The boundary element{at} is {{found}} long; {{limit}} required.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *(f"Width of boundary element{at}", "boundary", "18.10.6.4(b)"),
            length(built.width),
            length(given.width),
            f"The boundary element{at} is {{found}} wide; {{limit}} required.",
            derive,
            at_least=True,
        ),
        limit_finding(
            *(f"Held bars of boundary element{at}", "boundary", "18.10.6.4(e)"),
            length(held),
            length(given.held),
            f"Held bars of the boundary element{at} are {{found}} apart; {{limit}} allowed.",
            derive,
        ),
        limit_finding(
            *(f"Hoops of boundary element{at}", "boundary hoops", "18.10.6.4(f)"),
            length(hoops.spacing),
            length(given.spacing),
            f"Hoops of the boundary element{at} at {{found}}; {{limit}} allowed.",
            derive,
        ),
        limit_finding(
            *(f"Hoop area of boundary element{at}", "boundary hoops", "18.10.6.4(g)"),
            Term(there[worst_leg], Dimension.AREA),
            Term(given.legs[worst_leg], Dimension.AREA),
            f"Hoop legs of {{found}} in the boundary element{at}; {{limit}} required.",
            derive,
            at_least=True,
        ),
    ]
