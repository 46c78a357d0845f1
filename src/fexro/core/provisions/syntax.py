"""The syntax of functions: what is printed of a formula is what ran.

The source of a module is taken when it is imported, so that a file changed later is not shown. A
package may be installed without its sources: then a build step has stored them in the module
`stored_sources` beside this one (`tools/store_sources.py`).
"""

from __future__ import annotations
import __future__

import ast
import copy
import importlib
import inspect
import sys
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from types import CodeType
from typing import Any

__all__ = ["STORE", "Statement", "code_of", "source_of", "statements_of", "take_source"]

STORE = "fexro.core.provisions.stored_sources"


@dataclass(frozen=True)
class Statement:
    """An assignment of a provision, or what it returns.

    Attributes:
        name: what is assigned; `return` for what is returned.
        expression: its value.
        annotation: what an assigned value measures, as written.
        code: the expression, compiled.
    """

    name: str
    expression: ast.expr
    annotation: str | None
    code: CodeType


# As in every module here, annotations are not evaluated.
_POSTPONED = __future__.annotations.compiler_flag
_taken: dict[str, str | None] = {}


def take_source(module: str) -> None:
    """Take the source of a module that is being imported."""
    if module not in _taken:
        try:
            _taken[module] = inspect.getsource(sys.modules[module])
        except OSError:
            _taken[module] = None


def source_of(module: str) -> str:
    """Return the source that a module was imported from.

    Raises:
        LookupError: if it is neither there nor stored.
    """
    source = _taken.get(module)
    if source is None:
        try:
            stored: dict[str, str] = importlib.import_module(STORE).SOURCES
            source = stored[module]
        except (ImportError, KeyError):
            raise LookupError(f"{module} is installed without its source") from None
    return source


@lru_cache(maxsize=512)
def _functions(module: str) -> dict[tuple[str, int], ast.FunctionDef]:
    tree = ast.parse(source_of(module))
    return {
        (node.name, node.lineno): node
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef)
    }


def _definition(function: Callable[..., Any]) -> ast.FunctionDef:
    functions = _functions(function.__module__)
    first = function.__code__.co_firstlineno
    for (name, line), node in functions.items():
        # The first line of a decorated function is that of its decorator.
        if name == function.__name__ and first in (line, *(d.lineno for d in node.decorator_list)):
            return node
    raise LookupError(f"{function.__name__} is not in the source of {function.__module__}")


def code_of(node: ast.FunctionDef) -> CodeType:
    """Return the code that a definition compiles to."""
    plain = copy.copy(node)
    plain.decorator_list = []
    module = ast.Module([plain], [])
    compiled = compile(module, "<provision>", "exec", _POSTPONED)
    return next(c for c in compiled.co_consts if isinstance(c, CodeType) and c.co_name == node.name)


@lru_cache(maxsize=4096)
def statements_of(function: Callable[..., Any]) -> tuple[Statement, ...]:
    """Return the assignments of a provision in order, then what it returns.

    Raises:
        LookupError: if the source is not to be had, or not that of the function that runs.
        TypeError: if the body holds what cannot be printed.
    """
    node = _definition(function)
    if code_of(node).co_code != function.__code__.co_code:
        raise LookupError(f"{function.__name__} does not run what its source says")
    found: list[Statement] = []
    for statement in node.body:
        match statement:
            case ast.Assign(targets=[ast.Name(id=name)], value=value):
                found.append(_statement(name, value))
            case ast.AnnAssign(
                target=ast.Name(id=name), annotation=kind, value=ast.expr() as value
            ):
                found.append(_statement(name, value, ast.unparse(kind)))
            case ast.Return(value=ast.expr() as value):
                found.append(_statement("return", value))
            case ast.Expr(value=ast.Constant()):
                pass
            case _:
                raise TypeError(f"{function.__name__}: {ast.unparse(statement)} cannot be printed")
    return tuple(found)


def _statement(name: str, expression: ast.expr, annotation: str | None = None) -> Statement:
    code = compile(ast.Expression(expression), "<provision>", "eval")
    return Statement(name, expression, annotation, code)
