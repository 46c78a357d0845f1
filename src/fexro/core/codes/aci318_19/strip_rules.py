"""Checks of strips of bearing walls: ACI 318-19, 11.3 to 11.8, and 22.5 out of plane."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import partial

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.aci318_19 import shear as one_way
from fexro.core.codes.aci318_19.bearing_walls import (
    SimplifiedWall,
    SlenderWall,
    simplified_wall,
    slender_wall,
)
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.materials import lightness, modulus
from fexro.core.codes.aci318_19.wall_bars import WallBars, WallMesh, wall_bars
from fexro.core.codes.transverse_checks import SMALLEST, limit_finding, no_shear_finding
from fexro.core.codes.wall_checks import (
    box_size,
    profile_rows,
    shear_across,
    strip_of,
    strip_shear_finding,
)
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length, moment
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.transverse import Transverse

__all__ = ["across_panel", "other_methods", "strip_bars", "strip_shear"]

Y = 1  # the axis across the wall
share = partial(Term, dimension=Dimension.SHARE)


def strip_bars(edition: Edition, facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check thickness, bars, spacings and curtains of a bearing wall (11.3, 11.6, 11.7)."""
    strip, section = strip_of(facts), facts.section
    width, thickness = box_size(facts)
    diameter = float(section.bars.diameter.max())
    small = max(section.ties.size.diameter, diameter) <= edition.walls.small_bar * (1 + 1e-6)
    mesh = WallMesh("cast in place", "bars", small, facts.transverse_steel.yield_strength)
    rho_t = strip.curtains * section.ties.size.area / (section.ties.spacing * thickness)
    rho_l = section.bars.total_area / (width * thickness)
    concrete = facts.concrete

    def limits(record: Derivation | None) -> WallBars:
        return wall_bars(
            record,
            edition,
            (thickness, strip.length, facts.height),
            (concrete.strength, lightness(None, edition, concrete)),
            mesh,
            rho_t,
            0.0,
            unsupported=min(strip.length, facts.clear_height),
        )

    def derive() -> Derivation:
        record = Derivation()
        record.given("h", thickness, Dimension.LENGTH, "thickness")
        record.given("rho_l", rho_l, Dimension.RATIO, "vertical bars of the strip over it")
        told = f"{strip.curtains} × {section.ties.size.name} at {section.ties.spacing:.0f} mm"
        record.given("rho_t", rho_t, Dimension.RATIO, told)
        limits(record)
        return record

    given = limits(None)
    check = partial(limit_finding, derive=derive)
    thin = check(
        *("Thickness", "thickness", "11.3.1.1"),
        length(thickness),
        length(given.least_thickness),
        "Thickness {found}; {limit} by the table, unless analysis shows strength and stability.",
        at_least=True,
    )
    if thin.state is State.EXCEEDED:
        thin = replace(thin, state=State.ATTENTION)
    found = [
        thin,
        check(
            *("Vertical bars", "vertical bars", "11.6.1"),
            share(rho_l),
            share(given.least_vertical),
            "Vertical bars {found} of the concrete; {limit} required.",
            at_least=True,
        ),
        check(
            *("Horizontal bars", "horizontal bars", "11.6.1"),
            share(rho_t),
            share(given.least_horizontal),
            "Horizontal bars {found} of the concrete; {limit} required.",
            at_least=True,
        ),
        check(
            *("Spacing of horizontal bars", "spacing", "11.7.3.1"),
            length(section.ties.spacing),
            length(given.horizontal_spacing),
            "Horizontal bars at {found}; {limit} allowed.",
        ),
    ]
    if strip.spacing is not None:
        found.append(
            check(
                *("Spacing of vertical bars", "spacing", "11.7.2.1"),
                length(strip.spacing),
                length(given.vertical_spacing),
                "Vertical bars at {found}; {limit} allowed.",
            )
        )
    if given.two_curtains and strip.curtains == 1:
        found.append(
            Finding(
                *("Curtains", "curtains", "11.7.2.3", State.EXCEEDED, math.nan),
                "one; two required",
                "One curtain of bars; two are required.",
                derive=derive,
            )
        )
    return found


