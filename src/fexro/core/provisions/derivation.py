"""The derivation of a number: what stands in it, line by line."""

from __future__ import annotations

import ast
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from fexro.core.quantities import Dimension

__all__ = [
    "Derivation",
    "Formula",
    "Given",
    "Line",
    "Note",
    "Reading",
    "Root",
    "Table",
    "Term",
]


@dataclass(frozen=True)
class Term:
    """A value in a formula and what it measures; a constant is printed as its number."""

    value: Any
    dimension: Dimension
    constant: bool = False


@dataclass(frozen=True)
class Formula:
    """A recorded calculation: symbol = expression = expression with values = result.

    Attributes:
        clause: number of the clause.
        symbol: symbol of the result.
        expression: the whole formula, with all its cases.
        taken: the same with only the case that was taken.
        reasons: the conditions, or names of cases, by which it was taken.
        terms: the values of what stands in it, by name.
        result: what came out.
    """

    clause: str
    symbol: str
    expression: ast.expr
    taken: ast.expr
    reasons: tuple[ast.expr | str, ...]
    terms: Mapping[str, Term]
    result: Term


@dataclass(frozen=True)
class Given:
    """A value that the calculation starts from, and where it comes from."""

    symbol: str
    value: Term
    source: str


@dataclass(frozen=True)
class Reading:
    """A value read from a table of the code.

    Attributes:
        clause: of the table.
        symbol: of the value.
        steps: for each of its axes the symbol, what was looked up, and the places of the axis
            before and after it (one where it lies on a place or beyond the end).
        corners: the values at those places, first axis slowest.
        result: the value read.
    """

    clause: str
    symbol: str
    steps: tuple[tuple[str, Term, tuple[float, ...]], ...]
    corners: tuple[float, ...]
    result: Term


@dataclass(frozen=True)
class Root:
    """A value that solves an equation.

    Attributes:
        clause: of the equation.
        symbol: of the unknown.
        expression: what vanishes.
        terms: the values of what stands in it, by name, the unknown's among them.
        result: the unknown.
        residual: what is left of the expression there.
    """

    clause: str
    symbol: str
    expression: ast.expr
    terms: Mapping[str, Term]
    result: Term
    residual: Term


@dataclass(frozen=True)
class Table:
    """Values that repeat, such as one row for each bar."""

    title: str
    columns: tuple[tuple[str, Dimension | None], ...]
    rows: tuple[tuple[Any, ...], ...]


@dataclass(frozen=True)
class Note:
    """A sentence between the lines; what stands in braces in it are values, by name."""

    text: str
    terms: Mapping[str, Term] = field(default_factory=dict)


Line = Formula | Given | Reading | Root | Table | Note


@dataclass
class Derivation:
    """The calculation of a number, line by line."""

    lines: list[Line] = field(default_factory=list)

    def given(self, symbol: str, value: float, dimension: Dimension, source: str) -> None:
        """Add a value that the calculation starts from."""
        self.lines.append(Given(symbol, Term(value, dimension), source))

    def note(self, text: str, **terms: Term) -> None:
        """Add a sentence; `{name}` in it stands for the value given under that name."""
        self.lines.append(Note(text, terms))

    def table(
        self,
        title: str,
        columns: Sequence[tuple[str, Dimension | None]],
        rows: Sequence[tuple[Any, ...]],
    ) -> None:
        """Add a table; each column has a symbol and a dimension (none for text)."""
        self.lines.append(Table(title, tuple(columns), tuple(rows)))
