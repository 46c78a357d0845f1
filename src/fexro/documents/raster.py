"""Pictures as dots, for formats that have no lines."""

from __future__ import annotations

from fexro.documents.typesetting import picture_source, set_png

__all__ = ["png_of"]

DOTS = 150.0  # an inch
WIDE = 180  # mm


def png_of(picture: bytes) -> bytes:
    """Return a picture, SVG or PNG, as PNG."""
    if picture.startswith(b"\x89PNG"):
        return picture
    page = "#set page(width: auto, height: auto, margin: 0pt, fill: none)\n"
    source = f"{page}#image({picture_source(picture)}, width: {WIDE}mm)"
    return set_png(source, DOTS)
