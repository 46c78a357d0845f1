"""Tables of a derivation as text cells, whatever they are written into."""

from __future__ import annotations

from fexro.core.provisions import Note, Table
from fexro.core.quantities import (
    Dimension,
    Unit,
    UnitSystem,
    format_number,
    format_quantity,
    unit_of,
)
from fexro.core.rendering.symbols import text_symbol

__all__ = ["cells_of", "note_text"]

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


def note_text(line: Note, system: UnitSystem) -> str:
    """Return a sentence with its values."""
    shown = {
        name: format_quantity(float(term.value), term.dimension, system)
        for name, term in line.terms.items()
    }
    return line.text.format(**shown) if shown else line.text
