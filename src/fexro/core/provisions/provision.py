"""A formula of a design code as a function that can also record itself."""

from __future__ import annotations

import ast
import copy
import functools
import inspect
import typing
from collections.abc import Callable, Mapping
from typing import Any, Generic, ParamSpec, TypeAlias, TypeVar

from fexro.core.provisions.coefficient import Coefficient
from fexro.core.provisions.derivation import Derivation, Formula, Term
from fexro.core.provisions.joining import Renamed
from fexro.core.provisions.syntax import statements_of, take_source
from fexro.core.quantities import Dimension

__all__ = ["Case", "Provision", "dimensions_of", "provision", "select", "terms_of"]

P = ParamSpec("P")
R = TypeVar("R")

ROUNDING = 1e-8  # of a part of a sum, by which the sum is off from what it would be exactly

# The name of a case, such as the kind of ties, by which a rule chooses.
Case: TypeAlias = str

_OPPOSITE: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.GtE,
    ast.LtE: ast.Gt,
    ast.Gt: ast.LtE,
    ast.GtE: ast.Lt,
}


def select(case: Case, /, **values: Any) -> Any:
    """Return the value of the case that applies; printed, the case stands beside the clause.

    Raises:
        KeyError: if the rule has no such case.
    """
    return values[case.replace(" ", "_")]


class Provision(Generic[P, R]):
    """A formula of a design code: calling it computes, `into` a derivation it is recorded too.

    Attributes:
        clause: number of the clause.
        symbol: symbol of the result.
        function: what computes.
        names: symbols that are printed in place of the function's own.
    """

    def __init__(
        self,
        clause: str,
        symbol: str,
        function: Callable[P, R],
        names: Mapping[str, str] | None = None,
    ) -> None:
        self.clause, self.symbol, self.function = clause, symbol, function
        self.names = dict(names or {})
        self._with_names: dict[tuple[tuple[str, str], ...], Provision[P, R]] = {}
        functools.update_wrapper(self, function)

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> R:
        """Compute, and leave no record."""
        return self.function(*args, **kwargs)

    def named(self, **names: str) -> Provision[P, R]:
        """Return the same provision printed with other symbols, such as those of one axis."""
        key = tuple(names.items())
        found = self._with_names.get(key)
        if found is None:
            found = Provision(self.clause, self.symbol, self.function, names)
            self._with_names[key] = found
        return found

    def into(self, record: Derivation | None, /, *args: P.args, **kwargs: P.kwargs) -> R:
        """Compute and add the lines of the calculation to a derivation, if there is one."""
        if record is None:
            return self.function(*args, **kwargs)
        return typing.cast(R, self._record(record, bound_arguments(self.function, args, kwargs)))

    def _record(self, record: Derivation, values: dict[str, Any]) -> Any:
        dimensions = dict(dimensions_of(self.function))
        namespace = self.function.__globals__
        value = None
        for statement in statements_of(self.function):
            name, expression = statement.name, statement.expression
            taken, reasons = _taken(expression, namespace, values)
            value = eval(statement.code, namespace, values)
            if _cancels(taken, value, namespace, values):
                value = 0.0
            terms = terms_of(expression, values, dimensions, namespace)
            if name != "return":
                dimensions[name] = _dimension(statement.annotation, namespace)
            record.lines.append(
                Formula(
                    self.clause,
                    self._named(self.symbol if name == "return" else name),
                    self._renamed(expression),
                    self._renamed(taken),
                    tuple(r if isinstance(r, str) else self._renamed(r) for r in reasons),
                    {self._named(known): term for known, term in terms.items()},
                    Term(value, dimensions[name]),
                )
            )
            values[name] = value
        return value

    def _named(self, name: str) -> str:
        return self.names.get(name, name)

    def _renamed(self, expression: ast.expr) -> ast.expr:
        if not self.names:
            return expression
        return Renamed(self.names).of(expression)


def _cancels(
    expression: ast.expr, value: Any, namespace: dict[str, Any], values: dict[str, Any]
) -> bool:
    """Return whether all that is left of a sum is the rounding of its parts."""
    match expression:
        case ast.BinOp(left=left, op=ast.Add() | ast.Sub()):
            part = eval(compile(ast.Expression(left), "<part>", "eval"), namespace, values)
            return bool(0.0 < abs(value) < ROUNDING * abs(part))
    return False


def provision(clause: str, symbol: str) -> Callable[[Callable[P, R]], Provision[P, R]]:
    """Mark a function as a provision of a design code.

    The body is a few named assignments and one returned expression; its only branching is `where`,
    `select`, `minimum`, `maximum`, `clip`. Arguments, the result, and what is assigned unless it is
    a ratio, are annotated with what they measure. Constants of the module may stand in it: plain
    numbers are ratios, others are `Coefficient`.

    Args:
        clause: number of the clause.
        symbol: symbol of the result.
    """

    def mark(function: Callable[P, R]) -> Provision[P, R]:
        take_source(function.__module__)
        return Provision(clause, symbol, function)

    return mark


