"""Checks of coupling beams: EN 1992-1-1, 6.2 and 9.2, and EN 1998-1, 5.5.3.5."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache, partial

import numpy as np
from numpy import maximum, minimum

from fexro.core.codes import Context
from fexro.core.codes.en1992_1_1.anchorage import (
    design_tensile_strength,
    low_tensile_strength,
    mean_tensile_strength,
)
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.materials import steel_design_strength
from fexro.core.codes.en1992_1_1.section_strength import strength_of
from fexro.core.codes.en1992_1_1.shear import ShearOptions, shear, shear_web
from fexro.core.codes.en1992_1_1.transverse_rules import shear_checks
from fexro.core.codes.en1998_1.columns import (
    DuctilityClass,
    hoops_by_bars,
    hoops_by_core,
    largest_spacing,
)
from fexro.core.codes.en1998_1.wall_shear import (
    GAMMA_RD_BEAMS,
    HOOPS_OF_BEAMS,
    CoupledBeam,
    beam_capacity_shear,
    beam_hoops,
    coupled_beam,
)
from fexro.core.codes.en1998_1.walls import SPACING
from fexro.core.codes.options import options_of
from fexro.core.codes.transverse_checks import (
    limit_finding,
    no_shear_finding,
    transverse_of,
    with_earthquake,
)
from fexro.core.codes.wall_checks import beam_of, box_size, diagonal_shear_finding, governing_shear
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, State, force, length, state_of_ratio
from fexro.core.provisions import Coefficient, Derivation, Term, provision
from fexro.core.provisions.coefficient import MILLIMETRES
from fexro.core.quantities import Area, Dimension, Length, Stress
from fexro.core.section.shear import shear_section
from fexro.core.section.ties import HeldRule
from fexro.core.strength.uniaxial import moment_curve

__all__ = ["beam_bars", "beam_shear", "least_beam_bars"]

MESH_0 = Coefficient(0.15, MILLIMETRES, Dimension.LENGTH)  # mm² for each mm: 150 mm²/m
MESH_300 = Coefficient(300, MILLIMETRES, Dimension.LENGTH)
Y = 1  # the axis along which the depth is
area_term = partial(Term, dimension=Dimension.AREA)
CLASSES: dict[str, DuctilityClass] = {"medium": "DCM", "high": "DCH"}


@provision("9.2.1.1(1), (9.1N)", symbol="A_s,min")
def least_beam_bars(f_ctm: Stress, f_yk: Stress, b_t: Length, d: Length) -> Area:
    """Least area of bars in tension of a beam."""
    by_strength = 0.26 * f_ctm / f_yk
    return maximum(by_strength, 0.0013) * b_t * d


@provision("9.7(1)", symbol="a_s,min")
def deep_beam_mesh(b_w: Length) -> Length:
    """Least bars at each face of a deep beam in each direction, over their spacing."""
    return maximum(0.001 * b_w, MESH_0)


@provision("9.7(2)", symbol="s_max")
def deep_beam_mesh_spacing(b_w: Length) -> Length:
    """Largest spacing of the bars at the faces of a deep beam."""
    return minimum(2 * b_w, MESH_300)


def beam_bars(facts: ColumnFacts, _: Context) -> Sequence[Finding]:
    """Check the least bars at each face of a beam (9.2.1.1)."""
    if beam_of(facts).diagonals is not None:
        return []
    web = shear_section(facts.section, Y)
    f_ctm = float(mean_tensile_strength(facts.concrete.strength))
    given = f_ctm, facts.steel.yield_strength, web.width, web.effective_depth

    def derive() -> Derivation:
        record = Derivation()
        mean_tensile_strength.into(record, facts.concrete.strength)
        least_beam_bars.into(record, *given)
        return record

    return [
        limit_finding(
            *("Least bars of the beam", "bars", "9.2.1.1(1)"),
            area_term(web.tension_area),
            area_term(float(least_beam_bars(*given))),
            "Bars of {found} at a face; {limit} required.",
            derive,
            at_least=True,
        )
    ]


def _coupled(
    record: Derivation | None, annex: Annex, facts: ColumnFacts, shear: float
) -> CoupledBeam:
    beam = beam_of(facts)
    web = shear_section(facts.section, Y)
    f_ctk = low_tensile_strength.into(
        record, mean_tensile_strength.into(record, facts.concrete.strength)
    )
    f_ctd = float(design_tensile_strength.into(record, f_ctk, annex.gamma_c))
    f_yd = float(steel_design_strength.into(record, facts.steel.yield_strength, annex.gamma_s))
    group = beam.diagonals
    diagonals = (0.0, math.pi / 4) if group is None else (group.count * group.area, group.angle)
    return coupled_beam(
        record,
        (*box_size(facts), web.effective_depth, beam.span),
        (f_ctd, f_yd),
        diagonals,
        shear,
    )


def beam_shear(
    annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check the shear of a coupling beam: of its diagonal bars, or as of any beam."""
    beam = beam_of(facts)
    governing = governing_shear(context.actions)
    if governing is None:
        return [no_shear_finding("6.2")]
    shear, combination = governing
    found = _coupled(None, annex, facts, shear)

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Largest shear: {combination}.")
        _coupled(record, annex, facts, shear)
        return record

    if beam.diagonals is None:
        checks = list(shear_checks(annex, held, facts, context))
        if facts.ductility != "low":
            checks += _ductile_beam(annex, held, facts, context)
        if facts.ductility == "low" or found.as_beam:
            return checks
        # Ductile walls couple by diagonal bars where beams are short and strongly sheared.
        return [
            Finding(
                *("Kind of coupling beam", "coupling beam", "5.5.3.5"),
                State.EXCEEDED,
                shear / found.limit,
                "l/h {ratio}: diagonal bars required",
                "l/h {ratio} and shear {found} beyond {limit}: diagonal bars are required, each"
                " group {needed} at 45°.",
                {
                    "ratio": f"{found.aspect:.2f}",
                    "found": force(shear),
                    "limit": force(found.limit),
                    "needed": area_term(found.required),
                },
                combination=combination,
                derive=derive,
            ),
            *checks,
        ]
    group = beam.diagonals
    return [
        diagonal_shear_finding(
            "5.5.3.5(3)", governing, found.resistance, found.required, found.ratio, derive
        ),
        limit_finding(
            *("Cages of diagonal bars", "diagonals", "5.5.3.5(3)"),
            length(group.cage[0]),
            length(found.cage),
            "Cages of diagonal bars are {found} wide; {limit} required.",
            derive,
            at_least=True,
        ),
        *_hoops_of_diagonals(facts),
    ]


