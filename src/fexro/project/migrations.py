"""Projects of earlier versions, brought to the present one step by step."""

from __future__ import annotations

from collections import Counter
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


def _to_3(data: Data) -> Data:
    """Let lifts inherit: what most of them have becomes that of the project."""
    marks = data.get("marks")
    basis = data.get("basis")
    if not isinstance(marks, list) or not isinstance(basis, dict):
        return data
    lifts = [lift for mark in _dicts(marks) for lift in _dicts(mark.get("lifts"))]
    sections = _dicts([lift.get("section") for lift in lifts])
    found = {
        "concrete": _most([lift.get("concrete") for lift in lifts]),
        "steel": _most([lift.get("steel") for lift in lifts]),
        "cover": _most([section.get("cover") for section in sections]),
        "aggregate": basis.get("aggregate"),
    }
    values = {name: value for name, value in found.items() if value is not None}
    kept = [
        {**mark, "lifts": [_with_own(lift, values) for lift in mark["lifts"]]}
        if isinstance(mark, dict) and isinstance(mark.get("lifts"), list)
        else mark
        for mark in marks
    ]
    basis = {name: value for name, value in basis.items() if name != "aggregate"}
    return {**data, "basis": {**basis, "values": values}, "marks": kept}


def _with_own(lift: Any, values: Data) -> Any:
    section = lift.get("section") if isinstance(lift, dict) else None
    if not isinstance(section, dict):
        return lift
    given = {name: lift[name] for name in ("concrete", "steel") if name in lift}
    if "cover" in section:
        given["cover"] = section["cover"]
    own = {name: value for name, value in given.items() if value != values.get(name)}
    rest = {k: v for k, v in lift.items() if k not in ("section", "concrete", "steel")}
    parts = {k: v for k, v in section.items() if k != "cover"}
    return {**rest, **parts, "own": own}


def _most(values: list[Any]) -> Any:
    """Return the most frequent of values; of equally frequent ones the first."""
    counts = Counter(value for value in values if isinstance(value, str | int | float))
    return max(counts, key=lambda value: counts[value]) if counts else None


def _to_4(data: Data) -> Data:
    """Nothing is said otherwise; what is new in cases, combinations and takings has its default."""
    return data


def _to_5(data: Data) -> Data:
    """Nothing is said otherwise; ends, beams and drifts are not known."""
    return data


def _to_6(data: Data) -> Data:
    """Change nothing: there are more shapes."""
    return data


def _to_7(data: Data) -> Data:
    """Change nothing: what beams resist, the steel of ties and existing columns are new."""
    return data


def _to_8(data: Data) -> Data:
    """Change nothing: what stands on sheets, and what was issued, is new."""
    return data


def _to_9(data: Data) -> Data:
    """Change nothing: walls are new."""
    return data


MIGRATIONS: dict[int, Callable[[Data], Data]] = {
    1: _to_2,
    2: _to_3,
    3: _to_4,
    4: _to_5,
    5: _to_6,
    6: _to_7,
    7: _to_8,
    8: _to_9,
}
