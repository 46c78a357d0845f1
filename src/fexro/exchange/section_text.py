"""A section told as text: what it is of, its bars and ties, and its properties."""

from __future__ import annotations

import math

from fexro.core.members.section_properties import properties_of
from fexro.core.quantities import Dimension, UnitSystem, format_number, format_quantity, unit_of
from fexro.core.section.ties import HeldRule, arrange
from fexro.project.bars import OwnBar
from fexro.project.section import SectionModel, section_of
from fexro.project.shapes import shape_of

__all__ = ["section_text"]


def section_text(
    model: SectionModel, own: tuple[OwnBar, ...], rule: HeldRule, system: UnitSystem
) -> str:
    """Return what a section is, line by line, in the units people see."""
    section, unit = section_of(model, own), unit_of(Dimension.LENGTH, system)

    def write(value: float) -> str:
        return f"{value / unit.size:.4g}"

    def quantity(value: float, dimension: Dimension = Dimension.LENGTH) -> str:
        return format_quantity(value, dimension, system)

    found, ties = properties_of(section.outline), arrange(section, rule)
    area, second = Dimension.AREA, Dimension.SECOND_MOMENT
    along_x, along_y = (format_number(legs, 1).removesuffix(".0") for legs in ties.legs)
    lines = [
        ("Shape", f"{shape_of(model.shape).label(write)} {unit.symbol}"),
        ("Bars", f"{model.bars}, {quantity(section.bars.total_area, area)}"),
        ("Ties", f"{model.ties}, {along_x} legs along x, {along_y} along y"),
        ("Cover", quantity(model.cover)),
    ]
    for part in section.steel:
        steel = f"{part.profile.label(write)} {unit.symbol}, {part.material.name}"
        lines.append(("Steel", f"{steel}, {quantity(part.outline.area, area)}"))
    lines += [
        ("Area", quantity(found.area, area)),
        ("Centroid", f"{quantity(found.x)}, {quantity(found.y)}"),
        ("Ix, Iy", f"{quantity(found.about_x, second)}, {quantity(found.about_y, second)}"),
        ("Ixy", quantity(found.product, second)),
        ("I1, I2", f"{quantity(found.larger, second)}, {quantity(found.smaller, second)}"),
        ("θ1", f"{math.degrees(found.angle):.1f}°"),
        ("rx, ry", f"{quantity(found.radius_x)}, {quantity(found.radius_y)}"),
    ]
    for one in ties.unheld:
        if one.reasons:
            near = quantity(one.nearer) if math.isfinite(one.nearer) else "far"
            lines.append(("Not held", f"bar {one.bar + 1}, {near} from a held bar"))
    for wrong in section.misplaced:
        lines.append(("Misplaced", f"{wrong.where}: {wrong.found}"))
    width = max(len(name) for name, _ in lines) + 2
    return "".join(f"{name:{width}}{text}\n" for name, text in lines)
