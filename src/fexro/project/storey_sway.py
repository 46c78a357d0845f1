"""How the storeys of a project are held against sway, in both directions."""

from __future__ import annotations

from dataclasses import dataclass

from fexro.core.facts import StoreyFacts
from fexro.core.second_order import StoreyDirection
from fexro.project.project import Project
from fexro.project.resolve import storey_facts

__all__ = ["StoreySway", "storeys_of"]


@dataclass(frozen=True, eq=False)
class StoreySway:
    """A storey, and what it is in x and in y.

    Attributes:
        name: its name.
        facts: what is known of it.
        directions: what follows in x and y.
        stated: how many lifts say otherwise than by the rule.
    """

    name: str
    facts: StoreyFacts
    directions: tuple[StoreyDirection, StoreyDirection]
    stated: int


def storeys_of(project: Project) -> list[StoreySway]:
    """Return what all storeys of a project are, from the highest."""
    code = project.basis.design_code
    found = []
    for storey in project.storeys:
        values = project.basis.values.over(storey.own)
        facts = storey_facts(project, code, storey.name)
        in_x, in_y = (
            code.stability.storey_direction(facts, plan, direction.frame != "moment frame")
            for plan, direction in enumerate((values.x, values.y))
        )
        lifts = [project.by_key[key] for key in project.column_keys if key.storey == storey.name]
        stated = sum(
            any(direction.sway != "by rule" for direction in (lift.values.x, lift.values.y))
            for lift in lifts
        )
        found.append(StoreySway(storey.name, facts, (in_x, in_y), stated))
    return found
