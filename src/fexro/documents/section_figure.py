"""The section of a lift as a picture of a calculation."""

from __future__ import annotations

from dataclasses import replace

from fexro.core.members.lift import LiftResult
from fexro.core.quantities import UnitSystem
from fexro.documents.content import Figure
from fexro.documents.drawing import Drawing, bounds_of, moved
from fexro.documents.drawing_svg import svg_of
from fexro.documents.paper_sizes import scale_for
from fexro.documents.section_drawing import dimensioned, section_items, section_size

__all__ = ["section_figure"]

ROOM = (86.0, 70.0)  # mm, for the section
MARGIN = 2.0  # mm
TEXT = 176.0  # mm, width of the text that a figure is a share of


def section_figure(result: LiftResult, system: UnitSystem) -> Figure:
    """Return the section of a lift to scale, with its dimensions."""
    facts = result.lift.facts
    scale = scale_for(section_size(facts.section), ROOM)
    items = [
        *section_items(facts, result.lift.code, scale),
        *dimensioned(facts.section, scale, system),
    ]
    left, bottom, right, top = bounds_of(items)
    left, bottom = left - MARGIN, bottom - MARGIN
    drawing = Drawing("Section", right - left + MARGIN, top - bottom + MARGIN)
    drawing.add(*(moved(item, -left, -bottom) for item in items))
    return replace(
        Figure(svg_of(drawing), f"Section, 1:{scale:g}"), width=min(drawing.width / TEXT, 1.0)
    )
