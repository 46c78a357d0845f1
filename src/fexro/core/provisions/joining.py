"""Parts of a derivation joined into a whole in which each symbol stands for one thing."""

from __future__ import annotations

import ast
import copy
from collections.abc import Mapping
from dataclasses import replace

from fexro.core.provisions.derivation import (
    Derivation,
    Formula,
    Given,
    Line,
    Note,
    Reading,
    Root,
    Table,
)

__all__ = ["Renamed", "join"]


class Renamed(ast.NodeTransformer):
    """Puts other names into an expression."""

    def __init__(self, names: Mapping[str, str]) -> None:
        self.names = names

    def visit_Name(self, node: ast.Name) -> ast.Name:
        """Rename one name."""
        return ast.Name(self.names.get(node.id, node.id), node.ctx)

    def of(self, expression: ast.expr) -> ast.expr:
        """Return an expression with other names; the one that is given stays as it is."""
        renamed: ast.expr = self.visit(copy.deepcopy(expression))
        return renamed


def join(
    record: Derivation, part: Derivation, suffix: str = "", shared: frozenset[str] = frozenset()
) -> None:
    """Add the lines of a part to a derivation.

    What the derivation has already, with the same value, is not written again.

    Args:
        record: the derivation.
        part: what is added.
        suffix: that tells its symbols from those of other parts, such as the axis of bending.
        shared: symbols that mean the same in all parts.
    """
    known = {line.symbol: _value(line) for line in record.lines if isinstance(line, _VALUED)}
    symbols = {line.symbol for line in part.lines if isinstance(line, _VALUED)}
    names = {s: f"{s}_{suffix}" for s in symbols if suffix and s not in shared}
    for line in part.lines:
        renamed = _renamed(line, names)
        if isinstance(renamed, _VALUED):
            if renamed.symbol in known and known[renamed.symbol] == _value(renamed):
                continue
            known[renamed.symbol] = _value(renamed)
        if not isinstance(renamed, Table) or renamed not in record.lines:
            record.lines.append(renamed)


_VALUED = (Formula, Given, Reading, Root)


def _value(line: Formula | Given | Reading | Root) -> float:
    return float((line.value if isinstance(line, Given) else line.result).value)


def _renamed(line: Line, names: Mapping[str, str]) -> Line:
    if not names or not isinstance(line, (*_VALUED, Note)):
        return line
    if isinstance(line, Note):
        return line
    symbol = names.get(line.symbol, line.symbol)
    put = Renamed(names)
    match line:
        case Formula():
            return replace(
                line,
                symbol=symbol,
                expression=put.of(line.expression),
                taken=put.of(line.taken),
                reasons=tuple(r if isinstance(r, str) else put.of(r) for r in line.reasons),
                terms={names.get(name, name): term for name, term in line.terms.items()},
            )
        case Root():
            return replace(
                line,
                symbol=symbol,
                expression=put.of(line.expression),
                terms={names.get(name, name): term for name, term in line.terms.items()},
            )
        case Reading():
            steps = tuple((names.get(name, name), term, at) for name, term, at in line.steps)
            return replace(line, symbol=symbol, steps=steps)
    return replace(line, symbol=symbol)
