"""Stability of a project as text and JSON: storeys, and how slender their lifts are."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from fexro.core.members.lift import LiftResult
from fexro.core.second_order import AxisSecondOrder
from fexro.exchange.aligned import aligned
from fexro.project.column import LiftKey
from fexro.project.project import Project
from fexro.project.storey_sway import StoreySway, storeys_of

__all__ = ["stability_json", "stability_text"]

AXES = ("x", "y")
_STOREY = ("storey", "along", "measure", "limit", "decision", "combination")
_LIFT = ("mark", "level", "about", "held", "k", "slenderness", "limit", "first", "moment", "in")
MEGA = 1e6


def stability_text(project: Project, results: Mapping[LiftKey, LiftResult]) -> str:
    """Return the storeys, and the slender lifts, as aligned lines; moments in kN·m."""
    results = {key: one for key, one in results.items() if key in project.column_keys}
    storeys = [
        tuple(_text(row[name]) for name in _STOREY)
        for storey in storeys_of(project)
        for row in _storey_rows(storey)
    ]
    lifts = [
        tuple(_text(row[name]) for name in _LIFT)
        for key, result in results.items()
        for row in _lift_rows(key, result)
        if row["slender"] or row["missing"]
    ]
    parts = [f"{project.name}, {project.basis.design_code.name}", "", *aligned(_STOREY, storeys)]
    count = sum(result.second_order.slender for result in results.values())
    parts += ["", f"{count} of {len(results)} lifts are slender.", ""]
    if lifts:
        parts += aligned(_LIFT, lifts)
    return "\n".join(parts) + "\n"


def stability_json(project: Project, results: Mapping[LiftKey, LiftResult]) -> str:
    """Return the storeys and all lifts as JSON; N in kN, moments in kN·m, lengths in mm."""
    results = {key: one for key, one in results.items() if key in project.column_keys}
    document = {
        "project": project.name,
        "code": project.basis.design_code.name,
        "storeys": [row for storey in storeys_of(project) for row in _storey_rows(storey)],
        "lifts": [
            {
                "mark": key.mark,
                "level": key.storey,
                "utilisation": _number(result.utilisation),
                "without_slenderness": _number(result.first_order),
                "bending": _lift_rows(key, result),
            }
            for key, result in results.items()
        ],
    }
    return json.dumps(document, ensure_ascii=False, indent=1) + "\n"


def _storey_rows(storey: StoreySway) -> list[dict[str, Any]]:
    rows = []
    for axis, direction in zip(AXES, storey.directions, strict=True):
        at = direction.deciding
        rows.append(
            {
                "storey": storey.name,
                "along": axis,
                "symbol": direction.symbol,
                "measure": None if at is None else _number(float(direction.value[at])),
                "limit": direction.limit,
                "decision": "braced" if direction.braced else "sway",
                "reason": direction.reason,
                "warning": direction.warning,
                "combination": "" if at is None else storey.facts.combinations[at],
            }
        )
    return rows


def _lift_rows(key: LiftKey, result: LiftResult) -> list[dict[str, Any]]:
    return [
        {"mark": key.mark, "level": key.storey, "about": name, **_axis_row(axis, result)}
        for name, axis in zip(AXES, result.second_order.axes, strict=True)
    ]


def _axis_row(axis: AxisSecondOrder, result: LiftResult) -> dict[str, Any]:
    at = 0
    if result.combinations:
        at = int(np.abs(np.nan_to_num(axis.moment, nan=np.inf)).argmax())
    known = bool(result.combinations) and not axis.missing
    values = {
        "slenderness": axis.slenderness[at] if known else math.nan,
        "limit": axis.limit[at] if known else math.nan,
        "first": axis.first[at] / MEGA if result.combinations else math.nan,
        "moment": axis.moment[at] / MEGA if known else math.nan,
    }
    return {
        "held": "braced" if axis.braced else "sway",
        "reason": axis.reason,
        "k": _number(axis.judged),
        "length": _number(axis.judged * axis.length),
        **{name: _number(float(value)) for name, value in values.items()},
        "in": result.combinations[at] if result.combinations else "",
        "state": str(np.asarray(axis.states)[at]) if result.combinations else "",
        "slender": axis.any_slender,
        "missing": axis.missing,
        "assumed": list(axis.assumed),
    }


def _number(value: float) -> float | None:
    return round(value, 6) if math.isfinite(value) else None


def _text(value: object) -> str:
    if value is None:
        return "–"
    return f"{value:.4g}" if isinstance(value, float) else str(value)
