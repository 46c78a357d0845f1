"""Pictures as dots, for formats that have no lines."""

from __future__ import annotations

from fexro.documents.typesetting import compiler, picture_source

__all__ = ["png_of"]

DOTS = 220.0  # an inch
WIDE = 180  # mm


def png_of(picture: bytes) -> bytes:
    """Return a picture, SVG or PNG, as PNG."""
    if picture.startswith(b"\x89PNG"):
        return picture
    page = "#set page(width: auto, height: auto, margin: 0pt, fill: none)\n"
    source = f"{page}#image({picture_source(picture)}, width: {WIDE}mm)"
    found = compiler().compile(source.encode(), format="png", ppi=DOTS)
    assert isinstance(found, bytes)
    return found
