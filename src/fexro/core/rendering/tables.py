"""Tables of a derivation as text cells, whatever they are written into."""

from __future__ import annotations

import itertools
from collections.abc import Mapping

from fexro.core.provisions import Table, Term
from fexro.core.quantities import (
    Dimension,
    Unit,
    UnitSystem,
    format_length,
    format_number,
    format_quantity,
    format_significant,
    unit_of,
)
from fexro.core.rendering.symbols import text_symbol

__all__ = ["cells_of", "sentence"]

# Decimals of a table's cells beyond those of other tables: enough to do its sums again.
_FINER = {Dimension.FORCE: 1, Dimension.LENGTH: 1, Dimension.AREA: 1}
SAME, MOST_FIGURES = 1e-6, 8  # of a number, up to which two are the same; to tell two apart
PER_MILLE = Unit("‰", 1e-3, 4)


def cells_of(table: Table, system: UnitSystem) -> tuple[list[str], list[list[str]]]:
    """Return the headings (symbol and unit) and the rows of a table, as text."""
    heads, decimals, sizes = [], [], []
    for symbol, dimension in table.columns:
        unit = None if dimension is None else unit_of(dimension, system)
        if dimension == Dimension.STRAIN:
            unit = PER_MILLE
        suffix = f" ({unit.symbol})" if unit and unit.symbol else ""
        heads.append(text_symbol(symbol) + suffix)
        extra = 0 if dimension is None else _FINER.get(dimension, 0)
        decimals.append(unit.decimals + extra if unit else 0)
        sizes.append(unit.size if unit else 1.0)
    rows = [
        [
            value if isinstance(value, str) else format_number(float(value) / size, places)
            for value, size, places in zip(row, sizes, decimals, strict=True)
        ]
        for row in table.rows
    ]
    return heads, rows


def sentence(text: str, values: Mapping[str, Term | str], system: UnitSystem) -> str:
    """Return a sentence whose names in braces are replaced by their values, rounded for reading."""
    if not values:
        return text
    shown = {name: _shown(value, system) for name, value in values.items()}
    terms = {name: value for name, value in values.items() if isinstance(value, Term)}
    for one, other in itertools.combinations(terms, 2):
        if shown[one] == shown[other] and _apart(terms[one], terms[other]):
            shown[one], shown[other] = _told_apart(terms[one], terms[other], system)
    return text.format(**shown)


def _apart(one: Term, other: Term) -> bool:
    """Tell whether two numbers of what is found and allowed are not the same."""
    a, b = float(one.value), float(other.value)
    return one.dimension == other.dimension and abs(a - b) > SAME * max(abs(a), abs(b))


def _told_apart(one: Term, other: Term, system: UnitSystem) -> tuple[str, str]:
    """Return two numbers with as many figures as tell them apart."""
    unit = unit_of(one.dimension, system)
    a, b = float(one.value) / unit.size, float(other.value) / unit.size
    figures = next(
        (n for n in range(3, MOST_FIGURES) if format_significant(a, n) != format_significant(b, n)),
        MOST_FIGURES,
    )
    first, second = (f"{format_significant(value, figures)} {unit.symbol}" for value in (a, b))
    return first.rstrip(), second.rstrip()


def _shown(value: Term | str, system: UnitSystem) -> str:
    if isinstance(value, str):
        return value
    number = float(value.value)
    if value.dimension == Dimension.LENGTH:
        return format_length(number, system)
    return format_quantity(number, value.dimension, system)
