"""Facts of members: what they are, without what a design code makes of it. Lengths in mm."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.core.arrays import FloatArray
from fexro.core.materials import Concrete, ReinforcingSteel
from fexro.core.section.layout import Section

__all__ = ["ColumnFacts", "CrossSection", "Lengths", "StoreyFacts"]


@dataclass(frozen=True)
class CrossSection:
    """A section and its materials: what strength depends on.

    Attributes:
        section: outline, bars and ties.
        concrete, steel: materials of the section and its bars.
    """

    section: Section
    concrete: Concrete
    steel: ReinforcingSteel


@dataclass(frozen=True)
class Lengths:
    """Lengths of a lift in one direction, mm.

    Attributes:
        storey: from floor to floor.
        clear: between the members framing in; nothing where it is not known.
    """

    storey: float
    clear: float | None = None


@dataclass(frozen=True, eq=False)
class ColumnFacts:
    """A column between two floors.

    Attributes:
        cross_section: section and materials.
        aggregate: nominal maximum size of the aggregate, mm.
        about_x, about_y: its lengths where it bends about x and about y; nothing where unknown.
        above, below: sections of the lifts it stands between; nothing where there is none.
    """

    cross_section: CrossSection
    aggregate: float
    about_x: Lengths | None = None
    about_y: Lengths | None = None
    above: CrossSection | None = None
    below: CrossSection | None = None

    @property
    def section(self) -> Section:
        """Outline, bars and ties."""
        return self.cross_section.section

    @property
    def concrete(self) -> Concrete:
        """Material of the section."""
        return self.cross_section.concrete

    @property
    def steel(self) -> ReinforcingSteel:
        """Material of the bars."""
        return self.cross_section.steel


@dataclass(frozen=True, eq=False)
class StoreyFacts:
    """Sums over the lifts of a storey; forces at their feet in N, stiffness in N·mm².

    Attributes:
        lifts: how many there are.
        combinations: names of the combinations that any of them has, (C,).
        axial: sum of the axial forces, (C,).
        shear: sums of Vx and Vy, (C, 2).
        stiffness: sums of the flexural stiffness about x and about y, (2,); nothing where the code
            gives none.
    """

    lifts: int
    combinations: tuple[str, ...]
    axial: FloatArray
    shear: FloatArray
    stiffness: FloatArray | None
