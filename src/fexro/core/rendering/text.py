"""A derivation as plain text, for terminals, screen readers and tests."""

from __future__ import annotations

import ast

from fexro.core.provisions import Derivation, Formula, Given, Line, Note, Reading, Root, Table
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.expressions import ATOM, POWER, PRODUCT, ExpressionWriter, results_of
from fexro.core.rendering.readings import interpolation
from fexro.core.rendering.symbols import text_symbol
from fexro.core.rendering.tables import cells_of, sentence

__all__ = ["formula_parts", "line_text", "plain_text", "residual_text"]


def plain_text(record: Derivation, system: UnitSystem) -> str:
    """Return the derivation as lines of plain text."""
    return "\n".join(line_text(line, system) for line in record.lines)


class _Text(ExpressionWriter):
    pi, times, separator = "π", "·", "; "

    def symbol(self, identifier: str) -> str:
        return text_symbol(identifier)

    def number(self, text: str) -> str:
        return text

    def quantity(self, text: str) -> str:
        return text

    def brackets(self, text: str) -> str:
        return f"({text})"

    def quotient(self, left: ast.expr, right: ast.expr) -> tuple[str, int]:
        return f"{self.inside(left, PRODUCT)} / {self.inside(right, POWER)}", PRODUCT

    def power(self, left: ast.expr, right: ast.expr) -> str:
        base = self.inside(left, ATOM)
        exponent = self.inside(right, ATOM)
        return base + {"2": "²", "3": "³"}.get(exponent, f"^{exponent}")

    def cases(self, cases: list[tuple[str, str]]) -> str:
        return f"({'; '.join(f'{text} for {name}' for name, text in cases)})"

    def choice(self, condition: str, then: str, otherwise: str) -> str:
        return f"({then} if {condition}, else {otherwise})"

    def root(self, text: str) -> str:
        return f"√({text})"


def formula_parts(line: Formula, system: UnitSystem) -> tuple[str, str, str]:
    """Return the formula, the same with its values, and by which case it was taken."""
    reasons = [
        reason if isinstance(reason, str) else _Text(line.terms).write(reason)[0]
        for reason in line.reasons
    ]
    return (
        _Text(line.terms).write(line.expression)[0],
        _Text(line.terms, system).write(line.taken)[0],
        "; ".join(reasons),
    )


def residual_text(line: Root, system: UnitSystem) -> str:
    """Return what vanishes, with its values put in."""
    return _Text(line.terms, system).write(line.expression)[0]


def line_text(line: Line, system: UnitSystem) -> str:
    """Return one line of a derivation (several for a table)."""
    match line:
        case Note():
            return sentence(line.text, line.terms, system)
        case Given(symbol=symbol, value=value, source=source):
            results = " = ".join(results_of(value, system)).replace(" °", "°")
            return f"{text_symbol(symbol)} = {results}   ({source})"
        case Table():
            return _table(line, system)
        case Reading():
            read = interpolation(line, system)
            values = " = ".join([read.where, read.sum, *results_of(line.result, system)])
            return f"{text_symbol(line.symbol)} = {values}   [{line.clause}]"
        case Root():
            symbols = _Text(line.terms).write(line.expression)[0]
            numbers = residual_text(line, system)
            (residual, *_) = results_of(line.residual, system)
            result = " = ".join(results_of(line.result, system))
            return (
                f"{symbols} = 0, solved by {text_symbol(line.symbol)} = {result}"
                f" with the residual {numbers} = {residual}   [{line.clause}]"
            )
        case Formula():
            symbols, numbers, reasons = formula_parts(line, system)
            found = results_of(line.result, system)
            steps = [numbers] if numbers != found[0] else []
            parts = [text_symbol(line.symbol), symbols, *steps, *found]
            because = f": {reasons}" if reasons else ""
            return f"{' = '.join(parts)}   [{line.clause}{because}]"


def _table(line: Table, system: UnitSystem) -> str:
    heads, rows = cells_of(line, system)
    widths = [max(map(len, column)) for column in zip(heads, *rows, strict=True)]
    lines = [
        "  ".join(cell.rjust(w) for cell, w in zip(row, widths, strict=True))
        for row in [heads, *rows]
    ]
    return "\n".join([f"{line.title}:", *(f"  {row}" for row in lines)])
