"""Results of a check as text, JSON and CSV. Forces in kN, moments in kN·m."""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from fexro.core.findings import State
from fexro.core.members.lift import LiftResult
from fexro.core.members.verdict import (
    assumptions_of,
    detail_of,
    message_of,
    remarks_of,
    summary_of,
    verdict_of,
)
from fexro.core.quantities import UnitSystem
from fexro.exchange.spreadsheets import spreadsheet_text
from fexro.project.column import LiftKey
from fexro.project.project import Project

if TYPE_CHECKING:  # the second opinion is seldom asked for
    from fexro.core.members.audit import Opinion

__all__ = ["audit_text", "results_csv", "results_json", "results_text", "worst_state"]

Results = Mapping[LiftKey, LiftResult]

_HEAD = ("mark", "level", "state", "utilisation", "ratio", "governing", "clause", "combination")


def worst_state(results: Results) -> State:
    """Return the worst state of any lift."""
    return max((result.state for result in results.values()), default=State.NOT_CHECKED)


def results_text(project: Project, results: Results) -> str:
    """Return one aligned line for each lift, and a summary."""
    rows = [_HEAD, *(_row(key, result) for key, result in results.items())]
    widths = [max(len(row[i]) for row in rows) for i in range(len(_HEAD))]
    lines = [
        "  ".join(
            cell.rjust(width) if i in (3, 4) else cell.ljust(width)
            for i, (cell, width) in enumerate(zip(row, widths, strict=True))
        ).rstrip()
        for row in rows
    ]
    return (
        "\n".join(
            [
                f"{project.name}, {_code(results)}",
                "",
                *lines,
                "",
                *_summary(results, project.basis.system),
            ]
        )
        + "\n"
    )


def results_csv(results: Results) -> str:
    """Return the lines of the schedule as CSV."""
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(_HEAD)
    for key, result in results.items():
        writer.writerow(map(spreadsheet_text, _row(key, result, 6)))
    return text.getvalue()


def results_json(project: Project, results: Results) -> str:
    """Return every check and combination of every lift as JSON."""
    document = {
        "format": "fexro results",
        "version": 1,
        "project": project.name,
        "revision": project.revision,
        "code": _code(results),
        "units": {"force": "kN", "moment": "kN·m"},
        "state": worst_state(results).word,
        "lifts": [
            _lift(project.mark_by_name[key.mark].kind, key, result, project.basis.system)
            for key, result in results.items()
        ],
    }
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def audit_text(project: Project, opinions: Mapping[LiftKey, Opinion]) -> str:
    """Return the second opinions on a project, one line for each lift, and the largest difference.

    Args:
        project: the project.
        opinions: by lift.
    """
    lines = [f"{project.name}, governing utilisation along the ray by fibres", ""]
    lines.append(f"{'lift':<14}{'in':<8}{'engine':>8}{'fibres':>8}  difference")
    largest = 0.0
    for key, opinion in opinions.items():
        if math.isnan(opinion.engine):
            lines.append(f"{key!s:<14}no forces")
            continue
        largest = max(largest, abs(opinion.difference))
        lines.append(
            f"{key!s:<14}{opinion.combination:<8}{opinion.engine:>8.4f}{opinion.fibres:>8.4f}"
            f"{100 * opinion.difference:>10.3f} %"
        )
    compared = sum(not math.isnan(opinion.engine) for opinion in opinions.values())
    if compared < len(opinions):
        lines += [
            "",
            f"{len(opinions) - compared} of {len(opinions)} lifts not compared: no forces.",
        ]
    if compared:
        lines += ["", f"Largest difference: {100 * largest:.3f} %."]
    return "\n".join(lines) + "\n"


def _code(results: Results) -> str:
    return next((result.lift.code.name for result in results.values()), "")


def _row(key: LiftKey, result: LiftResult, decimals: int = 3) -> tuple[str, ...]:
    check = result.governing
    # Utilisation is that of strength; the ratio is that of whatever check governs.
    used, ratio = (
        "" if math.isnan(value) else f"{value:.{decimals}f}"
        for value in (result.utilisation, check.ratio)
    )
    name, combination = check.name, check.combination or ""
    return (key.mark, key.storey, result.state.word, used, ratio, name, check.clause, combination)


def _summary(results: Results, system: UnitSystem) -> list[str]:
    counts = dict.fromkeys(State, 0)
    for result in results.values():
        counts[result.state] += 1
    parts = [f"{count} {state.word}" for state, count in counts.items() if count]
    lines = [f"{len(results)} members: {', '.join(reversed(parts))}."]
    notes = [message_of(f, system) for r in results.values() for f in r.findings if f.assumption]
    assumed = {note[0].upper() + note[1:] for note in notes}
    lines += assumptions_of(results, system)
    notes = [
        f"{key}: {message}"
        for key, result in results.items()
        for message in summary_of(result, system)
        if result.state > State.SATISFIED and message not in assumed
    ]
    return lines + notes


def _lift(kind: str, key: LiftKey, result: LiftResult, system: UnitSystem) -> dict[str, Any]:
    return {
        "kind": kind,
        "mark": key.mark,
        "level": key.storey,
        "state": result.state.word,
        "verdict": verdict_of(result, system),
        "remarks": list(remarks_of(result, system)),
        "combinations_without_forces": list(result.lift.actions.missing),
        "utilisation": _number(result.utilisation),
        "ratio": _number(result.governing.ratio),
        "governing": result.governing.name,
        "clause": result.governing.clause,
        "combination": result.governing.combination,
        "checks": [
            {
                "check": check.name,
                "state": check.state.word,
                "utilisation": _number(check.ratio),
                "clause": check.clause,
                "detail": detail_of(check, system),
                "combination": check.combination,
            }
            for check in result.shown_findings
        ],
        "combinations": [_demand(result, i) for i in range(len(result.demands))],
    }


def _demand(result: LiftResult, index: int) -> dict[str, Any]:
    return {
        "combination": result.combination_of(index),
        "place": result.place_of(index),
        **_forces(result.demands[index]),
        "utilisation": _number(result.proportional.ratio[index]),
        "utilisation_constant_axial": _number(result.constant_axial.ratio[index]),
        "capacity": _forces(result.proportional.capacity[index]),
    }


def _forces(values: Any) -> dict[str, float | None]:
    return {
        name: _number(float(value) / size)
        for name, value, size in zip(("N", "Mx", "My"), values, (1e3, 1e6, 1e6), strict=True)
    }


def _number(value: float) -> float | None:
    return None if not math.isfinite(value) else float(f"{value:.9g}")
