"""Checks of ductile walls: EN 1998-1, 5.4.2.4, 5.4.3.4, 5.5.2.4 and 5.5.3.4."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache, partial

import numpy as np

from fexro.core.codes import Context
from fexro.core.codes.detailing import not_yet_checked
from fexro.core.codes.en1992_1_1 import materials
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.section_strength import StrengthEN
from fexro.core.codes.en1998_1.columns import DuctilityClass
from fexro.core.codes.en1998_1.options import SeismicOptions
from fexro.core.codes.en1998_1.wall_shear import shear_envelope
from fexro.core.codes.en1998_1.walls import DuctileWall, WallElement, WallSeismic, ductile_wall
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import limit_finding, noted, with_earthquake
from fexro.core.codes.wall_checks import axis_of, base_moments, panel_of
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, State, length, number
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.section.curtains import EndBars
from fexro.core.strength.uniaxial import governing_moment

__all__ = ["amplification", "ductile_wall_checks", "sliding", "write_amplification"]

CLASSES: dict[str, DuctilityClass] = {"medium": "DCM", "high": "DCH"}


@lru_cache(maxsize=1024)
def _moment(
    annex: Annex,
    cross: CrossSection,
    axis: int,
    axial: tuple[float, ...],
    moments: tuple[float, ...],
) -> tuple[int, float]:
    """Return of which of moments about an axis MRd is the largest multiple, and MRd, N·mm."""
    strength = StrengthEN(annex).of(cross)
    return governing_moment(strength, axis, np.array(axial), np.array(moments), strongest=True)


def _at_base(annex: Annex, facts: ColumnFacts, context: Context, leg: int) -> tuple[float, float]:
    """Return MEd and MRd at the base where MRd/MEd is largest, N·mm."""
    axis = axis_of(panel_of(facts), leg)
    return base_moments(facts, context.actions, axis, partial(_moment, annex))


def amplification(annex: Annex, facts: ColumnFacts, context: Context, leg: int) -> float:
    """Return by what the shear of a leg with earthquake is multiplied."""
    return _amplified(None, annex, facts, context, leg)


def write_amplification(
    record: Derivation, annex: Annex, facts: ColumnFacts, context: Context, leg: int
) -> None:
    """Write by what the shear of a leg with earthquake is multiplied."""
    if facts.ductility != "low":
        factor = _amplified(record, annex, facts, context, leg)
        record.given("epsilon", factor, Dimension.RATIO, "factor of the shear with earthquake")


def _amplified(
    record: Derivation | None, annex: Annex, facts: ColumnFacts, context: Context, leg: int
) -> float:
    if facts.ductility == "low":
        return 1.0
    options = options_of(SeismicOptions, facts.options, others=True)
    panel = panel_of(facts)
    M_Ed, M_Rd = _at_base(annex, facts, context, leg)
    if record is not None:
        record.note(with_earthquake(context.actions))
        record.note(
            "Se(TC)/Se(T1) is T1/TC beyond the plateau of the spectrum. Where frames resist with"
            " the walls, the envelope of 5.4.2.4 is to be in the forces."
        )
    spectrum = (max(options.T1 / options.TC, 1.0), 1.0)
    found = shear_envelope(
        record,
        CLASSES[facts.ductility],
        (panel.lengths[leg], panel.height),
        options.q,
        (M_Ed, M_Rd),
        spectrum,
        np.array([[0.0, 1.0], [panel.height, 1.0]]),
        np.array([0.0]),
        dual=False,
    )
    return found.factor


def sliding(facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Tell that sliding of walls of high ductility at their joints is not checked (5.5.3.4.4)."""
    if facts.ductility != "high":
        return []
    return not_yet_checked("sliding under earthquake (EN 1998-1, 5.5.3.4.4)", facts, context)


