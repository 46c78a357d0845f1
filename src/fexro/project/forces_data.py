"""Forces as a file has them: rows by member and name in JSON, one array in a container."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from typing import Any

import numpy as np

from fexro.core.actions import COMPONENTS, ENDS
from fexro.core.arrays import FloatArray
from fexro.core.errors import InputError
from fexro.project.column import LiftKey
from fexro.project.forces import ROW, Forces

__all__ = ["forces_head", "forces_rows", "read_forces", "refuse_odd_numbers"]

MOST_COLUMNS = 10_000
LARGEST_FORCE, LARGEST_MOMENT = 1e7, 1e8  # kN, kN·m
_LARGEST = np.array([LARGEST_FORCE] * 3 + [LARGEST_MOMENT] * 3)
_NUMBERS = {int, float}


def forces_head(forces: Forces) -> dict[str, Any]:
    """Return what the rows and columns of an array of forces are."""
    return {"columns": list(forces.columns), "members": [list(key) for key in forces.members]}


def forces_rows(forces: Forces) -> dict[str, Any]:
    """Return forces as rows by member and name."""
    members = []
    for key, values, known in zip(forces.members, forces.values, forces.known, strict=True):
        rows = values.transpose(1, 0, 2).tolist()
        named = {c: rows[i] for i, c in enumerate(forces.columns) if known[i]}
        members.append({"mark": key.mark, "storey": key.storey, "rows": named})
    return {"columns": list(forces.columns), "members": members}


def read_forces(data: Any, array: FloatArray | None, where: str) -> Forces:
    """Return forces from what a file says of them.

    Args:
        data: the columns and members; these with their rows where there is no array.
        array: the numbers, (M, 2, C, 6).
        where: place in the file, for the refusal.

    Raises:
        InputError: if they are not forces; says where.
    """
    if not isinstance(data, dict) or data.keys() != {"columns", "members"}:
        raise InputError(where, _kind(data), "an object of columns and members")
    columns = _names(data["columns"], f"{where}.columns")
    members = data["members"]
    if not isinstance(members, list):
        raise InputError(f"{where}.members", _kind(members), "a list")
    forces = (
        _from_rows(columns, members, where)
        if array is None
        else _from_array(columns, members, array, where)
    )
    refuse_odd_numbers(forces, where)
    return forces


def _names(data: Any, where: str) -> tuple[str, ...]:
    if not isinstance(data, list) or not all(isinstance(name, str) for name in data):
        raise InputError(where, _kind(data), "a list of names")
    if len(data) > MOST_COLUMNS:
        raise InputError(where, f"{len(data)} names", f"at most {MOST_COLUMNS}")
    if len(set(data)) < len(data):
        name = next(name for name in data if data.count(name) > 1)
        raise InputError(where, f"“{name}” twice", "each name once")
    return tuple(data)


def _from_rows(columns: tuple[str, ...], members: list[Any], where: str) -> Forces:
    place = {name: i for i, name in enumerate(columns)}
    keys: dict[LiftKey, None] = {}
    values = np.full((len(members), len(ENDS), len(columns), len(COMPONENTS)), np.nan)
    for i, member in enumerate(members):
        at = f"{where}.members[{i}]"
        if not isinstance(member, dict) or member.keys() != {"mark", "storey", "rows"}:
            raise InputError(at, _kind(member), "an object of mark, storey and rows")
        _add(keys, [member["mark"], member["storey"]], at)
        rows = member["rows"]
        if not isinstance(rows, dict):
            raise InputError(f"{at}.rows", _kind(rows), "an object of rows by name")
        for name, row in rows.items():
            if name not in place:
                known = ", ".join(columns[:12])
                raise InputError(f"{at}.rows", f"“{name}”", f"one of the columns: {known}")
            _refuse_odd_row(row, f"{at}.rows.{name}")
        if rows:
            found = np.array(list(rows.values()), dtype=float).reshape(-1, *ROW)
            values[i][:, [place[name] for name in rows]] = found.transpose(1, 0, 2)
    return Forces(tuple(keys), columns, values)


def _from_array(
    columns: tuple[str, ...], members: list[Any], array: FloatArray, where: str
) -> Forces:
    keys: dict[LiftKey, None] = {}
    for i, member in enumerate(members):
        _add(keys, member, f"{where}.members[{i}]")
    shape = (len(members), len(ENDS), len(columns), len(COMPONENTS))
    if array.shape != shape:
        raise InputError(f"{where}, its array", f"a shape of {array.shape}", f"{shape}")
    lacking = np.isnan(array)
    if (lacking.any(axis=(1, 3)) != lacking.all(axis=(1, 3))).any():
        allowed = "all numbers of a member in a column, or none"
        raise InputError(f"{where}, its array", "numbers that are missing in part", allowed)
    return Forces(tuple(keys), columns, array)


def _add(keys: dict[LiftKey, None], names: Any, where: str) -> None:
    if not isinstance(names, list) or len(names) != 2 or not all(type(n) is str for n in names):
        raise InputError(where, _kind(names), "the mark and the storey of a lift")
    key = LiftKey(*names)
    if key in keys:
        raise InputError(where, f"“{key}” again", "each lift once")
    keys[key] = None


def _refuse_odd_row(row: Any, where: str) -> None:
    shaped = (
        isinstance(row, list)
        and len(row) == len(ENDS)
        and all(isinstance(end, list) and len(end) == len(COMPONENTS) for end in row)
    )
    allowed = f"six numbers ({', '.join(COMPONENTS)}) at the top and six at the bottom"
    if not shaped:
        raise InputError(where, _kind(row), allowed)
    if not set(map(type, itertools.chain.from_iterable(row))) <= _NUMBERS:
        i, j = next((i, j) for i in (0, 1) for j in range(6) if type(row[i][j]) not in _NUMBERS)
        raise InputError(f"{where}[{i}][{j}]", _kind(row[i][j]), "a number")
    for i, j in itertools.product((0, 1), range(6)):
        # A whole number may have more digits than any of the machine's.
        if isinstance(row[i][j], int) and abs(row[i][j]) > LARGEST_MOMENT:
            _refuse_size(row[i][j], j, f"{where}[{i}][{j}]")


def refuse_odd_numbers(forces: Forces, where: str) -> None:
    """Refuse forces that no building has.

    Raises:
        InputError: for a number that is too large, with its place.
    """
    values = forces.values
    # What is not known is not a number; what is infinite is too large.
    if not (np.abs(np.nan_to_num(values, nan=0.0)) > _LARGEST).any():
        return
    i, j, k, n = np.argwhere(np.abs(np.nan_to_num(values, nan=0.0)) > _LARGEST)[0]
    at = f"{where}, {forces.members[i]} in {forces.columns[k]} at the {ENDS[j]}"
    _refuse_size(float(values[i, j, k, n]), int(n), f"{at}, {COMPONENTS[n]}")


def _refuse_size(value: float, component: int, where: str) -> None:
    largest = _LARGEST[component]
    unit = "kN" if component < 3 else "kN·m"
    raise InputError(where, f"{float(min(value, 1e300)):g}", f"{-largest:g} to {largest:g} {unit}")


def _kind(data: Any) -> str:
    match data:
        case None:
            return "null"
        case bool():
            return "true" if data else "false"
        case str():
            return f"“{data[:80]}”"
        case int() | float():
            return f"{data}"[:80]
        case Mapping():
            return f"an object of {', '.join(list(data)[:6]) or 'nothing'}"
        case list():
            return f"a list of {len(data)}"
    return type(data).__name__
