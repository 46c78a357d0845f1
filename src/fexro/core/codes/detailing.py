"""Checks of detailing that codes put alike, each with its own limits."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np

from fexro.core.codes import Context
from fexro.core.codes.transverse_checks import noted
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, length, moment, number, state_of_ratio
from fexro.core.provisions import Derivation
from fexro.core.quantities import Dimension
from fexro.core.section.ties import Arrangement, HeldRule, arrange

__all__ = [
    "bar_count_finding",
    "clear_spacing_finding",
    "held_findings",
    "not_yet_checked",
    "planted_findings",
    "torsion_not_checked",
]

NO_TORSION = 1e3  # N·mm, up to which it is a rounding


def bar_count_finding(
    facts: ColumnFacts, clause: str, least_of: Callable[[Derivation | None], float]
) -> Finding:
    """Return the check of the number of bars.

    Args:
        facts: the column.
        clause: clause of the limit.
        least_of: the least number; writes into a derivation, if any.
    """
    count, least = len(facts.section.bars), least_of(None)

    def derive() -> Derivation:
        record = Derivation()
        record.given("n", count, Dimension.RATIO, "bars of the call-out")
        least_of(record)
        return record

    enough = count >= least
    return Finding(
        "Number of bars",
        "bars",
        clause,
        State.SATISFIED if enough else State.EXCEEDED,
        least / count,
        "{found} ≥ {least}" if enough else "{found} < {least}",
        "{found} bars; at least {least} required.",
        {"found": number(count), "least": number(least)},
        derive=derive,
    )


def clear_spacing_finding(
    facts: ColumnFacts, clause: str, least_of: Callable[[Any, Derivation | None], Any]
) -> Finding:
    """Return the check of the clear spacing of bars, for the pair with the least to spare.

    Args:
        facts: the column.
        clause: clause of the limit.
        least_of: the provision: for diameters, mm, of any shape; writes into a derivation, if any.
    """
    closest = facts.section.bars.closest
    least = least_of(closest.larger, None)
    pair = int((least / np.maximum(closest.clear, 1e-9)).argmax())
    i, j = int(closest.first[pair]), int(closest.second[pair])
    spacing, required = float(closest.clear[pair]), float(least[pair])

    def derive() -> Derivation:
        record = Derivation()
        least_of(float(closest.larger[pair]), record)
        record.given("s", spacing, Dimension.LENGTH, f"clear, bars {i + 1} and {j + 1}")
        return record

    ratio = required / max(spacing, 1e-9)
    return Finding(
        "Clear bar spacing",
        "spacing",
        clause,
        state_of_ratio(ratio),
        ratio,
        "{found} ≥ {least}" if ratio <= 1 else "{found} < {least}",
        "Clear spacing {found} of bars {i} and {j}; {least} required.",
        {
            "found": length(spacing),
            "least": length(required),
            "i": number(i + 1),
            "j": number(j + 1),
        },
        derive=derive,
    )


REASONS = {
    "corner": "it stands in a corner",
    "alternate": "the next bar is not held either",
    "distance": "it is too far from a held bar",
}


def held_findings(rule: HeldRule, facts: ColumnFacts, _: Context) -> list[Finding]:
    """Return the check that bars are held by ties, for the bar that has the most need of one.

    Args:
        rule: of the code.
        facts: the column.
    """
    section = facts.section
    if not section.corner_count or section.tie_ring is None:
        return []
    ties = arrange(section, rule)
    derive = partial(_derive_held, ties)
    if ties.stale:
        assert section.inner_ties is not None
        return [
            Finding(
                "Bars held by ties",
                "held bars",
                rule.clause,
                State.NOT_CHECKED,
                math.nan,
                "placed for other bars",
                "ties were placed by hand for {count} bars; lay them out anew.",
                {"count": number(section.inner_ties[0])},
                derive=derive,
            )
        ]
    wrong = [one for one in ties.unheld if one.reasons]
    inside = f"; {len(ties.inside)} inside the outer layer not looked at" if ties.inside else ""
    if not wrong:
        loose = len(ties.unheld)
        said = "every bar" if not loose else f"all but {loose} that need none"
        return [
            Finding(
                *("Bars held by ties", "held bars", rule.clause, State.SATISFIED, math.nan),
                said + inside,
                "",
                derive=derive,
            )
        ]
    worst = max(wrong, key=lambda one: one.nearer)
    return [
        Finding(
            "Bars held by ties",
            "held bars",
            rule.clause,
            State.EXCEEDED,
            math.nan,
            "{count} not held" + inside,
            "{count} of the bars are not held by a tie: bar {bar}, {distance} from a held bar.",
            {
                "count": number(len(wrong)),
                "bar": number(worst.bar + 1),
                "distance": length(worst.nearer) if math.isfinite(worst.nearer) else "far",
            },
            derive=derive,
        )
    ]


def _derive_held(ties: Arrangement) -> Derivation:
    record, rule = Derivation(), ties.rule
    along_x, along_y = ties.legs
    record.given("n_x", along_x, Dimension.RATIO, "legs along x at the centroid")
    record.given("n_y", along_y, Dimension.RATIO, "legs along y at the centroid")
    how = "clear along the ring" if rule.clear else "between centres along the ring"
    sides = "to both sides" if rule.both else "to the nearer side"
    record.note(
        f"A bar may be {{most}} from a held one, {how}, {sides}.", most=length(rule.distance)
    )
    if rule.alternate:
        record.note("Every corner bar and every second bar is held.")
    for one in ties.unheld:
        reasons = ", ".join(REASONS[reason] for reason in one.reasons) or "no need"
        near = [value if math.isfinite(value) else 0.0 for value in (one.before, one.after)]
        record.note(
            f"Bar {one.bar + 1}: {{before}} and {{after}} to held bars; {reasons}.",
            before=length(near[0]),
            after=length(near[1]),
        )
    if ties.inside:
        named = ", ".join(str(bar + 1) for bar in ties.inside[:12])
        record.note(f"Inside the outer layer, not looked at: bars {named}.")
    return record


def planted_findings(facts: ColumnFacts, _: Context) -> list[Finding]:
    """Return that a lift is planted: its foot is taken as it were a foundation."""
    bottom = facts.about_x.bottom
    if not (bottom.planted or facts.about_y.bottom.planted):
        return []
    told = (
        "nothing stands below it while the building has storeys below: it is planted. Its foot is"
        f" taken as {bottom.kind}, and what carries it is not checked."
    )
    return [
        Finding(
            *("Planted column", "planted", "", State.ATTENTION, math.nan),
            f"foot taken as {bottom.kind}",
            told,
            derive=noted(f"{told[0].upper()}{told[1:]}"),
        )
    ]


def torsion_not_checked(facts: ColumnFacts, context: Context) -> list[Finding]:
    """Return that torsion is not checked: a note without any, else for a person to look at."""
    turned = np.abs(context.actions.torsion)
    if not turned.size or turned.max() <= NO_TORSION:
        return not_yet_checked("torsion", facts, context)
    row = int(turned.max(axis=1).argmax())
    combination = context.actions.combinations[row]
    return [
        Finding(
            *("Torsion", "torsion", "", State.ATTENTION, math.nan),
            "{found}, not checked",
            "torsion of {found} in {combination} is not checked.",
            {"found": moment(float(turned[row].max())), "combination": combination},
            derive=noted("Rules for torsion are not part of this verdict."),
        )
    ]


def not_yet_checked(what: str, facts: ColumnFacts, context: Context) -> list[Finding]:
    """Return the note that a code has no rules here yet for a topic; `what` names it."""

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Rules for {what} are not part of this verdict.")
        return record

    return [
        Finding(
            what[0].upper() + what[1:],
            what,
            "",
            State.ATTENTION,
            math.nan,
            "not yet checked",
            "{what} not yet checked.",
            {"what": what[0].upper() + what[1:]},
            assumption=True,
            derive=derive,
        )
    ]
