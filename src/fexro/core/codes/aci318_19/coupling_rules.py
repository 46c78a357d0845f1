"""Checks of coupling beams: ACI 318-19, 9.6, 9.9 and 18.10.7."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import lru_cache, partial

import numpy as np

from fexro.core.codes import Context
from fexro.core.codes.aci318_19.coupling_beams import (
    LONG,
    Confined,
    DiagonalBars,
    Diagonals,
    FrameBeam,
    beam_kind,
    deep_beam_ratio,
    deep_beam_shear,
    deep_beam_spacing,
    diagonal_beam,
    frame_beam,
    least_beam_ratio,
)
from fexro.core.codes.aci318_19.edition import Edition
from fexro.core.codes.aci318_19.materials import lightness
from fexro.core.codes.aci318_19.section_strength import StrengthACI
from fexro.core.codes.aci318_19.shear import one_way_shear
from fexro.core.codes.aci318_19.transverse_rules import shear_checks
from fexro.core.codes.transverse_checks import (
    limit_finding,
    no_shear_finding,
    noted,
    transverse_of,
    with_earthquake,
)
from fexro.core.codes.wall_checks import beam_of, box_size, diagonal_shear_finding, governing_shear
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, State, force, length, state_of_ratio
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.shear import shear_section
from fexro.core.section.ties import HeldRule
from fexro.core.strength.uniaxial import moment_curve, nominal

__all__ = ["beam_bars", "beam_shear", "special_beam"]

PROBABLE = 1.25  # of fy
PHI_SHEAR = 0.75  # 21.2.1(b)
Y = 1  # the axis along which the depth is
area_term = partial(Term, dimension=Dimension.AREA)
share = partial(Term, dimension=Dimension.SHARE)


def _concrete(edition: Edition, facts: ColumnFacts) -> tuple[float, float]:
    return facts.concrete.strength, lightness(None, edition, facts.concrete)


def beam_shear(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check the shear of a coupling beam: of its diagonal bars (18.10.7.4), or as of any beam."""
    beam = beam_of(facts)
    if beam.diagonals is None:
        checks = shear_checks(edition, held, facts, context)
        return [*checks, *_deep(edition, held, facts, context)]
    governing = governing_shear(context.actions)
    if governing is None:
        return [no_shear_finding("18.10.7.4")]
    shear, combination = governing
    found = _diagonals(None, edition, facts, shear)

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Largest shear: {combination}.")
        _diagonals(record, edition, facts, shear)
        return record

    return [
        diagonal_shear_finding(
            "18.10.7.4", governing, found.design, found.required, found.ratio, derive
        ),
        *_confinement(edition, facts, found, derive),
    ]


def _deep(edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context) -> list[Finding]:
    """Check the size of a deep beam and the bars spread over it (9.9.2.1, 9.9.3.1, 9.9.4.3)."""
    width, depth = box_size(facts)
    span = beam_of(facts).span
    if span / depth > LONG:
        return []
    told = Finding(
        *("Deep beam", "deep beam", "9.9", State.ATTENTION, math.nan),
        "ℓn/h {ratio}",
        "the clear span is {ratio} times the depth: a deep beam, whose nonlinear strains are"
        " not followed; shear is that of a slender beam.",
        {"ratio": f"{span / depth:.2f}"},
        assumption=True,
        derive=noted("Up to four times the depth a beam is deep."),
    )
    web, ties, bars = shear_section(facts.section, Y), facts.section.ties, facts.section.bars
    governing = governing_shear(context.actions)
    shear = 0.0 if governing is None else governing[0]
    across = transverse_of(facts, held).leg_area(Y)
    levels = np.unique(np.round(bars.y, 3))
    gap = float(np.diff(levels).max(initial=0.0)) if len(levels) > 1 else math.inf
    along = float(np.sort(bars.area)[:2].sum())
    f_c = facts.concrete.strength

    def of(record: Derivation | None) -> tuple[float, float, float]:
        most = deep_beam_shear.into(
            record, PHI_SHEAR, edition.walls.largest_segment, f_c, width, web.effective_depth
        )
        least = deep_beam_ratio.into(record, width)
        apart = deep_beam_spacing.into(record, web.effective_depth, edition.walls.skin)
        return float(most), float(least), float(apart)

    most, least, apart = of(None)

    def derive() -> Derivation:
        record = Derivation()
        record.given("s", ties.spacing, Dimension.LENGTH, "of the hoops")
        record.given("A_v", across, Dimension.AREA, "legs across")
        record.given("s_2", gap, Dimension.LENGTH, "largest distance of bars along the sides")
        record.given("A_vh", along, Dimension.AREA, "two bars along")
        of(record)
        return record

    finding = partial(limit_finding, derive=derive)
    size = finding(
        *("Size of the deep beam", "deep beam", "9.9.2.1"),
        force(shear),
        force(most),
        "Shear {found} of a deep beam; {limit} allowed by its size.",
    )
    return [
        told,
        replace(size, combination=None if governing is None else governing[1], resists=True),
        finding(
            *("Bars across the deep beam", "deep beam", "9.9.3.1(a)"),
            area_term(across),
            area_term(least * ties.spacing),
            "Hoops of the deep beam have {found}; {limit} required at their spacing.",
            at_least=True,
        ),
        finding(
            *("Bars along the deep beam", "deep beam", "9.9.3.1(b)"),
            area_term(along),
            area_term(least * gap),
            "Bars along the deep beam have {found}; {limit} required at their spacing.",
            at_least=True,
        ),
        finding(
            *("Spacing in the deep beam", "deep beam", "9.9.4.3"),
            length(max(gap, ties.spacing)),
            length(apart),
            "Bars spread over the deep beam are {found} apart; {limit} allowed.",
        ),
    ]


