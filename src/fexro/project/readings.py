"""A lift under other readings of its code side by side: braced or not, lengths, options."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, fields
from typing import Any

import numpy as np

from fexro.core.codes import StabilityTopic
from fexro.core.codes.options import options_of
from fexro.core.codes.slenderness import IDEAL_ENDS
from fexro.core.errors import FexroError
from fexro.core.members.check import check_lift
from fexro.core.members.lift import LiftResult
from fexro.project.column import LiftKey, LiftModel
from fexro.project.project import Project
from fexro.project.resolve import resolve_lift

__all__ = ["LENGTHS", "SWAY", "Reading", "chosen_of", "readings_of", "subjects_of"]

SWAY, LENGTHS = "sway", "lengths"
SLOW = frozenset({"general"})  # an option that asks for an analysis of each combination


@dataclass(frozen=True, eq=False)
class Reading:
    """A lift under one reading.

    Attributes:
        name: of the reading: a choice of the option, `braced`, `sway`, ideal ends, `as it is`.
        result: its checks; nothing where they cannot be made.
        refusal: why not.
    """

    name: Any
    result: LiftResult | None
    refusal: str = ""

    def factors(self) -> tuple[float, float]:
        """Return the effective length factors that slenderness is judged by, about x and y."""
        assert self.result is not None
        about_x, about_y = self.result.second_order.axes
        return about_x.judged, about_y.judged

    def moments(self, combination: int) -> tuple[float, float]:
        """Return the moments to be resisted about x and y in a combination, N·mm."""
        assert self.result is not None
        about_x, about_y = (
            float(np.asarray(axis.moment)[combination]) for axis in self.result.second_order.axes
        )
        return about_x, about_y


def subjects_of(stability: StabilityTopic) -> dict[str, str]:
    """Return what a lift can be read otherwise in, with what it is called."""
    options = {
        option.name: option.metadata["label"]
        for option in fields(stability.options)
        if "low" not in option.metadata and option.name not in SLOW
    }
    return {SWAY: "As braced or with sway", LENGTHS: "Ideal ends", **options}


def readings_of(project: Project, key: LiftKey, subject: str) -> list[Reading]:
    """Return a lift under each reading of a subject.

    Args:
        project: that the lift is in; nothing of it changes.
        key: the lift.
        subject: of `subjects_of`.
    """
    return [_checked(project, key, name, model) for name, model in _models(project, key, subject)]


def _models(project: Project, key: LiftKey, subject: str) -> Iterator[tuple[Any, LiftModel]]:
    model = project.by_key[key]
    if subject == SWAY:
        for sway in ("braced", "sway"):
            yield sway, _held(model, {"sway": sway})
    elif subject == LENGTHS:
        yield "as it is", model
        for name, (braced, swaying) in IDEAL_ENDS.items():
            yield name, _held(model, {"factor": braced, "factor_sway": swaying})
    else:
        kind = project.basis.design_code.stability.options
        option = next(option for option in fields(kind) if option.name == subject)
        for choice in option.metadata.get("choices", (False, True)):
            options = type(model.values.options)({**model.values.options, subject: choice})
            yield choice, model.with_values(options=options)


def _held(model: LiftModel, how: dict[str, Any]) -> LiftModel:
    x, y = (d.model_copy(update=how) for d in (model.values.x, model.values.y))
    return model.with_values(x=x, y=y)


def _checked(project: Project, key: LiftKey, name: Any, model: LiftModel) -> Reading:
    try:
        return Reading(name, check_lift(resolve_lift(project, key, model)))
    except FexroError as refusal:
        return Reading(name, None, str(refusal))


def chosen_of(project: Project, key: LiftKey, subject: str) -> Any:
    """Return the reading of an option that the lift has; nothing of what is no option."""
    kind = project.basis.design_code.stability.options
    options = options_of(kind, project.by_key[key].values.options, others=True)
    return getattr(options, subject, None)
