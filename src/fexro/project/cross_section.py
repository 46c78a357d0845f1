"""The section of a lift with its materials, as the core computes with it."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from fexro.core.facts import Concretes, CrossSection
from fexro.project.bars import OwnBar
from fexro.project.basis import Basis, ConcreteGrade, SteelGrade
from fexro.project.column import LiftModel
from fexro.project.section import SectionModel, section_of
from fexro.project.shapes import concretes_in

if TYPE_CHECKING:
    from fexro.project.project import Project

__all__ = ["cross_section_of"]


def cross_section_of(project: Project, lift: LiftModel, basis: Basis | None = None) -> CrossSection:
    """Return the section of a lift; the same one for the same lift.

    Args:
        project: the project.
        lift: complete.
        basis: what to put in place of the project's basis.

    Raises:
        InputError: if the section cannot be built.
    """
    return _cross_section(
        lift.section,
        (basis or project.basis).bars.own,
        project.concrete_by_name[lift.concrete],
        project.steel_by_name[lift.steel],
        tuple(project.concrete_by_name[name] for name in concretes_in(lift.section.shape)),
        lift.values.known_share,
    )


@lru_cache(maxsize=4096)
def _cross_section(
    section: SectionModel,
    own: tuple[OwnBar, ...],
    concrete: ConcreteGrade,
    steel: SteelGrade,
    others: tuple[ConcreteGrade, ...],
    share: float,
) -> CrossSection:
    named = Concretes({grade.name: grade.material(share) for grade in others})
    materials = concrete.material(share), steel.material(share)
    return CrossSection(section_of(section, own), *materials, named)
