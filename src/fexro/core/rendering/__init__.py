"""Writing a derivation: plain text, Typst for screens and paper, data for other programs."""

from fexro.core.rendering.data import derivation_data
from fexro.core.rendering.symbols import text_symbol, typst_symbol
from fexro.core.rendering.tables import sentence
from fexro.core.rendering.text import plain_text
from fexro.core.rendering.typst import typst_source

__all__ = [
    "derivation_data",
    "plain_text",
    "sentence",
    "text_symbol",
    "typst_source",
    "typst_symbol",
]
