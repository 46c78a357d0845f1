"""Bars that go on into the lift above where faces step, as codes put it alike."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from fexro.core.codes.options import number
from fexro.core.codes.transverse_checks import limit_finding
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, force, length
from fexro.core.provisions import Derivation
from fexro.core.section.offsets import FaceStep, bars_differ, face_steps
from fexro.core.transverse import Transverse

__all__ = [
    "AT_BEND",
    "OffsetOptions",
    "bend_finding",
    "dowel_finding",
    "largest_step",
    "sets_at_bend",
    "through_findings",
]

AT_BEND = 150.0  # mm from a bend, within which ties count for it (ACI 10.7.6.4)
LEAST = 1.0  # mm, below which faces do not step


@dataclass(frozen=True)
class OffsetOptions:
    """How lapped bars are offset.

    Attributes:
        crank: they lean by 1 in so much.
    """

    TITLE: ClassVar[str] = "Bars that go on"

    crank: float = number("Offset bars lean 1 in", 10.0, 4.0, 20.0)


def largest_step(facts: ColumnFacts) -> FaceStep | None:
    """Return the face that stands back the most at the floor above; nothing where none does."""
    if facts.above is None or facts.above.laps == "none":
        return None
    steps = face_steps(facts.section, facts.above.cross_section.section)
    worst = max(steps, key=lambda step: step.inward)
    return worst if worst.inward > LEAST else None


def through_findings(facts: ColumnFacts) -> list[Finding]:
    """Return what is to be looked at where bars go on, and where the lift above is wider."""
    if facts.above is None:
        return []
    above, found = facts.above.cross_section.section, []
    if facts.above.laps == "none" and bars_differ(facts.section, above):
        found.append(
            _remark(
                "Bars that run through",
                "the lift above has other bars",
                "The lift above has no laps, but other bars than this one.",
            )
        )
    if min(step.inward for step in face_steps(facts.section, above)) < -LEAST:
        found.append(
            _remark(
                "Faces at the floor above",
                "the lift above is wider",
                "The lift above is wider: its bars begin in the floor, lapped with dowels.",
            )
        )
    return found


def _remark(name: str, detail: str, message: str) -> Finding:
    def derive() -> Derivation:
        record = Derivation()
        record.note(message)
        return record

    return Finding(
        *(name, "bars above", "", State.ATTENTION, math.nan), detail, message, derive=derive
    )


def dowel_finding(
    clause: str, found: float, limit: float, derive: Callable[[], Derivation]
) -> Finding:
    """Return that a face steps so far that bars are not offset but lapped with dowels, mm."""
    return Finding(
        *("Faces at the floor above", "dowels", clause, State.ATTENTION, math.nan),
        "{found} ≥ {limit}",
        "Faces step {found} at the floor above: dowels are lapped with both lifts.",
        {"found": length(found), "limit": length(limit)},
        derive=derive,
    )


def sets_at_bend(transverse: Transverse) -> int:
    """Return how many sets of ties stand within 150 mm of a bend."""
    return 1 + int(np.floor(AT_BEND / transverse.at_ends))


def bend_finding(
    clause: str, ties: str, pushed: float, resisted: float, derive: Callable[[], Derivation]
) -> Finding:
    """Return the check of the ties at the bend of offset bars, N.

    Args:
        clause: of the code.
        ties: what the code calls them.
        pushed, resisted: lateral force of the bars of a face, and what the ties carry.
        derive: writes the calculation.
    """
    return limit_finding(
        *(f"{ties} at the bend of offset bars", "offset bars", clause),
        force(pushed),
        force(resisted),
        f"Offset bars push with {{found}}; the {ties.lower()} at the bend carry {{limit}}.",
        derive,
    )