def _diagonals(
    record: Derivation | None, edition: Edition, facts: ColumnFacts, shear: float
) -> Diagonals:
    group = beam_of(facts).diagonals
    assert group is not None
    hoops = facts.transverse_steel
    bars = DiagonalBars(
        group.count * group.area,
        group.diameter,
        group.angle,
        group.confined,
        facts.section.cover,
        hoops.yield_strength,
        group.hoops.spacing,
        group.cage,
        max(group.cage),
    )
    if record is not None:
        record.given("A_vd", bars.area, Dimension.AREA, f"{group.count} bars of one group")
        record.given("alpha", group.angle, Dimension.ANGLE, "of the groups to the axis")
    f_c, _ = _concrete(edition, facts)
    return diagonal_beam(
        record, edition, box_size(facts), (f_c, facts.steel.yield_strength), bars, shear
    )


def _confinement(
    edition: Edition, facts: ColumnFacts, found: Diagonals, derive: object
) -> list[Finding]:
    group = beam_of(facts).diagonals
    assert group is not None
    asked, hoops = found.confined, group.hoops
    finding = partial(limit_finding, derive=derive)  # type: ignore[arg-type]
    checks = []
    if group.count < 4:
        checks.append(
            Finding(
                *("Bars of diagonal groups", "diagonals", "18.10.7.4(a)", State.EXCEEDED, math.nan),
                f"{group.count} < 4",
                f"{group.count} bars in a group; at least 4 in two layers are required.",
                derive=derive,  # type: ignore[arg-type]
            )
        )
    checks.append(
        finding(
            *("Hoops of diagonal bars", "diagonal hoops", "18.10.7.4"),
            length(hoops.spacing),
            length(asked.spacing),
            "Hoops of the diagonal bars at {found}; {limit} allowed.",
        )
    )
    # Legs in the section are at most as far apart as allowed; of a group there are two each way.
    width, depth = group.cage if group.confined == "groups" else _core(facts)
    counts = [
        2 if group.confined == "groups" else 1 + math.ceil(side / asked.legs_apart)
        for side in (depth, width)
    ]
    there = [count * hoops.size.area for count in counts]
    needed = [asked.legs[0], asked.legs[1]]
    # Ash for the core dimension along the width is of legs across it, which run with the depth.
    pairs = [(there[1], needed[0]), (there[0], needed[1])]
    legs, need = max(pairs, key=lambda one: one[1] / one[0])
    checks.append(
        finding(
            *("Hoop area of diagonal bars", "diagonal hoops", "18.10.7.4"),
            area_term(legs),
            area_term(need),
            "Hoop legs of {found} around the diagonal bars; {limit} required.",
            at_least=True,
        )
    )
    if asked.cage is not None:
        least = max(zip(group.cage, asked.cage, strict=True), key=lambda one: one[1] / one[0])
        checks.append(
            finding(
                *("Cages of diagonal bars", "diagonals", "18.10.7.4(c)"),
                length(least[0]),
                length(least[1]),
                "Cages of diagonal bars are {found}; {limit} required.",
                at_least=True,
            )
        )
    return [*checks, *_skin(facts, asked, derive)]


