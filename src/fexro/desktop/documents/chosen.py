"""What the calculation of a window has in it, and which lifts it is of."""

from __future__ import annotations

from fexro.documents.calculation import CalculationOptions
from fexro.project.column import LiftKey
from fexro.project.project import Project

__all__ = ["SCOPES", "ChosenOptions"]

SCOPES = ("building", "stack", "storey", "group", "lift")


class ChosenOptions:
    """The options of the calculation, and the lifts that it is of, as they are chosen.

    Attributes:
        value: the options.
        scope: what it is of.
        name: of the stack, storey, group or lift.
    """

    def __init__(self) -> None:
        self.value = CalculationOptions()
        self.scope = "building"
        self.name = ""

    def names(self, project: Project) -> list[str]:
        """Return the names that there are to choose from."""
        match self.scope:
            case "stack":
                return [mark.name for mark in project.marks]
            case "storey":
                return [storey.name for storey in project.storeys]
            case "group":
                return [group.name for group in project.groups]
            case "lift":
                return [str(key) for key in project.by_key]
        return []

    def keys(self, project: Project) -> list[LiftKey]:
        """Return the lifts that are chosen; all of them where the name is of none."""
        keys = list(project.by_key)
        group = next((one for one in project.groups if one.name == self.name), None)
        match self.scope:
            case "stack":
                some = [key for key in keys if key.mark == self.name]
            case "storey":
                some = [key for key in keys if key.storey == self.name]
            case "group":
                some = [] if group is None else list(group.members)
            case "lift":
                some = [key for key in keys if str(key) == self.name]
            case _:
                some = keys
        return some or keys
