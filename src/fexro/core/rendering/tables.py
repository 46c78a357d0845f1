"""Tables of a derivation as text cells, whatever they are written into."""

from __future__ import annotations

from collections.abc import Mapping

from fexro.core.provisions import Table, Term
from fexro.core.quantities import (
    Dimension,
    Unit,
    UnitSystem,
    format_length,
    format_number,
    format_quantity,
    unit_of,
)
from fexro.core.rendering.symbols import text_symbol

__all__ = ["cells_of", "sentence"]

# Decimals of a table's cells beyond those of other tables: enough to do its sums again.
_FINER = {Dimension.FORCE: 1, Dimension.LENGTH: 1, Dimension.AREA: 1}
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
    return text.format(**{name: _shown(value, system) for name, value in values.items()})


def _shown(value: Term | str, system: UnitSystem) -> str:
    if isinstance(value, str):
        return value
    number = float(value.value)
    if value.dimension == Dimension.LENGTH:
        return format_length(number, system)
    return format_quantity(number, value.dimension, system)