def _skin(facts: ColumnFacts, asked: Confined, derive: object) -> list[Finding]:
    """Check the bars around a beam beside confined groups (18.10.7.4(c)).

    Where the whole beam is confined, the legs that its area takes for granted are told (d).
    """
    finding = partial(limit_finding, derive=derive)  # type: ignore[arg-type]
    ties, group = facts.section.ties, beam_of(facts).diagonals
    assert group is not None
    if asked.skin is None or asked.skin_apart is None:
        return [
            Finding(
                *("Cross ties of the beam", "diagonals", "18.10.7.4(d)", State.ATTENTION, math.nan),
                "{apart} apart at most",
                "legs of hoops and cross ties are taken to be at most {apart} apart over the width"
                " and the depth of the beam, each around a bar.",
                {"apart": length(asked.legs_apart)},
                assumption=True,
                derive=derive,  # type: ignore[arg-type]
            )
        ]
    bars = facts.section.bars
    own = len(bars) - group.at_ends
    levels = np.unique(np.round(bars.y[:own], 3))
    gap = float(np.diff(levels).max(initial=0.0)) if len(levels) > 1 else math.inf
    # A bar at each side goes with the distance to the next.
    smallest = float(np.sort(bars.area[:own])[:2].sum()) if own >= 2 else 0.0
    return [
        finding(
            *("Skin bars across the beam", "skin bars", "18.10.7.4(c)"),
            area_term(2 * ties.size.area),
            area_term(asked.skin * ties.spacing),
            "Hoops around the beam have {found}; {limit} required at their spacing.",
            at_least=True,
        ),
        finding(
            *("Skin bars along the beam", "skin bars", "18.10.7.4(c)"),
            area_term(smallest),
            area_term(asked.skin * gap),
            "Bars along the sides have {found}; {limit} required at their spacing.",
            at_least=True,
        ),
        finding(
            *("Spacing of skin bars along the beam", "skin bars", "18.10.7.4(c)"),
            length(gap),
            length(asked.skin_apart),
            "Bars along the sides of the beam are {found} apart; {limit} allowed.",
        ),
        finding(
            *("Spacing of skin bars across the beam", "skin bars", "18.10.7.4(c)"),
            length(ties.spacing),
            length(asked.skin_apart),
            "Hoops around the beam at {found}; {limit} allowed.",
        ),
    ]


def _core(facts: ColumnFacts) -> tuple[float, float]:
    width, depth = box_size(facts)
    cover = facts.section.cover
    return width - 2 * cover, depth - 2 * cover


def beam_bars(edition: Edition, facts: ColumnFacts, context: Context) -> Sequence[Finding]:
    """Check the least bars at each face of a beam that is not deep (9.6.1.2)."""
    beam = beam_of(facts)
    _, depth = box_size(facts)
    if beam.diagonals is not None or beam.span / depth < LONG:
        return []
    web = shear_section(facts.section, Y)
    f_c, _ = _concrete(edition, facts)
    given = edition.walls.beam_root, f_c, edition.walls.beam_stress, facts.steel.yield_strength
    least = float(least_beam_ratio(*given)) * web.width * web.effective_depth

    def derive() -> Derivation:
        record = Derivation()
        record.given("b_w", web.width, Dimension.LENGTH, "width")
        record.given("d", web.effective_depth, Dimension.LENGTH, "effective depth")
        least_beam_ratio.into(record, *given)
        return record

    return [
        limit_finding(
            *("Least bars of the beam", "bars", "9.6.1.2"),
            area_term(web.tension_area),
            area_term(least),
            "Bars of {found} at a face; {limit} required.",
            derive,
            at_least=True,
        )
    ]


@lru_cache(maxsize=256)
def _probable(edition: Edition, cross: CrossSection) -> tuple[float, float]:
    """Return the probable moments of a beam in both senses, N·mm."""
    steel = replace(cross.steel, yield_strength=PROBABLE * cross.steel.yield_strength)
    curve = moment_curve(nominal(StrengthACI(edition).of(replace(cross, steel=steel))), (0,))
    found = curve.between(0.0, 0.0).moments[:2, 0]
    return float(found[0]), float(found[1])


