"""Equations of a code that are solved for an unknown, recorded with root and residual."""

from __future__ import annotations

import inspect
import math
from collections.abc import Callable
from typing import Any

import numpy as np

from fexro.core.errors import FexroError
from fexro.core.provisions.derivation import Derivation, Root, Term
from fexro.core.provisions.provision import dimensions_of, terms_of
from fexro.core.provisions.syntax import statements_of, take_source
from fexro.core.quantities import Dimension

__all__ = ["Equation", "NoRootError", "equation"]

HALVINGS = 200  # more than there are between the smallest and the largest number


class NoRootError(FexroError):
    """An equation has no root where it is sought, or not one.

    Args:
        clause: of the equation.
        symbol: of the unknown.
        low, high: where it was sought.
    """

    def __init__(self, clause: str, symbol: str, low: float, high: float) -> None:
        super().__init__(f"{clause}: no {symbol} between {low:g} and {high:g} solves the equation.")


class Equation:
    """What vanishes for the unknown sought, the first argument of its function.

    Attributes:
        clause: number of the clause.
        symbol: symbol of the unknown.
        function: what vanishes: one returned expression, for arrays too.
    """

    def __init__(self, clause: str, symbol: str, function: Callable[..., Any]) -> None:
        self.clause, self.symbol, self.function = clause, symbol, function
        self.__doc__ = function.__doc__

    def __call__(self, low: float, high: float, *known: Any) -> Any:
        """Solve for the unknown between two bounds, by halving.

        Args:
            low, high: bounds between which it is.
            known: the other arguments, floats or arrays alike in shape.

        Raises:
            NoRootError: if the expression has the same sign at both bounds.
        """
        shape = np.broadcast_shapes(*(np.shape(value) for value in known))
        if not shape:
            return self._single(float(low), float(high), known)
        below, above = np.full(shape, float(low)), np.full(shape, float(high))
        sign = np.sign(self.function(below, *known))
        if np.any(sign * np.sign(self.function(above, *known)) > 0):
            raise NoRootError(self.clause, self.symbol, low, high)
        for _ in range(HALVINGS):
            middle = (below + above) / 2
            if np.all((middle == below) | (middle == above)):
                break
            short = np.sign(self.function(middle, *known)) == sign
            below, above = np.where(short, middle, below), np.where(short, above, middle)
        nearer = np.abs(self.function(below, *known)) <= np.abs(self.function(above, *known))
        return np.where(nearer, below, above)

    def _single(self, low: float, high: float, known: tuple[Any, ...]) -> float:
        """Solve for one unknown by Ridders' method, which halves at least and needs few steps."""
        at_low, at_high = float(self.function(low, *known)), float(self.function(high, *known))
        if at_low * at_high > 0:
            raise NoRootError(self.clause, self.symbol, low, high)
        best, least = (low, at_low) if abs(at_low) < abs(at_high) else (high, at_high)
        for _ in range(HALVINGS):
            middle = (low + high) / 2
            if middle in (low, high) or least == 0:
                break
            half = float(self.function(middle, *known))
            root = math.sqrt(half * half - at_low * at_high)
            if not 0 < root < math.inf:
                root = math.inf
            step = (middle - low) * math.copysign(1.0, at_low - at_high) * half / root
            place = middle + step
            there = float(self.function(place, *known))
            for x, value in sorted(((middle, half), (place, there))):
                if abs(value) < abs(least):
                    best, least = x, value
                if not low < x < high:
                    continue
                if (value > 0) == (at_low > 0):
                    low, at_low = x, value
                else:
                    high, at_high = x, value
                    break
        return best

    def into(self, record: Derivation | None, low: float, high: float, /, *known: float) -> float:
        """Solve and add the equation, its root and its residual to a derivation, if there is one.

        Raises:
            NoRootError: as when called.
        """
        root = float(self(low, high, *known))
        if record is None:
            return root
        (statement,) = statements_of(self.function)
        names = list(inspect.signature(self.function).parameters)
        values = dict(zip(names, (root, *known), strict=True))
        dimensions = dimensions_of(self.function)
        terms = terms_of(statement.expression, values, dimensions, self.function.__globals__)
        residual = Term(float(self.function(root, *known)), dimensions["return"])
        result = Term(root, dimensions.get(names[0], Dimension.RATIO))
        record.lines.append(
            Root(self.clause, self.symbol, statement.expression, terms, result, residual)
        )
        return root


def equation(clause: str, symbol: str) -> Callable[[Callable[..., Any]], Equation]:
    """Mark a function as what vanishes where the equation of a clause is solved.

    Args:
        clause: number of the clause.
        symbol: symbol of the unknown, the first argument.
    """

    def mark(function: Callable[..., Any]) -> Equation:
        take_source(function.__module__)
        return Equation(clause, symbol, function)

    return mark
