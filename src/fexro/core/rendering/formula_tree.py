"""Lines of a derivation as trees, for notations that are made of elements.

A tree has text and these elements: `frac` of two `part`s, `root`, `sub` and `sup` of two parts,
`par` (brackets), `cases` of rows that are two parts each.
"""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from xml.etree.ElementTree import Element, fromstring
from xml.sax.saxutils import escape

from fexro.core.provisions import Derivation, Formula, Given, Line, Note, Reading, Root, Table, Term
from fexro.core.quantities import UnitSystem
from fexro.core.rendering.expressions import ATOM, PRODUCT, ExpressionWriter, results_of
from fexro.core.rendering.readings import interpolation
from fexro.core.rendering.symbols import text_symbol
from fexro.core.rendering.tables import cells_of, sentence

__all__ = ["LineTree", "line_trees", "written"]


@dataclass(frozen=True, eq=False)
class LineTree:
    """A line of a derivation.

    Attributes:
        text: a sentence, the source of a value, or the title of a table.
        parts: of an equation: symbol with formula, the same with values, result.
        clause: of the equation.
        table: headings and rows; nothing where it is none.
    """

    text: str = ""
    parts: tuple[Element, ...] = ()
    clause: str = ""
    table: tuple[list[str], list[list[str]]] | None = None


def written(
    element: Element, text: Callable[[str | None], str], inner: Callable[[Element], str]
) -> str:
    """Return what is inside an element, in order, in a notation.

    Args:
        element: of a tree.
        text: writes text of it, or none.
        inner: writes an element in it.
    """
    parts = (inner(child) + text(child.tail) for child in element)
    return text(element.text) + "".join(parts)


def line_trees(record: Derivation, system: UnitSystem) -> Iterator[LineTree]:
    """Yield the lines of a derivation as trees."""
    for line in record.lines:
        yield _line(line, system)


class _Tree(ExpressionWriter):
    pi, times, separator = "π", "·", "; "

    def sign(self, text: str) -> str:
        return escape(text)

    def symbol(self, identifier: str) -> str:
        return _symbol(identifier)

    def number(self, text: str) -> str:
        return escape(text)

    def quantity(self, text: str) -> str:
        return escape(text)

    def brackets(self, text: str) -> str:
        return f"<par>{text}</par>"

    def quotient(self, left: ast.expr, right: ast.expr) -> tuple[str, int]:
        return _pair("frac", self.write(left)[0], self.write(right)[0]), ATOM

    def product(self, left: ast.expr, right: ast.expr) -> str:
        return f"{self.inside(left, PRODUCT)} · {self.inside(right, PRODUCT)}"

    def power(self, left: ast.expr, right: ast.expr) -> str:
        return _pair("sup", self.inside(left, ATOM), self.write(right)[0])

    def cases(self, cases: list[tuple[str, str]]) -> str:
        rows = "".join(_pair("case", text, escape(name)) for name, text in cases)
        return f"<cases>{rows}</cases>"

    def choice(self, condition: str, then: str, otherwise: str) -> str:
        rows = _pair("case", then, f"if {condition}") + _pair("case", otherwise, "otherwise")
        return f"<cases>{rows}</cases>"

    def root(self, text: str) -> str:
        return f"<root>{text}</root>"


def _pair(name: str, first: str, second: str) -> str:
    return f"<{name}><part>{first}</part><part>{second}</part></{name}>"


def _symbol(identifier: str) -> str:
    written = text_symbol(identifier)
    if " " in written:
        return " ".join(map(_subscripted, written.split()))
    return _subscripted(written)


def _subscripted(written: str) -> str:
    base, _, below = written.partition("_")
    return _pair("sub", escape(base), escape(below)) if below else escape(base)


def _tree(text: str) -> Element:
    return fromstring(f"<row>{text}</row>")


def _results(term: Term, system: UnitSystem) -> str:
    return " = ".join(escape(text) for text in results_of(term, system))


def _line(line: Line, system: UnitSystem) -> LineTree:
    match line:
        case Note():
            return LineTree(sentence(line.text, line.terms, system))
        case Given(symbol=symbol, value=value, source=source):
            return LineTree(source, (_tree(f"{_symbol(symbol)} = {_results(value, system)}"),))
        case Table():
            return LineTree(line.title, table=cells_of(line, system))
        case Reading():
            read = interpolation(line, system)
            parts = (f"{_symbol(line.symbol)} = {escape(read.where)}", f"= {escape(read.sum)}")
            return _equation(line.clause, *parts, f"= {_results(line.result, system)}")
        case Root():
            symbols = _Tree(line.terms).write(line.expression)[0]
            numbers = _Tree(line.terms, system).write(line.expression)[0]
            residual = _results(line.residual, system)
            solved = f"solved by {_symbol(line.symbol)} = {_results(line.result, system)}"
            return _equation(line.clause, f"{symbols} = 0", f"{numbers} = {residual}", solved)
        case Formula():
            symbols = _Tree(line.terms).write(line.expression)[0]
            numbers = _Tree(line.terms, system).write(line.taken)[0]
            reasons = [
                escape(reason) if isinstance(reason, str) else _Tree(line.terms).write(reason)[0]
                for reason in line.reasons
            ]
            because = f" ({', '.join(reasons)})" if reasons else ""
            first = f"{_symbol(line.symbol)} = {symbols}"
            return _equation(
                line.clause, first, f"= {numbers}{because}", f"= {_results(line.result, system)}"
            )


def _equation(clause: str, *parts: str) -> LineTree:
    return LineTree("", tuple(map(_tree, parts)), clause)
