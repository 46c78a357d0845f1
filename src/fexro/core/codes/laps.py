"""Bars where they are lapped: their ratio with the doubled bars, and what is clear between laps."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.facts import ColumnFacts, Laps
from fexro.core.findings import Finding, State, length, number, state_of_ratio
from fexro.core.provisions import Derivation, Term, provision
from fexro.core.quantities import Area, Dimension, Length, Ratio
from fexro.core.section.lapped import largest_tension
from fexro.core.section.section import Section
from fexro.core.strength.body import Body
from fexro.core.strength.equilibrium import strain_plane
from fexro.core.strength.state import SectionState

__all__ = ["MOST_TENSION", "bar_tension", "clear_of_laps", "lap_finding", "ratio_at_laps"]

MOST_TENSION = 8  # demands in which the stress of the bars is sought

# How often each bar counts where some of them are lapped.
TIMES: dict[Laps, float] = {"one level": 2.0, "half": 1.5, "none": 1.0}
WORDS = {"one level": "all bars lapped at one level", "half": "half of the bars lapped at a level"}


@provision("with laps", symbol="rho_lap")
def ratio_at_laps(n: Ratio, A_s: Area, A: Area) -> Ratio:
    """Reinforcement over concrete where bars are lapped."""
    return n * A_s / A


@provision("with laps", symbol="s_lap")
def clear_of_laps(s: Length, d: Length) -> Length:
    """Clear distance beside a lap whose second bar stands next to the first on the ring."""
    return s - d


def bar_tension(section: Section, body: Body, demands: FloatArray) -> float | None:
    """Return the largest tension in any bar, MPa; nothing where a demand is more than is carried.

    It is sought in the demands with the most tension at an edge of the uncracked section.

    Args:
        section: the section.
        body: the same with the laws under which it is in equilibrium.
        demands: N, Mx, My, (D, 3), N and N·mm.
    """
    edge = largest_tension(section, demands)
    largest = 0.0
    for demand in demands[np.argsort(-edge)[:MOST_TENSION]]:
        plane = strain_plane(body, demand)
        if plane is None:
            return None
        largest = max(largest, -float(SectionState(body, plane).stress.min()))
    return largest


def lap_finding(
    facts: ColumnFacts,
    clause: str,
    largest: float,
    least_of: Callable[[Any, Derivation | None], Any],
) -> list[Finding]:
    """Return the check of ratio and clear distance where bars are lapped.

    Args:
        facts: the column.
        clause: clause of the limits.
        largest: share of the concrete up to which bars may be there.
        least_of: the least clear distance of laps for diameters, mm; writes into a derivation.
    """
    times = TIMES[facts.laps]
    if times == 1.0:
        return []
    section, bars = facts.section, facts.section.bars
    area = section.outline.area - section.steel_area
    found = float(ratio_at_laps(times, bars.total_area, area))
    closest = bars.closest
    every = np.asarray(least_of(closest.larger, None))
    pair = int((closest.clear - closest.larger - every).argmin())
    i, j = int(closest.first[pair]), int(closest.second[pair])
    clear, larger, least = (float(x[pair]) for x in (closest.clear, closest.larger, every))
    left = clear - larger
    enough = left >= least - 1e-9

    def derive() -> Derivation:
        record = Derivation()
        record.note(f"Taken: {WORDS[facts.laps]}.")
        record.given("n", times, Dimension.RATIO, "how often each bar counts")
        ratio_at_laps.into(record, times, bars.total_area, area)
        record.note("Allowed: {largest}.", largest=Term(largest, Dimension.SHARE))
        if len(bars) > 1:
            record.given("s", clear, Dimension.LENGTH, f"bars {i + 1} and {j + 1}")
            clear_of_laps.into(record, clear, larger)
            least_of(larger, record)
        return record

    ratio = found / largest
    values: dict[str, Term | str] = {
        "found": Term(found, Dimension.SHARE),
        "largest": Term(largest, Dimension.SHARE),
    }
    if ratio > 1:
        return [
            Finding(
                *("Bars at laps", "laps", clause, State.EXCEEDED, ratio),
                "{found} > {largest}",
                f"Bar ratio {{found}} with {WORDS[facts.laps]}; {{largest}} allowed.",
                values,
                derive=derive,
            )
        ]
    if not enough:
        values |= {
            "left": length(max(left, 0.0)),
            "least": length(least),
            "i": number(i + 1),
            "j": number(j + 1),
        }
        return [
            Finding(
                *("Bars at laps", "laps", clause, State.ATTENTION, math.nan),
                "{left} < {least} beside laps",
                "Laps on the ring leave {left} clear at bars {i} and {j}, {least} required; lap"
                " inside the ring.",
                values,
                derive=derive,
            )
        ]
    return [
        Finding(
            *("Bars at laps", "laps", clause, state_of_ratio(ratio), ratio),
            "{found} of {largest}",
            "Bar ratio {found} with laps; {largest} allowed.",
            values,
            derive=derive,
        )
    ]
