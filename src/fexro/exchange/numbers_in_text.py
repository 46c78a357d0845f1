"""Numbers out of the cells of a table, whatever their decimal and thousands marks."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray

__all__ = ["read_number", "read_numbers"]

_MINUS = str.maketrans({"−": "-", "–": "-", "\u00a0": " ", "\u202f": " ", "’": "'"})

_PLAIN = re.compile(r"[-+.\d\n]*")


@lru_cache(maxsize=32)
def _pattern(decimal: str, thousands: str) -> re.Pattern[str]:
    point = re.escape(decimal)
    whole = r"\d+"
    if thousands:
        whole = rf"(?:\d{{1,3}}(?:{re.escape(thousands)}\d{{3}})+|\d+)"
    return re.compile(rf"[-+]?(?:{whole}(?:{point}\d*)?|{point}\d+)(?:[eE][-+]?\d{{1,3}})?")


def read_number(text: str, decimal: str = ".", thousands: str = "") -> float:
    """Return the number that text means, not a number if it means none."""
    plain = text.translate(_MINUS).strip()
    if not _pattern(decimal, thousands).fullmatch(plain):
        return math.nan
    if thousands:
        plain = plain.replace(thousands, "")
    value = float(plain.replace(decimal, "."))
    return value if math.isfinite(value) else math.nan


def read_numbers(
    cells: Sequence[object], decimal: str = ".", thousands: str = ""
) -> tuple[FloatArray, BoolArray, BoolArray, BoolArray]:
    """Return the numbers of cells, which of them are unreadable, blank, and kept as text, (R,)."""
    count = len(cells)
    kinds = set(map(type, cells))
    if kinds <= {float, int}:
        values = np.array(cells, dtype=float)
        bad = ~np.isfinite(values)
        values[bad] = np.nan
        return values, bad, np.zeros(count, bool), np.zeros(count, bool)
    if kinds == {str} and decimal == "." and _PLAIN.fullmatch("\n".join(cells)):  # type: ignore[arg-type]
        # All are plain numbers, as almost every file has them.
        try:
            values = np.array(list(map(float, cells)))  # type: ignore[arg-type]
        except ValueError:
            pass
        else:
            none = np.zeros(count, dtype=bool)
            return values, none, none, ~none
    values = np.full(count, np.nan)
    bad, blank, as_text = (np.zeros(count, dtype=bool) for _ in range(3))
    for i, cell in enumerate(cells):
        if type(cell) is str:
            value = read_number(cell, decimal, thousands)
            if value == value:
                values[i] = value
                as_text[i] = True
            elif cell.strip():
                bad[i] = True
            else:
                blank[i] = True
        elif type(cell) is float or type(cell) is int:
            if math.isfinite(cell):
                values[i] = cell
            else:
                bad[i] = True
        elif cell is None:
            blank[i] = True
        else:  # dates, truth values
            bad[i] = True
    return values, bad, blank, as_text