def strip_shear(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check shear out of plane, which concrete resists alone (22.5)."""
    found = shear_out_of_plane(edition, facts, context, Y)
    return found or [no_shear_finding("22.5")]


def across_panel(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check shear across a straight panel, which concrete resists alone (22.5)."""
    along = partial(shear_out_of_plane, edition, facts, context)
    return shear_across(facts, context.actions, "22.5", along)


def shear_out_of_plane(
    edition: Edition, facts: ColumnFacts, context: Context, axis: int
) -> list[Finding]:
    """Return the check of shear along an axis that no bars cross; none without any shear."""
    rows, names, places = profile_rows(context.actions)
    shears = np.abs(rows[:, 1 + axis])
    if not len(shears) or shears.max() < SMALLEST:
        return []
    ties, steel = facts.section.ties, facts.transverse_steel
    bare = Transverse("ties", ties.size, steel.yield_strength, ties.spacing, legs=(0, 0))

    def shear(record: Derivation | None, N: FloatArray, V: FloatArray) -> one_way.OneWayShear:
        spacing = np.full(np.shape(V), ties.spacing) if record is None else ties.spacing
        given = edition, facts.cross_section, bare, axis, (N, V, spacing)
        return one_way.one_way_shear(record, *given)

    found = shear(None, rows[:, 0], shears)
    at = int(found.ratio.argmax())
    ratio = float(found.ratio[at])

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"{names[at]}, {places[at]}; no bars cross the wall.")
        shear(record, rows[at, 0], shears[at])
        return record

    strength = float(np.broadcast_to(found.strength, shears.shape)[at])
    return [strip_shear_finding("22.5", names[at], float(shears[at]), strength, ratio, derive)]


def other_methods(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Tell what the alternative (11.8) and the simplified method (11.5.3) say, beside analysis."""
    if not len(context.actions.combinations):
        return []
    return [_slender(edition, facts, context), _simplified(facts, context)]


def _at_middle(context: Context) -> FloatArray:
    """Return N and Mx at mid-height of each combination, (C, 2)."""
    profile = context.actions.profile
    middle = np.array(
        [
            [np.interp(0.5, profile.places, forces[:, c]) for c in (0, 4)]
            for forces in profile.forces
        ]
    )
    return np.reshape(middle, (-1, 2))


def _slender(edition: Edition, facts: ColumnFacts, context: Context) -> Finding:
    strip, section = strip_of(facts), facts.section
    width, thickness = box_size(facts)
    concrete, steel = facts.concrete, facts.steel
    y = section.outline.centroid[1]
    bars = section.bars
    tension = bars.y <= y + 1e-6
    area = float(bars.area[tension].sum())
    depth = thickness / 2 + y - float((bars.y * bars.area)[tension].sum() / area)

    def of(record: Derivation | None, row: FloatArray) -> SlenderWall:
        return slender_wall(
            record,
            edition,
            (thickness, depth, width, facts.clear_height),
            (
                concrete.strength,
                lightness(record, edition, concrete),
                modulus(record, edition, concrete),
                steel.yield_strength,
                steel.modulus,
            ),
            area,
            (max(float(row[0]), 0.0), abs(float(row[1]))),
            strip.service or (0.0, 0.0),
        )

    rows = _at_middle(context)
    each = [of(None, row) for row in rows]

    def weight(n: int) -> float:
        ratio = each[n].ratio
        return math.inf if ratio is None else ratio

    at = max(range(len(each)), key=weight)
    found = each[at]
    reasons = []
    if not found.tension_controlled:
        reasons.append("not tension-controlled")
    if not found.above_cracking:
        reasons.append("φMn below Mcr")
    if not found.light:
        reasons.append("too much axial force")
    if not found.stiff:
        reasons.append("deflects too much in service")
    if found.moment is None:
        reasons.append("unstable")

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"{context.actions.combinations[at]}, at mid-height.")
        if strip.service is not None:
            record.note("Service forces are those of D + 0.5 L ± 0.6 W.")
        of(record, rows[at])
        return record

    ratio = math.nan if found.ratio is None else found.ratio
    told = "does not apply: " + ", ".join(reasons) if reasons else "{ratio}: {found} of {strength}"
    return Finding(
        *("Alternative method for slender walls", "11.8", "11.8", State.SATISFIED, math.nan),
        f"beside the analysis: {told}",
        "",
        {
            "ratio": f"{ratio:.2f}",
            "found": moment(found.moment or 0.0),
            "strength": moment(found.design),
        },
        derive=derive,
    )


def _simplified(facts: ColumnFacts, context: Context) -> Finding:
    width, thickness = box_size(facts)
    rows, names, _ = profile_rows(context.actions)
    size = thickness, width, facts.clear_height

    def of(record: Derivation | None, at: int) -> SimplifiedWall:
        given = float(rows[at, 0]), float(rows[at, 4])
        return simplified_wall(record, size, facts.concrete.strength, "unrestrained", given)

    each = [of(None, at) for at in range(len(rows))]

    def weight(n: int) -> float:
        ratio = each[n].ratio
        return math.inf if ratio is None else ratio

    at = max(range(len(each)), key=weight)
    found = each[at]

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"{names[at]}; rotation is not restrained at the ends.")
        of(record, at)
        return record

    if found.ratio is None:
        why = "outside the middle third" if not found.inside else "too slender"
        told = f"does not apply: {why} in {names[at]}"
    else:
        told = f"{found.ratio:.2f}"
    return Finding(
        *("Simplified method", "11.5.3", "11.5.3", State.SATISFIED, math.nan),
        f"beside the analysis: {told}",
        "",
        derive=derive,
    )