@functools.lru_cache(maxsize=4096)
def dimensions_of(function: Callable[..., Any]) -> Mapping[str, Dimension]:
    """Return what each argument and the result (`return`) of a provision measures."""
    hints = typing.get_type_hints(function, include_extras=True)
    return {
        name: next(m for m in hint.__metadata__ if isinstance(m, Dimension))
        for name, hint in hints.items()
        if hasattr(hint, "__metadata__")
    }


def bound_arguments(
    function: Callable[..., Any], args: tuple[Any, ...], kwargs: Mapping[str, Any]
) -> dict[str, Any]:
    """Return the arguments of a call by name."""
    bound = _signature(function).bind(*args, **kwargs)
    bound.apply_defaults()
    return dict(bound.arguments)


def terms_of(
    expression: ast.expr,
    values: Mapping[str, Any],
    dimensions: Mapping[str, Dimension],
    namespace: Mapping[str, Any],
) -> dict[str, Term]:
    """Return the values of the names in an expression: arguments, steps, constants of the module.

    Args:
        expression: the expression.
        values: arguments and steps by name.
        dimensions: what those measure; a ratio where nothing is said.
        namespace: the module's names.
    """
    terms = {}
    for node in ast.walk(expression):
        if not isinstance(node, ast.Name):
            continue
        if node.id in values:
            value = values[node.id]
            dimension = dimensions.get(node.id, Dimension.RATIO)
            known = isinstance(value, Coefficient)
            terms[node.id] = Term(value, value.dimension if known else dimension)
        elif isinstance(constant := namespace.get(node.id), Coefficient):
            terms[node.id] = Term(constant, constant.dimension, constant=True)
        elif isinstance(constant, int | float) and node.id != "pi":
            terms[node.id] = Term(constant, Dimension.RATIO, constant=True)
    return terms


@functools.lru_cache(maxsize=4096)
def _signature(function: Callable[..., Any]) -> inspect.Signature:
    return inspect.signature(function)


def _dimension(annotation: str | None, namespace: dict[str, Any]) -> Dimension:
    """Return what an assigned value measures by its annotation; a ratio without one."""
    if annotation is None:
        return Dimension.RATIO
    hint = eval(annotation, namespace)
    return next(m for m in hint.__metadata__ if isinstance(m, Dimension))


def _compiled(expression: ast.expr) -> Any:
    return compile(ast.Expression(expression), "<provision>", "eval")


def _taken(
    expression: ast.expr, namespace: dict[str, Any], values: Mapping[str, Any]
) -> tuple[ast.expr, tuple[ast.expr | str, ...]]:
    """Return an expression with only the cases that apply, and why they do."""
    chosen = _Chosen(namespace, values)
    if not any(_is_choice(node) for node in ast.walk(expression)):
        return expression, ()
    taken: ast.expr = chosen.visit(copy.deepcopy(expression))
    return taken, tuple(chosen.reasons)


def _is_choice(node: ast.AST) -> bool:
    match node:
        case ast.Call(func=ast.Name(id="where" | "select")):
            return True
    return False


class _Chosen(ast.NodeTransformer):
    """Leaves of each choice only the case that applies."""

    def __init__(self, namespace: dict[str, Any], values: Mapping[str, Any]) -> None:
        self.namespace, self.values = namespace, values
        self.reasons: list[ast.expr | str] = []

    def visit_Call(self, node: ast.Call) -> ast.expr:
        """Choose, or go on inside."""
        match node:
            case ast.Call(func=ast.Name(id="where"), args=[condition, then, otherwise]):
                holds = bool(eval(_compiled(condition), self.namespace, dict(self.values)))
                self.reasons.append(condition if holds else _negated(condition))
                return typing.cast(ast.expr, self.visit(then if holds else otherwise))
            case ast.Call(func=ast.Name(id="select"), args=[case]):
                name = eval(_compiled(case), self.namespace, dict(self.values))
                self.reasons.append(name)
                chosen = next(k.value for k in node.keywords if k.arg == name.replace(" ", "_"))
                return typing.cast(ast.expr, self.visit(chosen))
        self.generic_visit(node)
        return node


def _negated(condition: ast.expr) -> ast.expr:
    assert isinstance(condition, ast.Compare)
    (operator,) = condition.ops
    return ast.Compare(condition.left, [_OPPOSITE[type(operator)]()], condition.comparators)
