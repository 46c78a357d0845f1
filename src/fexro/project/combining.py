"""How combinations are made of load cases, worked out once for a project."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from fexro.core.arrays import BoolArray, FloatArray, IntArray
from fexro.project.cases import Combination, LoadCase

__all__ = ["Combining", "combining"]


@dataclass(frozen=True, eq=False)
class Combining:
    """How combinations are made, the same for all lifts.

    Attributes:
        names: of the combinations, (C,).
        limited: combinations that do not apply to all members, with their indices.
        given: column of the forces given factored, (C,); -1 for those made of factors or not given.
        factors: over the columns of the case forces, (C, K); a row of not numbers where a case that
            counts has no column.
        lacking: whether a case that counts has no column, (C,).
        made: whether a combination has factors, (C,).
        sway_parts: columns of the forces given factored that are added as what comes with sway in x
            and in y, (2, C); -1 where there is none.
        sustained: lasting share of each case, (K,).
        sway: whether a case makes the building sway in x and in y, (2, K).
        earthquake: whether a case is of earthquake, (K,).
        seismic: whether a combination is with earthquake, by its use or its cases, (C,).
    """

    names: tuple[str, ...]
    limited: tuple[tuple[int, Combination], ...]
    given: IntArray
    factors: FloatArray
    lacking: BoolArray
    made: BoolArray
    sway_parts: IntArray
    sustained: FloatArray
    sway: FloatArray
    earthquake: FloatArray
    seismic: BoolArray


def combining(
    combinations: Sequence[Combination],
    cases: Sequence[LoadCase],
    case_columns: Sequence[str],
    factored_columns: Sequence[str],
) -> Combining:
    """Return how combinations are made.

    Args:
        combinations, cases: of the project.
        case_columns, factored_columns: the columns of its forces.
    """
    given = {name: i for i, name in enumerate(factored_columns)}
    column = {name: i for i, name in enumerate(case_columns)}
    factors = np.zeros((len(combinations), len(case_columns)))
    lacking = np.zeros(len(combinations), dtype=bool)
    made = np.array([bool(c.factors) for c in combinations], dtype=bool)
    for i, combination in enumerate(combinations):
        for name, factor in combination.factors.items():
            if name in column:
                factors[i, column[name]] = factor
            elif factor:
                factors[i], lacking[i] = np.nan, True
    facts = {case.name: case for case in cases}
    known = [facts[name] for name in case_columns]
    columns = [-1 if c.factors else given.get(c.name, -1) for c in combinations]
    return Combining(
        tuple(c.name for c in combinations),
        tuple((i, c) for i, c in enumerate(combinations) if c.not_for),
        np.array(columns, dtype=np.intp),
        factors,
        lacking,
        made,
        np.array(
            [
                [given.get(getattr(c, f"sway_{axis}") or "", -1) for c in combinations]
                for axis in "xy"
            ],
            dtype=np.intp,
        ),
        np.array([case.sustained for case in known]),
        np.array([[axis in (case.sway or "") for case in known] for axis in "xy"], dtype=float),
        np.array([case.nature == "earthquake" for case in known], dtype=float),
        np.array([_is_seismic(c, facts) for c in combinations], dtype=bool),
    )


def _is_seismic(combination: Combination, cases: Mapping[str, LoadCase]) -> bool:
    """Tell whether a combination is with earthquake."""
    if "earthquake" in combination.uses:
        return True
    return any(
        factor and name in cases and cases[name].nature == "earthquake"
        for name, factor in combination.factors.items()
    )