def special_beam(
    edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check a coupling beam of special walls by its proportions and shear (18.10.7)."""
    if facts.ductility != "high":
        return []
    beam, (width, depth) = beam_of(facts), box_size(facts)
    governing = governing_shear(context.actions)
    shear, combination = governing or (0.0, "")
    size = width, depth, beam.span
    concrete = _concrete(edition, facts)
    kind, limit = beam_kind(None, edition, size, concrete, shear)

    def derive_kind() -> Derivation:
        record = Derivation()
        record.given("ell_n/h", beam.span / depth, Dimension.RATIO, "clear span over depth")
        record.given("V_u", shear, Dimension.FORCE, f"largest, {combination}")
        beam_kind(record, edition, size, concrete, shear)
        record.note(
            "From 4 on a beam of a special frame; below 2, with as much shear, diagonal bars;"
            " either between."
        )
        return record

    words = {
        "frame": "as a beam of a special frame",
        "diagonal": "diagonal bars are obligatory",
        "either": "with diagonal bars or as a beam of a special frame",
    }
    wrong = kind == "diagonal" and beam.diagonals is None
    found = [
        Finding(
            *("Kind of coupling beam", "coupling beam", "18.10.7"),
            State.EXCEEDED if wrong else State.SATISFIED,
            shear / limit if wrong else math.nan,
            f"ℓn/h {{ratio}}: {words[kind]}",
            "ℓn/h {ratio} and shear {found} from {limit} on: diagonal bars are obligatory; there"
            " are none.",
            {"ratio": f"{beam.span / depth:.2f}", "found": force(shear), "limit": force(limit)},
            combination=combination if wrong else None,
            derive=derive_kind,
        )
    ]
    if beam.diagonals is None and kind != "diagonal":
        found += _frame(edition, held, facts, context)
    return found


def _frame(edition: Edition, held: HeldRule, facts: ColumnFacts, context: Context) -> list[Finding]:
    beam, (width, depth) = beam_of(facts), box_size(facts)
    web = shear_section(facts.section, Y)
    M_1, M_2 = _probable(edition, facts.cross_section)
    actions, loads = context.actions, 0.0
    if actions.earthquake is not None and actions.seismic is not None:
        rest = (actions.forces - actions.earthquake)[actions.seismic]
        loads = float(np.abs(rest[..., 1 + Y]).max(initial=0.0))
    given = (
        edition,
        (depth, web.effective_depth, beam.span),
        (facts.concrete.strength, facts.steel.yield_strength),
        _smallest_at_faces(facts),
        (M_1, M_2, loads),
    )
    asked: FrameBeam = frame_beam(None, *given)
    ratio = web.tension_area / (web.width * web.effective_depth)

    def derive() -> Derivation:
        record = Derivation()
        record.note(with_earthquake(actions))
        record.given("d", web.effective_depth, Dimension.LENGTH, "effective depth")
        record.given("M_pr,1", M_1, Dimension.MOMENT, "with 1.25 fy, +")
        record.given("M_pr,2", M_2, Dimension.MOMENT, "with 1.25 fy, −")
        told = "of the combinations with earthquake, without it"
        record.given("V_g", loads, Dimension.FORCE, told)
        frame_beam(record, *given)
        return record

    finding = partial(limit_finding, derive=derive)
    ties = facts.section.ties
    capacity = _capacity_shear(edition, held, facts, asked.shear, derive)
    return [
        finding(
            *("Width of the beam", "width", "18.6.2.1"),
            length(width),
            length(asked.width),
            "The beam is {found} wide; {limit} required.",
            at_least=True,
        ),
        finding(
            *("Least bars of the beam", "bars", "18.6.3.1"),
            share(ratio),
            share(asked.least_ratio),
            "Bars at a face {found}; {limit} required.",
            at_least=True,
        ),
        finding(
            *("Most bars of the beam", "bars", "18.6.3.1"),
            share(ratio),
            share(asked.largest_ratio),
            "Bars at a face {found}; {limit} allowed.",
        ),
        finding(
            *("Hoops near the ends of the beam", "hoops", "18.6.4.4"),
            length(ties.end or ties.spacing),
            length(asked.hoops),
            "Hoops at {found} near the ends; {limit} allowed.",
        ),
        finding(
            *("Hoops between them", "hoops", "18.6.4.6"),
            length(ties.spacing),
            length(asked.elsewhere),
            "Hoops at {found} between the ends; {limit} allowed.",
        ),
        capacity,
    ]


def _smallest_at_faces(facts: ColumnFacts) -> float:
    """Return the diameter of the smallest bar at top and bottom, mm: those between are skin."""
    _, depth = box_size(facts)
    bars, middle = facts.section.bars, facts.section.outline.centroid[1]
    outer = np.abs(bars.y - middle) > depth / 3
    return float(bars.diameter[outer].min() if outer.any() else bars.diameter.min())


def _capacity_shear(
    edition: Edition,
    held: HeldRule,
    facts: ColumnFacts,
    shear: float,
    derive_shear: Callable[[], Derivation],
) -> Finding:
    """Check the hoops for the shear of the probable moments; concrete carries none (18.6.5.2)."""
    transverse = transverse_of(facts, held)

    def of(record: Derivation | None) -> float:
        demand = 0.0, shear, transverse.at_ends
        given = edition, facts.cross_section, transverse, Y, demand
        return float(one_way_shear(record, *given, without_concrete=True).strength)

    def derive() -> Derivation:
        record = derive_shear()
        record.note(
            "The shear of the earthquake is at least half of it and there is little axial force:"
            " concrete counts nothing (18.6.5.2)."
        )
        of(record)
        return record

    ratio = shear / max(of(None), 1e-9)
    return Finding(
        *("Shear of probable moments", "capacity shear", "18.6.5", state_of_ratio(ratio), ratio),
        "{found} of {strength}",
        "Shear {found} with the probable moments at both ends; hoops resist {strength}.",
        {"found": force(shear), "strength": force(of(None))},
        resists=True,
        derive=derive,
    )