def _hoops_of_diagonals(facts: ColumnFacts) -> list[Finding]:
    """Check the hoops round diagonals, and the mesh at the sides (5.5.3.5(3)(c), (e))."""
    group, (width, _) = beam_of(facts).diagonals, box_size(facts)
    assert group is not None
    section, hoops = facts.section, group.hoops
    core = min(group.cage) if group.confined == "groups" else width - 2 * section.cover
    core -= hoops.size.diameter  # between the middles of the hoops

    def of(record: Derivation | None) -> float:
        by_core = hoops_by_core.into(record, "DCH", core)
        by_bars = hoops_by_bars.into(record, "DCH", group.diameter)
        return float(largest_spacing.into(record, by_core, SPACING["DCH"], by_bars))

    def derive() -> Derivation:
        record = Derivation()
        record.given("b_o", core, Dimension.LENGTH, "core of the cage, to the middle of its hoops")
        of(record)
        return record

    own = len(section.bars) - group.at_ends
    levels = np.unique(np.round(section.bars.y[:own], 3))
    gap = float(np.diff(levels).max(initial=0.0)) if len(levels) > 1 else math.inf
    smallest = float(section.bars.area[:own].min(initial=math.inf)) if own else 0.0
    ties = section.ties

    def mesh(record: Derivation | None) -> tuple[float, float]:
        least = deep_beam_mesh.into(record, width)
        return float(least), float(deep_beam_mesh_spacing.into(record, width))

    least, apart = mesh(None)
    # At each face: a leg of the hoops, and a bar, each for its distance to the next.
    both = [(ties.size.area, least * ties.spacing), (smallest, least * gap)]
    there, asked = max(both, key=lambda one: one[1] / max(one[0], 1e-9))

    def derive_mesh() -> Derivation:
        record = Derivation()
        record.given("s", ties.spacing, Dimension.LENGTH, f"of the hoops, {ties.size.name}")
        record.given("s_l", gap, Dimension.LENGTH, "largest distance of bars along a side")
        mesh(record)
        return record

    return [
        limit_finding(
            *("Hoops of diagonal bars", "diagonal hoops", "EN 1998-1, 5.5.3.5(3)"),
            length(hoops.spacing),
            length(of(None)),
            "Hoops of the diagonal bars at {found}; {limit} allowed.",
            derive,
        ),
        limit_finding(
            *("Bars at the sides of the beam", "skin bars", "9.7(1)"),
            area_term(there),
            area_term(asked),
            "Bars at a side of the beam have {found} each; {limit} required at their spacing.",
            derive_mesh,
            at_least=True,
        ),
        limit_finding(
            *("Spacing at the sides of the beam", "skin bars", "9.7(2)"),
            length(max(gap, ties.spacing)),
            length(apart),
            "Bars at a side of the beam are {found} apart; {limit} allowed.",
            derive_mesh,
        ),
    ]


