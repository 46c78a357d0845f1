"""Columns that stand already: what is told rather than asked, and what would fail first."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace

from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, Topic, number
from fexro.core.provisions import Derivation

__all__ = ["FailureMode", "as_built", "failure_order"]

DETAILING: tuple[Topic, ...] = ("detailing", "ductility")
TIES = ("tie spacing", "link spacing", "hoop spacing", "spiral pitch")


@dataclass(frozen=True, eq=False)
class FailureMode:
    """A way in which a column can fail.

    Attributes:
        kind: `bending`, `shear`, `laps` or `ties`.
        finding: the check behind it.
        share: of the forces at which it is reached, as if all grew together; of ties the share of
            what they would have to be.
    """

    kind: str
    finding: Finding
    share: float


def as_built(facts: ColumnFacts, findings: Iterable[Finding]) -> list[Finding]:
    """Return the findings of a column; of one that stands, detailing is told and not asked.

    What the column resists, with the bars and ties that are there, stays as it is.
    """
    if facts.age == "new":
        return list(findings)
    found = []
    for finding in findings:
        if finding.state is State.EXCEEDED and finding.topic in DETAILING and not finding.resists:
            message = f"As built: {finding.message[0].lower()}{finding.message[1:]}"
            finding = replace(finding, state=State.ATTENTION, message=message)
        found.append(finding)
    return [*found, _existing(facts)]


def _existing(facts: ColumnFacts) -> Finding:
    known = number(facts.knowledge)

    def derive() -> Derivation:
        record = Derivation()
        record.note("The strengths of concrete and bars are {known} of those given.", known=known)
        record.note("Rules for how new columns are detailed are told; what resists is checked.")
        return record

    return Finding(
        *("Existing column", "existing", "", State.ATTENTION, math.nan),
        "strengths times {known}",
        "existing: strengths of materials count {known} times; detailing is told, not asked.",
        {"known": known},
        assumption=True,
        topic="detailing",
        derive=derive,
    )


def failure_order(findings: Iterable[Finding]) -> tuple[FailureMode, ...]:
    """Return the ways in which a column can fail, what comes first at first; one of each kind."""
    worst: dict[str, FailureMode] = {}
    for finding in findings:
        kind = _kind(finding)
        if kind is None or math.isnan(finding.ratio) or finding.ratio <= 0:
            continue
        mode = FailureMode(kind, finding, 1 / finding.ratio)
        if kind not in worst or mode.share < worst[kind].share:
            worst[kind] = mode
    return tuple(sorted(worst.values(), key=lambda mode: mode.share))


def _kind(finding: Finding) -> str | None:
    if finding.leads:
        return "bending"
    if finding.resists:
        return "laps" if finding.short == "laps" else "shear"
    return "ties" if finding.short in TIES else None
