"""What was found of a lift, in sentences."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from fexro.core.findings import Finding, State
from fexro.core.members.bending import SECOND_ORDER
from fexro.core.members.existing import failure_order
from fexro.core.members.lift import LiftResult
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.tables import sentence

__all__ = [
    "assumptions_of",
    "detail_of",
    "failing_first",
    "message_of",
    "remarks_of",
    "summary_of",
    "verdict_of",
]

NAMED = 3  # lifts that a sentence names


def detail_of(finding: Finding, system: UnitSystem) -> str:
    """Return what was found against what is allowed."""
    return sentence(finding.detail, finding.values, system)


def message_of(finding: Finding, system: UnitSystem) -> str:
    """Return the sentence for what is not satisfied."""
    return sentence(finding.message, finding.values, system)


def verdict_of(result: LiftResult, system: UnitSystem) -> str:
    """Return the verdict as a sentence."""
    finding = result.governing
    # A check of strength may say its combination without following the one that is selected.
    named = finding.combination or (finding.values.get("combination") if finding.leads else None)
    place = f" in {named}" if named else ""
    subject = finding.name[0].lower() + finding.name[1:]
    match finding.state:
        case State.EXCEEDED if finding.combination is not None:
            over = 100 * (finding.ratio - 1)
            percent = f"{over:.0f}" if over >= 1 else f"{over:.1f}"
            return f"Exceeds by {percent} %: {subject}{place}{_without(result)}."
        case State.NOT_CHECKED:
            return f"Not checked: {message_of(finding, system)}"
        case State.ATTENTION if finding.combination is not None:
            return f"Close to its limit, {finding.ratio:.2f}: {subject}{place}{_without(result)}."
        case State.SATISFIED:
            if finding.name.startswith(SECOND_ORDER):
                return f"Strength met, {finding.ratio:.2f}{place}{_without(result)}."
            if not finding.leads and not math.isnan(finding.ratio):
                return f"All met; nearest to its limit, {finding.ratio:.2f}: {subject}{place}."
            return f"Section strength met, {finding.ratio:.2f}{place}."
    return message_of(finding, system)


def _without(result: LiftResult) -> str:
    """Return the ratio without slenderness, where second-order bending governs."""
    finding, before = result.governing, result.first_order
    if not finding.name.startswith(SECOND_ORDER) or math.isnan(before):
        return ""
    return f"; without slenderness {before:.2f}"


def assumptions_of(results: Mapping[Any, LiftResult], system: UnitSystem) -> list[str]:
    """Return what was assumed, each once, with the lifts it was assumed of; for all lifts first."""
    found: dict[str, list[str]] = {}
    for key, result in results.items():
        for finding in result.findings:
            if finding.assumption:
                found.setdefault(message_of(finding, system), []).append(str(key))
    sentences = []
    for message, keys in sorted(found.items(), key=lambda item: (-len(item[1]), item[0])):
        if len(keys) == len(results):
            who = "All lifts"
        else:
            more = f" and {len(keys) - NAMED} more" if len(keys) > NAMED else ""
            who = ", ".join(keys[:NAMED]) + more
        sentences.append(f"{who}: {message}")
    return sentences


def failing_first(result: LiftResult) -> str:
    """Return in which order an existing column fails, line by line; nothing of a new one."""
    if result.lift.facts.age == "new":
        return ""
    parts = []
    for place, mode in enumerate(failure_order(result.findings), start=1):
        of = "of what is asked" if mode.kind == "ties" else "of the forces"
        parts.append(f"{place} {mode.kind} at {mode.share:.2f} {of}")
    return "\n".join(["What fails first:", *parts]) if parts else ""


def summary_of(result: LiftResult, system: UnitSystem) -> tuple[str, ...]:
    """Return the verdict, and what else a person should look at."""
    return verdict_of(result, system), *remarks_of(result, system)


def remarks_of(result: LiftResult, system: UnitSystem) -> tuple[str, ...]:
    """Return what else a person should look at: messages that the verdict leaves out."""
    messages = [
        message_of(finding, system)
        for finding in result.findings
        if finding.state > State.SATISFIED and finding is not result.governing
    ]
    return tuple(message[0].upper() + message[1:] for message in messages)
