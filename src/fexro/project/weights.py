"""Self-weight of lifts, added down the stack to a load case where that is asked for."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Final

from fexro.project.column import LiftKey
from fexro.project.shapes import shape_of

if TYPE_CHECKING:
    from fexro.project.project import Project

__all__ = ["UNIT_WEIGHT", "weights"]

UNIT_WEIGHT: Final = 25.0  # kN/m³, of reinforced concrete of normal weight
STEEL_WEIGHT: Final = 78.5  # kN/m³, of structural steel


def weights(project: Project) -> Mapping[LiftKey, tuple[int, float, float]]:
    """Return, for each lift, the column of the case, the weight of the lifts above, and its own.

    Empty where no case counts self-weight, or the one that does has no column of forces.
    """
    columns = project.case_forces.columns
    case = next((c.name for c in project.cases if c.self_weight and c.name in columns), None)
    if case is None:
        return {}
    found, column = {}, columns.index(case)
    for mark in project.marks:
        if mark.kind == "coupling beam":
            continue
        above = 0.0
        for lift in mark.lifts:
            height = project.storey_by_name[lift.storey].height
            own = UNIT_WEIGHT * shape_of(lift.shape).outline().area * 1e-6 * height
            steel = sum(part.profile.geometry().outline().area for part in lift.profiles)
            own += (STEEL_WEIGHT - UNIT_WEIGHT) * steel * 1e-6 * height
            found[LiftKey(mark.name, lift.storey)] = column, above, own
            above += own
    return found
