"""A project to begin with: no storey and no mark yet, on values that its code allows."""

from __future__ import annotations

from fexro.core.codes.registry import codes_on_offer
from fexro.project.basis import Basis, ConcreteGrade, SteelGrade
from fexro.project.project import Project
from fexro.project.values import Values

__all__ = ["new_project"]


def new_project() -> Project:
    """Return a project without members, on the first design code on offer, in SI units."""
    offer = codes_on_offer()[0]
    return Project(
        name="New project",
        basis=Basis(
            code=offer.key,
            annex=offer.annexes[0],
            units="SI",
            values=Values(concrete="C35", steel="Grade 420", cover=40.0, aggregate=20.0),
        ),
        concretes=(ConcreteGrade(name="C35", strength=35.0),),
        steels=(SteelGrade(name="Grade 420", yield_strength=420.0),),
        storeys=(),
        combinations=(),
        marks=(),
    )