@lru_cache(maxsize=256)
def _moments(annex: Annex, cross: CrossSection) -> tuple[float, float]:
    """Return the design moments of a beam in both senses without axial force, N·mm."""
    found = moment_curve(strength_of(annex, cross), (0,)).between(0.0, 0.0).moments[:2, 0]
    return float(found[0]), float(found[1])


def _ductile_beam(
    annex: Annex, held: HeldRule, facts: ColumnFacts, context: Context
) -> list[Finding]:
    """Check a beam without diagonals for the shear of its moments, and its hoops (5.4.2.2 ...)."""
    ductility: DuctilityClass = CLASSES[facts.ductility]
    beam, ties = beam_of(facts), facts.section.ties
    transverse = transverse_of(facts, held)
    _, depth = box_size(facts)
    actions, loads = context.actions, 0.0
    if actions.earthquake is not None and actions.seismic is not None:
        rest = (actions.forces - actions.earthquake)[actions.seismic]
        loads = float(np.abs(rest[..., 1 + Y]).max(initial=0.0))
    M_1, M_2 = _moments(annex, facts.cross_section)
    options = options_of(ShearOptions, facts.options, others=True)
    if ductility == "DCH":
        # Struts in critical regions of high ductility are at 45° (5.5.3.1.2(2)).
        options = replace(options, struts="chosen", cot_theta=1.0)
    web = shear_web(facts.cross_section, Y, options.lever_arm)

    def of(record: Derivation | None) -> tuple[float, float]:
        V_Ed = float(
            beam_capacity_shear.into(record, GAMMA_RD_BEAMS[ductility], M_1, M_2, beam.span, loads)
        )
        given = annex, options, facts.cross_section, transverse, Y, web
        return V_Ed, float(shear(record, *given, (0.0, V_Ed, transverse.at_ends)).resistance)

    def derive() -> Derivation:
        record = Derivation()
        record.note(with_earthquake(actions))
        record.given("M_Rd,1", M_1, Dimension.MOMENT, "of the bars, +")
        record.given("M_Rd,2", M_2, Dimension.MOMENT, "of the bars, −")
        told = "of the combinations with earthquake, without it"
        record.given("V_g", loads, Dimension.FORCE, told)
        of(record)
        return record

    smallest = float(facts.section.bars.diameter.min())

    def spacing(record: Derivation | None) -> float:
        return float(
            beam_hoops.into(
                record, ductility, depth, ties.size.diameter, HOOPS_OF_BEAMS[ductility], smallest
            )
        )

    def derive_spacing() -> Derivation:
        record = Derivation()
        spacing(record)
        return record

    (design, resisted) = of(None)
    ratio = design / max(resisted, 1e-9)
    return [
        Finding(
            *("Shear of the moments at the ends", "capacity shear"),
            "EN 1998-1, 5.4.2.2" if ductility == "DCM" else "EN 1998-1, 5.5.2.1, 5.5.3.1.2",
            state_of_ratio(ratio),
            ratio,
            "{found} of {strength}",
            "Shear {found} with the moments that both ends resist; {strength} is resisted.",
            {"found": force(design), "strength": force(resisted)},
            resists=True,
            derive=derive,
        ),
        limit_finding(
            *("Hoops near the ends of the beam", "hoops"),
            "EN 1998-1, 5.4.3.1.2(6)" if ductility == "DCM" else "EN 1998-1, 5.5.3.1.3(6)",
            length(transverse.at_ends),
            length(spacing(None)),
            "Hoops at {found} near the ends; {limit} allowed.",
            derive_spacing,
        ),
    ]
