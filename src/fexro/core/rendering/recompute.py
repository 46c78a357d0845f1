"""Printed lines of a derivation done again from their printed numbers, as a checker would."""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable, Iterator
from typing import Any

from fexro.core.provisions import Derivation, Formula, Line, Reading, Root
from fexro.core.quantities import MINUS, THIN_SPACE, Dimension, UnitSystem
from fexro.core.rendering.expressions import FIGURES_OF_RESULT, FIGURES_PUT_IN, number_of
from fexro.core.rendering.readings import interpolation
from fexro.core.rendering.text import formula_parts, residual_text

__all__ = ["differences", "evaluate"]

_POWERS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
# A printed sign, and what it is to be read as.
_SIGNS = (
    (THIN_SPACE, ""),
    ("−", "-"),
    ("·", "*"),
    ("²", "**2"),
    ("³", "**3"),
    ("^", "**"),
    ("√", "sqrt"),
    (";", ","),
    (", else", " else"),
    ("≥", ">="),
    ("≤", "<="),
)
_FUNCTIONS: dict[str, Callable[..., float]] = {
    "sqrt": math.sqrt,
    "sin": math.sin,
    "cos": math.cos,
    "tan": math.tan,
    "arcsin": math.asin,
    "ln": math.log,
    "max": max,
    "min": min,
}
_OPERATIONS: dict[type[ast.AST], Callable[[Any, Any], Any]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
    ast.Pow: operator.pow,
    ast.Lt: operator.lt,
    ast.LtE: operator.le,
    ast.Gt: operator.gt,
    ast.GtE: operator.ge,
}


def differences(record: Derivation, system: UnitSystem) -> Iterator[tuple[Line, float]]:
    """Yield each line that calculates, with how far its printed result is from its printed numbers.

    The difference is relative to the result; of an equation that was solved, it is what is left of
    it against its parts.
    """
    for line in record.lines:
        match line:
            case Formula():
                numbers = formula_parts(line, system)[1]
                sums = isinstance(line.taken, ast.BinOp) and isinstance(
                    line.taken.op, ast.Add | ast.Sub
                )
                parts = evaluate(_added(numbers)) if sums else 0.0
                yield line, _apart(evaluate(numbers), line, system, parts)
            case Reading():
                done = evaluate(interpolation(line, system).sum)
                yield line, _apart(done, line, system, 0.0)
            case Root():
                numbers = residual_text(line, system)
                size = abs(evaluate(_added(numbers)))
                yield line, abs(evaluate(numbers)) / max(size, 1.0)


def _added(numbers: str) -> str:
    """Return an expression with its differences as sums: how large its parts are."""
    return numbers.replace(MINUS, "+")


def _apart(done: float, line: Formula | Reading, system: UnitSystem, parts: float) -> float:
    printed = evaluate(number_of(line.result, system, FIGURES_OF_RESULT))
    if line.result.dimension == Dimension.ANGLE and math.isfinite(done):
        printed = float(line.result.value)
    # What is left of a difference is no more exact than the figures of its parts.
    unsure = 10.0 ** (1 - FIGURES_PUT_IN) * abs(parts)
    return max(abs(done - printed) - unsure, 0.0) / max(abs(done), abs(printed), 1e-9)


def evaluate(text: str) -> float:
    """Return the value of a printed expression.

    Raises:
        ValueError: for what is none.
    """
    written = re.sub(r"·10([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)", lambda m: f"e{m[1].translate(_POWERS)}", text)
    written = re.sub(r"([\d.]+) ?°", r"(\1·π/180)", written)
    for sign, read in _SIGNS:
        written = written.replace(sign, read)
    try:
        return float(_value(ast.parse(written.strip(), mode="eval").body))
    except SyntaxError:
        raise ValueError(f"“{text}” cannot be computed") from None


def _value(node: ast.expr) -> Any:
    match node:
        case ast.Constant(value=int() | float() as value):
            return value
        case ast.Name(id="π"):
            return math.pi
        case ast.UnaryOp(op=ast.USub(), operand=operand):
            return -_value(operand)
        case ast.UnaryOp(op=ast.UAdd(), operand=operand):
            return _value(operand)
        case ast.BinOp(left=left, op=op, right=right):
            return _OPERATIONS[type(op)](_value(left), _value(right))
        case ast.Compare(left=left, ops=[op], comparators=[right]):
            return _OPERATIONS[type(op)](_value(left), _value(right))
        case ast.IfExp(test=test, body=body, orelse=orelse):
            return _value(body if _value(test) else orelse)
        case ast.Call(func=ast.Name(id=name), args=args) if name in _FUNCTIONS:
            return _FUNCTIONS[name](*map(_value, args))
    raise ValueError(f"“{ast.unparse(node)}” cannot be computed")
