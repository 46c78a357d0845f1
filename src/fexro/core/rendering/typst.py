"""A derivation as Typst markup, for screens and paper."""

from __future__ import annotations

import ast
import re

from fexro.core.provisions import Derivation, Formula, Given, Line, Note, Reading, Root, Table, Term
from fexro.core.quantities import THIN_SPACE, UnitSystem
from fexro.core.rendering.expressions import ATOM, POWER, PRODUCT, ExpressionWriter, results_of
from fexro.core.rendering.readings import interpolation
from fexro.core.rendering.symbols import text_symbol, typst_symbol
from fexro.core.rendering.tables import cells_of, sentence

__all__ = ["typst_source"]


def typst_source(record: Derivation, system: UnitSystem) -> str:
    """Return the derivation as Typst markup, without page settings.

    It uses three functions of the page: `source` (a quiet remark), `line-of` (clause, formula,
    values, result) and `values` (a table).
    """
    return "\n\n".join(_line(line, system) for line in record.lines)


class _Typst(ExpressionWriter):
    pi, times, separator = "pi", "dot.op", ", "

    def symbol(self, identifier: str) -> str:
        return typst_symbol(identifier)

    def number(self, text: str) -> str:
        return _number(text)

    def quantity(self, text: str) -> str:
        number, _, unit = text.rpartition(" ")
        return f"{_number(number)} thin {_unit(unit)}"

    def brackets(self, text: str) -> str:
        return f"({text})"

    def quotient(self, left: ast.expr, right: ast.expr) -> tuple[str, int]:
        return f"frac({self.write(left)[0]}, {self.write(right)[0]})", ATOM

    def product(self, left: ast.expr, right: ast.expr) -> str:
        joint = " thin " if self.system is None else " dot.op "
        return f"{self.inside(left, PRODUCT)}{joint}{self.inside(right, POWER)}"

    def power(self, left: ast.expr, right: ast.expr) -> str:
        base = self.inside(left, ATOM)
        if base.startswith("frac("):
            base = self.brackets(base)
        return f"{base}^({self.write(right)[0]})"

    def cases(self, cases: list[tuple[str, str]]) -> str:
        return f"cases({', '.join(f'{text} & {_quoted(name)}' for name, text in cases)})"

    def choice(self, condition: str, then: str, otherwise: str) -> str:
        return f'cases({then} & " if " {condition}, {otherwise} & " otherwise")'

    def root(self, text: str) -> str:
        return f"sqrt({text})"


def _number(text: str) -> str:
    """Write a formatted number for Typst: thin spaces and powers of ten."""
    text = re.sub(
        r"·10([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)",
        lambda m: (
            " dot.op 10^(" + m[1].translate(str.maketrans("⁻⁰¹²³⁴⁵⁶⁷⁸⁹", "-0123456789")) + ")"
        ),
        text,
    )
    return text.replace(THIN_SPACE, " thin ")


def _quoted(text: str) -> str:
    escaped = text.replace("\\", "\\\\").replace('"', '\\"')
    return f'"{escaped}"'


def _line(line: Line, system: UnitSystem) -> str:
    match line:
        case Note():
            return _escape(sentence(line.text, line.terms, system))
        case Given(symbol=symbol, value=value, source=source):
            equation = f"${typst_symbol(symbol)} = {_results(value, system)}$"
            return f"{equation} #h(1em) #source[{_escape(source)}]"
        case Table():
            return _table(line, system)
        case Reading():
            read = interpolation(line, system)
            return _formula(
                line.clause,
                f"{typst_symbol(line.symbol)} = {_quoted(read.where)}",
                _number(read.sum),
                _results(line.result, system),
            )
        case Root():
            symbols = _Typst(line.terms).write(line.expression)[0]
            numbers = _Typst(line.terms, system).write(line.expression)[0]
            solved = f'"solved by" {typst_symbol(line.symbol)} = {_results(line.result, system)}'
            return _formula(
                line.clause,
                f"{symbols} = 0",
                f"{numbers} = {_results(line.residual, system)}",
                solved,
                joint="",
            )
        case Formula():
            symbols = _Typst(line.terms).write(line.expression)[0]
            numbers = _Typst(line.terms, system).write(line.taken)[0]
            reasons = [
                _quoted(reason) if isinstance(reason, str) else _Typst(line.terms).write(reason)[0]
                for reason in line.reasons
            ]
            if reasons:
                numbers += f' quad "(" {", ".join(reasons)} ")"'
            return _formula(
                line.clause,
                f"{typst_symbol(line.symbol)} = {symbols}",
                numbers,
                _results(line.result, system),
            )


def _formula(clause: str, symbols: str, numbers: str, result: str, joint: str = "= ") -> str:
    return f"#line-of([{_escape(clause)}])[$ {symbols} $][$ = {numbers} $][$ {joint}{result} $]"


def _results(term: Term, system: UnitSystem) -> str:
    return " = ".join(
        f"{_number(number)} {_unit(unit)}" if unit else _number(number)
        for number, _, unit in (text.partition(" ") for text in results_of(term, system))
    )


def _unit(unit: str) -> str:
    return f'sqrt("{unit[1:]}")' if unit.startswith("√") else f'"{unit}"'


def _escape(text: str) -> str:
    return re.sub(r"([\\#$*_`<>@\[\]~=])", r"\\\1", text)


def _table(table: Table, system: UnitSystem) -> str:
    heads, rows = cells_of(table, system)
    for i, (symbol, dimension) in enumerate(table.columns):
        if dimension is not None:
            heads[i] = heads[i].replace(text_symbol(symbol), f"${typst_symbol(symbol)}$")
    cells = ", ".join(
        [f"[{head}]" for head in heads] + [f"[{_escape(cell)}]" for row in rows for cell in row]
    )
    return f"{_escape(table.title)}:\n#values({len(heads)}, {cells})"
