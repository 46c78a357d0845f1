"""Cover by exposure and fire, as codes put it alike."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from fexro.core.codes.transverse_checks import limit_finding
from fexro.core.findings import Finding, State, length
from fexro.core.provisions import Derivation
from fexro.core.section.section import Section

__all__ = [
    "cover_finding",
    "cover_not_checked",
    "fire_not_checked",
    "fire_size_finding",
    "largest_bar",
    "least_axis_distance",
]


def largest_bar(section: Section) -> float:
    """Return the diameter of the largest bar of a section, mm."""
    return float(section.bars.diameter.max())


def least_axis_distance(section: Section) -> float:
    """Return the least distance from an outer face to the middle of a bar, mm."""
    import shapely

    edge = shapely.LinearRing(section.outline.rings[0])
    points = shapely.points(section.bars.x, section.bars.y)
    return float(np.asarray(shapely.distance(points, edge)).min())


def cover_finding(
    clause: str, found: float, least: float, ties: str, derive: Callable[[], Derivation]
) -> Finding:
    """Return the check of the cover to ties against what the exposure asks, mm.

    Args:
        clause: of the code.
        found, least: covers.
        ties: what the code calls them.
        derive: writes the calculation.
    """
    return limit_finding(
        *("Cover by exposure", "cover", clause),
        length(found),
        length(least),
        f"Cover of {{found}} to the {ties}; {{limit}} required.",
        derive,
        at_least=True,
    )


def fire_size_finding(
    clause: str, found: float, least: float, derive: Callable[[], Derivation]
) -> Finding:
    """Return the check of the least dimension of a column in fire, mm."""
    return limit_finding(
        *("Least dimension in fire", "fire", clause),
        length(found),
        length(least),
        "The least dimension is {found}; {limit} required in fire.",
        derive,
        at_least=True,
    )


def cover_not_checked(clause: str, why: str) -> Finding:
    """Return that the cover is not checked against an exposure, and why."""
    return _not_checked("Cover by exposure", "cover", clause, f"cover is not checked: {why}.")


def fire_not_checked(clause: str, reasons: Sequence[str]) -> Finding:
    """Return that fire resistance is not checked, and why."""
    why = "; ".join(reasons)
    return _not_checked("Fire resistance", "fire", clause, f"fire is not checked: {why}.")


def _not_checked(name: str, short: str, clause: str, message: str) -> Finding:
    def derive() -> Derivation:
        record = Derivation()
        record.note(f"{message[0].upper()}{message[1:]}")
        return record

    return Finding(
        *(name, short, clause, State.ATTENTION, np.nan),
        "not checked",
        message,
        assumption=True,
        derive=derive,
    )
