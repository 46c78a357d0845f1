"""Checks of strips of bearing walls: EN 1992-1-1, 6.2.2, 9.6 and 12.6."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.plain_walls import ALPHA_PLAIN, PlainWall, plain_wall
from fexro.core.codes.en1992_1_1.shear import (
    concrete_shear,
)
from fexro.core.codes.en1992_1_1.walls import VerticalBars, wall_bars
from fexro.core.codes.transverse_checks import SMALLEST, limit_finding, no_shear_finding
from fexro.core.codes.wall_checks import (
    box_size,
    profile_rows,
    shear_across,
    strip_of,
    strip_shear_finding,
)
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.shear import shear_section

__all__ = ["across_panel", "plain_method", "strip_bars", "strip_shear"]

Y = 1  # the axis across the wall
share = partial(Term, dimension=Dimension.SHARE)


def strip_bars(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check vertical and horizontal bars of a bearing wall (9.6)."""
    strip, section = strip_of(facts), facts.section
    width, thickness = box_size(facts)
    bars = VerticalBars(
        section.bars.total_area,
        float(section.bars.diameter.min()),
        section.cover + section.ties.size.diameter,
    )
    rho_h = strip.curtains * section.ties.size.area / (section.ties.spacing * thickness)
    limits = wall_bars(None, (thickness, width), bars)

    def derive() -> Derivation:
        record = Derivation()
        record.given("A_s,v", bars.area, Dimension.AREA, "vertical bars of the strip")
        told = f"{strip.curtains} × {section.ties.size.name} at {section.ties.spacing:.0f} mm"
        record.given("rho_h", rho_h, Dimension.RATIO, told)
        wall_bars(record, (thickness, width), bars)
        return record

    check = partial(limit_finding, derive=derive)
    found = [
        check(
            *("Vertical bars", "vertical bars", "9.6.2(1)"),
            Term(bars.area, Dimension.AREA),
            Term(limits.least, Dimension.AREA),
            "Vertical bars {found} in the strip; {limit} required.",
            at_least=True,
        ),
        check(
            *("Horizontal bars", "horizontal bars", "9.6.3(1)"),
            share(rho_h),
            share(limits.least_horizontal),
            "Horizontal bars {found} of the concrete; {limit} required.",
            at_least=True,
        ),
        check(
            *("Spacing of horizontal bars", "spacing", "9.6.3(2)"),
            length(section.ties.spacing),
            length(limits.horizontal_spacing),
            "Horizontal bars at {found}; {limit} allowed.",
        ),
    ]
    if strip.spacing is not None:
        found.append(
            check(
                *("Spacing of vertical bars", "spacing", "9.6.2(3)"),
                length(strip.spacing),
                length(limits.vertical_spacing),
                "Vertical bars at {found}; {limit} allowed.",
            )
        )
    return found


def strip_shear(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check shear out of plane, which concrete resists alone (6.2.2)."""
    found = shear_out_of_plane(annex, facts, context, Y)
    return found or [no_shear_finding("6.2.2")]


def across_panel(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check shear across a straight panel, which concrete resists alone (6.2.2)."""
    along = partial(shear_out_of_plane, annex, facts, context)
    return shear_across(facts, context.actions, "6.2.2", along)


def shear_out_of_plane(
    annex: Annex, facts: ColumnFacts, context: Context, axis: int
) -> list[Finding]:
    """Return the check of shear along an axis that no bars cross; none without any shear."""
    rows, names, places = profile_rows(context.actions)
    shears = np.abs(rows[:, 1 + axis])
    if not len(shears) or shears.max() < SMALLEST:
        return []
    web = shear_section(facts.section, axis)
    counts = min(facts.concrete.strength, annex.shear_strength)
    area = facts.section.outline.area

    def resists(record: Derivation | None, N_Ed: FloatArray) -> FloatArray:
        size = web.width, web.effective_depth
        given = annex, counts, size, web.tension_area, (N_Ed, area)
        return concrete_shear(record, *given).resistance

    strengths = resists(None, rows[:, 0])
    with np.errstate(divide="ignore"):
        ratios = np.where(strengths > 0, shears / strengths, np.inf)
    at = int(ratios.argmax())
    ratio = float(ratios[at])

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"{names[at]}, {places[at]}; no links cross the wall.")
        record.given("b_w", web.width, Dimension.LENGTH, "width that resists")
        record.given("d", web.effective_depth, Dimension.LENGTH, "effective depth")
        resists(record, rows[at, 0])
        return record

    strength = float(strengths[at])
    return [strip_shear_finding("6.2.2", names[at], float(shears[at]), strength, ratio, derive)]


def plain_method(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Tell what the method of plain walls (12.6.5) says, beside analysis."""
    rows, names, _ = profile_rows(context.actions)
    loaded = [n for n in range(len(rows)) if rows[n, 0] > 0]
    if not loaded:
        return []
    width, thickness = box_size(facts)
    alpha = ALPHA_PLAIN.get(annex.name, 0.8)

    def of(record: Derivation | None, at: int) -> PlainWall:
        axial, bent = float(rows[at, 0]), abs(float(rows[at, 4]))
        return plain_wall(
            record,
            (thickness, facts.clear_height, strip_of(facts).length, width),
            (facts.concrete.strength, alpha, annex.gamma_c),
            "two edges",
            (axial, bent / axial),
            monolithic=False,
        )

    each = {n: of(None, n).ratio for n in loaded}
    at = max(each, key=lambda n: each[n])
    found = of(None, at)

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"{names[at]}; held at top and bottom, not one with its slabs.")
        of(record, at)
        return record

    applies = found.stocky and found.thick and math.isfinite(found.ratio)
    told = f"{found.ratio:.2f} in {names[at]}" if applies else "does not apply"
    return [
        Finding(
            *("Method of plain walls", "plain", "12.6.5", State.SATISFIED, math.nan),
            f"beside the analysis: {told}",
            "",
            derive=derive,
        )
    ]
