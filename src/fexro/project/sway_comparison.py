"""A lift as if it were braced, and as if it took part in sway, side by side."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fexro.core.errors import FexroError
from fexro.core.members.check import check_lift
from fexro.core.members.lift import LiftResult
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift

__all__ = ["Assumption", "as_braced_and_swaying"]


@dataclass(frozen=True, eq=False)
class Assumption:
    """A lift under one assumption.

    Attributes:
        sway: `braced` or `sway`, in both directions.
        result: its checks; nothing where they cannot be made.
        refusal: why not.
    """

    sway: str
    result: LiftResult | None
    refusal: str = ""

    def factors(self) -> tuple[float, float]:
        """Return the effective length factors that slenderness is judged by, about x and y."""
        assert self.result is not None
        found = []
        for axis in self.result.second_order.axes:
            sway = axis.values.get("k_sway")
            found.append(axis.factor if axis.braced or sway is None else float(sway))
        return found[0], found[1]

    def moments(self, combination: int) -> tuple[float, float]:
        """Return the moments to be resisted about x and y in a combination, N·mm."""
        assert self.result is not None
        about_x, about_y = (
            float(np.asarray(axis.moment)[combination]) for axis in self.result.second_order.axes
        )
        return about_x, about_y


def as_braced_and_swaying(project: Project, key: LiftKey) -> tuple[Assumption, Assumption]:
    """Return a lift checked as braced and as taking part in sway, in both directions."""
    braced, swaying = (_assumed(project, key, sway) for sway in ("braced", "sway"))
    return braced, swaying


def _assumed(project: Project, key: LiftKey, sway: str) -> Assumption:
    model = project.by_key[key]
    x, y = (
        direction.model_copy(update={"sway": sway})
        for direction in (model.values.x, model.values.y)
    )
    try:
        lift = resolve_lift(project, key, model.with_values(x=x, y=y))
        return Assumption(sway, check_lift(lift))
    except FexroError as refusal:
        return Assumption(sway, None, str(refusal))
