"""Checks of ties and of shear that codes put alike, each with its own limits."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from fexro.core.actions import ENDS, Actions
from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.core.facts import ColumnFacts
from fexro.core.findings import Finding, State, force, length, state_of_ratio
from fexro.core.provisions import Derivation, Term
from fexro.core.quantities import Dimension
from fexro.core.section.section import Section
from fexro.core.section.ties import HeldRule, arrange
from fexro.core.tie_zones import first_tie
from fexro.core.transverse import Transverse, Zone

__all__ = [
    "SMALLEST",
    "ShearDemands",
    "capacity_shear_finding",
    "first_tie_finding",
    "hooks_finding",
    "lap_length_finding",
    "limit_finding",
    "no_shear_finding",
    "noted",
    "same_steel_findings",
    "shear_demands",
    "shear_finding",
    "size_finding",
    "spacing_finding",
    "square_spiral_finding",
    "transverse_of",
    "with_earthquake",
    "worst_of",
]

ZONE_WORDS: dict[Zone, str] = {
    "end": "next to the joints",
    "middle": "between the end zones",
    "lap": "at laps",
}
SMALLEST = 1.0  # N, below which no shear acts


def transverse_of(facts: ColumnFacts, rule: HeldRule) -> Transverse:
    """Return the ties of a lift, with legs and held bars as they are arranged by a rule."""
    lapped = facts.laps != "none"
    return _transverse(facts.section, facts.transverse_steel.yield_strength, rule, lapped)


@lru_cache(maxsize=2048)
def _transverse(section: Section, strength: float, rule: HeldRule, lapped: bool) -> Transverse:
    ties = section.ties
    end = ties.spacing if ties.end is None else ties.end
    lap = (end if ties.lap is None else ties.lap) if lapped else None
    zones = ties.spacing, end, lap
    if ties.spiral:
        held = (True,) * len(section.bars)
        return Transverse("spiral", ties.size, strength, *zones, held=held)
    found = arrange(section, rule)
    held = tuple(map(bool, found.held))
    if section.round:
        return Transverse("circular ties", ties.size, strength, *zones, held=held)
    return Transverse("ties", ties.size, strength, *zones, legs=found.legs, held=held)


@dataclass(frozen=True, eq=False)
class ShearDemands:
    """Axial force and shear of all combinations along a lift, N.

    Attributes:
        axial: (D,).
        along: without sign along x and along y, (2, D).
        combination: number of the combination of each, (D,).
        places: where each acts, (D,).
        zones: of the ties there, (D,).
    """

    axial: FloatArray
    along: FloatArray
    combination: IntArray
    places: tuple[str, ...]
    zones: tuple[Zone, ...]

    @property
    def none_given(self) -> bool:
        """Whether no shear acts anywhere."""
        return not bool((self.along > SMALLEST).any())

    @property
    def resultant(self) -> ShearDemands:
        """The same with the resultant of both directions in place of each: for circles."""
        both = np.hypot(*self.along)
        return replace(self, along=np.stack([both, both]))

    def spacing(self, transverse: Transverse) -> FloatArray:
        """Return the spacing of the ties at each, (D,), mm."""
        return np.array([transverse.spacing(zone) for zone in self.zones])


def shear_demands(actions: Actions, end_zone: float) -> ShearDemands:
    """Return axial force and shear along a lift.

    Where nothing acts between the ends they are as large in the middle as at the ends.

    Args:
        actions: the forces as analysed.
        end_zone: share of the height next to each end that has the ties of end zones.
    """
    if actions.between is None:
        forces, names = actions.forces, actions.stations
        zones: list[Zone] = ["middle"] * len(names)
        names = tuple(f"at the {name}" if name in ENDS else name for name in names)
    else:
        places, forces = actions.between.places, actions.between.forces
        inside = (places > end_zone) & (places < 1 - end_zone)
        zones = ["middle" if within else "end" for within in inside]
        names = tuple(f"at {share:.2f} of the height" for share in places)
    count, stations = forces.shape[:2]
    rows = forces.reshape(-1, forces.shape[-1])
    return ShearDemands(
        rows[:, 0],
        np.abs(rows[:, 1:3]).T,
        np.repeat(np.arange(count), stations),
        names * count,
        tuple(zones) * count,
    )


def noted(text: str) -> Callable[[], Derivation]:
    """Return what writes a note and nothing else."""

    def derive() -> Derivation:
        record = Derivation()
        record.note(text)
        return record

    return derive


def same_steel_findings(facts: ColumnFacts, name: str) -> list[Finding]:
    """Return the note that ties are taken to be of the steel of the bars, where none is given.

    Args:
        facts: the lift.
        name: of its ties.
    """
    if facts.tie_steel is not None:
        return []
    return [
        Finding(
            *(f"Steel of the {name}", "", "", State.ATTENTION, math.nan),
            "that of the bars",
            f"{name} are taken to be of the steel of the bars.",
            assumption=True,
            derive=noted(f"No steel of its own is given for the {name}."),
        )
    ]


def hooks_finding(ties: str, clause: str) -> Finding:
    """Return the note of how the ties of ductile frames are taken to be hooked.

    Args:
        ties: what the code calls them.
        clause: of the code.
    """
    told = f"{ties} are taken to have hooks of 135° into the core"
    return Finding(
        *("Hooks", "hooks", clause, State.ATTENTION, math.nan),
        "135°, into the core",
        f"{told} ({clause}).",
        assumption=True,
        derive=noted(f"{told[0].upper()}{told[1:]}; drawings are to show them."),
    )


def first_tie_finding(
    clause: str, transverse: Transverse, largest: float, derive: Callable[[], Derivation]
) -> Finding:
    """Return the check of how far the first tie is from the slab, as ties are laid out.

    Args:
        clause: of the code.
        transverse: the ties.
        largest: distance allowed, mm.
        derive: writes the calculation.
    """
    found = limit_finding(
        *("First tie from the slab", "first tie", clause),
        length(first_tie(transverse)),
        length(largest),
        "The first tie is {found} from the slab; {limit} allowed.",
        derive,
    )
    # It is laid out as it has to be; a ratio would lead where nothing is close to a limit.
    return replace(found, ratio=math.nan) if found.state is State.SATISFIED else found


def square_spiral_finding(clause: str) -> Finding:
    """Return the note that a spiral in a section that is no circle is not checked."""
    return Finding(
        *("Spiral", "spiral", clause, State.ATTENTION, math.nan),
        "not checked",
        "a spiral in a section that is no circle is not checked for its pitch and ratio.",
        assumption=True,
        derive=noted("The diameter of its core is not known."),
    )


def no_shear_finding(clause: str) -> Finding:
    """Return the note that no shear is given."""
    return Finding(
        *("Shear", "shear", clause, State.ATTENTION, math.nan),
        "no shear given",
        "no shear forces are given; shear is not checked.",
        assumption=True,
        derive=noted("Vx and Vy are zero in every combination."),
    )


def shear_finding(
    clause: str,
    actions: Actions,
    demands: ShearDemands,
    ratios: Sequence[FloatArray],
    strengths: Sequence[FloatArray],
    derive: Callable[[int], Derivation],
) -> Finding:
    """Return the check of shear for the demand that governs.

    Args:
        clause: of the code.
        actions: the forces as analysed.
        demands: what acts.
        ratios: along x, along y, and of both together, (D,) each; of circles that of the resultant.
        strengths: likewise along x and along y, N, (D,) each.
        derive: writes the calculation of a demand by its number.
    """
    largest = np.max(ratios, axis=0)
    at = int(np.nan_to_num(largest, nan=np.inf).argmax())
    ratio = float(largest[at])
    each = [float(values[at]) for values in ratios]
    combination = actions.combinations[int(demands.combination[at])]
    axis = int(np.argmax(each[:2]))
    along = f" along {'xy'[axis]}" if len(ratios) > 1 else ""
    values: dict[str, Term | str] = {
        "found": force(float(demands.along[axis, at])),
        "strength": force(float(np.broadcast_to(strengths[axis], largest.shape)[at])),
        "place": demands.places[at],
        "combination": combination,
    }
    together = ratio > max(each[:2]) + 1e-12
    detail = f"{{found}}{along} of {{strength}}" + (", with both directions" if together else "")
    return Finding(
        "Shear in both directions" if together else f"Shear{along}",
        "shear",
        clause,
        state_of_ratio(ratio),
        ratio,
        detail,
        f"Shear {{found}}{along} {{place}} in {{combination}}; {{strength}} is resisted.",
        values,
        combination=combination,
        resists=True,
        derive=lambda: derive(at),
    )


def size_finding(
    name: str, clause: str, found: float, least: float, derive: Callable[[], Derivation]
) -> Finding:
    """Return the check of the diameter of ties, mm.

    Args:
        name: what the code calls it.
        clause: of the code.
        found, least: diameters.
        derive: writes the calculation.
    """
    enough = found >= least - 1e-3
    return Finding(
        f"{name} size",
        f"{name.lower()} size",
        clause,
        State.SATISFIED if enough else State.EXCEEDED,
        least / found,
        "{found} ≥ {least}" if enough else "{found} < {least}",
        f"{name}s of {{found}}; at least {{least}} required.",
        {"found": length(found), "least": length(least)},
        derive=derive,
    )


def spacing_finding(
    name: str,
    clause: str,
    transverse: Transverse,
    largest: Mapping[Zone, float],
    derive: Callable[[], Derivation],
) -> Finding:
    """Return the check of the spacing of ties, in the zone that has the least to spare.

    Args:
        name: what the code calls them.
        clause: of the code.
        transverse: the ties.
        largest: spacing allowed in each zone, mm.
        derive: writes the calculation.
    """
    spacings = transverse.spacings
    zone = max(spacings, key=lambda one: spacings[one] / largest[one])
    found, allowed = spacings[zone], largest[zone]
    ratio = found / allowed
    alike = len(set(spacings.values())) == 1 and len(set(largest.values())) == 1
    where = "" if alike else f" {ZONE_WORDS[zone]}"
    fits = ratio <= 1 + 1e-6

    def written() -> Derivation:
        record = derive()
        for one, value in spacings.items():
            record.given("s", value, Dimension.LENGTH, ZONE_WORDS[one])
        return record

    return Finding(
        f"{name} spacing",
        f"{name.lower()} spacing",
        clause,
        # A spacing at its limit is as the code has it.
        State.SATISFIED if fits else State.EXCEEDED,
        ratio,
        ("{found} ≤ {largest}" if fits else "{found} > {largest}") + where,
        f"{name}s at {{found}}{where}; {{largest}} allowed.",
        {"found": length(found), "largest": length(allowed)},
        derive=written,
    )


def limit_finding(
    name: str,
    short: str,
    clause: str,
    found: Term,
    limit: Term,
    message: str,
    derive: Callable[[], Derivation],
    *,
    at_least: bool = False,
) -> Finding:
    """Return the check of a number against a limit, at which it is satisfied.

    Args:
        name, short: what is checked.
        clause: of the code.
        found, limit: the numbers.
        message: sentence for where it is not met; `{found}` and `{limit}` stand for the numbers.
        derive: writes the calculation.
        at_least: whether the limit is the least, else the most.
    """
    one, other = float(found.value), float(limit.value)
    ratio = other / max(one, 1e-12) if at_least else one / max(other, 1e-12)
    met = ratio <= 1 + 1e-6
    sign = ("≥" if met else "<") if at_least else ("≤" if met else ">")
    return Finding(
        name,
        short,
        clause,
        State.SATISFIED if met else State.EXCEEDED,
        ratio,
        f"{{found}} {sign} {{limit}}",
        message,
        {"found": found, "limit": limit},
        derive=derive,
    )


def capacity_shear_finding(
    name: str, clause: str, design: float, least: float, derive: Callable[[], Derivation]
) -> Finding:
    """Return the check of the shear that goes with the moments at the ends of a column.

    Args:
        name: of the axis that it acts along.
        clause: of the code.
        design, least: shear, and the least strength along the column, N.
        derive: writes the calculation.
    """
    ratio = design / max(least, 1e-9)
    return Finding(
        *(f"Shear of end moments along {name}", "capacity shear", clause),
        state_of_ratio(ratio),
        ratio,
        "{found} of {strength}",
        f"Shear {{found}} along {name} with the moments at the ends; {{strength}} is resisted.",
        {"found": force(design), "strength": force(least)},
        resists=True,
        derive=derive,
    )


def lap_length_finding(
    clause: str,
    facts: ColumnFacts,
    kind: str,
    lap: float,
    derive: Callable[[], Derivation],
) -> Finding:
    """Return the length of the laps of a lift, whether they are as long, and have room.

    Args:
        clause: of the code.
        facts: the lift.
        kind: how the bars are stressed.
        lap: length, mm.
        derive: writes the calculation.
    """
    clear, given = facts.clear_height, facts.lap_length
    if given is not None:
        found = limit_finding(
            *("Lap length", "laps", clause),
            length(given),
            length(lap),
            f"Laps of {{found}}; {{limit}} required, {kind}.",
            derive,
            at_least=True,
        )
        return replace(found, resists=True)
    fits = lap <= clear
    return Finding(
        *("Lap length", "laps", clause),
        State.SATISFIED if fits else State.EXCEEDED,
        math.nan if fits else lap / clear,
        f"{{lap}}, {kind}",
        "Laps of {lap} do not fit the clear height of {clear}.",
        {"lap": length(lap), "clear": length(clear)},
        derive=derive,
    )


def with_earthquake(actions: Actions) -> str:
    """Return of which combinations the forces of ductile frames are, as a sentence."""
    if actions.seismic is None:
        return "No combination is told to be with earthquake: the forces are those of all."
    return "The forces are those of the combinations with earthquake."


def worst_of(ratios: FloatArray, where: BoolArray) -> int | None:
    """Return the number of the largest ratio among some; nothing where there are none."""
    if not where.any():
        return None
    return int(np.where(where, ratios, -np.inf).argmax())