def ductile_wall_checks(annex: Annex, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check a wall of medium or high ductility and its boundary elements."""
    if facts.ductility == "low" or not len(context.actions.combinations):
        return []
    panel = panel_of(facts)
    if len(panel.legs.legs) > 1:
        told = "boundary elements of walls of several legs are not checked."
        return [
            Finding(
                *("Boundary elements", "boundary", "5.4.3.4.2", State.NOT_CHECKED, math.nan),
                "several legs",
                told,
                derive=noted("The rules in hand are those of straight walls."),
            )
        ]
    found = [_wall(None, annex, facts, context, end) for end in panel.ends]
    if not found:
        told = "there are no bars at the ends: boundary elements are required."
        return [
            Finding(
                *("Boundary elements", "boundary", "5.4.3.4.2", State.EXCEEDED, math.nan),
                "none",
                told,
                derive=noted("The call-out has no bars in each end."),
            )
        ]
    return _findings(annex, facts, context, panel.ends[0], found[0])


def _wall(
    record: Derivation | None, annex: Annex, facts: ColumnFacts, context: Context, end: EndBars
) -> DuctileWall:
    options = options_of(SeismicOptions, facts.options, others=True)
    panel, section = panel_of(facts), facts.section
    thickness, hoops = panel.legs.legs[0].thickness, panel.hoops or section.ties
    M_Ed, M_Rd = _at_base(annex, facts, context, 0)
    axial = float(context.actions.in_earthquake[..., 0].max(initial=0.0))
    f_cd = float(
        materials.concrete_design_strength(facts.concrete.strength, annex.alpha_cc, annex.gamma_c)
    )
    f_yd = facts.steel.yield_strength / annex.gamma_s
    width = thickness - 2 * section.cover - hoops.size.diameter
    along = end.length - section.cover
    ties = 2 * (width + along) + max(end.pairs - 2, 0) * width
    volume = ties * hoops.size.area / (width * along * hoops.spacing)
    faces = width - hoops.size.diameter - end.diameter
    held = (end.apart,) * (2 * (end.pairs - 1)) + (faces, faces)
    web = panel.web
    vertical = 0.0 if web is None else web.curtains * web.area / (web.spacing * thickness)
    return ductile_wall(
        record,
        (thickness, panel.legs.lengths[0], panel.height, facts.height),
        (f_cd, f_yd, f_yd, facts.steel.modulus),
        vertical,
        axial,
        WallSeismic(
            CLASSES[facts.ductility],
            panel.storeys,
            options.q0,
            (M_Ed, max(M_Rd, M_Ed)),
            options.T1,
            options.TC,
            "B" if options.steel_class == "B" else "C",
        ),
        WallElement(
            thickness, width, along, held, hoops.spacing, volume * f_yd / f_cd, end.diameter
        ),
    )


def _findings(
    annex: Annex, facts: ColumnFacts, context: Context, end: EndBars, found: DuctileWall
) -> list[Finding]:
    panel, thickness = panel_of(facts), panel_of(facts).legs.legs[0].thickness
    clauses = ("5.5.3.4", "5.4.3.4")[facts.ductility == "medium"]

    def derive() -> Derivation:
        record = Derivation()
        record.note(with_earthquake(context.actions))
        _wall(record, annex, facts, context, end)
        return record

    finding = partial(limit_finding, derive=derive)
    checks = [
        finding(
            *("Axial force in an earthquake", "axial", f"{clauses}.1(2)"),
            number(found.axial),
            number(found.largest_axial),
            "νd is {found}; {limit} allowed.",
        ),
        finding(
            *("Thickness of ductile walls", "thickness", "5.4.1.2.3(1)"),
            length(thickness),
            length(found.web),
            "Thickness {found}; {limit} required.",
            at_least=True,
        ),
    ]
    # The critical region starts at the base.
    inside = panel.height - panel.above < found.height - 1e-6
    if not inside:
        return checks
    hoops = panel.hoops
    checks += [
        finding(
            *("Length of boundary elements", "boundary", f"{clauses}.2(6)"),
            length(end.length + facts.section.cover),
            length(found.length),
            "Boundary elements are {found} long; {limit} required.",
            at_least=True,
        ),
        finding(
            *("Width of boundary elements", "boundary", "5.4.3.4.2(10)"),
            length(thickness),
            length(found.width),
            "Boundary elements are {found} wide; {limit} required.",
            at_least=True,
        ),
    ]
    if found.light:
        checks.append(
            Finding(
                *("Boundary elements", "boundary", "5.4.3.4.2(12)", State.SATISFIED, math.nan),
                "links to EN 1992-1-1 do",
                "",
                derive=derive,
            )
        )
        return checks
    if hoops is None:
        checks.append(
            Finding(
                *("Hoops of boundary elements", "boundary hoops", "5.4.3.4.2(4)"),
                State.EXCEEDED,
                math.nan,
                "none; ωwd {needed}",
                "Boundary elements have no hoops; ωwd {needed} is required.",
                {"needed": number(found.required_mechanical)},
                derive=derive,
            )
        )
        return checks
    checks += [
        finding(
            *("Confinement of boundary elements", "boundary hoops", "5.4.3.4.2(4)"),
            number(found.mechanical),
            number(found.required_mechanical),
            "ωwd of boundary elements is {found}; {limit} required.",
            at_least=True,
        ),
        finding(
            *("Hoop spacing of boundary elements", "boundary hoops", "5.4.3.4.2(9)"),
            length(hoops.spacing),
            length(found.spacing),
            "Hoops of boundary elements at {found}; {limit} allowed.",
        ),
        finding(
            *("Held bars of boundary elements", "boundary", "5.4.3.4.2(9)"),
            length(max(end.apart, thickness - 2 * facts.section.cover)),
            length(found.held),
            "Held bars of boundary elements are {found} apart; {limit} allowed.",
        ),
    ]
    return checks
