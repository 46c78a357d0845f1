"""Provisions: formulas of a design code as functions, and the derivation their calls leave.

A provision is a small pure function with its clause and symbol. Called, it computes. Called with
`into` and a derivation, it also leaves a record there: the function's own syntax tree, the values
put in, the result. Renderers turn the record into the printed line, so that what is read is what
ran; what anything else computes meanwhile leaves nothing.
"""

from __future__ import annotations

import ast
import copy
import functools
import inspect
import textwrap
import typing
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Generic, ParamSpec, TypeVar

from fexro.core.quantities import Dimension

__all__ = [
    "Derivation",
    "Formula",
    "Given",
    "Line",
    "Note",
    "Provision",
    "Table",
    "Term",
    "provision",
]

P = ParamSpec("P")
R = TypeVar("R")


@dataclass(frozen=True)
class Term:
    """A value in a formula and what it measures."""

    value: Any
    dimension: Dimension


@dataclass(frozen=True)
class Formula:
    """A recorded calculation: symbol = expression = expression with values = result."""

    clause: str
    symbol: str
    expression: ast.expr
    terms: dict[str, Term]
    result: Term


@dataclass(frozen=True)
class Given:
    """A value that the calculation starts from, and where it comes from."""

    symbol: str
    value: Term
    source: str


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


Line = Formula | Given | Table | Note


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
        functools.update_wrapper(self, function)

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> R:
        """Compute, and leave no record."""
        return self.function(*args, **kwargs)

    def named(self, **names: str) -> Provision[P, R]:
        """Return the same provision printed with other symbols, such as those of one axis."""
        return Provision(self.clause, self.symbol, self.function, names)

    def into(self, record: Derivation | None, /, *args: P.args, **kwargs: P.kwargs) -> R:
        """Compute and add the lines of the calculation to a derivation, if there is one."""
        if record is None:
            return self.function(*args, **kwargs)
        return typing.cast(R, self._record(record, *args, **kwargs))

    @functools.cached_property
    def statements(self) -> list[tuple[str, ast.expr]]:
        """Names and expressions: assignments in order, then the returned one."""
        tree = ast.parse(textwrap.dedent(inspect.getsource(self.function)))
        body = typing.cast(ast.FunctionDef, tree.body[0]).body
        found: list[tuple[str, ast.expr]] = []
        for node in body:
            if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name):
                found.append((node.targets[0].id, node.value))
            elif isinstance(node, ast.AnnAssign) and isinstance(node.target, ast.Name):
                assert node.value is not None
                found.append((node.target.id, node.value))
            elif isinstance(node, ast.Return) and node.value is not None:
                found.append((self.symbol, node.value))
            elif not isinstance(node, ast.Expr):
                raise TypeError(f"{self.function.__name__}: {ast.unparse(node)} cannot be printed")
        return found

    @functools.cached_property
    def dimensions(self) -> dict[str, Dimension]:
        """What each argument, annotated local and the result (`return`) measures."""
        hints = typing.get_type_hints(self.function, include_extras=True)
        return {
            name: next(m for m in hint.__metadata__ if isinstance(m, Dimension))
            for name, hint in hints.items()
            if hasattr(hint, "__metadata__")
        }

    @functools.cached_property
    def _signature(self) -> inspect.Signature:
        return inspect.signature(self.function)

    def _record(self, into: Derivation, /, *args: Any, **kwargs: Any) -> Any:
        result = self.function(*args, **kwargs)
        bound = self._signature.bind(*args, **kwargs)
        bound.apply_defaults()
        values = dict(bound.arguments)
        last = len(self.statements) - 1
        for i, (name, expression) in enumerate(self.statements):
            code = compile(ast.Expression(expression), "<provision>", "eval")
            value = result if i == last else eval(code, self.function.__globals__, values)
            dimension = self.dimensions["return"] if i == last else Dimension.RATIO
            used = {
                self._named(node.id): Term(
                    values[node.id], self.dimensions.get(node.id, Dimension.RATIO)
                )
                for node in ast.walk(expression)
                if isinstance(node, ast.Name) and node.id in values
            }
            into.lines.append(
                Formula(
                    self.clause,
                    self._named(name),
                    _Renamed(self.names).visit(copy.deepcopy(expression)),
                    used,
                    Term(value, dimension),
                )
            )
            values[name] = value
        return result

    def _named(self, name: str) -> str:
        return self.names.get(name, name)


class _Renamed(ast.NodeTransformer):
    """Puts other names into an expression."""

    def __init__(self, names: Mapping[str, str]) -> None:
        self.names = names

    def visit_Name(self, node: ast.Name) -> ast.Name:
        """Rename one name."""
        return ast.Name(self.names.get(node.id, node.id), node.ctx)


def provision(clause: str, symbol: str) -> Callable[[Callable[P, R]], Provision[P, R]]:
    """Mark a function as a provision of a design code.

    The body is a few named assignments of dimensionless values and one returned expression; its
    only branching is `where`, `minimum`, `maximum`, `clip`. Arguments are annotated with what they
    measure.

    Args:
        clause: number of the clause.
        symbol: symbol of the result.
    """
    return functools.partial(Provision, clause, symbol)
