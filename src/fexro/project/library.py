"""Sections that a project keeps under a name, for lifts to share."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from fexro.project.profiles import SteelParts
from fexro.project.records import Name, Record
from fexro.project.section import BarsCallOut, DiagonalBars, PlacedBars, PlacedTies, TiesCallOut
from fexro.project.shapes import Shape

if TYPE_CHECKING:
    from fexro.project.column import LiftRecord

__all__ = ["NamedSection", "section_fields"]


class NamedSection(Record):
    """A section with a name: all of it but the cover, which lifts inherit.

    Attributes:
        name: by which lifts call it.
    """

    name: Name
    shape: Shape
    bars: BarsCallOut
    ties: TiesCallOut
    placed: PlacedBars = ()
    profiles: SteelParts = ()
    inner_ties: PlacedTies | None = None
    hoops: TiesCallOut | None = None
    diagonals: DiagonalBars | None = None


_FIELDS = (
    *("shape", "bars", "ties", "placed", "profiles", "inner_ties"),
    *("hoops", "diagonals"),
)


def section_fields(record: LiftRecord | NamedSection) -> dict[str, Any]:
    """Return the fields that make a section, of a lift or of one with a name."""
    return {name: getattr(record, name) for name in _FIELDS}
