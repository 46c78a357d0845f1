"""A section put together from the laws of a code: areas of concretes, structural steel, bars."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence

import numpy as np

from fexro.core.facts import CrossSection
from fexro.core.materials import Concrete, StructuralSteel
from fexro.core.section.areas import ConcreteArea, areas_of_bars
from fexro.core.strength.body import BarSet, Body, Region
from fexro.core.strength.laws import ElasticPlastic, PiecewiseLaw, elastic_plastic_region

__all__ = ["body_of", "materials_of"]


def body_of(
    cross: CrossSection,
    concrete_law: Callable[[Concrete], PiecewiseLaw],
    bar_yield: float,
    steel_yield: Callable[[StructuralSteel], float] = lambda steel: steel.yield_strength,
    modulus: float | None = None,
    areas: Sequence[ConcreteArea] | None = None,
) -> Body:
    """Return what resists in a section, with moments about the centroid of its gross concrete.

    Args:
        cross: section and materials.
        concrete_law: of a concrete, for regions and for what bars displace.
        bar_yield: stress at which bars yield, MPa.
        steel_yield: stress at which a structural steel yields, MPa.
        modulus: of all steel, in place of its own, MPa.
        areas: concrete that counts, in place of all.
    """
    section = cross.section
    bars, centre = section.bars, section.outline.centroid
    bar_law = ElasticPlastic(modulus or cross.steel.modulus, bar_yield)
    if section.uniform:
        law = concrete_law(cross.concrete)
        sets = [BarSet(bars.x, bars.y, bars.area, bar_law, law)]
        return Body([Region(section.outline, law)], sets, centre)
    inside_of = section.bar_areas if areas is None else areas_of_bars(areas, bars)
    laws = {concrete: concrete_law(concrete) for concrete in cross.concretes}
    regions, sets, order = [], [], []
    for number, area in enumerate(section.concretes if areas is None else areas):
        law = laws[cross.concrete_of(area.concrete)]
        regions.append(Region(area.outline, law))
        inside = np.flatnonzero(inside_of == number)
        if len(inside):
            places = bars.x[inside], bars.y[inside], bars.area[inside]
            sets.append(BarSet(*places, bar_law, law))
            order.append(inside)
    for part in section.steel:
        law = elastic_plastic_region(modulus or part.material.modulus, steel_yield(part.material))
        regions.append(Region(part.outline, law, steel=True))
    return Body(regions, sets, centre, np.concatenate(order))


def materials_of(cross: CrossSection) -> Hashable:
    """Return the materials that the laws of a section depend on."""
    if cross.section.uniform:
        return cross.concrete, cross.steel
    return cross.concretes, cross.steel, tuple(part.material for part in cross.section.steel)
