"""Walking an expression and writing it; what differs between notations is left to them."""

from __future__ import annotations

import ast
from abc import ABC, abstractmethod
from collections.abc import Mapping

from fexro.core.provisions import Coefficient, Term
from fexro.core.quantities import (
    MINUS,
    Dimension,
    UnitSystem,
    format_number,
    format_significant,
    unit_of,
)

__all__ = [
    "ATOM",
    "FIGURES_OF_RESULT",
    "FIGURES_PUT_IN",
    "POWER",
    "PRODUCT",
    "ExpressionWriter",
    "number_of",
    "results_of",
]

FIGURES_PUT_IN = 6
FIGURES_OF_RESULT = 5
DECIMALS_OF_ANGLE = 4  # of a degree: a hundredth of a millimetre across a section

SUM, PRODUCT, UNARY, POWER, ATOM = range(5)  # how closely a part binds
_COMPARISONS = {ast.Lt: "<", ast.LtE: "≤", ast.Gt: ">", ast.GtE: "≥"}


def number_of(term: Term, system: UnitSystem, figures: int = FIGURES_PUT_IN) -> str:
    """Return a value as it is put into a formula, in a unit in which the formula holds."""
    unit = unit_of(term.dimension, system, coherent=True)
    return format_significant(float(term.value) / unit.size, figures)


def results_of(term: Term, system: UnitSystem) -> list[str]:
    """Write a result in the unit the formula gives and, where another is usual, in that too."""
    coherent = unit_of(term.dimension, system, coherent=True)
    shown = unit_of(term.dimension, system)
    if term.dimension == Dimension.ANGLE:
        return [f"{format_number(float(term.value) / shown.size, DECIMALS_OF_ANGLE)} °"]
    written = [f"{number_of(term, system, FIGURES_OF_RESULT)} {coherent.symbol}".rstrip()]
    if shown.size != coherent.size:
        value = format_significant(float(term.value) / shown.size, FIGURES_OF_RESULT)
        written.append(f"{value} {shown.symbol}")
    return written


class ExpressionWriter(ABC):
    """Writes expressions with symbols or, where a system of units is given, with their values.

    Args:
        terms: the values of the names.
        system: the units of the values; without one the names are written.
    """

    pi: str
    times: str
    separator: str

    def __init__(self, terms: Mapping[str, Term], system: UnitSystem | None = None) -> None:
        self.terms, self.system = terms, system

    def name(self, identifier: str) -> tuple[str, int]:
        """Write a name: a symbol, or a number where values are put in or it is a constant."""
        if identifier == "pi":
            return self.pi, ATOM
        term = self.terms.get(identifier)
        if self.system is not None and term is not None and not isinstance(term.value, str):
            if term.dimension == Dimension.ANGLE:
                return self.quantity(results_of(term, self.system)[0]), ATOM
            text = number_of(term, self.system)
            # A negative number inside a formula needs its brackets, like a power of ten.
            return self.number(text), PRODUCT if text.startswith(MINUS) or "·" in text else ATOM
        if term is not None and isinstance(term.value, Coefficient):
            return self.quantity(term.value.written), PRODUCT
        if term is not None and term.constant:
            return self.number(format_significant(float(term.value), 12)), ATOM
        return self.symbol(identifier), ATOM

    def write(self, node: ast.expr) -> tuple[str, int]:
        """Return the text of an expression and how closely it binds."""
        match node:
            case ast.Constant(value=int() | float() as value):
                return self.number(format_significant(float(value), 12)), ATOM
            case ast.Name(id=identifier):
                return self.name(identifier)
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                return f"{MINUS}{self.inside(operand, PRODUCT)}", UNARY
            case ast.BinOp(left=left, op=ast.Add(), right=right):
                return f"{self.inside(left, SUM)} + {self.term(right)}", SUM
            case ast.BinOp(left=left, op=ast.Sub(), right=right):
                return f"{self.inside(left, SUM)} − {self.inside(right, PRODUCT)}", SUM
            case ast.BinOp(left=left, op=ast.Mult(), right=right):
                return self.product(left, right), PRODUCT
            case ast.BinOp(left=left, op=ast.Div(), right=right):
                return self.quotient(left, right)
            case ast.BinOp(left=left, op=ast.Pow(), right=right):
                return self.power(left, right), POWER
            case ast.Compare(left=left, ops=[op], comparators=[right]):
                sign = self.sign(_COMPARISONS[type(op)])
                return f"{self.inside(left, SUM)} {sign} {self.inside(right, SUM)}", SUM
            case ast.Call(func=ast.Name(id="select"), keywords=keywords):
                cases = [(k.arg or "", self.write(k.value)[0]) for k in keywords]
                return self.cases([(name.replace("_", " "), text) for name, text in cases]), ATOM
            case ast.Call(func=ast.Name(id=function), args=args):
                return self.call(function, args)
        raise TypeError(f"{ast.unparse(node)} cannot be printed")

    def inside(self, node: ast.expr, least: int) -> str:
        """Write a part, in brackets where it binds less than needed."""
        text, binding = self.write(node)
        negative = least > SUM and text.startswith(MINUS)
        return text if binding >= least and not negative else self.brackets(text)

    def term(self, node: ast.expr) -> str:
        """Write what is added: a sum needs no brackets, a negative number does."""
        text, _ = self.write(node)
        return self.brackets(text) if text.startswith(MINUS) else text

    def product(self, left: ast.expr, right: ast.expr) -> str:
        """Write a product."""
        second = self.inside(right, POWER)
        if isinstance(right, ast.BinOp) and isinstance(right.op, ast.Div):
            second = self.brackets(self.write(right)[0])
        return f"{self.inside(left, PRODUCT)} {self.times} {second}"

    def call(self, function: str, args: list[ast.expr]) -> tuple[str, int]:
        """Write a function of its arguments."""
        parts = [self.write(arg)[0] for arg in args]
        match function:
            case "where":
                condition, then, otherwise = parts
                return self.choice(condition, then, otherwise), ATOM
            case "sqrt":
                return self.root(parts[0]), ATOM
            case "sin" | "cos" | "tan" | "arcsin":
                return f"{function}{self.brackets(parts[0])}", ATOM
            case "log":
                return f"ln{self.brackets(parts[0])}", ATOM
            case "minimum" | "maximum":
                return f"{function[:3]}({self.separator.join(parts)})", ATOM
            case "clip":
                value, lower, upper = parts
                larger = f"max({value}{self.separator}{lower})"
                return f"min({larger}{self.separator}{upper})", ATOM
        raise TypeError(f"{function} cannot be printed")

    def sign(self, text: str) -> str:
        """Write a sign of comparison."""
        return text

    @abstractmethod
    def symbol(self, identifier: str) -> str:
        """Write a symbol."""

    @abstractmethod
    def number(self, text: str) -> str:
        """Write a formatted number."""

    @abstractmethod
    def quantity(self, text: str) -> str:
        """Write a number with its unit."""

    @abstractmethod
    def brackets(self, text: str) -> str:
        """Write brackets round a part."""

    @abstractmethod
    def quotient(self, left: ast.expr, right: ast.expr) -> tuple[str, int]:
        """Write a quotient."""

    @abstractmethod
    def power(self, left: ast.expr, right: ast.expr) -> str:
        """Write a power."""

    @abstractmethod
    def cases(self, cases: list[tuple[str, str]]) -> str:
        """Write values by the names of their cases."""

    @abstractmethod
    def choice(self, condition: str, then: str, otherwise: str) -> str:
        """Write a value by a condition."""

    @abstractmethod
    def root(self, text: str) -> str:
        """Write a square root."""
