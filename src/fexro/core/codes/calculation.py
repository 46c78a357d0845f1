"""What the calculations of all codes write alike: demands, strain planes, bars."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from fexro.core.arrays import FloatArray
from fexro.core.codes import MaterialFact
from fexro.core.facts import CrossSection
from fexro.core.provisions import Derivation, Provision
from fexro.core.quantities import Dimension
from fexro.core.strength.state import SectionState

__all__ = [
    "Capacity",
    "all_steel",
    "fact",
    "largest_component",
    "write_areas",
    "write_bars",
    "write_demand",
    "write_direction",
    "write_resistance",
]

NOISE = 1e-9  # of the largest of its kind: what is less is a rounding


class Capacity:
    """What a section carries under a strain plane, parted for writing; N, N·mm, mm.

    What is only a rounding of zero is zero.

    Attributes:
        state: section and plane.
        concrete: force of the concrete.
        arm_x, arm_y: its place from the centroid.
        bars: N, Mx, My of the bars, (3,).
        steel: N, Mx, My of the structural steel, (3,).
        tension: whether no concrete resists: the end of the family at which all bars yield.
    """

    def __init__(self, state: SectionState) -> None:
        self.state = state
        size = state.body.size
        force, arm_x, arm_y = state.concrete
        self.concrete = force
        self.arm_x, self.arm_y = (0.0 if abs(arm) < NOISE * size else arm for arm in (arm_x, arm_y))
        largest = float(np.abs(state.force).sum() + np.abs(state.regions[:, 0]).sum())
        self.bars, self.steel = (
            _cleared(forces, largest * size) for forces in (state.bars, state.steel)
        )
        self.tension = force <= NOISE * largest and float(state.strain.max()) < 0


def _cleared(forces: FloatArray, size: float) -> tuple[float, float, float]:
    """Return N, Mx, My with moments that are only a rounding against a size as zero."""
    axial, *moments = (float(value) for value in forces)
    moment_x, moment_y = (0.0 if abs(m) < NOISE * size else m for m in moments)
    return axial, moment_x, moment_y


def fact(
    symbol: str, name: str, dimension: Dimension, rule: Provision[Any, Any], *given: float
) -> MaterialFact:
    """Return what a provision makes of a material, with how it follows."""

    def derive() -> Derivation:
        record = Derivation()
        rule.into(record, *given)
        return record

    return MaterialFact(symbol, name, float(rule(*given)), dimension, derive)


def largest_component(demand: FloatArray, scale: FloatArray) -> int:
    """Return which of N, Mx, My, (3,), is largest against the sizes of a surface."""
    return int((np.abs(demand) / scale).argmax())


def write_bars(
    record: Derivation, state: SectionState, symbols: tuple[str, str], strains: str
) -> None:
    """Add the table of bars.

    Args:
        record: the derivation.
        state: the bars under their strain plane.
        symbols: of steel stress and of the stress of the concrete displaced.
        strains: how a strain follows from the depth, as a formula.
    """
    columns = (
        ("bar", None),
        ("x", Dimension.LENGTH),
        ("y", Dimension.LENGTH),
        ("d", Dimension.LENGTH),
        ("epsilon", Dimension.STRAIN),
        (symbols[0], Dimension.STRESS),
        (symbols[1], Dimension.STRESS),
        ("A", Dimension.AREA),
        ("F", Dimension.FORCE),
    )
    arrays = (
        *(state.x, state.y, state.bar_depth),
        *(state.strain, state.stress, state.displaced, state.area, state.force),
    )
    rows = [(str(i + 1), *values) for i, values in enumerate(zip(*arrays, strict=True))]
    title = (
        "Bars, from the centroid; d = t_top − x cos θ − y sin θ from the extreme compression fibre,"
        f" {strains}; σ_c is of the concrete displaced, F = (stress − σ_c) A"
    )
    record.table(title, columns, rows)


def all_steel(cross: CrossSection) -> str:
    """Return what is said where all steel of a section yields."""
    return "bars and structural steel yield" if cross.section.steel else "every bar yields"


def write_areas(record: Derivation, cross: CrossSection, state: SectionState) -> None:
    """Add the table of the areas of concretes and of structural steel.

    Args:
        record: the derivation.
        cross: section and materials.
        state: the areas under their strain plane.
    """
    section, centroid = cross.section, cross.section.outline.centroid
    rows: list[tuple[str | float, ...]] = []
    parts = [
        (f"concrete {one.name}", area.outline, one.strength)
        for area, one in zip(section.concretes, cross.concretes, strict=True)
    ]
    parts += [
        (f"steel {part.material.name}", part.outline, part.material.yield_strength)
        for part in section.steel
    ]
    for (name, outline, strength), forces in zip(parts, state.regions, strict=True):
        places = (outline.centroid[0] - centroid[0], outline.centroid[1] - centroid[1])
        rows.append((name, strength, outline.area, *places, *map(float, forces)))
    columns = (
        ("of", None),
        ("f", Dimension.STRESS),
        ("A", Dimension.AREA),
        ("x", Dimension.LENGTH),
        ("y", Dimension.LENGTH),
        ("N", Dimension.FORCE),
        ("M_x", Dimension.MOMENT),
        ("M_y", Dimension.MOMENT),
    )
    record.table(
        "Areas: f of the grade, x and y of their centroids from that of the gross section; N, M_x"
        " and M_y of their stresses under the strain plane; steel is taken out of the concrete",
        columns,
        rows,
    )


def write_resistance(
    record: Derivation,
    capacity: Capacity,
    concrete: float,
    plain: tuple[Provision[Any, Any], Provision[Any, Any]],
    composite: tuple[Provision[Any, Any], Provision[Any, Any]],
    words: tuple[str, str],
) -> list[float]:
    """Write what a strain plane resists and return N, Mx, My.

    Args:
        record: the derivation.
        capacity: what concrete, bars and structural steel carry.
        concrete: force of the concrete, N.
        plain: the code's axial force and moment of concrete and bars.
        composite: the same with structural steel.
        words: symbol of the moment, and what the concrete's force is called.
    """
    steel = any(region.steel for region in capacity.state.body.regions)
    moment, called = words
    record.given("F_s_sum", capacity.bars[0], Dimension.FORCE, "sum over the bars")
    if steel:
        source = "sum over the structural steel"
        record.given("F_a_sum", capacity.steel[0], Dimension.FORCE, source)
        axial = composite[0].into(record, concrete, capacity.bars[0], capacity.steel[0])
    else:
        axial = plain[0].into(record, concrete, capacity.bars[0])
    resisting = [float(axial)]
    for number, (axis, across, arm) in enumerate(
        (("x", "y", capacity.arm_y), ("y", "x", capacity.arm_x)), 1
    ):
        names = {
            "e_c": f"e_c{across}",
            "M_s_sum": f"M_s{axis}_sum",
            moment: f"{moment}{axis}",
        }
        source = f"{called} from the centroid in {across}"
        record.given(names["e_c"], arm, Dimension.LENGTH, source)
        bars, source = capacity.bars[number], f"sum of F·{across} over the bars"
        record.given(names["M_s_sum"], bars, Dimension.MOMENT, source)
        if steel:
            names["M_a_sum"] = f"M_a{axis}_sum"
            source = "sum over the structural steel"
            record.given(names["M_a_sum"], capacity.steel[number], Dimension.MOMENT, source)
            rule = composite[1].named(**names)
            found = rule.into(record, concrete, arm, bars, capacity.steel[number])
        else:
            found = plain[1].named(**names).into(record, concrete, arm, bars)
        resisting.append(float(found))
    return resisting


def write_demand(record: Derivation, symbols: tuple[str, str, str], demand: FloatArray) -> None:
    """Add the demand N, Mx, My (N, N·mm)."""
    dimensions = (Dimension.FORCE, Dimension.MOMENT, Dimension.MOMENT)
    for symbol, value, dimension in zip(symbols, demand, dimensions, strict=True):
        record.given(symbol, float(value), dimension, "demand")


def write_direction(record: Derivation, state: SectionState) -> None:
    """Add the direction of the strain plane at capacity, and where its extreme fibre is."""
    record.note("Strain plane at capacity, found by iteration along the ray.")
    lowest, highest = state.extent
    angle = math.degrees(state.plane.angle) % 360
    # Rounding must not turn a direction along an axis.
    angle = round(angle, 7) % 360
    record.given(
        "theta",
        math.radians(angle),
        Dimension.ANGLE,
        "direction of the compressed side, from x towards y",
    )
    record.given("t_top", highest, Dimension.LENGTH, "extreme fibre from the centroid, along θ")
    record.given("h_theta", highest - lowest, Dimension.LENGTH, "depth of the section along θ")
