"""Checks of boundary elements of special walls: ACI 318-19, 18.10.6."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache, partial

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
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.aci318_19.special_wall_rules import SpecialWall
from fexro.core.codes.aci318_19.special_walls import (
    SLENDER,
)
from fexro.core.codes.aci318_19.wall_rules import (
    WallOptions,
    is_special,
    vertical_ratio,
)
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import (
    limit_finding,
    with_earthquake,
)
from fexro.core.codes.wall_checks import (
    axis_of,
    bars_within_ends,
    leg_name,
    panel_of,
    worst_by_name,
)
from fexro.core.codes.wall_sides import SENSES, WallSide, sides_of
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, State, length, stress
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.curtains import EndBars
from fexro.core.strength.uniaxial import DepthCurve, depth_curve

__all__ = ["boundary_checks"]

share = partial(Term, dimension=Dimension.SHARE)


@lru_cache(maxsize=256)
def _depths(edition: Edition, cross: CrossSection, sense: int) -> DepthCurve:
    return depth_curve(StrengthACI(edition).of(cross), sense)


@dataclass(frozen=True, eq=False)
class _Boundary:
    """The compressed end of a panel that is bent towards one side."""

    wall: SpecialWall
    side: WallSide

    @cached_property
    def rows(self) -> FloatArray:
        """Forces that bend towards the side, with earthquake, (D, 6)."""
        return self.side.bent_towards(self.wall.shears.rows[self.wall.shears.seismic])

    @cached_property
    def depth(self) -> float:
        """The largest depth of the neutral axis for the axial forces with earthquake, mm."""
        rows = self.rows
        if not len(rows):
            return 0.0
        cross = self.wall.facts.cross_section
        depths = _depths(self.wall.edition, cross, SENSES[self.side.name])
        return float(depths.at(rows[:, 0]).max())

    @property
    def drift(self) -> float:
        """δu/hwcs along the axis of the plan that is nearest."""
        facts = self.wall.facts
        options = options_of(WallOptions, facts.options, others=True)
        about = facts.about_y if self.side.axis == 0 else facts.about_x
        return (options.drift_x, options.drift_y)[about.plan]

    @property
    def goes_by_displacement(self) -> bool:
        """Whether 18.10.6.2 applies and the displacement is given."""
        panel = panel_of(self.wall.facts)
        slender = panel.height / self.side.extent >= SLENDER
        return bool(self.drift > 0 and slender and panel.continuous)

    def displacement(self, record: Derivation | None) -> Displacement:
        """Return whether it is needed by displacement."""
        wall, panel = self.wall, panel_of(self.wall.facts)
        across = 1 + self.side.axis
        shear = float(np.abs(self.rows[:, across]).max(initial=0.0))
        moment = float(np.abs(self.rows[:, self.side.moments]).max(initial=0.0))
        along = [n for n in range(len(panel.legs.legs)) if axis_of(panel, n) == self.side.axis]
        design = shear * max(wall.amplification(leg) for leg in along)
        height = panel.height
        thicknesses = [panel.legs.legs[leg].thickness for leg in along]
        if record is not None:
            record.given("c", self.depth, Dimension.LENGTH, "largest, neutral axis along the side")
            record.given("delta_u", self.drift * height, Dimension.LENGTH, "as chosen")
        return by_displacement(
            record,
            wall.edition,
            (sum(thicknesses), self.side.extent, height),
            self.depth,
            self.drift * height,
            wall.concrete[0],
            (shear, design, moment),
            min(thicknesses),
        )

    def stresses(self) -> FloatArray:
        """Return the elastic stress at the most compressed point of that side, (D,), MPa."""
        section = self.wall.facts.section
        outline = section.outline
        points = np.concatenate(outline.rings) - outline.centroid
        edge = points[:, self.side.axis] * self.side.sign
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
    wall = SpecialWall(edition, facts, context)
    found: list[Finding] = []
    for side in sides_of(facts):
        boundary = _Boundary(wall, side)
        if len(boundary.rows):
            found += _boundary(boundary)
    return worst_by_name(found)


def _boundary(boundary: _Boundary) -> list[Finding]:
    where = f" at {boundary.side.name}"
    derive = partial(_derive_need, boundary)
    if boundary.goes_by_displacement:
        found = boundary.displacement(None)
        needed, clause = found.needed, "18.10.6.2(a)"
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
    capable = [_capable(boundary)] if boundary.goes_by_displacement else []
    return [need, *capable, *_element(boundary, extent)]


def _capable(boundary: _Boundary) -> Finding:
    """Check that the element is wide enough, or the drift that it is capable of (18.10.6.2(b))."""
    found, side = boundary.displacement(None), boundary.side
    assert found.stable_width is not None
    assert found.capacity is not None
    width = min(leg.thickness for leg in side.webs)
    by_width, by_drift = found.stable_width / width, found.demand / found.capacity
    ratio = min(by_width, by_drift)
    met = ratio <= 1 + 1e-6
    return Finding(
        *(f"Width or drift capacity at {side.name}", "boundary", "18.10.6.2(b)"),
        State.SATISFIED if met else State.EXCEEDED,
        ratio,
        "{width} of {stable}, or {capacity} of {demand} of drift",
        f"The wall is {{width}} wide at {side.name} where {{stable}} are asked for, and is capable"
        " of {capacity} of drift where {demand} are; one of both is required.",
        {
            "width": length(width),
            "stable": length(found.stable_width),
            "capacity": share(found.capacity),
            "demand": share(found.demand),
        },
        derive=partial(_derive_capable, boundary),
    )


def _derive_capable(boundary: _Boundary) -> Derivation:
    record, found = _derive_need(boundary), boundary.displacement(None)
    width = min(leg.thickness for leg in boundary.side.webs)
    record.given("b", width, Dimension.LENGTH, "of the thinnest leg along there")
    record.given("1.5 r", found.demand, Dimension.RATIO, "drift that is asked for")
    record.note(
        "One of both suffices: a width of b_s, or a drift capacity of 1.5 r; 0.015 at least."
    )
    return record


def _derive_need(boundary: _Boundary) -> Derivation:
    record = Derivation()
    wall = boundary.wall
    record.note(with_earthquake(wall.context.actions))
    record.given(
        "ell_w",
        boundary.side.extent,
        Dimension.LENGTH,
        f"of the section along {boundary.side.name}",
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
    moment = abs(float(boundary.rows[at, boundary.side.moments]))
    by_stress(
        record,
        (outline.area, boundary.side.extent),
        wall.concrete[0],
        (boundary.rows[at : at + 1, 0], np.array([moment])),
        moment / bent if bent > 0 else None,
    )
    return record


@dataclass(frozen=True)
class _TiedEnd:
    """The bars at a free end: of its own, or of the curtains that reach it.

    Attributes:
        leg: its number.
        ratio: of bars to concrete there.
        diameter: of the smallest, mm.
    """

    leg: int
    ratio: float
    diameter: float


def _tied_ends(boundary: _Boundary) -> list[_TiedEnd]:
    facts, side = boundary.wall.facts, boundary.side
    panel, bars = panel_of(facts), facts.section.bars
    found = []
    for end in side.ends:
        zone = end.length + facts.section.cover
        area = 2 * end.pairs * end.area
        ratio = area / (zone * panel.legs.legs[end.leg].thickness)
        found.append(_TiedEnd(end.leg, ratio, end.diameter))
    known = {end.leg for end in side.ends}
    for leg in sorted(set(side.free_legs) - known):
        if panel.web is not None:
            ratio, diameter = vertical_ratio(facts, leg), panel.web.diameter
        else:
            zone = float(element_length(boundary.depth, side.extent))
            area = max(bars_within_ends(facts, leg, zone))
            ratio = area / (zone * panel.legs.legs[leg].thickness) if zone > 0 else 0.0
            diameter = float(bars.diameter.min())
        found.append(_TiedEnd(leg, ratio, diameter))
    return found


def _end_ties(boundary: _Boundary) -> list[Finding]:
    """Check the ties at an end without boundary element (18.10.6.5)."""
    wall, facts = boundary.wall, boundary.wall.facts
    panel = panel_of(facts)
    found = []
    for end in _tied_ends(boundary):
        shear = float(wall.shears.shears[:, end.leg].max(initial=0.0))
        moment = float(wall.shears.moments(end.leg).max(initial=0.0))

        def of(
            record: Derivation | None,
            end: _TiedEnd = end,
            actions: tuple[float, float] = (shear, moment),
        ) -> tuple[bool, float]:
            limits = end_ties(
                record,
                wall.edition,
                (panel.legs.legs[end.leg].thickness, boundary.side.extent),
                boundary.depth,
                (*wall.concrete, facts.steel.yield_strength),
                actions,
                (end.ratio, end.diameter),
            )
            beyond = panel.height - panel.above >= limits.extent - 1e-6
            return limits.needed, limits.elsewhere if beyond else limits.near

        needed, near = of(None)
        if not needed:
            continue

        def derive(of: Callable[[Derivation], object] = of, ratio: float = end.ratio) -> Derivation:
            record = Derivation()
            record.given("rho", ratio, Dimension.RATIO, "bars of the end over its concrete")
            foot = panel.height - panel.above
            record.given(
                "h_foot", foot, Dimension.LENGTH, "of the panel above the critical section"
            )
            of(record)
            return record

        name = f"Ties at ends at {boundary.side.name}"
        if panel.hoops is None:
            found.append(
                Finding(
                    *(name, "end ties", "18.10.6.5", State.EXCEEDED, math.nan),
                    "none; at {limit}",
                    f"Bars of the end{leg_name(panel, end.leg)} are {{ratio}} of it; ties at"
                    " {limit} are required.",
                    {"ratio": share(end.ratio), "limit": length(near)},
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
    need = float(element_length(boundary.depth, boundary.side.extent))
    where = f" at {boundary.side.name}"
    if boundary.side.flanges and not boundary.side.ends:
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
    if not boundary.side.ends or panel.hoops is None:
        return [
            Finding(
                f"Boundary element{where}",
                "boundary",
                "18.10.6.4",
                State.EXCEEDED,
                math.nan,
                "none; {length} required",
                f"A boundary element {{length}} long is needed{where}; there are no"
                f" {'bars' if not boundary.side.ends else 'hoops'} for it.",
                {"length": length(need)},
                derive=partial(_derive_need, boundary),
            )
        ]
    found: list[Finding] = []
    for end in boundary.side.ends:
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
        hoop_yield=facts.transverse_steel.yield_strength,
        core=(across, along),
    )

    def limits(record: Derivation | None) -> ElementLimits:
        return element_limits(
            record,
            wall.edition,
            (boundary.side.extent, panel.height),
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

    at = f" at {boundary.side.name}"
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
            *(f"Held bars of boundary element{at}", "boundary", "18.10.6.4(f)"),
            length(held),
            length(given.held),
            f"Held bars of the boundary element{at} are {{found}} apart; {{limit}} allowed.",
            derive,
        ),
        limit_finding(
            *(f"Hoops of boundary element{at}", "boundary hoops", "18.10.6.4(e)"),
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
