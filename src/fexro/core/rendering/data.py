"""A derivation as plain data, for JSON."""

from __future__ import annotations

import math
from typing import Any

from fexro.core.provisions import Derivation, Formula, Given, Line, Note, Reading, Root, Table, Term
from fexro.core.quantities import Dimension, UnitSystem, unit_of
from fexro.core.rendering.symbols import text_symbol
from fexro.core.rendering.tables import sentence
from fexro.core.rendering.text import formula_parts, line_text

__all__ = ["derivation_data"]

FIGURES = 9


def derivation_data(record: Derivation, system: UnitSystem) -> list[dict[str, Any]]:
    """Return the lines as objects: kind, clause, symbol, text, and values with their units."""
    return [{**_parts(line, system), "text": line_text(line, system)} for line in record.lines]


def _parts(line: Line, system: UnitSystem) -> dict[str, Any]:
    match line:
        case Note():
            return {"kind": "note", "sentence": sentence(line.text, line.terms, system)}
        case Given():
            return {
                "kind": "given",
                "symbol": text_symbol(line.symbol),
                "source": line.source,
                **_value(line.value, system),
            }
        case Table():
            units = [unit_of(d or Dimension.RATIO, system) for _, d in line.columns]
            return {
                "kind": "table",
                "title": line.title,
                "columns": [
                    {"symbol": text_symbol(symbol), "unit": unit.symbol or None}
                    for (symbol, _), unit in zip(line.columns, units, strict=True)
                ],
                "rows": [
                    [
                        value
                        if isinstance(value, str)
                        else _number(value / (unit.size if unit else 1))
                        for value, unit in zip(row, units, strict=True)
                    ]
                    for row in line.rows
                ],
            }
        case Reading() | Root():
            return {
                "kind": "table reading" if isinstance(line, Reading) else "solved equation",
                "clause": line.clause,
                "symbol": text_symbol(line.symbol),
                **_value(line.result, system),
            }
        case Formula():
            symbols, numbers, reasons = formula_parts(line, system)
            return {
                "kind": "formula",
                "clause": line.clause,
                "symbol": text_symbol(line.symbol),
                "formula": symbols,
                "values": numbers,
                "case": reasons or None,
                **_value(line.result, system),
            }


def _value(term: Term, system: UnitSystem) -> dict[str, Any]:
    unit = unit_of(term.dimension, system)
    size = 1.0 if term.dimension == Dimension.STRAIN else unit.size
    return {"value": _number(float(term.value) / size), "unit": unit.symbol or None}


def _number(value: float) -> float | None:
    return float(f"{value:.{FIGURES}g}") if math.isfinite(value) else None
