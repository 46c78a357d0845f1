"""What a sizing run has found, as text and JSON."""

from __future__ import annotations

import json
import math
from collections.abc import Sequence

from fexro.exchange.aligned import aligned
from fexro.project.project import Project
from fexro.project.sizing_run import Outcome

__all__ = ["sizing_json", "sizing_text"]

_HEAD = ("mark", "level", "bars", "ties", "kg", "utilisation", "was", "kg", "utilisation", "found")


def sizing_text(project: Project, rows: Sequence[Outcome]) -> str:
    """Return what was found for each lift as aligned lines, and the mass saved."""
    lines = [
        (
            one.key.mark,
            one.key.storey,
            one.after.bars if one.after else "–",
            one.after.ties if one.after else "–",
            f"{one.mass_after:.0f}" if one.after else "–",
            _ratio(one.ratio_after),
            f"{one.before.bars}, {one.before.ties}",
            f"{one.mass_before:.0f}",
            _ratio(one.ratio_before),
            one.reason,
        )
        for one in rows
    ]
    before, after = (sum(getattr(one, f"mass_{name}") for one in rows) for name in _TIMES)
    changed = sum(one.changed for one in rows)
    none = sum(one.after is None for one in rows)
    told = f"{len(rows)} lifts: {changed} changed, {none} as they are for want of a proposal"
    checks = sum(one.full_checks for one in rows) / max(len(rows), 1)
    return "\n".join(
        [
            f"{project.name}, {project.basis.design_code.name}, least {_aim(project)}",
            "",
            *aligned(_HEAD, lines),
            "",
            f"{told}.",
            f"Steel {before:.0f} kg before, {after:.0f} kg after.",
            f"{checks:.1f} full checks a lift.",
            "",
        ]
    )


_TIMES = ("before", "after")


def _aim(project: Project) -> str:
    return project.basis.sizing.objective


def _ratio(value: float) -> str:
    return "–" if math.isnan(value) else f"{value:.3f}"


def sizing_json(project: Project, rows: Sequence[Outcome]) -> str:
    """Return what was found for each lift as JSON; masses in kg."""
    document = {
        "project": project.name,
        "code": project.basis.design_code.name,
        "objective": _aim(project),
        "lifts": [
            {
                "mark": one.key.mark,
                "level": one.key.storey,
                "before": {"bars": one.before.bars, "ties": one.before.ties},
                "after": one.after and {"bars": one.after.bars, "ties": one.after.ties},
                "mass_before": round(one.mass_before, 3),
                "mass_after": round(one.mass_after, 3),
                "utilisation_before": _number(one.ratio_before),
                "utilisation_after": _number(one.ratio_after),
                "reason": one.reason,
                "considered": one.considered,
                "full_checks": one.full_checks,
            }
            for one in rows
        ],
    }
    return json.dumps(document, ensure_ascii=False, indent=1) + "\n"


def _number(value: float) -> float | None:
    return None if math.isnan(value) else round(value, 4)
