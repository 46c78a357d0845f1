"""Checks of lifts with structural steel in the concrete: EN 1994-1-1, 6.7."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Any

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes import Context
from fexro.core.codes.en1992_1_1 import strength as reinforced
from fexro.core.codes.en1992_1_1.annex import Annex
from fexro.core.codes.en1992_1_1.composite import CompositeAxis
from fexro.core.codes.en1992_1_1.options import OptionsEN
from fexro.core.codes.en1992_1_1.section_strength import StrengthEN
from fexro.core.codes.en1994_1_1 import limits as rules
from fexro.core.codes.en1994_1_1 import resistance
from fexro.core.codes.en1994_1_1 import second_order as buckling
from fexro.core.codes.options import options_of
from fexro.core.codes.section_body import body_of
from fexro.core.codes.slenderness import direction_about
from fexro.core.facts import ColumnFacts, CrossSection
from fexro.core.findings import Finding, State, force, length, number, state_of_ratio, stress
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.areas import EmbeddedSteel, counted_areas
from fexro.core.strength.laws import uniform_block
from fexro.core.strength.slices import moments_at
from fexro.core.strength.surface import Strength

__all__ = ["encased_checks"]

RIGID = 1e7  # MPa: a modulus with which steel yields at once
PLASTIC_STRAIN = 10.0  # at which all but a sliver about the neutral axis is plastic
Values = dict[str, Term | str]


def encased_checks(
    annex: Annex, strength: StrengthEN, facts: ColumnFacts, context: Context
) -> Sequence[Finding]:
    """Check what EN 1994-1-1 asks of a lift with structural steel in it (6.7)."""
    if not facts.section.steel:
        return []
    return [
        *_materials(facts),
        _contribution(strength, facts),
        _sides(facts),
        _flange_cover(facts),
        _bars(facts),
        *_slenderness(annex, facts, context),
        *_buckling(annex, strength, facts, context),
        *_plastic(strength, facts, context),
        _introduction(),
    ]


def _between(
    title: str,
    short: str,
    clause: str,
    found: Term,
    least: Term,
    largest: Term,
    derive: Callable[[], Derivation] = Derivation,
) -> Finding:
    """Return the check that a value is between two limits."""
    value, low, high = (float(term.value) for term in (found, least, largest))
    ratio = value / high if value >= low else low / value
    return Finding(
        title,
        short,
        clause,
        State.SATISFIED if low <= value <= high else State.EXCEEDED,
        ratio,
        "{found} of {least} to {largest}",
        f"{title} {{found}}; {{least}} to {{largest}} allowed.",
        {"found": found, "least": least, "largest": largest},
        derive=derive,
    )


def _materials(facts: ColumnFacts) -> list[Finding]:
    """Return a finding for each material outside the range of 6.7.1(2)."""
    found, clause = [], "EN 1994-1-1, 6.7.1(2)"
    for name, short, values, (least, largest) in (
        (
            "Structural steel",
            "steel grade",
            {part.material.yield_strength for part in facts.section.steel},
            rules.STEELS,
        ),
        (
            "Concrete with steel",
            "concrete",
            {one.strength for one in facts.cross_section.concretes},
            rules.CONCRETES,
        ),
    ):
        found += [
            _between(name, short, clause, stress(v), stress(least), stress(largest))
            for v in sorted(values)
            if not least <= v <= largest
        ]
    return found


def _resistance(
    strength: StrengthEN, cross: CrossSection, record: Derivation | None = None
) -> tuple[float, float]:
    """Return the force of the structural steel and N_pl,Rd (6.7.3.2), N."""
    section = cross.section
    steel = 0.0
    for part in section.steel:
        f_yd = strength.steel_strength(part.material, record)
        if record is not None:
            record.given("A_a", part.outline.area, Dimension.AREA, part.material.name)
        steel += f_yd * part.outline.area
    if record is not None:
        record.given("N_a_d", steel, Dimension.FORCE, "structural steel")
    bars = section.bars.total_area
    area = section.outline.area - section.steel_area - bars
    sigma = strength.concrete_strength(cross, cross.mean_concrete, record)
    f_sd = strength.bar_strength(cross, record)
    total = resistance.plastic_resistance.named(f_sd="f_yd").into(
        record, steel, area, sigma, bars, f_sd
    )
    return steel, float(total)


def _contribution(strength: StrengthEN, facts: ColumnFacts) -> Finding:
    cross = facts.cross_section
    steel, total = _resistance(strength, cross)
    delta = float(resistance.contribution_ratio(steel, total))
    low, high = rules.CONTRIBUTION

    def derive() -> Derivation:
        record = Derivation()
        resistance.contribution_ratio.into(record, *_resistance(strength, cross, record))
        record.note("Below 0.2 the column is reinforced concrete, above 0.9 it is steel.")
        return record

    state, message = State.SATISFIED, ""
    if delta < low:
        state = State.ATTENTION
        message = "Steel contribution {found} is below {least}: a column of reinforced concrete."
    elif delta > high:
        state = State.NOT_CHECKED
        message = "steel contribution {found} is above {largest}: a steel column, EN 1993."
    return Finding(
        "Steel contribution",
        "steel share",
        "EN 1994-1-1, 6.7.1(4)",
        state,
        math.nan,
        "δ = {found} of {least} to {largest}",
        message,
        {"found": number(delta), "least": number(low), "largest": number(high)},
        derive=derive,
    )


def _sides(facts: ColumnFacts) -> Finding:
    x0, y0, x1, y1 = facts.section.outline.bounds

    def derive() -> Derivation:
        record = Derivation()
        rules.side_ratio.into(record, y1 - y0, x1 - x0)
        return record

    least, largest = map(number, rules.SIDES)
    ratio = number(float(rules.side_ratio(y1 - y0, x1 - x0)))
    clause = "EN 1994-1-1, 6.7.3.1(4)"
    return _between("Depth over width", "sides", clause, ratio, least, largest, derive)


def _flange_cover(facts: ColumnFacts) -> Finding:
    """Return the check of the cover of the profile that has the least to spare (6.7.5.1(2))."""

    def spare(part: EmbeddedSteel) -> float:
        least = float(rules.least_flange_cover(part.profile.flange_width))
        return facts.section.steel_cover(part) - least

    part = min(facts.section.steel, key=spare)
    cover, width = facts.section.steel_cover(part), part.profile.flange_width

    def derive() -> Derivation:
        record = Derivation()
        record.given("c", cover, Dimension.LENGTH, "from the steel to the face of the concrete")
        rules.least_flange_cover.into(record, width)
        return record

    least = float(rules.least_flange_cover(width))
    ratio = least / cover
    return Finding(
        "Cover of the steel",
        "steel cover",
        "EN 1994-1-1, 6.7.5.1(2)",
        state_of_ratio(ratio) if ratio > 1 else State.SATISFIED,
        ratio,
        "{found} ≥ {least}" if ratio <= 1 else "{found} < {least}",
        "Cover of the structural steel {found}; {least} required.",
        {"found": length(cover), "least": length(least)},
        derive=derive,
    )


def _bars(facts: ColumnFacts) -> Finding:
    section = facts.section
    area = section.outline.area - section.steel_area - section.bars.total_area

    def derive() -> Derivation:
        record = Derivation()
        rules.bar_share.into(record, section.bars.total_area, area)
        record.note("At least 0.3 % where bars count; no more than 6 % count.")
        return record

    found, least, largest = (
        Term(value, Dimension.SHARE)
        for value in (
            float(rules.bar_share(section.bars.total_area, area)),
            rules.LEAST_SHARE,
            rules.LARGEST_SHARE,
        )
    )
    clause = "EN 1994-1-1, 6.7.3.1(3)"
    return _between("Bar ratio with steel", "bar ratio", clause, found, least, largest, derive)


def _axes(annex: Annex, facts: ColumnFacts) -> list[CompositeAxis]:
    options = options_of(OptionsEN, facts.options, others=True)
    return [
        CompositeAxis(annex, options, facts.cross_section, direction_about(facts, axis), axis)
        for axis in (0, 1)
    ]


def _slenderness(annex: Annex, facts: ColumnFacts, context: Context) -> list[Finding]:
    """Return the check that the relative slenderness is no more than 2 (6.7.3.1(1))."""
    found = []
    for number_of, axis in enumerate(context.second_order.axes):
        if axis.missing or not len(axis.slenderness):
            continue
        relative = float(np.max(axis.slenderness))
        ratio = relative / rules.SLENDERNESS
        if ratio > 1:
            name = "xy"[number_of]
            found.append(
                Finding(
                    f"Relative slenderness about {name}",
                    f"λ {name}",
                    "EN 1994-1-1, 6.7.3.1(1)",
                    State.EXCEEDED,
                    ratio,
                    "{found} > {largest}",
                    f"Relative slenderness about {name} {{found}}; {{largest}} allowed.",
                    {"found": number(relative), "largest": number(rules.SLENDERNESS)},
                    derive=context.deriving(facts, 0, number_of),
                )
            )
    return found


def _buckling(
    annex: Annex, strength: StrengthEN, facts: ColumnFacts, context: Context
) -> list[Finding]:
    """Return the check of the axial force against buckling about each axis (6.7.3.5)."""
    axial = context.demands.rows[:, 0] if len(context.demands.rows) else np.zeros(0)
    if not len(axial) or axial.max() <= 0:
        return []
    at = int(axial.argmax()) // len(context.demands.places)
    combination, largest = context.actions.combinations[at], float(axial.max())
    found = []
    for axis, second in zip(_axes(annex, facts), context.second_order.axes, strict=True):
        if second.missing:
            continue
        l_0 = second.effective
        share = float(np.broadcast_to(second.values["share"], second.moment.shape)[at])

        def calculate(
            record: Derivation | None = None,
            axis: CompositeAxis = axis,
            l_0: float = l_0,
            share: float = share,
        ) -> float:
            relative = axis.relative_slenderness(record, l_0, share)
            alpha = axis.curve[1]
            if record is not None:
                name = "b" if axis.stronger else "c"
                record.given("alpha", alpha, Dimension.RATIO, f"buckling curve {name}, Table 6.5")
            Phi = buckling.buckling_phi.into(record, alpha, relative)
            chi = buckling.buckling_share.into(record, Phi, relative)
            _, total = _resistance(strength, axis.cross, record)
            N_b = buckling.buckling_resistance.into(record, chi, total)
            return float(rules.axial_utilisation.into(record, largest, N_b))

        def derive(calculate: Callable[[Derivation], float] = calculate) -> Derivation:
            record = Derivation()
            calculate(record)
            return record

        ratio, name = calculate(), "xy"[axis.axis]
        found.append(
            Finding(
                f"Buckling under axial force about {name}",
                f"buckling {name}",
                "EN 1994-1-1, 6.7.3.5",
                state_of_ratio(ratio),
                ratio,
                "{combination}: NEd {axial}",
                f"Axial force {{axial}} buckles the lift about {name} in {{combination}}.",
                {"combination": combination, "axial": force(largest)},
                derive=derive,
            )
        )
    return found


@lru_cache(maxsize=64)
def _plastic_strength(strength: StrengthEN, cross: CrossSection) -> Strength:
    """Return the section with plastic blocks over the concrete that counts (6.7.3.2)."""
    (part,) = cross.section.steel
    counted = counted_areas(cross.section.concretes, part, rules.COUNTED)

    def law(concrete: Any) -> Any:
        return uniform_block(strength.concrete_strength(cross, concrete), 0.0)

    yields = strength.bar_strength(cross), strength.steel_strength
    body = body_of(cross, law, *yields, modulus=RIGID, areas=counted)
    planes = reinforced.LimitPlanesEN(PLASTIC_STRAIN / 2, PLASTIC_STRAIN)
    at_end = np.array([PLASTIC_STRAIN / 2])
    largest = sum(float(r.law.stress(at_end)[0]) * r.outline.area for r in body.regions)
    bars = cross.section.bars.total_area * strength.bar_strength(cross)
    return Strength(body, planes, np.ones_like, largest + bars, -(bars + largest), largest + bars)


def _plastic(strength: StrengthEN, facts: ColumnFacts, context: Context) -> list[Finding]:
    """Return the check of moments against plastic moments at their axial force (6.7.3.6–7)."""
    cross, rows = facts.cross_section, context.demands.rows
    clause = "EN 1994-1-1, 6.7.3.6, 6.7.3.7"
    figure = strength.of(cross).body.figure
    doubly = figure.alike(1.0, True) and figure.alike(-1.0, True)
    if not doubly or len(cross.section.steel) > 1:
        return [
            Finding(
                "Simplified method",
                "simplified method",
                "EN 1994-1-1, 6.7.3.1(1)",
                State.ATTENTION,
                math.nan,
                "not for this section",
                "the simplified method is for one profile in a section that is doubly symmetric;"
                " strength is by plane sections (6.7.2).",
                assumption=True,
            )
        ]
    if not len(rows):
        return []
    plastic = _plastic_strength(strength, cross)
    factor = min(
        float(rules.plastic_factor(part.material.yield_strength)) for part in cross.section.steel
    )
    moments = np.abs(rows[:, 1:])
    capacity = np.stack(
        [
            moments_at(plastic, rows[:, 0], list(np.tile(unit, (len(rows), 1))))
            for unit in ((1.0, 0.0), (0.0, 1.0))
        ],
        axis=1,
    )
    # No more than at no axial force: μd above 1 only where the moment comes from that force.
    most = [
        float(moments_at(plastic, np.zeros(1), [np.array(unit)])[0])
        for unit in ((1.0, 0.0), (0.0, 1.0))
    ]
    capacity = np.minimum(capacity, most)
    with np.errstate(divide="ignore", invalid="ignore"):
        shares = np.where(moments > 0, moments / capacity, 0.0)
    ratios = np.maximum(shares.max(axis=1) / factor, shares.sum(axis=1))
    worst = int(ratios.argmax())
    ratio = float(ratios[worst])
    combination = context.actions.combinations[worst // len(context.demands.places)]
    demand = rows[worst]

    def derive() -> Derivation:
        return _derive_plastic(cross, demand, capacity[worst], factor)

    return [
        Finding(
            "Plastic interaction",
            "plastic N–M",
            clause,
            state_of_ratio(ratio),
            ratio,
            "{combination}",
            "Plastic interaction {ratio} in {combination}.",
            {"combination": combination, "ratio": f"{ratio:.2f}"},
            leads=True,
            derive=derive,
        )
    ]


def _derive_plastic(
    cross: CrossSection, demand: FloatArray, capacity: FloatArray, factor: float
) -> Derivation:
    record = Derivation()
    record.given("N_Ed", float(demand[0]), Dimension.FORCE, "demand")
    for axis, moment, plastic in zip("xy", demand[1:], capacity, strict=True):
        record.given(f"M_Ed{axis}", abs(float(moment)), Dimension.MOMENT, "demand")
        source = "plastic blocks at NEd, no more than at N = 0"
        record.given(f"M_pl_N{axis}_Rd", float(plastic), Dimension.MOMENT, source)
    weakest = max(part.material.yield_strength for part in cross.section.steel)
    source = f"steel of {weakest:g} MPa, 6.7.3.6(1)"
    record.given("alpha_M", factor, Dimension.RATIO, source)
    if not capacity.all():
        record.note("The axial force alone is beyond the plastic resistance.")
        return record
    for axis, moment, plastic in zip("xy", demand[1:], capacity, strict=True):
        compared = rules.plastic_utilisation.named(M_Ed=f"M_Ed{axis}", M_pl_N_Rd=f"M_pl_N{axis}_Rd")
        compared.into(record, abs(float(moment)), factor, float(plastic))
    rules.plastic_interaction.into(
        record,
        *(abs(float(demand[1])), float(capacity[0])),
        *(abs(float(demand[2])), float(capacity[1])),
    )
    return record


def _introduction() -> Finding:
    return Finding(
        "Load introduction",
        "load introduction",
        "EN 1994-1-1, 6.7.4",
        State.ATTENTION,
        math.nan,
        "not checked",
        "how the load comes into steel and concrete is not checked; it is to be shown.",
        assumption=True,
    )
