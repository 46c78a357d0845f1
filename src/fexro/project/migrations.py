"""Projects of earlier versions, brought to the present one step by step."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from fexro.project.project import VERSION

__all__ = ["MIGRATIONS", "migrated"]

Data = dict[str, Any]


def migrated(data: Data) -> Data:
    """Return the data of a file as the present version has them.

    What an earlier version did not allow stays as it is and is refused when it is validated.
    """
    while (version := data["version"]) < VERSION:
        data = {**MIGRATIONS[version](data), "version": version + 1}
    return data


def _to_2(data: Data) -> Data:
    """Take forces out of the lifts: N, Mx, My, Vx, Vy become N, Vx, Vy, T, Mx, My."""
    marks = data.get("marks")
    if not isinstance(marks, list):
        return data
    members: list[Data] = []
    columns = dict.fromkeys(
        c["name"] for c in _dicts(data.get("combinations")) if isinstance(c.get("name"), str)
    )
    kept_marks = []
    for mark in marks:
        if isinstance(mark, dict) and isinstance(mark.get("lifts"), list):
            lifts = [_without_forces(mark, lift, members) for lift in mark["lifts"]]
            mark = {**mark, "lifts": lifts}
        kept_marks.append(mark)
    columns |= dict.fromkeys(name for member in members for name in member["rows"])
    factored = {"columns": list(columns), "members": members}
    basis = data.get("basis")
    if isinstance(basis, dict) and basis.get("code") == "ACI 318-19" and basis.get("annex") == "UK":
        # Version 1 let it stand beside a code that has no annexes.
        data = {**data, "basis": {**basis, "annex": "recommended"}}
    return {**data, "marks": kept_marks, "factored_forces": factored}


def _without_forces(mark: Data, lift: Any, members: list[Data]) -> Any:
    if not isinstance(lift, dict) or not isinstance(lift.get("forces"), dict):
        return lift
    rows = {name: _row_of_2(row) for name, row in lift["forces"].items()}
    if rows:
        members.append({"mark": mark.get("name"), "storey": lift.get("storey"), "rows": rows})
    return {key: value for key, value in lift.items() if key != "forces"}


def _row_of_2(row: Any) -> Any:
    if isinstance(row, list) and all(isinstance(end, list) and len(end) == 5 for end in row):
        return [[N, Vx, Vy, 0.0, Mx, My] for N, Mx, My, Vx, Vy in row]
    return row


def _dicts(value: Any) -> list[Data]:
    return [item for item in value if isinstance(item, dict)] if isinstance(value, list) else []


MIGRATIONS: dict[int, Callable[[Data], Data]] = {1: _to_2}
